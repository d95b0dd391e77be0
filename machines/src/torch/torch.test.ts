/** The simulated torch table: what an arc needs, what it leaves, and what becomes of the pieces - and a whole program of Kerbe's on it. */
import { describe, expect, it } from 'vitest';
import { asCut, carvePlan, HeightMap } from '@kerbe/core/proof';
import { STARTING_CHART } from '@kerbe/core/bits/chart';
import { Bit, readJob } from '@kerbe/core/job';
import { piecesOf, planJob, releasePrograms } from '@kerbe/core/plan';
import { fontOf } from '../../../core/src/reference/fixtures.ts';
import { torch } from '../kinds.ts';
import { BARE_TABLE, type TorchWorld } from './head.ts';
import { Plate } from '../plate.ts';

const nozzle = Bit.parse({ kind: 'nozzle', id: 'nozzle1', diameter: 1.5, chart: STARTING_CHART });
const LAID: TorchWorld = {
  ...BARE_TABLE,
  board: { x: 100, y: 100, width: 200, height: 200, thickness: 3 },
  bit: { shape: nozzle, stickOut: 60 },
  ground: true,
  air: true,
  slats: { along: 'y', pitch: 50, first: 0, thick: 4 },
};

/** A table with a plate, homed, X0 Y0 at its lower-left corner and Z0 on its top. */
function table(change: Partial<TorchWorld> = {}) {
  const machine = torch({ ...LAID, ...change });
  machine.home();
  pass(machine, 60);
  expect(machine.homed).toBe(true);
  const top = 3 - 140 + 60;
  send(machine, ['G21 G90', 'G53 G0 Z0', 'G53 G0 X100 Y100', `G10 L20 P0 X0 Y0 Z${-top}`]);
  pass(machine, 60);
  return machine;
}
type Table = ReturnType<typeof torch>;
let seq = new WeakMap<Table, number>();
function send(machine: Table, lines: string[]): string | null {
  for (const line of lines) {
    const next = (seq.get(machine) ?? 0) + 1;
    const why = machine.accept(next, line);
    if (why) return why;
    seq.set(machine, next);
  }
  return null;
}
function pass(machine: Table, seconds: number) {
  for (let t = 0; t < seconds; t += 0.02) machine.advance(0.02);
}
/** Sends a program as fast as it is taken, until it has come to rest. */
function run(machine: Table, lines: readonly string[]) {
  let k = 0;
  for (let t = 0; t < 4000 && machine.state !== 'alarm'; t += 0.02) {
    while (k < lines.length && !machine.full) {
      const why = send(machine, [lines[k]]);
      expect(why, lines[k]).toBeNull();
      k++;
    }
    machine.advance(0.02);
    if (k === lines.length && machine.queued === 0 && machine.state === 'idle') break;
  }
}
/** Strikes at a place and waits; then along. */
const strike = (x: number, y: number, height = 1.5, delay = 0.4) => [`G0 Z15`, `G0 X${x} Y${y}`, `G0 Z${height}`, 'S1 M3', `G4 P${delay}`];

