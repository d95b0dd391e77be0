/** A job's drawn things as pieces that are laid out together, and the job with its plate laid out. */
import { turned } from '../artwork/edit.ts';
import { isStraight } from '../bits/index.ts';
import { boardThickness, goneOf } from '../board/index.ts';
import { contoursOf, intersect, mapRegion, offset, regionArea, regionsBox, unite, type Box, type Region } from '../geometry/index.ts';
import type { Item, Job } from '../job/index.ts';
import type { PlannedItem } from '../planned/items.ts';
import { nest, type Nest, type NestPiece, type NestSettings, type Placed } from './index.ts';

export interface JobNestSettings extends NestSettings {
  turns: readonly number[];
  /** How many of each, by the id of any thing in it; one when left out. */
  copies: Readonly<Record<string, number>>;
  /** What is cut out of the plate already. */
  holes?: readonly Region[];
}

/**
 * How far apart pieces are laid out, and from the edge, unless somebody says otherwise, mm: a web as wide as the plate is
 * thick for an arc, room for the bit that goes round each for a router, a little for a beam. (Common practice.)
 */
export function usualSpacing(job: Job): { gap: number; margin: number } {
  if (job.process === 'torch') return { gap: Math.max(5, boardThickness(job.board)), margin: 10 };
  if (job.process === 'laser') return { gap: 2, margin: 4 };
  const widest = Math.max(0, ...Object.values(job.cuts).flatMap(({ tool }) => (isStraight(job.tools[tool]) ? [job.tools[tool].diameter] : [])));
  return { gap: widest + 4, margin: widest + 10 };
}

/** A bridge belongs to what comes so near to it, mm. */
const BESIDE = 0.1;

/** Things that belong together: drawn over or in each other, grouped, or words and what they stand on. The first names the piece. */
export function piecesIn(items: readonly PlannedItem[]): PlannedItem[][] {
  const things = items.filter(({ item, regions, lines }) => !item.guide && !item.locked && regions.length + lines.length > 0);
  const boxes = things.map(({ regions, lines }) => regionsBox(regions.length > 0 ? regions : lines.map(({ line }) => ({ outer: line, holes: [] }))));
  const root = things.map((_, k) => k);
  const find = (k: number): number => (root[k] === k ? k : (root[k] = find(root[k])));
  const meet = (a: Box, b: Box) => a.minX <= b.maxX && b.minX <= a.maxX && a.minY <= b.maxY && b.minY <= a.maxY;
  // A hole drawn in a plate lies in it whatever its own holes are.
  const whole = ({ item, regions }: PlannedItem) => {
    const filled = regions.map(({ outer }) => ({ outer, holes: [] }));
    // What a bridge lies over ends at its edges.
    return item.bridge ? offset(filled, BESIDE) : filled;
  };
  things.forEach((a, i) =>
    things.slice(0, i).forEach((b, j) => {
      const together =
        (a.item.group !== undefined && a.item.group === b.item.group) ||
        standsOn(a.item, b.item) ||
        standsOn(b.item, a.item) ||
        (meet(boxes[i], boxes[j]) && intersect(whole(a), whole(b)).some((region) => regionArea(region) > 1e-3));
      if (together) root[find(i)] = find(j);
    }),
  );
  const groups = new Map<number, PlannedItem[]>();
  things.forEach((thing, k) => groups.set(find(k), [...(groups.get(find(k)) ?? []), thing]));
  return [...groups.values()]
    .map((group) => [...group].sort((a, b) => Number(a.item.bridge ?? false) - Number(b.item.bridge ?? false)))
    .filter(([first]) => !first.item.bridge);
}

const standsOn = (a: Item, b: Item): boolean => a.kind === 'text' && a.baseline.kind === 'path' && a.baseline.item === b.id;

/** A job laid out: with its pieces there, how, and their outlines. */
export type Laid = ReturnType<typeof nestJob>;

/** Orders tried in one go, and goes without anything better before it is left at that. */
const AT_ONCE = 4;
const PATIENCE = 60;

