import { json } from '@sveltejs/kit';
import { programOf } from '$lib/server/releases';
import type { RequestHandler } from './$types';

/** Which lines of a released program cut what. */
export const GET: RequestHandler = async ({ params }) => {
  const program = await programOf(params.id, params.name);
  if (program === null) return json({ why: 'There is no such program.' }, { status: 404 });
  if (typeof program === 'string') return json({ why: program }, { status: 409 });
  return json(program.spans ?? []);
};
