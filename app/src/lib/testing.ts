/** What a browser has and tests without one need. */

/** A worker that remembers what it was asked and answers when the test says so. */
export class FakeWorker<Request = unknown, Answer = unknown> {
  static all: FakeWorker[] = [];
  onmessage: ((event: { data: Answer }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  asked: Request[] = [];
  ended = false;
  constructor() {
    FakeWorker.all.push(this as FakeWorker);
  }
  postMessage(request: Request): void {
    this.asked.push(structuredClone(request));
  }
  terminate(): void {
    this.ended = true;
  }
  say(data: Answer): void {
    this.onmessage?.({ data });
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
