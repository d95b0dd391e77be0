/** The simulated laser: what its beam lays on a sheet, its interlocks, what a hold does to a line - and a whole program of Kerbe's on it. */
import { describe, expect, it } from 'vitest';
import { readJob, Bit, type Job } from '@kerbe/core/job';
import { LASER_BENCH } from '@kerbe/core/machine';
import { planJob, releasePrograms } from '@kerbe/core/plan';
import { burnMap } from '@kerbe/core/proof';
import { fontOf } from '../../../core/src/reference/fixtures.ts';
import { Hands } from '../controller/hands.ts';
import { laser } from '../kinds.ts';
import { BARE_BED, type LaserWorld } from './head.ts';

const head = Bit.parse({ kind: 'head', id: 'head1', watts: 10, diameter: 0.12 });
const LAID: LaserWorld = {
  ...BARE_BED,
  board: { x: 100, y: 100, width: 80, height: 60, thickness: 3, material: 'birch ply' },
  bit: { shape: head, stickOut: 20 },
  key: true,
  air: true,
  extraction: true,
  cell: 0.1,
};
/** Machine Z where the surface of that sheet is in focus: head 20 below the carriage, focus 5 below that, 3 of sheet, from 80. */
const IN_FOCUS = 3 + 5 + 20 - 80;

type Laser = ReturnType<typeof laser>;
let seq = new WeakMap<Laser, number>();
function send(machine: Laser, lines: string[]): string | null {
  for (const line of lines) {
    const next = (seq.get(machine) ?? 0) + 1;
    const why = machine.accept(next, line);
    if (why) return why;
    seq.set(machine, next);
  }
  return null;
}
function pass(machine: Laser, seconds: number, slice = 0.02) {
  for (let t = 0; t < seconds; t += slice) machine.advance(slice);
}
/** Sends a program as fast as it is taken, until it has come to rest. */
function run(machine: Laser, lines: readonly string[]) {
  let k = 0;
  for (let t = 0; t < 4000 && machine.state !== 'alarm' && machine.state !== 'hold'; t += 0.02) {
    while (k < lines.length && !machine.full) {
      const why = send(machine, [lines[k]]);
      expect(why, lines[k]).toBeNull();
      k++;
    }
    machine.advance(0.02);
    if (k === lines.length && machine.queued === 0 && machine.state === 'idle') break;
  }
}
/** Homed, X0 Y0 at the sheet's lower left, Z0 in focus. */
function bed(change: Partial<LaserWorld> = {}) {
  const machine = laser({ ...LAID, ...change });
  machine.home();
  pass(machine, 30);
  expect(machine.homed).toBe(true);
  run(machine, ['G21 G90', 'G53 G0 Z0', 'G53 G0 X100 Y100', `G10 L20 P0 X0 Y0 Z${-IN_FOCUS}`, 'G0 Z0']);
  return machine;
}
const joulesOn = ({ head: { sheet } }: Laser) => sheet!.energy.reduce((sum, e) => sum + e, 0) * sheet!.plate.map.cell ** 2;
/** Energy of a column of the sheet one mm wide about x, J. */
function joulesAt({ head: { sheet } }: Laser, x: number, width = 1): number {
  const { columns, rows, cell } = sheet!.plate.map;
  let sum = 0;
  for (let j = 0; j < rows; j++)
    for (let i = Math.round((x - width / 2) / cell); i < Math.round((x + width / 2) / cell); i++) sum += sheet!.energy[j * columns + i];
  return sum * cell * cell;
}
const hands = (machine: Laser) => {
  const own = new Hands(machine, { drop: () => {}, forget: () => {} });
  return (change: object) => own.change(JSON.stringify(change));
};

