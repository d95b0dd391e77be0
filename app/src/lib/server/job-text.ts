/** A job as it is kept: its text, and what must be known of it without reading that. */
import type { Job } from '@kerbe/core/job';

export interface JobText {
  /** The document. */
  doc: string;
  name: string;
  /** Which machine it names, and of which kind it must be. */
  machine: string | null;
  process: Job['process'];
}

export const textOf = (job: Job): JobText => ({ doc: JSON.stringify(job), name: job.name, machine: job.machine.id ?? null, process: job.process });
