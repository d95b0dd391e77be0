/**
 * Every finding that can be known before a bit touches the board: a job that brings it up, and a near
 * miss that does not. Numbers in brackets are those of the trade's classic mistakes (common practice).
 */
import { wordsOf } from '../findings/index.ts';
import { describe, expect, it } from 'vitest';
import type { JobInput } from '../job/index.ts';
import type { CheckedThings } from '../artwork/check.ts';
import { ArtCache } from '../artwork/index.ts';
import { CutCache, planJob } from '../plan/index.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { cribFindings, datumFindings, wearFindings, forbids, type Finding } from './index.ts';

const base = makeJob();
type Change = Partial<JobInput>;
const carve = (change: object): Change => ({ cuts: { ...base.cuts, carve: { ...base.cuts.carve, ...change } } }) as Change;
const out = (change: object): Change => ({ cuts: { ...base.cuts, out: { ...base.cuts.out, ...change } } }) as Change;
const board = (change: object): Change => ({ board: { ...base.board, ...change } }) as Change;
const machine = (change: object): Change => ({ machine: { ...base.machine, ...change } }) as Change;
const program = (change: object): Change => ({ program: { ...base.program, ...change } }) as Change;
const words = (change: object): Change => ({ items: { ...base.items, words: { ...base.items.words, ...change } } }) as Change;
const bits = (id: string, change: object): Change => ({ tools: { ...base.tools, [id]: { ...base.tools[id], ...change } } }) as Change;
const holder = (change: object) => board({ holders: [{ kind: 'clamp', x: 0, y: 40, width: 10, depth: 20, height: 3, ...change }] });
/** Two square pockets that leave a wall between them, beside or above each other. */
const wall = (width: number, upright = true): Change => ({
  items: {
    one: { kind: 'rectangle', id: 'one', x: 60, y: 40, width: 20, height: 20 },
    two: { kind: 'rectangle', id: 'two', x: upright ? 80 + width : 60, y: upright ? 40 : 60 + width, width: 20, height: 20 },
  },
  itemOrder: ['one', 'two'],
  outline: null,
  cuts: { p: { kind: 'pocket', id: 'p', on: 'art', tool: 'end6', depth: 4, depthPerPass: 4 } },
  cutOrder: ['p'],
});
const disc = (diameter: number): Change => ({
  items: { disc: { kind: 'ellipse', id: 'disc', x: 100, y: 40, width: diameter, height: 40 } },
  itemOrder: ['disc'],
  outline: 'disc',
  cuts: { out: { ...base.cuts.out, tabs: 0 } } as JobInput['cuts'],
  cutOrder: ['out'],
});
const ring = (r: number): Change => ({
  items: {
    ring: {
      kind: 'path',
      id: 'ring',
      x: 100,
      y: 40,
      d: `M0 30 A30 30 0 1 1 0 -30 A30 30 0 1 1 0 30 Z M0 ${r} A${r} ${r} 0 1 0 0 -${r} A${r} ${r} 0 1 0 0 ${r} Z`,
    },
  },
  itemOrder: ['ring'],
  outline: null,
});

const planing = (more: object): Change => ({
  tools: { s: { kind: 'surfacing', id: 's', diameter: 25, fluteLength: 10 } },
  cuts: { s: { kind: 'surface', id: 's', on: 'art', tool: 's', ...more } } as JobInput['cuts'],
  cutOrder: ['s'],
});

/** Holes of a width, drilled. */
const drilled = (width: number, diameter: number, more: object = {}): Change => ({
  items: { hole: { kind: 'ellipse', id: 'hole', x: 60, y: 40, width, height: width } },
  itemOrder: ['hole'],
  outline: null,
  tools: { d: { kind: 'drill', id: 'd', diameter, fluteLength: 60 } },
  cuts: { d: { kind: 'drill', id: 'd', on: 'art', tool: 'd', ...more } } as JobInput['cuts'],
  cutOrder: ['d'],
});
/** A carve round a rectangle as the plug of an inlay. */
const plug = (tip: object, more: object, radius = 0): Change => ({
  items: { leaf: { kind: 'rectangle', id: 'leaf', x: 100, y: 40, width: 40, height: 20, radius } },
  itemOrder: ['leaf'],
  outline: null,
  tools: { v: { kind: 'v', id: 'v', angle: 30, diameter: 12.7, fluteLength: 40, ...tip } },
  cuts: { c: { kind: 'vcarve', id: 'c', on: 'art', tool: 'v', startDepth: 3, floorDepth: 1, stepover: 0.2, plug: { margin: 6 }, ...more } } as JobInput['cuts'],
  cutOrder: ['c'],
});

