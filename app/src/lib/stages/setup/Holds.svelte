<script lang="ts">
  /** Who holds the controls, for everybody to see; taken over by one press. */
  import type { MachineLink } from '$lib/machine.svelte';

  let { machine }: { machine: MachineLink } = $props();
  const held = $derived(machine.now.controls);
</script>

<p class="holds" class:mine={machine.mine} aria-live="polite">
  {#if machine.mine}
    <span><b>You are in control.</b>{held?.from ? ` Taken over from ${held.from}.` : ''}</span>
    <button class="press" onclick={() => machine.send({ do: 'leave' })}>Release control</button>
  {:else if held}
    <span><b>{held.by} is in control</b>{held.from ? `, taken over from ${held.from}` : ''}. Hold and Stop work here too.</span>
    <button class="press" onclick={() => machine.send({ do: 'take' })}>Take control</button>
  {:else}
    <span class="quiet">Nobody is in control; the first command takes it.</span>
  {/if}
</p>

<style>
  .holds {
    display: flex;
    justify-content: space-between;
    gap: 0.6rem;
    align-items: center;
    font-size: 0.85rem;
    border-left: 3px solid var(--line-strong);
    padding: 0.2rem 0 0.2rem 0.6rem;
  }
  .mine {
    border-color: var(--accent);
  }
  .press {
    margin: 0;
  }
</style>
