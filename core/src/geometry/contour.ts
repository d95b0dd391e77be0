/**
 * A closed outline, flattened to straight edges. Vertex i is (xy[2i], xy[2i+1]); the last
 * vertex joins the first. `smooth[i]` is 1 where the vertex only approximates a curve, 0
 * where the drawing has a real corner: a V-carve must reach the corners and may round the
 * others within tolerance.
 */
export interface Contour {
  xy: Float64Array;
  smooth: Uint8Array;
}

/** An open line, flattened: the same arrays, but the last vertex does not join the first. */
export type Line = Contour;

/** Line work: a flattened line that is open, or closed without enclosing anything. */
export interface DrawnLine {
  line: Line;
  closed: boolean;
}

/** A piece of artwork with its holes. Outer is counter-clockwise, holes are clockwise. */
export interface Region {
  outer: Contour;
  holes: Contour[];
}

export interface Box {
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
}

/** Joints that turn less than this (radians, about 7 degrees) count as smooth when nothing better is known. */
export const SMOOTH_TURN = 0.12;

export const emptyBox = (): Box => ({ minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity });

export function growBox(box: Box, xy: ArrayLike<number>): Box {
  for (let i = 0; i + 1 < xy.length; i += 2) {
    if (xy[i] < box.minX) box.minX = xy[i];
    if (xy[i] > box.maxX) box.maxX = xy[i];
    if (xy[i + 1] < box.minY) box.minY = xy[i + 1];
    if (xy[i + 1] > box.maxY) box.maxY = xy[i + 1];
  }
  return box;
}

/** Box of regions; an empty list gives an inverted (infinite) box. */
export function regionsBox(regions: readonly Region[]): Box {
  const box = emptyBox();
  for (const region of regions) growBox(box, region.outer.xy);
  return box;
}

/** Signed area, mm²: positive when counter-clockwise (shoelace formula). */
export function signedArea(xy: ArrayLike<number>): number {
  let twice = 0;
  const n = xy.length;
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) twice += xy[j] * xy[i + 1] - xy[i] * xy[j + 1];
  return twice / 2;
}

export const regionArea = (region: Region): number => signedArea(region.outer.xy) + region.holes.reduce((sum, hole) => sum + signedArea(hole.xy), 0);

export function perimeter(xy: ArrayLike<number>): number {
  let sum = 0;
  const n = xy.length;
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) sum += Math.hypot(xy[i] - xy[j], xy[i + 1] - xy[j + 1]);
  return sum;
}

export function reversed(contour: Contour): Contour {
  const n = contour.smooth.length;
  const xy = new Float64Array(2 * n);
  const smooth = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    xy[2 * i] = contour.xy[2 * (n - 1 - i)];
    xy[2 * i + 1] = contour.xy[2 * (n - 1 - i) + 1];
    smooth[i] = contour.smooth[n - 1 - i];
  }
  return { xy, smooth };
}

/** A contour from bare points, judging corners by how sharply they turn. */
export function contourOf(points: ArrayLike<number>): Contour {
  const xy = Float64Array.from(points);
  return { xy, smooth: smoothByTurn(xy) };
}

/** 1 for every vertex that turns less than {@link SMOOTH_TURN}. */
export function smoothByTurn(xy: Float64Array): Uint8Array {
  const n = xy.length / 2;
  const smooth = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const p = 2 * ((i + n - 1) % n);
    const q = 2 * ((i + 1) % n);
    const ax = xy[2 * i] - xy[p];
    const ay = xy[2 * i + 1] - xy[p + 1];
    const bx = xy[q] - xy[2 * i];
    const by = xy[q + 1] - xy[2 * i + 1];
    if (Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by)) < SMOOTH_TURN) smooth[i] = 1;
  }
  return smooth;
}

/** All contours of a region, outer first. */
export const contoursOf = (region: Region): Contour[] => [region.outer, ...region.holes];

/** Is the point inside the closed polygon (even-odd)? Points on an edge may go either way. */
export function insideContour(xy: ArrayLike<number>, x: number, y: number): boolean {
  let inside = false;
  const n = xy.length;
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
    const yi = xy[i + 1];
    const yj = xy[j + 1];
    if (yi > y !== yj > y && x < ((xy[j] - xy[i]) * (y - yi)) / (yj - yi) + xy[i]) inside = !inside;
  }
  return inside;
}

