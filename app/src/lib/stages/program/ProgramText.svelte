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

  /** A program of millions of lines comes in parts of so many characters: none of them holds up the page. */
  const PART = 400_000;
  function* partsOf(whole: string): Generator<string> {
    for (let from = 0; from < whole.length;) {
      const end = from + PART >= whole.length ? whole.length : whole.indexOf('\n', from + PART) + 1 || whole.length;
      yield whole.slice(from, end);
      from = end;
    }
  }

  $effect(() => {
    const parts = partsOf(text);
    let timer: ReturnType<typeof setTimeout>;
    const more = () => {
      const { value, done } = parts.next();
      if (done) return;
      view.dispatch({ changes: { from: view.state.doc.length, insert: value } });
      timer = setTimeout(more);
    };
    const view = new EditorView({
      parent: host,
      state: EditorState.create({
        doc: parts.next().value ?? '',
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
    timer = setTimeout(more);
    return () => {
      clearTimeout(timer);
      view.destroy();
    };
  });
</script>

<div data-program class="border border-surface-200-800 mt-2" bind:this={host}></div>
