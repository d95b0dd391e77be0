/**
 * Union, difference, intersection and offset of regions, by a polygon clipping library on an
 * integer grid of a millionth of a millimetre. Flags of smooth vertices ride along in the
 * library's z value.
 */
import { Clipper64, ClipperOffset, ClipType, EndType, FillRule, JoinType, PolyTree64, type Path64, type PolyPath64 } from 'clipper2-ts';
import { contoursOf, perimeter, signedArea, smoothByTurn, type Contour, type Region } from './contour.ts';

const GRID = 1e6;
const SMOOTH_FLAG = 1;
/** What is smaller (mm²), or thinner than a hundredth of a micrometre, is rounding, not drawing. */
const SPECK = 1e-6;
const HAIR = 1e-5;

export type Fill = 'nonzero' | 'evenodd';
export type Join = 'round' | 'mitre' | 'square';

function toGrid({ xy, smooth }: Contour): Path64 {
  const path: Path64 = [];
  for (let i = 0; i < smooth.length; i++) path.push({ x: Math.round(xy[2 * i] * GRID), y: Math.round(xy[2 * i + 1] * GRID), z: smooth[i] ? SMOOTH_FLAG : 0 });
  return path;
}

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
  clipper.addSubject(subject.map(toGrid));
  if (clip.length) clipper.addClip(clip.map(toGrid));
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

/**
 * Grows (positive) or shrinks (negative) regions by a distance.
 *
 * @param distance mm, signed
 * @param join how convex corners are treated; a bit's path wants `round`
 * @param arcTolerance greatest deviation of a round join from its arc, mm
 */
export function offset(regions: readonly Region[], distance: number, join: Join = 'round', arcTolerance = 0.002): Region[] {
  if (regions.length === 0) return [];
  if (distance === 0) return [...regions];
  const joinType = join === 'round' ? JoinType.Round : join === 'mitre' ? JoinType.Miter : JoinType.Square;
  const clipper = new ClipperOffset(join === 'mitre' ? 8 : 2, arcTolerance * GRID);
  clipper.addPaths(flat(regions).map(toGrid), joinType, EndType.Polygon);
  const tree = new PolyTree64();
  clipper.execute(distance * GRID, tree);
  return fromTree(tree, false);
}
