/**
 * Tabs: short places of a through cut left standing, so that the part stays in the board. They lie
 * on straight runs away from corners, where they are easily sanded off (common practice), or where a
 * person put them.
 */
import { emptyBox, growBox, type ClosedLine } from '../../geometry/index.ts';
import type { Nearby } from '../nearby.ts';

/** From and to along the line of the bit's middle, mm. */
export type Gap = [number, number];

/**
 * Places tabs evenly, each shifted to the straightest place near its turn.
 *
 * @param width of the gap in the bit's line: the tab and the bit
 * @param margin straight line wanted on either side
 */
export function evenTabs(line: ClosedLine, count: number, width: number, margin: number): Gap[] {
  const gaps: Gap[] = [];
  if (width * count > 0.8 * line.length) count = Math.floor((0.8 * line.length) / width);
  const spacing = line.length / Math.max(1, count);
  const step = Math.max(0.25, line.length / 2000);
  for (let k = 0; k < count; k++) {
    const target = (k + 0.5) * spacing;
    let best = target;
    let bestScore = -Infinity;
    for (let shift = 0; shift <= spacing * 0.4; shift += step)
      for (const s of [target + shift, target - shift]) {
        if (s - width / 2 < 0.5 || s + width / 2 > line.length - 0.5) continue;
        const score = Math.min(line.straightAround(s) - width / 2, margin) - shift / line.length;
        if (score > bestScore + 1e-12) [best, bestScore] = [s, score];
      }
    if (bestScore > -Infinity) addGap(gaps, [best - width / 2, best + width / 2]);
  }
  return gaps;
}

/** Places tabs as near as they can be to given points; points far from the line are another line's. */
export function tabsNear(line: ClosedLine, points: readonly (readonly [number, number])[], width: number, reach: number): Gap[] {
  const gaps: Gap[] = [];
  const places = points.map(([x, y]) => line.nearest(x, y)).filter(({ distance }) => distance <= reach);
  for (const { s } of places.sort((a, b) => a.s - b.s)) {
    if (line.length <= width + 1) continue;
    // Not over the place where the line begins: the bit comes down there.
    const at = Math.min(line.length - 0.5 - width / 2, Math.max(0.5 + width / 2, s));
    addGap(gaps, [at - width / 2, at + width / 2]);
  }
  return gaps;
}

/** Places along a line that are looked at for what it passes, mm apart. */
const LOOK = 0.25;

/** Gaps and those that tabs beside it ask for: wherever else the bit on this line would touch one. @param places all over the tabs */
export function withGaps(line: ClosedLine, gaps: readonly Gap[], places: Nearby<[number, number]>, half: number, rise: number): Gap[] {
  const { minX, minY, maxX, maxY } = growBox(emptyBox(), line.xy);
  const reach = Math.max(maxX - minX, maxY - minY) / 2 + half;
  const near = places.within((minX + maxX) / 2, (minY + maxY) / 2, reach).filter(([x, y]) => line.nearest(x, y).distance < half - 1e-3);
  if (near.length === 0) return [...gaps];
  const steps = Math.ceil(line.length / LOOK);
  const step = line.length / steps;
  const out: Gap[] = [...gaps];
  let last: Gap | null = null;
  for (let k = 0; k <= steps; k++) {
    // Its own tabs it is lifted over already.
    if (gaps.some(([from, to]) => k * step >= from && k * step <= to)) continue;
    const [x, y] = line.at(k * step);
    if (!near.some(([px, py]) => Math.hypot(px - x, py - y) < half - 1e-3)) continue;
    // Ramps lie outside what must not be touched.
    const gap: Gap = [Math.max(0, (k - 1) * step - rise), Math.min(line.length, (k + 1) * step + rise)];
    if (last && gap[0] <= last[1]) last[1] = gap[1];
    else out.push((last = gap));
  }
  return out.sort((a, b) => a[0] - b[0]);
}

/** Two tabs never touch. */
function addGap(gaps: Gap[], gap: Gap): void {
  if (gaps.length === 0 || gap[0] > gaps[gaps.length - 1][1] + 1) gaps.push(gap);
}

/**
 * Height that a tab asks of the bit at a place along the line, z; -Infinity where there is none.
 *
 * @param rise length over which a ramped tab rises at either end; zero for a square one
 */
export function tabHeight(gaps: readonly Gap[], s: number, low: number, high: number, rise: number): number {
  let height = -Infinity;
  for (const [from, to] of gaps) {
    if (s < from || s > to) continue;
    height = Math.max(height, rise <= 0 ? high : low + (high - low) * Math.min(1, (s - from) / rise, (to - s) / rise));
  }
  return height;
}
