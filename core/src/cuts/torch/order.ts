/**
 * In what order contours are cut: what lies inside another comes before it, for cut free it would move; else the
 * nearest next - or, in thin plate, one away from where it is hot. (Common practice.)
 */
import RBush from 'rbush';
import { insideContour, signedArea, type Box, type ClosedLine } from '../../geometry/index.ts';

type Point = readonly [number, number];

/** How far from the last few pierces the next is looked for while heat is spread, mm, and how many they are. */
const APART = 80;
const HOT = 3;

/** Places in an order that lie within reach of one of the last few before them: where heat piles up. */
export const crowded = <P extends Point>(places: readonly P[]): P[] =>
  places.filter(([x, y], k) => places.slice(Math.max(0, k - HOT), k).some(([hx, hy]) => (x - hx) ** 2 + (y - hy) ** 2 < APART * APART));

/** @returns indices in cutting order */
export function cuttingOrder(contours: readonly { at: Point; ring: ClosedLine }[], spread: boolean): number[] {
  const n = contours.length;
  const boxes = contours.map(({ ring: { xy } }, k) => {
    let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < xy.length; i += 2) {
      [minX, maxX] = [Math.min(minX, xy[i]), Math.max(maxX, xy[i])];
      [minY, maxY] = [Math.min(minY, xy[i + 1]), Math.max(maxY, xy[i + 1])];
    }
    return { minX, minY, maxX, maxY, k, area: Math.abs(signedArea(xy)) };
  });
  const tree = new RBush<Box & { k: number; area: number }>();
  tree.load(boxes);
  // How many of those inside it are still to be cut, and which it lies in.
  const waits = new Int32Array(n);
  const within: number[][] = contours.map(() => []);
  for (const inner of boxes) {
    const [x, y] = [contours[inner.k].ring.xy[0], contours[inner.k].ring.xy[1]];
    for (const outer of tree.search({ minX: x, minY: y, maxX: x, maxY: y })) {
      if (outer.k === inner.k || outer.area <= inner.area || !insideContour(contours[outer.k].ring.xy, x, y)) continue;
      within[inner.k].push(outer.k);
      waits[outer.k]++;
    }
  }
  const done = new Uint8Array(n);
  const order: number[] = [];
  let here: Point = [0, 0];
  while (order.length < n) {
    const hot = spread ? order.slice(-HOT).map((k) => contours[k].at) : [];
    let [best, nearest, cool] = [-1, Infinity, false];
    for (let k = 0; k < n; k++) {
      if (done[k] || waits[k] > 0) continue;
      const [x, y] = contours[k].at;
      const away = (x - here[0]) ** 2 + (y - here[1]) ** 2;
      if (cool && away >= nearest) continue;
      const isCool = hot.every(([hx, hy]) => (x - hx) ** 2 + (y - hy) ** 2 >= APART * APART);
      if ((isCool && !cool) || (isCool === cool && away < nearest)) [best, nearest, cool] = [k, away, isCool];
    }
    done[best] = 1;
    for (const outer of within[best]) waits[outer]--;
    order.push(best);
    here = contours[best].at;
  }
  return order;
}
