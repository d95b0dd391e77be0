<script lang="ts">
  /** Holes drilled at points of the board, besides the circles that are drawn. */
  import type { CutOf } from '@kerbe/core/job';
  import { len } from '$lib/ui/format';
  import type { ExtraProps } from './extra';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  const { session, editor, cut }: ExtraProps<CutOf<'drill'>> = $props();
  const unit = $derived(session.job.units);
  const edit = (label: string, set: (points: [number, number][]) => void) => session.edit(label, (d) => set((d.cuts[cut.id] as typeof cut).points));
  const thousandths = (mm: number) => Math.round(mm * 1000) / 1000;
  function addPoint() {
    editor.hand.pointFor = {
      what: 'middle of the hole',
      then: (x, y) => edit(CUTS.drillAtAPoint, (points) => void points.push([thousandths(x), thousandths(y)])),
    };
    editor.hand.tool = 'point';
  }
</script>

{#each cut.points as [x, y], k (k)}
  <p class="gap-2 flex items-center justify-between">
    Point at <span class="figure">{len(x, unit)}, {len(y, unit)}</span>
    <button
      class="btn preset-outlined-surface-300-700"
      aria-label={CUTS.removeThePointAt(len(x, unit), len(y, unit))}
      onclick={() => edit(CUTS.removeAPoint, (points) => void points.splice(k, 1))}>{COMMON.remove}</button
    >
  </p>
{/each}
<button class="btn preset-outlined-surface-300-700" onclick={addPoint}>{CUTS.drillAtAPointOn}</button>
