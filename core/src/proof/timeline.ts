/**
 * The whole job along time: getting the spindle to speed, each cut, changing bits. Says what is
 * done at any second, and where the bit is.
 */
import type { Job } from '../job/index.ts';
import { fractionAt, moveAt, planMotion, type Timing } from '../motion/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { sectionsOf } from '../planned/sections.ts';
import { spinUpOf } from '../schedule/index.ts';

export interface Stretch {
  kind: 'spindle' | 'change' | 'cut';
  /** Number of the cut in the plan: the one that is made, or the one that follows. */
  cut: number;
  /** Seconds from the start of the job. */
  start: number;
  end: number;
}

export interface Timeline {
  stretches: Stretch[];
  /** By cut; of a cut without moves it is empty. */
  timings: Timing[];
  seconds: number;
}

/** What is going on at a second of the job. */
export interface Moment {
  doing: Stretch['kind'];
  cut: number;
  /** Move under way, and how much of it is done, 0 to 1. */
  move: number;
  fraction: number;
  /** The bit's point, mm from the board's lower-left corner, Z = 0 on top. */
  x: number;
  y: number;
  z: number;
  /** Speed of the bit, mm/min. */
  speed: number;
}

export function timelineOf(job: Pick<Job, 'machine' | 'program'>, cuts: readonly PlannedCut[]): Timeline {
  const timings = cuts.map(({ path }) => planMotion(path, job.machine));
  const stretches: Stretch[] = [];
  let now = 0;
  const add = (kind: Stretch['kind'], cut: number, seconds: number) => {
    if (seconds > 0) stretches.push({ kind, cut, start: now, end: now + seconds });
    now += seconds;
  };
  for (const [index, section] of sectionsOf(cuts).entries()) {
    const first = cuts.indexOf(section.cuts[0]);
    if (index > 0) add('change', first, job.machine.bitChangeSeconds);
    add('spindle', first, spinUpOf(job, section.speed));
    for (const planned of section.cuts) {
      const cut = cuts.indexOf(planned);
      add('cut', cut, timings[cut].total);
    }
  }
  return { stretches, timings, seconds: now };
}

/** What is going on at second t of the job; before its start and after its end the bit stands still. */
export function momentAt(timeline: Timeline, cuts: readonly PlannedCut[], t: number): Moment | null {
  const { stretches, timings } = timeline;
  if (stretches.length === 0) return null;
  const inside = Math.min(Math.max(t, 0), timeline.seconds);
  const stretch = stretches.find(({ end }) => inside < end) ?? stretches[stretches.length - 1];
  const { path } = cuts[stretch.cut];
  const timing = timings[stretch.cut];
  const at = stretch.kind === 'cut' ? inside - stretch.start : 0;
  const move = moveAt(timing, at);
  const fraction = stretch.kind === 'cut' ? fractionAt(timing, move, at) : 0;
  const from = Math.max(0, move - 1);
  const between = (values: Float64Array) => values[from] + fraction * (values[move] - values[from]);
  return {
    doing: stretch.kind,
    cut: stretch.cut,
    move,
    fraction,
    x: between(path.x),
    y: between(path.y),
    z: between(path.z),
    speed: stretch.kind === 'cut' ? speedAt(timing, move, at) * 60 : 0,
  };
}

/** Speed within a move at time t, mm/s: it rises, holds, and falls. */
function speedAt(timing: Timing, i: number, t: number): number {
  const { accel, peak, v0, start } = timing;
  const rising = v0[i] + accel[i] * (t - start[i]);
  const falling = v0[i + 1] + accel[i] * (start[i + 1] - t);
  return Math.max(0, Math.min(peak[i], rising, falling));
}

/**
 * Speed of the bit over the job in so many equal parts of time, mm/min: the mean way per time in each,
 * and the feed that was asked for.
 */
export function speedOver(timeline: Timeline, cuts: readonly PlannedCut[], parts: number): { at: number; speed: number; asked: number }[] {
  const out: { at: number; speed: number; asked: number }[] = [];
  const step = timeline.seconds / parts;
  const SAMPLES = 8;
  for (let k = 0; k < parts; k++) {
    let [speed, asked] = [0, 0];
    for (let n = 0; n < SAMPLES; n++) {
      const moment = momentAt(timeline, cuts, (k + (n + 0.5) / SAMPLES) * step);
      if (!moment) continue;
      speed += moment.speed / SAMPLES;
      asked = Math.max(asked, moment.doing === 'cut' ? cuts[moment.cut].cut.feed : 0);
    }
    out.push({ at: (k + 0.5) * step, speed, asked });
  }
  return out;
}
