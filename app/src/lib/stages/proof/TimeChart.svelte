<script lang="ts">
  /** Where the time goes, and how fast the bit really runs: two charts, fetched with the library when they are looked at. */
  import type { TimeReport } from '@kerbe/core/advise/time';
  import { FEED_UNIT, feedNumber, type LengthUnit } from '@kerbe/core/length';
  import { duration } from '$lib/ui/format';
  import { prefs } from '$lib/ui/prefs.svelte';
  import type ApexCharts from 'apexcharts';
  import { onDestroy } from 'svelte';
  import { coloursOf, type Colours } from '$lib/ui/theme';

  interface Props {
    time: TimeReport;
    /** Speed over the job, mm/min; nothing while it is not known. */
    speeds: readonly { at: number; speed: number; asked: number }[] | null;
    nameOf: (cut: string) => string;
    unit: LengthUnit;
  }
  let { time, speeds, nameOf, unit }: Props = $props();
  let bars = $state<HTMLElement>();
  let line = $state<HTMLElement>();
  const charts: ApexCharts[] = [];
  /** Drawn in the unit it is read in, so that the axis has round numbers. */
  const shown = (mmPerMin: number) => Number(feedNumber(mmPerMin, unit));

  const colour = (name: keyof Colours) => coloursOf(document.documentElement)[name];
  const common = () => ({
    fontFamily: 'inherit',
    foreColor: colour('quiet'),
    toolbar: { show: false },
    animations: { enabled: false },
    background: 'transparent',
  });
  const SERIES = [
    ['cutting', 'cutting', 'accent'],
    ['coming down', 'plunging', 'amber'],
    ['lifting', 'lifting', 'ink'],
    ['travel', 'travel', 'quiet'],
    ['waiting', 'waiting', 'line'],
  ] as const;

  async function draw(host: HTMLElement, options: ApexCharts.ApexOptions) {
    const { default: Apex } = await import('apexcharts');
    if (!host.isConnected) return;
    const chart = new Apex(host, options);
    charts.push(chart);
    await chart.render();
  }
  $effect(() => {
    void prefs.mode;
    const host = bars;
    const { cuts } = time;
    if (!host || cuts.length === 0) return;
    host.replaceChildren();
    void draw(host, {
      chart: { ...common(), type: 'bar', stacked: true, height: 70 + 34 * cuts.length },
      theme: { mode: prefs.mode },
      plotOptions: { bar: { horizontal: true, barHeight: '62%' } },
      series: SERIES.map(([name, key]) => ({ name, data: cuts.map((cut) => Math.round(cut[key] * 10) / 10) })),
      colors: SERIES.map(([, , name]) => colour(name)),
      dataLabels: { enabled: false },
      grid: { borderColor: colour('hairline'), padding: { left: 4, right: 8 } },
      xaxis: { categories: cuts.map(({ cut }) => nameOf(cut)), labels: { formatter: (v: string) => duration(Number(v)) } },
      yaxis: { labels: { maxWidth: 120 } },
      legend: { position: 'bottom', itemMargin: { horizontal: 6 } },
      tooltip: { theme: prefs.mode, y: { formatter: (v: number) => duration(v) } },
    });
  });
  $effect(() => {
    void prefs.mode;
    const host = line;
    if (!host || !speeds) return;
    host.replaceChildren();
    void draw(host, {
      chart: { ...common(), type: 'line', height: 150 },
      theme: { mode: prefs.mode },
      series: [
        { name: 'speed', data: speeds.map(({ at, speed }): [number, number] => [at, shown(speed)]) },
        { name: 'feed asked for', data: speeds.map(({ at, asked }): [number, number] => [at, shown(asked)]) },
      ],
      colors: [colour('accent'), colour('quiet')],
      stroke: { width: [2, 1.5], dashArray: [0, 5], curve: 'straight' },
      grid: { borderColor: colour('hairline'), padding: { left: 4, right: 8 } },
      xaxis: { type: 'numeric', labels: { formatter: (v: string) => duration(Number(v)) }, tickAmount: 4 },
      yaxis: { labels: { formatter: (v: number) => String(Math.round(v)) }, title: { text: FEED_UNIT[unit] } },
      legend: { position: 'bottom' },
      tooltip: { theme: prefs.mode, x: { formatter: (v: number) => duration(v) }, y: { formatter: (v: number) => `${v} ${FEED_UNIT[unit]}` } },
    });
  });
  onDestroy(() => charts.forEach((chart) => chart.destroy()));
</script>

<div bind:this={bars} role="img" aria-label="Time of each cut by what it is spent on"></div>
<div bind:this={line} role="img" aria-label="Speed of the bit over the job, beside the feed that was asked for"></div>
