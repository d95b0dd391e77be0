<script lang="ts">
  import { format } from 'date-fns';
  import { goto } from '$app/navigation';
  import { DEFECTS } from '@kerbe/core/setup/defects';
  import LogSums from '$lib/shop/LogSums.svelte';
  import type { LogRow } from '$lib/server/logbook';
  import DataTable, { type Column } from '$lib/ui/DataTable.svelte';
  import Segments from '$lib/ui/Segments.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { duration } from '$lib/ui/format';
  import { recordWord } from '$lib/ui/words';
  import { RECORD } from '$lib/labels/record';
  import { COMMON } from '$lib/labels/common';

  let { data } = $props();
  const VIEWS = [
    { value: 'runs', label: RECORD.runs },
    { value: 'sums', label: RECORD.whatTheyAddUpTo },
  ] as const;
  /** The page as it is asked for now, with something of it changed. */
  function asked(change: Record<string, string>): string {
    const { query, sort, page, view } = data;
    const all = { ...query, by: sort.by, down: String(sort.down), page: String(page + 1), view, ...change };
    const usual: Record<string, string> = { by: 'when', down: 'true', page: '1', view: 'runs' };
    return new URLSearchParams(Object.entries(all).filter(([name, value]) => value !== (usual[name] ?? ''))).toString();
  }
  const narrowed = $derived(Object.values(data.query).some((value) => value !== ''));
  const pages = $derived(Math.max(1, Math.ceil(data.count / data.size)));
  const columns: Column<LogRow>[] = [
    { id: 'when', title: COMMON.when, cell: when, sortBy: ({ started_at }) => started_at.getTime() },
    { id: 'job', title: COMMON.job, cell: job, sortBy: ({ job_name }) => job_name },
    { id: 'machine', title: COMMON.machine, cell: machine, sortBy: ({ machine }) => machine },
    { id: 'person', title: COMMON.who, cell: person, sortBy: ({ author }) => author },
    { id: 'result', title: RECORD.result, cell: result, sortBy: ({ state }) => state },
    { id: 'planned', title: RECORD.planned, cell: planned, sortBy: ({ estimate_seconds }) => estimate_seconds, figures: true },
    { id: 'took', title: RECORD.taken, cell: took, sortBy: ({ actual_seconds }) => actual_seconds, figures: true },
    { id: 'notes', title: RECORD.notesAndProblems, cell: notes },
  ];
</script>

{#snippet when(run: LogRow)}<span class="figure whitespace-nowrap">{format(run.started_at, 'd MMM yyyy HH:mm')}</span>{/snippet}
{#snippet job(run: LogRow)}<a class="underline" href="/job/{run.job_id}?stage=record">{run.job_name}</a>{/snippet}
{#snippet machine(run: LogRow)}{run.machine}{/snippet}
{#snippet person(run: LogRow)}{run.author}{/snippet}
{#snippet result(run: LogRow)}<b>{recordWord(run.state)}</b>{run.state === 'done' ? '' : ` ${run.message}`}{/snippet}
{#snippet planned(run: LogRow)}{duration(run.estimate_seconds)}{/snippet}
{#snippet took(run: LogRow)}{duration(run.actual_seconds)}{/snippet}
{#snippet notes(run: LogRow)}{run.notes}
  {#each run.defects as defect, k (k)}<span class="border-b-2 border-warning-600-400 mr-2"
      >{DEFECTS.find(({ kind }) => kind === defect.kind)?.name ?? defect.kind}</span
    >{/each}{/snippet}

<svelte:head><title>Logbook · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="logbook" />
<main class="py-5 px-6.5 gap-4 grid">
  <div class="gap-5 flex items-center">
    <h1 class="text-3xl">{COMMON.logbook}</h1>
    <Segments label={COMMON.whatIsShown} value={data.view} options={VIEWS} onchange={(view) => goto(`/logbook?${asked({ view })}`)} />
  </div>
  <form method="GET" class="gap-2 flex flex-wrap items-end">
    {#if data.view !== 'runs'}<input type="hidden" name="view" value={data.view} />{/if}
    <label class="label w-76"
      ><span class="label-text">{RECORD.words}</span><input
        class="input h-9"
        type="search"
        name="find"
        value={data.query.find}
        aria-label={RECORD.findInTheLog}
        placeholder={RECORD.jobWoodPersonNoteProblem}
      /></label
    >
    <label class="label w-40"
      ><span class="label-text">{RECORD.result}</span><select class="select h-9" name="state" value={data.query.state} aria-label={RECORD.howItEnded}>
        <option value="">{RECORD.anyResult}</option>
        {#each ['done', 'stopped', 'failed', 'running'] as state (state)}<option value={state}>{recordWord(state)}</option>{/each}
      </select></label
    >
    <label class="label w-48"
      ><span class="label-text">{COMMON.machine}</span><select class="select h-9" name="machine" value={data.query.machine}>
        <option value="">{RECORD.everyMachine}</option>
        {#each data.machines as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
      </select></label
    >
    <label class="label w-40"><span class="label-text">{COMMON.from}</span><input class="input h-9" type="date" name="from" value={data.query.from} /></label>
    <label class="label w-40"><span class="label-text">To</span><input class="input h-9" type="date" name="to" value={data.query.to} /></label>
    <button class="btn preset-outlined-surface-300-700">{COMMON.find}</button>
    {#if narrowed}<a class="btn preset-outlined-surface-300-700" href="/logbook?{asked({ find: '', state: '', machine: '', from: '', to: '', page: '1' })}"
        >{COMMON.showAll}</a
      >{/if}
  </form>
  {#if data.count === 0 && narrowed}
    <p class="text-surface-600-400">Nothing in the log says that. Fewer words find more.</p>
  {:else if data.count === 0}
    <p class="text-surface-600-400">Nothing has been run yet. Every run is written down here by itself: when, who, how long, and what stopped it.</p>
    <p><a class="btn preset-filled-brand px-4 py-2.5 font-semibold" href="/">{COMMON.toTheShop}</a></p>
  {:else}
    {#if data.sums}
      <LogSums sums={data.sums} />
    {:else}
      <DataTable
        label={RECORD.runs}
        rows={data.rows}
        idOf={({ id }) => id}
        {columns}
        sorted={data.sort}
        onsort={({ by, down }) => goto(`/logbook?${asked({ by, down: String(down), page: '1' })}`, { noScroll: true, keepFocus: true })}
      />
    {/if}
    <p class="gap-2.5 flex items-center">
      {#if !data.sums && pages > 1}
        <span class="tabular-nums">Page {data.page + 1} of {pages}, {data.count} runs</span>
        {#if data.page > 0}<a class="btn preset-outlined-surface-300-700" href="/logbook?{asked({ page: String(data.page) })}">{RECORD.previousPage}</a>{/if}
        {#if data.page + 1 < pages}<a class="btn preset-outlined-surface-300-700" href="/logbook?{asked({ page: String(data.page + 2) })}">{RECORD.nextPage}</a
          >{/if}
      {/if}
      <span class="flex-1"></span>
      {#each ['csv', 'json'] as as (as)}<a class="btn preset-outlined-surface-300-700" href="/api/logbook?{asked({ view: 'runs', page: '1', as })}"
          >{RECORD.saveAs(as.toUpperCase())}</a
        >{/each}
    </p>
  {/if}
</main>
