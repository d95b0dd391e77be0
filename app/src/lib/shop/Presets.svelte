<script lang="ts">
  /** What was found good for the tools of the shop: by material, with where it comes from; written out for other programs. */
  import Papa from 'papaparse';
  import { kindNamed } from '@kerbe/core/cuts';
  import { presetsOf, type PresetRow } from '@kerbe/core/bits/presets';
  import type { Bit } from '@kerbe/core/job';
  import { formatFeed, type LengthUnit } from '@kerbe/core/length';
  import DataTable, { type Column, type Sorted } from '$lib/ui/DataTable.svelte';
  import { saveFile } from '$lib/ui/files';
  import { len } from '$lib/ui/format';
  import { COMMON } from '$lib/labels/common';
  import { SHOP } from '$lib/labels/shop';

  let { bits, unit, onopen }: { bits: readonly Bit[]; unit: LengthUnit; onopen: (bit: string) => void } = $props();
  let find = $state('');
  let sorted = $state<Sorted | null>({ by: 'material', down: false });
  const all = $derived(presetsOf(bits, unit));
  const workOf = ({ work }: PresetRow) => (work ? kindNamed(work).title : '');
  const rows = $derived(
    all.filter((row) => {
      const text = `${row.tool} ${row.material} ${workOf(row)} ${row.source}`.toLowerCase();
      return find
        .toLowerCase()
        .split(/\s+/)
        .every((word) => text.includes(word));
    }),
  );
  const more = (row: PresetRow): string =>
    [
      row.power !== undefined && `${row.power} % power`,
      row.passes !== undefined && row.passes > 1 && `${row.passes} passes`,
      row.speed !== undefined && row.speed > 0 && `${row.speed} rev/min`,
      row.plunge !== undefined && `plunge ${formatFeed(row.plunge, unit)}`,
      row.depthPerPass !== undefined && `${len(row.depthPerPass, unit)} per pass`,
      row.interval !== undefined && `lines ${len(row.interval, unit)} apart`,
      row.linesPerMm !== undefined && (unit === 'in' ? `${Math.round(row.linesPerMm * 25.4)} lines per inch` : `${row.linesPerMm} lines per mm`),
      row.kerf !== undefined && `kerf ${len(row.kerf, unit)}`,
    ]
      .filter(Boolean)
      .join(', ');
  const columns: Column<PresetRow>[] = [
    { id: 'material', title: COMMON.material, cell: material, sortBy: (row) => `${row.material} ${(row.thickness ?? 0).toFixed(3).padStart(9, '0')}` },
    { id: 'tool', title: SHOP.tool, cell: tool, sortBy: (row) => row.tool },
    { id: 'work', title: COMMON.for, cell: work, sortBy: workOf },
    { id: 'feed', title: COMMON.feed, cell: feed, sortBy: (row) => row.feed, figures: true },
    { id: 'more', title: SHOP.and, cell: rest },
    { id: 'source', title: SHOP.whereFrom, cell: source, sortBy: (row) => `${row.source} ${row.date ?? ''}` },
  ];
</script>

{#snippet material(row: PresetRow)}{row.material}{row.thickness === undefined ? '' : `, ${len(row.thickness, unit)}`}{/snippet}
{#snippet tool(row: PresetRow)}<button class="underline" onclick={() => onopen(row.bit)}>{row.tool}</button>{/snippet}
{#snippet work(row: PresetRow)}{workOf(row)}{/snippet}
{#snippet feed(row: PresetRow)}<span class="whitespace-nowrap">{formatFeed(row.feed, unit)}</span>{/snippet}
{#snippet rest(row: PresetRow)}{more(row)}{/snippet}
{#snippet source(row: PresetRow)}{row.source || 'entered'}{row.date ? `, ${row.date}` : ''}{/snippet}

<p class="flex items-center gap-2.5 pb-2">
  <input class="input max-w-90" type="search" bind:value={find} aria-label={SHOP.findAmongWhatWasFound} placeholder={SHOP.materialToolWorkTrialBoard} />
  <span class="flex-1"></span>
  <button
    class="btn preset-outlined-surface-300-700"
    disabled={rows.length === 0}
    onclick={() => saveFile('presets.csv', Papa.unparse(rows, { escapeFormulae: true, newline: '\n' }), 'text/csv')}>{COMMON.saveAsCsv}</button
  >
  <button
    class="btn preset-outlined-surface-300-700"
    disabled={rows.length === 0}
    onclick={() => saveFile('presets.json', JSON.stringify(rows, null, 2), 'application/json')}>{SHOP.saveAsJson}</button
  >
</p>
{#if all.length === 0}
  <p class="text-surface-600-400">
    Nothing was found yet. The winner of a trial board or a test card comes here by itself; a bit’s own figures are entered on it.
  </p>
{:else if rows.length === 0}
  <p class="text-surface-600-400">Nothing here says that.</p>
{:else}
  <DataTable label={SHOP.whatWasFound} {rows} idOf={(row) => `${row.bit} ${row.material} ${row.work} ${row.thickness}`} {columns} bind:sorted />
{/if}
