<script lang="ts">
  /** The machine's own panel on the bench: what a person would press on a real one, through the same agent and the same refusals. */
  import { Job, JOB_VERSION } from '@kerbe/core/job';
  import type { Bit } from '@kerbe/core/job';
  import type { LengthUnit } from '@kerbe/core/length';
  import { len, place } from '$lib/ui/format';
  import type { MachineView } from '$lib/stages/types';
  import type { Act } from '$lib/stages/setup/act.svelte';
  import { HANDS } from './kinds';
  import PracticeRun from './PracticeRun.svelte';
  import type { PracticeFile } from './practice.svelte';
  import Holds from '$lib/stages/setup/Holds.svelte';
  import JogPad from '$lib/stages/setup/JogPad.svelte';
  import ZeroXY from '$lib/stages/setup/ZeroXY.svelte';
  import ZeroZ from '$lib/stages/setup/ZeroZ.svelte';
  import { BENCH } from '$lib/labels/bench';
  import { COMMON } from '$lib/labels/common';

  let { act, shop, crib, unit, files }: { act: Act; shop: MachineView; crib: Bit[]; unit: LengthUnit; files: readonly PracticeFile[] } = $props();
  const kind = $derived(shop.profile.kind);
  const { one: lies } = $derived(HANDS[kind].lies);
  const { finds } = $derived(HANDS[kind]);
  const now = $derived(act.machine.now);
  const status = $derived(now.status);
  let face = $state<'top' | 'spoilboard'>('top');
  let called = $state<string | null>(null);
  let sure = $state(false);
  const bit = $derived(crib.find(({ id }) => id === status?.world?.bit) ?? null);
  /** The board on the bed, as a job that counts from its front left corner. */
  const job = $derived.by(() => {
    const { width, height, thickness } = status?.world?.board ?? HANDS[kind].lies.at;
    return Job.parse({
      kerbe: JOB_VERSION,
      process: kind,
      units: unit,
      name: 'Practice',
      board: { width, height, thickness },
      datum: { z: face },
      items: {},
      itemOrder: [],
      tools: {},
      cuts: {},
      cutOrder: [],
    });
  });
  const measureAs = $derived(called ?? status?.world?.bit ?? '');
</script>

