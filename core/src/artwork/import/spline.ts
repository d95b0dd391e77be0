/** B-splines to path data: cubic ones exactly, by knot insertion; others by curves through points of them. */
import type { Segment, Subpath } from '../path.ts';

type Point = [number, number];

export interface Spline {
  degree: number;
  knots: number[];
  weights: number[];
  points: Point[];
  /** Points the curve goes through, when it was drawn that way and no control points are there. */
  fit: Point[];
  closed: boolean;
  start: Point | null;
  end: Point | null;
  /** Greatest distance of straight pieces from a curve that has no exact cubics. */
  tolerance: number;
}

/** The spline as one subpath, or null when its numbers make none. */
export function splinePath(spline: Spline): Subpath | null {
  const { degree, knots, weights, points, fit, closed } = spline;
  const numbers = [...knots, ...weights, ...points.flat(), ...fit.flat()];
  if (!numbers.every(Number.isFinite)) return null;
  if (points.length === 0) return fit.length >= 2 ? throughPoints(fit, closed, spline.start, spline.end) : null;
  if (degree < 1 || degree > 15 || points.length < degree + 1 || knots.length !== points.length + degree + 1) return null;
  for (let i = 1; i < knots.length; i++) if (knots[i] < knots[i - 1]) return null;
  const [from, to] = [knots[degree], knots[points.length]];
  if (!(to > from)) return null;
  const rational = weights.length === points.length && weights.some((w) => w !== weights[0]);
  if (weights.some((w) => w <= 0)) return null;
  const drawn = !rational && degree <= 3 ? exact(degree, knots, points) : sampled(degree, knots, points, rational ? weights : null, from, to, spline.tolerance);
  const end = drawn.segments[drawn.segments.length - 1];
  const size = Math.max(...points.map(([x, y]) => Math.abs(x) + Math.abs(y)), 1e-9);
  if (end && Math.hypot(end.x - drawn.x, end.y - drawn.y) < 1e-9 * size) drawn.closed = true;
  else if (closed) drawn.closed = true;
  return drawn;
}

/**
 * Bézier pieces of a B-spline of degree 1 to 3: every inner knot is inserted until it is as many
 * times there as the degree (Boehm 1980).
 */
function exact(degree: number, knotsIn: number[], pointsIn: Point[]): Subpath {
  let knots = [...knotsIn];
  let points = pointsIn.map((p): Point => [...p]);
  const insert = (t: number) => {
    let k = degree;
    while (k < points.length - 1 && knots[k + 1] <= t) k++;
    const next: Point[] = [];
    for (let i = 0; i <= points.length; i++) {
      if (i <= k - degree) next.push(points[i]);
      else if (i > k) next.push(points[i - 1]);
      else {
        const span = knots[i + degree] - knots[i];
        const a = span > 0 ? (t - knots[i]) / span : 0;
        next.push([(1 - a) * points[i - 1][0] + a * points[i][0], (1 - a) * points[i - 1][1] + a * points[i][1]]);
      }
    }
    points = next;
    knots = [...knots.slice(0, k + 1), t, ...knots.slice(k + 1)];
  };
  const [from, to] = [knotsIn[degree], knotsIn[pointsIn.length]];
  const distinct = [...new Set(knotsIn)].filter((t) => t >= from && t <= to);
  for (const t of distinct) {
    const wanted = degree;
    let have = knots.filter((k) => k === t).length;
    for (; have < wanted; have++) insert(t);
  }
  // Pieces begin where the first inner run of `degree` equal knots ends.
  const first = knots.lastIndexOf(from) - degree;
  const at = (i: number) => points[Math.min(points.length - 1, Math.max(0, i))];
  const segments: Segment[] = [];
  const origin = at(first);
  for (let piece = 0; piece < distinct.length - 1; piece++) {
    const p = Array.from({ length: degree + 1 }, (_, i) => at(first + piece * degree + i));
    const end = p[degree];
    if (degree === 1) segments.push({ kind: 'line', x: end[0], y: end[1] });
    else if (degree === 3) segments.push({ kind: 'curve', x1: p[1][0], y1: p[1][1], x2: p[2][0], y2: p[2][1], x: end[0], y: end[1] });
    else
      segments.push({
        kind: 'curve',
        x1: p[0][0] + (2 / 3) * (p[1][0] - p[0][0]),
        y1: p[0][1] + (2 / 3) * (p[1][1] - p[0][1]),
        x2: end[0] + (2 / 3) * (p[1][0] - end[0]),
        y2: end[1] + (2 / 3) * (p[1][1] - end[1]),
        x: end[0],
        y: end[1],
      });
  }
  return { x: origin[0], y: origin[1], closed: false, segments };
}

