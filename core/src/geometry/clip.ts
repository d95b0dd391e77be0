/**
 * Union, difference, intersection and offset of regions, by a polygon clipping library on an
 * integer grid of a millionth of a millimetre. Flags of smooth vertices ride along in the
 * library's z value.
 */
import { Clipper64, ClipperOffset, ClipType, EndType, FillRule, JoinType, PolyTree64, simplifyPath, type Path64, type PolyPath64 } from 'clipper2-ts';
import RBush from 'rbush';
import { contoursOf, perimeter, regionsBox, signedArea, smoothByTurn, type Box, type Contour, type Line, type Region } from './contour.ts';

const GRID = 1e6;
const SMOOTH_FLAG = 1;
/** What is smaller (mm²), or thinner than a hundredth of a micrometre, is rounding, not drawing. */
const SPECK = 1e-6;
const HAIR = 1e-5;

/** A corner is drawn out to a point as long as that lies no farther off than this many distances. */
const MITRE = 8;

export type Fill = 'nonzero' | 'evenodd';
export type Join = 'round' | 'mitre' | 'square';

function toGrid({ xy, smooth }: Contour): Path64 {
  const path: Path64 = [];
  for (let i = 0; i < smooth.length; i++) path.push({ x: Math.round(xy[2 * i] * GRID), y: Math.round(xy[2 * i + 1] * GRID), z: smooth[i] ? SMOOTH_FLAG : 0 });
  return path;
}

/**
 * A closed path without points in the middle of level runs. The library loses part of an outline
 * whose level edge runs back over itself, however little.
 */
function levelled(path: Path64): Path64 {
  const kept: Path64 = [];
  const idle = (a: number, b: number, c: number) => kept[a].y === kept[b].y && kept[b].y === kept[c].y;
  for (const point of path) {
    const last = kept[kept.length - 1];
    if (last && last.x === point.x && last.y === point.y) continue;
    kept.push(point);
    while (kept.length > 2 && idle(kept.length - 3, kept.length - 2, kept.length - 1)) kept.splice(kept.length - 2, 1);
  }
  for (let n = kept.length; n > 2; n = kept.length) {
    if (idle(n - 2, n - 1, 0)) kept.pop();
    else if (idle(n - 1, 0, 1)) kept.shift();
    else if (kept[0].x === kept[n - 1].x && kept[0].y === kept[n - 1].y) kept.pop();
    else break;
  }
  return kept;
}

const closedToGrid = (contour: Contour): Path64 => levelled(toGrid(contour));

function fromGrid(path: Path64, flagged: boolean): Contour {
  const xy = new Float64Array(2 * path.length);
  const smooth = new Uint8Array(path.length);
  for (let i = 0; i < path.length; i++) {
    xy[2 * i] = path[i].x / GRID;
    xy[2 * i + 1] = path[i].y / GRID;
    smooth[i] = path[i].z === SMOOTH_FLAG ? 1 : 0;
  }
  return { xy, smooth: flagged ? smooth : smoothByTurn(xy) };
}

function fromTree(tree: PolyTree64, flagged: boolean): Region[] {
  const regions: Region[] = [];
  const visit = (node: PolyPath64) => {
    // Every other level of the tree is an outer contour; its children are its holes.
    const region: Region = { outer: fromGrid(node.poly ?? [], flagged), holes: [] };
    for (let i = 0; i < node.count; i++) {
      const hole = node.child(i);
      region.holes.push(fromGrid(hole.poly ?? [], flagged));
      for (let j = 0; j < hole.count; j++) visit(hole.child(j));
    }
    const drawn = ({ xy }: Contour) => Math.abs(signedArea(xy)) > SPECK + (HAIR / 2) * perimeter(xy);
    region.holes = region.holes.filter(drawn);
    if (drawn(region.outer)) regions.push(region);
  };
  for (let i = 0; i < tree.count; i++) visit(tree.child(i));
  return regions;
}

