/**
 * What a point on the board is drawn to: ends, middles, centres, quadrants and crossings of what is drawn;
 * from where a line began also where it touches a circle or meets something squarely, and directions - level,
 * upright, parallel to what is drawn; guides, the board's own edges and middle lines; and the grid. The
 * nearest point first, then directions, then lines, then the grid.
 */
import { arcByMiddle, emptyBox, growBox, type Box } from '../geometry/index.ts';
import type { Job } from '../job/index.ts';
import type { Subpath } from './path.ts';

export type MarkKind = 'end' | 'middle' | 'centre' | 'quadrant';
const KINDS: readonly MarkKind[] = ['end', 'middle', 'centre', 'quadrant'];

/** Marks of one thing, flat: x, y, kind (an index) triples; its straight lines by their ends; its circles, and those of them that are whole, as x, y, radius triples. */
export interface Marks {
  points: Float64Array;
  lines: Float64Array;
  circles: Float64Array;
  rounds: Float64Array;
  /** Of all points: a centre may lie outside of what is drawn. */
  box: Box;
}

/** More marks than this help nobody. */
const MOST = 6000;
/** Lines looked through for a crossing under the pointer, and for directions. */
const [MOST_CROSSED, MOST_PARALLEL] = [60, 400];
const QUARTERS = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
] as const;

/** Ends and middles of segments, and centres of arcs, of path data. */
export function marksOf(subpaths: readonly Subpath[]): Marks {
  const points: number[] = [];
  const lines: number[] = [];
  const circles: number[] = [];
  const rounds: number[] = [];
  const box = emptyBox();
  const put = (x: number, y: number, kind: MarkKind) => {
    if (points.length >= 3 * MOST) return;
    points.push(x, y, KINDS.indexOf(kind));
    growBox(box, [x, y]);
  };
  for (const subpath of subpaths) {
    let [x, y] = [subpath.x, subpath.y];
    put(x, y, 'end');
    const first = circles.length;
    const segments = subpath.closed ? [...subpath.segments, { kind: 'line' as const, x: subpath.x, y: subpath.y }] : subpath.segments;
    for (const s of segments) {
      const length = Math.hypot(s.x - x, s.y - y);
      if (s.kind === 'line') {
        if (length > 1e-6) {
          put((x + s.x) / 2, (y + s.y) / 2, 'middle');
          if (lines.length < 4 * MOST) lines.push(x, y, s.x, s.y);
        }
      } else if (s.kind === 'arc') {
        const arc = arcByMiddle(x, y, s.rx, s.ry, (s.turn * Math.PI) / 180, s.large, s.sweep, s.x, s.y);
        if (arc) {
          put(arc.cx, arc.cy, 'centre');
          if (Math.abs(arc.rx - arc.ry) < 1e-9 * arc.rx) circles.push(arc.cx, arc.cy, arc.rx);
        }
      }
      if (length > 1e-6 && !(s.x === subpath.x && s.y === subpath.y)) put(s.x, s.y, 'end');
      [x, y] = [s.x, s.y];
    }
    const [cx, cy, r] = circles.slice(first);
    // Of arcs alone, closed, all about one centre: a whole circle.
    const whole = subpath.closed && segments.every((s) => s.kind === 'arc' || Math.hypot(s.x - subpath.x, s.y - subpath.y) < 1e-6) && r > 0;
    if (whole && circles.slice(first).every((v, i) => Math.abs(v - [cx, cy, r][i % 3]) < 1e-6)) {
      rounds.push(cx, cy, r);
      for (const [dx, dy] of QUARTERS) put(cx + r * dx, cy + r * dy, 'quadrant');
    }
  }
  const flat = (list: number[]) => Float64Array.from(list);
  return { points: flat(points), lines: flat(lines), circles: flat(circles), rounds: flat(rounds), box };
}

/** The two points where lines from a point touch a circle; none from inside it. (Thales: the right angle stands on the circle.) */
export function tangentPoints(px: number, py: number, cx: number, cy: number, r: number): [number, number][] {
  const d = Math.hypot(px - cx, py - cy);
  if (d <= r) return [];
  const along = (r * r) / d;
  const across = (r * Math.sqrt(d * d - r * r)) / d;
  const [ux, uy] = [(px - cx) / d, (py - cy) / d];
  return [1, -1].map((side) => [cx + ux * along - uy * across * side, cy + uy * along + ux * across * side]);
}

type Line = readonly [x1: number, y1: number, x2: number, y2: number];

/** Where two straight lines cross between their ends, or null. */
function crossing(a: Line, b: Line): [number, number] | null {
  const [ux, uy, vx, vy] = [a[2] - a[0], a[3] - a[1], b[2] - b[0], b[3] - b[1]];
  const across = ux * vy - uy * vx;
  if (Math.abs(across) < 1e-12) return null;
  const [wx, wy] = [b[0] - a[0], b[1] - a[1]];
  const [s, t] = [(wx * vy - wy * vx) / across, (wx * uy - wy * ux) / across];
  return s >= -1e-9 && s <= 1 + 1e-9 && t >= -1e-9 && t <= 1 + 1e-9 ? [a[0] + s * ux, a[1] + s * uy] : null;
}

