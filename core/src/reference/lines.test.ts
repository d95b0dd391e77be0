/**
 * Work with lines - covered area, pens, clipped lines, distances - against an independent geometry
 * library (JSTS, a port of the JTS Topology Suite) and closed formulas.
 */
import fc from 'fast-check';
import GeoJSONReader from 'jsts/org/locationtech/jts/io/GeoJSONReader.js';
import BufferOp from 'jsts/org/locationtech/jts/operation/buffer/BufferOp.js';
import DistanceOp from 'jsts/org/locationtech/jts/operation/distance/DistanceOp.js';
import OverlayOp from 'jsts/org/locationtech/jts/operation/overlay/OverlayOp.js';
import { describe, expect, it } from 'vitest';
import {
  backwards,
  begunAt,
  begunOnStraight,
  clipLines,
  ClosedLine,
  congruent,
  contourOf,
  coveredArea,
  distanceToEdges,
  insideContour,
  insideRegion,
  longestEdge,
  mapRegion,
  nearestOn,
  perimeter,
  rectangle,
  regionArea,
  regularPolygon,
  reversed,
  signedArea,
  simplified,
  strokeRegions,
  unite,
  type Region,
} from '../geometry/index.ts';
import { even, often } from './chance.ts';

const reader = new GeoJSONReader();
const pairs = (xy: ArrayLike<number>) => Array.from({ length: xy.length / 2 }, (_, i) => [xy[2 * i], xy[2 * i + 1]]);
const lineString = (xy: ArrayLike<number>) => reader.read({ type: 'LineString', coordinates: pairs(xy) });
const ringOf = (xy: ArrayLike<number>) => [...pairs(xy), [xy[0], xy[1]]];
const polygon = (xy: ArrayLike<number>) => reader.read({ type: 'Polygon', coordinates: [ringOf(xy)] });
const point = (x: number, y: number) => reader.read({ type: 'Point', coordinates: [x, y] });
const area = (regions: readonly Region[]) => regions.reduce((sum, region) => sum + regionArea(region), 0);

const place = fc.tuple(even(-30, 30), even(-30, 30));
const openLine = fc.array(place, { minLength: 2, maxLength: 8 }).map((points) => Float64Array.from(points.flat()));
/** A star of random rays about a middle: a closed line that does not cross itself. */
const star = fc
  .tuple(place, fc.array(even(4, 25), { minLength: 3, maxLength: 20 }))
  .map(([[cx, cy], rays]) =>
    Float64Array.from(rays.flatMap((r, i) => [cx + r * Math.cos((2 * Math.PI * i) / rays.length), cy + r * Math.sin((2 * Math.PI * i) / rays.length)])),
  );
const lengthOf = (lines: readonly { xy: ArrayLike<number> }[]) =>
  lines.reduce((sum, { xy }) => sum + pairs(xy).reduce((s, [x, y], i, all) => (i ? s + Math.hypot(x - all[i - 1][0], y - all[i - 1][1]) : 0), 0), 0);

describe('the surface a round mark covers', () => {
  it('is that of JSTS’s buffer, however often the line crosses itself', () =>
    fc.assert(
      fc.property(openLine, even(0.5, 8), (xy, width) => {
        // Sixty-four chords to the quarter: the buffer lacks less than a thousandth of its round ends.
        const buffer = BufferOp.bufferOp(lineString(xy), width / 2, 64).getArea();
        expect(coveredArea([xy], width) / buffer).toBeGreaterThan(0.997);
        expect(coveredArea([xy], width) / buffer).toBeLessThan(1.003);
      }),
      often(60),
    ));
  it('of one straight stroke is a rectangle with two half rounds, and counts once what is gone over twice', () => {
    const stroke = [0, 0, 40, 0];
    const once = 40 * 6 + Math.PI * 9;
    expect(coveredArea([stroke], 6) / once).toBeCloseTo(1, 2);
    expect(coveredArea([stroke, stroke, [40, 0, 0, 0]], 6)).toBeCloseTo(coveredArea([stroke], 6), 6);
    // Summed over rows: good to about a thousandth.
    expect(coveredArea([stroke, [0, 100, 40, 100]], 6) / (2 * once)).toBeCloseTo(1, 2);
  });
});

