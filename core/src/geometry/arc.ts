/** An elliptical arc between two points, by its middle. Angles in radians. */
export interface ArcByMiddle {
  cx: number;
  cy: number;
  rx: number;
  ry: number;
  /** Turn of the ellipse's first axis. */
  phi: number;
  /** Parameter at the start, and how far it goes from there: positive towards the second axis. */
  start: number;
  turn: number;
}

/**
 * The middle of an arc given by its ends, radii and flags, as in a path's A command. Centre as in
 * W3C SVG 1.1 appendix F.6.5, radii enlarged as in F.6.6 when they cannot span the ends. Null when
 * it is no arc: a radius of zero, or ends that coincide.
 */
export function arcByMiddle(
  x0: number,
  y0: number,
  rx: number,
  ry: number,
  phi: number,
  large: boolean,
  sweep: boolean,
  x: number,
  y: number,
): ArcByMiddle | null {
  rx = Math.abs(rx);
  ry = Math.abs(ry);
  if (rx < 1e-12 || ry < 1e-12 || (x === x0 && y === y0)) return null;
  const cos = Math.cos(phi);
  const sin = Math.sin(phi);
  const hx = (x0 - x) / 2;
  const hy = (y0 - y) / 2;
  const px = cos * hx + sin * hy;
  const py = -sin * hx + cos * hy;
  const grow = (px * px) / (rx * rx) + (py * py) / (ry * ry);
  if (grow > 1) {
    rx *= Math.sqrt(grow);
    ry *= Math.sqrt(grow);
  }
  const root = Math.max(0, (rx * rx * ry * ry - rx * rx * py * py - ry * ry * px * px) / (rx * rx * py * py + ry * ry * px * px));
  const factor = (large === sweep ? -1 : 1) * Math.sqrt(root);
  const qx = (factor * rx * py) / ry;
  const qy = (-factor * ry * px) / rx;
  const start = Math.atan2((py - qy) / ry, (px - qx) / rx);
  let turn = Math.atan2((-py - qy) / ry, (-px - qx) / rx) - start;
  if (sweep && turn < 0) turn += 2 * Math.PI;
  if (!sweep && turn > 0) turn -= 2 * Math.PI;
  return { cx: cos * qx - sin * qy + (x0 + x) / 2, cy: sin * qx + cos * qy + (y0 + y) / 2, rx, ry, phi, start, turn };
}
