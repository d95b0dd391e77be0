/** What went wrong when people tried it, each as it happened: a stop that was not heard, a run that could not go on, a set-up that outlived its machine. */
import { mkdirSync, rmSync } from 'node:fs';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { orderOf, Shop, wait, zigzag } from './testing.ts';

const shop = new Shop(60);
const END = { kind: 'end', id: 'e', diameter: 6 };
const cutting = ['G21 G90', 'S18000 M3', 'G4 P1', ...zigzag(900, 5).split('\n').slice(1, -1), 'M5', 'M30'].join('\n');
const twoBits = ['G21 G90', 'G0 Z5', 'S9000 M3', 'G4 P1', 'G1 X10 Y10 F5000', 'M5', 'G53 G0 Z0', 'M0 (Fit bit 2)', 'G0 Z5', 'G1 X20 Y10 F5000', 'M30'].join(
  '\n',
);

beforeAll(() => shop.open());
afterAll(() => shop.close());
beforeEach(async () => {
  await shop.until((s) => s.link);
  await shop.command({ do: 'stop' });
  await shop.must({ do: 'bench', change: { estop: false, vacuum: false } });
  await shop.ready();
});

describe('Stop', () => {
  /** Mid-run with the spindle turning, slow enough that a second is long. */
  async function midRun(id: string) {
    await shop.must({ do: 'bench', change: { rate: 5 } });
    await shop.must(orderOf(id, cutting));
    await shop.until((s) => (s.run?.line ?? 0) > 20 && s.status!.spindle!.actual > 1000);
  }
  it('pressed with the cable out is kept, and sent first when the link is back; until then nobody says that it stands', async () => {
    await midRun('cable');
    shop.tap.cut(900);
    await shop.until((s) => !s.link);
    expect(await shop.command({ do: 'stop' })).toMatch(/has not been told to stop/);
    const unsure = await shop.state();
    expect(unsure.run).toMatchObject({ state: 'stopping', endedAt: null });
    expect(unsure.stopWanted).toBe('somebody');
    shop.tap.said = '';
    const stood = await shop.until((s) => s.run?.endedAt);
    expect(shop.tap.said.split('\n').find((line) => line !== '' && !/^!(status|hello )/.test(line))).toBe('!stop');
    shop.tap.said = null;
    expect(stood.run).toMatchObject({ state: 'stopped' });
    expect(stood.status).toMatchObject({ queued: 0, state: 'idle', spindle: { target: 0 } });
    expect(stood.stopWanted).toBeNull();
    const taken = shop.taken('cable').length;
    await wait(400);
    expect(shop.taken('cable')).toHaveLength(taken);
    // And it can be begun again.
    await shop.must({ do: 'bench', change: { rate: 60 } });
    await shop.must(orderOf('cable2', zigzag(20)));
    expect((await shop.until((s) => s.run?.endedAt)).run).toMatchObject({ id: 'cable2', state: 'done' });
  });
  it('survives a restart of the agent', async () => {
    await midRun('restart');
    shop.tap.cut(1500);
    await shop.until((s) => !s.link);
    await shop.command({ do: 'stop' });
    shop.agent.child.kill('SIGKILL');
    await wait(100);
    await shop.startAgent();
    const stood = await shop.until((s) => s.run?.endedAt);
    expect(stood.run).toMatchObject({ id: 'restart', state: 'stopped' });
    expect(stood.status).toMatchObject({ queued: 0, spindle: { target: 0 } });
  });
  it('with a machine that never answers again the record is ended, and says that nobody knows', async () => {
    await midRun('gone');
    expect(await shop.command({ do: 'give-up' })).toMatch(/The machine answers/);
    shop.tap.cut(2500);
    await shop.until((s) => !s.link);
    await shop.command({ do: 'stop' });
    await shop.must({ do: 'give-up' });
    const given = await shop.state();
    expect(given.run).toMatchObject({ state: 'failed', message: expect.stringMatching(/did not answer.*nobody saw/) });
    // It is stopped all the same when it is back.
    await shop.until((s) => s.link && s.stopWanted === null && s.status!.queued === 0 && s.status!.spindle!.target === 0);
  });
  it('lines that belong to no run are not gone on with', async () => {
    await midRun('orphan');
    // The agent loses its journal of the run: the machine holds, and has lines waiting.
    shop.agent.child.kill('SIGKILL');
    await wait(200);
    rmSync(`${shop.folder}/run.json`, { force: true });
    await shop.startAgent();
    await shop.until((s) => s.link && s.status!.state === 'hold' && s.status!.queued > 0);
    expect(await shop.command({ do: 'resume' })).toMatch(/belong to no run/);
    await shop.must({ do: 'stop' });
    expect((await shop.state()).status).toMatchObject({ queued: 0, spindle: { target: 0 } });
  });
});

