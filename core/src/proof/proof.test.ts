import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even, often } from '../reference/chance.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { distanceToEdges, insideRegion } from '../geometry/index.ts';
import { Bit } from '../job/index.ts';
import { planJob } from '../plan/index.ts';
import { shapeOf, type BitShape } from '../bits/index.ts';
import { boardStl, carve, carvePlan, HeightMap } from './index.ts';

/** Brute force: the lower envelope of the bit at very many positions along every move. */
function byFormula(x: number, y: number, points: number[][], { flat, ball, tangent, outer }: BitShape): number {
  // The bit's own height, written apart from the code: a ball meets its cone where both are equally steep.
  const height = (d: number) => {
    if (ball > 0) {
      const half = Math.atan(tangent);
      const meets = ball * Math.cos(half);
      return d <= meets ? ball - Math.sqrt(ball ** 2 - d ** 2) : ball - Math.sqrt(ball ** 2 - meets ** 2) + (d - meets) / tangent;
    }
    return tangent > 0 ? Math.max(0, d - flat) / tangent : 0;
  };
  let low = 0;
  for (let i = 1; i < points.length; i++) {
    const [x0, y0, z0] = points[i - 1];
    const [x1, y1, z1] = points[i];
    const at = (s: number) => {
      const d = Math.hypot(x - x0 - s * (x1 - x0), y - y0 - s * (y1 - y0));
      if (d > outer) return Infinity;
      return z0 + s * (z1 - z0) + height(d);
    };
    // A coarse scan, then a ternary search round the best: the function is convex along the move.
    let best = 0;
    for (let s = 0; s <= 1; s += 1 / 256) if (at(s) < at(best)) best = s;
    let lo = Math.max(0, best - 1 / 256);
    let hi = Math.min(1, best + 1 / 256);
    for (let n = 0; n < 60; n++) {
      const a = lo + (hi - lo) / 3;
      const b = hi - (hi - lo) / 3;
      if (at(a) < at(b)) hi = b;
      else lo = a;
    }
    low = Math.min(low, at(best), at((lo + hi) / 2));
  }
  return low;
}

const pathOf = (points: number[][]) => ({
  kind: Uint8Array.from(points, () => 1),
  x: Float64Array.from(points, (p) => p[0]),
  y: Float64Array.from(points, (p) => p[1]),
  z: Float64Array.from(points, (p) => p[2]),
});

describe('removal against the per-cell formula', () => {
  const points = fc.array(fc.tuple(even(4, 16), even(4, 16), even(-3, 0.5)), { minLength: 2, maxLength: 7 });
  const v60 = shapeOf(Bit.parse({ kind: 'v', id: 'v', angle: 60, diameter: 12 }));
  const check = (list: number[][], shape: BitShape, slack: number) => {
    const map = new HeightMap(20, 20, 0.5);
    carve(map, pathOf(list), shape);
    let worst = 0;
    for (let j = 0; j < map.rows; j++)
      for (let i = 0; i < map.columns; i++) {
        const expected = byFormula((i + 0.5) * 0.5, (j + 0.5) * 0.5, list, shape);
        worst = Math.max(worst, Math.abs(map.height[j * map.columns + i] - expected));
      }
    expect(worst).toBeLessThan(slack);
  };
  it('a sharp V, chained', () =>
    fc.assert(
      fc.property(points, (list) => check(list, v60, 1e-5)),
      often(30),
    ));
  it('a V that comes down and turns back on its way: the joint wants more than half a cone', () => {
    check(
      [
        [4, 10, 0],
        [9, 10, -2],
        [4, 10, 0],
        [4, 10, 0],
      ],
      v60,
      1e-5,
    );
    check(
      [
        [4, 4, -0.2],
        [9, 9, -2.5],
        [10, 4, -0.3],
      ],
      v60,
      1e-5,
    );
  });
  it.each([
    ['a V with a flat tip', { kind: 'v', angle: 90, diameter: 8, tipFlat: 0.8 }],
    ['a V with a rounded tip', { kind: 'v', angle: 60, diameter: 9, tipRadius: 0.6 }],
    ['a tapered bit with a ball', { kind: 'tapered', angle: 20, diameter: 6, tipRadius: 1 }],
    ['a ball nose', { kind: 'ball', diameter: 5 }],
  ])('%s', (_what, bit) =>
    fc.assert(
      fc.property(points, (list) => check(list, shapeOf(Bit.parse({ id: 'b', ...bit })), 1e-5)),
      often(15),
    ),
  );
});

