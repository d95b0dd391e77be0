import { json } from '@sveltejs/kit';
import { keep } from '$lib/server/assets';
import { bytesOf, wordOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** Keeps a drawing or a picture with its job, read again here. The name travels in the query, the bytes are the body. */
export const POST: RequestHandler = async ({ params, request, url, locals }) => {
  const job = await db().selectFrom('job').select('id').where('id', '=', params.id).executeTakeFirst();
  if (!job) return json({ why: 'This job is not in the shop.' }, { status: 404 });
  const bytes = await bytesOf(request);
  const kept = await keep(bytes, wordOf(url, 'name') || 'file', params.id, locals.user!.name, ['drawing', 'picture']);
  return kept.ok ? json({ id: kept.id, things: kept.read.things, kind: kept.read.kind }) : json({ why: kept.why }, { status: kept.status });
};
