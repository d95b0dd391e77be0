import { carvedMap } from '$lib/server/agent';
import type { RequestHandler } from './$types';

/** The simulated machine's board as it is carved so far. */
export const GET: RequestHandler = async () =>
  new Response(await carvedMap(), { headers: { 'content-type': 'application/json', 'cache-control': 'no-store' } });
