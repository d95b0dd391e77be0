<script lang="ts">
  import { format } from 'date-fns';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { duration } from '$lib/ui/format';
  import { recordWord } from '$lib/ui/words';
  import { DEFECTS } from '@kerbe/core/setup/defects';

  let { data } = $props();
  const asked = $derived(new URLSearchParams({ find: data.find, state: data.state }).toString());
</script>

<svelte:head><title>Logbook · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="logbook" />
<main>
  <h1>Logbook</h1>
  <form method="GET" class="find">
    <input class="input" type="search" name="find" value={data.find} aria-label="Find in the log" placeholder="job, wood, person, note, problems…" />
    <select class="select" name="state" value={data.state} aria-label="How it ended">
      <option value="">any result</option>
      {#each ['done', 'stopped', 'failed', 'running'] as state (state)}<option value={state}>{recordWord(state)}</option>{/each}
    </select>
    <button class="press">Find</button>
    {#if data.find || data.state}<a class="press" href="/logbook">Show all</a>{/if}
    <a class="press" href="/api/logbook?{asked}">Save as CSV</a>
  </form>
  {#if data.runs.length === 0 && (data.find || data.state)}
    <p class="quiet">Nothing in the log says that. Fewer words find more.</p>
  {:else if data.runs.length === 0}
    <p class="quiet">Nothing has been run yet. Every run is written down here by itself: when, who, how long, and what stopped it.</p>
    <p><a class="next" href="/">To the shop</a></p>
  {:else}
    <table>
      <thead><tr><th>When</th><th>Job</th><th>Who</th><th>Result</th><th class="n">Planned</th><th class="n">Took</th><th>Notes and problems</th></tr></thead>
      <tbody>
        {#each data.runs as run (run.id)}
          <tr>
            <td class="figure">{format(run.started_at, 'd MMM yyyy HH:mm')}</td>
            <td><a href="/job/{run.job_id}?stage=record">{run.job_name}</a></td>
            <td>{run.author}</td>
            <td><b>{recordWord(run.state)}</b>{run.state === 'done' ? '' : ` ${run.message}`}</td>
            <td class="n">{duration(run.estimate_seconds)}</td>
            <td class="n">{duration(run.actual_seconds)}</td>
            <td
              >{run.notes}
              {#each run.defects as defect, k (k)}<span class="wrong">{DEFECTS.find(({ kind }) => kind === defect.kind)?.name ?? defect.kind}</span>{/each}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="pages">
      {#if data.after}<a class="press" href="/logbook?{asked}">Newest</a>{/if}
      {#if data.older}<a class="press" href="/logbook?{asked}&after={data.older}">Older runs</a>{/if}
    </p>
  {/if}
</main>

<style>
  .pages {
    display: flex;
    gap: 0.6rem;
  }
  main {
    padding: 1.2rem 1.6rem;
    display: grid;
    gap: 1rem;
  }
  h1 {
    font-size: 1.7rem;
  }
  table {
    width: 100%;
    font-size: 0.92rem;
  }
  th {
    text-align: left;
    color: var(--quiet);
    font-weight: 500;
  }
  td,
  th {
    padding: 0.5rem 0.8rem 0.5rem 0;
    border-bottom: 1px solid var(--line);
    vertical-align: top;
  }
  td a {
    text-decoration: underline;
  }
  .find {
    display: flex;
    gap: 0.5rem;
    align-items: center;
  }
  .find .input {
    max-width: 26rem;
  }
  .find .select {
    max-width: 12rem;
  }
  .wrong {
    border-bottom: 2px solid var(--amber);
    margin-right: 0.5rem;
  }
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
</style>
