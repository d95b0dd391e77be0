<script lang="ts">
  /** The run, readable from two metres: what is being cut, where the bit is, time left, Hold, Resume, Stop. */
  import { boardThickness, datumPoint } from '@kerbe/core/job';
  import { readProgram, toPath } from '@kerbe/core/program';
  import type { JobSession } from '$lib/job/session.svelte';
  import type { MachineLink } from '$lib/machine.svelte';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import PlanBoard from '$lib/board/PlanBoard.svelte';
  import type { ReleaseView } from './types';
  import { duration, len, num } from '$lib/ui/format';

  interface Props {
    session: JobSession;
    editor: ArtEditor;
    machine: MachineLink;
    release: ReleaseView | null;
    onprogram: () => void;
    onsetup: () => void;
    onrecord: () => void;
  }
  let { session, editor, machine, release, onprogram, onsetup, onrecord }: Props = $props();
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const now = $derived(machine.now);
  const status = $derived(now.status);
  const program = $derived(release?.programs[0] ?? null);
  const run = $derived(now.run && program && now.run.sha256 === program.sha256 ? now.run : null);
  const active = $derived(run !== null && run.endedAt === null);
  const left = $derived(run && program ? Math.max(0, program.seconds - run.seconds) : (program?.seconds ?? 0));
  const nextBit = $derived(run?.bit ? job.bits[run.bit] : null);
  let here = $state(false);
  let why = $state<string | null>(null);
  let busy = $state(false);
  let changed = $state(false);
  const stickOut = (id: string) => 30 + ((id.charCodeAt(0) * 7 + id.length * 5) % 12);
  const bit = $derived.by((): [number, number] | null => {
    if (!status?.homed || !now.setup.zeroXY) return null;
    const [dx, dy] = datumPoint(job);
    return [status.work[0] + dx, status.work[1] + dy];
  });
  const TITLE = {
    running: 'Cutting',
    held: 'Held',
    'bit-change': 'Change the bit',
    'link-lost': 'No link to the machine',
    done: 'Finished',
    stopped: 'Stopped',
    failed: 'Something stopped it',
  };
  const measured = $derived(nextBit !== null && now.setup.bitReading !== null && now.setup.bitFitted === nextBit.id);
  const fitted = $derived(nextBit !== null && status?.world.bit === nextBit.id);

  // What has been cut so far: the moves of the program up to the line the machine has finished.
  const moves = $derived.by(() => {
    const text = session.plan && !session.stale ? session.plan.files[0]?.text : null;
    return text ? toPath(readProgram(text)) : null;
  });
  const reached = $derived(run?.line ?? 0);
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

  async function send(command: Record<string, unknown>) {
    busy = true;
    why = await machine.send(command);
    busy = false;
    return why === null;
  }
  const hold = () => void send({ do: 'hold' });

  function space(event: KeyboardEvent) {
    if (event.key !== ' ' || !active) return;
    const target = event.target as HTMLElement;
    if (target.closest('input, textarea, select')) return;
    event.preventDefault();
    if (run?.state === 'running') hold();
  }
</script>

<svelte:window onkeydown={space} />

