import { json } from '@sveltejs/kit';
import { dropUnused, keep } from '$lib/server/assets';
import { bytesOf, wordOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** Keeps a photo of the board as it came out with its run. The name travels in the query, the bytes are the body. */
export const POST: RequestHandler = async ({ params, request, url, locals }) => {
  const run = await db().selectFrom('run').select('job_id').where('id', '=', params.id).executeTakeFirst();
  if (!run) return json({ why: 'This run is not in the record.' }, { status: 404 });
  const bytes = await bytesOf(request);
  const kept = await keep(bytes, wordOf(url, 'name') || 'photo', run.job_id, locals.user!.name, ['picture']);
  if (!kept.ok) return json({ why: kept.why }, { status: kept.status });
  // The same photo may show two runs.
  await db()
    .insertInto('run_photo')
    .values({ run_id: params.id, asset_id: kept.id })
    .onConflict((conflict) => conflict.doNothing())
    .execute();
  return json({ why: null, id: kept.id });
};

/** Takes a photo off its run; the file goes when no other run and nothing drawn shows it. */
export const DELETE: RequestHandler = async ({ params, url }) => {
  const photo = wordOf(url, 'photo');
  const { numDeletedRows } = await db().deleteFrom('run_photo').where('run_id', '=', params.id).where('asset_id', '=', photo).executeTakeFirst();
  if (Number(numDeletedRows) === 0) return json({ why: 'This photo is not with the run.' }, { status: 404 });
  await dropUnused(photo);
  return json({ why: null });
};
