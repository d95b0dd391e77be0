/** What of a job is made. */
import { namedBy } from '../cuts/index.ts';
import type { Job } from './index.ts';

/** The job without the cuts that are switched off, and without those that only serve one of them, such as the clearing of its floor. The job itself when there are none. */
export function workingJob(job: Job): Job {
  const off = new Set(Object.values(job.cuts).flatMap((cut) => (cut.off ? [cut.id] : [])));
  if (off.size === 0) return job;
  for (let size = 0; size !== off.size;) {
    size = off.size;
    for (const cut of Object.values(job.cuts)) if (namedBy(cut).cuts.some((id) => off.has(id))) off.add(cut.id);
  }
  return {
    ...job,
    cuts: Object.fromEntries(Object.entries(job.cuts).filter(([id]) => !off.has(id))),
    cutOrder: job.cutOrder.filter((id) => !off.has(id)),
  };
}
