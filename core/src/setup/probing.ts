/**
 * The arithmetic of setting zero. Positions are machine coordinates of the bit's axis or tip, mm;
 * an offset is the machine position of work zero. (Derived from plain geometry; the ways themselves
 * are common practice.)
 */
import { radiusAt, shapeOf } from '../bits/index.ts';
import type { Bit } from '../job/index.ts';

export type Point = readonly [number, number];
export type Corner = 'lower-left' | 'lower-right' | 'upper-left' | 'upper-right';

/** +1 where an edge is met moving towards plus on X and Y: from outside the board to its corner. */
export const INWARDS: Record<Corner, [number, number]> = {
  'lower-left': [1, 1],
  'lower-right': [-1, 1],
  'upper-left': [1, -1],
  'upper-right': [-1, -1],
};

/** Z offset when the tip touches something `thickness` mm thick lying on the datum face: a paper, a plate. */
export const zeroUnder = (contactZ: number, thickness: number): number => contactZ - thickness;

/**
 * Where the edge of a board is after the bit's side touched it, or touched the lip of a block that
 * hangs over it: edge = contact + sign·(radius + lip), sign the direction of the touching move.
 */
export const edgeFrom = (contact: number, sign: number, radius: number, lip = 0): number => contact + sign * (radius + lip);

/** The corner of a board from a block touched along X and along Y. */
export function cornerFrom(contact: Point, corner: Corner, radius: number, lip: Point): [number, number] {
  const [sx, sy] = INWARDS[corner];
  return [edgeFrom(contact[0], sx, radius, lip[0]), edgeFrom(contact[1], sy, radius, lip[1])];
}

/** Radius of a bit where a face touches it whose upper edge stands `below` mm above the tip. */
export const touchRadius = (bit: Bit, below: number): number => radiusAt(shapeOf(bit), Math.max(0, below));

/** Middle of a board from two opposite corners. */
export const middleOf = (a: Point, b: Point): [number, number] => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];

/**
 * Where the diagonals of four corners cross: the middle to use on an offcut that is not quite
 * square. Corners go round: a and c, b and d are opposite. Null when they do not cross.
 */
export function crossingOf(a: Point, b: Point, c: Point, d: Point): [number, number] | null {
  const [ux, uy] = [c[0] - a[0], c[1] - a[1]];
  const [vx, vy] = [d[0] - b[0], d[1] - b[1]];
  const cross = ux * vy - uy * vx;
  if (Math.abs(cross) < 1e-9) return null;
  const s = ((b[0] - a[0]) * vy - (b[1] - a[1]) * vx) / cross;
  if (s < 0 || s > 1) return null;
  return [a[0] + s * ux, a[1] + s * uy];
}

/** How a board lies on the bed: work zero there, and its turn, radians counter-clockwise. */
export interface Placement {
  origin: [number, number];
  angle: number;
  /** How far the worst mark was found from where this places it, mm: what cannot be right shows here. */
  off: number;
}

const meanOf = (points: readonly Point[]): Point => [
  points.reduce((sum, [x]) => sum + x, 0) / points.length,
  points.reduce((sum, [, y]) => sum + y, 0) / points.length,
];

/** Marks nearer to their middle than this give no direction, mm. */
const TOO_NEAR = 5;

/**
 * Places a job by two marks or more: where each is drawn (work coordinates) and where it was found (machine
 * coordinates), so that the squares of what is left add up to least. Null when the marks are too near each other to give
 * a direction. (Published: the rigid fit of Kabsch 1976, in the plane; from memory.)
 */
export function placeByMarks(drawn: readonly Point[], found: readonly Point[]): Placement | null {
  const [from, to] = [meanOf(drawn), meanOf(found)];
  let [dot, cross, wide] = [0, 0, Infinity];
  drawn.forEach(([x, y], k) => {
    const [dx, dy, fx, fy] = [x - from[0], y - from[1], found[k][0] - to[0], found[k][1] - to[1]];
    dot += dx * fx + dy * fy;
    cross += dx * fy - dy * fx;
  });
  for (const [points, middle] of [[drawn, from], [found, to]] as const) wide = Math.min(wide, Math.max(...points.map(([x, y]) => Math.hypot(x - middle[0], y - middle[1])))); // prettier-ignore
  if (!(wide >= TOO_NEAR)) return null;
  const angle = Math.atan2(cross, dot);
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const at = ([x, y]: Point): [number, number] => [cos * x - sin * y, sin * x + cos * y];
  const [mx, my] = at(from);
  const origin: [number, number] = [to[0] - mx, to[1] - my];
  const off = Math.max(...drawn.map((p, k) => Math.hypot(at(p)[0] + origin[0] - found[k][0], at(p)[1] + origin[1] - found[k][1])));
  return { origin, angle, off };
}

/** Z offset after a bit change: it moves by the difference of the two readings of the tool sensor. */
export const afterBitChange = (offsetZ: number, before: number, now: number): number => offsetZ + now - before;
