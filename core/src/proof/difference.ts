/**
 * What was asked for against what would be carved, cell by cell. From the drawing and the figures of
 * every cut follows how deep each cell should be, and how deep it may be; what the height map shows
 * beyond that is over-cut, what it lacks was left standing.
 */
import { cuttingWidth, heightAt, isPointed, isStraight, radiusAt, shapeOf, type BitShape } from '../bits/index.ts';
import { carvedRegions } from '../cuts/router/vcarve.ts';
import { profileDepth } from '../cuts/router/profile.ts';
import { circle, contoursOf, offset, rectangle, strokeRegions, subtract, unite, type Contour, type Region } from '../geometry/index.ts';
import { boardThickness, type Job } from '../job/index.ts';
import { worksOn } from '../job/target.ts';
import { targetRegions, type PlannedCut, type PlannedItem } from '../plan/index.ts';
import { SCRATCH } from './carve.ts';
import type { HeightMap } from './heightmap.ts';
import { eachRun, outlineDistance } from './raster.ts';

export interface Amount {
  /** mm². */
  area: number;
  /** Greatest difference, mm, and where. */
  worst: number;
  at: [number, number];
}

export interface Difference {
  /** By cell, mm: above nought left standing, below nought over-cut; nought as asked. */
  by: Float32Array;
  left: Amount;
  over: Amount;
  /** By cut, those that left something or cut too much. */
  cuts: { cut: string; left: Amount; over: Amount }[];
  /** Differences smaller than this are none, mm. */
  slack: number;
}

const none = (): Amount => ({ area: 0, worst: 0, at: [0, 0] });

/**
 * @param map heights as carved by these cuts
 */
export function differenceOf(job: Job, items: readonly PlannedItem[], cuts: readonly PlannedCut[], map: HeightMap): Difference {
  const asked = new Asked(job, items, map);
  for (const planned of cuts) asked.add(planned);
  const thickness = boardThickness(job.board);
  const slack = 2 * job.tolerance + 0.005;
  const by = new Float32Array(map.height.length);
  const total = { left: none(), over: none() };
  const single = cuts.map(() => ({ left: none(), over: none() }));
  const note = (amount: Amount, size: number, i: number) => {
    amount.area += map.cell * map.cell;
    if (size <= amount.worst) return;
    amount.worst = size;
    amount.at = [((i % map.columns) + 0.5) * map.cell, (Math.floor(i / map.columns) + 0.5) * map.cell];
  };
  for (let i = 0; i < by.length; i++) {
    const depth = Math.min(-map.height[i], thickness);
    const left = Math.min(asked.should[i], thickness) - depth;
    const over = depth - asked.may[i];
    if (left > slack) {
      by[i] = left;
      note(total.left, left, i);
      note(single[asked.by[i] - 1].left, left, i);
    } else if (over > slack) {
      by[i] = -over;
      note(total.over, over, i);
      const cut = cuts.findIndex((planned) => reaches(planned, (i % map.columns) * map.cell, Math.floor(i / map.columns) * map.cell));
      if (cut >= 0) note(single[cut].over, over, i);
    }
  }
  return {
    by,
    ...total,
    cuts: single.map((one, k) => ({ cut: cuts[k].cut.id, ...one })).filter(({ left, over }) => left.area + over.area > 0),
    slack,
  };
}

/** Could a cut have touched a place? By its box alone: over-cut is rare, and mostly one cut's. */
const reaches = ({ facts: { box }, bit }: PlannedCut, x: number, y: number): boolean => {
  const r = cuttingWidth(bit) / 2;
  return x >= box.minX - r && x <= box.maxX + r && y >= box.minY - r && y <= box.maxY + r;
};

/** Depths asked for and allowed, gathered cut by cut. */
class Asked {
  readonly should: Float32Array;
  readonly may: Float32Array;
  /** Number of the cut, from 1 on, that asks the most of a cell. */
  readonly by: Uint8Array;
  private readonly job: Job;
  private readonly items: readonly PlannedItem[];
  private readonly map: HeightMap;
  private readonly everywhere: Region[];
  private cut = 0;

  constructor(job: Job, items: readonly PlannedItem[], map: HeightMap) {
    this.job = job;
    this.items = items;
    this.map = map;
    this.should = new Float32Array(map.height.length);
    this.may = new Float32Array(map.height.length);
    this.by = new Uint8Array(map.height.length);
    this.everywhere = [{ outer: rectangle(-1, -1, job.board.width + 2, job.board.height + 2), holes: [] }];
  }

