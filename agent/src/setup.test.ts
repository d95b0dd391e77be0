/** Set-up at the machine, with real processes: every way to zero, every interlock, and what a run remembers of it. */
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { adaptProgram, linesOf, resumeProgram } from '@kerbe/core/program';
import { boxWay, surfaceOf } from '@kerbe/core/setup';
import { keptToday } from './runner.ts';
import { orderOf, Shop, wait, zigzag } from './testing.ts';

const shop = new Shop(60);
const BOARD = { x: 300, y: 200, width: 300, height: 200, thickness: 12 };
const V = { kind: 'v', id: 'v', angle: 60, diameter: 12.7 };
const END = { kind: 'end', id: 'e', diameter: 6 };
const offset = async () => (await shop.state()).status!.offset;
/** Machine Z at which a bit of that stick-out stands at a height above the spoilboard: the nose is 150 above it at Z 0. */
const zAt = (height: number, stickOut: number) => height - 150 + stickOut;

beforeAll(async () => {
  await shop.open();
  await shop.ready();
});
afterAll(() => shop.close());
beforeEach(async () => {
  await shop.command({ do: 'stop' });
  await shop.command({ do: 'bench', change: { estop: false } });
  await shop.command({ do: 'clear' });
  await shop.must({ do: 'bench', change: { clamps: [], plate: null, block: null, probeClip: false, lidOpen: false, spindlePower: true } });
});
const plateAt = async (x: number, y: number, thickness = 15) => {
  await shop.must({ do: 'move-over', x, y });
  await shop.must({ do: 'bench', change: { plate: { x, y, thickness }, probeClip: true } });
};

describe('Z zero', () => {
  it('by the plate on the board: its thickness below the contact', async () => {
    await plateAt(450, 300);
    await shop.must({ do: 'zero-z', method: 'plate', thickness: 15, datum: 'top' });
    expect((await offset())[2]).toBeCloseTo(zAt(12, 42), 6);
  });
  it('on the spoilboard for a program from the top: the board’s thickness is added; and the reverse', async () => {
    await plateAt(450, 150);
    await shop.must({ do: 'zero-z', method: 'plate', thickness: 15, datum: 'top', on: 'spoilboard', board: 12 });
    expect((await offset())[2]).toBeCloseTo(zAt(12, 42), 6);
    await shop.must({ do: 'bench', change: { plate: null, probeClip: false } });
    await plateAt(450, 300);
    await shop.must({ do: 'zero-z', method: 'plate', thickness: 15, datum: 'spoilboard', on: 'top', board: 12 });
    expect((await offset())[2]).toBeCloseTo(zAt(0, 42), 6);
    expect((await shop.state()).setup.zeroZ).toMatchObject({ datum: 'spoilboard', method: 'plate on the top of the board' });
    await shop.ready();
  });
  it('nudged: deeper by what a carve was shallow by, twice, and back; said in the record', async () => {
    const [, , z] = await offset();
    await shop.must({ do: 'nudge', deeper: 0.2 });
    expect((await offset())[2]).toBeCloseTo(z - 0.2, 6);
    await shop.must({ do: 'nudge', deeper: 0.1 });
    expect((await shop.state()).setup.zeroZ!.deeper).toBe(0.3);
    await shop.must({ do: 'nudge', deeper: -0.3 });
    expect((await offset())[2]).toBeCloseTo(z, 6);
    expect((await shop.state()).setup.zeroZ!.deeper).toBe(0);
    expect(await shop.command({ do: 'nudge', deeper: 50 })).toMatch(/not one the agent knows/);
  });
  it('the probe wire off: the machine says so, and Z is not set', async () => {
    const before = (await shop.state()).setup.zeroZ;
    await shop.must({ do: 'bench', change: { fault: { kind: 'probe-wire', on: true } } });
    await plateAt(450, 300);
    expect(await shop.command({ do: 'zero-z', method: 'plate', thickness: 15, datum: 'top' })).toMatch(/wire whole/);
    await shop.must({ do: 'bench', change: { fault: { kind: 'probe-wire', on: false } } });
    expect((await shop.state()).setup.zeroZ).toEqual(before);
  });
});

