import { readFileSync } from 'node:fs';
import { readJob, type Job } from '@kerbe/core/job';
import { decodeText } from '@kerbe/core/text';
import { Refusal } from './refusal.ts';

/** Reads a job file, or refuses with what is wrong in it. */
export function loadJob(file: string | undefined): Job {
  if (!file) throw new Refusal('Which job? Name a job.json file.');
  let data: unknown;
  try {
    data = JSON.parse(decodeText(readFileSync(file)));
  } catch (error) {
    if (error instanceof SyntaxError) throw new Refusal(`${file} is not JSON: ${error.message}`);
    throw error;
  }
  const reading = readJob(data);
  if (!reading.ok) throw new Refusal(`${file} is not a job Kerbe can use:\n  ${reading.why.join('\n  ')}`);
  return reading.job;
}
