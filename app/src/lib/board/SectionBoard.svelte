<script lang="ts">
  import { tipOf } from '@kerbe/core/bits';
  /** A cut across the board, to scale, with the bit that stands deepest in it and the figures that matter. */
  import type { Job } from '@kerbe/core/job';
  import type { PlanView } from '$lib/job/planner';
  import { len } from '$lib/ui/format';

  interface Props {
    job: Job;
    plan: PlanView | null;
  }
  let { job, plan }: Props = $props();
  let along = $state<'x' | 'y'>('x');
  let share = $state(0.5);
  let focus = $state<number | null>(null);
  let exaggerate = $state(true);

  const across = $derived(along === 'x' ? job.board.height : job.board.width);
  const length = $derived(along === 'x' ? job.board.width : job.board.height);
  const place = $derived(share * across);
  const profile = $derived.by(() => {
    if (!plan) return new Float32Array(0);
    const { columns, rows, cell, levels } = plan.map;
    const data = levels[0].data;
    const fixed = Math.min((along === 'x' ? rows : columns) - 1, Math.max(0, Math.floor(place / cell)));
    const n = along === 'x' ? columns : rows;
    const out = new Float32Array(n);
    for (let i = 0; i < n; i++) out[i] = Math.max(-job.board.thickness, along === 'x' ? data[fixed * columns + i] : data[i * columns + fixed]);
    return out;
  });
  /** The groove under the pointer, or the deepest carved one that does not go through. */
  const groove = $derived.by(() => {
    const cell = plan?.map.cell ?? 1;
    const n = profile.length;
    if (n === 0) return null;
    let at = focus === null ? -1 : Math.min(n - 1, Math.max(0, Math.floor(focus / cell)));
    if (at < 0) {
      let low = -1e-3;
      for (let i = 0; i < n; i++)
        if (profile[i] < low && profile[i] > -job.board.thickness + 0.01) {
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
    return { from: from * cell, to: (to + 1) * cell, at: (deepest + 0.5) * cell, depth: -profile[deepest] };
  });
  const span = $derived(groove ? Math.max(40, (groove.to - groove.from) * 3) : length);
  const zoomed = $derived(exaggerate && groove !== null);
  const x0 = $derived(zoomed ? Math.max(0, Math.min(length - span, groove!.at - span / 2)) : 0);
  const x1 = $derived(zoomed ? Math.min(length, x0 + span) : length);
  const WIDTH = 1000;
  const scale = $derived(WIDTH / (x1 - x0));
  const HEIGHT = $derived(Math.max(260, Math.min(560, (job.board.thickness + 26) * scale)));
  const surface = $derived(Math.min(HEIGHT * 0.5, 22 * scale + 40));
  const line = $derived.by(() => {
    if (!plan) return '';
    const { cell } = plan.map;
    let d = '';
    for (let i = 0; i < profile.length; i++) {
      const x = (i + 0.5) * cell;
      if (x < x0 - cell || x > x1 + cell) continue;
      d += `${d ? 'L' : 'M'}${((x - x0) * scale).toFixed(2)} ${(surface - profile[i] * scale).toFixed(2)}`;
    }
    return d;
  });
  const bit = $derived.by(() => {
    if (!groove || !plan) return null;
    const cut =
      plan.cuts.find(({ bit, facts }) => (groove.depth >= job.board.thickness - 0.01 ? bit.kind === 'end' : bit.kind === 'v') && facts.moves > 0) ??
      plan.cuts[0];
    return cut?.bit ?? null;
  });
  const bitPath = $derived.by(() => {
    if (!bit || !groove) return '';
    const cx = (groove.at - x0) * scale;
    const tip = surface + groove.depth * scale;
    const r = (bit.diameter / 2) * scale;
    const point = tipOf(bit);
    const flat = point.flat * scale;
    const rise = point.tangent > 0 ? (r - flat) / point.tangent : 0;
    const roof = Math.max(4, tip - Math.max(rise, bit.fluteLength * scale));
    const shank = (bit.shank / 2) * scale;
    return `M${cx - flat} ${tip}L${cx + flat} ${tip}L${cx + r} ${tip - rise}L${cx + r} ${roof}L${cx + shank} ${roof}L${cx + shank} 0L${cx - shank} 0L${cx - shank} ${roof}L${cx - r} ${roof}L${cx - r} ${tip - rise}Z`;
  });
</script>

<div class="section">
  <div class="controls">
    <div role="group" aria-label="Direction of the section">
      <button class="press" class:on={along === 'x'} aria-pressed={along === 'x'} onclick={() => ((along = 'x'), (focus = null))}>Along the board</button>
      <button class="press" class:on={along === 'y'} aria-pressed={along === 'y'} onclick={() => ((along = 'y'), (focus = null))}>Across it</button>
    </div>
    <label>
      {along === 'x' ? 'From the front edge' : 'From the left edge'}
      <input type="range" min="0" max="1" step="0.002" bind:value={share} oninput={() => (focus = null)} />
      <span class="figure">{len(place, job.units)}</span>
    </label>
    <label class="tick"><input type="checkbox" bind:checked={exaggerate} /> Close up on one groove</label>
  </div>
  {#if !plan}
    <p class="quiet pad">The section appears as soon as the cuts are planned.</p>
  {:else}
    <svg
      viewBox="0 0 {WIDTH} {HEIGHT}"
      role="img"
      aria-label="Section through the board{groove
        ? `: groove ${len(groove.to - groove.from, job.units)} wide and ${len(groove.depth, job.units)} deep`
        : ': uncut here'}"
      onpointermove={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        if (!zoomed) focus = x0 + ((event.clientX - box.left) / box.width) * (x1 - x0);
      }}
    >
      <defs>
        <pattern id="grain" width="26" height="9" patternUnits="userSpaceOnUse"
          ><path d="M0 5q6-3 13 0t13 0" fill="none" stroke="var(--line-strong)" stroke-width="0.7" opacity="0.6" /></pattern
        >
      </defs>
      {#if bitPath}<path d={bitPath} fill="var(--quiet)" fill-opacity="0.22" stroke="var(--quiet)" stroke-width="1.2" />{/if}
      <path d="{line}L{WIDTH} {surface + job.board.thickness * scale}L0 {surface + job.board.thickness * scale}Z" fill="var(--wood)" />
      <path d="{line}L{WIDTH} {surface + job.board.thickness * scale}L0 {surface + job.board.thickness * scale}Z" fill="url(#grain)" />
      <path d={line} fill="none" stroke="var(--ink)" stroke-width="1.8" />
      {#if groove}
        {@const a = (groove.from - x0) * scale}
        {@const b = (groove.to - x0) * scale}
        {@const m = (groove.at - x0) * scale}
        {@const bottom = surface + groove.depth * scale}
        <path
          d="M{a} {surface - 4}V{surface - 20}M{b} {surface - 4}V{surface - 20}M{a} {surface - 14}H{b}"
          stroke="var(--accent)"
          stroke-width="1.4"
          fill="none"
        />
        <text x={Math.min(b + 8, WIDTH - 150)} y={surface - 10} class="dim">{len(groove.to - groove.from, job.units)} wide</text>
        <path d="M{m} {surface}V{bottom}" stroke="var(--accent)" stroke-width="1.2" stroke-dasharray="4 3" />
        <text x={Math.min(m + 8, WIDTH - 150)} y={Math.min(bottom + 20, HEIGHT - 8)} class="dim">{len(groove.depth, job.units)} deep</text>
      {/if}
    </svg>
    <p class="quiet pad">
      {#if groove}{bit?.name || 'The bit'} standing in the groove {zoomed ? 'that is deepest on this line' : 'under the pointer'}. Wood below: {len(
          Math.max(0, job.board.thickness - groove.depth),
          job.units,
        )}.
      {:else}Nothing is carved on this line. Move the slider.{/if}
    </p>
  {/if}
</div>

<style>
  .section {
    position: absolute;
    inset: 0;
    display: flex;
    flex-direction: column;
    background: var(--bed);
    padding-top: 3.4rem;
    overflow: auto;
  }
  .controls {
    display: flex;
    flex-wrap: wrap;
    gap: 0.5rem 1.2rem;
    align-items: center;
    padding: 0 1rem;
    font-size: 0.88rem;
  }
  .controls label {
    display: flex;
    gap: 0.5rem;
    align-items: center;
  }
  .on {
    border-color: var(--accent);
    box-shadow: inset 0 -2px 0 var(--accent);
  }
  svg {
    width: 100%;
    flex: 1;
    min-height: 0;
  }
  .dim {
    font-size: 17px;
    fill: var(--ink);
    font-weight: 600;
    font-variant-numeric: tabular-nums;
    paint-order: stroke;
    stroke: var(--bed);
    stroke-width: 4px;
  }
  .pad {
    padding: 0.4rem 1rem 0.8rem;
    font-size: 0.88rem;
  }
</style>
