/** The edge of what a round pen covers along a line, before it is united: made without a sweep over the plane. */
import type { Contour } from './contour.ts';

/**
 * The outline of a round pen's line, counter-clockwise. It may cross itself, but goes round every place the pen covers
 * at least once and never round any other: united with others by the non-zero rule it is exactly what they cover.
 *
 * Why: joined edge by edge with the vertex between two normals where the line bends towards this side, it is the sum
 * of each edge's rectangle and of the sectors at bends, all counter-clockwise. Where both edges reach, the two offset
 * edges are joined where they meet, which leaves out a part that both rectangles cover. (Derived.)
 *
 * @param xy an open line, mm
 * @param tolerance greatest deviation of round joins and ends, mm
 */
export function penOutline(xy: ArrayLike<number>, width: number, tolerance: number): Contour {
  const half = width / 2;
  const points: number[] = [xy[0], xy[1]];
  for (let i = 2; i < xy.length; i += 2) if (xy[i] !== points.at(-2) || xy[i + 1] !== points.at(-1)) points.push(xy[i], xy[i + 1]);
  // A dot is a line of no length in any direction.
  if (points.length === 2) points.push(points[0] + tolerance / 1e3, points[1]);
  const out: number[] = [];
  const step = 2 * Math.acos(Math.max(0, 1 - tolerance / half));
  goneAlong(out, points, half, tolerance, step);
  const back: number[] = [];
  for (let i = points.length - 2; i >= 0; i -= 2) back.push(points[i], points[i + 1]);
  goneAlong(out, back, half, tolerance, step);
  return { xy: Float64Array.from(out), smooth: new Uint8Array(out.length / 2) };
}

/** Its edge on the right of travel, and round the end of the line to the other side. */
function goneAlong(out: number[], xy: readonly number[], half: number, tolerance: number, step: number): void {
  const round = (x: number, y: number, nx: number, ny: number, turn: number) => {
    const pieces = Math.max(1, Math.ceil(turn / step));
    const [cos, sin] = [Math.cos(turn / pieces), Math.sin(turn / pieces)];
    for (let k = 0; k <= pieces; k++) {
      out.push(x + half * nx, y + half * ny);
      [nx, ny] = [nx * cos - ny * sin, nx * sin + ny * cos];
    }
  };
  let [dx, dy, length] = direction(xy, 0);
  out.push(xy[0] + half * dy, xy[1] - half * dx);
  for (let i = 2; i < xy.length - 2; i += 2) {
    const [x, y] = [xy[i], xy[i + 1]];
    const [ex, ey, next] = direction(xy, i);
    const [cross, dot] = [dx * ey - dy * ex, dx * ex + dy * ey];
    const turn = Math.atan2(Math.abs(cross), dot);
    const met = half / (1 + dot);
    const reaches = half * Math.tan(turn / 2) <= Math.min(length, next) / 2;
    if (cross >= 0 ? half / Math.cos(turn / 2) - half <= tolerance : reaches) out.push(x + met * (dy + ey), y - met * (dx + ex));
    else if (cross >= 0) round(x, y, dy, -dx, turn);
    else out.push(x + half * dy, y - half * dx, x, y, x + half * ey, y - half * ex);
    [dx, dy, length] = [ex, ey, next];
  }
  round(xy[xy.length - 2], xy[xy.length - 1], dy, -dx, Math.PI);
}

/** Of the edge that begins at i: its direction, of length one, and its length. */
function direction(xy: readonly number[], i: number): [number, number, number] {
  const [x, y] = [xy[i + 2] - xy[i], xy[i + 3] - xy[i + 1]];
  const length = Math.hypot(x, y);
  return [x / length, y / length, length];
}
