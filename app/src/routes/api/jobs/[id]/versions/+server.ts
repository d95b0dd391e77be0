import { json } from '@sveltejs/kit';
import { versionsOf } from '$lib/server/history';
import type { RequestHandler } from './$types';

/** Saved versions, newest first: `before` a revision, and `named` ones only. */
export const GET: RequestHandler = async ({ params, url }) => {
  const before = Number(url.searchParams.get('before') ?? NaN);
  return json(await versionsOf(params.id, Number.isInteger(before) ? before : null, url.searchParams.has('named')));
};
