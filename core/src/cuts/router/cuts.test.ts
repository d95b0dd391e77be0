/** Pocket, drill and engrave: what must hold on any shape, and what common practice and geometry say. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { drawItem, drawSubpaths, parsePath } from '../../artwork/index.ts';
import { letterRegions, setText } from '../../artwork/text/index.ts';
import { circle, contourOf, distanceToEdges, insideRegion, offset, regionArea, strokeRegions, subtract, unite, type Region } from '../../geometry/index.ts';
import { Bit, Cut, makeItem, type CutOf, type Job } from '../../job/index.ts';
import { planJob, writePrograms } from '../../plan/index.ts';
import { readProgram } from '../../program/index.ts';
import { shapeOf, type PointedBit } from '../../bits/index.ts';
import { carve, HeightMap } from '../../proof/index.ts';
import { fontOf, makeJob, mixedJob } from '../../reference/fixtures.ts';
import { often } from '../../reference/chance.ts';
import { rapidFaults } from '../../reference/rapids.ts';
import { RAPID, type Toolpath } from '../../toolpath/index.ts';
import { planDrill } from './drill.ts';
import { planEngrave } from './engrave.ts';
import { planPocket } from './pocket.ts';

const travel = { clearance: 5, feed: 2400, plunge: 800 };
const end = (diameter: number) => Bit.parse({ kind: 'end', id: 'e', diameter });
const vee = (angle: number, more: object = {}) => Bit.parse({ kind: 'v', id: 'v', angle, diameter: 12.7, ...more }) as PointedBit;
const pocket = (more: object = {}) => Cut.parse({ kind: 'pocket', id: 'p', on: 'art', tool: 'e', ...more }) as CutOf<'pocket'>;
const shapes = (d: string): Region[] => unite(drawSubpaths(parsePath(d).subpaths, 0.005, true).contours, 'evenodd');
const area = (regions: readonly Region[]) => regions.reduce((sum, region) => sum + regionArea(region), 0);
const letters = (text: string, face: string, capHeight: number) =>
  letterRegions(setText({ text, capHeight, lineSpacing: 1.5, letterSpacing: 0, align: 'left' }, fontOf(face)!), 0.005);

/** What the bit sweeps at one depth or deeper, as regions. */
function swept(path: Toolpath, radius: number, z: number): Region[] {
  const lines: { xy: Float64Array; smooth: Uint8Array }[] = [];
  let xy: number[] = [];
  const end = () => {
    if (xy.length >= 4) lines.push({ xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2) });
    xy = [];
  };
  for (let i = 1; i < path.kind.length; i++) {
    const cutting = path.kind[i] !== RAPID && path.z[i] <= z + 1e-9 && path.z[i - 1] <= z + 1e-9;
    if (!cutting) end();
    else {
      if (xy.length === 0) xy.push(path.x[i - 1], path.y[i - 1]);
      xy.push(path.x[i], path.y[i]);
    }
  }
  end();
  return strokeRegions(lines, 2 * radius, false);
}

/** Nothing outside, nothing left inside that the bit could reach, nothing deeper than asked, no rapid in the wood. */
function sound(regions: readonly Region[], path: Toolpath, radius: number, depth: number, reachable = offset(offset(regions, -radius), radius)) {
  let lowest = 0;
  let nearest = Infinity;
  for (let i = 0; i < path.kind.length; i++) {
    lowest = Math.min(lowest, path.z[i]);
    if (path.kind[i] === RAPID || path.z[i] > 0) continue;
    const [x, y] = [path.x[i], path.y[i]];
    nearest = Math.min(nearest, regions.some((region) => insideRegion(region, x, y)) ? distanceToEdges(regions, x, y) : 0);
  }
  expect(lowest).toBeGreaterThanOrEqual(-depth - 1e-9);
  expect(rapidFaults(path, travel.clearance)).toEqual([]);
  expect(nearest).toBeGreaterThanOrEqual(radius - 0.006);
  const done = swept(path, radius, -depth);
  // A hair along the walls is what the flattening of arcs leaves.
  const left = subtract(offset(reachable, -0.01), done).filter((part) => area([part]) > 0.02);
  expect(area(left)).toBeLessThan(1e-3 * area(reachable) + 0.02);
  expect(area(subtract(done, offset(regions, 0.006)))).toBeLessThan(0.05);
}

const SHAPES: [string, Region[]][] = [
  ['a square', shapes('M0 0H60V40H0Z')],
  ['a frame with two islands', shapes('M0 0H80V50H0ZM15 15H30V35H15ZM50 15H65V35H50Z')],
  ['an L', shapes('M0 0H60V18H18V60H0Z')],
  ['a star', shapes('M30 0L37 22L60 22L41 35L48 58L30 44L12 58L19 35L0 22L23 22Z')],
  [
    'a ring',
    [
      {
        outer: circle(0, 0, 30),
        holes: [
          {
            ...circle(0, 0, 20),
            xy: circle(0, 0, 20)
              .xy.slice()
              .reverse()
              .map((_, i, all) => all[i % 2 ? i - 1 : i + 1]),
          },
        ],
      },
    ],
  ],
  ['letters', letters('Re8&', 'playfair', 60)],
];

