/**
 * Engrave: grooves as the bit makes them - along lines and outlines, along the middle of strokes,
 * or side by side until whole shapes are filled. A fill is a pocket cut by the groove's width;
 * where that does not reach, the point goes in as deep as the walls allow.
 */
import { z } from 'zod';
import { fillStep, grooveWidth, heightAt, passesAcross, shapeOf } from '../../bits/index.ts';
import {
  contoursOf,
  distanceToEdges,
  insideRegion,
  linksWithin,
  medialAxis,
  walksOver,
  type DrawnLine,
  type MedialAxis,
  type NearLink,
  type Region,
} from '../../geometry/index.ts';
import { Bit } from '../../bits/schema.ts';
import { costOfLift, joined, orderRuns, PathWriter, trailsOf, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { planPocket, PocketCut } from './pocket.ts';
import { areaOf, leftBy } from './rest.ts';
import { positive } from '../../fields/index.ts';
import { cutting, startDepth } from '../fields.ts';

/** Grooves as the bit makes them: along lines and outlines, along the middle of strokes, or filling whole shapes. */
export const EngraveCut = z.strictObject({
  ...cutting,
  kind: z.literal('engrave'),
  way: z.enum(['lines', 'centre', 'fill']).default('lines'),
  startDepth,
  depth: positive.default(0.5),
  depthPerPass: positive.default(1),
  /** Between passes of a fill; left out, 60 % of the groove's width (common practice: 39-40 % overlap). */
  stepover: positive.optional(),
  /** Outlines nearer to each other than this are followed in one go, without a lift: a groove joins them, mm. */
  joinWithin: positive.optional(),
});
export type EngraveCut = z.infer<typeof EngraveCut>;

export interface EngravePlan {
  path: Toolpath;
  lifts: number;
  /** Of a fill: passes across the widest stroke, and places the groove does not reach, x y area; each is touched with the point. */
  passes?: number;
  spots?: [number, number, number][];
  /** Shapes too narrow for the groove. */
  unreachable?: number;
}

interface Groove extends Run {
  xy: Float64Array;
  closed: boolean;
}

/** @param regions shapes; @param lines line work: single-line words, open and closed lines */
export function planEngrave(
  regions: readonly Region[],
  lines: readonly DrawnLine[],
  cut: EngraveCut,
  bit: Bit,
  travel: Travel,
  tolerance: number,
): EngravePlan {
  const along = lines.map(({ line, closed }) => grooveOf(line.xy, closed));
  if (cut.way === 'lines') {
    const walks = walksOver(regions.flatMap(contoursOf), linksOf(regions, cut));
    return follow([...walks.map((xy) => grooveOf(xy, true)), ...along], cut, travel);
  }
  if (cut.way === 'centre') return follow([...regions.flatMap((region) => middleOf(region, travel, tolerance)), ...along], cut, travel);
  const filled = fill(regions, cut, bit, travel);
  if (along.length === 0) return filled;
  // A line has no inside: beside what is filled it is followed.
  const followed = follow(along, cut, travel);
  return { ...filled, path: joined([filled.path, followed.path]), lifts: filled.lifts + followed.lifts };
}

/** Where the groove joins the outline of one shape to that of another, of all their contours; never across a shape to its own hole. */
export function linksOf(regions: readonly Region[], { joinWithin }: Pick<EngraveCut, 'joinWithin'>): NearLink[] {
  if (joinWithin === undefined) return [];
  let at = 0;
  const places = regions.map(({ holes }) => (at += 1 + holes.length) - 1 - holes.length);
  const links = linksWithin(
    regions.map(({ outer }) => outer),
    joinWithin,
  );
  return links.map((link) => ({ ...link, from: places[link.from], to: places[link.to] }));
}

function follow(grooves: readonly Groove[], cut: EngraveCut, travel: Travel): EngravePlan {
  const writer = new PathWriter(travel);
  const reach = cut.depth - cut.startDepth;
  const passes = Math.max(1, Math.ceil(reach / cut.depthPerPass - 1e-9));
  for (const { run, reversed } of orderRuns(grooves)) {
    const { xy, closed } = grooves[run];
    const points = closed ? [...xy, xy[0], xy[1]] : [...xy];
    for (let pass = 1; pass <= passes; pass++) {
      const z = -(cut.startDepth + (reach * pass) / passes);
      // An open line is followed back and forth, so that no pass begins with a lift.
      const backwards = closed ? false : reversed !== (pass % 2 === 0);
      writer.begin(cut.id, passes > 1 ? `engrave, pass ${pass} of ${passes}` : 'engrave', pass);
      for (let k = 0; k < points.length; k += 2) {
        const i = backwards ? points.length - 2 - k : k;
        if (pass === 1 && k === 0) writer.approach(points[i], points[i + 1], z);
        else writer.cutTo(points[i], points[i + 1], z);
      }
    }
    writer.lift();
  }
  return { path: writer.finish(), lifts: grooves.length };
}

function grooveOf(xy: ArrayLike<number>, closed: boolean): Groove {
  const end = closed ? 0 : xy.length - 2;
  return { xy: Float64Array.from(xy), closed, reversible: !closed, startX: xy[0], startY: xy[1], endX: xy[end], endY: xy[end + 1] };
}

/** Steeper than this the axis runs into a corner, and is no longer the middle of a stroke: radius per length. */
const INTO_CORNER = 0.5;

/** The middle lines of a shape's strokes: its medial axis without the branches into corners. */
function middleOf(region: Region, travel: Travel, tolerance: number): Groove[] {
  const axis = medialAxis(region, { uncut: 2 * tolerance, tolerance: 0.3 * tolerance });
  const kept = strokes(axis);
  if (kept.length === 0) {
    // A round or square dot: its middle alone.
    const widest = axis.r.reduce((best, r, i) => (r > axis.r[best] ? i : best), 0);
    return axis.r.length ? [grooveOf([axis.x[widest], axis.y[widest]], false)] : [];
  }
  const graph = {
    nodes: axis.x.length,
    from: kept.map(({ from }) => from),
    to: kept.map(({ to }) => to),
    length: kept.map(({ length }) => length),
  };
  return trailsOf(graph, costOfLift(travel)).map((trail) =>
    grooveOf(
      trail.flatMap(({ edge, way }, k) => {
        const { xy } = kept[edge];
        const points: number[] = [];
        for (let i = 0; i < xy.length; i += 2) points.push(...(way === 1 ? xy.slice(i, i + 2) : xy.slice(xy.length - 2 - i, xy.length - i)));
        return k === 0 ? points : points.slice(2);
      }),
      false,
    ),
  );
}

function strokes(axis: MedialAxis) {
  const kept: { from: number; to: number; xy: number[]; length: number }[] = [];
  for (let e = 0; e < axis.from.length; e++) {
    const [a, b] = [axis.from[e], axis.to[e]];
    const xy = [axis.x[a], axis.y[a]];
    for (let k = axis.start[e]; k < axis.start[e + 1]; k += 3) xy.push(axis.points[k], axis.points[k + 1]);
    xy.push(axis.x[b], axis.y[b]);
    let length = 0;
    for (let i = 2; i < xy.length; i += 2) length += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
    if (length > 1e-9 && Math.abs(axis.r[b] - axis.r[a]) / length < INTO_CORNER) kept.push({ from: a, to: b, xy, length });
  }
  return kept;
}

function fill(regions: readonly Region[], cut: EngraveCut, bit: Bit, travel: Travel): EngravePlan {
  const reach = cut.depth - cut.startDepth;
  const width = grooveWidth(bit, reach);
  const step = fillStep(bit, reach, cut.stepover);
  const pocket = PocketCut.parse({
    kind: 'pocket',
    id: cut.id,
    on: cut.on,
    tool: cut.tool,
    startDepth: cut.startDepth,
    depth: cut.depth,
    depthPerPass: cut.depthPerPass,
    stepover: step,
    entry: 'straight',
  });
  // To the pocket the groove is the bit.
  const groove = Bit.parse({ kind: 'end', id: 'groove', diameter: width });
  const { path, lifts, unreachable } = planPocket(regions, pocket, groove, travel);
  const spots = regions.flatMap((region) => leftBy(width / 2, [region]).map((part) => spotOf(part, region)));
  const writer = new PathWriter(travel);
  const shape = shapeOf(bit);
  for (const { run } of orderRuns(spots.map(([x, y]) => ({ startX: x, startY: y, endX: x, endY: y, reversible: false })))) {
    const [x, y] = spots[run];
    const depth = Math.min(reach, heightAt({ ...shape, outer: Infinity }, distanceToEdges(regions, x, y)));
    if (depth <= 0) continue;
    writer.begin(cut.id, 'touch');
    const touches = Math.max(1, Math.ceil(depth / cut.depthPerPass - 1e-9));
    for (let k = 1; k <= touches; k++) {
      const z = -cut.startDepth - (depth * k) / touches;
      if (k === 1) writer.approach(x, y, z);
      else writer.cutTo(x, y, z);
    }
    writer.lift();
  }
  const touches = writer.finish();
  const widest = Math.max(0, ...regions.map((region) => 2 * Math.max(0, ...medialAxis(region, { uncut: 0.02, tolerance: 0.01 }).r)));
  return {
    path: touches.kind.length ? joined([path, touches]) : path,
    lifts: lifts + spots.length,
    passes: passesAcross(widest, width, step),
    spots,
    unreachable,
  };
}

/** The roomiest place of a left-over: of its corners and the middles between them, the one farthest from the drawn edges. */
function spotOf(part: Region, region: Region): [number, number, number] {
  const { xy } = part.outer;
  let best: [number, number] = [xy[0], xy[1]];
  let room = -1;
  const n = xy.length / 2;
  const stride = Math.max(1, Math.floor(n / 12));
  for (let i = 0; i < n; i += stride)
    for (let j = i; j < n; j += stride) {
      const [x, y] = [(xy[2 * i] + xy[2 * j]) / 2, (xy[2 * i + 1] + xy[2 * j + 1]) / 2];
      if (!insideRegion(region, x, y)) continue;
      const r = distanceToEdges([region], x, y);
      if (r > room) [best, room] = [[x, y], r];
    }
  return [...best, areaOf([part])];
}
