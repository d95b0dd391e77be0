<script lang="ts">
  /** The cuts of the job in their order: each with the bit in its groove, its figures, and what was found. */
  import { bitName } from '@kerbe/core/bits';
  import { processOf } from '@kerbe/core/process';
  import { SvelteSet } from 'svelte/reactivity';
  import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
  import { beginCut, withBit } from '@kerbe/core/artwork/begin-cut';
  import { bitsFor, cutName, kindNamed, kindOf, kindsOf, namedBy, renamed } from '@kerbe/core/cuts';
  import { usualOrder } from '@kerbe/core/plan/order';
  import type { Bit, Cut, CutKind } from '@kerbe/core/job';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { JobSession } from '$lib/job/session.svelte';
  import { forJob } from '$lib/shop/crib';
  import Choice from '$lib/ui/Choice.svelte';
  import { repair } from '$lib/job/repair';
  import Findings from '../Findings.svelte';
  import BeamFeeds from './BeamFeeds.svelte';
  import LayerWork from './LayerWork.svelte';
  import ChartedFeeds from './ChartedFeeds.svelte';
  import CutFeeds from './CutFeeds.svelte';
  import CutFields from './CutFields.svelte';
  import CutFigures from './CutFigures.svelte';
  import CutGroup from './CutGroup.svelte';
  import CutOrder from './CutOrder.svelte';
  import { EXTRAS } from './extras';
  import { duration } from '$lib/ui/format';
  import { CUTS } from '$lib/labels/cuts';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    session: JobSession;
    editor: ArtEditor;
    /** The shop's bits, for cuts that want another than the job has. */
    crib: readonly Bit[];
    /** The cut that is open: its marks are shown on the board. */
    open: string | null;
    /** Every bit is to be tried on a cut, or its feeds on a board of their own. */
    onsheet: (sheet: 'finder' | 'trial', cut: string) => void;
  }
  let { session, editor, crib, open = $bindable(), onsheet }: Props = $props();
  const job = $derived(session.job);
  const process = $derived(processOf(job));
  const named = (word: string) => word[0].toUpperCase() + word.slice(1);
  const cuts = $derived(job.cutOrder.map((id) => job.cuts[id]));
  const opened = $derived(open && job.cuts[open] ? open : job.cutOrder[0]);
  const general = $derived((session.plan?.findings ?? []).filter((f) => f.code.startsWith('order-') && !f.cut));
  let sheet = $state<'templates' | 'bits' | null>(null);
  let adding = $state(false);
  const FROM_CRIB = 'crib ';
  const inCrib = (kind: string) => bitsFor(kind, crib).filter(({ id }) => !Object.values(job.tools).some((bit) => bit.crib === id));
  /** The list while something is dragged through it. */
  let dragged = $state.raw<{ id: string }[] | null>(null);
  const rows = $derived(dragged ?? cuts.map(({ id }) => ({ id })));

  const NONE_YET = {
    router: 'No cut yet. A V-carve gives the words their shape, a pocket sinks a field, drilling makes holes, a profile cuts the sign out.',
    torch: 'No cut yet. A torch cut goes round everything by what lies in what; a mark shows where to drill or bend.',
    laser: 'No cut yet. A fill burns areas, a score draws lines, a picture keeps its tones, a cut goes through.',
  };
  const TARGETS = [
    { value: 'art', label: CUTS.everythingDrawn },
    { value: 'words', label: CUTS.theWords },
    { value: 'holes', label: CUTS.holesAndCircles },
    { value: 'lines', label: CUTS.theLines },
    { value: 'shapes', label: CUTS.theOtherShapes },
    { value: 'outline', label: CUTS.theOutlineOfTheSign },
  ] as const;
  const edit = (id: string, label: string, set: (cut: Cut) => void) => session.edit(label, (d) => set(d.cuts[id]));
  function workOn(cut: Cut, what: string) {
    edit(cut.id, 'What the cut works on', (c) => void (c.on = what === 'some' ? editor.ids : (what as (typeof TARGETS)[number]['value'])));
  }
  const freeId = (kind: string) => {
    let n = 1;
    while (job.cuts[`${kind}${n}`]) n++;
    return `${kind}${n}`;
  };

  function add(kind: CutKind) {
    const id = freeId(kind);
    const [first, second] = bitsFor(kind, job.tools);
    const bit = first ?? inCrib(kind)[0];
    if (!bit) return;
    const own = first ?? forJob(bit, job.tools);
    // What was picked on another stage is not seen here: it is chosen under “works on”, on purpose.
    const cut = beginCut(job, own, { kind, id }, second);
    session.edit(CUTS.add(kindNamed(kind).title), (d) => {
      d.tools[own.id] ??= own;
      d.cuts[id] = cut as (typeof d.cuts)[string];
      d.cutOrder = usualOrder({ ...job, tools: { ...job.tools, [own.id]: own }, cuts: { ...job.cuts, [id]: cut }, cutOrder: [...job.cutOrder, id] });
    });
    open = id;
    adding = false;
  }
  /** Gives a cut another bit: one of the job, or one of the crib, which comes into the job with it. */
  function giveBit(cut: Cut, value: string) {
    const taken = value.startsWith(FROM_CRIB) ? crib.find(({ id }) => id === value.slice(FROM_CRIB.length)) : undefined;
    const own = taken && forJob(taken, job.tools);
    session.edit(named(process.tool.one), (d) => {
      if (own) d.tools[own.id] = own;
      d.cuts[cut.id] = withBit(job, $state.snapshot(cut) as Cut, job.tools[cut.tool], own ?? job.tools[value]) as (typeof d.cuts)[string];
    });
  }
  /** The same once more, right after it: for another depth, another bit or other things. */
  function copy(of: Cut) {
    const id = freeId(of.kind);
    const twin = { ...($state.snapshot(of) as Cut), id, name: `${cutName(of)} (copy)`.slice(0, 80) };
    session.edit(CUTS.copyACut, (d) => {
      d.cuts[id] = twin;
      d.cutOrder = d.cutOrder.flatMap((one) => (one === of.id ? [one, id] : [one]));
    });
    open = id;
  }
  function remove(id: string) {
    session.edit(CUTS.deleteACut, (d) => {
      delete d.cuts[id];
      d.cutOrder = d.cutOrder.filter((other) => other !== id);
      // What cleared for it clears for nothing now.
      for (const [key, other] of Object.entries(d.cuts))
        if (namedBy(other).cuts.includes(id)) d.cuts[key] = renamed(other, 'cut', (name) => (name === id ? undefined : name));
    });
  }
  function move(id: string, by: -1 | 1) {
    const order = [...job.cutOrder];
    const i = order.indexOf(id);
    [order[i], order[i + by]] = [order[i + by], order[i]];
    reorder(order);
  }
  const groups = $derived([...new Set(cuts.map(({ group }) => group).filter(Boolean))]);
  /** Groups whose cuts are not shown one by one. */
  const folded = new SvelteSet<string>();
  /** The cuts that stand together with this one, which begins them; none when it begins no group. */
  function groupFrom(id: string): Cut[] {
    const at = job.cutOrder.indexOf(id);
    const { group } = job.cuts[id];
    if (!group || cuts[at - 1]?.group === group) return [];
    const end = cuts.findIndex((cut, i) => i > at && cut.group !== group);
    return cuts.slice(at, end < 0 ? cuts.length : end);
  }
  const reorder = (order: string[]) => session.edit(CUTS.orderOfCuts, (d) => void (d.cutOrder = order));