<div class="run" data-mode="dark">
  <div class="drawing">
    <PlanBoard {job} {editor} plan={session.plan} showPaths={true} {bit} {trail} />
  </div>
  <div class="panel">
    {#if !machine.connected}<p class="caution" role="alert">This screen has lost Kerbe. The machine goes on; use the stop on the machine itself.</p>{/if}
    <p class="state" aria-live="polite">{run ? TITLE[run.state] : 'Ready to start?'}</p>
    {#if run?.message}<p class="message">{run.message}</p>{/if}
    {#if why}<p class="message why" role="alert">{why}</p>{/if}

    {#if status}
      <dl class="position">
        {#each ['X', 'Y', 'Z'] as axis, i (axis)}<div>
            <dt>{axis}</dt>
            <dd>{num(status.work[i], unit)}</dd>
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
              >· line {run.line} of {run.lines} · spindle {status.spindle.actual} rev/min{status.rate !== 1 ? ` · simulated ${status.rate}× faster` : ''}</span
            >
          </p>
        {:else}
          <p><b>{duration(left)}</b> <span class="quiet">planned · {program?.name ?? 'nothing released'}</span></p>
        {/if}
      </div>
    {/if}

    <div class="act">
      {#if !program}
        <p class="message">Nothing has been released for this job as it stands now.</p>
        <button class="next huge" onclick={onprogram}>Go to the program</button>
      {:else if !active && run?.state !== 'done'}
        <p class="message">
          Stay at the machine while it runs. Eyes, ears and dust protection on; loose sleeves away; hands off the bed. The red button on the machine is the
          emergency stop, this screen is not.
        </p>
        <label class="here"><input type="checkbox" bind:checked={here} /> I am at the machine and it is clear</label>
        <button class="next huge" disabled={!here || busy} onclick={() => release && send({ do: 'start', release: release.id, program: program.name })}
          >Start cutting</button
        >
        <button class="press" onclick={onsetup}>Back to setting up</button>
      {:else if run?.state === 'bit-change' && nextBit}
        <p class="message">
          Spindle power off before your hand goes near. Fit <b>{nextBit.name}</b>, shank {len(nextBit.shank, unit)}; not bottomed in the collet.
        </p>
        {#if !fitted}
          <button
            class="next huge"
            disabled={busy || status?.spindle.actual !== 0}
            onclick={() => send({ do: 'bench', change: { bit: { shape: nextBit, stickOut: stickOut(nextBit.id) } } })}
            >{status?.spindle.actual ? 'Wait: the spindle is running down' : 'Fit it on the simulated machine'}</button
          >
        {:else if !measured}
          <button class="next huge" disabled={busy} onclick={() => send({ do: 'measure', bit: nextBit.id })}
            >{busy ? 'Measuring…' : 'Measure the new bit'}</button
          >
        {:else}
          <label class="here"><input type="checkbox" bind:checked={changed} /> It is tight, tools are away, hands are off</label>
          <button class="next huge" disabled={busy || !changed} onclick={async () => ((await send({ do: 'resume' })) ? (changed = false) : null)}
            >Go on cutting</button
          >
        {/if}
      {:else if run?.state === 'held' || run?.state === 'link-lost'}
        <button class="next huge" disabled={busy} onclick={() => send({ do: 'resume' })}>Resume</button>
      {:else if run?.state === 'done'}
        <p class="message">Let the spindle stop and the dust settle before you reach in. The tabs are cut by hand.</p>
        <button class="next huge" onclick={onrecord}>See the record</button>
      {/if}
    </div>

    <div class="always">
      <button class="hold" disabled={!active || run?.state !== 'running'} onclick={hold}>Hold <kbd>space</kbd></button>
      <button class="stop" disabled={!active} onclick={() => send({ do: 'stop' })}>Stop</button>
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
  .panel {
    padding: 1rem 1.4rem;
    overflow: auto;
    display: flex;
    flex-direction: column;
    gap: 0.6rem;
    background: var(--sheet);
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
    gap: 0.1rem;
  }
  .position div {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    border-bottom: 1px solid var(--line);
  }
  .position dt {
    color: var(--quiet);
    font-size: 1.3rem;
  }
  .position dd {
    font-size: 2.5rem;
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
    font-size: 1.1rem;
    padding-top: 0.3rem;
  }
  .act {
    display: flex;
    flex-direction: column;
    gap: 0.6rem;
    flex: 1;
  }
  .huge {
    min-height: 60px;
    font-size: 1.25rem;
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
    position: sticky;
    bottom: 0;
    background: var(--sheet);
    padding-top: 0.5rem;
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
    .panel {
      padding: 0.5rem 1rem 0;
      gap: 0.35rem;
    }
    .position {
      grid-template-columns: repeat(3, 1fr);
      gap: 0.8rem;
    }
    .position dt {
      font-size: 1rem;
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
</style>
