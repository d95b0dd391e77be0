<script lang="ts">
  /** Three questions a new piece is made from: what it is, its size, its material. */
  import { leftoversFor, type Leftover } from '@kerbe/core/board/materials';
  import { PIECES, PIECE_NAMES, type PieceName } from '@kerbe/core/artwork/begin';
  import type { Job } from '@kerbe/core/job';
  import { processOf, type ProcessName } from '@kerbe/core/process';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import Segments from '$lib/ui/Segments.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { num } from '$lib/ui/format';
  import Gauge from '$lib/ui/Gauge.svelte';
  import { materialsFor } from './materials';
  import type { ShopSettings } from './settings';
  import { SHOP } from '$lib/labels/shop';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    /** Jobs of the wall, the newest first: their boards are offered again. */
    jobs: readonly { id: string; name: string; picture: string | null; process: ProcessName; board: Job['board']; units: Job['units'] }[];
    /** Jobs that are kept to start others from. */
    templates: readonly { id: string; name: string; picture: string | null }[];
    shop: ShopSettings;
    /** One is begun from a template. */
    onbegin: (template: string) => void;
    /** A template is put away. */
    onaway: (template: { id: string; name: string }) => void;
    onclose: () => void;
  }
  let { jobs, templates, shop, onbegin, onaway, onclose }: Props = $props();
  let piece = $state<PieceName>('sign');
  // svelte-ignore state_referenced_locally
  const first = jobs.find(({ process: kind }) => kind === 'router');
  // svelte-ignore state_referenced_locally
  let units = $state(first?.units ?? shop.units);
  const board = $state({
    width: first?.board.width ?? 400,
    height: first?.board.height ?? 150,
    thickness: first?.board.thickness ?? 18,
    // svelte-ignore state_referenced_locally
    material: first?.board.material ?? shop.material,
  });
  const KINDS = ['router', 'torch', 'laser'] as const;
  const MADE_ON: Record<ProcessName, string> = { router: 'on the router', torch: 'on the plasma table', laser: 'on the laser' };
  const process = $derived(PIECES[piece].process);
  /** Another kind of machine, or a small plate, is made of other material: what is usual stands there at once, until somebody said otherwise. */
  const USUAL = {
    router: { ...board },
    plate: { width: 100, height: 60, thickness: 2, material: 'brass' },
    torch: { thickness: 3, material: 'mild steel' },
    laser: { width: 100, height: 70, thickness: 3, material: 'birch ply' },
  } satisfies Record<ProcessName | 'plate', Partial<typeof board>>;
  const usualOf = (name: PieceName) => (name === 'plate' ? 'plate' : PIECES[name].process);
  let touched = $state(false);
  function choose(name: PieceName) {
    if (usualOf(name) !== usualOf(piece) && (!touched || PIECES[name].process !== process)) Object.assign(board, USUAL[usualOf(name)]);
    piece = name;
  }
  function set(change: Partial<typeof board>) {
    touched = true;
    leftover = '';
    Object.assign(board, change);
  }
  /** Pieces that are left and large enough, the smallest first. */
  const pieces = $derived(leftoversFor(board, shop.leftovers).slice(0, 3));
  /** The piece it is made on, as long as nothing else is typed. */
  let leftover = $state('');
  function takePiece({ id, width, height, thickness, material }: Leftover) {
    set({ width, height, thickness, material });
    leftover = id;
  }
  const SHOWN = 4;
  /** The last boards, each size and wood once. */
  const last = $derived.by(() => {
    const seen: Record<string, (typeof jobs)[number]> = {};
    for (const job of jobs.filter((one) => one.process === process)) {
      const { width, height, thickness, material } = job.board;
      seen[[width, height, thickness, material].join('|')] ??= job;
    }
    return Object.values(seen).slice(0, SHOWN);
  });
  const same = (other: Job['board']) => (['width', 'height', 'thickness', 'material'] as const).every((key) => other[key] === board[key]);
  /** One line drawing for each: a V in a board, a board kept whole, a letter cut free, lines in a plate, an empty board; words through a plate, a plate on its slats; a tag with lines, a picture, an empty sheet. */
  const DRAWINGS: Record<PieceName, string> = {
    sign: 'M3 6h34v14H3zM7 2h26M12 9l4 8 4-8M24 9l4 8 4-8',
    panel: 'M3 4h34v16H3zM12 8l4 8 4-8M24 8l4 8 4-8',
    letters: 'M10 20 18 4h4l8 16h-5l-2-4h-6l-2 4z',
    plate: 'M3 4h34v16H3zM8 10h24M8 14h16',
    blank: 'M3 4h34v16H3z',
    steel: 'M3 4h34v16H3zM9 8v8M9 12h5M14 8v8M19 8v8h5M29 8v8M29 8h4M29 12h3M29 16h4',
    drawn: 'M3 4h34v16H3zM3 24v-4M12 24v-4M21 24v-4M30 24v-4',
    tag: 'M9 4h28v16H9L3 12zM10 12h.5M16 9h16M16 12h16M16 15h10',
    picture: 'M3 4h34v16H3zM6 16l8-8 6 6 4-3 7 7',
    sheet: 'M3 4h34v16H3zM3 4l3-2h34v16l-3 2',
  };
</script>

