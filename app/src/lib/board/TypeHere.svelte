<script lang="ts">
  /** Words typed on the board itself: they change there as they are typed. Escape or a press elsewhere ends it. */
  import type { Item } from '@kerbe/core/job';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { DRAWING } from '$lib/labels/drawing';

  let { editor, id, at }: { editor: ArtEditor; id: string; at: readonly [number, number] } = $props();
  const item = $derived(editor.job.items[id]);
  const end = () => (editor.hand.typing = null);
  const begin = (field: HTMLTextAreaElement) => {
    field.focus();
    field.select();
  };
</script>

{#if item?.kind === 'text'}
  <textarea
    class="absolute z-10 textarea w-64 -translate-x-1/2 text-lg"
    style:left="{at[0]}px"
    style:top="{at[1]}px"
    aria-label={DRAWING.theWordsTypedOnThe}
    rows={Math.max(1, item.text.split('\n').length)}
    value={item.text}
    {@attach begin}
    onblur={end}
    onkeydown={(event) => {
      event.stopPropagation();
      if (event.key === 'Escape') end();
    }}
    oninput={(event) => editor.set<Extract<Item, { kind: 'text' }>>('Text', id, (d) => void (d.text = event.currentTarget.value), `text-${id}`)}></textarea>
{/if}
