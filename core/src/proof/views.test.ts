/** Layers, time and difference: the same board seen in other ways must be the same board. */
import { beforeAll, describe, expect, it } from 'vitest';
import { regionArea } from '../geometry/index.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { planJob, type Plan } from '../plan/index.ts';
import type { Job } from '../job/index.ts';
import { applyTiles, carvePlan, differenceOf, HeightMap, LayeredBoard, momentAt, Scrubber, speedOver, thumbnail, tilesOf, timelineOf } from './index.ts';
import { LOOKS, lookOf } from './looks.ts';

const job = makeJob();
const everything = { ...makeJob().cuts };
let plan: Plan;
const planned = (change: Parameters<typeof makeJob>[0]) => {
  const changed = makeJob(change);
  return planJob(changed, { fonts: fontOf }).then((p) => ({ job: changed, plan: p }));
};
beforeAll(async () => {
  plan = await planJob(job, { fonts: fontOf });
});
const whole = (of: Job, p: Plan, cell = 0.2) => carvePlan(new HeightMap(of.board.width, of.board.height, cell), p.cuts);
const worst = (a: HeightMap, b: HeightMap) => a.height.reduce((most, h, i) => Math.max(most, Math.abs(h - b.height[i])), 0);

describe('layers', () => {
  it('put together are the board carved at once', () => {
    const layers = new LayeredBoard(new HeightMap(200, 80, 0.2));
    layers.update(plan.cuts);
    expect(worst(layers.map, whole(job, plan))).toBeLessThan(1e-5);
  });
  it('renew only tiles of the cut that changed, and come out as if carved afresh', async () => {
    const layers = new LayeredBoard(new HeightMap(200, 80, 0.2));
    const all = layers.update(plan.cuts).size;
    expect(layers.update(plan.cuts).size).toBe(0);
    // The carve made shallow: the tiles of the outline alone stay.
    const other = await planJob(makeJob({ cuts: { ...everything, carve: { ...everything.carve, floorDepth: 1 } as never } }), { fonts: fontOf });
    const next = [other.cuts[0], plan.cuts[1]];
    const dirty = layers.update(next);
    expect(dirty.size).toBeGreaterThan(0);
    expect(dirty.size).toBeLessThan(all / 2);
    expect(worst(layers.map, carvePlan(new HeightMap(200, 80, 0.2), next))).toBeLessThan(1e-5);
    layers.update([plan.cuts[1]]);
    expect(worst(layers.map, carvePlan(new HeightMap(200, 80, 0.2), [plan.cuts[1]]))).toBeLessThan(1e-5);
  });
  it('stay as they are for a cut that takes the same away at another feed; a bit that is wider does not', async () => {
    const layers = new LayeredBoard(new HeightMap(200, 80, 0.2));
    layers.update(plan.cuts);
    const before = layers.map.height.slice();
    const at = async (cut: object, bit: object = {}) => {
      const { tools } = makeJob();
      const { plan: other } = await planned({
        cuts: { ...everything, out: { ...everything.out, ...cut } as never },
        tools: { ...tools, end6: { ...tools.end6, ...bit } as never },
      });
      return other.cuts;
    };
    const slower = await at({ feed: 1234 });
    expect(slower[1]).not.toBe(plan.cuts[1]);
    expect(layers.update(slower).size).toBe(0);
    expect(layers.map.height).toEqual(before);
    const wider = await at({ feed: 1234 }, { diameter: 7 });
    expect(layers.update(wider).size).toBeGreaterThan(0);
    expect(worst(layers.map, carvePlan(new HeightMap(200, 80, 0.2), wider))).toBeLessThan(1e-5);
    // And back, after the layer of it was let go.
    layers.update(plan.cuts);
    expect(layers.map.height).toEqual(before);
  });
  it('keep a copy elsewhere up to date by its changed tiles alone', async () => {
    const layers = new LayeredBoard(new HeightMap(200, 80, 0.3));
    layers.update(plan.cuts);
    const copy = new HeightMap(200, 80, 0.3);
    copy.height.set(layers.map.height);
    const tiles = Uint32Array.from(layers.update([plan.cuts[0]]));
    expect(tiles.length).toBeGreaterThan(0);
    applyTiles(copy, tiles, tilesOf(layers.map, tiles));
    expect(worst(copy, layers.map)).toBe(0);
  });
  it('know which cut made each place', () => {
    const layers = new LayeredBoard(new HeightMap(200, 80, 0.2));
    layers.update(plan.cuts);
    const owner = layers.owners();
    const at = (x: number, y: number) => owner[Math.floor(y / 0.2) * layers.map.columns + Math.floor(x / 0.2)];
    expect(at(7, 40)).toBe(2);
    expect(at(1, 1)).toBe(0);
    expect(new Set(owner)).toEqual(new Set([0, 1, 2]));
    expect(owner.findIndex((one, i) => one > 0 !== layers.map.height[i] < -1e-6)).toBe(-1);
  });
});