<Sheet title={SHOP.newSign} wide {onclose}>
  <form method="POST" action="?/new" class="grid gap-4">
    {#each Object.entries({ piece, units, leftover, ...board }) as [name, value] (name)}<input type="hidden" {name} {value} />{/each}
    <fieldset>
      <legend class="pb-1.5 font-semibold">{SHOP.whatIsIt}</legend>
      <Segments
        class="mb-2.5"
        label={SHOP.madeOn}
        value={process}
        options={KINDS.map((kind) => ({ value: kind, label: MADE_ON[kind] }))}
        onchange={(kind) => choose(PIECE_NAMES.find((one) => PIECES[one].process === kind)!)}
      />
      <div class="grid grid-cols-5 gap-2">
        {#each PIECE_NAMES.filter((one) => PIECES[one].process === process) as name (name)}
          <button
            type="button"
            class="btn grid content-start justify-items-start gap-1.5 preset-outlined-surface-300-700 py-3 text-left"
            aria-pressed={piece === name}
            onclick={() => choose(name)}
          >
            <svg viewBox="0 0 40 24" class="h-9 w-15 fill-none stroke-primary-600-400 stroke-[1.6]" aria-hidden="true"><path d={DRAWINGS[name]} /></svg>
            <b>{PIECES[name].title}</b>
            <small class="text-surface-600-400">{PIECES[name].says}</small>
          </button>
        {/each}
      </div>
    </fieldset>
    <div class="grid grid-cols-2 gap-6">
      <fieldset>
        <legend class="flex w-full items-center justify-between pb-1.5 font-semibold"
          >{SHOP.sizeOfThe(processOf({ process }).header.lies.toLowerCase())}
          <Segments
            label={COMMON.units}
            value={units}
            options={[
              { value: 'mm', label: 'mm' },
              { value: 'in', label: 'in' },
            ]}
            onchange={(unit) => (units = unit)}
          /></legend
        >
        <LengthField label={COMMON.widthLeftToRight} value={board.width} unit={units} min={5} max={20_000} onchange={(mm) => set({ width: mm })} />
        <LengthField label={COMMON.heightFrontToBack} value={board.height} unit={units} min={5} max={20_000} onchange={(mm) => set({ height: mm })} />
        <LengthField label={COMMON.thickness} value={board.thickness} unit={units} min={0.3} max={1000} onchange={(mm) => set({ thickness: mm })} />
        {#if process === 'torch'}<Gauge thickness={board.thickness} unit={units} onchange={(mm) => set({ thickness: mm })} />{/if}
        <Choice
          label={COMMON.material}
          value={board.material}
          options={materialsFor(process, board.material, shop.materials).map((m) => ({ value: m, label: m }))}
          onchange={(material) => set({ material })}
        />
      </fieldset>
      <fieldset>
        {#if pieces.length > 0}
          <legend class="pb-1.5 font-semibold">{COMMON.orAPieceThatIs}</legend>
          <ul class="grid gap-1 pb-3">
            {#each pieces as piece (piece.id)}
              <li>
                <button
                  type="button"
                  class="btn w-full justify-start preset-outlined-surface-300-700 text-left text-sm"
                  aria-pressed={leftover === piece.id}
                  onclick={() => takePiece(piece)}
                  >{piece.material}, {num(piece.width, units)} × {num(piece.height, units)} × {num(piece.thickness, units)}{piece.place
                    ? `: ${piece.place}`
                    : ''}{piece.gone ? SHOP.withOpenings : ''}</button
                >
              </li>
            {/each}
          </ul>
        {/if}
        <h3 class="pb-1.5 font-semibold">{SHOP.orLikeOneOfThe}</h3>
        <ul class="grid grid-cols-2 gap-2">
          {#each last as job (job.id)}
            <li>
              <button
                type="button"
                class="btn grid w-full content-start justify-items-start gap-1 preset-outlined-surface-300-700 text-left"
                aria-pressed={same(job.board)}
                onclick={() => {
                  const { width, height, thickness, material } = job.board;
                  set({ width, height, thickness, material });
                }}
              >
                {#if job.picture}<img class="h-14 max-w-full object-contain" src={job.picture} alt="" />{/if}
                <span class="text-sm"
                  >{job.board.material}, {num(job.board.width, units)} × {num(job.board.height, units)} × {num(job.board.thickness, units)}</span
                >
              </button>
            </li>
          {:else}<li class="text-surface-600-400">The boards of your jobs are offered here.</li>{/each}
        </ul>
      </fieldset>
    </div>
    {#if templates.length > 0}
      <fieldset>
        <legend class="pb-1.5 font-semibold">{SHOP.orFromATemplateOf}</legend>
        <ul class="flex gap-2 overflow-x-auto pb-1">
          {#each templates as template (template.id)}
            <li class="flex-none">
              <button
                type="button"
                class="btn grid w-40 justify-items-start gap-1 preset-outlined-surface-300-700 text-left"
                onclick={() => onbegin(template.id)}
              >
                {#if template.picture}<img class="h-14 max-w-full object-contain" src={template.picture} alt="" />{/if}
                <span class="max-w-full truncate text-sm">{template.name}</span>
              </button>
              <p class="flex gap-2.5 text-sm text-surface-600-400">
                <a href="/job/{template.id}">{COMMON.changeIt}</a>
                <button type="button" onclick={() => onaway(template)}>{SHOP.archive}</button>
              </p>
            </li>
          {/each}
        </ul>
      </fieldset>
    {/if}
    <p class="flex gap-2.5">
      <button class="btn preset-filled-brand px-4 py-2.5 font-semibold">{SHOP.makeIt}</button>
      <button type="button" class="btn preset-outlined-surface-300-700" onclick={onclose}>{COMMON.cancel}</button>
    </p>
  </form>
</Sheet>
