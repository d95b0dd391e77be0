<script lang="ts">
  /** What to do at the machine before a run, one step at a time: seen when the machine can show it, confirmed when not. */
  import { nextStep, setupSteps, type Step } from '@kerbe/core/setup/steps';
  import { boardThickness } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import type { MachineLink } from '$lib/machine.svelte';
  import type { MachineView, ReleaseView } from '$lib/cards/types';
  import BitInGroove from '$lib/board/BitInGroove.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { len } from '$lib/ui/format';
  import { Act } from './act.svelte';
  import Flatness from './Flatness.svelte';
  import Holds from './Holds.svelte';
  import JogPad from './JogPad.svelte';
  import Places from './Places.svelte';
  import ZeroXY from './ZeroXY.svelte';
  import ZeroZ from './ZeroZ.svelte';
  import { simulatedBoard, stickOut } from './hands';

  interface Props {
    session: JobSession;
    machine: MachineLink;
    shop: MachineView;
    release: ReleaseView | null;
    shallowest: number | null;
    onrun: () => void;
    onprogram: () => void;
  }
  let { session, machine, shop, release, shallowest, onrun, onprogram }: Props = $props();
  // svelte-ignore state_referenced_locally
  const act = new Act(machine);
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const now = $derived(machine.now);
  const status = $derived(now.status);
  const program = $derived(release?.programs[0] ?? null);
  const firstBit = $derived(program ? (job.bits[program.bits[0]] ?? null) : null);
  const steps = $derived(
    setupSteps({
      job,
      profile: shop.profile,
      program: program && { sha256: program.sha256, bits: program.bits, spindle: program.spindle, shallowest },
      machine: now,
      now: Date.now(),
    }),
  );
  const next = $derived(nextStep(steps));
  let chosen = $state<string | null>(null);
  const open = $derived(chosen ?? next?.id ?? null);
  let frameHeight = $state(15);
  let shape = $state<'box' | 'outline'>('box');
  let warmSeconds = $state<number | null>(null);
  let sure = $state(false);
  let offset = $derived(status?.workOffset ?? 'G54');
  const OFFSETS = ['G54', 'G55', 'G56', 'G57', 'G58', 'G59', 'G59.1', 'G59.2', 'G59.3'];
  const boardThere = $derived.by(() => {
    const b = status?.world.board;
    const { width, height, thickness } = job.board;
    return (
      b != null &&
      b.x === now.setup.bed.x &&
      b.y === now.setup.bed.y &&
      [b.width - width, b.height - height, b.thickness - thickness].every((d) => Math.abs(d) < 0.01)
    );
  });
  const says = (step: Step) => (step.done ? (step.how === 'seen' ? 'seen' : 'confirmed') : step.skippedBy ? `skipped by ${step.skippedBy}` : '');
  const confirm = async (step: Step, skipped = false) => {
    if (await act.send({ do: 'confirm', id: step.id, key: step.key, skipped })) chosen = null;
  };
  /** What is to be pressed next is never below the edge of the card. */
  const intoView = (step: HTMLElement) => step.scrollIntoView({ block: 'nearest' });
  const warmFor = $derived(Math.max(1, Math.round(shop.profile.limits.warmUpSeconds - (now.setup.warm?.seconds ?? 0))));
</script>