describe('pocket', () => {
  describe.each(SHAPES)('%s', (_name, regions) => {
    it.each([
      ['rings', {}],
      ['rings far apart', { stepover: 2.7 }],
      ['lines at 30 degrees', { pattern: 'lines', angle: 30 }],
      ['conventional', { direction: 'conventional' }],
    ])('%s: all that can be reached, nothing else', (_how, more) => {
      const { path, unreached, lifts } = planPocket(regions, pocket({ depth: 4, depthPerPass: 2, ...more }), end(3), travel);
      sound(regions, path, 1.5, 4);
      // What stays in the corners, by offsets of its own.
      expect(unreached).toBeCloseTo(area(regions) - area(offset(offset(regions, -1.5), 1.5)), 0);
      expect(lifts).toBeGreaterThan(0);
    });
  });
  it('any outline that a hand might draw (random)', () => {
    const coordinate = fc.integer({ min: 0, max: 400 }).map((n) => n / 5);
    fc.assert(
      fc.property(fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 12 }), fc.constantFrom('rings', 'lines'), (points, pattern) => {
        const regions = unite([contourOf(points.flat())], 'evenodd');
        const { path } = planPocket(regions, pocket({ pattern }), end(3), travel);
        sound(regions, path, 1.5, 3);
      }),
      often(25),
    );
  });
  it('goes down in steps no deeper than asked, and never faster than the plunge rate', () => {
    const { path } = planPocket(SHAPES[0][1], pocket({ depth: 7, depthPerPass: 3 }), end(6), travel);
    const depths = [...new Set(path.spans.map(({ label }) => label))];
    expect(depths).toEqual(['pocket, pass 1 of 3', 'pocket, pass 2 of 3', 'pocket, pass 3 of 3']);
    for (let i = 1; i < path.kind.length; i++) {
      const dz = path.z[i - 1] - path.z[i];
      if (path.kind[i] === RAPID || dz <= 0) continue;
      const length = Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1], dz);
      expect((path.feed[i] * dz) / length).toBeLessThanOrEqual(travel.plunge + 1e-6);
    }
  });
  it.each([
    ['helix', 'helix'],
    ['auto', 'helix'],
    ['ramp', 'ramp'],
    ['straight', 'straight'],
  ])('entry %s: %s', (entry, how) => {
    const { path } = planPocket(SHAPES[0][1], pocket({ depth: 3, entry }), end(6), travel);
    const first = path.kind.findIndex((kind, i) => kind !== RAPID && path.z[i] < 0);
    const sloped = Math.hypot(path.x[first] - path.x[first - 1], path.y[first] - path.y[first - 1]) > 1e-6;
    expect(sloped).toBe(how !== 'straight');
  });
  it('leaves an allowance on the wall and takes it off last, at full depth', () => {
    const { path } = planPocket(SHAPES[0][1], pocket({ depth: 4, depthPerPass: 2, allowance: 0.5 }), end(6), travel);
    const wall = path.spans.filter(({ label }) => label === 'wall');
    expect(wall).toHaveLength(1);
    expect(wall[0].end).toBeGreaterThanOrEqual(path.kind.length - 1);
    for (let i = 0; i < wall[0].start; i++)
      if (path.kind[i] !== RAPID && path.z[i] < 0) expect(distanceToEdges(SHAPES[0][1], path.x[i], path.y[i])).toBeGreaterThan(3.49);
    sound(SHAPES[0][1], path, 3, 4);
  });
  it('after a larger bit, a smaller one cuts only what that could not reach - and with it all is reached', () => {
    for (const [, regions] of SHAPES) {
      const large = planPocket(regions, pocket(), end(8), travel);
      const small = planPocket(regions, pocket({ after: 'large' }), end(3), travel, { cleared: end(8) });
      const all = planPocket(regions, pocket(), end(3), travel);
      const length = ({ path }: { path: Toolpath }) =>
        path.x.reduce((sum, x, i) => (i && path.kind[i] !== RAPID ? sum + Math.hypot(x - path.x[i - 1], path.y[i] - path.y[i - 1]) : sum), 0);
      expect(length(small)).toBeLessThan(length(all));
      const reachable = offset(offset(regions, -1.5), 1.5);
      const done = [...swept(large.path, 4, -3), ...swept(small.path, 1.5, -3)];
      const left = subtract(offset(reachable, -0.02), done).filter((part) => area([part]) > 0.03);
      expect(area(left)).toBeLessThan(1e-3 * area(reachable) + 0.02);
    }
  });
  it('says what is too narrow for the bit', () => {
    const { unreachable, path } = planPocket(shapes('M0 0H50V2H0Z'), pocket(), end(3), travel);
    expect([unreachable, path.kind.length]).toEqual([1, 0]);
  });
});

