import { json } from '@sveltejs/kit';
import { agentPage } from '$lib/server/agents';
import type { RequestHandler } from './$types';

/** A simulated machine's board as it is carved so far; null for one that shows none. */
export const GET: RequestHandler = async ({ params }) => {
  const map = await agentPage(params.id, 'map');
  if (map === null) return json({ why: 'The machine agent does not answer.' }, { status: 503 });
  return new Response(map, { headers: { 'content-type': 'application/json', 'cache-control': 'no-store' } });
};
