/** The medial axis and the V-carve on shapes nobody would draw: random, spiky, doubled, tiny, with holes. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even, often } from './chance.ts';
import { planVCarve, VCarveCut } from '../cuts/router/vcarve.ts';
import { circle, contourOf, contoursOf, distanceToEdges, insideRegion, medialAxis, reversed, unite, type Region } from '../geometry/index.ts';
import { traceRegion } from '../geometry/medial/index.ts';
import type { PointedBit } from '../bits/index.ts';
import { Bit } from '../job/index.ts';

const vee = (fields: object) => Bit.parse({ kind: 'v', id: 'b', ...fields }) as PointedBit;
const coordinate = even(0, 60);
/** Any closed line at all, crossing itself as it likes: united it is one or more regions. */
const scribble = fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 24 }).map((points) => unite([contourOf(points.flat())]));
/** A star with random rays and a few round holes. */
const holed = fc
  .tuple(fc.array(even(12, 40), { minLength: 5, maxLength: 40 }), fc.array(fc.tuple(even(0.05, 3), even(0, 6.28), even(0, 9)), { maxLength: 4 }))
  .map(([rays, holes]) => {
    const outline = rays.flatMap((r, i) => [r * Math.cos((2 * Math.PI * i) / rays.length), r * Math.sin((2 * Math.PI * i) / rays.length)]);
    // Holes as clockwise circles; where two overlap the union makes one of them.
    return unite([contourOf(outline), ...holes.map(([r, a, d]) => reversed(circle(d * Math.cos(a), d * Math.sin(a), r, 0.02)))]);
  });

function sound(regions: Region[]) {
  for (const region of regions) {
    const axis = traceRegion(region);
    expect(axis.trouble).toEqual([]);
    const corners = axis.corner.filter((c) => c >= 0).length;
    expect(corners).toBe(axis.sites.convex.reduce((sum, flag) => sum + flag, 0));
    for (let i = 0; i < axis.x.length; i++) {
      // Below a thousandth of a micrometre inside and outside are a matter of rounding.
      if (axis.r[i] < 1e-6) continue;
      const distance = distanceToEdges([region], axis.x[i], axis.y[i]);
      expect(distance < 1e-6 || insideRegion(region, axis.x[i], axis.y[i]), `node ${i} of radius ${axis.r[i]}`).toBe(true);
      // Every node is exactly as far from the outline as it says.
      expect(Math.abs(distance - axis.r[i])).toBeLessThan(2e-4);
    }
  }
}

