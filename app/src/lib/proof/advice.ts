/** The main thread's side of advice: workers that live as long as one question, and can be ended at once. */
import type { Faster, TrialAsk, TrialBoard } from '@kerbe/core/advise';
import type { Bit, Job } from '@kerbe/core/job';
import type { AdviceAnswer, AdviceAsk, TrialView } from './advice.worker';

/** Workers that share a long question. */
const SHARED = 2;

interface Ears {
  progress?: (what: string, done: number) => void;
  bit?: (trial: TrialView) => void;
}

/** Asks one worker; `signal` ends it in the middle of whatever it does. */
function ask(question: AdviceAsk, signal: AbortSignal, ears: Ears): Promise<Extract<AdviceAnswer, { kind: 'faster' | 'trial' | 'done' }>> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('./advice.worker.ts', import.meta.url), { type: 'module' });
    const end = (act: () => void) => {
      worker.terminate();
      act();
    };
    signal.addEventListener('abort', () => end(() => reject(new Error('Cancelled.'))), { once: true });
    worker.onerror = (event) => end(() => reject(new Error(event.message || 'The worker stopped.')));
    worker.onmessage = ({ data }: MessageEvent<AdviceAnswer>) => {
      if (data.kind === 'ready') worker.postMessage(question);
      else if (data.kind === 'progress') ears.progress?.(data.what, data.done);
      else if (data.kind === 'bit') ears.bit?.(data.trial);
      else if (data.kind === 'failed') end(() => reject(new Error(data.why)));
      else end(() => resolve(data));
    };
  });
}

/** Tries bits on a cut; each result is told as it comes. Work is shared between two workers. */
export async function tryBits(job: Job, cut: string, bits: readonly Bit[], signal: AbortSignal, onbit: (trial: TrialView) => void): Promise<void> {
  const plain = JSON.parse(JSON.stringify({ job, bits })) as { job: Job; bits: Bit[] };
  const shares = Array.from({ length: Math.min(SHARED, bits.length) }, (_, k) => plain.bits.filter((_, i) => i % SHARED === k));
  await Promise.all(shares.map((share) => ask({ kind: 'bits', job: plain.job, cut, bits: share }, signal, { bit: onbit })));
}

export async function findFaster(job: Job, crib: readonly Bit[], signal: AbortSignal, progress: (what: string, done: number) => void): Promise<Faster[]> {
  const answer = await ask({ kind: 'faster', job, crib: [...crib] }, signal, { progress });
  return answer.kind === 'faster' ? answer.ways : [];
}

export async function layTrial(job: Job, wanted: TrialAsk, signal: AbortSignal): Promise<TrialBoard> {
  const answer = await ask({ kind: 'trial', job, ask: wanted }, signal, {});
  return answer.kind === 'trial' ? answer.board : { ok: false, why: 'It could not be laid out.' };
}
