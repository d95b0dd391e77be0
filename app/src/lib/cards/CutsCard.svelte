<script lang="ts">
  /** The cuts of the job in their order: each with the bit in its groove, its figures, and what was found. */
  import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
  import { usualOrder } from '@kerbe/core/plan/order';
  import { Cut as CutSchema, type Cut, type CutKind } from '@kerbe/core/job';
  import { pairJob } from '@kerbe/core/job/pair';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { repair } from '$lib/job/repair';
  import { ask } from '$lib/ui/post';
  import Findings from './Findings.svelte';
  import CutFeeds from './cuts/CutFeeds.svelte';
  import CutFields from './cuts/CutFields.svelte';
  import CutFigures from './cuts/CutFigures.svelte';
  import { bitsFor, KINDS, TITLE } from './cuts/fields';
  import { duration, len } from '$lib/ui/format';

  interface Props {
    session: JobSession;
    editor: ArtEditor;
    /** The cut that is open: its marks are shown on the board. */
    open: string | null;
  }
  let { session, editor, open = $bindable() }: Props = $props();
  const job = $derived(session.job);
  const cuts = $derived(job.cutOrder.map((id) => job.cuts[id]));
  const opened = $derived(open && job.cuts[open] ? open : job.cutOrder[0]);
  const general = $derived((session.plan?.findings ?? []).filter((f) => f.code.startsWith('order-') && !f.cut));
  let sheet = $state<'templates' | 'bits' | null>(null);
  let adding = $state(false);
  let note = $state<string | null>(null);
  /** What a V-carved plug leaves for glue below it, and for the saw above the surface, mm. */
  const room = $state({ glue: 0.5, saw: 1 });
  /** The list while something is dragged through it. */
  let dragged = $state.raw<{ id: string }[] | null>(null);
  const rows = $derived(dragged ?? cuts.map(({ id }) => ({ id })));

  const TARGETS = [
    { value: 'art', label: 'everything drawn' },
    { value: 'words', label: 'the words' },
    { value: 'holes', label: 'holes and circles' },
    { value: 'lines', label: 'the lines' },
    { value: 'shapes', label: 'the other shapes' },
    { value: 'outline', label: 'the outline of the sign' },
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
    const [bit, second] = bitsFor(kind, job.bits);
    if (!bit) return;
    const usual = kind === 'profile' ? 'outline' : kind === 'drill' ? 'holes' : 'art';
    // What was picked on another stage is not seen here: it is chosen under “works on”, on purpose.
    const cut = CutSchema.parse({ kind, id, on: usual, bit: bit.id, ...(kind === 'recess' || kind === 'plug' ? { mate: (second ?? bit).id } : {}) });
    session.edit(`Add: ${TITLE[kind]}`, (d) => {
      d.cuts[id] = cut as (typeof d.cuts)[string];
      d.cutOrder = usualOrder({ ...job, cuts: { ...job.cuts, [id]: cut }, cutOrder: [...job.cutOrder, id] });
    });
    open = id;
    adding = false;
  }
  function remove(id: string) {
    session.edit('Delete a cut', (d) => {
      delete d.cuts[id];
      d.cutOrder = d.cutOrder.filter((other) => other !== id);
      // What cleared for it clears for nothing now.
      for (const other of Object.values(d.cuts)) if (other.kind === 'pocket' && other.floorOf === id) delete other.floorOf;
    });
  }
  function move(id: string, by: -1 | 1) {
    const order = [...job.cutOrder];
    const i = order.indexOf(id);
    [order[i], order[i + by]] = [order[i + by], order[i]];
    reorder(order);
  }
  const reorder = (order: string[]) => session.edit('Order of cuts', (d) => void (d.cutOrder = order));

  /** A straight bit for the floor of a V-carve: a pocket of its own before it. */
  function clearFirst(cut: Extract<Cut, { kind: 'vcarve' }>, bit: string) {
    const clearing = Object.values(job.cuts).find((other) => other.kind === 'pocket' && other.floorOf === cut.id);
    const id = clearing?.id ?? freeId('clear');
    open = cut.id;
    session.edit(bit ? 'Clear the floor first' : 'The V bit clears the floor', (d) => {
      const draft = d.cuts[cut.id] as typeof cut;
      if (!bit) {
        delete draft.after;
        delete d.cuts[id];
        d.cutOrder = d.cutOrder.filter((other) => other !== id);
        return;
      }
      draft.after = bit;
      const pocket = CutSchema.parse({ kind: 'pocket', id, name: 'Clear the floor', on: cut.on, bit, floorOf: cut.id });
      if (clearing) d.cuts[id].bit = bit;
      else {
        d.cuts[id] = pocket as (typeof d.cuts)[string];
        d.cutOrder.splice(d.cutOrder.indexOf(cut.id), 0, id);
      }
    });
  }
  const hasHalf = (cut: Cut) => cut.kind === 'recess' || cut.kind === 'plug' || (cut.kind === 'vcarve' && !cut.plug && cut.floorDepth !== undefined);
  async function makeHalf(cut: Cut) {
    const pair = pairJob(job, cut.id, room);
    if (!pair.ok) {
      note = pair.why;
      return;
    }
    const answer = await ask<{ id: string }>('/api/jobs', 'POST', pair.job);
    // A page of its own: the other job has its own undo steps and its own saves.
    if (answer.ok) location.assign(`/job/${answer.value.id}?stage=cuts`);
    else note = answer.why;
  }
  function addPoint(cut: Extract<Cut, { kind: 'drill' }>) {
    editor.pointFor = {
      what: 'middle of the hole',
      then: (x, y) =>
        edit(cut.id, 'Drill at a point', (c) => void (c.kind === 'drill' && c.points.push([Math.round(x * 1000) / 1000, Math.round(y * 1000) / 1000]))),
    };
    editor.tool = 'point';
  }
