/**
 * Path data (the `d` of SVG) as subpaths of lines, cubic curves and elliptical arcs, in whatever
 * units and turning of Y it stands in. Arcs stay arcs until something is cut from them.
 */
import svgpath from 'svgpath';
import { Pen, type Contour, type Line } from '../geometry/index.ts';
import type { Item } from '../job/index.ts';

export type Segment =
  | { kind: 'line'; x: number; y: number }
  | { kind: 'curve'; x1: number; y1: number; x2: number; y2: number; x: number; y: number }
  /** Radii, turn of the ellipse (degrees) and flags as in a path's A command. */
  | { kind: 'arc'; rx: number; ry: number; turn: number; large: boolean; sweep: boolean; x: number; y: number };

/** A run of segments from x, y; `closed` joins its end to its start by a straight line. */
export interface Subpath {
  x: number;
  y: number;
  closed: boolean;
  segments: Segment[];
}

/** x' = a·x + c·y + e, y' = b·x + d·y + f, as in SVG's matrix(a b c d e f). */
export type Matrix = readonly [number, number, number, number, number, number];

export const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];

/** First `inner`, then `outer`. */
export const times = (outer: Matrix, inner: Matrix): Matrix => [
  outer[0] * inner[0] + outer[2] * inner[1],
  outer[1] * inner[0] + outer[3] * inner[1],
  outer[0] * inner[2] + outer[2] * inner[3],
  outer[1] * inner[2] + outer[3] * inner[3],
  outer[0] * inner[4] + outer[2] * inner[5] + outer[4],
  outer[1] * inner[4] + outer[3] * inner[5] + outer[5],
];

export const applyMatrix = (m: Matrix, x: number, y: number): [number, number] => [m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]];

/** From a thing's own coordinates to the board's. */
export function placeOf(item: Pick<Item, 'x' | 'y' | 'angle' | 'mirror'>): Matrix {
  const a = (item.angle * Math.PI) / 180;
  // Quarter turns stay exact.
  const [cos, sin] = item.angle % 90 === 0 ? [Math.round(Math.cos(a)), Math.round(Math.sin(a))] : [Math.cos(a), Math.sin(a)];
  const turn: Matrix = [cos, sin, -sin, cos, item.x, item.y];
  return item.mirror ? times(turn, [-1, 0, 0, 1, 0, 0]) : turn;
}

/** Reads path data. What stands before a fault is kept, as SVG asks; `why` names the fault. */
export function parsePath(d: string): { subpaths: Subpath[]; why: string | null } {
  const path = svgpath(d) as ReturnType<typeof svgpath> & { err?: string };
  const subpaths: Subpath[] = [];
  let current: Subpath | null = null;
  const put = (segment: Segment, x: number, y: number) => {
    // After a close, drawing goes on from the start of the subpath that was closed.
    if (!current || current.closed) subpaths.push((current = { x, y, closed: false, segments: [] }));
    current.segments.push(segment);
  };
  path
    .abs()
    .unshort()
    .iterate((command, _index, x, y) => {
      const a = command.slice(1) as number[];
      switch (command[0]) {
        case 'M':
          subpaths.push((current = { x: a[0], y: a[1], closed: false, segments: [] }));
          break;
        case 'L':
          put({ kind: 'line', x: a[0], y: a[1] }, x, y);
          break;
        case 'H':
          put({ kind: 'line', x: a[0], y }, x, y);
          break;
        case 'V':
          put({ kind: 'line', x, y: a[0] }, x, y);
          break;
        case 'C':
          put({ kind: 'curve', x1: a[0], y1: a[1], x2: a[2], y2: a[3], x: a[4], y: a[5] }, x, y);
          break;
        case 'Q':
          put({ kind: 'curve', ...raised(x, y, a[0], a[1], a[2], a[3]), x: a[2], y: a[3] }, x, y);
          break;
        case 'A':
          if (a[0] === 0 || a[1] === 0) put({ kind: 'line', x: a[5], y: a[6] }, x, y);
          else put({ kind: 'arc', rx: Math.abs(a[0]), ry: Math.abs(a[1]), turn: a[2], large: a[3] === 1, sweep: a[4] === 1, x: a[5], y: a[6] }, x, y);
          break;
        case 'Z':
        case 'z':
          if (current) current.closed = true;
          break;
      }
    });
  const finite = subpaths.every((s) => Number.isFinite(s.x + s.y) && s.segments.every((g) => Number.isFinite(g.x + g.y)));
  const why = path.err ? path.err.replace(/^SvgPath: /, '') : finite ? null : 'a number is too large';
  return { subpaths: finite ? subpaths.filter(({ segments }) => segments.length > 0) : [], why };
}

/** Control points of the cubic that is the quadratic curve with control cx, cy (degree raised). */
export const raised = (x0: number, y0: number, cx: number, cy: number, x: number, y: number) => ({
  x1: x0 + (2 / 3) * (cx - x0),
  y1: y0 + (2 / 3) * (cy - y0),
  x2: x + (2 / 3) * (cx - x),
  y2: y + (2 / 3) * (cy - y),
});

/** A number with up to five decimals: a hundredth of a micrometre where the unit is millimetres. */
export const short = (value: number): string => {
  const rounded = Math.round(value * 1e5) / 1e5;
  return rounded === 0 ? '0' : String(rounded);
};