const drill = (more: object = {}) => Cut.parse({ kind: 'drill', id: 'd', on: 'art', tool: 'd', ...more }) as CutOf<'drill'>;
const drillBit = (diameter: number) => Bit.parse({ kind: 'drill', id: 'd', diameter, fluteLength: 60 });
const board = makeJob().board;

describe('drill', () => {
  const holes = unite([circle(10, 10, 2.5), circle(40, 10, 2.5), circle(25, 30, 2.5)]);
  it('pecks every hole in its middle, at most 3.2 mm a peck (common practice), through by its allowance', () => {
    const { path, depth, through } = planDrill(holes, drill(), drillBit(5), board, travel);
    // 18 + 0.5 at full width, and the point of 118 degrees below that: 2.5 / tan 59 = 1.502.
    expect(depth).toBeCloseTo(20.002, 3);
    expect(through).toBe(true);
    const bottoms = path.z.reduce<string[]>(
      (all, z, i) => (path.kind[i] !== RAPID && z < 0 ? [...all, `${path.x[i].toFixed(3)} ${path.y[i].toFixed(3)}`] : all),
      [],
    );
    expect(new Set(bottoms)).toEqual(new Set(['10.000 10.000', '40.000 10.000', '25.000 30.000']));
    // From 1 mm above the board: ceil(21.002 / 3.2) = 7 pecks a hole.
    expect(bottoms).toHaveLength(21);
    for (let i = 2; i < path.kind.length; i++) {
      if (path.kind[i] === RAPID) continue;
      expect(path.z[i - 1] - path.z[i]).toBeLessThanOrEqual(3.2 + 0.25 + 1e-9);
      // Out of the hole between pecks, and rapidly back to just above its bottom - never at the plunge rate through air.
      if (path.z[i - 1] < 1) expect([path.kind[i - 2], path.kind[i - 1], path.z[i - 2]]).toEqual([RAPID, RAPID, 1]);
    }
  });
  it('through means the full width comes out below; a blind hole says which depth is meant', () => {
    const tenth = (z: number) => Math.round(z * 100) / 100;
    const deep = (more: object, bit: Bit) => tenth(planDrill(holes, drill({ ...more }), bit, board, travel).depth);
    // 10 mm, 118 degrees: a point of 5 / tan 59 = 3.00.
    const large = drillBit(10);
    const wide = (more: object) => tenth(planDrill([], drill({ points: [[20, 20]], ...more }), large, board, travel).depth);
    expect(wide({})).toBe(21.5);
    expect(wide({ depth: 8 })).toBe(8);
    expect(wide({ depth: 8, depthOf: 'width' })).toBe(11);
    // A straight bit has no point.
    expect([deep({}, end(3)), deep({ depth: 8, depthOf: 'width' }, end(3))]).toEqual([18.5, 8]);
    // And so it stands in the wood: at the back of the board the hole is as wide as at the top.
    const map = new HeightMap(50, 50, 0.1);
    carve(map, planDrill([], drill({ points: [[20, 20]] }), large, board, travel).path, shapeOf(large));
    for (const [x, open] of [
      [20, true],
      [24.9, true],
      [25.2, false],
    ] as const)
      expect(map.height[Math.floor(20.05 / 0.1) * map.columns + Math.floor(x / 0.1)] <= -board.thickness).toBe(open);
  });
  it('a twist drill is never sent on a helix: it drills its own size in the middle, and that is said', async () => {
    const { path, wider } = planDrill(unite([circle(25, 25, 6)]), drill({ depth: 6 }), drillBit(5), board, travel);
    expect(wider).toBe(1);
    for (let i = 1; i < path.kind.length; i++) if (path.kind[i] !== RAPID) expect([path.x[i], path.y[i]].map(Math.round)).toEqual([25, 25]);
    const { wider: none } = planDrill(unite([circle(25, 25, 2.5)]), drill({ depth: 6 }), drillBit(5), board, travel);
    expect(none).toBe(0);
  });
  it('a hole wider than the bit is cut in a helix to its own width, with no core left', () => {
    for (const diameter of [8, 20, 35]) {
      const { path } = planDrill(unite([circle(25, 25, diameter / 2)]), drill({ depth: 6 }), end(6), board, travel);
      const map = new HeightMap(50, 50, 0.1);
      carve(map, path, shapeOf(end(6)));
      const wrong = { high: 0, low: 0 };
      for (let j = 0; j < map.rows; j++)
        for (let i = 0; i < map.columns; i++) {
          const from = Math.hypot((i + 0.5) * 0.1 - 25, (j + 0.5) * 0.1 - 25);
          const h = map.height[j * map.columns + i];
          if (from < diameter / 2 - 0.02) wrong.high = Math.max(wrong.high, Math.abs(h + 6));
          if (from > diameter / 2 + 0.02) wrong.low = Math.max(wrong.low, Math.abs(h));
        }
      expect(wrong.high).toBeLessThan(1e-4);
      expect(wrong.low).toBe(0);
    }
  });
  it('leaves what is not round or too narrow, and says how many', () => {
    const plan = planDrill([...holes, ...shapes('M60 0H70V10H60Z'), ...unite([circle(80, 10, 1)])], drill(), drillBit(5), board, travel);
    expect([plan.holes.length, plan.notRound, plan.tooNarrow]).toEqual([3, 1, 1]);
  });
});