describe('the beam', () => {
  it('lays P·t: a line of 40 mm at 600 mm/min and 3 W takes 12 J, constant and dynamic', () => {
    for (const word of ['M3', 'M4']) {
      const machine = bed();
      run(machine, [`S0 ${word}`, 'G0 X10 Y30', 'G1 X50 F600 S300', 'M5']);
      // 3 W for 4 s; constant power also while it gains speed and brakes, which takes 2 · 10/2000 s more at half the speed.
      expect(joulesOn(machine)).toBeCloseTo(12, 1);
    }
  });
  it('in dynamic mode follows the speed: a corner takes no more than the way to it; constant power burns it', () => {
    // Out and back in one line: it stands for a moment at the turn.
    const turn = ['G0 X10 Y30', 'G1 X40 F12000 S500', 'X10', 'M5'];
    const [constant, dynamic] = [bed(), bed()];
    run(constant, ['S0 M3', ...turn]);
    run(dynamic, ['S0 M4', ...turn]);
    const along = (machine: Laser) => joulesAt(machine, 39.5) / joulesAt(machine, 25);
    expect(along(dynamic)).toBeLessThan(1.1);
    expect(along(constant)).toBeGreaterThan(2);
  });
  it('widens out of focus, by the Gaussian beam', () => {
    const width = (z: number) => {
      const machine = bed();
      run(machine, ['S0 M4', `G0 X10 Y30 Z${z}`, 'G1 X50 F600 S300', 'M5']);
      const { columns, rows, cell } = machine.head.sheet!.plate.map;
      const column = Array.from({ length: rows }, (_, j) => machine.head.sheet!.energy[j * columns + Math.round(30 / cell)]);
      return { lit: column.filter((e) => e > 0).length * cell, out: machine.status().beam!.out };
    };
    expect(width(0)).toMatchObject({ out: 0 });
    // w(z) = w0·sqrt(1 + (z/zR)²), zR 2 mm: six mm off it is 3.2 times as wide, of which 0.8 is its core, on both sides.
    const off = width(6);
    expect(off.out).toBe(6);
    expect(off.lit).toBeCloseTo(2 * 0.8 * 0.12 * Math.sqrt(10), 0);
    expect(off.lit).toBeGreaterThan(width(0).lit * 2);
  });
  it('is late by its delay: a line begins and ends further on, by speed times delay', () => {
    const machine = bed({ delay: 0.01 });
    run(machine, ['S0 M4', 'G0 X5 Y30', 'G1 X10 F6000', 'G1 X50 S300', 'G1 X55 S0', 'M5']);
    // 3 W at 100 mm/s are 0.03 J/mm; a hundredth of a second is a millimetre.
    expect(joulesAt(machine, 10.4, 0.8)).toBeLessThan(0.003);
    expect(joulesAt(machine, 50.5, 0.8)).toBeCloseTo(0.024, 3);
    expect(joulesAt(machine, 51.8, 0.8)).toBeLessThan(0.003);
  });
  it('S means what the controller is set to: three per cent instead of thirty when its scale is ten times as large', () => {
    const line = ['S0 M4', 'G0 X10 Y30', 'G1 X50 F600 S300', 'M5'];
    const [right, wrong] = [bed(), bed({ fullPower: 10_000 })];
    run(right, line);
    run(wrong, line);
    expect(joulesOn(wrong) / joulesOn(right)).toBeCloseTo(0.1, 3);
    const small = bed({ fullPower: 255 });
    expect(send(small, ['S0 M4', 'G1 X20 F600 S300'])).toMatch(/more than full power, which is S255/);
  });
  it('goes through after enough passes and not before; what came free is counted, and moved when it is marked later', () => {
    // 8 W at 5 mm/s lay 1.6 J on each mm; 3 mm of ply want 9 J/mm² a mm in a core of 0.096 mm: 2.6 J/mm, two passes.
    const square = (times: number) => ['S0 M3', 'G0 X20 Y20', ...Array.from({ length: times }, () => ['G1 X40 F300 S800', 'Y40', 'X20', 'Y20']).flat(), 'M5'];
    const machine = bed();
    run(machine, square(1));
    expect(machine.status().world!.cabinet).toMatchObject({ free: 0 });
    run(machine, square(1));
    expect(machine.status().world!.cabinet).toMatchObject({ free: 1, late: false });
    expect(machine.head.sheet!.plate.pieces[0].area).toBeCloseTo(400, -2);
    run(machine, ['S0 M4', 'G0 X22 Y30', 'G1 X38 F3000 S300', 'M5']);
    expect(machine.status().world!.cabinet).toMatchObject({ late: true });
  });
  it('sets a sheet alight when it stands', () => {
    const machine = bed();
    run(machine, ['S500 M3', 'G4 P2', 'M5']);
    expect(machine).toMatchObject({ state: 'alarm', message: 'The beam stood still and set the sheet alight.' });
    const dynamic = bed();
    run(dynamic, ['S500 M4', 'G4 P2', 'M5']);
    expect(dynamic.state).toBe('idle');
  });
  it('makes smoke, which extraction clears within a minute and still air does not', () => {
    const after = (extraction: boolean) => {
      const machine = bed({ extraction });
      run(machine, ['S0 M3', 'G0 X10 Y30', 'G1 X70 F300 S1000', 'M5']);
      const begun = machine.status().world!.cabinet!.smoke;
      pass(machine, 60);
      return [begun, machine.status().world!.cabinet!.smoke];
    };
    const [led, clear] = after(true);
    const [still, left] = after(false);
    expect(led).toBeGreaterThan(0);
    expect(clear).toBeLessThan(0.02);
    expect(still).toBeGreaterThan(led);
    expect(left).toBeGreaterThan(still / 2);
  });
});

