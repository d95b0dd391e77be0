/** How much of a straight way lies in an area. */
import { contoursOf, insideRegion, regionsBox, type Box, type Region } from '../geometry/index.ts';

type Point = readonly [number, number];

/** Does the straight way between two points stay in an area? A micrometre of it may not. */
export const isFree = (area: readonly Region[], a: Point, b: Point): boolean => {
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  return length < 1e-6 || length - insideLength(area, a, b) < 1e-3;
};

/** Boxes of regions, worked out once. */
const boxes = new WeakMap<Region, Box>();
function boxOf(region: Region): Box {
  const known = boxes.get(region) ?? regionsBox([region]);
  boxes.set(region, known);
  return known;
}

/** How much of the straight way between two points lies in an area, mm. */
export function insideLength(area: readonly Region[], [ax, ay]: Point, [bx, by]: Point): number {
  const [dx, dy] = [bx - ax, by - ay];
  const length = Math.hypot(dx, dy);
  const [left, right, bottom, top] = [Math.min(ax, bx) - 1e-6, Math.max(ax, bx) + 1e-6, Math.min(ay, by) - 1e-6, Math.max(ay, by) + 1e-6];
  const near = area.filter((region) => {
    const box = boxOf(region);
    return box.minX <= right && box.maxX >= left && box.minY <= top && box.maxY >= bottom;
  });
  const cuts = [0, 1];
  for (const region of near)
    for (const { xy } of contoursOf(region))
      for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
        if (Math.min(xy[i], xy[j]) > right || Math.max(xy[i], xy[j]) < left || Math.min(xy[i + 1], xy[j + 1]) > top || Math.max(xy[i + 1], xy[j + 1]) < bottom)
          continue;
        const [ex, ey] = [xy[i] - xy[j], xy[i + 1] - xy[j + 1]];
        const cross = dx * ey - dy * ex;
        if (Math.abs(cross) < 1e-15) continue;
        const t = ((xy[j] - ax) * ey - (xy[j + 1] - ay) * ex) / cross;
        const s = ((xy[j] - ax) * dy - (xy[j + 1] - ay) * dx) / cross;
        if (t > 0 && t < 1 && s >= -1e-9 && s <= 1 + 1e-9) cuts.push(t);
      }
  cuts.sort((p, q) => p - q);
  let inside = 0;
  for (let k = 1; k < cuts.length; k++) {
    const middle = (cuts[k - 1] + cuts[k]) / 2;
    const part = (cuts[k] - cuts[k - 1]) * length;
    if (part > 1e-9 && near.some((region) => insideRegion(region, ax + middle * dx, ay + middle * dy))) inside += part;
  }
  return inside;
}