<h2>Set up {shop.name}</h2>
{#if !release || !program}
  <p class="quiet">First release a program: setting up is checked against it.</p>
  <button class="next" onclick={onprogram}>Go to the program</button>
{:else}
  <Holds {machine} />
  {#if act.why}<p class="caution" role="alert">{act.why}</p>{/if}
  <ol>
    {#each steps as step, i (step.id)}
      <li {@attach open === step.id ? intoView : null} class:open={open === step.id} class:past={step.done || step.skippedBy !== null}>
        <button class="title" onclick={() => (chosen = open === step.id ? '' : step.id)} aria-expanded={open === step.id}>
          <span class="count" class:done={step.done} class:skipped={step.skippedBy !== null} aria-hidden="true"
            >{step.done ? '✓' : step.skippedBy ? '–' : i + 1}</span
          >
          <span>{step.title}</span>
          <small class="quiet">{says(step)}</small>
        </button>
        {#if open === step.id}
          <div class="body">
            {#if step.id === 'program'}
              {#if !step.done}<p class="caution">{step.holds}</p>{/if}
              <p>{program.name}, {program.lines} lines, SHA-256 <code class="hash">{program.sha256}</code>. What runs is this, byte for byte.</p>
            {:else if step.id === 'answers'}
              {#if step.done}<p>It is ready.</p>{:else}<p>{step.holds}</p>{/if}
              {#if status?.estop && shop.profile.shows}
                <button class="press" onclick={() => act.bench({ estop: false })}>Release it on the simulated machine</button>
              {:else if status && !status.estop && (status.state === 'alarm' || status.state === 'estop')}
                <button class="next" onclick={() => act.send({ do: 'clear' })}>Clear the alarm</button>
              {/if}
            {:else if step.id === 'home'}
              <p class="caution">It moves: Z up, then X and Y to their switches. Hands and tools off the bed.</p>
              <button class="next" disabled={act.busy !== null} onclick={() => act.send({ do: 'home' })}
                >{act.busy === 'home' ? 'Homing…' : 'Home the machine'}</button
              >
            {:else if step.id === 'held'}
              <p>
                {job.board.material}, {len(job.board.width, unit)} × {len(job.board.height, unit)} × {len(job.board.thickness, unit)}, held by {job.board
                  .holdDown}. Where it lies is drawn beside; pull it to where you put it.
              </p>
              {#if shop.profile.shows}
                <button class={boardThere ? 'press' : 'next'} disabled={act.busy !== null} onclick={() => act.bench(simulatedBoard(job, now.setup.bed))}
                  >{boardThere ? 'Lay down a fresh board' : 'Lay it on the simulated bed'}</button
                >
              {/if}
              {#if boardThere || !shop.profile.shows}
                <p>{step.holds}</p>
                <button class="next" onclick={() => confirm(step)}>So it is</button>
              {/if}
            {:else if step.id === 'bare'}
              <p class="caution">{step.holds}</p>
              <button class="next" onclick={() => confirm(step)}>It is bare</button>
            {:else if step.id === 'vacuum' || step.id === 'dust' || step.id === 'pins' || step.id === 'lid' || step.id === 'clear'}
              <p>{step.done ? 'As it should be.' : step.holds}</p>
              {#if step.how === 'confirmed'}<button class="next" onclick={() => confirm(step)}>Done</button>
              {:else if !step.done && shop.profile.shows}
                <button
                  class="next"
                  onclick={() =>
                    act.bench(
                      {
                        vacuum: { vacuum: true },
                        dust: { dust: true },
                        pins: { pinsUp: false },
                        lid: { lidOpen: false },
                        clear: { plate: null, block: null, probeClip: false },
                      }[step.id as 'dust'],
                    )}>Do it on the simulated machine</button
                >
              {/if}
            {:else if step.id === 'bit' && firstBit}
              <p class="caution">Spindle power off before your hand goes near the bit. Where the emergency stop is pressed for that, release it afterwards.</p>
              {#if !step.done}<p>{step.holds}</p>{/if}
              {#if shop.profile.shows}
                <button
                  class={step.done ? 'press' : 'next'}
                  disabled={act.busy !== null}
                  onclick={() => act.bench({ bit: { shape: firstBit, stickOut: stickOut(firstBit.id) } })}>Fit it on the simulated machine</button
                >
              {:else}<button class="next" onclick={() => confirm(step)}>{firstBit.name || firstBit.id} is fitted</button>{/if}
            {:else if step.id === 'collet' && firstBit}
              <BitInGroove bit={firstBit} depth={Math.min(6, firstBit.fluteLength)} thickness={boardThickness(job.board)} {unit} />
              <p>{step.holds}</p>
              <button class="next" onclick={() => confirm(step)}>It is tight and not bottomed</button>
            {:else if step.id === 'measure' && firstBit}
              <p>The bit goes to the tool sensor and touches it. After every bit change this is done again.</p>
              <button class="next" disabled={act.busy !== null} onclick={async () => (sure = !(await act.send({ do: 'measure', bit: firstBit.id, sure })))}
                >{act.busy === 'measure' ? 'Measuring…' : sure && act.why ? 'I am sure: measure it again' : 'Measure it'}</button
              >
            {:else if step.id === 'warm'}
              <p>{step.holds}</p>
              {#if step.how === 'seen'}
                <p class="caution">The spindle turns, Z at the top. Clip off, lid shut, hands away.</p>
                <NumberField label="For" unit="seconds" value={warmSeconds ?? warmFor} min={1} max={3600} onchange={(s) => (warmSeconds = s)} />
                <button
                  class="next"
                  disabled={act.busy !== null}
                  onclick={() =>
                    act.send({
                      do: 'warm-up',
                      speed: Math.max(shop.profile.spindle.min, 0.5 * shop.profile.limits.maxSpindle),
                      seconds: warmSeconds ?? warmFor,
                    })}>{act.busy === 'warm-up' ? `Turning: ${Math.round(now.setup.warm?.seconds ?? 0)} s so far` : 'Let it run warm'}</button
                >
                {#if now.busy === 'warming the spindle'}<button class="press" onclick={() => machine.send({ do: 'stop' })}>Stop it</button>{/if}
              {:else}<button class="next" onclick={() => confirm(step)}>It is warm</button>{/if}
            {:else if step.id === 'xy'}
              {#if !step.done && now.setup.zeroXY}<p>{step.holds}</p>{/if}
              <ZeroXY {job} machine={shop} {act} bit={firstBit} />
            {:else if step.id === 'z'}
              {#if !step.done && now.setup.zeroZ}<p>{step.holds}</p>{/if}
              <ZeroZ {job} machine={shop} {act} />
            {:else if step.id === 'flat'}
              {#if !step.done}<p>{step.holds}</p>{/if}
              <Flatness {job} machine={shop} {act} />
            {:else if step.id === 'frame'}
              <p>Spindle off, above the wood, the bit goes round the job. Watch that it stays over the board and clear of what holds it.</p>
              <div class="row" role="group" aria-label="What it goes round">
                <button class="press" aria-pressed={shape === 'box'} onclick={() => (shape = 'box')}>the box</button>
                <button class="press" aria-pressed={shape === 'outline'} onclick={() => (shape = 'outline')}>the outline</button>
              </div>
              <LengthField label="Height above the board" value={frameHeight} {unit} min={5} onchange={(mm) => (frameHeight = mm)} />
              <button
                class="next"
                disabled={act.busy !== null}
                onclick={() => act.send({ do: 'frame', release: release.id, program: program.name, shape, height: frameHeight })}
                >{act.busy === 'frame' ? 'Going round…' : 'Go round the job'}</button
              >
            {:else if step.id === 'spindle'}
              <p class="caution">Clip and hands away first.</p>
              <p>{step.holds}</p>
              <button class="next" onclick={() => confirm(step)}>It turns</button>
            {:else if step.id === 'person'}
              <p>{step.holds} The machine’s manual and the shop’s own rules come first.</p>
              <button class="next" onclick={() => confirm(step)}>So it is</button>
            {/if}
            {#if step.skippable && !step.done && step.skippedBy === null}
              <button class="press skip" onclick={() => confirm(step, true)}>Go on without it; the record names you</button>
            {:else if step.skippedBy !== null || (step.done && step.how === 'confirmed')}
              <button class="press skip" onclick={() => act.send({ do: 'unconfirm', id: step.id })}>Take that back</button>
            {/if}
          </div>
        {/if}
      </li>
    {/each}
  </ol>
  {#if !next}
    <p>Everything is set. The program may start.</p>
    <button class="next" onclick={onrun}>Go to the run</button>
  {/if}

  <details>
    <summary>Move by hand, go to zero, places</summary>
    <JogPad {machine} {unit} />
    <div class="row">
      <button class="press" disabled={act.busy !== null} onclick={() => act.send({ do: 'go-to-zero', clearance: job.program.clearance })}
        >Go to zero: up, across, down to {len(job.program.clearance, unit)}</button
      >
    </div>
    <Places {act} {shop} board={{ ...now.setup.bed, width: job.board.width, height: job.board.height }} />
  </details>
  <details>
    <summary>How flat the board lies</summary>
    <Flatness {job} machine={shop} {act} />
  </details>
  {#if shop.profile.offsets > 1}
    <details>
      <summary>Work offset {offset}{offset === job.program.workOffset ? '' : ` - the program counts in ${job.program.workOffset}`}</summary>
      <p class="quiet">Each keeps zeros of its own: two boards on one bed.</p>
      <div class="row">
        {#each OFFSETS.slice(0, shop.profile.offsets) as word (word)}
          <button class="press" aria-pressed={word === offset} disabled={act.busy !== null} onclick={() => act.send({ do: 'use-offset', word })}
            >{word}{now.setup.zeros[word]?.zeroXY ? ' ·' : ''}</button
          >
        {/each}
      </div>
    </details>
  {/if}
  <p class="quiet">Board thickness reckoned with: {len(boardThickness(job.board), unit)}.</p>
{/if}

<style>
  ol {
    list-style: none;
    margin: 0.6rem 0;
    padding: 0;
  }
  li {
    border-top: 1px solid var(--line);
  }
  .title {
    display: flex;
    gap: 0.8rem;
    align-items: center;
    width: 100%;
    text-align: left;
    padding: 0.45rem 0;
  }
  .title small {
    margin-left: auto;
    text-align: right;
  }
  .count {
    width: 1.6rem;
    height: 1.6rem;
    border-radius: 50%;
    border: 1px solid var(--line-strong);
    display: grid;
    place-items: center;
    font-weight: 600;
    font-size: 0.85rem;
    flex: none;
  }
  .count.done {
    background: var(--accent);
    border-color: var(--accent);
    color: var(--on-accent);
  }
  .count.skipped {
    border-color: var(--amber);
    color: var(--amber);
  }
  .past:not(.open) .title {
    padding: 0.1rem 0;
    font-size: 0.85rem;
  }
  .past:not(.open) .count {
    width: 1.15rem;
    height: 1.15rem;
    font-size: 0.7rem;
    margin-left: 0.22rem;
    margin-right: 0.22rem;
  }
  .past:not(.open) {
    border-top-color: transparent;
  }
  li.open .title {
    font-weight: 600;
  }
  .body {
    padding: 0 0 0.9rem 2.4rem;
    font-size: 0.92rem;
  }
  .body :global(.next),
  .body :global(.press) {
    margin: 0.25rem 0.3rem 0.25rem 0;
  }
  .hash {
    overflow-wrap: anywhere;
    font-size: 0.75rem;
  }
  .skip {
    font-size: 0.8rem;
    color: var(--quiet);
  }
  .row {
    display: flex;
    gap: 0.4rem;
    flex-wrap: wrap;
  }
  details {
    border-top: 1px solid var(--line);
    padding: 0.5rem 0;
  }
  summary {
    cursor: pointer;
    font-size: 0.92rem;
  }
  [aria-pressed='true'] {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
</style>