describe('X and Y zero', () => {
  it('at a place that was worked out, one axis or both, with a turn', async () => {
    await shop.must({ do: 'zero-xy', corner: 'lower-left', by: 'two marks', at: { x: 310.25, y: 207.5 }, angle: 0.02 });
    expect((await offset()).slice(0, 2)).toEqual([310.25, 207.5]);
    expect((await shop.state()).setup.zeroXY).toMatchObject({ corner: 'lower-left', by: 'two marks', angle: 0.02 });
    await shop.must({ do: 'zero-xy', corner: 'lower-left', by: 'edge', at: { x: 300 } });
    expect((await offset()).slice(0, 2)).toEqual([300, 207.5]);
    await shop.must({ do: 'zero-xy', corner: 'lower-left', by: 'edge', at: { x: BOARD.x, y: BOARD.y } });
  });
  it.each([
    ['lower-left', 0, 0],
    ['upper-right', 300, 200],
  ] as const)('by a corner block on the %s: X0 = touch + sign·(radius + lip)', async (corner, dx, dy) => {
    await shop.must({ do: 'bench', change: { bit: { shape: END, stickOut: 36 } } });
    await shop.must({ do: 'measure', bit: 'e', sure: true });
    const block = { size: 50, lip: 12, thickness: 20 };
    await shop.must({ do: 'bench', change: { block: { corner, ...block }, probeClip: true } });
    const [sx, sy] = corner === 'lower-left' ? [1, 1] : [-1, -1];
    expect(await shop.command({ do: 'probe-block', axis: 'x', corner: 'lower-right', block, radius: 3, datum: 'top' })).toMatch(
      /top of the block first|not touched|block/,
    );
    await shop.must({ do: 'move-over', x: BOARD.x + dx + sx * 20, y: BOARD.y + dy + sy * 20 });
    await shop.must({ do: 'probe-block', axis: 'z', corner, block, radius: 3, datum: 'top' });
    expect((await offset())[2]).toBeCloseTo(zAt(12, 36), 6);
    await shop.must({ do: 'probe-block', axis: 'x', corner, block, radius: 3, datum: 'top' });
    // Half a corner is none: a program does not start from it.
    await shop.must({ do: 'bench', change: { block: null, probeClip: false } });
    expect(await shop.command(orderOf('half', zigzag(10), { bits: ['e'], datum: { corner, z: 'top' } }))).toMatch(/counts from/);
    await shop.must({ do: 'bench', change: { block: { corner, ...block }, probeClip: true } });
    await shop.must({ do: 'probe-block', axis: 'y', corner, block, radius: 3, datum: 'top' });
    expect((await shop.state()).setup.zeroXY).toMatchObject({ corner, by: 'corner block' });
    const at = await offset();
    expect(at[0]).toBeCloseTo(BOARD.x + dx, 2);
    expect(at[1]).toBeCloseTo(BOARD.y + dy, 2);
  });
  it('several work offsets keep zeros of their own, and a program is held to its own', async () => {
    await shop.ready();
    await shop.must({ do: 'use-offset', word: 'G55' });
    expect((await shop.state()).setup).toMatchObject({ zeroXY: null, zeroZ: null });
    await shop.must({ do: 'zero-xy', corner: 'centre', at: { x: 800, y: 400 } });
    expect(await shop.command(orderOf('g54', zigzag(10), { workOffset: 'G54' }))).toMatch(/Z zero has not been set/);
    await shop.must({ do: 'use-offset', word: 'G54' });
    expect((await shop.state()).setup.zeroXY).toMatchObject({ corner: 'lower-left' });
    expect((await offset()).slice(0, 2)).toEqual([BOARD.x, BOARD.y]);
    expect((await shop.state()).setup.zeros.G55.zeroXY).toMatchObject({ corner: 'centre' });
    expect(await shop.command(orderOf('g55', zigzag(10), { workOffset: 'G55' }))).toMatch(/counts in G55, and zero was set in G54/);
    expect(await shop.command({ do: 'use-offset', word: 'G99' })).toMatch(/no such work offset/);
  });
  it('places are saved, and gone to with Z at the top', async () => {
    await shop.must({ do: 'move-over', x: 500, y: 321 });
    await shop.must({ do: 'save-place', name: 'stop' });
    const { places } = (await shop.state()).setup;
    expect(places).toMatchObject([{ name: 'stop', at: [500, 321, 0] }]);
    await shop.must({ do: 'forget-place', name: 'stop' });
    expect((await shop.state()).setup.places).toEqual([]);
  });
});

