/**
 * A toolpath: flat arrays of moves, in board coordinates (X right, Y away, Z up, Z = 0 on top
 * of the board), what is on while they are made, and spans that say which cut, which drawn thing and
 * which pass a run of moves belongs to. Move i goes from the end of move i-1 to (x[i], y[i], z[i]).
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
  /** The pass, from 1, of what is cut in several. */
  pass?: number;
  /** The drawn thing, by its id; of words which letter, from 0, and what that is as typed. */
  item?: string;
  part?: number;
  letter?: string;
}

/** What is switched before the move `at`; a path without any is cut under a power that its section says once. */
export type ToolEvent = { at: number } & (
  | {
      /** On, at a power: a share of the greatest for a beam, rev/min for a spindle. */
      on: number;
      /** Of a beam: the same power at any speed, also in corners. */
      constant?: boolean;
      /** An arc pierces first: it stands at this height, mm, for so long. */
      pierce?: { height: number; seconds: number };
    }
  | { off: true }
  | { heightControl: boolean }
  /** The move goes down until the plate is felt: the switch speaks when it has travelled so far, mm, and the height is known from there. */
  | { touch: { travel: number } }
  | { assist: 'air' | 'mist' | 'none' }
);

export interface Toolpath {
  kind: Uint8Array;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** mm/min; 0 for rapids; seconds for a dwell. */
  feed: Float64Array;
  /** Power of each move, as an event that switches on has it; where it is left out nothing changes it on the way. */
  power?: Float64Array;
  /** In the order of the moves. */
  events?: ToolEvent[];
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

/** The plate is felt for at this feed, mm/min. (Common practice: slowly.) */
const TOUCH_FEED = 500;

/** Rapidly down to so far above what was cut there before, mm. (Common practice.) */
const ABOVE_CUT = 0.5;

/** Builds a toolpath move by move; every descent under power is held to the plunge rate. */
export class PathWriter {
  private readonly kind: number[] = [];
  private readonly xs: number[] = [];
  private readonly ys: number[] = [];
  private readonly zs: number[] = [];
  private readonly feeds: number[] = [];
  private readonly powers: number[] = [];
  private readonly events: ToolEvent[] = [];
  private power = NaN;
  private readonly spans: Span[] = [];
  private readonly travel: Travel;
  private feed: number;

  constructor(travel: Travel) {
    this.travel = travel;
    this.feed = travel.feed;
  }

  get length(): number {
    return this.kind.length;
  }

  /** A run of moves begins. @param pass which one, from 1, when it is cut in several */
  begin(cut: string, label: string, pass?: number): void {
    this.end();
    this.spans.push({ start: this.length, end: -1, cut, label, ...(pass === undefined ? {} : { pass }) });
  }

  /** On from here, at a power; an arc waits while it pierces, where it is. */
  on(power: number, pierceSeconds?: number): void {
    const height = this.zs[this.length - 1];
    this.events.push({ at: this.length, on: power, ...(pierceSeconds === undefined ? {} : { pierce: { height, seconds: pierceSeconds } }) });
    this.power = power;
    if (pierceSeconds !== undefined) this.dwell(pierceSeconds);
  }

  /** Another power for the moves that follow. */
  setPower(power: number): void {
    this.power = power;
  }

  off(): void {
    this.events.push({ at: this.length, off: true });
    this.power = NaN;
  }

  /** Another feed for the moves that follow, never above that of the cut. */
  setFeed(feed: number): void {
    this.feed = Math.min(feed, this.travel.feed);
  }

  /** Down until the plate is felt, from where it stands. */
  touch(travel: number): void {
    this.events.push({ at: this.length, touch: { travel } });
    const last = this.length - 1;
    this.put(FEED, this.xs[last], this.ys[last], -travel, TOUCH_FEED);
  }

  heightControl(on: boolean): void {
    this.events.push({ at: this.length, heightControl: on });
  }

  assist(what: 'air' | 'mist' | 'none'): void {
    this.events.push({ at: this.length, assist: what });
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
    const { plunge, rise = Infinity } = this.travel;
    const { feed } = this;
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
      ...(this.events.length > 0 ? { power: Float64Array.from(this.powers), events: this.events } : {}),
      spans: this.spans,
    };
  }

  private put(kind: number, x: number, y: number, z: number, feed: number): void {
    this.kind.push(kind);
    this.xs.push(x);
    this.ys.push(y);
    this.zs.push(z);
    this.feeds.push(feed);
    this.powers.push(this.power);
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
    ...(paths.some(({ events }) => events) ? { power: new Float64Array(total).fill(NaN), events: [] } : {}),
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
    if (path.power) out.power!.set(path.power, at);
    for (const event of path.events ?? []) out.events!.push({ ...event, at: event.at + at });
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
