/** Advice: time told apart, bits tried, changes that save time, and whether fine strokes show. */
import { schedule } from '../schedule/index.ts';
import { beforeAll, describe, expect, it } from 'vitest';
import { Bit, readJob, type Job, type JobInput } from '../job/index.ts';
import { planJob, sectionsOf, type Plan } from '../plan/index.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { suggestBeam } from '../feeds/beam.ts';
import { LASER_BENCH } from '../machine/index.ts';
import { testCard } from './test-card.ts';
import { candidatesFor, fasterWays, learnedFactor, presetFrom, suggestFeeds, trialBoard, tryBit, whereTimeGoes, willItShow } from './index.ts';

const base = makeJob();
const planned = async (change: Partial<JobInput> = {}): Promise<{ job: Job; plan: Plan }> => {
  const job = makeJob(change);
  return { job, plan: await planJob(job, { fonts: fontOf }) };
};
const carve = (change: object) => ({ cuts: { ...base.cuts, carve: { ...base.cuts.carve, ...change } } }) as Partial<JobInput>;
const v90 = Bit.parse({ kind: 'v', id: 'v90', angle: 90, diameter: 25 });
const v30 = Bit.parse({ kind: 'v', id: 'v30', angle: 30, diameter: 6.35 });

describe('where the time goes', () => {
  let job: Job;
  let plan: Plan;
  beforeAll(async () => ({ job, plan } = await planned()));
  it('adds up to the time of the plan, cut by cut and kind by kind', () => {
    const report = whereTimeGoes(job, plan.cuts);
    expect(report.atMachine).toBeCloseTo(plan.time.atMachine, 6);
    expect(report.parts.reduce((sum, { seconds }) => sum + seconds, 0)).toBeCloseTo(report.atMachine, 6);
    for (const [k, one] of report.cuts.entries()) {
      expect(one.total).toBeCloseTo(plan.cuts[k].seconds, 9);
      expect(one.cutting + one.plunging + one.lifting + one.travel + one.dark + one.waiting).toBeCloseTo(one.total, 6);
      expect(one.fastest).toBeLessThanOrEqual(one.asked + 1e-6);
      expect(one.mean).toBeGreaterThan(0);
      expect(one.mean).toBeLessThanOrEqual(one.fastest);
    }
    expect(report.changes).toBe(job.machine.bitChangeSeconds);
    expect(report.spinUp).toBe(2 * job.machine.spindleSeconds);
    expect(report.measuring).toBe(2 * job.machine.measureSeconds + job.machine.zeroSeconds);
  });
  it('of a square cut at one depth is what the closed forms say', async () => {
    // One pass, 4 sides of 100 mm, bit on the line: rest to rest t = d/v + v/a at each corner, that of a right angle taken slowly.
    const { job: square, plan: p } = await planned({
      items: { box: { kind: 'rectangle', id: 'box', x: 100, y: 40, width: 100, height: 50 } },
      itemOrder: ['box'],
      outline: 'box',
      cuts: { out: { ...base.cuts.out, side: 'on', depth: 1, depthPerPass: 2, feed: 1200, plunge: 600 } } as JobInput['cuts'],
      cutOrder: ['out'],
      machine: { ...base.machine, cornerDeviation: 1e-4, acceleration: [500, 500, 500] },
    });
    const [one] = whereTimeGoes(square, p.cuts).cuts;
    const [v, a] = [20, 500];
    const closed = 2 * (100 / v + v / a) + 2 * (50 / v + v / a);
    expect(one.cutting / closed).toBeGreaterThan(0.98);
    expect(one.cutting / closed).toBeLessThan(1.02);
    // Down 3 mm rapidly, from rest to the plunge's 10 mm/s: to a peak of sqrt(a d + v²/2) and back. Then 3 mm at 10 mm/s to rest.
    const top = Math.sqrt(a * 3 + (10 * 10) / 2);
    expect(one.plunging).toBeCloseTo((2 * top - 10) / a + 3 / 10 + 10 / (2 * a), 2);
    expect(one.lifting).toBeGreaterThan(0);
  });
  it('of rows burned both ways: lit at the feed, dark while it brakes and comes up again, as the closed forms say', async () => {
    const [w, h, pitch, v, a] = [40, 20, 0.5, 50, 1000];
    const laser = makeJob({
      process: 'laser',
      machine: { ...LASER_BENCH, acceleration: [a, a, 300] },
      board: { width: 200, height: 100, thickness: 3, material: 'birch ply' },
      items: { box: { kind: 'rectangle', id: 'box', x: 100, y: 50, width: w, height: h } },
      itemOrder: ['box'],
      outline: null,
      tools: { head: { kind: 'head', id: 'head' } },
      cuts: { f: { kind: 'laser-fill', id: 'f', on: 'art', tool: 'head', feed: 60 * v, power: 30, interval: pitch } },
      cutOrder: ['f'],
    });
    const burned = await planJob(laser, { fonts: fontOf });
    const [one] = whereTimeGoes(laser, burned.cuts).cuts;
    const rows = burned.cuts[0].lifts;
    expect(rows).toBe(h / pitch);
    expect(one.cutting / (rows * (w / v))).toBeGreaterThan(0.98);
    expect(one.cutting / (rows * (w / v))).toBeLessThan(1.02);
    // v/a to rest and v/a up again between two rows; a step of the pitch beside it takes 2 sqrt(d/a) from rest to rest, and nothing at best.
    const [least, step] = [(2 * v) / a, 2 * Math.sqrt(pitch / a)];
    expect(one.dark + one.travel).toBeGreaterThan(0.98 * (rows - 1) * least);
    // To the first row it comes from a corner of the sheet at most.
    expect(one.dark + one.travel).toBeLessThan(1.02 * rows * (least + step) + 2);
    // A router has no beam to be dark.
    expect(whereTimeGoes(job, plan.cuts).cuts.every(({ dark }) => dark === 0)).toBe(true);
  });
  it('learns from past runs, not from fewer than three, and says how much they spread', () => {
    expect(learnedFactor([{ estimate: 100, actual: 130 }])).toBeNull();
    const runs = [100, 110, 120, 130, 140].map((actual) => ({ estimate: 100, actual }));
    expect(learnedFactor(runs)).toEqual({ factor: expect.closeTo(1.2, 9), from: expect.closeTo(1.1, 9), to: expect.closeTo(1.3, 9), runs: 5 });
    // One run that was left standing for an hour changes little.
    expect(learnedFactor([...runs, { estimate: 100, actual: 4000 }])!.factor).toBeLessThan(1.3);
  });
});