  add(planned: PlannedCut): void {
    this.cut++;
    const { cut, bit, facts } = planned;
    if (facts.moves === 0) return;
    const { job } = this;
    const regions = targetRegions(job, cut, this.items);
    const lines = this.items.filter(({ item }) => worksOn(job, cut, item)).flatMap((thing) => thing.lines);
    const pen = (width: number, outlines: readonly Contour[] = []) => [
      ...strokeRegions([...outlines, ...lines.filter(({ closed }) => closed).map(({ line }) => line)], width, true),
      ...strokeRegions(
        lines.filter(({ closed }) => !closed).map(({ line }) => line),
        width,
        false,
      ),
    ];
    const outlines = regions.flatMap(contoursOf);
    const half = cuttingWidth(bit) / 2;
    switch (cut.kind) {
      case 'vcarve':
        if (isPointed(bit)) this.cone(carvedRegions(regions, cut), shapeOf(bit), cut.startDepth, cut.floorDepth ?? Infinity, planned.widest);
        return;
      case 'pocket':
        // What clears for a V-carve asks nothing of its own: the carve does.
        if (cut.floorOf === undefined) this.flat(regions, cut.depth);
        return;
      case 'recess':
        return this.flat(planned.fit?.recess ?? regions, cut.depth);
      case 'plug':
        return this.round(planned.fit?.plug ?? regions, half, facts.deepest, facts.deepest);
      case 'profile': {
        const depth = profileDepth(cut, job.board);
        if (cut.side === 'on') return this.flat(pen(2 * radiusAt(shapeOf(bit), depth), outlines), depth, isStraight(bit));
        const kept = planned.through && planned.tabs?.some((tabs) => tabs > 0) ? boardThickness(job.board) - cut.tabHeight : depth;
        if (cut.side !== 'inside') return this.round(cut.side === 'auto' ? unite(outlines, 'evenodd') : regions, half, depth, kept);
        this.allow(offset(regions, job.tolerance), depth);
        return this.ask(subtract(offset(regions, -job.tolerance), offset(regions, -half)), kept);
      }
      case 'drill': {
        const points: Region[] = cut.points.map(([x, y]) => ({ outer: circle(x, y, half), holes: [] }));
        return this.flat([...regions, ...points], facts.deepest, isStraight(bit));
      }
      case 'engrave':
        if (cut.way === 'fill') this.cone(regions, shapeOf(bit), cut.startDepth, cut.depth - cut.startDepth);
        this.flat(pen(2 * radiusAt(shapeOf(bit), cut.depth), cut.way === 'lines' ? outlines : []), cut.depth, false);
        return this.flat(cut.way === 'lines' ? [] : regions, cut.depth, false);
      case 'drag':
        return this.flat([...regions, ...pen(2 * half, outlines)], SCRATCH, false);
      case 'surface':
        return this.flat(this.everywhere, facts.deepest);
      case 'chamfer': {
        const [outer, inner] = cut.part === 'inside' ? [cut.clear + 2 * half, -cut.width] : [cut.width, -cut.clear - 2 * half];
        return this.allow(subtract(offset(regions, outer + job.tolerance), offset(regions, inner - job.tolerance)), facts.deepest);
      }
    }
  }

  /** A flat floor: so deep and no deeper. */
  private flat(regions: readonly Region[], depth: number, asked = true): void {
    this.allow(offset(regions, this.job.tolerance), depth);
    if (asked) this.ask(offset(regions, -this.job.tolerance), depth);
  }

  /** Round a part: outside it anything may go; beside it half a bit's width must. */
  private round(part: readonly Region[], half: number, depth: number, kept: number): void {
    const { tolerance } = this.job;
    this.allow(subtract(this.everywhere, offset(part, -tolerance)), depth);
    this.ask(subtract(offset(part, half), offset(part, tolerance)), kept);
  }

  /** Walls as steep as the bit, down to a floor. @param widest half of the widest stroke, mm, when known */
  private cone(regions: readonly Region[], shape: BitShape, start: number, floor: number, widest = Infinity): void {
    const { tolerance } = this.job;
    const body = { ...shape, outer: Infinity };
    const most = Math.min(widest, Number.isFinite(floor) ? radiusAt(body, floor) : Infinity) + 2 * tolerance;
    if (!(most < Infinity)) return;
    const distance = outlineDistance(this.map, regions, most).height;
    const depthAt = (r: number) => start + Math.min(floor, heightAt(body, Math.max(0, r)));
    eachRun(this.map, offset(regions, tolerance), (from, to) => {
      for (let i = from; i < to; i++) this.may[i] = Math.max(this.may[i], depthAt(distance[i] + 2 * tolerance));
    });
    eachRun(this.map, regions, (from, to) => {
      for (let i = from; i < to; i++) if (distance[i] > shape.flat) this.want(i, depthAt(distance[i]));
    });
  }

  private allow(regions: readonly Region[], depth: number): void {
    eachRun(this.map, regions, (from, to) => {
      for (let i = from; i < to; i++) if (depth > this.may[i]) this.may[i] = depth;
    });
  }

  private ask(regions: readonly Region[], depth: number): void {
    eachRun(this.map, regions, (from, to) => {
      for (let i = from; i < to; i++) this.want(i, depth);
    });
  }

  private want(i: number, depth: number): void {
    if (depth <= this.should[i]) return;
    this.should[i] = depth;
    this.by[i] = this.cut;
  }
}
