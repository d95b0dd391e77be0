<script lang="ts">
  /** What to do at the machine before a run, one step at a time: seen when the machine can show it, confirmed when not. */
  import { inSight } from '$lib/ui/in-sight';
  import { bitName } from '@kerbe/core/bits';
  import { powerWordsOf, processOf } from '@kerbe/core/process';
  import { isToday } from 'date-fns';
  import { nextStep, setupSteps, type Step } from '@kerbe/core/setup/steps';
  import { resizedBoard } from '@kerbe/core/artwork/board';
  import { fittingPlace } from '@kerbe/core/setup/bed';
  import { boardThickness, datumPoint, topHeight } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import type { MachineLink } from '$lib/machine.svelte';
  import { isAlive, warmSeconds } from '@kerbe/core/link';
  import type { MachineView } from '$lib/stages/types';
  import type { RunDesk } from '$lib/stages/run/desk.svelte';
  import BitInGroove from '$lib/board/BitInGroove.svelte';
  import { marksFrom } from '@kerbe/core/feeds/beam';
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
  import { SETUP } from '$lib/labels/setup';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    session: JobSession;
    machine: MachineLink;
    shop: MachineView;
    desk: RunDesk;
    shallowest: number | null;
    onrun: () => void;
    onprogram: () => void;
  }
  let { session, machine, shop, desk, shallowest, onrun, onprogram }: Props = $props();
  // svelte-ignore state_referenced_locally
  const act = new Act(machine);
  const job = $derived(session.job);
  const torch = $derived(job.process === 'torch');
  const laser = $derived(job.process === 'laser');
  const lies = $derived(processOf(job).header.lies.toLowerCase());
  const unit = $derived(job.units);
  const now = $derived(machine.now);
  const status = $derived(now.status);
  const program = $derived(desk.program);
  const firstBit = $derived(job.tools[desk.bits[0]] ?? null);
  const steps = $derived(
    setupSteps({
      job,
      jobId: session.id,
      profile: shop.profile,
      program: program && { sha256: program.sha256, bits: desk.bits, spindle: program.spindle, shallowest, extents: program.extents, tile: program.tile },
      machine: now,
      now: Date.now(),
      isToday,
    }),
  );
  const next = $derived(nextStep(steps));
  let chosen = $state<string | null>(null);
  const open = $derived(chosen ?? next?.id ?? null);
  // A step opened by hand that has just been done, or any once the next one has changed, gives way to what is next.
  const doneNow = $derived(chosen !== null && (chosen === '' || steps.some(({ id, done, skippedBy }) => id === chosen && (done || skippedBy !== null))));
  let asked = $state<string | null>(null);
  $effect(() => {
    const wanted = next?.id ?? null;
    if (asked !== wanted && doneNow) chosen = null;
    asked = wanted;
  });
  const alive = $derived(now.busy !== null || now.stopWanted !== null || (status !== null && isAlive(status)));
  let frameHeight = $state(15);
  /** How high the head of a laser stands, and should stand, over the sheet, mm. */
  let gap = $state(20);
  let focal = $state(5);
  /** A laser frames with its pointer, or with its beam at so many per cent. */
  let glow = $state<number | null>(null);
  let shape = $state<'box' | 'outline'>('box');
  let warmFrom = $state<number | null>(null);
  let sure = $state(false);
  let offset = $derived(status?.workOffset ?? 'G54');
  const OFFSETS = ['G54', 'G55', 'G56', 'G57', 'G58', 'G59', 'G59.1', 'G59.2', 'G59.3'];
  /** From its beginning a program wants a whole plate: one that pieces have come free of is another job's rest. */
  const alreadyCut = $derived.by(() => {
    const { table, cabinet } = status?.world ?? {};
    return desk.from <= 1 && ((table !== undefined && table.free + table.tipped + table.fallen > 0) || (cabinet !== undefined && cabinet.free > 0));
  });
  const boardThere = $derived.by(() => {
    const b = status?.world?.board;
    const { width, height } = job.board;
    return (
      b != null &&
      !alreadyCut &&
      b.x === now.setup.bed.x &&
      b.y === now.setup.bed.y &&
      [b.width - width, b.height - height, b.thickness - topHeight(job.board)].every((d) => Math.abs(d) < 0.01)
    );
  });
  /** Where it would lie within the field, when it does not. */
  const elsewhere = $derived(fittingPlace(job, shop.profile, now.setup.bed));
  /** The board is not the drawn one: planned for what it measures, the drawing about its middle. */
  function measured(side: 'width' | 'height' | 'thickness', mm: number) {
    const next = resizedBoard(job, side === 'thickness' ? {} : { [side]: mm });
    session.edit(SETUP.measuredSizeOfTheBoard, (d) => {
      d.board = side === 'thickness' ? { ...next.board, thickness: mm } : next.board;
      for (const id of Object.keys(next.items)) d.items[id] = next.items[id];
    });
  }
  const says = (step: Step) => (step.done ? (step.how === 'seen' ? 'seen' : 'confirmed') : step.skippedBy ? `skipped by ${step.skippedBy}` : '');
  const confirm = async (step: Step, skipped = false) => {
    if (await act.send({ do: 'confirm', id: step.id, key: step.key, skipped })) chosen = null;
  };
  /** The middle of the plate as its zero says, machine coordinates. */
  const middle = $derived.by(() => {
    const [dx, dy] = datumPoint(job);
    const [u, v] = [job.board.width / 2 - dx, job.board.height / 2 - dy];
    const angle = now.setup.zeroXY?.angle ?? 0;
    const [x0, y0] = status?.offset ?? [0, 0];
    return { x: x0 + u * Math.cos(angle) - v * Math.sin(angle), y: y0 + u * Math.sin(angle) + v * Math.cos(angle) };
  });
  const touch = () => act.send({ do: 'zero-z', method: 'torch', thickness: 0, datum: 'top', job: session.id });
  const focus = () => act.send({ do: 'zero-z', method: 'focus', thickness: 0, datum: 'top', job: session.id });
  /** How far the tip of a torch or a laser head stands below its carriage, mm. */
  const STICK_OUT = { torch: 60, laser: 20, router: 0 };
  /** What a hand does on a simulated laser. */
  const AT_LASER = { air: { air: true, extraction: true }, key: { key: true }, lid: { lidOpen: false } };
  type Where = 'head' | 'step' | 'hand' | 'flat' | 'offset';
  /** Where the last press was: what is refused is said there. */
  let origin = $state<Where>('head');
  const pressed = (where: Where) => (element: HTMLElement) => {
    const note = () => (origin = where);
    element.addEventListener('click', note, true);
    return () => element.removeEventListener('click', note, true);
  };
  /** Is the place of the last press still there to say it? A step that was left says it at the head. */
  const shown = $derived(origin !== 'step' || open !== '');
  /** What is to be pressed next is never below the edge of the card. */
  const intoView = (step: HTMLElement) => step.scrollIntoView({ block: 'nearest' });
  const turned = $derived(warmSeconds(now.setup.warm, Date.now()));
  const warmFor = $derived(Math.max(1, Math.round(shop.profile.limits.warmUpSeconds - turned)));
  const last = $derived(desk.last);
