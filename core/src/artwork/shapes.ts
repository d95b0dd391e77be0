/** Parametric things as subpaths about their own origin, with true arcs. Closed ones run counter-clockwise. */
import type { Item } from '../job/index.ts';
import type { Segment, Subpath } from './path.ts';

type Of<K extends Item['kind']> = Extract<Item, { kind: K }>;
export type Shape = Exclude<Item, Of<'text'> | Of<'path'> | Of<'picture'>>;

const line = (x: number, y: number): Segment => ({ kind: 'line', x, y });
const arc = (r: number, x: number, y: number, sweep = true, large = false): Segment => ({ kind: 'arc', rx: r, ry: r, turn: 0, large, sweep, x, y });
const closed = (points: readonly (readonly [number, number])[]): Subpath => ({
  x: points[0][0],
  y: points[0][1],
  closed: true,
  segments: points.slice(1).map(([x, y]) => line(x, y)),
});

/** A whole ellipse as two half arcs, counter-clockwise. */
export const ellipsePath = (cx: number, cy: number, rx: number, ry: number): Subpath => ({
  x: cx + rx,
  y: cy,
  closed: true,
  segments: [cx - rx, cx + rx].map((x) => ({ kind: 'arc', rx, ry, turn: 0, large: false, sweep: true, x, y: cy })),
});

/** The subpaths of a shape about 0, 0. */
export function shapePath(item: Shape): Subpath[] {
  switch (item.kind) {
    case 'rectangle':
      return [rectanglePath(item)];
    case 'ellipse':
      return [ellipsePath(0, 0, item.width / 2, item.height / 2)];
    case 'polygon':
      return [closed(ring(item.sides, () => item.diameter / 2))];
    case 'star':
      return [closed(ring(2 * item.points, (i) => (i % 2 === 0 ? item.diameter : item.inner) / 2))];
    case 'slot': {
      const r = Math.min(item.width, item.length) / 2;
      const h = Math.max(0, item.length / 2 - r);
      if (h === 0) return [ellipsePath(0, 0, r, r)];
      return [{ x: -h, y: -r, closed: true, segments: [line(h, -r), arc(r, h, r), line(-h, r), arc(r, -h, -r)] }];
    }
    case 'arrow': {
      const [tip, tail] = [item.length / 2, -item.length / 2];
      const neck = Math.max(tail, tip - item.headLength);
      const [s, w] = [item.shaft / 2, Math.max(item.head, item.shaft) / 2];
      return [
        closed([
          [tail, -s],
          [neck, -s],
          [neck, -w],
          [tip, 0],
          [neck, w],
          [neck, s],
          [tail, s],
        ]),
      ];
    }
    case 'line':
      return [{ x: 0, y: 0, closed: false, segments: [line(item.length, 0)] }];
    case 'arc': {
      if (item.sweep === 0) return [];
      const r = item.radius;
      if (Math.abs(item.sweep) === 360) return [ellipsePath(0, 0, r, r)];
      const end = (item.sweep * Math.PI) / 180;
      return [{ x: r, y: 0, closed: false, segments: [arc(r, r * Math.cos(end), r * Math.sin(end), item.sweep > 0, Math.abs(item.sweep) > 180)] }];
    }
    case 'holes':
      return holeCentres(item).map(([x, y]) => ellipsePath(x, y, item.diameter / 2, item.diameter / 2));
  }
}

/** Middles of the holes of a pattern, about its own origin, mm. */
export function holeCentres({ layout }: Of<'holes'>): [number, number][] {
  if (layout.kind === 'corners') {
    const x = Math.max(0, layout.width / 2 - layout.inset);
    const y = Math.max(0, layout.height / 2 - layout.inset);
    const corners: [number, number][] = [
      [-x, -y],
      [x, -y],
      [x, y],
      [-x, y],
    ];
    return corners;
  }
  if (layout.kind === 'circle') return ring(layout.count, () => layout.across / 2);
  const centres: [number, number][] = [];
  for (let r = 0; r < layout.rows; r++)
    for (let c = 0; c < layout.columns; c++) centres.push([(c - (layout.columns - 1) / 2) * layout.dx, (r - (layout.rows - 1) / 2) * layout.dy]);
  return centres;
}

/** Points round a circle, counter-clockwise, the first one up. */
function ring(count: number, radius: (index: number) => number): [number, number][] {
  return Array.from({ length: count }, (_, i) => {
    const a = Math.PI / 2 + (2 * Math.PI * i) / count;
    return [radius(i) * Math.cos(a), radius(i) * Math.sin(a)];
  });
}

function rectanglePath({ width, height, radius, corner }: Of<'rectangle'>): Subpath {
  const [w, h] = [width / 2, height / 2];
  const r = Math.min(radius, w, h);
  if (r <= 0)
    return closed([
      [-w, -h],
      [w, -h],
      [w, h],
      [-w, h],
    ]);
  // Each corner from where it leaves one side to where it meets the next, with the corner point itself.
  const corners = [
    { from: [w - r, -h], point: [w, -h], to: [w, -h + r] },
    { from: [w, h - r], point: [w, h], to: [w - r, h] },
    { from: [-w + r, h], point: [-w, h], to: [-w, h - r] },
    { from: [-w, -h + r], point: [-w, -h], to: [-w + r, -h] },
  ];
  const segments: Segment[] = [];
  let [x, y] = [-w + r, -h];
  const add = (segment: Segment) => {
    if (Math.hypot(segment.x - x, segment.y - y) > 1e-9) segments.push(segment);
    [x, y] = [segment.x, segment.y];
  };
  for (const { from, point, to } of corners) {
    add(line(from[0], from[1]));
    if (corner === 'round') add(arc(r, to[0], to[1]));
    else if (corner === 'hollow') add(arc(r, to[0], to[1], false));
    else {
      if (corner === 'step') add(line(from[0] + to[0] - point[0], from[1] + to[1] - point[1]));
      add(line(to[0], to[1]));
    }
  }
  return { x: -w + r, y: -h, closed: true, segments };
}
