/** The datum of a job against the zero that is set at the machine. */
import type { Job } from '../job/index.ts';
import { finding, type Finding } from '../findings/index.ts';

/** Zero as it was set at the machine, as far as that is known. */
export interface ZeroSet {
  corner: string | null;
  z: string | null;
}

/** Where the datum of a job is not the zero that was set. */
export function datumFindings(job: Pick<Job, 'datum'>, set: ZeroSet): Finding[] {
  const found: Finding[] = [];
  const place = (corner: string) => (corner === 'centre' ? 'in the centre' : `at the ${corner.replace('-', ' ')} corner`);
  if (set.corner && set.corner !== job.datum.corner)
    found.push(finding.datumDiffers(`This job has zero ${place(job.datum.corner)}, and the machine was zeroed ${place(set.corner)}.`));
  const on = (z: string) => (z === 'top' ? 'on top of the board' : 'on the spoilboard');
  if (set.z && set.z !== job.datum.z) found.push(finding.datumDiffers(`This job has Z zero ${on(job.datum.z)}, and the machine was zeroed ${on(set.z)}.`));
  return found;
}
