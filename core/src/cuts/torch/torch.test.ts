/**
 * Torch cuts against the outside: offsets against an independent library (jsts), sizes against check values, and with
 * a polygon test of this file's own - no lead, loop or pierce in a part, the scrap on the left of every move.
 */
import fc from 'fast-check';
import BufferOp from 'jsts/org/locationtech/jts/operation/buffer/BufferOp.js';
import GeometryFactory from 'jsts/org/locationtech/jts/geom/GeometryFactory.js';
import Coordinate from 'jsts/org/locationtech/jts/geom/Coordinate.js';
import { describe, expect, it } from 'vitest';
import { Bit } from '../../bits/schema.ts';
import { circle, contourOf, rectangle, type Region } from '../../geometry/index.ts';
import { FEED, RAPID } from '../../toolpath/index.ts';
import { arcMoves, away, samples, within } from '../../reference/arc-oracle.ts';
import { often } from '../../reference/chance.ts';
import { TorchCut } from './cut.ts';
import { planTorch, type TorchPlan } from './torch.ts';

const nozzle = Bit.parse({ kind: 'nozzle', id: 'n' });
const left = Bit.parse({ kind: 'nozzle', id: 'l', swirl: 'left' });
const TRAVEL = { clearance: 15, feed: 4000, plunge: 2500 };
const PLATE = { width: 400, height: 400, thickness: 3 };
const cutOf = (change: object = {}) => TorchCut.parse({ kind: 'torch', id: 'c', on: 'art', tool: 'n', feed: 4000, ...change });
const planned = (regions: Region[], change: object = {}, bit: Bit = nozzle, plate = PLATE): TorchPlan =>
  planTorch(regions, [], cutOf(change), bit, TRAVEL, { plate });
const square = (x: number, y: number, w: number, h = w): Region => ({ outer: rectangle(x, y, w, h), holes: [] });
const disc = (x: number, y: number, r: number): Region => ({ outer: circle(x, y, r), holes: [] });

describe('sizes', () => {
  /** Extents of the contour, without its lead. */
  const size = (plan: TorchPlan) => plan.contours.map(({ length }) => length / Math.PI);
  it.each([
    // Check values of the trade (common practice): kerf 1.5: a part of 100 is cut on a circle of 101.5, a hole of 100 on 98.5.
    ['outside', 1.5, 101.5],
    ['inside', 1.5, 98.5],
    ['on', 1.5, 100],
  ])('%s with a kerf of %d runs on a circle of %d', (side, kerf, diameter) => {
    expect(size(planned([disc(200, 200, 50)], { side, kerf }))[0]).toBeCloseTo(diameter, 1);
  });
  it('leaves half the kerf to a machine that has it: on the line, and what the arc takes is the same', () => {
    const plan = planned([disc(200, 200, 50)], { kerfBy: 'machine' });
    expect(size(plan)[0]).toBeCloseTo(100, 1);
    const mine = planned([disc(200, 200, 50)]);
    expect(Array.from(plan.arc!.x)).toEqual(Array.from(mine.path.x));
    expect(mine.arc).toBeNull();
    // Led in as if the program did it.
    expect([plan.contours[0].lead, plan.contours[0].leadLength, plan.noLead]).toEqual(['arc', 4, []]);
  });

  const factory = new GeometryFactory();
  const buffered = (xy: Float64Array, by: number): number => {
    const points = Array.from({ length: xy.length / 2 + 1 }, (_, i) => new Coordinate(xy[(2 * i) % xy.length], xy[(2 * i + 1) % xy.length]));
    return BufferOp.bufferOp(factory.createPolygon(factory.createLinearRing(points), []), by, 64).getLength();
  };
  const star = fc
    .array(fc.integer({ min: 40, max: 120 }), { minLength: 5, maxLength: 14 })
    .map((radii) =>
      contourOf(radii.flatMap((r, k) => [200 + r * Math.cos((2 * Math.PI * k) / radii.length), 200 + r * Math.sin((2 * Math.PI * k) / radii.length)])),
    );
  it('are those of an independent library, whatever is drawn', () =>
    fc.assert(
      fc.property(star, fc.integer({ min: 5, max: 30 }), (outer, tenths) => {
        const kerf = tenths / 10;
        const { contours } = planned([{ outer, holes: [] }], { side: 'outside', kerf });
        expect(contours.reduce((sum, { length }) => sum + length, 0)).toBeCloseTo(buffered(outer.xy, kerf / 2), 0);
        const inner = planned([{ outer, holes: [] }], { side: 'inside', kerf });
        expect(Math.abs(inner.contours.reduce((sum, { length }) => sum + length, 0) - buffered(outer.xy, -kerf / 2))).toBeLessThan(0.5);
      }),
      often(60),
    ));

  it('every way of the arc keeps off the part by half a kerf, the scrap on its left, whatever is drawn', () =>
    fc.assert(
      fc.property(
        star,
        fc.boolean(),
        fc.constantFrom('auto', 'outside', 'inside'),
        fc.constantFrom('arc', 'line', 'straight'),
        fc.constantFrom('plain', 'triangle', 'round'),
        fc.boolean(),
        (outer, holed, side, lead, corners, mirrored) => {
          const regions: Region[] = holed
            ? [{ outer, holes: [contourOf([...circle(200, 200, 20).xy].reverse().flatMap((v, k, all) => (k % 2 ? [] : [all[k + 1], v])))] }]
            : [{ outer, holes: [] }];
          const plan = planned(regions, { side, lead, corners, leadIn: 4 }, mirrored ? left : nozzle);
          // Of an opening it is what lies round it that stays.
          const isPart = (x: number, y: number) => within(regions, x, y) !== (side === 'inside');
          const noLead = new Set(plan.noLead.map(String));
          for (const [x, y] of samples(plan.path)) {
            if (isPart(x, y)) expect(away(regions, x, y)).toBeLessThan(1e-3);
            if (noLead.size === 0) expect(away(regions, x, y)).toBeGreaterThan(0.75 - 0.02);
          }
          for (const { pierce } of plan.contours) if (!noLead.has(String(pierce))) expect(isPart(...pierce)).toBe(false);
          let [right, wrong] = [0, 0];
          for (const [ax, ay, bx, by] of arcMoves(plan.path)) {
            const size = Math.hypot(bx - ax, by - ay);
            const [mx, my] = [(ax + bx) / 2, (ay + by) / 2];
            if (size < 0.2 || away(regions, mx, my) > 0.76) continue;
            const way = mirrored ? -1 : 1;
            const [nx, ny] = [(-way * (by - ay)) / size, (way * (bx - ax)) / size];
            if (isPart(mx - 0.9 * nx, my - 0.9 * ny) && !isPart(mx + 0.3 * nx, my + 0.3 * ny)) right++;
            else if (isPart(mx + 0.9 * nx, my + 0.9 * ny) && !isPart(mx - 0.3 * nx, my - 0.3 * ny)) wrong++;
          }
          expect(right).toBeGreaterThan(2);
          expect(wrong).toBe(0);
        },
      ),
      often(120),
    ));
});