<Holds machine={act.machine} />
{#if act.why}<p class="caution" role="alert">{act.why}</p>{/if}
{#if status}
  <p class="state gap-2.5 flex pt-1.5">
    <b>{status.estop ? 'emergency stop' : status.state}</b>
    {#if status.message}<span>{status.message}</span>{/if}
  </p>
  <dl class="my-1 grid grid-cols-4">
    {#each ['X', 'Y', 'Z'] as axis, i (axis)}<div>
        <dt class="text-surface-600-400 text-xs">{axis}</dt>
        <dd class="figure text-xl font-semibold">{status.homed ? place(status.work[i], unit) : '?'}</dd>
      </div>{/each}
    {#if status.spindle}<div>
        <dt class="text-surface-600-400 text-xs">{BENCH.spindle}</dt>
        <dd class="figure text-xl font-semibold">{status.spindle.actual}</dd>
      </div>{:else if status.arc}<div>
        <dt class="text-surface-600-400 text-xs">{status.arc.burns ? BENCH.arcBurns : BENCH.arcOff}</dt>
        <dd class="figure text-xl font-semibold">{status.arc.burns ? `${status.arc.volts.toFixed(0)} V` : '–'}</dd>
      </div>{:else if status.beam}<div>
        <dt class="text-surface-600-400 text-xs">{BENCH.beam}</dt>
        <dd class="figure text-xl font-semibold">{status.beam.power > 0 ? `${(100 * status.beam.power).toFixed(0)} %` : 'dark'}</dd>
      </div>{/if}
  </dl>
  {#if status.arc}
    <p class="text-surface-600-400">
      {status.arc.pierces} pierces since it was switched on; the tip is {len(status.arc.over, unit)} over what is under it.
    </p>
  {:else if status.beam}
    <p class="text-surface-600-400">
      Full power is S{status.beam.full} at this machine.
      {status.beam.out === null
        ? 'No sheet is under the head.'
        : `The surface is ${len(Math.abs(status.beam.out), unit)} ${status.beam.out > 0 ? 'below' : 'above'} the focus.`}
    </p>
  {/if}
{/if}
<div class="py-1 gap-1.5 flex flex-wrap items-center">
  <button
    class={status && !status.homed && !status.estop ? 'btn preset-filled-brand px-4 py-2.5 font-semibold' : 'btn preset-outlined-surface-300-700'}
    disabled={act.busy !== null}
    onclick={() => act.send({ do: 'home' })}>{act.busy === 'home' ? COMMON.homing : BENCH.home}</button
  >
  <button class="btn preset-outlined-surface-300-700" onclick={() => act.send({ do: 'clear' })}>{COMMON.clearTheAlarm}</button>
  <button class="btn preset-outlined-surface-300-700" disabled={act.busy !== null} onclick={() => act.send({ do: 'go-to-zero', clearance: 5 })}
    >{BENCH.goToZero}</button
  >
  {#if kind === 'router'}<button
      class="btn preset-outlined-surface-300-700"
      disabled={act.busy !== null}
      onclick={() => act.send({ do: 'warm-up', speed: 12000, seconds: 10 })}>{act.busy === 'warm-up' ? BENCH.turning : BENCH.spindleTenSeconds}</button
    >{/if}
  <button class="btn preset-outlined-surface-300-700" onclick={() => act.send({ do: 'hold' })}>{COMMON.hold}</button>
  <button class="btn preset-outlined-surface-300-700" onclick={() => act.send({ do: 'stop' })}>{COMMON.stop}</button>
</div>
{#if kind === 'router'}
  <div class="py-1 gap-1.5 flex flex-wrap items-center">
    <select class="select max-w-52" aria-label={BENCH.bitThatIsMeasured} value={measureAs} onchange={(event) => (called = event.currentTarget.value)}
      >{#if !crib.some(({ id }) => id === measureAs)}<option value={measureAs}>{BENCH.noBitOfTheCrib}</option>{/if}{#each crib as one (one.id)}<option
          value={one.id}>{one.name || one.id}</option
        >{/each}</select
    >
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={act.busy !== null || !measureAs}
      onclick={async () => {
        sure = !(await act.send({ do: 'measure', bit: measureAs, sure }));
        called = null;
      }}>{act.busy === 'measure' ? COMMON.measuring : sure && act.why ? COMMON.iAmSureMeasureAgain : BENCH.measureItOnTheSensor}</button
    >
  </div>
{/if}
<PracticeRun {act} {files} {kind} />
<JogPad machine={act.machine} {unit} />
<details class="py-2 border-t border-surface-200-800">
  <summary class="cursor-pointer">{BENCH.setXAndYZero(lies)}</summary>
  <ZeroXY {job} jobId={null} machine={shop} {act} {bit} />
</details>
<details class="py-2 border-t border-surface-200-800">
  <summary class="cursor-pointer">{BENCH.setZZero}</summary>
  {#if kind === 'router'}
    <div class="py-1 gap-1.5 flex flex-wrap items-center" role="group" aria-label={BENCH.faceTheProgramCountsFrom}>
      <button class="btn preset-outlined-surface-300-700" aria-pressed={face === 'top'} onclick={() => (face = 'top')}>{BENCH.forAProgramFromThe}</button>
      <button class="btn preset-outlined-surface-300-700" aria-pressed={face === 'spoilboard'} onclick={() => (face = 'spoilboard')}
        >{BENCH.forOneFromTheSpoilboard}</button
      >
    </div>
    {#key face}<ZeroZ {job} jobId={null} machine={shop} {act} />{/key}
  {:else if finds}
    <p class="caution">It moves down by itself where it stands, until it feels the {lies}. Hands away.</p>
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={act.busy !== null}
      onclick={() => act.send({ do: 'zero-z', method: finds.method, thickness: 0, datum: 'top' })}
      >{act.busy === 'zero-z' ? BENCH.lookingForIt : finds.says}</button
    >
  {/if}
</details>
