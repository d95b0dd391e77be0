/**
 * The medial axis against shapes whose axis is known in closed form (derived: plain geometry),
 * against an independent sampled-Delaunay axis (delaunator), and its invariants on every letter
 * of every shipped face.
 */
import Delaunator from 'delaunator';
import { describe, expect, it } from 'vitest';
import { letterRegions, setText } from '../artwork/text/index.ts';
import { FACES, charactersOf, fontOf } from './fixtures.ts';
import {
  circle,
  contourOf,
  contoursOf,
  distanceToEdges,
  insideRegion,
  medialAxis,
  rectangle,
  regularPolygon,
  reversed,
  unite,
  type MedialAxis,
  type Region,
} from '../geometry/index.ts';
import { traceRegion } from '../geometry/medial/index.ts';

const EPS = 1e-6;
const region = (...contours: Parameters<typeof unite>[0]): Region => unite(contours)[0];

/** Nodes of the traced axis, corners left out, as sorted [x, y, r]. */
function inner(of: Region): number[][] {
  const axis = traceRegion(of);
  expect(axis.trouble).toEqual([]);
  return axis.x
    .map((x, i) => [x, axis.y[i], axis.r[i]])
    .filter(([, , r]) => r > 0)
    .sort((a, b) => a[0] - b[0] || a[1] - b[1]);
}
function expectNodes(actual: number[][], expected: number[][]) {
  expect(actual).toHaveLength(expected.length);
  expected.forEach((node, i) => node.forEach((value, k) => expect(Math.abs(actual[i][k] - value)).toBeLessThan(EPS)));
}

describe('analytic axes', () => {
  it('rectangle a x b: two nodes b/2 from the ends, radius b/2', () => {
    expectNodes(inner(region(rectangle(0, 0, 10, 4))), [
      [2, 2, 2],
      [8, 2, 2],
    ]);
  });

  it('regular polygon: every node at the centre, radius the apothem', () => {
    for (const sides of [3, 4, 5, 8, 12]) {
      const radius = 10;
      const nodes = inner(region(regularPolygon(0, 0, radius, sides, 0.3)));
      for (const [x, y, r] of nodes) {
        // Corners lie on a grid of 1e-6 mm, which moves the meeting points by a few of those.
        expect(Math.hypot(x, y)).toBeLessThan(5 * EPS);
        expect(Math.abs(r - radius * Math.cos(Math.PI / sides))).toBeLessThan(2 * EPS);
      }
    }
  });

  it('square ring: the axis keeps half way, corners at the equidistant point', () => {
    const nodes = inner(region(rectangle(0, 0, 10, 10), reversed(rectangle(3, 3, 4, 4))));
    // On the diagonal: distance to the outer edges d equals distance to the hole's corner,
    // d = sqrt(2)·(3 - d), so d = 3·sqrt(2)/(1 + sqrt(2)).
    const d = (3 * Math.SQRT2) / (1 + Math.SQRT2);
    expect(nodes.filter(([x, y]) => Math.abs(x - d) < EPS && Math.abs(y - d) < EPS)).toHaveLength(1);
    for (const [x, y, r] of nodes) expect(Math.abs(r - Math.min(x, y, 10 - x, 10 - y))).toBeLessThan(EPS);
  });

  it('annulus of two circles: one loop at the middle radius', () => {
    const axis = medialAxis(region(circle(0, 0, 10, 0.0005), reversed(circle(0, 0, 6, 0.0005))), { uncut: 0.02, tolerance: 0.003 });
    expect(axis.from.length).toBe(axis.x.length);
    for (let i = 0; i < axis.x.length; i++) {
      expect(Math.abs(Math.hypot(axis.x[i], axis.y[i]) - 8)).toBeLessThan(0.002);
      expect(Math.abs(axis.r[i] - 2)).toBeLessThan(0.002);
    }
  });

  it('L with a reflex corner: the axis there is the parabola r = s²/(2p) + p/2', () => {
    const shape = region(contourOf([0, 0, 10, 0, 10, 4, 4, 4, 4, 10, 0, 10]));
    const nodes = inner(shape);
    const d = (4 * Math.SQRT2) / (1 + Math.SQRT2);
    expectNodes(nodes, [
      [2, 4, 2],
      [2, 8, 2],
      [d, d, d],
      [4, 2, 2],
      [8, 2, 2],
    ]);
    const axis = medialAxis(shape, { uncut: 0.02, tolerance: 1e-4 });
    let seen = 0;
    for (let k = 0; k < axis.points.length; k += 3) {
      const [x, y, r] = axis.points.subarray(k, k + 3);
      if (x < d - EPS || y > d + EPS) continue;
      // Focus (4, 4), directrix y = 0: equally far from both.
      expect(Math.abs(Math.hypot(x - 4, y - 4) - y)).toBeLessThan(EPS);
      expect(Math.abs(r - y)).toBeLessThan(EPS);
      seen++;
    }
    expect(seen).toBeGreaterThan(5);
  });

  it('wedge: the axis is the bisector, r = x·sin(half angle)', () => {
    const half = Math.PI / 12;
    const shape = region(contourOf([0, 0, 40, -40 * Math.tan(half), 40, 40 * Math.tan(half)]));
    const [[x, y, r]] = inner(shape);
    expect(Math.abs(y)).toBeLessThan(EPS);
    expect(Math.abs(r - x * Math.sin(half))).toBeLessThan(EPS);
    expect(Math.abs(r - (40 - x))).toBeLessThan(EPS);
  });

  it('a disc shrinks to one plunge at its centre', () => {
    const axis = medialAxis(region(circle(5, 7, 3)), { uncut: 0.02, tolerance: 0.003 });
    expect(axis.from).toHaveLength(0);
    expect(axis.x).toHaveLength(1);
    expect(Math.hypot(axis.x[0] - 5, axis.y[0] - 7)).toBeLessThan(0.01);
    expect(Math.abs(axis.r[0] - 3)).toBeLessThan(0.01);
  });

  it('finds a small island beside a long corridor', () => {
    const axis = traceRegion(
      region(rectangle(0, 0, 100, 10), reversed(rectangle(50, 0.3, 0.5, 0.5)), reversed(circle(20, 5, 1)), reversed(circle(0.5, 0.5, 0.1))),
    );
    expect(axis.trouble).toEqual([]);
    expect(axis.from.length - axis.x.length + 1).toBe(3);
  });
});