describe('direction', () => {
  it.each([
    ['outside', nozzle, 'clockwise'],
    ['inside', nozzle, 'counter-clockwise'],
    ['outside', left, 'counter-clockwise'],
    ['inside', left, 'clockwise'],
  ] as const)('%s of a part', (side, bit, direction) => {
    const plan = planned([square(100, 100, 60)], { side }, bit);
    expect(plan.contours.map((one) => one.direction)).toEqual([direction]);
    // As it is really run, with the lead left out: the area it encloses has that sign.
    const moves = arcMoves(plan.path);
    expect(Math.sign(moves.reduce((sum, [ax, ay, bx, by]) => sum + ax * by - ay * bx, 0))).toBe(direction === 'clockwise' ? -1 : 1);
  });
});

describe('leads', () => {
  it('begin in the scrap, as long as asked, farther from the part than the crater', () => {
    const part = square(100, 100, 80);
    for (const lead of ['arc', 'line', 'straight']) {
      const [{ pierce, lead: kind, leadLength, shortened }] = planned([part], { lead, leadIn: 6 }).contours;
      expect([kind, leadLength, shortened]).toEqual([lead, 6, false]);
      expect(away([part], ...pierce)).toBeGreaterThan(2.5);
    }
  });
  it('are never at a corner while an edge has room', () => {
    const [{ start }] = planned([square(100, 100, 80)], { corners: 'triangle' }).contours;
    for (const x of [100, 180]) for (const y of [100, 180]) expect(Math.hypot(start[0] - x, start[1] - y)).toBeGreaterThan(10);
  });
  it('of a small hole begin in its middle; the hole is cut slower', () => {
    const [{ pierce, lead, slow, feed }] = planned([disc(200, 200, 4)], { side: 'inside' }).contours;
    expect(lead).toBe('middle');
    expect(Math.hypot(pierce[0] - 200, pierce[1] - 200)).toBeLessThan(0.2);
    expect([slow, feed]).toEqual([true, 2400]);
  });
  it('move away from a neighbour that is in the way, then get shorter, then are told', () => {
    // Another part 4 mm beside each edge but the last.
    const [a, b] = [square(100, 100, 80), square(184, 100, 80)];
    const moved = planned([a, b], { lead: 'straight', leadIn: 10 });
    for (const { lead, leadLength } of moved.contours) expect([lead, leadLength]).toEqual(['straight', 10]);
    expect(planned([a], { lead: 'straight', leadIn: 10 }).contours[0].moved).toBe(false);
    // All round: no room for the whole, only for one as short as the crater.
    const ring: Region = { outer: rectangle(92, 92, 96, 96), holes: [contourOf([95.9, 95.9, 95.9, 184.1, 184.1, 184.1, 184.1, 95.9])] };
    const tight = planned([a, ring], { lead: 'straight', leadIn: 10, crater: 1 });
    expect(tight.noLead).toHaveLength(0);
    const inner = tight.contours.find(({ side, start }) => side === 'outside' && start[0] > 98 && start[0] < 182 && start[1] > 98 && start[1] < 182)!;
    expect(inner.shortened || inner.lead === 'middle').toBe(true);
    const none = planned([a, ring], { lead: 'straight', leadIn: 10, crater: 8 });
    expect(none.noLead.length).toBeGreaterThan(0);
  });
  it('begin where somebody put them, and stay off the edge of the plate', () => {
    const plan = planTorch([square(100, 100, 80)], [], cutOf(), nozzle, TRAVEL, { plate: PLATE, starts: [[180, 120]] });
    expect(plan.contours[0].start[0]).toBeCloseTo(180.75, 2);
    expect(plan.contours[0].start[1]).toBeCloseTo(120, 1);
    // A part whose left edge lies 2 mm from that of the plate is not begun there.
    const edge = planned([square(2, 100, 80)]);
    expect(edge.contours[0].pierce[0]).toBeGreaterThan(0.75);
  });
});

