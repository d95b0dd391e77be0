<script lang="ts">
  /** The person's hands on the simulated machine: everything a hand could do to a real one, and faults to order. */
  import { bitName } from '@kerbe/core/bits';
  import type { Bit } from '@kerbe/core/job';
  import type { LengthUnit } from '@kerbe/core/length';
  import { EXERCISE_BITS } from '@kerbe/core/setup/exercises';
  import type { Act } from '$lib/stages/setup/act.svelte';
  import { stickOut } from '$lib/stages/setup/hands';
  import { len } from '$lib/ui/format';
  import LengthField from '$lib/ui/LengthField.svelte';

  let { act, crib, unit }: { act: Act; crib: Bit[]; unit: LengthUnit } = $props();
  const status = $derived(act.machine.now.status);
  const world = $derived(status?.world ?? null);
  const bits = $derived([...(EXERCISE_BITS as unknown as Bit[]), ...crib.filter(({ id }) => !EXERCISE_BITS.some((one) => one.id === id))]);
  const fitted = $derived(bits.find(({ id }) => id === world?.bit));
  let chosen = $state('practice-v');
  let out = $state<number | null>(null);
  let seating = $state<'good' | 'bottomed' | 'short'>('good');
  const board = $state({ x: 320, y: 240, width: 300, height: 160, thickness: 18 });
  const bench = (change: Record<string, unknown>) => void act.bench(change);
  const SEATING = { good: 'drawn back a little', bottomed: 'bottomed in the collet', short: 'held by its end only' };
  const SWITCHES = $derived(
    world
      ? [
          { name: 'Vacuum', on: world.vacuum, change: { vacuum: !world.vacuum } },
          { name: 'Dust extraction', on: world.dust, change: { dust: !world.dust } },
          { name: 'Location pins up', on: world.pinsUp, change: { pinsUp: !world.pinsUp } },
          { name: 'Lid open', on: world.lidOpen, change: { lidOpen: !world.lidOpen } },
          { name: 'Spindle box', on: status!.spindle?.power, change: { spindlePower: !status!.spindle?.power } },
          { name: 'Clip on the bit', on: world.probeClip, change: { probeClip: !world.probeClip } },
        ]
      : [],
  );
  const here = $derived(status ? { x: status.machine[0], y: status.machine[1] } : { x: 0, y: 0 });
  const FAULTS: { name: string; fault: Record<string, unknown> }[] = $derived([
    { name: 'Limit switch hit', fault: { kind: 'limit', axis: 0 } },
    { name: `Lose ${len(3, unit)} of X`, fault: { kind: 'lost-steps', by: [3, 0, 0] } },
    { name: 'Spindle turns slow', fault: { kind: 'slow-spindle', on: true } },
    { name: 'Spindle as it should', fault: { kind: 'slow-spindle', on: false } },
    { name: 'Cable out for 3 s', fault: { kind: 'link-drop', seconds: 3 } },
    { name: 'Controller resets', fault: { kind: 'reset' } },
    { name: 'Probe wire off', fault: { kind: 'probe-wire', on: true } },
    { name: 'Probe wire whole', fault: { kind: 'probe-wire', on: false } },
  ]);
</script>

