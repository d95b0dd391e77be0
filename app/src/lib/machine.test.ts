/** The machine as a tab sees it: commands with a key of their own, the controls kept alive and given back, a lost line said. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { noSetup } from '@kerbe/core/link';
import { MachineLink } from './machine.svelte';
import { Store } from './testing';
import { shownName } from './ui/tab';

class FakeSource {
  static last: FakeSource;
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  closed = false;
  constructor() {
    FakeSource.last = this;
  }
  close(): void {
    this.closed = true;
  }
}
let posts: { headers: Record<string, string>; body: { do: string } }[];
let away: boolean;
let leave: (() => void) | null;

beforeEach(() => {
  vi.useFakeTimers();
  posts = [];
  away = false;
  leave = null;
  vi.stubGlobal('sessionStorage', new Store());
  vi.stubGlobal('EventSource', FakeSource);
  vi.stubGlobal('addEventListener', (_: string, what: () => void) => (leave = what));
  vi.stubGlobal('removeEventListener', () => (leave = null));
  vi.stubGlobal('fetch', async (_: string, init: { headers: Record<string, string>; body: string }) => {
    if (away) throw new TypeError('Failed to fetch');
    posts.push({ headers: init.headers, body: JSON.parse(init.body) });
    return { json: async () => ({ why: null }) };
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const snapshot = (tab: string | null) =>
  JSON.stringify({
    agent: true,
    link: true,
    status: null,
    setup: noSetup(),
    run: null,
    busy: null,
    controls: tab && { by: 'owner', tab, since: '2026-01-01T00:00:00Z', from: null },
  });
const hear = (tab: string | null) => FakeSource.last.onmessage!({ data: snapshot(tab) });

describe('a tab at the machine', () => {
  it('tells every command with a key of its own, and the same name of the tab even after a reload', async () => {
    const machine = new MachineLink();
    await machine.send({ do: 'hold' });
    await machine.send({ do: 'hold' });
    const keys = posts.map(({ headers }) => headers['idempotency-key']);
    expect(new Set(keys).size).toBe(2);
    expect(new MachineLink().tab).toBe(machine.tab);
    expect(posts.map(({ headers }) => headers['x-kerbe-tab'])).toEqual([machine.tab, machine.tab]);
  });
  it('a command that reached nobody is said to be so, and where the real stop is', async () => {
    away = true;
    expect(await new MachineLink().send({ do: 'stop' })).toMatch(/the machine was not told.*use the stop on the machine itself/);
  });
  it('keeps the controls alive only while it holds them, and gives them back when the page goes', async () => {
    const machine = new MachineLink();
    machine.open();
    hear('another tab');
    expect(machine.mine).toBe(false);
    await vi.advanceTimersByTimeAsync(60_000);
    leave!();
    expect(posts).toEqual([]);
    // The secret part of its name is never heard.
    hear(shownName(machine.tab));
    expect(machine.mine).toBe(true);
    await vi.advanceTimersByTimeAsync(31_000);
    leave!();
    expect(posts.map(({ body }) => body.do)).toEqual(['renew', 'renew', 'leave']);
    machine.close();
    expect(FakeSource.last.closed).toBe(true);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(posts).toHaveLength(3);
  });
  it('says when it no longer hears the server, and hears again', () => {
    const machine = new MachineLink();
    machine.open();
    expect(machine.connected).toBe(false);
    hear(null);
    expect([machine.connected, machine.now.link]).toEqual([true, true]);
    FakeSource.last.onerror!();
    expect(machine.connected).toBe(false);
    FakeSource.last.onopen!();
    expect(machine.connected).toBe(true);
  });
});
