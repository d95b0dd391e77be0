/** What is drawn of a plan's cuts: the very same as long as no way changed, so that nothing is painted anew for a feed. */
import { expect, it, vi } from 'vitest';
import type { CutView } from '$lib/job/planner';
import { Tracks } from './tracks';

vi.stubGlobal('Path2D', class { moveTo() {} lineTo() {} }); // prettier-ignore

const cut = (x: number[], bit: object = { kind: 'end', diameter: 6 }) =>
  ({
    id: 'c',
    bit,
    kind: Uint8Array.of(0, 1),
    x: Float64Array.from(x),
    y: Float64Array.of(0, 1),
    z: Float64Array.of(5, -1),
    seconds: Math.random(),
  }) as unknown as CutView;

it('stays the same for the same ways, cut by cut, and is another for another way, bit or depth', () => {
  const tracks = new Tracks();
  const first = tracks.of([cut([0, 1]), cut([2, 3])], 3);
  expect(tracks.of([cut([0, 1]), cut([2, 3])], 3)).toBe(first);
  const moved = tracks.of([cut([0, 1]), cut([2, 4])], 3);
  expect(moved).not.toBe(first);
  expect(moved[0]).toBe(first[0]);
  expect(moved[1]).not.toBe(first[1]);
  expect(tracks.of([cut([0, 1]), cut([2, 4], { kind: 'v', diameter: 6 })], 3)[1]).not.toBe(moved[1]);
  // The colours go by the deepest of all cuts.
  expect(tracks.of([cut([0, 1])], 3)[0]).toBe(first[0]);
  expect(tracks.of([cut([0, 1])], 4)[0]).not.toBe(first[0]);
  expect(tracks.of([], 0)).toEqual([]);
});
