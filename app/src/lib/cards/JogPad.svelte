<script lang="ts">
  /** Moves the bit by steps; the distance is chosen first. */
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowLeft from '@lucide/svelte/icons/arrow-left';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import type { LengthUnit } from '@kerbe/core/length';
  import type { MachineLink } from '$lib/machine.svelte';
  import { len } from '$lib/ui/format';

  let { machine, unit, onrefused }: { machine: MachineLink; unit: LengthUnit; onrefused: (why: string | null) => void } = $props();
  const steps = $derived(unit === 'mm' ? [0.05, 0.5, 5, 50] : [0.0254, 0.254, 2.54, 25.4]);
  let index = $state(2);
  const step = $derived(steps[index]);
  const jog = async (x: number, y: number, z: number) =>
    onrefused(await machine.send({ do: 'jog', x: x * step, y: y * step, z: z * step, feed: z !== 0 ? 600 : 3000 }));
</script>

<div class="jog">
  <div class="steps" role="group" aria-label="Distance of a step">
    {#each steps as s, i (s)}<button class="press" aria-pressed={i === index} onclick={() => (index = i)}>{len(s, unit)}</button>{/each}
  </div>
  <div class="pad">
    <button class="press up" aria-label="Back, Y plus" onclick={() => jog(0, 1, 0)}><ArrowUp /></button>
    <button class="press left" aria-label="Left, X minus" onclick={() => jog(-1, 0, 0)}><ArrowLeft /></button>
    <button class="press right" aria-label="Right, X plus" onclick={() => jog(1, 0, 0)}><ArrowRight /></button>
    <button class="press down" aria-label="Forward, Y minus" onclick={() => jog(0, -1, 0)}><ArrowDown /></button>
    <button class="press zup" onclick={() => jog(0, 0, 1)}>Z up</button>
    <button class="press zdown" onclick={() => jog(0, 0, -1)}>Z down</button>
  </div>
</div>

<style>
  .steps {
    display: flex;
    gap: 0.3rem;
    font-size: 0.8rem;
    margin-bottom: 0.3rem;
    flex-wrap: wrap;
  }
  .pad {
    display: grid;
    grid-template-columns: repeat(3, 3.5rem) 5rem;
    grid-template-rows: repeat(3, 3.5rem);
    gap: 0.3rem;
  }
  .pad .press {
    display: grid;
    place-items: center;
    margin: 0;
  }
  .up {
    grid-area: 1 / 2;
  }
  .left {
    grid-area: 2 / 1;
  }
  .right {
    grid-area: 2 / 3;
  }
  .down {
    grid-area: 3 / 2;
  }
  .zup {
    grid-area: 1 / 4;
  }
  .zdown {
    grid-area: 3 / 4;
  }
  [aria-pressed='true'] {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
</style>
