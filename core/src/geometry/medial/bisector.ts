/**
 * The curve of points as far from one site as from another: a line between two edges or two
 * vertices, a parabola between a vertex and an edge. Walked by a parameter t >= 0 from a
 * starting point in a stated direction. (Derived: plain analytic geometry.)
 */
import type { Sites } from './sites.ts';

/** What bounds a walk: the site whose reach ends, and the site that takes over (-1: a convex end). */
export interface Exit {
  t: number;
  /** 0: the right-hand site hands over, 1: the left-hand one, -1: the bisector runs into a corner. */
  side: number;
  successor: number;
}

const NOW = 1e-7;

export class Bisector {
  /** Point and radius found by the last call of {@link at}. */
  x = 0;
  y = 0;
  r = 0;
  /** Speed of the point, mm per unit of t, at the last call of {@link at}. */
  speed = 1;
  readonly exit: Exit = { t: 0, side: 0, successor: 0 };

  private readonly sites: Sites;
  private kind = 0; // 0: edge-edge line, 1: parabola, 2: vertex-vertex line
  private x0 = 0;
  private y0 = 0;
  private ux = 0;
  private uy = 0;
  private r0 = 0;
  private slope = 0;
  // parabola: edge, focus height above it, signed distance along it from the focus, way
  private edge = 0;
  private height = 0;
  private along = 0;
  private way = 1;
  private foot = 0;

  constructor(sites: Sites) {
    this.sites = sites;
  }

  /** True when the curve bends, so that straight interpolation of the radius would be wrong. */
  get curved(): boolean {
    return this.kind !== 0;
  }

  /** Slope of the radius along a straight edge-edge bisector. */
  get radiusSlope(): number {
    return this.slope;
  }

  /** Sets the walk from (px, py) between two sites, in the direction nearest to (hx, hy). */
  start(a: number, b: number, px: number, py: number, hx: number, hy: number): void {
    const { sites } = this;
    const n = sites.count;
    if (a < n && b < n) {
      this.kind = 0;
      const ax = -sites.dy[a];
      const ay = sites.dx[a];
      const bx = -sites.dy[b];
      const by = sites.dx[b];
      let ux = ax + bx;
      let uy = ay + by;
      if (ax * bx + ay * by < 0) {
        ux = -(ay - by);
        uy = ax - bx;
      }
      const size = Math.hypot(ux, uy) * (ux * hx + uy * hy < 0 ? -1 : 1);
      this.ux = ux / size;
      this.uy = uy / size;
      this.slope = (this.ux * (ax + bx) + this.uy * (ay + by)) / 2;
      const ra = (px - sites.x[a]) * ax + (py - sites.y[a]) * ay;
      const rb = (px - sites.x[b]) * bx + (py - sites.y[b]) * by;
      // Step across onto the exact bisector, so that errors of earlier nodes do not add up.
      const gx = ax - bx;
      const gy = ay - by;
      const square = gx * gx + gy * gy;
      const across = square > 1e-4 ? (rb - ra) / square : 0;
      this.x0 = px + across * gx;
      this.y0 = py + across * gy;
      this.r0 = (ra + rb + across * (gx * (ax + bx) + gy * (ay + by))) / 2;
    } else if (a >= n && b >= n) {
      this.kind = 2;
      const vx = sites.x[a - n];
      const vy = sites.y[a - n];
      const wx = sites.x[b - n];
      const wy = sites.y[b - n];
      const gap = Math.hypot(wx - vx, wy - vy);
      let ux = -(wy - vy) / gap;
      let uy = (wx - vx) / gap;
      if (ux * hx + uy * hy < 0) {
        ux = -ux;
        uy = -uy;
      }
      const mx = (vx + wx) / 2;
      const my = (vy + wy) / 2;
      this.ux = ux;
      this.uy = uy;
      this.along = (px - mx) * ux + (py - my) * uy;
      this.x0 = mx;
      this.y0 = my;
      this.height = gap / 2;
    } else {
      this.kind = 1;
      const e = a < n ? a : b;
      const v = (a < n ? b : a) - n;
      this.edge = e;
      const qx = sites.x[v] - sites.x[e];
      const qy = sites.y[v] - sites.y[e];
      this.foot = qx * sites.dx[e] + qy * sites.dy[e];
      this.height = qy * sites.dx[e] - qx * sites.dy[e];
      this.along = (px - sites.x[e]) * sites.dx[e] + (py - sites.y[e]) * sites.dy[e] - this.foot;
      // Tangent of the parabola in the edge's frame is (1, along / height).
      const tx = sites.dx[e] - (sites.dy[e] * this.along) / this.height;
      const ty = sites.dy[e] + (sites.dx[e] * this.along) / this.height;
      this.way = tx * hx + ty * hy < 0 ? -1 : 1;
    }
  }