function combine(type: ClipType, subject: readonly Contour[], clip: readonly Contour[], fill: Fill): Region[] {
  const clipper = new Clipper64();
  clipper.preserveCollinear = false;
  clipper.zCallback = (_a, _b, _c, _d, at) => {
    at.z = 0;
  };
  clipper.addSubject(subject.map(closedToGrid));
  if (clip.length) clipper.addClip(clip.map(closedToGrid));
  const tree = new PolyTree64();
  clipper.execute(type, fill === 'nonzero' ? FillRule.NonZero : FillRule.EvenOdd, tree);
  return fromTree(tree, true);
}

const flat = (regions: readonly Region[]): Contour[] => regions.flatMap(contoursOf);

/** Unites contours into regions that do not overlap. Glyphs and drawings use `nonzero` unless they say otherwise. */
export const unite = (contours: readonly Contour[], fill: Fill = 'nonzero'): Region[] => combine(ClipType.Union, contours, [], fill);

export const uniteRegions = (regions: readonly Region[]): Region[] => unite(flat(regions));

export const subtract = (from: readonly Region[], what: readonly Region[]): Region[] => combine(ClipType.Difference, flat(from), flat(what), 'nonzero');

export const intersect = (a: readonly Region[], b: readonly Region[]): Region[] => combine(ClipType.Intersection, flat(a), flat(b), 'nonzero');

/** Outlines of more points than this, whose edges are this many times shorter than the distance, are offset in stages. */
const MANY = 400;
const SHORT = 12;
/** ... between which points are dropped that say nothing: so much may each stage move an outline, mm. */
const STAGE = 3e-4;
/** An outline of edges shorter than this on the whole gets a point or two more at every joint: they are dropped, if that moves it by no more. */
const FINE = 0.25;
const LAST = 1e-4;

/**
 * Grows (positive) or shrinks (negative) regions by a distance. Outlines of very many short edges go there
 * in stages, which comes to the same: the raw offset of n short edges that bend round a place crosses
 * itself n² times, and edges grow longer on the way. (Derived: growing by a, then by b, is growing by a + b.)
 *
 * @param distance mm, signed
 * @param join how convex corners are treated; a bit's path wants `round`
 * @param arcTolerance greatest deviation of a round join from its arc, mm
 */
export function offset(regions: readonly Region[], distance: number, join: Join = 'round', arcTolerance = 0.002): Region[] {
  if (distance === 0) return [...regions];
  return apart(regions, distance, join).flatMap((group) => offsetTogether(group, distance, join, arcTolerance));
}

/** Regions in groups that do not meet when they grow by a distance: what is far apart costs less one by one than together. */
function apart(regions: readonly Region[], distance: number, join: Join): (readonly Region[])[] {
  if (regions.length < 2) return regions.length ? [regions] : [];
  if (distance < 0) return regions.map((region) => [region]);
  // Corners drawn out to a point reach farther than round ones.
  return groupsNear(regions, 2 * distance * (join === 'mitre' ? MITRE : 2));
}

/** Regions in groups whose boxes lie farther than this from those of any other group, mm: what is done to one is nothing to another. */
export function groupsNear(regions: readonly Region[], reach: number): Region[][] {
  const tree = new RBush<Box & { at: number }>();
  const boxes = regions.map((region, at) => ({ ...regionsBox([region]), at }));
  tree.load(boxes);
  const group = new Int32Array(regions.length).fill(-1);
  const groups: Region[][] = [];
  for (let i = 0; i < regions.length; i++) {
    if (group[i] >= 0) continue;
    const members: Region[] = [];
    const queue = [i];
    group[i] = groups.length;
    for (const at of queue) {
      members.push(regions[at]);
      const { minX, minY, maxX, maxY } = boxes[at];
      for (const other of tree.search({ minX: minX - reach, minY: minY - reach, maxX: maxX + reach, maxY: maxY + reach }))
        if (group[other.at] < 0) {
          group[other.at] = groups.length;
          queue.push(other.at);
        }
    }
    groups.push(members);
  }
  return groups;
}

const pointsOf = (regions: readonly Region[]): number => flat(regions).reduce((sum, { smooth }) => sum + smooth.length, 0);

/** How long the edges of outlines are on the whole, mm. */
const meanEdge = (regions: readonly Region[]): number => flat(regions).reduce((sum, { xy }) => sum + perimeter(xy), 0) / pointsOf(regions);

