import { json } from '@sveltejs/kit';
import { bytesOf } from '$lib/server/body';
import { inChild } from '$lib/server/children';
import { createJob } from '$lib/server/jobs';
import type { RequestHandler } from './$types';

/** A job made from another: the other half of a pair, a trial board. */
export const POST: RequestHandler = async ({ request, locals }) => {
  const read = await inChild('job', { bytes: await bytesOf(request), bare: true });
  if (!read.ok) return json({ why: `The job was not made: ${read.why}` }, { status: 422 });
  return json({ id: await createJob(read.job, locals.user!) });
};
