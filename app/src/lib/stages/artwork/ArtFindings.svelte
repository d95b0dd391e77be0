<script lang="ts">
  /** What the artwork check found: each with its place, and a repair of one press. */
  import { SEVERITY } from '../severity';
  import { wordsOf, type Finding } from '@kerbe/core/findings';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { ARTWORK } from '$lib/labels/artwork';

  let { editor, onlook }: { editor: ArtEditor; onlook: (at: readonly [number, number]) => void } = $props();
  const RANK = { error: 0, warning: 1, note: 2 };
  const MOST = 30;
  const found = $derived([...editor.drawing.findings].sort((a, b) => RANK[a.severity] - RANK[b.severity]));
  const open = $derived(found.filter(({ severity }) => severity !== 'note').length);

  function look(f: Finding) {
    editor.shown = editor.shown?.of === f ? null : { what: wordsOf(f, editor.job.units).what, at: f.at, of: f };
    if (f.at) onlook(f.at);
    const ids = f.repair?.items ?? (f.item ? [f.item] : []);
    if (ids.length) editor.select(ids);
  }
</script>

<h2>{ARTWORK.artworkCheck}</h2>
{#if found.length === 0}
  <p class="text-surface-600-400">No problems found: lines are closed, nothing lies double, everything is on the board.</p>
{:else}
  <p class="text-surface-600-400">{open ? `${open} to look at.` : 'Only notes.'} Each is marked on the drawing; every repair can be undone.</p>
{/if}
{#each found.slice(0, MOST) as f, i (`${f.code} ${f.item ?? ''} ${i}`)}
  {@const words = wordsOf(f, editor.job.units)}
  <div
    class={[
      'finding py-2 gap-2.5 border-t border-surface-200-800 flex text-sm',
      editor.shown?.of === f && 'shadow-[inset_3px_0_0_var(--color-warning-600-400)] pl-2',
    ]}
  >
    <span class={['font-bold', SEVERITY[f.severity].tone]} aria-hidden="true">{SEVERITY[f.severity].mark}</span>
    <div>
      <strong class={SEVERITY[f.severity].tone}>{SEVERITY[f.severity].word}: {words.what}</strong>
      <p>{words.why} {words.remedy}</p>
      <div class="py-1.5 gap-1.5 flex flex-wrap">
        {#if f.repair}<button class="btn preset-outlined-surface-300-700" disabled={editor.busy !== null} onclick={() => editor.repair(f)}
            >{words.repair}</button
          >{/if}
        {#if f.at || f.item}<button class="btn preset-outlined-surface-300-700" aria-pressed={editor.shown?.of === f} onclick={() => look(f)}
            >{ARTWORK.showMe}</button
          >{/if}
      </div>
    </div>
  </div>
{/each}
{#if found.length > MOST}<p class="text-surface-600-400">and {found.length - MOST} more, shown as these are mended.</p>{/if}
<details>
  <summary class="py-2 cursor-pointer text-sm text-surface-600-400">{ARTWORK.whatTheCheckGoesBy}</summary>
  <LengthField
    label={ARTWORK.endsAreJoinedAcross}
    value={editor.job.check.gap}
    unit={editor.job.units}
    min={0.001}
    onchange={(v) => editor.session.edit(ARTWORK.gapToJoin, (d) => void (d.check.gap = v))}
  />
  <LengthField
    label={ARTWORK.bridgeWidth}
    value={editor.job.check.bridgeWidth}
    unit={editor.job.units}
    min={0.1}
    onchange={(v) => editor.session.edit(ARTWORK.bridgeWidth, (d) => void (d.check.bridgeWidth = v))}
  />
  <NumberField
    label={ARTWORK.bridgesToAnIsland}
    value={editor.job.check.bridges}
    min={1}
    max={8}
    onchange={(v) => editor.session.edit(ARTWORK.numberOfBridges, (d) => void (d.check.bridges = v))}
  />
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button class="btn preset-outlined-surface-300-700" aria-pressed={editor.hand.tool === 'bridge'} onclick={() => (editor.hand.tool = 'bridge')}
      >{ARTWORK.placeABridgeByHand}</button
    >
  </div>
</details>
