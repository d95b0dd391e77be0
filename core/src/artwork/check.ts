/**
 * The artwork check: what would carve badly, found before anything is cut, each with where it is
 * and - where there is one - a repair that is one step and can be undone.
 */
import RBush from 'rbush';
import {
  contoursOf,
  distanceToEdges,
  emptyBox,
  growBox,
  insideContour,
  intersect,
  offset,
  perimeter,
  regionArea,
  regionsBox,
  signedArea,
  subtract,
  unite,
  type Box,
  type Contour,
  type Region,
} from '../geometry/index.ts';
import type { Item, Job, PathItem, TextItem } from '../job/index.ts';
import { worksOn } from '../job/target.ts';
import { isPointed } from '../bits/index.ts';
import { kindOf } from '../cuts/index.ts';
import { finding, type Finding } from '../findings/index.ts';
import { drawnBox } from './edit.ts';
import { fitContour } from './fit.ts';
import { faceById, letterRegions } from './text/index.ts';
import { chain } from './import/dxf.ts';
import { pathBox } from './import/imported.ts';
import { drawSubpaths, itemPath, placeOf, transformPath, parsePath, type DrawContext, type DrawnItem, type Subpath } from './index.ts';

/** A drawn thing with its drawing. */
export interface Drawn extends DrawnItem {
  item: Item;
}

/** What is finer than this carves to fuzz with any bit, mm (common practice). */
export const SPECK = 0.2;

/** Letters, brackets of an outline and the like have at most this many nodes without being asked to lose some. */
const FEW_NODES = 40;

/**
 * Checks the artwork of a job.
 *
 * @param drawn every thing that is not hidden, with its drawing
 * @param kept what was found of single things before, by their drawing
 */
export function checkArtwork(job: Job, drawn: readonly Drawn[], context: DrawContext, kept: CheckedThings = new WeakMap()): Finding[] {
  // Bars that stay are no artwork: nothing is amiss where they lie over it.
  drawn = drawn.filter(({ item }) => !item.bridge);
  const found = drawn.flatMap((thing) => [...checkThing(job, thing, context, kept), ...islands(thing, job)]);
  return [
    ...found,
    ...drawn.flatMap((thing) => offBoard(job, thing)),
    ...looseEnds(drawn, context, job.check.gap),
    ...doubled(drawn),
    ...overlaps(drawn, job),
    ...tooNarrow(drawn, job),
  ];
}

/** What was found in single things, by their drawings, and what it was looked for with. */
export type CheckedThings = WeakMap<object, { tolerance: number; finest: number; found: Finding[] }>;

/** What is found in one thing by itself. Kept by its drawing, which is the same object while nothing changes, and by all else that it is looked for with. */
export function checkThing(job: Job, thing: Drawn, context: DrawContext, kept: CheckedThings): Finding[] {
  const { tolerance } = job;
  const least = finest(job);
  const known = kept.get(thing.regions);
  if (known?.tolerance === tolerance && known.finest === least) return known.found;
  const found = [...needless(thing, tolerance), ...crossings(thing, tolerance), ...specks(thing, least), ...winding(thing), ...lettersOverlap(thing, context)];
  kept.set(thing.regions, { tolerance, finest: least, found });
  return found;
}

/** What is narrower than this no bit of a V-carve shows, mm: twice its tip (common practice). */
export const finest = ({ cuts, tools: bits }: Job): number =>
  Math.max(0, ...Object.values(cuts).map(({ tool: bit }) => (isPointed(bits[bit]) ? 2 * bits[bit].tipFlat : 0)));

/** What reaches beyond the board would not be carved. */
function offBoard(job: Job, { item, regions }: Drawn): Finding[] {
  if (item.guide) return [];
  if (regions.length === 0) return [];
  const box = regionsBox(regions);
  const over = Math.max(-box.minX, -box.minY, box.maxX - job.board.width, box.maxY - job.board.height);
  if (over <= job.tolerance) return [];
  const at: [number, number] = [
    -box.minX === over ? box.minX : box.maxX - job.board.width === over ? box.maxX : (box.minX + box.maxX) / 2,
    -box.minY === over ? box.minY : box.maxY - job.board.height === over ? box.maxY : (box.minY + box.maxY) / 2,
  ];
  return [finding.artOffBoard(item.id, over, at)];
}

