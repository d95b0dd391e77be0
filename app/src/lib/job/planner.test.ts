/** The planner in the browser, its worker played by a stand-in: after an error it works again. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Job } from '@kerbe/core/job';
import { Planner } from './planner';

class FakeWorker {
  static made: FakeWorker[] = [];
  readonly heard: { id: number; kind: string }[] = [];
  ended = false;
  onmessage: ((event: { data: unknown }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  constructor() {
    FakeWorker.made.push(this);
  }
  postMessage(data: { id: number; kind: string }) {
    this.heard.push(data);
  }
  terminate() {
    this.ended = true;
  }
  say(data: unknown) {
    this.onmessage?.({ data });
  }
}

beforeEach(() => {
  FakeWorker.made = [];
  vi.stubGlobal('Worker', FakeWorker);
});
afterEach(() => vi.unstubAllGlobals());

describe('the planner', () => {
  const job = {} as Job;
  const begin = () => {
    const failed = vi.fn();
    const planner = new Planner({ progress: vi.fn(), plan: vi.fn(), failed });
    FakeWorker.made[0].say({ kind: 'ready' });
    return { planner, failed };
  };
  it('starts another worker after an error, and plans again', async () => {
    const { planner, failed } = begin();
    planner.request(job, '', null);
    const question = planner.ask('stl', {});
    FakeWorker.made[0].onerror!({ message: 'out of memory' });
    expect(failed).toHaveBeenCalledWith(expect.stringMatching(/out of memory.*started anew/));
    await expect(question).rejects.toThrow('out of memory');
    expect(FakeWorker.made[0].ended).toBe(true);
    await expect(planner.ask('stl', {})).rejects.toThrow('Nothing is planned');
    planner.request(job, '', null);
    expect(FakeWorker.made).toHaveLength(2);
    FakeWorker.made[1].say({ kind: 'ready' });
    expect(FakeWorker.made[1].heard.map(({ kind }) => kind)).toEqual(['plan']);
  });
  it('does not start one after the other when the worker cannot be loaded', () => {
    const { failed } = begin();
    FakeWorker.made[0].onerror!({ message: '' });
    expect(FakeWorker.made).toHaveLength(1);
    expect(failed).toHaveBeenCalledTimes(1);
  });
});
