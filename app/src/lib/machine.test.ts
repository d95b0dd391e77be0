/** The machine as a tab sees it: commands with a key of their own, the controls kept alive and given back, a lost line said. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { meantOf, NO_MACHINE, type MachineSnapshot } from './machine';
import { MachineLink, watchMachines } from './machine.svelte';
import { Store } from './testing';
import { shownName } from './ui/tab';

class FakeSource {
  static last: FakeSource;
  onopen: (() => void) | null = null;
  heard: ((event: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  closed = false;
  readonly url: string;
  constructor(url: string) {
    this.url = url;
    FakeSource.last = this;
  }
  addEventListener(name: string, what: (event: { data: string }) => void): void {
    if (name === 'machine') this.heard = what;
  }
  close(): void {
    this.closed = true;
  }
}
let posts: { url: string; headers: Record<string, string>; body: { do: string } }[];
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
  vi.stubGlobal('fetch', async (url: string, init: { headers: Record<string, string>; body: string }) => {
    if (away) throw new TypeError('Failed to fetch');
    posts.push({ url, headers: init.headers, body: JSON.parse(init.body) });
    return { json: async () => ({ why: null }) };
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const snapshot = (tab: string | null): MachineSnapshot => ({
  ...NO_MACHINE,
  agent: true,
  link: true,
  controls: tab ? { by: 'owner', tab, since: '2026-01-01T00:00:00Z', from: null } : null,
});
const hear = (tab: string | null, machine = 'm1') => FakeSource.last.heard!({ data: JSON.stringify({ machine, snapshot: snapshot(tab) }) });

describe('a tab at the machine', () => {
  it('tells every command with a key of its own, and the same name of the tab even after a reload', async () => {
    const machine = new MachineLink('m1');
    await machine.send({ do: 'hold' });
    await machine.send({ do: 'hold' });
    const keys = posts.map(({ headers }) => headers['idempotency-key']);
    expect(new Set(keys).size).toBe(2);
    expect(new MachineLink('m1').tab).toBe(machine.tab);
    expect(posts.map(({ headers }) => headers['x-kerbe-tab'])).toEqual([machine.tab, machine.tab]);
  });
  it('a command that reached nobody is said to be so, and where the real stop is', async () => {
    away = true;
    expect(await new MachineLink('m1').send({ do: 'stop' })).toMatch(/the machine was not told.*use the stop on the machine itself/);
  });
  it('keeps the controls alive only while it holds them, and gives them back when the page goes', async () => {
    const machine = new MachineLink('m1');
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
    const machine = new MachineLink('m1');
    machine.open();
    expect(machine.connected).toBe(false);
    hear(null);
    expect([machine.connected, machine.now.link]).toEqual([true, true]);
    FakeSource.last.onerror!();
    expect(machine.connected).toBe(false);
    FakeSource.last.onopen!();
    expect(machine.connected).toBe(true);
  });
  it('hears of several by one stream, each its own, and speaks to the one that is meant', async () => {
    const machines = [new MachineLink('m1'), new MachineLink('m2')];
    const leave = watchMachines(machines);
    expect(FakeSource.last.url).toBe('/api/machines/events?machine=m1&machine=m2');
    hear('a', 'm2');
    expect(machines.map(({ now }) => now.controls?.tab)).toEqual([undefined, 'a']);
    await machines[1].send({ do: 'hold' });
    await machines[0].send({ do: 'home' });
    expect(posts.map(({ url }) => url)).toEqual(['/api/machines/m2/hold', '/api/machines/m1/command']);
    leave();
    expect(FakeSource.last.closed).toBe(true);
  });
  it('goes over to another machine: gives the controls of the first back, and shows nothing of it any more', async () => {
    const machine = new MachineLink('m1');
    machine.open();
    hear(shownName(machine.tab));
    const before = FakeSource.last;
    machine.use('m2');
    expect([before.closed, machine.mine, machine.connected, machine.now.link]).toEqual([true, false, false, false]);
    expect(posts.map(({ url, body }) => [url, body.do])).toEqual([['/api/machines/m1/command', 'leave']]);
    expect(FakeSource.last.url).toBe('/api/machines/events?machine=m2');
    hear('a', 'm1');
    expect(machine.now.link).toBe(false);
    machine.close();
  });
});

describe('the machine a job is for', () => {
  const machine = (id: string, connected: boolean, kind = 'router') => ({ id, connected, profile: { kind } });
  const meant = (machines: ReturnType<typeof machine>[], id?: string) => meantOf(machines, { machine: { id }, process: 'router' })?.id ?? null;
  it.each([
    ['the one it names, linked or not', [machine('a', true), machine('b', false)], 'b', 'b'],
    ['none named: a linked one', [machine('a', false), machine('b', true)], undefined, 'b'],
    ['none named, none linked: the first', [machine('a', false), machine('b', false)], undefined, 'a'],
    ['one that is gone: a linked one', [machine('a', false), machine('b', true)], 'x', 'b'],
    ['of its own kind only', [machine('a', true, 'laser'), machine('b', false)], 'a', 'b'],
    ['none of its kind', [machine('a', true, 'laser')], undefined, null],
  ])('%s', (_, machines, named, found) => expect(meant(machines, named)).toBe(found));
});