describe('random shapes', () => {
  it('scribbles have a sound axis', () => fc.assert(fc.property(scribble, sound), often(300)));
  it('a scribble that comes within two millionths of itself has a sound axis', () => {
    const outline = [
      17.546236, 33.72838, 18.98418, 33.19992, 17.533592, 33.956291, 17.546235, 33.728382, 17.214231, 34.122813, 11.843762, 36.923104, 12.675249, 39.515276,
    ];
    const spikes = [
      0.00096, 54.57276, 0.000758, 43.098329, 0.00024, 43.0986, 0.000758, 43.098156, 0.000706, 40.176564, 5.991042, 37.975047, 10.848604, 33.820683,
    ];
    const rest = [11.528413, 35.939999, 17.546235, 33.728381, 17.874442, 27.81193, 34.48074, 13.60962];
    sound([{ outer: { xy: Float64Array.from([...outline, ...spikes, ...rest]), smooth: new Uint8Array(18) }, holes: [] }]);
  });
  it('between two reflex corners the radius bends most near the waist: no straight piece over-cuts there', () => {
    // Two spikes tip to tip, near a wall on one side: the chord from there is farthest from the curve far from its middle.
    for (const [gap, wall] of [
      [0.05, 0.2],
      [0.02, 0.1],
      [0.5, 1],
      [0.01, 0.5],
    ]) {
      const [down, up] = [10 - gap, 10 + gap];
      const region = unite([contourOf([10 - wall, 0, 9.95, 0, 10, down, 10.05, 0, 30, 0, 30, 20, 10.05, 20, 10, up, 9.95, 20, 10 - wall, 20])]);
      for (const piece of region) {
        const axis = medialAxis(piece, { uncut: 0.02, tolerance: 0.003 });
        for (let e = 0; e < axis.from.length; e++) {
          const chain = [axis.from[e], ...Array.from({ length: (axis.start[e + 1] - axis.start[e]) / 3 }, (_, k) => k), axis.to[e]];
          const points: [number, number, number][] = chain.map((k, i) =>
            i === 0 || i === chain.length - 1
              ? [axis.x[k], axis.y[k], axis.r[k]]
              : [axis.points[axis.start[e] + 3 * k], axis.points[axis.start[e] + 3 * k + 1], axis.points[axis.start[e] + 3 * k + 2]],
          );
          for (let i = 1; i < points.length; i++)
            for (let f = 0.05; f < 1; f += 0.05) {
              const [x, y, r] = [0, 1, 2].map((k) => points[i - 1][k] + f * (points[i][k] - points[i - 1][k]));
              expect(r - distanceToEdges([piece], x, y)).toBeLessThan(0.0031);
            }
        }
      }
    }
  });
  it('stars with holes have a sound axis', () => fc.assert(fc.property(holed, sound), often(200)));

  it('a V-carve never leaves the drawing, whatever the bit', () => {
    const bits = [vee({ angle: 60, diameter: 12.7 }), vee({ angle: 90, diameter: 6, tipFlat: 0.4 }), vee({ angle: 30, diameter: 3.175 })];
    fc.assert(
      fc.property(scribble, fc.constantFrom(...bits), fc.constantFrom(undefined, 0.5, 3), (regions, bit, floorDepth) => {
        const cut = VCarveCut.parse({ kind: 'vcarve', id: 'c', on: 'art', tool: 'b', floorDepth, stepover: 1 });
        const { path } = planVCarve(regions, cut, bit, { clearance: 5, feed: 2000, plunge: 900 }, 0.01);
        const t = Math.tan((bit.angle * Math.PI) / 360);
        for (let i = 0; i < path.kind.length; i++) {
          // A flat tip at rest on the surface cuts nothing; what is left of its depth is rounding.
          if (path.z[i] > -1e-9) continue;
          // Radius of the bit at the surface against the room there is.
          const radius = bit.tipFlat / 2 - path.z[i] * t;
          expect(radius - distanceToEdges(regions, path.x[i], path.y[i])).toBeLessThan(0.005);
          expect(path.z[i]).toBeGreaterThanOrEqual(-(floorDepth ?? Infinity) - 1e-9);
          expect(radius).toBeLessThanOrEqual(bit.diameter / 2 + 1e-9);
        }
      }),
      often(150),
    );
  });

  it.each([
    ['a sliver', [0, 0, 50, 0, 50, 0.004]],
    ['a hairline spike', [0, 0, 30, 0, 30, 20, 15.0005, 20, 15, 60, 14.9995, 20, 0, 20]],
    ['doubled points', [0, 0, 0, 0, 10, 0, 10, 0, 10, 10, 10, 10, 0, 10]],
    ['a point on a straight run', [0, 0, 5, 0, 10, 0, 10, 10, 0, 10, 0, 5]],
    ['a speck', [0, 0, 0.003, 0, 0.0015, 0.002]],
  ])('%s is carved or left, never a fault', (_what, points) => {
    for (const region of unite([contourOf(points)])) {
      const axis = medialAxis(region, { uncut: 0.02, tolerance: 0.003 });
      expect(axis.trouble).toEqual([]);
      for (const r of axis.r) expect(Number.isFinite(r)).toBe(true);
    }
  });

  it('two equal squares that meet in a corner, and a comb, keep their parts', () => {
    sound(unite([contourOf([0, 0, 10, 0, 10, 10, 0, 10]), contourOf([10, 10, 20, 10, 20, 20, 10, 20])]));
    const comb = [0, 0, 100, 0];
    for (let i = 0; i < 50; i++) comb.push(100 - 2 * i, 20, 99 - 2 * i, 20, 99 - 2 * i, 3, 98 - 2 * i, 3);
    const [region] = unite([contourOf(comb)]);
    sound([region]);
    expect(contoursOf(region)[0].smooth.length).toBeGreaterThan(150);
  });
});
