<script lang="ts">
  /** The bit in its groove, and what the cut amounts to. */
  import { kindOf, type Figure } from '@kerbe/core/cuts';
  import { boardThickness, type Cut, type Job } from '@kerbe/core/job';
  import BitInGroove from '$lib/board/BitInGroove.svelte';
  import type { CutView } from '$lib/job/planner';
  import { len } from '$lib/ui/format';
  import FitPicture from './FitPicture.svelte';

  let { job, cut, view }: { job: Job; cut: Cut; view: CutView } = $props();
  const unit = $derived(job.units);
  const bit = $derived(job.tools[cut.tool]);
  const area = (mm2: number) => `${(mm2 / (unit === 'in' ? 645.16 : 1)).toFixed(unit === 'in' ? 3 : 1)} ${unit}²`;
  const way = (mm: number) => (unit === 'in' ? `${(mm / 304.8).toFixed(1)} ft` : mm < 1000 ? `${Math.round(mm)} mm` : `${(mm / 1000).toFixed(2)} m`);
  const shown = ({ value, as }: Figure) => (as === 'length' ? len(value, unit) : as === 'area' ? area(value) : String(value));
  const facts = $derived<[string, string][]>([
    ...view.figures.map((figure): [string, string] => [figure.label, shown(figure)]),
    ['Cutting distance', way(view.facts.cutting)],
    ['Lifts', String(view.lifts)],
  ]);
</script>

<div class="drawn">
  {#if view.fit}
    <FitPicture fit={view.fit} />
  {:else}
    <BitInGroove {bit} depth={kindOf(cut).scratchDepth ?? view.facts.deepest} thickness={boardThickness(job.board)} {unit} />
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
