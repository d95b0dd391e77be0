<script lang="ts">
  /** What to do at the machine before a run, one step at a time: seen when the machine can show it, confirmed when not. */
  import { datumPoint } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import type { MachineLink } from '$lib/machine.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import Bed from './Bed.svelte';
  import JogPad from './JogPad.svelte';
  import type { ReleaseView } from './types';
  import { len } from '$lib/ui/format';
  import { confirmed } from './confirmed.svelte';

  interface Props {
    session: JobSession;
    machine: MachineLink;
    release: ReleaseView | null;
    onrun: () => void;
    onprogram: () => void;
  }
  let { session, machine, release, onrun, onprogram }: Props = $props();
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const now = $derived(machine.now);
  const status = $derived(now.status);
  const program = $derived(release?.programs[0] ?? null);
  const firstBit = $derived(program ? job.bits[program.bits[0]] : null);
  let why = $state<string | null>(null);
  let busy = $state<string | null>(null);
  let plate = $state(15);
  let paper = $state(0.1);
  let zBy = $state<'plate' | 'paper'>('plate');

  async function send(what: string, command: Record<string, unknown>): Promise<boolean> {
    busy = what;
    why = await machine.send(command);
    busy = null;
    return why === null;
  }
  const bench = (change: Record<string, unknown>) => send('bench', { do: 'bench', change });

  const boardThere = $derived.by(() => {
    const b = status?.world.board;
    return (
      !!b && Math.abs(b.width - job.board.width) < 0.01 && Math.abs(b.height - job.board.height) < 0.01 && Math.abs(b.thickness - job.board.thickness) < 0.01
    );
  });
  /** Where the datum corner really is on the simulated bed. */
  const corner = $derived.by((): [number, number] | null => {
    const b = status?.world.board;
    if (!b) return null;
    const [dx, dy] = datumPoint(job);
    return [b.x + dx, b.y + dy];
  });
  const CORNER = {
    'lower-left': 'front left corner',
    'lower-right': 'front right corner',
    'upper-left': 'back left corner',
    'upper-right': 'back right corner',
    centre: 'middle of the board',
  };
  const stickOut = (id: string) => 30 + ((id.charCodeAt(0) * 7 + id.length * 5) % 12);
  const fitted = $derived(firstBit !== null && status?.world.bit === firstBit.id);
  const measured = $derived(firstBit !== null && now.setup.bitReading !== null && now.setup.bitFitted === firstBit.id);
  const zeroXY = $derived(now.setup.zeroXY?.corner === job.datum.corner);
  const zeroZ = $derived(now.setup.zeroZ?.datum === job.datum.z);
  const clear = $derived(!!status && !status.world.probeClip && !status.world.plate);
  const held = $derived(boardThere && confirmed.has(`held ${session.id}`));
  const bitSafe = $derived(fitted && confirmed.has(`collet ${session.id} ${firstBit?.id}`));

  const steps = $derived([
    { id: 'answers', title: 'The machine answers', done: !!status && !status.estop && status.state !== 'alarm' && status.state !== 'estop', seen: true },
    { id: 'home', title: 'Home it', done: !!status?.homed, seen: true },
    { id: 'board', title: 'Lay the board down and fix it', done: held, seen: false },
    { id: 'bit', title: firstBit ? `Fit ${firstBit.name}` : 'Fit the bit', done: bitSafe, seen: false },
    { id: 'measure', title: 'Measure the bit', done: measured, seen: true },
    { id: 'xy', title: `Set X and Y at the ${CORNER[job.datum.corner]}`, done: zeroXY, seen: true },
    { id: 'z', title: `Set Z on the ${job.datum.z === 'top' ? 'top of the board' : 'spoilboard'}`, done: zeroZ && clear, seen: true },
    { id: 'frame', title: 'Run round the job above the wood', done: confirmed.has(`frame ${session.id} ${release?.id}`), seen: true },
  ]);
  const next = $derived(steps.find((step) => !step.done)?.id ?? null);
  let chosen = $state<string | null>(null);
  const open = $derived(chosen ?? next);