/** Loose ends of line work that meet other ends within the gap. */
function looseEnds(drawn: readonly Drawn[], context: DrawContext, gap: number): Finding[] {
  const pieces = openPieces(drawn, context);
  if (pieces.length === 0) return [];
  const { joined } = chain(
    pieces.map(({ subpath }) => subpath),
    gap,
  );
  if (joined === 0) return [];
  const ends = pieces.flatMap(({ subpath }) => endsOf(subpath));
  // Mark an end that has another close by.
  const at = ends.find(([x, y], i) => ends.some(([u, v], j) => i !== j && Math.hypot(x - u, y - v) <= gap)) ?? ends[0];
  const items = [...new Set(pieces.map(({ id }) => id))];
  return [finding.openEnds(items, joined, gap, at)];
}

const endsOf = ({ x, y, segments }: Subpath): [number, number][] => [
  [x, y],
  [segments[segments.length - 1].x, segments[segments.length - 1].y],
];

/** Open subpaths of line work, with the thing they belong to. Words in the single-line alphabet are meant to be open. */
function openPieces(drawn: readonly Drawn[], context: DrawContext): { id: string; subpath: Subpath }[] {
  return drawn
    .filter(({ item, lines }) => item.kind !== 'text' && lines.some(({ closed }) => !closed))
    .flatMap(({ item }) =>
      itemPath(item, context)
        .subpaths.filter((s) => !s.closed && s.segments.length > 0)
        .map((subpath) => ({ id: item.id, subpath })),
    );
}

/** The same line drawn twice: it would be cut twice. */
function doubled(drawn: readonly Drawn[]): Finding[] {
  const seen = new Map<string, string>();
  const twice = new Map<string, [number, number]>();
  for (const { item, regions, lines } of drawn) {
    if (item.kind === 'picture') continue;
    const contours = [...regions.flatMap(contoursOf), ...lines.map(({ line }) => line)];
    if (contours.length === 0) continue;
    const key = contours.map(signature).sort().join('|');
    if (seen.has(key)) twice.set(item.id, [contours[0].xy[0], contours[0].xy[1]]);
    else seen.set(key, item.id);
  }
  const out = twice.size ? [finding.doubled([...twice.keys()], twice.size, [...twice.values()][0])] : [];
  const again = doubledEdges(drawn.filter(({ item, lines }) => lines.length > 0 && !twice.has(item.id) && item.kind !== 'text'));
  return again ? [...out, finding.doubledEdges(again.ids, again.count, again.at)] : out;
}

export const grain = (value: number) => Math.round(value * 100);

/** Where a contour is and how it runs, whichever way round and wherever it starts: box, length, area. */
const signature = ({ xy }: Contour): string => {
  const box = growBox(emptyBox(), xy);
  return [box.minX, box.minY, box.maxX, box.maxY, perimeter(xy), Math.abs(signedArea(xy))].map(grain).join();
};

/** Straight pieces of line work that lie on each other, in any direction. */
function doubledEdges(drawn: readonly Drawn[]): { ids: string[]; count: number; at: [number, number] } | null {
  const seen = new Set<string>();
  const ids = new Set<string>();
  let count = 0;
  let at: [number, number] | null = null;
  for (const { item, lines } of drawn)
    for (const { line, closed } of lines) {
      const { xy } = line;
      const n = xy.length / 2;
      for (let i = 0; i < (closed ? n : n - 1); i++) {
        const j = (i + 1) % n;
        const ends = [`${grain(xy[2 * i])},${grain(xy[2 * i + 1])}`, `${grain(xy[2 * j])},${grain(xy[2 * j + 1])}`];
        if (ends[0] === ends[1]) continue;
        const key = ends.sort().join(' ');
        if (seen.has(key)) {
          count++;
          ids.add(item.id);
          at ??= [(xy[2 * i] + xy[2 * j]) / 2, (xy[2 * i + 1] + xy[2 * j + 1]) / 2];
        } else seen.add(key);
      }
    }
  return at ? { ids: [...ids], count, at } : null;
}