describe('the arc', () => {
  it('is on from its pierce to the end of each contour, and nowhere else; rapids are off', () => {
    const { path, pierces } = planned([square(50, 50, 60), disc(250, 250, 40)]);
    const ons = path.events!.filter((event) => 'on' in event);
    expect(ons).toHaveLength(pierces);
    for (let i = 0; i < path.kind.length; i++) if (path.kind[i] === RAPID) expect(path.power![i]).toBeNaN();
  });
  it('of a hole goes off early, past its start: no divot, no second cut', () => {
    const { path, contours } = planned([disc(200, 200, 30)], { side: 'inside', overcut: 3, offEarly: 1 });
    const cut = arcMoves(path).reduce((sum, [ax, ay, bx, by]) => sum + Math.hypot(bx - ax, by - ay), 0);
    // Round once, and 2 of the 3 mm more with the arc on; the lead is a quarter of a circle of 4 mm (in chords).
    expect(cut).toBeCloseTo(contours[0].length + 2 + 2 * Math.PI, 1);
    const off = path.events!.find((event) => 'off' in event)!;
    const after = Array.from({ length: path.kind.length - off.at }, (_, k) => off.at + k).filter((i) => path.kind[i] === FEED);
    expect(after.length).toBeGreaterThan(0);
  });
  it('goes on past its end into the scrap when asked, either way round', () => {
    for (const bit of [nozzle, left]) {
      const part = square(100, 100, 80);
      const [, , x, y] = arcMoves(planned([part], { leadOut: 3 }, bit).path).at(-1)!;
      expect(within([part], x, y)).toBe(false);
      expect(away([part], x, y)).toBeCloseTo(0.75 + 3 * Math.SQRT1_2, 6);
    }
  });
  it('leaves a tab at the end of an outline when asked, as wide as it should be, however the lead comes in', () => {
    const part = square(100, 100, 80);
    const cut = (microTab: number) =>
      arcMoves(planned([part], { microTab, lead: 'straight' }).path).reduce((sum, [ax, ay, bx, by]) => sum + Math.hypot(bx - ax, by - ay), 0);
    // Straight in: a tab of 1 mm, and half a kerf at either end of it.
    expect(cut(0) - cut(1)).toBeCloseTo(1 + 1.5, 1);
    // A lead that comes alongside would cut it: then the contour ends earlier, and what is left is as wide.
    for (const [lead, chords] of [
      ['arc', 10],
      ['line', 1],
    ] as const) {
      // prettier-ignore
      const moves = arcMoves(planned([part], { microTab: 1, lead }).path);
      const [, , x, y] = moves.at(-1)!;
      const along = moves
        .slice(0, chords)
        .flatMap(([ax, ay, bx, by]) => Array.from({ length: 101 }, (_, k) => [ax + ((bx - ax) * k) / 100, ay + ((by - ay) * k) / 100]));
      expect(Math.abs(Math.min(...along.map(([px, py]) => Math.hypot(px - x, py - y))) - 2.5), lead).toBeLessThan(0.1);
    }
  });
  it('keeps its height only where it moves at speed: not in small holes, at sharp corners and at the end', () => {
    const controls = (plan: TorchPlan) => plan.path.events!.filter((event) => 'heightControl' in event).length;
    expect(controls(planned([disc(200, 200, 4)], { side: 'inside' }))).toBe(0);
    // On once, and off and on again at each of four corners, off at the end.
    expect(controls(planned([square(100, 100, 80)], { corners: 'triangle' }))).toBeGreaterThanOrEqual(2 + 2 * 4);
    expect(controls(planned([disc(200, 200, 60)], { side: 'outside' }))).toBe(2);
    expect(controls(planned([disc(200, 200, 60)], { heightControl: false }))).toBe(0);
  });
  it('feels for the plate before each pierce, only far from the last touch, or never', () => {
    const near = [square(50, 50, 20), square(90, 50, 20), square(330, 330, 20)];
    const touches = (touch: string) => planned(near, { touch, touchAfter: 100 }).touches;
    expect([touches('each'), touches('far'), touches('never')]).toEqual([3, 2, 0]);
  });
});