const CASES: [code: string, severity: Finding['severity'], trigger: Change, near: Change][] = [
  // what is drawn and not cut
  ['not-cut', 'warning', carve({ on: [] }), { ...carve({ on: [] }), ...words({ guide: true }) }],
  ['left-out', 'note', words({ later: true }), words({ later: true, hidden: true })],
  // depth against board, spoilboard and flute [16]
  ['deeper-than-board', 'error', { ...board({ thickness: 4 }), ...carve({}), cutOrder: ['carve', 'out'] }, board({ thickness: 9 })],
  ['starts-below-depth', 'error', out({ depth: 3, startDepth: 3 }), out({ depth: 3, startDepth: 2.9 })],
  ['through-into-bed', 'error', out({ depth: 21.2 }), out({ depth: 20.9 })],
  ['bit-too-short', 'error', bits('end6', { fluteLength: 18 }), bits('end6', { fluteLength: 18.4 })],
  // uneven board against shallow carving [17]
  ['board-uneven', 'warning', board({ measured: [18, 18, 16, 18] }), board({ measured: [18, 18, 17.7, 18] })],
  // off the board, off the bed [11]
  ['art-off-board', 'error', words({ x: 20 }), words({ x: 60 })],
  ['outside-usable', 'error', machine({ usable: { x: 0, y: 0, width: 180, height: 800 } }), machine({ usable: { x: 0, y: 0, width: 200, height: 800 } })],
  ['board-too-large', 'warning', machine({ usable: { x: 0, y: 0, width: 195, height: 800 } }), machine({ usable: { x: 0, y: 0, width: 200, height: 80 } })],
  // clamps and screws: cut, travel, frame [9], plate [10]
  ['holder-in-the-way', 'error', holder({ x: 3, y: 40 }), holder({ x: -2, y: 40 })],
  ['holder-in-the-way', 'error', holder({ x: 100, y: 40, width: 4, depth: 4, height: 5 }), holder({ x: 100, y: 79, width: 4, depth: 4, height: 5 })],
  ['holder-in-the-frame', 'warning', holder({ x: 7, y: 40, width: 6, depth: 6, height: 5 }), holder({ x: 7, y: 40, width: 6, depth: 6, height: 4.9 })],
  ['clearance-low', 'error', board({ holdDownHeight: 5 }), board({ holdDownHeight: 4.9 })],
  ['probe-blocked', 'warning', holder({ x: 20, y: 20, width: 8, depth: 8, height: -1 }), holder({ x: 56, y: 20, width: 8, depth: 8, height: -1 })],
  // held by nothing [15], or by too little vacuum [14]
  ['part-freed', 'error', out({ tabs: 0 }), { ...out({ tabs: 0 }), ...board({ holdDown: 'tape' }) }],
  [
    'vacuum-small',
    'warning',
    { ...disc(120), ...board({ holdDown: 'vacuum' }) },
    {
      ...disc(190),
      board: { ...base.board, holdDown: 'vacuum', width: 800, height: 200 },
      items: { disc: { kind: 'ellipse', id: 'disc', x: 300, y: 100, width: 180, height: 180 } },
    },
  ],
  ['tabs-few', 'warning', out({ tabs: 4, tabWidth: 170 }), out({ tabs: 4, tabWidth: 20 })],
  // what the machine cannot do [21]
  ['feed-over-limit', 'warning', { ...carve({ feed: 11_000 }) }, carve({ feed: 10_000 })],
  ['spindle-over-limit', 'error', carve({ speed: 24_001 }), carve({ speed: 24_000 })],
  ['feed-not-reached', 'note', carve({ feed: 9000, plunge: 4000 }), carve({ feed: 600 })],
  // chip load
  ['chip-thin', 'note', out({ feed: 1000 }), out({ feed: 2400 })],
  ['chip-thick', 'warning', { ...out({ feed: 9000, speed: 8000 }) }, out({ feed: 9000, speed: 18_000 })],
  ['pass-deep', 'warning', out({ depthPerPass: 6.5 }), out({ depthPerPass: 6 })],
  // order
  ['order-freed-first', 'warning', { cutOrder: ['out', 'carve'] }, { cutOrder: ['carve', 'out'] }],
  // what the bit cannot show [22]
  ['stroke-narrower-than-tip', 'warning', bits('v60', { tipFlat: 2 }), bits('v60', { tipFlat: 0.05 })],
  [
    'carves-to-mush',
    'warning',
    { ...bits('v60', { tipRadius: 1.1 }), ...words({ text: '.', capHeight: 20 }) },
    { ...bits('v60', { tipRadius: 0.2 }), ...words({ text: '.', capHeight: 20 }) },
  ],
  [
    'bit-does-not-fit',
    'error',
    { ...wall(20), items: { one: { kind: 'rectangle', id: 'one', x: 60, y: 40, width: 6, height: 20 } }, itemOrder: ['one'] },
    { ...wall(20), items: { one: { kind: 'rectangle', id: 'one', x: 60, y: 40, width: 7, height: 20 } }, itemOrder: ['one'] },
  ],
  ['bit-too-narrow', 'warning', bits('v60', { diameter: 3 }), bits('v60', { diameter: 12.7 })],
  // wood that will not last
  ['wall-thin', 'warning', wall(0.9), wall(1.1)],
  ['grain-short', 'note', wall(2.9), wall(2.9, false)],
  // collet [4], park [24], memory
  ['collet-change', 'note', bits('v60', { shank: 12.7 }), bits('v60', { shank: 6.35 })],
  ['cuts-off', 'warning', out({ off: true }), out({ off: false })],
  ['program-no-park', 'note', program({ end: 'stay' }), program({ end: 'datum' })],
  ['program-too-long', 'error', machine({ memory: 20_000 }), machine({ memory: 2_000_000 })],
  // a spoilboard skimmed too deep, or with something on it [27]
  ['skim-deep', 'warning', planing({ skim: 0.3 }), planing({ skim: 0.25 })],
  ['spoilboard-bare', 'note', planing({ of: 'spoilboard' }), planing({ of: 'board' })],
  // a diamond that would turn
  [
    'cut-wrong-bit',
    'error',
    { tools: { ...base.tools, v60: { kind: 'drag', id: 'v60', diameter: 6, lineWidth: 0.5 } } },
    bits('v60', { kind: 'v', angle: 90 }),
  ],
  // islands [19]
  [
    'art-islands',
    'error',
    { ...ring(15), cuts: { out: { ...base.cuts.out, side: 'on', on: 'art' } } as JobInput['cuts'], cutOrder: ['out'] },
    { ...ring(15), cuts: { out: { ...base.cuts.out, side: 'on', on: 'art', depth: 3 } } as JobInput['cuts'], cutOrder: ['out'] },
  ],
  // Cut by nesting, what comes out of a hole is waste and tabs hold it.
  [
    'art-islands',
    'error',
    { ...ring(15), cuts: { out: { ...base.cuts.out, side: 'inside', on: 'art' } } as JobInput['cuts'], cutOrder: ['out'] },
    { ...ring(15), cuts: { out: { ...base.cuts.out, side: 'auto', on: 'art' } } as JobInput['cuts'], cutOrder: ['out'] },
  ],
  // drills: through with their point, and never sideways
  ['point-into-spoilboard', 'warning', drilled(12, 12), drilled(6, 6)],
  ['drill-thin', 'warning', drilled(8, 5), drilled(5, 5)],
  // a cut that would take nothing away, without a word
  ['cut-makes-nothing', 'error', bits('v60', { tipFlat: 12 }), bits('v60', { tipFlat: 0.2 })],
  [
    'starts-below-depth',
    'error',
    { ...carve({ kind: 'engrave', way: 'fill', startDepth: 5, depth: 3 }) },
    carve({ kind: 'engrave', way: 'fill', startDepth: 2, depth: 3 }),
  ],
  ['starts-below-depth', 'error', out({ startDepth: 19 }), out({ startDepth: 17 })],
  ['allowance-negative', 'error', out({ allowance: -0.3 }), out({ allowance: 0.3 })],
  // inlays that would not go in
  ['inlay-proud', 'error', plug({}, { floorDepth: 0.3, stepover: 0.3 }), plug({}, { floorDepth: 0.6, stepover: 0.2 })],
  ['inlay-binds', 'warning', plug({ tipFlat: 0.3 }, {}), plug({ tipFlat: 0.3 }, {}, 4)],
  ['cut-too-much', 'error', out({ depthPerPass: 1e-9 }), out({ depthPerPass: 0.5 })],
  ['job-no-cuts', 'error', { cuts: {}, cutOrder: [] }, { cutOrder: ['carve', 'out'] }],
  ['cut-empty', 'warning', { ...words({ hidden: true }) }, words({ hidden: false })],
];

