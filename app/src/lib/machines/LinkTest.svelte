<script lang="ts">
  /** The raw talk on the wire, and a line to try. */
  import { onDestroy, onMount } from 'svelte';
  import { format } from 'date-fns';
  import type { MachineLink } from '$lib/machine.svelte';
  import { ask } from '$lib/ui/post';
  import { MACHINES } from '$lib/labels/machines';

  let { machine, mayTry }: { machine: MachineLink; mayTry: boolean } = $props();
  let talk = $state.raw<{ at: number; way: 'in' | 'out'; text: string }[]>([]);
  let why = $state<string | null>(null);
  let line = $state('');
  async function look() {
    const answer = await ask<{ talk: typeof talk }>(`/api/machines/${machine.id}/talk`);
    if (answer.ok) talk = answer.value.talk.slice(-60);
    else why = answer.why;
  }
  let timer: ReturnType<typeof setInterval>;
  onMount(() => {
    void look();
    timer = setInterval(look, 500);
  });
  onDestroy(() => clearInterval(timer));
  let pane = $state<HTMLElement>();
  // What was said last is what one looks for.
  $effect(() => {
    void talk;
    if (pane) pane.scrollTop = pane.scrollHeight;
  });
  const status = $derived(machine.now.status);
</script>

<p>
  {#if !machine.now.agent}The machine agent does not answer.{:else if !machine.now.link}The machine does not answer: what it says would appear here.{:else if status}
    It answers: <b>{status.state}</b>, machine X {status.machine[0].toFixed(2)} Y {status.machine[1].toFixed(2)} Z {status.machine[2].toFixed(2)}.{/if}
</p>
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<pre
  class="py-2 px-3 overflow-auto border border-surface-200-800 h-56 bg-surface-100-900 text-xs whitespace-pre-wrap"
  bind:this={pane}
  tabindex="0"
  role="log"
  aria-label={MACHINES.connectionLog}>{#each talk as { at, way, text }, i (i)}<span class={[way === 'in' && 'text-primary-600-400']}
      >{format(at, 'HH:mm:ss')} {way === 'out' ? '→' : '←'} {text}
</span>{:else}Nothing has been said yet but questions for the status, which are left out here.{/each}</pre>
{#if mayTry}
  <form
    class="py-1.5 gap-2 flex"
    onsubmit={async (event) => {
      event.preventDefault();
      why = await machine.send({ do: 'raw', text: line });
      line = '';
    }}
  >
    <input class="input flex-1" aria-label={MACHINES.sendARawLine} placeholder={MACHINES.sendARawLine} maxlength="200" bind:value={line} />
    <button class="btn preset-outlined-surface-300-700" disabled={!line.trim()}>{MACHINES.sendIt}</button>
  </form>
  <p class="caution">What is sent here is not checked: a line that moves, moves. Somebody stands at the machine.</p>
{/if}
{#if why}<p class="caution" role="alert">{why}</p>{/if}