/** Where a straight line meets a circle, between its ends. */
function onCircle([x1, y1, x2, y2]: Line, cx: number, cy: number, r: number): [number, number][] {
  const [ux, uy, wx, wy] = [x2 - x1, y2 - y1, x1 - cx, y1 - cy];
  const [a, b, c] = [ux * ux + uy * uy, 2 * (ux * wx + uy * wy), wx * wx + wy * wy - r * r];
  const inside = b * b - 4 * a * c;
  if (a < 1e-18 || inside < 0) return [];
  return [-1, 1]
    .map((side) => (-b + side * Math.sqrt(inside)) / (2 * a))
    .filter((t) => t >= -1e-9 && t <= 1 + 1e-9)
    .map((t) => [x1 + t * ux, y1 + t * uy]);
}

/** The foot of the perpendicular from a point onto a straight line, between its ends, or null. */
function foot([px, py]: readonly [number, number], [x1, y1, x2, y2]: Line): [number, number] | null {
  const [ux, uy] = [x2 - x1, y2 - y1];
  const t = ((px - x1) * ux + (py - y1) * uy) / (ux * ux + uy * uy);
  return t >= 0 && t <= 1 ? [x1 + t * ux, y1 + t * uy] : null;
}

const isEnd = ([x, y]: readonly [number, number], [x1, y1, x2, y2]: Line): boolean => Math.min(Math.hypot(x - x1, y - y1), Math.hypot(x - x2, y - y2)) < 1e-6;

const linesOf = (flat: Float64Array, i: number): Line => [flat[i], flat[i + 1], flat[i + 2], flat[i + 3]];

export interface Snapped {
  x: number;
  y: number;
  /** What it was drawn to: shown beside the pointer. */
  to: MarkKind | 'crossing' | 'tangent' | 'perpendicular' | 'level' | 'upright' | 'parallel' | 'guide' | 'edge' | 'board middle' | 'grid' | null;
}

export class Snapper {
  /** Marks of the things whose boxes meet a box: only those are looked through. */
  private readonly near: (box: Box) => Iterable<Marks>;
  private readonly size: { width: number; height: number };
  private readonly lines: { axis: 'x' | 'y'; at: number; to: 'guide' | 'edge' | 'board middle' }[];
  private readonly grid: number;

  /** @param grid distance of the grid's lines, mm; 0 for none */
  constructor(job: Pick<Job, 'board' | 'guides'>, near: (box: Box) => Iterable<Marks>, grid: number) {
    const { width, height } = job.board;
    this.near = near;
    this.size = { width, height };
    this.grid = grid;
    this.lines = [
      ...job.guides.map(({ axis, at }) => ({ axis, at, to: 'guide' as const })),
      ...[0, width].map((at) => ({ axis: 'x' as const, at, to: 'edge' as const })),
      ...[0, height].map((at) => ({ axis: 'y' as const, at, to: 'edge' as const })),
      { axis: 'x', at: width / 2, to: 'board middle' },
      { axis: 'y', at: height / 2, to: 'board middle' },
    ];
  }

  /**
   * @param reach how near a mark must be, mm
   * @param from where a line began: tangents, perpendiculars and directions from there count too
   */
  snap(x: number, y: number, reach: number, from?: readonly [number, number]): Snapped {
    let best: Snapped | null = null;
    let nearest = reach;
    const offer = (px: number, py: number, to: Snapped['to']) => {
      if (Math.abs(px - x) > nearest || Math.abs(py - y) > nearest) return;
      const d = Math.hypot(px - x, py - y);
      if (d <= nearest) {
        nearest = d;
        best = { x: px, y: py, to };
      }
    };
    const under: Line[] = [];
    const rounds: [number, number, number][] = [];
    for (const marks of this.near({ minX: x - reach, minY: y - reach, maxX: x + reach, maxY: y + reach })) {
      const { points, lines, circles } = marks;
      for (let i = 0; i < points.length; i += 3) offer(points[i], points[i + 1], KINDS[points[i + 2]]);
      for (let i = 0; i < lines.length; i += 4) {
        const line = linesOf(lines, i);
        const at = foot([x, y], line);
        if (at && Math.hypot(at[0] - x, at[1] - y) <= reach && under.length < MOST_CROSSED) under.push(line);
        const square = from && foot(from, line);
        if (square && Math.hypot(square[0] - from[0], square[1] - from[1]) > reach) offer(...square, 'perpendicular');
      }
      for (let i = 0; i < marks.rounds.length; i += 3) rounds.push([marks.rounds[i], marks.rounds[i + 1], marks.rounds[i + 2]]);
      for (let i = 0; from && i < circles.length; i += 3) {
        const [cx, cy, r] = [circles[i], circles[i + 1], circles[i + 2]];
        for (const [tx, ty] of tangentPoints(from[0], from[1], cx, cy, r)) offer(tx, ty, 'tangent');
        const d = Math.hypot(from[0] - cx, from[1] - cy);
        if (d > 1e-9) for (const side of [1, -1]) offer(cx + (side * r * (from[0] - cx)) / d, cy + (side * r * (from[1] - cy)) / d, 'perpendicular');
      }
    }
    for (const [i, line] of under.entries()) {
      for (const other of under.slice(i + 1)) {
        const at = crossing(line, other);
        // Lines that follow one another meet at their end, which is said already.
        if (at && !isEnd(at, line) && !isEnd(at, other)) offer(...at, 'crossing');
      }
      for (const round of rounds) for (const at of onCircle(line, ...round)) offer(...at, 'crossing');
    }
    if (best) return best;
    const way = from && this.direction(x, y, reach, from);
    if (way?.to === 'parallel') return way;
    const [sx, sy] = [way?.to === 'upright' ? null : this.line('x', x, reach), way?.to === 'level' ? null : this.line('y', y, reach)];
    const to = way?.to ?? sx?.to ?? sy?.to ?? null;
    const step = this.grid;
    const onGrid = (v: number) => (step > 0 && Math.abs(Math.round(v / step) * step - v) <= reach ? Math.round(v / step) * step : null);
    const [gx, gy] = [way?.to === 'upright' ? way.x : (sx?.at ?? onGrid(x)), way?.to === 'level' ? way.y : (sy?.at ?? onGrid(y))];
    return { x: gx ?? x, y: gy ?? y, to: to ?? (gx !== null || gy !== null ? 'grid' : null) };
  }

