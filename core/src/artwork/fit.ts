/**
 * Flattened outlines back to few curves: split at the real corners, cubic Bézier curves between
 * them by least squares (Schneider, "An Algorithm for Automatically Fitting Digitized Curves",
 * Graphics Gems 1990), straight runs kept straight.
 */
import { fitCubic } from 'fit-curve';
import type { Contour } from '../geometry/index.ts';
import type { Segment, Subpath } from './path.ts';

/**
 * Fits one outline or line.
 *
 * @param tolerance greatest distance of the outline's vertices from the curve, mm
 * @param closed whether the last vertex joins the first
 */
export function fitContour({ xy, smooth }: Contour, tolerance: number, closed = true): Subpath {
  const n = smooth.length;
  const length = (i: number) => Math.hypot(xy[2 * ((i + 1) % n)] - xy[2 * (i % n)], xy[2 * ((i + 1) % n) + 1] - xy[2 * (i % n) + 1]);
  // Runs begin and end at real corners, and at both ends of an edge so long that it is a straight line between curves.
  const breaks = new Uint8Array(n);
  const edges = closed ? n : n - 1;
  for (let i = 0; i < n; i++) if (!smooth[i] || (!closed && (i === 0 || i === n - 1))) breaks[i] = 1;
  for (let i = 0; i < edges; i++) {
    const around = Math.max(breaks[i] ? 0 : length(i + n - 1), breaks[(i + 1) % n] ? 0 : length(i + 1));
    if (length(i) > LONG * around) breaks[i] = breaks[(i + 1) % n] = 1;
  }
  let start = breaks.indexOf(1);
  // A ring without a corner is fitted in two halves.
  if (start < 0) {
    start = 0;
    breaks[0] = breaks[n >> 1] = 1;
  }
  const segments: Segment[] = [];
  for (let from = start; from < start + edges;) {
    let to = from + 1;
    while (to < start + edges && !breaks[to % n]) to++;
    if (to - from === 1) segments.push({ kind: 'line', x: xy[2 * (to % n)], y: xy[2 * (to % n) + 1] });
    else segments.push(...fitRun(xy, n, from, to, tolerance, length));
    from = to;
  }
  return { x: xy[2 * start], y: xy[2 * start + 1], closed, segments };
}

/** An edge this many times longer than its neighbours is a straight line of the drawing. */
const LONG = 4;

function fitRun(xy: Float64Array, n: number, from: number, to: number, tolerance: number, length: (i: number) => number): Segment[] {
  const points: number[][] = [];
  for (let i = from; i < to; i++) {
    const [x, y] = [xy[2 * (i % n)], xy[2 * (i % n) + 1]];
    const [ex, ey] = [xy[2 * ((i + 1) % n)], xy[2 * ((i + 1) % n) + 1]];
    // The fit is judged at points only: uneven edges get some more, or a curve could swing out between them.
    const shortest = Math.min(i > from ? length(i - 1) : Infinity, i + 1 < to ? length(i + 1) : Infinity);
    const pieces = Math.min(2 * LONG, Math.max(1, Math.ceil(length(i) / (1.5 * shortest))));
    for (let k = 0; k < pieces; k++) points.push([x + ((ex - x) * k) / pieces, y + ((ey - y) * k) / pieces]);
  }
  points.push([xy[2 * (to % n)], xy[2 * (to % n) + 1]]);
  if (straight(points, tolerance)) return [{ kind: 'line', x: points[points.length - 1][0], y: points[points.length - 1][1] }];
  const distinct = points.filter(([x, y], i) => i === 0 || x !== points[i - 1][0] || y !== points[i - 1][1]);
  const last = distinct.length - 1;
  const segments: Segment[] = [];
  // Long runs are fitted piece by piece, the tangents at the joints shared: the package would try the whole run
  // first, and again at every halving.
  for (let a = 0; a < last;) {
    const b = last - a > 1.5 * PIECE ? a + PIECE : last;
    const left = a === 0 ? towards(distinct[0], distinct[1]) : towards(distinct[a - 1], distinct[a + 1]);
    const right = b === last ? towards(distinct[last], distinct[last - 1]) : towards(distinct[b + 1], distinct[b - 1]);
    segments.push(...fitPiece(distinct.slice(a, b + 1), left, right, tolerance));
    a = b;
  }
  return segments;
}

/** Points of a long run that are fitted together. */
const PIECE = 96;

function towards([ax, ay]: number[], [bx, by]: number[]): number[] {
  const length = Math.hypot(bx - ax, by - ay) || 1;
  return [(bx - ax) / length, (by - ay) / length];
}

function fitPiece(points: number[][], left: number[], right: number[], tolerance: number): Segment[] {
  // The package measures its error as a squared distance.
  return fitCubic(points, left, right, tolerance * tolerance).map(([, p1, p2, p3]) => ({
    kind: 'curve',
    x1: p1[0],
    y1: p1[1],
    x2: p2[0],
    y2: p2[1],
    x: p3[0],
    y: p3[1],
  }));
}

/** Do all points lie within tolerance of the chord from the first to the last? */
function straight(points: number[][], tolerance: number): boolean {
  const [x0, y0] = points[0];
  const [x1, y1] = points[points.length - 1];
  const length = Math.hypot(x1 - x0, y1 - y0);
  if (length === 0) return false;
  return points.every(([x, y]) => Math.abs((x - x0) * (y1 - y0) - (y - y0) * (x1 - x0)) <= tolerance * length);
}
