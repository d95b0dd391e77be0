/**
 * Chords that follow a circle, or a helix about Z, found again as arcs: fewer lines, and a machine
 * that need not slow down at every joint. An arc takes the place of chords when all their ends and
 * middles lie within a tolerance of it and height goes evenly with the angle.
 */
import { FEED, type Toolpath } from '../toolpath/index.ts';

export interface Arc {
  /** The moves it replaces: `first` to `last`, both included. */
  first: number;
  last: number;
  /** Centre. */
  x: number;
  y: number;
  clockwise: boolean;
}

/** Fewer chords than this are left as they are. */
const CHORDS = 4;
/** Nearly full circles are split: an arc that ends where it began says too little. */
const SWEEP = (330 * Math.PI) / 180;
const RADIUS = { least: 0.1, most: 5000 };

/** The arcs of a path, in order, not touching each other. @param tolerance mm */
export function fitArcs(path: Toolpath, tolerance: number): Arc[] {
  const arcs: Arc[] = [];
  const n = path.kind.length;
  for (let first = 1; first < n;) {
    let end = first;
    while (end < n && path.kind[end] === FEED && Math.abs(path.feed[end] - path.feed[first]) < 1e-6 * path.feed[first] + 1e-9) end++;
    if (end - first < CHORDS) {
      first = Math.max(end, first + 1);
      continue;
    }
    // As far as it goes: doubled while it fits, then halved in.
    let best = arcOver(path, first, first + CHORDS - 1, tolerance);
    if (!best) {
      first++;
      continue;
    }
    let good = first + CHORDS - 1;
    let bad = end;
    for (let reach = 2 * CHORDS; good < end - 1; reach *= 2) {
      const last = Math.min(first + reach - 1, end - 1);
      const arc = arcOver(path, first, last, tolerance);
      if (!arc) {
        bad = last;
        break;
      }
      [best, good] = [arc, last];
    }
    while (bad - good > 1) {
      const middle = (good + bad) >> 1;
      const arc = arcOver(path, first, middle, tolerance);
      if (arc) [best, good] = [arc, middle];
      else bad = middle;
    }
    arcs.push(best);
    first = good + 1;
  }
  return arcs;
}

/** One arc over moves first..last, or null. */
function arcOver({ x, y, z }: Toolpath, first: number, last: number, tolerance: number): Arc | null {
  const [ax, ay, az] = [x[first - 1], y[first - 1], z[first - 1]];
  const middle = (first + last) >> 1;
  const circle = circleThrough(ax, ay, x[middle], y[middle], x[last], y[last]);
  if (!circle) return null;
  const { x: cx, y: cy, r } = circle;
  if (r < RADIUS.least || r > RADIUS.most) return null;
  const turn = (i: number) => {
    const [px, py, qx, qy] = [x[i - 1] - cx, y[i - 1] - cy, x[i] - cx, y[i] - cy];
    return Math.atan2(px * qy - py * qx, px * qx + py * qy);
  };
  const way = Math.sign(turn(first));
  let whole = 0;
  for (let i = first; i <= last; i++) {
    const part = turn(i);
    if (part * way <= 0) return null;
    whole += Math.abs(part);
    if (whole > SWEEP) return null;
    if (Math.abs(Math.hypot(x[i] - cx, y[i] - cy) - r) > tolerance) return null;
    if (Math.abs(Math.hypot((x[i] + x[i - 1]) / 2 - cx, (y[i] + y[i - 1]) / 2 - cy) - r) > tolerance) return null;
  }
  for (let i = first, gone = 0; i <= last; i++) {
    gone += Math.abs(turn(i));
    if (Math.abs(z[i] - (az + ((z[last] - az) * gone) / whole)) > tolerance) return null;
  }
  return { first, last, x: cx, y: cy, clockwise: way < 0 };
}

function circleThrough(ax: number, ay: number, bx: number, by: number, cx: number, cy: number): { x: number; y: number; r: number } | null {
  const d = 2 * ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax));
  if (Math.abs(d) < 1e-9) return null;
  const b = (bx - ax) ** 2 + (by - ay) ** 2;
  const c = (cx - ax) ** 2 + (cy - ay) ** 2;
  const ux = ((cy - ay) * b - (by - ay) * c) / d;
  const uy = ((bx - ax) * c - (cx - ax) * b) / d;
  return { x: ax + ux, y: ay + uy, r: Math.hypot(ux, uy) };
}
