<script lang="ts">
  /** The run, readable from two metres: what is being cut, where the bit is, time left, Hold, Resume, Stop. */
  import { inSight } from '$lib/ui/in-sight';
  import { bitName } from '@kerbe/core/bits';
  import type { ScreenCommand } from '@kerbe/core/link/commands';
  import { topHeight, datumPoint } from '@kerbe/core/job';
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
  import AsCut from './AsCut.svelte';
  import Overrides from './Overrides.svelte';
  import { duration, len, place } from '$lib/ui/format';
  import { beep } from '$lib/ui/beep';
  import ProgressBar from '$lib/ui/ProgressBar.svelte';
  import { COMMON } from '$lib/labels/common';
  import { RUN } from '$lib/labels/run';

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
  /** Smoke under the lid of a laser that shows it, 0 to 1. */
  const smoke = $derived(status?.world?.cabinet?.smoke ?? 0);
  const nextBit = $derived(run?.pause?.reason === 'tool-change' ? job.tools[run.pause.tool] : null);
  /** What is said before the start, and when it is over. */
  const WATCH = {
    router: 'Stay at the machine while it runs. Eyes, ears and dust protection on; loose sleeves away; hands off the bed.',
    torch: 'Stay at the table until it ends. Shade for the eyes of everybody near, gloves and sleeves on, fumes led away, an extinguisher at hand.',
    laser: 'Stay at the laser until it ends. Lid shut, extraction on, an extinguisher at hand; eyewear for its wavelength where the lid can be open.',
  };
  const DONE = {
    router: 'Let the spindle stop and the dust settle before you reach in. The tabs are cut by hand.',
    torch: 'The plate is hot, and its edges are sharp: tongs and gloves. Watch for embers under the table until it is cold.',
    laser: 'Leave the lid shut until the smoke is gone. Edges are hot.',
  };
  /** Near the end of the time somebody is asked for, it is asked loudly. */
  const asks = $derived(run?.presence !== undefined && run.presence.left < Math.min(60, run.presence.every / 3));
  $effect(() => {
    if (!asks || run?.state !== 'running') return;
    const beeping = setInterval(beep, 2000);
    return () => clearInterval(beeping);
  });
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
    const top = job.datum.z === 'top' ? 0 : topHeight(job.board);
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

<div
  class="grid grid-cols-[1fr_minmax(24rem,30rem)] h-full bg-surface-100-900 text-surface-950-50 min-h-0 [@media(max-height:480px)]:grid-cols-[minmax(0,1fr)_minmax(22rem,25rem)] max-[600px]:grid-cols-1"
  data-mode="dark"
