import { error } from '@sveltejs/kit';
import { sql } from 'kysely';
import type { Holder } from '@kerbe/core/job';
import { Planning } from '@kerbe/core/day/planning';
import { PROCESSES, type ProcessName } from '@kerbe/core/process';
import { meantOf } from '$lib/machine';
import { ownFaces } from '$lib/server/assets';
import { cribBits, wear } from '$lib/server/crib';
import { prices, runCosts, type RunOfCost } from '$lib/server/costs';
import { db } from '$lib/server/db';
import { OF_RUN } from '$lib/server/logbook';
import { shopSettings } from '$lib/server/shop';
import { machines } from '$lib/server/machines';
import { PROGRAMS_LISTED } from '$lib/server/releases';
import { turnedFeed } from '$lib/server/turned';
import type { PageServerLoad } from './$types';

/** Runs shown with their job; the logbook has them all. */
const RUNS = 30;

/** What held the board of the job that was worked on last: the next board mostly lies the same way. */
async function lastHolders(id: string) {
  const row = await db()
    .selectFrom('job')
    .select(sql<Holder[]>`doc->'board'->'holders'`.as('holders'))
    .where('id', '!=', id)
    .where(sql<boolean>`jsonb_array_length(coalesce(doc->'board'->'holders', '[]'::jsonb)) > 0`)
    .orderBy('updated_at', 'desc')
    .limit(1)
    .executeTakeFirst();
  return row?.holders ?? [];
}

export const load: PageServerLoad = async ({ params, depends, locals }) => {
  depends('kerbe:job');
  const job = await db()
    .selectFrom('job')
    .select(['id', 'planning', 'figures', sql<ProcessName>`coalesce(doc->>'process', 'router')`.as('process')])
    .where('id', '=', params.id)
    .executeTakeFirst();
  if (!job) error(404, 'This job is not in the shop.');
  const shop = await machines();
  const kind = PROCESSES[job.process].label.toLowerCase();
  if (!meantOf(shop, { machine: {}, process: job.process }))
    error(409, `This job is for a ${kind}, and the shop has no such machine. It stays on the wall; the command line plans it.`);
  const releases = await db()
    .selectFrom('release')
    .select(['id', 'revision', 'sha256', 'report', 'author', 'created_at', PROGRAMS_LISTED])
    .where('job_id', '=', params.id)
    .orderBy('created_at', 'desc')
    // Only the newest can be run; the one before is compared with it.
    .limit(5)
    .execute();
  const runs = await db()
    .selectFrom('run')
    .select(OF_RUN)
    .innerJoin('release', 'release.id', 'run.release_id')
    .select(['cut_last', 'release.revision', 'run.crib'])
    .innerJoin('job', 'job.id', 'run.job_id')
    // The board as it was then; of a version that is gone, as it is now.
    .leftJoin('job_revision', (join) => join.onRef('job_revision.job_id', '=', 'run.job_id').onRef('job_revision.revision', '=', 'release.revision'))
    .select(sql<RunOfCost['board']>`coalesce(job_revision.doc, job.doc)->'board'`.as('board'))
    .where('run.job_id', '=', params.id)
    .orderBy('run.started_at', 'desc')
    .limit(RUNS + 1)
    .execute();
  const past = await db()
    .selectFrom('run')
    .select(['estimate_seconds as estimate', 'actual_seconds as actual'])
    .where('state', '=', 'done')
    .orderBy('started_at', 'desc')
    .limit(60)
    .execute();
  const known = locals.user?.role === 'owner' ? await prices() : null;
  const finishing = Planning.parse(job.planning).finishing;
  return {
    past,
    crib: await cribBits(),
    wear: await wear(),
    id: job.id,
    runs: runs.slice(0, RUNS).map(({ crib, board, ...run }) => ({
      ...run,
      costs: known && run.ended_at ? runCosts({ ...run, crib, board }, job.figures, finishing, known) : null,
    })),
    moreRuns: runs.length > RUNS,
    turned: await turnedFeed(job.id),
    machines: shop,
    lastHolders: await lastHolders(job.id),
    faces: await ownFaces(),
    leftovers: (await shopSettings()).leftovers,
    releases,
  };
};
