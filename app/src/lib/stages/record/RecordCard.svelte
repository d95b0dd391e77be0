<script lang="ts">
  /** The runs of a job: what happened, what was set, what came out wrong and why; notes and photos. */
  import { format } from 'date-fns';
  import { DEFECTS, zeroZWords } from '@kerbe/core/setup/defects';
  import { asOfToday } from '@kerbe/core/artwork/begin-cut';
  import { readJob, type Bit, type Job } from '@kerbe/core/job';
  import type { RunFacts } from '@kerbe/core/link';
  import type { ProcessDef } from '@kerbe/core/process';
  import { goto, invalidate } from '$app/navigation';
  import type { RunView } from '../types';
  import { ask } from '$lib/ui/post';
  import type { LengthUnit } from '@kerbe/core/length';
  import { costWords } from '$lib/shop/cost-words';
  import { duration, way } from '$lib/ui/format';
  import { saidOf } from '$lib/stages/run/said';
  import { recordWord } from '$lib/ui/words';
  import { RECORD } from '$lib/labels/record';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    /** The job's id. */
    id: string;
    runs: RunView[];
    bits: Record<string, { name: string }>;
    /** The bits of the shop, as they are now. */
    crib: readonly Bit[];
    /** Stands before sums of money. */
    currency: string;
    items: Job['items'];
    process: ProcessDef;
    unit: LengthUnit;
    more?: string | null;
    /** What the feed was turned to in the last runs, when it is worth taking. */
    turned: { feed: number; runs: number } | null;
    onfeed: (share: number) => void;
  }
  let { id, runs, bits, crib, currency, items, process, unit, more = null, turned, onfeed }: Props = $props();
  let open = $state<string | null>(null);
  let events = $state.raw<{ at: string; event: string; line: number | null; text: string | null; facts: RunFacts | null }[]>([]);
  let photos = $state.raw<{ id: string; name: string }[]>([]);
  /** How it was to look. */
  let picture = $state.raw<string | null>(null);
  let why = $state<string | null>(null);
  let kind = $state<string>(DEFECTS[0].kind);
  let note = $state('');

  async function look(id: string) {
    const answer = await ask<{ events: typeof events; photos: typeof photos; picture: string | null }>(`/api/runs/${id}`);
    if (!answer.ok) return void (why = answer.why);
    ({ events, photos, picture } = answer.value);
  }
  async function show(id: string) {
    open = open === id ? null : id;
    events = [];
    photos = [];
    picture = null;
    why = null;
    if (open) await look(open);
  }
  async function change(id: string, body: Record<string, unknown>) {
    const answer = await ask(`/api/runs/${id}`, 'PATCH', body);
    why = answer.ok ? null : answer.why;
    if (answer.ok) await invalidate('kerbe:job');
  }
  async function photo(id: string, file: File | undefined) {
    if (!file) return;
    try {
      const response = await fetch(`/api/runs/${id}/photo?name=${encodeURIComponent(file.name)}`, {
        method: 'POST',
        // A file of no known kind has no type, and without one nothing is taken.
        headers: { 'content-type': file.type || 'application/octet-stream' },
        body: file,
      });
      why = ((await response.json()) as { why: string | null }).why;
      if (why === null) await look(id);
    } catch {
      why = 'No connection to Kerbe, so the photo was not kept. Try again when it is back.';
    }
  }
  async function takeAway(id: string, which: string) {
    const answer = await ask(`/api/runs/${id}/photo?photo=${encodeURIComponent(which)}`, 'DELETE');
    why = answer.ok ? null : answer.why;
    if (answer.ok) await look(id);
  }
  /** The sign of a run once more, as a job of its own: with the figures of then, or with those one would take today. */
  async function again(run: RunView, today: boolean) {
    const copy = await ask<{ id: string }>(`/api/jobs/${id}`, 'POST', { as: 'again', revision: run.revision });
    if (!copy.ok) return void (why = copy.why);
    const at = `/api/jobs/${copy.value.id}`;
    if (today) {
      const made = await ask<{ revision: number; doc: unknown }>(at);
      const read = made.ok ? readJob(made.value.doc) : null;
      const kept = made.ok && read?.ok && (await ask(at, 'PUT', { from: made.value.revision, label: RECORD.figuresOfToday, doc: asOfToday(read.job, crib) }));
      if (!kept || !kept.ok) return void (why = `It was copied with the figures of then: those of today could not be taken. It hangs on the wall.`);
    }
    await goto(`/job/${copy.value.id}?stage=artwork`);
  }
  let taken = $state(false);
  let place = $state('');
  let kept = $state<string | null>(null);
  /** What is left of the plate goes among the shop's pieces, with its openings. */
  async function keepRemnant(id: string) {
    const answer = await ask<{ why: string | null }>(`/api/runs/${id}/remnant`, 'POST', { place });
    why = answer.ok ? answer.value.why : answer.why;
    if (!why) kept = id;
  }
  const money = (sum: number) => `${currency}${sum.toFixed(2)}`;
  const called = (id: string) => bits[id]?.name || id;
  const nameOf = (defect: string) => DEFECTS.find((one) => one.kind === defect)?.name ?? defect;
  /** Time against estimate, when it is worth saying. */
  const against = (run: RunView) => (run.actual_seconds > 0 && run.estimate_seconds > 0 ? Math.round((100 * run.actual_seconds) / run.estimate_seconds) : null);
