import { error } from '@sveltejs/kit';
import { sql } from 'kysely';
import type { Holder } from '@kerbe/core/job';
import { PROCESSES, type ProcessName } from '@kerbe/core/process';
import { meantOf } from '$lib/machine';
import { ownFaces } from '$lib/server/assets';
import { cribBits, wear } from '$lib/server/crib';
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

export const load: PageServerLoad = async ({ params, depends }) => {
  depends('kerbe:job');
  const job = await db()
    .selectFrom('job')
    .select(['id', sql<ProcessName>`coalesce(doc->>'process', 'router')`.as('process')])
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
    .select(['cut_last', 'release.revision'])
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
  return {
    past,
    crib: await cribBits(),
    wear: await wear(),
    id: job.id,
    runs: runs.slice(0, RUNS),
    moreRuns: runs.length > RUNS,
    turned: await turnedFeed(job.id),
    machines: shop,
    lastHolders: await lastHolders(job.id),
    faces: await ownFaces(),
    leftovers: (await shopSettings()).leftovers,
    releases,
  };
};
