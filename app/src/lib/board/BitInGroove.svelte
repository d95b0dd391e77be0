<script lang="ts">
  /** A bit to scale in the groove it cuts. */
  import { tipOf } from '@kerbe/core/bits';
  import type { Bit } from '@kerbe/core/job';
  import { len } from '$lib/ui/format';
  import type { LengthUnit } from '@kerbe/core/length';

  let { bit, depth, thickness, unit }: { bit: Bit; depth: number; thickness: number; unit: LengthUnit } = $props();
  const W = 150;
  const H = 96;
  const scale = $derived(Math.min(70 / Math.max(bit.diameter, 6), 52 / Math.max(depth, thickness, 8)));
  const surface = $derived(H - 10 - Math.max(thickness, depth) * scale);
  const shape = $derived.by(() => {
    const r = (bit.diameter / 2) * scale;
    const tip = surface + depth * scale;
    const point = tipOf(bit);
    const flat = point.flat * scale;
    const rise = point.tangent > 0 ? (r - flat) / point.tangent : 0;
    const m = W / 2;
    return {
      body: `M${m - flat} ${tip}H${m + flat}L${m + r} ${tip - rise}V0H${m - r}V${tip - rise}Z`,
      tip,
      r,
      half: point.tangent > 0 ? Math.min(r, flat + depth * scale * point.tangent) : r,
      flat,
    };
  });
</script>

<svg viewBox="0 0 {W} {H}" width={W} height={H} role="img" aria-label="{bit.name || 'Bit'} {len(depth, unit)} deep in the board">
  <path
    d="M0 {surface}H{W / 2 - Math.min(shape.half, shape.r)}L{W / 2 - shape.flat} {shape.tip}H{W / 2 + shape.flat}L{W / 2 +
      Math.min(shape.half, shape.r)} {surface}H{W}V{surface + thickness * scale}H0Z"
    fill="var(--wood)"
    stroke="var(--line-strong)"
  />
  <path d={shape.body} fill="var(--quiet)" fill-opacity="0.25" stroke="var(--quiet)" />
</svg>