  /** Moves to parameter t. */
  at(t: number): void {
    if (this.kind === 0) {
      this.x = this.x0 + t * this.ux;
      this.y = this.y0 + t * this.uy;
      this.r = this.r0 + t * this.slope;
      this.speed = 1;
    } else if (this.kind === 2) {
      const q = this.along + t;
      this.x = this.x0 + q * this.ux;
      this.y = this.y0 + q * this.uy;
      this.r = Math.sqrt(q * q + this.height * this.height);
      this.speed = 1;
    } else {
      const { sites, edge } = this;
      const q = this.along + this.way * t;
      const h = (q * q + this.height * this.height) / (2 * this.height);
      const s = this.foot + q;
      this.x = sites.x[edge] + s * sites.dx[edge] - h * sites.dy[edge];
      this.y = sites.y[edge] + s * sites.dy[edge] + h * sites.dx[edge];
      this.r = h;
      this.speed = Math.sqrt(1 + (q / this.height) ** 2);
    }
  }

  /**
   * Where between two parameters the curve is farthest from its chord, in place and radius together.
   * A parabola is so half way. Between two vertices the radius is √(q² + h²): there, by the mean value theorem,
   * where its slope q / r is that of the chord. (Derived.)
   */
  farthestFromChord(t0: number, t1: number): number {
    const middle = (t0 + t1) / 2;
    if (this.kind !== 2) return middle;
    const [q0, q1] = [this.along + t0, this.along + t1];
    const slope = (Math.hypot(q1, this.height) - Math.hypot(q0, this.height)) / (q1 - q0);
    const t = (slope * this.height) / Math.sqrt(1 - slope * slope) - this.along;
    // Where the vertices all but coincide the radius is straight but for rounding.
    return t > Math.min(t0, t1) && t < Math.max(t0, t1) ? t : middle;
  }

  /** Direction of travel at t = 0, left in x and y of the returned pair. */
  heading(t: number): [number, number] {
    if (this.kind !== 1) return [this.ux, this.uy];
    const q = this.along + this.way * t;
    const { sites, edge } = this;
    const bend = q / this.height;
    const length = this.way * Math.sqrt(1 + bend * bend);
    return [(sites.dx[edge] - bend * sites.dy[edge]) / length, (sites.dy[edge] + bend * sites.dx[edge]) / length];
  }

  /** Parameter of the point of this walk that lies at (px, py). */
  parameterAt(px: number, py: number): number {
    if (this.kind === 0) return (px - this.x0) * this.ux + (py - this.y0) * this.uy;
    if (this.kind === 2) return (px - this.x0) * this.ux + (py - this.y0) * this.uy - this.along;
    const { sites, edge } = this;
    const s = (px - sites.x[edge]) * sites.dx[edge] + (py - sites.y[edge]) * sites.dy[edge];
    return this.way * (s - this.foot - this.along);
  }

  /** Finds where the walk leaves the reach of either site first; fills {@link exit}. */
  findExit(right: number, left: number): void {
    this.exit.t = Infinity;
    this.exit.side = 0;
    this.exit.successor = -1;
    this.boundBy(right, 0);
    this.boundBy(left, 1);
  }

  private boundBy(site: number, side: number): void {
    const { sites } = this;
    const n = sites.count;
    if (site < n) {
      const start = site;
      const end = sites.next[site];
      const a = this.linear(site, site, 1);
      this.offer(a, side, sites.convex[start] ? -1 : n + start);
      const b = this.linear(site, end, -1);
      this.offer(b, side, sites.convex[end] ? -1 : n + end);
    } else {
      const v = site - n;
      const before = sites.prev[v];
      this.offer(this.linear(before, v, 1), side, before);
      this.offer(this.linear(v, v, -1), side, v);
    }
  }

  private offer(t: number, side: number, successor: number): void {
    if (t < this.exit.t) {
      this.exit.t = t;
      this.exit.side = side;
      this.exit.successor = successor;
    }
  }

  /**
   * When does sign·(p(t) - vertex)·direction(edge) fall below zero? Infinity for never; 0 when
   * it is at zero and falling.
   */
  private linear(edge: number, vertex: number, sign: number): number {
    const { sites } = this;
    const ex = sign * sites.dx[edge];
    const ey = sign * sites.dy[edge];
    let a = 0;
    let b: number;
    let c: number;
    if (this.kind === 1) {
      const e = this.edge;
      const alpha = sites.dx[e] * ex + sites.dy[e] * ey;
      const beta = -sites.dy[e] * ex + sites.dx[e] * ey;
      const wx = sites.x[e] + this.foot * sites.dx[e] - sites.x[vertex];
      const wy = sites.y[e] + this.foot * sites.dy[e] - sites.y[vertex];
      const q = this.along;
      const h = this.height;
      a = beta / (2 * h);
      b = this.way * (alpha + (beta * q) / h);
      c = wx * ex + wy * ey + alpha * q + (beta * (q * q + h * h)) / (2 * h);
      if (Math.abs(a) < 1e-15) a = 0;
    } else {
      this.at(0);
      b = this.ux * ex + this.uy * ey;
      c = (this.x - sites.x[vertex]) * ex + (this.y - sites.y[vertex]) * ey;
    }
    if (c <= 0 && b < -1e-13) return 0;
    let t: number;
    if (a === 0) {
      if (b >= -1e-13) return Infinity;
      t = -c / b;
    } else {
      const square = b * b - 4 * a * c;
      if (square <= 0) return Infinity;
      const root = Math.sqrt(square);
      t = b > 0 ? (-b - root) / (2 * a) : (2 * c) / (root - b);
    }
    if (t < 0) return Infinity;
    return t < NOW ? 0 : t;
  }
}