</script>

<h2>Cuts, in the order they are made</h2>
<Findings findings={general} onrepair={(f) => repair(session, editor, f)} />
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
      {@const bit = job.bits[cut.bit]}
      {@const index = job.cutOrder.indexOf(id)}
      <section class:open={id === opened}>
        <div class="title">
          <span class="order figure" use:dragHandle aria-label="Place {index + 1}: drag, or press Enter and use the arrow keys">{index + 1}</span>
          <button class="name" aria-expanded={id === opened} onclick={() => (open = id)}>
            <span>{cut.name || TITLE[cut.kind]}<small>{TITLE[cut.kind]} · {bit.name}</small></span>
            <span class="figure">{view && !session.stale ? duration(view.seconds) : '…'}</span>
          </button>
        </div>
        {#if id === opened}
          <div class="body">
            {#if view && view.facts.moves > 0}<CutFigures {job} {cut} {view} />{/if}
            <Findings findings={(session.plan?.findings ?? []).filter((f) => f.cut === id)} onrepair={(f) => repair(session, editor, f)} />
            {#if cut.kind !== 'surface'}
              <Choice
                label="Works on"
                value={Array.isArray(cut.on) ? 'some' : cut.on}
                options={[
                  ...TARGETS,
                  {
                    value: 'some',
                    label: Array.isArray(cut.on)
                      ? `${cut.on.length} ${cut.on.length === 1 ? 'thing' : 'things'} picked for it`
                      : `what is picked (${editor.selection.size})`,
                  },
                ]}
                onchange={(v) => workOn(cut, v)}
              />
              {#if Array.isArray(cut.on) && editor.selection.size > 0}
                <button class="press" onclick={() => workOn(cut, 'some')}>Work on what is picked now ({editor.selection.size})</button>
              {/if}
            {/if}
            <Choice
              label="Bit"
              value={cut.bit}
              options={[
                ...bitsFor(cut.kind, job.bits).map((b) => ({ value: b.id, label: b.name || b.id })),
                ...(bitsFor(cut.kind, job.bits).some((b) => b.id === cut.bit) ? [] : [{ value: cut.bit, label: bit.name || cut.bit }]),
              ]}
              onchange={(v) => edit(id, 'Bit', (c) => void (c.bit = v))}
            />
            {#key id}<CutFields {session} {cut} />{/key}
            {#if cut.kind === 'vcarve' && cut.floorDepth !== undefined}
              <Choice
                label="Floor cleared first by"
                value={cut.after ?? ''}
                options={[
                  { value: '', label: 'nothing: the V bit clears it' },
                  ...bitsFor('pocket', job.bits).map((b) => ({ value: b.id, label: b.name || b.id })),
                ]}
                onchange={(v) => clearFirst(cut, v)}
              />
            {/if}
            {#if cut.kind === 'vcarve' && hasHalf(cut)}
              <details>
                <summary>A plug to go into it</summary>
                <LengthField label="Room for glue below it" value={room.glue} unit={job.units} min={0} onchange={(v) => (room.glue = v)} />
                <LengthField
                  label="Room for the saw above"
                  value={room.saw}
                  unit={job.units}
                  min={0.1}
                  hint="The plug is carved from another board, mirrored, glued in face down, and what stands out is sawn and planed off."
                  onchange={(v) => (room.saw = v)}
                />
                <button class="press" onclick={() => makeHalf(cut)}>Make the job of the plug</button>
              </details>
            {/if}
            {#if cut.kind === 'profile' && view?.through}
              <p class="quiet">
                {cut.tabsAt.length
                  ? `${cut.tabsAt.length === 1 ? 'One tab' : `${cut.tabsAt.length} tabs`} put by hand; pull them along the line on the board, Delete takes one away.`
                  : 'Tabs lie on straight runs; pull one along the line on the board to put it elsewhere.'}
              </p>
              {#if cut.tabsAt.length}<button class="press" onclick={() => edit(id, 'Tabs found again', (c) => void (c.kind === 'profile' && (c.tabsAt = [])))}
                  >Place the tabs evenly again</button
                >{/if}
            {/if}
            {#if cut.kind === 'drill'}
              {#each cut.points as [x, y], k (k)}
                <p class="point">
                  Point at <span class="figure">{len(x, job.units)}, {len(y, job.units)}</span>
                  <button
                    class="press"
                    aria-label="Take away the point at {len(x, job.units)}, {len(y, job.units)}"
                    onclick={() => edit(id, 'Take away a point', (c) => void (c.kind === 'drill' && c.points.splice(k, 1)))}>Take away</button
                  >
                </p>
              {/each}
              <button class="press" onclick={() => addPoint(cut)}>Drill at a point on the board</button>
            {/if}
            <CutFeeds {session} {cut} />
            {#if note}<p class="caution" role="alert">{note}</p>{/if}
            <div class="row">
              <button class="press" disabled={index === 0} onclick={() => move(id, -1)}>Earlier</button>
              <button class="press" disabled={index === cuts.length - 1} onclick={() => move(id, 1)}>Later</button>
              {#if hasHalf(cut) && cut.kind !== 'vcarve'}<button class="press" onclick={() => makeHalf(cut)}>Make the job of the other half</button>{/if}
              <button class="press" onclick={() => remove(id)}>Delete this cut</button>
            </div>
          </div>
        {/if}
      </section>
    {/if}
  {/each}
</div>
{#if cuts.length === 0}
  <p class="quiet">No cut yet. A V-carve gives the words their shape, a pocket sinks a field, drilling makes holes, a profile cuts the sign out.</p>
{/if}
<div class="row">
  <button class="press" aria-expanded={adding} onclick={() => (adding = !adding)}>Add a cut…</button>
  <button class="press" onclick={() => (sheet = 'bits')}>Bits of this job…</button>
  <button class="press" onclick={() => (sheet = 'templates')}>Cut lists…</button>
</div>
{#if adding}
  <div class="row" role="group" aria-label="Kinds of cut">
    {#each KINDS as kind (kind)}
      {@const none = bitsFor(kind, job.bits).length === 0}
      <button class="press" disabled={none} title={none ? 'No bit of this job can make it: take one from the crib.' : undefined} onclick={() => add(kind)}
        >{TITLE[kind]}</button
      >
    {/each}
  </div>
{/if}
{#if sheet === 'templates'}{#await import('./cuts/Templates.svelte') then { default: Templates }}<Templates {session} onclose={() => (sheet = null)} />{/await}
{:else if sheet === 'bits'}{#await import('./cuts/BitSheet.svelte') then { default: BitSheet }}<BitSheet
      {session}
      first={opened ? job.cuts[opened].bit : null}
      onclose={() => (sheet = null)}
    />{/await}{/if}

<style>
  section {
    border-top: 1px solid var(--line);
    background: var(--sheet);
  }
  .title {
    display: flex;
    align-items: center;
    gap: 0.8rem;
    padding: 0.6rem 0;
  }
  .order {
    border: 1px solid var(--line-strong);
    border-radius: 50%;
    width: 1.9rem;
    height: 1.9rem;
    display: grid;
    place-items: center;
    flex: none;
  }
  .open .order {
    border-color: var(--accent);
    color: var(--accent);
  }
  .name {
    flex: 1;
    display: flex;
    justify-content: space-between;
    align-items: center;
    text-align: left;
  }
  small {
    display: block;
    color: var(--quiet);
  }
  .body {
    padding-bottom: 0.8rem;
  }
  details {
    border-top: 1px solid var(--line);
    padding: 0.15rem 0;
  }
  summary {
    padding: 0.35rem 0;
    cursor: pointer;
    font-size: 0.9rem;
  }
  .point {
    display: flex;
    gap: 0.5rem;
    align-items: center;
    justify-content: space-between;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem;
    padding-top: 0.6rem;
  }
</style>
