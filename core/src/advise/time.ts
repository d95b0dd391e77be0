/** Where the time of a job goes: cutting, coming down, lifting, travelling, the spindle, changing bits - by cut, and in all. */
import { scheduleOf, tiledSections } from '../planned/tiles.ts';
import type { Schedule } from '../schedule/index.ts';
import type { Job } from '../job/index.ts';
import { planMotion } from '../motion/index.ts';
import type { PlannedCut } from '../plan/index.ts';
import { DWELL, RAPID } from '../toolpath/index.ts';

/** Seconds. */
export interface TimeParts {
  /** Level, rising or gently falling under power. */
  cutting: number;
  /** Coming down under power, held by the plunge rate. */
  plunging: number;
  lifting: number;
  travel: number;
  /** At its feed with the beam dark: beside the rows, up to speed and down again. */
  dark: number;
  waiting: number;
  total: number;
}

export interface CutTime extends TimeParts {
  cut: string;
  bit: string;
  /** Mean and greatest speed while cutting, mm/min, beside what was asked. */
  mean: number;
  fastest: number;
  asked: number;
}

export interface TimeReport extends Schedule {
  cuts: CutTime[];
  /** By kind of work over the whole job. */
  parts: { what: string; seconds: number }[];
}

/** Steeper than this, way down per way along, a move counts as coming down. */
const STEEP = 0.25;

export function timeOf({ cut, path, bit }: PlannedCut, machine: Job['machine']): CutTime {
  const out: CutTime = {
    cut: cut.id,
    bit: bit.id,
    cutting: 0,
    plunging: 0,
    lifting: 0,
    travel: 0,
    dark: 0,
    waiting: 0,
    total: 0,
    mean: 0,
    fastest: 0,
    asked: cut.feed,
  };
  if (path.kind.length === 0) return out;
  const { start, peak, length, total } = planMotion(path, machine);
  out.total = total;
  let way = 0;
  for (let i = 1; i < path.kind.length; i++) {
    const seconds = start[i + 1] - start[i];
    const dz = path.z[i] - path.z[i - 1];
    const along = Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]);
    if (path.kind[i] === DWELL) out.waiting += seconds;
    else if (path.kind[i] === RAPID) out[along > Math.abs(dz) ? 'travel' : dz > 0 ? 'lifting' : 'plunging'] += seconds;
    else if (path.power?.[i] === 0) out.dark += seconds;
    else if (-dz > STEEP * along) out.plunging += seconds;
    else {
      out.cutting += seconds;
      way += length[i];
      out.fastest = Math.max(out.fastest, peak[i] * 60);
    }
  }
  out.mean = out.cutting > 0 ? (way / out.cutting) * 60 : 0;
  return out;
}

export function whereTimeGoes(job: Job, planned: readonly PlannedCut[]): TimeReport {
  const cuts = planned.map((one) => timeOf(one, job.machine));
  const time = scheduleOf(job, planned);
  const done = tiledSections(job, planned).flatMap(({ sections }) => sections.flatMap((section) => section.cuts.map((one) => timeOf(one, job.machine))));
  const sum = (part: keyof TimeParts) => done.reduce((all, one) => all + one[part], 0);
  return {
    ...time,
    cuts,
    parts: [
      { what: 'cutting', seconds: sum('cutting') },
      { what: 'coming down', seconds: sum('plunging') },
      { what: 'lifting', seconds: sum('lifting') },
      { what: 'travel', seconds: sum('travel') },
      { what: 'dark beside the rows', seconds: sum('dark') },
      { what: 'waiting', seconds: sum('waiting') },
      { what: 'spindle', seconds: time.spinUp },
      { what: 'changing bits', seconds: time.changes },
    ].filter(({ seconds }) => seconds > 0),
  };
}
