/** Each finding of a torch, and a near miss. */
import { describe, expect, it } from 'vitest';
import { wordsOf } from '../findings/index.ts';
import { fontOf, makeJob, plateJob } from '../reference/fixtures.ts';
import type { JobInput } from '../job/index.ts';
import { planJob } from '../plan/index.ts';

const disc = (id: string, x: number, y: number, width: number) => ({ kind: 'ellipse' as const, id, x, y, width, height: width });
const square = (id: string, x: number, y: number, width: number, height = width) => ({ kind: 'rectangle' as const, id, x, y, width, height });
type Items = NonNullable<JobInput['items']>[string][];

async function found(items: Items, cut: object = {}, thickness = 3, more: Partial<JobInput> = {}) {
  const job = makeJob({ ...(plateJob(items, cut, { ...PLATE, thickness }) as JobInput), ...more });
  return (await planJob(job, { fonts: fontOf })).findings;
}
const LINE = { kind: 'line' as const, id: 'line', x: 60, y: 60, length: 50 };

const PLATE = { width: 200, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats' as const };
const ROW = (count: number) => Array.from({ length: count }, (_, k) => square(`r${k}`, 20 + 30 * k, 100, 20));
type Case = [code: string, severity: string, trigger: Parameters<typeof found>, near: Parameters<typeof found>];
const CASES: Case[] = [
  ['torch-open-lines', 'error', [[square('s', 100, 100, 60), LINE]], [[square('s', 100, 100, 60), LINE], { side: 'on' }]],
  ['torch-kerf-at-machine', 'warning', [[square('s', 100, 100, 60)], { kerfBy: 'machine' }], [[square('s', 100, 100, 60)]]],
  // Six of 20 within a hand's breadth, in plate of 1.5 mm; four of them, and in plate of 2 mm.
  ['torch-heat', 'note', [ROW(6), {}, 1.5], [ROW(4), {}, 1.5]],
  ['torch-heat', 'note', [ROW(6), {}, 1.5], [ROW(6), {}, 2]],
  // An opening of 40 in the plate, 5 mm into the part and 5 mm off it.
  [
    'torch-over-gone',
    'error',
    [[square('s', 100, 100, 60)], {}, 3, { board: { ...PLATE, gone: [[125, 80, 165, 80, 165, 120, 125, 120]] } }],
    [[square('s', 100, 100, 60)], {}, 3, { board: { ...PLATE, gone: [[135, 80, 175, 80, 175, 120, 135, 120]] } }],
  ],
  [
    'torch-small-hole',
    'warning',
    [[square('s', 100, 100, 60), disc('d', 100, 100, 5.9)], {}, 6],
    [[square('s', 100, 100, 60), disc('d', 100, 100, 6.2)], {}, 6],
  ],
  // A strip of 2.9 mm, of 3.2 mm, between two openings in plate of 3 mm.
  [
    'torch-thin-web',
    'warning',
    [[square('s', 100, 100, 120), square('a', 80, 100, 37.1, 60), square('b', 120, 100, 37.1, 60)]],
    [[square('s', 100, 100, 120), square('a', 80, 100, 36.8, 60), square('b', 120, 100, 36.8, 60)]],
  ],
  // Two squares of 40: 1.4 mm apart, with a kerf of 1.5, and 1.6 mm.
  [
    'torch-parts-too-close',
    'warning',
    [[square('s', 60, 100, 40), square('t', 101.4, 100, 40)], { kerf: 1.5 }],
    [[square('s', 60, 100, 40), square('t', 101.6, 100, 40)], { kerf: 1.5 }],
  ],
  ['torch-kerf-too-wide', 'error', [[disc('d', 100, 100, 1.4)], { side: 'inside' }], [[disc('d', 100, 100, 1.7)], { side: 'inside' }]],
  // 5 mm to every edge of the plate.
  ['torch-pierce-on-line', 'warning', [[square('s', 100, 100, 190)], { leadIn: 10, crater: 10 }], [[square('s', 100, 100, 190)]]],
  // Slats 100 mm apart, the first at 50: a square of 60 round the one at 50 tips - its weight hangs beside it -, one over two lies still.
  // Below it, to the left of it, comes the next: the way there leads over it, or it does not.
  ['torch-tips', 'note', [[square('s', 60, 100, 60)]], [[square('s', 100, 100, 150, 60)]]],
  [
    'torch-over-tipping',
    'warning',
    [[square('a', 60, 60, 60), square('b', 60, 140, 60), square('c', 60, 100, 10)], { startsAt: [{ item: 'a', u: 0.5, v: 0 }] }],
    [[square('a', 60, 60, 60), square('b', 60, 140, 60), square('c', 60, 100, 10)], { startsAt: [{ item: 'a', u: 0.5, v: 0 }], microTab: 1 }],
  ],
  // Half a kerf beside its line: 0.7 mm from the edge is too near, 0.8 is not.
  ['torch-off-plate', 'error', [[square('s', 30.7, 100, 60)]], [[square('s', 30.8, 100, 60)]]],
  [
    'torch-aluminium-water',
    'note',
    [[square('s', 100, 100, 60)], {}, 3, { board: { width: 200, height: 200, thickness: 3, material: 'aluminium', holdDown: 'slats' } }],
    [[square('s', 100, 100, 60)]],
  ],
  ['cut-wrong-bit', 'error', [[square('s', 100, 100, 60)], {}, 3, { tools: { n: { kind: 'end', id: 'n', diameter: 6 } } }], [[square('s', 100, 100, 60)]]],
  ['art-overlap', 'warning', [[square('s', 100, 100, 60), square('t', 120, 120, 60)]], [[square('s', 100, 100, 60), disc('d', 100, 100, 30)]]],
];

describe('each finding, and a near miss', () => {
  it.each(CASES)('%s', async (code, severity, trigger, near) => {
    const hit = (await found(...trigger)).filter((one) => one.code === code);
    expect(hit.length, `${code} is found`).toBeGreaterThan(0);
    expect(hit[0].severity).toBe(severity);
    const { what, why, remedy } = wordsOf(hit[0], 'mm');
    for (const text of [what, why, remedy]) expect(text.length).toBeGreaterThan(10);
    expect(Object.values(wordsOf(hit[0], 'in')).join(' ')).not.toMatch(/\bmm\b/);
    expect((await found(...near)).map((one) => one.code)).not.toContain(code);
  });
  it('a plain panel with a hole brings up nothing that forbids or needs a tick', async () => {
    const findings = await found([square('s', 100, 100, 100), disc('d', 100, 100, 40)]);
    expect(findings.filter(({ severity }) => severity !== 'note')).toEqual([]);
  });
  it('a router job takes no torch cut, and a torch job no bit of a router', () => {
    expect(() => makeJob({ cuts: { c: { kind: 'torch', id: 'c', on: 'art', tool: 'end6' } }, cutOrder: ['c'] })).toThrow(
      /made by a plasma torch, and this job is for a router/,
    );
    expect(() => makeJob({ process: 'torch' })).toThrow(/made by a router, and this job is for a plasma torch/);
  });
});