describe('the arc', () => {
  it('takes hold over a grounded plate, is through after a while, and leaves a kerf of its width', () => {
    const machine = table({ cell: 0.1 });
    run(machine, [...strike(50, 50), 'G1 X80 F3000', 'M5', 'G0 Z15']);
    expect(machine.state).toBe('idle');
    const map = machine.head.map()!;
    const burned = [...map.height].filter((h) => h < 0).length * map.cell ** 2;
    const kerf = machine.head.kerf;
    expect(kerf).toBeCloseTo(1.484, 2);
    expect(burned).toBeGreaterThan(30 * kerf * 0.85);
    expect(burned).toBeLessThan(30 * kerf * 1.15 + Math.PI * kerf ** 2);
    expect(machine.head.pierces).toBe(1);
  });
  it('a table that knows of its arc waits for it by itself, and says why when none comes; one that does not moves on and spoils its nozzle', () => {
    const way = ['G0 Z15', 'G0 X50 Y50', 'G0 Z1.5', 'S1 M3', 'G1 X80 F3000', 'M5', 'G0 Z15'];
    const waits = table({ arcOk: true });
    run(waits, way);
    expect(waits).toMatchObject({ state: 'idle', message: '' });
    expect(waits.head.pierces).toBe(1);
    const bare = table({ arcOk: true, ground: false });
    run(bare, way);
    expect(bare.message).toMatch(/work lead is not on the plate/);
    const plain = table();
    run(plain, way);
    expect(plain.state).toBe('alarm');
  });
  it.each([
    ['without the work lead', { ground: false }, /work lead is not on the plate/],
    ['too high', {}, /too far under the torch/],
    ['beside the plate', {}, /no metal under the torch/],
  ] as const)('%s it does not take hold, and the machine says why', (name, change, why) => {
    const machine = table(change);
    const at = name === 'beside the plate' ? -60 : 50;
    run(machine, [...strike(at, 50, name === 'too high' ? 12 : 1.5, 3), 'G1 X80 F3000', 'M5']);
    expect(machine.state).toBe('alarm');
    expect(machine.message).toMatch(why);
    expect(machine.head.map()!.height.every((h) => h === 0)).toBe(true);
  });
  it('without air, without a nozzle or with one that is blown it is not even struck', () => {
    expect(send(table({ air: false }), ['M3 S1'])).toMatch(/air pressure/);
    expect(send(table({ bit: null }), ['M3 S1'])).toMatch(/no nozzle/);
    expect(send(table({ bit: { shape: nozzle, stickOut: 60, worn: 1 } }), ['M3 S1'])).toMatch(/blown/);
  });
  it('moved on before it is through, the nozzle is spoiled', () => {
    const machine = table();
    run(machine, [...strike(50, 50, 1.5, 0.12), 'G1 X80 F6000', 'M5']);
    expect(machine.message).toMatch(/before it was through/);
    expect(machine.head.world.bit!.worn).toBe(1);
  });
  it('begun at the plate’s edge it may go on at once: nothing is pierced there', () => {
    const machine = table();
    run(machine, [...strike(0.75, 50, 1.5, 0.12), 'G1 X30 F3000', 'M5']);
    expect([machine.message, machine.head.pierces]).toEqual(['', 1]);
    const { height, columns, cell } = machine.head.map()!;
    expect(height[Math.floor(50 / cell) * columns + Math.floor(20 / cell)]).toBeLessThan(0);
  });
  it('over an opening of a remnant there is no metal: it does not take hold, and no plate is felt', () => {
    const gone = [[40, 40, 70, 40, 70, 70, 40, 70]];
    const machine = table({ board: { ...LAID.board!, gone } });
    const { height, columns, cell } = machine.head.map()!;
    const at = (x: number, y: number) => height[Math.floor(y / cell) * columns + Math.floor(x / cell)];
    expect([at(55, 55), at(35, 55), at(75, 55)]).toEqual([-3, 0, 0]);
    expect(machine.status().world!.board).not.toHaveProperty('gone');
    run(machine, [...strike(55, 55, 1.5, 2), 'G1 X60 F3000', 'M5']);
    expect(machine.message).toMatch(/no metal under the torch/);
  });
  it('goes out where there is no metal, and off with a stop, an emergency stop and the end of the program', () => {
    const lost = table();
    run(lost, [...strike(10, 50), 'G1 X-30 F3000', 'M5']);
    expect(lost.message).toMatch(/arc was lost/);
    expect(lost.head.live).toBeNull();
    const stops: ((machine: Table) => void)[] = [(machine) => machine.stop(), (machine) => machine.setEstop(true), (machine) => machine.reset()];
    for (const off of stops) {
      const machine = table();
      send(machine, [...strike(50, 50), 'G1 X150 F1000']);
      while (machine.head.live === null) machine.advance(0.02);
      off(machine);
      pass(machine, 1);
      expect([machine.head.live, machine.head.on]).toEqual([null, null]);
    }
    const ended = table();
    run(ended, [...strike(50, 50), 'G1 X60 F1000', 'M2']);
    expect(ended.head.live).toBeNull();
  });
  it('held in its cut it goes out at once: nothing burns where it stands', () => {
    const machine = table();
    send(machine, [...strike(50, 50), 'G1 X150 F1000', 'M5', 'G0 Z15']);
    while (machine.position[0] < 180) machine.advance(0.02);
    expect(machine.hold()).toBeNull();
    expect([machine.head.live, machine.head.on]).toEqual([null, null]);
    const before = [...machine.head.map()!.height].filter((h) => h < 0).length;
    pass(machine, 2);
    expect([...machine.head.map()!.height].filter((h) => h < 0).length).toBe(before);
  });
  it('nothing is touched while it burns, and it does not home', () => {
    const machine = table();
    send(machine, strike(50, 50));
    while (machine.head.live === null) machine.advance(0.02);
    pass(machine, 1);
    expect(machine.home()).toMatch(/arc/);
    send(machine, ['G38.2 Z-5 F300']);
    pass(machine, 1);
    expect(machine.message).toMatch(/arc burns/);
  });
  it('wears by every pierce, and a worn nozzle cuts wider', () => {
    const machine = table();
    const before = machine.head.kerf;
    for (const x of [20, 40, 60]) run(machine, [...strike(x, 50), 'M5', 'G0 Z15']);
    expect(machine.head.world.bit!.worn).toBeCloseTo(3 / 600, 6);
    expect(machine.head.kerf).toBeGreaterThan(before);
  });
});