describe('the bit finder', () => {
  it('offers bits that suit the cut: the crib first, then usual sizes that are not in it', () => {
    const crib = [v90, Bit.parse({ kind: 'v', id: 'mine', angle: 60, diameter: 12.7 }), Bit.parse({ kind: 'end', id: 'e', diameter: 6.35 })];
    const bits = candidatesFor('vcarve', crib);
    expect(bits.slice(0, 2).map(({ id }) => id)).toEqual(['v90', 'mine']);
    expect(bits.filter((bit) => 'angle' in bit && bit.angle === 60 && bit.diameter === 12.7)).toHaveLength(1);
    expect(candidatesFor('pocket', crib, false).map(({ id }) => id)).toEqual(['e']);
  });
  it('a blunter V goes less deep, a narrower one needs a floor', async () => {
    const { job, plan } = await planned();
    const [sharp, blunt] = [v30, v90].map((bit) => tryBit(job, 'carve', plan.items, bit));
    expect(blunt.deepest).toBeLessThan(sharp.deepest);
    expect(blunt.needsFloor).toBe(false);
    expect(blunt.ridge).toBe(0);
    const thin = tryBit(job, 'carve', plan.items, { ...v30, diameter: 2 });
    expect(thin.needsFloor).toBe(true);
    expect(thin.ridge).toBeGreaterThan(0);
    expect(thin.findings.map(({ code }) => code)).toContain('bit-too-narrow');
    // Depth of a stroke w with an angle A is w/(2·tan(A/2)): both bits see the same widest stroke.
    expect(sharp.deepest / blunt.deepest).toBeCloseTo(1 / Math.tan((15 * Math.PI) / 180), 3);
  });
  it('a thinner mill reaches more of a pocket and takes longer; it is tried with feeds of its own', async () => {
    const { job, plan } = await planned({
      cuts: { p: { kind: 'pocket', id: 'p', on: 'outline', tool: 'end6', depth: 3, depthPerPass: 3 } },
      cutOrder: ['p'],
      items: { ...base.items, edge: { ...base.items.edge, radius: 0 } as never },
    });
    const [wide, thin] = [6.35, 2].map((diameter) => tryBit(job, 'p', plan.items, Bit.parse({ kind: 'end', id: `e${Math.round(10 * diameter)}`, diameter })));
    expect(thin.unreached).toBeLessThan(wide.unreached);
    expect(wide.unreached / (4 * 3.175 ** 2 * (1 - Math.PI / 4))).toBeCloseTo(1, 1);
    expect(thin.seconds).toBeGreaterThan(wide.seconds);
    expect(thin.cut.feed).toBeLessThan(wide.cut.feed);
  });
});

