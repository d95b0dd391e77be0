/** Fewer pierces and safer travel, by a polygon test of this file's own: rays, distances and straight lines, nothing of the code it checks. */
import { describe, expect, it } from 'vitest';
import { Bit } from '../../bits/schema.ts';
import { circle, rectangle, type Region } from '../../geometry/index.ts';
import { arcMoves, away, samples, within } from '../../reference/arc-oracle.ts';
import { RAPID, type Toolpath } from '../../toolpath/index.ts';
import { roundFreed } from './round.ts';
import { TorchCut } from './cut.ts';
import { planTorch, type TorchPlan } from './torch.ts';

const nozzle = Bit.parse({ kind: 'nozzle', id: 'n' });
const left = Bit.parse({ kind: 'nozzle', id: 'l', swirl: 'left' });
const TRAVEL = { clearance: 15, feed: 4000, plunge: 2500 };
const PLATE = { width: 400, height: 400, thickness: 12 };
const KERF = 1.5;
const plan = (regions: Region[], change: object = {}, bit: Bit = nozzle): TorchPlan =>
  planTorch(regions, [], TorchCut.parse({ kind: 'torch', id: 'c', on: 'art', tool: 'n', feed: 4000, ...change }), bit, TRAVEL, { plate: PLATE });
const square = (x: number, y: number, w: number, h = w): Region => ({ outer: rectangle(x, y, w, h), holes: [] });
const disc = (x: number, y: number, r: number): Region => ({ outer: circle(x, y, r), holes: [] });
const lit = ({ path: { events = [] } }: TorchPlan) => events.filter((event) => 'on' in event);
/** Nothing the arc takes may be of a part. */
const spares = (regions: Region[], { path }: TorchPlan) => samples(path).every(([x, y]) => !within(regions, x, y) && away(regions, x, y) > KERF / 2 - 0.02);

describe('begun at the edge of the plate', () => {
  it.each([nozzle, left])('a part near it: no pierce, only as long as the arc needs to take hold, at cut height, through nothing but scrap', (bit) => {
    const parts = [square(30, 150, 80)];
    const made = plan(parts, { edgeStart: 60 }, bit);
    const [one] = made.contours;
    expect(one).toMatchObject({ lead: 'edge', chained: false });
    expect(Math.min(one.pierce[0], one.pierce[1], 400 - one.pierce[0], 400 - one.pierce[1])).toBeCloseTo(KERF / 2, 9);
    expect(one.leadLength).toBeCloseTo(30 - KERF, 1);
    expect([made.pierces, lit(made).length]).toEqual([0, 1]);
    expect(lit(made)[0]).toMatchObject({ pierce: { height: 1.5, seconds: 0.1 } });
    expect(spares(parts, made)).toBe(true);
  });
  it('not one that is too far, nor a hole, nor where another part lies before every edge', () => {
    expect(plan([square(100, 150, 80)], { edgeStart: 60 })).toMatchObject({ pierces: 1, contours: [{ lead: 'arc' }] });
    const frame: Region = { outer: rectangle(10, 10, 380, 380), holes: [rectangle(40, 40, 320, 320)] };
    const made = plan([frame, square(60, 60, 40)], { edgeStart: 400 });
    expect(made.contours.map(({ lead }) => lead === 'edge').sort()).toEqual([false, false, true]);
    expect(made.pierces).toBe(2);
    expect(spares([frame, square(60, 60, 40)], made)).toBe(true);
  });
  it('none is asked for: all are pierced', () => expect(plan([square(30, 150, 80)]).pierces).toBe(1));
});

