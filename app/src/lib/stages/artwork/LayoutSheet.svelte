<script lang="ts">
  /** Pieces and copies of them laid out on the sheet: so many of each, so far apart, better and better for as long as one lets it. */
  import { onDestroy } from 'svelte';
  import { usualSpacing } from '@kerbe/core/nest/job';
  import { nameOf } from '$lib/art/fields';
  import type { JobSession } from '$lib/job/session.svelte';
  import { processOf } from '@kerbe/core/process';
  import { layOut, piecesOfJob, type LaidOut } from '$lib/stages/proof/advice';
  import Choice from '$lib/ui/Choice.svelte';
  import { len } from '$lib/ui/format';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { ARTWORK } from '$lib/labels/artwork';
  import { COMMON } from '$lib/labels/common';

  let { session, onclose }: { session: JobSession; onclose: () => void } = $props();
  // What is laid out is the job as it was when this was opened.
  // svelte-ignore state_referenced_locally
  const job = $state.snapshot(session.job) as typeof session.job;
  const unit = job.units;
  const sheet = processOf(job).header.lies.toLowerCase();
  const spacing = $state(usualSpacing(job));
  const TURNS = {
    any: { label: ARTWORK.inStepsOf45, turns: [0, 45, 90, 135, 180, 225, 270, 315] },
    quarter: { label: ARTWORK.inStepsOf90, turns: [0, 90, 180, 270] },
    half: { label: ARTWORK.by180OnlyKeepsThe, turns: [0, 180] },
    none: { label: COMMON.none, turns: [0] },
  };
  let turn = $state<keyof typeof TURNS>('quarter');
  let pieces = $state.raw<{ id: string; things: number }[] | null>(null);
  const copies = $state<Record<string, number>>({});
  let made = $state.raw<LaidOut | null>(null);
  /** Orders that were tried. */
  let tried = $state(0);
  let running = $state(false);
  let why = $state<string | null>(null);
  let stop = new AbortController();
  onDestroy(() => stop.abort());

  piecesOfJob(job, stop.signal).then(
    (found) => (pieces = found),
    (error: Error) => (why = error.message),
  );
  const many = $derived((pieces ?? []).reduce((sum, { id }) => sum + (copies[id] ?? 1), 0));

  async function start() {
    stop = new AbortController();
    const { signal } = stop;
    [made, tried, running, why] = [null, 0, true, null];
    try {
      const settings = { ...$state.snapshot(spacing), turns: TURNS[turn].turns, copies: $state.snapshot(copies) };
      await layOut(session.id, job, settings, signal, (told) => {
        tried = told.tried;
        if (told.better) made = told.better;
      });
    } catch (error) {
      if (!signal.aborted) why = (error as Error).message;
    }
    if (!signal.aborted || stop.signal === signal) running = false;
  }
  function halt() {
    stop.abort();
    running = false;
  }
  function take() {
    if (!made) return;
    const { items, itemOrder, cuts, outline } = made.job;
    session.edit(ARTWORK.layThePiecesOut, (d) => Object.assign(d, { items, itemOrder, cuts, outline }));
    onclose();
  }
  const path = (xy: readonly number[]) => {
    let d = '';
    for (let i = 0; i < xy.length; i += 2) d += `${i ? 'L' : 'M'}${xy[i].toFixed(1)} ${(job.board.height - xy[i + 1]).toFixed(1)}`;
    return `${d}Z`;
  };
</script>

<Sheet title={ARTWORK.layThePiecesOutOn(sheet)} wide {onclose}>
  <div class="grid grid-cols-[22rem_minmax(0,1fr)] gap-5 max-[900px]:grid-cols-1">
    <div class="text-sm">
      {#if pieces === null && !why}<p role="status">Looking at what is drawn…</p>
      {:else if pieces?.length === 0}<p>Nothing is drawn that could be laid out. What is locked, and guides, stay where they are.</p>
      {:else if pieces}
        <h3 class="pb-1 font-semibold">{ARTWORK.howManyOfEach}</h3>
        <div class="max-h-[30vh] overflow-y-auto">
          {#each pieces as { id, things } (id)}
            <NumberField
              label={nameOf(job.items[id])}
              unit={things > 1 ? ARTWORK.ofThings(things) : ''}
              value={copies[id] ?? 1}
              min={0}
              max={200}
              onchange={(count) => (copies[id] = count)}
            />
          {/each}
        </div>
        <LengthField label={ARTWORK.betweenPieces} value={spacing.gap} {unit} min={0} max={200} onchange={(gap) => (spacing.gap = gap)} />
        <LengthField label={ARTWORK.toTheEdgeOfThe(sheet)} value={spacing.margin} {unit} min={0} max={500} onchange={(margin) => (spacing.margin = margin)} />
        <Choice
          label={ARTWORK.rotation}
          value={turn}
          options={Object.entries(TURNS).map(([value, { label }]) => ({ value: value as keyof typeof TURNS, label }))}
          onchange={(v) => (turn = v)}
        />
      {/if}
    </div>
    <div>
      <svg class="max-h-[46vh] w-full" viewBox="-2 -2 {job.board.width + 4} {job.board.height + 4}" role="img" aria-label={ARTWORK.sheetWithPieces(sheet)}>
        <rect
          class="fill-surface-200-800 stroke-surface-950-50"
          width={job.board.width}
          height={job.board.height}
          stroke-width="1"
          vector-effect="non-scaling-stroke"
        />
        {#each made?.outlines ?? [] as xy, k (k)}<path
            class="fill-surface-50-950 stroke-primary-600-400"
            fill-opacity="0.6"
            stroke-width="1.2"
            vector-effect="non-scaling-stroke"
            d={path(xy)}
          />{/each}
      </svg>
      {#if made}
        <p class="pt-2" role="status">
          {made.nest.placed.length} of {many}
          {many === 1 ? 'piece lies' : 'pieces lie'} on it; {len(made.nest.used, unit)} of its {len(job.board.width, unit)} used, {Math.round(
            100 * made.nest.share,
          )} % of that in pieces.
        </p>
        {#if made.nest.left.length > 0}<p class="caution">
            There is no room for {made.nest.left.length}: {[...new Set(made.nest.left)].map((id) => nameOf(job.items[id])).join(', ')}. Take a larger {sheet},
            less space, or fewer; what finds no room is not in the job then.
          </p>{/if}
      {/if}
      {#if why}<p class="caution" role="alert">{why}</p>{/if}
    </div>
  </div>
  <div class="flex flex-wrap items-center gap-2 pt-3.5">
    {#if running}
      <button class="btn preset-outlined-surface-300-700" onclick={halt}>{ARTWORK.goodEnoughStopHere}</button>
      <span class="text-surface-600-400" role="status">looking for better, {tried} {tried === 1 ? 'order' : 'orders'} tried</span>
    {:else}
      <button
        class={made ? 'btn preset-outlined-surface-300-700' : 'btn preset-filled-brand px-4 py-2.5 font-semibold'}
        disabled={!pieces?.length || many === 0}
        onclick={start}>{made ? ARTWORK.layThemOutOnceMore : ARTWORK.layThemOut}</button
      >
    {/if}
    {#if made}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={take}>{ARTWORK.useThisLayout}</button>{/if}
    <button class="btn preset-outlined-surface-300-700" onclick={onclose}>{COMMON.cancel}</button>
  </div>
</Sheet>
