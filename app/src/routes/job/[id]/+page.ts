import { error } from '@sveltejs/kit';
import { readJob } from '@kerbe/core/job';
import { startPlanning } from '$lib/job/planner';
import type { PageLoad } from './$types';

// The job screen lives in the browser: workers, canvas, drafts kept locally.
export const ssr = false;

/** The document comes by itself: the server hands its text on without reading it. */
export const load: PageLoad = async ({ data, params, fetch, depends }) => {
  depends('kerbe:job');
  startPlanning();
  const response = await fetch(`/api/jobs/${params.id}`);
  if (!response.ok) error(response.status, ((await response.json()) as { why: string }).why);
  const { revision, doc } = (await response.json()) as { revision: number; doc: unknown };
  const reading = readJob(doc);
  if (!reading.ok) error(422, `This job cannot be read: ${reading.why.slice(0, 3).join(' ')}`);
  return { ...data, revision, doc: reading.job, kept: response.headers.has('x-kerbe-kept') };
};
