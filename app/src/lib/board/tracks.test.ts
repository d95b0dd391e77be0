/** What is drawn of a plan's cuts: the very same as long as no way changed, so that nothing is painted anew for a feed. */
import fc from 'fast-check';
import { expect, it, vi } from 'vitest';
import type { CutView } from '$lib/job/planner';
import { trackOf } from './paint';
import { trackAt, Tracks } from './tracks';

/** What was drawn, point by point. */
class Drawn {
  readonly runs: [number, number][][] = [];
  moveTo(x: number, y: number) {
    this.runs.push([[x, y]]);
  }
  lineTo(x: number, y: number) {
    this.runs.at(-1)!.push([x, y]);
  }
}
vi.stubGlobal('Path2D', Drawn);

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

it('is drawn afresh, finer, where it is looked at from nearer, and not for a little zoom', () => {
  const [way] = new Tracks().of([cut([0, 1])], 3);
  const far = trackAt(way, 1.9);
  expect(trackAt(way, 1.2)).toBe(far);
  expect(trackAt(way, 0.2)).not.toBe(far);
});

it('leaves out only points that are not told apart: every place of the way lies by what is drawn, each run with both its ends', () => {
  const way = fc.array(fc.record({ cutting: fc.boolean(), x: fc.integer({ min: 0, max: 40 }), y: fc.integer({ min: 0, max: 40 }) }), {
    minLength: 2,
    maxLength: 60,
  });
  fc.assert(
    fc.property(way, fc.constantFrom(0, 0.05, 0.5), (points, apart) => {
      const one = {
        ...cut([]),
        kind: Uint8Array.from(points.map(({ cutting }) => Number(cutting))),
        x: Float64Array.from(points.map(({ x }) => x / 10)),
        y: Float64Array.from(points.map(({ y }) => y / 10)),
        z: new Float64Array(points.length).fill(-1),
      };
      const track = trackOf(one, 1, apart) as unknown as { feed: Drawn; rapid: Drawn };
      const toLine = (px: number, py: number, [[ax, ay], [bx, by]]: [number, number][]) => {
        const [dx, dy] = [bx - ax, by - ay];
        const t = dx === 0 && dy === 0 ? 0 : Math.max(0, Math.min(1, ((px - ax) * dx + (py - ay) * dy) / (dx * dx + dy * dy)));
        return Math.hypot(px - ax - t * dx, py - ay - t * dy);
      };
      for (let i = 1; i < points.length; i++) {
        const { runs } = points[i].cutting ? track.feed : track.rapid;
        const lines = runs.flatMap((run) => run.slice(1).map((to, k) => [run[k], to] as [number, number][]));
        for (const { x, y } of [points[i - 1], points[i]])
          expect(Math.min(...lines.map((line) => toLine(x / 10, y / 10, line)))).toBeLessThanOrEqual(apart + 1e-9);
      }
      // As many runs as the way has, none joined to the next.
      const starts = (cutting: boolean) =>
        points.filter((point, i) => i > 0 && point.cutting === cutting && (i === 1 || points[i - 1].cutting !== cutting)).length;
      expect([track.feed.runs.length, track.rapid.runs.length]).toEqual([starts(true), starts(false)]);
    }),
  );
});
