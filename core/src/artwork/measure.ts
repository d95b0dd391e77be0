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

/** Edges on either side of a vertex of an arc are about as long; where a straight line begins they are not. */
const ALIKE = 3;

/**
 * Radius of the arc at a point: the circle through the nearest vertex and those on either side of
 * it (R = abc / 4F). Infinite where no vertex is near, on straight runs and at corners.
 *
 * @param reach how near a vertex must be, mm
 */
export function radiusNear(contours: readonly ArrayLike<number>[], x: number, y: number, reach: number): number {
  let best = reach * reach;
  let radius = Infinity;
  for (const xy of contours) {
    const n = xy.length / 2;
    for (let i = 0; i < n; i++) {
      const d = (xy[2 * i] - x) ** 2 + (xy[2 * i + 1] - y) ** 2;
      if (d >= best) continue;
      const [p, q] = [(i + n - 1) % n, (i + 1) % n];
      const [ax, ay, bx, by] = [xy[2 * i] - xy[2 * p], xy[2 * i + 1] - xy[2 * p + 1], xy[2 * q] - xy[2 * i], xy[2 * q + 1] - xy[2 * i + 1]];
      const [a, b, c] = [Math.hypot(ax, ay), Math.hypot(bx, by), Math.hypot(ax + bx, ay + by)];
      if (a > ALIKE * b || b > ALIKE * a) continue;
      best = d;
      const cross = Math.abs(ax * by - ay * bx);
      const turn = Math.atan2(cross, ax * bx + ay * by);
      // A straight run has no radius, and a corner is no arc.
      radius = turn < 1e-6 || turn > CORNER ? Infinity : (a * b * c) / (2 * cross);
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