export const insideRegion = (region: Region, x: number, y: number): boolean =>
  insideContour(region.outer.xy, x, y) && !region.holes.some((hole) => insideContour(hole.xy, x, y));

/** Distance from a point to the nearest edge of the regions, mm, by looking at every edge. */
export function distanceToEdges(regions: readonly Region[], x: number, y: number): number {
  let best = Infinity;
  for (const region of regions)
    for (const { xy } of contoursOf(region)) {
      const n = xy.length;
      for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
        const dx = xy[i] - xy[j];
        const dy = xy[i + 1] - xy[j + 1];
        const square = dx * dx + dy * dy;
        const s = square > 0 ? Math.min(1, Math.max(0, ((x - xy[j]) * dx + (y - xy[j + 1]) * dy) / square)) : 0;
        best = Math.min(best, Math.hypot(x - xy[j] - s * dx, y - xy[j + 1] - s * dy));
      }
    }
  return best;
}

export function mapContour(contour: Contour, map: (x: number, y: number) => [number, number]): Contour {
  const xy = new Float64Array(contour.xy.length);
  for (let i = 0; i < xy.length; i += 2) {
    const [x, y] = map(contour.xy[i], contour.xy[i + 1]);
    xy[i] = x;
    xy[i + 1] = y;
  }
  return { xy, smooth: contour.smooth };
}

export const mapRegion = (region: Region, map: (x: number, y: number) => [number, number]): Region => ({
  outer: mapContour(region.outer, map),
  holes: region.holes.map((hole) => mapContour(hole, map)),
});

/** Index of the longest edge of a closed line: a pass is best begun in its middle, where the entry shows least. */
export function longestEdge(xy: ArrayLike<number>): number {
  const n = xy.length / 2;
  let best = 0;
  let longest = -1;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const length = Math.hypot(xy[2 * j] - xy[2 * i], xy[2 * j + 1] - xy[2 * i + 1]);
    if (length > longest + 1e-9) [best, longest] = [i, length];
  }
  return best;
}

/** The points of a line the other way round. */
export function backwards(xy: ArrayLike<number>): Float64Array {
  const out = new Float64Array(xy.length);
  for (let i = 0; i < xy.length; i += 2) {
    out[i] = xy[xy.length - 2 - i];
    out[i + 1] = xy[xy.length - 1 - i];
  }
  return out;
}

/** The point of a closed line nearest to another: how far, and how far along in edges. */
export function nearestOn(xy: ArrayLike<number>, x: number, y: number): { distance: number; at: number } {
  let best = Infinity;
  let at = 0;
  const n = xy.length / 2;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const [ax, ay] = [xy[2 * i], xy[2 * i + 1]];
    const [dx, dy] = [xy[2 * j] - ax, xy[2 * j + 1] - ay];
    const length = dx * dx + dy * dy;
    const f = length > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / length)) : 0;
    const d = (ax + f * dx - x) ** 2 + (ay + f * dy - y) ** 2;
    if (d < best) {
      best = d;
      at = i + f;
    }
  }
  return { distance: Math.sqrt(best), at };
}

/** A closed line begun at a place on it, counted in edges. */
export function begunAt(xy: ArrayLike<number>, at: number): Float64Array {
  const n = xy.length / 2;
  const i = Math.floor(at) % n;
  const f = at - Math.floor(at);
  const j = (i + 1) % n;
  const out: number[] = f > 0 ? [xy[2 * i] + f * (xy[2 * j] - xy[2 * i]), xy[2 * i + 1] + f * (xy[2 * j + 1] - xy[2 * i + 1])] : [];
  for (let k = f > 0 ? 1 : 0; k < n + (f > 0 ? 1 : 0); k++) {
    const m = (i + k) % n;
    out.push(xy[2 * m], xy[2 * m + 1]);
  }
  return Float64Array.from(out);
}

/** A closed line begun in the middle of its longest edge: entry marks show least there. */
export const begunOnStraight = (xy: ArrayLike<number>): Float64Array => begunAt(xy, longestEdge(xy) + 0.5);