describe('a pen along lines', () => {
  it('round caps and joins: JSTS’s buffer', () =>
    fc.assert(
      fc.property(openLine, even(1, 8), (xy, width) => {
        fc.pre(lengthOf([{ xy }]) > 1);
        const buffer = BufferOp.bufferOp(lineString(xy), width / 2, 64).getArea();
        expect(area(strokeRegions([contourOf(xy)], width, false)) / buffer).toBeCloseTo(1, 2);
      }),
      often(60),
    ));
  it('closed, it leaves the middle free: two offsets of the outline', () => {
    const frame = strokeRegions([rectangle(0, 0, 40, 20)], 4, true, 'mitre');
    expect(area(frame)).toBeCloseTo(44 * 24 - 36 * 16, 3);
    expect(frame[0].holes).toHaveLength(1);
  });
  it('ends flush or half a width beyond, as asked', () => {
    const stroke = [contourOf([0, 0, 30, 0])];
    expect(area(strokeRegions(stroke, 4, false, 'mitre', 'butt'))).toBeCloseTo(120, 3);
    expect(area(strokeRegions(stroke, 4, false, 'mitre', 'square'))).toBeCloseTo(136, 3);
  });
});

describe('lines clipped by a drawing', () => {
  it('keep as much as JSTS keeps', () =>
    fc.assert(
      fc.property(star, openLine, (outline, xy) => {
        const kept = clipLines([contourOf(xy)], unite([contourOf(outline)]));
        expect(Math.abs(lengthOf(kept) - OverlayOp.intersection(polygon(outline), lineString(xy)).getLength())).toBeLessThan(1e-3);
      }),
      often(100),
    ));
  it('lie inside it, holes left out', () => {
    const ring = unite([rectangle(0, 0, 30, 30), reversed(rectangle(10, 10, 10, 10))]);
    const kept = clipLines([contourOf([-5, 15, 35, 15])], ring);
    expect(lengthOf(kept)).toBeCloseTo(20, 6);
    for (const { xy } of kept) for (const [x] of pairs(xy)) expect(x <= 10 + 1e-6 || x >= 20 - 1e-6).toBe(true);
  });
});

describe('distances and sides', () => {
  it('the nearest place of an outline is as far as JSTS says, and lies on it', () =>
    fc.assert(
      fc.property(star, place, (outline, [x, y]) => {
        const { distance, at } = nearestOn(outline, x, y);
        expect(distance).toBeCloseTo(DistanceOp.distance(lineString(ringOf(outline).flat()), point(x, y)), 6);
        expect(distanceToEdges([{ outer: contourOf(outline), holes: [] }], x, y)).toBeCloseTo(distance, 6);
        const line = new ClosedLine(outline);
        const { s } = line.nearest(x, y);
        expect(Math.hypot(line.at(s)[0] - x, line.at(s)[1] - y)).toBeCloseTo(distance, 6);
        const [px, py] = begunAt(outline, at);
        expect(Math.hypot(px - x, py - y)).toBeCloseTo(distance, 6);
      }),
      often(150),
    ));
  it('nearest to the first vertex, by way of the last edge', () => {
    const square = new ClosedLine(Float64Array.of(0, 0, 10, 0, 10, 10, 0, 10));
    for (const [x, y] of [
      [-3, -4],
      [-5, 0],
      [0, -5],
    ]) {
      const { s, distance } = square.nearest(x, y);
      expect(distance).toBe(5);
      expect(square.at(s)).toEqual([0, 0]);
    }
    const turned = Float64Array.of(0.336139, -30, -16.752292, -26.195774, -21.224428, -27.648859, -21.224428, -32.351141, -15.999948, -36.119702);
    const { s } = new ClosedLine(turned).nearest(0.33618, -30);
    expect(new ClosedLine(turned).at(s)[0]).toBeCloseTo(0.336139, 6);
  });
  it('inside is where JSTS has no distance to the surface', () =>
    fc.assert(
      fc.property(star, place, (outline, [x, y]) => {
        // On the edge itself it may go either way.
        fc.pre(nearestOn(outline, x, y).distance > 1e-6);
        const inside = DistanceOp.distance(polygon(outline), point(x, y)) === 0;
        expect(insideContour(outline, x, y)).toBe(inside);
        expect(new ClosedLine(outline).contains(x, y)).toBe(inside);
      }),
      often(200),
    ));
  it('a hole is outside', () => {
    const ring: Region = { outer: rectangle(0, 0, 30, 30), holes: [reversed(rectangle(10, 10, 10, 10))] };
    expect([insideRegion(ring, 5, 5), insideRegion(ring, 15, 15), insideRegion(ring, 40, 5)]).toEqual([true, false, false]);
  });
});

