import { json } from '@sveltejs/kit';
import { sql } from 'kysely';
import { z } from 'zod';
import type { LengthUnit } from '@kerbe/core/length';
import { DEFECTS, causeOf } from '@kerbe/core/setup/defects';
import { jsonOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params }) => {
  const events = await db().selectFrom('run_event').select(['at', 'event', 'line', 'text', 'facts']).where('run_id', '=', params.id).orderBy('id').execute();
  const photos = await db()
    .selectFrom('run_photo')
    .innerJoin('asset', 'asset.id', 'run_photo.asset_id')
    .select(['asset.id', 'asset.name', 'run_photo.at as created_at'])
    .where('run_photo.run_id', '=', params.id)
    .orderBy('run_photo.at')
    .execute();
  // How it was to look: of what was released, or the last picture from before.
  const proof = await db()
    .selectFrom('run')
    .innerJoin('release', 'release.id', 'run.release_id')
    .innerJoin('job_revision', 'job_revision.job_id', 'run.job_id')
    .select('job_revision.picture')
    .where('run.id', '=', params.id)
    .whereRef('job_revision.revision', '<=', 'release.revision')
    .where('job_revision.picture', 'is not', null)
    .orderBy('job_revision.revision', 'desc')
    .limit(1)
    .executeTakeFirst();
  return json({ events, photos, picture: proof?.picture ?? null });
};

const NO_RUN = 'This run is not in the record.';

const Change = z.union([
  z.object({ notes: z.string().max(20_000) }),
  z.object({ defect: z.object({ kind: z.enum(DEFECTS.map(({ kind }) => kind)), note: z.string().max(2_000).default('') }) }),
  z.object({ drop: z.int().min(0).max(100) }),
]);

export const PATCH: RequestHandler = async ({ params, request, locals }) => {
  const change = await jsonOf(request, Change);
  if (!change) return json({ why: 'The note could not be read.' }, { status: 400 });
  if ('notes' in change) {
    const { numUpdatedRows } = await db().updateTable('run').set({ notes: change.notes }).where('id', '=', params.id).executeTakeFirst();
    return Number(numUpdatedRows) === 0 ? json({ why: NO_RUN }, { status: 404 }) : json({ why: null });
  }
  return db()
    .transaction()
    .execute(async (trx) => {
      const row = await trx
        .selectFrom('run')
        .select(['defects', 'setup', 'message', sql<LengthUnit | null>`(select doc->>'units' from job where job.id = run.job_id)`.as('unit')])
        .where('id', '=', params.id)
        .forUpdate()
        .executeTakeFirst();
      if (!row) return json({ why: NO_RUN }, { status: 404 });
      const events = await trx.selectFrom('run_event').select(['event', 'facts']).where('run_id', '=', params.id).execute();
      const defects = 'drop' in change ? row.defects.filter((_, k) => k !== change.drop) : [...row.defects];
      if ('defect' in change) {
        const { kind, note } = change.defect;
        defects.push({ kind, note, cause: causeOf(kind, { setup: row.setup, events }, row.unit ?? 'mm'), by: locals.user!.name, at: new Date().toISOString() });
      }
      await trx
        .updateTable('run')
        .set({ defects: JSON.stringify(defects) })
        .where('id', '=', params.id)
        .execute();
      return json({ why: null, defects });
    });
};
