/** SVG path data to contours, with curves flattened and arcs taken as arcs. */
import svgpath from 'svgpath';
import { Pen, type Contour } from '../geometry/index.ts';

/** Draws path data (as it stands, no turning of Y). `why` says what stopped it, if anything did. */
export function drawPath(d: string, tolerance: number): { contours: Contour[]; why: string | null } {
  const path = svgpath(d) as ReturnType<typeof svgpath> & { err?: string };
  if (path.err) return { contours: [], why: path.err.replace(/^SvgPath: /, '') };
  const pen = new Pen(tolerance);
  path
    .abs()
    .unshort()
    .iterate((segment, _index, x, y) => {
      const a = segment.slice(1) as number[];
      switch (segment[0]) {
        case 'M':
          pen.moveTo(a[0], a[1]);
          break;
        case 'L':
          pen.lineTo(a[0], a[1]);
          break;
        case 'H':
          pen.lineTo(a[0], y);
          break;
        case 'V':
          pen.lineTo(x, a[0]);
          break;
        case 'C':
          pen.cubicTo(a[0], a[1], a[2], a[3], a[4], a[5]);
          break;
        case 'Q':
          pen.quadTo(a[0], a[1], a[2], a[3]);
          break;
        case 'A':
          pen.arcTo(a[0], a[1], a[2], a[3] === 1, a[4] === 1, a[5], a[6]);
          break;
        case 'Z':
        case 'z':
          pen.close();
          break;
      }
    });
  pen.close();
  return { contours: pen.contours, why: null };
}
