/**
 * What was asked for against what would be carved, cell by cell. From the drawing and the figures of
 * every cut follows how deep each cell should be, and how deep it may be; what the height map shows
 * beyond that is over-cut, what it lacks was left standing.
 */
import { cuttingWidth, heightAt, jointRadius, radiusAt } from '../bits/index.ts';
import type { Removal } from '../cuts/removal.ts';
import { makerOf } from '../cuts/index.ts';
import { offset, strokeRegions, type Region } from '../geometry/index.ts';
import { goneOf } from '../board/index.ts';
import { boardThickness, type Job } from '../job/index.ts';
import { contextOf, type PlannedCut } from '../planned/cut.ts';
import type { PlannedItem } from '../planned/items.ts';
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
  /** By cell, mm: above zero left standing, below zero over-cut; zero as asked. */
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

/** So many places round a cell are looked at, at most: of a wide tip every second cell or fewer. */
const PLACES = 300;

/** Cells within a radius, as steps from the one in the middle. */
function placesWithin(radius: number, cell: number): { di: number; dj: number; height: number }[] {
  const reach = Math.floor(radius / cell);
  const stride = Math.max(1, Math.ceil(Math.sqrt((Math.PI * reach * reach) / PLACES)));
  const out: { di: number; dj: number; height: number }[] = [];
  for (let dj = -reach; dj <= reach; dj++)
    for (let di = -reach; di <= reach; di++)
      if (di * di + dj * dj <= (radius / cell) ** 2 && di % stride === 0 && dj % stride === 0) out.push({ di, dj, height: 0 });
  return out;
}

/** Depths asked for and allowed, gathered cut by cut. */
class Asked {
  readonly should: Float32Array;
  readonly may: Float32Array;
  /** Number of the cut, from 1 on, that asks the most of a cell. */
  readonly by: Uint16Array;
  private readonly job: Job;
  private readonly items: readonly PlannedItem[];
  private readonly map: HeightMap;
  private cut = 0;

  constructor(job: Job, items: readonly PlannedItem[], map: HeightMap) {
    this.job = job;
    this.items = items;
    this.map = map;
    this.should = new Float32Array(map.height.length);
    this.may = new Float32Array(map.height.length);
    this.by = new Uint16Array(map.height.length);
    // What was open before is neither left nor too much.
    eachRun(map, goneOf(job.board), (from, to) => this.may.fill(Infinity, from, to));
  }

  add(planned: PlannedCut): void {
    this.cut++;
    const { cut, facts } = planned;
    if (facts.moves === 0) return;
    for (const removal of makerOf(cut).expected(planned, contextOf(this.job, cut, this.items))) this.remove(removal);
  }

  private remove(removal: Removal): void {
    switch (removal.kind) {
      case 'may':
        return this.allow(removal.regions, removal.depth);
      case 'must':
        return this.ask(removal.regions, removal.depth);
      case 'walls':
        return this.walls(removal);
      case 'lean':
        return this.lean(removal);
      case 'along':
        return this.along(removal);
    }
  }

  /**
   * Walls as the bit leaves them, down to a floor. Its tip may stand where it touches no wall: at a place D from
   * the outline no deeper than h(D), h its own height at a radius. What it leaves under a point is as deep as the
   * deepest of all places round it, less the height of the bit from there: of a sharp cone that is h(D) itself,
   * of a flat or a round tip more. (Derived.) A point must be as deep as that is from the cells round it, and
   * may be as deep as it could be from a place farther from the wall by as much as it is away.
   */
  private walls({ regions, shape, start, floor, widest = Infinity }: Extract<Removal, { kind: 'walls' }>): void {
    const { tolerance } = this.job;
    const { cell, columns, rows } = this.map;
    const body = { ...shape, outer: Infinity };
    const blunt = Math.max(shape.flat, jointRadius(shape));
    const most = Math.min(widest, Number.isFinite(floor) ? radiusAt(body, floor) : Infinity) + blunt + 2 * tolerance;
    if (!(most < Infinity)) return;
    const distance = outlineDistance(this.map, regions, most).height;
    const tip = (r: number) => (r < shape.flat ? -Infinity : Math.min(floor, heightAt(body, r)));
    const away = Array.from({ length: blunt > 0 ? 17 : 1 }, (_, k) => (blunt * k) / 16);
    const mayBe = (r: number) => away.reduce((depth, by) => Math.max(depth, tip(r + by) - heightAt(body, by)), 0);
    eachRun(this.map, offset(regions, tolerance), (from, to) => {
      for (let i = from; i < to; i++) this.may[i] = Math.max(this.may[i], start + mayBe(distance[i] + 2 * tolerance));
    });
    const around = blunt > 0 ? placesWithin(Math.max(blunt, 1.5 * cell), cell) : [{ di: 0, dj: 0, height: 0 }];
    for (const place of around) place.height = heightAt(body, cell * Math.hypot(place.di, place.dj));
    // Where the tip itself may stand: inside, and far enough from the walls.
    const stands = new Float32Array(distance.length).fill(-Infinity);
    eachRun(this.map, regions, (from, to) => {
      for (let i = from; i < to; i++) stands[i] = tip(distance[i]);
    });
    eachRun(this.map, regions, (from, to) => {
      const j = Math.floor(from / columns);
      for (let i = from; i < to; i++) {
        let depth = -Infinity;
        for (const { di, dj, height } of around) {
          const column = i - j * columns + di;
          if (column < 0 || column >= columns || j + dj < 0 || j + dj >= rows) continue;
          depth = Math.max(depth, stands[i + dj * columns + di] - height);
        }
        if (depth > 0) this.want(i, start + depth);
      }
    });
  }

  /** Round a plug the walls meet their line at the start depth, and lean on over what stays up to the surface. */
  private lean({ stays, shape, start }: Extract<Removal, { kind: 'lean' }>): void {
    const { tolerance } = this.job;
    const most = start * shape.tangent + 2 * tolerance;
    const distance = outlineDistance(this.map, stays, most).height;
    eachRun(this.map, stays, (from, to) => {
      for (let i = from; i < to; i++) this.may[i] = Math.max(this.may[i], start - (distance[i] - 2 * tolerance) / shape.tangent);
    });
  }

  /** A groove is as deep as asked along its middle; a cell beside it by less than its own width nearly so. */
  private along({ lines, outlines, shape, depth }: Extract<Removal, { kind: 'along' }>): void {
    const { cell } = this.map;
    const asked = depth - heightAt({ ...shape, outer: Infinity }, 1.5 * cell);
    if (asked <= 0) return;
    this.ask(
      [
        ...strokeRegions([...outlines, ...lines.filter(({ closed }) => closed).map(({ line }) => line)], 2 * cell, true),
        ...strokeRegions(
          lines.filter(({ closed }) => !closed).map(({ line }) => line),
          2 * cell,
          false,
        ),
      ],
      asked,
    );
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
