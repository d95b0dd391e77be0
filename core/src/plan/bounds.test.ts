/** No figure of a cut, however small, makes a plan that fills the memory or never ends; and no real sign comes near the bounds. */
import { describe, expect, it } from 'vitest';
import type { JobInput } from '../job/index.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { beyondBounds, MOST } from '../cuts/bounds.ts';
import { contextOf, workOf } from '../planned/cut.ts';
import { planJob } from './index.ts';

const TINY = 1e-9;
/** Every figure of a cut that divides something. */
const DIVIDERS: [what: string, cut: object][] = [
  ['depth per pass of a profile', { kind: 'profile', tool: 'end6', depthPerPass: TINY }],
  ['distance of tabs', { kind: 'profile', tool: 'end6', tabEvery: TINY }],
  ['feed', { kind: 'profile', tool: 'end6', feed: TINY }],
  ['depth per pass of a pocket', { kind: 'pocket', tool: 'end6', depthPerPass: TINY }],
  ['step-over of a pocket', { kind: 'pocket', tool: 'end6', stepover: TINY }],
  ['step-over in lines', { kind: 'pocket', tool: 'end6', stepover: TINY, pattern: 'lines' }],
  ['pocket with a bit as thin as nothing', { kind: 'pocket', tool: 'hair' }],
  ['peck', { kind: 'drill', tool: 'end6', peck: TINY, points: [[20, 20]] }],
  ['plunge of a drill', { kind: 'drill', tool: 'end6', plunge: TINY, points: [[20, 20]] }],
  ['depth per pass of an engraving', { kind: 'engrave', tool: 'v60', depthPerPass: TINY }],
  ['step-over of a fill', { kind: 'engrave', tool: 'v60', way: 'fill', stepover: TINY }],
  ['spacing of a hatch', { kind: 'drag', tool: 'drag', fill: 'hatch', spacing: TINY }],
  ['spacing of crossed hatches', { kind: 'drag', tool: 'drag', fill: 'cross', spacing: TINY }],
  ['spacing of rings', { kind: 'drag', tool: 'drag', fill: 'rings', spacing: TINY }],
  ['depth per pass of a V-carve', { kind: 'vcarve', tool: 'v60', depthPerPass: TINY }],
  ['step-over of a V-carve', { kind: 'vcarve', tool: 'v60', floorDepth: 1, stepover: TINY }],
  ['step-over round a plug', { kind: 'vcarve', tool: 'v60', startDepth: 2, floorDepth: 1, stepover: TINY, plug: { margin: 12 } }],
  ['depth per pass of a recess', { kind: 'recess', tool: 'end6', mate: 'end6', depthPerPass: TINY }],
  ['step-over of a recess', { kind: 'recess', tool: 'end6', mate: 'end6', stepover: TINY }],
  ['depth per pass of a plug', { kind: 'plug', tool: 'end6', mate: 'end6', depthPerPass: TINY }],
  ['step-over of a surface', { kind: 'surface', tool: 'end6', stepover: TINY }],
];

const base = makeJob();
const jobWith = (cut: object) =>
  makeJob({
    items: { leaf: { kind: 'rectangle', id: 'leaf', x: 100, y: 40, width: 60, height: 40, radius: 4 } },
    itemOrder: ['leaf'],
    outline: null,
    tools: {
      ...base.tools,
      hair: { kind: 'end', id: 'hair', diameter: 1e-7 },
      drag: { kind: 'drag', id: 'drag', diameter: 6 },
    } as JobInput['tools'],
    cuts: { c: { id: 'c', on: 'art', ...cut } } as unknown as JobInput['cuts'],
    cutOrder: ['c'],
  });

describe('a figure far too small', () => {
  it.each(DIVIDERS)('%s: a finding forbids it, and nothing is planned', async (_, cut) => {
    const { findings, cuts } = await planJob(jobWith(cut), { fonts: fontOf });
    expect(findings).toContainEqual(expect.objectContaining({ code: 'cut-too-much', severity: 'error', cut: 'c' }));
    expect(cuts[0].facts.moves).toBe(0);
  });
});

it('millions of holes are not drawn to the last', async () => {
  const holes = Array.from({ length: 12 }, (_, k) => `h${k}`);
  const one = (id: string) => ({ kind: 'holes', id, x: 100, y: 40, diameter: 20_000, layout: { kind: 'rows', columns: 200, rows: 200, dx: 1, dy: 1 } });
  const job = makeJob({
    items: Object.fromEntries(holes.map((id) => [id, one(id)])) as JobInput['items'],
    itemOrder: holes,
    outline: null,
    cuts: {},
    cutOrder: [],
  });
  const { findings } = await planJob(job, { fonts: fontOf });
  expect(new Set(findings.map(({ code, severity }) => `${severity} ${code}`))).toEqual(new Set(['error art-too-much']));
});

describe('the estimate', () => {
  // By hand: a square of 40, 10 deep in passes of 2, at 1000 mm/min: 5 × 160 mm = 0.8 min.
  it('of a profile round a square is its length and its passes', async () => {
    const job = makeJob({
      items: { s: { kind: 'rectangle', id: 's', x: 100, y: 40, width: 40, height: 40 } },
      itemOrder: ['s'],
      outline: null,
      cuts: { c: { kind: 'profile', id: 'c', on: 'art', tool: 'end6', depth: 10, depthPerPass: 2, feed: 1000 } } as JobInput['cuts'],
      cutOrder: ['c'],
    });
    const { items } = await planJob(job, { fonts: fontOf });
    const { passes, hours } = workOf(job.cuts.c, contextOf(job, job.cuts.c, items));
    expect(passes).toBe(5);
    expect(hours * 60).toBeCloseTo(0.8, 6);
  });
  it('is of the size of what is made, for the sign of the tests', async () => {
    const plan = await planJob(base, { fonts: fontOf });
    for (const { cut, facts } of plan.cuts) {
      const work = workOf(cut, contextOf(base, cut, plan.items));
      expect(beyondBounds(work)).toBeNull();
      expect(work.moves / facts.moves).toBeGreaterThan(0.1);
      expect(work.moves / facts.moves).toBeLessThan(10);
    }
  });
  it('says figures that cannot be counted in words', () => {
    expect(beyondBounds({ passes: Infinity, moves: 1, hours: 1 })).toMatch(/more than can be counted/);
    expect(beyondBounds({ passes: MOST.passes, moves: MOST.moves, hours: MOST.hours })).toBeNull();
  });
});
