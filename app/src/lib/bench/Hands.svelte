<script lang="ts">
  /** The person's hands on the simulated machine: everything a hand could do to a real one, and faults to order. */
  import { bitName } from '@kerbe/core/bits';
  import type { Bit } from '@kerbe/core/job';
  import type { LengthUnit } from '@kerbe/core/length';
  import { EXERCISE_BITS, PRACTICE_HEAD, PRACTICE_NOZZLE } from '@kerbe/core/practice/exercises';
  import type { ProcessName } from '@kerbe/core/process';
  import { HANDS } from '$lib/bench/kinds';
  import type { Act } from '$lib/stages/setup/act.svelte';
  import { stickOut } from '$lib/stages/setup/hands';
  import { len } from '$lib/ui/format';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { BENCH } from '$lib/labels/bench';
  import { COMMON } from '$lib/labels/common';

  let { act, crib, unit, kind }: { act: Act; crib: Bit[]; unit: LengthUnit; kind: ProcessName } = $props();
  const status = $derived(act.machine.now.status);
  const world = $derived(status?.world ?? null);
  const at = $derived(HANDS[kind]);
  const bits = $derived([...(EXERCISE_BITS as unknown as Bit[]), ...crib.filter(({ id }) => !EXERCISE_BITS.some((one) => one.id === id))]);
  const fitted = $derived(bits.find(({ id }) => id === world?.bit));
  let chosen = $state('practice-v');
  let out = $state<number | null>(null);
  let seating = $state<'good' | 'bottomed' | 'short'>('good');
  // svelte-ignore state_referenced_locally
  const board = $state({ ...HANDS[kind].lies.at });
  let material = $state('birch ply');
  const bench = (change: Record<string, unknown>) => void act.bench(change);
  const SEATING = { good: 'drawn back a little', bottomed: 'bottomed in the collet', short: 'held by its end only' };
  const here = $derived(status ? { x: status.machine[0], y: status.machine[1] } : { x: 0, y: 0 });
  /** No two stand out by the same length. */
  const nozzle = (worn: number) => bench({ bit: { shape: PRACTICE_NOZZLE, stickOut: worn > 0 ? 60 : 58.5, worn } });
</script>

