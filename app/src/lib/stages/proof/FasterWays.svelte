<script lang="ts">
  /** What would make the job faster: each change planned for real, with what it saves and what it costs. */
  import type { Faster } from '@kerbe/core/advise';
  import type { Bit } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import { duration } from '$lib/ui/format';
  import { onDestroy, untrack } from 'svelte';
  import { findFaster } from './advice';
  import { COMMON } from '$lib/labels/common';
  import { PROOF } from '$lib/labels/proof';

  interface Props {
    session: JobSession;
    crib: readonly Bit[];
    /** It was asked for elsewhere, beside the time. */
    asked: boolean;
  }
  let { session, crib, asked = $bindable() }: Props = $props();
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
  // Asked for beside the time: looked for as soon as the plan is of this job.
  $effect(() => {
    if (!asked || session.stale || !session.plan) return;
    asked = false;
    untrack(() => void (ways === null && !doing && look()));
  });
  onDestroy(() => stop?.abort());
</script>

{#if doing}
  <p class="gap-2.5 flex flex-wrap items-center text-sm" role="status">
    <progress max="1" value={doing.done}></progress>
    {doing.what} <button class="btn preset-outlined-surface-300-700" onclick={() => stop?.abort()}>{COMMON.cancel}</button>
  </p>
{:else if ways === null}
  <p><button class="btn preset-outlined-surface-300-700" disabled={session.stale} onclick={look}>{PROOF.whatWouldBeFaster}</button></p>
{:else if ways.length === 0}
  <p>Nothing that Kerbe knows of would make this job noticeably faster.</p>
{:else}
  <ol class="py-1 text-sm" aria-label={PROOF.whatWouldBeFasterTitle}>
    {#each ways as way (way.label)}
      <li class="py-2 gap-2.5 border-t border-surface-200-800 grid grid-cols-[1fr_auto] items-start">
        <div>
          <b class="figure">−{duration(way.saved)}</b>
          {way.label}
          <p class="text-surface-600-400">{way.cost}</p>
        </div>
        <button class="btn preset-outlined-surface-300-700" aria-label={PROOF.changeIt(way.label)} onclick={() => take(way)}>{COMMON.changeIt}</button>
      </li>
    {/each}
  </ol>
{/if}
{#if why}<p class="caution" role="alert">{why}</p>{/if}