</script>

<h2>{CUTS.cutsInTheOrderThey}</h2>
<Findings findings={general} unit={session.job.units} onrepair={(f) => repair(session, editor, f)} />
<div
  use:dragHandleZone={{ items: rows, flipDurationMs: 120, dropTargetStyle: {} }}
  onconsider={(e) => (dragged = e.detail.items as { id: string }[])}
  onfinalize={(e) => {
    const order = (e.detail.items as { id: string }[]).map(({ id }) => id);
    dragged = null;
    if (order.some((id, i) => id !== job.cutOrder[i])) reorder(order);
  }}
>
  {#each rows as { id } (id)}
    {@const cut = job.cuts[id]}
    {#if cut}
      {@const view = session.plan?.cuts.find((one) => one.id === id)}
      {@const bit = job.tools[cut.tool]}
      {@const index = job.cutOrder.indexOf(id)}
      {@const Extra = EXTRAS[cut.kind]}
      {@const group = dragged ? [] : groupFrom(id)}
      <section class="bg-surface-50-950">
        {#if group.length > 0}<CutGroup
            {session}
            cuts={group}
            bind:folded={() => folded.has(cut.group), (fold) => (fold ? folded.add(cut.group) : folded.delete(cut.group))}
          />{/if}
        {#if dragged || !folded.has(cut.group)}
          <div class={['border-t border-surface-200-800', cut.group && 'pl-3.5']}>
            <div class="py-2.5 gap-3.5 flex items-center">
              <span
                class={[
                  'figure grid h-7.5 w-7.5 flex-none place-items-center rounded-full border',
                  id === opened ? 'border-primary-600-400 text-primary-600-400' : 'border-surface-300-700',
                ]}
                use:dragHandle
                aria-label={CUTS.placeToDrag(index + 1)}>{index + 1}</span
              >
              <button
                class={['name flex-1 flex justify-between items-center text-left', cut.off && 'text-surface-600-400']}
                aria-expanded={id === opened}
                onclick={() => (open = id)}
              >
                <span>{cutName(cut)}<small class="block text-surface-600-400">{kindOf(cut).title} · {bitName(bit, job.units)}</small></span>
                <span class="figure">{cut.off ? CUTS.off : view && !session.stale ? duration(view.seconds) : '…'}</span>
              </button>
            </div>
            {#if id === opened}
              <div class="pb-3.5">
                {#if view && view.facts.moves > 0}<CutFigures {job} {cut} {view} />{/if}
                <Findings
                  findings={(session.plan?.findings ?? []).filter((f) => f.cut === id)}
                  unit={session.job.units}
                  onrepair={(f) => repair(session, editor, f)}
                />
                <div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
                  <label class="text-sm" for="name-{id}">{CUTS.nameOfTheCut}</label>
                  <input
                    class="input"
                    id="name-{id}"
                    value={cut.name}
                    placeholder={kindOf(cut).title}
                    maxlength="80"
                    onchange={(event) => edit(id, 'Name of a cut', (c) => void (c.name = event.currentTarget.value.trim()))}
                  />
                </div>
                <div class="grid grid-cols-[1fr_14.3rem] items-center gap-2.5 py-1">
                  <label class="text-sm" for="group-{id}">{CUTS.inTheGroup}</label>
                  <input
                    class="input"
                    id="group-{id}"
                    list="cut-groups"
                    value={cut.group}
                    placeholder={COMMON.none}
                    maxlength="40"
                    onchange={(event) => edit(id, 'Group of a cut', (c) => void (c.group = event.currentTarget.value.trim()))}
                  />
                </div>
                {#if !kindOf(cut).wholeBoard}
                  <Choice
                    label={CUTS.worksOn}
                    value={Array.isArray(cut.on) ? 'some' : cut.on}
                    options={[
                      ...TARGETS,
                      {
                        value: 'some',
                        label: Array.isArray(cut.on)
                          ? CUTS.selectedForIt(cut.on.length, cut.on.length === 1 ? 'thing' : 'things')
                          : CUTS.whatIsSelected(editor.selection.size),
                      },
                    ]}
                    onchange={(v) => workOn(cut, v)}
                  />
                  {#if Array.isArray(cut.on) && editor.selection.size > 0}
                    <button class="btn preset-outlined-surface-300-700" onclick={() => workOn(cut, 'some')}
                      >{CUTS.workOnWhatIsSelected(editor.selection.size)}</button
                    >
                  {/if}
                {/if}
                <Choice
                  label={named(process.tool.one)}
                  value={cut.tool}
                  options={[
                    ...bitsFor(cut.kind, job.tools).map((b) => ({ value: b.id, label: bitName(b, job.units) })),
                    ...(bitsFor(cut.kind, job.tools).some((b) => b.id === cut.tool) ? [] : [{ value: cut.tool, label: bitName(bit, job.units) }]),
                  ]}
                  more={{
                    heading: CUTS.fromTheCrib,
                    options: inCrib(cut.kind).map((b) => ({ value: `${FROM_CRIB}${b.id}`, label: bitName(b, job.units) })),
                  }}
                  onchange={(v) => giveBit(cut, v)}
                />
                {#if !kindOf(cut).wholeBoard}
                  {#if job.process === 'router'}<button class="px-1 pb-1 text-sm text-primary-600-400 underline" onclick={() => onsheet('finder', id)}
                      >{CUTS.whichBitWouldBeBest}</button
                    >{/if}
                {/if}
                {#key id}<CutFields {session} {cut} />{/key}
                {#if !kindOf(cut).wholeBoard}<CutOrder {session} {editor} {cut} />{/if}
                {#if Extra}<Extra {session} {editor} {cut} {view} onopen={(id) => (open = id)} />{/if}
                {#if job.process === 'torch'}<ChartedFeeds {session} {cut} />{:else if job.process === 'laser'}<BeamFeeds {session} {cut} />{:else}<CutFeeds
                    {session}
                    {cut}
                    ontrial={() => onsheet('trial', id)}
                  />{/if}
                <div class="gap-1.5 flex flex-wrap pt-2.5">
                  <button class="btn preset-outlined-surface-300-700" disabled={index === 0} onclick={() => move(id, -1)}>{CUTS.earlier}</button>
                  <button class="btn preset-outlined-surface-300-700" disabled={index === cuts.length - 1} onclick={() => move(id, 1)}>{CUTS.later}</button>
                  <button class="btn preset-outlined-surface-300-700" onclick={() => copy(cut)}>{COMMON.copy}</button>
                  <button
                    class="btn preset-outlined-surface-300-700"
                    aria-pressed={cut.off}
                    onclick={() => edit(id, cut.off ? 'Switch a cut on' : 'Switch a cut off', (c) => void (c.off = !c.off))}
                    >{cut.off ? CUTS.switchOn : CUTS.switchOff}</button
                  >
                  <button class="btn preset-outlined-surface-300-700" onclick={() => remove(id)}>{CUTS.deleteThisCut}</button>
                </div>
              </div>
            {/if}
          </div>
        {/if}
      </section>
    {/if}
  {/each}
</div>
<datalist id="cut-groups"
  >{#each groups as name (name)}<option value={name}></option>{/each}</datalist
>
{#if cuts.length === 0}
  <p class="text-surface-600-400">
    {NONE_YET[job.process]}
  </p>
{/if}
{#if job.process === 'laser' && job.layers.length > 1}<LayerWork {session} />{/if}
<div class="gap-1.5 flex flex-wrap pt-2.5">
  <button class="btn preset-outlined-surface-300-700" aria-expanded={adding} onclick={() => (adding = !adding)}>{CUTS.addACut}</button>
  <button class="btn preset-outlined-surface-300-700" onclick={() => (sheet = 'bits')}>{CUTS.ofThisJob(named(process.tool.many))}</button>
  <button class="btn preset-outlined-surface-300-700" onclick={() => (sheet = 'templates')}>{CUTS.cutTemplatesMore}</button>
</div>
{#if adding}
  <div class="gap-1.5 flex flex-wrap pt-2.5" role="group" aria-label={CUTS.kindsOfCut}>
    {#each kindsOf(job.process) as kind (kind)}
      {@const none = bitsFor(kind, job.tools).length === 0 && inCrib(kind).length === 0}
      <button
        class="btn preset-outlined-surface-300-700"
        disabled={none}
        title={none ? CUTS.noToolForIt(process.tool.one) : kindNamed(kind).help}
        onclick={() => add(kind)}>{kindNamed(kind).title}</button
      >
    {/each}
  </div>
{/if}
{#if sheet === 'templates'}{#await import('./Templates.svelte') then { default: Templates }}<Templates {session} onclose={() => (sheet = null)} />{/await}
{:else if sheet === 'bits'}{#await import('./BitSheet.svelte') then { default: BitSheet }}<BitSheet
      {session}
      {crib}
      first={opened ? job.cuts[opened].tool : null}
      onclose={() => (sheet = null)}
    />{/await}{/if}
