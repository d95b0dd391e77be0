import { json } from '@sveltejs/kit';
import { agentPage } from '$lib/server/agents';
import type { RequestHandler } from './$types';

/** What was said on the wire lately. */
export const GET: RequestHandler = async ({ params }) => {
  const talk = await agentPage(params.id, 'talk');
  if (talk === null) return json({ why: 'The machine agent does not answer.' }, { status: 503 });
  return new Response(talk, { headers: { 'content-type': 'application/json', 'cache-control': 'no-store' } });
};