describe('interlocks', () => {
  it('no head, no key, lid open: refused, each in its words', () => {
    const why = (change: Partial<LaserWorld>) => send(bed(change), ['S300 M4']);
    expect(why({})).toBeNull();
    expect(why({ bit: null })).toMatch(/no head/);
    expect(why({ key: false })).toMatch(/key is off/);
    expect(why({ lidOpen: true })).toMatch(/lid is open/);
  });
  it('it is not homed and not probed with the beam on', () => {
    const machine = bed();
    run(machine, ['S300 M3', 'G1 X5 F600']);
    expect(machine.home()).toMatch(/beam is switched on/);
    run(machine, ['G38.2 Z-5 F100']);
    expect(machine.message).toMatch(/the beam shines/);
  });
  it('a program begins by the button at the machine, and not while the lid is open', () => {
    const machine = bed();
    machine.restartLines('run:0');
    seq = new WeakMap();
    send(machine, ['G21 G90', 'S0 M4', 'G0 X10 Y30', 'G1 X50 F6000 S300', 'M5', 'M30']);
    pass(machine, 1);
    expect(machine).toMatchObject({ state: 'pause', done: 0 });
    expect(machine.resume()).toMatch(/Start at the machine/);
    const hand = hands(machine);
    expect(hand({ lidOpen: true })).toBeNull();
    expect(hand({ start: true })).toMatch(/lid is open/);
    expect(hand({ lidOpen: false })).toBeNull();
    expect(hand({ start: true })).toBeNull();
    pass(machine, 5);
    expect(machine).toMatchObject({ state: 'idle', done: 6 });
    expect(joulesOn(machine)).toBeGreaterThan(1);
    expect(hand({ start: true })).toMatch(/nothing waits/);
  });

  it('lines that come while the lid is open wait for it: they are taken, and nothing of them shines before it is shut', () => {
    const machine = bed();
    machine.restartLines('run:0');
    seq = new WeakMap();
    expect(send(machine, ['G21 G90', 'S0 M4', 'G0 X10 Y30', 'G1 X50 F600 S300'])).toBeNull();
    const hand = hands(machine);
    pass(machine, 0.1);
    // Before its beginning too.
    expect(hand({ lidOpen: true })).toBeNull();
    expect(send(machine, ['G1 X60 S300'])).toBeNull();
    expect(hand({ lidOpen: false })).toBeNull();
    expect(hand({ start: true })).toBeNull();
    pass(machine, 0.5);
    expect(hand({ lidOpen: true })).toBeNull();
    pass(machine, 0.5);
    const before = joulesOn(machine);
    expect(before).toBeGreaterThan(0);
    expect(send(machine, ['G1 X70 S400', 'M5', 'M30'])).toBeNull();
    pass(machine, 1);
    expect(joulesOn(machine)).toBe(before);
    expect(machine.resume()).toMatch(/lid is open/);
    expect(hand({ lidOpen: false })).toBeNull();
    expect(machine.resume()).toBeNull();
    pass(machine, 20);
    expect(machine).toMatchObject({ state: 'idle', done: 8 });
    expect(joulesOn(machine)).toBeGreaterThan(before);
  });

  /** The lid opened somewhere on a line, shut and gone on with - or a plain hold. */
  const interrupted = (mode: string, after: number, hold: (machine: Laser) => void, again: (machine: Laser) => void) => {
    const machine = bed();
    machine.restartLines('run:0');
    seq = new WeakMap();
    send(machine, [`S0 ${mode}`, 'G0 X10 Y30', 'G1 X25 F3000 S300', 'X30 S0', 'X50 S600', 'M5', 'M30']);
    machine.advance(0.02);
    expect(machine.pressStart()).toBeNull();
    pass(machine, after, 0.001);
    hold(machine);
    const lit = joulesOn(machine);
    pass(machine, 1);
    expect(machine).toMatchObject({ state: 'hold' });
    expect(machine.status().beam).toMatchObject({ wanted: false, power: 0 });
    // Dark at once: nothing was laid while it came to rest.
    expect(joulesOn(machine)).toBe(lit);
    again(machine);
    pass(machine, 3);
    expect(machine.state).toBe('idle');
    return machine;
  };
  it.each([0.32, 0.45, 0.55, 0.56, 0.6, 0.61, 0.62, 0.7, 0.9])(
    'lid opened %f s on: dark at once, and the line goes on where it was lost - no gap, nothing burned twice',
    (after) => {
      const whole = bed();
      run(whole, ['S0 M4', 'G0 X10 Y30', 'G1 X25 F3000 S300', 'X30 S0', 'X50 S600', 'M5']);
      const machine = interrupted(
        'M4',
        after,
        (m) => {
          expect(hands(m)({ lidOpen: true })).toBeNull();
          expect(m.resume()).toMatch(/lid is open/);
        },
        (m) => {
          expect(m.resume()).toMatch(/lid is open/);
          expect(hands(m)({ lidOpen: false })).toBeNull();
          expect(m.resume()).toBeNull();
        },
      );
      for (let x = 9.5; x < 52; x += 0.5) expect(Math.abs(joulesAt(machine, x, 0.5) - joulesAt(whole, x, 0.5)), `at ${x}`).toBeLessThan(0.006);
    },
  );
  it.each([0.45, 0.61, 0.9])('a plain hold %f s on does the same', (after) => {
    const whole = bed();
    run(whole, ['S0 M4', 'G0 X10 Y30', 'G1 X25 F3000 S300', 'X30 S0', 'X50 S600', 'M5']);
    const machine = interrupted(
      'M4',
      after,
      (m) => expect(m.hold()).toBeNull(),
      (m) => expect(m.resume()).toBeNull(),
    );
    expect(joulesOn(machine)).toBeCloseTo(joulesOn(whole), 2);
  });
  it('a program that was stopped or has ended does not hold at an open lid, and nothing is lit by it', () => {
    const machine = bed();
    machine.restartLines('run:0');
    seq = new WeakMap();
    send(machine, ['S0 M4', 'G0 X10 Y30', 'G1 X50 F600 S300']);
    machine.advance(0.02);
    machine.pressStart();
    pass(machine, 1);
    expect(machine.stop()).toBeNull();
    pass(machine, 1);
    expect(machine.status()).toMatchObject({ state: 'idle', beam: { wanted: false, power: 0 } });
    expect(hands(machine)({ lidOpen: true })).toBeNull();
    expect(machine.state).toBe('idle');
  });
  it('the head that comes down on the sheet stops it', () => {
    const machine = bed();
    run(machine, ['G0 X10 Y10', 'G0 Z-6']);
    expect(machine.message).toMatch(/ran into the sheet/);
  });
  it('what stands in its way is met, however seldom its process is given time', () => {
    const post = { x: 140, y: 110, width: 2, depth: 2, height: 100 };
    for (const slice of [0.01, 5]) {
      const machine = bed({ clamps: [post] });
      run(machine, ['G0 X0 Y10']);
      expect(machine.message).toBe('');
      send(machine, ['G0 X80']);
      pass(machine, 10, slice);
      expect(machine.message, `${slice} s`).toMatch(/what holds the sheet/);
    }
  });
  it('its distance sensor finds the surface in focus, and nothing beside the sheet', () => {
    const machine = bed();
    run(machine, ['G0 X10 Y10', 'G0 Z20', 'G38.2 Z-4 F600']);
    expect(machine.probe).toMatchObject({ touched: true });
    expect(machine.probe!.position[2]).toBeCloseTo(IN_FOCUS, 3);
  });
});

