<script lang="ts">
  /** A program to read: large files stay quick, comments stand back. */
  import { EditorState } from '@codemirror/state';
  import { EditorView, lineNumbers } from '@codemirror/view';
  import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
  import { tags } from '@lezer/highlight';
  import { cssColour } from '$lib/ui/theme';

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
    { tag: tags.comment, color: cssColour('quiet') },
    { tag: tags.keyword, color: cssColour('accent'), fontWeight: '600' },
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
            '&': { height: '20rem', fontSize: '12px', background: cssColour('sheet'), color: cssColour('ink') },
            '.cm-scroller': { fontFamily: "'IBM Plex Mono', monospace" },
            '.cm-gutters': { background: cssColour('sheet'), color: cssColour('quiet'), border: '0' },
          }),
        ],
      }),
    });
    return () => view.destroy();
  });
</script>

<div data-program class="border border-surface-200-800 mt-2" bind:this={host}></div>
