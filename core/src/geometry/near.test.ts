/** Contours that nearly touch: distances against the closed form, walks against what they must pass. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linksWithin, walksOver, type Contour } from './index.ts';

const contour = (...xy: number[]): Contour => ({ xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2) });
const square = (x: number, y: number, side = 10) => contour(x, y, x + side, y, x + side, y + side, x, y + side);
const length = (xy: readonly number[]) =>
  xy.reduce((sum, _, i) => (i % 2 ? sum : sum + Math.hypot(xy[(i + 2) % xy.length] - xy[i], xy[(i + 3) % xy.length] - xy[i + 1])), 0);

describe('links between contours', () => {
  it('none of none or one; none that is wider than asked; none where they touch', () => {
    expect(linksWithin([], 1)).toEqual([]);
    expect(linksWithin([square(0, 0)], 1)).toEqual([]);
    expect(linksWithin([square(0, 0), square(10.5, 0)], 0.4)).toEqual([]);
    expect(linksWithin([square(0, 0), square(10, 0)], 0.4)).toEqual([]);
  });
  it('stands where they come nearest: a corner against an edge, as the closed form has it', () => {
    const [{ from, to, at, distance }] = linksWithin([square(0, 0), contour(10.3, 5, 20, 0, 20, 10)], 1);
    expect([from, to]).toEqual([0, 1]);
    expect(distance).toBeCloseTo(0.3, 12);
    expect([at[0].x, at[0].y, at[1].x, at[1].y]).toEqual([10, 5, 10.3, 5]);
  });
  it('as few as hold them together: three in a ring have two', () => {
    const links = linksWithin([square(0, 0), square(10.2, 0), square(5, 10.3)], 1);
    expect(links).toHaveLength(2);
    expect(links[0].distance).toBeCloseTo(0.2, 12);
  });
});

describe('a walk over them', () => {
  it('goes once round each, and there and back over each link', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 3 }), fc.integer({ min: 0, max: 3 })), { minLength: 1, maxLength: 10 }), (cells) => {
        const squares = [...new Map(cells.map((cell) => [cell.join(), cell])).values()].map(([i, j]) => square(10.4 * i, 10.4 * j));
        const links = linksWithin(squares, 0.5);
        const walks = walksOver(squares, links);
        const total = walks.reduce((sum, walk) => sum + length(walk), 0);
        expect(total).toBeCloseTo(40 * squares.length + 2 * links.reduce((sum, { distance }) => sum + distance, 0), 6);
        expect(walks).toHaveLength(squares.length - links.length);
        // Every corner is passed.
        for (const { xy } of squares)
          for (let k = 0; k < xy.length; k += 2)
            expect(walks.some((walk) => walk.some((x, i) => i % 2 === 0 && x === xy[k] && walk[i + 1] === xy[k + 1]))).toBe(true);
      }),
    );
  });
  it('leaves what nothing is near to as it was', () => {
    expect(walksOver([square(0, 0)], [])).toEqual([[0, 0, 10, 0, 10, 10, 0, 10]]);
  });
});