/** Lays a job out better and better, for as long as somebody asks for more or until nothing better is found any more: how many orders were tried, and what is better. */
export function* layouts(
  job: Job,
  items: readonly PlannedItem[],
  settings: Omit<JobNestSettings, 'rounds' | 'seed' | 'from'>,
): Generator<{ tried: number; better: Laid | null }> {
  let best = nestJob(job, items, { ...settings, rounds: 0 });
  yield { tried: 1, better: best };
  for (let seed = 1, idle = 0; idle < PATIENCE; seed++, idle++) {
    const next = nestJob(job, items, { ...settings, rounds: AT_ONCE, seed, from: best.nest });
    const better = next.nest.left.length < best.nest.left.length || next.nest.used < best.nest.used - 1e-6;
    if (better) [best, idle] = [next, 0];
    yield { tried: 1 + seed * AT_ONCE, better: better ? next : null };
  }
}

/**
 * Lays a job's pieces, and copies of them, out on its board. What found no room stays out of the new job, and is told.
 *
 * @param items its things as they are drawn
 */
export function nestJob(
  job: Job,
  items: readonly PlannedItem[],
  settings: JobNestSettings,
  hooks: Parameters<typeof nest>[3] = {},
): { job: Job; nest: Nest; /** Outlines of what was laid out, in the order of it. */ outlines: Region[][] } {
  const groups = piecesIn(items);
  const byName = new Map(groups.map((group) => [group[0].item.id, group]));
  const pieces = groups.map((group): NestPiece => {
    const asked = group.map(({ item }) => settings.copies[item.id]).find((count) => count !== undefined);
    return {
      id: group[0].item.id,
      // By what lies in what: a hole in a plate is free for others.
      // A bridge goes where its piece goes, and is none of its outline.
      regions: unite(
        group.flatMap(({ item, regions }) => (item.bridge ? [] : regions.flatMap(contoursOf))),
        'evenodd',
      ),
      copies: asked ?? 1,
      turns: settings.turns,
    };
  });
  // What is locked stays where it is, and nothing is laid over it.
  const locked = items.flatMap(({ item, regions }) => (item.locked && !item.guide && !item.bridge ? regions : []));
  const made = nest(
    pieces,
    { width: job.board.width, height: job.board.height, holes: [...goneOf(job.board), ...(settings.holes ?? []), ...locked] },
    settings,
    hooks,
  );
  const moved = new Set(groups.flat().map(({ item }) => item.id));
  const next: Record<string, Item> = {};
  const order: string[] = [];
  /** Ids of a thing's copies, the first by its own. */
  const copies = new Map<string, string[]>();
  for (const id of job.itemOrder) {
    if (moved.has(id)) continue;
    next[id] = job.items[id];
    order.push(id);
  }
  const first = new Set<string>();
  for (const { id, copy, angle, dx, dy } of made.placed) {
    const own = !first.has(id);
    first.add(id);
    const rename = (name: string) => (own ? name : freeName(name, copy, next, moved));
    for (const { item } of byName.get(id)!) {
      const name = rename(item.id);
      const placed = { ...turned(item, angle, [0, 0]), id: name };
      next[name] = {
        ...placed,
        x: placed.x + dx,
        y: placed.y + dy,
        ...(item.group === undefined || own ? {} : { group: `${item.group}-${copy + 1}`.slice(0, 40) }),
        ...(placed.kind === 'text' && placed.baseline.kind === 'path' ? { baseline: { ...placed.baseline, item: rename(placed.baseline.item) } } : {}),
      } as Item;
      order.push(name);
      copies.set(item.id, [...(copies.get(item.id) ?? []), name]);
    }
  }
  const cuts = Object.fromEntries(
    Object.entries(job.cuts).map(([id, cut]) => [
      id,
      Array.isArray(cut.on) ? { ...cut, on: cut.on.flatMap((on) => (moved.has(on) ? (copies.get(on) ?? []) : [on])) } : cut,
    ]),
  );
  return {
    job: { ...job, items: next, itemOrder: order, cuts, outline: job.outline !== null && job.outline in next ? job.outline : null },
    nest: made,
    outlines: made.placed.map((place) => outlinesAt(pieces.find(({ id }) => id === place.id)!.regions, place)),
  };
}

/** A piece where it was laid. */
export function outlinesAt(regions: readonly Region[], { angle, dx, dy }: Pick<Placed, 'angle' | 'dx' | 'dy'>): Region[] {
  const a = (angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  return regions.map((region) => mapRegion(region, (x, y) => [cos * x - sin * y + dx, sin * x + cos * y + dy]));
}

function freeName(name: string, copy: number, taken: Record<string, unknown>, own: ReadonlySet<string>): string {
  for (let k = copy + 1; ; k++) {
    const tried = `${name.slice(0, 34)}-${k}`;
    if (!(tried in taken) && !own.has(tried)) return tried;
  }
}
