import fc from 'fast-check';
import Flatten from '@flatten-js/core';
import { describe, expect, it } from 'vitest';
import {
  circle,
  contourOf,
  intersect,
  offset,
  Pen,
  rectangle,
  regionArea,
  regionsBox,
  regularPolygon,
  reversed,
  signedArea,
  subtract,
  unite,
  uniteRegions,
} from './index.ts';

const area = (regions: ReturnType<typeof unite>) => regions.reduce((sum, region) => sum + regionArea(region), 0);

describe('clipping', () => {
  it('unites overlapping squares: 2·100 - 25', () => {
    const united = unite([rectangle(0, 0, 10, 10), rectangle(5, 5, 10, 10)]);
    expect(united).toHaveLength(1);
    expect(area(united)).toBeCloseTo(175, 6);
  });
  it('gives outer contours counter-clockwise and holes clockwise', () => {
    const [ring] = unite([rectangle(0, 0, 10, 10), reversed(rectangle(2, 2, 3, 3))]);
    expect(signedArea(ring.outer.xy)).toBeGreaterThan(0);
    expect(signedArea(ring.holes[0].xy)).toBeLessThan(0);
    expect(regionArea(ring)).toBeCloseTo(91, 6);
  });
  it('follows both fill rules', () => {
    const nested = [rectangle(0, 0, 10, 10), rectangle(2, 2, 4, 4)];
    expect(area(unite(nested, 'nonzero'))).toBeCloseTo(100, 6);
    expect(area(unite(nested, 'evenodd'))).toBeCloseTo(84, 6);
  });
  it('keeps an island inside a hole as a region of its own', () => {
    expect(unite([rectangle(0, 0, 20, 20), rectangle(2, 2, 16, 16), rectangle(6, 6, 4, 4)], 'evenodd')).toHaveLength(2);
  });
  it('obeys inclusion and exclusion on random rectangles', () =>
    fc.assert(
      fc.property(
        fc.tuple(fc.integer({ min: -20, max: 20 }), fc.integer({ min: -20, max: 20 }), fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 30 })),
        ([x, y, w, h]) => {
          const a = unite([rectangle(0, 0, 17, 11)]);
          const b = unite([rectangle(x, y, w, h)]);
          expect(area(uniteRegions([...a, ...b])) + area(intersect(a, b))).toBeCloseTo(area(a) + area(b), 4);
          expect(area(subtract(a, b)) + area(intersect(a, b))).toBeCloseTo(area(a), 4);
        },
      ),
    ));
});

describe('offset', () => {
  // Steiner's formula: A(d) = A + P·d + pi·d² for a convex shape grown by d with round corners.
  it('grows a convex shape as Steiner says', () => {
    const [square] = unite([rectangle(0, 0, 10, 10)]);
    expect(area(offset([square], 2))).toBeCloseTo(100 + 40 * 2 + Math.PI * 4, 1);
  });
  it('shrinks a square to a smaller square, and to nothing', () => {
    const [square] = unite([rectangle(0, 0, 10, 10)]);
    expect(area(offset([square], -2))).toBeCloseTo(36, 6);
    expect(offset([square], -5.001)).toEqual([]);
  });
  it('keeps mitred corners when asked', () => {
    expect(area(offset(unite([rectangle(0, 0, 10, 10)]), 2, 'mitre'))).toBeCloseTo(196, 6);
  });
  it('every point of an offset lies at the distance from the shape (flatten-js as oracle)', () => {
    const shape = contourOf([0, 0, 30, 0, 30, 10, 18, 10, 18, 25, 9, 25, 9, 10, 0, 10]);
    const polygon = new Flatten.Polygon(Array.from({ length: 8 }, (_, i) => new Flatten.Point(shape.xy[2 * i], shape.xy[2 * i + 1])));
    for (const distance of [1.5, -1.5]) {
      const [grown] = offset(unite([shape]), distance);
      const { xy } = grown.outer;
      for (let i = 0; i < xy.length; i += 2) {
        const point = new Flatten.Point(xy[i], xy[i + 1]);
        const away = Math.min(...[...polygon.edges].map((edge) => point.distanceTo(edge.shape)[0]));
        expect(Math.abs(away - 1.5)).toBeLessThan(0.003);
      }
    }
  });
});

describe('pen', () => {
  it('flattens a circle within the tolerance: sagitta of every chord', () => {
    const { xy } = circle(3, 4, 50, 0.01);
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      expect(Math.hypot(xy[i] - 3, xy[i + 1] - 4)).toBeCloseTo(50, 9);
      expect(50 - Math.hypot((xy[i] + xy[j]) / 2 - 3, (xy[i + 1] + xy[j + 1]) / 2 - 4)).toBeLessThanOrEqual(0.0101);
    }
  });
  it('marks curves smooth and corners sharp', () => {
    const rounded = rectangle(0, 0, 20, 10, 3);
    expect([...rounded.smooth].every((flag) => flag === 1)).toBe(true);
    expect([...rectangle(0, 0, 20, 10).smooth]).toEqual([0, 0, 0, 0]);
    expect([...regularPolygon(0, 0, 5, 5).smooth]).toEqual([0, 0, 0, 0, 0]);
  });
  // W3C SVG 1.1, 8.3.8: the four arcs with the same radii between the same points.
  it.each([
    [false, false],
    [false, true],
    [true, false],
    [true, true],
  ])('draws arcs by the flags of appendix F.6 (large %s, sweep %s)', (large, sweep) => {
    const pen = new Pen(0.001);
    pen.moveTo(0, 0);
    pen.arcTo(10, 10, 0, large, sweep, 10, 0);
    pen.close();
    const swept = signedArea(pen.contours[0].xy);
    // Segment of a circle of radius 10 over a chord of 10: half angle asin(1/2), 30 degrees.
    const half = Math.PI / 6;
    const minor = (100 * (2 * half - Math.sin(2 * half))) / 2;
    const expected = large ? Math.PI * 100 - minor : minor;
    expect(Math.abs(swept)).toBeCloseTo(expected, 1);
    // A positive sweep turns counter-clockwise in these axes, below the chord and back along it.
    expect(Math.sign(swept)).toBe(sweep ? 1 : -1);
  });
  it('enlarges radii that are too small (F.6.6)', () => {
    const pen = new Pen(0.001);
    pen.moveTo(0, 0);
    pen.arcTo(1, 1, 0, false, true, 10, 0);
    pen.close();
    expect(Math.abs(signedArea(pen.contours[0].xy))).toBeCloseTo((Math.PI * 25) / 2, 1);
  });
  it('knows the box of what was drawn', () => {
    expect(regionsBox(unite([rectangle(-3, 2, 10, 5)]))).toEqual({ minX: -3, minY: 2, maxX: 7, maxY: 7 });
  });
});
