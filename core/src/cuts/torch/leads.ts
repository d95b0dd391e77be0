/**
 * Lead-ins of a torch: from the pierce, in the scrap, to the line. One that does not fit where it is wanted
 * begins elsewhere along the line, then is made shorter - down to the pierce's crater - then is left out and
 * told. In a hole it starts near the middle. It begins on a long edge, not at a corner. (Common practice.)
 */
import { ClosedLine, distanceToEdges, insideContour, insideRegion, type Region } from '../../geometry/index.ts';
import type { Nearby } from '../nearby.ts';
import { insideLength } from '../within.ts';

type Point = [number, number];

export interface LeadRoom {
  /** A slanting line, a quarter turn, or straight in. */
  kind: 'line' | 'arc' | 'straight';
  length: number;
  /** Radius of the pierce's crater, mm: it must not touch a part. */
  crater: number;
  /** Where the middle of the arc may not be: parts, grown by half a kerf. */
  closed: Nearby<Region>;
  parts: Nearby<Region>;
  plate: { width: number; height: number };
  /** Half the kerf. */
  half: number;
}

export interface Lead {
  /** `middle`: from the middle of a hole; `edge`: from an edge of the plate. */
  kind: 'line' | 'arc' | 'straight' | 'middle' | 'edge';
  /** From the pierce to where it meets the line. */
  points: Point[];
  /** Where that is along the line, mm. */
  s: number;
  length: number;
  moved: boolean;
  shortened: boolean;
}

/** Places along a line where a lead is tried. */
const PLACES = 48;
/** What of a way may lie where it may not, mm: rounding. */
const HAIR = 5e-3;
/** No start nearer to a corner than this, mm, while there is another place. */
const OFF_CORNER = 3;

/**
 * A lead for a line whose waste is on its left - or its right, for `waste` -1.
 *
 * @param pole the middle of a hole and its distance from the line; @param byHand places along it that somebody chose; `fixed`: only those
 */
export function leadFor(
  line: ClosedLine,
  room: LeadRoom,
  { pole, byHand, fixed = false, waste = 1 }: { pole: { at: Point; distance: number } | null; byHand: readonly number[]; fixed?: boolean; waste?: 1 | -1 },
): Lead | null {
  const places = fixed ? [...byHand] : [...byHand, ...placesOn(line)];
  const crater = Math.min(room.crater, room.length);
  const lengths = [...new Set([room.length, Math.max(crater, room.length / 2), crater])].filter((length) => length > 0);
  // A hole that holds no whole lead and crater is begun from its middle.
  const narrow = pole !== null && pole.distance < room.length + room.crater / 2;
  if (!narrow)
    for (const [n, length] of lengths.entries())
      for (const [k, s] of places.entries()) {
        const points = leadAt(line, s, { ...room, length }, waste);
        if (points) return { kind: room.kind, points, s: wrapped(s, line), length, moved: k > 0, shortened: n > 0 };
      }
  if (pole) {
    const places = [line.nearest(...pole.at).s, ...placesOn(line)];
    for (const [k, s] of places.entries()) {
      const points: Point[] = [pole.at, line.at(s)];
      if (isOpen(points, room))
        return { kind: 'middle', points, s, length: Math.hypot(points[1][0] - pole.at[0], points[1][1] - pole.at[1]), moved: k > 0, shortened: false };
    }
  }
  return null;
}

const wrapped = (s: number, { length }: ClosedLine): number => ((s % length) + length) % length;

/** The middles of long straight edges, the longest first; then places spread evenly, those at corners last. */
export function placesOn(line: ClosedLine): number[] {
  const edges = Array.from({ length: line.along.length - 1 }, (_, i) => i)
    .map((i) => ({ middle: (line.along[i] + line.along[i + 1]) / 2, size: line.along[i + 1] - line.along[i] }))
    .filter(({ size }) => size > 2 * OFF_CORNER)
    .sort((a, b) => b.size - a.size || a.middle - b.middle)
    .slice(0, 12)
    .map(({ middle }) => middle);
  const spread = Array.from({ length: PLACES }, (_, k) => ((k + 0.5) * line.length) / PLACES);
  const corners = sharpCorners(line);
  const atCorner = (s: number) => corners.some((c) => Math.min(Math.abs(c - s), line.length - Math.abs(c - s)) < Math.min(OFF_CORNER, line.length / 20));
  return [...edges, ...spread.filter((s) => !atCorner(s)), ...spread.filter(atCorner)];
}

/** Where a line turns by more than this it has a corner, radians. */
const CORNER = 0.5;