describe('time', () => {
  it('is the plan’s own, and the bit is where the toolpath says', () => {
    const timeline = timelineOf(job, plan.cuts);
    expect(timeline.seconds).toBeCloseTo(plan.time.atMachine, 6);
    expect(timeline.stretches.map(({ kind }) => kind)).toEqual(['spindle', 'cut', 'change', 'spindle', 'cut']);
    const { path } = plan.cuts[0];
    const last = path.kind.length - 1;
    const end = momentAt(timeline, plan.cuts, timeline.stretches[1].end - 1e-9)!;
    expect([end.x, end.y, end.z]).toEqual([expect.closeTo(path.x[last], 3), expect.closeTo(path.y[last], 3), expect.closeTo(path.z[last], 3)]);
    expect(momentAt(timelineOf(job, []), [], 5)).toBeNull();
  });
  it('never shows a bit faster than the feed or the machine allow, and shows the way as long as it is', () => {
    const timeline = timelineOf(job, plan.cuts);
    let way = 0;
    let previous = momentAt(timeline, plan.cuts, 0)!;
    const step = timeline.seconds / 40_000;
    for (let t = step; t <= timeline.seconds; t += step) {
      const now = momentAt(timeline, plan.cuts, t)!;
      if (now.doing === 'cut' && now.cut === previous.cut && previous.doing === 'cut') {
        const moved = Math.hypot(now.x - previous.x, now.y - previous.y, now.z - previous.z);
        way += moved;
        // Space diagonal of the axes' speeds.
        expect((moved / step) * 60).toBeLessThan(Math.hypot(...job.machine.maxSpeed) + 1);
      }
      previous = now;
    }
    const length = plan.cuts.reduce((sum, { facts }) => sum + facts.cutting + facts.travel, 0);
    expect(way / length).toBeGreaterThan(0.97);
    expect(way / length).toBeLessThan(1.0001);
  });
  it('gives speed over the job, never above what was asked while it cuts and no faster than rapids', () => {
    const speeds = speedOver(timelineOf(job, plan.cuts), plan.cuts, 60);
    expect(speeds).toHaveLength(60);
    expect(Math.max(...speeds.map(({ speed }) => speed))).toBeGreaterThan(500);
    expect(Math.max(...speeds.map(({ speed }) => speed))).toBeLessThan(Math.hypot(...job.machine.maxSpeed));
    expect(speeds.some(({ asked }) => asked === 2400)).toBe(true);
  });
});