/** Outlines that cross themselves: what is inside is a matter of rules nobody sees. */
function crossings({ item, regions, lines }: Drawn, tolerance: number): Finding[] {
  if (item.kind !== 'path' || regions.length === 0 || lines.length) return [];
  const place = placeOf(item);
  for (const subpath of transformPath(parsePath(item.d).subpaths, place)) {
    const contour = drawSubpaths([subpath], tolerance / 2, true).contours[0];
    if (!contour) continue;
    const area = Math.abs(signedArea(contour.xy));
    const once = unite([contour], 'evenodd').reduce((sum, region) => sum + regionArea(region), 0);
    if (Math.abs(once - area) > tolerance * perimeter(contour.xy) * 0.5) return [finding.selfCrossing(item.id, crossingOf(contour.xy))];
  }
  return [];
}

/** A point where a closed line crosses itself; its first vertex when none is found. */
function crossingOf(xy: Float64Array): [number, number] {
  const n = xy.length / 2;
  const index = new RBush<Box & { i: number }>();
  index.load(
    Array.from({ length: n }, (_, i) => {
      const j = (i + 1) % n;
      return { ...growBox(emptyBox(), [xy[2 * i], xy[2 * i + 1], xy[2 * j], xy[2 * j + 1]]), i };
    }),
  );
  for (const edge of index.all())
    for (const other of index.search(edge)) {
      const [i, j] = [edge.i, other.i];
      if (j <= i + 1 || (i === 0 && j === n - 1)) continue;
      const [a, b, c, d] = [2 * i, 2 * ((i + 1) % n), 2 * j, 2 * ((j + 1) % n)];
      const [ux, uy, vx, vy] = [xy[b] - xy[a], xy[b + 1] - xy[a + 1], xy[d] - xy[c], xy[d + 1] - xy[c + 1]];
      const cross = ux * vy - uy * vx;
      if (Math.abs(cross) < 1e-12) continue;
      const t = ((xy[c] - xy[a]) * vy - (xy[c + 1] - xy[a + 1]) * vx) / cross;
      const s = ((xy[c] - xy[a]) * uy - (xy[c + 1] - xy[a + 1]) * ux) / cross;
      if (t > 0 && t < 1 && s > 0 && s < 1) return [xy[a] + t * ux, xy[a + 1] + t * uy];
    }
  return [xy[0], xy[1]];
}

/** Specks and slivers: shapes too thin for the bit to show, or mere dirt. */
function specks({ item, regions }: Drawn, smallest: number): Finding[] {
  const least = Math.max(SPECK, smallest);
  const tiny = regions.filter((region) => isSpeck(region, least));
  if (tiny.length === 0 || item.kind === 'text') return [];
  return [finding.specks(item.id, tiny.length, least, [tiny[0].outer.xy[0], tiny[0].outer.xy[1]])];
}

/** Mean width of a strip is twice its area over its length of edge. */
export const isSpeck = (region: Region, least: number) =>
  regionArea(region) < least * least || (2 * regionArea(region)) / perimeter(region.outer.xy) < least / 2;

/** Nodes that a curve within tolerance does without. */
function needless({ item, regions, lines }: Drawn, tolerance: number): Finding[] {
  if (item.kind !== 'path') return [];
  const { subpaths } = parsePath(item.d);
  const before = subpaths.reduce((sum, s) => sum + s.segments.length, 0);
  if (before < FEW_NODES) return [];
  const fitted = refit(item, tolerance);
  const after = fitted.reduce((sum, s) => sum + s.segments.length, 0);
  if (after > 0.6 * before) return [];
  const worst = Math.max(...subpaths.map((subpath, i) => (fitted[i] === subpath ? 0 : deviation(subpath, fitted[i], tolerance, item.fill !== 'none'))));
  const first = regions[0]?.outer.xy ?? lines[0]?.line.xy;
  return [finding.needlessNodes(item.id, before - after, before, worst, first ? [first[0], first[1]] : [item.x, item.y])];
}

/** A path with its curves fitted anew, about its own origin; a subpath that would gain nothing is the same object. */
export const refit = (item: PathItem, tolerance: number): Subpath[] =>
  parsePath(item.d).subpaths.map((s) => {
    const drawn = drawSubpaths([s], tolerance / 4, item.fill !== 'none');
    const contour = drawn.contours[0] ?? drawn.lines[0];
    if (!contour) return s;
    const fitted = fitContour(contour, tolerance, drawn.contours.length > 0);
    return fitted.segments.length < s.segments.length ? fitted : s;
  });

