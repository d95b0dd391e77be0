/** Planned cuts of a beam tile by tile: what burns between two seams, where it burns when the sheet has been pushed on; and where seams cross least. */
import { BeamWriter } from '../cuts/laser/beam.ts';
import type { Job } from '../job/index.ts';
import { marksOf, strokesOf, tilesOf, type Tile } from '../job/tiles.ts';
import { planMotion } from '../motion/index.ts';
import { processOf } from '../process/index.ts';
import { schedule, type Schedule } from '../schedule/index.ts';
import { factsOf, FEED, joined, RAPID, type PathFacts, type Span, type ToolEvent, type Toolpath } from '../toolpath/index.ts';
import type { PlannedCut } from './cut.ts';
import { sectionsOf, type PlannedSection } from './sections.ts';

/** What cuts through goes so far over a seam, mm: both tiles meet. */
const OVER = 0.2;

export interface TiledSections {
  tile: Tile | null;
  sections: PlannedSection[];
}

/** The sections of a job's programs: of all of it, or of each tile that is not left out. */
export function tiledSections(job: Job, cuts: readonly PlannedCut[]): TiledSections[] {
  const tiles = processOf(job).burns ? tilesOf(job) : [];
  if (tiles.length === 0) return [{ tile: null, sections: sectionsOf(cuts) }];
  return tiles
    .filter(({ leftOut }) => !leftOut)
    .map((tile) => ({ tile, sections: sectionsOf(tileCuts(job, cuts, tile, tiles[tile.index + 1])) }))
    .filter(({ sections }) => sections.length > 0);
}

/** Time of a job's programs, all tiles of them one after the other; pushing the sheet is not counted. */
export function scheduleOf(job: Job, cuts: readonly PlannedCut[]): Schedule {
  const [first, ...rest] = tiledSections(job, cuts).map(({ sections }) => schedule(job, sections));
  return rest.reduce(
    (sum, one) => ({
      ...sum,
      cutting: sum.cutting + one.cutting,
      spinUp: sum.spinUp + one.spinUp,
      running: sum.running + one.running,
      changes: sum.changes + one.changes,
      changeCount: sum.changeCount + one.changeCount,
      atMachine: sum.atMachine + one.atMachine,
    }),
    first ?? schedule(job, []),
  );
}

/** What a cut comes to in each program it is burned by. */
export const factsInPrograms = (job: Job, cuts: readonly PlannedCut[], id: string): PathFacts[] =>
  tiledSections(job, cuts).flatMap(({ sections }) => sections.flatMap((section) => section.cuts.filter(({ cut }) => cut.id === id).map(({ facts }) => facts)));

/** Kept as long as the cut is: pictures have millions of moves, and are asked for by checks, times and programs. */
const kept = new WeakMap<PlannedCut, Map<string, PlannedCut>>();

/** What of the cuts a tile burns, and the marks the next one is laid by before it, with the weakest cut there is. */
function tileCuts(job: Job, cuts: readonly PlannedCut[], tile: Tile, next: Tile | undefined): PlannedCut[] {
  const marks = next ? marksOf(next, job.board) : [];
  const weakest = cuts.find(({ beam }) => beam?.depth === 0) ?? cuts[0];
  return cuts.map((planned) => {
    const own = planned === weakest ? marks : [];
    const key = JSON.stringify([tile.axis, tile.from, tile.to, tile.index, tile.count, own]);
    const known = kept.get(planned) ?? new Map<string, PlannedCut>();
    kept.set(planned, known);
    let done = known.get(key);
    if (!done) {
      const burned = tilePath(planned.path, tile, planned.beam && planned.beam.depth > 0 ? OVER : 0);
      const path = own.length > 0 ? joined([markPath(planned, own, tile), burned]) : burned;
      done = { ...planned, path, facts: factsOf(path), seconds: path.kind.length > 0 ? planMotion(path, job.machine).total : 0 };
      known.set(key, done);
    }
    return done;
  });
}

/** Crosses on a seam, burned as a cut burns. */
function markPath({ cut, path }: PlannedCut, marks: readonly (readonly [number, number])[], tile: Tile): Toolpath {
  const writer = new BeamWriter(cut.feed);
  const air = path.events?.some((event) => 'assist' in event && event.assist === 'air') ?? false;
  writer.ready('dynamic', air);
  writer.begin(cut.id, 'marks on the seam');
  const power = 'power' in cut && typeof cut.power === 'number' ? cut.power / 100 : 0;
  for (const [a, b] of marks.flatMap(strokesOf)) {
    writer.goTo(...onBed(a, tile));
    writer.burnTo(...onBed(b, tile), power);
  }
  return writer.finish(air);
}

