/** What mends the findings of the artwork check: one repair for each code that has one. */
import { emptyBox, growBox, subtract, unite, uniteRegions, type Contour, type Region } from '../geometry/index.ts';
import type { Finding } from '../findings/index.ts';
import type { Item, Job, PathItem } from '../job/index.ts';
import { barsFor } from './bridges.ts';
import { finest, grain, isSpeck, overlapOf, refit, SPECK, swallowedHoles } from './check.ts';
import { bridgeThings, freshId, pathThing, regionPaths, type Change } from './edit.ts';
import { chain } from './import/dxf.ts';
import { drawSubpaths, isHidden, itemPath, parsePath, placeOf, reversedPath, transformPath, type DrawContext, type Subpath } from './index.ts';

type Items = Record<string, Item | null>;
type Repair = (items: readonly Item[], job: Job, context: DrawContext) => Items;

const drawn = (item: Item, context: DrawContext): Contour[] => drawSubpaths(itemPath(item, context).subpaths, context.tolerance, true).contours;
const filled = (item: Item, context: DrawContext): Region[] =>
  unite(drawn(item, context), item.kind === 'path' && item.fill === 'evenodd' ? 'evenodd' : 'nonzero');
const shape = (item: Item, regions: readonly Region[], job: Job): PathItem => pathThing(item, regionPaths(regions, job.tolerance / 2), 'nonzero');
const gone = (items: readonly Item[]): Items => Object.fromEntries(items.map(({ id }) => [id, null]));
const each = (items: readonly Item[], mend: (item: Item) => Item | null | undefined): Items => {
  const out: Items = {};
  for (const item of items) {
    const mended = mend(item);
    if (mended !== undefined) out[item.id] = mended;
  }
  return out;
};

/** Loose ends within the gap are joined; what closes by that is a shape. */
const joinEnds: Repair = (items, job, context) => {
  const { subpaths } = chain(
    items.flatMap((item) => itemPath(item, context).subpaths),
    job.check.gap,
  );
  const out = gone(items);
  subpaths.forEach((subpath, i) => {
    const like = items[Math.min(i, items.length - 1)];
    const id = i < items.length ? like.id : freshId(like.id, (other) => other in job.items || other in out);
    out[id] = pathThing(like, [subpath], subpath.closed ? 'nonzero' : 'none', id);
  });
  return out;
};

/** Every straight piece of all line work once, chained again. */
const dropDoubledEdges: Repair = (_items, job, context) => {
  const lineWork = Object.values(job.items).filter((item) => !isHidden(item, job) && item.kind !== 'text' && itemPath(item, context).fill === 'none');
  const seen = new Set<string>();
  return each(lineWork, (item) => {
    const pieces: Subpath[] = [];
    let dropped = 0;
    for (const subpath of itemPath(item, context).subpaths) {
      let [x, y] = [subpath.x, subpath.y];
      const segments = subpath.closed ? [...subpath.segments, { kind: 'line' as const, x: subpath.x, y: subpath.y }] : subpath.segments;
      for (const s of segments) {
        const key = [`${grain(x)},${grain(y)}`, `${grain(s.x)},${grain(s.y)}`].sort().join(' ') + (s.kind === 'line' ? '' : JSON.stringify(s));
        if (seen.has(key)) dropped++;
        else if (Math.hypot(s.x - x, s.y - y) > 1e-9 || s.kind !== 'line') {
          seen.add(key);
          pieces.push({ x, y, closed: false, segments: [s] });
        }
        [x, y] = [s.x, s.y];
      }
    }
    if (!dropped) return undefined;
    return pieces.length ? pathThing(item, chain(pieces, 1e-6).subpaths, 'none') : null;
  });
};

const uniteAll: Repair = (items, job, context) => ({
  ...gone(items),
  [items[0].id]: shape(items[0], uniteRegions(items.flatMap((item) => filled(item, context))), job),
});

const dropSpecks: Repair = (items, job, context) => {
  const least = Math.max(SPECK, finest(job));
  return each(items, (item) => {
    const regions = filled(item, context).filter((region) => !isSpeck(region, least));
    return regions.length ? shape(item, regions, job) : null;
  });
};

/** Letters moved apart until none lies over another: shapes that lean may need more than their overlap is wide. */
const spaceLetters: Repair = (items, _job, context) =>
  each(items, (item) => {
    if (item.kind !== 'text') return undefined;
    let spaced = item;
    for (let k = 0; k < 20; k++) {
      const { count, width } = overlapOf(spaced, context);
      if (count === 0) break;
      spaced = { ...spaced, letterSpacing: Math.round((spaced.letterSpacing + width + 0.1) * 100) / 100 };
    }
    return spaced;
  });

/** Holes that were drawn the way of what is around them are turned round. */
const turnHoles: Repair = (items) =>
  each(items, (item) => {
    if (item.kind !== 'path') return undefined;
    const { subpaths } = parsePath(item.d);
    const wrong = new Set(swallowedHoles(subpaths));
    const turned = subpaths.map((subpath) => (wrong.has(subpath) ? reversedPath(subpath) : subpath));
    return pathThing(item, transformPath(turned, placeOf(item)), 'nonzero');
  });

/** Bars over islands that hang on none yet. */
const bridgeIslands: Repair = (items, job, context) => {
  const standing = Object.values(job.items).filter((item) => item.bridge && !isHidden(item, job));
  const bars = standing.flatMap((item) => filled(item, context));
  const open = items.flatMap((item) => subtract(filled(item, context), bars));
  return bridgeThings(barsFor(open, { width: job.check.bridgeWidth, count: job.check.bridges }), (id) => id in job.items);
};

const moveOnto: Repair = (items, { board: { width, height } }, context) =>
  each(items, (item) => {
    const box = growBox(
      emptyBox(),
      drawn(item, context).flatMap(({ xy }) => [...xy]),
    );
    if (box.maxX - box.minX > width || box.maxY - box.minY > height) throw new Error('It is larger than the board: make it smaller, or the board larger.');
    const inside = (low: number, high: number, size: number) => (low < 0 ? -low : high > size ? size - high : 0);
    return { ...item, x: item.x + inside(box.minX, box.maxX, width), y: item.y + inside(box.minY, box.maxY, height) };
  });

const REPAIRS: Partial<Record<Finding['code'], Repair>> = {
  'art-open-ends': joinEnds,
  'art-doubled': gone,
  'art-doubled-edges': dropDoubledEdges,
  'art-self-crossing': (items, job, context) => each(items, (item) => shape(item, filled(item, context), job)),
  'art-overlap': uniteAll,
  'art-specks': dropSpecks,
  'art-needless-nodes': (items, job) =>
    each(items, (item) => (item.kind === 'path' ? pathThing(item, transformPath(refit(item, job.tolerance), placeOf(item)), item.fill) : undefined)),
  'art-letters-overlap': spaceLetters,
  'art-winding': turnHoles,
  'art-islands': bridgeIslands,
  'art-off-board': moveOnto,
};

/**
 * The repair of a finding, as a change.
 *
 * @throws a sentence when there is nothing to mend any more
 */
export function repairArtwork(job: Job, found: Finding, context: DrawContext): Change {
  const items = (found.repair?.items ?? []).map((id) => job.items[id]).filter((item) => item !== undefined);
  if (items.length === 0) throw new Error('What was to be mended is not there any more.');
  const repair = REPAIRS[found.code];
  if (!repair) throw new Error('There is no repair for this.');
  return { items: repair(items, job, context) };
}