</script>

<h2>{RECORD.runsOfThisJob}</h2>
{#if turned}
  <div class="py-1.5 gap-2.5 flex flex-wrap items-center text-sm">
    {#if taken}<p role="status">The cuts have it now. Release the job again to run it so.</p>
    {:else}
      <p>In the last {turned.runs} runs the feed was turned to {Math.round(100 * turned.feed)} %, and stayed there.</p>
      <button
        class="btn preset-outlined-surface-300-700"
        onclick={() => {
          onfeed(turned.feed);
          taken = true;
        }}>{RECORD.takeItIntoTheCuts}</button
      >
    {/if}
  </div>
{/if}
{#each runs as run (run.id)}
  <section class="py-2 border-t border-surface-200-800 text-sm">
    <button class="title w-full flex flex-col text-left" aria-expanded={open === run.id} onclick={() => show(run.id)}>
      <span
        ><b>{recordWord(run.state, null, process)}</b>
        <span class="text-surface-600-400">{format(run.started_at, 'd MMM yyyy, HH:mm')} · {run.author}{run.machine ? ` · ${run.machine}` : ''}</span></span
      >
      <span class="figure"
        >{duration(run.actual_seconds)}
        <span class="text-surface-600-400">{RECORD.ofPlanned(duration(run.estimate_seconds), against(run) ? `, ${against(run)} %` : '')}</span></span
      >
    </button>
    {#if run.message && run.state !== 'done'}<p>{run.message}{run.cut_last ? ` It was at ${saidOf(run.cut_last, items)}.` : ''}</p>{/if}
    {#each run.defects as defect, k (k)}
      <p class="border-l-3 border-warning-600-400 pt-1.5 pl-2.5">
        <b>{nameOf(defect.kind)}</b>{defect.note ? `: ${defect.note}` : ''} <span class="text-surface-600-400">{defect.by}</span>
        <button class="px-1.5" aria-label={RECORD.takeThisBack} onclick={() => change(run.id, { drop: k })}>×</button><br />
        <span>Likely: {defect.cause}</span>
      </p>
    {/each}
    {#if open === run.id}
      {#if why}<p class="caution" role="alert">{why}</p>{/if}
      <dl class="my-1.5">
        {#if run.setup.zeroXY}<div class="gap-4 flex justify-between">
            <dt class="text-surface-600-400">{RECORD.xAndYZero}</dt>
            <dd class="text-right">{run.setup.zeroXY.by}{run.setup.zeroXY.angle ? ', turned' : ''}</dd>
          </div>{/if}
        {#if run.setup.zeroZ}<div class="gap-4 flex justify-between">
            <dt class="text-surface-600-400">{RECORD.zZero}</dt>
            <dd class="text-right">{zeroZWords(run.setup.zeroZ, unit)}</dd>
          </div>{/if}
        {#if run.from_line}<div class="gap-4 flex justify-between">
            <dt class="text-surface-600-400">{RECORD.wentOnFrom}</dt>
            <dd class="text-right">line {run.from_line}</dd>
          </div>{/if}
        {#if run.setup.confirmed?.some(({ skipped }) => skipped)}
          <div class="gap-4 flex justify-between">
            <dt class="text-surface-600-400">{RECORD.skippedChecks}</dt>
            <dd class="text-right">
              {run.setup.confirmed
                .filter(({ skipped }) => skipped)
                .map(({ id, by }) => `${id} (${by})`)
                .join(', ')}
            </dd>
          </div>
        {/if}
        {#each process.wears({ bitSeconds: run.bit_seconds, worked: run.worked }) as { tool, seconds, metres, strikes } (tool)}<div
            class="gap-4 flex justify-between"
          >
            <dt class="text-surface-600-400">{called(tool)}</dt>
            <dd class="figure text-right">
              {[
                duration(seconds),
                metres === undefined ? '' : way(metres, unit),
                strikes === undefined ? '' : `${strikes} ${strikes === 1 ? process.counts.one : process.counts.many}`,
              ]
                .filter(Boolean)
                .join(', ')}
            </dd>
          </div>{/each}
        {#if run.costs}
          {@const { planned, taken } = run.costs}
          <div class="gap-4 flex justify-between">
            <dt class="text-surface-600-400">{RECORD.cost}</dt>
            <dd class="figure text-right">
              {money(taken.all)}
              <span class="text-surface-600-400">of {money(planned.all)} planned</span>
              <span class="block text-surface-600-400">{costWords(taken, money)}</span>
            </dd>
          </div>
        {/if}
      </dl>
      <ul class="py-1.5">
        {#each events as event, i (i)}<li>
            <span class="figure">{format(new Date(event.at), 'HH:mm:ss')}</span>
            {recordWord(event.event, event.facts, process)}{event.line ? `, line ${event.line}` : ''}{event.text && event.event !== 'start'
              ? `: ${event.text}`
              : ''}
          </li>{/each}
      </ul>
      <div class="py-1 gap-1.5 flex flex-wrap items-center">
        <span class="text-surface-600-400">The same again</span>
        <button class="btn preset-outlined-surface-300-700" onclick={() => again(run, false)}>{RECORD.asItWasThen}</button>
        <button class="btn preset-outlined-surface-300-700" onclick={() => again(run, true)}>{RECORD.withTodaysFigures}</button>
      </div>
      {#if process.leavesRemnant && run.state === 'done'}
        <div class="py-1 gap-1.5 flex flex-wrap items-center">
          {#if kept === run.id}
            <span role="status">It is kept among the <a class="underline" href="/materials">{RECORD.piecesThatAreLeft}</a>: Board offers it.</span>
          {:else}
            <span class="text-surface-600-400">What is left of the plate</span>
            <input class="input flex-1 min-w-32" aria-label={COMMON.whereItIsKept} placeholder={RECORD.whereItIsKept} maxlength="80" bind:value={place} />
            <button class="btn preset-outlined-surface-300-700" onclick={() => void keepRemnant(run.id)}>{RECORD.saveThePiece}</button>
          {/if}
        </div>
      {/if}
      <div class="py-1 gap-1.5 flex flex-wrap items-center">
        <select class="select max-w-44" aria-label={RECORD.whatCameOutWrong} bind:value={kind}
          >{#each DEFECTS as one (one.kind)}<option value={one.kind}>{one.name}</option>{/each}</select
        >
        <input class="input flex-1 min-w-32" aria-label={RECORD.whereAndHow} placeholder={RECORD.whereAndHowLower} maxlength="2000" bind:value={note} />
        <button
          class="btn preset-outlined-surface-300-700"
          onclick={async () => {
            await change(run.id, { defect: { kind, note } });
            note = '';
          }}>{COMMON.save}</button
        >
      </div>
      {#if photos.length > 0 && picture}<figure class="py-1">
          <img class="max-h-44 w-full object-contain" src={picture} alt={RECORD.asPlanned} />
          <figcaption class="text-xs text-surface-600-400">As it was planned; below, as it came out.</figcaption>
        </figure>{/if}
      <div class="py-1 gap-1.5 flex flex-wrap items-center">
        {#each photos as one (one.id)}
          <span class="relative"
            ><a href="/api/assets/{one.id}" target="_blank"><img class={picture ? 'max-h-44' : 'h-16'} src="/api/assets/{one.id}" alt={one.name} /></a><button
              class="px-1.5 absolute right-0 bg-surface-100-900"
              aria-label={COMMON.removeThing(one.name)}
              onclick={() => takeAway(run.id, one.id)}>×</button
            ></span
          >
        {/each}
        <label class="btn preset-outlined-surface-300-700"
          >{RECORD.aPhotoOfTheBoard}<input
            class="sr-only"
            type="file"
            accept="image/*"
            capture="environment"
            onchange={(event) => void photo(run.id, event.currentTarget.files?.[0])}
          /></label
        >
      </div>
    {/if}
    <label class="text-xs text-surface-600-400" for="note-{run.id}">{COMMON.note}</label>
    <textarea
      class="textarea w-full"
      id="note-{run.id}"
      rows="2"
      placeholder={RECORD.whatWentWellWhatDid}
      value={run.notes}
      onchange={(e) => change(run.id, { notes: e.currentTarget.value })}></textarea>
  </section>
{:else}
  <p class="text-surface-600-400">No run yet. Every run is kept here with its times, what stopped it, and your notes.</p>
{/each}
{#if more}<p><a class="btn preset-outlined-surface-300-700" href={more}>{RECORD.olderRunsInTheLogbook}</a></p>{/if}
