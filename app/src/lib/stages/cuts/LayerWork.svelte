<script lang="ts">
  /** What becomes of each layer - or colour - of a drawing, in one list. */
  import { giveLayer, layersOf, type LayerWork } from '@kerbe/core/artwork/by-layer';
  import type { Job } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import { CUTS } from '$lib/labels/cuts';

  let { session }: { session: JobSession } = $props();
  const layers = $derived(layersOf(session.job));
  let why = $state<string | null>(null);
  const OPTIONS: { value: LayerWork | 'none'; label: string }[] = [
    { value: 'none', label: CUTS.leaveItOut },
    { value: 'laser-cut', label: CUTS.cut },
    { value: 'laser-score', label: CUTS.score },
    { value: 'laser-fill', label: CUTS.fill },
  ];
  const PICTURE = { value: 'laser-picture', label: CUTS.burnThePictures } as const;
  function give(layer: string, work: LayerWork | 'none') {
    why = null;
    try {
      const next = giveLayer($state.snapshot(session.job) as Job, layer, work === 'none' ? null : work);
      session.edit(CUTS.workForALayer, (d) => {
        d.cuts = next.cuts;
        d.cutOrder = next.cutOrder;
      });
    } catch (error) {
      why = (error as Error).message;
    }
  }
</script>

<details class="border-t border-surface-200-800 py-2" open={session.job.cutOrder.length === 0}>
  <summary class="cursor-pointer text-base font-semibold">{CUTS.byLayerOrColour}</summary>
  <p class="text-surface-600-400">A line to work by stays in the drawing and out of the burn: leave its layer out.</p>
  {#each layers as { id, name, items, pictures, work } (id)}
    <Choice
      label="{name} ({items.length})"
      value={work ?? 'none'}
      options={[...(pictures < items.length ? OPTIONS : OPTIONS.slice(0, 1)), ...(pictures > 0 ? [PICTURE] : [])]}
      onchange={(v) => give(id, v)}
    />
  {/each}
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
</details>
