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

/** From which gap on in a row it is crossed rapidly, mm. */
export const crossedFrom = (overscan: number): number => Math.max(CROSS.least, CROSS.overscans * overscan);

/** Stretches of a row at one power each, one after the other: from and to along it, mm. Filled anew for every row: pictures have millions of them. */
export class Stretches {
  count = 0;
  from = new Float64Array(64);
  to = new Float64Array(64);
  power = new Float64Array(64);

  clear(): this {
    this.count = 0;
    return this;
  }

  add(from: number, to: number, power: number): void {
    const { count } = this;
    if (count === this.from.length)
      for (const key of ['from', 'to', 'power'] as const) {
        const longer = new Float64Array(2 * count);
        longer.set(this[key]);
        this[key] = longer;
      }
    this.from[count] = from;
    this.to[count] = to;
    this.power[count] = power;
    this.count++;
  }

  /** Stretches of equal power in a row of dots. @param pitch of the dots, mm @param from where the first begins @param full power of the darkest */
  ofDots(dots: Float32Array, start: number, columns: number, pitch: number, from: number, full: number): this {
    this.count = 0;
    for (let i = 0; i < columns;) {
      const power = dots[start + i];
      let j = i + 1;
      while (j < columns && dots[start + j] === power) j++;
      if (power > 0) this.add(from + i * pitch, from + j * pitch, Math.fround(power * full));
      i = j;
    }
    return this;
  }
}

/** Where a row lies: its place at 0 along it, and the way it runs. */
export interface RowLine {
  x: number;
  y: number;
  ux: number;
  uy: number;
}

/**
 * Burns one row.
 *
 * @param stretches along the row, ascending; dark between them
 * @param back it is run from its end
 */
export function burnRow(writer: BeamWriter, stretches: Stretches, { x, y, ux, uy }: RowLine, back: boolean, { overscan, late }: RowPlan): void {
  const { count, from, to, power } = stretches;
  if (count === 0) return;
  const sign = back ? -1 : 1;
  const cross = crossedFrom(overscan);
  let here = NaN;
  for (let n = 0; n < count; n++) {
    const k = back ? count - 1 - n : n;
    const [begin, end] = back ? [to[k], from[k]] : [from[k], to[k]];
    if (!(Math.abs(begin - here) <= cross)) {
      if (n > 0) {
        const u = here + sign * overscan + sign * late;
        writer.burnTo(x + ux * u, y + uy * u, 0);
      }
      const u = begin - sign * overscan + sign * late;
      writer.goTo(x + ux * u, y + uy * u);
    }
    const a = begin + sign * late;
    const b = end + sign * late;
    writer.burnTo(x + ux * a, y + uy * a, 0);
    writer.burnTo(x + ux * b, y + uy * b, power[k]);
    here = end;
  }
  const u = here + sign * overscan + sign * late;
  writer.burnTo(x + ux * u, y + uy * u, 0);
}
