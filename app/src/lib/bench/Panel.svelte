<script lang="ts">
  /** The machine's own panel on the bench: what a person would press on a real one, through the same agent and the same refusals. */
  import { Job } from '@kerbe/core/job';
  import { EXERCISE_BOARD } from '@kerbe/core/setup/exercises';
  import type { Bit } from '@kerbe/core/job';
  import type { MachineView } from '$lib/stages/types';
  import type { Act } from '$lib/stages/setup/act.svelte';
  import Holds from '$lib/stages/setup/Holds.svelte';
  import JogPad from '$lib/stages/setup/JogPad.svelte';
  import ZeroXY from '$lib/stages/setup/ZeroXY.svelte';
  import ZeroZ from '$lib/stages/setup/ZeroZ.svelte';

  let { act, shop, crib }: { act: Act; shop: MachineView; crib: Bit[] } = $props();
  const now = $derived(act.machine.now);
  const status = $derived(now.status);
  let face = $state<'top' | 'spoilboard'>('top');
  let called = $state<string | null>(null);
  let sure = $state(false);
  const bit = $derived(crib.find(({ id }) => id === status?.world?.bit) ?? null);
  /** The board on the bed, as a job that counts from its front left corner. */
  const job = $derived.by(() => {
    const { width, height, thickness } = status?.world?.board ?? EXERCISE_BOARD;
    return Job.parse({
      kerbe: 3,
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
  <p class="state">
    <b>{status.estop ? 'emergency stop' : status.state}</b>
    {#if status.message}<span>{status.message}</span>{/if}
  </p>
  <dl class="position">
    {#each ['X', 'Y', 'Z'] as axis, i (axis)}<div>
        <dt>{axis}</dt>
        <dd class="figure">{status.homed ? status.work[i].toFixed(2) : '?'}</dd>
      </div>{/each}
    <div>
      <dt>spindle</dt>
      <dd class="figure">{status.spindle?.actual ?? '–'}</dd>
    </div>
  </dl>
{/if}
<div class="row">
  <button class={status && !status.homed && !status.estop ? 'next' : 'press'} disabled={act.busy !== null} onclick={() => act.send({ do: 'home' })}
    >{act.busy === 'home' ? 'Homing…' : 'Home'}</button
  >
  <button class="press" onclick={() => act.send({ do: 'clear' })}>Clear the alarm</button>
  <button class="press" disabled={act.busy !== null} onclick={() => act.send({ do: 'go-to-zero', clearance: 5 })}>Go to zero</button>
  <button class="press" disabled={act.busy !== null} onclick={() => act.send({ do: 'warm-up', speed: 12000, seconds: 10 })}
    >{act.busy === 'warm-up' ? 'Turning…' : 'Spindle, ten seconds'}</button
  >
  <button class="press" onclick={() => act.send({ do: 'hold' })}>Hold</button>
  <button class="press" onclick={() => act.send({ do: 'stop' })}>Stop</button>
</div>
<div class="row">
  <select class="select" aria-label="Bit that is measured" value={measureAs} onchange={(event) => (called = event.currentTarget.value)}
    >{#if !crib.some(({ id }) => id === measureAs)}<option value={measureAs}>No bit of the crib is fitted</option>{/if}{#each crib as one (one.id)}<option
        value={one.id}>{one.name || one.id}</option
      >{/each}</select
  >
  <button
    class="press"
    disabled={act.busy !== null || !measureAs}
    onclick={async () => {
      sure = !(await act.send({ do: 'measure', bit: measureAs, sure }));
      called = null;
    }}>{act.busy === 'measure' ? 'Measuring…' : sure && act.why ? 'I am sure: measure again' : 'Measure it on the sensor'}</button
  >
</div>
<JogPad machine={act.machine} unit="mm" />
<details>
  <summary>Set X and Y zero at the front left corner</summary>
  <ZeroXY {job} jobId={null} machine={shop} {act} {bit} />
</details>
<details>
  <summary>Set Z zero</summary>
  <div class="row" role="group" aria-label="Face the program counts from">
    <button class="press" aria-pressed={face === 'top'} onclick={() => (face = 'top')}>for a program from the top</button>
    <button class="press" aria-pressed={face === 'spoilboard'} onclick={() => (face = 'spoilboard')}>for one from the spoilboard</button>
  </div>
  {#key face}<ZeroZ {job} jobId={null} machine={shop} {act} />{/key}
</details>

<style>
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 0.35rem;
    align-items: center;
    padding: 0.2rem 0;
  }
  .state {
    display: flex;
    gap: 0.6rem;
    padding-top: 0.4rem;
  }
  .position {
    display: grid;
    grid-template-columns: repeat(4, 1fr);
    margin: 0.2rem 0;
  }
  .position dt {
    color: var(--quiet);
    font-size: 0.8rem;
  }
  .position dd {
    margin: 0;
    font-size: 1.25rem;
    font-weight: 600;
  }
  details {
    border-top: 1px solid var(--line);
    padding: 0.45rem 0;
  }
  summary {
    cursor: pointer;
  }
  .select {
    max-width: 13rem;
  }
  [aria-pressed='true'] {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
</style>