describe('scrubbing', () => {
  it('ends at the carved board, begins with the bare one, and never puts wood back', () => {
    const scrub = new Scrubber(job, plan.cuts, 0.4);
    expect(scrub.at(0).map.deepest).toBe(0);
    expect(worst(scrub.at(1e9).map, whole(job, plan, 0.4))).toBeLessThan(1e-5);
    let before = scrub.at(0).map;
    for (let t = 0; t <= plan.time.atMachine; t += plan.time.atMachine / 17) {
      const { map } = scrub.at(t);
      const earlier = before;
      expect(map.height.findIndex((h, i) => h > earlier.height[i] + 1e-6)).toBe(-1);
      before = map;
    }
  });
  it('is the same going back as going on', () => {
    const on = new Scrubber(job, plan.cuts, 0.4);
    const times = [0.1, 0.25, 0.37, 0.5, 0.66, 0.8, 0.93].map((f) => f * plan.time.atMachine);
    const forward = times.map((t) => on.at(t).map);
    const back = new Scrubber(job, plan.cuts, 0.4);
    back.at(plan.time.atMachine);
    for (const [k, t] of [...times.entries()].reverse()) expect(worst(back.at(t).map, forward[k])).toBeLessThan(1e-5);
  });
});

describe('asked against carved', () => {
  const difference = (of: Job, p: Plan, cell = 0.1) => {
    const map = whole(of, p, cell);
    return differenceOf(of, p.items, p.cuts, map);
  };
  it('finds nothing over-cut and next to nothing left in a plain sign', () => {
    const { over, left, cuts } = difference(job, plan);
    expect(over.area).toBe(0);
    // Tabs are asked for; letters are carved to the corners.
    expect(left.worst).toBeLessThan(0.1);
    expect(left.area).toBeLessThan(1);
    for (const one of cuts) expect(one.over.area).toBe(0);
  });
  it('asks for the groove between outlines that are joined', async () => {
    const { job: row, plan: p } = await planned({
      items: { row: { kind: 'path', id: 'row', x: 100, y: 40, d: 'M-10 -5H0V5H-10Z M0.8 -5H10.8V5H0.8Z' } },
      itemOrder: ['row'],
      outline: null,
      cuts: { g: { kind: 'engrave', id: 'g', on: ['row'], tool: 'v60', depth: 0.3, joinWithin: 1 } },
      cutOrder: ['g'],
    });
    expect(p.cuts[0].lifts).toBe(1);
    const { left, over } = difference(row, p, 0.05);
    expect(over.area).toBe(0);
    expect(left.area).toBeLessThan(0.1);
  });
  it('measures the corners a round bit cannot reach: r²(1 - π/4) each', async () => {
    const { job: square, plan: p } = await planned({
      items: { box: { kind: 'rectangle', id: 'box', x: 100, y: 40, width: 60, height: 40 } },
      itemOrder: ['box'],
      outline: null,
      cuts: { p: { kind: 'pocket', id: 'p', on: 'art', tool: 'end6', depth: 4, depthPerPass: 4 } },
      cutOrder: ['p'],
    });
    const { left, over } = difference(square, p, 0.05);
    expect(left.area / (4 * 3.175 ** 2 * (1 - Math.PI / 4))).toBeCloseTo(1, 1);
    expect(left.worst).toBeCloseTo(4, 6);
    expect(over.area).toBe(0);
    const corners = [70, 130].flatMap((x) => [20, 60].map((y) => Math.hypot(left.at[0] - x, left.at[1] - y)));
    expect(Math.min(...corners)).toBeLessThan(1.4);
  });
  it('shows a bit that runs into the part, a carve that is too deep, and a ridge', async () => {
    // Another bit than was planned for stands in the spindle: half a millimetre wider.
    const wide = plan.cuts.map((one) => ({ ...one, bit: { ...one.bit, measuredWidth: one.bit.kind === 'end' ? 7.35 : undefined } }));
    const into = differenceOf(job, plan.items, plan.cuts, carvePlan(new HeightMap(200, 80, 0.1), wide));
    const edge = 2 * (180 + 60) - 8 * 8 + 2 * Math.PI * 8;
    // Half a millimetre all round, save at the four tabs.
    expect(into.over.area / (0.5 * edge)).toBeGreaterThan(0.9);
    expect(into.over.area / (0.5 * edge)).toBeLessThan(1.02);
    expect(into.cuts.find(({ over }) => over.area > 0)?.cut).toBe('out');
    const deep = plan.cuts.map((one) => ({ ...one, path: one.cut.kind === 'vcarve' ? { ...one.path, z: one.path.z.map((z) => z - 0.5) } : one.path }));
    expect(differenceOf(job, plan.items, plan.cuts, carvePlan(new HeightMap(200, 80, 0.1), deep)).over.worst).toBeGreaterThan(0.45);
    const { job: floored, plan: p } = await planned({ cuts: { carve: { ...everything.carve, floorDepth: 2, stepover: 0.6 } as never }, cutOrder: ['carve'] });
    const ridge = differenceOf(floored, p.items, p.cuts, whole(floored, p, 0.05));
    // (s - d0)/(2t) = 0.6/(2·tan 30°) = 0.520 at most.
    expect(ridge.left.worst).toBeLessThan(0.53);
    expect(ridge.left.worst).toBeGreaterThan(0.3);
  });
  it('asks no more of a drawing than its area', () => {
    const { by } = difference(job, plan, 0.2);
    expect(by.filter((v) => v > 0).length * 0.04).toBeLessThan(plan.items.flatMap(({ regions }) => regions).reduce((s, r) => s + regionArea(r), 0));
  });
});

