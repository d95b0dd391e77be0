import { BARE_WORLD } from '../link/testing.ts';
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { Bit, Cut, Job, type Holder } from '../job/index.ts';
import { kerbeLink, LinkProfile, MachineProfile, profileFaults, bytesOfWord } from '../machine/index.ts';
import { restingStatus, warmSeconds, type AgentSnapshot, type MachineStatus, type Setup } from '../link/index.ts';
import {
  afterBitChange,
  bedFaults,
  boxWay,
  cornerFrom,
  crossingOf,
  edgeFrom,
  holdersAtWork,
  inTheWay,
  middleOf,
  nextStep,
  outlineWay,
  fittingPlace,
  placeByMarks,
  probeGrid,
  setupSteps,
  snapToSlots,
  surfaceOf,
  thicknessFacts,
  touchRadius,
  turned,
  zeroUnder,
  type StepInput,
} from './index.ts';
import { tilesOf, type Tile } from '../job/tiles.ts';
import { seamZero } from './steps.ts';

describe('probing arithmetic (common practice)', () => {
  it('adds the paper: Z0 lies its thickness below the contact', () => expect(zeroUnder(-61.4, 0.1)).toBeCloseTo(-61.5, 12));
  it('X0 = X_contact + sign·(r + lip) on each corner', () => {
    expect(cornerFrom([85, 84], 'lower-left', 3, [12, 12])).toEqual([100, 99]);
    expect(cornerFrom([715, 84], 'lower-right', 3, [12, 12])).toEqual([700, 99]);
    expect(cornerFrom([85, 316], 'upper-left', 3, [12, 12])).toEqual([100, 301]);
    expect(cornerFrom([715, 316], 'upper-right', 3, [12, 12])).toEqual([700, 301]);
  });
  it('an edge by the side of the bit has no lip', () => expect(edgeFrom(96.825, 1, 3.175)).toBeCloseTo(100, 12));
  it('a V bit touches with the radius it has at the edge: 60°, 3 below: 3·tan 30°', () => {
    const v60 = Bit.parse({ kind: 'v', id: 'v', angle: 60, diameter: 12.7 });
    expect(touchRadius(v60, 3)).toBeCloseTo(1.7320508, 6);
    expect(touchRadius(v60, 40)).toBeCloseTo(6.35, 9);
    expect(touchRadius(v60, -1)).toBe(0);
  });
  it('Z moves by the difference of two readings', () => expect(afterBitChange(-70, -60, -58.5)).toBeCloseTo(-68.5, 12));
  it('finds the middle of two corners, and where diagonals cross', () => {
    expect(middleOf([100, 50], [300, 150])).toEqual([200, 100]);
    expect(crossingOf([0, 0], [100, 0], [100, 50], [0, 50])).toEqual([50, 25]);
    // A trapezoid: the diagonals cross nearer the longer side. (Derived: parallel sides 100 and 60, 40 apart.)
    const at = crossingOf([0, 0], [100, 0], [80, 40], [20, 40])!;
    expect(at[0]).toBeCloseTo(50, 9);
    expect(at[1]).toBeCloseTo((40 * 100) / 160, 9);
    expect(crossingOf([0, 0], [1, 1], [2, 2], [3, 3])).toBeNull();
  });
  it('places a turned board by two marks, whatever the turn', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0, max: 500, noNaN: true }),
        fc.double({ min: 0, max: 500, noNaN: true }),
        (angle, ox, oy) => {
          const drawn = [
            [10, 20],
            [310, 60],
          ] as const;
          const found = drawn.map((p) => turned(p, angle).map((v, k) => v + [ox, oy][k]) as [number, number]);
          const placed = placeByMarks(drawn, found)!;
          expect(placed.origin[0]).toBeCloseTo(ox, 6);
          expect(placed.origin[1]).toBeCloseTo(oy, 6);
          expect(Math.cos(placed.angle - angle)).toBeCloseTo(1, 9);
          expect(placed.off).toBeCloseTo(0, 6);
        },
      ),
    );
  });
  it('is the least-squares placing of marks that are not quite where they were drawn: no other has a smaller sum of squares', () => {
    const near = fc.double({ min: -2, max: 2, noNaN: true });
    const nudge = fc.tuple(near, near, fc.double({ min: -0.05, max: 0.05, noNaN: true }));
    const marks: [number, number][] = [[10, 20], [310, 60], [290, 260], [0, 240]]; // prettier-ignore
    const noises = fc.array(fc.tuple(near, near), { minLength: 2, maxLength: 4 });
    fc.assert(
      fc.property(fc.double({ min: -3, max: 3, noNaN: true }), noises, fc.array(nudge, { minLength: 20, maxLength: 20 }), (angle, noise, nudges) => {
        const drawn = marks.slice(0, noise.length);
        const found = drawn.map((p, k) => turned(p, angle).map((v, axis) => v + 50 + noise[k][axis]) as [number, number]);
        const placed = placeByMarks(drawn, found)!;
        const misses = (origin: readonly number[], turn: number) =>
          drawn.map((p, k) => Math.hypot(...turned(p, turn).map((v, axis) => v + origin[axis] - found[k][axis])));
        const sum = (origin: readonly number[], turn: number) => misses(origin, turn).reduce((all, miss) => all + miss ** 2, 0);
        const least = sum(placed.origin, placed.angle);
        for (const [dx, dy, turn] of nudges)
          expect(sum([placed.origin[0] + dx, placed.origin[1] + dy], placed.angle + turn)).toBeGreaterThanOrEqual(least - 1e-9);
        expect(placed.off).toBeCloseTo(Math.max(...misses(placed.origin, placed.angle)), 9);
      }),
    );
  });
  it('says how much the marks are off, and refuses marks too near each other', () => {
    const drawn = [[0, 0], [300, 0]] as const; // prettier-ignore
    // Two millimetres farther apart than drawn: each is one off.
    expect(placeByMarks(drawn, [[100, 100], [402, 100]])!.off).toBeCloseTo(1, 9); // prettier-ignore
    // Three corners of a sheet that is 4 mm longer than drawn.
    const three = placeByMarks([...drawn, [300, 200]], [[100, 100], [404, 100], [404, 300]])!; // prettier-ignore
    expect(three.off).toBeGreaterThan(1);
    expect(placeByMarks(drawn, [[100, 100], [103, 100]])).toBeNull(); // prettier-ignore
    expect(placeByMarks([[0, 0], [3, 0]], [[100, 100], [400, 100]])).toBeNull(); // prettier-ignore
  });
});