/** Points of an outline at which its distance from another is looked at. */
const SAMPLES = 100;

/** Greatest distance of a subpath from another that stands for it, at some points of it. */
function deviation(from: Subpath, to: Subpath, tolerance: number, close: boolean): number {
  const [a, b] = [from, to].map((s) => drawSubpaths([s], tolerance / 8, close));
  const contour = a.contours[0] ?? a.lines[0];
  const track = b.contours[0] ?? b.lines[0];
  if (!contour || !track) return 0;
  // An open line there and back encloses nothing, and has edges all along.
  const xy = b.contours.length
    ? track.xy
    : Float64Array.from([...track.xy, ...[...track.xy].reverse().flatMap((_, i, all) => (i % 2 ? [all[i], all[i - 1]] : []))]);
  const region = [{ outer: { xy, smooth: track.smooth }, holes: [] }];
  const n = contour.xy.length / 2;
  let worst = 0;
  for (let i = 0; i < n; i += Math.max(1, Math.floor(n / SAMPLES))) worst = Math.max(worst, distanceToEdges(region, contour.xy[2 * i], contour.xy[2 * i + 1]));
  return worst;
}

/** Letters that run into their neighbours: carved as one outline, which tight setting may not want. */
function lettersOverlap({ item }: Drawn, context: DrawContext): Finding[] {
  // Script is joined on purpose.
  if (item.kind !== 'text' || faceById(item.face)?.style === 'script') return [];
  const { count, at } = overlapOf(item, context);
  return count > 0 ? [finding.lettersOverlap(item.id, count, at)] : [];
}

/** How many letters run into the next one, the widest overlap in mm, and where the first is. */
export function overlapOf(item: TextItem, context: DrawContext): { count: number; width: number; at: [number, number] } {
  const letters = itemPath(item, context).letters ?? [];
  const boxes = letters.map((letter) => pathBox(letter));
  const drawn: (Region[] | undefined)[] = [];
  const regionsOf = (i: number) => (drawn[i] ??= letterRegions({ letters: [letters[i]] }, 4 * context.tolerance));
  const out = { count: 0, width: 0, at: [item.x, item.y] as [number, number] };
  for (let i = 0; i + 1 < letters.length; i++) {
    const [a, b] = [boxes[i], boxes[i + 1]];
    // Most letters keep clear of each other by far: only the others are drawn for this.
    if (a.maxX < b.minX || b.maxX < a.minX || a.maxY < b.minY || b.maxY < a.minY) continue;
    const common = intersect(regionsOf(i), regionsOf(i + 1));
    if (areaOf(common) < 1e-3) continue;
    const box = regionsBox(common);
    if (out.count === 0) out.at = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
    out.count++;
    out.width = Math.max(out.width, box.maxX - box.minX);
  }
  return out;
}

/** Holes that are drawn the same way round as their outline, and so are filled. */
function winding({ item }: Drawn): Finding[] {
  if (item.kind !== 'path' || item.fill !== 'nonzero') return [];
  const swallowed = swallowedHoles(parsePath(item.d).subpaths);
  if (swallowed.length === 0) return [];
  const [s] = transformPath([swallowed[0]], placeOf(item));
  return [finding.wrongWinding(item.id, swallowed.length, [s.x, s.y])];
}

export function swallowedHoles(subpaths: readonly Subpath[]): Subpath[] {
  if (subpaths.length < 2 || subpaths.length > 2000) return [];
  const drawn = subpaths.map((s) => drawSubpaths([s], 0.05, true).contours[0]?.xy);
  return subpaths.filter((_, i) => {
    const xy = drawn[i];
    if (!xy) return false;
    const area = signedArea(xy);
    const box = growBox(emptyBox(), xy);
    return drawn.some((other, j) => {
      if (j === i || !other || Math.sign(signedArea(other)) !== Math.sign(area) || Math.abs(signedArea(other)) <= Math.abs(area)) return false;
      const around = growBox(emptyBox(), other);
      if (around.minX > box.minX || around.maxX < box.maxX || around.minY > box.minY || around.maxY < box.maxY) return false;
      // Wholly inside: every vertex is.
      for (let k = 0; k < xy.length; k += 2) if (!insideContour(other, xy[k], xy[k + 1])) return false;
      return true;
    });
  });
}

