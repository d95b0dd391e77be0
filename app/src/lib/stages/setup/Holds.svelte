<script lang="ts">
  /** Who holds the controls, for everybody to see; taken over by one press. */
  import type { MachineLink } from '$lib/machine.svelte';
  import { SETUP } from '$lib/labels/setup';

  let { machine }: { machine: MachineLink } = $props();
  const held = $derived(machine.now.controls);
</script>

<p
  class={['py-1 gap-2.5 border-l-3 flex justify-between items-center text-sm pl-2.5', machine.mine ? 'border-primary-600-400' : 'border-surface-300-700']}
  aria-live="polite"
>
  {#if machine.mine}
    <span><b>You are in control.</b>{held?.from ? ` Taken over from ${held.from}.` : ''}</span>
    <button class="btn preset-outlined-surface-300-700 m-0" onclick={() => machine.send({ do: 'leave' })}>{SETUP.releaseControl}</button>
  {:else if held}
    <span><b>{held.by} is in control</b>{held.from ? `, taken over from ${held.from}` : ''}. Hold and Stop work here too.</span>
    <button class="btn preset-outlined-surface-300-700 m-0" onclick={() => machine.send({ do: 'take' })}>{SETUP.takeControl}</button>
  {:else}
    <span class="text-surface-600-400">Nobody is in control; the first command takes it.</span>
  {/if}
</p>
