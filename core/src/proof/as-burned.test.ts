/** Asked against burned: a picture at the energy its material takes comes out as asked, at half of it paler; cuts go through or not. */
import { describe, expect, it } from 'vitest';
import { responseOf } from '../feeds/energy.ts';
import { readJob, type Job } from '../job/index.ts';
import { LASER_BENCH } from '../machine/index.ts';
import { picturesFor, planJob } from '../plan/index.ts';
import { asBurned } from './as-burned.ts';
import { burnMap } from './burn.ts';

const [WATTS, FEED, LINES] = [10, 3000, 8];
/** Power in per cent that lays the energy of a full mark: P/(v·pitch). (Derived.) */
const full = (100 * responseOf('birch ply').full * (FEED / 60)) / LINES / WATTS;

function job(power: number, over: object = {}, cut: object = {}): Job {
  const reading = readJob({
    kerbe: 4,
    process: 'laser',
    name: 'Photo',
    machine: LASER_BENCH,
    board: { width: 70, height: 50, thickness: 3, material: 'birch ply', holdDown: 'tape' },
    items: {
      photo: { kind: 'picture', id: 'photo', asset: 'a', x: 35, y: 25, width: 48, height: 24, ...over },
      edge: { kind: 'rectangle', id: 'edge', x: 35, y: 25, width: 64, height: 44 },
    },
    itemOrder: ['photo', 'edge'],
    tools: { head1: { kind: 'head', id: 'head1', watts: WATTS, diameter: 0.12 } },
    cuts: {
      p: { kind: 'laser-picture', id: 'p', on: ['photo'], tool: 'head1', feed: FEED, power, linesPerMm: LINES },
      c: { kind: 'laser-cut', id: 'c', on: ['edge'], tool: 'head1', feed: 120, power: 90, ...cut },
    },
    cutOrder: ['p', 'c'],
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}
/** Dark on the left, light on the right; or one tone all over. */
const slope = { width: 96, height: 48, data: Uint8Array.from({ length: 96 * 48 }, (_, k) => Math.round((255 * (k % 96)) / 95)) };
const flat = (grey: number) => ({ ...slope, data: slope.data.map(() => grey) });

async function burned(of: Job, pixels = slope as { width: number; height: number; data: Uint8Array }) {
  const plan = await planJob(of, { fonts: () => undefined, pictures: () => Promise.resolve(pixels) });
  return asBurned(of.board, plan.cuts, ({ cut }) => picturesFor(of, cut, plan.items), burnMap(of, plan.cuts, 0.1));
}

describe('asked against burned', () => {
  it('a picture at its material’s energy has the tones that were asked for; at half of it it is paler, at twice darker', async () => {
    const right = (await burned(job(full))).pictures[0];
    expect(right).toMatchObject({ cut: 'p', item: 'photo' });
    expect(right.asked).toBeCloseTo(0.5, 2);
    expect(Math.abs(right.burned - right.asked)).toBeLessThan(0.1);
    expect(right.close).toBeGreaterThan(0.5);
    const pale = (await burned(job(full / 2))).pictures[0];
    expect(pale.asked).toBeCloseTo(right.asked, 6);
    expect(pale.burned).toBeLessThan(right.burned - 0.1);
    expect(pale.close).toBeLessThan(right.close);
    expect((await burned(job(Math.min(100, 2 * full)))).pictures[0].burned).toBeGreaterThan(right.burned + 0.05);
  });
  it('turned, mirrored and by rows at an angle the tones are still each at its place', async () => {
    const straight = (await burned(job(full))).pictures[0];
    for (const over of [{ angle: 90 }, { angle: 30, mirror: true }]) {
      const one = (await burned(job(full, over))).pictures[0];
      expect(one.asked).toBeCloseTo(0.5, 1);
      expect(one.close).toBeGreaterThan(straight.close - 0.15);
    }
  });
  it('nothing is asked of white, and all of black', async () => {
    const [white, black] = [await burned(job(full), flat(255)), await burned(job(full), flat(0))];
    // Of nothing there is no burn to judge.
    expect(white.pictures).toEqual([]);
    expect(black.pictures[0]).toMatchObject({ asked: 1 });
    expect(black.pictures[0].burned).toBeGreaterThan(0.9);
  });
  it('a cut goes through by its energy, or says how much of it there is', async () => {
    const [slow, fast] = [await burned(job(full)), await burned(job(full, {}, { feed: 1200 }))];
    expect(slow.cuts).toHaveLength(1);
    expect(slow.cuts[0].energy).toBeGreaterThanOrEqual(1);
    expect(fast.cuts[0].energy).toBeCloseTo(slow.cuts[0].energy / 10, 6);
  });
});