describe('what would be faster', () => {
  it('really saves what it says, and brings up no new finding', async () => {
    for (const change of [{}, carve({ floorDepth: 1.5, stepover: 0.1 }), { board: { ...base.board, holdDownHeight: 4 } }]) {
      const { job, plan } = await planned(change as Partial<JobInput>);
      const ways = await fasterWays(job, plan, { crib: [v90, v30] });
      expect(ways.length).toBeGreaterThan(0);
      const before = new Set(plan.findings.map(({ code, cut }) => `${code} ${cut}`));
      for (const [k, way] of ways.entries()) {
        const next = await planJob({ ...job, ...way.change }, { fonts: fontOf });
        expect(plan.time.atMachine - next.time.atMachine, way.label).toBeCloseTo(way.saved, 6);
        expect(way.saved).toBeGreaterThan(0);
        expect(next.findings.filter(({ code, cut, severity }) => severity !== 'note' && !before.has(`${code} ${cut}`))).toEqual([]);
        expect(way.cost.length).toBeGreaterThan(5);
        if (k > 0) expect(way.saved).toBeLessThanOrEqual(ways[k - 1].saved);
      }
    }
  });
  it('a fast plunge and a coarser floor come first where they are what costs the time', async () => {
    const { job, plan } = await planned({ ...carve({ floorDepth: 1.5, stepover: 0.1, plunge: 200 }), cutOrder: ['carve', 'out'] });
    const labels = (await fasterWays(job, plan, { crib: [v90] })).map(({ label }) => label);
    expect(labels.slice(0, 3).some((label) => /step over by/.test(label))).toBe(true);
    expect(labels.some((label) => /come down at/.test(label))).toBe(true);
  });
  it('never travels lower than what holds the board, nor faster than the machine', async () => {
    const { job, plan } = await planned({ board: { ...base.board, holdDownHeight: 4 }, program: { clearance: 20 } });
    for (const { change } of await fasterWays(job, plan)) {
      if (change.program) expect(change.program.clearance).toBe(6);
      for (const cut of Object.values(change.cuts ?? {})) {
        expect(cut.feed).toBeLessThanOrEqual(10_000);
        expect(cut.plunge).toBeLessThanOrEqual(4_000);
      }
    }
  });
  it('says nothing of a job that is as fast as it gets', async () => {
    const { job, plan } = await planned({
      ...carve({ plunge: 4000, feed: 4000 }),
      cutOrder: ['carve'],
      cuts: { carve: { ...base.cuts.carve, plunge: 4000, feed: 4200 } } as JobInput['cuts'],
      program: { clearance: 2 },
    });
    expect(await fasterWays(job, plan)).toEqual([]);
  });
  it('offers curves for an outline of many short lines', async () => {
    // A slot traced from a picture, say: a point every fifth of a millimetre, each a little off.
    const points = Array.from({ length: 900 }, (_, k) => {
      const a = (2 * Math.PI * k) / 900;
      const wave = 0.012 * Math.sin(a * 211);
      return `${((40 + wave) * Math.cos(a)).toFixed(4)} ${((24 + wave) * Math.sin(a)).toFixed(4)}`;
    });
    const { job, plan } = await planned({
      tolerance: 0.05,
      items: { wavy: { kind: 'path', id: 'wavy', x: 100, y: 40, d: `M${points.join('L')}Z` } },
      itemOrder: ['wavy'],
      outline: null,
      cuts: { e: { kind: 'engrave', id: 'e', on: 'art', tool: 'v60', way: 'lines', depth: 0.9, depthPerPass: 0.1, feed: 6000, plunge: 4000 } },
      cutOrder: ['e'],
    });
    const fit = (await fasterWays(job, plan, { fonts: fontOf })).find(({ label }) => /Fit curves/.test(label));
    expect(plan.findings.map(({ code }) => code)).toContain('art-needless-nodes');
    expect(fit?.saved).toBeGreaterThan(1);
    const next = await planJob({ ...job, ...fit!.change }, { fonts: fontOf });
    expect(plan.time.atMachine - next.time.atMachine).toBeCloseTo(fit!.saved, 6);
  });
  it('can be cancelled', async () => {
    const { job, plan } = await planned();
    const signal = AbortSignal.abort(new Error('enough'));
    await expect(fasterWays(job, plan, { signal })).rejects.toThrow('enough');
  });
  it('keeps to the same plan when nothing changes', async () => {
    const { job, plan } = await planned();
    expect(schedule(job, sectionsOf(plan.cuts)).atMachine).toBe(plan.time.atMachine);
  });
});