/** Straight pieces of an axis: x0 y0 r0 x1 y1 r1. */
function* pieces(axis: MedialAxis): Generator<number[]> {
  for (let e = 0; e < axis.from.length; e++) {
    const [a, b] = [axis.from[e], axis.to[e]];
    const line = [axis.x[a], axis.y[a], axis.r[a], ...axis.points.subarray(axis.start[e], axis.start[e + 1]), axis.x[b], axis.y[b], axis.r[b]];
    for (let k = 3; k < line.length; k += 3) yield line.slice(k - 3, k + 3);
  }
}

/** Greatest radius the interpolated axis has beyond the exact distance to the outline. */
function overCut(of: Region, axis: MedialAxis): number {
  let worst = 0;
  for (const [x0, y0, r0, x1, y1, r1] of pieces(axis))
    for (const f of [0.25, 0.5, 0.75]) worst = Math.max(worst, r0 + f * (r1 - r0) - distanceToEdges([of], x0 + f * (x1 - x0), y0 + f * (y1 - y0)));
  return worst;
}

/** Greatest distance of an outline point from the nearest disc of the axis. */
function leftUncut(of: Region, axis: MedialAxis): number {
  const segments = [...pieces(axis)];
  if (segments.length === 0) segments.push([axis.x[0], axis.y[0], axis.r[0], axis.x[0], axis.y[0], axis.r[0]]);
  let worst = 0;
  for (const { xy } of contoursOf(of))
    for (let i = 0; i < xy.length; i += 2) {
      let best = Infinity;
      for (const [x0, y0, r0, x1, y1, r1] of segments) {
        if (best < 1e-3) break;
        // Distance to the disc, sampled along the piece from its nearest point on.
        const dx = x1 - x0;
        const dy = y1 - y0;
        const square = dx * dx + dy * dy;
        const s = square > 0 ? Math.min(1, Math.max(0, ((xy[i] - x0) * dx + (xy[i + 1] - y0) * dy) / square)) : 0;
        for (const t of [0, s * 0.8, s * 0.9, s, s + (1 - s) * 0.1, s + (1 - s) * 0.2, 1]) {
          const gap = Math.hypot(xy[i] - x0 - t * dx, xy[i + 1] - y0 - t * dy) - (r0 + t * (r1 - r0));
          if (gap < best) best = gap;
        }
      }
      worst = Math.max(worst, best);
    }
  return worst;
}

// `npm run soak` takes every letter, `npm test` every eighth, others of each face.
const every = process.env.KERBE_SOAK ? 1 : 8;

