import { cribBits } from '$lib/server/crib';
import { db } from '$lib/server/db';
import { machines } from '$lib/server/machines';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, depends }) => {
  depends('kerbe:bench');
  return {
    // Its hands and exercises are a router's.
    machines: (await machines()).filter(({ simulated, profile }) => simulated && profile.kind === 'router'),
    crib: await cribBits(),
    // All of them: an exercise is a few minutes of somebody's life.
    results: await db()
      .selectFrom('exercise_result')
      .select(['exercise', 'passed', 'slips', 'seconds', 'at'])
      .where('learner_id', '=', locals.user!.id)
      .orderBy('at', 'desc')
      .execute(),
  };
};