describe('the interlocks of a start', () => {
  it('another bit, no measured length, the clip on, the lid open, the spindle’s box off: each is refused in words', async () => {
    await shop.ready();
    const start = (over: Record<string, unknown> = {}) => shop.command(orderOf('no', zigzag(10), over));
    expect(await start({ bits: ['other'] })).toMatch(/not the one this program begins with/);
    await shop.must({ do: 'bench', change: { probeClip: true } });
    await shop.until((s) => s.status!.world!.probeClip);
    expect(await start()).toMatch(/clip/);
    await shop.must({ do: 'bench', change: { probeClip: false, lidOpen: true } });
    await shop.until((s) => s.status!.world!.lidOpen);
    expect(await start()).toMatch(/lid is open/);
    await shop.must({ do: 'bench', change: { lidOpen: false, spindlePower: false } });
    await shop.until((s) => !s.status!.spindle!.power);
    expect(await start()).toMatch(/box is switched off/);
    await shop.must({ do: 'bench', change: { spindlePower: true } });
    await shop.until((s) => s.status!.spindle!.power);
    // A bit that was touched is a bit that is not measured: the spindle does not start while its change is open.
    await shop.must({ do: 'bench', change: { bit: { shape: V, stickOut: 40 } } });
    await shop.until((s) => s.setup.bitReading === null && s.setup.changing);
    expect(await start()).toMatch(/has not been measured/);
    expect(await shop.command({ do: 'warm-up', speed: 8000, seconds: 1 })).toMatch(/has not been measured/);
  });
  it('a program that does not say its units is not run (mistake 25)', async () => {
    await shop.ready();
    expect(await shop.command(orderOf('units', 'G90\nG0 Z5\nM30'))).toMatch(/millimetres or inches/);
  });
  it('a bit that measures otherwise than last time is asked about', async () => {
    await shop.must({ do: 'bench', change: { bit: { shape: V, stickOut: 36 } } });
    expect(await shop.command({ do: 'measure', bit: 'v' })).toMatch(/6.0 mm shorter than last time.*sure/);
    expect((await shop.state()).setup.bitReading).toBeNull();
    await shop.must({ do: 'measure', bit: 'v', sure: true });
    expect((await shop.state()).setup).toMatchObject({ bitFitted: 'v', changing: false });
  });
  it('the spindle warms with Z at the top, is counted, and is ended by stop', async () => {
    const before = (await shop.state()).setup.warm?.seconds ?? 0;
    await shop.must({ do: 'warm-up', speed: 8000, seconds: 20 });
    expect((await shop.state()).setup.warm!.seconds).toBeGreaterThan(before + 15);
    const turning = shop.command({ do: 'warm-up', speed: 8000, seconds: 3000 });
    await shop.until((s) => s.status!.spindle!.actual > 1000);
    expect((await shop.state()).busy).toBe('warming the spindle');
    await shop.must({ do: 'stop' });
    expect(await turning).toBe('Stopped.');
    await shop.until((s) => s.status!.spindle!.actual === 0);
  });
});

describe('the frame', () => {
  const way = boxWay([0, 0], [280, 180]);
  const clamp = { kind: 'clamp', x: 140, y: 0, width: 30, depth: 60, height: 20 };
  it('is refused through a clamp, goes over one that is low enough, and counts for its program only until zero is set again', async () => {
    await shop.ready();
    const frame = (height: number) => shop.command({ do: 'frame', way, height, sha256: 'abc', holders: [clamp], reach: 6 });
    expect(await frame(15)).toMatch(/clamp stands in the way of the frame: it is 20 mm high/);
    expect((await shop.state()).setup.framed).toBeNull();
    expect(await frame(25)).toBeNull();
    expect((await shop.state()).setup.framed).toBe('abc');
    await shop.must({ do: 'zero-xy', corner: 'lower-left', at: { x: BOARD.x, y: BOARD.y } });
    expect((await shop.state()).setup.framed).toBeNull();
  });
  it('is driven turned when the board lies turned, spindle off, at its height', async () => {
    await shop.must({ do: 'zero-xy', corner: 'lower-left', by: 'two marks', at: { x: BOARD.x, y: BOARD.y }, angle: Math.PI / 2 });
    await shop.must({ do: 'move-over', x: BOARD.x, y: BOARD.y });
    await shop.must({ do: 'bench', change: { rate: 8 } });
    shop.tap.said = '';
    const seen: number[][] = [];
    let going = true;
    const done = shop.command({ do: 'frame', way: boxWay([0, 0], [100, 40]), height: 15, sha256: 'x' }).finally(() => (going = false));
    while (going) {
      const { status } = await shop.state();
      expect(status!.spindle!.actual).toBe(0);
      if (status!.work[2] < 90) seen.push(status!.work);
      await wait(10);
    }
    expect(await done).toBeNull();
    const { said } = shop.tap as { said: string };
    shop.tap.said = null;
    await shop.must({ do: 'bench', change: { rate: 60 } });
    // A quarter turn: what was along X is along Y. Told by the wire, for a status comes too seldom to see every corner.
    const driven = [...said.matchAll(/G1 X(-?[\d.]+) Y(-?[\d.]+)/g)].map(([, x, y]) => [Number(x), Number(y)]);
    expect(driven).toEqual(boxWay([0, 0], [100, 40]).map(([x, y]) => [expect.closeTo(-y, 3), expect.closeTo(x, 3)]));
    expect(said).not.toMatch(/M[34]/);
    expect(seen.length).toBeGreaterThan(0);
    expect(Math.min(...seen.map(([, , z]) => z))).toBeGreaterThan(14.9);
    await shop.must({ do: 'zero-xy', corner: 'lower-left', at: { x: BOARD.x, y: BOARD.y } });
  });
});