function offsetTogether(regions: readonly Region[], distance: number, join: Join, arcTolerance: number): Region[] {
  const way = Math.sign(distance);
  let rest = Math.abs(distance);
  for (let stages = 1; join === 'round'; stages++) {
    if (pointsOf(regions) < MANY || stages > 40) break;
    const step = SHORT * meanEdge(regions);
    if (rest < 1.5 * step) break;
    const part = Math.max(step, rest / 10);
    regions = offsetAtOnce(simplified(regions, STAGE), way * part, join, arcTolerance / 2);
    rest -= part;
    if (regions.length === 0) return [];
  }
  const out = offsetAtOnce(regions, way * rest, join, arcTolerance);
  return pointsOf(out) > MANY && meanEdge(out) < FINE ? simplified(out, LAST) : out;
}

function offsetAtOnce(regions: readonly Region[], distance: number, join: Join, arcTolerance: number): Region[] {
  const joinType = join === 'round' ? JoinType.Round : join === 'mitre' ? JoinType.Miter : JoinType.Square;
  const clipper = new ClipperOffset(join === 'mitre' ? MITRE : 2, arcTolerance * GRID);
  clipper.addPaths(flat(regions).map(toGrid), joinType, EndType.Polygon);
  const tree = new PolyTree64();
  clipper.execute(distance * GRID, tree);
  return fromTree(tree, false);
}

/** Regions with fewer points: none of those left out lies farther than the tolerance from the new edges. Outlines stay closed and apart only as far as the tolerance is small against them. */
export function simplified(regions: readonly Region[], tolerance: number): Region[] {
  const thin = (contour: Contour): Contour => fromGrid(simplifyPath(toGrid(contour), tolerance * GRID, true), false);
  return regions
    .map(({ outer, holes }) => ({ outer: thin(outer), holes: holes.map(thin).filter(({ smooth }) => smooth.length > 2) }))
    .filter(({ outer }) => outer.smooth.length > 2);
}

/** An open line with fewer points: none of those left out lies farther than the tolerance from it. */
export const thinned = (line: Line, tolerance: number): Line => fromGrid(simplifyPath(toGrid(line), tolerance * GRID, false), false);

/** The parts of open lines that lie inside regions. */
export function clipLines(lines: readonly Line[], inside: readonly Region[]): Line[] {
  if (lines.length === 0 || inside.length === 0) return [];
  const clipper = new Clipper64();
  clipper.zCallback = (_a, _b, _c, _d, at) => {
    at.z = 0;
  };
  clipper.addOpenSubject(lines.map(toGrid));
  clipper.addClip(flat(inside).map(closedToGrid));
  const open: Path64[] = [];
  clipper.execute(ClipType.Intersection, FillRule.NonZero, [], open);
  return open.filter((path) => path.length > 1).map((path) => fromGrid(path, true));
}

/** Rounds of a pen are drawn as finely as this unless somebody asks for less, mm. */
const FINEST_PEN = 0.002;

export type Cap = 'butt' | 'round' | 'square';

/**
 * The region a pen of some width covers along lines.
 *
 * @param closed whether each line's end joins its start
 * @param arcTolerance greatest deviation of its round joins and ends, mm
 */
export function strokeRegions(
  lines: readonly Contour[],
  width: number,
  closed: boolean,
  join: Join = 'round',
  cap: Cap = 'round',
  mitreLimit = 4,
  arcTolerance = Math.min(FINEST_PEN, width / 2000),
): Region[] {
  if (lines.length === 0) return [];
  const joinType = join === 'round' ? JoinType.Round : join === 'mitre' ? JoinType.Miter : JoinType.Bevel;
  const end = closed ? EndType.Joined : cap === 'butt' ? EndType.Butt : cap === 'round' ? EndType.Round : EndType.Square;
  const clipper = new ClipperOffset(mitreLimit, arcTolerance * GRID);
  clipper.addPaths(lines.map(toGrid), joinType, end);
  const tree = new PolyTree64();
  clipper.execute((width / 2) * GRID, tree);
  return fromTree(tree, false);
}
