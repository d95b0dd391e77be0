/** Fillets and chamfers: corners between two straight lines taken off by an arc or a straight cut. */
import type { Segment, Subpath } from './path.ts';

const STRAIGHT = 1e-4;

/**
 * @param radius of a fillet; of a chamfer, how far along each side it begins
 * @param node only one corner: subpath, and the segment whose end it is (-1 for the last)
 * @returns how many corners were done, and how many sharp ones are left for want of room or between curves
 */
export function roundCorners(
  subpaths: readonly Subpath[],
  radius: number,
  how: 'fillet' | 'chamfer',
  node?: readonly [number, number],
): { subpaths: Subpath[]; done: number; left: number } {
  let done = 0;
  let left = 0;
  const out = subpaths.map((subpath, index) => {
    const segments = withClosingLine(subpath);
    const n = segments.length;
    const start = (i: number) => (i === 0 ? { x: subpath.x, y: subpath.y } : segments[i - 1]);
    const next: Segment[] = [];
    /** How much of each line's end and start is used up. */
    const cut = new Map<number, { x: number; y: number; piece: Segment }>();
    const used = new Float64Array(n);
    for (let i = 0; i < n; i++) {
      if (!subpath.closed && i === n - 1) continue;
      const j = (i + 1) % n;
      if (node && (node[0] !== index || (node[1] + n) % n !== i)) continue;
      const [a, b] = [segments[i], segments[j]];
      const corner = { x: a.x, y: a.y };
      if (a.kind !== 'line' || b.kind !== 'line') {
        if (isSharp(start(i), a, corner, b)) left++;
        continue;
      }
      const from = start(i);
      const [la, lb] = [Math.hypot(corner.x - from.x, corner.y - from.y), Math.hypot(b.x - corner.x, b.y - corner.y)];
      if (la === 0 || lb === 0) continue;
      const [ux, uy, vx, vy] = [(from.x - corner.x) / la, (from.y - corner.y) / la, (b.x - corner.x) / lb, (b.y - corner.y) / lb];
      const turn = Math.abs(Math.atan2(-ux * vy + uy * vx, -ux * vx - uy * vy));
      if (turn < STRAIGHT) continue;
      // Tangent points of a fillet lie r·tan(turn/2) from the corner.
      const back = how === 'fillet' ? radius * Math.tan(turn / 2) : radius;
      if (!Number.isFinite(back) || back > la - used[i] + 1e-9 || back > lb - used[j] + 1e-9) {
        left++;
        continue;
      }
      used[i] += back;
      used[j] += back;
      const to = { x: corner.x + vx * back, y: corner.y + vy * back };
      const sweep = -ux * vy + uy * vx > 0;
      const piece: Segment = how === 'fillet' ? { kind: 'arc', rx: radius, ry: radius, turn: 0, large: false, sweep, ...to } : { kind: 'line', ...to };
      cut.set(i, { x: corner.x + ux * back, y: corner.y + uy * back, piece });
      done++;
    }
    segments.forEach((s, i) => {
      const c = cut.get(i);
      if (c) next.push({ ...s, x: c.x, y: c.y }, c.piece);
      else next.push(s);
    });
    if (!subpath.closed) return { ...subpath, segments: next };
    const end = next[next.length - 1];
    return { x: end.x, y: end.y, closed: true, segments: next };
  });
  return { subpaths: out, done, left };
}

/** The segments of a subpath, with the line that closes it made plain. */
export function withClosingLine({ x, y, closed, segments }: Subpath): Segment[] {
  const last = segments[segments.length - 1];
  return closed && last && Math.hypot(last.x - x, last.y - y) > 1e-7 ? [...segments, { kind: 'line', x, y }] : [...segments];
}

type Point = { x: number; y: number };
function isSharp(from: Point, a: Segment, corner: Point, b: Segment): boolean {
  const into = a.kind === 'curve' ? [corner.x - a.x2, corner.y - a.y2] : [corner.x - from.x, corner.y - from.y];
  const out = b.kind === 'curve' ? [b.x1 - corner.x, b.y1 - corner.y] : [b.x - corner.x, b.y - corner.y];
  return Math.abs(Math.atan2(into[0] * out[1] - into[1] * out[0], into[0] * out[0] + into[1] * out[1])) > 0.3;
}
