<script lang="ts">
  /** What the runs looked at add up to: charts that answer a question each, and the answer in words. */
  import { addWeeks, format, parseISO } from 'date-fns';
  import { defectCounts, patternsOf, type Pattern } from '@kerbe/core/record';
  import { DEFECTS } from '@kerbe/core/setup/defects';
  import type { LogSums } from '$lib/server/logbook';
  import Chart from '$lib/ui/Chart.svelte';
  import { duration } from '$lib/ui/format';
  import { RECORD } from '$lib/labels/record';

  let { sums }: { sums: LogSums } = $props();

  /** So many weeks are drawn at most. */
  const WEEKS = 26;
  const SHADES = ['accent', 'amber', 'ink', 'quiet'] as const;
  /** Every week from the first to the last of these. */
  function weeksOf(named: readonly { week: string }[]): string[] {
    if (named.length === 0) return [];
    const last = parseISO(named.at(-1)!.week);
    const all = Array.from({ length: WEEKS }, (_, k) => format(addWeeks(last, k + 1 - WEEKS), 'yyyy-MM-dd'));
    return all.filter((week) => week >= named[0].week);
  }
  const weeks = $derived(weeksOf(sums.weeks));
  const machines = $derived([...new Set(sums.weeks.map(({ machine }) => machine))]);
  const shades = $derived(machines.map((_, k) => SHADES[k % SHADES.length]));
  const ofWeek = (machine: string, week: string) => sums.weeks.find((one) => one.machine === machine && one.week === week);
  const axis = (categories: string[]) => ({
    categories: categories.map((week) => format(parseISO(week), 'd MMM')),
    labels: { rotate: 0, hideOverlappingLabels: true },
  });

  const total = $derived(sums.weeks.reduce((sum, { seconds }) => sum + seconds, 0));
  const planned = $derived(sums.weeks.reduce((sum, one) => sum + one.planned, 0));
  const took = $derived(sums.weeks.reduce((sum, one) => sum + one.took, 0));
  const counts = $derived(defectCounts(sums.defects));
  const patterns = $derived(patternsOf(sums.defects));
  const lateWeeks = $derived(weeksOf(sums.late));
  const lateOnes = $derived(sums.late.filter(({ late }) => late).length);
  const nameOf = (kind: string) => DEFECTS.find((one) => one.kind === kind)?.name ?? kind;
  const said = ({ kind, count, of, common }: Pattern) =>
    `${count} of the last ${of} with “${nameOf(kind).toLowerCase()}”: ${
      'material' in common
        ? common.material
        : `${common.name}, ${common.hours < 1 ? 'in its first hour' : `over ${Math.floor(common.hours)} h since it was sharp`}`
    }.`;
</script>

<div class="gap-5 grid lg:grid-cols-2">
  <section class="card preset-outlined-surface-200-800 p-4">
    <h2 class="text-lg">{RECORD.doesItTakeAsLong}</h2>
    <p>
      {#if planned > 0}Whole runs took <b>{Math.round((100 * took) / planned)} %</b> of the time planned for them ({duration(took)} for {duration(
          planned,
        )}).{:else}No whole run is in what is looked at.{/if}
    </p>
    {#if planned > 0}
      <Chart
        label={RECORD.timeTakenInPerCent}
        colours={shades}
        options={{
          chart: { type: 'line', height: 200 },
          series: machines.map((name) => ({
            name,
            data: weeks.map((week) => {
              const one = ofWeek(name, week);
              return one && one.planned > 0 ? Math.round((100 * one.took) / one.planned) : null;
            }),
          })),
          stroke: { width: 2, curve: 'straight' },
          markers: { size: 4 },
          xaxis: axis(weeks),
          yaxis: { forceNiceScale: true, labels: { formatter: (v: number) => `${Math.round(v)} %` } },
          legend: { position: 'bottom', showForSingleSeries: true },
          annotations: { yaxis: [{ y: 100, strokeDashArray: 4 }] },
        }}
      />
    {/if}
  </section>
  <section class="card preset-outlined-surface-200-800 p-4">
    <h2 class="text-lg">{RECORD.howLongDoesEachMachine}</h2>
    <p><b>{duration(total)}</b> in all, in {sums.weeks.reduce((sum, { runs }) => sum + runs, 0)} runs.</p>
    <Chart
      label={RECORD.hoursCutByWeekAnd}
      colours={shades}
      options={{
        chart: { type: 'bar', stacked: true, height: 200 },
        series: machines.map((name) => ({ name, data: weeks.map((week) => Math.round(((ofWeek(name, week)?.seconds ?? 0) / 3600) * 100) / 100) })),
        dataLabels: { enabled: false },
        xaxis: axis(weeks),
        yaxis: { labels: { formatter: (v: number) => `${Math.round(v * 10) / 10} h` } },
        legend: { position: 'bottom', showForSingleSeries: true },
      }}
    />
  </section>
  <section class="card preset-outlined-surface-200-800 p-4">
    <h2 class="text-lg">{RECORD.whatComesOutWrong}</h2>
    {#if counts.length === 0}
      <p class="text-surface-600-400">No defect is noted. What comes out wrong is noted with its run, on Record.</p>
    {:else}
      {#each patterns as pattern (pattern.kind)}<p>{said(pattern)}</p>{:else}<p class="text-surface-600-400">
          Nothing that most of the last ones have in common.
        </p>{/each}
      <Chart
        label={RECORD.defectsByKind}
        colours={['amber']}
        options={{
          chart: { type: 'bar', height: 70 + 30 * counts.length },
          plotOptions: { bar: { horizontal: true, barHeight: '62%' } },
          series: [{ name: 'runs', data: counts.map(({ count }) => count) }],
          dataLabels: { enabled: false },
          xaxis: { categories: counts.map(({ kind }) => nameOf(kind)), labels: { formatter: (v: string) => String(Math.round(Number(v))) }, stepSize: 1 },
          yaxis: { labels: { maxWidth: 180 } },
        }}
      />
    {/if}
  </section>
  <section class="card preset-outlined-surface-200-800 p-4">
    <h2 class="text-lg">{RECORD.arePromisesKept}</h2>
    {#if sums.late.length === 0}
      <p class="text-surface-600-400">No board that was promised for a day has been cut. Promises are made on the page Day.</p>
    {:else}
      <p><b>{sums.late.length - lateOnes} of {sums.late.length}</b> promised boards were cut in time.</p>
      <Chart
        label={RECORD.promisedBoardsCutInTime}
        colours={['accent', 'amber']}
        options={{
          chart: { type: 'bar', stacked: true, height: 200 },
          series: [false, true].map((late) => ({
            name: late ? 'late' : 'in time',
            data: lateWeeks.map((week) => sums.late.filter((one) => one.week === week && one.late === late).length),
          })),
          dataLabels: { enabled: false },
          xaxis: axis(lateWeeks),
          yaxis: { labels: { formatter: (v: number) => String(Math.round(v)) }, stepSize: 1 },
          legend: { position: 'bottom' },
        }}
      />
    {/if}
  </section>
</div>