function sharpCorners({ xy, along }: ClosedLine): number[] {
  const n = xy.length / 2;
  const out: number[] = [];
  for (let i = 0; i < n; i++) {
    const [p, q] = [(i + n - 1) % n, (i + 1) % n];
    const [ax, ay] = [xy[2 * i] - xy[2 * p], xy[2 * i + 1] - xy[2 * p + 1]];
    const [bx, by] = [xy[2 * q] - xy[2 * i], xy[2 * q + 1] - xy[2 * i + 1]];
    if (Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by)) > CORNER) out.push(along[i]);
  }
  return out;
}

/** Chords of a quarter turn. */
const CHORDS = 10;

/** Points from the pierce to the line at s; null when any of it is where it may not be. */
function leadAt(line: ClosedLine, s: number, room: LeadRoom, waste: 1 | -1): Point[] | null {
  const [x, y] = line.at(s);
  const [tx, ty] = line.direction(s);
  const [nx, ny] = [-waste * ty, waste * tx];
  const { length, kind } = room;
  const at = (along: number, off: number): Point => [x + along * tx + off * nx, y + along * ty + off * ny];
  const points: Point[] =
    kind === 'straight'
      ? [at(0, length), at(0, 0)]
      : kind === 'line'
        ? [at(-length * Math.SQRT1_2, length * Math.SQRT1_2), at(0, 0)]
        : Array.from({ length: CHORDS + 1 }, (_, k) => {
            // A quarter turn about the place abreast of the line, that ends along it.
            const a = (Math.PI / 2) * (1 - k / CHORDS);
            return at(-length * Math.sin(a), length * (1 - Math.cos(a)));
          });
  const [px, py] = points[0];
  if (!onPlate(points[0], room)) return null;
  const near = room.parts.within(px, py, room.crater + 1);
  if (near.some((part) => insideRegion(part, px, py)) || distanceToEdges(near, px, py) < Math.min(room.crater, length) - HAIR) return null;
  return isOpen(points, room) ? points : null;
}

/** Is all of the arc's width on the plate there? Over its edge the arc goes out. */
export const onPlate = ([x, y]: Point, { plate, half }: Pick<LeadRoom, 'plate' | 'half'>): boolean =>
  x >= half && y >= half && x <= plate.width - half && y <= plate.height - half;

/** Does a way keep out of the parts and their half kerf? */
export function isOpen(points: readonly Point[], { closed }: Pick<LeadRoom, 'closed'>): boolean {
  for (let k = 1; k < points.length; k++) {
    const [a, b] = [points[k - 1], points[k]];
    const reach = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (insideLength(closed.within((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, reach / 2 + 1e-6), a, b) > HAIR) return false;
  }
  return true;
}

/** How exactly the middle of a hole is found, mm. */
const POLE = 0.05;

/**
 * The point of a closed line's inside farthest from it, by halving squares: a square whose middle lies d from the
 * line holds no point farther than d + half its diagonal. (Derived; the pole of inaccessibility.)
 */
export function poleOf(xy: Float64Array): { at: Point; distance: number } {
  const known = poles.get(xy);
  if (known) return known;
  const found = poleIn(xy);
  poles.set(xy, found);
  return found;
}
/** By the line itself: nobody changes one that is drawn. */
const poles = new WeakMap<Float64Array, { at: Point; distance: number }>();

function poleIn(xy: Float64Array): { at: Point; distance: number } {
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < xy.length; i += 2) {
    [minX, maxX] = [Math.min(minX, xy[i]), Math.max(maxX, xy[i])];
    [minY, maxY] = [Math.min(minY, xy[i + 1]), Math.max(maxY, xy[i + 1])];
  }
  const shape: Region = { outer: { xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2) }, holes: [] };
  const square = (x: number, y: number, half: number) => {
    const off = distanceToEdges([shape], x, y);
    const distance = insideContour(xy, x, y) ? off : -off;
    return { x, y, half, distance, most: distance + half * Math.SQRT2 };
  };
  const size = Math.max(1e-6, Math.min(maxX - minX, maxY - minY));
  let best = square((minX + maxX) / 2, (minY + maxY) / 2, 0);
  let open = [];
  for (let x = minX; x < maxX; x += size) for (let y = minY; y < maxY; y += size) open.push(square(x + size / 2, y + size / 2, size / 2));
  const precision = Math.max(POLE, size / 400);
  for (let round = 0; open.length > 0 && round < 40; round++) {
    for (const one of open) if (one.distance > best.distance) best = one;
    open = open
      .filter(({ most }) => most > best.distance + precision)
      .flatMap(({ x, y, half: h }) => [-1, 1].flatMap((i) => [-1, 1].map((j) => square(x + (i * h) / 2, y + (j * h) / 2, h / 2))));
  }
  return { at: [best.x, best.y], distance: best.distance };
}