describe('the thickness map', () => {
  it('is read by the plate, place by place, and a program fitted to it follows the surface', async () => {
    await shop.ready();
    for (const [x, y] of [
      [20, 20],
      [280, 20],
      [280, 180],
      [20, 180],
    ]) {
      await plateAt(BOARD.x + x, BOARD.y + y);
      await shop.must({ do: 'reading', thickness: 15 });
      await shop.must({ do: 'bench', change: { plate: null, probeClip: false } });
    }
    const { readings } = (await shop.state()).setup;
    // A board of the simulated machine is flat.
    expect(readings).toHaveLength(4);
    for (const { height } of readings) expect(height).toBeCloseTo(0, 6);
    // One that is not: typed, as measured by hand.
    await shop.must({ do: 'reading', thickness: 0, at: { x: 280, y: 20, height: -0.3 } });
    expect((await shop.state()).setup.readings).toHaveLength(4);
    await shop.must({ do: 'follow', on: true });
    const fitted = adaptProgram(zigzag(40, 5), { surface: surfaceOf((await shop.state()).setup.readings, 0) });
    if ('why' in fitted) throw new Error(fitted.why);
    await shop.must(orderOf('follow', fitted.text, { source: fitted.source, lines: 40 }));
    const end = await shop.until((s) => s.run?.endedAt);
    // It says the lines of the released program, whatever was added to follow the board.
    expect(end.run).toMatchObject({ state: 'done', line: 40, lines: 40 });
    expect(shop.taken('follow').length).toBeGreaterThan(60);
    await shop.must({ do: 'forget-readings' });
    expect(await shop.command({ do: 'follow', on: true })).toMatch(/three readings/);
  });
});

