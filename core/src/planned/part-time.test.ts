/** Time by part: what is cut alone takes as long beside others, and all of it together is the time of the cut. */
import { describe, expect, it } from 'vitest';
import { planJob } from '../plan/index.ts';
import { fontOf, plateJob, rect } from '../reference/fixtures.ts';
import { pieceSeconds } from './part-time.ts';
import { piecesOf } from './pieces.ts';

async function times(items: ReturnType<typeof rect>[], cut: object = {}) {
  const job = plateJob(items, cut, { width: 600, height: 300 });
  const plan = await planJob(job, { fonts: fontOf });
  const pieces = piecesOf(job.board, plan.cuts);
  const seconds = pieceSeconds(pieces, plan.cuts, job.machine);
  return { whole: plan.cuts[0].seconds, parts: pieces.map((piece, k) => ({ ...piece, seconds: seconds[k] })).filter(({ seconds }) => seconds > 0) };
}

describe('time by part', () => {
  it('none, one, two: together they are the time of the cut', async () => {
    expect((await times([])).parts).toEqual([]);
    const one = await times([rect('a', 100, 100, 80)]);
    expect(one.parts.map(({ seconds }) => seconds)).toEqual([expect.closeTo(one.whole, 6)]);
    const two = await times([rect('a', 100, 100, 80), rect('b', 400, 150, 200)]);
    expect(two.parts.map(({ part }) => part)).toEqual([true, true]);
    expect(two.parts.reduce((sum, { seconds }) => sum + seconds, 0)).toBeCloseTo(two.whole, 6);
    // A square of 200 has a way of two and a half times one of 80, apart from touch, pierce and travel.
    const [large, small] = two.parts.map(({ seconds }) => seconds);
    expect(large / small).toBeGreaterThan(1.5);
    expect(large / small).toBeLessThan(2.6);
    expect(Math.abs(small / one.whole - 1)).toBeLessThan(0.15);
  });
  it('a hole, a pierce that waits and a chain count for their part', async () => {
    const plain = await times([rect('a', 100, 100, 80), rect('b', 250, 100, 80)]);
    const holed = await times([rect('a', 100, 100, 80), rect('b', 250, 100, 80), rect('h', 250, 100, 40)]);
    const at = ({ parts }: typeof plain, x: number) => parts.find(({ centre }) => Math.abs(centre[0] - x) < 1)!.seconds;
    expect(at(holed, 250)).toBeGreaterThan(1.3 * at(plain, 250));
    expect(Math.abs(at(holed, 100) / at(plain, 100) - 1)).toBeLessThan(0.15);
    const slow = await times([rect('a', 100, 100, 80)], { pierceDelay: 10.3 });
    expect(slow.parts[0].seconds - (await times([rect('a', 100, 100, 80)])).parts[0].seconds).toBeCloseTo(10, 3);
    const chain = await times([rect('a', 100, 100, 80), rect('b', 200, 100, 80)], { chain: 150 });
    expect(chain.parts).toHaveLength(2);
    expect(chain.parts.reduce((sum, { seconds }) => sum + seconds, 0)).toBeCloseTo(chain.whole, 6);
    for (const { seconds } of chain.parts) expect(seconds).toBeGreaterThan(0.3 * chain.whole);
  });
  it('parts that tabs hold count for the frame', async () => {
    const held = await times([rect('a', 100, 100, 80)], { microTab: 1 });
    expect(held.parts.map(({ lies, seconds }) => [lies, seconds])).toEqual([['held', expect.closeTo(held.whole, 6)]]);
  });
});