describe('again, and on from where it stopped', () => {
  it('a finished program runs again on a new board: Z on top is touched anew, X and Y stay', async () => {
    await shop.must(orderOf('first', zigzag(30)));
    await shop.until((s) => s.run?.state === 'done');
    await shop.must({ do: 'next', sha256: 'x', from: 1, board: 'new' });
    const { setup } = await shop.state();
    expect(setup).toMatchObject({ next: { sha256: 'x', from: 1 }, zeroZ: null, zeroXY: { corner: 'lower-left' }, confirmed: [], framed: null });
    expect(await shop.command(orderOf('second', zigzag(30)))).toMatch(/Z zero has not been set/);
    await shop.must({ do: 'zero-z', method: 'paper', thickness: 6, datum: 'top' });
    await shop.must(orderOf('second', zigzag(30)));
    expect((await shop.until((s) => s.run?.endedAt)).run).toMatchObject({ id: 'second', state: 'done' });
    expect((await shop.state()).setup.next).toBeNull();
  });
  it('again, deeper: everything stays but Z0', async () => {
    await shop.must(orderOf('shallow', zigzag(30)));
    await shop.until((s) => s.run?.state === 'done');
    const before = (await shop.state()).status!.offset[2];
    await shop.must({ do: 'nudge', deeper: 0.2 });
    await shop.must({ do: 'next', sha256: 'x', from: 1 });
    await shop.must(orderOf('deeper', zigzag(30)));
    const end = await shop.until((s) => s.run?.endedAt);
    expect(end.run).toMatchObject({ id: 'deeper', state: 'done' });
    expect(end.status!.offset[2]).toBeCloseTo(before - 0.2, 6);
  });
  it('stopped under the second bit, it goes on with the second bit', async () => {
    await shop.must(orderOf('two', twoBits, { bits: ['v', 'e'] }));
    await shop.until((s) => s.run?.state === 'paused' && s.status?.state === 'idle' && s.status.spindle!.actual === 0);
    await shop.must({ do: 'bench', change: { bit: { shape: END, stickOut: 33 } } });
    await shop.must({ do: 'measure', bit: 'e', sure: true, handsOff: true });
    await shop.must({ do: 'stop' });
    expect((await shop.state()).run).toMatchObject({ state: 'stopped' });
    await shop.must({ do: 'next', sha256: 'x', from: 9 });
    await shop.must(orderOf('two-on', ['G21 G90', 'G53 G0 Z0', 'G0 X10 Y10', 'G0 Z5', 'G1 X20 Y10 F5000', 'M30'].join('\n'), { bits: ['e'] }));
    expect((await shop.until((s) => s.run?.endedAt)).run).toMatchObject({ id: 'two-on', state: 'done' });
  });
});

describe('what was set up', () => {
  const confirmed = async () => (await shop.state()).setup.confirmed.map(({ id }) => id);
  it('is not of another machine: its zeros, frame and words stay behind, its places are its own', async () => {
    await shop.must({ do: 'confirm', id: 'held', key: 'x' });
    await shop.must({ do: 'save-place', name: 'stop' });
    const { setup } = await shop.state();
    expect(setup.zeroXY).not.toBeNull();
    const linked = {
      link: { transport: { kind: 'tcp', host: '127.0.0.1', port: 1 }, talk: 'plain', ask: 'x', status: '(?<state>x)', hold: 'h', resume: 'r', stop: 's' },
      sensor: null,
      travel: [100, 100, 50],
    };
    await shop.must({ do: 'connect', linked });
    const other = (await shop.state()).setup;
    expect(other).toMatchObject({ zeroXY: null, zeroZ: null, bitFitted: null, framed: null, confirmed: [], warm: null, places: [] });
    await shop.must({ do: 'connect', linked: null });
    await shop.until((s) => s.link);
    const back = (await shop.state()).setup;
    expect(back).toMatchObject({ zeroXY: null, zeroZ: null, bitReading: null, confirmed: [] });
    expect(back.places.map(({ name }) => name)).toEqual(['stop']);
  });
  it('is forgotten with the power: switched off in a run, nothing stays confirmed', async () => {
    await shop.must({ do: 'confirm', id: 'person', key: 'x' });
    await shop.must({ do: 'bench', change: { rate: 5 } });
    await shop.must(orderOf('power', cutting));
    await shop.until((s) => (s.run?.line ?? 0) > 20);
    shop.router.child.kill('SIGKILL');
    await shop.until((s) => !s.link);
    await shop.startRouter();
    await shop.until((s) => s.link && s.run?.endedAt !== null);
    expect(await confirmed()).toEqual([]);
    // And between runs: a reset of the controller.
    await shop.ready();
    await shop.must({ do: 'confirm', id: 'person', key: 'x' });
    await shop.must({ do: 'bench', change: { fault: { kind: 'reset' } } });
    await shop.until((s) => s.setup.confirmed.length === 0 && s.setup.zeroXY === null);
  });
  it('a zero is of its job, and can be kept for another on purpose', async () => {
    await shop.must({ do: 'zero-xy', corner: 'lower-left', job: 'one' });
    expect((await shop.state()).setup.zeroXY).toMatchObject({ job: 'one' });
    await shop.must({ do: 'keep-zero', job: 'two' });
    expect((await shop.state()).setup).toMatchObject({ zeroXY: { job: 'two' }, zeroZ: { job: 'two' } });
  });
});

