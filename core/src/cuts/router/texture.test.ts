/** Texture: evenly apart, inside its shape by half a groove, clear of what it keeps off, and the same field for the same number. */
import { describe, expect, it } from 'vitest';
import { grooveWidth } from '../../bits/index.ts';
import { distanceToEdges, insideRegion } from '../../geometry/index.ts';
import { Cut, type CutOf, type Job, type JobInput } from '../../job/index.ts';
import { planJob, writePrograms } from '../../plan/index.ts';
import { targetRegions } from '../../planned/items.ts';
import { carvePlan, differenceOf, HeightMap } from '../../proof/index.ts';
import { fontOf, makeJob } from '../../reference/fixtures.ts';
import { RAPID } from '../../toolpath/index.ts';

const PLATE = { kind: 'rectangle' as const, id: 'plate', x: 100, y: 40, width: 120, height: 50 };
const WORDS = { kind: 'text' as const, id: 'words', x: 100, y: 40, text: 'Reed', face: 'playfair', capHeight: 18 };

function jobWith(change: object, items: JobInput['items'] = { plate: PLATE, words: WORDS }): Job {
  return makeJob({
    items,
    itemOrder: Object.keys(items),
    outline: null,
    tools: { v90: { kind: 'v', id: 'v90', angle: 90, diameter: 12.7 }, v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 } },
    cuts: {
      ground: Cut.parse({ kind: 'texture', id: 'ground', on: ['plate'], tool: 'v90', depth: 0.5, spacing: 3, ...change }),
      carve: Cut.parse({ kind: 'vcarve', id: 'carve', on: ['words'], tool: 'v60' }),
    },
    cutOrder: ['ground', 'carve'],
  });
}
const plan = (job: Job) => planJob(job, { fonts: fontOf });
/** Grooves as from, to, and their points below the top. */
async function groovesOf(job: Job) {
  const { path } = (await plan(job)).cuts[0];
  const out: [number, number][][] = [];
  for (let i = 0; i < path.kind.length; i++) {
    if (path.kind[i] === RAPID || path.z[i] >= 0) continue;
    if (i === 0 || path.z[i - 1] >= 0) out.push([]);
    out[out.length - 1].push([path.x[i], path.y[i]]);
  }
  return out;
}
const lengthOf = (points: [number, number][]) => points.reduce((sum, [x, y], i) => sum + (i ? Math.hypot(x - points[i - 1][0], y - points[i - 1][1]) : 0), 0);

describe('straight grooves', () => {
  it('stand one spacing apart, right across, half a groove inside the edge', async () => {
    const grooves = await groovesOf(jobWith({}));
    const rows = [...new Set(grooves.map(([[, y]]) => Math.round(y * 1000) / 1000))].sort((a, b) => a - b);
    // The plate is 50 high, a groove 0.5 deep at 90° is 1 wide: middles from 15.5 to 64.5, those at 40 ± 3 k.
    expect(rows).toEqual(Array.from({ length: 17 }, (_, k) => 16 + 3 * k));
    for (const points of grooves) {
      const xs = points.map(([x]) => x).sort((a, b) => a - b);
      expect(xs[0]).toBeCloseTo(40.5, 2);
      expect(xs.at(-1)).toBeCloseTo(159.5, 2);
    }
  });
  it('run at the angle that was asked for', async () => {
    for (const points of await groovesOf(jobWith({ angle: 30 }))) {
      const [[ax, ay], [bx, by]] = [points[0], points.at(-1)!];
      expect(Math.abs(Math.atan2(by - ay, bx - ax) * (180 / Math.PI)) % 180).toBeCloseTo(points[0][0] < bx ? 30 : 150, 1);
    }
  });
});

describe('nothing is carved outside', () => {
  const cases: [string, object][] = [
    ['wavy', { wave: 2, wavelength: 20 }],
    ['wavy at an angle, in random lengths', { wave: 1.5, wavelength: 14, angle: 37, grooveLength: 9 }],
    ['clear of the letters', { keepOff: 'carve', clear: 1.5, wave: 1 }],
    ['in letters themselves', { on: ['words'], spacing: 1, depth: 0.2 }],
  ];
  it.each(cases)('%s', async (_what, change) => {
    const job = jobWith(change);
    const { items, cuts, findings } = await plan(job);
    const cut = job.cuts.ground as CutOf<'texture'>;
    const half = grooveWidth(job.tools.v90, cut.depth) / 2;
    const regions = targetRegions(job, cut, items);
    const letters = targetRegions(job, job.cuts.carve, items);
    const grooves = await groovesOf(job);
    expect(grooves.length).toBeGreaterThan(5);
    for (const [x, y] of grooves.flat()) {
      expect(regions.some((region) => insideRegion(region, x, y))).toBe(true);
      expect(distanceToEdges(regions, x, y)).toBeGreaterThan(half - 0.01);
      if (cut.keepOff) {
        expect(letters.some((region) => insideRegion(region, x, y))).toBe(false);
        expect(distanceToEdges(letters, x, y)).toBeGreaterThan(half + cut.clear - 0.01);
      }
    }
    expect(findings.filter(({ severity, cut: of }) => severity === 'error' && of === 'ground')).toEqual([]);
    const map = new HeightMap(job.board.width, job.board.height, 0.2);
    carvePlan(map, cuts.slice(0, 1));
    const { left, over } = differenceOf(job, items, cuts.slice(0, 1), map);
    expect([left.area, over.area]).toEqual([0, 0]);
  });
});

describe('random lengths', () => {
  it('are those of the number: the same again, others for another', async () => {
    const [first, again, other] = await Promise.all([1, 1, 2].map((seed) => groovesOf(jobWith({ grooveLength: 8, seed }))));
    expect(again).toEqual(first);
    expect(other).not.toEqual(first);
  });
  it('lie between half and one and a half times the mean, but where the edge cuts them short', async () => {
    const lengths = (await groovesOf(jobWith({ grooveLength: 8 }))).map(lengthOf);
    expect(Math.max(...lengths)).toBeLessThanOrEqual(12 + 1e-6);
    const mean = lengths.reduce((sum, one) => sum + one, 0) / lengths.length;
    expect(mean).toBeGreaterThan(6);
    expect(mean).toBeLessThan(10);
  });
});

describe('what a texture keeps clear of', () => {
  it('is planned again when it changes', async () => {
    const near = await groovesOf(jobWith({ keepOff: 'carve', clear: 0.5 }));
    expect(await groovesOf(jobWith({ keepOff: 'carve', clear: 3 }))).not.toEqual(near);
    const moved = jobWith({ keepOff: 'carve', clear: 0.5 }, { plate: PLATE, words: { ...WORDS, x: 80 } });
    expect(await groovesOf(moved)).not.toEqual(near);
  });
  it('must be a cut of the job', () => {
    expect(() => jobWith({ keepOff: 'gone' })).toThrow(/keeps clear of “gone”, which is no cut of the job/);
  });
});

it('a shape too small for one groove is said, and the program says how the field is made', async () => {
  const small = await plan(jobWith({}, { plate: { ...PLATE, width: 0.6, height: 0.6 }, words: WORDS }));
  expect(small.findings.map(({ code }) => code)).toContain('cut-makes-nothing');
  const job = jobWith({ wave: 2, grooveLength: 12, seed: 7 });
  const header = writePrograms(job, await plan(job), '2026-01-31')[0].text.replaceAll(/\)\n\( +/g, ' ');
  expect(header).toMatch(/texture: depth 0\.5 mm.*, grooves 3 mm apart at 0 deg, wavy 2 mm in 30 mm, about 12 mm long, seed 7/);
});
