/** Pictures trimmed: what is left stays where it was, at the scale it had. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dotsOf, LaserPicture, type PlacedPicture } from '../cuts/laser/picture.ts';
import { makeItem } from '../job/items.ts';
import { even, often } from '../reference/chance.ts';
import { SIDES, trimmed, trimmedOff, wholeLength } from './trim.ts';

const PICTURE = makeItem({ kind: 'picture', id: 'p', asset: 'a', x: 50, y: 40, width: 40, height: 20 });
/** Every pixel has a tone of its own place: along by tens, down by ones. */
const pixels = { width: 20, height: 10, data: Uint8Array.from({ length: 200 }, (_, k) => 10 * (k % 20) + Math.floor(k / 20)) };
const cut = LaserPicture.parse({ kind: 'laser-picture', id: 'c', on: 'art', tool: 'h', linesPerMm: 0.5 });
const placed = (item: typeof PICTURE): PlacedPicture => ({ ...item, pixels });
/** Tone of the dot at a place on the board. */
function toneAt(item: typeof PICTURE, x: number, y: number): number {
  const dots = dotsOf(placed(item), cut);
  const turn = (-item.angle * Math.PI) / 180;
  const [dx, dy] = [x - item.x, y - item.y];
  const [u, v] = [Math.cos(turn) * dx - Math.sin(turn) * dy, Math.sin(turn) * dx + Math.cos(turn) * dy];
  return dots.dark[Math.floor((dots.v0 - v) / dots.pitchV) * dots.columns + Math.floor((u - dots.u0) / dots.pitchU)];
}

describe('a trimmed picture', () => {
  it('loses what is cut off at each side, and has it back', () => {
    const left = trimmed(PICTURE, 'left', 8);
    expect(left).toMatchObject({ x: 54, y: 40, width: 32, height: 20, trim: { left: 0.2, right: 0, top: 0, bottom: 0 } });
    expect(trimmed(left, 'top', 5)).toMatchObject({ x: 54, y: 37.5, width: 32, height: 15 });
    expect(trimmed(trimmed(PICTURE, 'right', 8), 'bottom', 4)).toMatchObject({ x: 46, y: 42, width: 32, height: 16 });
    expect(trimmed(left, 'left', 0)).toEqual(PICTURE);
    expect(trimmed(left, 'left', -3)).toEqual(PICTURE);
  });
  it('never all of it', () => {
    const most = trimmed(trimmed(PICTURE, 'left', 30), 'right', 40);
    expect(most.width).toBeCloseTo(0.4, 6);
    expect(wholeLength(most, 'left')).toBeCloseTo(40, 3);
  });
  it('a size that was only proposed is one still', () => {
    const proposed = { ...PICTURE, proposedWidth: 40 };
    expect(trimmed(proposed, 'right', 10)).toMatchObject({ width: 30, proposedWidth: 30 });
    expect(trimmed(proposed, 'top', 10)).toMatchObject({ width: 40, proposedWidth: 40 });
    expect(trimmed({ ...PICTURE, proposedWidth: 60 }, 'right', 10).proposedWidth).toBe(60);
  });
  it('each tone stays at its place on the board, mirrored and turned too', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...SIDES),
        fc.constantFrom(...SIDES),
        fc.boolean(),
        fc.constantFrom(0, 90, -90, 180, 37),
        // Whole dots, so that both have their dots at the same places.
        fc.integer({ min: 0, max: 4 }),
        fc.integer({ min: 0, max: 4 }),
        even(0, 1),
        even(0, 1),
        (first, second, mirror, angle, m, n, p, q) => {
          const whole = { ...PICTURE, mirror, angle };
          let item = trimmed(whole, first, 2 * m);
          item = trimmed(item, second, 2 * n);
          expect(trimmedOff(item, second)).toBeCloseTo(2 * n, 3);
          const turn = (angle * Math.PI) / 180;
          // The middle of a dot of what is left.
          const u = (Math.floor(p * (item.width / 2 - 1e-6)) + 0.5) * 2 - item.width / 2;
          const v = (Math.floor(q * (item.height / 2 - 1e-6)) + 0.5) * 2 - item.height / 2;
          const [x, y] = [item.x + Math.cos(turn) * u - Math.sin(turn) * v, item.y + Math.sin(turn) * u + Math.cos(turn) * v];
          expect(toneAt(item, x, y)).toBeCloseTo(toneAt(whole, x, y), 6);
        },
      ),
      often(100),
    );
  });
});
