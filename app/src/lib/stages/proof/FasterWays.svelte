<script lang="ts">
  /** What would make the job faster: each change planned for real, with what it saves and what it costs. */
  import type { Faster } from '@kerbe/core/advise';
  import type { Bit } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import { duration } from '$lib/ui/format';
  import { onDestroy, untrack } from 'svelte';
  import { findFaster } from './advice';

  let { session, crib }: { session: JobSession; crib: readonly Bit[] } = $props();
  let ways = $state.raw<Faster[] | null>(null);
  let doing = $state.raw<{ what: string; done: number } | null>(null);
  let why = $state<string | null>(null);
  let stop: AbortController | null = null;
  // What was worked out for another job is worth nothing.
  $effect(() => {
    void session.job;
    untrack(() => {
      ways = null;
      why = null;
      stop?.abort();
    });
  });
  async function look() {
    stop = new AbortController();
    doing = { what: 'Planning', done: 0 };
    why = null;
    try {
      ways = await findFaster(session.job, crib, stop.signal, (what, done) => (doing = { what, done }));
    } catch (error) {
      if (!stop.signal.aborted) why = `It could not be worked out: ${(error as Error).message}`;
    }
    doing = null;
  }
  function take({ label, change }: Faster) {
    session.edit(label, (d) => void Object.assign(d, JSON.parse(JSON.stringify(change))));
  }
  onDestroy(() => stop?.abort());
</script>

{#if doing}
  <p class="doing" role="status">
    <progress max="1" value={doing.done}></progress>
    {doing.what} <button class="press" onclick={() => stop?.abort()}>Cancel</button>
  </p>
{:else if ways === null}
  <p><button class="press" disabled={session.stale} onclick={look}>What would be faster?</button></p>
{:else if ways.length === 0}
  <p>Nothing that Kerbe knows of would make this job noticeably faster.</p>
{:else}
  <ol aria-label="What would be faster">
    {#each ways as way (way.label)}
      <li>
        <div>
          <b class="figure">−{duration(way.saved)}</b>
          {way.label}
          <p class="quiet">{way.cost}</p>
        </div>
        <button class="press" aria-label="Change it: {way.label}" onclick={() => take(way)}>Change it</button>
      </li>
    {/each}
  </ol>
{/if}
{#if why}<p class="caution" role="alert">{why}</p>{/if}

<style>
  ol {
    list-style: none;
    padding: 0.2rem 0;
    font-size: 0.9rem;
  }
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 0.6rem;
    align-items: start;
    padding: 0.45rem 0;
    border-top: 1px solid var(--line);
  }
  .doing {
    display: flex;
    flex-wrap: wrap;
    gap: 0.6rem;
    align-items: center;
    font-size: 0.88rem;
  }
</style>
