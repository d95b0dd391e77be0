/**
 * How long a toolpath takes and where the bit is at a given time: speeds limited by each axis's
 * top speed and acceleration and by the corners, planned backwards and forwards over the whole
 * path. Units: mm, seconds; feeds come in as mm/min.
 *
 * A corner may be cut short by δ: the circle tangent to both legs at that distance has radius
 * R = δ·s/(1 - s), s = sin(θ/2) with θ the angle between the legs, and v² = a·R. Where chords
 * follow a curve, R is also bounded by chord length over turning angle, the curve's own radius.
 * Rest to rest: t = d/v + v/a, or 2·sqrt(d/a) when v is not reached. (Derived.)
 */
import { DWELL, RAPID, type Toolpath } from '../toolpath/index.ts';

export interface Limits {
  /** mm/min per axis. */
  maxSpeed: readonly [number, number, number];
  /** mm/s² per axis. */
  acceleration: readonly [number, number, number];
  cornerDeviation: number;
}

export type Path = Pick<Toolpath, 'kind' | 'x' | 'y' | 'z' | 'feed'>;

/** Move i starts at time start[i] with speed v0[i], reaches peak[i], ends with v0[i+1]. */
export interface Timing {
  start: Float64Array;
  v0: Float64Array;
  peak: Float64Array;
  accel: Float64Array;
  length: Float64Array;
  /** Seconds for the whole path. */
  total: number;
}

/**
 * Plans the speed of every move. The path ends at rest; move 0 starts at `from`, with
 * `startSpeed` mm/s. Arrays are one longer than the path where a value stands at joints.
 */
export function planMotion(path: Path, limits: Limits, from: readonly [number, number, number] = [path.x[0], path.y[0], path.z[0]], startSpeed = 0): Timing {
  const n = path.kind.length;
  const { x, y, z } = path;
  const length = new Float64Array(n);
  const accel = new Float64Array(n);
  const top = new Float64Array(n);
  const v0 = new Float64Array(n + 1);
  const [sx, sy, sz] = limits.maxSpeed;
  const [ax, ay, az] = limits.acceleration;
  let px = from[0];
  let py = from[1];
  let pz = from[2];
  let pux = 0;
  let puy = 0;
  let puz = 0;
  let previous = -1;
  for (let i = 0; i < n; i++) {
    const dx = x[i] - px;
    const dy = y[i] - py;
    const dz = z[i] - pz;
    px = x[i];
    py = y[i];
    pz = z[i];
    const d = Math.sqrt(dx * dx + dy * dy + dz * dz);
    length[i] = d;
    if (d < 1e-12) {
      accel[i] = 1;
      // What waits stands still: the moves before and after begin and end at rest.
      if (path.kind[i] === DWELL) previous = -1;
      continue;
    }
    const ux = dx / d;
    const uy = dy / d;
    const uz = dz / d;
    const cx = Math.abs(ux);
    const cy = Math.abs(uy);
    const cz = Math.abs(uz);
    let speed = Infinity;
    let a = Infinity;
    if (cx > 1e-12) {
      speed = sx / cx;
      a = ax / cx;
    }
    if (cy > 1e-12) {
      speed = Math.min(speed, sy / cy);
      a = Math.min(a, ay / cy);
    }
    if (cz > 1e-12) {
      speed = Math.min(speed, sz / cz);
      a = Math.min(a, az / cz);
    }
    if (path.kind[i] !== RAPID) speed = Math.min(speed, path.feed[i]);
    top[i] = speed / 60;
    accel[i] = a;
    if (previous >= 0) {
      const straight = pux * ux + puy * uy + puz * uz; // cosine of the deflection
      let corner = 0;
      if (straight > 0.999999999) corner = Infinity;
      else if (straight > -0.999999) {
        const s = Math.sqrt((1 + straight) / 2); // sin(θ/2) = cos(deflection/2)
        const byDeviation = (limits.cornerDeviation * s) / (1 - s);
        const deflection = Math.acos(Math.min(1, straight));
        const byChord = (0.5 * (d + length[previous])) / deflection;
        corner = Math.sqrt(Math.min(a, accel[previous]) * Math.min(byDeviation, byChord));
      }
      v0[i] = Math.min(corner, top[i], top[previous]);
      for (let k = previous + 1; k < i; k++) v0[k] = v0[i];
    }
    pux = ux;
    puy = uy;
    puz = uz;
    previous = i;
  }
  v0[0] = startSpeed;
  v0[n] = 0;
  for (let i = n - 1; i >= 0; i--) {
    const reach = Math.sqrt(v0[i + 1] * v0[i + 1] + 2 * accel[i] * length[i]);
    if (reach < v0[i]) v0[i] = reach;
  }
  const start = new Float64Array(n + 1);
  const peak = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const reach = Math.sqrt(v0[i] * v0[i] + 2 * accel[i] * length[i]);
    if (reach < v0[i + 1]) v0[i + 1] = reach;
    let duration = 0;
    if (length[i] > 1e-12) {
      const a = accel[i];
      const vp = Math.min(top[i], Math.sqrt(a * length[i] + (v0[i] * v0[i] + v0[i + 1] * v0[i + 1]) / 2));
      peak[i] = vp;
      const ramp = (2 * vp * vp - v0[i] * v0[i] - v0[i + 1] * v0[i + 1]) / (2 * a);
      duration = (2 * vp - v0[i] - v0[i + 1]) / a + Math.max(0, length[i] - ramp) / vp;
    } else if (path.kind[i] === DWELL) duration = path.feed[i];
    start[i + 1] = start[i] + duration;
  }
  return { start, v0, peak, accel, length, total: start[n] };
}

/** Index of the move under way at time t. */
export function moveAt(timing: Timing, t: number): number {
  let lo = 0;
  let hi = timing.peak.length - 1;
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (timing.start[mid] <= t) lo = mid;
    else hi = mid - 1;
  }
  return lo;
}

/** Fraction (0..1) of move i done at time t. */
export function fractionAt(timing: Timing, i: number, t: number): number {
  const d = timing.length[i];
  if (d < 1e-12) return 1;
  const tau = Math.max(0, t - timing.start[i]);
  const v0 = timing.v0[i];
  const v1 = timing.v0[i + 1];
  const vp = timing.peak[i];
  const a = timing.accel[i];
  const up = (vp - v0) / a;
  const down = (vp - v1) / a;
  const whole = timing.start[i + 1] - timing.start[i];
  const cruise = Math.max(0, whole - up - down);
  let s: number;
  if (tau < up) s = v0 * tau + (a * tau * tau) / 2;
  else if (tau < up + cruise) s = (vp * vp - v0 * v0) / (2 * a) + vp * (tau - up);
  else {
    const left = Math.max(0, whole - tau);
    s = d - (v1 * left + (a * left * left) / 2);
  }
  return Math.min(1, Math.max(0, s / d));
}