describe('a bit change in a run', () => {
  const changes = ['G21 G90', 'G0 Z5', 'S9000 M3', 'G4 P1', 'G1 X10 Y10 F5000', 'M5', 'G53 G0 Z0', 'M0 (Fit bit 2)', 'G0 Z5', 'G1 X20 Y10 F5000', 'M30'].join(
    '\n',
  );
  it('with the emergency stop pressed for it, as is usual: no failure; asked for first afterwards, then measured, then it goes on', async () => {
    await shop.ready();
    await shop.must(orderOf('change', changes, { bits: ['v', 'e'] }));
    await shop.until((s) => s.run?.state === 'paused' && s.status?.state === 'idle' && s.status.spindle!.actual === 0);
    await shop.must({ do: 'bench', change: { estop: true } });
    await wait(150);
    expect((await shop.state()).run).toMatchObject({ state: 'paused', pause: { reason: 'tool-change', tool: 'e' } });
    expect(await shop.command({ do: 'resume' })).toMatch(/emergency stop is pressed/i);
    await shop.must({ do: 'bench', change: { bit: { shape: END, stickOut: 33 } } });
    await shop.must({ do: 'bench', change: { estop: false } });
    await shop.until((s) => !s.status!.estop);
    expect(await shop.command({ do: 'measure', bit: 'e', sure: true })).toMatch(/Clear the alarm/);
    await shop.must({ do: 'clear' });
    expect(await shop.command({ do: 'resume' })).toMatch(/not been measured/);
    expect(await shop.command({ do: 'measure', bit: 'e', sure: true })).toMatch(/hands are off/);
    expect(await shop.command({ do: 'measure', bit: 'v', sure: true, handsOff: true })).toMatch(/under a wrong name/);
    await shop.must({ do: 'measure', bit: 'e', sure: true, handsOff: true });
    // Pressed at rest: the machine still knows where it is, and Z0 moved by the difference of the two bits.
    expect((await offset())[2]).toBeCloseTo(zAt(12, 33), 3);
    await shop.must({ do: 'bench', change: { probeClip: true } });
    await shop.until((s) => s.status!.world!.probeClip);
    expect(await shop.command({ do: 'resume', handsOff: true })).toMatch(/clip/);
    await shop.must({ do: 'bench', change: { probeClip: false } });
    await shop.until((s) => !s.status!.world!.probeClip);
    expect(await shop.command({ do: 'resume' })).toMatch(/hands are off/);
    await shop.must({ do: 'resume', handsOff: true });
    const end = await shop.until((s) => s.run?.endedAt);
    expect(end.run).toMatchObject({ state: 'done' });
    expect(Object.keys(end.run!.bitSeconds)).toEqual(['v', 'e']);
    expect(shop.taken('change')).toContain('G1 X20 Y10 F5000');
  });
  it('is not said before everything before it is done: an old status does not count', async () => {
    for (let k = 0; k < 8; k++) {
      await shop.ready();
      await shop.must(orderOf(`early${k}`, changes, { bits: ['v', 'e'] }));
      const at = await shop.until((s) => s.run?.state === 'paused');
      expect(at.status!.done).toBeGreaterThanOrEqual(7);
      expect(at.status!.machine.map((v) => Math.round(v))).toEqual([310, 210, 0]);
      await shop.must({ do: 'stop' });
    }
  }, 60_000);
  it('a stop that is for no bit asks for a person alone: nothing to measure, hands off, and on', async () => {
    await shop.ready();
    const turn = ['G21 G90', 'G0 Z5', 'G1 X10 Y10 F5000', 'M0 (Turn the board over)', 'G1 X20 Y10 F5000', 'M30'].join('\n');
    await shop.must(orderOf('person', turn, { bits: ['v'] }));
    const at = await shop.until((s) => s.run?.state === 'paused' && s.status?.state === 'idle');
    expect(at.run).toMatchObject({ pause: { reason: 'person' }, message: 'Turn the board over' });
    expect(await shop.command({ do: 'resume' })).toMatch(/hands are off/);
    // Restarted meanwhile, the agent knows what is waited for.
    shop.agent.child.kill('SIGKILL');
    await wait(200);
    await shop.startAgent();
    await shop.until((s) => s.link && s.run?.id === 'person' && s.run.pause?.reason === 'person');
    await shop.must({ do: 'resume', handsOff: true });
    const end = await shop.until((s) => s.run?.endedAt);
    expect(end.run).toMatchObject({ state: 'done', pause: null });
    expect(shop.taken('person').filter((line) => line.startsWith('G1 X20'))).toHaveLength(1);
    const events = (await (await shop.call('/journal/person')).json()) as { event: string; facts?: unknown }[];
    expect(events.find(({ event }) => event === 'paused')!.facts).toEqual({ kind: 'paused', pause: { reason: 'person' } });
  });
  it('a run that an older agent left at its change of bit is taken up as one', () => {
    const run = { id: 'r', name: 'r.nc', sha256: 'x', message: '', line: 8, lines: 11, sent: 8, startedAt: '', endedAt: null, seconds: 1, bitSeconds: {} };
    const rest = { base: 8, tag: 'r:0', boot: 1, bitIndex: 1, atPause: true, promised: 11 };
    const left = keptToday({ ...rest, run: { ...run, state: 'bit-change', bit: 'e' } });
    expect(left).toEqual({ ...rest, pauses: 1, run: { ...run, state: 'paused', pause: { reason: 'tool-change', tool: 'e' } } });
    expect(keptToday(left)).toBe(left);
    expect(keptToday({ ...rest, run: { ...run, state: 'held', bit: null } }).run).toMatchObject({ state: 'held', pause: null });
  });
  it('the agent killed at the pause: it comes back to the pause, and the rest is cut once', async () => {
    await shop.ready();
    await shop.must(orderOf('pause', changes, { bits: ['v', 'e'] }));
    await shop.until((s) => s.run?.state === 'paused' && s.status?.state === 'idle' && s.status.spindle!.actual === 0);
    shop.agent.child.kill('SIGKILL');
    await wait(200);
    await shop.startAgent();
    const back = await shop.until((s) => s.link && s.run?.id === 'pause');
    expect(back.run).toMatchObject({ state: 'paused', pause: { reason: 'tool-change', tool: 'e' } });
    await shop.must({ do: 'bench', change: { bit: { shape: END, stickOut: 33 } } });
    await shop.must({ do: 'measure', bit: 'e', sure: true, handsOff: true });
    await shop.must({ do: 'resume', handsOff: true });
    const end = await shop.until((s) => s.run?.endedAt);
    expect(end.run!.state).toBe('done');
    expect(shop.taken('pause')).toEqual(expect.arrayContaining(changes.split('\n')));
    expect(shop.taken('pause').filter((line) => line === 'G1 X20 Y10 F5000')).toHaveLength(1);
  });
});