describe('will it show', () => {
  const measured = (low: number): Partial<JobInput> => ({
    board: { ...base.board, measured: [18, 18, 18 - low, 18] } as never,
    items: { ...base.items, words: { ...base.items.words, capHeight: 4 } as never },
  });
  it('fine strokes on an even board do; on one as uneven as they are deep they do not', async () => {
    const verdict = async (low: number) => {
      const { job, plan } = await planned(measured(low));
      return willItShow(job, plan.cuts)[0];
    };
    const even = await verdict(0);
    expect(even.verdict).toBe('shows');
    // Depth of the finest piece at its widest: w/(2·tan 30°).
    expect(even.depth).toBeCloseTo(even.width! / (2 * Math.tan(Math.PI / 6)), 6);
    expect((await verdict(even.depth * 0.2)).verdict).toBe('shows');
    expect((await verdict(even.depth * 0.5)).verdict).toBe('faint');
    expect((await verdict(even.depth * 1.1)).verdict).toBe('not');
  });
  it('engraving 0.2 deep: a spread of 0.05 is fine, 0.2 is not', async () => {
    for (const [low, verdict] of [
      [0.05, 'shows'],
      [0.2, 'not'],
    ] as const) {
      const { job, plan } = await planned({
        ...measured(low),
        cuts: { e: { kind: 'engrave', id: 'e', on: 'art', tool: 'v60', way: 'lines', depth: 0.2 } },
        cutOrder: ['e'],
      });
      expect(willItShow(job, plan.cuts)[0].verdict).toBe(verdict);
    }
  });
});