  /** A line drawn from somewhere goes level, upright or parallel to what is drawn where it nearly does. */
  private direction(x: number, y: number, reach: number, from: readonly [number, number]): Snapped | null {
    const [vx, vy] = [x - from[0], y - from[1]];
    // Close to where it began every direction is near.
    if (Math.hypot(vx, vy) < 4 * reach) return null;
    if (Math.abs(vy) <= reach / 2) return { x, y: from[1], to: 'level' };
    if (Math.abs(vx) <= reach / 2) return { x: from[0], y, to: 'upright' };
    let best: Snapped | null = null;
    let nearest = reach / 2;
    let looked = 0;
    for (const { lines } of this.near({ minX: 0, minY: 0, maxX: this.size.width, maxY: this.size.height }))
      for (let i = 0; i < lines.length && looked < MOST_PARALLEL; i += 4, looked++) {
        const [ux, uy] = [lines[i + 2] - lines[i], lines[i + 3] - lines[i + 1]];
        const length = Math.hypot(ux, uy);
        const off = Math.abs(vx * uy - vy * ux) / length;
        if (off > nearest) continue;
        nearest = off;
        const along = (vx * ux + vy * uy) / (length * length);
        best = { x: from[0] + along * ux, y: from[1] + along * uy, to: 'parallel' };
      }
    return best;
  }

  /**
   * Moves a box so that its edges or its middle meet lines and marks: the shift that is nearest to
   * none, for each direction by itself.
   */
  snapBox(box: { minX: number; minY: number; maxX: number; maxY: number }, reach: number): { dx: number; dy: number; to: Snapped['to'] } {
    const [cx, cy] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
    const corners = [box.minX, cx, box.maxX].flatMap((x) => [box.minY, cy, box.maxY].map((y) => [x, y] as const));
    let best: { dx: number; dy: number; to: Snapped['to'] } | null = null;
    for (const [x, y] of corners)
      for (const { points } of this.near({ minX: x - reach, minY: y - reach, maxX: x + reach, maxY: y + reach }))
        for (let i = 0; i < points.length; i += 3) {
          const [dx, dy] = [points[i] - x, points[i + 1] - y];
          if (Math.abs(dx) > reach || Math.abs(dy) > reach) continue;
          if (Math.hypot(dx, dy) <= (best ? Math.hypot(best.dx, best.dy) : reach)) best = { dx, dy, to: KINDS[points[i + 2]] };
        }
    if (best) return best;
    const shift = (axis: 'x' | 'y', values: number[]) => {
      let found: { by: number; to: Snapped['to'] } | null = null;
      for (const value of values) {
        const line = this.line(axis, value, reach);
        if (line && (!found || Math.abs(line.at - value) < Math.abs(found.by))) found = { by: line.at - value, to: line.to };
      }
      if (!found && this.grid > 0) {
        const by = Math.round(values[0] / this.grid) * this.grid - values[0];
        if (Math.abs(by) <= reach) found = { by, to: 'grid' };
      }
      return found;
    };
    const [sx, sy] = [shift('x', [box.minX, cx, box.maxX]), shift('y', [box.minY, cy, box.maxY])];
    return { dx: sx?.by ?? 0, dy: sy?.by ?? 0, to: sx?.to ?? sy?.to ?? null };
  }

  private line(axis: 'x' | 'y', value: number, reach: number): { at: number; to: 'guide' | 'edge' | 'board middle' } | null {
    let best: { at: number; to: 'guide' | 'edge' | 'board middle' } | null = null;
    for (const line of this.lines)
      if (line.axis === axis && Math.abs(line.at - value) <= reach && (!best || Math.abs(line.at - value) < Math.abs(best.at - value))) best = line;
    return best;
  }
}
