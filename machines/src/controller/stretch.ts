/** A stretch of moves that are planned together, followed in simulated time. */
import { fractionAt, moveAt, planMotion, type Timing } from '@kerbe/core/motion';
import type { Machine as MachineLimits } from '@kerbe/core/job';

export type Triple = [number, number, number];

export interface Row {
  /** One of core's OP codes. */
  kind: number;
  /** Machine coordinates of the end of a move; NaN axes stay. */
  target: Triple;
  value: number;
  /** Sequence number of the line it came from. */
  seq: number;
  /** Of an output: which. */
  output?: number;
  /** Of a move: what is switched as it begins, in step with the motion. */
  with?: Row[];
}

export class Stretch {
  readonly ends: Triple[] = [];
  /** How many of its rows are done. */
  finished = 0;
  private readonly rows: Row[];
  private readonly start: Triple;
  private readonly timing: Timing;
  private time = 0;

  /** @param scale a share of the programmed feed. @param speed it begins with, mm/s. */
  constructor(rows: Row[], start: Triple, limits: MachineLimits, scale: number, speed: number) {
    this.rows = rows;
    this.start = [...start];
    let at = this.start;
    for (const { target } of rows) {
      at = target.map((v, axis) => (Number.isNaN(v) ? at[axis] : v)) as Triple;
      this.ends.push(at);
    }
    const { ends } = this;
    const path = {
      kind: Uint8Array.from(rows, (row) => row.kind),
      x: Float64Array.from(ends, (e) => e[0]),
      y: Float64Array.from(ends, (e) => e[1]),
      z: Float64Array.from(ends, (e) => e[2]),
      feed: Float64Array.from(rows, (row) => row.value * scale),
    };
    this.timing = planMotion(path, limits, this.start, speed);
  }

  get end(): Triple {
    return this.ends[this.ends.length - 1];
  }
  /** Rows that are not done. */
  get left(): Row[] {
    return this.rows.slice(this.finished);
  }
  get over(): boolean {
    return this.time >= this.timing.total - 1e-12;
  }
  /** mm/s along the path. */
  get speed(): number {
    const { timing, time } = this;
    const i = moveAt(timing, time);
    const d = 1e-4;
    const f0 = fractionAt(timing, i, time);
    const f1 = fractionAt(timing, i, time + d);
    return f1 > f0 ? ((f1 - f0) * timing.length[i]) / d : timing.v0[i + 1];
  }

  /** Lets time pass; `reach` hears of every place on the way, with the row it belongs to, whether that is done, and the seconds it took. Gives the seconds used. */
  follow(seconds: number, reach: (to: Triple, row: Row, done: boolean, seconds: number) => void): number {
    const { timing } = this;
    const until = Math.min(timing.total, this.time + seconds);
    const used = until - this.time;
    const last = moveAt(timing, until);
    const within = (i: number) => Math.max(0, Math.min(until, timing.start[i + 1]) - Math.max(this.time, timing.start[i]));
    for (let i = this.finished; i < last; i++) reach(this.ends[i], this.rows[i], true, within(i));
    const from = last === 0 ? this.start : this.ends[last - 1];
    const f = until >= timing.total ? 1 : fractionAt(timing, last, until);
    const to = this.ends[last];
    reach(
      f >= 1 ? to : [from[0] + f * (to[0] - from[0]), from[1] + f * (to[1] - from[1]), from[2] + f * (to[2] - from[2])],
      this.rows[last],
      f >= 1,
      within(last),
    );
    this.finished = f >= 1 ? last + 1 : last;
    this.time = until;
    return used;
  }
}
