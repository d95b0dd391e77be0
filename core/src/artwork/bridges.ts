/** Bridges for islands: bars of wood left standing across a stroke, so that the middle of an O does not fall out. */
import { growBox, emptyBox, insideRegion, type Contour, type Region } from '../geometry/index.ts';

/** A bar: its middle, how long and wide it is, mm, and how it is turned, degrees. */
export interface Bar {
  x: number;
  y: number;
  length: number;
  width: number;
  angle: number;
}

/**
 * Bars from each hole of regions (what is removed) to the outline around it: `count` for each island, where the
 * stroke is thinnest, the others well round from the first.
 *
 * @param width of a bar, mm. (Common practice: about 3 mm in board or plate.)
 */
export const barsFor = (regions: readonly Region[], { width, count }: { width: number; count: number }): Bar[] =>
  regions.flatMap((region) => region.holes.flatMap((hole) => barsOf(region, hole, width, count)));

const WAYS = 72;

function barsOf(region: Region, hole: Contour, width: number, count: number): Bar[] {
  const box = growBox(emptyBox(), hole.xy);
  const [cx, cy] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
  const edges = [region.outer, ...region.holes];
  const ways: { angle: number; from: number; to: number }[] = [];
  for (let k = 0; k < WAYS; k++) {
    const angle = (2 * Math.PI * k) / WAYS;
    const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
    // Along the ray: the last way out of the island, then the first edge after it.
    const out = Math.max(0, ...crossings(hole, cx, cy, dx, dy));
    const next = Math.min(...edges.flatMap((edge) => crossings(edge, cx, cy, dx, dy)).filter((t) => t > out + 1e-6));
    if (Number.isFinite(next)) ways.push({ angle, from: out, to: next });
  }
  const chosen: typeof ways = [];
  const apart = (a: number, b: number) => Math.abs(Math.atan2(Math.sin(a - b), Math.cos(a - b)));
  for (const way of [...ways].sort((a, b) => a.to - a.from - (b.to - b.from)))
    if (chosen.length < count && chosen.every((other) => apart(other.angle, way.angle) > (1.4 * Math.PI) / Math.max(2, count))) chosen.push(way);
  return chosen.map(({ angle, from, to }) => bar(cx, cy, angle, from, to, width));
}

/** A bar along a ray, a little into the island and beyond the outline, so that nothing thin stays between. */
function bar(cx: number, cy: number, angle: number, from: number, to: number, width: number): Bar {
  const [a, b] = [from - width, to + width / 2];
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
  return { x: cx + (dx * (a + b)) / 2, y: cy + (dy * (a + b)) / 2, length: b - a, width, angle: (angle * 180) / Math.PI };
}

/** One bridge by hand: across the stroke a point lies in, the shortest way through that point. Null when it lies in none. */
export function barAt(regions: readonly Region[], [x, y]: [number, number], width: number): Bar | null {
  const region = regions.find((part) => insideRegion(part, x, y));
  if (!region) return null;
  const edges = [region.outer, ...region.holes];
  const reach = (angle: number) => Math.min(...edges.flatMap((edge) => crossings(edge, x, y, Math.cos(angle), Math.sin(angle))));
  let best = { angle: 0, back: 0, on: Infinity };
  for (let k = 0; k < WAYS / 2; k++) {
    const angle = (2 * Math.PI * k) / WAYS;
    const [on, back] = [reach(angle), reach(angle + Math.PI)];
    if (on + back < best.on + best.back) best = { angle, back, on };
  }
  if (!Number.isFinite(best.on + best.back)) return null;
  return bar(x, y, best.angle, -best.back + width / 2, best.on, width);
}

/** Distances along a ray at which it crosses a closed line. */
function crossings({ xy }: Contour, x: number, y: number, dx: number, dy: number): number[] {
  const out: number[] = [];
  const n = xy.length;
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
    const a = (xy[j] - x) * dy - (xy[j + 1] - y) * dx;
    const b = (xy[i] - x) * dy - (xy[i + 1] - y) * dx;
    if (a > 0 === b > 0) continue;
    const f = a / (a - b);
    const t = (xy[j] + f * (xy[i] - xy[j]) - x) * dx + (xy[j + 1] + f * (xy[i + 1] - xy[j + 1]) - y) * dy;
    if (t > 0) out.push(t);
  }
  return out;
}
