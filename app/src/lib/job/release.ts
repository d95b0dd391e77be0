import { ask } from '$lib/ui/post';
import type { JobSession } from './session.svelte';

/** How long a save is waited for, milliseconds, and how often it is looked at. */
const PATIENCE = 4000;
const LOOK = 100;

/** Releases the job as it stands. @param accepted warnings a person has ticked @returns why not, or null */
export async function releaseJob(session: JobSession, accepted: string[]): Promise<string | null> {
  for (let waited = 0; waited < PATIENCE && !(await session.saveNow()); waited += LOOK) await new Promise((done) => setTimeout(done, LOOK));
  if (session.save.kind !== 'saved') return 'The job is not saved yet, so it cannot be released.';
  const answer = await ask(`/api/jobs/${session.id}/release`, 'POST', { revision: session.revision, accepted });
  return answer.ok ? null : answer.why;
}
