/** The board at any second of the job: carved on from the nearest state that was kept, so that going back is as quick as going on. */
import type { Job } from '../job/index.ts';
import type { PlannedCut } from '../plan/index.ts';
import { carve, removalOf, type Removal } from './carve.ts';
import { blankMap } from './blank.ts';
import { HeightMap } from './heightmap.ts';
import { momentAt, timelineOf, type Moment, type Timeline } from './timeline.ts';

/** States kept over the whole job. */
const STATES = 12;

interface State {
  /** Moves carved, counted through all cuts. */
  done: number;
  height: Float32Array;
}

export class Scrubber {
  readonly timeline: Timeline;
  private readonly cuts: readonly PlannedCut[];
  private readonly removed: Removal[];
  /** Moves before each cut, and in all. */
  /** Heights before anything is cut. */
  private readonly blank: Float32Array;
  private readonly before: number[] = [];
  private readonly total: number;
  private readonly states: State[] = [];
  private readonly now: HeightMap;
  private done = 0;

  /** @param cell edge of a cell, mm */
  constructor(job: Pick<Job, 'machine' | 'program' | 'board'>, cuts: readonly PlannedCut[], cell: number) {
    this.cuts = cuts;
    // Time runs along the path as it is written, also where the machine itself moves a torch off it by half the kerf.
    this.removed = cuts.map((planned) => removalOf(planned, 'as written'));
    this.timeline = timelineOf(job, cuts);
    let sum = 0;
    for (const { path } of cuts) {
      this.before.push(sum);
      sum += path.kind.length;
    }
    this.total = sum;
    this.now = blankMap(job.board, cell);
    this.blank = this.now.height.slice();
  }

  /** The board after t seconds, and where the bit is then. The map is a copy. */
  at(t: number): { map: HeightMap; moment: Moment | null } {
    const moment = momentAt(this.timeline, this.cuts, t);
    const { columns, rows, cell } = this.now;
    const map = new HeightMap(columns * cell, rows * cell, cell);
    map.height.set(this.blank);
    if (!moment) return { map, moment };
    // All moves before the one under way are whole.
    const whole = this.before[moment.cut] + moment.move;
    this.carveTo(whole);
    map.height.set(this.now.height);
    if (moment.doing === 'cut' && moment.move > 0) {
      const { path, shape, upTo } = this.removed[moment.cut];
      // The move under way is the last row of what belongs to it; one that takes nothing away has none.
      const i = upTo(moment.move + 1) - 1;
      if (i > 0 && i >= upTo(moment.move)) {
        const two = (values: Float64Array, end: number) => Float64Array.of(values[i - 1], end);
        const z = Math.max(moment.z, Math.min(path.z[i - 1], path.z[i]));
        carve(
          map,
          {
            kind: path.kind.slice(i - 1, i + 1),
            x: two(path.x, moment.x),
            y: two(path.y, moment.y),
            z: two(path.z, this.cuts[moment.cut].torch ? path.z[i] : z),
          },
          shape,
        );
      }
    }
    return { map, moment };
  }

  /** Has every move before `count` carved on the working map, and none after. */
  private carveTo(count: number): void {
    const every = Math.max(1, Math.ceil(this.total / STATES));
    // Going back, or far ahead of a kept state: begin there.
    const kept = this.states.findLast(({ done }) => done <= count);
    if (count < this.done) {
      if (kept) this.now.height.set(kept.height);
      else this.now.height.set(this.blank);
      this.done = kept?.done ?? 0;
    } else if (kept && kept.done > this.done) {
      this.now.height.set(kept.height);
      this.done = kept.done;
    }
    while (this.done < count) {
      const next = Math.min(count, (Math.floor(this.done / every) + 1) * every);
      this.carveMoves(this.done, next);
      this.done = next;
      if (next % every === 0 && !this.states.some(({ done }) => done === next)) {
        this.states.push({ done: next, height: this.now.height.slice() });
        this.states.sort((a, b) => a.done - b.done);
      }
    }
  }

  /** Carves moves `from` to `to`, counted through all cuts. */
  private carveMoves(from: number, to: number): void {
    for (const [k, { path: written }] of this.cuts.entries()) {
      const a = Math.max(0, from - this.before[k]);
      const b = Math.min(written.kind.length, to - this.before[k]);
      const { path, shape, upTo } = this.removed[k];
      if (a < b) carve(this.now, path, shape, upTo(a), upTo(b));
    }
  }
}
