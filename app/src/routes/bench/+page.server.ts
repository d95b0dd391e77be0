import { PROCESS_NAMES } from '@kerbe/core/process';
import { cribBits } from '$lib/server/crib';
import { db } from '$lib/server/db';
import { machines } from '$lib/server/machines';
import { practiceFiles } from '$lib/server/practice';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, depends }) => {
  depends('kerbe:bench');
  const simulated = (await machines())
    .filter((one) => one.simulated)
    .sort((a, b) => PROCESS_NAMES.indexOf(a.profile.kind) - PROCESS_NAMES.indexOf(b.profile.kind));
  const kinds = [...new Set(simulated.map(({ profile }) => profile.kind))];
  return {
    machines: simulated,
    files: Object.fromEntries(await Promise.all(kinds.map(async (kind) => [kind, await practiceFiles(kind)] as const))),
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