/** Where a place of the sheet lies when a tile is burned, as its program counts. */
const onBed = ([x, y]: readonly [number, number], { axis, from }: Tile): [number, number] => (axis === 'x' ? [x - from, y] : [x, y - from]);

/** How far a row runs on in the dark beside what burns, mm: the way it needs to come to speed. Gaps within a row are none. */
export function darkBeside({ x, y, kind, power }: Toolpath): number {
  let far = 0;
  const burns = (i: number) => kind[i] === FEED && power![i] > 0;
  if (power)
    for (let i = 1; i < x.length; i++)
      if (kind[i] === FEED && power[i] === 0 && burns(i - 1) && !burns(i + 1)) far = Math.max(far, Math.hypot(x[i] - x[i - 1], y[i] - y[i - 1]));
  return far;
}

/**
 * What of a path burns within a tile, moved to where the tile lies. Rows that a seam cuts have their dark way beside it as
 * beside any end.
 *
 * @param over what burns goes so far over the seams, mm
 */
export function tilePath(path: Toolpath, tile: Tile, over: number): Toolpath {
  const { kind, x, y, z, feed, power } = path;
  const [low, high] = [tile.index === 0 ? -Infinity : tile.from - over, tile.index === tile.count - 1 ? Infinity : tile.to + over];
  const across = tile.axis === 'x' ? x : y;
  const runUp = darkBeside(path);
  const out = new PathCopy(tile);
  /** From and to of a burning move that lies within the tile, as shares of it; null when nothing does. */
  const within = (i: number): [number, number] | null => {
    if (i < 1 || i >= x.length || kind[i] !== FEED || !(power![i] > 0)) return null;
    const [a, b] = [across[i - 1], across[i]];
    if (a === b) return a >= low && a < high ? [0, 1] : null;
    const [s, t] = [(low - a) / (b - a), (high - a) / (b - a)];
    const [from, to] = [Math.max(0, Math.min(s, t)), Math.min(1, Math.max(s, t))];
    return to - from > 1e-9 ? [from, to] : null;
  };
  const events = [...(path.events ?? [])];
  const starts = new Map(path.spans.map((span) => [span.start, span]));
  for (let i = 0; i < x.length; i++) {
    while (events.length > 0 && events[0].at <= i) out.event(events.shift()!);
    const span = starts.get(i);
    if (span) out.span(span);
    if (kind[i] !== FEED || i === 0) continue;
    const [ax, ay] = [x[i - 1], y[i - 1]];
    const [dx, dy] = [x[i] - ax, y[i] - ay];
    const length = Math.hypot(dx, dy);
    if (length === 0) continue;
    const at = (f: number): [number, number] => [ax + f * dx, ay + f * dy];
    const dark = runUp / length;
    if (!(power![i] > 0)) {
      const after = within(i + 1)?.[0] === 0;
      if (out.isAt(ax, ay)) out.feedTo(at(after ? 1 : dark), z[i], feed[i], 0);
      else if (after) {
        out.goTo(at(1 - dark), z[i]);
        out.feedTo(at(1), z[i], feed[i], 0);
      }
      continue;
    }
    const part = within(i);
    if (!part) continue;
    const [from, to] = [at(part[0]), at(part[1])];
    if (!out.isAt(...from)) {
      if (runUp > 0 && part[0] > 0) {
        out.goTo(at(part[0] - dark), z[i]);
        out.feedTo(from, z[i], feed[i], 0);
      } else out.goTo(from, z[i]);
    }
    out.feedTo(to, z[i], feed[i], power![i]);
    if (runUp > 0 && part[1] < 1) out.feedTo(at(part[1] + dark), z[i], feed[i], 0);
  }
  events.forEach((event) => out.event(event));
  return out.finish();
}

/** A path written move by move, as a tile lies. */
class PathCopy {
  private readonly kind: number[] = [];
  private readonly x: number[] = [];
  private readonly y: number[] = [];
  private readonly z: number[] = [];
  private readonly feed: number[] = [];
  private readonly power: number[] = [];
  private readonly events: ToolEvent[] = [];
  private readonly spans: Span[] = [];
  private here: [number, number] = [NaN, NaN];
  private height = NaN;
  private readonly tile: Tile;

  constructor(tile: Tile) {
    this.tile = tile;
  }

  isAt(x: number, y: number): boolean {
    return Math.abs(x - this.here[0]) < 1e-9 && Math.abs(y - this.here[1]) < 1e-9;
  }

  event(event: ToolEvent): void {
    this.events.push({ ...event, at: this.kind.length });
  }

