/** What is left of a sheet, against the plain way: everything subtracted at once. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even, often } from '../reference/chance.ts';
import { circle, intersect, leftWithout, penOutline, rectangle, regionArea, subtract, unite, type Contour, type Region } from './index.ts';

const SHEET: Region[] = [{ outer: rectangle(0, 0, 300, 200), holes: [] }];
const area = (regions: readonly Region[]) => regions.reduce((sum, region) => sum + regionArea(region), 0);
const ring = (x: number, y: number, r: number): Contour[] => {
  const { xy } = circle(x, y, r);
  return [penOutline([...xy, xy[0], xy[1]], 1.5, 0.002)];
};
/** The same pieces, by area, wherever they stand in the list. */
function same(sheet: readonly Region[], taken: readonly Contour[]) {
  const asked = subtract(sheet, unite(taken));
  const found = leftWithout(sheet, taken);
  const sizes = (regions: readonly Region[]) => regions.map((region) => regionArea(region)).filter((one) => one > 0.01).sort((a, b) => a - b); // prettier-ignore
  const [a, b] = [sizes(asked), sizes(found)];
  expect(b).toHaveLength(a.length);
  a.forEach((size, k) => expect(b[k]).toBeCloseTo(size, 3));
  // Not only as large: the same places.
  expect(area(intersect(asked, found))).toBeCloseTo(area(asked), 2);
}

describe('what is left of a sheet', () => {
  it('nothing taken, one ring, rings in rings, and what is drawn in what falls out', () => {
    same(SHEET, []);
    expect(leftWithout(SHEET, [])).toEqual(SHEET);
    same(SHEET, ring(100, 100, 30));
    same(
      SHEET,
      [60, 45, 30, 15].flatMap((r) => ring(150, 100, r)),
    );
    same(SHEET, [...ring(150, 100, 80), ...ring(120, 100, 10), ...ring(180, 100, 10), ...ring(180, 100, 5)]);
  });
  it('over its edge, along it, right through it, and with openings that are in it already', () => {
    same(SHEET, [...ring(0, 100, 30), ...ring(60, 60, 10)]);
    same(SHEET, [penOutline([150, -10, 150, 210], 1.5, 0.002), ...ring(75, 100, 20), ...ring(225, 100, 20)]);
    const open = subtract(SHEET, [{ outer: rectangle(40, 40, 60, 60), holes: [] }]);
    same(open, [...ring(40, 70, 15), ...ring(200, 100, 30), ...ring(70, 70, 10)]);
    same(subtract(SHEET, [{ outer: rectangle(140, -1, 20, 202), holes: [] }]), [...ring(60, 100, 30), ...ring(150, 100, 20), ...ring(240, 100, 30)]);
  });
  it('any rings anywhere, over each other and over the edge', () => {
    const any = fc.array(fc.tuple(even(-10, 310), even(-10, 210), even(2, 70)), { maxLength: 25 });
    fc.assert(
      fc.property(any, (rings) =>
        same(
          SHEET,
          rings.flatMap(([x, y, r]) => ring(x, y, r)),
        ),
      ),
      often(60),
    );
  });
});