describe('touching and height', () => {
  const feel = ['G0 Z10', 'G0 X100 Y100', 'G38.2 Z-20 F500', 'G10 L20 P0 Z0', 'G0 Z1.5'];
  it('by contact it feels a plate that is grounded, warped or not', () => {
    const machine = table({ warp: 4 });
    run(machine, feel);
    expect(machine.status().arc!.over).toBeCloseTo(1.5, 2);
    const bare = table({ ground: false });
    run(bare, feel.slice(0, 3));
    expect(bare.message).toMatch(/past where the touch plate should be|met the board/);
  });
  it('a float switch needs no ground, and speaks lower by its travel', () => {
    const machine = table({ ground: false, float: 0.8 });
    run(machine, [...feel.slice(0, 3), 'G10 L20 P0 Z-0.8', 'G0 Z1.5']);
    expect(machine.status().arc!.over).toBeCloseTo(1.5, 2);
  });
  it('height control follows a plate that is bowed; without it the torch comes too near', () => {
    const way = [...strike(20, 100, 2.5, 1), 'M62 P1', 'G1 X100 F1500', 'X180', 'M63 P1', 'M5'];
    const over = (control: boolean) => {
      const machine = table({ warp: 4, float: 0 });
      // Felt for where it is struck, as a program does.
      run(machine, ['G0 X20 Y100', 'G38.2 Z-20 F500', 'G10 L20 P0 Z0']);
      send(machine, control ? way : way.filter((line) => !line.startsWith('M6')));
      let least = Infinity;
      for (let t = 0; t < 40 && machine.state !== 'alarm'; t += 0.02) {
        machine.advance(0.02);
        if (machine.head.live) least = Math.min(least, machine.status().arc!.over);
      }
      return { least, message: machine.message };
    };
    expect(over(true).least).toBeGreaterThan(1.8);
    expect(over(false).least).toBeLessThan(0);
  });
  it('has the volts that its chart says of the plate, more the higher it stands', () => {
    const volts = (thickness: number, height: number) => {
      const machine = table({ board: { ...LAID.board!, thickness } });
      send(machine, [...strike(50, 50, height - 3 + thickness, 1)]);
      pass(machine, 3);
      return machine.status().arc!.volts;
    };
    // Rows of the starting chart: 118 V on 1.5 mm, 122 V on 3.4 mm, 1.5 mm high; 8 V for each mm.
    expect(volts(3, 1.5)).toBeCloseTo(118 + (4 * 1.5) / 1.9, 0);
    expect(volts(1.5, 1.5)).toBeCloseTo(118, 0);
    expect(volts(3, 2.5) - volts(3, 1.5)).toBeCloseTo(8, 1);
  });
  it('left on where it slows down, it dives', () => {
    const dive = (off: boolean) => {
      const machine = table();
      send(machine, [...strike(20, 100, 1.5, 1), 'M62 P1', 'G1 X80 F4000', ...(off ? ['M63 P1'] : []), 'X95 F300', 'M5']);
      let least = Infinity;
      for (let t = 0; t < 20 && machine.state !== 'alarm'; t += 0.02) {
        machine.advance(0.02);
        if (machine.head.live) least = Math.min(least, machine.status().arc!.over);
      }
      return least;
    };
    expect(dive(true)).toBeGreaterThan(1.2);
    expect(dive(false)).toBeLessThan(0.3);
  });
  it('does not stop for an output: it keeps its speed', () => {
    const machine = table();
    send(machine, [...strike(20, 100, 1.5, 1), 'G1 X60 F3000', 'M62 P1', 'X100', 'M63 P1', 'X150', 'M5']);
    const slow: number[] = [];
    for (let t = 0; t < 20; t += 0.005) {
      machine.advance(0.005);
      const x = machine.position[0] - 100;
      if (machine.head.live && x > 40 && x < 130) slow.push(machine.status().speed);
    }
    expect(slow.length).toBeGreaterThan(100);
    expect(Math.min(...slow)).toBeGreaterThan(0.95 * 50);
  });
});

