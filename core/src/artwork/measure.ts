/** Measures of what is drawn: distance and angle between points, radius of an edge, area, and how large a bit fits. */
import { distanceToEdges, emptyBox, growBox, insideContour, perimeter, signedArea } from '../geometry/index.ts';

export interface Span {
  distance: number;
  dx: number;
  dy: number;
  /** Degrees counter-clockwise from X. */
  angle: number;
}

/** From one point to another, mm. Example: (0, 0) to (3, 4) is 5 at 53.13 degrees. */
export const spanOf = ([ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]): Span => ({
  distance: Math.hypot(bx - ax, by - ay),
  dx: bx - ax,
  dy: by - ay,
  angle: (Math.atan2(by - ay, bx - ax) * 180) / Math.PI,
});

/** Area inside outlines and holes (mm²; holes count off), length of all edges, width and height (mm). */
export function sizeOf(contours: readonly ArrayLike<number>[]): { area: number; edge: number; width: number; height: number } {
  const box = emptyBox();
  let area = 0;
  let edge = 0;
  for (const xy of contours) {
    growBox(box, xy);
    // Outlines run counter-clockwise and holes clockwise, so that signed areas add up.
    area += signedArea(xy);
    edge += perimeter(xy);
  }
  const drawn = box.minX <= box.maxX;
  return { area, edge, width: drawn ? box.maxX - box.minX : 0, height: drawn ? box.maxY - box.minY : 0 };
}

/** A turn above this at a vertex is a corner, radians: flattened arcs turn far less. */
const CORNER = 0.5;

/**
 * Radius of an edge at the vertex nearest to a point: the circle through it and the vertices on
 * either side (R = abc / 4F). Infinite on a straight run.
 */
export function radiusNear(contours: readonly ArrayLike<number>[], x: number, y: number, closed = true): number {
  let best = Infinity;
  let radius = Infinity;
  for (const xy of contours) {
    const n = xy.length / 2;
    for (let i = closed ? 0 : 1; i < (closed ? n : n - 1); i++) {
      const d = (xy[2 * i] - x) ** 2 + (xy[2 * i + 1] - y) ** 2;
      if (d >= best) continue;
      best = d;
      const [p, q] = [(i + n - 1) % n, (i + 1) % n];
      const [ax, ay, bx, by] = [xy[2 * i] - xy[2 * p], xy[2 * i + 1] - xy[2 * p + 1], xy[2 * q] - xy[2 * i], xy[2 * q + 1] - xy[2 * i + 1]];
      const cross = Math.abs(ax * by - ay * bx);
      const turn = Math.atan2(cross, ax * bx + ay * by);
      // A straight run has no radius, and a corner is no arc.
      radius = turn < 1e-6 || turn > CORNER ? Infinity : (Math.hypot(ax, ay) * Math.hypot(bx, by) * Math.hypot(ax + bx, ay + by)) / (2 * cross);
    }
  }
  return radius;
}

/** Distance from a point inside the outlines to the nearest edge - the largest bit's radius that fits there, mm; 0 outside. */
export function roomAt(contours: readonly Float64Array[], x: number, y: number): number {
  let inside = false;
  for (const xy of contours) if (insideContour(xy, x, y)) inside = !inside;
  if (!inside) return 0;
  return distanceToEdges(
    contours.map((xy) => ({ outer: { xy, smooth: EMPTY }, holes: [] })),
    x,
    y,
  );
}

const EMPTY = new Uint8Array();
