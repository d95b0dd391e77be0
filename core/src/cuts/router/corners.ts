/**
 * Relief of inside corners: a round bit leaves its radius in every inside corner, so a square part
 * does not go in. The bit runs on from the corner of its own line until its edge touches the drawn
 * corner - along the middle of the angle (dog-bone), or along the longer wall (T-bone). With R the
 * bit's radius and θ the angle between the walls, its line turns R/sin(θ/2) from the corner; the way
 * on is R/sin(θ/2) - R along the middle, R/tan(θ/2) along a wall. (Derived.)
 */
import { contoursOf, signedArea, type Contour, type Region } from '../../geometry/index.ts';

/** Angles nearer to straight than this need no relief. */
const BLUNT = (150 * Math.PI) / 180;

interface Relief {
  /** Where the bit's line turns, and how far it runs on from there. */
  at: [number, number];
  on: [number, number];
}

/** @param inward true when the bit runs inside the outlines */
function reliefsOf({ xy, smooth }: Contour, r: number, inward: boolean, how: 'dogbone' | 'tbone'): Relief[] {
  const out: Relief[] = [];
  const n = xy.length / 2;
  const counter = signedArea(xy) > 0;
  for (let i = 0; i < n; i++) {
    if (smooth[i]) continue;
    const [p, q] = [(i + n - 1) % n, (i + 1) % n];
    const [x, y] = [xy[2 * i], xy[2 * i + 1]];
    const a = [xy[2 * p] - x, xy[2 * p + 1] - y];
    const b = [xy[2 * q] - x, xy[2 * q + 1] - y];
    const [la, lb] = [Math.hypot(a[0], a[1]), Math.hypot(b[0], b[1])];
    if (la < 1e-9 || lb < 1e-9) continue;
    // Turning left along a counter-clockwise outline is a convex corner: inside for a bit that runs inside.
    const left = a[0] * b[1] - a[1] * b[0] < 0;
    if ((left === counter) !== inward) continue;
    const angle = Math.acos(Math.max(-1, Math.min(1, (a[0] * b[0] + a[1] * b[1]) / (la * lb))));
    if (angle > BLUNT || angle < 0.05) continue;
    const [ux, uy] = [a[0] / la + b[0] / lb, a[1] / la + b[1] / lb];
    const u = Math.hypot(ux, uy);
    const far = r / Math.sin(angle / 2);
    const at: [number, number] = [x + (ux / u) * far, y + (uy / u) * far];
    const wall = la > lb ? [a[0] / la, a[1] / la] : [b[0] / lb, b[1] / lb];
    const on: [number, number] =
      how === 'dogbone' ? [x + (ux / u) * r, y + (uy / u) * r] : [at[0] - (wall[0] * r) / Math.tan(angle / 2), at[1] - (wall[1] * r) / Math.tan(angle / 2)];
    out.push({ at, on });
  }
  return out;
}

/** A bit's line with relief of the inside corners of what was drawn. Corners whose line does not turn where it should are left round. */
export function relieved(lines: readonly Float64Array[], drawn: readonly Region[], r: number, inward: boolean, how: 'dogbone' | 'tbone'): Float64Array[] {
  const reliefs = drawn.flatMap((region) => contoursOf(region).flatMap((contour, k) => reliefsOf(contour, r, k === 0 ? inward : !inward, how)));
  return lines.map((xy) => {
    const out: number[] = [];
    for (let i = 0; i < xy.length; i += 2) {
      out.push(xy[i], xy[i + 1]);
      const here = reliefs.find(({ at }) => Math.hypot(at[0] - xy[i], at[1] - xy[i + 1]) < 0.02);
      if (here) out.push(...here.on, xy[i], xy[i + 1]);
    }
    return Float64Array.from(out);
  });
}