describe('the plate', () => {
  const slats = { along: 'y', pitch: 50, first: 0, thick: 4 } as const;
  /** Burns a rectangle free. */
  function cut(plate: Plate, x: number, y: number, w: number, h: number) {
    const corners = [
      [x, y],
      [x + w, y],
      [x + w, y + h],
      [x, y + h],
      [x, y],
    ];
    for (let k = 1; k < corners.length; k++)
      for (let f = 0; f <= 1; f += 0.002)
        plate.burn(corners[k - 1][0] + f * (corners[k][0] - corners[k - 1][0]), corners[k - 1][1] + f * (corners[k][1] - corners[k - 1][1]), 0.75);
    return plate.freed();
  }
  it.each([
    // Slats stand at 0, 50, 100 ..., 4 mm thick.
    ['over two slats', [40, 40, 80, 40], 'free'],
    ['between two', [60, 40, 30, 30], 'falls'],
    ['over one, off its middle', [95, 40, 45, 30], 'tips'],
    ['over one, in balance', [88, 40, 24, 30], 'free'],
  ] as const)('a piece %s', (_, [x, y, w, h], lies) => {
    const plate = new Plate(200, 200, 3, slats, 0.5);
    const [piece, ...more] = cut(plate, x, y, w, h);
    expect(more).toEqual([]);
    expect(piece.lies).toBe(lies);
    expect(Math.abs(piece.area - (w - 1.5) * (h - 1.5))).toBeLessThan(0.06 * w * h);
    expect(plate.metalWithin(x + w / 2, y + h / 2, 2)).toBe(lies !== 'falls');
    // The lighter side stands up, and it is beyond the slat.
    const highest = Math.max(plate.raisedAt(x + 3, y + h / 2, 2), plate.raisedAt(x + w - 3, y + h / 2, 2));
    expect(highest > 0).toBe(lies === 'tips');
  });
  it('nothing comes free of an open line, nor of what a tab holds', () => {
    const plate = new Plate(200, 200, 3, slats, 0.5);
    for (let x = 20; x < 120; x += 0.3) plate.burn(x, 50, 0.75);
    expect(plate.freed()).toEqual([]);
  });
  it('the torch breaks away on a piece that has tipped, and passes over it high enough', () => {
    const square = (x: number, y: number, w: number, h: number) => [...strike(x, y), `G1 X${x + w} F3000`, `Y${y + h}`, `X${x}`, `Y${y}`, 'M5', 'G0 Z15'];
    const machine = table();
    // Its weight is just left of the slat at 100: forty millimetres on the right stand up.
    run(machine, [...square(53, 40, 87, 30), 'G0 Z40', 'G0 X20 Y55']);
    expect(machine.status().world!.table!.tipped).toBe(1);
    run(machine, ['G0 X180', 'G0 X20']);
    expect(machine.state).toBe('idle');
    run(machine, ['G0 Z5', 'G0 X180']);
    expect(machine.message).toMatch(/tipped up/);
  });
});

