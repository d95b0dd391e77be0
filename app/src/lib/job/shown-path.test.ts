/** What the board shows of a beam: all it burns, nothing farther off than a gap that is closed, and never more strokes than a screen can tell apart. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LASER_BENCH } from '@kerbe/core/machine';
import { JOB_VERSION, readJob } from '@kerbe/core/job';
import { planJob, type PlannedCut } from '@kerbe/core/plan';
import { shownPath, type ShownPath } from './shown-path.ts';

/** A picture of so many dots across and down, ten to the mm, burned at an angle. */
async function burned(width: number, height: number, data: Uint8Array, angle: number): Promise<PlannedCut> {
  const [w, h] = [width / 10, height / 10];
  const reading = readJob({
    kerbe: JOB_VERSION,
    process: 'laser',
    name: 'Dots',
    board: { width: 2 * w + 20, height: 2 * h + 20, thickness: 3, material: 'birch ply', holdDown: 'tape' },
    items: { p: { kind: 'picture', id: 'p', asset: 'a', x: w + 10, y: h + 10, width: w, height: h } },
    itemOrder: ['p'],
    tools: { h: { kind: 'head', id: 'h' } },
    cuts: { c: { kind: 'laser-picture', id: 'c', on: 'art', tool: 'h', linesPerMm: 10, dither: 'threshold', angle } },
    cutOrder: ['c'],
    machine: LASER_BENCH,
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  const plan = await planJob(reading.job, { fonts: () => undefined, pictures: () => Promise.resolve({ width, height, data }) });
  return plan.cuts[0];
}
type Segment = [ax: number, ay: number, bx: number, by: number];
const burning = ({ path: { x, y, power } }: PlannedCut): Segment[] =>
  Array.from({ length: x.length - 1 }, (_, i) => i + 1)
    .filter((i) => power![i] > 0)
    .map((i) => [x[i - 1], y[i - 1], x[i], y[i]]);
const drawn = ({ kind, x, y }: ShownPath): Segment[] =>
  Array.from({ length: Math.max(0, kind.length - 1) }, (_, i) => i + 1)
    .filter((i) => kind[i] !== 0)
    .map((i) => [x[i - 1], y[i - 1], x[i], y[i]]);
const off = ([ax, ay, bx, by]: Segment, x: number, y: number): number => {
  const [dx, dy] = [bx - ax, by - ay];
  const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(x - ax - t * dx, y - ay - t * dy);
};
const length = (segments: readonly Segment[]) => segments.reduce((sum, [ax, ay, bx, by]) => sum + Math.hypot(bx - ax, by - ay), 0);

describe('the way of a beam on the board', () => {
  it('a small picture is drawn as it is burned, whatever its dots and however it is turned', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ minLength: 96, maxLength: 96 }), fc.constantFrom(0, 30, 90), async (data, angle) => {
        const cut = await burned(12, 8, data, angle);
        const [burns, shows] = [burning(cut), drawn(shownPath(cut))];
        expect(length(shows)).toBeCloseTo(length(burns), 6);
        expect(shows.length).toBeLessThanOrEqual(burns.length);
        for (const [ax, ay, bx, by] of burns) expect(Math.min(...shows.map((one) => off(one, (ax + bx) / 2, (ay + by) / 2)))).toBeLessThan(2e-3);
      }),
      { numRuns: 40 },
    );
  });
  it('one of half a million dots is as few strokes as a screen can show, and none reaches over a wide gap', async () => {
    const [width, height] = [1000, 600];
    // A chequered half, and beyond a gap of 30 mm a full strip.
    const data = Uint8Array.from({ length: width * height }, (_, k) => {
      const [column, row] = [k % width, Math.floor(k / width)];
      return column >= 900 || (column < 600 && (column + row) % 2 === 0) ? 0 : 255;
    });
    const cut = await burned(width, height, data, 0);
    expect(burning(cut).length).toBeGreaterThan(180_000);
    const shown = shownPath(cut);
    expect(shown.kind.length).toBeLessThanOrEqual(40_000);
    expect(drawn(shown).length).toBe(2 * height);
    for (const [ax, , bx] of drawn(shown)) expect(Math.abs(bx - ax)).toBeLessThan(60.2);
    expect([...new Set(drawn(shown).map(([, y]) => y))].length).toBe(height);
  });
  it('a router bit’s way is left as it is', async () => {
    const path = { kind: Uint8Array.of(0, 1), x: Float64Array.of(0, 5), y: Float64Array.of(0, 0), z: Float64Array.of(5, -1) };
    const shown = shownPath({ path: { ...path, feed: Float64Array.of(0, 1), spans: [] }, cut: { kind: 'pocket' } } as unknown as PlannedCut);
    expect([...shown.x, ...shown.z]).toEqual([0, 5, 5, -1]);
    // A copy: the plan keeps its own.
    expect(shown.x).not.toBe(path.x);
  });
});