/** Writes subpaths as path data. Reading it again gives the same numbers to five decimals. */
export function formatPath(subpaths: readonly Subpath[]): string {
  return subpaths
    .map(({ x, y, closed, segments }) => {
      const parts = segments.map((s) => {
        if (s.kind === 'line') return `L${short(s.x)} ${short(s.y)}`;
        if (s.kind === 'curve') return `C${short(s.x1)} ${short(s.y1)} ${short(s.x2)} ${short(s.y2)} ${short(s.x)} ${short(s.y)}`;
        return `A${short(s.rx)} ${short(s.ry)} ${short(s.turn)} ${s.large ? 1 : 0} ${s.sweep ? 1 : 0} ${short(s.x)} ${short(s.y)}`;
      });
      return `M${short(x)} ${short(y)}${parts.join('')}${closed ? 'Z' : ''}`;
    })
    .join('');
}

/** Subpaths seen through a matrix. An arc stays one: its ellipse is turned and stretched. */
export function transformPath(subpaths: readonly Subpath[], m: Matrix): Subpath[] {
  return subpaths.map(({ x, y, closed, segments }) => {
    const [sx, sy] = applyMatrix(m, x, y);
    return { x: sx, y: sy, closed, segments: segments.map((s) => transformSegment(s, m)) };
  });
}

function transformSegment(s: Segment, m: Matrix): Segment {
  const [x, y] = applyMatrix(m, s.x, s.y);
  if (s.kind === 'line') return { kind: 'line', x, y };
  if (s.kind === 'curve') {
    const [x1, y1] = applyMatrix(m, s.x1, s.y1);
    const [x2, y2] = applyMatrix(m, s.x2, s.y2);
    return { kind: 'curve', x1, y1, x2, y2, x, y };
  }
  const ellipse = transformEllipse(s.rx, s.ry, s.turn, m);
  if (!ellipse) return { kind: 'line', x, y };
  return { kind: 'arc', ...ellipse, large: s.large, sweep: m[0] * m[3] - m[1] * m[2] < 0 ? !s.sweep : s.sweep, x, y };
}

/**
 * Half axes and turn of an ellipse after a matrix: the singular values of the 2 x 2 matrix that
 * maps the unit circle onto it. Null when the matrix flattens it.
 */
function transformEllipse(rx: number, ry: number, turn: number, m: Matrix): { rx: number; ry: number; turn: number } | null {
  const phi = (turn * Math.PI) / 180;
  const cos = Math.cos(phi);
  const sin = Math.sin(phi);
  const a = (m[0] * cos + m[2] * sin) * rx;
  const b = (m[1] * cos + m[3] * sin) * rx;
  const c = (-m[0] * sin + m[2] * cos) * ry;
  const d = (-m[1] * sin + m[3] * cos) * ry;
  const [e, f, g, h] = [(a + d) / 2, (a - d) / 2, (b + c) / 2, (b - c) / 2];
  const [q, r] = [Math.hypot(e, h), Math.hypot(f, g)];
  const major = q + r;
  const minor = Math.abs(q - r);
  if (minor < 1e-9 * major || major === 0) return null;
  if (major - minor < 1e-9 * major) return { rx: major, ry: major, turn: 0 };
  return { rx: major, ry: minor, turn: (((Math.atan2(g, f) + Math.atan2(h, e)) / 2) * 180) / Math.PI };
}

/** The same subpath drawn backwards. */
export function reversedPath({ x, y, closed, segments }: Subpath): Subpath {
  const back: Segment[] = [];
  for (let i = segments.length - 1; i >= 0; i--) {
    const s = segments[i];
    const to = i > 0 ? { x: segments[i - 1].x, y: segments[i - 1].y } : { x, y };
    if (s.kind === 'line') back.push({ kind: 'line', ...to });
    else if (s.kind === 'curve') back.push({ kind: 'curve', x1: s.x2, y1: s.y2, x2: s.x1, y2: s.y1, ...to });
    else back.push({ ...s, sweep: !s.sweep, ...to });
  }
  const end = segments[segments.length - 1] ?? { x, y };
  return { x: end.x, y: end.y, closed, segments: back };
}

export interface Drawing {
  /** Closed outlines. With `close`, open ones too, joined by a straight line. */
  contours: Contour[];
  /** Open lines. */
  lines: Line[];
}

/**
 * Flattens subpaths.
 *
 * @param close true for filled artwork, whose open subpaths are painted as if closed
 * @param tolerance greatest distance of a chord from its curve
 */
export function drawSubpaths(subpaths: readonly Subpath[], tolerance: number, close: boolean): Drawing {
  const pen = new Pen(tolerance);
  for (const { x, y, closed, segments } of subpaths) {
    pen.moveTo(x, y);
    for (const s of segments) {
      if (s.kind === 'line') pen.lineTo(s.x, s.y);
      else if (s.kind === 'curve') pen.cubicTo(s.x1, s.y1, s.x2, s.y2, s.x, s.y);
      else pen.arcTo(s.rx, s.ry, s.turn, s.large, s.sweep, s.x, s.y);
    }
    if (closed || close) pen.close();
    else pen.leaveOpen();
  }
  return { contours: pen.contours, lines: pen.lines };
}

/** A flattened contour as a closed subpath of straight lines. */
export function straightPath({ xy }: Contour, closed = true): Subpath {
  const segments: Segment[] = [];
  for (let i = 2; i < xy.length; i += 2) segments.push({ kind: 'line', x: xy[i], y: xy[i + 1] });
  return { x: xy[0], y: xy[1], closed, segments };
}
