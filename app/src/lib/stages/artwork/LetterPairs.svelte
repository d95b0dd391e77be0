<script lang="ts">
  /** Pairs of letters pulled together or pushed apart by hand, where the eye wants it otherwise than the font. */
  import type { Item } from '@kerbe/core/job';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { ARTWORK } from '$lib/labels/artwork';

  type Text = Extract<Item, { kind: 'text' }>;
  let { editor, item }: { editor: ArtEditor; item: Text } = $props();
  /** Neighbours in the words as they stand, each pair once. */
  const there = $derived([
    ...new Set(
      item.text.split('\n').flatMap((line) => {
        const letters = [...line];
        return letters.slice(1).flatMap((right, k) => (letters[k].trim() && right.trim() ? [letters[k] + right] : []));
      }),
    ),
  ]);
  const set = $derived(Object.keys(item.pairs ?? {}));
  /** How far one press moves, thousandths of the capital height. */
  const STEP = 10;
  const gap = (pair: string) => item.pairs?.[pair] ?? 0;
  function move(pair: string, by: number) {
    editor.set<Text>(
      by < 0 ? `Tighten ${pair}` : `Open ${pair}`,
      item.id,
      (d) => {
        const next = Math.max(-1000, Math.min(1000, gap(pair) + by));
        d.pairs = { ...d.pairs, [pair]: next };
        if (next === 0) delete d.pairs[pair];
        if (Object.keys(d.pairs).length === 0) delete d.pairs;
      },
      `pair-${item.id}-${pair}`,
    );
  }
</script>

<details class="border-t border-surface-200-800 py-0.5">
  <summary class="cursor-pointer py-1.5 text-sm">{ARTWORK.letterPairs(set.length > 0 ? ` (${set.length} set by hand)` : '')}</summary>
  <p class="text-xs text-surface-600-400">Per cent of the height of a capital.</p>
  <ul class="grid max-h-48 grid-cols-2 gap-x-4 overflow-y-auto pb-2">
    {#each [...new Set([...set, ...there])] as pair (pair)}
      <li class="flex items-center gap-1.5">
        <b class="w-9">{pair}</b>
        <button class="btn preset-outlined-surface-300-700 px-2.5 py-1" aria-label={ARTWORK.tighten(pair)} onclick={() => move(pair, -STEP)}>−</button>
        <span class="figure w-12 text-center text-sm">{(gap(pair) / 10).toFixed(0)} %</span>
        <button class="btn preset-outlined-surface-300-700 px-2.5 py-1" aria-label={ARTWORK.open(pair)} onclick={() => move(pair, STEP)}>+</button>
      </li>
    {:else}<li class="text-surface-600-400">Two letters beside each other are a pair.</li>{/each}
  </ul>
</details>
