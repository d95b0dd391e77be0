/** The job document: what is read, what is refused and in which words, what a cut works on. */
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { namedBy } from '../cuts/index.ts';
import { often } from '../reference/chance.ts';
import { jobWith, makeJob, mixedJob } from '../reference/fixtures.ts';
import { Bit, boardThickness, Cut, datumPoint, Job, JOB_VERSION, jobSchema, makeItem, readJob, type CutKind, type JobInput } from './index.ts';
import { pairJob } from './pair.ts';
import { roleOfItem, worksOn } from './target.ts';
import { layTemplate, Template, templateOf } from './template.ts';

/** A job that lacks nothing, as it is saved, changed in one place. */
const changed = (change: (job: Record<string, never>) => void): unknown => {
  const job = JSON.parse(JSON.stringify(makeJob()));
  change(job);
  return job;
};
const whyNot = (data: unknown): string => {
  const reading = readJob(data);
  return reading.ok ? '' : reading.why.join('\n');
};

describe('reading a job', () => {
  it('what was read is saved and read again the same, to the last figure', () => {
    for (const job of [makeJob(), mixedJob({}), jobWith({ word: { kind: 'text', text: 'Été', face: 'cinzel', capHeight: 12.7 } })]) {
      const again = readJob(JSON.parse(JSON.stringify(job)));
      expect(again).toEqual({ ok: true, job });
    }
  });
  it('fills in what is left out, each with what is common practice', () => {
    const job = makeJob();
    expect(job.datum).toEqual({ corner: 'lower-left', z: 'top' });
    expect(job.cuts.out).toMatchObject({ side: 'outside', throughAllowance: 0.3, tabs: 4, tabWidth: 6, tabHeight: 2, direction: 'climb' });
    expect(job.program).toMatchObject({ units: 'mm', decimals: 3, clearance: 5, workOffset: 'G54', change: 'pause' });
    // Common practice: twist drills are pointed at 118 degrees, pecks an eighth of an inch, skims 0.2 mm.
    expect(Bit.parse({ kind: 'drill', id: 'd', diameter: 5 })).toMatchObject({ pointAngle: 118 });
    expect(Cut.parse({ kind: 'surface', id: 's', on: 'art', tool: 'd' })).toMatchObject({ skim: 0.2, repeats: 1 });
    expect(Cut.parse({ kind: 'drill', id: 's', on: 'holes', tool: 'd' })).toMatchObject({ peck: 3.2, dwell: 0 });
  });
  it('a newer job is not guessed at', () => {
    expect(whyNot({ kerbe: JOB_VERSION + 1, name: 'Tomorrow' })).toMatch(new RegExp(`newer Kerbe \\(version ${JOB_VERSION + 1}\\).*Update`));
    expect(whyNot({ kerbe: 0 })).not.toBe('');
  });
  it.each<[string, (job: Record<string, never>) => void, RegExp]>([
    ['a board of nothing', (job) => Object.assign(job.board, { width: 0 }), /^board\.width: /],
    ['a board beyond all boards', (job) => Object.assign(job.board, { height: 1e9 }), /^board\.height: /],
    ['a length that is no number', (job) => Object.assign(job.board, { thickness: 'thick' }), /^board\.thickness: /],
    ['a figure nobody knows', (job) => Object.assign(job, { wings: 2 }), /wings/],
    ['a cut nobody knows', (job) => Object.assign(job.cuts, { carve: { kind: 'saw', id: 'carve', on: 'art', tool: 'v60' } }), /^cuts\.carve/],
    [
      'a drag cut with its spindle on',
      (job) => Object.assign(job.cuts, { carve: { kind: 'drag', id: 'carve', on: 'art', tool: 'v60', speed: 9000 } }),
      /speed/,
    ],
    ['a bit of no angle', (job) => Object.assign(job.tools, { v60: { kind: 'v', id: 'v60', angle: 0, diameter: 12 } }), /^tools\.v60\.angle: /],
    [
      'a tip both flat and round',
      (job) => Object.assign(job.tools, { v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12, tipFlat: 1, tipRadius: 1 } }),
      /flat or rounded, not both/,
    ],
    [
      'a tip wider than its bit',
      (job) => Object.assign(job.tools, { v60: { kind: 'v', id: 'v60', angle: 60, diameter: 3, tipFlat: 4 } }),
      /wider than the bit/,
    ],
    ['a cut without its bit', (job) => Object.assign(job, { tools: { end6: job.tools['end6'] } }), /Cut “carve” uses bit “v60”, which is not in the job/],
    ['a cut left out of the order', (job) => Object.assign(job, { cutOrder: ['carve'] }), /Cut “out” is missing from the order/],
    [
      'an order of cuts that are not there',
      (job) => Object.assign(job, { cutOrder: ['carve', 'out', 'gone'] }),
      /Cut “gone” is in the order but not in the job/,
    ],
    ['a thing listed twice', (job) => Object.assign(job, { itemOrder: ['words', 'edge', 'words'] }), /listed twice/],
    ['a thing under another’s name', (job) => Object.assign(job.items['edge'], { id: 'words' }), /Drawn thing “edge” carries another id/],
    ['an outline that is not drawn', (job) => Object.assign(job, { outline: 'gone' }), /outline “gone” is not drawn/],
    ['a layer that is not there', (job) => Object.assign(job.items['edge'], { layer: 'top' }), /lies on layer “top”/],
    [
      'words on a line that is not there',
      (job) => Object.assign(job.items['words'], { baseline: { kind: 'path', item: 'gone', from: 0, raise: 0 } }),
      /Words “words” stand on “gone”/,
    ],
    ['a cut on what is not drawn', (job) => Object.assign(job.cuts['carve'], { on: ['gone'] }), /works on “gone”, which is not drawn/],
    ['rest clearing after a bit that is not there', (job) => Object.assign(job.cuts['carve'], { after: 'gone' }), /comes after bit “gone”/],
    [
      'a recess whose plug is cut by nothing',
      (job) => Object.assign(job.cuts, { carve: { kind: 'recess', id: 'carve', on: 'art', tool: 'end6', mate: 'gone' } }),
      /fits what bit “gone” cuts/,
    ],
    [
      'a floor cleared for no carve',
      (job) => Object.assign(job.cuts, { carve: { kind: 'pocket', id: 'carve', on: 'art', tool: 'end6', floorOf: 'out' } }),
      /clears the floor of “out”, which is no V-carve/,
    ],
  ])('says where and why: %s', (_, change, why) => expect(whyNot(changed(change))).toMatch(why));
  it('names every fault at once, and no more than can be read', () => {
    const broken = changed((job) => Object.assign(job, { outline: 'gone', cutOrder: ['carve', 'out', 'a', 'b'] }));
    expect(whyNot(broken).split('\n')).toHaveLength(3);
    const board = { width: 1, height: 1, thickness: 1, holders: Array.from({ length: 90 }, () => ({ kind: 'nail' })) };
    expect(whyNot(changed((job) => Object.assign(job, { board }))).split('\n').length).toBeLessThanOrEqual(20);
  });
  it('anything at all is read or refused in words, and nothing is thrown', () =>
    fc.assert(
      fc.property(fc.oneof(fc.anything(), fc.record({ kerbe: fc.constant(1), name: fc.string(), board: fc.anything(), cuts: fc.anything() })), (data) => {
        const reading = readJob(data);
        if (!reading.ok) for (const why of reading.why) expect(why.length).toBeGreaterThan(3);
        else expect(Job.parse(reading.job)).toEqual(reading.job);
      }),
      often(300),
    ));
  it('the schema in docs is the one jobs are read by', () => {
    const written = JSON.parse(readFileSync(new URL('../../../docs/job.schema.json', import.meta.url), 'utf8'));
    expect(written).toEqual(JSON.parse(JSON.stringify(jobSchema())));
  });
});

