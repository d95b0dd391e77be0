<script lang="ts">
  /** The run, readable from two metres: what is being cut, where the bit is, time left, Hold, Resume, Stop. */
  import type { ScreenCommand } from '@kerbe/core/link/commands';
  import { boardThickness, datumPoint } from '@kerbe/core/job';
  import { processOf } from '@kerbe/core/process';
  import { pauseIn, readProgram, spanAt, toPath } from '@kerbe/core/program';
  import { saidOf } from './said';
  import { stageTitle } from '$lib/ui/words';
  import { isAlive } from '@kerbe/core/link';
  import { format } from 'date-fns';
  import type { JobSession } from '$lib/job/session.svelte';
  import type { MachineLink } from '$lib/machine.svelte';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import BitDrawing from '$lib/board/BitDrawing.svelte';
  import PlanBoard from '$lib/board/PlanBoard.svelte';
  import { planMotion } from '@kerbe/core/motion';
  import type { MachineView } from '$lib/stages/types';
  import { Act } from '$lib/stages/setup/act.svelte';
  import ZeroZ from '$lib/stages/setup/ZeroZ.svelte';
  import Holds from '$lib/stages/setup/Holds.svelte';
  import { stickOut } from '$lib/stages/setup/hands';
  import { formatFeed } from '@kerbe/core/length';
  import LengthField from '$lib/ui/LengthField.svelte';
  import type { RunDesk } from './desk.svelte';
  import Overrides from './Overrides.svelte';
  import { duration, len, place } from '$lib/ui/format';

  interface Props {
    session: JobSession;
    editor: ArtEditor;
    machine: MachineLink;
    shop: MachineView;
    desk: RunDesk;
    /** The record of the run that ended cannot be read or written just now. */
    late: boolean;
    onprogram: () => void;
    onsetup: () => void;
    onrecord: () => void;
  }
  let { session, editor, machine, shop, desk, late, onprogram, onsetup, onrecord }: Props = $props();
  // svelte-ignore state_referenced_locally
  const act = new Act(machine);
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const now = $derived(machine.now);
  const status = $derived(now.status);
  const program = $derived(desk.program);
  const run = $derived(desk.run);
  const last = $derived(desk.last);
  const active = $derived(desk.active);
  const other = $derived(desk.other);
  /** Anything that Stop could stop: a run, a move, lines that wait, a spindle that turns - or a Stop that nobody has confirmed. */
  const alive = $derived(active || other !== null || now.busy !== null || now.stopWanted !== null || (status !== null && isAlive(status)));
  /** When the last word of the machine came: what is shown is no newer. */
  let heard = $state(new Date());
  $effect(() => {
    void now;
    if (machine.fresh) heard = new Date();
  });
  const process = $derived(processOf(job));
  const nextBit = $derived(run?.pause?.reason === 'tool-change' ? job.tools[run.pause.tool] : null);
  let here = $state(false);
  let why = $state<string | null>(null);
  let busy = $state(false);
  let changed = $state(false);
  let sure = $state(false);
  let again = $state(false);
  let deeper = $state(0.2);
  let goOn = $state(false);
  const bit = $derived.by((): [number, number] | null => {
    if (!status?.homed || !now.setup.zeroXY) return null;
    const [dx, dy] = datumPoint(job);
    return [status.work[0] + dx, status.work[1] + dy];
  });
  const ours = $derived(nextBit !== null && now.setup.bitFitted === nextBit.id);
  /** Without a sensor Z zero is touched with the new bit instead. */
  const measured = $derived(ours && (shop.profile.sensor ? now.setup.bitReading !== null : now.setup.zeroZ?.bit === nextBit?.id));
  /** A machine that shows nothing is believed what the person says. */
  const fitted = $derived(nextBit !== null && (shop.profile.shows ? status?.world?.bit === nextBit.id : ours));
  const ended = $derived(run !== null && run.endedAt !== null);
  const more = $derived(desk.index + 1 < desk.programs.length);

  // What has been cut so far: the moves of the program up to the line the machine has finished.
  const moves = $derived(desk.text === null ? null : toPath(readProgram(desk.text)));
  const reached = $derived(run?.line ?? 0);
  const lines = $derived(desk.lines);
  const cutting = $derived(run && reached > 0 ? spanAt(desk.spans, reached + 1) : null);
  /** When every move begins as planned, so that what is left can be corrected by what it took so far. */
  const timing = $derived(moves && moves.kind.length > 0 ? planMotion(moves, job.machine).start : null);
  /** Lines at which it waits for another bit, and what a person needs for each. */
  const changeLines = $derived(lines.flatMap((line, i) => (pauseIn(line) === null ? [] : [i + 1])));
  const changesLeft = $derived(((program?.changes ?? 0) * changeLines.filter((line) => line > (run?.line ?? 0)).length) / Math.max(1, changeLines.length));
  const runningLeft = $derived.by(() => {
    const whole = program?.seconds ?? 0;
    if (!run || !moves || !timing || run.line === 0) return Math.max(0, whole - (run?.seconds ?? 0));
    const k = moves.line.findIndex((line) => line > run.line);
    const planned = k < 0 ? timing[timing.length - 1] : timing[k];
    const rest = (timing[timing.length - 1] - planned) * Math.max(1, whole / timing[timing.length - 1]);
    // After a minute it knows how this machine does.
    const factor = planned > 60 ? Math.min(3, Math.max(0.5, run.seconds / planned)) : 1;
    return (rest * factor) / Math.min(1, status?.override.feed ?? 1);
  });
  const left = $derived(runningLeft + changesLeft);
  const trail = $derived.by(() => {
    const runs: number[][] = [];
    if (!moves || reached === 0) return runs;
    const [dx, dy] = datumPoint(job);
    const top = job.datum.z === 'top' ? 0 : boardThickness(job.board);
    let open: number[] | null = null;
    for (let i = 1; i < moves.kind.length && moves.line[i] <= reached; i++) {
      if (moves.kind[i] === 0 || (moves.z[i] >= top && moves.z[i - 1] >= top)) {
        open = null;
        continue;
      }
      if (!open) runs.push((open = [moves.x[i - 1] + dx, moves.y[i - 1] + dy]));
      open.push(moves.x[i] + dx, moves.y[i] + dy);
    }
    return runs;
  });

  async function send(command: ScreenCommand) {
    busy = true;
    why = await machine.send(command);
    busy = false;
    return why === null;
  }
  const hold = () => void send({ do: 'hold' });
  async function start(from?: number) {
    if (!program || desk.releaseId === null) return;
    const line = from ?? desk.from;
    if (await send({ do: 'start', release: desk.releaseId, program: program.name, here, ...(line > 1 ? { from: line } : {}) })) here = goOn = false;
  }
  /** Goes on from a line: when it is set up for that, at once; else it is kept, and set up first. */
  async function goOnFrom(line: number) {
    why = await desk.choose(desk.index, line);
    if (why === null) await start(line);
  }
  async function next(index: number, board: 'new' | 'same') {
    why = await desk.choose(index, 1, board);
    if (why === null) onsetup();
  }

  function space(event: KeyboardEvent) {
    if (event.key !== ' ' || !(active || other)) return;
    const target = event.target as HTMLElement;
    if (target.closest('input, textarea, select')) return;
    event.preventDefault();
    if (status?.state === 'run' || run?.state === 'running') hold();
  }
