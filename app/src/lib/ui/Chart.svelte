<script lang="ts">
  /** A chart in the theme's colours; the library is fetched when one is looked at. */
  import type ApexCharts from 'apexcharts';
  import { onDestroy } from 'svelte';
  import { prefs } from './prefs.svelte';
  import { coloursOf, type Colours } from './theme';

  interface Props {
    /** What it shows, for whoever does not see it. */
    label: string;
    options: ApexCharts.ApexOptions;
    colours: (keyof Colours)[];
    class?: string;
  }
  let { label, options, colours, class: place = '' }: Props = $props();
  let host = $state<HTMLElement>();
  let shown: ApexCharts | null = null;

  async function draw(into: HTMLElement, { chart, grid, tooltip, ...more }: ApexCharts.ApexOptions) {
    const { default: Apex } = await import('apexcharts');
    if (!into.isConnected) return;
    const of = coloursOf(document.documentElement);
    shown?.destroy();
    shown = new Apex(into, {
      ...more,
      chart: {
        type: 'line',
        fontFamily: 'inherit',
        foreColor: of.quiet,
        toolbar: { show: false },
        zoom: { enabled: false },
        animations: { enabled: false },
        background: 'transparent',
        ...chart,
      },
      theme: { mode: prefs.mode },
      colors: colours.map((name) => of[name]),
      grid: { borderColor: of.hairline, padding: { left: 4, right: 8 }, ...grid },
      tooltip: { theme: prefs.mode, ...tooltip },
    });
    await shown.render();
  }
  $effect(() => {
    void prefs.mode;
    if (host) void draw(host, options);
  });
  onDestroy(() => shown?.destroy());
</script>

<div bind:this={host} class={place} role="img" aria-label={label}></div>
