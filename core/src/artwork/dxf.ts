/**
 * Artwork as DXF: lines and circular arcs as polylines with bulge (tan of a quarter of the arc's
 * angle), elliptical arcs as ELLIPSE, curves as cubic SPLINEs whose knots repeat at every joint,
 * so that every piece is exactly the curve it was.
 */
import Drawing from 'dxf-writer';
import Handle from 'dxf-writer/src/Handle.js';
import { arcByMiddle } from '../geometry/index.ts';
import type { ExportedThing } from './export.ts';
import type { Segment, Subpath } from './path.ts';

/** The package's drawing with what its typings leave out. */
type Sheet = Drawing & {
  drawSpline(points: [number, number][], degree: number, knots: number[], weights: null, fit: []): void;
  drawEllipse(x: number, y: number, majorX: number, majorY: number, ratio: number, start: number, end: number): void;
};

type Sort = 'poly' | 'spline' | 'ellipse';
const sortOf = (s: Segment): Sort => (s.kind === 'curve' ? 'spline' : s.kind === 'arc' && Math.abs(s.rx - s.ry) > 1e-9 * s.rx ? 'ellipse' : 'poly');

/** Names of layers may not hold these. */
const layerName = (text: string) =>
  text
    .replace(/[<>/\\":;?*|=`]/g, '-')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 60) || 'Artwork';

export function writeDxf(things: readonly ExportedThing[]): string {
  // Handles count up over the life of the package; every file begins anew, so that the same job gives the same bytes.
  Handle.seed = 0;
  const drawing = new Drawing() as Sheet;
  drawing.setUnits('Millimeters');
  for (const thing of things) {
    const layer = layerName(thing.layer);
    if (!drawing.layers[layer]) drawing.addLayer(layer, Drawing.ACI.WHITE, 'CONTINUOUS');
    drawing.setActiveLayer(layer);
    for (const subpath of thing.subpaths) draw(drawing, subpath);
  }
  return drawing.toDxfString();
}

function draw(drawing: Sheet, subpath: Subpath): void {
  const segments = [...subpath.segments];
  let last = segments[segments.length - 1];
  if (!last) return;
  if (subpath.closed && Math.hypot(last.x - subpath.x, last.y - subpath.y) > 1e-9) {
    last = { kind: 'line', x: subpath.x, y: subpath.y };
    segments.push(last);
  }
  let [x, y] = [subpath.x, subpath.y];
  for (let i = 0; i < segments.length;) {
    const sort = sortOf(segments[i]);
    let j = i + 1;
    while (sort !== 'ellipse' && j < segments.length && sortOf(segments[j]) === sort) j++;
    const run = segments.slice(i, j);
    const whole = subpath.closed && run.length === segments.length;
    if (sort === 'poly') polyline(drawing, x, y, run, whole);
    else if (sort === 'spline') spline(drawing, x, y, run);
    else ellipse(drawing, x, y, run[0]);
    [x, y] = [segments[j - 1].x, segments[j - 1].y];
    i = j;
  }
}

function polyline(drawing: Sheet, x: number, y: number, run: Segment[], whole: boolean): void {
  const points: [number, number, number][] = [];
  for (const s of run) {
    let bulge = 0;
    if (s.kind === 'arc') {
      const arc = arcByMiddle(x, y, s.rx, s.ry, 0, s.large, s.sweep, s.x, s.y);
      if (arc) bulge = Math.tan(arc.turn / 4);
    }
    points.push([x, y, bulge]);
    [x, y] = [s.x, s.y];
  }
  // A closed polyline comes back to its first point by itself.
  if (!whole) points.push([x, y, 0]);
  drawing.drawPolyline(points as unknown as [number, number][], whole);
}

function spline(drawing: Sheet, x: number, y: number, run: Segment[]): void {
  const points: [number, number][] = [[x, y]];
  const knots = [0, 0, 0, 0];
  run.forEach((s, i) => {
    if (s.kind !== 'curve') return;
    points.push([s.x1, s.y1], [s.x2, s.y2], [s.x, s.y]);
    knots.push(i + 1, i + 1, i + 1);
  });
  knots.push(run.length);
  drawing.drawSpline(points, 3, knots, null, []);
}

function ellipse(drawing: Sheet, x: number, y: number, s: Segment): void {
  if (s.kind !== 'arc') return;
  const arc = arcByMiddle(x, y, s.rx, s.ry, (s.turn * Math.PI) / 180, s.large, s.sweep, s.x, s.y);
  if (!arc) return;
  // The major axis comes first; when it is the second one here, parameters shift by a quarter turn.
  const swap = arc.ry > arc.rx;
  const [major, minor] = swap ? [arc.ry, arc.rx] : [arc.rx, arc.ry];
  const phi = swap ? arc.phi + Math.PI / 2 : arc.phi;
  const shift = swap ? -Math.PI / 2 : 0;
  const [from, to] = arc.turn > 0 ? [arc.start, arc.start + arc.turn] : [arc.start + arc.turn, arc.start];
  const around = (a: number) => ((a % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  const start = around(from + shift);
  drawing.drawEllipse(arc.cx, arc.cy, major * Math.cos(phi), major * Math.sin(phi), minor / major, start, start + (to - from));
}
