<script lang="ts">
  /** Moves the bit by hand: steps of a chosen length, or on and on while a button or a key is held. */
  import { onDestroy } from 'svelte';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowLeft from '@lucide/svelte/icons/arrow-left';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import type { LengthUnit } from '@kerbe/core/length';
  import type { MachineLink } from '$lib/machine.svelte';
  import { len } from '$lib/ui/format';
  import { Jog, SPEEDS, type Way } from './jog.svelte';
  import { SETUP } from '$lib/labels/setup';
  import { COMMON } from '$lib/labels/common';

  let { machine, unit }: { machine: MachineLink; unit: LengthUnit } = $props();
  // svelte-ignore state_referenced_locally
  const jog = new Jog(machine);
  const steps = $derived(unit === 'mm' ? [0.05, 0.5, 5, 50] : [0.0254, 0.254, 2.54, 25.4]);
  let index = $state<number | null>(2);
  $effect(() => void (jog.step = index === null ? null : steps[index]));
  onDestroy(() => jog.release());

  const WAYS: { name: string; place: string; way: Way; key: string }[] = [
    { name: 'Back, Y plus', place: 'up', way: [0, 1, 0], key: 'ArrowUp' },
    { name: 'Left, X minus', place: 'left', way: [-1, 0, 0], key: 'ArrowLeft' },
    { name: 'Right, X plus', place: 'right', way: [1, 0, 0], key: 'ArrowRight' },
    { name: 'Forward, Y minus', place: 'down', way: [0, -1, 0], key: 'ArrowDown' },
    { name: 'Z up', place: 'zup', way: [0, 0, 1], key: 'PageUp' },
    { name: 'Z down', place: 'zdown', way: [0, 0, -1], key: 'PageDown' },
  ];
  const keyed = (event: KeyboardEvent) => WAYS.find(({ key }) => key === event.key)?.way;
  function keydown(event: KeyboardEvent) {
    const way = keyed(event);
    if (!way) return;
    event.preventDefault();
    if (event.repeat) return;
    void jog.press(way);
  }
  function pointerdown(event: PointerEvent, way: Way) {
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    if (jog.step === null) void jog.press(way);
  }
  /** Where each button stands: the cross of the bed, Z beside it. */
  const AREA: Record<string, string> = {
    up: 'col-start-2 row-start-1',
    left: 'col-start-1 row-start-2',
    right: 'col-start-3 row-start-2',
    down: 'col-start-2 row-start-3',
    zup: 'col-start-4 row-start-1',
    zdown: 'col-start-4 row-start-3',
  };
</script>

<svelte:window onblur={() => jog.release()} onpagehide={() => jog.release()} />
<svelte:document onvisibilitychange={() => document.hidden && jog.release()} />

<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="focus-visible:outline-offset-4"
  role="group"
  aria-label={SETUP.moveTheBitByHand}
  tabindex="0"
  onkeydown={keydown}
  onkeyup={(event) => keyed(event) && jog.release()}
>
  <div class="gap-1.5 flex text-xs mb-1.5 flex-wrap" role="group" aria-label={SETUP.stepDistance}>
    {#each steps as s, i (s)}<button class="btn btn-sm preset-outlined-surface-300-700" aria-pressed={i === index} onclick={() => (index = i)}
        >{len(s, unit)}</button
      >{/each}
    <button class="btn btn-sm preset-outlined-surface-300-700" aria-pressed={index === null} onclick={() => (index = null)}>{SETUP.continuous}</button>
  </div>
  <div class="gap-1.5 flex text-xs mb-1.5 flex-wrap" role="group" aria-label={COMMON.speed}>
    {#each SPEEDS as { name }, i (name)}<button
        class="btn btn-sm preset-outlined-surface-300-700"
        aria-pressed={i === jog.speed}
        onclick={() => (jog.speed = i)}>{name}</button
      >{/each}
  </div>
  <div class="gap-1.5 grid grid-cols-[repeat(3,3.6rem)_5rem] grid-rows-[repeat(3,3.6rem)] touch-none [&_.btn]:m-0!">
    {#each WAYS as { name, place, way } (place)}
      <button
        class={[
          'btn preset-outlined-surface-300-700 px-0 m-0 grid place-items-center whitespace-nowrap touch-none select-none',
          AREA[place],
          jog.going === way && 'border-primary-600-400 shadow-[inset_0_-2px_0_var(--color-primary-600-400)]',
        ]}
        aria-label={name}
        onpointerdown={(event) => pointerdown(event, way)}
        onpointerup={() => jog.release()}
        onpointercancel={() => jog.release()}
        onlostpointercapture={() => jog.release()}
        oncontextmenu={(event) => event.preventDefault()}
        onclick={() => jog.step !== null && void jog.press(way)}
      >
        {#if place === 'up'}<ArrowUp />{:else if place === 'down'}<ArrowDown />{:else if place === 'left'}<ArrowLeft />{:else if place === 'right'}<ArrowRight
          />{:else}{name}{/if}
      </button>
    {/each}
  </div>
  {#if jog.why}<p class="caution" role="alert">{jog.why}</p>{/if}
</div>