describe('the thickness map', () => {
  const corners = [
    { x: 0, y: 0, height: 18.9 },
    { x: 600, y: 0, height: 18.95 },
    { x: 600, y: 180, height: 18.85 },
    { x: 0, y: 180, height: 18.9 },
  ];
  it('spread, highest, and the shallowest engraving (common practice: 0.05 under 0.2 is fine, 0.2 under 0.2 is not)', () => {
    expect(thicknessFacts(corners)).toMatchObject({ highest: 18.95, lowest: 18.85, at: corners[1] });
    expect(thicknessFacts(corners)!.spread).toBeCloseTo(0.1, 9);
    const spread = (s: number) =>
      thicknessFacts([
        { x: 0, y: 0, height: 0 },
        { x: 9, y: 0, height: s },
      ])!.shallowest;
    expect(spread(0.05)).toBeLessThanOrEqual(0.2 + 1e-12);
    expect(spread(0.2)).toBeGreaterThan(0.2);
    expect(thicknessFacts([])).toBeNull();
  });
  it('goes through every reading, follows a plane exactly, and stays within what was read', () => {
    const at = surfaceOf(corners, 18.95);
    for (const { x, y, height } of corners) expect(at(x, y)).toBeCloseTo(height - 18.95, 9);
    const plane = probeGrid([0, 0], [600, 180], 4, 3).map(([x, y]) => ({ x, y, height: 0.001 * x - 0.002 * y }));
    const flat = surfaceOf(plane, 0);
    for (const [x, y] of [
      [123, 45],
      [599, 1],
      [300, 170],
    ])
      expect(flat(x, y)).toBeCloseTo(0.001 * x - 0.002 * y, 6);
    // Beyond the readings it is level with the nearest.
    expect(flat(900, 90)).toBeCloseTo(flat(600, 90), 9);
  });
  it('probes back and forth, every place once', () => {
    const points = probeGrid([0, 0], [600, 180], 3, 2, 20);
    expect(points).toEqual([
      [20, 20],
      [300, 20],
      [580, 20],
      [580, 160],
      [300, 160],
      [20, 160],
    ]);
    expect(probeGrid([0, 0], [10, 10], 1, 1)).toEqual([[5, 5]]);
  });
});

