/** Measures and sections against grooves whose figures are known (plain geometry, see bits). */
import { describe, expect, it } from 'vitest';
import { Bit } from '../job/index.ts';
import { shapeOf } from '../bits/index.ts';
import { carve, HeightMap, measureAt, sectionAlong } from './index.ts';

const CELL = 0.05;
/** A groove through the middle of a board of 60 x 40 at an angle. */
function grooved(bit: object, depth: number, angle = 0): HeightMap {
  const map = new HeightMap(60, 40, CELL);
  const [dx, dy] = [25 * Math.cos(angle), 15 * Math.sin(angle)];
  carve(
    map,
    {
      kind: Uint8Array.of(1, 1),
      x: Float64Array.of(30 - dx, 30 + dx),
      y: Float64Array.of(20 - dy, 20 + dy),
      z: Float64Array.of(-depth, -depth),
    },
    shapeOf(Bit.parse({ id: 'b', ...bit })),
  );
  return map;
}
const v = (angle: number) => ({ kind: 'v', angle, diameter: 25 });

describe('measuring', () => {
  it.each([
    [90, 3, 6],
    [60, 3, 3.464],
    [30, 6, 3.215],
  ])('a V of %f° at %f mm is %f wide and as steep as the bit', (angle, depth, width) => {
    for (const turn of [0, 0.4, 1.1]) {
      const map = grooved(v(angle), depth, turn);
      const middle = measureAt(map, 30, 20);
      expect(middle.depth).toBeCloseTo(depth, 0);
      expect(Math.abs(middle.depth - depth)).toBeLessThan((CELL / Math.tan((angle * Math.PI) / 360)) * 0.75);
      expect(Math.abs(middle.width! - width)).toBeLessThan(2 * CELL);
      expect(Math.hypot(middle.to![0] - middle.from![0], middle.to![1] - middle.from![1])).toBeCloseTo(middle.width!, 6);
      // Half way up a wall: 90° less half the bit's angle from level.
      const nx = -Math.sin(Math.atan2(15 * Math.sin(turn), 25 * Math.cos(turn)));
      const ny = Math.cos(Math.atan2(15 * Math.sin(turn), 25 * Math.cos(turn)));
      expect(measureAt(map, 30 + (nx * width) / 4, 20 + (ny * width) / 4).slope).toBeCloseTo(90 - angle / 2, 0);
    }
  });
  it('a straight groove has a level floor, upright walls and the bit’s width', () => {
    const map = grooved({ kind: 'end', diameter: 6 }, 4);
    const floor = measureAt(map, 30, 20);
    expect(floor.depth).toBeCloseTo(4, 6);
    expect(floor.slope).toBeCloseTo(0, 6);
    expect(Math.abs(floor.width! - 6)).toBeLessThan(2 * CELL);
    expect(measureAt(map, 30, 23).slope).toBeGreaterThan(80);
  });
  it('bare wood has no width; a groove over the edge has none either', () => {
    const map = grooved(v(90), 3);
    expect(measureAt(map, 3, 3)).toEqual({ depth: 0, slope: 0 });
    const open = new HeightMap(10, 10, 0.1);
    open.height.fill(-1);
    expect(measureAt(open, 5, 5).width).toBeUndefined();
    expect(measureAt(open, 5, 5).depth).toBeCloseTo(1, 6);
  });
});

describe('sections', () => {
  it('across a V show its own triangle, along any line', () => {
    const map = grooved(v(90), 3);
    for (const [dx, dy] of [
      [0, 10],
      [7, 10],
    ]) {
      const line = sectionAlong(map, [30 - dx, 20 - dy], [30 + dx, 20 + dy]);
      const length = 2 * Math.hypot(dx, dy);
      expect(line[line.length - 2]).toBeCloseTo(length, 4);
      for (let k = 0; k < line.length; k += 2) {
        const off = Math.abs((line[k] / length - 0.5) * 2 * dy);
        expect(Math.abs(line[k + 1] - Math.min(0, off - 3))).toBeLessThan(CELL * 1.01);
      }
    }
  });
  it('of a line as short as a point are two points', () => {
    expect(sectionAlong(grooved(v(90), 3), [30, 20], [30, 20])).toHaveLength(4);
  });
});
