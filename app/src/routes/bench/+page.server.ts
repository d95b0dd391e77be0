import { cribBits } from '$lib/server/crib';
import { db } from '$lib/server/db';
import { connectedMachine } from '$lib/server/machines';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, depends }) => {
  depends('kerbe:bench');
  return {
    machine: await connectedMachine(),
    crib: await cribBits(),
    results: await db()
      .selectFrom('exercise_result')
      .select(['exercise', 'passed', 'slips', 'seconds', 'at'])
      .where('learner', '=', locals.user!.name)
      .orderBy('at', 'desc')
      .limit(200)
      .execute(),
  };
};
