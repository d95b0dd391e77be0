<script lang="ts">
  /** A cut through the board along any line, to scale, with the bit that stands deepest in it and the figures that matter. */
  import { isPointed, isStraight } from '@kerbe/core/bits';
  import { silhouette } from '@kerbe/core/bits/silhouette';
  import type { Job } from '@kerbe/core/job';
  import type { KerfCrossing } from '@kerbe/core/proof';
  import { sectionAlong } from '@kerbe/core/proof/measure';
  import type { BoardMap, PlanView } from '$lib/job/planner';
  import { len } from '$lib/ui/format';
  import SectionLine, { type Line } from './SectionLine.svelte';
  import Segments from '$lib/ui/Segments.svelte';
  import { DRAWING } from '$lib/labels/drawing';
  import { COMMON } from '$lib/labels/common';

  interface Props {
    job: Job;
    plan: PlanView | null;
    map: BoardMap | null;
    line: Line | null;
    online: (line: Line) => void;
    /** Where a line meets the kerfs of an arc. */
    kerfs: (line: Line) => Promise<KerfCrossing[]>;
  }
  let { job, plan, map, line: chosen, online, kerfs }: Props = $props();
  const torch = $derived(job.process === 'torch');
  let walls = $state.raw<KerfCrossing[]>([]);
  $effect(() => {
    if (!torch || !plan) return void (walls = []);
    const line = { from: [...cutLine.from] as [number, number], to: [...cutLine.to] as [number, number] };
    // Asked of an older plan, or of another line: the next answer is on its way.
    kerfs(line).then(
      (found) => (walls = found),
      () => (walls = []),
    );
  });
  let focus = $state<number | null>(null);
  let exaggerate = $state(true);

  const middle = $derived<Line>({ from: [0, job.board.height / 2], to: [job.board.width, job.board.height / 2] });
  const cutLine = $derived(chosen ?? middle);
  const length = $derived(Math.hypot(cutLine.to[0] - cutLine.from[0], cutLine.to[1] - cutLine.from[1]));
  const level = $derived(cutLine.from[1] === cutLine.to[1]);
  const upright = $derived(cutLine.from[0] === cutLine.to[0]);
  const preset = $derived(level && !upright ? 'x' : upright ? 'y' : null);
  /** Along the board or across it, at a share of the other side. */
  function straight(along: 'x' | 'y', share: number) {
    const { width, height } = job.board;
    focus = null;
    online(along === 'x' ? { from: [0, share * height], to: [width, share * height] } : { from: [share * width, 0], to: [share * width, height] });
  }
  /** Heights along the line, evenly spaced, and how far apart they are. */
  const profile = $derived.by(() => {
    if (!map || length < 1e-6) return new Float32Array(0);
    const pairs = sectionAlong(map, cutLine.from, cutLine.to);
    return Float32Array.from({ length: pairs.length / 2 }, (_, k) => Math.max(-job.board.thickness, pairs[2 * k + 1]));
  });
  const step = $derived(profile.length > 1 ? length / (profile.length - 1) : 1);
  /** The groove under the pointer, or the deepest carved one that does not go through. */
  const groove = $derived.by(() => {
    const n = profile.length;
    if (n === 0) return null;
    let at = focus === null ? -1 : Math.min(n - 1, Math.max(0, Math.round(focus / step)));
    if (at < 0) {
      let low = -1e-3;
      for (let i = 0; i < n; i++)
        if (profile[i] < low && (torch || profile[i] > -job.board.thickness + 0.01)) {
          low = profile[i];
          at = i;
        }
    }
    if (at < 0 || profile[at] > -1e-3) return null;
    let from = at;
    let to = at;
    while (from > 0 && profile[from - 1] < -1e-3) from--;
    while (to < n - 1 && profile[to + 1] < -1e-3) to++;
    let deepest = at;
    for (let i = from; i <= to; i++) if (profile[i] < profile[deepest]) deepest = i;
    return { from: (from - 0.5) * step, to: (to + 0.5) * step, at: deepest * step, depth: -profile[deepest] };
  });
  /** The kerf that the close-up is of. */
  const kerf = $derived(
    groove && walls.find(({ square, leaning }) => Math.abs((square[0] + leaning[0]) / 2 - groove.at) < (groove.to - groove.from) / 2 + 0.5),
  );
  const wide = $derived(kerf ? Math.abs(kerf.square[0] - kerf.leaning[0]) : groove ? groove.to - groove.from : 0);
  const solid = $derived(torch ? 'fill-surface-400-600' : 'fill-tertiary-200-800');
  const span = $derived(groove ? Math.max(40, (groove.to - groove.from) * 3) : length);
  const zoomed = $derived(exaggerate && groove !== null);
  const x0 = $derived(zoomed ? Math.max(0, Math.min(length - span, groove!.at - span / 2)) : 0);
  const x1 = $derived(zoomed ? Math.min(length, x0 + span) : length);
  const WIDTH = 1000;
  const scale = $derived(WIDTH / (x1 - x0));
  const HEIGHT = $derived(Math.max(260, Math.min(560, (job.board.thickness + 26) * scale)));
  const surface = $derived(Math.min(HEIGHT * 0.5, 22 * scale + 40));
  const surfaceLine = $derived.by(() => {
    let d = '';
    for (let i = 0; i < profile.length; i++) {
      const x = i * step;
      if (x < x0 - step || x > x1 + step) continue;
      d += `${d ? 'L' : 'M'}${((x - x0) * scale).toFixed(2)} ${(surface - profile[i] * scale).toFixed(2)}`;
    }
    return d;
  });
  const bit = $derived.by(() => {
    if (!groove || !plan) return null;
    const cut =
      plan.cuts.find(({ bit, facts }) => (groove.depth >= job.board.thickness - 0.01 ? isStraight(bit) : isPointed(bit)) && facts.moves > 0) ?? plan.cuts[0];
    return cut?.bit ?? null;
  });
  const bitPath = $derived.by(() => {
    if (!bit || !groove) return '';
    const cx = (groove.at - x0) * scale;
    const tip = surface + groove.depth * scale;
    const { cutting, shank } = silhouette(bit, cx, tip, scale, 0);
    return shank + cutting;
  });