describe('engrave', () => {
  const cut = (more: object = {}) => Cut.parse({ kind: 'engrave', id: 'g', on: 'art', tool: 'v', ...more }) as CutOf<'engrave'>;
  it('follows single-line words stroke by stroke, back and forth, at the depth of each pass', () => {
    const words = makeItem({ kind: 'text', id: 't', x: 50, y: 30, text: 'HEI', face: 'single-line', capHeight: 20 });
    const drawn = drawItem(words, { fonts: fontOf, tolerance: 0.005, items: {} });
    // H is three strokes, E one and its middle, I one.
    const { path, lifts } = planEngrave(drawn.regions, drawn.lines, cut({ depth: 1, depthPerPass: 0.5 }), vee(60), travel, 0.01);
    expect(lifts).toBe(6);
    const depths = [...new Set([...path.z].filter((z) => z < 0))].sort();
    expect(depths).toEqual([-0.5, -1]);
    const runs = path.kind.reduce((sum, kind, i) => sum + (i && kind !== RAPID && path.z[i - 1] > 0 ? 1 : 0), 0);
    expect(runs).toBe(6);
  });
  it('follows the outline of a shape all round', () => {
    const { path } = planEngrave(shapes('M0 0H10V10H0Z'), [], cut(), vee(60), travel, 0.01);
    const length = path.x.reduce(
      (sum, x, i) => (i && path.kind[i] !== RAPID && path.z[i - 1] < 0 ? sum + Math.hypot(x - path.x[i - 1], path.y[i] - path.y[i - 1]) : sum),
      0,
    );
    expect(length).toBeCloseTo(40, 9);
  });
});

describe('a job with every cut', () => {
  const job = mixedJob({
    cuts: {
      drill: { kind: 'drill', id: 'drill', on: ['holes'], tool: 'drill5' },
      carve: { kind: 'vcarve', id: 'carve', on: ['words'], tool: 'v60' },
      clear: { kind: 'pocket', id: 'clear', on: ['plate'], tool: 'end6', depth: 4 },
      rest: { kind: 'pocket', id: 'rest', on: ['plate'], tool: 'end3', depth: 4, after: 'end6' },
      groove: { kind: 'engrave', id: 'groove', on: ['line'], tool: 'v60' },
      out: { kind: 'profile', id: 'out', on: 'outline', tool: 'end6' },
    },
    cutOrder: ['drill', 'carve', 'clear', 'rest', 'groove', 'out'],
  }) satisfies Job;
  it('is planned without a finding that forbids it, and its programs read back to the same places and depths', async () => {
    const plan = await planJob(job, { fonts: fontOf });
    expect(plan.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
    expect(plan.cuts.map(({ facts }) => facts.moves > 0)).toEqual(plan.cuts.map(() => true));
    const [file] = writePrograms(job, plan, '2026-01-01', 'pauses');
    for (const what of ['drill: depth 20', 'pocket: depth 4', 'engrave: depth 0.5', 'profile outside']) expect(file.text).toContain(what);
    const program = readProgram(file.text);
    expect(program.findings).toEqual([]);
    expect((await planJob(job, { fonts: fontOf })).cuts.map(({ path }) => [...path.x, ...path.z])).toEqual(plan.cuts.map(({ path }) => [...path.x, ...path.z]));
  });
  it('refuses a pocket with a V bit and one deeper than the board, in words', async () => {
    const wrong = await planJob({ ...job, cuts: { ...job.cuts, clear: { ...job.cuts.clear, tool: 'v60' } as Job['cuts'][string] } }, { fonts: fontOf });
    expect(wrong.findings.map(({ code }) => code)).toContain('cut-wrong-bit');
    const deep = await planJob({ ...job, cuts: { ...job.cuts, clear: { ...job.cuts.clear, depth: 18 } as Job['cuts'][string] } }, { fonts: fontOf });
    expect(deep.findings.map(({ code }) => code)).toContain('deeper-than-board');
  });
});