const found = async (change: Change) => (await planJob(makeJob(change), { fonts: fontOf })).findings;

describe('each finding, and a near miss', () => {
  it.each(CASES)('%s', async (code, severity, trigger, near) => {
    const hit = (await found(trigger)).filter((one) => one.code === code);
    expect(hit.length, `${code} is found`).toBeGreaterThan(0);
    expect(hit[0].severity).toBe(severity);
    const { what, why, remedy } = wordsOf(hit[0], 'mm');
    for (const text of [what, why, remedy]) expect(text.length).toBeGreaterThan(10);
    expect((await found(near)).map((one) => one.code)).not.toContain(code);
  });
  it('in an inch job every one of them speaks of inches', async () => {
    for (const [code, , trigger] of CASES)
      for (const one of await found({ ...trigger, units: 'in' })) expect(Object.values(wordsOf(one, 'in')).join(' '), code).not.toMatch(/\bmm\b/);
  });
  it('a plain sign brings up nothing that forbids or needs a tick', async () => {
    const findings = await found({});
    expect(findings.filter(({ severity }) => severity !== 'note')).toEqual([]);
    expect(forbids(findings)).toBe(false);
  });
  it('says where: a clamp, a thin wall, the finest stroke', async () => {
    expect((await found(holder({ x: 3, y: 40 }))).find(({ code }) => code === 'holder-in-the-way')!.at).toEqual([3, 40]);
    const [x, y] = (await found(wall(0.8))).find(({ code }) => code === 'wall-thin')!.at!;
    expect(x).toBeCloseTo(70.4, 0);
    expect(y).toBeCloseTo(40, 0);
  });
  it('marks the deepest place of a cut that is too deep', async () => {
    const [hit] = (await found({ ...board({ thickness: 4 }) })).filter(({ code }) => code === 'deeper-than-board');
    const plan = await planJob(makeJob(board({ thickness: 4 })), { fonts: fontOf });
    const { path } = plan.cuts[0];
    const k = path.z.indexOf(Math.min(...path.z));
    expect(hit.at).toEqual([path.x[k], path.y[k]]);
  });
  it('a holder under the top of the board is only in the way of what cuts that deep', async () => {
    const low = { kind: 'clamp', x: 3, y: 40, width: 10, depth: 20 };
    // The outline runs 18.3 deep: a fence 10 below the top is met; one 19 below lies under everything.
    expect((await found(board({ holders: [{ ...low, height: -10 }] }))).map(({ code }) => code)).toContain('holder-in-the-way');
    expect((await found(board({ holders: [{ ...low, height: -19 }] }))).map(({ code }) => code)).not.toContain('holder-in-the-way');
  });
  it('what was found of a drawing with one bit is not kept for another', async () => {
    const options = { fonts: fontOf, art: new ArtCache(), cuts: new CutCache(), checked: new WeakMap() as CheckedThings };
    const d = 'M0 0H60V20H0Z M70 5H100V5.3H70Z';
    const job = (tipFlat: number) =>
      makeJob({
        items: { p: { kind: 'path', id: 'p', x: 40, y: 30, d, fill: 'nonzero' } },
        itemOrder: ['p'],
        outline: null,
        tools: { v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7, tipFlat } },
        cuts: { c: { kind: 'vcarve', id: 'c', on: 'art', tool: 'v60' } } as JobInput['cuts'],
        cutOrder: ['c'],
      });
    const sharp = job(0);
    const codes = async (one: typeof sharp) => (await planJob({ ...one, items: sharp.items }, options)).findings.map(({ code }) => code);
    expect(await codes(sharp)).not.toContain('art-specks');
    expect(await codes(job(0.3))).toContain('art-specks');
    expect(await codes(sharp)).not.toContain('art-specks');
  });
  it('the same finding speaks in whichever unit its reader has, at any time', async () => {
    const [low] = (await found(board({ holdDownHeight: 6.35 }))).filter(({ code }) => code === 'clearance-low');
    expect(wordsOf(low, 'mm').what).toMatch(/6\.35 mm/);
    expect(wordsOf(low, 'in').what).toMatch(/1\/4|0\.25/);
    expect(wordsOf(JSON.parse(JSON.stringify(low)), 'mm')).toEqual(wordsOf(low, 'mm'));
  });
  it('a finding of another version is told as one, and nothing breaks', () => {
    expect(wordsOf({ code: 'gone-since', data: {} }, 'mm').remedy).toMatch(/Plan the job again/);
  });
  it('speaks in the units of the job', async () => {
    const [finding] = (await found({ ...board({ holdDownHeight: 6.35 }), units: 'in' })).filter(({ code }) => code === 'clearance-low');
    expect(wordsOf(finding, 'in').what).toMatch(/1\/4|0\.25/);
    const [fast] = (await found({ ...carve({ feed: 11_000 }), units: 'in' })).filter(({ code }) => code === 'feed-over-limit');
    expect(wordsOf(fast, 'in').what).toMatch(/433\.1 in\/min is above the machine's 393\.7 in\/min/);
  });
});

