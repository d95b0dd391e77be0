/**
 * Contours with fewer pierces, where the pierce count matters: in thick plate one is begun at the plate's edge,
 * and pieces that lie side by side are cut in one go, the arc going on through the scrap between them. (Common practice.)
 */
import { emptyBox, growBox, type Box, type ClosedLine } from '../../geometry/index.ts';
import { isOpen, onPlate, placesOn, type Lead, type LeadRoom } from './leads.ts';

type Point = [number, number];

/**
 * The shortest straight way from an edge of the plate to an outline, through nothing but scrap: it begins where the arc just takes the edge.
 *
 * @param within no longer than this, mm
 * @param byHand places along the line that somebody chose: the nearest edge to the first of them that can be
 */
export function leadFromEdge(line: ClosedLine, room: LeadRoom, within: number, byHand: readonly number[]): Lead | null {
  const {
    plate: { width, height },
    half,
  } = room;
  const { xy } = line;
  const extremes = [0, 1].flatMap((axis) => [-1, 1].map((way) => extremeOf(xy, axis, way))).map((k) => line.along[k]);
  const tried = (places: readonly number[]): Lead | null => {
    let best: Lead | null = null;
    for (const s of places) {
      const [x, y] = line.at(s);
      const from: Point[] = [
        [half, y],
        [width - half, y],
        [x, half],
        [x, height - half],
      ];
      for (const start of from) {
        const length = Math.hypot(x - start[0], y - start[1]);
        if (length > within || length < half || length >= (best?.length ?? Infinity)) continue;
        const points: Point[] = [start, [x, y]];
        if (isOpen(points, room)) best = { kind: 'edge', points, s, length, moved: false, shortened: false };
      }
    }
    return best;
  };
  return byHand.map((s) => tried([s])).find((lead) => lead !== null) ?? tried([...extremes, ...placesOn(line)]);
}

/** The corner of a line that lies farthest along an axis. */
function extremeOf(xy: ArrayLike<number>, axis: number, way: number): number {
  let best = 0;
  for (let k = 1; k < xy.length / 2; k++) if (way * xy[2 * k + axis] > way * xy[2 * best + axis]) best = k;
  return best;
}

/** Where an outline ends: the place, the way it came, and on which side its waste lies (1: left). */
export interface WayEnd {
  at: Point;
  along: Point;
  waste: 1 | -1;
}

/**
 * The way of the arc from the end of one outline to where the next begins: straight, or first out into the scrap. Not
 * through a part, nor along or over what is cut already: there it would go out.
 *
 * @param within no longer than this, mm
 * @param cut what is cut already, with its leads
 * @returns points after the end, `to` the last; null when there is none
 */
export function linkTo({ at, along: [tx, ty], waste }: WayEnd, to: Point, within: number, room: LeadRoom, cut: readonly CutLine[]): Point[] | null {
  if (Math.hypot(to[0] - at[0], to[1] - at[1]) > within) return null;
  const off = (ahead: number, out: number): Point => [at[0] + ahead * tx - waste * out * ty, at[1] + ahead * ty + waste * out * tx];
  const f = room.length * Math.SQRT1_2;
  // Straight; aslant into the scrap; straight out past its own lead and the crater of it.
  const ways: Point[][] = [[to], [off(f, f), to], [off(0, room.length + room.crater + 3 * room.half), to]];
  return ways.find((way) => isFreeWay([at, ...way], room, cut)) ?? null;
}

/** What is cut, as a line of points, and the box it lies in. */
export interface CutLine {
  points: readonly Point[];
  box: Box;
}
export const cutLine = (points: readonly Point[]): CutLine => ({ points, box: growBox(emptyBox(), points.flat()) });

/** It stands in its own kerf where it begins: what counts is the way from beyond that, in half kerfs. */
const OWN = 3;
/** Places on a way that are looked at, in half kerfs. */
const STEP = 0.5;

function isFreeWay(way: readonly Point[], room: LeadRoom, cut: readonly CutLine[]): boolean {
  if (!isOpen(way, room) || !way.every((p) => onPlate(p, room))) return false;
  let gone = 0;
  for (let k = 1; k < way.length; k++) {
    const [a, b] = [way[k - 1], way[k]];
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    const near = cut.filter(({ box }) => meets(box, a, b, room.half));
    for (let d = 0; d <= length; d += STEP * room.half) {
      if (gone + d < OWN * room.half) continue;
      const [x, y] = [a[0] + (d / length) * (b[0] - a[0]), a[1] + (d / length) * (b[1] - a[1])];
      if (near.some(({ points }) => awayFrom(points, [x, y]) < room.half)) return false;
    }
    gone += length;
  }
  return true;
}

const meets = ({ minX, minY, maxX, maxY }: Box, a: Point, b: Point, by: number): boolean =>
  Math.min(a[0], b[0]) < maxX + by && Math.max(a[0], b[0]) > minX - by && Math.min(a[1], b[1]) < maxY + by && Math.max(a[1], b[1]) > minY - by;

/** Distance of a point from a line of points, mm. */
export function awayFrom(points: readonly Point[], [x, y]: Point): number {
  let least = Math.hypot(points[0][0] - x, points[0][1] - y);
  for (let k = 1; k < points.length; k++) {
    const [[ax, ay], [bx, by]] = [points[k - 1], points[k]];
    const [dx, dy] = [bx - ax, by - ay];
    const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
    least = Math.min(least, Math.hypot(ax + t * dx - x, ay + t * dy - y));
  }
  return least;
}
