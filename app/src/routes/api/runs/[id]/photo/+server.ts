import { json } from '@sveltejs/kit';
import { bodyOf, keep, MOST_BYTES, TOO_LARGE } from '$lib/server/assets';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** Keeps a photo of the board as it came out with its run. The name travels in the query, the bytes are the body. */
export const POST: RequestHandler = async ({ params, request, url, locals }) => {
  const run = await db().selectFrom('run').select('job_id').where('id', '=', params.id).executeTakeFirst();
  if (!run) return json({ why: 'This run is not in the record.' }, { status: 404 });
  const bytes = await bodyOf(request, MOST_BYTES);
  if (!bytes) return json({ why: TOO_LARGE }, { status: 413 });
  const kept = await keep(bytes, url.searchParams.get('name') ?? 'photo', run.job_id, locals.user!.name, ['picture']);
  if (!kept.ok) return json({ why: kept.why }, { status: kept.status });
  await db().updateTable('asset').set({ run_id: params.id }).where('id', '=', kept.id).execute();
  return json({ why: null, id: kept.id });
};