describe('at the machine', () => {
  it('a frame out of reach is refused before anything moves, in words of the job', async () => {
    const moved = (await shop.state()).status!.machine;
    expect(
      await shop.command({
        do: 'frame',
        way: [
          [0, 0],
          [1100, 0],
        ],
        height: 15,
        sha256: 'x',
      }),
    ).toMatch(/the frame would reach .* mm beyond the end of X/);
    expect(
      await shop.command({
        do: 'frame',
        way: [
          [0, 0],
          [10, 0],
        ],
        height: 900,
        sha256: 'x',
      }),
    ).toMatch(/higher than Z can go/);
    expect((await shop.state()).status).toMatchObject({ machine: moved, state: 'idle' });
  });
  it('a probe pin in the collet never turns, and is no bit', async () => {
    await shop.must({ do: 'bench', change: { bit: { shape: { ...END, id: 'pin' }, stickOut: 30, pin: true } } });
    await shop.until((s) => s.status!.world!.pin);
    expect((await shop.state()).status!.world!.bit).toBeNull();
    expect(await shop.command({ do: 'measure', bit: 'v', sure: true })).toMatch(/probe pin/);
    await shop.must({ do: 'bench', change: { bit: { shape: END, stickOut: 33 } } });
    await shop.must({ do: 'measure', bit: 'e', sure: true });
    await shop.must({ do: 'bench', change: { bit: { shape: { ...END, id: 'pin' }, stickOut: 30, pin: true } } });
    await shop.until((s) => s.status!.world!.pin);
    // Not even past the agent: the machine refuses it too.
    expect(await shop.command({ do: 'warm-up', speed: 8000, seconds: 1 })).toMatch(/has not been measured|probe pin/);
    shop.tap.said = '';
    await shop.must({ do: 'raw', text: `${(await shop.state()).status!.expected} S9000 M3` });
    await wait(300);
    shop.tap.said = null;
    expect((await shop.state()).status!.spindle!.target).toBe(0);
  });
  it('vacuum lost in a run holds it; one that is not held by vacuum goes on', async () => {
    for (const vacuum of [true, false]) {
      await shop.must({ do: 'bench', change: { vacuum: true, rate: 5 } });
      await shop.must(orderOf(`vacuum${vacuum}`, zigzag(900, 5), { vacuum }));
      await shop.until((s) => (s.run?.line ?? 0) > 10);
      await shop.must({ do: 'bench', change: { vacuum: false } });
      if (vacuum) expect((await shop.until((s) => s.run?.state === 'held' && s.status?.state === 'hold')).run!.message).toMatch(/vacuum was lost/);
      else {
        await wait(400);
        expect((await shop.state()).run!.state).toBe('running');
      }
      await shop.must({ do: 'stop' });
    }
  });
  it('what goes wrong inside the agent is answered as its own fault, and written down', async () => {
    // A journal that is no file: nobody's command is wrong.
    mkdirSync(`${shop.folder}/broken.jsonl`);
    const said: string[] = [];
    shop.agent.child.stderr!.on('data', (chunk: Buffer) => said.push(String(chunk)));
    const answer = await shop.call('/journal/broken');
    expect(answer.status).toBe(500);
    expect(await answer.json()).toMatchObject({ why: expect.stringMatching(/went wrong in the machine agent.*EISDIR/) });
    expect(said.join('')).toMatch(/GET \/journal\/broken[^]*EISDIR/);
    const theirs = await fetch(`http://127.0.0.1:${shop.agent.port}/command`, {
      method: 'POST',
      headers: { authorization: 'Bearer a-token-for-tests' },
      body: '{',
    });
    expect(theirs.status).toBe(400);
  });
});
