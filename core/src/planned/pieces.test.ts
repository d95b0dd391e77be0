/** What comes free, tips and falls: against a flood fill on a fine grid, and against a table worked by hand. */
import { describe, expect, it } from 'vitest';
import { Board } from '../board/index.ts';
import { circle, contourOf, rectangle, type Region } from '../geometry/index.ts';
import { JOB_VERSION, readJob, type Job, type JobInput } from '../job/index.ts';
import { planJob, releasePrograms } from '../plan/index.ts';
import { fontOf } from '../reference/fixtures.ts';
import { carvePlan, differenceOf, HeightMap } from '../proof/index.ts';
import { weightOf } from '../board/gauge.ts';
import { centreOf, liesOn, piecesOf } from './pieces.ts';

const torchJob = (items: JobInput['items'], cut: object = {}, board: object = {}): Job => {
  const reading = readJob({
    kerbe: JOB_VERSION,
    process: 'torch',
    name: 'Panel',
    board: { width: 300, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats', ...board },
    items,
    itemOrder: Object.keys(items),
    tools: { n: { kind: 'nozzle', id: 'n' } },
    cuts: { c: { kind: 'torch', id: 'c', on: 'art', tool: 'n', leadIn: 3, ...cut } },
    cutOrder: ['c'],
    program: { clearance: 15 },
  });
  if (!reading.ok) throw new Error(reading.why.join('\n'));
  return reading.job;
};
const WORDS: JobInput['items'] = { words: { kind: 'text', id: 'words', x: 150, y: 100, text: 'ABRO 8', face: 'plex', capHeight: 50 } };
const SHAPES: JobInput['items'] = {
  frame: { kind: 'rectangle', id: 'frame', x: 90, y: 100, width: 140, height: 140 },
  hole: { kind: 'ellipse', id: 'hole', x: 90, y: 100, width: 80, height: 60 },
  island: { kind: 'ellipse', id: 'island', x: 90, y: 100, width: 30, height: 30 },
  disc: { kind: 'ellipse', id: 'disc', x: 230, y: 100, width: 60, height: 60 },
};

/** Pieces on a grid of what the height map shows as standing, larger than a speck: how many, and how large. */
function flooded(map: HeightMap, least: number): number[] {
  const { columns, rows, height, cell } = map;
  const seen = new Uint8Array(columns * rows);
  const sizes: number[] = [];
  for (let i = 0; i < seen.length; i++) {
    if (seen[i] || height[i] < 0) continue;
    let count = 0;
    const open = [i];
    seen[i] = 1;
    for (let k = open.pop(); k !== undefined; k = open.pop()) {
      count++;
      const [x, y] = [k % columns, Math.floor(k / columns)];
      for (const [nx, ny] of [
        [x - 1, y],
        [x + 1, y],
        [x, y - 1],
        [x, y + 1],
      ]) {
        // prettier-ignore
        const n = ny * columns + nx;
        if (nx < 0 || ny < 0 || nx >= columns || ny >= rows || seen[n] || height[n] < 0) continue;
        seen[n] = 1;
        open.push(n);
      }
    }
    if (count * cell * cell > least) sizes.push(count * cell * cell);
  }
  return sizes.sort((a, b) => b - a);
}

/** No edge of what is drawn lies on the middle of a cell. */
const CELL = 0.16;

describe('against a flood fill of the cut plate', () => {
  it.each([
    ['words cut out', WORDS, { side: 'inside' }],
    ['words kept', WORDS, { side: 'auto' }],
    ['parts in parts', SHAPES, {}],
    ['on the line', SHAPES, { side: 'on' }],
    ['held by tabs', SHAPES, { microTab: 1.5 }],
    ['with the kerf at the machine', SHAPES, { kerfBy: 'machine' }],
    ['with loops', SHAPES, { corners: 'triangle' }],
  ])('%s', async (_name, items, cut) => {
    const job = torchJob(items, cut);
    const plan = await planJob(job, { fonts: fontOf });
    const pieces = piecesOf(job.board, plan.cuts);
    const map = carvePlan(new HeightMap(300, 200, CELL), plan.cuts);
    const grid = flooded(map, 2);
    const areas = pieces.map(({ area }) => area).filter((area) => area > 2).sort((a, b) => b - a); // prettier-ignore
    expect(areas).toHaveLength(grid.length);
    for (const [k, area] of areas.entries()) expect(Math.abs(area - grid[k])).toBeLessThan(2 + 0.02 * area);
    // Tabs hold every part: frame and disc in the plate, the island in what falls out of the hole.
    if ('microTab' in cut)
      expect(pieces.map(({ part, holds }) => [part, holds]).sort()).toEqual([
        [false, 1],
        [false, 2],
      ]);
    // All of the plate is somewhere.
    const kerf = [...map.height].filter((z) => z < 0).length * CELL * CELL;
    expect(areas.reduce((sum, area) => sum + area, 0) + kerf).toBeCloseTo(300 * 200, -2);
  });
});

describe('what is proved of a torch job', () => {
  it('nothing of a part is taken, and all round it is cut through; its program passes the gate', async () => {
    for (const cut of [
      {},
      { kerfBy: 'machine' },
      { side: 'inside' },
      { corners: 'round' },
      { touch: 'far' },
      { floatTravel: 1.1 },
      { order: 'across', touch: 'far' },
      { order: 'rows' },
      { order: 'drawn' },
    ]) {
      const job = torchJob({ disc: SHAPES.disc, frame: SHAPES.frame }, cut);
      const plan = await planJob(job, { fonts: fontOf });
      const map = carvePlan(new HeightMap(300, 200, 0.1), plan.cuts);
      const { left, over } = differenceOf(job, plan.items, plan.cuts, map);
      expect(over.worst, JSON.stringify(cut)).toBe(0);
      // A round arc leaves its radius in the four inside corners of an opening: (1 - π/4) r² each.
      expect(left.area).toBeCloseTo('side' in cut ? 4 * (1 - Math.PI / 4) * 0.75 ** 2 : 0, 1);
      expect(plan.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
      for (const over of [{}, { units: 'in' as const }, { arcs: true }, { split: 'tool' as const }])
        expect(releasePrograms({ ...job, program: { ...job.program, ...over } }, plan, '2026-01-31').findings).toEqual([]);
    }
  });
  it('a hole too small to cut is marked for the drill: a dimple in its middle, and nothing is taken away', async () => {
    const job = torchJob({ frame: SHAPES.frame, drill: { kind: 'ellipse', id: 'drill', x: 60, y: 70, width: 2.5, height: 2.5 } });
    const marked = readJob({
      ...job,
      cuts: { m: { kind: 'mark', id: 'm', on: ['drill'], tool: 'n' }, c: { ...job.cuts.c, on: ['frame'] } },
      cutOrder: ['m', 'c'],
    } as JobInput);
    if (!marked.ok) throw new Error(marked.why.join());
    for (const touch of ['each', 'never'] as const) {
      const one: Job = { ...marked.job, cuts: { ...marked.job.cuts, m: { ...marked.job.cuts.m, touch } as Job['cuts'][string] } };
      const plan = await planJob(one, { fonts: fontOf });
      expect(plan.findings.filter(({ severity }) => severity !== 'note')).toEqual([]);
      expect(piecesOf(one.board, plan.cuts).filter(({ part }) => part)).toHaveLength(1);
      const { files, findings } = releasePrograms(one, plan, '2026-01-31');
      expect(findings).toEqual([]);
      expect(files[0].text).toMatch(/S1 M3\nG4 P0\.1\nM5/);
      expect(carvePlan(new HeightMap(300, 200, 0.2), [plan.cuts[0]]).deepest).toBe(0);
      // One dimple left out is no program that was planned.
      const without = files[0].text.replace('S1 M3\nG4 P0.1\nM5\n', '');
      expect(without).not.toBe(files[0].text);
    }
  });
  it('kept by half a kerf too much is seen: a part cut with a wider kerf than its program reckons with', async () => {
    const job = torchJob({ disc: SHAPES.disc });
    const plan = await planJob(job, { fonts: fontOf });
    const wide = plan.cuts.map((planned) => ({ ...planned, torch: { ...planned.torch!, kerf: 2.5 } }));
    expect(differenceOf(job, plan.items, wide, carvePlan(new HeightMap(300, 200, 0.1), wide)).over.worst).toBeGreaterThan(0);
  });
});

describe('falls, tips, lies', () => {
  const board = (slats: object) => Board.parse({ width: 500, height: 500, thickness: 3, slats: { along: 'y', pitch: 100, first: 50, thick: 4, ...slats } });
  const at = (x: number, y: number, w: number, h: number): Region => ({ outer: rectangle(x, y, w, h), holes: [] });
  const round = (x: number, y: number, r: number): Region => ({ outer: circle(x, y, r), holes: [] });
  // Worked by hand: slats along Y at X = 50, 150, 250 ..., 4 mm thick.
  it.each([
    ['between two slats', at(60, 100, 80, 80), {}, 'falls'],
    ['over one, its weight beside it', at(45, 100, 80, 80), {}, 'tips'],
    ['over two', at(40, 100, 120, 50), {}, 'free'],
    ['balanced in the middle of one', at(48.5, 100, 3, 200), {}, 'free'],
    [
      'over two, but its weight hangs out',
      { outer: contourOf([140, 100, 260, 100, 260, 110, 160, 110, 160, 450, 260, 450, 260, 490, 140, 490].map((v) => v)), holes: [] },
      {},
      'free',
    ],
    ['an L that rests on its foot', { outer: contourOf([45, 100, 60, 100, 60, 110, 140, 110, 140, 300, 130, 300, 130, 120, 45, 120]), holes: [] }, {}, 'tips'],
    ['a ring over one slat at its rim', { outer: circle(110, 250, 55), holes: [contourOf([...circle(110, 250, 50).xy])] }, {}, 'tips'],
    ['a ring over two slats', round(100, 250, 60), {}, 'free'],
    ['slats along X', at(60, 100, 80, 80), { along: 'x' }, 'tips'],
    ['slats close together', at(60, 100, 80, 80), { pitch: 20 }, 'free'],
    ['just beside a slat', at(52.1, 100, 90, 90), {}, 'falls'],
  ] as [string, Region, object, string][])('%s', (_name, region, slats, lies) => {
    expect(liesOn(region, centreOf(region), board(slats))).toBe(lies);
  });
});

describe('weights', () => {
  // Steel 7.85 g/cm³ (handbook): a square metre, 1 mm thick, is 7.85 kg.
  it('a square metre of steel', () => expect(weightOf(1e6, 1, 'mild steel')).toBeCloseTo(7.85, 9));
  it('of aluminium', () => expect(weightOf(1e6, 1, 'aluminium')).toBeCloseTo(2.7, 9));
  it('the centre of a half disc lies 4r/3π from its straight edge', () => {
    const half = contourOf(Array.from({ length: 181 }, (_, k) => [30 * Math.cos((k * Math.PI) / 180), 30 * Math.sin((k * Math.PI) / 180)]).flat());
    expect(centreOf({ outer: half, holes: [] })[1]).toBeCloseTo((4 * 30) / (3 * Math.PI), 1);
  });
});
