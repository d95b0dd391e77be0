<script lang="ts">
  /** A bit to scale in the groove it cuts. */
  import type { Bit } from '@kerbe/core/job';
  import { len } from '$lib/ui/format';
  import type { LengthUnit } from '@kerbe/core/length';
  import { bitName } from '@kerbe/core/bits';
  import { groove, silhouette } from '@kerbe/core/bits/silhouette';
  import { DRAWING } from '$lib/labels/drawing';

  let { bit, depth, thickness, unit }: { bit: Bit; depth: number; thickness: number; unit: LengthUnit } = $props();
  const W = 150;
  const H = 96;
  const scale = $derived(Math.min(70 / Math.max(bit.diameter, 6), 52 / Math.max(depth, thickness, 8)));
  const surface = $derived(H - 10 - Math.max(thickness, depth) * scale);
  const body = $derived(silhouette(bit, W / 2, surface + depth * scale, scale, 0));
</script>

<svg viewBox="0 0 {W} {H}" width={W} height={H} role="img" aria-label={DRAWING.deepInTheBoard(bitName(bit, unit), len(depth, unit))}>
  <path
    class="fill-tertiary-200-800 stroke-surface-300-700"
    d="M0 {surface}L{groove(bit, depth, W / 2, surface, scale)}L{W} {surface}V{surface + thickness * scale}H0Z"
  />
  <path class="fill-surface-600-400 stroke-surface-600-400" d={body.shank} fill-opacity="0.12" />
  <path class="fill-surface-600-400 stroke-surface-600-400" d={body.cutting} fill-opacity="0.25" />
</svg>
