import { json } from '@sveltejs/kit';
import { keep } from '$lib/server/assets';
import { bytesOf, wordOf } from '$lib/server/body';
import type { RequestHandler } from './$types';

/** Keeps a face of the shop's own: TTF, OTF, WOFF or WOFF2 as the body. */
export const POST: RequestHandler = async ({ request, url, locals }) => {
  const bytes = await bytesOf(request);
  const name = (wordOf(url, 'name') || 'face').replace(/\.(ttf|otf|woff2?)$/i, '');
  const kept = await keep(bytes, name, null, locals.user!.name, ['face']);
  return kept.ok ? json({ id: kept.id, name }) : json({ why: kept.why }, { status: kept.status });
};