describe('where a job stands', () => {
  const board = { width: 300, height: 120, thickness: 18 };
  it.each([
    ['lower-left', 0, 0],
    ['lower-right', 300, 0],
    ['upper-left', 0, 120],
    ['upper-right', 300, 120],
    ['centre', 150, 60],
  ] as const)('datum at the %s', (corner, x, y) => expect(datumPoint(makeJob({ board, datum: { corner } }))).toEqual([x, y]));
  it('the thickest reading counts: a cut that is to go through goes through there too', () => {
    expect(boardThickness(makeJob({ board }).board)).toBe(18);
    expect(boardThickness(makeJob({ board: { ...board, measured: [17.8, 18.3, 18.1, 17.9] } }).board)).toBe(18.3);
  });
});

describe('what a cut works on', () => {
  const job = mixedJob({ cuts: {}, cutOrder: [] });
  const on = (target: Cut['on']) => job.itemOrder.filter((id) => worksOn(job, { on: target }, job.items[id]));
  it('every role takes its own, the outline nobody but itself', () => {
    expect(on('words')).toEqual(['words']);
    expect(on('holes')).toEqual(['holes']);
    expect(on('lines')).toEqual(['line']);
    expect(on('shapes')).toEqual(['plate']);
    expect(on('outline')).toEqual(['edge']);
    expect(on('art')).toEqual(['words', 'plate', 'holes', 'line']);
    expect(on(['edge', 'line'])).toEqual(['line', 'edge']);
  });
  it('every thing but the outline has exactly one role', () => {
    for (const id of job.itemOrder.filter((one) => one !== job.outline))
      expect((['words', 'holes', 'lines', 'shapes'] as const).filter((role) => worksOn(job, { on: role }, job.items[id]))).toEqual([roleOfItem(job.items[id])]);
  });
  it('a circle is a hole, an ellipse a shape; an open path is line work, a filled one a shape', () => {
    const role = (thing: Parameters<typeof makeItem>[0]) => roleOfItem(makeItem(thing));
    expect(role({ kind: 'ellipse', id: 'a', x: 0, y: 0, width: 5, height: 5 })).toBe('holes');
    expect(role({ kind: 'ellipse', id: 'a', x: 0, y: 0, width: 5, height: 6 })).toBe('shapes');
    expect(role({ kind: 'path', id: 'a', x: 0, y: 0, d: 'M0 0L1 1', fill: 'none' })).toBe('lines');
    expect(role({ kind: 'path', id: 'a', x: 0, y: 0, d: 'M0 0L1 1L1 0Z', fill: 'nonzero' })).toBe('shapes');
    expect(role({ kind: 'arc', id: 'a', x: 0, y: 0, radius: 5, angle: 0, sweep: 90 })).toBe('lines');
  });
});

