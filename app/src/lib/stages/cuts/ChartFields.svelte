<script lang="ts">
  /** The cut chart of a nozzle: a row for each thickness, in and out as CSV, and the kerf set from a test cut. */
  import { kerfTest } from '@kerbe/core/advise/kerf-test';
  import { ChartRow, chartFromCsv, chartToCsv, KERF_TEST as ASKED, kerfFromTest } from '@kerbe/core/bits/chart';
  import type { Bit } from '@kerbe/core/job';
  import { FEED_UNIT, type LengthUnit } from '@kerbe/core/length';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { saveFile } from '$lib/ui/files';
  import { ask } from '$lib/ui/post';
  import { len } from '$lib/ui/format';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  type Nozzle = Extract<Bit, { kind: 'nozzle' }>;
  let { bit, unit, onchange }: { bit: Nozzle; unit: LengthUnit; onchange: (change: Partial<Nozzle>) => void } = $props();
  let making = $state(false);
  /** The test square as a job of its own, cut by the row that is open. */
  async function makeTest() {
    making = true;
    const made = await ask<{ id: string }>(
      '/api/jobs',
      'POST',
      kerfTest($state.snapshot(bit) as Bit, { thickness: row.thickness, material: 'mild steel', units: unit }),
    );
    if (made.ok) location.assign(`/job/${made.value.id}?stage=proof`);
    else why = [made.why];
    making = false;
  }
  const rows = $derived([...bit.chart].sort((a, b) => a.thickness - b.thickness));
  let open = $state(0);
  const row = $derived(rows[Math.min(open, rows.length - 1)]);
  let why = $state<string[]>([]);
  const OWN = 'entered by the shop';

  const put = (chart: ChartRow[], chartSource = OWN) => onchange({ chart, chartSource });
  function set(change: Partial<ChartRow>) {
    const next = ChartRow.safeParse({ ...row, ...change });
    why = next.success ? [] : [next.error.issues[0].message];
    if (next.success) put(rows.map((one) => (one === row ? next.data : one)));
  }
  function add() {
    const last = rows.at(-1);
    const thickness = last ? last.thickness + 1 : 3;
    const figures = last ?? { amperes: 45, feed: 3000, pierceDelay: 0.3, pierceHeight: 3.8, cutHeight: 1.5, volts: 120, kerf: 1.5 };
    put([...rows, { ...figures, thickness }]);
    open = rows.length;
  }
  async function read(files: FileList | null) {
    const file = files?.[0];
    if (!file) return;
    const { chart, why: faults } = chartFromCsv(await file.text());
    why = faults;
    if (chart.length > 0) put(chart, `from ${file.name}`.slice(0, 200));
  }
  /** What a calliper says of the test square. */
  const measured = $state<{ square: number; hole: number }>({ ...ASKED });
  const kerf = $derived(row ? Math.round(kerfFromTest(row.kerf, ASKED, measured) * 100) / 100 : null);
</script>

<h3>{CUTS.cutChart}</h3>
<p class="text-surface-600-400">{bit.chartSource || 'The chart of the torch’s maker decides.'} Between two rows Kerbe interpolates, and names both.</p>
<table class="table tabular-nums">
  <thead><tr><th>{CUTS.plate}</th><th>A</th><th>{CUTS.feedIn(FEED_UNIT[unit])}</th><th>{CUTS.kerf}</th><th>V</th></tr></thead>
  <tbody>
    {#each rows as one, k (k)}
      <tr class={[one === row && 'font-semibold']}
        ><td><button class="btn preset-outlined-surface-300-700" aria-pressed={one === row} onclick={() => (open = k)}>{len(one.thickness, unit)}</button></td
        ><td>{one.amperes}</td><td>{unit === 'in' ? (one.feed / 25.4).toFixed(0) : one.feed}</td><td>{len(one.kerf, unit)}</td><td>{one.volts}</td></tr
      >
    {/each}
  </tbody>
</table>
{#if row}
  <LengthField label={COMMON.plateThickness} value={row.thickness} {unit} min={0.3} onchange={(thickness) => set({ thickness })} />
  <NumberField label={CUTS.current} value={row.amperes} unit="A" min={1} max={1000} onchange={(amperes) => set({ amperes })} />
  <LengthField feed label={CUTS.cuttingFeed} value={row.feed} {unit} min={10} max={30_000} onchange={(feed) => set({ feed })} />
  <NumberField
    label={CUTS.pierceDelay}
    value={row.pierceDelay}
    unit={COMMON.seconds}
    min={0}
    max={60}
    step={0.1}
    onchange={(pierceDelay) => set({ pierceDelay })}
  />
  <LengthField label={CUTS.pierceHeight} value={row.pierceHeight} {unit} min={0.3} onchange={(pierceHeight) => set({ pierceHeight })} />
  <LengthField label={CUTS.cutHeight} value={row.cutHeight} {unit} min={0.3} onchange={(cutHeight) => set({ cutHeight })} />
  <NumberField label={CUTS.arcVoltage} value={row.volts} unit={CUTS.volts} min={20} max={400} onchange={(volts) => set({ volts })} />
  <LengthField label={CUTS.kerfWidth} value={row.kerf} {unit} min={0.2} onchange={(mm) => set({ kerf: mm })} />
{/if}
<div class="flex flex-wrap gap-1.5 py-1.5">
  <button class="btn preset-outlined-surface-300-700" onclick={add}>{CUTS.addARow}</button>
  <button class="btn preset-outlined-surface-300-700" disabled={rows.length < 2} onclick={() => put(rows.filter((one) => one !== row))}
    >{CUTS.removeThisRow}</button
  >
  <button class="btn preset-outlined-surface-300-700" onclick={() => saveFile(`${bit.id}-chart.csv`, new TextEncoder().encode(chartToCsv(rows)), 'text/csv')}
    >{COMMON.saveAsCsv}</button
  >
  <label class="btn preset-outlined-surface-300-700"
    >{CUTS.readACsv} <input class="sr-only" type="file" accept=".csv,text/csv" onchange={(event) => void read(event.currentTarget.files)} /></label
  >
</div>
{#each why as one (one)}<p class="caution" role="alert">{one}</p>{/each}
{#if row}
  <details>
    <summary class="cursor-pointer py-1.5 text-sm">{CUTS.kerfFromATestCut}</summary>
    <p class="text-surface-600-400">
      A square of {len(ASKED.square, unit)} with a hole of {len(ASKED.hole, unit)} in it, cut at the kerf of this row. Measure both, and type what the calliper says.
    </p>
    <p class="pb-1.5">
      <button class="btn preset-outlined-surface-300-700" disabled={making} onclick={() => void makeTest()}>{CUTS.makeTheTestSquareA}</button>
    </p>
    <LengthField label={CUTS.theSquareMeasures} value={measured.square} {unit} min={1} onchange={(mm) => (measured.square = mm)} />
    <LengthField label={CUTS.itsHoleMeasures} value={measured.hole} {unit} min={1} onchange={(mm) => (measured.hole = mm)} />
    {#if kerf !== null && kerf > 0.1}
      <button class="btn preset-outlined-surface-300-700" disabled={kerf === row.kerf} onclick={() => set({ kerf })}
        >{kerf === row.kerf ? CUTS.theKerfIsRight : CUTS.setTheKerfTo(len(kerf, unit))}</button
      >
    {:else}<p class="caution" role="alert">These sizes make no kerf that can be. Measure again: the square is the outside, the hole the inside.</p>{/if}
  </details>
{/if}
