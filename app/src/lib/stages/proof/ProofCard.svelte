<script lang="ts">
  /** What it will look like, how long it takes, what would go wrong, and what would be better. */
  import { cutName } from '@kerbe/core/cuts';
  import { bitName } from '@kerbe/core/bits';
  import { learnedFactor, type PastRun } from '@kerbe/core/advise/learned';
  import type { Bit } from '@kerbe/core/job';
  import type { Finding } from '@kerbe/core/preflight';
  import type { ArtEditor, Place } from '$lib/art/editor.svelte';
  import type { JobSession } from '$lib/job/session.svelte';
  import { repair } from '$lib/job/repair';
  import type { ProofDesk } from '$lib/stages/proof/desk.svelte';
  import FasterWays from '$lib/stages/proof/FasterWays.svelte';
  import { FEED_UNIT, feedNumber } from '@kerbe/core/length';
  import { duration, len } from '$lib/ui/format';
  import { processOf } from '@kerbe/core/process';
  import Findings from '../Findings.svelte';
  import BurnFigures from './BurnFigures.svelte';
  import PlatePieces from './PlatePieces.svelte';
  import { PROOF } from '$lib/labels/proof';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    session: JobSession;
    editor: ArtEditor;
    desk: ProofDesk;
    crib: readonly Bit[];
    past: readonly PastRun[];
    /** Where the zero that is set at the machine is not this job's. */
    atMachine: readonly Finding[];
    /** What would be faster was asked for. */
    faster: boolean;
    onview: (view: 'plan' | 'carved' | 'section') => void;
    onshow: (place: Place) => void;
    onsheet: (sheet: 'finder' | 'trial') => void;
  }
  let { session, editor, desk, crib, past, atMachine, faster = $bindable(), onview, onshow, onsheet }: Props = $props();
  const job = $derived(session.job);
  const plan = $derived(session.plan);
  const learned = $derived(learnedFactor(past));
  const process = $derived(processOf(job));
  const depths = $derived(process.header.depths);
  const nameOf = (cut: string) => (job.cuts[cut] ? cutName(job.cuts[cut]) : cut);
  const byBit = $derived.by(() => {
    const sums = new Map<string, number>();
    for (const { bit, total } of plan?.time.cuts ?? []) sums.set(bit, (sums.get(bit) ?? 0) + total);
    return [...sums];
  });
  let charts = $state(false);
  let speeds = $state.raw<{ at: number; speed: number; asked: number }[] | null>(null);
  $effect(() => {
    if (!charts || !plan || session.stale) return;
    session.ask('speed', { parts: 160 }).then(
      (answer) => (speeds = answer.speeds),
      () => (speeds = null),
    );
  });
  const found = $derived([...(plan?.findings ?? []), ...atMachine]);
  const area = (mm2: number) => (job.units === 'in' ? `${(mm2 / 645.16).toFixed(3)} in²` : mm2 < 100 ? `${mm2.toFixed(1)} mm²` : `${Math.round(mm2)} mm²`);
  const VERDICT = { shows: 'shows', faint: 'will look faint', not: 'will not show' };
</script>

