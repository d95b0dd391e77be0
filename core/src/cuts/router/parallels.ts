/** Parallel lines that cover an area. */
import { contoursOf, type Region } from '../../geometry/index.ts';
import { isFree } from '../within.ts';

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

interface Row {
  from: Point;
  to: Point;
  /** Which of the parallel lines it is part of. */
  line: number;
}

/** The parts of every line that lie inside, each from its left end to its right, row by row. */
function rowsOf(region: Region, step: number, angle: number): Row[] {
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
    return Array.from({ length: us.length >> 1 }, (_, n) => ({ from: back(us[2 * n], v), to: back(us[2 * n + 1], v), line: k })).filter(
      ({ from, to }) => Math.hypot(to[0] - from[0], to[1] - from[1]) > 1e-6,
    );
  });
}

/** The next row lies no farther than this many steps from the end of the last: nor does its line. */
const REACH = 3;

function joinedRows(region: Region, rows: readonly Row[], step: number): number[][] {
  const lines: number[][] = [];
  const used = new Uint8Array(rows.length);
  /** Index of the first row of every line. */
  const first: number[] = [];
  rows.forEach(({ line }, i) => {
    while (first.length <= line) first.push(i);
  });
  for (let i = 0; i < rows.length; i++) {
    if (used[i]) continue;
    used[i] = 1;
    const xy = [...rows[i].from, ...rows[i].to];
    let ahead = true;
    let { to: end, line } = rows[i];
    for (;;) {
      // Lines may lie closer together than a step, by half at most.
      const to = first[line + 2 * REACH + 1] ?? rows.length;
      let next = first[Math.max(0, line - 2 * REACH)];
      for (; next < to; next++) {
        if (used[next]) continue;
        const at = ahead ? rows[next].to : rows[next].from;
        if (Math.hypot(at[0] - end[0], at[1] - end[1]) < REACH * step && isFree([region], end, at)) break;
      }
      if (next >= to) break;
      used[next] = 1;
      ahead = !ahead;
      const [enter, leave] = ahead ? [rows[next].from, rows[next].to] : [rows[next].to, rows[next].from];
      xy.push(...enter, ...leave);
      end = leave;
      line = rows[next].line;
    }
    lines.push(xy);
  }
  return lines;
}
