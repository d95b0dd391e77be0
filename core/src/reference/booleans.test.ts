/** Union, difference and intersection against an independent geometry library (JSTS, a port of the JTS Topology Suite). */
import fc from 'fast-check';
import GeoJSONReader from 'jsts/org/locationtech/jts/io/GeoJSONReader.js';
import OverlayOp from 'jsts/org/locationtech/jts/operation/overlay/OverlayOp.js';
import { describe, expect, it } from 'vitest';
import { contourOf, intersect, regionArea, subtract, unite, type Region } from '../geometry/index.ts';
import { even, often } from './chance.ts';

/** A star of random rays: any outline that does not cross itself. */
const star = fc.tuple(even(-20, 20), even(-20, 20), fc.array(even(4, 40), { minLength: 3, maxLength: 30 })).map(([cx, cy, rays]) => {
  const xy = rays.flatMap((r, i) => [cx + r * Math.cos((2 * Math.PI * i) / rays.length), cy + r * Math.sin((2 * Math.PI * i) / rays.length)]);
  return xy.map((v) => Math.round(v * 1000) / 1000);
});
const reader = new GeoJSONReader();
const polygon = (xy: number[]) => {
  const ring = xy.flatMap((_, i) => (i % 2 ? [] : [[xy[i], xy[i + 1]]]));
  return reader.read({ type: 'Polygon', coordinates: [[...ring, ring[0]]] });
};
const area = (regions: Region[]) => regions.reduce((sum, region) => sum + regionArea(region), 0);

describe('booleans agree with JSTS', () => {
  it.each([
    ['union', (a: Region[], b: Region[]) => unite([...a, ...b].map(({ outer }) => outer))],
    ['difference', subtract],
    ['intersection', intersect],
  ] as const)('%s of random outlines', (name, ours) => {
    fc.assert(
      fc.property(star, star, (a, b) => {
        const [p, q] = [unite([contourOf(a)]), unite([contourOf(b)])];
        expect(area(ours(p, q))).toBeCloseTo(OverlayOp[name](polygon(a), polygon(b)).getArea(), 3);
      }),
      often(150),
    );
  });
  it('level edges that run back over themselves lose nothing (a fault of the clipping library that is worked around)', () => {
    const cup = [0.2973917, 3.175, 0.699, 1.369, 0.838, 1.146, 1.086, 1.058, 2.618, 1.058, 2.867, 1.146, 3.006, 1.369, 3.407, 3.175, 0.297127, 3.175];
    expect(area(unite([contourOf(cup)]))).toBeCloseTo(5.5313, 3);
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 0, max: 6 })), { minLength: 3, maxLength: 9 }), (points) => {
        // Many level edges; turned by a quarter none of them is level.
        const plain = area(unite([contourOf(points.flat())], 'evenodd'));
        const turned = area(unite([contourOf(points.flatMap(([x, y]) => [-y, x]))], 'evenodd'));
        expect(plain).toBeCloseTo(turned, 3);
      }),
      often(300),
    );
  });
});
