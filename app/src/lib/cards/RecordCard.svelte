<script lang="ts">
  import { format } from 'date-fns';
  import type { RunView } from './types';
  import { duration } from '$lib/ui/format';

  let { runs }: { runs: RunView[] } = $props();
  let open = $state<string | null>(null);
  let events = $state.raw<{ at: string; event: string; line: number | null; text: string | null }[]>([]);
  const WORD: Record<string, string> = {
    done: 'finished',
    stopped: 'stopped',
    failed: 'failed',
    running: 'running',
    held: 'held',
    'bit-change': 'bit change',
    'link-lost': 'link lost',
    starting: 'starting',
  };

  async function show(id: string) {
    open = open === id ? null : id;
    events = [];
    if (open) events = ((await (await fetch(`/api/runs/${id}`)).json()) as { events: typeof events }).events;
  }
  const note = (id: string, notes: string) =>
    fetch(`/api/runs/${id}`, { method: 'PATCH', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ notes }) });
</script>

<h2>Runs of this job</h2>
{#each runs as run (run.id)}
  <section>
    <button class="title" aria-expanded={open === run.id} onclick={() => show(run.id)}>
      <span><b>{WORD[run.state] ?? run.state}</b> <span class="quiet">{format(run.started_at, 'd MMM yyyy, HH:mm')} · {run.author}</span></span>
      <span class="figure">{duration(run.actual_seconds)} <span class="quiet">of {duration(run.estimate_seconds)} planned</span></span>
    </button>
    {#if run.message && run.state !== 'done'}<p>{run.message}</p>{/if}
    {#if open === run.id}
      <ul>
        {#each events as event, i (i)}<li>
            <span class="figure">{format(new Date(event.at), 'HH:mm:ss')}</span>
            {WORD[event.event] ?? event.event}{event.line ? `, line ${event.line}` : ''}{event.text && event.event !== 'start' ? `: ${event.text}` : ''}
          </li>{/each}
      </ul>
    {/if}
    <label for="note-{run.id}">Note</label>
    <textarea id="note-{run.id}" rows="2" placeholder="What went well, what did not" value={run.notes} onchange={(e) => note(run.id, e.currentTarget.value)}
    ></textarea>
  </section>
{:else}
  <p class="quiet">No run yet. Every run is kept here with its times, what stopped it, and your notes.</p>
{/each}

<style>
  section {
    border-top: 1px solid var(--line);
    padding: 0.5rem 0;
    font-size: 0.9rem;
  }
  .title {
    width: 100%;
    display: flex;
    flex-direction: column;
    text-align: left;
  }
  label {
    font-size: 0.8rem;
    color: var(--quiet);
  }
  textarea {
    width: 100%;
    background: var(--sheet);
    border: 1px solid var(--line);
    padding: 0.4rem;
    color: var(--ink);
  }
  ul {
    padding: 0.3rem 0;
    list-style: none;
    margin: 0;
  }
</style>