{#if !status || !world}
  <p class="caution">The simulated machine does not answer. Its cable may be out: it comes back by itself.</p>
{:else}
  <div class="gap-3.5 flex items-center text-xs">
    <button
      class="px-5 min-h-14 font-semibold bg-error-600-400 text-error-contrast-600-400 rounded-[2rem] flex-none aria-pressed:shadow-[inset_0_0_0_4px_var(--color-surface-950-50)]"
      aria-pressed={status.estop}
      onclick={() => bench({ estop: !status.estop })}>{status.estop ? BENCH.turnTheRedButtonRelease : BENCH.pressTheRedButton}</button
    >
    <span class="text-surface-600-400">of the simulated machine. On a real one it is on the machine, never on a screen.</span>
  </div>
  {#if world.crash}<p class="caution" role="alert">{world.crash}</p>{/if}

  <h3 class="text-sm text-surface-600-400 pt-3">{BENCH.switchesAndWires}</h3>
  <div class="gap-1.5 flex flex-wrap items-center">
    {#each at.switches(status, world, unit) as { name, on, change } (name)}<button
        class="btn preset-outlined-surface-300-700 aria-pressed:border-primary-600-400 aria-pressed:shadow-[inset_0_-2px_0_var(--color-primary-600-400)]"
        aria-pressed={on}
        onclick={() => bench(change)}>{name}: {on ? BENCH.yes : 'no'}</button
      >{/each}
  </div>

  {#if kind === 'router'}
    <h3 class="text-sm text-surface-600-400 pt-3">{COMMON.bit}</h3>
    <p>{world.bit ? `Fitted: ${fitted ? bitName(fitted, unit) : world.bit}.` : 'No bit is fitted.'}</p>
    <div class="gap-1.5 flex flex-wrap items-center">
      <select class="select max-w-52" aria-label={BENCH.bitToFit} bind:value={chosen}
        >{#each bits as bit (bit.id)}<option value={bit.id}>{bitName(bit, unit)}</option>{/each}</select
      >
      <select class="select max-w-52" aria-label={BENCH.howItsShankIsHeld} bind:value={seating}
        >{#each Object.entries(SEATING) as [value, label] (value)}<option {value}>{label}</option>{/each}</select
      >
      <LengthField label={BENCH.standsOut} {unit} value={out ?? stickOut(chosen)} min={5} max={120} onchange={(v) => (out = v)} />
      <button
        class="btn preset-outlined-surface-300-700"
        onclick={() => bench({ bit: { shape: $state.snapshot(bits.find(({ id }) => id === chosen)), stickOut: out ?? stickOut(chosen), seating } })}
        >{BENCH.fitIt}</button
      >
      <button class="btn preset-outlined-surface-300-700" disabled={!world.bit} onclick={() => bench({ bit: null })}>{COMMON.takeItOut}</button>
    </div>

    <h3 class="text-sm text-surface-600-400 pt-3">{BENCH.plateAndBlock}</h3>
    <div class="gap-1.5 flex flex-wrap items-center">
      <button class="btn preset-outlined-surface-300-700" onclick={() => bench({ plate: world.plate ? null : { ...here, thickness: 15 } })}
        >{world.plate ? BENCH.takeThePlateAway : BENCH.plateUnderTheBit(len(15, unit))}</button
      >
      <button
        class="btn preset-outlined-surface-300-700"
        disabled={!world.board}
        onclick={() => bench({ block: world.block ? null : { corner: 'lower-left', size: 50, lip: 12, thickness: 20 } })}
        >{world.block ? BENCH.takeTheBlockAway : BENCH.blockOnTheFrontLeft}</button
      >
    </div>
  {:else if world.table}
    <h3 class="text-sm text-surface-600-400 pt-3">{BENCH.nozzle}</h3>
    <p>{world.bit ? `Fitted: one that has done ${Math.round(100 * world.table.worn)} % of its life.` : 'No nozzle is fitted.'}</p>
    <div class="gap-1.5 flex flex-wrap items-center">
      <button class="btn preset-outlined-surface-300-700" onclick={() => nozzle(0)}>{BENCH.fitANewNozzle}</button>
      <button class="btn preset-outlined-surface-300-700" onclick={() => nozzle(0.9)}>{BENCH.fitAWornOne}</button>
      <button class="btn preset-outlined-surface-300-700" disabled={!world.bit} onclick={() => bench({ bit: null })}>{COMMON.takeItOut}</button>
    </div>
    <h3 class="text-sm text-surface-600-400 pt-3">{BENCH.onTheSlats}</h3>
    <p>
      {world.table.free} lie where they were cut, {world.table.tipped} stand up, {world.table.fallen} fell through.
      {#if world.table.last}The calliper on the last piece: {len(world.table.last[0], unit)} × {len(world.table.last[1], unit)}.{/if}
    </p>
    <button class="btn preset-outlined-surface-300-700" disabled={world.table.free + world.table.tipped === 0} onclick={() => bench({ take: 'pieces' })}
      >{BENCH.takeThePiecesOffWith}</button
    >
  {:else if world.cabinet}
    <h3 class="text-sm text-surface-600-400 pt-3">{BENCH.headAndStartButton}</h3>
    <p>{world.bit ? 'A head is on the carriage.' : 'There is no head on the carriage.'}</p>
    <div class="gap-1.5 flex flex-wrap items-center">
      <button class="btn preset-outlined-surface-300-700" onclick={() => bench({ start: true })}>{BENCH.pressStartAtTheMachine}</button>
      <button class="btn preset-outlined-surface-300-700" onclick={() => bench({ bit: world.bit ? null : { shape: PRACTICE_HEAD, stickOut: 40 } })}
        >{world.bit ? BENCH.takeTheHeadOff : BENCH.putTheHeadOn}</button
      >
    </div>
    <p>
      {#if world.board?.material}The label on the sheet reads “{world.board.material}”.{/if}
      {world.cabinet.marked ? 'It is marked.' : 'No mark is on it.'}
      {world.cabinet.smoke > 0.02 ? 'There is smoke under the lid.' : 'The air is clear.'}
    </p>
  {/if}

  <h3 class="text-sm text-surface-600-400 pt-3">{BENCH.andClamps(at.lies.one.charAt(0).toUpperCase() + at.lies.one.slice(1))}</h3>
  <div class="grid max-w-80">
    {#each ['x', 'y', 'width', 'height', 'thickness'] as const as key (key)}
      <LengthField
        label={{ x: 'From the left', y: 'From the front', width: 'Wide', height: 'Deep', thickness: 'Thick' }[key]}
        {unit}
        value={board[key]}
        min={key === 'x' || key === 'y' ? 0 : 1}
        max={1200}
        onchange={(v) => (board[key] = v)}
      />
    {/each}
    {#if at.materials}
      <select class="select" aria-label={BENCH.whatTheSheetIsOf} bind:value={material}
        >{#each at.materials as one (one)}<option>{one}</option>{/each}</select
      >
    {/if}
  </div>
  <div class="gap-1.5 flex flex-wrap items-center">
    <button class="btn preset-outlined-surface-300-700" onclick={() => bench({ board: { ...board, ...(at.materials ? { material } : {}) } })}
      >{BENCH.layAFresh(at.lies.one)}</button
    >
    <button class="btn preset-outlined-surface-300-700" disabled={!world.board} onclick={() => bench({ board: null })}>{COMMON.remove}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => bench({ clamps: [...world.clamps, { ...here, width: 40, depth: 60, height: 45 }] })}
      >{BENCH.clampUnder(kind === 'router' ? 'bit' : 'head')}</button
    >
    <button class="btn preset-outlined-surface-300-700" disabled={world.clamps.length === 0} onclick={() => bench({ clamps: [] })}>{BENCH.clampsOff}</button>
  </div>

  <h3 class="text-sm text-surface-600-400 pt-3">{BENCH.whatCanGoWrong}</h3>
  <div class="gap-1.5 flex flex-wrap items-center">
    {#each at.faults(unit) as { name, fault } (name)}<button class="btn preset-outlined-surface-300-700" onclick={() => bench({ fault })}>{name}</button>{/each}
  </div>

  <h3 class="text-sm text-surface-600-400 pt-3">{COMMON.time}</h3>
  <div class="gap-1.5 flex flex-wrap items-center" role="group" aria-label={BENCH.howFastItsTimeGoes}>
    {#each [1, 5, 25, 100] as rate (rate)}<button
        class="btn preset-outlined-surface-300-700 aria-pressed:border-primary-600-400 aria-pressed:shadow-[inset_0_-2px_0_var(--color-primary-600-400)]"
        aria-pressed={status.rate === rate}
        onclick={() => bench({ rate })}>{rate}×</button
      >{/each}
  </div>
{/if}
