/** What a rule, a depth gauge and a bevel would read off the carved board, and sections along any line. */
import type { HeightMap } from './heightmap.ts';

export interface Measured {
  /** Below the top, mm. */
  depth: number;
  /** Across the groove at the surface through this place, where it is narrowest, mm, and its two ends; nothing outside a groove. */
  width?: number;
  from?: [number, number];
  to?: [number, number];
  /** Of the surface from level, degrees: 0 on a floor, 90 on an upright wall. */
  slope: number;
}

type Heights = Pick<HeightMap, 'columns' | 'rows' | 'cell' | 'height'>;

/** Less deep than this is not carved, mm. */
const CARVED = 1e-3;
/** Directions tried for the narrowest width. */
const WAYS = 36;

/** Height at a point between cell centres, mm (bilinear); the edge's own beyond it. */
export function heightBetween({ columns, rows, cell, height }: Heights, x: number, y: number): number {
  const u = Math.min(columns - 1, Math.max(0, x / cell - 0.5));
  const v = Math.min(rows - 1, Math.max(0, y / cell - 0.5));
  const [i, j] = [Math.floor(u), Math.floor(v)];
  const [i1, j1] = [Math.min(columns - 1, i + 1), Math.min(rows - 1, j + 1)];
  const [a, b] = [u - i, v - j];
  return (
    (1 - b) * ((1 - a) * height[j * columns + i] + a * height[j * columns + i1]) + b * ((1 - a) * height[j1 * columns + i] + a * height[j1 * columns + i1])
  );
}

/** Measures the board at a point. Depths are good to the height of one cell's slope, widths to a cell. */
export function measureAt(map: Heights, x: number, y: number): Measured {
  const { cell } = map;
  const depth = Math.max(0, -heightBetween(map, x, y));
  const step = 2 * cell;
  const dx = (heightBetween(map, x + step, y) - heightBetween(map, x - step, y)) / (2 * step);
  const dy = (heightBetween(map, x, y + step) - heightBetween(map, x, y - step)) / (2 * step);
  const slope = (Math.atan(Math.hypot(dx, dy)) * 180) / Math.PI;
  if (depth <= CARVED) return { depth: 0, slope };
  let best: Measured = { depth, slope };
  for (let k = 0; k < WAYS; k++) {
    const a = (Math.PI * k) / WAYS;
    const [ux, uy] = [Math.cos(a), Math.sin(a)];
    const on = reach(map, x, y, ux, uy, best.width ?? Infinity);
    if (on === null) continue;
    const back = reach(map, x, y, -ux, -uy, (best.width ?? Infinity) - on);
    if (back === null) continue;
    best = { depth, slope, width: on + back, from: [x - back * ux, y - back * uy], to: [x + on * ux, y + on * uy] };
  }
  return best;
}

/** How far the carving goes in a direction, mm; nothing when it leaves the board or goes farther than `most`. */
function reach(map: Heights, x: number, y: number, ux: number, uy: number, most: number): number | null {
  const step = map.cell / 2;
  const [width, height] = [map.columns * map.cell, map.rows * map.cell];
  let before = heightBetween(map, x, y);
  for (let s = step; s < most; s += step) {
    const [px, py] = [x + s * ux, y + s * uy];
    if (px < 0 || py < 0 || px > width || py > height) return null;
    const now = heightBetween(map, px, py);
    // The surface is met where the wall, followed on as steep as it was, comes out of the wood.
    if (now >= -CARVED) return s - step * (now > before ? Math.max(0, (now + CARVED) / (now - before)) : 0);
    before = now;
  }
  return null;
}

/**
 * The surface along a line, from one point to another: distance along it and height, pairs in a flat
 * array, one for every half cell.
 */
export function sectionAlong(map: Heights, [ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]): Float32Array {
  const length = Math.hypot(bx - ax, by - ay);
  const n = Math.max(2, Math.ceil(length / (map.cell / 2)) + 1);
  const out = new Float32Array(2 * n);
  for (let k = 0; k < n; k++) {
    const f = k / (n - 1);
    out[2 * k] = f * length;
    out[2 * k + 1] = heightAtCell(map, ax + f * (bx - ax), ay + f * (by - ay));
  }
  return out;
}

/** Height of the cell under a point: walls stay upright in a section. */
function heightAtCell({ columns, rows, cell, height }: Heights, x: number, y: number): number {
  const i = Math.min(columns - 1, Math.max(0, Math.floor(x / cell)));
  const j = Math.min(rows - 1, Math.max(0, Math.floor(y / cell)));
  return height[j * columns + i];
}
