/**
 * A pen that draws contours and open lines from lines, Bézier curves and elliptical arcs, flattening
 * curves so that no chord is further than the tolerance from the curve. It remembers which
 * vertices lie on a smooth run, by comparing the tangents where two pieces join.
 */
import { arcByMiddle } from './arc.ts';
import type { Contour, Line } from './contour.ts';

/** Joints whose tangents differ by less than this (radians, about 4 degrees) are smooth. */
const SMOOTH_JOINT = 0.07;

export class Pen {
  readonly contours: Contour[] = [];
  readonly lines: Line[] = [];
  private readonly tolerance: number;
  private xs: number[] = [];
  private ys: number[] = [];
  private flags: number[] = [];
  private startTangent = NaN;
  private lastTangent = NaN;
  private open = false;

  /** @param tolerance greatest distance of a chord from its curve, in the pen's units */
  constructor(tolerance: number) {
    this.tolerance = tolerance;
  }

  get x(): number {
    return this.xs.length ? this.xs[this.xs.length - 1] : 0;
  }
  get y(): number {
    return this.ys.length ? this.ys[this.ys.length - 1] : 0;
  }

  moveTo(x: number, y: number): void {
    this.close();
    this.xs = [x];
    this.ys = [y];
    this.flags = [0];
    this.startTangent = NaN;
    this.lastTangent = NaN;
    this.open = true;
  }

  lineTo(x: number, y: number): void {
    const angle = this.leave(x - this.x, y - this.y);
    if (Number.isNaN(angle)) return;
    this.put(x, y, 0);
    this.lastTangent = angle;
  }

  quadTo(cx: number, cy: number, x: number, y: number): void {
    const { x: x0, y: y0 } = this;
    this.cubicTo(x0 + (2 / 3) * (cx - x0), y0 + (2 / 3) * (cy - y0), x + (2 / 3) * (cx - x), y + (2 / 3) * (cy - y), x, y);
  }

  cubicTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): void {
    const { x: x0, y: y0 } = this;
    const tiny = 1e-9;
    const from: [number, number] =
      Math.hypot(ax - x0, ay - y0) > tiny ? [ax - x0, ay - y0] : Math.hypot(bx - x0, by - y0) > tiny ? [bx - x0, by - y0] : [x - x0, y - y0];
    const to: [number, number] = Math.hypot(x - bx, y - by) > tiny ? [x - bx, y - by] : Math.hypot(x - ax, y - ay) > tiny ? [x - ax, y - ay] : [x - x0, y - y0];
    if (Number.isNaN(this.leave(from[0], from[1]))) return;
    // Chord error of n equal steps is at most (1/8)·max|P''|/n² (linear interpolation error).
    const ddx = 6 * Math.max(Math.abs(x0 - 2 * ax + bx), Math.abs(ax - 2 * bx + x));
    const ddy = 6 * Math.max(Math.abs(y0 - 2 * ay + by), Math.abs(ay - 2 * by + y));
    const n = Math.min(400, Math.max(1, Math.ceil(Math.sqrt(Math.hypot(ddx, ddy) / (8 * this.tolerance)))));
    for (let i = 1; i <= n; i++) {
      const t = i / n;
      const u = 1 - t;
      const px = i === n ? x : u * u * u * x0 + 3 * u * u * t * ax + 3 * u * t * t * bx + t * t * t * x;
      const py = i === n ? y : u * u * u * y0 + 3 * u * u * t * ay + 3 * u * t * t * by + t * t * t * y;
      this.put(px, py, i < n ? 1 : 0);
    }
    this.lastTangent = Math.atan2(to[1], to[0]);
  }

  /** An elliptical arc from the current point: radii, turn in degrees and flags as in a path's A command. */
  arcTo(rx: number, ry: number, degrees: number, large: boolean, sweep: boolean, x: number, y: number): void {
    if (x === this.x && y === this.y) return;
    const arc = arcByMiddle(this.x, this.y, rx, ry, (degrees * Math.PI) / 180, large, sweep, x, y);
    if (arc) this.sweepEllipse(arc.cx, arc.cy, arc.rx, arc.ry, arc.phi, arc.start, arc.turn, x, y);
    else this.lineTo(x, y);
  }

  /** A whole ellipse as a contour of its own, counter-clockwise in the pen's frame. */
  ellipse(cx: number, cy: number, rx: number, ry: number): void {
    this.moveTo(cx + rx, cy);
    this.sweepEllipse(cx, cy, rx, ry, 0, 0, 2 * Math.PI, cx + rx, cy);
    this.close();
  }

  /** Closes the contour being drawn. Open ends are joined by a straight line. */
  close(): void {
    if (!this.open) return;
    this.open = false;
    let n = this.xs.length;
    const last = n - 1;
    if (n > 1 && Math.hypot(this.xs[0] - this.xs[last], this.ys[0] - this.ys[last]) < 1e-7) {
      n--;
      this.flags[0] = near(this.lastTangent, this.startTangent) ? 1 : 0;
    }
    if (n < 3) return;
    const xy = new Float64Array(2 * n);
    for (let i = 0; i < n; i++) {
      xy[2 * i] = this.xs[i];
      xy[2 * i + 1] = this.ys[i];
    }
    this.contours.push({ xy, smooth: Uint8Array.from(this.flags.slice(0, n)) });
  }

  /** Ends the line being drawn without closing it. */
  leaveOpen(): void {
    if (!this.open) return;
    this.open = false;
    const n = this.xs.length;
    if (n < 2) return;
    const xy = new Float64Array(2 * n);
    for (let i = 0; i < n; i++) {
      xy[2 * i] = this.xs[i];
      xy[2 * i + 1] = this.ys[i];
    }
    this.lines.push({ xy, smooth: Uint8Array.from(this.flags) });
  }

  private sweepEllipse(cx: number, cy: number, rx: number, ry: number, phi: number, start: number, turn: number, x: number, y: number): void {
    const cos = Math.cos(phi);
    const sin = Math.sin(phi);
    const tangent = (a: number, way: number): [number, number] => [
      way * (-cos * rx * Math.sin(a) - sin * ry * Math.cos(a)),
      way * (-sin * rx * Math.sin(a) + cos * ry * Math.cos(a)),
    ];
    const way = Math.sign(turn) || 1;
    const out = tangent(start, way);
    if (Number.isNaN(this.leave(out[0], out[1]))) return;
    // Sagitta of a chord over angle a on radius r: r·(1 - cos(a/2)).
    const step = 2 * Math.acos(Math.max(0, 1 - this.tolerance / Math.max(rx, ry)));
    const n = Math.min(2000, Math.max(2, Math.ceil(Math.abs(turn) / Math.max(step, 0.003))));
    for (let i = 1; i <= n; i++) {
      const a = start + (turn * i) / n;
      const ex = cx + cos * rx * Math.cos(a) - sin * ry * Math.sin(a);
      const ey = cy + sin * rx * Math.cos(a) + cos * ry * Math.sin(a);
      this.put(i === n ? x : ex, i === n ? y : ey, i < n ? 1 : 0);
    }
    const end = tangent(start + turn, way);
    this.lastTangent = Math.atan2(end[1], end[0]);
  }

  /** Notes the direction a piece leaves in; marks the joint just passed. NaN when it goes nowhere. */
  private leave(dx: number, dy: number): number {
    if (Math.hypot(dx, dy) < 1e-12) return NaN;
    const angle = Math.atan2(dy, dx);
    if (Number.isNaN(this.startTangent)) this.startTangent = angle;
    else if (near(this.lastTangent, angle)) this.flags[this.flags.length - 1] = 1;
    return angle;
  }

  private put(x: number, y: number, smooth: number): void {
    if (Math.hypot(x - this.x, y - this.y) < 1e-9) return;
    this.xs.push(x);
    this.ys.push(y);
    this.flags.push(smooth);
  }
}

function near(a: number, b: number): boolean {
  const turn = Math.abs(a - b) % (2 * Math.PI);
  return Math.min(turn, 2 * Math.PI - turn) < SMOOTH_JOINT;
}
