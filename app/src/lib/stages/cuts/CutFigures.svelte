<script lang="ts">
  /** The bit in its groove, and what the cut amounts to. */
  import { kindOf, type Figure } from '@kerbe/core/cuts';
  import { processOf } from '@kerbe/core/process';
  import { boardThickness, type Cut, type Job } from '@kerbe/core/job';
  import BitInGroove from '$lib/board/BitInGroove.svelte';
  import type { CutView } from '$lib/job/planner';
  import { len } from '$lib/ui/format';
  import FitPicture from './FitPicture.svelte';

  let { job, cut, view }: { job: Job; cut: Cut; view: CutView } = $props();
  const unit = $derived(job.units);
  const process = $derived(processOf(job));
  const bit = $derived(job.tools[cut.tool]);
  const area = (mm2: number) => `${(mm2 / (unit === 'in' ? 645.16 : 1)).toFixed(unit === 'in' ? 3 : 1)} ${unit}²`;
  const way = (mm: number) => (unit === 'in' ? `${(mm / 304.8).toFixed(1)} ft` : mm < 1000 ? `${Math.round(mm)} mm` : `${(mm / 1000).toFixed(2)} m`);
  const shown = ({ value, as }: Figure) => (as === 'length' ? len(value, unit) : as === 'area' ? area(value) : String(value));
  const facts = $derived<[string, string][]>([
    ...view.figures.map((figure): [string, string] => [figure.label, shown(figure)]),
    [process.burns ? 'Burning distance' : 'Cutting distance', way(view.facts.cutting)],
    ...(process.burns ? [] : [['Lifts', String(view.lifts)] satisfies [string, string]]),
  ]);
</script>

<div class="gap-4 flex items-center pb-2">
  {#if view.fit}
    <FitPicture fit={view.fit} />
  {:else if !process.burns}
    <BitInGroove {bit} depth={kindOf(cut).scratchDepth ?? view.facts.deepest} thickness={boardThickness(job.board)} {unit} />
  {/if}
  <dl class="flex-1 text-sm">
    {#each facts as [name, figure] (name)}
      <div class="gap-2 flex justify-between">
        <dt class="text-surface-600-400">{name}</dt>
        <dd class="font-semibold tabular-nums whitespace-nowrap">{figure}</dd>
      </div>
    {/each}
  </dl>
</div>