describe('in a run', () => {
  it('a spindle that does not come to speed holds it, and says what it looks at', async () => {
    await shop.ready();
    await shop.must({ do: 'bench', change: { fault: { kind: 'slow-spindle', on: true }, rate: 10 } });
    await shop.must(orderOf('slow', ['G21 G90', 'G0 Z5', 'S18000 M3', 'G4 P4', ...zigzag(600, 5).split('\n').slice(2)].join('\n')));
    const held = await shop.until((s) => s.run?.state === 'held');
    expect(held.run!.message).toMatch(/spindle turns 10800 of 18000/);
    // Looked at, and gone on with all the same: it does not nag.
    await shop.must({ do: 'resume' });
    await wait(1600);
    expect((await shop.state()).run!.state).toBe('running');
    await shop.must({ do: 'stop' });
    await shop.must({ do: 'bench', change: { fault: { kind: 'slow-spindle', on: false }, rate: 60 } });
  });
  it('the lid opened holds it; nobody else did, and it is said so', async () => {
    await shop.rest();
    await shop.until((s) => s.status!.spindle!.actual === 0);
    await shop.must({ do: 'bench', change: { rate: 5 } });
    await shop.must(orderOf('lid', ['G21 G90', 'G0 Z5', 'S9000 M3', 'G4 P1', ...zigzag(600, 5).split('\n').slice(2)].join('\n')));
    await shop.until((s) => (s.run?.line ?? 0) > 10);
    await shop.must({ do: 'bench', change: { lidOpen: true } });
    const held = await shop.until((s) => s.run?.state === 'held');
    expect(held.run!.message).toMatch(/by itself/);
    expect(await shop.command({ do: 'resume' })).toMatch(/lid is open/);
    await shop.must({ do: 'bench', change: { lidOpen: false } });
    await shop.until((s) => !s.status!.world!.lidOpen);
    await shop.must({ do: 'resume' });
    await shop.must({ do: 'stop' });
    await shop.until((s) => s.run?.endedAt);
    await shop.must({ do: 'bench', change: { rate: 60 } });
  });
  it('goes on from a line after a stop: the lines said are those of the released program, and each of the rest is cut once', async () => {
    await shop.rest();
    await shop.until((s) => s.status!.spindle!.actual === 0);
    const program = zigzag(400, 5);
    const lines = linesOf(program);
    const resumed = resumeProgram(program, 250, 1);
    if ('why' in resumed) throw new Error(resumed.why);
    await shop.must(orderOf('on', resumed.text, { source: resumed.source, lines: lines.length }));
    const end = await shop.until((s) => s.run?.endedAt);
    expect(end.run).toMatchObject({ state: 'done', line: 400, lines: 400 });
    expect(shop.taken('on').slice(-150)).toEqual(lines.slice(-150));
  });
  it('says that a place beyond the travel is out of reach before anything moves, turned or not', async () => {
    await shop.rest();
    const reach = (over: Record<string, unknown>) => shop.command(orderOf('far', zigzag(10), over));
    expect(await reach({ extents: { min: [0, 0, 0], max: [1100, 10, 0] } })).toMatch(/beyond the end of X/);
    await shop.must({ do: 'zero-xy', corner: 'lower-left', at: { x: BOARD.x, y: BOARD.y }, angle: Math.PI / 2 });
    expect(await reach({ extents: { min: [0, 0, 0], max: [800, 10, 0] } })).toMatch(/beyond the end of Y/);
    await shop.must({ do: 'zero-xy', corner: 'lower-left', at: { x: BOARD.x, y: BOARD.y } });
  });
});