/** Point of a (rational) B-spline at a parameter, by de Boor's algorithm in homogeneous coordinates. */
export function splinePoint(degree: number, knots: readonly number[], points: readonly Point[], weights: readonly number[] | null, t: number): Point {
  let k = degree;
  while (k < points.length - 1 && knots[k + 1] <= t) k++;
  const d = Array.from({ length: degree + 1 }, (_, j) => {
    const i = k - degree + j;
    const w = weights ? weights[i] : 1;
    return [points[i][0] * w, points[i][1] * w, w];
  });
  for (let r = 1; r <= degree; r++)
    for (let j = degree; j >= r; j--) {
      const i = k - degree + j;
      const span = knots[i + degree - r + 1] - knots[i];
      const a = span > 0 ? (t - knots[i]) / span : 0;
      for (let c = 0; c < 3; c++) d[j][c] = (1 - a) * d[j - 1][c] + a * d[j][c];
    }
  return [d[degree][0] / d[degree][2], d[degree][1] / d[degree][2]];
}

/** Cubic pieces through points and tangents of the curve, halved until they keep the tolerance. */
function sampled(degree: number, knots: number[], points: Point[], weights: number[] | null, from: number, to: number, tolerance: number): Subpath {
  const at = (t: number) => splinePoint(degree, knots, points, weights, t);
  const slope = (t: number): Point => {
    const h = (to - from) * 1e-6;
    const [a, b] = [at(Math.max(from, t - h)), at(Math.min(to, t + h))];
    const span = Math.min(to, t + h) - Math.max(from, t - h);
    return [(b[0] - a[0]) / span, (b[1] - a[1]) / span];
  };
  const segments: Segment[] = [];
  const piece = (t0: number, t1: number, depth: number) => {
    const [p0, p1] = [at(t0), at(t1)];
    const third = (t1 - t0) / 3;
    // Slopes just inside the piece: at a knot the curve may have a corner.
    const inside = (t1 - t0) * 1e-4;
    const [s0, s1] = [slope(t0 + inside), slope(t1 - inside)];
    const c = [p0[0] + s0[0] * third, p0[1] + s0[1] * third, p1[0] - s1[0] * third, p1[1] - s1[1] * third];
    let worst = 0;
    for (const u of [0.25, 0.5, 0.75]) {
      const v = 1 - u;
      const [x, y] = at(t0 + u * (t1 - t0));
      const bx = v * v * v * p0[0] + 3 * v * v * u * c[0] + 3 * v * u * u * c[2] + u * u * u * p1[0];
      const by = v * v * v * p0[1] + 3 * v * v * u * c[1] + 3 * v * u * u * c[3] + u * u * u * p1[1];
      worst = Math.max(worst, Math.hypot(x - bx, y - by));
    }
    if (worst > tolerance && depth < 10) {
      piece(t0, (t0 + t1) / 2, depth + 1);
      piece((t0 + t1) / 2, t1, depth + 1);
    } else segments.push({ kind: 'curve', x1: c[0], y1: c[1], x2: c[2], y2: c[3], x: p1[0], y: p1[1] });
  };
  const distinct = [...new Set(knots)].filter((t) => t >= from && t <= to);
  for (let i = 0; i + 1 < distinct.length; i++) piece(distinct[i], distinct[i + 1], 0);
  const [x, y] = at(from);
  return { x, y, closed: false, segments };
}

