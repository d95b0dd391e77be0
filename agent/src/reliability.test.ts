/**
 * Nothing that stops leaves doubt: the agent killed, the machine switched off, the wire cut and
 * noisy, two people pressing at once, a screen that falls silent while it jogs. Real processes on
 * loopback. KERBE_SOAK multiplies how often.
 */
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { AgentSnapshot } from '@kerbe/core/link';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { dice, orderOf, Shop, wait, zigzag } from './testing.ts';

const SOAK = Number(process.env.KERBE_SOAK ?? 1);
const LINES = 1200;
const program = zigzag(LINES);
const everyLine = program.split('\n');
const random = dice(20261125);
const shop = new Shop(6);
let run = 0;

beforeAll(async () => {
  await shop.open();
  await shop.ready();
}, 120_000);
afterAll(() => shop.close());

const started = async (over: Record<string, unknown> = {}) => {
  const id = `r${++run}`;
  await shop.rest();
  await shop.must(orderOf(id, program, over));
  return id;
};
const until = (line: number) => shop.until((s) => (s.run?.line ?? 0) >= line || s.run?.endedAt);

describe('a run goes on after', () => {
  it(
    'kill -9 of the agent, at any moment: no line lost, none twice, and its state is stated',
    async () => {
      for (let k = 0; k < 2 * SOAK; k++) {
        const id = await started();
        await until(Math.floor(random() * 900));
        await wait(random() * 120);
        shop.agent.child.kill('SIGKILL');
        await wait(random() * 400);
        await shop.startAgent();
        const back = await shop.until((s) => s.link && s.run?.id === id && /link is back/.test(s.run.message));
        expect(back.run!.state).toBe('link-lost');
        expect(back.run!.message).toMatch(/holding after line \d+/);
        expect(['hold', 'idle']).toContain(back.status!.state);
        await shop.must({ do: 'resume' });
        const end = await shop.until((s) => s.run?.endedAt, 40);
        expect(end.run, end.run!.message).toMatchObject({ state: 'done', line: LINES });
        expect(shop.taken(id)).toEqual(everyLine);
        const events = (await (await shop.call(`/journal/${id}`)).json()) as { event: string }[];
        expect(events.map(({ event }) => event).filter((event) => event !== 'progress')).toEqual(['start', 'link-lost', 'link-lost', 'running', 'done']);
      }
    },
    120_000 * SOAK,
  );

  it(
    'a cable pulled out at any moment',
    async () => {
      for (let k = 0; k < 2 * SOAK; k++) {
        const id = await started();
        await until(Math.floor(random() * 900));
        shop.tap.cut(100 + random() * 500);
        await shop.until((s) => s.run?.state === 'link-lost' && s.link);
        await shop.must({ do: 'resume' });
        const end = await shop.until((s) => s.run?.endedAt, 40);
        expect(end.run, end.run!.message).toMatchObject({ state: 'done', line: LINES });
        expect(shop.taken(id)).toEqual(everyLine);
      }
    },
    120_000 * SOAK,
  );

  it('answers that come late, in pieces, and with garbage between them', async () => {
    const words = ['\u0000\u0001\u0002', 'ok', 'ok nonsense', 'error', 'status {"broken": ', 'ok 999999', 'done', 'nothing 12 \u00ff'];
    shop.tap.trouble = { chop: true, delay: 15, noise: () => (random() < 0.2 ? words[Math.floor(random() * words.length)] : null) };
    try {
      const id = await started();
      const end = await shop.until((s) => s.run?.endedAt, 60);
      expect(end.run, end.run!.message).toMatchObject({ state: 'done', line: LINES });
      expect(shop.taken(id)).toEqual(everyLine);
    } finally {
      shop.tap.trouble = {};
    }
  }, 90_000);

  it('a stop of the process that does not kill it: asleep for a while, as when a lid is closed', async () => {
    const id = await started();
    await until(200);
    const before = await shop.state();
    shop.agent.child.kill('SIGSTOP');
    await wait(1500);
    shop.agent.child.kill('SIGCONT');
    const end = await shop.until((s) => s.run?.endedAt, 40);
    expect(end.run, end.run!.message).toMatchObject({ state: 'done' });
    // What it slept is not counted as cutting beyond a second.
    expect(end.run!.seconds).toBeLessThan(before.run!.seconds + 60 * 6);
    expect(shop.taken(id)).toEqual(everyLine);
  }, 60_000);
});