describe('a job of Kerbe’s', () => {
  const RING = {
    items: {
      outer: { kind: 'ellipse', id: 'outer', x: 100, y: 100, width: 120, height: 90 },
      inner: { kind: 'rectangle', id: 'inner', x: 100, y: 100, width: 50, height: 34 },
    },
    itemOrder: ['outer', 'inner'],
  };
  /** Three side by side: the first begun at the plate's edge, the third in one go with the second. */
  const ROW = {
    items: Object.fromEntries([45, 95, 140].map((x, k) => [`r${k}`, { kind: 'rectangle', id: `r${k}`, x, y: 100, width: 30, height: 60 }])),
    itemOrder: ['r0', 'r1', 'r2'],
  };
  it.each([
    ['a ring', RING, {}, 2],
    ['a row, from the edge and in one go', ROW, { edgeStart: 38, chain: 80 }, 2],
    ['a row, each by itself', ROW, {}, 3],
    ['a ring, on a table that waits for its own arc', RING, { pierceDelay: 4 }, 2, 'machine'],
  ] as [string, object, object, number, 'machine'?][])(
    '%s is cut as it was proved: the same plate to a cell, the same pieces, no crash',
    async (_, drawn, change, arcs, pierce) => {
      const reading = readJob({
        kerbe: 4,
        process: 'torch',
        name: 'Ring',
        board: { width: 200, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats', slats: { along: 'y', pitch: 50, first: 0, thick: 4 } },
        ...drawn,
        tools: { nozzle1: { kind: 'nozzle', id: 'nozzle1', diameter: 1.5, chart: STARTING_CHART } },
        cuts: { a: { kind: 'torch', id: 'a', on: 'art', tool: 'nozzle1', feed: 4600, kerf: 1.48, pierceDelay: 0.4, ...change } },
        cutOrder: ['a'],
        program: { pierce },
      });
      if (!reading.ok) throw new Error(reading.why.join('\n'));
      const plan = await planJob(reading.job, { fonts: fontOf });
      expect(plan.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
      const machine = table({ cell: 0.2, arcOk: pierce === 'machine' });
      machine.restartLines();
      seq = new WeakMap();
      const lines = releasePrograms(reading.job, plan, '2026-01-01')
        .files[0].text.split('\n')
        .filter((line) => line.trim() !== '');
      run(machine, lines);
      expect(machine.message).toBe('');
      expect(machine.head.pierces).toBe(arcs);
      const { map } = machine.head.plate!;
      const asked = carvePlan(new HeightMap(200, 200, 0.2), plan.cuts);
      // Where the two differ there is the edge of the other within a cell or two: the kerf is the same one.
      let apart = 0;
      for (let k = 0; k < map.height.length; k++) if (map.height[k] < 0 !== asked.height[k] < 0) apart++;
      const kerf = [...asked.height].filter((h) => h < 0).length;
      expect(kerf).toBeGreaterThan(10_000);
      expect(apart / kerf).toBeLessThan(0.12);
      // Within a cell of each other, there is no difference at all.
      const { deeper, shallower } = asCut(asked, map, 3, 0.1);
      expect([deeper.area, shallower.area].map((area) => area / (kerf * 0.04))).toEqual([
        expect.toSatisfy((share: number) => share < 0.01),
        expect.toSatisfy((share: number) => share < 0.01),
      ]);
      const proved = piecesOf(reading.job.board, plan.cuts).filter(({ lies }) => lies !== 'held');
      expect(machine.head.plate!.pieces.map(({ lies }) => lies).sort()).toEqual(proved.map(({ lies }) => lies).sort());
      for (const piece of proved) expect(machine.head.plate!.pieces.some(({ area }) => Math.abs(area - piece.area) < 0.03 * piece.area)).toBe(true);
    },
  );
});
