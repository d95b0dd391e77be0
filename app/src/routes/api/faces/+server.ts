import { json } from '@sveltejs/kit';
import { bodyOf, keep, MOST_BYTES, TOO_LARGE } from '$lib/server/assets';
import type { RequestHandler } from './$types';

/** Keeps a face of the shop's own: TTF, OTF, WOFF or WOFF2 as the body. */
export const POST: RequestHandler = async ({ request, url, locals }) => {
  const bytes = await bodyOf(request, MOST_BYTES);
  if (!bytes) return json({ why: TOO_LARGE }, { status: 413 });
  const name = (url.searchParams.get('name') ?? 'face').replace(/\.(ttf|otf|woff2?)$/i, '');
  const kept = await keep(bytes, name, null, locals.user!.name, ['face']);
  return kept.ok ? json({ id: kept.id, name }) : json({ why: kept.why }, { status: kept.status });
};