describe('a job of Kerbe’s', () => {
  /** A tag with a filled disc, in one or in tiles. */
  const tag = (tiles?: object): Job => {
    const reading = readJob({
      kerbe: 4,
      process: 'laser',
      name: 'Tag',
      machine: LASER_BENCH,
      board: { width: 80, height: 60, thickness: 3, material: 'birch ply', holdDown: 'tape' },
      items: {
        tag: { kind: 'rectangle', id: 'tag', x: 40, y: 30, width: 50, height: 30 },
        mark: { kind: 'ellipse', id: 'mark', x: 40, y: 30, width: 20, height: 12 },
      },
      itemOrder: ['tag', 'mark'],
      tools: { head1: { kind: 'head', id: 'head1', watts: 10, diameter: 0.12 } },
      cuts: {
        fill: { kind: 'laser-fill', id: 'fill', on: ['mark'], tool: 'head1', feed: 3000, power: 30, interval: 0.2 },
        cut: { kind: 'laser-cut', id: 'cut', on: ['tag'], tool: 'head1', feed: 300, power: 80, passes: 3, kerf: 0.12, side: 'outside' },
      },
      cutOrder: ['fill', 'cut'],
      ...(tiles ? { tiles } : {}),
    });
    if (!reading.ok) throw new Error(reading.why.join('\n'));
    return reading.job;
  };
  /** What the sheet took, against the proof of the whole, by squares of two millimetres: a spot on either side of a cell's edge is no difference. */
  function asProved(machine: Laser, job: Job, cuts: Awaited<ReturnType<typeof planJob>>['cuts'], twice: (x: number, y: number) => boolean = () => false) {
    const { energy, plate } = machine.head.sheet!;
    const { columns, cell } = plate.map;
    const proof = burnMap(job, cuts, cell);
    expect(proof.columns).toBe(columns);
    const squares = (of: Float32Array) => {
      const sums = new Float64Array(40 * 30);
      for (let k = 0; k < of.length; k++) sums[Math.floor(Math.floor(k / columns) / 20) * 40 + Math.floor((k % columns) / 20)] += of[k] * cell * cell;
      return sums;
    };
    const [burned, asked] = [squares(energy), squares(proof.energy)];
    const most = Math.max(...asked);
    for (let k = 0; k < asked.length; k++) {
      const [x, y] = [k % 40, Math.floor(k / 40)];
      // Both tiles cut 0.2 mm over the seam, three times: 8 W at 5 mm/s.
      const again = twice(2 * x, 2 * y) ? (3 * 0.4 * 8) / 5 : 0;
      expect(burned[k] - asked[k], `square ${x}, ${y}`).toBeLessThan(0.05 * most + again);
      expect(asked[k] - burned[k], `square ${x}, ${y}`).toBeLessThan(0.05 * most);
    }
    const total = (of: Float64Array) => of.reduce((sum, one) => sum + one, 0);
    expect(total(burned) / total(asked)).toBeCloseTo(1, 1);
    expect(plate.pieces).toHaveLength(1);
    expect(plate.pieces[0].area).toBeCloseTo(1500, -2);
  }
  const linesOf = (text: string) => text.split('\n').filter((line) => line.trim() !== '');
  it.each(['x', 'y'] as const)('in tiles, the sheet pushed on in between, it is burned as the whole was proved: across %s', async (axis) => {
    const job = tag({ axis, seams: [axis === 'x' ? 37 : 28] });
    const plan = await planJob(job, { fonts: fontOf });
    const machine = bed();
    machine.restartLines();
    seq = new WeakMap();
    for (const { text, tile } of releasePrograms(job, plan, '2026-01-01').files) {
      if (tile!.index > 0) expect(hands(machine)({ slide: { x: axis === 'x' ? -tile!.push : 0, y: axis === 'y' ? -tile!.push : 0 } })).toBeNull();
      machine.restartLines();
      seq = new WeakMap();
      run(machine, linesOf(text));
      expect(machine.message).toBe('');
    }
    // Squares on the seam, or beside one that lies on their edge.
    asProved(machine, job, plan.cuts, (x, y) => (axis === 'x' ? x >= 34 && x <= 38 : y >= 26 && y <= 28));
  });
  it('burns as it was proved: energy of the marks, place for place, and the tag comes free', async () => {
    const job = tag();
    const plan = await planJob(job, { fonts: fontOf });
    expect(plan.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    const machine = bed();
    machine.restartLines();
    seq = new WeakMap();
    run(machine, linesOf(releasePrograms(job, plan, '2026-01-01').files[0].text));
    expect(machine.message).toBe('');
    asProved(machine, job, plan.cuts);
    expect(machine.head.sheet!.late).toBe(false);
  });
});
