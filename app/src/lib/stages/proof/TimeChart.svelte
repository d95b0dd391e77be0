<script lang="ts">
  /** Where the time goes, and how fast the bit really runs: two charts. */
  import type { TimeReport } from '@kerbe/core/advise/time';
  import { FEED_UNIT, feedNumber, type LengthUnit } from '@kerbe/core/length';
  import Chart from '$lib/ui/Chart.svelte';
  import { duration } from '$lib/ui/format';
  import { PROOF } from '$lib/labels/proof';

  interface Props {
    time: TimeReport;
    /** Speed over the job, mm/min; nothing while it is not known. */
    speeds: readonly { at: number; speed: number; asked: number }[] | null;
    nameOf: (cut: string) => string;
    unit: LengthUnit;
  }
  let { time, speeds, nameOf, unit }: Props = $props();
  /** Drawn in the unit it is read in, so that the axis has round numbers. */
  const shown = (mmPerMin: number) => Number(feedNumber(mmPerMin, unit));

  const SERIES = [
    ['cutting', 'cutting', 'accent'],
    ['coming down', 'plunging', 'amber'],
    ['lifting', 'lifting', 'ink'],
    ['travel', 'travel', 'quiet'],
    ['waiting', 'waiting', 'line'],
  ] as const;
</script>

{#if time.cuts.length > 0}
  <Chart
    label={PROOF.timeOfEachCutBy}
    colours={SERIES.map(([, , name]) => name)}
    options={{
      chart: { type: 'bar', stacked: true, height: 70 + 34 * time.cuts.length },
      plotOptions: { bar: { horizontal: true, barHeight: '62%' } },
      series: SERIES.map(([name, key]) => ({ name, data: time.cuts.map((cut) => Math.round(cut[key] * 10) / 10) })),
      dataLabels: { enabled: false },
      xaxis: { categories: time.cuts.map(({ cut }) => nameOf(cut)), labels: { formatter: (v: string) => duration(Number(v)) } },
      yaxis: { labels: { maxWidth: 120 } },
      legend: { position: 'bottom', itemMargin: { horizontal: 6 } },
      tooltip: { y: { formatter: (v: number) => duration(v) } },
    }}
  />
{/if}
{#if speeds}
  <Chart
    label={PROOF.speedOfTheBitOver}
    colours={['accent', 'quiet']}
    options={{
      chart: { type: 'line', height: 150 },
      series: [
        { name: 'speed', data: speeds.map(({ at, speed }): [number, number] => [at, shown(speed)]) },
        { name: 'feed asked for', data: speeds.map(({ at, asked }): [number, number] => [at, shown(asked)]) },
      ],
      stroke: { width: [2, 1.5], dashArray: [0, 5], curve: 'straight' },
      xaxis: { type: 'numeric', labels: { formatter: (v: string) => duration(Number(v)) }, tickAmount: 4 },
      yaxis: { labels: { formatter: (v: number) => String(Math.round(v)) }, title: { text: FEED_UNIT[unit] } },
      legend: { position: 'bottom' },
      tooltip: { x: { formatter: (v: number) => duration(v) }, y: { formatter: (v: number) => `${v} ${FEED_UNIT[unit]}` } },
    }}
  />
{/if}
