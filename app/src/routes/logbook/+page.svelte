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
<main class="py-5 px-6.5 gap-4 grid">
  <h1 class="text-3xl">Logbook</h1>
  <form method="GET" class="gap-2 flex items-center">
    <input class="input max-w-104" type="search" name="find" value={data.find} aria-label="Find in the log" placeholder="job, wood, person, note, problems…" />
    <select class="select max-w-48" name="state" value={data.state} aria-label="How it ended">
      <option value="">any result</option>
      {#each ['done', 'stopped', 'failed', 'running'] as state (state)}<option value={state}>{recordWord(state)}</option>{/each}
    </select>
    <button class="btn preset-outlined-surface-300-700">Find</button>
    {#if data.find || data.state}<a class="btn preset-outlined-surface-300-700" href="/logbook">Show all</a>{/if}
    <a class="btn preset-outlined-surface-300-700" href="/api/logbook?{asked}">Save as CSV</a>
  </form>
  {#if data.runs.length === 0 && (data.find || data.state)}
    <p class="text-surface-600-400">Nothing in the log says that. Fewer words find more.</p>
  {:else if data.runs.length === 0}
    <p class="text-surface-600-400">Nothing has been run yet. Every run is written down here by itself: when, who, how long, and what stopped it.</p>
    <p><a class="btn preset-filled-brand px-4 py-2.5 font-semibold" href="/">To the shop</a></p>
  {:else}
    <table class="table">
      <thead
        ><tr
          ><th class="align-top">When</th><th class="align-top">Job</th><th class="align-top">Who</th><th class="align-top">Result</th><th
            class="align-top text-right tabular-nums">Planned</th
          ><th class="align-top text-right tabular-nums">Took</th><th class="align-top">Notes and problems</th></tr
        ></thead
      >
      <tbody>
        {#each data.runs as run (run.id)}
          <tr>
            <td class="figure align-top">{format(run.started_at, 'd MMM yyyy HH:mm')}</td>
            <td class="align-top"><a class="underline" href="/job/{run.job_id}?stage=record">{run.job_name}</a></td>
            <td class="align-top">{run.author}</td>
            <td class="align-top"><b>{recordWord(run.state)}</b>{run.state === 'done' ? '' : ` ${run.message}`}</td>
            <td class="align-top text-right tabular-nums">{duration(run.estimate_seconds)}</td>
            <td class="align-top text-right tabular-nums">{duration(run.actual_seconds)}</td>
            <td class="align-top"
              >{run.notes}
              {#each run.defects as defect, k (k)}<span class="border-b-2 border-warning-600-400 mr-2"
                  >{DEFECTS.find(({ kind }) => kind === defect.kind)?.name ?? defect.kind}</span
                >{/each}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="gap-2.5 flex">
      {#if data.after}<a class="btn preset-outlined-surface-300-700" href="/logbook?{asked}">Newest</a>{/if}
      {#if data.older}<a class="btn preset-outlined-surface-300-700" href="/logbook?{asked}&after={data.older}">Older runs</a>{/if}
    </p>
  {/if}
</main>
