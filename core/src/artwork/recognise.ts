/**
 * Circles, ellipses, slots and rectangles known again in path data, so that a hole of 36 becomes one of 35 by
 * typing. One test does for all but the ellipse: every point of the outline lies on the edge of a box with
 * round corners (the signed distance of a rounded box, plain geometry) within the tolerance. Sides come from the
 * outline's own box, the radius from its area: what a corner of radius r leaves out is (1 - π/4)·r².
 */
import { emptyBox, growBox, perimeter, signedArea } from '../geometry/index.ts';
import { drawSubpaths, type Segment, type Subpath } from './path.ts';

export type Known =
  | { kind: 'rectangle'; x: number; y: number; angle: number; width: number; height: number; radius: number }
  | { kind: 'slot'; x: number; y: number; angle: number; length: number; width: number }
  | { kind: 'ellipse'; x: number; y: number; angle: number; width: number; height: number };

/** Four cubic curves, as drawing programs write a circle, leave it by so much of its radius. (Derived: 2.73e-4.) */
const CUBIC_CIRCLE = 2.8e-4;
/** More segments than this is no simple shape; looking would cost more than it is worth. */
const MOST_SEGMENTS = 400;

const tidy = (value: number) => Math.round(value * 1e5) / 1e5;
/** The roundest figure within so much of a value: what was drawn as 36 and came as 35.9994 is 36. */
const round = (value: number, within: number): number => {
  for (const step of [1, 0.5, 0.1, 0.05, 0.01, 0.001]) {
    const near = Math.round(value / step) * step;
    if (Math.abs(near - value) <= within) return tidy(near);
  }
  return tidy(value);
};

/** The shape a closed subpath draws, in its own coordinates; null when it is none of them. `tolerance` in the same unit. */
export function recognise(subpath: Subpath, tolerance: number): Known | null {
  const { x, y, segments } = subpath;
  const last = segments.at(-1);
  if (!last || segments.length > MOST_SEGMENTS) return null;
  if (!subpath.closed && Math.hypot(last.x - x, last.y - y) > tolerance) return null;
  const [contour] = drawSubpaths([subpath], tolerance / 50, true).contours;
  if (!contour) return null;
  const points = withMiddles(contour.xy);
  const turn = turnOf(subpath);
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  // In a frame along its longest straight side.
  const flat = points.map((v, i) => (i % 2 === 0 ? v * cos + points[i + 1] * sin : v * cos - points[i - 1] * sin));
  const box = growBox(emptyBox(), flat);
  const [width, height] = [box.maxX - box.minX, box.maxY - box.minY];
  const [mx, my] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
  const side = Math.min(width, height);
  if (side < 4 * tolerance) return null;
  const off = tolerance + (CUBIC_CIRCLE * side) / 2;
  const fine = tolerance / 5;
  const middle = { x: round(mx * cos - my * sin, fine), y: round(mx * sin + my * cos, fine) };
  const [w, h] = [round(width, fine), round(height, fine)];
  const angle = tidy((turn * 180) / Math.PI);
  const area = Math.abs(signedArea(contour.xy));

  const missing = Math.max(0, width * height - area);
  const rounded = Math.min(side / 2, Math.sqrt(missing / (1 - Math.PI / 4) / 4));
  for (const radius of [rounded, side / 2]) {
    if (!onRoundedBox(flat, mx, my, width, height, radius, off)) continue;
    // Once round: what is gone round twice lies on the shape as well.
    if (Math.abs(perimeter(contour.xy) - 2 * (width + height) + (8 - 2 * Math.PI) * radius) > 0.02 * (width + height)) return null;
    if (radius < side / 2 - 2 * off) return { kind: 'rectangle', ...middle, angle, width: w, height: h, radius: radius < 4 * off ? 0 : round(radius, off) };
    if (Math.abs(width - height) <= 2 * off) return { kind: 'ellipse', ...middle, angle: 0, width: Math.min(w, h), height: Math.min(w, h) };
    return width > height
      ? { kind: 'slot', ...middle, angle, length: w, width: h }
      : { kind: 'slot', ...middle, angle: tidy(angle > 0 ? angle - 90 : angle + 90), length: h, width: w };
  }
  // Once round, and no point farther off than the tolerance: by the implicit form over its slope.
  const [a, b] = [width / 2, height / 2];
  if (Math.abs(area - Math.PI * a * b) > 2 * off * (a + b)) return null;
  for (let i = 0; i < flat.length; i += 2) {
    const [u, v] = [(flat[i] - mx) / a, (flat[i + 1] - my) / b];
    const slope = 2 * Math.hypot(u / a, v / b);
    if (Math.abs(u * u + v * v - 1) / Math.max(slope, 1e-12) > off) return null;
  }
  return { kind: 'ellipse', ...middle, angle, width: w, height: h };
}

/** Do all points lie on the edge of that box? */
function onRoundedBox(points: readonly number[], mx: number, my: number, width: number, height: number, radius: number, off: number): boolean {
  for (let i = 0; i < points.length; i += 2) {
    const qx = Math.abs(points[i] - mx) - width / 2 + radius;
    const qy = Math.abs(points[i + 1] - my) - height / 2 + radius;
    const distance = Math.hypot(Math.max(qx, 0), Math.max(qy, 0)) + Math.min(Math.max(qx, qy), 0) - radius;
    if (Math.abs(distance) > off) return false;
  }
  return true;
}

/** Points of a closed outline and what lies between them: a chord is to lie on the shape too. */
function withMiddles(xy: ArrayLike<number>): number[] {
  const out: number[] = [];
  for (let i = 0; i < xy.length; i += 2) {
    const j = (i + 2) % xy.length;
    out.push(xy[i], xy[i + 1]);
    for (const t of [0.25, 0.5, 0.75]) out.push(xy[i] + t * (xy[j] - xy[i]), xy[i + 1] + t * (xy[j + 1] - xy[i + 1]));
  }
  return out;
}

/** How its longest straight side lies, radians, from -π/4 to π/4; an ellipse of arcs lies as they are turned. */
function turnOf({ x, y, closed, segments }: Subpath): number {
  let [longest, turn] = [0, 0];
  let [px, py] = [x, y];
  const sides: Segment[] = closed ? [...segments, { kind: 'line', x, y }] : segments;
  for (const s of sides) {
    const length = Math.hypot(s.x - px, s.y - py);
    if (s.kind === 'line' && length > longest) [longest, turn] = [length, Math.atan2(s.y - py, s.x - px)];
    [px, py] = [s.x, s.y];
  }
  const first = segments.find((s) => s.kind === 'arc');
  if (longest === 0 && first?.kind === 'arc') turn = (first.turn * Math.PI) / 180;
  return turn - (Math.PI / 2) * Math.round(turn / (Math.PI / 2));
}
