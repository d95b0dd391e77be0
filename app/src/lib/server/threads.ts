/** Heavy work off the server's own thread, each kind with bounds on time and memory. */
import Piscina from 'piscina';
import { env } from '$env/dynamic/private';
import type * as Work from './planner.worker';

type Kind = 'plan' | 'read' | 'template' | 'picture' | 'sheet';

/** Files from outside may be made to hang or to fill the memory: they get little of both. */
const BOUNDS: Record<Kind, { seconds: number; threads: number; megabytes: number }> = {
  plan: { seconds: 300, threads: 2, megabytes: 4096 },
  read: { seconds: 25, threads: 1, megabytes: 1536 },
  template: { seconds: 60, threads: 1, megabytes: 1024 },
  sheet: { seconds: 120, threads: 1, megabytes: 2048 },
  picture: { seconds: 60, threads: 1, megabytes: 2048 },
};
const pools = new Map<Kind, Piscina>();

/** Work that did not end within its bounds. */
export class TooMuch extends Error {}

export async function inThread<K extends Kind>(kind: K, data: Parameters<(typeof Work)[K]>[0]): Promise<Awaited<ReturnType<(typeof Work)[K]>>> {
  const { seconds, threads, megabytes } = BOUNDS[kind];
  let pool = pools.get(kind);
  if (!pool)
    pools.set(
      kind,
      (pool = new Piscina({ filename: env.KERBE_PLANNER, maxThreads: threads, idleTimeout: 60_000, resourceLimits: { maxOldGenerationSizeMb: megabytes } })),
    );
  try {
    return await pool.run(data, { name: kind, signal: AbortSignal.timeout(seconds * 1000) });
  } catch (error) {
    const { name, code } = error as { name?: string; code?: string };
    if (name === 'AbortError' || name === 'TimeoutError' || code === 'ERR_WORKER_OUT_OF_MEMORY')
      throw new TooMuch(`It takes more than ${seconds} seconds or ${megabytes} MB, so it was given up.`, { cause: error });
    throw error;
  }
}
