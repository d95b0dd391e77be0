<script lang="ts">
  /** Lays one piece out several times on an offcut; or, on a trial board, takes down which place was best. */
  import { presetFrom } from '@kerbe/core/advise/preset';
  import { bitName } from '@kerbe/core/bits';
  import { cutName, kindOf } from '@kerbe/core/cuts';
  import { worksOn } from '@kerbe/core/job/target';
  import type { Bit, Job } from '@kerbe/core/job';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import { FEED_UNIT, feedNumber, readFeed, readLength } from '@kerbe/core/length';
  import LengthField from '$lib/ui/LengthField.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { ask } from '$lib/ui/post';
  import { num } from '$lib/ui/format';
  import CardPicture from './CardPicture.svelte';
  import { layTrial } from './advice';
  import { PROOF } from '$lib/labels/proof';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    session: JobSession;
    editor: ArtEditor;
    crib: readonly Bit[];
    /** The cut it is asked for. */
    first: string | null;
    today: string;
    onclose: () => void;
  }
  let { session, editor, crib, first, today, onclose }: Props = $props();
  const job = $derived(session.job);
  const nameOf = (bit: Bit) => bitName(bit, session.job.units);
  const cuts = $derived(job.cutOrder.filter((id) => !kindOf(job.cuts[id]).wholeBoard).map((id) => ({ value: id, label: cutName(job.cuts[id]) })));
  // svelte-ignore state_referenced_locally
  let cut = $state((cuts.find(({ value }) => value === first) ?? cuts[0])?.value ?? '');
  type Vary = 'tool' | 'depth' | 'feed';
  const VARY = [
    { value: 'feed', label: PROOF.feeds },
    { value: 'depth', label: PROOF.depths },
    { value: 'tool', label: PROOF.bits },
  ] as const;
  let across = $state<Vary>('feed');
  let up = $state<Vary | 'none'>('none');
  const texts = $state<Record<'feed' | 'depth', string>>({ feed: '', depth: '' });
  /** What was picked on the drawing counts only when that is said here. */
  let wanted = $state(false);
  const onlyPicked = $derived(wanted && editor.selection.size > 0);
  let picked = $state<string[]>([]);
  // svelte-ignore state_referenced_locally
  const board = $state({ width: session.job.board.width, height: session.job.board.height, thickness: session.job.board.thickness });
  /** Words are tried by their first letter, unless all of them are wanted. */
  const words = $derived(
    job.cuts[cut]
      ? job.itemOrder
          .map((id) => job.items[id])
          .filter(
            (item) =>
              item.kind === 'text' && worksOn(job, job.cuts[cut], item) && [...item.text.trim()].length > 1 && (!onlyPicked || editor.selection.has(item.id)),
          )
      : [],
  );
  let letter = $state(true);
  let busy = $state(false);
  let why = $state<string | null>(null);
  const fitting = $derived(job.cuts[cut] ? crib.filter((bit) => kindOf(job.cuts[cut]).tools.includes(bit.kind)) : []);
  // Something to begin with: half as fast to twice as fast.
  $effect(() => {
    const { feed } = job.cuts[cut] ?? { feed: 2400 };
    if (texts.feed === '') texts.feed = [0.5, 0.75, 1, 1.5].map((k) => feedNumber(feed * k, job.units)).join(', ');
    if (texts.depth === '') texts.depth = [1, 2, 3, 4].map((mm) => num(mm, job.units)).join(', ');
  });
  const numbers = (text: string, vary: 'feed' | 'depth') =>
    text
      .split(/[,;]+/)
      .filter((part) => part.trim() !== '')
      .map((part) => {
        const reading = (vary === 'feed' ? readFeed : readLength)(part, { unit: job.units });
        return reading.ok ? reading.mm : NaN;
      });
  function range(vary: Vary): { vary: Vary; values: (Bit | number)[] } | string {
    if (vary === 'tool') return picked.length ? { vary, values: fitting.filter(({ id }) => picked.includes(id)) } : 'Tick the bits to be tried.';
    const values = numbers(texts[vary], vary);
    return values.length && values.every((value) => value > 0) ? { vary, values } : `Write the ${vary}s as numbers with commas between them.`;
  }
  async function lay() {
    const first = range(across);
    const second = up === 'none' ? undefined : range(up);
    why = typeof first === 'string' ? first : typeof second === 'string' ? second : null;
    if (why || typeof first === 'string' || typeof second === 'string') return;
    const pen =
      Object.values(job.tools).find(({ kind }) => kind === 'v' || kind === 'engraving') ?? crib.find(({ kind }) => kind === 'v' || kind === 'engraving');
    if (!pen) {
      why = 'The labels are written with a V or an engraving cutter: put one in the crib first.';
      return;
    }
    busy = true;
    const items = { ...job.items };
    for (const item of words) if (letter && item.kind === 'text') items[item.id] = { ...item, text: [...item.text.trim()][0] };
    const plain = JSON.parse(
      JSON.stringify({
        job: { ...job, items },
        asked: {
          cut,
          items: onlyPicked ? editor.ids : undefined,
          across: first,
          up: second,
          board: { ...board, material: job.board.material },
          pen,
        },
      }),
    ) as { job: Job; asked: Parameters<typeof layTrial>[1] };
    try {
      const laid = await layTrial(plain.job, plain.asked, new AbortController().signal);
      if (!laid.ok) why = laid.why;
      else {
        const made = await ask<{ id: string }>('/api/jobs', 'POST', laid.job);
        if (made.ok) location.assign(`/job/${made.value.id}?stage=proof`);
        else why = made.why;
      }
    } catch (error) {
      why = (error as Error).message;
    }
    busy = false;
  }

  const card = $derived(job.process === 'laser');
  // svelte-ignore state_referenced_locally
  let best = $state(String(session.job.trial?.best ?? 0));
  async function keepBest() {
    const learned = presetFrom(job, Number(best), today);
    if (!learned) return;
    const own = crib.find(({ id }) => id === (learned.bit.crib ?? learned.bit.id)) ?? { ...learned.bit, crib: undefined };
    const bit = learned.into(own);
    busy = true;
    const kept = await ask('/api/bits', 'POST', { bits: [bit] });
    busy = false;
    if (!kept.ok) {
      why = kept.why;
      return;
    }
    session.edit(PROOF.theBestPlaceOfThe, (d) => {
      d.trial!.best = Number(best);
      d.tools[learned.bit.id] = learned.into($state.snapshot(d.tools[learned.bit.id]) as Bit);
    });
    onclose();
  }