/**
 * The cubic spline with continuous curvature through points, parameter by chord length; end
 * tangents as given, else free ends. (Derived: the usual tridiagonal system for the slopes.)
 */
function throughPoints(fit: Point[], closed: boolean, start: Point | null, end: Point | null): Subpath | null {
  const p = fit.filter(([x, y], i) => i === 0 || Math.hypot(x - fit[i - 1][0], y - fit[i - 1][1]) > 1e-12);
  if (closed && p.length > 2 && Math.hypot(p[0][0] - p[p.length - 1][0], p[0][1] - p[p.length - 1][1]) > 1e-12) p.push([...p[0]]);
  const n = p.length;
  if (n < 2) return null;
  const h = Array.from({ length: n - 1 }, (_, i) => Math.hypot(p[i + 1][0] - p[i][0], p[i + 1][1] - p[i][1]));
  const unit = (t: Point | null): Point | null => (t && Math.hypot(t[0], t[1]) > 0 ? [t[0] / Math.hypot(t[0], t[1]), t[1] / Math.hypot(t[0], t[1])] : null);
  const ring = closed && n > 3;
  const slopes = [0, 1].map((axis) =>
    solveSlopes(
      p.map((q) => q[axis]),
      h,
      ring,
      unit(start)?.[axis] ?? null,
      unit(end)?.[axis] ?? null,
    ),
  );
  const segments: Segment[] = [];
  for (let i = 0; i + 1 < n; i++)
    segments.push({
      kind: 'curve',
      x1: p[i][0] + (slopes[0][i] * h[i]) / 3,
      y1: p[i][1] + (slopes[1][i] * h[i]) / 3,
      x2: p[i + 1][0] - (slopes[0][i + 1] * h[i]) / 3,
      y2: p[i + 1][1] - (slopes[1][i + 1] * h[i]) / 3,
      x: p[i + 1][0],
      y: p[i + 1][1],
    });
  return { x: p[0][0], y: p[0][1], closed, segments };
}

/** Slopes at the points. A closed ring repeats the system over three rounds and takes the middle one. */
function solveSlopes(y: number[], h: number[], ring: boolean, first: number | null, last: number | null): number[] {
  if (ring) {
    const once = y.slice(0, -1);
    const m = once.length;
    const all = solveSlopes([...once, ...once, ...once, once[0]], [...h, ...h, ...h], false, null, null);
    return [...all.slice(m, 2 * m), all[m]];
  }
  const n = y.length;
  const [a, b, c, d] = [new Array<number>(n).fill(0), new Array<number>(n).fill(1), new Array<number>(n).fill(0), new Array<number>(n).fill(0)];
  const chord = (i: number) => (y[i + 1] - y[i]) / h[i];
  if (first !== null) d[0] = first;
  else {
    [b[0], c[0]] = [2, 1];
    d[0] = 3 * chord(0);
  }
  for (let i = 1; i < n - 1; i++) {
    a[i] = h[i];
    b[i] = 2 * (h[i - 1] + h[i]);
    c[i] = h[i - 1];
    d[i] = 3 * (h[i] * chord(i - 1) + h[i - 1] * chord(i));
  }
  if (last !== null) d[n - 1] = last;
  else {
    [a[n - 1], b[n - 1]] = [1, 2];
    d[n - 1] = 3 * chord(n - 2);
  }
  for (let i = 1; i < n; i++) {
    const w = a[i] / b[i - 1];
    b[i] -= w * c[i - 1];
    d[i] -= w * d[i - 1];
  }
  const s = new Array<number>(n);
  s[n - 1] = d[n - 1] / b[n - 1];
  for (let i = n - 2; i >= 0; i--) s[i] = (d[i] - c[i] * s[i + 1]) / b[i];
  return s;
}
