import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { EXERCISES } from '@kerbe/core/practice/exercises';
import { jsonOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

const Result = z.object({
  exercise: z.enum(EXERCISES.map(({ id }) => id)),
  passed: z.boolean(),
  slips: z.array(z.string().max(300)).max(50),
  seconds: z.number().min(0).max(86_400),
});

/** Keeps how an exercise went for the one who did it. */
export const POST: RequestHandler = async ({ request, locals }) => {
  const read = await jsonOf(request, Result);
  if (!read) return json({ why: 'The result could not be read.' }, { status: 400 });
  const { slips, ...result } = read;
  await db()
    .insertInto('exercise_result')
    .values({ ...result, slips: JSON.stringify(slips), learner: locals.user!.name, learner_id: locals.user!.id })
    .execute();
  return json({ why: null });
};