describe('in one go with the next', () => {
  const row = [0, 1, 2, 3].map((k) => square(40 + 80 * k, 100, 60));
  it.each([nozzle, left])('pieces side by side take one pierce; the arc keeps off every part all the way', (bit) => {
    const made = plan(row, { chain: 90 }, bit);
    expect(made.contours.map(({ chained }) => chained)).toEqual([false, true, true, true]);
    expect([made.pierces, lit(made).length]).toEqual([1, 1]);
    expect(spares(row, made)).toBe(true);
    // The same contours as by themselves.
    const each = plan(row, {}, bit);
    expect(made.contours.map(({ length }) => length)).toEqual(each.contours.map(({ length }) => length));
  });
  it('never over what is cut already, and not farther than was asked', () => {
    for (const chain of [10, 30, 60, 120, 500]) {
      const mixed = [...row, disc(200, 260, 40), square(40, 220, 90), square(270, 220, 50, 120)];
      const made = plan(mixed, { chain });
      expect(spares(mixed, made)).toBe(true);
      const cut: [number, number, number, number][] = [];
      let from = 0;
      const moves = arcMoves(made.path);
      for (const [k, one] of made.contours.entries()) {
        const start = moves.findIndex(([ax, ay], i) => i >= from && ax === one.pierce[0] && ay === one.pierce[1]);
        if (one.chained) {
          const last = made.contours[k - 1].start;
          expect(Math.hypot(one.pierce[0] - last[0], one.pierce[1] - last[1])).toBeLessThanOrEqual(chain + KERF);
          // What is cut lies behind it, apart from the kerf it stands in.
          const link = moves.slice(from, start).slice(-2);
          for (const [ax, ay, bx, by] of link)
            for (let f = 0; f <= 1; f += 0.02) {
              const [x, y] = [ax + f * (bx - ax), ay + f * (by - ay)];
              if (Math.hypot(x - last[0], y - last[1]) < 2.5 || Math.hypot(bx - last[0], by - last[1]) < 0.01) continue;
              expect([k, cut.some(([px, py, qx, qy]) => near(x, y, px, py, qx, qy) < KERF / 2 - 0.01)]).toEqual([k, false]);
            }
        }
        const next = made.contours[k + 1];
        const end = next ? moves.findIndex(([ax, ay], i) => i > start && ax === next.pierce[0] && ay === next.pierce[1]) : moves.length;
        // Without the way on to the next, which is two moves at the most.
        cut.push(...moves.slice(start, end - (next?.chained ? 2 : 0)));
        from = start;
      }
    }
  });
  it.each([{ order: 'hand' }, { kerfBy: 'machine' }])('not with %o, where each must be lit by itself', (change) =>
    expect(plan(row, { chain: 90, ...change }).pierces).toBe(4),
  );
});
const near = (x: number, y: number, ax: number, ay: number, bx: number, by: number) => {
  const [dx, dy] = [bx - ax, by - ay];
  const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(ax + t * dx - x, ay + t * dy - y);
};

describe('travel', () => {
  /** How much of the travel lies over pieces that are free by then, mm. */
  function overFree({ contours }: TorchPlan, path: Toolpath, parts: readonly Region[]): number {
    let over = 0;
    let done = 0;
    const { x, y, kind, power } = path;
    for (let i = 1; i < kind.length; i++) {
      const lights = power && !Number.isNaN(power[i]) && Number.isNaN(power[i - 1]);
      if (lights) done++;
      if (kind[i] !== RAPID || done === 0) continue;
      const free = contours.slice(0, done).flatMap(({ start }) => parts.filter((part) => away([part], ...start) < KERF));
      const length = Math.hypot(x[i] - x[i - 1], y[i] - y[i - 1]);
      for (let d = 0.25; d < length; d += 0.5) {
        const [px, py] = [x[i - 1] + (d / length) * (x[i] - x[i - 1]), y[i - 1] + (d / length) * (y[i] - y[i - 1])];
        if (within(free, px, py)) over += 0.5;
      }
    }
    return over;
  }
  const wall = [square(20, 180, 40), square(100, 60, 60, 280), square(200, 180, 40), disc(300, 200, 45), square(350, 300, 40), square(350, 60, 40)];
  it('goes round pieces that are free, and cuts the same', () => {
    for (const spreadHeat of [false, true]) {
      const made = plan(wall, { spreadHeat });
      const round = roundFreed(made.path, made.freeing, PLATE, TRAVEL.clearance);
      const [before, after] = [overFree(made, made.path, wall), overFree(made, round, wall)];
      if (!spreadHeat) expect(before).toBeGreaterThan(40);
      expect(after).toBeLessThan(3);
      expect(arcMoves(round)).toEqual(arcMoves(made.path));
      expect((round.events ?? []).map(({ at: _, ...what }) => what)).toEqual((made.path.events ?? []).map(({ at: _, ...what }) => what));
      // Nothing lights or goes out elsewhere, and spans go on telling their own contours.
      const litAt = (path: Toolpath) => (path.events ?? []).map(({ at }) => [path.x[at - 1] ?? NaN, path.y[at - 1] ?? NaN, path.z[at - 1] ?? NaN]);
      expect(litAt(round)).toEqual(litAt(made.path));
      expect(round.spans.map(({ label, end }) => [label, round.x[end - 1], round.y[end - 1]])).toEqual(
        made.path.spans.map(({ label, end }) => [label, made.path.x[end - 1], made.path.y[end - 1]]),
      );
      for (let i = 0; i < round.x.length; i++) expect(round.x[i] >= 0 && round.y[i] >= 0 && round.x[i] <= 400 && round.y[i] <= 400).toBe(true);
    }
  });
  it('stays as it is with one piece, with pieces that tabs hold, and where there is no way round', () => {
    const one = plan([square(100, 100, 60)]);
    expect(roundFreed(one.path, one.freeing, PLATE, TRAVEL.clearance)).toBe(one.path);
    const held = plan(wall, { spreadHeat: true, microTab: 1 });
    expect(held.freeing).toEqual([]);
    const split = [square(20, 180, 40), square(100, 4, 60, 392), square(300, 180, 40)];
    const made = plan(split, { order: 'shortest' });
    expect(arcMoves(roundFreed(made.path, made.freeing, PLATE, TRAVEL.clearance))).toEqual(arcMoves(made.path));
  });
});