/** A cut of every kind, on some target. */
const KINDS: CutKind[] = ['vcarve', 'profile', 'pocket', 'drill', 'engrave', 'drag', 'recess', 'plug', 'surface', 'chamfer'];
const someCut = fc.record({
  kind: fc.constantFrom(...KINDS),
  on: fc.constantFrom<Cut['on']>('art', 'outline', 'words', 'holes', 'lines', 'shapes', ['words'], ['words', 'plate'], ['edge'], []),
  tool: fc.constantFrom('v60', 'end6', 'end3'),
  mate: fc.constantFrom('end6', 'end3'),
});
const someJob = fc.array(someCut, { minLength: 1, maxLength: 6 }).map((wanted) => {
  const cuts: NonNullable<JobInput['cuts']> = {};
  wanted.forEach(({ kind, on, tool, mate }, i) => {
    cuts[`c${i}`] = { kind, id: `c${i}`, on, tool, ...(kind === 'recess' || kind === 'plug' ? { mate } : {}) } as JobInput['cuts'][string];
  });
  return mixedJob({ cuts, cutOrder: Object.keys(cuts).reverse() });
});

describe('cut lists kept for other artwork', () => {
  it('laid on the drawing they came from, they give a sound job with the same cuts in the same order, and no new bits', () =>
    fc.assert(
      fc.property(someJob, (job) => {
        const template = Template.parse(JSON.parse(JSON.stringify(templateOf(job, 'Kept'))));
        const { job: laid } = layTemplate(job, template);
        expect(whyNot(laid)).toBe('');
        expect(laid.cutOrder).toEqual(job.cutOrder);
        expect(Object.keys(laid.tools).sort()).toEqual(Object.keys(job.tools).sort());
        for (const id of job.cutOrder) {
          expect({ ...laid.cuts[id], on: null }).toEqual({ ...job.cuts[id], on: null });
          // Nothing of the old drawing is named in it.
          expect(Array.isArray(laid.cuts[id].on)).toBe(false);
        }
      }),
      often(100),
    ));
  it('hold the bits they use and no others; laid on a job without any, all of them come along', () =>
    fc.assert(
      fc.property(someJob, (job) => {
        const template = templateOf(job, 'Kept');
        const used = new Set(Object.values(job.cuts).flatMap((cut) => namedBy(cut).tools));
        expect(new Set(Object.keys(template.tools))).toEqual(used);
        const bare = mixedJob({ tools: {}, cuts: {}, cutOrder: [] });
        const { job: laid } = layTemplate(bare, template);
        expect(whyNot(laid)).toBe('');
        expect(new Set(Object.keys(laid.tools))).toEqual(used);
      }),
      often(100),
    ));
  it('a cut whose role nothing plays is named, and the list is laid all the same', () => {
    const plate = jobWith({ plate: { kind: 'rectangle', width: 50, height: 20 } });
    const job = mixedJob({ cuts: { d: { kind: 'drill', id: 'd', name: 'Screw holes', on: 'holes', tool: 'drill5' } }, cutOrder: ['d'] });
    const { job: laid, idle } = layTemplate(plate, templateOf(job, 'Two holes'));
    expect(idle).toEqual(['Screw holes']);
    expect(laid.cutOrder).toEqual(['d']);
  });
});

