<script lang="ts">
  /** Feed and spindle while it runs, as shares of what was planned. */
  import type { MachineLink } from '$lib/machine.svelte';

  let { machine, onrefused }: { machine: MachineLink; onrefused: (why: string | null) => void } = $props();
  const now = $derived(machine.now.status?.override ?? { feed: 1, spindle: 1 });
  const percent = (share: number) => `${Math.round(100 * share)} %`;
  const clamp = (value: number, least: number, most: number) => Math.min(most, Math.max(least, Math.round(100 * value) / 100));
  const set = async (feed: number, spindle: number) =>
    onrefused(await machine.send({ do: 'override', feed: clamp(feed, 0.1, 2), spindle: clamp(spindle, 0.5, 1.5) }));
</script>

<div class="overrides">
  {#each [{ name: 'Feed', value: now.feed, to: (v: number) => set(v, now.spindle) }, { name: 'Spindle', value: now.spindle, to: (v: number) => set(now.feed, v) }] as one (one.name)}
    <div class="one" role="group" aria-label="{one.name}, now {percent(one.value)}">
      <span>{one.name}</span>
      <button class="press" aria-label="{one.name} 10 % less" onclick={() => one.to(one.value - 0.1)}>−</button>
      <button class="press figure" class:off={one.value !== 1} aria-label="{one.name} as planned" onclick={() => one.to(1)}>{percent(one.value)}</button>
      <button class="press" aria-label="{one.name} 10 % more" onclick={() => one.to(one.value + 0.1)}>+</button>
    </div>
  {/each}
</div>

<style>
  .overrides {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 0.8rem;
  }
  .one {
    display: grid;
    grid-template-columns: 1fr 3.5rem 4.6rem 3.5rem;
    gap: 0.25rem;
    align-items: center;
  }
  .press {
    min-height: 56px;
    margin: 0;
    font-size: 1.15rem;
    padding: 0 0.3rem;
    white-space: nowrap;
  }
  .off {
    border-color: var(--amber);
    color: var(--amber);
  }
  @media (max-width: 1400px) {
    .overrides {
      grid-template-columns: 1fr;
      gap: 0.3rem;
    }
  }
  @media (max-height: 480px) {
    .overrides {
      grid-template-columns: 1fr 1fr;
    }
    .one {
      grid-template-columns: repeat(3, minmax(0, 1fr));
    }
    .one span {
      grid-column: 1 / -1;
      font-size: 0.8rem;
      line-height: 1;
    }
    .press {
      min-height: 44px;
    }
  }
</style>