</script>

<Sheet title={job.trial ? (card ? PROOF.whichSquareCameOutBest : PROOF.whichPlaceCameOutBest) : COMMON.trialBoard} {onclose}>
  {#if job.trial}
    {#if card}
      <p class="text-surface-600-400">
        Press it. Its figures become the preset of the head for {job.board.material}, with this card and today named as the source.
      </p>
      <CardPicture {job} {best} onchoose={(k) => (best = k)} />
    {:else}
      <p class="text-surface-600-400">Its feeds become the preset of its bit in {job.board.material}, with this board named as the source.</p>
    {/if}
    <Choice
      label={card ? PROOF.bestSquare : PROOF.bestPlace}
      value={best}
      options={job.trial.cells.map(({ label }, k) => ({ value: String(k), label }))}
      onchange={(v) => (best = v)}
    />
    {#if why}<p class="caution" role="alert">{why}</p>{/if}
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold mt-3.5" disabled={busy} onclick={keepBest}>{PROOF.saveItAsThePreset}</button>
  {:else if cuts.length === 0}
    <p>There is no cut yet to try. Add one under Cuts.</p>
  {:else}
    <p class="text-surface-600-400">
      {onlyPicked ? 'What is selected' : 'All the cut works on'} is laid out once for every value, each place labelled in the wood, as a job of its own.
    </p>
    {#if editor.selection.size > 0}
      <label class="gap-1.5 flex items-center"
        ><input class="checkbox" type="checkbox" bind:checked={wanted} />
        {PROOF.onlyTheSelected(editor.selection.size === 1 ? 'thing' : `${editor.selection.size} things`)}</label
      >
    {/if}
    <Choice label={PROOF.cutToTry} value={cut} options={cuts} onchange={(v) => ((cut = v), (picked = []))} />
    <Choice label={PROOF.variedFromLeftToRight} value={across} options={VARY} onchange={(v) => ((across = v), up === v && (up = 'none'))} />
    <Choice
      label={PROOF.variedFromRowToRow}
      value={up}
      options={[{ value: 'none', label: PROOF.nothing }, ...VARY.filter(({ value }) => value !== across)]}
      onchange={(v) => (up = v as Vary | 'none')}
    />
    {#each [across, up] as vary (vary)}
      {#if vary === 'tool'}
        <fieldset class="py-1.5 gap-1 border-0 grid text-sm">
          <legend>{COMMON.bits}</legend>
          {#each fitting as bit (bit.id)}<label class="gap-1.5 flex items-center"
              ><input
                class="checkbox"
                type="checkbox"
                checked={picked.includes(bit.id)}
                onchange={(event) => (picked = event.currentTarget.checked ? [...picked, bit.id] : picked.filter((id) => id !== bit.id))}
              />
              {nameOf(bit)}</label
            >{:else}<p class="text-surface-600-400">No bit in the crib suits this cut.</p>{/each}
        </fieldset>
      {:else if vary !== 'none'}
        <label class="py-1 gap-1.5 items-center grid grid-cols-[1fr_14.3rem] text-sm"
          >{vary === 'feed' ? PROOF.feedsIn(FEED_UNIT[job.units]) : PROOF.depthsIn(job.units)}<input
            class="input"
            type="text"
            bind:value={texts[vary]}
          /></label
        >
      {/if}
    {/each}
    {#if words.length > 0}<label class="gap-1.5 flex items-center"
        ><input class="checkbox" type="checkbox" bind:checked={letter} /> {PROOF.ofTheWordsOnlyThe}</label
      >{/if}
    <h3>{PROOF.theOffcut}</h3>
    <LengthField label={COMMON.width} value={board.width} unit={job.units} min={20} onchange={(v) => (board.width = v)} />
    <LengthField label={COMMON.height} value={board.height} unit={job.units} min={20} onchange={(v) => (board.height = v)} />
    <LengthField label={COMMON.thickness} value={board.thickness} unit={job.units} min={1} onchange={(v) => (board.thickness = v)} />
    {#if why}<p class="caution" role="alert">{why}</p>{/if}
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold mt-3.5" disabled={busy} onclick={lay}
      >{busy ? PROOF.layingItOut : PROOF.layOutTheTrialBoard}</button
    >
  {/if}
</Sheet>
