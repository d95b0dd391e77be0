/**
 * The order of cuts. Common practice: the board is planed first; holes while it is whole; then
 * pockets and carving; edges broken; then openings cut through; the sign's own outline last. Within
 * each, cuts of one bit follow each other to save changes, and what clears comes before what
 * finishes after it.
 */
import { kindOf, STAGES, type Stage } from '../cuts/index.ts';
import { finding, type Finding } from '../findings/index.ts';
import type { Cut, Job } from '../job/index.ts';

const stageOf = (job: Job, cut: Cut): Stage => kindOf(cut).stage(cut, job);

/** Cuts that must come before a cut: the clearing of its floor, and larger bits in the same pocket. */
const before = (job: Job, cut: Cut): string[] => job.cutOrder.filter((id) => id !== cut.id && kindOf(job.cuts[id]).clearsFor?.(job.cuts[id], cut));

/** The job's cuts in the usual order; cuts that are alike stay as they are. */
export function usualOrder(job: Job): string[] {
  const out: string[] = [];
  let bit = '';
  for (const stage of STAGES) {
    const left = job.cutOrder.filter((id) => stageOf(job, job.cuts[id]) === stage);
    while (left.length > 0) {
      const free = left.filter((id) => before(job, job.cuts[id]).every((other) => !left.includes(other)));
      const next = free.find((id) => job.cuts[id].tool === bit) ?? free[0] ?? left[0];
      left.splice(left.indexOf(next), 1);
      bit = job.cuts[next].tool;
      out.push(next);
    }
  }
  return out;
}

const changes = (job: Job, order: readonly string[]): number => order.filter((id, k) => k > 0 && job.cuts[id].tool !== job.cuts[order[k - 1]].tool).length;

/** Rules of the order that were broken by hand, each with why it matters. */
export function orderFindings(job: Job): Finding[] {
  const found: Finding[] = [];
  const usual = usualOrder(job);
  const repair = { items: [], order: usual };
  const at = new Map(job.cutOrder.map((id, k) => [id, k]));
  for (const [k, id] of job.cutOrder.entries()) {
    const cut = job.cuts[id];
    const stage = STAGES.indexOf(stageOf(job, cut));
    const late = before(job, cut).find((other) => at.get(other)! > k);
    if (late) found.push(finding.clearedAfter(id, nameOf(job.cuts[late]), repair));
    const early = job.cutOrder.slice(0, k).find((other) => STAGES.indexOf(stageOf(job, job.cuts[other])) > stage);
    if (!early) continue;
    const first = stageOf(job, job.cuts[early]);
    if (first === 'outline') found.push(finding.freedFirst(early, nameOf(cut), repair));
    else if (STAGES[stage] === 'holes') found.push(finding.drilledLate(id, nameOf(job.cuts[early]), repair));
    else if (STAGES[stage] === 'surface') found.push(finding.planedLate(id, repair));
    else if (first === 'openings') found.push(finding.openedFirst(early, nameOf(cut), repair));
  }
  const saved = changes(job, job.cutOrder) - changes(job, usual);
  if (found.length === 0 && saved > 0) found.push(finding.bitChanges(saved, repair));
  // One finding for a cut that comes too early is enough, however many follow it.
  return found.filter((one, k) => found.findIndex((other) => other.code === one.code && other.cut === one.cut) === k);
}

/** What a cut is called within a sentence. */
export const nameOf = (cut: Cut): string => (cut.name ? `“${cut.name}”` : `the ${kindOf(cut).label}`);
