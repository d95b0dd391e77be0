/** Plain closed shapes as contours, counter-clockwise. */
import { contourOf, type Contour } from './contour.ts';
import { Pen } from './pen.ts';

/** Rectangle from its lower-left corner; `radius` rounds the corners. */
export function rectangle(x: number, y: number, width: number, height: number, radius = 0, tolerance = 0.005): Contour {
  const r = Math.min(radius, width / 2, height / 2);
  if (r <= 0) return contourOf([x, y, x + width, y, x + width, y + height, x, y + height]);
  const pen = new Pen(tolerance);
  pen.moveTo(x + r, y);
  pen.lineTo(x + width - r, y);
  pen.arcTo(r, r, 0, false, true, x + width, y + r);
  pen.lineTo(x + width, y + height - r);
  pen.arcTo(r, r, 0, false, true, x + width - r, y + height);
  pen.lineTo(x + r, y + height);
  pen.arcTo(r, r, 0, false, true, x, y + height - r);
  pen.lineTo(x, y + r);
  pen.arcTo(r, r, 0, false, true, x + r, y);
  pen.close();
  return pen.contours[0];
}

export function circle(cx: number, cy: number, radius: number, tolerance = 0.005): Contour {
  const pen = new Pen(tolerance);
  pen.ellipse(cx, cy, radius, radius);
  return pen.contours[0];
}

export function regularPolygon(cx: number, cy: number, radius: number, sides: number, turn = 0): Contour {
  const points: number[] = [];
  for (let i = 0; i < sides; i++) {
    const a = turn + (2 * Math.PI * i) / sides;
    points.push(cx + radius * Math.cos(a), cy + radius * Math.sin(a));
  }
  return contourOf(points);
}
