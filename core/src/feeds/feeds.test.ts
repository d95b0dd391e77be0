import { describe, expect, it } from 'vitest';
import { chipLoad } from '../bits/index.ts';
import { Bit } from '../job/index.ts';
import { makeJob } from '../reference/fixtures.ts';
import { marksFrom, suggestBeam, throughShare } from './beam.ts';
import { responseOf } from './energy.ts';
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

describe('a beam', () => {
  const head = Bit.parse({ kind: 'head', id: 'h', watts: 10, diameter: 0.12 });
  it('energy of a raster and of a line are as they are derived: 10 W at 100 mm/s on 0.1 mm take 1 J/mm² (common practice)', () => {
    // The raster that is suggested for wood lays what a full mark of it takes, 0.6 J/mm².
    const { power, feed } = suggestBeam(head, 'birch ply', 3, { kind: 'laser-fill', burns: 'areas' }, 0.1)!;
    const energy = ((10 * power) / 100 / (feed / 60)) * (1 / 0.1);
    expect(energy / responseOf('birch ply').full).toBeCloseTo(1, 1);
    expect((10 / 100) * (1 / 0.1)).toBe(1);
  });
  it.each([
    [1, 'card'],
    [3, 'birch ply'],
    [6, 'oak'],
    [4, 'clear acrylic'],
  ])('what is suggested to cut %d mm of %s goes through, with a reserve of a quarter', (thickness, material) => {
    const { power, feed, passes } = suggestBeam(head, material, thickness, { kind: 'laser-cut', burns: 'through' })!;
    const share = throughShare({ power, feed, passes }, { watts: 10, diameter: 0.12 }, material, thickness);
    expect(share).toBeGreaterThan(1.1);
    // Not where it must go slower than it can: then there are passes enough.
    expect(share).toBeLessThan(feed >= 6000 ? Infinity : 1.45);
  });
  it('twice the watts mark as dark twice as fast, or at half the power', () => {
    const strong = Bit.parse({ kind: 'head', id: 'h', watts: 20, diameter: 0.12 });
    const dose = (one: typeof head) => {
      const { power, feed } = suggestBeam(one, 'cork', 3, { kind: 'laser-fill', burns: 'areas' })!;
      return ((one as { watts: number }).watts * power) / feed;
    };
    expect(dose(strong) / dose(head)).toBeCloseTo(1, 1);
  });
  it('a preset of the head comes first: of that thickness before another, the newest of several, with its reason and its care', () => {
    const preset = (over: object) => ({ kind: 'laser-cut', material: 'birch ply', feed: 400, power: 90, passes: 2, source: 'test card', ...over });
    const known = Bit.parse({
      kind: 'head',
      id: 'h',
      presets: [
        preset({ thickness: 6, feed: 150 }),
        preset({ thickness: 3 }),
        preset({ thickness: 3, feed: 380, date: '2026-11-02', care: 'tape both faces' }),
      ],
    });
    const cut = { kind: 'laser-cut', burns: 'through' } as const;
    expect(suggestBeam(known, 'birch ply', 3.1, cut)).toMatchObject({
      feed: 380,
      power: 90,
      why: 'this head’s preset, test card, 2026-11-02',
      care: 'tape both faces',
    });
    expect(suggestBeam(known, 'birch ply', 6, cut)).toMatchObject({ feed: 150 });
    expect(suggestBeam(known, 'birch ply', 9, cut)!.why).toMatch(/from memory/);
    expect(suggestBeam(known, 'oak', 3, cut)!.why).toMatch(/from memory/);
    expect(suggestBeam(known, 'birch ply', 3, { kind: 'laser-score', burns: 'lines' })!.why).toMatch(/from memory/);
  });
  it('a router bit has none', () => expect(suggestBeam(Bit.parse({ kind: 'end', id: 'e', diameter: 6 }), 'oak', 3, { kind: 'laser-cut' })).toBeUndefined());
});

describe('a frame with the beam', () => {
  it('marks from a power on: P/(v·d) is then half of what a mark begins with', () => {
    const head = { watts: 10, diameter: 0.12 };
    const marks = marksFrom(head, 'birch ply');
    // By hand: 10 W at that share, 100 mm/s, over four fifths of 0.12 mm.
    expect((10 * marks) / 100 / 100 / (0.8 * 0.12)).toBeCloseTo(responseOf('birch ply').begins / 2, 9);
    // A stronger tube marks sooner, slate later than wood.
    expect(marksFrom({ ...head, watts: 40 }, 'birch ply')).toBeCloseTo(marks / 4, 9);
    expect(marksFrom(head, 'slate')).toBeGreaterThan(marks);
  });
});