{#if !status || !world}
  <p class="caution">The simulated machine does not answer. Its cable may be out: it comes back by itself.</p>
{:else}
  <div class="gap-3.5 flex items-center text-xs">
    <button
      class="px-5 min-h-14 font-semibold bg-error-600-400 text-error-contrast-600-400 rounded-[2rem] flex-none aria-pressed:shadow-[inset_0_0_0_4px_var(--color-surface-950-50)]"
      aria-pressed={status.estop}
      onclick={() => bench({ estop: !status.estop })}>{status.estop ? 'Turn the red button: release it' : 'Press the red button'}</button
    >
    <span class="text-surface-600-400">of the simulated machine. On a real one it is on the machine, never on a screen.</span>
  </div>
  {#if world.crash}<p class="caution" role="alert">{world.crash}</p>{/if}

  <h3 class="text-sm text-surface-600-400 pt-3">Switches and wires</h3>
  <div class="gap-1.5 flex flex-wrap items-center">
    {#each SWITCHES as { name, on, change } (name)}<button
        class="btn preset-outlined-surface-300-700 aria-pressed:border-primary-600-400 aria-pressed:shadow-[inset_0_-2px_0_var(--color-primary-600-400)]"
        aria-pressed={on}
        onclick={() => bench(change)}>{name}: {on ? 'yes' : 'no'}</button
      >{/each}
  </div>

  <h3 class="text-sm text-surface-600-400 pt-3">Bit</h3>
  <p>{world.bit ? `Fitted: ${fitted ? bitName(fitted, unit) : world.bit}.` : 'No bit is fitted.'}</p>
  <div class="gap-1.5 flex flex-wrap items-center">
    <select class="select max-w-52" aria-label="Bit to fit" bind:value={chosen}
      >{#each bits as bit (bit.id)}<option value={bit.id}>{bitName(bit, unit)}</option>{/each}</select
    >
    <select class="select max-w-52" aria-label="How its shank is held" bind:value={seating}
      >{#each Object.entries(SEATING) as [value, label] (value)}<option {value}>{label}</option>{/each}</select
    >
    <LengthField label="Stands out" {unit} value={out ?? stickOut(chosen)} min={5} max={120} onchange={(v) => (out = v)} />
    <button
      class="btn preset-outlined-surface-300-700"
      onclick={() => bench({ bit: { shape: $state.snapshot(bits.find(({ id }) => id === chosen)), stickOut: out ?? stickOut(chosen), seating } })}
      >Fit it</button
    >
    <button class="btn preset-outlined-surface-300-700" disabled={!world.bit} onclick={() => bench({ bit: null })}>Take it out</button>
  </div>

  <h3 class="text-sm text-surface-600-400 pt-3">Plate and block</h3>
  <div class="gap-1.5 flex flex-wrap items-center">
    <button class="btn preset-outlined-surface-300-700" onclick={() => bench({ plate: world.plate ? null : { ...here, thickness: 15 } })}
      >{world.plate ? 'Take the plate away' : `Plate under the bit (${len(15, unit)})`}</button
    >
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={!world.board}
      onclick={() => bench({ block: world.block ? null : { corner: 'lower-left', size: 50, lip: 12, thickness: 20 } })}
      >{world.block ? 'Take the block away' : 'Block on the front left corner'}</button
    >
  </div>

  <h3 class="text-sm text-surface-600-400 pt-3">Board and clamps</h3>
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
  </div>
  <div class="gap-1.5 flex flex-wrap items-center">
    <button class="btn preset-outlined-surface-300-700" onclick={() => bench({ board: { ...board } })}>Lay a fresh board there</button>
    <button class="btn preset-outlined-surface-300-700" disabled={!world.board} onclick={() => bench({ board: null })}>Remove</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => bench({ clamps: [...world.clamps, { ...here, width: 40, depth: 60, height: 45 }] })}
      >A clamp under the bit</button
    >
    <button class="btn preset-outlined-surface-300-700" disabled={world.clamps.length === 0} onclick={() => bench({ clamps: [] })}>Clamps off</button>
  </div>

  <h3 class="text-sm text-surface-600-400 pt-3">What can go wrong</h3>
  <div class="gap-1.5 flex flex-wrap items-center">
    {#each FAULTS as { name, fault } (name)}<button class="btn preset-outlined-surface-300-700" onclick={() => bench({ fault })}>{name}</button>{/each}
  </div>

  <h3 class="text-sm text-surface-600-400 pt-3">Time</h3>
  <div class="gap-1.5 flex flex-wrap items-center" role="group" aria-label="How fast its time goes">
    {#each [1, 5, 25, 100] as rate (rate)}<button
        class="btn preset-outlined-surface-300-700 aria-pressed:border-primary-600-400 aria-pressed:shadow-[inset_0_-2px_0_var(--color-primary-600-400)]"
        aria-pressed={status.rate === rate}
        onclick={() => bench({ rate })}>{rate}×</button
      >{/each}
  </div>
{/if}
