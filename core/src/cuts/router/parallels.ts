/** Parallel lines that cover an area. */
import { contoursOf, insideRegion, type Region } from '../../geometry/index.ts';

type Point = readonly [number, number];

/**
 * Parallel lines through an area, back and forth: the end of one is joined to the next where the
 * way between stays inside. Each is a list of x y. Parts of the area are covered one after the other.
 *
 * @param angle of the lines, degrees
 */
export function zigzags(area: readonly Region[], step: number, angle: number): number[][] {
  return area.flatMap((region) => joinedRows(region, rowsOf(region, step, angle), step));
}

/** The parts of every line that lie inside, each from its left end to its right, row by row. */
function rowsOf(region: Region, step: number, angle: number): { from: Point; to: Point }[] {
  const a = (angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  // Along the lines u, across them v.
  const rings = contoursOf(region).map(({ xy }) => {
    const uv = new Float64Array(xy.length);
    for (let i = 0; i < xy.length; i += 2) {
      uv[i] = cos * xy[i] + sin * xy[i + 1];
      uv[i + 1] = -sin * xy[i] + cos * xy[i + 1];
    }
    return uv;
  });
  let [low, high] = [Infinity, -Infinity];
  for (let i = 1; i < rings[0].length; i += 2) {
    low = Math.min(low, rings[0][i]);
    high = Math.max(high, rings[0][i]);
  }
  // The first and the last line lie half a step inside.
  const count = Math.max(1, Math.ceil((high - low) / step));
  const apart = (high - low) / count;
  const crossings: number[][] = Array.from({ length: count }, () => []);
  for (const uv of rings)
    for (let i = 0, j = uv.length - 2; i < uv.length; j = i, i += 2) {
      const [v0, v1] = [uv[j + 1], uv[i + 1]];
      if (v0 === v1) continue;
      const first = Math.max(0, Math.ceil((Math.min(v0, v1) - low) / apart - 0.5));
      for (let k = first; k < count; k++) {
        const v = low + (k + 0.5) * apart;
        // The upper end of an edge is no part of it: a corner is crossed once or not at all.
        if (v >= Math.max(v0, v1)) break;
        if (v >= Math.min(v0, v1)) crossings[k].push(uv[j] + ((v - v0) / (v1 - v0)) * (uv[i] - uv[j]));
      }
    }
  const back = (u: number, v: number): Point => [cos * u - sin * v, sin * u + cos * v];
  return crossings.flatMap((us, k) => {
    us.sort((p, q) => p - q);
    const v = low + (k + 0.5) * apart;
    return Array.from({ length: us.length >> 1 }, (_, n) => ({ from: back(us[2 * n], v), to: back(us[2 * n + 1], v) })).filter(
      ({ from, to }) => Math.hypot(to[0] - from[0], to[1] - from[1]) > 1e-6,
    );
  });
}

function joinedRows(region: Region, rows: readonly { from: Point; to: Point }[], step: number): number[][] {
  const lines: number[][] = [];
  const used = new Uint8Array(rows.length);
  for (let i = 0; i < rows.length; i++) {
    if (used[i]) continue;
    used[i] = 1;
    const xy = [...rows[i].from, ...rows[i].to];
    let ahead = true;
    for (let end = rows[i].to; ;) {
      const next = rows.findIndex((row, j) => {
        if (used[j]) return false;
        const [px, py] = ahead ? row.to : row.from;
        return Math.abs(px - end[0]) + Math.abs(py - end[1]) < 4.2 * step && Math.hypot(px - end[0], py - end[1]) < 3 * step && isFree([region], end, [px, py]);
      });
      if (next < 0) break;
      used[next] = 1;
      ahead = !ahead;
      const [enter, leave] = ahead ? [rows[next].from, rows[next].to] : [rows[next].to, rows[next].from];
      xy.push(...enter, ...leave);
      end = leave;
    }
    lines.push(xy);
  }
  return lines;
}

/** Does the straight way between two points stay in an area? A micrometre of it may not. */
export function isFree(area: readonly Region[], [ax, ay]: Point, [bx, by]: Point): boolean {
  const [dx, dy] = [bx - ax, by - ay];
  const length = Math.hypot(dx, dy);
  if (length < 1e-6) return true;
  const cuts = [0, 1];
  for (const region of area)
    for (const { xy } of contoursOf(region))
      for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
        const [ex, ey] = [xy[i] - xy[j], xy[i + 1] - xy[j + 1]];
        const cross = dx * ey - dy * ex;
        if (Math.abs(cross) < 1e-15) continue;
        const t = ((xy[j] - ax) * ey - (xy[j + 1] - ay) * ex) / cross;
        const s = ((xy[j] - ax) * dy - (xy[j + 1] - ay) * dx) / cross;
        if (t > 0 && t < 1 && s >= -1e-9 && s <= 1 + 1e-9) cuts.push(t);
      }
  cuts.sort((p, q) => p - q);
  let outside = 0;
  for (let k = 1; k < cuts.length; k++) {
    const middle = (cuts[k - 1] + cuts[k]) / 2;
    const part = (cuts[k] - cuts[k - 1]) * length;
    if (part > 1e-9 && !area.some((region) => insideRegion(region, ax + middle * dx, ay + middle * dy))) outside += part;
  }
  return outside < 1e-3;
}