>
  <div class="relative max-[600px]:hidden">
    <PlanBoard {job} {editor} plan={session.plan} showPaths={true} {bit} {trail} />
  </div>
  <div class="grid grid-rows-[minmax(0,1fr)_auto] bg-surface-50-950 min-h-0">
    <div
      class="px-5.5 gap-2 overflow-auto pt-3.5 pb-1.5 flex flex-col [@media(max-height:480px)]:px-4 [@media(max-height:480px)]:gap-1.5 [@media(max-height:480px)]:pt-2 [@media(max-height:480px)]:pb-0"
    >
      {#if !machine.fresh}
        <p
          class="state sticky -top-3.5 bg-surface-50-950 text-4xl [@media(max-height:480px)]:-top-2 font-semibold leading-tight [@media(max-height:480px)]:text-2xl"
          aria-live="assertive"
        >
          Not known
        </p>
        <p class="caution" role="alert">
          {machine.connected ? 'The machine agent does not answer' : 'Connection lost'}: what the machine does now is not seen here. Go to it; its own red
          button stops it. {run
            ? `Last heard at ${format(heard, 'HH:mm:ss')}: ${stageTitle(run, process).toLowerCase()}, line ${run.line} of ${run.lines}.`
            : ''}
        </p>
      {:else}
        <p
          class="state sticky -top-3.5 bg-surface-50-950 text-4xl [@media(max-height:480px)]:-top-2 font-semibold leading-tight [@media(max-height:480px)]:text-2xl"
          aria-live="polite"
        >
          {run ? stageTitle(run, process) : other ? 'Another program runs' : 'Ready to start?'}
        </p>
        {#if run?.message}<p class="text-lg [@media(max-height:480px)]:text-base">{run.message}</p>{/if}
        {#if other}<p class="text-lg [@media(max-height:480px)]:text-base">
            {other.name}, line {other.line} of {other.lines}. Hold and Stop work here too.
          </p>{/if}
        {#if now.stopWanted && !run}<p class="text-lg [@media(max-height:480px)]:text-base">
            {now.stopWanted} pressed Stop. The machine has not confirmed it yet.
          </p>{/if}
        {#if !now.link}<p class="caution" role="alert">The machine does not answer. To stop it now, use its red button.</p>{/if}
      {/if}
      {#if late}<p class="caution" role="status">
          The database does not answer, so the record is not written yet. The machine agent keeps it until it can be.
        </p>{/if}
      {#if machine.fresh}<Holds {machine} />{/if}

      {#if status}
        <dl class="gap-3.5 grid grid-cols-3">
          {#each ['X', 'Y', 'Z'] as axis, i (axis)}<div class="border-b border-surface-200-800">
              <dt class="text-surface-600-400 text-base leading-none">{axis}</dt>
              <dd class="text-3xl leading-tight font-semibold tabular-nums [@media(max-height:480px)]:text-2xl">{place(status.work[i], unit)}</dd>
            </div>{/each}
        </dl>
        <div>
          {#if run}
            <ProgressBar class="h-3" label={COMMON.programLinesDone} share={run.line / Math.max(1, run.lines)} />
            <p class="text-base pt-1.5 [@media(max-height:480px)]:text-base">
              <b class="text-xl">{duration(left)}</b> left
              <span class="text-surface-600-400"
                >· line {run.line} of {run.lines}{status.spindle ? ` · spindle ${status.spindle.actual} rev/min` : ''}{status.arc
                  ? status.arc.burns
                    ? ` · arc ${status.arc.volts.toFixed(0)} V, ${len(status.arc.over, unit)} over the plate${status.arc.heightControl ? ', height control on' : ''}`
                    : ` · arc off, pierce ${status.arc.pierces}`
                  : ''}{status.beam ? ` · beam ${status.beam.power > 0 ? `${(100 * status.beam.power).toFixed(0)} %` : 'dark'}` : ''} · {formatFeed(
                  status.speed * 60,
                  unit,
                )}{status.rate !== 1 ? ` · simulated ${status.rate}× faster` : ''}</span
              >
            </p>
            {#if cutting}<p class="text-base pt-1.5 [@media(max-height:480px)]:text-base"><b class="text-xl">{saidOf(cutting, job.items)}</b></p>{/if}
            <p class="gap-4 flex whitespace-nowrap justify-between text-sm [@media(max-height:480px)]:text-base">
              <code class="truncate bg-transparent text-surface-950-50">{lines[run.line] ?? ''}</code>
              <span class="text-surface-600-400">{status.queued} waiting in the machine</span>
            </p>
          {:else}
            <p class="text-base pt-1.5 [@media(max-height:480px)]:text-base">
              <b class="text-xl">{duration(left)}</b>
              <span class="text-surface-600-400"
                >at the machine{program?.changes ? `, of it ${duration(program.changes)} for changing bits` : ''} · {program?.name ?? 'nothing released'}</span
              >
            </p>
          {/if}
        </div>
      {/if}

      {#if machine.fresh && active && run?.state === 'running'}<Overrides {machine} onrefused={(text) => (why = text)} />{/if}

      {#if machine.fresh && run?.presence && run.state === 'running'}
        <div class={['flex items-center justify-between gap-3', asks && 'border-l-3 border-warning-600-400 pl-2.5']} role={asks ? 'alert' : undefined}>
          <p class="text-lg [@media(max-height:480px)]:text-base">
            {asks ? 'Is somebody there? It holds in' : 'Asked again in'} <b class="tabular-nums">{duration(run.presence.left)}</b>
          </p>
          <button
            class={[asks ? 'btn preset-filled-brand' : 'btn preset-outlined-surface-300-700', 'min-h-14 px-4 text-xl font-semibold']}
            onclick={() => send({ do: 'present' })}>{COMMON.iAmHere}</button
          >
        </div>
      {/if}

      <div class="act gap-2.5 flex flex-col flex-1">
        {#if why && !goOn}<p class="text-lg text-error-600-400 font-semibold [@media(max-height:480px)]:text-base" role="alert">{why}</p>{/if}
        {#if !program}
          <p class="text-lg [@media(max-height:480px)]:text-base">Nothing has been released for this job as it stands now.</p>
          <button {@attach inSight} class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl" onclick={onprogram}
            >{COMMON.goToTheProgram}</button
          >
        {:else if other || !machine.fresh}
          <!-- Only Hold and Stop. -->
        {:else if !active && run?.state !== 'done'}
          <p class="text-lg [@media(max-height:480px)]:text-base">
            {WATCH[job.process]} The red button on the machine is the emergency stop, this screen is not.
          </p>
          <label class="gap-3 flex items-center min-h-12 text-lg"
            ><input class="checkbox w-6 h-6" type="checkbox" bind:checked={here} /> {RUN.iAmAtTheMachine}</label
          >
          {#if desk.programs.length > 1}<p class="text-lg [@media(max-height:480px)]:text-base">
              Program {desk.index + 1} of {desk.programs.length}: {program.name}
            </p>{/if}
          {#if desk.from > 1}
            <button
              {@attach inSight}
              class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
              disabled={!here || busy}
              onclick={() => start()}>{RUN.goOnFromLine(desk.from)}</button
            >
            <button class="btn preset-outlined-surface-300-700" disabled={busy} onclick={() => (goOn = true)}>{RUN.fromAnotherLine}</button>
            <button class="btn preset-outlined-surface-300-700" disabled={busy} onclick={async () => (why = await desk.choose(desk.index))}
              >{COMMON.fromTheBeginningInstead}</button
            >
          {:else if ended && run && run.line > 0}
            <button
              {@attach inSight}
              class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
              disabled={!here || busy}
              onclick={() => (goOn = true)}>{RUN.goOnFromWhereIt}</button
            >
            <button class="btn preset-outlined-surface-300-700 big min-h-12" disabled={!here || busy} onclick={() => start()}
              >{RUN.startAgainFromTheBeginning}</button
            >
          {:else}
            <button
              {@attach inSight}
              class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
              disabled={!here || busy}
              onclick={() => start()}>{process.burns ? RUN.sendItToTheLaser : RUN.startCutting}</button
            >
            <button class="btn preset-outlined-surface-300-700" disabled={!here || busy} onclick={() => (goOn = true)}>{RUN.startInTheMiddle}</button>
          {/if}
          <button class="btn preset-outlined-surface-300-700" onclick={onsetup}>{RUN.backToSettingUp}</button>
        {:else if run?.state === 'paused' && run.pause?.reason === 'start'}
          <p class="text-lg [@media(max-height:480px)]:text-base">
            Look once more: lid shut, extraction on, nobody’s hands inside. It begins by the green button on the machine, and by nothing else.
          </p>
          {#if shop.profile.shows}
            <button
              {@attach inSight}
              class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
              disabled={busy}
              onclick={() => send({ do: 'bench', change: { start: true } })}>{RUN.pressStartOnTheSimulated(process.label.toLowerCase())}</button
            >
          {/if}
        {:else if run?.state === 'paused' && nextBit}
          <div class="gap-4 grid grid-cols-[auto_1fr] items-center">
            <BitDrawing bit={nextBit} {unit} height={110} />
            <p class="text-lg [@media(max-height:480px)]:text-base">
              Spindle power off before your hand goes near. Fit <b>{bitName(nextBit, unit)}</b>: collet for {len(nextBit.shank, unit)}; drawn back, not
              bottomed.
            </p>
          </div>
          {#if !fitted}
            {#if shop.profile.shows}
              <button
                {@attach inSight}
                class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
                disabled={busy || !status || !!status.spindle?.actual}
                onclick={() => send({ do: 'bench', change: { bit: { shape: nextBit, stickOut: stickOut(nextBit.id) } } })}
                >{status?.spindle?.actual ? RUN.waitTheSpindleIsRunning : COMMON.fitItOnTheSimulated}</button
              >
            {:else}
              <button
                {@attach inSight}
                class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
                disabled={busy || !!status?.spindle?.actual}
                onclick={() => send({ do: 'fitted', bit: nextBit.id })}>{COMMON.isFitted(bitName(nextBit, unit))}</button
              >
            {/if}
          {:else if status?.estop}
            <p class="text-lg text-error-600-400 font-semibold [@media(max-height:480px)]:text-base">
              The emergency stop is pressed, as it should be for the change. Turn it to release it before going on.
            </p>
            {#if shop.profile.shows}<button
                class="btn preset-outlined-surface-300-700 big min-h-12"
                onclick={() => send({ do: 'bench', change: { estop: false } })}>{RUN.releaseItSimulated}</button
              >{/if}
          {:else if status?.state === 'estop' || status?.state === 'alarm'}
            <button {@attach inSight} class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl" onclick={() => send({ do: 'clear' })}
              >{COMMON.clearTheAlarm}</button
            >
          {:else}
            <label class="gap-3 flex items-center min-h-12 text-lg"
              ><input class="checkbox w-6 h-6" type="checkbox" bind:checked={changed} /> {RUN.itIsTightToolsAre}</label
            >
            {#if measured}
              {#if shop.profile.spindle.control === 'hand'}<p class="text-lg [@media(max-height:480px)]:text-base">
                  Start the spindle again at its box before going on.
                </p>{/if}
              <button
                {@attach inSight}
                class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
                disabled={busy || !changed}
                onclick={async () => ((await send({ do: 'resume', handsOff: changed })) ? (changed = false) : null)}>{RUN.goOnCutting}</button
              >
            {:else if shop.profile.sensor}
              <p class="text-lg [@media(max-height:480px)]:text-base">It moves to the tool sensor and touches it.</p>
              <button
                {@attach inSight}
                class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
                disabled={busy || !changed || !status || !!status.spindle?.actual}
                onclick={async () => (sure = !(await send({ do: 'measure', bit: nextBit.id, sure, handsOff: changed })))}
                >{busy ? COMMON.measuring : sure && why ? COMMON.iAmSureMeasureAgain : RUN.measureTheNewBit}</button
              >
            {:else}
              <p class="text-lg [@media(max-height:480px)]:text-base">This machine has no sensor: touch Z zero with the new bit.</p>
              {#if act.why}<p class="text-lg text-error-600-400 font-semibold [@media(max-height:480px)]:text-base" role="alert">{act.why}</p>{/if}
              <ZeroZ {job} jobId={session.id} machine={shop} {act} handsOff={changed} />
            {/if}
          {/if}
        {:else if run?.state === 'paused'}
          <label class="gap-3 flex items-center min-h-12 text-lg"
            ><input class="checkbox w-6 h-6" type="checkbox" bind:checked={changed} /> {RUN.itIsDoneToolsAre}</label
          >
          <button
            {@attach inSight}
            class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
            disabled={busy || !changed}
            onclick={async () => ((await send({ do: 'resume', handsOff: changed })) ? (changed = false) : null)}>{RUN.goOnCutting}</button
          >
        {:else if (run?.state === 'held' || run?.state === 'link-lost') && process.held === 'is out'}
          <button
            {@attach inSight}
            class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
            disabled={busy || !now.link}
            onclick={() => send({ do: 'stop' })}>{RUN.stopThenChooseTheContour}</button
          >
        {:else if run?.state === 'held' || run?.state === 'link-lost'}
          <button
            {@attach inSight}
            class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
            disabled={busy || !now.link}
            onclick={() => send({ do: 'resume' })}>{RUN.resume}</button
          >
        {:else if run?.state === 'stopping'}
          <p class="text-lg [@media(max-height:480px)]:text-base">What it does is not known until it answers. Kerbe tells it to stop first of all then.</p>
          {#if !now.link}<button class="btn preset-outlined-surface-300-700" disabled={busy} onclick={() => send({ do: 'give-up' })}
              >{RUN.theMachineIsOffEnd}</button
            >{/if}
        {:else if run?.state === 'done'}
          <p class="text-lg [@media(max-height:480px)]:text-base">{DONE[job.process]}{smoke > 0.02 ? ` It is still at ${Math.round(100 * smoke)} %.` : ''}</p>
          {#if again}
            <p class="text-lg [@media(max-height:480px)]:text-base">
              Everything stays where it is; Z0 goes down by what is missing, and the program runs once more.
            </p>
            <LengthField label={RUN.deeperBy} value={deeper} {unit} onchange={(mm) => (deeper = mm)} />
            <button
              {@attach inSight}
              class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
              disabled={busy}
              onclick={async () => {
                if (!(await send({ do: 'nudge', deeper }))) return;
                again = false;
                await next(desk.index, 'same');
              }}>{RUN.setItThenCheck(len(Math.abs(deeper), unit), deeper >= 0 ? 'deeper' : 'higher')}</button
            >
            <button class="btn preset-outlined-surface-300-700" onclick={() => (again = false)}>{COMMON.cancel}</button>
          {:else}
            {#if more}
              <button
                {@attach inSight}
                class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl"
                disabled={busy}
                onclick={() => next(desk.index + 1, 'same')}>{RUN.onToProgram(desk.index + 2, desk.programs.length)}</button
              >
              <button class="btn preset-outlined-surface-300-700" onclick={onrecord}>{RUN.seeTheRecord}</button>
            {:else}
              <button {@attach inSight} class="btn preset-filled-brand px-4 py-2.5 font-semibold min-h-14 text-xl" onclick={onrecord}>{RUN.seeTheRecord}</button
              >
            {/if}
            <button class="btn preset-outlined-surface-300-700" disabled={busy} onclick={() => next(0, 'new')}
              >{RUN.another(process.burns ? 'Burn' : 'Cut', process.header.lies.toLowerCase())}</button
            >
            {#if !more && shop.profile.shows && !process.burns}<AsCut {session} machine={machine.id} lies={process.header.lies.toLowerCase()} />{/if}
            {#if job.process === 'router'}<button class="btn preset-outlined-surface-300-700" onclick={() => (again = true)}
                >{RUN.aLittleShallowAgainDeeper}</button
              >{/if}
          {/if}
        {/if}
      </div>
    </div>

    <div
      class="px-5.5 gap-3.5 border-t border-surface-200-800 grid grid-cols-2 pt-2 pb-4 [@media(max-height:480px)]:px-4 [@media(max-height:480px)]:pt-1.5 [@media(max-height:480px)]:pb-2"
    >
      <button
        class="bg-warning-600-400 text-warning-contrast-600-400 min-h-18 text-2xl font-semibold rounded-base [@media(max-height:480px)]:min-h-15 disabled:opacity-35"
        disabled={run?.state !== 'running' && status?.state !== 'run'}
        onclick={hold}>{COMMON.hold} <kbd class="text-xs font-normal">{RUN.space}</kbd></button
      >
      <button
        class="bg-error-600-400 text-error-contrast-600-400 min-h-18 text-2xl font-semibold rounded-base [@media(max-height:480px)]:min-h-15 disabled:opacity-35"
        disabled={!alive}
        onclick={() => send({ do: 'stop' })}>{COMMON.stop}</button
      >
    </div>
  </div>
</div>
