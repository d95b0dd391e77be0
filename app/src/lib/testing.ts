/** What a browser has and tests without one need. */
import { wrap } from 'comlink';
import type { Progress } from './workers/workroom';

/** A question as it reached a worker. */
export interface Heard {
  id: string;
  name: string;
  what: unknown;
  progress?: Progress;
}

/** A worker that remembers what it was asked and answers when the test says so. */
export class FakeWorker extends EventTarget {
  static all: FakeWorker[] = [];
  readonly asked: Heard[] = [];
  ended = false;
  constructor() {
    super();
    FakeWorker.all.push(this);
  }
  /** Calls as comlink writes them. */
  postMessage(message: { id: string; type: string; path: string[]; argumentList: { value: unknown }[] }): void {
    if (message.type !== 'APPLY') return;
    const [what, progress] = message.argumentList;
    this.asked.push({
      id: message.id,
      name: message.path[0],
      what: structuredClone(what.value),
      ...(progress ? { progress: wrap<Progress>(progress.value as MessagePort) as unknown as Progress } : {}),
    });
  }
  terminate(): void {
    this.ended = true;
  }
  private say(data: unknown): void {
    this.dispatchEvent(Object.assign(new Event('message'), { data }));
  }
  ready(): void {
    this.say('ready');
  }
  reply({ id }: Heard, value: unknown): void {
    this.say({ id, type: 'RAW', value });
  }
  fail({ id }: Heard, message: string, name = 'Error'): void {
    this.say({ id, type: 'HANDLER', name: 'throw', value: { isError: true, value: { message, name } } });
  }
  die(message: string): void {
    this.dispatchEvent(Object.assign(new Event('error'), { message }));
  }
}

/** A browser’s storage, which may be full. */
export class Store {
  readonly kept = new Map<string, string>();
  full = false;
  getItem = (key: string) => this.kept.get(key) ?? null;
  removeItem = (key: string) => void this.kept.delete(key);
  setItem(key: string, value: string): void {
    if (this.full) throw new Error('QuotaExceededError');
    this.kept.set(key, value);
  }
}