describe('against the shop', () => {
  it('a bit that is not in the crib is named; one that is there is not; one that is not used does not matter', () => {
    const job = makeJob({ ...bits('v60', { crib: 'a1' }), cutOrder: ['carve', 'out'] });
    expect(cribFindings(job, new Set(['a1'])).map((one) => wordsOf(one, 'mm').what)).toEqual([expect.stringContaining('end mill, 6.35 mm')]);
    expect(cribFindings(job, new Set()).length).toBe(2);
    const unused = makeJob({ cuts: { out: base.cuts.out } as JobInput['cuts'], cutOrder: ['out'] });
    expect(cribFindings(unused, new Set()).map((one) => wordsOf(one, 'mm').what)).toEqual([expect.stringContaining('end mill, 6.35 mm')]);
  });
  it('a bit past its life is a warning, one that nears it a note; a sharp one, one without a life and one that is not used are neither', () => {
    const job = makeJob({ ...bits('v60', { crib: 'a1' }), cutOrder: ['carve', 'out'] });
    const codes = (hours: number, life: number | null) => wearFindings(job, { a1: { hours, life } }).map(({ code, severity }) => [code, severity]);
    expect(codes(6.1, 6)).toEqual([['bit-worn', 'warning']]);
    expect(codes(5, 6)).toEqual([['bit-wears-out', 'note']]);
    expect(codes(4.7, 6)).toEqual([]);
    expect(codes(90, null)).toEqual([]);
    expect(wearFindings(job, {})).toEqual([]);
    const pierced = (strikes: number, strikesLife: number | null) =>
      wearFindings(job, { a1: { hours: 1, life: null, strikes, strikesLife } }).map(({ code, severity }) => [code, severity]);
    expect(pierced(301, 300)).toEqual([['nozzle-worn', 'warning']]);
    expect(pierced(240, 300)).toEqual([['nozzle-wears-out', 'note']]);
    expect(pierced(239, 300)).toEqual([]);
    expect(pierced(9000, null)).toEqual([]);
    const unused = makeJob({ ...bits('v60', { crib: 'a1' }), cuts: { out: base.cuts.out } as JobInput['cuts'], cutOrder: ['out'] });
    expect(wearFindings(unused, { a1: { hours: 9, life: 6 } })).toEqual([]);
    expect(wordsOf(wearFindings(job, { a1: { hours: 6.1, life: 0.5 } })[0], 'mm').what).toMatch(
      /has cut 6\.1 h since it was sharp, and the shop gives it 30 min/,
    );
  });
  it('zero in another corner [12], or on another face [7], is found; the same, or none yet, is not', () => {
    const job = makeJob();
    expect(datumFindings(job, { corner: 'centre', z: 'top' }).map(({ code }) => code)).toEqual(['datum-differs']);
    expect(wordsOf(datumFindings(job, { corner: 'lower-left', z: 'spoilboard' })[0], 'mm').what).toMatch(/spoilboard/);
    expect(datumFindings(job, { corner: 'lower-left', z: 'top' })).toEqual([]);
    expect(datumFindings(job, { corner: null, z: null })).toEqual([]);
  });
});
