import { sql } from 'kysely';
import { linkedAgents } from '$lib/server/agents';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** Longest wait for the database, milliseconds. */
const PATIENCE = 2000;

/**
 * Is it alive, and can it do its work? 200 when it can, 503 with the reasons when it cannot. `?live` asks for nothing but the first.
 * A machine that does not answer is no reason: the shop goes on drawing; it is told beside.
 */
export const GET: RequestHandler = async ({ url }) => {
  if (url.searchParams.has('live')) return Response.json({ live: true });
  const reasons: string[] = [];
  const late = new Promise<never>((_, fail) => setTimeout(() => fail(new Error('late')), PATIENCE).unref());
  await Promise.race([sql`select 1`.execute(db()), late]).catch(() => reasons.push('The database does not answer.'));
  const agents = linkedAgents();
  const away = agents.filter(({ agent }) => !agent).map(({ machine }) => machine);
  return Response.json(
    { live: true, ready: reasons.length === 0, reasons, agents: { known: agents.length, away } },
    { status: reasons.length === 0 ? 200 : 503, headers: { 'cache-control': 'no-store' } },
  );
};