describe('what the machine forgets', () => {
  it(
    'power loss: says what was finished and what may have been cut; goes on from a line after homing and zero',
    async () => {
      for (let k = 0; k < SOAK; k++) {
        const id = await started();
        await until(Math.floor(100 + random() * 700));
        shop.router.child.kill('SIGKILL');
        await wait(100);
        await shop.startRouter();
        const end = await shop.until((s) => s.run?.endedAt && s.link);
        expect(end.run!.state).toBe('failed');
        const [, finished, sent] = /Line (\d+) was finished; lines up to (\d+) had been sent/.exec(end.run!.message)!.map(Number);
        // What is said is true of what the machine took: not less was sent, not more was finished.
        const taken = shop.taken(id);
        expect(taken).toEqual(everyLine.slice(0, taken.length));
        expect(sent).toBeGreaterThanOrEqual(taken.length);
        expect(finished).toBeLessThanOrEqual(taken.length);
        // Nothing is trusted any more: without homing and a new zero nothing starts.
        expect(await shop.command(orderOf('again', program))).toMatch(/Home it first|zero have not been set/);
        await shop.ready();
      }
    },
    120_000 * SOAK,
  );

  it('power loss of everything: what may have been cut is never less than what the machine took', async () => {
    const id = await started();
    await until(Math.floor(100 + random() * 500));
    await wait(random() * 300);
    shop.agent.child.kill('SIGKILL');
    shop.router.child.kill('SIGKILL');
    await wait(100);
    await shop.startRouter();
    await shop.startAgent();
    const end = await shop.until((s) => s.run?.endedAt && s.link);
    const [, finished, sent] = /Line (\d+) was finished; lines up to (\d+) had been sent/.exec(end.run!.message)!.map(Number);
    const taken = shop.taken(id);
    expect(sent).toBeGreaterThanOrEqual(taken.length);
    expect(finished).toBeLessThanOrEqual(taken.length);
    await shop.ready();
  }, 60_000);

  it('a reset of the controller without a break of the link is noticed', async () => {
    await started();
    await until(150);
    await shop.must({ do: 'bench', change: { fault: { kind: 'reset' } } });
    const end = await shop.until((s) => s.run?.endedAt);
    expect(end.run!.message).toMatch(/restarted during the run/);
    await shop.until((s) => s.setup.zeroXY === null);
    await shop.ready();
  });

  it('a limit switch ends the run, with its name, and zero is not trusted', async () => {
    await started();
    await until(150);
    await shop.must({ do: 'bench', change: { fault: { kind: 'limit', axis: 1 } } });
    const end = await shop.until((s) => s.run?.endedAt);
    expect(end.run!).toMatchObject({ state: 'failed', message: expect.stringMatching(/limit switch of Y/) });
    expect(await shop.command({ do: 'home' })).toMatch(/alarm.*Clear/);
    await shop.until((s) => s.setup.zeroXY === null);
    await shop.ready();
  });
});

