/** Rows of burned dots: overscan before and after, both ways or one, gaps crossed quickly. */
import type { BeamWriter } from './beam.ts';

export interface RowPlan {
  /** Dark way before and after each run, so that it burns at constant speed, mm. */
  overscan: number;
  bothWays: boolean;
  /** How far a beam is late at this feed, mm: rows of one way are moved forward by it. */
  late: number;
}

/**
 * The way a carriage needs to come to speed: v²/(2a). (Derived.)
 *
 * @param feed mm/min; @param acceleration mm/s²; @example overscanOf(6000, 2000) // 2.5
 */
export const overscanOf = (feed: number, acceleration: number): number => (feed / 60) ** 2 / (2 * acceleration);

/** Gaps longer than this many overscans, and than this, mm, are crossed rapidly. */
const CROSS = { overscans: 4, least: 10 };

/** A stretch of a row at one power: from and to along it, mm. */
export interface Stretch {
  from: number;
  to: number;
  power: number;
}

/**
 * Burns one row.
 *
 * @param stretches along the row, ascending; dark between them
 * @param at the point so far along the row
 * @param back it is run from its end
 */
export function burnRow(
  writer: BeamWriter,
  stretches: readonly Stretch[],
  at: (u: number) => [number, number],
  back: boolean,
  { overscan, late }: RowPlan,
): void {
  if (stretches.length === 0) return;
  const way = back ? [...stretches].reverse().map(({ from, to, power }) => ({ from: to, to: from, power })) : stretches;
  const sign = back ? -1 : 1;
  const point = (u: number) => at(u + sign * late);
  const cross = Math.max(CROSS.least, CROSS.overscans * overscan);
  let here: number | null = null;
  for (const { from, to, power } of way) {
    if (here === null || Math.abs(from - here) > cross) {
      if (here !== null) writer.burnTo(...point(here + sign * overscan), 0);
      writer.goTo(...point(from - sign * overscan));
    }
    writer.burnTo(...point(from), 0);
    writer.burnTo(...point(to), power);
    here = to;
  }
  writer.burnTo(...point(here! + sign * overscan), 0);
}

/** Stretches of equal power in a row of dots. @param pitch of the dots, mm */
export function stretchesOf(dots: Float32Array, start: number, count: number, pitch: number, from: number): Stretch[] {
  const out: Stretch[] = [];
  for (let i = 0; i < count;) {
    const power = dots[start + i];
    let j = i + 1;
    while (j < count && dots[start + j] === power) j++;
    if (power > 0) out.push({ from: from + i * pitch, to: from + j * pitch, power });
    i = j;
  }
  return out;
}
