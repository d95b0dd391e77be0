<script lang="ts">
  /** Feed of a torch cut, and what the nozzle’s chart says for this plate. */
  import { readChart } from '@kerbe/core/bits/chart';
  import { chartedFigures } from '@kerbe/core/bits/nozzle';
  import { boardThickness, type Cut } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { len } from '$lib/ui/format';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  let { session, cut }: { session: JobSession; cut: Cut } = $props();
  const job = $derived(session.job);
  const bit = $derived(job.tools[cut.tool]);
  const thickness = $derived(boardThickness(job.board));
  const reading = $derived(bit.kind === 'nozzle' ? readChart(bit.chart, thickness) : null);
  const charted = $derived(chartedFigures(bit, thickness));
  /** What of the cut is not as the chart has it. A mark has fewer figures than a cut. */
  const apart = $derived(Object.entries(charted).filter(([key, value]) => key in cut && (cut as Record<string, unknown>)[key] !== value));
  const set = (key: 'feed' | 'plunge', label: string) => (value: number) => session.edit(label, (d) => void (d.cuts[cut.id][key] = value));
  const take = () => session.edit(CUTS.figuresOfTheCutChart, (d) => void Object.assign(d.cuts[cut.id], Object.fromEntries(apart)));
</script>

<LengthField feed label={COMMON.feed} value={cut.feed} unit={job.units} min={10} max={30000} onchange={set('feed', 'Feed')} />
<LengthField
  feed
  label={CUTS.plungeFeedToCutHeight}
  value={cut.plunge}
  unit={job.units}
  min={10}
  max={30000}
  onchange={set('plunge', CUTS.plungeFeedToCutHeight)}
/>
{#if reading}
  <p class="text-surface-600-400">
    The chart for {len(thickness, job.units)} of {job.board.material}: {reading.row.amperes} A, {reading.between.length === 2
      ? `between its rows of ${len(reading.between[0], job.units)} and ${len(reading.between[1], job.units)}`
      : reading.beyond
        ? `nothing charted; the row of ${len(reading.between[0], job.units)} is nearest`
        : 'a row of its own'}. {bit.kind === 'nozzle' ? bit.chartSource : ''}
  </p>
  {#if apart.length > 0}
    <button class="btn preset-outlined-surface-300-700" onclick={take}
      >{CUTS.useTheChartsFigures(apart.length, apart.length === 1 ? 'differs' : 'differ')}</button
    >
  {:else}<p>As the chart has it.</p>{/if}
{:else}<p class="caution">This nozzle has no chart: put in what its maker says.</p>{/if}
