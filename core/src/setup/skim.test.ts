/** The spoilboard: its skim against area and depth, the next one from the same zero, how long it lasts; what a machine wants done. */
import { describe, expect, it } from 'vitest';
import { readJob, type Job } from '../job/index.ts';
import { MachineProfile } from '../machine/index.ts';
import { Bit } from '../bits/schema.ts';
import { planJob } from '../plan/index.ts';
import { carvePlan, HeightMap } from '../proof/index.ts';
import { forbids } from '../findings/index.ts';
import { fontOf } from '../reference/fixtures.ts';
import { careStates, skimAgain, skimBits, skimJob, skimmedBy, skimSeconds, skimsLeft, THROUGH_CUTS, USUAL_CARE, whenToSkim } from './skim.ts';

const HOUR = 3_600_000;
const profile = MachineProfile.parse({ link: { transport: { kind: 'tcp', host: '127.0.0.1', port: 1 } } });
const bit = Bit.parse({ kind: 'surfacing', id: 'plane', diameter: 25, fluteLength: 10, flutes: 3 });
const form = { width: 200, depth: 120, bit, skim: 0.2, repeats: 1, overlap: 0 };
const made = (more: Partial<typeof form> & { stepover?: number } = {}, of = profile) => skimJob({ ...form, ...more }, { id: 'r', profile: of }, 'mm');
const jobOf = (more: Parameters<typeof made>[0] = {}): Job => {
  const read = readJob(made(more).job);
  if (!read.ok) throw new Error(String(read.why));
  return read.job;
};
/** Depths over the whole of what is skimmed, mm below where it was. */
async function depths(job: Job): Promise<{ least: number; most: number }> {
  const plan = await planJob(job, { fonts: fontOf });
  expect(forbids(plan.findings)).toBe(false);
  const map = new HeightMap(job.board.width, job.board.height, 0.5);
  carvePlan(map, plan.cuts);
  let [least, most] = [Infinity, 0];
  for (const height of map.height) [least, most] = [Math.min(least, -height), Math.max(most, -height)];
  return { least, most };
}

describe('the job that skims the spoilboard', () => {
  it('covers every place of it and goes nowhere deeper than the skim, whatever the bit and the lanes', async () => {
    for (const more of [
      {},
      { repeats: 3 },
      { width: 40, depth: 300 },
      { stepover: 24.9 },
      { bit: Bit.parse({ kind: 'end', id: 'e', diameter: 6 }), width: 60, depth: 50 },
    ]) {
      const job = jobOf(more);
      const { least, most } = await depths(job);
      expect(most).toBeCloseTo(0.2 * ((more as { repeats?: number }).repeats ?? 1), 5);
      expect(least).toBeCloseTo(most, 5);
    }
  });
  it('lanes come out even, and no wider than asked or than the bit', () => {
    expect(made({ stepover: 10 }).step).toBeCloseTo(10, 9);
    expect(made({ stepover: 11 }).step).toBeCloseTo(120 / 11, 9);
    expect(made({ stepover: 60 }).step).toBeLessThanOrEqual(25);
  });
  it('goes no faster than the machine, and says so', () => {
    const slow = MachineProfile.parse({ ...profile, limits: { ...profile.limits, maxSpeed: [600, 900, 500] } });
    expect(made({}, slow)).toMatchObject({ feed: 600, limited: true });
    const fast = MachineProfile.parse({ ...profile, limits: { ...profile.limits, maxSpeed: [60_000, 60_000, 60_000] } });
    expect(made({}, fast).limited).toBe(false);
  });
  it('how long it takes is told without planning it, within a seventh of what the plan says', async () => {
    for (const more of [{}, { width: 1300, depth: 900 }, { width: 40, depth: 300 }, { stepover: 5 }]) {
      const { time } = await planJob(jobOf(more), { fonts: fontOf });
      expect(Math.abs(skimSeconds(made(more)) - time.atMachine)).toBeLessThan(time.atMachine / 7 + 25);
    }
  });
  it('with the widest bit that planes: the shop’s own, or the usual one where it has none', () => {
    const v = Bit.parse({ kind: 'v', id: 'v', diameter: 30, angle: 90 });
    const small = Bit.parse({ kind: 'end', id: 'small', diameter: 6 });
    expect(skimBits([v, small, bit]).map(({ id }) => id)).toEqual(['plane', 'small']);
    expect(skimBits([v]).map(({ kind }) => kind)).toEqual(['surfacing']);
  });
  it('again, it goes on below what was taken, from the same zero', async () => {
    const once = jobOf({ repeats: 2 });
    expect(skimmedBy(once)).toEqual({ from: 0, to: 0.4 });
    const again = skimAgain(once);
    expect(skimmedBy(again)).toEqual({ from: 0.4, to: 0.8 });
    expect(skimmedBy(skimAgain(again))).toEqual({ from: 0.8, to: 1.2000000000000002 });
    expect((await depths(again)).most).toBeCloseTo(0.8, 5);
    expect(skimmedBy(jobOf())).toEqual({ from: 0, to: 0.2 });
  });
  it('a job that skims no spoilboard, or whose skim is switched off, takes nothing of it', () => {
    const job = jobOf();
    const skim = job.cuts.skim;
    expect(skimmedBy({ ...job, cuts: { skim: { ...skim, of: 'board' } as typeof skim } })).toBeNull();
    expect(skimmedBy({ ...job, cuts: { skim: { ...skim, off: true } } })).toBeNull();
  });
});

describe('how long it lasts, and when it is time', () => {
  it('18 mm down to 8, by 0.2 at a time: fifty times', () => {
    expect(skimsLeft({ height: 18, least: 8 }, 0.2)).toBe(50);
    expect(skimsLeft({ height: 8.19, least: 8 }, 0.2)).toBe(0);
    expect(skimsLeft({ height: 7, least: 8 }, 0.2)).toBe(0);
  });
  it('after so many cuts through, or once marks were seen', () => {
    expect(whenToSkim(THROUGH_CUTS - 1, false)).toEqual([]);
    expect(whenToSkim(THROUGH_CUTS, false)).toHaveLength(1);
    expect(whenToSkim(THROUGH_CUTS, true)).toHaveLength(2);
  });
});

describe('what a machine wants done', () => {
  const cares = [
    { name: 'Rails', hours: 10, days: 30 },
    { name: 'Filter', hours: 5 },
    { name: 'Square', days: 100 },
  ];
  const state = (done: Record<string, number>, cut: (moment: number) => number, days: number) => careStates(cares, done, 0, cut, days * 24 * HOUR);
  it('by hours or by days, whichever comes first', () => {
    expect(state({}, () => 4, 10).map(({ due }) => due)).toEqual([false, false, false]);
    expect(state({}, () => 5, 10).map(({ due }) => due)).toEqual([false, true, false]);
    expect(state({}, () => 4, 30).map(({ due }) => due)).toEqual([true, false, false]);
    expect(state({}, () => 4, 100).map(({ due }) => due)).toEqual([true, false, true]);
  });
  it('done, it counts from then', () => {
    const cut = (moment: number) => Math.max(0, 20 - moment / HOUR / 24);
    const [rails, filter] = state({ Rails: 19 * 24 * HOUR }, cut, 20);
    expect(rails).toMatchObject({ since: 1, due: false, left: { hours: 9, days: 29 } });
    expect(filter).toMatchObject({ since: 20, due: true, done: null, left: { days: null } });
  });
  it('every kind of machine has a usual list, each with a measure', () => {
    for (const list of Object.values(USUAL_CARE)) for (const { hours, days } of list) expect(hours ?? days).toBeGreaterThan(0);
  });
});