<h2>{PROOF.theResult}</h2>
{#if plan}
  <p class="big figure text-4xl leading-tight">{duration(plan.time.atMachine)}</p>
  {#if plan.time.changes > 0}<p class="text-surface-600-400">
      {duration(plan.time.running)} running, {duration(plan.time.changes)} for changing {process.tool.many}.
    </p>{/if}
  {#if learned}
    <p>
      Runs here took <b class="figure">{learned.factor.toFixed(2)}</b> times as long as planned ({learned.from.toFixed(2)} to {learned.to.toFixed(2)}, {learned.runs}
      runs): about <b class="figure">{duration(plan.time.running * learned.factor + plan.time.changes)}</b>{plan.time.changes > 0
        ? ', bit changes with it'
        : ''}.
    </p>
  {/if}
  <table class="table tabular-nums [&_:is(td,th):not(:first-child)]:text-right [&_:is(td,th):not(:first-child)]:whitespace-nowrap">
    <thead
      ><tr
        ><th>{COMMON.cut}</th>{#if depths}<th>{PROOF.deepest}</th>{/if}<th>{process.counts.many[0].toUpperCase()}{process.counts.many.slice(1)}</th><th
          >{COMMON.time}</th
        ></tr
      ></thead
    >
    <tbody>
      {#each plan.cuts as cut (cut.id)}
        <tr
          ><td>{job.cutOrder.indexOf(cut.id) + 1}. {nameOf(cut.id)}</td>{#if depths}<td>{len(cut.facts.deepest, job.units)}</td>{/if}<td>{cut.lifts}</td><td
            >{duration(cut.seconds)}</td
          ></tr
        >
      {/each}
      {#if plan.time.spinUp + plan.time.changes > 0}<tr
          ><td>Spindle and bit changes</td>{#if depths}<td></td>{/if}<td></td><td>{duration(plan.time.spinUp + plan.time.changes)}</td></tr
        >{/if}
      <tr class="text-surface-600-400"
        ><td>{depths ? 'Before it: zero and measuring bits' : 'Before it: setting zero'}</td>{#if depths}<td></td>{/if}<td></td><td
          >{duration(plan.time.measuring)}</td
        ></tr
      >
      {#if plan.time.warmUp > 0}<tr class="text-surface-600-400"
          ><td>First cut of the day: warming the spindle</td><td></td><td></td><td>{duration(plan.time.warmUp)}</td></tr
        >{/if}
    </tbody>
  </table>
  {#if process.burns}
    <table class="table tabular-nums [&_:is(td,th):not(:first-child)]:text-right [&_:is(td,th):not(:first-child)]:whitespace-nowrap">
      <thead><tr><th>{PROOF.ofEachRowOrWay}</th><th>{PROOF.lit}</th><th>{PROOF.dark}</th><th>{PROOF.total}</th></tr></thead>
      <tbody>
        {#each plan.time.cuts as time (time.cut)}
          {@const rows = plan.cuts.find(({ id }) => id === time.cut)?.lifts ?? 0}
          {#if rows > 0}<tr
              ><td>{nameOf(time.cut)}</td>{#each [time.cutting, time.dark + time.travel, time.total] as seconds, k (k)}<td>{(seconds / rows).toFixed(2)} s</td
                >{/each}</tr
            >{/if}
        {/each}
      </tbody>
    </table>
  {/if}
  {#if process.burns && desk.burn}<BurnFigures figures={desk.burn.figures} asked={desk.burn.asked} {job} />{/if}
  {#if plan.pieces.length > 0}<PlatePieces {job} pieces={plan.pieces} />{/if}
  <details class="py-2" ontoggle={(event) => (charts = event.currentTarget.open)}>
    <summary class="cursor-pointer text-base font-semibold">{PROOF.whereTheTimeGoes}</summary>
    {#if charts}
      {#await import('$lib/stages/proof/TimeChart.svelte') then { default: TimeChart }}<TimeChart time={plan.time} {speeds} {nameOf} unit={job.units} />{/await}
      <table class="table tabular-nums [&_:is(td,th):not(:first-child)]:text-right [&_:is(td,th):not(:first-child)]:whitespace-nowrap">
        <thead><tr><th>{COMMON.cut}</th><th>{PROOF.programmed}</th><th>{PROOF.average}</th><th>{COMMON.maximumSpeed}</th></tr></thead>
        <tbody>
          {#each plan.time.cuts as cut (cut.cut)}<tr
              ><td>{nameOf(cut.cut)}</td><td>{feedNumber(cut.asked, job.units)}</td><td>{feedNumber(cut.mean, job.units)}</td><td
                >{feedNumber(cut.fastest, job.units)}</td
              ></tr
            >{/each}
        </tbody>
      </table>
      <table class="table tabular-nums [&_:is(td,th):not(:first-child)]:text-right [&_:is(td,th):not(:first-child)]:whitespace-nowrap">
        <thead><tr><th>{COMMON.bit}</th><th>{PROOF.timeCutting}</th></tr></thead>
        <tbody>
          {#each byBit as [bit, seconds] (bit)}<tr><td>{job.tools[bit] ? bitName(job.tools[bit], job.units) : bit}</td><td>{duration(seconds)}</td></tr>{/each}
        </tbody>
      </table>
      <p class="text-surface-600-400">Feeds in {FEED_UNIT[job.units]} while cutting. Speed is planned with this machine’s own limits and acceleration.</p>
    {/if}
  </details>
  {#if job.process === 'router'}<div id="faster"><FasterWays {session} {crib} bind:asked={faster} /></div>{/if}

  {#if !process.burns}{@render asDrawn()}{/if}

  {#each plan.shows as one (one.cut)}
    <p class:caution={one.verdict !== 'shows'}>
      {nameOf(one.cut)}: the finest stroke{one.width !== undefined ? ` (${len(one.width, job.units)} wide, ${len(one.depth, job.units)} deep)` : ''}
      <b>{VERDICT[one.verdict]}</b>{one.spread > 0
        ? ` on a board that is uneven by ${len(one.spread, job.units)}`
        : job.board.measured
          ? ''
          : '; measure the board to be sure'}.
      {#if one.at}<button class="px-1 text-primary-600-400 underline" onclick={() => onshow({ what: 'The finest stroke', at: one.at })}>{PROOF.show}</button
        >{/if}
    </p>
  {/each}

  {#if process.burns}
    <h2>{PROOF.checkItOnYourSheet}</h2>
    <div class="py-1.5 gap-1.5 flex flex-wrap">
      <button class="btn preset-outlined-surface-300-700" onclick={() => onsheet('trial')}>{job.trial ? PROOF.whichSquareWasBest : PROOF.testCardMore}</button>
    </div>
  {:else if job.process === 'router'}
    <h2>{PROOF.otherWays}</h2>
    <div class="py-1.5 gap-1.5 flex flex-wrap">
      <button class="btn preset-outlined-surface-300-700" onclick={() => onsheet('finder')}>{PROOF.findTheRightBit}</button>
      <button class="btn preset-outlined-surface-300-700" onclick={() => onsheet('trial')}>{job.trial ? PROOF.whichPlaceWasBest : PROOF.trialBoard}</button>
    </div>
  {/if}

  <h2 id="found">{PROOF.found}</h2>
  {#if found.length === 0}
    <p>No problems found.</p>
  {:else}
    <Findings findings={found} unit={session.job.units} {onshow} onrepair={(f) => repair(session, editor, f)} busy={editor.busy !== null} />
  {/if}
  <p class="text-surface-600-400">The picture is the exact removal on cells of {len((desk.map ?? plan.map).cell, job.units)}.</p>
{:else}
  <p class="text-surface-600-400">The proof appears as soon as the cuts are planned.</p>
{/if}

{#snippet asDrawn()}
  <h2>{PROOF.asItWasDrawn}</h2>
  <div class="py-1.5 gap-1.5 flex flex-wrap">
    <button
      class="btn preset-outlined-surface-300-700"
      aria-pressed={desk.difference !== null}
      disabled={desk.busy !== null}
      onclick={() => {
        onview('carved');
        void desk.showDifference(desk.difference === null);
      }}>{COMMON.compareWithTheDrawing}</button
    >
    <button
      class="btn preset-outlined-surface-300-700"
      aria-pressed={desk.marks?.as === 'cuts'}
      disabled={desk.busy !== null}
      onclick={() => {
        onview('carved');
        void desk.showCuts(desk.marks?.as !== 'cuts');
      }}>{PROOF.tintByCut}</button
    >
    <button class="btn preset-outlined-surface-300-700" onclick={() => (onview('carved'), desk.keep(`Revision ${session.revision}`))}
      >{PROOF.keepToCompare}</button
    >
  </div>
  {#if desk.busy}<p class="text-surface-600-400" role="status">{desk.busy}…</p>{/if}
  {#if desk.why}<p class="caution" role="alert">{desk.why}</p>{/if}
  {#if desk.difference}
    {@const { left, over, cuts } = desk.difference}
    <ul class="py-1 text-sm" aria-label={PROOF.askedAgainstCarved}>
      <li class="py-0.5">
        <i
          class="border border-surface-300-700 bg-[repeating-linear-gradient(45deg,rgb(168_102_5)_0_3px,rgb(250_204_115)_3px_6px)] inline-block w-4 h-3.5 mr-1.5"
          aria-hidden="true"
        ></i>
        Left standing: {#if left.area > 0}<b class="figure">{area(left.area)}</b>, at worst
          <b class="figure">{len(left.worst, job.units)}</b>
          <button class="px-1 text-primary-600-400 underline" onclick={() => onshow({ what: `${len(left.worst, job.units)} left standing`, at: left.at })}
            >{PROOF.show}</button
          >{:else}nothing{/if}
      </li>
      <li class="py-0.5">
        <i class="border border-surface-300-700 bg-[rgb(184_26_20)] inline-block w-4 h-3.5 mr-1.5" aria-hidden="true"></i> Cut too much: {#if over.area > 0}<b
            class="figure">{area(over.area)}</b
          >, at worst
          <b class="figure">{len(over.worst, job.units)}</b>
          <button class="px-1 text-primary-600-400 underline" onclick={() => onshow({ what: `${len(over.worst, job.units)} too much`, at: over.at })}
            >{PROOF.show}</button
          >{:else}nothing{/if}
      </li>
      {#each cuts as one (one.cut)}<li class="text-surface-600-400 py-0.5">
          {nameOf(one.cut)}: {area(one.left.area)} left standing{one.over.area > 0 ? `, ${area(one.over.area)} too much` : ''}
        </li>{/each}
    </ul>
  {/if}
  {#if desk.marks?.as === 'cuts'}
    <ol class="text-surface-600-400 cuts py-1 text-sm">
      {#each plan?.cuts ?? [] as cut, i (cut.id)}<li class="py-0.5">
          <i class="border border-surface-300-700 inline-block w-4 h-3.5 mr-1.5 {i % 6}" aria-hidden="true"></i>{nameOf(cut.id)}
        </li>{/each}
    </ol>
  {/if}
{/snippet}