describe('the trial board', () => {
  const offcut = { width: 400, height: 200, thickness: 18, material: 'pine' };
  it('lays the piece out once for every pair of values, labelled, and every place is cut as it says', async () => {
    const { job, plan } = await planned();
    const board = trialBoard(job, plan.items, {
      cut: 'carve',
      across: { vary: 'tool', values: [job.tools.v60, v90, v30] },
      up: { vary: 'feed', values: [1200, 2400] },
      board: offcut,
      pen: job.tools.v60,
    });
    if (!board.ok) throw new Error(board.why);
    const { job: trial } = board;
    expect(readJob(JSON.parse(JSON.stringify(trial))).ok).toBe(true);
    expect(trial.trial!.cells).toHaveLength(6);
    expect(new Set(trial.trial!.cells.map(({ label }) => label)).size).toBe(6);
    const p = await planJob(trial, { fonts: fontOf });
    expect(p.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    expect(p.cuts.every(({ facts }) => facts.moves > 0)).toBe(true);
    for (const { cut, bit } of p.cuts.slice(1)) {
      expect(cut.name.startsWith(`${(bit as { angle: number }).angle}°`)).toBe(true);
      expect(cut.name.endsWith(`F${cut.feed}`)).toBe(true);
    }
    // Places do not meet, and none leaves the board.
    const boxes = p.cuts.slice(1).map(({ facts }) => facts.box);
    for (const [i, a] of boxes.entries()) {
      expect(a.minX).toBeGreaterThan(0);
      expect(a.maxX).toBeLessThan(400);
      for (const b of boxes.slice(i + 1)) expect(a.maxX < b.minX || b.maxX < a.minX || a.maxY < b.minY || b.maxY < a.minY).toBe(true);
    }
    // As few changes of bit as there are bits.
    const order = trial.cutOrder.map((id) => trial.cuts[id].tool);
    expect(order.filter((bit, k) => k > 0 && bit !== order[k - 1]).length).toBe(2);
  });
  it('tries depths; says when the offcut is too small, or there is nothing to try', async () => {
    const { job, plan } = await planned();
    const ask = { cut: 'carve', across: { vary: 'depth' as const, values: [1, 2, 3] }, board: offcut, pen: job.tools.v60 };
    const board = trialBoard(job, plan.items, ask);
    if (!board.ok) throw new Error(board.why);
    const p = await planJob(board.job, { fonts: fontOf });
    expect(p.cuts.slice(1).map(({ facts }) => facts.deepest)).toEqual([1, 2, 3].map((d) => expect.closeTo(d, 6)));
    expect(trialBoard(job, plan.items, { ...ask, board: { ...offcut, width: 200 } })).toMatchObject({
      ok: false,
      why: expect.stringContaining('larger offcut'),
    });
    expect(trialBoard(job, [], ask).ok).toBe(false);
    expect(trialBoard(job, plan.items, { ...ask, cut: 'no' }).ok).toBe(false);
    expect(trialBoard(job, plan.items, { ...ask, across: { vary: 'depth', values: [1] } }).ok).toBe(false);
  });
  it('the best place becomes the preset of its bit, with its source, and is what is suggested from then on', async () => {
    const { job, plan } = await planned();
    const board = trialBoard(job, plan.items, { cut: 'carve', across: { vary: 'feed', values: [900, 1500] }, board: offcut, pen: v30 });
    if (!board.ok) throw new Error(board.why);
    const best = presetFrom(board.job, 1, '2026-01-02')!;
    expect(best.bit).toMatchObject({ id: 'v60' });
    expect(best.source).toMatch(/trial board .*F1500.*2026-01-02/);
    const taught = best.into(best.bit);
    expect(suggestFeeds(taught, 'pine', job.machine)).toMatchObject({ feed: 1500, source: best.source });
    expect(presetFrom(job, 0, '2026-01-02')).toBeNull();
  });
});

describe('a test card', () => {
  const head = Bit.parse({ kind: 'head', id: 'head1', watts: 10 });
  const ask = { width: 100, height: 100, rows: 3, columns: 4, power: [20, 80], speed: [1000, 4000] } as const;
  const cardOf = (kind: 'power-speed' | 'lines' | 'focus' | 'kerf') =>
    testCard({ ...ask, power: [...ask.power], speed: [...ask.speed], kind }, { thickness: 3, material: 'birch ply', head });

  it.each(['power-speed', 'lines', 'focus', 'kerf'] as const)(
    'of %s is a job that can be burned, labels first, every square a place that can be chosen',
    async (kind) => {
      const card = cardOf(kind);
      expect(card.trial!.cells).toHaveLength(12);
      expect(card.cutOrder[0]).toBe('labels');
      const { findings, cuts } = await planJob(card, { fonts: fontOf });
      expect(findings.filter(({ severity }) => severity === 'error')).toEqual([]);
      expect(cuts.every(({ facts }) => facts.moves > 0)).toBe(true);
    },
  );
  it('its best square becomes the preset of the head for that sheet: suggested from then on, with card and day as its reason', () => {
    const card = cardOf('power-speed');
    const k = card.trial!.cells.findIndex(({ label }) => label === '50 %, 2000 mm/min');
    const best = presetFrom(card, k, '2026-11-29')!;
    const taught = best.into(head);
    const fill = { kind: 'laser-fill', burns: 'areas' } as const;
    expect(suggestBeam(taught, 'birch ply', 3, fill)).toMatchObject({
      power: 50,
      feed: 2000,
      interval: 0.1,
      why: expect.stringMatching(/test card .*50 %, 2000 mm\/min.*2026-11-29/) as string,
    });
    // Of another sheet, or another kind, it says nothing; chosen anew it is replaced and not heaped up.
    expect(suggestBeam(taught, 'oak', 3, fill)!.power).toBe(suggestBeam(head, 'oak', 3, fill)!.power);
    const again = presetFrom(card, 0, '2026-11-30')!.into(taught);
    expect(again).toMatchObject({ presets: [{ power: 20, date: '2026-11-30' }] });
  });
  it('a slot that fits gives the kerf, a square in focus the focus', () => {
    const kerf = cardOf('kerf');
    const taught = presetFrom(
      kerf,
      kerf.trial!.cells.findIndex(({ label }) => label === '80 %, kerf 0.27'),
      '2026-11-29',
    )!.into(head);
    expect(suggestBeam(taught, 'birch ply', 3, { kind: 'laser-cut', burns: 'through' })!.kerf).toBeCloseTo(0.267, 3);
    const focus = cardOf('focus');
    const sharp = presetFrom(
      focus,
      focus.trial!.cells.findIndex(({ label }) => label === '50 %, focus 1 below'),
      '2026-11-29',
    )!.into(head);
    expect(suggestBeam(sharp, 'birch ply', 3, { kind: 'laser-score', burns: 'lines' })!.focus).toBeCloseTo(1, 9);
  });
  it('says when there is no room for it', () => {
    expect(() => testCard({ ...ask, power: [20, 80], speed: [1000, 4000], kind: 'lines', width: 8 }, { thickness: 3, material: 'oak', head })).toThrow(
      /no room/,
    );
  });
});