describe('looks', () => {
  it('every material of the shop has its look, and one nobody knows looks like pine', () => {
    expect(['Pine', 'white oak', 'Slate board', 'brass', 'cast acrylic', 'birch ply', 'mild steel', 'moonstuff'].map(lookOf)).toEqual([
      'pine',
      'oak',
      'slate',
      'brass',
      'acrylic',
      'ply',
      'steel',
      'pine',
    ]);
  });
  it('what is carved shows against what is not: tones apart and within range', () => {
    for (const { pale, deep } of Object.values(LOOKS)) {
      for (const part of [...pale, ...deep]) expect(part >= 0 && part <= 1).toBe(true);
      expect(pale.reduce((a, b) => a + b)).toBeGreaterThan(deep.reduce((a, b) => a + b));
    }
  });
});

describe('the small picture', () => {
  /** A board 36 x 20 with a pocket 2 deep on its left and an opening on its right. */
  const board = (material: string) => {
    const map = new HeightMap(36, 20, 0.1);
    for (let j = 50; j < 150; j++)
      for (let i = 0; i < map.columns; i++) {
        if (i > 50 && i < 150) map.height[j * map.columns + i] = -2;
        if (i > 210 && i < 310) map.height[j * map.columns + i] = -18.3;
      }
    return thumbnail(map, { thickness: 18, material });
  };
  const at = ({ width, data }: ReturnType<typeof thumbnail>, u: number, v: number) => Array.from(data.subarray(4 * (v * width + u), 4 * (v * width + u) + 3));
  const light = (colour: number[]) => colour.reduce((sum, part) => sum + part, 0);
  it('has the shape of the board; what is carved is darker than what is not, and an opening darkest', () => {
    for (const material of ['oak', 'walnut', 'slate', 'brass', 'acrylic']) {
      const picture = board(material);
      expect([picture.width, picture.height]).toEqual([360, 200]);
      expect(light(at(picture, 100, 100))).toBeLessThan(light(at(picture, 180, 100)));
      expect(at(picture, 260, 100)).toEqual([60, 54, 46]);
    }
  });
  it('has the tone of its material: walnut darker than oak, slate grey, brass yellow', () => {
    const top = (material: string) => at(board(material), 10, 10);
    expect(light(top('walnut'))).toBeLessThan(light(top('white oak')));
    const [r, g, b] = top('slate');
    expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(20);
    expect(top('brass')[0] - top('brass')[2]).toBeGreaterThan(100);
  });
});
