/**
 * Corner loops: at an outside corner sharper than a set angle the torch runs straight on into the scrap, comes
 * round and takes the next edge at full speed, so that the corner stays square. (Common practice.) A loop that has
 * no room is left out: the corner is then taken plainly.
 */
import type { ClosedLine } from '../../geometry/index.ts';
import { isOpen, onPlate, type LeadRoom } from './leads.ts';

type Point = [number, number];

export interface RingPoint {
  x: number;
  y: number;
  /** Distance along the way from its start, mm. */
  at: number;
}

/** Chords of a round loop. */
const CHORDS = 16;

/** Loops by the vertex of the line they stand at: the points after the corner, ending at the corner again. */
export function cornersOf(
  line: ClosedLine,
  start: number,
  { corners, cornerAngle, cornerLoop }: { corners: 'plain' | 'triangle' | 'round'; cornerAngle: number; cornerLoop: number },
  room: LeadRoom,
): Map<number, Point[]> {
  const { xy, along } = line;
  const n = xy.length / 2;
  const out = new Map<number, Point[]>();
  for (let i = 0; i < n; i++) {
    const [p, q] = [(i + n - 1) % n, (i + 1) % n];
    const corner: Point = [xy[2 * i], xy[2 * i + 1]];
    const [ax, ay] = [corner[0] - xy[2 * p], corner[1] - xy[2 * p + 1]];
    const [bx, by] = [xy[2 * q] - corner[0], xy[2 * q + 1] - corner[1]];
    const [la, lb] = [Math.hypot(ax, ay), Math.hypot(bx, by)];
    if (la < 1e-6 || lb < 1e-6) continue;
    const cross = ax * by - ay * bx;
    const turn = Math.atan2(Math.abs(cross), ax * bx + ay * by);
    // Clockwise round a part, an outside corner turns right; the other way round, left.
    const right = cross < 0;
    const clockwise = isClockwise(xy);
    if (right !== clockwise || 180 - (turn * 180) / Math.PI > cornerAngle) continue;
    // None where it starts.
    if (Math.min(Math.abs(along[i] - start), line.length - Math.abs(along[i] - start)) < 1) continue;
    const [u, v]: [Point, Point] = [
      [ax / la, ay / la],
      [bx / lb, by / lb],
    ];
    for (const size of [cornerLoop, cornerLoop / 2]) {
      const points = corners === 'triangle' ? triangle(corner, u, v, size) : loop(corner, u, v, size, turn, right);
      if (!isOpen([corner, ...points], room) || points.some((point) => !onPlate(point, room))) continue;
      out.set(i, points);
      break;
    }
  }
  return out;
}

function isClockwise(xy: ArrayLike<number>): boolean {
  let sum = 0;
  for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) sum += xy[j] * xy[i + 1] - xy[i] * xy[j + 1];
  return sum < 0;
}

/** On beyond the corner, across, and back along the line of the next edge. */
const triangle = ([x, y]: Point, u: Point, v: Point, size: number): Point[] => [
  [x + size * u[0], y + size * u[1]],
  [x - size * v[0], y - size * v[1]],
  [x, y],
];

/** A loop tangent to both edges: on beyond the corner, round the outside, back along the next edge's line. */
function loop([x, y]: Point, u: Point, v: Point, size: number, turn: number, right: boolean): Point[] {
  // Both tangents are as long. Where the corner turns right, the loop turns left, by all that is missing to a whole turn.
  const radius = size * Math.tan((Math.PI - turn) / 2);
  const way = right ? 1 : -1;
  const from: Point = [x + size * u[0], y + size * u[1]];
  const to: Point = [x - size * v[0], y - size * v[1]];
  const centre: Point = [from[0] - way * radius * u[1], from[1] + way * radius * u[0]];
  const first = Math.atan2(from[1] - centre[1], from[0] - centre[0]);
  const last = Math.atan2(to[1] - centre[1], to[0] - centre[0]);
  const sweep = way * positive(way * (last - first));
  const points: Point[] = [from];
  for (let k = 1; k <= CHORDS; k++) {
    const a = first + (sweep * k) / CHORDS;
    points.push([centre[0] + radius * Math.cos(a), centre[1] + radius * Math.sin(a)]);
  }
  return [...points, [x, y]];
}

const positive = (a: number): number => ((a % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);

/**
 * The line from s once round, and so far beyond (or, negative, short of) its end, with loops at its corners.
 */
export function ringPoints(line: ClosedLine, s: number, beyond: number, corners: ReadonlyMap<number, Point[]>): RingPoint[] {
  const n = line.along.length - 1;
  const out: RingPoint[] = [];
  const put = (x: number, y: number) => {
    const last = out.at(-1);
    const step = last ? Math.hypot(x - last.x, y - last.y) : 0;
    if (last && step < 1e-9) return;
    out.push({ x, y, at: (last?.at ?? 0) + step });
  };
  const end = s + line.length + beyond;
  put(...line.at(s));
  const first = line.edgeAt(s) + 1;
  for (let k = first; ; k++) {
    const round = Math.floor(k / n);
    const at = line.along[k % n] + round * line.length;
    if (at >= end - 1e-9) break;
    if (at <= s + 1e-9) continue;
    put(line.xy[2 * (k % n)], line.xy[2 * (k % n) + 1]);
    // Once round only: what is cut past the start needs no loop again.
    if (at < s + line.length - 1e-9) for (const [x, y] of corners.get(k % n) ?? []) put(x, y);
  }
  put(...line.at(end));
  return out;
}