</script>

<svelte:window onkeydown={space} />
{#if goOn && desk.text !== null}{#await import('./GoOnFrom.svelte') then { default: GoOnFrom }}<GoOnFrom
      text={desk.text}
      spans={desk.spans}
      items={job.items}
      {unit}
      finished={last?.line ?? 0}
      sent={last?.sent ?? 0}
      spindleSeconds={job.program.spindleDelay ?? job.machine.spindleSeconds}
      reentry={process.resume}
      {busy}
      {why}
      onstart={(line) => void goOnFrom(line)}
      {onsetup}
      onclose={() => (goOn = false)}
    />{/await}{/if}

<div class="run" data-mode="dark">
  <div class="drawing">
    <PlanBoard {job} {editor} plan={session.plan} showPaths={true} {bit} {trail} />
  </div>
  <div class="panel">
    <div class="words">
      {#if !machine.fresh}
        <p class="state" aria-live="assertive">Not known</p>
        <p class="caution" role="alert">
          {machine.connected ? 'The machine agent does not answer' : 'Connection lost'}: what the machine does now is not seen here. Go to it; its own red
          button stops it. {run
            ? `Last heard at ${format(heard, 'HH:mm:ss')}: ${stageTitle(run, process).toLowerCase()}, line ${run.line} of ${run.lines}.`
            : ''}
        </p>
      {:else}
        <p class="state" aria-live="polite">{run ? stageTitle(run, process) : other ? 'Another program runs' : 'Ready to start?'}</p>
        {#if run?.message}<p class="message">{run.message}</p>{/if}
        {#if other}<p class="message">{other.name}, line {other.line} of {other.lines}. Hold and Stop work here too.</p>{/if}
        {#if now.stopWanted && !run}<p class="message">{now.stopWanted} pressed Stop. The machine has not confirmed it yet.</p>{/if}
        {#if !now.link}<p class="caution" role="alert">The machine does not answer. To stop it now, use its red button.</p>{/if}
      {/if}
      {#if late}<p class="caution" role="status">
          The database does not answer, so the record is not written yet. The machine agent keeps it until it can be.
        </p>{/if}
      {#if machine.fresh}<Holds {machine} />{/if}

      {#if status}
        <dl class="position">
          {#each ['X', 'Y', 'Z'] as axis, i (axis)}<div>
              <dt>{axis}</dt>
              <dd>{place(status.work[i], unit)}</dd>
            </div>{/each}
        </dl>
        <div class="bars">
          {#if run}
            <div class="bar" role="progressbar" aria-label="Program lines done" aria-valuenow={run.line} aria-valuemin="0" aria-valuemax={run.lines}>
              <span style="width: {(100 * run.line) / Math.max(1, run.lines)}%"></span>
            </div>
            <p>
              <b>{duration(left)}</b> left
              <span class="quiet"
                >· line {run.line} of {run.lines}{status.spindle ? ` · spindle ${status.spindle.actual} rev/min` : ''} · {formatFeed(
                  status.speed * 60,
                  unit,
                )}{status.rate !== 1 ? ` · simulated ${status.rate}× faster` : ''}</span
              >
            </p>
            {#if cutting}<p><b>{saidOf(cutting, job.items)}</b></p>{/if}
            <p class="small">
              <code>{lines[run.line] ?? ''}</code>
              <span class="quiet">{status.queued} waiting in the machine</span>
            </p>
          {:else}
            <p>
              <b>{duration(left)}</b>
              <span class="quiet"
                >at the machine{program?.changes ? `, of it ${duration(program.changes)} for changing bits` : ''} · {program?.name ?? 'nothing released'}</span
              >
            </p>
          {/if}
        </div>
      {/if}

      {#if machine.fresh && active && run?.state === 'running'}<Overrides {machine} onrefused={(text) => (why = text)} />{/if}

      <div class="act">
        {#if why && !goOn}<p class="message why" role="alert">{why}</p>{/if}
        {#if !program}
          <p class="message">Nothing has been released for this job as it stands now.</p>
          <button class="next huge" onclick={onprogram}>Go to the program</button>
        {:else if other || !machine.fresh}
          <!-- Only Hold and Stop. -->
        {:else if !active && run?.state !== 'done'}
          <p class="message">
            Stay at the machine while it runs. Eyes, ears and dust protection on; loose sleeves away; hands off the bed. The red button on the machine is the
            emergency stop, this screen is not.
          </p>
          <label class="here"><input type="checkbox" bind:checked={here} /> I am at the machine and it is clear</label>
          {#if desk.programs.length > 1}<p class="message">Program {desk.index + 1} of {desk.programs.length}: {program.name}</p>{/if}
          {#if desk.from > 1}
            <button class="next huge" disabled={!here || busy} onclick={() => start()}>Go on from line {desk.from}</button>
            <button class="press" disabled={busy} onclick={() => (goOn = true)}>From another line…</button>
            <button class="press" disabled={busy} onclick={async () => (why = await desk.choose(desk.index))}>From the beginning instead</button>
          {:else if ended && run && run.line > 0}
            <button class="next huge" disabled={!here || busy} onclick={() => (goOn = true)}>Go on from where it stopped…</button>
            <button class="press big" disabled={!here || busy} onclick={() => start()}>Start again from the beginning</button>
          {:else}
            <button class="next huge" disabled={!here || busy} onclick={() => start()}>Start cutting</button>
            <button class="press" disabled={!here || busy} onclick={() => (goOn = true)}>Start in the middle…</button>
          {/if}
          <button class="press" onclick={onsetup}>Back to setting up</button>
        {:else if run?.state === 'paused' && nextBit}
          <div class="change">
            <BitDrawing bit={nextBit} height={110} />
            <p class="message">
              Spindle power off before your hand goes near. Fit <b>{nextBit.name || nextBit.id}</b>: collet for {len(nextBit.shank, unit)}; drawn back, not
              bottomed.
            </p>
          </div>
          {#if !fitted}
            {#if shop.profile.shows}
              <button
                class="next huge"
                disabled={busy || !status || !!status.spindle?.actual}
                onclick={() => send({ do: 'bench', change: { bit: { shape: nextBit, stickOut: stickOut(nextBit.id) } } })}
                >{status?.spindle?.actual ? 'Wait: the spindle is running down' : 'Fit it on the simulated machine'}</button
              >
            {:else}
              <button class="next huge" disabled={busy || !!status?.spindle?.actual} onclick={() => send({ do: 'fitted', bit: nextBit.id })}
                >{nextBit.name || nextBit.id} is fitted</button
              >
            {/if}
          {:else if status?.estop}
            <p class="message why">The emergency stop is pressed, as it should be for the change. Turn it to release it before going on.</p>
            {#if shop.profile.shows}<button class="press big" onclick={() => send({ do: 'bench', change: { estop: false } })}>Release it (simulated)</button
              >{/if}
          {:else if status?.state === 'estop' || status?.state === 'alarm'}
            <button class="next huge" onclick={() => send({ do: 'clear' })}>Clear the alarm</button>
          {:else}
            <label class="here"><input type="checkbox" bind:checked={changed} /> It is tight, tools are away, hands are off</label>
            {#if measured}
              {#if shop.profile.spindle.control === 'hand'}<p class="message">Start the spindle again at its box before going on.</p>{/if}
              <button
                class="next huge"
                disabled={busy || !changed}
                onclick={async () => ((await send({ do: 'resume', handsOff: changed })) ? (changed = false) : null)}>Go on cutting</button
              >
            {:else if shop.profile.sensor}
              <p class="message">It moves to the tool sensor and touches it.</p>
              <button
                class="next huge"
                disabled={busy || !changed || !status || !!status.spindle?.actual}
                onclick={async () => (sure = !(await send({ do: 'measure', bit: nextBit.id, sure, handsOff: changed })))}
                >{busy ? 'Measuring…' : sure && why ? 'I am sure: measure again' : 'Measure the new bit'}</button
              >
            {:else}
              <p class="message">This machine has no sensor: touch Z zero with the new bit.</p>
              {#if act.why}<p class="message why" role="alert">{act.why}</p>{/if}
              <ZeroZ {job} jobId={session.id} machine={shop} {act} handsOff={changed} />
            {/if}
          {/if}
        {:else if run?.state === 'paused'}
          <label class="here"><input type="checkbox" bind:checked={changed} /> It is done, tools are away, hands are off</label>
          <button
            class="next huge"
            disabled={busy || !changed}
            onclick={async () => ((await send({ do: 'resume', handsOff: changed })) ? (changed = false) : null)}>Go on cutting</button
          >
        {:else if run?.state === 'held' || run?.state === 'link-lost'}
          <button class="next huge" disabled={busy || !now.link} onclick={() => send({ do: 'resume' })}>Resume</button>
        {:else if run?.state === 'stopping'}
          <p class="message">What it does is not known until it answers. Kerbe tells it to stop first of all then.</p>
          {#if !now.link}<button class="press" disabled={busy} onclick={() => send({ do: 'give-up' })}>The machine is off: end the record of this run</button
            >{/if}
        {:else if run?.state === 'done'}
          <p class="message">Let the spindle stop and the dust settle before you reach in. The tabs are cut by hand.</p>
          {#if again}
            <p class="message">Everything stays where it is; Z0 goes down by what is missing, and the program runs once more.</p>
            <LengthField label="Deeper by" value={deeper} {unit} onchange={(mm) => (deeper = mm)} />
            <button
              class="next huge"
              disabled={busy}
              onclick={async () => {
                if (!(await send({ do: 'nudge', deeper }))) return;
                again = false;
                await next(desk.index, 'same');
              }}>Set it {len(Math.abs(deeper), unit)} {deeper >= 0 ? 'deeper' : 'higher'}, then check the set-up</button
            >
            <button class="press" onclick={() => (again = false)}>Cancel</button>
          {:else}
            {#if more}
              <button class="next huge" disabled={busy} onclick={() => next(desk.index + 1, 'same')}
                >On to program {desk.index + 2} of {desk.programs.length}</button
              >
              <button class="press" onclick={onrecord}>See the record</button>
            {:else}
              <button class="next huge" onclick={onrecord}>See the record</button>
            {/if}
            <button class="press" disabled={busy} onclick={() => next(0, 'new')}>Cut another, on a new board</button>
            <button class="press" onclick={() => (again = true)}>A little shallow? Again, deeper by…</button>
          {/if}
        {/if}
      </div>
    </div>

    <div class="always">
      <button class="hold" disabled={run?.state !== 'running' && status?.state !== 'run'} onclick={hold}>Hold <kbd>space</kbd></button>
      <button class="stop" disabled={!alive} onclick={() => send({ do: 'stop' })}>Stop</button>
    </div>
  </div>
</div>

<style>
  .run {
    display: grid;
    grid-template-columns: 1fr minmax(24rem, 30rem);
    height: 100%;
    background: var(--paper);
    color: var(--ink);
    min-height: 0;
  }
  .drawing {
    position: relative;
  }
  /* Hold and Stop have a place of their own: what is above them scrolls, and is never under them. */
  .panel {
    display: grid;
    grid-template-rows: minmax(0, 1fr) auto;
    background: var(--sheet);
    min-height: 0;
  }
  .words {
    padding: 0.8rem 1.4rem 0.4rem;
    overflow: auto;
    display: flex;
    flex-direction: column;
    gap: 0.45rem;
  }
  .state {
    font-size: 2.1rem;
    font-weight: 600;
    line-height: 1.1;
  }
  .message {
    font-size: 1.05rem;
  }
  .why {
    color: var(--danger);
    font-weight: 600;
  }
  .position {
    display: grid;
    grid-template-columns: repeat(3, 1fr);
    gap: 0.9rem;
    margin: 0;
  }
  .position div {
    border-bottom: 1px solid var(--line);
  }
  .position dt {
    color: var(--quiet);
    font-size: 1rem;
    line-height: 1;
  }
  .position dd {
    font-size: 2rem;
    line-height: 1.25;
    font-weight: 600;
    font-variant-numeric: tabular-nums;
    margin: 0;
  }
  .bar {
    height: 12px;
    background: var(--line);
  }
  .bar span {
    display: block;
    height: 100%;
    background: var(--accent);
  }
  .bars p {
    font-size: 1rem;
    padding-top: 0.3rem;
  }
  .bars b {
    font-size: 1.35rem;
  }
  .act {
    display: flex;
    flex-direction: column;
    gap: 0.6rem;
    flex: 1;
  }
  .huge {
    min-height: 56px;
    font-size: 1.25rem;
  }
  .big {
    min-height: 48px;
  }
  .bars .small {
    display: flex;
    white-space: nowrap;
    padding: 0;
    justify-content: space-between;
    gap: 1rem;
    font-size: 0.85rem;
  }
  .small code {
    background: none;
    color: var(--ink);
    padding: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .change {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 1rem;
    align-items: center;
  }
  .here {
    display: flex;
    gap: 0.7rem;
    align-items: center;
    min-height: 48px;
    font-size: 1.05rem;
  }
  .here input {
    width: 1.5rem;
    height: 1.5rem;
  }
  .always {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 0.8rem;
    padding: 0.5rem 1.4rem 1rem;
    border-top: 1px solid var(--line);
  }
  .always button {
    min-height: 72px;
    font-size: 1.5rem;
    font-weight: 600;
    border-radius: 0.2rem;
  }
  .hold {
    background: var(--amber);
    color: #0e1513;
  }
  .stop {
    background: var(--danger);
    color: var(--on-danger);
  }
  .always button:disabled {
    opacity: 0.35;
  }
  kbd {
    font-size: 0.8rem;
    font-weight: 400;
  }
  @media (max-height: 480px) {
    .run {
      grid-template-columns: minmax(0, 1fr) minmax(22rem, 25rem);
    }
    .words {
      padding: 0.5rem 1rem 0;
      gap: 0.35rem;
    }
    .always {
      padding: 0.3rem 1rem 0.5rem;
    }
    .position dd {
      font-size: 1.45rem;
    }
    .state {
      font-size: 1.4rem;
    }
    .bars p,
    .message {
      font-size: 0.95rem;
    }
    .always button {
      min-height: 60px;
    }
  }
  /* Held upright there is room for the figures and what is to be pressed, not for the drawing. */
  @media (max-width: 600px) {
    .run {
      grid-template-columns: minmax(0, 1fr);
    }
    .drawing {
      display: none;
    }
  }
</style>
