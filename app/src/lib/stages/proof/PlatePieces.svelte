<script lang="ts">
  /** What becomes of the plate: pieces by how they lie when they come free, drawn over the slats and counted with area and weight. */
  import { duration, weight } from '$lib/ui/format';
  import { boardThickness, type Job } from '@kerbe/core/job';
  import { boardArea } from '@kerbe/core/board';
  import { weightOf } from '@kerbe/core/board/gauge';
  import type { PieceView } from '$lib/job/planner';
  import { PROOF } from '$lib/labels/proof';
  import { COMMON } from '$lib/labels/common';

  let { job, pieces }: { job: Job; pieces: readonly PieceView[] } = $props();
  const LIES = [
    { lies: 'free', says: 'lie on the slats', tone: 'fill-tertiary-300-700' },
    { lies: 'held', says: 'stay held', tone: 'fill-surface-300-700' },
    { lies: 'tips', says: 'tip up', tone: 'fill-warning-600-400' },
    { lies: 'falls', says: 'fall through the slats', tone: 'fill-surface-200-800' },
  ] as const;
  const parts = $derived(pieces.filter(({ part }) => part));
  const scrap = $derived(pieces.filter(({ part }) => !part));
  const area = (mm2: number) => (job.units === 'in' ? `${(mm2 / 645.16).toFixed(1)} in²` : `${(mm2 / 100).toFixed(0)} cm²`);
  const sum = (list: readonly PieceView[], key: 'area' | 'weight' | 'seconds') => list.reduce((total, one) => total + one[key], 0);
  const rows = $derived(
    [parts, scrap].flatMap((list) =>
      LIES.flatMap(({ lies, says }) => {
        const those = list.filter((one) => one.lies === lies);
        return those.length > 0 ? [{ what: list === parts ? 'Parts' : 'Scrap', says, those }] : [];
      }),
    ),
  );
  const slats = $derived(job.board.slats);
  const lines = $derived.by(() => {
    if (!slats) return [];
    const [size, length] = slats.along === 'y' ? [job.board.width, job.board.height] : [job.board.height, job.board.width];
    const first = Math.ceil((0 - slats.first) / slats.pitch);
    return Array.from({ length: Math.max(0, Math.min(500, Math.floor((size - slats.first) / slats.pitch) - first + 1)) }, (_, k) => ({
      at: slats.first + (first + k) * slats.pitch,
      length,
    }));
  });
  const toneOf = ({ part, lies }: PieceView) => (part ? 'fill-surface-600-400' : LIES.find((one) => one.lies === lies)!.tone);
  const outline = (rings: readonly Float64Array[]) =>
    rings.map((xy) => `M${Array.from({ length: xy.length / 2 }, (_, k) => `${xy[2 * k].toFixed(2)} ${xy[2 * k + 1].toFixed(2)}`).join('L')}Z`).join('');
  const plate = $derived(boardArea(job.board));
  const left = $derived(1 - sum(parts, 'area') / Math.max(1, plate));
</script>

<h2>{PROOF.whatBecomesOfThePlate}</h2>
<svg viewBox="0 0 {job.board.width} {job.board.height}" class="max-h-56 w-full" role="img" aria-label={PROOF.thePlateAfterTheCut}>
  <g transform="matrix(1 0 0 -1 0 {job.board.height})">
    {#each lines as { at, length } (at)}
      {#if slats?.along === 'y'}<line x1={at} x2={at} y1="0" y2={length} stroke-width={slats.thick} class="stroke-surface-950-50 opacity-40" />
      {:else}<line y1={at} y2={at} x1="0" x2={length} stroke-width={slats?.thick} class="stroke-surface-950-50 opacity-40" />{/if}
    {/each}
    {#each pieces as piece, k (k)}
      <!-- What falls is drawn lower and pale; what tips has a raised edge. -->
      <path
        d={outline(piece.rings)}
        fill-rule="evenodd"
        transform={piece.lies === 'falls' ? 'translate(2 -4)' : undefined}
        class={[toneOf(piece), piece.lies === 'falls' ? 'opacity-45' : 'opacity-90', piece.lies === 'tips' && 'stroke-error-600-400 stroke-2']}
      />
    {/each}
  </g>
</svg>
<table class="table tabular-nums [&_:is(td,th):not(:nth-child(-n+2))]:whitespace-nowrap [&_:is(td,th):not(:nth-child(-n+2))]:text-right">
  <thead><tr><th></th><th>{PROOF.whenCut}</th><th>{PROOF.pieces}</th><th>{PROOF.area}</th><th>{PROOF.weight}</th><th>{COMMON.time}</th></tr></thead>
  <tbody>
    {#each rows as { what, says, those } (`${what} ${says}`)}
      <tr
        ><th class="text-left">{what}</th><td>{says}</td><td>{those.length}</td><td>{area(sum(those, 'area'))}</td><td
          >{weight(sum(those, 'weight'), job.units)}</td
        ><td>{sum(those, 'seconds') > 0 ? duration(sum(those, 'seconds')) : ''}</td></tr
      >
    {/each}
  </tbody>
</table>
<p class="text-surface-600-400">
  The plate weighs {weight(weightOf(plate, boardThickness(job.board), job.board.material), job.units)}; {Math.round(100 * left)} % of it is not in a part.
</p>
