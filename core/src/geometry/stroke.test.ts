/** What a round pen covers, against its definition: every place within half its width of the line, and no other. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even, often } from '../reference/chance.ts';
import { insideRegion, penOutline, regionArea, unite, type Contour, type Region } from './index.ts';

const TOLERANCE = 0.01;
const WIDTH = 2;
const covered = (lines: readonly number[][]): Region[] => unite(lines.map((xy): Contour => penOutline(xy, WIDTH, TOLERANCE)));
const area = (regions: readonly Region[]) => regions.reduce((sum, region) => sum + regionArea(region), 0);

/** How far a place is from a line. */
function away(xy: readonly number[], x: number, y: number): number {
  let best = Math.hypot(x - xy[0], y - xy[1]);
  for (let i = 0; i + 3 < xy.length; i += 2) {
    const [dx, dy] = [xy[i + 2] - xy[i], xy[i + 3] - xy[i + 1]];
    const long = dx * dx + dy * dy;
    const t = long === 0 ? 0 : Math.max(0, Math.min(1, ((x - xy[i]) * dx + (y - xy[i + 1]) * dy) / long));
    best = Math.min(best, Math.hypot(x - xy[i] - t * dx, y - xy[i + 1] - t * dy));
  }
  return best;
}

/** Places on a grid, none of them within a little of the edge. */
function asDefined(lines: readonly number[][], reach: number, apart = 0.37) {
  const regions = covered(lines);
  for (let x = -reach; x <= reach; x += apart)
    for (let y = -reach; y <= reach; y += apart) {
      const off = Math.min(...lines.map((xy) => away(xy, x, y))) - WIDTH / 2;
      if (Math.abs(off) < 2 * TOLERANCE) continue;
      expect(regions.some((region) => insideRegion(region, x, y)), `${x}, ${y} of ${JSON.stringify(lines)}`).toBe(off < 0); // prettier-ignore
    }
}

describe('the outline of a round pen', () => {
  it('a dot, a straight line, and a line that comes back: areas as the formulas have them', () => {
    expect(area(covered([[3, 4]]))).toBeCloseTo(Math.PI, 1);
    expect(area(covered([[3, 4, 3, 4]]))).toBeCloseTo(Math.PI, 1);
    expect(area(covered([[0, 0, 10, 0]]))).toBeCloseTo(20 + Math.PI, 1);
    expect(area(covered([[0, 0, 10, 0, 0, 0]]))).toBeCloseTo(20 + Math.PI, 1);
    expect(area(covered([[0, 0, 10, 0, 10, 10]]))).toBeCloseTo(40 + Math.PI - 1 + Math.PI / 4, 1);
  });
  it('a line that closes upon itself leaves its middle open, once round or twice', () => {
    const round = (turns: number) => Array.from({ length: 60 * turns + 8 }, (_, k) => [8 * Math.cos(k * 0.10472), 8 * Math.sin(k * 0.10472)]).flat();
    for (const turns of [1, 2]) expect(area(covered([round(turns)]))).toBeCloseTo(Math.PI * (81 - 49), 0);
    asDefined([round(1)], 10);
  });
  it('bends tighter than the pen, edges shorter than it, and sharp turns back', () => {
    asDefined([[0, 0, 0.3, 0.2, 0.5, -0.1, 0.4, -0.4, 2, -0.5, 1.9, -0.6, -3, 1]], 6, 0.11);
    asDefined([[-4, 0, 4, 0.2, -4, 0.4, 4, 0.6, -4, 3]], 7, 0.23);
  });
  it('any lines, over themselves and over each other', () => {
    const line = fc.array(even(-6, 6), { minLength: 4, maxLength: 24 }).map((xy) => xy.slice(0, xy.length - (xy.length % 2)));
    fc.assert(fc.property(fc.array(line, { minLength: 1, maxLength: 3 }), (lines) => asDefined(lines, 8)), often(60)); // prettier-ignore
  });
});