describe('letters of every shipped face', () => {
  for (const [k, { id }] of FACES.entries())
    it(`${id}: one connected axis, a loop per hole, corners reached, over-cut and uncut within bounds`, () => {
      const font = fontOf(id)!;
      let over = 0;
      let under = 0;
      for (const character of charactersOf(font).filter((_, i) => (i + k) % every === 0)) {
        const regions = letterRegions(setText({ text: character, capHeight: 20, lineSpacing: 1.5, letterSpacing: 0, align: 'left' }, font), 0.005);
        for (const part of regions) {
          const axis = medialAxis(part, { uncut: 0.02, tolerance: 0.003 });
          expect(axis.trouble, character).toEqual([]);
          expect(axis.from.length - axis.x.length + 1, `loops of ${character}`).toBe(part.holes.length);
          const corners = new Set<string>();
          axis.corner.forEach((flag, i) => flag && corners.add(`${axis.x[i].toFixed(5)},${axis.y[i].toFixed(5)}`));
          for (const corner of sharpCorners(part)) expect(corners.has(corner), `corner ${corner} of ${character}`).toBe(true);
          for (let i = 0; i < axis.x.length; i++) if (axis.corner[i]) expect(axis.r[i]).toBe(0);
          over = Math.max(over, overCut(part, axis));
          under = Math.max(under, leftUncut(part, axis));
        }
      }
      expect(over).toBeLessThanOrEqual(0.005);
      expect(under).toBeLessThanOrEqual(0.02);
    });
});

/** Convex corners of the drawing, found on their own from the flags and the turn. */
function sharpCorners(of: Region): string[] {
  const out: string[] = [];
  for (const { xy, smooth } of contoursOf(of)) {
    const n = smooth.length;
    for (let i = 0; i < n; i++) {
      const [p, q] = [(i + n - 1) % n, (i + 1) % n];
      const [ax, ay] = [xy[2 * i] - xy[2 * p], xy[2 * i + 1] - xy[2 * p + 1]];
      const [bx, by] = [xy[2 * q] - xy[2 * i], xy[2 * q + 1] - xy[2 * i + 1]];
      // Edges of less than a hundredth make no corner anyone could see.
      if (smooth[i] || Math.hypot(ax, ay) < 0.01 || Math.hypot(bx, by) < 0.01) continue;
      if (Math.atan2(ax * by - ay * bx, ax * bx + ay * by) > 0.2) out.push(`${xy[2 * i].toFixed(5)},${xy[2 * i + 1].toFixed(5)}`);
    }
  }
  return out;
}

describe('against an independent axis', () => {
  it('circumcentres of a Delaunay triangulation of the sampled outline lie on ours (delaunator)', () => {
    const font = fontOf('playfair')!;
    const [letter] = letterRegions(setText({ text: 'R', capHeight: 20, lineSpacing: 1.5, letterSpacing: 0, align: 'left' }, font), 0.005);
    const points: number[] = [];
    for (const { xy } of contoursOf(letter))
      for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
        const n = Math.max(1, Math.ceil(Math.hypot(xy[i] - xy[j], xy[i + 1] - xy[j + 1]) / 0.05));
        for (let k = 0; k < n; k++) points.push(xy[j] + ((xy[i] - xy[j]) * k) / n, xy[j + 1] + ((xy[i + 1] - xy[j + 1]) * k) / n);
      }
    const { triangles } = new Delaunator(points);
    const axis = traceRegion(letter);
    // Our axis with all its branches, as straight pieces between nodes.
    let compared = 0;
    for (let t = 0; t < triangles.length; t += 3) {
      const [ax, ay] = [points[2 * triangles[t]], points[2 * triangles[t] + 1]];
      const [bx, by] = [points[2 * triangles[t + 1]] - ax, points[2 * triangles[t + 1] + 1] - ay];
      const [cx, cy] = [points[2 * triangles[t + 2]] - ax, points[2 * triangles[t + 2] + 1] - ay];
      const d = 2 * (bx * cy - by * cx);
      const ux = (cy * (bx * bx + by * by) - by * (cx * cx + cy * cy)) / d;
      const uy = (bx * (cx * cx + cy * cy) - cx * (bx * bx + by * by)) / d;
      const r = Math.hypot(ux, uy);
      const [x, y] = [ax + ux, ay + uy];
      if (!(r > 0.8) || !insideRegion(letter, x, y)) continue;
      let nearest = Infinity;
      for (let e = 0; e < axis.from.length; e++) {
        const [i, j] = [axis.from[e], axis.to[e]];
        const [ex, ey] = [axis.x[j] - axis.x[i], axis.y[j] - axis.y[i]];
        const square = ex * ex + ey * ey;
        const s = square > 0 ? Math.min(1, Math.max(0, ((x - axis.x[i]) * ex + (y - axis.y[i]) * ey) / square)) : 0;
        nearest = Math.min(nearest, Math.hypot(x - axis.x[i] - s * ex, y - axis.y[i] - s * ey));
      }
      expect(nearest).toBeLessThan(0.12);
      compared++;
    }
    expect(compared).toBeGreaterThan(100);
  });
});
