<script lang="ts">
  /** A sheet larger than the field: seams where they cross least, how the sheet is pushed on, and what is left out this time. */
  import { tileMove, tilesOf, type Tiles } from '@kerbe/core/job/tiles';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { len } from '$lib/ui/format';
  import { BOARD } from '$lib/labels/board';

  let { session }: { session: JobSession } = $props();
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const usable = $derived(job.machine.usable);
  const axis = $derived<'x' | 'y'>(job.board.width > usable.width || job.board.height <= usable.height ? 'x' : 'y');
  const larger = $derived(job.board.width > usable.width || job.board.height > usable.height);
  const tiles = $derived(tilesOf(job));
  let looking = $state(false);
  let why = $state<string | null>(null);
  /** Beside what burns a row needs a way to come to speed, on both sides, mm: what of the field is left for a tile. */
  const ROOM = 20;

  async function propose() {
    looking = true;
    why = null;
    try {
      const { seams } = await session.ask('seams', { axis, field: usable[axis === 'x' ? 'width' : 'height'] - 2 * ROOM });
      if (seams.length === 0) why = 'The sheet fits the field: it needs no tiles.';
      else session.edit(BOARD.burnItInTiles, (d) => void (d.tiles = { axis, seams, by: d.tiles?.by ?? 'stop', leftOut: [] }));
    } catch (error) {
      why = (error as Error).message;
    } finally {
      looking = false;
    }
  }
  const change = (label: string, edit: (tiles: Tiles) => void) => session.edit(label, (d) => d.tiles && edit(d.tiles));
  function burn(index: number, on: boolean) {
    change(on ? 'Burn a tile' : 'Leave a tile out', (t) => void (t.leftOut = on ? t.leftOut.filter((one) => one !== index) : [...t.leftOut, index].sort()));
  }
</script>

{#if larger || job.tiles}
  <h3>{BOARD.largerThanTheField}</h3>
  {#if !job.tiles}
    <p>
      The field is {len(usable.width, unit)} × {len(usable.height, unit)}. In tiles the sheet is burned part by part, and pushed on in between.
    </p>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={looking || session.plan === null} onclick={propose}
      >{looking ? BOARD.lookingForSeams : BOARD.burnItInTiles}</button
    >
  {:else}
    {#each job.tiles.seams as seam, k (k)}
      <LengthField
        label={BOARD.seam(k + 1, job.tiles.axis === 'x' ? 'left' : 'front')}
        value={seam}
        {unit}
        min={(job.tiles.seams[k - 1] ?? 0) + 1}
        max={(job.tiles.seams[k + 1] ?? (job.tiles.axis === 'x' ? job.board.width : job.board.height)) - 1}
        onchange={(mm) => change('Move a seam', (t) => void (t.seams[k] = mm))}
      />
    {/each}
    <Choice
      label={BOARD.aTileFindsTheOne}
      value={job.tiles.by}
      options={[
        { value: 'stop', label: BOARD.pushedAlongAStop },
        { value: 'marks', label: BOARD.byTwoCrossesOnThe },
      ]}
      onchange={(by) => change('How tiles meet', (t) => void (t.by = by))}
    />
    {#each tiles as tile (tile.index)}
      <label class="flex items-start gap-2 py-1 text-sm">
        <input class="checkbox mt-0.5" type="checkbox" checked={!tile.leftOut} onchange={(event) => burn(tile.index, event.currentTarget.checked)} />
        <span>
          {BOARD.tile(tile.index + 1, len(tile.from, unit), len(tile.to, unit))}
          <span class="block text-surface-600-400">{tile.leftOut ? BOARD.leftOutThisTime : `${tileMove(tile, (mm) => len(mm, unit))}.`}</span>
        </span>
      </label>
    {/each}
    <button class="btn preset-outlined-surface-300-700" disabled={looking || session.plan === null} onclick={propose}>{BOARD.lookForSeamsAgain}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => session.edit(BOARD.inOnePiece, (d) => void delete d.tiles)}>{BOARD.noTiles}</button>
  {/if}
  {#if why}<p class="caution">{why}</p>{/if}
{/if}
