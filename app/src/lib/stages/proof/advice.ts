/** The main thread's side of advice: workers that live as long as one question, and can be ended at once. */
import type { BitTrial, Faster, TrialAsk, TrialBoard } from '@kerbe/core/advise';
import type { Bit, Job } from '@kerbe/core/job';
import type { Nest } from '@kerbe/core/nest';
import type { JobNestSettings } from '@kerbe/core/nest/job';
import { Workroom } from '../../workers/workroom';

/** Workers that share a long question. */
const SHARED = 2;

export interface TrialView extends BitTrial {
  /** A piece of the cut as this bit leaves it. */
  picture: { width: number; height: number; data: Uint8ClampedArray };
}

export interface Questions {
  /** One bit tried on a cut. */
  bit: [{ job: Job; cut: string; bit: Bit }, TrialView];
  faster: [{ job: Job; crib: Bit[] }, Faster[]];
  trial: [{ job: Job; ask: TrialAsk }, TrialBoard];
  /** What of a job is laid out together: each piece by its first thing. */
  pieces: [{ job: Job }, { id: string; things: number }[]];
}

/** Pieces laid out on a sheet: what changes of the job, and their outlines x y for a picture, mm. */
export interface LaidOut {
  job: Pick<Job, 'items' | 'itemOrder' | 'cuts' | 'outline'>;
  nest: Nest;
  outlines: number[][];
}

/** What is told on the way: how many orders were tried, and what is better than before. */
export interface LayoutTold {
  tried: number;
  better: LaidOut | null;
}

/** A worker for as long as something is asked of it; `signal` ends it in the middle of whatever it does. */
async function inRoom<T>(signal: AbortSignal, work: (room: Workroom<Questions>) => Promise<T>): Promise<T> {
  const room = new Workroom<Questions>('The worker', () => new Worker(new URL('./advice.worker.ts', import.meta.url), { type: 'module' }));
  const end = () => room.close();
  signal.addEventListener('abort', end, { once: true });
  try {
    return await work(room);
  } finally {
    signal.removeEventListener('abort', end);
    end();
  }
}

/** Tries bits on a cut; each result is told as it comes. Work is shared between two workers. */
export async function tryBits(job: Job, cut: string, bits: readonly Bit[], signal: AbortSignal, onbit: (trial: TrialView) => void): Promise<void> {
  const plain = JSON.parse(JSON.stringify({ job, bits })) as { job: Job; bits: Bit[] };
  const shares = Array.from({ length: Math.min(SHARED, bits.length) }, (_, k) => plain.bits.filter((_, i) => i % SHARED === k));
  await Promise.all(
    shares.map((share) =>
      inRoom(signal, async (room) => {
        for (const bit of share) onbit(await room.ask('bit', { job: plain.job, cut, bit }));
      }),
    ),
  );
}

export const findFaster = (job: Job, crib: readonly Bit[], signal: AbortSignal, progress: (what: string, done: number) => void): Promise<Faster[]> =>
  inRoom(signal, (room) => room.ask('faster', { job, crib: [...crib] }, (done, what = '') => progress(what, done)));

export const layTrial = (job: Job, wanted: TrialAsk, signal: AbortSignal): Promise<TrialBoard> =>
  inRoom(signal, (room) => room.ask('trial', { job, ask: wanted }));

export const piecesOfJob = (job: Job, signal: AbortSignal): Promise<Questions['pieces'][1]> => inRoom(signal, (room) => room.ask('pieces', { job }));

/** Lays pieces out on the sheet - the server does - better and better until it is told to stop or nothing better is found any more. */
export async function layOut(
  id: string,
  job: Job,
  settings: Omit<JobNestSettings, 'rounds' | 'seed' | 'from' | 'holes'>,
  signal: AbortSignal,
  ontold: (told: LayoutTold) => void,
): Promise<void> {
  const response = await fetch(`/api/jobs/${id}/layout`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ job, settings }),
    signal,
  });
  if (!response.ok || !response.body) throw new Error(((await response.json()) as { why?: string }).why ?? 'The server did not lay them out.');
  let rest = '';
  for await (const text of response.body.pipeThrough(new TextDecoderStream()) as unknown as AsyncIterable<string>) {
    const lines = (rest + text).split('\n');
    rest = lines.pop()!;
    for (const line of lines) {
      const told = JSON.parse(line) as LayoutTold | { why: string };
      if ('why' in told) throw new Error(told.why);
      ontold(told);
    }
  }
}
