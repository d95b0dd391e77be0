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
  layout: [{ job: Job; settings: JobNestSettings }, LaidOut];
}

/** Pieces laid out on a sheet: the job with them there, and their outlines x y for a picture, mm. */
export interface LaidOut {
  job: Job;
  nest: Nest;
  outlines: Float64Array[];
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

/** Orders tried in one go at first, and how long a go may take before fewer are, milliseconds. */
const AT_ONCE = 4;
const LONG = 1500;
/** Goes without anything better before it is left at that. */
const PATIENCE = 60;

/** Lays pieces out on the sheet, better and better until it is told to stop or finds nothing better any more; each better one is told. */
export async function layOut(
  job: Job,
  settings: Omit<JobNestSettings, 'rounds' | 'seed' | 'from'>,
  signal: AbortSignal,
  onbetter: (made: LaidOut) => void,
): Promise<void> {
  await inRoom(signal, async (room) => {
    let best = await room.ask('layout', { job, settings: { ...settings, rounds: 0 } });
    onbetter(best);
    let rounds = AT_ONCE;
    for (let seed = 1, idle = 0; idle < PATIENCE; seed++, idle++) {
      const began = performance.now();
      const next = await room.ask('layout', { job, settings: { ...settings, rounds, seed, from: best.nest } });
      if (performance.now() - began > LONG) rounds = Math.max(1, rounds >> 1);
      if (next.nest.left.length < best.nest.left.length || next.nest.used < best.nest.used - 1e-6) {
        idle = 0;
        best = next;
        onbetter(best);
      }
    }
  });
}
