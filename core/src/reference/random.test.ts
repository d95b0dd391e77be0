/** The medial axis and the V-carve on shapes nobody would draw: random, spiky, doubled, tiny, with holes. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even, often } from './chance.ts';
import { planVCarve } from '../cuts/router/vcarve.ts';
import { circle, contourOf, contoursOf, distanceToEdges, insideRegion, medialAxis, reversed, unite, type Region } from '../geometry/index.ts';
import { traceRegion } from '../geometry/medial/index.ts';
import { VBitSchema, VCarveCut } from '../job/index.ts';

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
      expect(insideRegion(region, axis.x[i], axis.y[i]), `node ${i} of radius ${axis.r[i]}`).toBe(true);
      // Every node is exactly as far from the outline as it says.
      expect(Math.abs(distanceToEdges([region], axis.x[i], axis.y[i]) - axis.r[i])).toBeLessThan(2e-4);
    }
  }
}

describe('random shapes', () => {
  it('scribbles have a sound axis', () => fc.assert(fc.property(scribble, sound), often(300)));
  it('stars with holes have a sound axis', () => fc.assert(fc.property(holed, sound), often(200)));

  it('a V-carve never leaves the drawing, whatever the bit', () => {
    const bits = [
      VBitSchema.parse({ kind: 'v', id: 'b', angle: 60, diameter: 12.7 }),
      VBitSchema.parse({ kind: 'v', id: 'b', angle: 90, diameter: 6, tipFlat: 0.4 }),
      VBitSchema.parse({ kind: 'v', id: 'b', angle: 30, diameter: 3.175 }),
    ];
    fc.assert(
      fc.property(scribble, fc.constantFrom(...bits), fc.constantFrom(undefined, 0.5, 3), (regions, bit, floorDepth) => {
        const cut = VCarveCut.parse({ kind: 'vcarve', id: 'c', on: 'art', bit: 'b', floorDepth, stepover: 1 });
        const { path } = planVCarve(regions, cut, bit, { clearance: 5, feed: 2000, plunge: 900 }, 0.01);
        const t = Math.tan((bit.angle * Math.PI) / 360);
        for (let i = 0; i < path.kind.length; i++) {
          if (path.z[i] >= 0) continue;
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
