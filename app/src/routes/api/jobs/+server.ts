import { json } from '@sveltejs/kit';
import { readJob } from '@kerbe/core/job';
import { createJob } from '$lib/server/jobs';
import type { RequestHandler } from './$types';

/** A job made from another: the other half of a pair, a trial board. */
export const POST: RequestHandler = async ({ request, locals }) => {
  const reading = readJob(await request.json().catch(() => null));
  if (!reading.ok) return json({ why: `The job was not made: ${reading.why.slice(0, 3).join(' ')}` }, { status: 422 });
  return json({ id: await createJob(reading.job, locals.user!.name) });
};
