import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { DEFECTS, causeOf } from '@kerbe/core/setup/defects';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params }) => {
  const events = await db().selectFrom('run_event').select(['at', 'event', 'line', 'text']).where('run_id', '=', params.id).orderBy('id').execute();
  const photos = await db().selectFrom('asset').select(['id', 'name', 'created_at']).where('run_id', '=', params.id).orderBy('created_at').execute();
  return json({ events, photos });
};

const Change = z.union([
  z.object({ notes: z.string().max(20_000) }),
  z.object({ defect: z.object({ kind: z.enum(DEFECTS.map(({ kind }) => kind)), note: z.string().max(2_000).default('') }) }),
  z.object({ drop: z.int().min(0).max(100) }),
]);

export const PATCH: RequestHandler = async ({ params, request, locals }) => {
  const parsed = Change.safeParse(await request.json().catch(() => null));
  if (!parsed.success) return json({ why: 'The note could not be read.' }, { status: 400 });
  const change = parsed.data;
  if ('notes' in change) {
    await db().updateTable('run').set({ notes: change.notes }).where('id', '=', params.id).execute();
    return json({ why: null });
  }
  return db()
    .transaction()
    .execute(async (trx) => {
      const row = await trx.selectFrom('run').select(['defects', 'setup', 'message']).where('id', '=', params.id).forUpdate().executeTakeFirst();
      if (!row) return json({ why: 'This run is not in the record.' }, { status: 404 });
      const events = await trx.selectFrom('run_event').select(['event', 'text']).where('run_id', '=', params.id).execute();
      const defects = 'drop' in change ? row.defects.filter((_, k) => k !== change.drop) : [...row.defects];
      if ('defect' in change) {
        const { kind, note } = change.defect;
        defects.push({ kind, note, cause: causeOf(kind, { setup: row.setup, events }), by: locals.user!.name, at: new Date().toISOString() });
      }
      await trx
        .updateTable('run')
        .set({ defects: JSON.stringify(defects) })
        .where('id', '=', params.id)
        .execute();
      return json({ why: null, defects });
    });
};
