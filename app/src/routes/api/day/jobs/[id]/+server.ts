import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { tryJsonOf } from '$lib/server/body';
import { changePlanning, dayAt } from '$lib/server/day';
import type { RequestHandler } from './$types';

/** What is said of a job for the day: whether it is on it, when it is due, how many. Only what is sent is changed. */
export const PATCH: RequestHandler = async ({ params, request }) => {
  const change = await tryJsonOf(request, z.looseObject({}));
  const planning = change.success ? await changePlanning(params.id, change.data) : change;
  if (!planning) return json({ why: 'This job is not in the shop any more.' }, { status: 404 });
  if (!planning.success) return json({ why: planning.error.issues.map(({ message }) => message).join(' ') }, { status: 400 });
  return json(await dayAt(new Date()));
};
