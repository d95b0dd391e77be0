/**
 * What a point on the board is drawn to: ends, middles and centres of what is drawn, guides, the
 * board's own edges and middle lines, tangents from where a line began, and the grid - the nearest
 * point first, then lines, then the grid.
 */
import { arcByMiddle, emptyBox, growBox, type Box } from '../geometry/index.ts';
import type { Job } from '../job/index.ts';
import type { Subpath } from './path.ts';

export type MarkKind = 'end' | 'middle' | 'centre';
const KINDS: readonly MarkKind[] = ['end', 'middle', 'centre'];

/** Marks of one thing, flat: x, y, kind (an index) triples; and its circles as x, y, radius triples. */
export interface Marks {
  points: Float64Array;
  circles: Float64Array;
  /** Of all points: a centre may lie outside of what is drawn. */
  box: Box;
}

/** More marks than this help nobody. */
const MOST = 6000;

/** Ends and middles of segments, and centres of arcs, of path data. */
export function marksOf(subpaths: readonly Subpath[]): Marks {
  const points: number[] = [];
  const circles: number[] = [];
  const box = emptyBox();
  const put = (x: number, y: number, kind: MarkKind) => {
    if (points.length >= 3 * MOST) return;
    points.push(x, y, KINDS.indexOf(kind));
    growBox(box, [x, y]);
  };
  for (const subpath of subpaths) {
    let [x, y] = [subpath.x, subpath.y];
    put(x, y, 'end');
    const segments = subpath.closed ? [...subpath.segments, { kind: 'line' as const, x: subpath.x, y: subpath.y }] : subpath.segments;
    for (const s of segments) {
      const length = Math.hypot(s.x - x, s.y - y);
      if (s.kind === 'line') {
        if (length > 1e-6) put((x + s.x) / 2, (y + s.y) / 2, 'middle');
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
  }
  return { points: Float64Array.from(points), circles: Float64Array.from(circles), box };
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

export interface Snapped {
  x: number;
  y: number;
  /** What it was drawn to: shown beside the pointer. */
  to: MarkKind | 'tangent' | 'guide' | 'edge' | 'board middle' | 'grid' | null;
}

export class Snapper {
  /** Marks of the things whose boxes meet a box: only those are looked through. */
  private readonly near: (box: Box) => Iterable<Marks>;
  private readonly lines: { axis: 'x' | 'y'; at: number; to: 'guide' | 'edge' | 'board middle' }[];
  private readonly grid: number;

  /** @param grid distance of the grid's lines, mm; 0 for none */
  constructor(job: Pick<Job, 'board' | 'guides'>, near: (box: Box) => Iterable<Marks>, grid: number) {
    const { width, height } = job.board;
    this.near = near;
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
   * @param from where a line began: tangents from there count too
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
    for (const { points, circles } of this.near({ minX: x - reach, minY: y - reach, maxX: x + reach, maxY: y + reach })) {
      for (let i = 0; i < points.length; i += 3) offer(points[i], points[i + 1], KINDS[points[i + 2]]);
      if (from)
        for (let i = 0; i < circles.length; i += 3)
          for (const [tx, ty] of tangentPoints(from[0], from[1], circles[i], circles[i + 1], circles[i + 2])) offer(tx, ty, 'tangent');
    }
    if (best) return best;
    const [sx, sy] = [this.line('x', x, reach), this.line('y', y, reach)];
    const to = sx?.to ?? sy?.to ?? null;
    const step = this.grid;
    const onGrid = (v: number) => (step > 0 && Math.abs(Math.round(v / step) * step - v) <= reach ? Math.round(v / step) * step : null);
    const [gx, gy] = [sx?.at ?? onGrid(x), sy?.at ?? onGrid(y)];
    return { x: gx ?? x, y: gy ?? y, to: to ?? (gx !== null || gy !== null ? 'grid' : null) };
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