  span(span: Span): void {
    this.close();
    this.spans.push({ ...span, start: this.kind.length, end: -1 });
  }

  goTo(to: [number, number], z: number): void {
    if (!this.isAt(...to) || z !== this.height) this.put(RAPID, to, z, 0, 0);
  }

  feedTo(to: [number, number], z: number, feed: number, power: number): void {
    if (z !== this.height) this.put(RAPID, this.here, z, 0, 0);
    if (!this.isAt(...to)) this.put(FEED, to, z, feed, power);
  }

  finish(): Toolpath {
    this.close();
    const moves = this.kind.length;
    return {
      kind: Uint8Array.from(this.kind),
      x: Float64Array.from(this.x),
      y: Float64Array.from(this.y),
      z: Float64Array.from(this.z),
      feed: Float64Array.from(this.feed),
      ...(moves > 0 ? { power: Float64Array.from(this.power), events: this.events } : {}),
      spans: this.spans,
    };
  }

  private close(): void {
    const last = this.spans.at(-1);
    if (last && last.end < 0) last.end = this.kind.length;
    if (last && last.end === last.start) this.spans.pop();
  }

  private put(kind: number, at: [number, number], z: number, feed: number, power: number): void {
    const [x, y] = onBed(at, this.tile);
    this.kind.push(kind);
    this.x.push(x);
    this.y.push(y);
    this.z.push(z);
    this.feed.push(feed);
    this.power.push(power);
    this.here = at;
    this.height = z;
  }
}

/** Places for a seam are tried so far apart, mm. */
const STEP = 1;

/**
 * Seams that cross as few burned lines as can be, for as few tiles as the field allows; of places that cross as few, the one
 * farthest from any that cross more. (Dynamic programming over all places a millimetre apart.)
 *
 * @param size of the sheet across the seams; @param field the longest a tile may be, mm
 * @returns from the left or front edge; none when the sheet is no longer than the field
 */
export function leastSeams(cuts: readonly PlannedCut[], axis: 'x' | 'y', size: number, field: number): number[] {
  const count = Math.ceil(size / field - 1e-9) - 1;
  if (count < 1 || !(field > 0)) return [];
  const places = Math.floor(size / STEP);
  const cost = crossings(cuts, axis, places);
  const apart = calmest(cost);
  // The best way to place n seams with the last of them at k: crossings first, then how calm the places are.
  let best = Array.from({ length: places + 1 }, (_, k) => ({ cost: k === 0 ? 0 : Infinity, calm: 0, seams: [] as number[] }));
  const reach = Math.floor(field / STEP);
  for (let n = 0; n < count; n++) {
    const next = best.map(() => ({ cost: Infinity, calm: 0, seams: [] as number[] }));
    for (let k = 1; k < places; k++)
      for (let from = Math.max(0, k - reach); from < k; from++) {
        const before = best[from];
        const total = before.cost + cost[k];
        if (!(total < next[k].cost || (total === next[k].cost && before.calm + apart[k] > next[k].calm))) continue;
        next[k] = { cost: total, calm: before.calm + apart[k], seams: [...before.seams, k * STEP] };
      }
    best = next;
  }
  let chosen = best[0];
  for (let k = Math.max(1, Math.ceil((size - field) / STEP - 1e-9)); k < places; k++) {
    const one = best[k];
    if (one.cost < chosen.cost || chosen.seams.length === 0 || (one.cost === chosen.cost && one.calm > chosen.calm)) chosen = one;
  }
  return chosen.seams;
}

/** How many burned moves cross each place. */
function crossings(cuts: readonly PlannedCut[], axis: 'x' | 'y', places: number): Float64Array {
  const change = new Float64Array(places + 2);
  for (const { path } of cuts) {
    const across = path[axis];
    for (let i = 1; i < across.length; i++) {
      if (!(path.power && path.power[i] > 0)) continue;
      const [a, b] = [Math.min(across[i - 1], across[i]), Math.max(across[i - 1], across[i])];
      const [first, last] = [Math.max(0, Math.ceil(a / STEP)), Math.min(places, Math.floor(b / STEP))];
      if (last < first) continue;
      change[first]++;
      change[last + 1]--;
    }
  }
  let sum = 0;
  return change.subarray(0, places + 1).map((by) => (sum += by));
}

/** For each place how far it is to the next that crosses another number of lines. */
function calmest(cost: Float64Array): Float64Array {
  const out = new Float64Array(cost.length);
  for (let from = 0; from < cost.length;) {
    let to = from;
    while (to < cost.length && cost[to] === cost[from]) to++;
    for (let k = from; k < to; k++) out[k] = Math.min(k - from, to - 1 - k);
    from = to;
  }
  return out;
}
