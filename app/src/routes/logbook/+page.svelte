<script lang="ts">
  import { format } from 'date-fns';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { duration } from '$lib/ui/format';

  let { data } = $props();
  const WORD: Record<string, string> = {
    done: 'finished',
    stopped: 'stopped',
    failed: 'failed',
    running: 'running',
    held: 'held',
    'bit-change': 'at a bit change',
    'link-lost': 'link lost',
    starting: 'starting',
  };
</script>

<svelte:head><title>Logbook · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="logbook" />
<main>
  <h1>Logbook</h1>
  {#if data.runs.length === 0}
    <p class="quiet">Nothing has been run yet. Every run is written down here by itself: when, who, how long, and what stopped it.</p>
    <p><a class="next" href="/">To the shop</a></p>
  {:else}
    <table>
      <thead><tr><th>When</th><th>Job</th><th>Who</th><th>How it ended</th><th class="n">Planned</th><th class="n">Took</th><th>Notes</th></tr></thead>
      <tbody>
        {#each data.runs as run (run.id)}
          <tr>
            <td class="figure">{format(run.started_at, 'd MMM yyyy HH:mm')}</td>
            <td><a href="/job/{run.job_id}?stage=record">{run.job_name}</a></td>
            <td>{run.author}</td>
            <td><b>{WORD[run.state] ?? run.state}</b>{run.state === 'done' ? '' : ` ${run.message}`}</td>
            <td class="n">{duration(run.estimate_seconds)}</td>
            <td class="n">{duration(run.actual_seconds)}</td>
            <td>{run.notes}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</main>

<style>
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
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
</style>
