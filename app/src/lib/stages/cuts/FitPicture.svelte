<script lang="ts">
  /** The plug in its recess, from above: what is left between them shows as a gap. */
  import type { CutView } from '$lib/job/planner';
  import { CUTS } from '$lib/labels/cuts';

  let { fit }: { fit: NonNullable<CutView['fit']> } = $props();
  const W = 150;
  const H = 110;
  const path = (rings: Float64Array[]) =>
    rings.map((xy) => `M${Array.from({ length: xy.length / 2 }, (_, k) => `${xy[2 * k]} ${xy[2 * k + 1]}`).join('L')}Z`).join('');
  const box = $derived.by(() => {
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const xy of fit.recess)
      for (let i = 0; i < xy.length; i += 2) {
        [minX, maxX] = [Math.min(minX, xy[i]), Math.max(maxX, xy[i])];
        [minY, maxY] = [Math.min(minY, xy[i + 1]), Math.max(maxY, xy[i + 1])];
      }
    return { minX, minY, maxX, maxY };
  });
  const scale = $derived(Math.min((W - 12) / Math.max(1, box.maxX - box.minX), (H - 12) / Math.max(1, box.maxY - box.minY)));
</script>

<svg viewBox="0 0 {W} {H}" width={W} height={H} role="img" aria-label={CUTS.thePlugInItsRecess}>
  <rect class="fill-tertiary-200-800" width={W} height={H} />
  {#if fit.recess.length}
    <g
      transform="translate({W / 2 - (scale * (box.minX + box.maxX)) / 2} {H / 2 + (scale * (box.minY + box.maxY)) / 2}) scale({scale} {-scale})"
      fill-rule="evenodd"
    >
      <!-- A line round the recess, so that the finest gap is seen. -->
      <path class="fill-surface-950-50 stroke-surface-950-50" d={path(fit.recess)} stroke-width={2 / scale} />
      <path class="fill-surface-50-950" d={path(fit.plug)} />
    </g>
  {/if}
</svg>
