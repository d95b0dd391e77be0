/**
 * The one way the page asks its workers: a call by name, typed by what the worker answers. A worker that died
 * is started again and whoever waited is asked for once more; who kills a second one is told so.
 */
import { proxy, wrap, type Remote } from 'comlink';
import { Superseded } from './superseded.ts';

/** Questions by name: what they are asked with, and what comes back. */
export type Questions = Record<string, [unknown, unknown]>;
/** What a worker answers, one function a question; `progress` hears from 0 to 1 how far it is. */
export type Answers<Q> = {
  [K in keyof Q]: Q[K] extends [infer In, infer Out] ? (what: In, progress?: Progress) => Promise<Out> | Out : never;
};
export type Progress = (done: number, what?: string) => unknown;

interface Asked {
  name: string;
  what: unknown;
  progress?: Progress;
  resolve: (value: never) => void;
  reject: (why: Error) => void;
  tries: number;
}
type Api = Remote<Record<string, (what: unknown, progress?: Progress) => unknown>>;

export class Workroom<Q> {
  private readonly make: () => Worker;
  private readonly called: string;
  private readonly tries: number;
  private now: { worker: Worker; api: Promise<Api> } | null = null;
  private readonly asked = new Set<Asked>();

  /**
   * @param called what a person reads of it: “The planning worker”
   * @param tries how often a question is put at most: a worker that dies of it would die for ever
   */
  constructor(called: string, make: () => Worker, tries = 2) {
    this.called = called;
    this.tries = tries;
    this.make = make;
    this.open();
  }

  ask<K extends keyof Q & string>(name: K, what: Q[K] extends [infer In, unknown] ? In : never, progress?: Progress) {
    return new Promise<Q[K] extends [unknown, infer Out] ? Out : never>((resolve, reject) => {
      const asked: Asked = { name, what, progress, resolve, reject, tries: 0 };
      this.asked.add(asked);
      this.put(asked);
    });
  }

  /** Ends all work under way, even in the middle of a step. */
  cancel(): void {
    this.close();
    this.open();
  }

  close(): void {
    this.now?.worker.terminate();
    this.now = null;
    for (const { reject } of this.asked) reject(new Superseded('Cancelled.'));
    this.asked.clear();
  }

  private put(asked: Asked): void {
    const now = this.open();
    asked.tries++;
    const over = (act: () => void) => {
      if (this.now === now && this.asked.delete(asked)) act();
    };
    now.api
      .then((api) => (asked.progress ? api[asked.name](asked.what, proxy(asked.progress)) : api[asked.name](asked.what)))
      .then(
        (value) => over(() => asked.resolve(value as never)),
        (error: Error) => over(() => asked.reject(error.name === 'Superseded' ? new Superseded(error.message) : error)),
      );
  }

  private open(): NonNullable<typeof this.now> {
    if (this.now) return this.now;
    const worker = this.make();
    const ready = new Promise<void>((done) => {
      const hear = ({ data }: MessageEvent) => {
        if (data !== 'ready') return;
        worker.removeEventListener('message', hear);
        done();
      };
      worker.addEventListener('message', hear);
    });
    const now = { worker, api: ready.then(() => wrap<Record<string, (what: unknown) => unknown>>(worker) as unknown as Api) };
    worker.addEventListener('error', (event) => {
      event.preventDefault();
      this.died(now, event.message);
    });
    return (this.now = now);
  }

  private died(now: NonNullable<typeof this.now>, why: string): void {
    if (this.now !== now) return;
    now.worker.terminate();
    this.now = null;
    for (const asked of [...this.asked]) {
      if (asked.tries < this.tries) this.put(asked);
      else {
        this.asked.delete(asked);
        asked.reject(new Error(`${this.called} stopped over this${why ? ` (${why})` : ''}. Change something, and it is tried again.`));
      }
    }
  }
}