describe('pairs', () => {
  it('twice the other half of a recess or a plug is the cut itself', () =>
    fc.assert(
      fc.property(
        fc.record({
          kind: fc.constantFrom('recess' as const, 'plug' as const),
          gap: fc.double({ min: 0, max: 1, noNaN: true }),
          plugShare: fc.double({ min: 0, max: 1, noNaN: true }),
          corners: fc.constantFrom('all' as const, 'needed' as const),
          direction: fc.constantFrom('climb' as const, 'conventional' as const),
        }),
        (figures) => {
          const cut = { id: 'r', on: ['plate'], tool: 'end3', mate: 'end6', ...figures };
          const job = mixedJob({ cuts: { r: cut }, cutOrder: ['r'] });
          const pair = pairJob(job, 'r');
          if (!pair.ok) throw new Error(pair.why);
          const back = pairJob(pair.job, 'r');
          if (!back.ok) throw new Error(back.why);
          expect(whyNot(pair.job)).toBe('');
          expect(pair.job.cuts.r.kind).not.toBe(cut.kind);
          expect(back.job.cuts.r).toMatchObject(cut);
          expect(back.job.items).toEqual(pair.job.items);
        },
      ),
      often(60),
    ));
});

describe('names that every object has by itself', () => {
  const base = makeJob();
  it.each(['constructor', 'toString', '__proto__', 'hasOwnProperty', 'valueOf'])(
    '%s is no id of a thing, a cut or a bit, and none that is referred to',
    (name) => {
      const named = <T extends object>(one: T) => JSON.parse(`{ ${JSON.stringify(name)}: ${JSON.stringify({ ...one, id: name })} }`) as object;
      expect(readJob({ ...base, items: named(base.items.words), itemOrder: [name], outline: null }).ok).toBe(false);
      expect(readJob({ ...base, cuts: named(base.cuts.carve), cutOrder: [name] }).ok).toBe(false);
      expect(readJob({ ...base, cuts: { carve: { ...base.cuts.carve, tool: name } }, cutOrder: ['carve'] }).ok).toBe(false);
      expect(readJob({ ...base, outline: name }).ok).toBe(false);
      expect(readJob({ ...base, cuts: { carve: { ...base.cuts.carve, on: [name] } }, cutOrder: ['carve'] }).ok).toBe(false);
    },
  );
});
