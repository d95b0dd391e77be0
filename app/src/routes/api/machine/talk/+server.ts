import { json } from '@sveltejs/kit';
import { agentTalk } from '$lib/server/agent';
import type { RequestHandler } from './$types';

/** What was said on the wire lately. */
export const GET: RequestHandler = async () => {
  try {
    return json(await agentTalk(), { headers: { 'cache-control': 'no-store' } });
  } catch {
    return json({ why: 'The machine agent does not answer.' }, { status: 503 });
  }
};