const job = Job.parse({
  kerbe: 4,
  name: 'Reed',
  board: { width: 300, height: 120, thickness: 18, holders: [{ kind: 'clamp', x: -10, y: 60, width: 30, depth: 60, height: 20 }] },
  items: {},
  itemOrder: [],
  tools: { v: { kind: 'v', id: 'v', name: 'V 60', angle: 60, diameter: 12.7 }, e: { kind: 'end', id: 'e', diameter: 6 } },
  cuts: {},
  cutOrder: [],
});
const profile = MachineProfile.parse({ link: kerbeLink('127.0.0.1', 4001), shows: true });

describe('the bed', () => {
  it('snaps to a slot that is near, and only then', () => {
    const slots = { axis: 'y', first: 60, pitch: 120, count: 7 } as const;
    expect(snapToSlots(177, slots)).toBe(180);
    expect(snapToSlots(150, slots)).toBe(150);
    expect(snapToSlots(2000, slots)).toBe(2000);
    expect(snapToSlots(177, null)).toBe(177);
  });
  it('names what is wrong with where the board lies', () => {
    expect(bedFaults(job, profile, { x: 180, y: 220 })).toEqual([]);
    expect(bedFaults(job, profile, { x: 1000, y: 220 }).join()).toMatch(/reaches 40 mm beyond/);
    expect(bedFaults(job, profile, { x: 22, y: 745 }).join()).toMatch(/tool sensor/);
    expect(bedFaults(job, profile, { x: 22, y: 735 }).join()).toMatch(/sensor/);
  });
  it('sees a clamp in the way of a frame, and not one that is low enough or beside', () => {
    const clamp: Holder = { kind: 'clamp', x: 0, y: 50, width: 30, depth: 30, height: 20 };
    const way = boxWay([0, 0], [200, 100]);
    expect(inTheWay(way, 10, [clamp], 3)).toBe(clamp);
    expect(inTheWay(way, 21, [clamp], 3)).toBeNull();
    expect(inTheWay(way, 10, [{ ...clamp, x: -19 }], 3)).toBeNull();
    expect(inTheWay(way, 10, [{ ...clamp, x: -17 }], 3)).not.toBeNull();
  });
  it('puts holders into work coordinates of the datum', () => {
    const [holder] = holdersAtWork({ ...job, datum: { corner: 'centre', z: 'spoilboard' } });
    expect(holder).toMatchObject({ x: -160, y: 0, height: 38 });
  });
  it('drives the outline as the convex hull of what is cut', () => {
    const way = outlineWay({ kind: Uint8Array.of(0, 1, 1, 1, 1), x: Float64Array.of(500, 0, 100, 50, 50), y: Float64Array.of(0, 0, 0, 80, 20) });
    expect(way).toEqual([
      [0, 0],
      [100, 0],
      [50, 80],
      [0, 0],
    ]);
  });
});

describe('machine profiles', () => {
  it('are sound as they come, and say what is not', () => {
    expect(profileFaults(profile)).toEqual([]);
    const bad = MachineProfile.parse({
      link: { transport: { kind: 'serial', path: '/dev/ttyS0', baud: 115200 }, talk: 'plain' },
      limits: { travel: [600, 400, 40], park: [700, 10] },
    });
    expect(profileFaults(bad)).toHaveLength(7);
  });
  it('refuse a pattern that is none', () => {
    expect(LinkProfile.safeParse({ transport: { kind: 'tcp', host: 'a', port: 1 }, accepted: '(' }).success).toBe(false);
  });
  it('read bytes as they are written', () => expect(bytesOfWord('a\\x18\\n\\\\')).toBe('a\u0018\n\\'));
});

