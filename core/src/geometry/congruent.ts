/** Regions of the very same shape, wherever they stand: words repeat their letters, and what is worked out for one holds for all. */
import { contoursOf, type Contour, type Region } from './contour.ts';

export interface Congruent {
  /** The shape about its own origin: the first point of its outline. */
  shape: Region;
  /** The regions of that shape, in the order they were given, and where each one's origin is. */
  members: { region: Region; x: number; y: number }[];
}

/** Coordinates are told apart to a millionth of a millimetre, the grid drawings are united on. */
const GRID = 1e6;

/** Sorts regions by shape; the order is that in which each shape first comes. */
export function congruent(regions: readonly Region[]): Congruent[] {
  const groups: Congruent[] = [];
  const byHash = new Map<number, Congruent[]>();
  for (const region of regions) {
    const [x, y] = region.outer.xy;
    const shape = { outer: moved(region.outer, x, y), holes: region.holes.map((hole) => moved(hole, x, y)) };
    const hash = hashOf(shape);
    const alike = byHash.get(hash) ?? [];
    byHash.set(hash, alike);
    let group = alike.find((one) => same(one.shape, shape));
    if (!group) {
      group = { shape, members: [] };
      alike.push(group);
      groups.push(group);
    }
    group.members.push({ region, x, y });
  }
  return groups;
}

const moved = ({ xy, smooth }: Contour, x: number, y: number): Contour => ({ xy: xy.map((v, i) => Math.round((v - (i % 2 ? y : x)) * GRID) / GRID), smooth });

/** FNV-1a over the coordinates in grid units. */
function hashOf(shape: Region): number {
  let hash = 0x811c9dc5;
  for (const { xy } of contoursOf(shape)) for (const v of xy) hash = Math.imul(hash ^ Math.round(v * GRID), 0x01000193);
  return hash;
}

function same(a: Region, b: Region): boolean {
  const [p, q] = [contoursOf(a), contoursOf(b)];
  return p.length === q.length && p.every(({ xy, smooth }, k) => equal(xy, q[k].xy) && equal(smooth, q[k].smooth));
}

const equal = (a: ArrayLike<number>, b: ArrayLike<number>): boolean => {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};
