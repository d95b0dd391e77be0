/** Which machines have an agent, and where: asked of the keeper that starts and ends them (scripts/keeper.mjs). */
import { env } from '$env/dynamic/private';
import type { Linked } from '@kerbe/core/machine';

export interface Kept {
  machine: string;
  url: string;
  /** The kind of a machine that comes with Kerbe; null for any other. */
  simulated: string | null;
}

async function ask(method: string, path: string, body?: unknown): Promise<unknown> {
  const response = await fetch(`${env.KERBE_KEEPER_URL}${path}`, {
    method,
    headers: { authorization: `Bearer ${env.KERBE_KEEPER_TOKEN}`, 'content-type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  const answer = (await response.json()) as { why?: string };
  if (!response.ok) throw new Error(answer.why ?? `the keeper of the agents answered ${response.status}`);
  return answer;
}

export const keptAgents = async (): Promise<Kept[]> => (await ask('GET', '/agents')) as Kept[];
/** From now on the machine has an agent; one that runs already goes on. */
export const keepAgent = async (machine: string, linked: Linked): Promise<void> => void (await ask('PUT', `/agents/${machine}`, linked));
export const endAgent = async (machine: string): Promise<void> => void (await ask('DELETE', `/agents/${machine}`));
