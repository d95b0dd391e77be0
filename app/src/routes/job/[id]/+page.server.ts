import { error } from '@sveltejs/kit';
import { sql } from 'kysely';
import { ownFaces } from '$lib/server/assets';
import { cribBits } from '$lib/server/crib';
import { db, type ProgramRecord } from '$lib/server/db';
import { connectedMachine } from '$lib/server/machines';
import { shallowestOf } from '$lib/server/runs';
import type { PageServerLoad } from './$types';

/** What held the board of the job that was worked on last: the next board mostly lies the same way. */
async function lastHolders(id: string) {
  const row = await db()
    .selectFrom('job')
    .select('doc')
    .where('id', '!=', id)
    .where(sql<boolean>`jsonb_array_length(coalesce(doc->'board'->'holders', '[]'::jsonb)) > 0`)
    .orderBy('updated_at', 'desc')
    .limit(1)
    .executeTakeFirst();
  return row?.doc.board.holders ?? [];
}

export const load: PageServerLoad = async ({ params, depends }) => {
  depends('kerbe:job');
  const job = await db().selectFrom('job').selectAll().where('id', '=', params.id).executeTakeFirst();
  if (!job) error(404, 'This job is not in the shop.');
  const releases = await db()
    .selectFrom('release')
    .select(['id', 'revision', 'sha256', 'report', 'author', 'created_at'])
    // Without their texts: what is only listed is not loaded.
    .select(
      sql<(Omit<ProgramRecord, 'text'> & { spindle: boolean })[]>`(
        select coalesce(jsonb_agg((program - 'text') || jsonb_build_object('spindle', (program ->> 'text') ~ '\\mM0?[34]\\M') order by place), '[]'::jsonb)
        from jsonb_array_elements(release.programs) with ordinality as one(program, place)
      )`.as('programs'),
    )
    .where('job_id', '=', params.id)
    .orderBy('created_at', 'desc')
    .limit(5)
    .execute();
  const runs = await db().selectFrom('run').selectAll().where('job_id', '=', params.id).orderBy('started_at', 'desc').limit(30).execute();
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
    id: job.id,
    revision: job.revision,
    doc: job.doc,
    runs,
    machine: await connectedMachine(),
    shallowest: shallowestOf(job.doc),
    lastHolders: await lastHolders(job.id),
    faces: await ownFaces(),
    releases,
  };
};
