<script lang="ts" module>
  import type { Snippet } from 'svelte';

  export interface Column<Row> {
    id: string;
    title: string;
    cell: Snippet<[Row]>;
    /** What it is sorted by; without it, it is not. */
    sortBy?: (row: Row) => string | number;
    /** Figures stand at the right, under each other. */
    figures?: boolean;
  }
  export interface Sorted {
    by: string;
    down: boolean;
  }
</script>

<script lang="ts" generics="Row extends object">
  /** A table whose heads sort it: here, or - when `onsort` is given - wherever its rows come from, which then says by what they are sorted. */
  import { createSortedRowModel, createTable, rowSortingFeature, tableFeatures, type SortingState, type Updater } from '@tanstack/svelte-table';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';

  interface Props {
    label: string;
    rows: readonly Row[];
    idOf: (row: Row) => string;
    columns: readonly Column<Row>[];
    /** What stands after all others, whatever they are sorted by. */
    last?: (row: Row) => boolean;
    sorted?: Sorted | null;
    onsort?: (by: Sorted) => void;
  }
  let { label, rows, idOf, columns, last, sorted = $bindable(null), onsort }: Props = $props();

  const compare = (a: string | number, b: string | number) =>
    typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b), 'en', { numeric: true });
  const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel() });
  const columnOf = (id: string) => columns.find((one) => one.id === id)!;
  const table = createTable<typeof features, Row>({
    features,
    get data() {
      return rows as Row[];
    },
    get columns() {
      return columns.map(({ id, title, sortBy }) => ({
        id,
        header: title,
        accessorFn: (row: Row) => sortBy?.(row),
        enableSorting: sortBy !== undefined,
        sortFn: (a: { original: Row }, b: { original: Row }) => compare(sortBy!(a.original), sortBy!(b.original)),
      }));
    },
    getRowId: (row) => idOf(row),
    enableSortingRemoval: false,
    get manualSorting() {
      return onsort !== undefined;
    },
    state: {
      get sorting(): SortingState {
        return sorted ? [{ id: sorted.by, desc: sorted.down }] : [];
      },
    },
    onSortingChange: (change: Updater<SortingState>) => {
      const [first] = typeof change === 'function' ? change(sorted ? [{ id: sorted.by, desc: sorted.down }] : []) : change;
      if (!first) return;
      const next = { by: first.id, down: first.desc };
      if (onsort) onsort(next);
      else sorted = next;
    },
  });
  const shown = $derived.by(() => {
    const all = table.getRowModel().rows;
    return last ? [...all.filter((row) => !last(row.original)), ...all.filter((row) => last(row.original))] : all;
  });
</script>

<table class="table" aria-label={label}>
  <thead>
    {#each table.getHeaderGroups() as group (group.id)}
      <tr>
        {#each group.headers as { id, column } (id)}
          {@const { title, figures } = columnOf(column.id)}
          {@const turned = column.getIsSorted()}
          <th
            class={['sticky top-0 bg-surface-50-950 align-top font-bold', figures && 'text-right']}
            aria-sort={turned === 'asc' ? 'ascending' : turned === 'desc' ? 'descending' : column.getCanSort() ? 'none' : undefined}
          >
            {#if column.getCanSort()}
              <button class="gap-1 inline-flex items-center" type="button" onclick={column.getToggleSortingHandler()}
                >{title}{#if turned === 'asc'}<ArrowUp size={14} aria-hidden="true" />{:else if turned}<ArrowDown size={14} aria-hidden="true" />{/if}</button
              >
            {:else}{title}{/if}
          </th>
        {/each}
      </tr>
    {/each}
  </thead>
  <tbody>
    {#each shown as row (row.id)}
      <tr data-row={row.id}
        >{#each columns as { id, cell, figures } (id)}<td class={['align-top', figures && 'text-right tabular-nums']}>{@render cell(row.original)}</td
          >{/each}</tr
      >
    {/each}
  </tbody>
</table>
