/** A cut of an arc seen from its end: where a line across the plate meets its kerf, and how its two walls stand. */
import type { PlannedCut } from '../planned/cut.ts';
import { arcWays } from '../planned/pieces.ts';

export interface KerfCrossing {
  /** Where its two walls meet the line at the top of the plate and at its underside, mm along the line: the square wall first. */
  square: [top: number, under: number];
  leaning: [top: number, under: number];
}

/** The wall on the far side of the swirl leans so far, degrees. (From memory; plate, height and wear decide.) */
export const LEANS = 5;
/** Nothing meets under the plate: so much of a kerf stays open. */
const STAYS = 0.15;

/**
 * Kerfs along a line from one place of the plate to another, in the order of the line. The swirl leaves the wall on the right of
 * the way square - of a left-hand one, on the left - and the other leaning in. (Common practice.)
 *
 * @param thickness of the plate, mm
 */
export function kerfsAlong(cuts: readonly PlannedCut[], thickness: number, from: readonly [number, number], to: readonly [number, number]): KerfCrossing[] {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  if (length < 1e-9) return [];
  const [ux, uy] = [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
  const out: KerfCrossing[] = [];
  for (const { torch, path, bit } of cuts) {
    if (!torch) continue;
    const right = bit.kind === 'nozzle' && bit.swirl === 'left' ? -1 : 1;
    for (const way of arcWays(path))
      for (let i = 2; i < way.length; i += 2) {
        const [ax, ay, bx, by] = [way[i - 2] - from[0], way[i - 1] - from[1], way[i] - from[0], way[i + 1] - from[1]];
        // Along the line, and off it to its left.
        const [a, b] = [ux * ay - uy * ax, ux * by - uy * bx];
        if (a > 0 === b > 0) continue;
        const f = a / (a - b);
        const at = ux * (ax + f * (bx - ax)) + uy * (ay + f * (by - ay));
        if (at < 0 || at > length) continue;
        const slant = Math.abs(a - b) / Math.hypot(bx - ax, by - ay);
        const half = torch.kerf / 2 / Math.max(0.05, slant);
        const leans = Math.min((thickness * Math.tan((LEANS * Math.PI) / 180)) / Math.max(0.05, slant), 2 * half * (1 - STAYS));
        // Going over to the left of the line, what is on the right of the way lies farther along it.
        const side = (b > a ? 1 : -1) * right;
        out.push({ square: [at + side * half, at + side * half], leaning: [at - side * half, at - side * (half - leans)] });
      }
  }
  return out.sort((p, q) => p.square[0] - q.square[0]);
}
