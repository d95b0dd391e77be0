import { describe, expect, it } from 'vitest';
import { chipLoad } from '../bits/index.ts';
import { Bit } from '../job/index.ts';
import { makeJob } from '../reference/fixtures.ts';
import { workingDiameter } from './index.ts';
import { materialOf, MATERIALS, suggestFeeds } from '../advise/index.ts';

const { machine } = makeJob();
const end = (diameter: number, more: object = {}) => Bit.parse({ kind: 'end', id: 'e', diameter, ...more });

describe('suggested feeds', () => {
  it('give a chip within the usual range, at a speed the spindle has (F = n·z·f, any machinery handbook)', () => {
    for (const material of Object.keys(MATERIALS))
      for (const d of [1, 3.175, 6.35, 12]) {
        const advice = suggestFeeds(end(d), material, machine);
        const load = chipLoad(advice.feed, advice.speed, 2);
        if (!advice.limited) expect(load).toBeGreaterThan(advice.load[0] * 0.9);
        expect(load).toBeLessThan(advice.load[1] * 1.1);
        expect(advice.speed).toBeLessThanOrEqual(machine.maxSpindle);
        expect(advice.plunge).toBeLessThanOrEqual(machine.maxSpeed[2]);
      }
  });
  it('the machine’s limits win, and it says so', () => {
    const slow = { maxSpeed: [900, 900, 300] as [number, number, number], maxSpindle: 24_000 };
    expect(suggestFeeds(end(6.35), 'pine', slow)).toMatchObject({ feed: 900, limited: true });
  });
  it('hard wood is cut slower than soft, metal slowest; thin bits slower than thick', () => {
    const feed = (d: number, material: string) => suggestFeeds(end(d), material, machine).feed;
    expect(feed(6, 'pine')).toBeGreaterThan(feed(6, 'oak'));
    expect(feed(6, 'oak')).toBeGreaterThan(feed(6, 'brass'));
    expect(feed(6, 'oak')).toBeGreaterThan(feed(2, 'oak'));
  });
  it('a narrow step-over thins the chip: the feed may be higher', () => {
    expect(suggestFeeds(end(6), 'brass', machine, 0.6).feed).toBeGreaterThan(suggestFeeds(end(6), 'brass', machine).feed);
  });
  it('the shop’s own preset comes first, with its source', () => {
    const own = end(6, { feeds: { 'white oak': { feed: 1700, plunge: 500, speed: 15_000, depthPerPass: 2, source: 'trial board of May' } } });
    expect(suggestFeeds(own, 'oak', machine)).toMatchObject({ feed: 1700, plunge: 500, speed: 15_000, depthPerPass: 2, source: 'trial board of May' });
  });
  it('surface speed is that of the diameter that works: a V carves with its tip, not with its rim', () => {
    const v = Bit.parse({ kind: 'v', id: 'v', angle: 60, diameter: 12.7 });
    // 3 mm down a 60° groove is 2·3·tan 30° = 3.46 mm wide; v = π·d·n.
    expect(workingDiameter(v)).toBeCloseTo(3.464, 3);
    expect(suggestFeeds(v, 'cedar', machine).surface).toBeCloseTo((Math.PI * 3.464 * 18_000) / 1000, 0);
    expect(workingDiameter(end(6.35, { measuredWidth: 6.5 }))).toBe(6.5);
  });
  it('a diamond does not turn', () => {
    expect(suggestFeeds(Bit.parse({ kind: 'drag', id: 'd', diameter: 6 }), 'brass', machine).speed).toBe(0);
  });
  it('knows a material by its name, and says when it does not', () => {
    expect(materialOf('Birch ply, 9 mm')).toEqual({ key: 'ply', known: true });
    expect(materialOf('moon rock')).toEqual({ key: 'oak', known: false });
  });
});