it('an end mill leaves its width, flat', () => {
  const map = new HeightMap(20, 10, 0.1);
  carve(
    map,
    pathOf([
      [5, 5, -2],
      [15, 5, -2],
    ]),
    shapeOf(Bit.parse({ kind: 'end', id: 'e', diameter: 4 })),
  );
  expect(map.at(10, 5)).toBe(-2);
  expect(map.at(10, 6.94)).toBe(-2);
  expect(map.at(10, 7.06)).toBe(0);
  expect(map.at(3.06, 5)).toBe(-2);
  expect(map.at(2.94, 5)).toBe(0);
});

it('a lift removes nothing, and cells outside the board are left alone', () => {
  const map = new HeightMap(10, 10, 0.5);
  const path = pathOf([
    [-20, -20, -2],
    [-20, -20, 5],
    [30, 30, 5],
  ]);
  carve(map, path, shapeOf(Bit.parse({ kind: 'v', id: 'v', angle: 60, diameter: 12 })));
  expect(map.deepest).toBe(0);
});

it('refuses a map too fine for any memory, in words', () => expect(() => new HeightMap(3000, 3000, 0.01)).toThrow(/too large/));

describe('what was carved against what was drawn', () => {
  it('walls meet the drawn line at the surface; nothing outside is touched', async () => {
    const job = makeJob();
    const plan = await planJob(job, { fonts: fontOf });
    const map = carvePlan(new HeightMap(200, 80, 0.1), [plan.cuts[0]]);
    const letters = plan.items[0].regions;
    const t = Math.tan(Math.PI / 6);
    let inside = 0;
    for (let j = 0; j < map.rows; j += 3)
      for (let i = 0; i < map.columns; i += 3) {
        const [x, y] = [(i + 0.5) * 0.1, (j + 0.5) * 0.1];
        const z = map.height[j * map.columns + i];
        if (z === 0 && !letters.some((r) => insideRegion(r, x, y))) continue;
        const edge = distanceToEdges(letters, x, y);
        if (letters.some((r) => insideRegion(r, x, y))) {
          // Distance-transform bound: as deep as the nearest wall allows, but for the uncut bound.
          expect(z).toBeLessThanOrEqual(-(edge - 0.021) / t);
          inside++;
        } else expect(edge).toBeLessThanOrEqual(0.005);
      }
    expect(inside).toBeGreaterThan(1000);
  });
});

it('writes a closed STL: every edge is shared by two facets', () => {
  const map = new HeightMap(3, 2, 1);
  map.height[1] = -0.5;
  const bytes = boardStl(map, 4);
  const view = new DataView(bytes.buffer);
  const facets = view.getUint32(80, true);
  expect(bytes.length).toBe(84 + 50 * facets);
  const edges = new Map<string, number>();
  for (let f = 0; f < facets; f++) {
    const v = [0, 1, 2].map((k) => [0, 1, 2].map((c) => view.getFloat32(84 + 50 * f + 12 + 12 * k + 4 * c, true).toFixed(4)).join());
    for (let k = 0; k < 3; k++) edges.set(`${v[k]}>${v[(k + 1) % 3]}`, (edges.get(`${v[k]}>${v[(k + 1) % 3]}`) ?? 0) + 1);
  }
  for (const [edge, count] of edges) expect(edges.get(edge.split('>').reverse().join('>'))).toBe(count);
});
