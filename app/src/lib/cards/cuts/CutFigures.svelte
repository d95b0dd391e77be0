<script lang="ts">
  /** The bit in its groove, and what the cut amounts to. */
  import { grooveWidth, ridgeOf } from '@kerbe/core/bits';
  import { boardThickness, type Cut, type Job } from '@kerbe/core/job';
  import BitInGroove from '$lib/board/BitInGroove.svelte';
  import type { CutView } from '$lib/job/planner';
  import { len } from '$lib/ui/format';
  import FitPicture from './FitPicture.svelte';

  let { job, cut, view }: { job: Job; cut: Cut; view: CutView } = $props();
  const unit = $derived(job.units);
  const bit = $derived(job.bits[cut.bit]);
  const area = (mm2: number) => `${(mm2 / (unit === 'in' ? 645.16 : 1)).toFixed(unit === 'in' ? 3 : 1)} ${unit}²`;
  const way = (mm: number) => (unit === 'in' ? `${(mm / 304.8).toFixed(1)} ft` : mm < 1000 ? `${Math.round(mm)} mm` : `${(mm / 1000).toFixed(2)} m`);
  const facts = $derived.by((): [string, string][] => {
    const out: [string, string][] = [];
    if (cut.kind === 'drag') out.push(['Width of the line', len(bit.kind === 'drag' ? bit.lineWidth : bit.diameter, unit)]);
    else out.push(['Deepest', len(view.facts.deepest, unit)]);
    if (cut.kind === 'vcarve' && !cut.plug && view.widest !== undefined) {
      out.push(['Widest stroke', len(2 * view.widest, unit)]);
      out.push(['Groove there', len(grooveWidth(bit, view.facts.deepest - cut.startDepth), unit)]);
    }
    if (cut.kind === 'vcarve' && cut.floorDepth !== undefined) out.push(['Ridge on the floor', len(ridgeOf(bit, cut.stepover), unit)]);
    if (view.holes !== undefined) out.push(['Holes', String(view.holes)]);
    if (view.passes !== undefined) out.push(['Passes over the widest stroke', String(view.passes)]);
    if (view.spots !== undefined) out.push(['Spots touched', String(view.spots.length)]);
    if (view.marked !== undefined) out.push(['Marked', area(view.marked)]);
    if (view.overlap !== undefined) out.push(['Gone over twice', area(view.overlap)]);
    if (view.unreached !== undefined) out.push(['Not reached', area(view.unreached)]);
    if (view.fit) out.push(['Gap, smallest', len(view.fit.gap.min, unit)], ['Gap, largest', len(view.fit.gap.max, unit)]);
    if (view.step !== undefined) out.push(['Between lanes', len(view.step, unit)]);
    if (cut.kind === 'profile') out.push(['Tabs', String(view.tabPoints?.length ?? 0)]);
    out.push(['Way under power', way(view.facts.cutting)], ['Lifts', String(view.lifts)]);
    return out;
  });
</script>

<div class="drawn">
  {#if view.fit}
    <FitPicture fit={view.fit} />
  {:else}
    <BitInGroove {bit} depth={cut.kind === 'drag' ? 0.05 : view.facts.deepest} thickness={boardThickness(job.board)} {unit} />
  {/if}
  <dl>
    {#each facts as [name, figure] (name)}
      <div>
        <dt>{name}</dt>
        <dd>{figure}</dd>
      </div>
    {/each}
  </dl>
</div>

<style>
  .drawn {
    display: flex;
    gap: 1rem;
    align-items: center;
    padding-bottom: 0.5rem;
  }
  dl {
    flex: 1;
    font-size: 0.85rem;
  }
  dl div {
    display: flex;
    justify-content: space-between;
    gap: 0.5rem;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    font-weight: 600;
    font-variant-numeric: tabular-nums;
    margin: 0;
    white-space: nowrap;
  }
</style>