describe('people', () => {
  const as = (by: string, tab = 't1') => ({ 'x-kerbe-id': by, 'x-kerbe-by': by, 'x-kerbe-tab': tab });
  it('one holds the controls; another must take them over, which both see; hold and stop are everybody’s', async () => {
    await shop.command({ do: 'take' }, as('owner'));
    expect(await shop.command({ do: 'jog', x: 1, y: 0, z: 0, feed: 3000 }, as('owner'))).toBeNull();
    await shop.rest();
    expect(await shop.command({ do: 'jog', x: 1, y: 0, z: 0, feed: 3000 }, as('operator'))).toMatch(/Owner is in control/);
    expect(await shop.command({ do: 'jog', x: 1, y: 0, z: 0, feed: 3000 }, as('owner', 't2'))).toMatch(/on another screen/);
    await shop.command({ do: 'take' }, as('owner'));
    expect(await shop.command(orderOf('p1', program), as('owner'))).toBeNull();
    await until(50);
    expect(await shop.command({ do: 'hold' }, as('operator'))).toBeNull();
    expect((await shop.state()).run).toMatchObject({ state: 'held', message: 'Held by operator.' });
    expect(await shop.command({ do: 'resume' }, as('operator'))).toMatch(/Owner is in control/);
    expect(await shop.command({ do: 'take' }, as('operator'))).toBeNull();
    expect((await shop.state()).controls).toMatchObject({ by: 'operator', from: 'owner' });
    expect(await shop.command({ do: 'resume' }, as('operator'))).toBeNull();
    expect(await shop.command({ do: 'override', feed: 0.8, spindle: 1 }, as('operator'))).toBeNull();
    await shop.until((s) => s.status?.override.feed === 0.8);
    expect(await shop.command({ do: 'stop' }, as('owner'))).toBeNull();
    const end = await shop.until((s) => s.run?.endedAt);
    expect(end.run!.message).toMatch(/Stopped by owner/);
    await shop.command({ do: 'override', feed: 1, spindle: 1 }, as('operator'));
    await shop.command({ do: 'leave' }, as('operator'));
    expect((await shop.state()).controls).toBeNull();
    const events = (await (await shop.call('/journal/p1')).json()) as { event: string; text?: string }[];
    expect(events.find(({ event }) => event === 'override')?.text).toBe('feed 80 %, spindle 100 %');
    expect(events.find(({ event }) => event === 'controls')?.text).toMatch(/operator/);
  });

  it('two pressing at once: one goes through, the other is told why; the same press twice is one', async () => {
    await shop.rest();
    const answers = await Promise.all(['owner', 'operator'].map((by) => shop.command({ do: 'jog', x: 2, y: 0, z: 0, feed: 3000 }, as(by))));
    expect(answers.filter((why) => why === null)).toHaveLength(1);
    expect(answers.find((why) => why !== null)).toMatch(/is in control/);
    await shop.rest();
    const holder = answers[0] === null ? 'owner' : 'operator';
    const before = (await shop.state()).status!.machine[0];
    await Promise.all([1, 2, 3].map(() => shop.command({ do: 'jog', x: 3, y: 0, z: 0, feed: 3000 }, { ...as(holder), 'idempotency-key': 'one-press' })));
    await shop.rest();
    expect((await shop.state()).status!.machine[0]).toBeCloseTo(before + 3, 6);
    await shop.command({ do: 'leave' }, as(holder));
  });

  it('a jog ends when the screen that asked for it falls silent, and while it speaks it goes on', async () => {
    await shop.must({ do: 'home' });
    await shop.must({ do: 'bench', change: { rate: 1 } });
    // A busy computer may silence this screen for longer than a jog waits: then it rightly ended, and is tried again.
    let going!: AgentSnapshot;
    for (let tries = 0, steady = false; !steady; tries++) {
      expect(tries).toBeLessThan(10);
      await shop.must({ do: 'home' });
      await shop.must({ do: 'jog-start', way: [1, 0, 0], feed: 3000 });
      let spoke = performance.now();
      let longest = 0;
      let why: string | null = null;
      for (let k = 0; k < 8 && why === null; k++) {
        await wait(100);
        why = await shop.command({ do: 'jog-on' });
        longest = Math.max(longest, performance.now() - spoke);
        spoke = performance.now();
      }
      if (why !== null) expect(longest, why).toBeGreaterThan(250);
      going = await shop.state();
      steady = why === null && going.status!.speed > 45;
    }
    await shop.until((s) => s.status!.speed === 0 && s.status!.state === 'idle', 20);
    expect(await shop.command({ do: 'jog-on' })).toMatch(/not jogging/);
    // 50 mm/s for as long as nobody knows better, and not much longer.
    expect((await shop.state()).status!.machine[0]).toBeLessThan(going.status!.machine[0] + 50);
  });

  it('a jog ends when the agent dies in it: the machine itself listens for the beat', async () => {
    await shop.must({ do: 'jog-start', way: [0, 1, 0], feed: 3000 });
    await wait(300);
    shop.agent.child.kill('SIGKILL');
    await wait(900);
    await shop.startAgent();
    const back = await shop.until((s) => s.link);
    const { machine } = back.status!;
    await wait(200);
    expect((await shop.state()).status!.machine).toEqual(machine);
    expect(machine[1]).toBeLessThan(60);
    await shop.must({ do: 'stop' });
    await shop.must({ do: 'bench', change: { rate: 6 } });
    await shop.ready();
  });
});

describe('the disk', () => {
  it('full before a start: nothing moves, and it says why', async () => {
    await shop.rest();
    const file = join(shop.folder, 'full.jsonl');
    mkdirSync(file);
    expect(await shop.command(orderOf('full', program))).toMatch(/journal cannot be written/);
    expect((await shop.state()).run?.id).not.toBe('full');
    rmSync(file, { recursive: true });
  });
  it('leaves no copies of programs behind once they have ended', () => {
    expect(readdirSync(shop.folder).filter((name) => name.startsWith('order-') && name !== 'order-full.json')).toEqual([]);
  });
});