/**
 * Does a cut go right through along the edges of a thing, from inside it? Cut by nesting, what comes out of
 * a hole is waste, as it is meant to be; tabs hold it as they hold the part.
 */
const cutThrough = (job: Job, item: Item) => Object.values(job.cuts).some((cut) => kindOf(cut).opens?.(cut, job) && worksOn(job, cut, item));

/** Parts that drop out when a thing is cut through. */
function islands({ item, regions }: Drawn, job: Job): Finding[] {
  const holes = regions.flatMap((region) => region.holes);
  if (holes.length === 0 || !cutThrough(job, item)) return [];
  const letters = regions.filter((region) => region.holes.length).length;
  return [finding.islands(item.id, holes.length, letters, item.kind === 'text', [holes[0].xy[0], holes[0].xy[1]])];
}

/** Things that lie over each other: the carve would run twice where they do. */
function overlaps(drawn: readonly Drawn[], job: Job): Finding[] {
  const filled = drawn.filter(({ item, regions }) => regions.length > 0 && item.id !== job.outline);
  const index = new RBush<Box & { k: number }>();
  const boxes = filled.map((thing, k) => ({ ...drawnBox(thing.item, thing), k }));
  index.load(boxes);
  const out: Finding[] = [];
  for (const box of boxes)
    for (const other of index.search(box)) {
      if (other.k <= box.k || out.length >= 50) continue;
      const [a, b] = [filled[box.k], filled[other.k]];
      // A rim round something, a border round words: lying inside a hole is no overlap.
      const common = intersect(a.regions, b.regions);
      const area = areaOf(common);
      if (area < 1e-3 || !sharesCut(job, a.item, b.item)) continue;
      // Words wholly on their plate, in one group with it: that is what plates are.
      const smaller = Math.min(areaOf(a.regions), areaOf(b.regions));
      if (a.item.group !== undefined && a.item.group === b.item.group && area > 0.999 * smaller) continue;
      if (area > 0.999 * smaller && nests(job, a.item, b.item)) continue;
      out.push(finding.overlap([a.item.id, b.item.id], area, [common[0].outer.xy[0], common[0].outer.xy[1]]));
    }
  return out;
}

const areaOf = (regions: readonly Region[]): number => regions.reduce((sum, region) => sum + regionArea(region), 0);

/** Does every cut that works on both go by what lies in what? Then a hole drawn in a plate is one. */
const nests = (job: Job, a: Item, b: Item) =>
  Object.values(job.cuts).every((cut) => !(worksOn(job, cut, a) && worksOn(job, cut, b)) || kindOf(cut).byNesting?.(cut) === true);

/** Are two things worked on by the same cut? */
const sharesCut = (job: Job, a: Item, b: Item) => {
  const cuts = Object.values(job.cuts);
  return cuts.length === 0 || cuts.some((cut) => worksOn(job, cut, a) && worksOn(job, cut, b));
};

/** Parts of artwork that a straight bit cut inside cannot get into. */
function tooNarrow(drawn: readonly Drawn[], job: Job): Finding[] {
  const out: Finding[] = [];
  for (const cut of Object.values(job.cuts)) {
    const bit = job.tools[cut.tool];
    if (!kindOf(cut).missesNarrow?.(cut) || !bit) continue;
    const r = (bit.measuredWidth ?? bit.diameter) / 2;
    for (const { item, regions } of drawn) {
      if (!worksOn(job, cut, item) || regions.length === 0) continue;
      // What a round bit reaches is the opening: shrunk by its radius and grown again. A corner's own rounding is no news.
      const reached = offset(offset(regions, -r), r * 1.02);
      const missed = subtract(regions, reached).filter((region) => (2 * regionArea(region)) / perimeter(region.outer.xy) > 0.25 * r);
      if (missed.length) out.push(finding.narrowerThanBit(item.id, cut.id, missed.length, 2 * r, [missed[0].outer.xy[0], missed[0].outer.xy[1]]));
    }
  }
  return out;
}
