/**
 * A toolpath: flat arrays of moves, in board coordinates (X right, Y away, Z up, Z = 0 on top
 * of the board), and spans that say which cut, which drawn thing and which pass a run of moves
 * belongs to. Move i goes from the end of move i-1 to (x[i], y[i], z[i]).
 */
import type { Box } from '../geometry/index.ts';

export const RAPID = 0;
export const FEED = 1;
/** A wait where the bit is; its seconds stand in `feed`. */
export const DWELL = 2;

export interface Span {
  start: number;
  end: number;
  cut: string;
  /** What it carves, in words: `V-carve`, `floor`, `pass 2 of 5`. */
  label: string;
}

export interface Toolpath {
  kind: Uint8Array;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** mm/min; 0 for rapids; seconds for a dwell. */
  feed: Float64Array;
  spans: Span[];
}

/** Feed and clearance for one cut. */
export interface Travel {
  clearance: number;
  feed: number;
  plunge: number;
  /** Height down to which the bit comes rapidly before it plunges, mm; the clearance when left out. */
  approach?: number;
  /** Fastest way up that the machine can go, mm/min. */
  rise?: number;
}

/** A lift in mm of way cut in the same time: up, and down again at the plunge rate. */
export const costOfLift = ({ feed, plunge, clearance }: Travel): number => (feed * (2 * clearance + 2)) / plunge;

/** Rapidly down to so far above what was cut there before, mm. (Common practice.) */
const ABOVE_CUT = 0.5;

/** Builds a toolpath move by move; every descent under power is held to the plunge rate. */
export class PathWriter {
  private readonly kind: number[] = [];
  private readonly xs: number[] = [];
  private readonly ys: number[] = [];
  private readonly zs: number[] = [];
  private readonly feeds: number[] = [];
  private readonly spans: Span[] = [];
  private readonly travel: Travel;

  constructor(travel: Travel) {
    this.travel = travel;
  }

  get length(): number {
    return this.kind.length;
  }

  begin(cut: string, label: string): void {
    this.end();
    this.spans.push({ start: this.length, end: -1, cut, label });
  }

  end(): void {
    const last = this.spans.at(-1);
    if (last && last.end < 0) last.end = this.length;
    if (last && last.end === last.start) this.spans.pop();
  }

  /**
   * Up, across, and down to the start of a cut: rapidly to just above the board - or to just above
   * `cut`, the depth that was reached there before - and from there at the plunge rate.
   */
  approach(x: number, y: number, z: number, cut = Infinity): void {
    const { clearance, approach = clearance } = this.travel;
    const above = Math.min(clearance, approach, cut + ABOVE_CUT);
    this.over(x, y, Math.max(above, Math.min(z, clearance)));
    this.cutTo(x, y, z);
  }

  /** Up, across, and rapidly down to a height where there is nothing yet to cut. */
  over(x: number, y: number, z: number): void {
    this.lift();
    this.put(RAPID, x, y, this.travel.clearance, 0);
    if (z < this.travel.clearance) this.put(RAPID, x, y, z, 0);
  }

  /** Rapidly up, or down into a hole that is cut already. */
  rapidTo(z: number): void {
    const last = this.length - 1;
    if (Math.abs(this.zs[last] - z) > 1e-9) this.put(RAPID, this.xs[last], this.ys[last], z, 0);
  }

  lift(): void {
    const last = this.length - 1;
    if (last >= 0 && this.zs[last] < this.travel.clearance) this.put(RAPID, this.xs[last], this.ys[last], this.travel.clearance, 0);
  }

  /** A cutting move. Its feed is lowered so that the bit never descends faster than the plunge rate, nor rises faster than the machine can. */
  cutTo(x: number, y: number, z: number): void {
    const last = this.length - 1;
    const dz = z - this.zs[last];
    const length = Math.hypot(x - this.xs[last], y - this.ys[last], dz);
    if (length < 1e-9) return;
    const { feed, plunge, rise = Infinity } = this.travel;
    this.put(FEED, x, y, z, dz < 0 ? Math.min(feed, (plunge * length) / -dz) : dz > 0 ? Math.min(feed, (rise * length) / dz) : feed);
  }

  /** Stays where it is for a time, s. */
  dwell(seconds: number): void {
    const last = this.length - 1;
    if (seconds > 0) this.put(DWELL, this.xs[last], this.ys[last], this.zs[last], seconds);
  }

  finish(): Toolpath {
    this.lift();
    this.end();
    return {
      kind: Uint8Array.from(this.kind),
      x: Float64Array.from(this.xs),
      y: Float64Array.from(this.ys),
      z: Float64Array.from(this.zs),
      feed: Float64Array.from(this.feeds),
      spans: this.spans,
    };
  }

  private put(kind: number, x: number, y: number, z: number, feed: number): void {
    this.kind.push(kind);
    this.xs.push(x);
    this.ys.push(y);
    this.zs.push(z);
    this.feeds.push(feed);
  }
}

/** Several toolpaths one after the other. */
export function joined(paths: readonly Toolpath[]): Toolpath {
  const total = paths.reduce((sum, path) => sum + path.kind.length, 0);
  const out: Toolpath = {
    kind: new Uint8Array(total),
    x: new Float64Array(total),
    y: new Float64Array(total),
    z: new Float64Array(total),
    feed: new Float64Array(total),
    spans: [],
  };
  let at = 0;
  for (const path of paths) {
    out.kind.set(path.kind, at);
    out.x.set(path.x, at);
    out.y.set(path.y, at);
    out.z.set(path.z, at);
    out.feed.set(path.feed, at);
    for (const span of path.spans) out.spans.push({ ...span, start: span.start + at, end: span.end + at });
    at += path.kind.length;
  }
  return out;
}

export interface PathFacts {
  moves: number;
  /** Length under power, mm, and length of rapids, mm. */
  cutting: number;
  travel: number;
  lifts: number;
  /** Deepest point, mm below the top of the board. */
  deepest: number;
  box: Box;
}

/** What a toolpath amounts to. The way to the first point is not counted. */
export function factsOf(path: Toolpath): PathFacts {
  const box: Box = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };
  let cutting = 0;
  let travel = 0;
  let lifts = 0;
  let lowest = 0;
  for (let i = 0; i < path.kind.length; i++) {
    const { x, y, z, kind } = path;
    box.minX = Math.min(box.minX, x[i]);
    box.maxX = Math.max(box.maxX, x[i]);
    box.minY = Math.min(box.minY, y[i]);
    box.maxY = Math.max(box.maxY, y[i]);
    lowest = Math.min(lowest, z[i]);
    if (i === 0) continue;
    const length = Math.hypot(x[i] - x[i - 1], y[i] - y[i - 1], z[i] - z[i - 1]);
    if (kind[i] === RAPID) {
      travel += length;
      if (kind[i - 1] !== RAPID) lifts++;
    } else cutting += length;
  }
  return { moves: path.kind.length, cutting, travel, lifts, deepest: 0 - lowest, box };
}

export { orderRuns, travelOf, type Placed, type Run } from './order.ts';
export { trailsOf, type Graph } from './trails.ts';
