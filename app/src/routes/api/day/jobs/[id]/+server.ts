import { json } from '@sveltejs/kit';
import { Planning } from '@kerbe/core/day/planning';
import { tryJsonOf } from '$lib/server/body';
import { dayAt, keepPlanning } from '$lib/server/day';
import type { RequestHandler } from './$types';

/** What is said of a job for the day: whether it is on it, when it is due, how many. */
export const PUT: RequestHandler = async ({ params, request }) => {
  const planning = await tryJsonOf(request, Planning);
  if (!planning.success) return json({ why: planning.error.issues.map(({ message }) => message).join(' ') }, { status: 400 });
  if (!(await keepPlanning(params.id, planning.data))) return json({ why: 'This job is not in the shop any more.' }, { status: 404 });
  return json(await dayAt(new Date()));
};