</script>

{#snippet refusal(where: Where)}
  {#if act.why && (where === origin || (where === 'head' && !shown))}<p class="caution" role="alert">{act.why}</p>{/if}
{/snippet}

{#snippet keep(stale: boolean)}
  {#if stale}
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={act.busy !== null || !now.setup.zeroXY || !now.setup.zeroZ}
      onclick={() => act.send({ do: 'keep-zero', job: session.id })}>{SETUP.iLookedXYAnd}</button
    >
  {/if}
{/snippet}

<h2>{SETUP.setUp(shop.name)}</h2>
{#if !program}
  <p class="text-surface-600-400">First release a program: setting up is checked against it.</p>
  <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={onprogram}>{COMMON.goToTheProgram}</button>
{:else if desk.bits.length === 0}
  <p role="status">The program is being fetched…</p>
{:else}
  <Holds {machine} />
  {#if alive}<button class="bg-error-600-400 text-error-contrast-600-400 font-semibold w-full min-h-11 rounded-base" onclick={() => act.send({ do: 'stop' })}
      >{SETUP.stopMoving(now.stopWanted ? ': pressed, not confirmed yet' : '')}</button
    >{/if}
  {@render refusal('head')}
  {#if desk.programs.length > 1}
    <div class="gap-1.5 flex flex-wrap" role="group" aria-label={SETUP.whichProgramIsSetUp} {@attach pressed('head')}>
      {#each desk.programs as one, k (one.sha256)}
        <button class="btn preset-outlined-surface-300-700" aria-pressed={k === desk.index} onclick={async () => (act.why = await desk.choose(k))}
          >{k + 1} · {one.tile ? `${SETUP.tileNumber(one.tile.index + 1)}, ` : ''}{job.tools[one.bits[0]]
            ? bitName(job.tools[one.bits[0]], unit)
            : one.bits[0]}</button
        >
      {/each}
    </div>
  {/if}
  {#if desk.from > 1}
    <p class="py-1 border-l-3 border-warning-600-400 pl-2.5">
      This run goes on from line {desk.from} of {program.lines}, with {firstBit ? bitName(firstBit, unit) : 'the bit'}.
      <button class="btn preset-outlined-surface-300-700" onclick={async () => (act.why = await desk.choose(desk.index))}
        >{COMMON.fromTheBeginningInstead}</button
      >
    </p>
  {:else if last?.endedAt && last.state !== 'done' && last.line > 0}
    <p class="py-1 border-l-3 border-warning-600-400 pl-2.5">It stopped at line {last.line} of {last.lines}. Where it goes on from is chosen on Run.</p>
  {/if}
  <ol class="my-2.5">
    {#each steps as step, i (step.id)}
      {@const past = (step.done || step.skippedBy !== null) && open !== step.id}
      <li
        class={['border-t', past ? 'border-transparent' : 'border-surface-200-800']}
        aria-current={open === step.id ? 'step' : undefined}
        {@attach open === step.id ? intoView : null}
      >
        <button
          class={['flex w-full items-center gap-3.5 text-left', past ? 'py-0.5 text-sm' : 'py-2', open === step.id && 'font-semibold']}
          onclick={() => (chosen = open === step.id ? '' : step.id)}
          aria-expanded={open === step.id}
        >
          <span
            class={[
              'grid flex-none place-items-center rounded-full border font-semibold',
              past ? 'mx-1 h-4.5 w-4.5 text-xs' : 'h-6.5 w-6.5 text-sm',
              step.skippedBy !== null
                ? 'border-warning-600-400 text-warning-600-400'
                : step.done
                  ? 'border-primary-600-400 bg-primary-600-400 text-primary-contrast-600-400'
                  : 'border-surface-300-700',
            ]}
            aria-hidden="true">{step.done ? '✓' : step.skippedBy ? '–' : i + 1}</span
          >
          <span>{step.title}</span>
          <small class="text-surface-600-400 ml-auto text-right">{says(step)}</small>
        </button>
        {#if open === step.id}
          <div class="pb-3.5 pl-9.5 text-sm [&_.btn]:my-1 [&_.btn]:mr-1" {@attach pressed('step')}>
            {#if step.id === 'program'}
              {#if !step.done}<p class="caution">{step.holds}</p>{/if}
              <p>
                {program.name}, {program.lines} lines, SHA-256 <code class="wrap-anywhere text-xs">{program.sha256}</code>. What runs is this, byte for byte.
              </p>
            {:else if step.id === 'answers'}
              {#if step.done}<p>It is ready.</p>{:else}<p>{step.holds}</p>{/if}
              {#if status?.estop && shop.profile.shows}
                <button class="btn preset-outlined-surface-300-700" onclick={() => act.bench({ estop: false })}>{SETUP.releaseItOnTheSimulated}</button>
              {:else if status && !status.estop && (status.state === 'alarm' || status.state === 'estop')}
                <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => act.send({ do: 'clear' })}>{COMMON.clearTheAlarm}</button>
              {/if}
            {:else if step.id === 'home'}
              <p class="caution">It moves: Z up, then X and Y to their switches. Hands and tools off the bed.</p>
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={act.busy !== null} onclick={() => act.send({ do: 'home' })}
                >{act.busy === 'home' ? COMMON.homing : SETUP.homeTheMachine}</button
              >
            {:else if step.id === 'push'}
              <p class="caution">{step.holds}</p>
              {#if shop.profile.shows && program.tile}
                {@const { axis, push } = program.tile}
                <button
                  class="btn preset-outlined-surface-300-700"
                  disabled={act.busy !== null}
                  onclick={() => act.bench({ slide: axis === 'x' ? { x: -push, y: 0 } : { x: 0, y: -push } })}>{SETUP.doItForMeSimulated}</button
                >
              {/if}
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}>{SETUP.itIsPushedOn}</button>
            {:else if step.id === 'held'}
              <p>
                {job.board.material}, {len(job.board.width, unit)} × {len(job.board.height, unit)} × {len(job.board.thickness, unit)}, held by {job.board
                  .holdDown}. Where it lies is drawn beside; pull it to where you put it.
              </p>
              {#if elsewhere}
                <p class="caution">There it lies beyond the part of the bed that can be used.</p>
                <button
                  class="btn preset-filled-brand px-4 py-2.5 font-semibold"
                  disabled={act.busy !== null}
                  onclick={() => elsewhere && act.send({ do: 'place-board', ...elsewhere })}>{SETUP.moveItToWhereIt}</button
                >
              {/if}
              {#if shop.profile.shows}
                <button
                  class={boardThere ? 'btn preset-outlined-surface-300-700' : 'btn preset-filled-brand px-4 py-2.5 font-semibold'}
                  disabled={act.busy !== null}
                  onclick={() => act.bench(simulatedBoard(job, now.setup.bed))}
                  >{boardThere
                    ? SETUP.layDownAFresh(lies)
                    : SETUP.layItOn(laser ? 'in the simulated laser' : torch ? 'on the simulated table' : 'on the simulated bed')}</button
                >
              {/if}
              <details class="py-2 border-t border-surface-200-800">
                <summary class="cursor-pointer text-sm">{SETUP.itMeasuresDifferently}</summary>
                <p class="text-surface-600-400">Put in what the rule says. The job is planned for that board, and released again.</p>
                {#each ['width', 'height', 'thickness'] as const as side (side)}
                  <LengthField
                    label={{ width: 'Width', height: 'Height', thickness: 'Thickness' }[side]}
                    value={job.board[side]}
                    {unit}
                    min={0.5}
                    onchange={(mm) => measured(side, mm)}
                  />
                {/each}
              </details>
              {#if boardThere || !shop.profile.shows}
                <p>{step.holds}</p>
                <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}>{SETUP.confirm}</button>
              {/if}
            {:else if (step.id === 'nozzle' || step.id === 'head') && firstBit}
              <p class="caution">{step.holds}</p>
              <button
                class={step.done ? 'btn preset-outlined-surface-300-700' : 'btn preset-filled-brand px-4 py-2.5 font-semibold'}
                disabled={act.busy !== null}
                onclick={() =>
                  shop.profile.shows ? act.bench({ bit: { shape: firstBit, stickOut: STICK_OUT[job.process] } }) : act.send({ do: 'fitted', bit: firstBit.id })}
                >{shop.profile.shows ? SETUP.fitItOnTheSimulated(torch ? 'table' : 'laser') : COMMON.isFitted(bitName(firstBit, unit))}</button
              >
            {:else if step.id === 'scale'}
              <p class={step.done ? '' : 'caution'}>{step.done ? 'As it should be.' : step.holds}</p>
              {#if step.how === 'confirmed'}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}
                  >{SETUP.confirm}</button
                >
              {:else if !step.done && shop.profile.shows}
                <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => act.bench({ fullPower: powerWordsOf(job).scale })}
                  >{SETUP.setItAtTheSimulated}</button
                >
              {/if}
            {:else if laser && (step.id === 'air' || step.id === 'key' || step.id === 'lid')}
              <p class={step.done ? '' : 'caution'}>{step.done ? 'As it should be.' : step.holds}</p>
              {#if step.how === 'confirmed'}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}
                  >{COMMON.done}</button
                >
              {:else if !step.done}
                <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => act.bench(AT_LASER[step.id as 'key'])}
                  >{SETUP.doItOnTheSimulated}</button
                >
              {/if}
            {:else if step.id === 'ground' || step.id === 'air' || step.id === 'water'}
              <p class={step.done ? '' : 'caution'}>{step.done ? 'As it should be.' : step.holds}</p>
              {#if step.how === 'confirmed'}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}
                  >{COMMON.done}</button
                >
              {:else if !step.done}
                <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => act.bench({ [step.id]: true })}
                  >{SETUP.doItOnTheSimulatedTable}</button
                >
              {/if}
            {:else if step.id === 'z' && laser}
              <p>{step.holds}</p>
              {@render keep(step.stale)}
              <p class="caution">Beam off, lid shut, hands away. It moves: Z up, across to the middle of the sheet, then down until the surface is in focus.</p>
              <div class="flex flex-wrap gap-1.5">
                <button
                  class="btn preset-filled-brand px-4 py-2.5 font-semibold"
                  disabled={act.busy !== null || !now.setup.zeroXY}
                  onclick={async () => (await act.send({ do: 'move-over', ...middle })) && focus()}
                  >{act.busy === 'zero-z' ? SETUP.lookingForTheFocus : SETUP.findTheFocusOverThe}</button
                >
                <button class="btn preset-outlined-surface-300-700" disabled={act.busy !== null} onclick={focus}>{SETUP.findItWhereTheHead}</button>
                <button
                  class="btn preset-outlined-surface-300-700"
                  disabled={act.busy !== null}
                  onclick={() => act.send({ do: 'zero-z', method: 'gauge', thickness: 0, datum: 'top', job: session.id })}>{SETUP.theFocusGaugeJustFits}</button
                >
              </div>
              <details class="py-1">
                <summary class="cursor-pointer">{SETUP.byAMeasuredHeight}</summary>
                <LengthField label={SETUP.fromTheHeadToThe} value={gap} {unit} min={0} max={100} onchange={(mm) => (gap = mm)} />
                <LengthField label={SETUP.inFocusAtAsIts} value={focal} {unit} min={0} max={100} onchange={(mm) => (focal = mm)} />
                {#if gap < focal}<p class="caution">It stands lower than its focus already. Raise it, and measure again.</p>
                {:else}
                  <button
                    class="btn preset-outlined-surface-300-700"
                    disabled={act.busy !== null}
                    onclick={() => act.send({ do: 'zero-z', method: 'gauge', thickness: gap - focal, datum: 'top', job: session.id })}
                    >{SETUP.z0IsBelowHere(len(gap - focal, unit))}</button
                  >
                {/if}
              </details>
            {:else if step.id === 'z' && job.process === 'torch'}
              <p>{step.holds}</p>
              {@render keep(step.stale)}
              <p class="caution">Arc off, hands away. It moves: Z up, across to the middle of the plate, then down until it feels it.</p>
              <div class="flex flex-wrap gap-1.5">
                <button
                  class="btn preset-filled-brand px-4 py-2.5 font-semibold"
                  disabled={act.busy !== null || !now.setup.zeroXY}
                  onclick={async () => (await act.send({ do: 'move-over', ...middle })) && touch()}
                  >{act.busy === 'zero-z' ? SETUP.feelingForThePlate : SETUP.touchTheMiddleOfThe}</button
                >
                <button class="btn preset-outlined-surface-300-700" disabled={act.busy !== null} onclick={touch}>{SETUP.touchItWhereTheTorch}</button>
              </div>
            {:else if step.id === 'fire' || step.id === 'shade'}
              <p class="caution">{step.holds} The {laser ? 'laser' : 'torch'}’s manual and the shop’s own rules come first.</p>
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}>{SETUP.confirm}</button>
            {:else if step.id === 'bare'}
              <p class="caution">{step.holds}</p>
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}>{SETUP.itIsBare}</button>
            {:else if step.id === 'vacuum' || step.id === 'dust' || step.id === 'pins' || step.id === 'lid' || step.id === 'clear'}
              <p>{step.done ? 'As it should be.' : step.holds}</p>
              {#if step.how === 'confirmed'}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}
                  >{COMMON.done}</button
                >
              {:else if !step.done && shop.profile.shows}
                <button
                  class="btn preset-filled-brand px-4 py-2.5 font-semibold"
                  onclick={() =>
                    act.bench(
                      {
                        vacuum: { vacuum: true },
                        dust: { dust: true },
                        pins: { pinsUp: false },
                        lid: { lidOpen: false },
                        clear: { plate: null, block: null, probeClip: false },
                      }[step.id as 'dust'],
                    )}>{SETUP.doItOnTheSimulatedMachine}</button
                >
              {/if}
            {:else if step.id === 'bit' && firstBit}
              <p class="caution">Spindle power off before your hand goes near the bit. Where the emergency stop is pressed for that, release it afterwards.</p>
              {#if !step.done}<p>{step.holds}</p>{/if}
              {#if shop.profile.shows}
                <button
                  class={step.done ? 'btn preset-outlined-surface-300-700' : 'btn preset-filled-brand px-4 py-2.5 font-semibold'}
                  disabled={act.busy !== null}
                  onclick={() => act.bench({ bit: { shape: firstBit, stickOut: stickOut(firstBit.id) } })}>{COMMON.fitItOnTheSimulated}</button
                >
              {:else}
                <button
                  class="btn preset-filled-brand px-4 py-2.5 font-semibold"
                  disabled={act.busy !== null}
                  onclick={() => act.send({ do: 'fitted', bit: firstBit.id })}>{COMMON.isFitted(bitName(firstBit, unit))}</button
                >
                {#if step.done}<p class="text-surface-600-400">Taken out and put back it stands out otherwise: then press that again.</p>{/if}
              {/if}
            {:else if step.id === 'collet' && firstBit}
              <BitInGroove bit={firstBit} depth={Math.min(6, firstBit.fluteLength)} thickness={boardThickness(job.board)} {unit} />
              <p>{step.holds}</p>
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}>{SETUP.itIsTightAndNot}</button>
            {:else if step.id === 'measure' && firstBit}
              <p class="caution">It moves: Z up, across to the tool sensor, slowly down on it. Spindle still, hands and tools off the bed.</p>
              <p>After every bit change this is done again.</p>
              <button
                class="btn preset-filled-brand px-4 py-2.5 font-semibold"
                disabled={act.busy !== null}
                onclick={async () => (sure = !(await act.send({ do: 'measure', bit: firstBit.id, sure })))}
                >{act.busy === 'measure' ? COMMON.measuring : sure && act.why ? SETUP.iAmSureMeasureIt : SETUP.measureIt}</button
              >
            {:else if step.id === 'warm'}
              <p>{step.holds}</p>
              {#if step.how === 'seen'}
                <p class="caution">The spindle turns, Z at the top. Clip off, lid shut, hands away.</p>
                <NumberField label={COMMON.for} unit={COMMON.seconds} value={warmFrom ?? warmFor} min={1} max={3600} onchange={(s) => (warmFrom = s)} />
                <button
                  class="btn preset-filled-brand px-4 py-2.5 font-semibold"
                  disabled={act.busy !== null}
                  onclick={() =>
                    act.send({
                      do: 'warm-up',
                      speed: Math.max(shop.profile.spindle.min, 0.5 * shop.profile.limits.maxSpindle),
                      seconds: warmFrom ?? warmFor,
                    })}>{act.busy === 'warm-up' ? SETUP.turningFor(Math.round(turned)) : SETUP.warmItUp}</button
                >
                {#if now.busy === 'warming the spindle'}<button class="btn preset-outlined-surface-300-700" onclick={() => machine.send({ do: 'stop' })}
                    >{SETUP.stopIt}</button
                  >{/if}
              {:else}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}>{SETUP.itIsWarm}</button>{/if}
            {:else if step.id === 'xy'}
              {#if !step.done && now.setup.zeroXY}<p>{step.holds}</p>{/if}
              {@render keep(step.stale)}
              <ZeroXY {job} jobId={session.id} machine={shop} {act} bit={firstBit} tile={program.tile} onmarking={(marking) => (desk.marking = marking)} />
            {:else if step.id === 'z'}
              {#if !step.done && now.setup.zeroZ}<p>{step.holds}</p>{/if}
              {@render keep(step.stale)}
              <ZeroZ {job} jobId={session.id} machine={shop} {act} />
            {:else if step.id === 'flat'}
              {#if !step.done}<p>{step.holds}</p>{/if}
              <Flatness {job} machine={shop} {act} />
            {:else if step.id === 'place'}
              {#if step.done}<p>The job lies on the board, the board on the bed, and Z0 on its face.</p>
              {:else}
                <p class="caution">{step.holds}</p>
                <div class="gap-1.5 flex flex-wrap">
                  <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => (chosen = 'xy')}>{SETUP.setXAndYAgain}</button>
                  <button class="btn preset-outlined-surface-300-700" onclick={() => (chosen = 'z')}>{SETUP.setZAgain}</button>
                </div>
              {/if}
            {:else if step.id === 'frame'}
              <p class="caution">It moves over the whole job at that height. Hands off the bed, a hand near the red button.</p>
              <p>
                {laser
                  ? 'Beam dark, the pointer goes round the job. Watch that it stays on the sheet and clear of what weighs it down.'
                  : torch
                    ? 'Arc off, the torch goes round the job. Watch that it stays over the plate and clear of clamps, cable and hose.'
                    : 'Spindle off, above the wood, the bit goes round the job. Watch that it stays over the board and clear of what holds it.'}
              </p>
              <div class="gap-1.5 flex flex-wrap" role="group" aria-label={SETUP.frame}>
                <button class="btn preset-outlined-surface-300-700" aria-pressed={shape === 'box'} onclick={() => (shape = 'box')}
                  >{SETUP.theRectangleAroundTheJob}</button
                >
                <button class="btn preset-outlined-surface-300-700" aria-pressed={shape === 'outline'} onclick={() => (shape = 'outline')}
                  >{SETUP.theOutlineOfTheJob}</button
                >
              </div>
              {#if laser && firstBit?.kind === 'head'}
                {@const marks = marksFrom(firstBit, job.board.material)}
                <div class="gap-1.5 flex flex-wrap" role="group" aria-label={SETUP.shownBy}>
                  <button class="btn preset-outlined-surface-300-700" aria-pressed={glow === null} onclick={() => (glow = null)}>{SETUP.thePointer}</button>
                  <button class="btn preset-outlined-surface-300-700" aria-pressed={glow !== null} onclick={() => (glow ??= Math.min(1, marks))}
                    >{SETUP.theBeamVeryWeak}</button
                  >
                </div>
                {#if glow !== null}
                  <NumberField label={SETUP.itsPower} unit={COMMON.ofFull} value={glow} min={0.1} max={20} step={0.1} onchange={(v) => (glow = v)} />
                  <p class:caution={glow > marks}>
                    {glow > marks
                      ? `This may leave a mark on ${job.board.material}: from ${marks.toFixed(1)} % on. It is not done.`
                      : `Too weak to mark ${job.board.material}, where that begins at ${marks.toFixed(1)} %. Lid shut or eyewear all the same.`}
                  </p>
                {/if}
              {/if}
              <LengthField label={SETUP.heightAboveThe(lies)} value={frameHeight} {unit} min={5} onchange={(mm) => (frameHeight = mm)} />
              <button
                class="btn preset-filled-brand px-4 py-2.5 font-semibold"
                disabled={act.busy !== null}
                onclick={() =>
                  desk.releaseId &&
                  act.send({
                    do: 'frame',
                    release: desk.releaseId,
                    program: program.name,
                    shape,
                    height: frameHeight,
                    power: laser ? (glow ?? undefined) : undefined,
                  })}>{act.busy === 'frame' ? SETUP.goingAround : SETUP.goAroundTheJob}</button
              >
            {:else if step.id === 'spindle'}
              <p class="caution">Clip and hands away first.</p>
              <p>{step.holds}</p>
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}>{SETUP.itTurnsAsItShould}</button>
            {:else if step.id === 'person'}
              <p>{step.holds} The machine’s manual and the shop’s own rules come first.</p>
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => confirm(step)}>{SETUP.confirm}</button>
            {/if}
            {@render refusal('step')}
            {#if step.skippable && !step.done && step.skippedBy === null}
              <button class="btn preset-outlined-surface-300-700 text-xs text-surface-600-400" onclick={() => confirm(step, true)}
                >{SETUP.skipThisCheckTheRecord}</button
              >
            {:else if step.skippedBy !== null || (step.done && step.how === 'confirmed')}
              <button class="btn preset-outlined-surface-300-700 text-xs text-surface-600-400" onclick={() => act.send({ do: 'unconfirm', id: step.id })}
                >{SETUP.doTheCheckAfterAll}</button
              >
            {/if}
            {#if chosen === step.id && (step.done || step.skippedBy !== null) && next && next.id !== step.id}
              <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => (chosen = null)}>{SETUP.goOnTo(next.title)}</button>
            {/if}
          </div>
        {/if}
      </li>
    {/each}
  </ol>
  {#if !next}
    <p>Everything is set. The program may start.</p>
    <button {@attach inSight} class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={onrun}>{SETUP.goToTheRun}</button>
  {/if}

  <details class="py-2 border-t border-surface-200-800" {@attach pressed('hand')}>
    <summary class="cursor-pointer text-sm">{SETUP.moveByHandGoTo}</summary>
    <JogPad {machine} {unit} />
    <p class="caution">Going to zero it moves up, across the bed and down: hands off.</p>
    <div class="gap-1.5 flex flex-wrap">
      <button
        class="btn preset-outlined-surface-300-700"
        disabled={act.busy !== null}
        onclick={() => act.send({ do: 'go-to-zero', clearance: job.program.clearance })}>{SETUP.goToZeroUpAcross(len(job.program.clearance, unit))}</button
      >
    </div>
    <Places {act} {shop} board={{ ...now.setup.bed, width: job.board.width, height: job.board.height }} />
    {@render refusal('hand')}
  </details>
  {#if job.process === 'router'}
    <details class="py-2 border-t border-surface-200-800" {@attach pressed('flat')}>
      <summary class="cursor-pointer text-sm">{SETUP.howFlatTheBoardLies}</summary>
      <Flatness {job} machine={shop} {act} />
      {@render refusal('flat')}
    </details>
  {/if}
  {#if shop.profile.offsets > 1}
    <details class="py-2 border-t border-surface-200-800" {@attach pressed('offset')}>
      <summary class="cursor-pointer text-sm"
        >{SETUP.workOffset(offset, offset === job.program.workOffset ? '' : ` - the program counts in ${job.program.workOffset}`)}</summary
      >
      <p class="text-surface-600-400">Each keeps zeros of its own: two boards on one bed.</p>
      <div class="gap-1.5 flex flex-wrap">
        {#each OFFSETS.slice(0, shop.profile.offsets) as word (word)}
          <button
            class="btn preset-outlined-surface-300-700"
            aria-pressed={word === offset}
            disabled={act.busy !== null}
            onclick={() => act.send({ do: 'use-offset', word })}>{word}{now.setup.zeros[word]?.zeroXY ? ' ·' : ''}</button
          >
        {/each}
      </div>
      {@render refusal('offset')}
    </details>
  {/if}
  <p class="text-surface-600-400">{processOf(job).header.lies} thickness reckoned with: {len(boardThickness(job.board), unit)}.</p>
{/if}
