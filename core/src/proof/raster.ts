/** Drawings on the grid of a height map: which cells lie inside, and how far from an outline. */
import { contoursOf, regionsBox, type Region } from '../geometry/index.ts';
import { carve } from './carve.ts';
import { HeightMap } from './heightmap.ts';

/** Calls for every run of cells, from and to (exclusive) in the flat map, whose centres lie inside regions. */
export function eachRun(map: HeightMap, regions: readonly Region[], act: (from: number, to: number) => void): void {
  const { cell, columns, rows } = map;
  for (const region of regions) {
    const { minY, maxY } = regionsBox([region]);
    const j0 = Math.max(0, Math.ceil(minY / cell - 0.5));
    const j1 = Math.min(rows - 1, Math.floor(maxY / cell - 0.5));
    if (j1 < j0) continue;
    const crossings: number[][] = Array.from({ length: j1 - j0 + 1 }, () => []);
    for (const { xy } of contoursOf(region))
      for (let i = 0, k = xy.length - 2; i < xy.length; k = i, i += 2) {
        const [ax, ay, bx, by] = [xy[k], xy[k + 1], xy[i], xy[i + 1]];
        // Rows whose middle lies in [low, high): a shared end counts once.
        const from = Math.max(j0, Math.ceil(Math.min(ay, by) / cell - 0.5));
        const to = Math.min(j1, Math.ceil(Math.max(ay, by) / cell - 0.5) - 1);
        for (let j = from; j <= to; j++) crossings[j - j0].push(ax + (((j + 0.5) * cell - ay) / (by - ay)) * (bx - ax));
      }
    for (const [row, xs] of crossings.entries()) {
      xs.sort((a, b) => a - b);
      for (let k = 0; k + 1 < xs.length; k += 2) {
        const from = Math.max(0, Math.ceil(xs[k] / cell - 0.5));
        const to = Math.min(columns, Math.ceil(xs[k + 1] / cell - 0.5));
        if (from < to) act((row + j0) * columns + from, (row + j0) * columns + to);
      }
    }
  }
}

/**
 * Distance of every cell from the nearest outline of regions, mm, up to `most`. It is the lower
 * envelope of cones of slope one that stand along the outlines: just what carving works out.
 */
export function outlineDistance(like: HeightMap, regions: readonly Region[], most: number): HeightMap {
  const map = new HeightMap(like.columns * like.cell, like.rows * like.cell, like.cell);
  const cone = { flat: 0, ball: 0, tangent: 1, outer: most };
  for (const { xy } of regions.flatMap(contoursOf)) {
    const n = xy.length / 2;
    const at = (axis: 0 | 1) => Float64Array.from({ length: n + 1 }, (_, i) => xy[2 * (i % n) + axis]);
    carve(map, { kind: new Uint8Array(n + 1).fill(1), x: at(0), y: at(1), z: new Float64Array(n + 1).fill(-most) }, cone);
  }
  for (let i = 0; i < map.height.length; i++) map.height[i] += most;
  return map;
}