describe('a closed line by the distance along it', () => {
  it('goes on round and round, at one speed', () =>
    fc.assert(
      fc.property(star, even(-500, 500), even(0, 3), (outline, s, step) => {
        const line = new ClosedLine(outline);
        expect(line.length).toBeCloseTo(perimeter(outline), 6);
        const [a, b] = [line.at(s), line.at(s + line.length)];
        expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(1e-6);
        // Two places are never farther apart than the way between them.
        const c = line.at(s + step);
        expect(Math.hypot(a[0] - c[0], a[1] - c[1])).toBeLessThanOrEqual(step + 1e-9);
        expect(Math.hypot(...line.direction(s))).toBeCloseTo(1, 9);
      }),
      often(150),
    ));
  it('begun elsewhere or backwards it is the same line', () =>
    fc.assert(
      fc.property(star, even(0, 0.999), (outline, part) => {
        const at = part * (outline.length / 2);
        const begun = begunAt(outline, at);
        expect(perimeter(begun)).toBeCloseTo(perimeter(outline), 6);
        expect(signedArea(begun)).toBeCloseTo(signedArea(outline), 5);
        expect(signedArea(backwards(outline))).toBeCloseTo(-signedArea(outline), 6);
        expect([...backwards(backwards(outline))]).toEqual([...outline]);
      }),
      often(100),
    ));
  it('is begun in the middle of its longest edge', () => {
    const flat = Float64Array.from([0, 0, 10, 0, 10, 30, 0, 30]);
    expect(longestEdge(flat)).toBe(1);
    expect([...begunOnStraight(flat).slice(0, 2)]).toEqual([10, 15]);
    expect(new ClosedLine(flat).straightAround(10 + 12)).toBe(12);
  });
});

describe('shapes', () => {
  it('a regular polygon has the area of the formula ½ n r² sin(2π / n)', () => {
    for (const n of [3, 4, 5, 6, 8, 12, 50]) expect(signedArea(regularPolygon(3, -4, 10, n).xy)).toBeCloseTo((n / 2) * 100 * Math.sin((2 * Math.PI) / n), 6);
  });
  it('a rounded rectangle lacks (4 - π) r² at its corners', () =>
    expect(signedArea(rectangle(0, 0, 60, 30, 6, 0.001).xy)).toBeCloseTo(1800 - (4 - Math.PI) * 36, 1));
  it('simplified outlines stay within the tolerance, both ways', () =>
    fc.assert(
      fc.property(star, even(0.01, 0.3), (outline, tolerance) => {
        const regions = unite([contourOf(outline)]);
        const plain = simplified(regions, tolerance);
        for (const { outer } of regions) for (const [x, y] of pairs(outer.xy)) expect(distanceToEdges(plain, x, y)).toBeLessThanOrEqual(tolerance + 1e-6);
        for (const { outer } of plain) for (const [x, y] of pairs(outer.xy)) expect(distanceToEdges(regions, x, y)).toBeLessThan(1e-6);
      }),
      often(80),
    ));
});

describe('regions of the same shape', () => {
  it('are found wherever they stand, and each is put back where it was', () =>
    fc.assert(
      fc.property(star, star, fc.array(fc.tuple(place, fc.boolean()), { minLength: 1, maxLength: 8 }), (a, b, spots) => {
        const [one, two] = [unite([contourOf(a)])[0], unite([contourOf(b)])[0]];
        // On the grid that drawings are united on.
        const regions = spots.map(([[x, y], first]) =>
          mapRegion(first ? one : two, (px, py) => [Math.round((px + x) * 1e6) / 1e6, Math.round((py + y) * 1e6) / 1e6]),
        );
        const groups = congruent(regions);
        expect(groups.reduce((sum, { members }) => sum + members.length, 0)).toBe(regions.length);
        for (const { shape, members } of groups)
          for (const { region, x, y } of members)
            pairs(shape.outer.xy).forEach(([px, py], i) => {
              expect(px + x).toBeCloseTo(region.outer.xy[2 * i], 5);
              expect(py + y).toBeCloseTo(region.outer.xy[2 * i + 1], 5);
            });
      }),
      often(60),
    ));
  it('mirrored or turned is not the same', () => {
    const flag = unite([contourOf([0, 0, 10, 0, 10, 5, 4, 9])])[0];
    const other = (map: (x: number, y: number) => [number, number]) => unite([mapRegion(flag, map).outer])[0];
    expect(congruent([flag, other((x, y) => [x + 50, y - 3])])).toHaveLength(1);
    expect(congruent([flag, other((x, y) => [-x, y])])).toHaveLength(2);
    expect(congruent([flag, other((x, y) => [-y, x])])).toHaveLength(2);
  });
});
