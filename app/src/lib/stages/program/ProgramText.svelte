<script lang="ts">
  /** A program to read: large files stay quick, comments stand back. */
  import { EditorState } from '@codemirror/state';
  import { EditorView, lineNumbers } from '@codemirror/view';
  import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
  import { tags } from '@lezer/highlight';

  let { text }: { text: string } = $props();
  let host: HTMLDivElement;

  const gcode = StreamLanguage.define({
    token(stream) {
      if (stream.match(/\([^)]*\)?/)) return 'comment';
      if (stream.match(/[GMT]\d+(\.\d+)?/i)) return 'keyword';
      if (stream.match(/[A-Z][-+]?[\d.]+/i)) return 'number';
      stream.next();
      return null;
    },
  });
  const style = HighlightStyle.define([
    { tag: tags.comment, color: 'var(--quiet)' },
    { tag: tags.keyword, color: 'var(--accent)', fontWeight: '600' },
  ]);

  $effect(() => {
    const view = new EditorView({
      parent: host,
      state: EditorState.create({
        doc: text,
        extensions: [
          lineNumbers(),
          EditorState.readOnly.of(true),
          gcode,
          syntaxHighlighting(style),
          EditorView.contentAttributes.of({ 'aria-label': 'Program text', tabindex: '0' }),
          EditorView.theme({
            '&': { height: '20rem', fontSize: '12px', background: 'var(--sheet)', color: 'var(--ink)' },
            '.cm-scroller': { fontFamily: "'IBM Plex Mono', monospace" },
            '.cm-gutters': { background: 'var(--sheet)', color: 'var(--quiet)', border: '0' },
          }),
        ],
      }),
    });
    return () => view.destroy();
  });
</script>

<div class="text" bind:this={host}></div>

<style>
  .text {
    border: 1px solid var(--line);
    margin-top: 0.5rem;
  }
</style>