describe('corner loops', () => {
  it.each(['triangle', 'round'])('%s: in the scrap, one at each sharp corner, none at a blunt one', (corners) => {
    const part = square(100, 100, 80);
    const plan = planned([part], { corners });
    expect(plan.contours[0].loops).toBe(4);
    for (const [x, y] of samples(plan.path)) expect(within([part], x, y)).toBe(false);
    const hexagon: Region = {
      outer: contourOf(Array.from({ length: 6 }, (_, k) => [200 + 50 * Math.cos((k * Math.PI) / 3), 200 + 50 * Math.sin((k * Math.PI) / 3)]).flat()),
      holes: [],
    };
    expect(planned([hexagon], { corners }).contours[0].loops).toBe(0);
    expect(planned([hexagon], { corners, cornerAngle: 125 }).contours[0].loops).toBe(6);
  });
  it('do not leave the plate', () => {
    const plan = planned([square(1, 1, 80)], { corners: 'round' });
    expect(plan.contours[0].loops).toBe(1);
    for (const [x, y] of samples(plan.path)) expect(Math.min(x, y)).toBeGreaterThan(0);
  });
  it('are left out, or made smaller, where another part is in the way', () => {
    const plan = planned([square(100, 100, 80), square(181.8, 181.8, 40)], { corners: 'triangle' });
    for (const [x, y] of samples(plan.path)) expect(within([square(100, 100, 80), square(181.8, 181.8, 40)], x, y)).toBe(false);
    expect(plan.contours.reduce((sum, { loops }) => sum + loops, 0)).toBeLessThan(8);
  });
});

describe('order', () => {
  const grid = Array.from({ length: 16 }, (_, k) => square(20 + 50 * (k % 4), 20 + 50 * Math.floor(k / 4), 30));
  const rings = [disc(200, 200, 150), disc(200, 200, 100), disc(200, 200, 50)];
  it('what lies inside comes first', () => {
    const lengths = planned(rings).contours.map(({ length }) => Math.round(length));
    expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
  });
  it('spreads the heat when asked: no pierce beside the last, at the cost of travel', () => {
    const gaps = (plan: TorchPlan) =>
      plan.contours.slice(1).map(({ pierce }, k) => Math.hypot(pierce[0] - plan.contours[k].pierce[0], pierce[1] - plan.contours[k].pierce[1]));
    const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;
    expect(mean(gaps(planned(grid, { spreadHeat: true })))).toBeGreaterThan(1.3 * mean(gaps(planned(grid))));
  });
  it('is the same every time', () => expect(planned(grid)).toEqual(planned(grid)));
});

describe('what cannot be', () => {
  it('an opening narrower than the kerf is counted, not skipped in silence', () => {
    for (const kerfBy of ['program', 'machine'])
      expect(planned([square(100, 100, 1, 40), disc(200, 200, 20)], { side: 'inside', kerfBy })).toMatchObject({ unreachable: 1 });
  });
  it('nothing drawn is no program', () => expect(planned([]).path.kind).toHaveLength(0));
});