describe('set-up, step by step', () => {
  const rest = restingStatus();
  const status: MachineStatus = {
    ...rest,
    homed: true,
    sensor: { x: 0, y: 0, radius: 10, height: 50 },
    travel: [1300, 900, 130],
    world: { ...BARE_WORLD, bit: 'v', fitting: 3 },
  };
  const program = { sha256: 'abc', bits: ['v', 'e'], spindle: true, shallowest: null, extents: null };
  const at = new Date(2000).toISOString();
  const said = (id: string, key: string, skipped = false) => ({ id, key, by: 'operator', at, skipped });
  const setup: Setup = {
    bitReading: -60,
    bitFitted: 'v',
    measuredAt: at,
    lengths: {},
    changing: false,
    zeroXY: { corner: 'lower-left', by: 'corner block', angle: 0, job: 'one', at },
    zeroZ: { datum: 'top', method: 'plate', reading: -60, bit: 'v', job: 'one', at },
    zeros: {},
    framed: 'abc',
    confirmed: [said('held', 'abc'), said('collet', 'v 3'), said('person', 'abc')],
    warm: { at: 1000, seconds: 700 },
    readings: [],
    follow: false,
    bed: { x: 180, y: 220 },
    places: [],
    next: null,
  };
  const PLATE = { kerbe: 4, name: 'Tag', board: { width: 80, height: 60, thickness: 3 }, items: {}, itemOrder: [], tools: {}, cuts: {}, cutOrder: [] };
  const ready: StepInput = {
    job,
    jobId: 'one',
    profile,
    program,
    machine: { agent: true, link: true, status, setup, run: null, controls: null, busy: null, stopWanted: null },
    now: 2000,
    isToday: (moment) => moment === at,
  };
  const change = (over: {
    status?: Partial<MachineStatus>;
    world?: Partial<MachineStatus['world']>;
    setup?: Partial<Setup>;
    machine?: Partial<AgentSnapshot>;
  }) =>
    nextStep(
      setupSteps({
        ...ready,
        machine: {
          ...ready.machine,
          status: { ...status, ...over.status, world: { ...BARE_WORLD, ...status.world, ...over.world } },
          setup: { ...setup, ...over.setup },
          ...over.machine,
        },
      }),
    );

  it.each([
    ['the same', 1000, undefined, { done: true, how: 'seen', title: 'S1000 is full power at its controller' }],
    ['ten times', 10_000, undefined, { done: false, skippable: false, holds: expect.stringContaining('as 30 % would burn with 3 %') as string }],
    ['a byte', 255, undefined, { done: false, holds: expect.stringContaining('117.65 %') as string }],
    ['a byte, and planned so', 255, 255, { done: true, title: 'S255 is full power at its controller' }],
    ['not told: a person looks it up', undefined, undefined, { done: false, how: 'confirmed', skippable: false }],
  ])('the power scale of a laser, %s', (_, full, fullPower, step) => {
    const laser = Job.parse({ ...PLATE, process: 'laser', machine: fullPower ? { fullPower } : {} });
    const beam = { wanted: false, power: 0, constant: false, out: null, pointer: false, ...(full === undefined ? {} : { full }) };
    const steps = setupSteps({ ...ready, job: laser, program: null, machine: { ...ready.machine, status: { ...status, beam } } });
    expect(steps.find(({ id }) => id === 'scale')).toMatchObject(step);
  });
  it('a board that lies beyond the field is put in its middle; in tiles the longest of them must fit', () => {
    const { usable } = profile.limits;
    const at = (board: object, where: { x: number; y: number }, tiles?: object) =>
      fittingPlace(Job.parse({ ...PLATE, process: 'laser', board: { thickness: 3, ...board }, ...(tiles ? { tiles } : {}) }), profile, where);
    const small = { width: 200, height: 100 };
    expect(at(small, { x: usable.x, y: usable.y })).toBeNull();
    expect(at(small, { x: usable.x + usable.width - 200, y: usable.y + usable.height - 100 })).toBeNull();
    const middle = { x: usable.x + (usable.width - 200) / 2, y: usable.y + (usable.height - 100) / 2 };
    for (const off of [
      { x: usable.x - 1, y: usable.y },
      { x: usable.x + usable.width - 199, y: usable.y },
    ])
      expect(at(small, off)).toEqual(middle);
    const long = { width: usable.width + 300, height: 100 };
    expect(at(long, { x: usable.x, y: usable.y })).toBeNull();
    expect(at(long, { x: usable.x + usable.width - 100, y: usable.y })).toBeNull();
    expect(at(long, { x: usable.x + usable.width - 100, y: usable.y }, { axis: 'x', seams: [usable.width - 400] })).toMatchObject({
      x: usable.x + 200,
    });
  });
  it('a tile: pushed on, and by marks a zero of its own; the first one again wants the corner back', () => {
    const laser = Job.parse({ ...PLATE, process: 'laser', tiles: { axis: 'x', seams: [40], by: 'marks' } });
    const [first, second] = tilesOf(laser);
    const stepsOf = (tile: Tile | undefined, by: string, confirmed: Setup['confirmed'] = []) =>
      setupSteps({
        ...ready,
        job: laser,
        program: { ...program, tile },
        machine: { ...ready.machine, setup: { ...setup, confirmed, zeroXY: { ...setup.zeroXY!, by } } },
      });
    const step = (tile: Tile | undefined, by: string, id: string) => stepsOf(tile, by).find((one) => one.id === id);
    const [corner, mark] = ['jogged to the corner by eye', seamZero(second)!];
    expect(step(first, corner, 'held')).toMatchObject({ title: 'Lay the sheet on its supports', done: false });
    expect(step(first, corner, 'push')).toBeUndefined();
    expect(step(first, corner, 'xy')).toMatchObject({ done: true });
    expect(step(first, mark, 'xy')).toMatchObject({ done: false, skippable: false, holds: expect.stringContaining('another tile') as string });
    expect(step(undefined, mark, 'xy')).toMatchObject({ done: false });
    expect(step(second, corner, 'held')).toBeUndefined();
    expect(step(second, corner, 'push')).toMatchObject({ done: false, skippable: false, title: expect.stringContaining('40 mm to the left') as string });
    expect(stepsOf(second, corner, [said('push', 'abc')]).find(({ id }) => id === 'push')).toMatchObject({ done: true });
    expect(step(second, corner, 'xy')).toMatchObject({ done: false, skippable: false, title: 'Set X and Y by the two marks on the seam' });
    expect(step(second, mark, 'xy')).toMatchObject({ done: true });
    // Along a stop zero stays where it is.
    const stop = { ...second, by: 'stop' as const };
    expect(step(stop, corner, 'xy')).toMatchObject({ done: true });
    expect(step(stop, corner, 'push')).toMatchObject({ title: expect.stringContaining('along its stops') as string });
  });
  it('has nothing left when everything is set, in the order of the work', () => {
    expect(nextStep(setupSteps(ready))).toBeNull();
    expect(setupSteps(ready).map(({ id }) => id)).toEqual([
      'program',
      'answers',
      'home',
      'held',
      'bit',
      'collet',
      'measure',
      'warm',
      'xy',
      'z',
      'clear',
      'pins',
      'frame',
      'dust',
      'person',
    ]);
  });
  it('looks for the emergency stop before anything else (mistake 1)', () =>
    expect(change({ status: { estop: true, homed: false } })).toMatchObject({ id: 'answers', holds: expect.stringMatching(/emergency stop is pressed/) }));
  it('asks for the collet again after every fitting (mistakes 2 and 4)', () => {
    expect(change({ world: { fitting: 4 } })).toMatchObject({ id: 'collet', holds: expect.stringMatching(/shank of 6.35 mm.*not bottomed/) });
  });
  it('sees another bit (mistake 3)', () => expect(change({ world: { bit: 'e' } })).toMatchObject({ id: 'bit', holds: expect.stringMatching(/Another bit/) }));
  it('wants a bit measured (mistake 5)', () => expect(change({ setup: { bitReading: null } })).toMatchObject({ id: 'measure' }));
  it('wants clip, plate and block away (mistake 6)', () => {
    expect(change({ world: { probeClip: true } })).toMatchObject({ id: 'clear' });
    expect(change({ world: { block: { corner: 'lower-left', size: 50, lip: 12, thickness: 20 } } })).toMatchObject({ id: 'clear' });
  });
  it('compares the face of Z0 (mistake 7) and the corner (mistake 12)', () => {
    expect(change({ setup: { zeroZ: { ...setup.zeroZ!, datum: 'spoilboard' } } })).toMatchObject({
      id: 'z',
      holds: expect.stringMatching(/spoilboard/),
    });
    expect(change({ setup: { zeroXY: { ...setup.zeroXY!, corner: 'centre' } } })).toMatchObject({
      id: 'xy',
      holds: expect.stringMatching(/middle of the board/),
    });
  });
  it('what a machine that shows its world does not show now is not taken as seen', () => {
    const blind = { ...ready, machine: { ...ready.machine, status: { ...status, world: undefined } } };
    expect(setupSteps(blind).filter(({ how, done }) => how === 'seen' && !done).map(({ id }) => id)).toEqual(expect.arrayContaining(['clear', 'pins', 'dust'])); // prettier-ignore
  });
  it('wants pins down, the dust hose on (mistake 13) and the vacuum when it holds the board', () => {
    expect(change({ world: { pinsUp: true } })).toMatchObject({ id: 'pins' });
    expect(change({ world: { dust: false } })).toMatchObject({ id: 'dust' });
    const vacuum = { ...ready, job: { ...job, board: { ...job.board, holdDown: 'vacuum' as const } } };
    expect(nextStep(setupSteps(vacuum))).toBeNull();
    const off = { ...vacuum, machine: { ...ready.machine, status: { ...status, world: { ...BARE_WORLD, vacuum: false } } } };
    expect(nextStep(setupSteps(off))).toMatchObject({ id: 'vacuum' });
  });
  it('says what it says in sound English: one full stop, one minute', () => {
    const alarm = change({ status: { state: 'alarm', message: 'is its wire whole?' } });
    expect(alarm!.holds).toBe('The machine is in alarm: is its wire whole? Clear the alarm.');
    const minute = { ...profile, limits: { ...profile.limits, warmUpSeconds: 60 } };
    const cold = { ...ready.machine, setup: { ...setup, warm: null } };
    expect(nextStep(setupSteps({ ...ready, profile: minute, machine: cold }))!.holds).toMatch(/about a minute before/);
    expect(change({ setup: { warm: null } })!.holds).toMatch(/about 10 minutes before/);
  });
  it('counts warmth anew after a night: not the seconds of yesterday and one more', () => {
    expect(warmSeconds({ at: 1000, seconds: 700 }, 2000)).toBe(700);
    expect(warmSeconds({ at: 1000, seconds: 700 }, 1000 + 14 * 3600e3)).toBe(0);
    expect(warmSeconds(null, 0)).toBe(0);
  });
  it('warms a cold spindle (mistake 26), but not for a drag diamond, nor when it is warm', () => {
    expect(change({ setup: { warm: null } })).toMatchObject({ id: 'warm' });
    expect(change({ setup: { warm: { at: 2000 - 5 * 3600e3, seconds: 900 } } })).toMatchObject({ id: 'warm' });
    const drag = { ...ready, program: { ...program, spindle: false }, machine: { ...ready.machine, setup: { ...setup, warm: null } } };
    expect(nextStep(setupSteps(drag))).toBeNull();
  });
  it('wants an uneven board known before shallow engraving (mistake 17)', () => {
    const shallow = (readings: Setup['readings'], follow = false) =>
      nextStep(setupSteps({ ...ready, program: { ...program, shallowest: 0.2 }, machine: { ...ready.machine, setup: { ...setup, readings, follow } } }));
    const map = (spread: number) => [0, 0, 0, spread].map((height, k) => ({ x: 100 * k, y: 0, height }));
    expect(shallow([])).toMatchObject({ id: 'flat' });
    expect(shallow(map(0.05))).toBeNull();
    expect(shallow(map(0.2))).toMatchObject({ id: 'flat', holds: expect.stringMatching(/0.2 mm uneven/) });
    expect(shallow(map(0.2), true)).toBeNull();
  });
  it('does not take what was set for another job or on another day, until somebody says that it holds', () => {
    const tomorrow = new Date(2000 + 30 * 3600e3).toISOString();
    for (const [over, id] of [
      [{ zeroXY: { ...setup.zeroXY!, job: 'two' } }, 'xy'],
      [{ zeroXY: { ...setup.zeroXY!, job: null } }, 'xy'],
      [{ zeroZ: { ...setup.zeroZ!, job: 'two' } }, 'z'],
      [{ zeroXY: { ...setup.zeroXY!, at: tomorrow } }, 'xy'],
      [{ zeroZ: { ...setup.zeroZ!, at: tomorrow } }, 'z'],
      [{ measuredAt: tomorrow }, 'measure'],
      [{ confirmed: setup.confirmed.map((word) => (word.id === 'held' ? { ...word, at: tomorrow } : word)) }, 'held'],
    ] as const)
      expect(change({ setup: over as Partial<Setup> })).toMatchObject({ id });
  });
  it('does not take a Z from before the spoilboard was skimmed or changed; the next skim goes on from its own', () => {
    const later = new Date(Date.parse(setup.zeroZ!.at) + 1).toISOString();
    const next = (job: Job, spoilboard: object) =>
      nextStep(setupSteps({ ...ready, job, profile: { ...profile, spoilboard: { height: 18, least: 8, ...spoilboard } } }));
    expect(next(ready.job, { skimmed: setup.zeroZ!.at })).toBeNull();
    expect(next(ready.job, { skimmed: later })).toMatchObject({ id: 'z', stale: true, holds: expect.stringMatching(/skimmed since/) });
    const first = Object.values(ready.job.cuts)[0];
    const skims = { ...ready.job, cuts: { s: { ...first, id: 's', kind: 'surface', of: 'spoilboard', skim: 0.2, repeats: 1 } as Cut } };
    expect(next(skims, { skimmed: later })?.id).not.toBe('z');
    expect(
      setupSteps({ ...ready, job: skims, profile: { ...profile, spoilboard: { height: 18, least: 8, skimmed: later, fitted: later } } }).find(
        ({ id }) => id === 'z',
      ),
    ).toMatchObject({ done: false, stale: true });
  });
  it('without a sensor Z holds for the bit that touched it, and for no other', () => {
    const without = { ...profile, sensor: null };
    const next = (over: Partial<Setup>) =>
      nextStep(setupSteps({ ...ready, profile: without, machine: { ...ready.machine, setup: { ...setup, bitReading: null, ...over } } }));
    expect(next({})).toBeNull();
    expect(next({ zeroZ: { ...setup.zeroZ!, bit: 'e' } })).toMatchObject({ id: 'z', holds: expect.stringMatching(/touched with another bit/) });
  });
  it('asks a person which bit is fitted where the machine does not show it, and believes the last word', () => {
    const mute = { ...profile, shows: false };
    // A machine that shows nothing has no world at all.
    const bare = { ...status, world: undefined };
    // It counts no fittings either.
    const words = [...['clear', 'pins', 'dust', 'vacuum'].map((id) => said(id, 'abc')), said('collet', 'v 0')];
    const before = setup.confirmed.filter(({ id }) => id !== 'collet');
    const next = (over: Partial<Setup>) =>
      nextStep(
        setupSteps({
          ...ready,
          profile: mute,
          machine: { ...ready.machine, status: bare, setup: { ...setup, confirmed: [...before, ...words], ...over } },
        }),
      );
    expect(next({})).toBeNull();
    expect(next({ bitFitted: 'e' })).toMatchObject({ id: 'bit', how: 'confirmed' });
    expect(next({ bitFitted: null })).toMatchObject({ id: 'bit' });
  });
  it('the emergency stop pressed for the fitting of a bit is released after it, not before', () => {
    const pressed = { estop: true, state: 'estop' as const };
    expect(change({ status: pressed, world: { bit: 'e' } })).toMatchObject({ id: 'bit' });
    expect(change({ status: pressed, world: { fitting: 9 } })).toMatchObject({ id: 'collet' });
    expect(change({ status: pressed })).toMatchObject({ id: 'answers' });
    expect(change({ status: { ...pressed, homed: false }, world: { bit: 'e' } })).toMatchObject({ id: 'answers' });
  });
  it('a Stop that is not confirmed comes before everything', () =>
    expect(change({ machine: { stopWanted: 'operator' } })).toMatchObject({ id: 'answers', holds: expect.stringMatching(/not confirmed/) }));
  it('a spoilboard thinner than its least is said', () => {
    expect(nextStep(setupSteps({ ...ready, profile: { ...profile, spoilboard: { height: 7.5, least: 8 } } }))).toMatchObject({ id: 'bare', skippable: true });
    expect(nextStep(setupSteps({ ...ready, profile: { ...profile, spoilboard: { height: 8, least: 8 } } }))).toBeNull();
  });
  it('wants the frame driven for this very program, and people looked after (mistake 30)', () => {
    expect(change({ setup: { framed: 'other' } })).toMatchObject({ id: 'frame' });
    expect(change({ setup: { confirmed: setup.confirmed.filter(({ id }) => id !== 'person') } })).toMatchObject({ id: 'person' });
  });
  it('asks for a spindle that is started by hand, when the program needs one', () => {
    const byHand = { ...profile, spindle: { ...profile.spindle, control: 'hand' as const } };
    const machine = { ...ready.machine, setup: { ...setup, confirmed: [...setup.confirmed, said('warm', 'abc')] } };
    expect(nextStep(setupSteps({ ...ready, profile: byHand, machine }))).toMatchObject({ id: 'spindle', how: 'confirmed' });
    expect(nextStep(setupSteps({ ...ready, profile: byHand, machine, program: { ...program, spindle: false } }))).toBeNull();
  });
  it('wants the bed bare before the spoilboard is skimmed (mistake 27), and a program before anything', () => {
    const cut = Cut.parse({ kind: 'surface', id: 's', on: 'art', tool: 'e', of: 'spoilboard', skim: 0.2 });
    const skim = { ...ready, job: { ...job, cuts: { s: cut }, cutOrder: ['s'] } };
    expect(nextStep(setupSteps(skim))).toMatchObject({ id: 'bare', skippable: false, holds: expect.stringMatching(/0.2 mm/) });
    expect(nextStep(setupSteps({ ...skim, job: { ...job, cuts: { s: { ...cut, of: 'board' } as typeof cut }, cutOrder: ['s'] } }))).toBeNull();
    expect(nextStep(setupSteps({ ...ready, program: null }))).toMatchObject({ id: 'program' });
    const other = { ...profile, limits: { ...profile.limits, name: 'Other', travel: [600, 400, 90] as [number, number, number] } };
    expect(nextStep(setupSteps({ ...ready, profile: { ...profile, limits: { ...profile.limits, name: 'Renamed' } } }))).toBeNull();
    expect(nextStep(setupSteps({ ...ready, profile: other }))).toMatchObject({
      id: 'program',
      holds: expect.stringMatching(/planned for Router, and Other has other limits/),
    });
  });
  it('lets what may be skipped be skipped, by name, and nothing else', () => {
    expect(change({ setup: { framed: null, confirmed: [...setup.confirmed, said('frame', 'abc', true)] } })).toBeNull();
    const steps = setupSteps({ ...ready, machine: { ...ready.machine, setup: { ...setup, confirmed: [said('held', 'abc', true)] } } });
    expect(steps.find(({ id }) => id === 'held')).toMatchObject({ done: false, skippedBy: 'operator' });
    expect(steps.filter(({ skippable }) => !skippable).map(({ id }) => id)).toEqual(['program', 'answers', 'home', 'bit', 'measure', 'xy', 'z']);
  });
  it('takes a word given for another release, or another bit, for nothing', () =>
    expect(change({ setup: { confirmed: [said('held', 'old'), ...setup.confirmed.slice(1)] } })).toMatchObject({ id: 'held' }));
});