</script>

<h2>Set up the machine</h2>
{#if !release || !program}
  <p class="quiet">First release a program: setting up is checked against it.</p>
  <button class="next" onclick={onprogram}>Go to the program</button>
{:else}
  {#if status}<Bed {status} {job} />{/if}
  {#if why}<p class="caution" role="alert">{why}</p>{/if}
  <ol>
    {#each steps as step, i (step.id)}
      <li class:open={open === step.id}>
        <button class="title" onclick={() => (chosen = open === step.id ? null : step.id)} aria-expanded={open === step.id}>
          <span class="count" class:done={step.done} aria-hidden="true">{step.done ? '✓' : i + 1}</span>
          <span>{step.title}</span>
          <small class="quiet">{step.done ? (step.seen ? 'seen' : 'confirmed') : ''}</small>
        </button>
        {#if open === step.id}
          <div class="body">
            {#if step.id === 'answers'}
              {#if !now.agent}<p>The machine agent does not answer. It is started together with Kerbe.</p>
              {:else if !now.link}<p>The machine does not answer. Switch it on, and check its cable.</p>
              {:else if status?.estop}
                <p>The emergency stop is pressed: that is why nothing moves. Turn the button to release it.</p>
                <button class="press" onclick={() => bench({ estop: false })}>Release it on the simulated machine</button>
              {:else if status?.state === 'alarm' || status?.state === 'estop'}
                <p>{status.message}</p>
                <button class="next" onclick={() => send('clear', { do: 'clear' })}>Clear the alarm</button>
              {:else}<p>It is ready.</p>{/if}
            {:else if step.id === 'home'}
              <p class="caution">It moves: Z up, then X and Y to their switches. Hands and tools off the bed.</p>
              <button class="next" disabled={busy !== null} onclick={() => send('home', { do: 'home' })}
                >{busy === 'home' ? 'Homing…' : 'Home the machine'}</button
              >
            {:else if step.id === 'board'}
              <p>
                {job.board.material}, {len(job.board.width, unit)} × {len(job.board.height, unit)} × {len(job.board.thickness, unit)}, held by {job.board
                  .holdDown}. Screws and clamps stay outside every cut.
              </p>
              {#if !boardThere}
                <button
                  class="next"
                  onclick={() => bench({ board: { x: 180, y: 220, width: job.board.width, height: job.board.height, thickness: job.board.thickness } })}
                  >Lay it on the simulated bed</button
                >
              {:else}
                <button class="next" onclick={() => confirmed.add(`held ${session.id}`)}>It does not move when I push it</button>
                <button
                  class="press"
                  onclick={() => bench({ board: { x: 180, y: 220, width: job.board.width, height: job.board.height, thickness: job.board.thickness } })}
                  >Lay down a fresh board</button
                >
              {/if}
            {:else if step.id === 'bit' && firstBit}
              <p class="caution">Spindle power off before your hand goes near the bit.</p>
              <p>Shank {len(firstBit.shank, unit)}: that collet. Push the shank in, draw it back a little so that it is not bottomed, tighten.</p>
              {#if !fitted}
                <button class="next" onclick={() => bench({ bit: { shape: firstBit, stickOut: stickOut(firstBit.id) } })}
                  >Fit it on the simulated machine</button
                >
              {:else}
                <button class="next" onclick={() => confirmed.add(`collet ${session.id} ${firstBit.id}`)}>It is tight and not bottomed</button>
              {/if}
            {:else if step.id === 'measure' && firstBit}
              <p>The bit goes to the tool sensor and touches it. After every bit change this is done again.</p>
              <button class="next" disabled={busy !== null} onclick={() => send('measure', { do: 'measure', bit: firstBit.id })}
                >{busy === 'measure' ? 'Measuring…' : 'Measure it'}</button
              >
            {:else if step.id === 'xy'}
              <p>Bring the bit over the {CORNER[job.datum.corner]}, then set zero there.</p>
              {#if corner}
                <button class="press" disabled={busy !== null} onclick={() => send('over', { do: 'move-over', x: corner[0], y: corner[1] })}
                  >Look for me (simulated machine)</button
                >
              {/if}
              <JogPad {machine} {unit} onrefused={(text) => (why = text)} />
              <button class="next" disabled={busy !== null} onclick={() => send('xy', { do: 'zero-xy', corner: job.datum.corner })}
                >X and Y are zero here</button
              >
            {:else if step.id === 'z'}
              <div role="group" aria-label="Way of setting Z" class="row">
                <button class="press" aria-pressed={zBy === 'plate'} onclick={() => (zBy = 'plate')}>Touch plate</button>
                <button class="press" aria-pressed={zBy === 'paper'} onclick={() => (zBy = 'paper')}>Paper</button>
              </div>
              {#if zBy === 'plate'}
                <LengthField label="Plate thickness" value={plate} {unit} min={0} onchange={(v) => (plate = v)} />
                {#if !zeroZ}
                  {#if status?.world.board && corner && !status.world.plate}
                    <button
                      class="next"
                      onclick={async () => {
                        const b = status.world.board!;
                        const [x, y] = [b.x + b.width / 2, b.y + b.height / 2];
                        if (await send('over', { do: 'move-over', x, y })) await bench({ plate: { x, y, thickness: plate }, probeClip: true });
                      }}>Plate under the bit, clip on the bit (simulated)</button
                    >
                  {/if}
                  <p class="caution">Hands away before it probes. The clip must be on the bit.</p>
                  <button
                    class="next"
                    disabled={busy !== null}
                    onclick={() => send('z', { do: 'zero-z', method: 'plate', thickness: plate, datum: job.datum.z })}
                    >{busy === 'z' ? 'Probing…' : 'Probe the plate'}</button
                  >
                {:else if !clear}
                  <p>Z is set. Now take the plate and its clip away: the spindle must not turn with the clip on.</p>
                  <button class="next" onclick={() => bench({ plate: null, probeClip: false })}>Plate and clip are off (simulated)</button>
                {/if}
              {:else}
                <LengthField label="Paper thickness" value={paper} {unit} min={0} onchange={(v) => (paper = v)} />
                <p>Lower the bit until it just grips the paper.</p>
                <JogPad {machine} {unit} onrefused={(text) => (why = text)} />
                <button class="next" disabled={busy !== null} onclick={() => send('z', { do: 'zero-z', method: 'paper', thickness: paper, datum: job.datum.z })}
                  >The paper is gripped</button
                >
              {/if}
            {:else if step.id === 'frame' && program.extents}
              <p>With the spindle off and above the wood the bit goes round the job. Watch that it stays over the board and clear of screws and clamps.</p>
              <button
                class="next"
                disabled={busy !== null}
                onclick={async () => {
                  if (await send('frame', { do: 'frame', extents: program.extents, height: 15 + (job.datum.z === 'spoilboard' ? job.board.thickness : 0) }))
                    confirmed.add(`frame ${session.id} ${release.id}`);
                }}>{busy === 'frame' ? 'Going round…' : 'Go round the job'}</button
              >
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
    padding: 0.55rem 0;
  }
  .title small {
    margin-left: auto;
  }
  .count {
    width: 1.7rem;
    height: 1.7rem;
    border-radius: 50%;
    border: 1px solid var(--line-strong);
    display: grid;
    place-items: center;
    font-weight: 600;
    flex: none;
  }
  .count.done {
    background: var(--accent);
    border-color: var(--accent);
    color: var(--on-accent);
  }
  li.open .title {
    font-weight: 600;
  }
  .body {
    padding: 0 0 0.9rem 2.5rem;
    font-size: 0.92rem;
  }
  .body :global(.next),
  .body :global(.press) {
    margin: 0.25rem 0.3rem 0.25rem 0;
  }
  .row {
    display: flex;
    gap: 0.4rem;
  }
  [aria-pressed='true'] {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
</style>
