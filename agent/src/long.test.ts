/**
 * Long programs and long days. KERBE_SOAK above 1: a program of a million lines, and a day of the
 * machine's own time; else the short form of each.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { orderOf, Shop, zigzag } from './testing.ts';

const WHOLE = Number(process.env.KERBE_SOAK ?? 1) > 1;
const shop = new Shop(1000);
beforeAll(async () => {
  await shop.open();
  await shop.ready();
}, 60_000);
afterAll(() => shop.close());

/** Resident memory of a process, MB. */
const memory = (pid: number) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;

const LINES = WHOLE ? 1_000_000 : 30_000;
it(`a program of ${LINES} lines goes through whole`, async () => {
  const program = zigzag(LINES, 0.1);
  const before = memory(shop.agent.child.pid!);
  await shop.must(orderOf('long', program));
  const end = await shop.until((s) => s.run?.endedAt, 1500);
  expect(end.run, end.run!.message).toMatchObject({ state: 'done', line: LINES, lines: LINES });
  const taken = shop.taken('long');
  expect(taken.length).toBe(LINES);
  expect(taken.every((line, k) => k === 0 || line !== taken[k - 1])).toBe(true);
  // The program, its lines and its copy on the way: not more than a kilobyte a line.
  expect(memory(shop.agent.child.pid!) - before).toBeLessThan(LINES / 1024 + 200);
}, 1_600_000);

const HOURS = WHOLE ? 24 : 0.5;
it(`${HOURS} hours of the machine's own time leave the memory of agent and machine steady`, async () => {
  const moves = Math.round((HOURS * 3600 * 100) / 250);
  const program = ['G21 G90', 'G0 Z5', ...Array.from({ length: moves }, (_, k) => `G1 X${k % 2 ? 0 : 250} Y${(k % 180) + 0.5} F6000`), 'M30'].join('\n');
  const at: { agent: number; machine: number }[] = [];
  await shop.must(orderOf('day', program));
  for (let k = 1; k <= 10; k++) {
    await shop.until((s) => (s.run?.line ?? 0) >= (k * moves) / 11 || s.run?.endedAt, 900);
    at.push({ agent: memory(shop.agent.child.pid!), machine: memory(shop.router.child.pid!) });
  }
  const end = await shop.until((s) => s.run?.endedAt, 900);
  expect(end.run!.state).toBe('done');
  // At least the time the feed asks for, and not much more: corners are braked for.
  expect(end.run!.seconds).toBeGreaterThan(HOURS * 3600 * 0.95);
  // What it needs after a tenth of the day it needs at its end, a tenth and some slack of the collector's more.
  for (const who of ['agent', 'machine'] as const) expect(at[9][who]).toBeLessThan(at[1][who] * 1.1 + 60);
}, 1_800_000);

it('a wall clock that jumps a day forward and two back changes nothing of a run', async () => {
  const jump = join(shop.folder, 'jump.mjs');
  writeFileSync(
    jump,
    `const began = performance.now();
     const Real = Date;
     const off = () => (performance.now() - began < 5000 ? 0 : performance.now() - began < 7000 ? 86_400e3 : -86_400e3);
     globalThis.Date = class extends Real {
       constructor(...given) {
         super(...(given.length > 0 ? given : [Real.now() + off()]));
       }
       static now = () => Real.now() + off();
     };`,
  );
  await shop.agent.stop();
  await shop.startAgent({ NODE_OPTIONS: `--import ${jump}` });
  await shop.until((s) => s.link);
  await shop.must({ do: 'bench', change: { rate: 2 } });
  const began = performance.now();
  await shop.must(orderOf('clock', zigzag(3000, 0.5)));
  const end = await shop.until((s) => s.run?.endedAt, 120);
  expect(end.run, end.run!.message).toMatchObject({ state: 'done', line: 3000 });
  expect(end.run!.seconds).toBeLessThan(((performance.now() - began) / 1000) * 2 * 1.1);
  const events = (await (await shop.call('/journal/clock')).json()) as { event: string; at: string }[];
  // The clock really was set back under it: it ended before it began.
  expect(Date.parse(events.at(-1)!.at)).toBeLessThan(Date.parse(events[0].at));
  expect(events.map(({ event }) => event).filter((event) => event !== 'progress')).toEqual(['start', 'done']);
}, 150_000);