</script>

<div class="inset-0 overflow-auto absolute flex flex-col bg-surface-100-900 pt-13.5">
  <div class="px-4 flex flex-wrap gap-y-2 gap-x-5 items-center text-sm">
    <Segments
      label={DRAWING.directionOfTheSection}
      value={preset}
      options={[
        { value: 'x', label: DRAWING.alongTheBoard },
        { value: 'y', label: DRAWING.acrossIt },
      ]}
      onchange={(way) => straight(way, 0.5)}
    />
    {#if preset}
      {@const across = preset === 'x' ? job.board.height : job.board.width}
      {@const place = preset === 'x' ? cutLine.from[1] : cutLine.from[0]}
      <label class="gap-2 flex items-center whitespace-nowrap">
        {preset === 'x' ? COMMON.fromTheFrontEdge : COMMON.fromTheLeftEdge}
        <input
          class="input"
          type="range"
          min="0"
          max="1"
          step="0.002"
          value={place / across}
          oninput={(event) => straight(preset === 'x' ? 'x' : 'y', Number(event.currentTarget.value))}
        />
        <span class="figure">{len(place, job.units)}</span>
      </label>
    {:else}<span class="figure">{len(length, job.units)} long</span>{/if}
    <label class="gap-2 flex items-center"><input class="checkbox" type="checkbox" bind:checked={exaggerate} /> {DRAWING.closeUpOnOneGroove}</label>
  </div>
  {#if !plan || !map}
    <p class="px-4 pt-1.5 pb-3.5 text-sm">The section appears as soon as the cuts are planned.</p>
  {:else}
    <svg
      class="w-full flex-1 min-h-0"
      viewBox="0 0 {WIDTH} {HEIGHT}"
      role="img"
      aria-label={DRAWING.sectionThroughTheBoard(
        groove ? `: groove ${len(groove.to - groove.from, job.units)} wide and ${len(groove.depth, job.units)} deep` : ': uncut here',
      )}
      onpointermove={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        if (!zoomed) focus = x0 + ((event.clientX - box.left) / box.width) * (x1 - x0);
      }}
    >
      <defs>
        <pattern id="grain" width="26" height="9" patternUnits="userSpaceOnUse"
          ><path class="stroke-surface-300-700" d="M0 5q6-3 13 0t13 0" fill="none" stroke-width="0.7" opacity="0.6" /></pattern
        >
      </defs>
      {#if bitPath && !torch}<path class="fill-surface-600-400 stroke-surface-600-400" d={bitPath} fill-opacity="0.22" stroke-width="1.2" />{/if}
      <path class={solid} d="{surfaceLine}L{WIDTH} {surface + job.board.thickness * scale}L0 {surface + job.board.thickness * scale}Z" />
      {#if !torch}<path d="{surfaceLine}L{WIDTH} {surface + job.board.thickness * scale}L0 {surface + job.board.thickness * scale}Z" fill="url(#grain)" />{/if}
      <path class="stroke-surface-950-50" d={surfaceLine} fill="none" stroke-width="1.8" />
      {#each walls as { leaning }, k (k)}
        {@const [top, under] = leaning.map((at) => (at - x0) * scale)}
        <path class={solid} d="M{top} {surface}V{surface + job.board.thickness * scale}H{under}Z" />
        <path class="stroke-surface-950-50" d="M{top} {surface}L{under} {surface + job.board.thickness * scale}" stroke-width="1.8" />
      {/each}
      {#if groove}
        {@const a = (groove.from - x0) * scale}
        {@const b = (groove.to - x0) * scale}
        {@const m = (groove.at - x0) * scale}
        {@const bottom = surface + groove.depth * scale}
        <path
          class="stroke-primary-600-400"
          d="M{a} {surface - 4}V{surface - 20}M{b} {surface - 4}V{surface - 20}M{a} {surface - 14}H{b}"
          stroke-width="1.4"
          fill="none"
        />
        <text
          x={Math.min(b + 8, WIDTH - 150)}
          y={surface - 10}
          class="text-lg fill-surface-950-50 font-semibold tabular-nums [paint-order:stroke] stroke-surface-100-900 stroke-[4px]"
          >{len(wide, job.units)} wide</text
        >
        <path class="stroke-primary-600-400" d="M{m} {surface}V{bottom}" stroke-width="1.2" stroke-dasharray="4 3" />
        <text
          x={Math.min(m + 8, WIDTH - 150)}
          y={Math.min(bottom + 20, HEIGHT - 8)}
          class="text-lg fill-surface-950-50 font-semibold tabular-nums [paint-order:stroke] stroke-surface-100-900 stroke-[4px]"
          >{len(groove.depth, job.units)} deep</text
        >
      {/if}
    </svg>
    <p class="px-4 pt-1.5 pb-3.5 text-sm">
      {#if torch && kerf}
        A kerf of {len(Math.abs(kerf.square[0] - kerf.leaning[0]), job.units)} at the top and {len(Math.abs(kerf.square[1] - kerf.leaning[1]), job.units)} underneath:
        the wall of the part is square, the one in the scrap leans in. How far decide plate, height and nozzle; it is drawn as is usual.
      {:else if torch}No kerf is on this line. Move it.
      {:else if groove}{bit?.name || 'The bit'} standing in the groove {zoomed ? 'that is deepest on this line' : 'under the pointer'}. Wood below: {len(
          Math.max(0, job.board.thickness - groove.depth),
          job.units,
        )}.
      {:else}Nothing is carved on this line. Move it.{/if}
    </p>
    <SectionLine {job} {plan} line={cutLine} {online} />
  {/if}
</div>
