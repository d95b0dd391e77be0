<script lang="ts">
  /** A bit from the side, to a scale shared with its neighbours. */
  import { bitName } from '@kerbe/core/bits';
  import type { Bit } from '@kerbe/core/job';
  import type { LengthUnit } from '@kerbe/core/length';
  import { silhouette, widthDrawn } from '@kerbe/core/bits/silhouette';

  let { bit, unit, scale = 2, height = 120 }: { bit: Bit; unit: LengthUnit; scale?: number; height?: number } = $props();
  const W = $derived(widthDrawn(bit) * scale + 8);
  const drawn = $derived(silhouette(bit, W / 2, height - 4, scale, 0));
</script>

<svg viewBox="0 0 {W} {height}" width={W} {height} role="img" aria-label={bitName(bit, unit)}>
  <path class="fill-surface-600-400 stroke-surface-600-400" d={drawn.shank} fill-opacity="0.15" />
  <path class="fill-surface-600-400 stroke-surface-950-50" d={drawn.cutting} fill-opacity="0.35" />
</svg>
