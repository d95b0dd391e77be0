/** What an arc may and may not do to a part, by a polygon test apart from the code it checks: rays and distances, nothing else. */
import type { Region } from '../geometry/index.ts';
import { FEED, type Toolpath } from '../toolpath/index.ts';

const rings = (regions: readonly Region[]) => regions.flatMap(({ outer, holes }) => [outer.xy, ...holes.map(({ xy }) => xy)]);
/** Is a place inside, by even and odd? */
export function within(regions: readonly Region[], x: number, y: number): boolean {
  let inside = false;
  for (const xy of rings(regions))
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2)
      if (xy[i + 1] > y !== xy[j + 1] > y && x < xy[i] + ((y - xy[i + 1]) / (xy[j + 1] - xy[i + 1])) * (xy[j] - xy[i])) inside = !inside;
  return inside;
}
/** How far a place is from the nearest edge, mm. */
export function away(regions: readonly Region[], x: number, y: number): number {
  let least = Infinity;
  for (const xy of rings(regions))
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const [dx, dy] = [xy[i] - xy[j], xy[i + 1] - xy[j + 1]];
      const t = Math.max(0, Math.min(1, ((x - xy[j]) * dx + (y - xy[j + 1]) * dy) / (dx * dx + dy * dy || 1)));
      least = Math.min(least, Math.hypot(xy[j] + t * dx - x, xy[j + 1] + t * dy - y));
    }
  return least;
}
/** Moves with the arc on, from and to. */
export function arcMoves({ kind, x, y, power }: Toolpath): [number, number, number, number][] {
  const out: [number, number, number, number][] = [];
  for (let i = 1; i < kind.length; i++)
    if (kind[i] === FEED && power && !Number.isNaN(power[i]) && (x[i] !== x[i - 1] || y[i] !== y[i - 1])) out.push([x[i - 1], y[i - 1], x[i], y[i]]);
  return out;
}
/** A point in every place along the arc's way where something could be wrong. */
export const samples = (path: Toolpath) =>
  arcMoves(path).flatMap(([ax, ay, bx, by]) => [0.02, 0.25, 0.5, 0.75, 0.98].map((f) => [ax + f * (bx - ax), ay + f * (by - ay)] as const));
