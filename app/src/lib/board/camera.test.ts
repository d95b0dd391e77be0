/** The eye over the carved board: what is drawn at a pixel is what is picked there. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { BoardMap } from '$lib/job/planner';
import { cameraOf, pick, project, type View } from './camera';

const board = { width: 300, height: 120, thickness: 18 };
const CELL = 1;
function flat(depth: (x: number, y: number) => number): BoardMap {
  const [columns, rows] = [board.width / CELL, board.height / CELL];
  const height = new Float32Array(columns * rows);
  for (let j = 0; j < rows; j++) for (let i = 0; i < columns; i++) height[j * columns + i] = -depth((i + 0.5) * CELL, (j + 0.5) * CELL);
  return { columns, rows, cell: CELL, height, version: 1, changed: null } as BoardMap;
}
const view = fc.record<View>({
  yaw: fc.double({ min: -3, max: 3, noNaN: true }),
  pitch: fc.double({ min: 0.4, max: 1.55, noNaN: true }),
  distance: fc.double({ min: 0.3, max: 2, noNaN: true }),
  x: fc.double({ min: 0.2, max: 0.8, noNaN: true }),
  y: fc.double({ min: 0.2, max: 0.8, noNaN: true }),
});
const [WIDTH, HEIGHT] = [900, 600];

describe('the eye over the board', () => {
  it('a place on the top is picked at the pixel it is drawn at', () =>
    fc.assert(
      fc.property(view, fc.integer({ min: 2, max: 298 }), fc.integer({ min: 2, max: 118 }), (v, x, y) => {
        const camera = cameraOf(v, board, WIDTH, HEIGHT);
        const at = project(camera, [x, y, 0]);
        const found = pick(
          camera,
          flat(() => 0),
          board,
          at.x,
          at.y,
        )!;
        expect(Math.hypot(found[0] - x, found[1] - y)).toBeLessThan(CELL);
      }),
      { numRuns: 100 },
    ));
  it('in a pocket it is the floor that is picked, not the air above it', () => {
    const pocket = flat((x, y) => (Math.abs(x - 150) < 60 && Math.abs(y - 60) < 40 ? 10 : 0));
    const camera = cameraOf({ yaw: 0.3, pitch: 1.1, distance: 1, x: 0.5, y: 0.5 }, board, WIDTH, HEIGHT);
    const at = project(camera, [150, 60, -10]);
    const found = pick(camera, pocket, board, at.x, at.y)!;
    expect(Math.hypot(found[0] - 150, found[1] - 60)).toBeLessThan(1.5 * CELL);
    // The wall nearer to the eye hides the floor behind it.
    const low = cameraOf({ yaw: 0, pitch: 0.25, distance: 1, x: 0.5, y: 0.5 }, board, WIDTH, HEIGHT);
    const hidden = project(low, [150, 22, -10]);
    expect(pick(low, pocket, board, hidden.x, hidden.y)![1]).toBeLessThan(20.5);
  });
  it('beside the board and above the horizon nothing is picked', () => {
    const camera = cameraOf({ yaw: 0, pitch: 0.6, distance: 3, x: 0.5, y: 0.5 }, board, WIDTH, HEIGHT);
    const map = flat(() => 0);
    expect(pick(camera, map, board, 2, HEIGHT - 2)).toBeNull();
    expect(pick(camera, map, board, WIDTH / 2, 0)).toBeNull();
  });
  it('at its usual distance all of the board is in the picture, from every side', () =>
    fc.assert(
      fc.property(fc.double({ min: -3.2, max: 3.2, noNaN: true }), fc.double({ min: 0.5, max: 1.57, noNaN: true }), (yaw, pitch) => {
        const camera = cameraOf({ yaw, pitch, distance: 1.25, x: 0.5, y: 0.5 }, board, WIDTH, HEIGHT);
        for (const [x, y] of [
          [0, 0],
          [300, 0],
          [300, 120],
          [0, 120],
        ]) {
          const at = project(camera, [x, y, 0]);
          expect(at.x).toBeGreaterThan(0);
          expect(at.x).toBeLessThan(WIDTH);
          expect(at.y).toBeGreaterThan(0);
          expect(at.y).toBeLessThan(HEIGHT);
          expect(at.scale).toBeGreaterThan(0);
        }
      }),
      { numRuns: 100 },
    ));
});
