/**
 * Heavy work in processes of their own, each kind with bounds on time and memory: whatever becomes of
 * one - killed, out of memory, stuck - is a message, and the server goes on answering. Processes rather
 * than a library's threads: a thread that runs out of memory outside its heap takes the server along.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { setPriority } from 'node:os';
import { watch, type Bounds } from '@kerbe/files/bounds';
import { env } from '$env/dynamic/private';
import type * as Work from './heavy';
import { trouble } from './log';

type Kind = keyof typeof Work;

/** Files from outside may be made to hang or to fill the memory: they get little of both. */
const BOUNDS: Record<Kind, Bounds & { atOnce: number }> = {
  // Saves: never behind anything else.
  job: { seconds: 20, megabytes: 1024, atOnce: 2 },
  plan: { seconds: 300, megabytes: 4096, atOnce: 2 },
  // One that hangs leaves room for one that does not.
  read: { seconds: 25, megabytes: 1536, atOnce: 3 },
  grey: { seconds: 25, megabytes: 1536, atOnce: 2 },
  template: { seconds: 60, megabytes: 1024, atOnce: 1 },
  sheet: { seconds: 120, megabytes: 2048, atOnce: 1 },
  quote: { seconds: 120, megabytes: 2048, atOnce: 1 },
  figures: { seconds: 120, megabytes: 4096, atOnce: 1 },
  remnant: { seconds: 120, megabytes: 4096, atOnce: 1 },
  picture: { seconds: 60, megabytes: 2048, atOnce: 1 },
  // It ends by itself before, with the best it has.
  layout: { seconds: 300, megabytes: 2048, atOnce: 2 },
};
/** How long one that has nothing to do is kept, milliseconds. */
const IDLE = 60_000;
/** Waiting is no work and has no bound in time; so many may wait. */
const MOST_WAITING = 200;

/** Work that did not end within its bounds, or found no room. */
export class WorkLimitError extends Error {}

/** How somebody follows work that lasts, and gives it up. */
interface Follow {
  tell?: (what: never) => void;
  signal?: AbortSignal;
}

interface Task extends Follow {
  data: unknown;
  done: (value: never) => void;
  fail: (error: Error) => void;
}

class Pool {
  readonly waiting: Task[] = [];
  private readonly idle: { child: ChildProcess; leave: NodeJS.Timeout }[] = [];
  busy = 0;
  private readonly kind: Kind;

  constructor(kind: Kind) {
    this.kind = kind;
  }

  run(data: unknown, follow: Follow): Promise<never> {
    if (this.waiting.length >= MOST_WAITING) return Promise.reject(new WorkLimitError('Too much is waiting to be worked on. Try again in a minute.'));
    return new Promise((done, fail) => {
      const task = { data, done, fail, ...follow };
      this.waiting.push(task);
      // What nobody wants any more is not begun.
      follow.signal?.addEventListener('abort', () => {
        const at = this.waiting.indexOf(task);
        if (at < 0) return;
        this.waiting.splice(at, 1);
        fail(new WorkLimitError('It was given up.'));
      });
      this.next();
    });
  }

  private next(): void {
    if (this.busy >= BOUNDS[this.kind].atOnce) return;
    const task = this.waiting.shift();
    if (!task) return;
    this.busy++;
    this.work(task);
  }

  private child(): ChildProcess {
    for (let kept = this.idle.pop(); kept; kept = this.idle.pop()) {
      clearTimeout(kept.leave);
      if (kept.child.connected && kept.child.exitCode === null && kept.child.signalCode === null) return kept.child;
    }
    const heap = `--max-old-space-size=${BOUNDS[this.kind].megabytes}`;
    const child = fork(env.KERBE_HEAVY!, [], {
      serialization: 'advanced',
      execArgv: [heap],
      env: { NODE_ENV: 'production', PATH: process.env.PATH } as NodeJS.ProcessEnv,
    });
    child.on('error', (error) => trouble(`heavy work: ${this.kind}`, error));
    // Whoever sets up or runs a machine goes before whoever plans.
    try {
      if (this.kind !== 'job' && child.pid) setPriority(child.pid, 10);
    } catch {
      // It has ended already; its end is told below.
    }
    return child;
  }

  private work({ data, done, fail, tell, signal }: Task): void {
    const child = this.child();
    let why = '';
    const unwatch = watch(child, BOUNDS[this.kind], (beyond) => (why = beyond));
    let settled = false;
    const began = performance.now();
    const over = (how: 'done' | 'failed' | 'given up') => {
      settled = true;
      told?.(this.kind, (performance.now() - began) / 1000, how);
      unwatch();
      child.off('message', answered).off('exit', ended);
      signal?.removeEventListener('abort', giveUp);
      this.busy--;
      this.next();
    };
    const giveUp = () => {
      why ||= 'nobody wants it any more';
      child.kill('SIGKILL');
    };
    const answered = (answer: { value?: never; error?: string; tell?: never }) => {
      if ('tell' in answer) return tell?.(answer.tell as never);
      this.rest(child);
      over(answer.error === undefined ? 'done' : 'failed');
      if (answer.error === undefined) done(answer.value as never);
      else fail(new Error(answer.error));
    };
    const ended = (code: number | null, signal: string | null) => {
      if (settled) return;
      over('given up');
      fail(new WorkLimitError(`It was given up: ${why || `the process that worked on it ended (${signal ?? code})`}.`));
    };
    child.on('message', answered).once('exit', ended);
    signal?.addEventListener('abort', giveUp, { once: true });
    if (signal?.aborted) giveUp();
    child.send({ kind: this.kind, data }, (error) => {
      // It died before it had heard: its end may have been told already.
      if (error) ended(null, error.message);
    });
  }

  private rest(child: ChildProcess): void {
    const entry = { child, leave: setTimeout(() => this.dismiss(entry), IDLE).unref() };
    this.idle.push(entry);
  }

  private dismiss(entry: { child: ChildProcess }): void {
    this.idle.splice(this.idle.indexOf(entry as never), 1);
    if (entry.child.connected) entry.child.disconnect();
  }
}

const pools = new Map<Kind, Pool>();
/** Kinds of heavy work there are, and what of one is under way and waiting. */
export const HEAVY = Object.keys(BOUNDS) as Kind[];
export const heavyNow = (kind: Kind): { busy: number; waiting: number } => {
  const pool = pools.get(kind);
  return { busy: pool?.busy ?? 0, waiting: pool?.waiting.length ?? 0 };
};
type Told = (kind: Kind, seconds: number, ended: 'done' | 'failed' | 'given up') => void;
let told: Told | null = null;
/** Who is told when heavy work has ended. */
export const onHeavy = (listener: Told): void => void (told = listener);

/**
 * Has a function of heavy carried out in a process. Fails with {@link WorkLimitError} when it goes beyond its bounds.
 *
 * @param follow who hears what it tells on the way, and whose signal ends it
 */
export function inChild<K extends Kind>(kind: K, data: Parameters<(typeof Work)[K]>[0], follow: Follow = {}): Promise<Awaited<ReturnType<(typeof Work)[K]>>> {
  let pool = pools.get(kind);
  if (!pool) pools.set(kind, (pool = new Pool(kind)));
  return pool.run(data, follow);
}
