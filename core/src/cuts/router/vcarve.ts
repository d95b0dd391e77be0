/**
 * V-carve: the tip runs on the medial axis at the depth where the bit touches both edges: the
 * height of its own flank at the axis radius r, for a cone h = (r - tipFlat/2)/t. Where that would
 * be deeper than the floor (or than the bit is wide), a wall pass follows the outline shrunk by
 * rmax, the bit's radius at the floor, and inward offsets clear what is left - all of it, or what a
 * clearing bit could not reach. (Derived; see bits.)
 */
import { cuttingWidth, deepestOfV, evenFrom, heightAt, radiusAt, shapeOf, type PointedBit } from '../../bits/index.ts';
import { clipLines, congruent, contoursOf, medialAxis, offset, perimeter, subtract, uniteRegions, type MedialAxis, type Region } from '../../geometry/index.ts';
import type { Bit, VCarveCut } from '../../job/index.ts';
import { costOfLift, orderRuns, PathWriter, trailsOf, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { leftBy } from './rest.ts';
import { loop, rings } from './rings.ts';

export interface VCarvePlan {
  path: Toolpath;
  /** Half the width of the widest stroke, mm. */
  widest: number;
  /** The finest stroke: how wide it is, mm, and where. */
  finest?: { width: number; at: [number, number] };
  /** Carving depth below the start at the deepest point, mm. */
  deepest: number;
  /** True when the bit's width, not a chosen floor, stopped the carve. */
  limitedByBit: boolean;
  /** Strokes narrower than the bit's tip were left out. */
  tooNarrow: boolean;
  lifts: number;
  /** Regions whose axis could not be traced cleanly. */
  trouble: string[];
}

/** Points of one run, x y z triples. */
interface CutRun extends Run {
  points: Float64Array;
  label: string;
}

/** How deep below its start the bit goes at most, and its radius there: the chosen floor, or its own width. */
function limits(cut: VCarveCut, bit: PointedBit): { hmax: number; rmax: number } {
  // Round a plug there is wood beside the bit up to the surface: its whole depth counts.
  const byBit = deepestOfV(bit) - (cut.plug ? cut.startDepth : 0);
  const hmax = Math.max(0, Math.min(cut.floorDepth ?? Infinity, byBit));
  return { hmax, rmax: radiusAt(shapeOf(bit), hmax) };
}

/** What is carved: the drawing, or for a plug what lies round it. */
export const carvedRegions = (regions: readonly Region[], cut: Pick<VCarveCut, 'plug'>): readonly Region[] => {
  if (!cut.plug) return regions;
  // Parts that touch in a point are one part to the bit: a way of no width between them is none.
  const whole = offset(uniteRegions(regions), TOUCHING, 'mitre');
  return subtract(offset(whole, cut.plug.margin, 'square'), whole);
};
const TOUCHING = 1e-3;

/** The flat floor of a V-carve and how deep it lies below the top: where a clearing bit may go. */
export function floorOf(regions: readonly Region[], cut: VCarveCut, bit: PointedBit): { regions: Region[]; depth: number } {
  const { hmax, rmax } = limits(cut, bit);
  return { regions: offset(carvedRegions(regions, cut), -(rmax - shapeOf(bit).flat)), depth: cut.startDepth + hmax };
}

/**
 * Plans a V-carve of regions.
 *
 * @param travel feeds, and the clearance height between runs
 * @param tolerance of the job, mm; over-cut stays below half of it, uncut below twice
 * @param cleared the straight bit that cleared the floor before
 * @param liftCost what a lift costs, as a length of retraced groove, mm
 */
export function planVCarve(
  drawn: readonly Region[],
  cut: VCarveCut,
  bit: PointedBit,
  travel: Travel,
  tolerance: number,
  cleared?: Bit,
  liftCost = costOfLift(travel),
): VCarvePlan {
  const { hmax } = limits(cut, bit);
  let widest = 0;
  let finest: VCarvePlan['finest'];
  let tooNarrow = false;
  const trouble: string[] = [];
  const walls: CutRun[] = [];
  const floors: CutRun[][] = [];
  for (const { shape, members } of congruent(carvedRegions(drawn, cut)))
    for (const one of carvedShape(traced(members[0].region, shape, tolerance), cut, bit, tolerance, liftCost, cleared)) {
      widest = Math.max(widest, one.widest.r);
      tooNarrow ||= one.lost;
      for (const { x, y } of members) {
        trouble.push(...one.trouble);
        if (one.finest.r > 0 && !(finest && finest.width <= 2 * one.finest.r)) finest = { width: 2 * one.finest.r, at: [x + one.finest.x, y + one.finest.y] };
        walls.push(...one.walls.map((run) => shifted(run, x, y)));
        if (one.floor.length > 0) floors.push(one.floor.map((run) => shifted(run, x, y)));
      }
    }
  const depthAt = (r: number) => Math.min(hmax, heightAt({ ...shapeOf(bit), outer: Infinity }, r));
  const top = -cut.startDepth;
  const groups = [...floors, walls].map((group) => orderRuns(group).map(({ run, reversed }) => ({ run: group[run], reversed })));
  const deepest = depthAt(widest);
  const passes = Math.max(1, Math.ceil(deepest / (cut.depthPerPass ?? Infinity) - 1e-9));
  const writer = new PathWriter(travel);
  let lifts = 0;
  for (let pass = 1; pass <= passes; pass++) {
    const limit = top - (deepest * pass) / passes;
    const before = pass > 1 ? top - (deepest * (pass - 1)) / passes : Infinity;
    for (const { run, reversed } of groups.flat()) {
      // What the pass before reached needs no second visit.
      if (pass > 1 && lowest(run) >= before - 1e-9) continue;
      writeRun(writer, cut.id, run, reversed, pass < passes ? limit : -Infinity);
      lifts++;
    }
  }
  return {
    path: writer.finish(),
    widest,
    finest,
    deepest,
    limitedByBit: !cut.plug && widest > limits(cut, bit).rmax + 1e-6 && deepestOfV(bit) <= (cut.floorDepth ?? Infinity),
    tooNarrow,
    lifts,
    trouble,
  };
}

interface Disc {
  x: number;
  y: number;
  r: number;
}

/** What is carved of one shape, about its own origin. */
interface CarvedShape {
  walls: CutRun[];
  floor: CutRun[];
  /** Its widest place, and the middle of its finest stroke. */
  widest: Disc;
  finest: Disc;
  /** Parts narrower than the tip were left out. */
  lost: boolean;
  trouble: string[];
}

function carvedShape(
  pieces: readonly [Region, MedialAxis][],
  cut: VCarveCut,
  bit: PointedBit,
  tolerance: number,
  liftCost: number,
  cleared?: Bit,
): CarvedShape[] {
  const shape = shapeOf(bit);
  const { hmax, rmax } = limits(cut, bit);
  const rmin = shape.flat;
  const top = -cut.startDepth;
  const depthAt = (r: number) => Math.min(hmax, heightAt({ ...shape, outer: Infinity }, r));
  return pieces.map(([region, axis]) => {
    let wide = 0;
    for (let i = 1; i < axis.r.length; i++) if (axis.r[i] > axis.r[wide]) wide = i;
    const split = splitAt(axis, rmin, rmax);
    const walls = axisRuns(split, liftCost).map((run) => {
      const points = bit.tipRadius > 0 ? refined(run, bit, tolerance) : run;
      for (let i = 2; i < points.length; i += 3) points[i] = top - depthAt(points[i]);
      return runOf(points, 'V-carve', true);
    });
    let floor: CutRun[] = [];
    if (axis.r[wide] > rmax + 1e-9) {
      floor = [...floorRuns(region, rmax, cut.stepover, top - hmax), ...coreRuns(axis, rmax, cut.stepover, top - hmax, liftCost)];
      if (cleared) floor = notCleared(floor, offset([region], -(rmax - rmin)), cuttingWidth(cleared) / 2, cut.stepover);
    }
    const widest = { x: axis.x[wide] ?? 0, y: axis.y[wide] ?? 0, r: axis.r[wide] ?? 0 };
    return { walls, floor, widest, finest: finestStroke(axis) ?? widest, lost: split.lost, trouble: axis.trouble };
  });
}

/**
 * The thinnest stroke of a shape: of all stretches where its axis is the middle of a stroke (the radius
 * hardly changes) and which are longer than they are wide, the one of least mean radius.
 */
function finestStroke(axis: MedialAxis): Disc | null {
  let best: Disc | null = null;
  for (let e = 0; e < axis.from.length; e++) {
    const line = edgeLine(axis, e);
    let [length, area, from] = [0, 0, 0];
    const end = (to: number) => {
      const r = length > 0 ? area / length : 0;
      if (length > 2 * r && r > 0 && !(best && best.r <= r)) {
        // Its middle, or the middle of the one straight piece it is.
        const k = 3 * Math.floor((from + to) / 6);
        best = { x: (line[k] + line[k + 3]) / 2, y: (line[k + 1] + line[k + 4]) / 2, r };
      }
      [length, area] = [0, 0];
    };
    for (let k = 3; k < line.length; k += 3) {
      const way = Math.hypot(line[k] - line[k - 3], line[k + 1] - line[k - 2]);
      if (Math.abs(line[k + 2] - line[k - 1]) > LEVEL * way) {
        end(k - 3);
        from = k;
        continue;
      }
      length += way;
      area += (way * (line[k + 2] + line[k - 1])) / 2;
    }
    end(line.length - 3);
  }
  return best;
}

/** An edge of the axis as x y r triples, its ends included. */
function edgeLine(axis: MedialAxis, e: number): number[] {
  const [a, b] = [axis.from[e], axis.to[e]];
  return [axis.x[a], axis.y[a], axis.r[a], ...axis.points.subarray(axis.start[e], axis.start[e + 1]), axis.x[b], axis.y[b], axis.r[b]];
}

/** A run moved to where its shape stands. */
function shifted(run: CutRun, x: number, y: number): CutRun {
  const points = run.points.slice();
  for (let i = 0; i < points.length; i += 3) {
    points[i] += x;
    points[i + 1] += y;
  }
  return runOf(points, run.label, run.reversible);
}

/**
 * A shape with its axis. Where outlines touch in a point the axis may not be found: then they are
 * kept a hair apart, which can make pieces of it.
 *
 * @param region one that has this shape: the axis is kept with it, whatever carves it later
 */
function traced(region: Region, shape: Region, tolerance: number): [Region, MedialAxis][] {
  const kept = axes.get(region);
  if (kept?.tolerance === tolerance) return kept.pieces;
  const pieces = tracedAnew(shape, tolerance);
  axes.set(region, { tolerance, pieces });
  return pieces;
}

const axes = new WeakMap<Region, { tolerance: number; pieces: [Region, MedialAxis][] }>();

function tracedAnew(region: Region, tolerance: number): [Region, MedialAxis][] {
  const axisOf = (one: Region): [Region, MedialAxis] => [one, medialAxis(one, { uncut: 2 * tolerance, tolerance: 0.3 * tolerance })];
  const whole = axisOf(region);
  if (whole[1].trouble.length === 0) return [whole];
  const pieces = offset([region], -TOUCHING / 2, 'mitre').map(axisOf);
  const troubles = pieces.reduce((sum, [, { trouble }]) => sum + trouble.length, 0);
  return pieces.length > 0 && troubles < whole[1].trouble.length ? pieces : [whole];
}

function lowest({ points }: CutRun): number {
  let z = Infinity;
  for (let i = 2; i < points.length; i += 3) z = Math.min(z, points[i]);
  return z;
}

/** Where the tip is a ball, depth does not go evenly with the radius: more points there. Its bend is at most 1/(R·sin³) of the half angle. */
function refined(run: Float64Array, bit: PointedBit, tolerance: number): Float64Array {
  const even = evenFrom(bit);
  const sine = Math.sin((bit.angle * Math.PI) / 360);
  const step = Math.sqrt(4 * tolerance * bit.tipRadius * sine ** 3);
  const out: number[] = [run[0], run[1], run[2]];
  for (let i = 3; i < run.length; i += 3) {
    const [r0, r1] = [run[i - 1], run[i + 2]];
    const n = Math.min(r0, r1) < even ? Math.max(1, Math.ceil(Math.abs(Math.min(even, r1) - Math.min(even, r0)) / step)) : 1;
    // Begun where the ball begins, so that no part spans the joint.
    const stops = Array.from({ length: n }, (_, k) => (k + 1) / n);
    if ((r0 - even) * (r1 - even) < 0) stops.push((even - r0) / (r1 - r0));
    for (const f of stops.sort((a, b) => a - b)) for (let c = 0; c < 3; c++) out.push(run[i - 3 + c] + f * (run[i + c] - run[i - 3 + c]));
  }
  return Float64Array.from(out);
}

/** Of passes over a floor, those along the wall and what lies where the clearing bit could not reach. */
function notCleared(runs: readonly CutRun[], floor: readonly Region[], radius: number, stepover: number): CutRun[] {
  const rest = offset(leftBy(radius, floor), stepover);
  const inner = runs.filter(({ label }) => label !== 'wall');
  if (inner.length === 0 || rest.length === 0) return runs.filter(({ label }) => label === 'wall');
  const z = inner[0].points[2];
  const lines = inner.map(({ points }) => {
    const xy = new Float64Array((points.length / 3) * 2);
    for (let k = 0; k < xy.length / 2; k++) xy.set(points.subarray(3 * k, 3 * k + 2), 2 * k);
    return { xy, smooth: new Uint8Array(xy.length / 2) };
  });
  return [...runs.filter(({ label }) => label === 'wall'), ...clipLines(lines, rest).map(({ xy }) => runOf(atDepth(xy, z), 'floor', true))];
}

/** Points x y as x y z. */
function atDepth(xy: ArrayLike<number>, z: number): Float64Array {
  const points = new Float64Array((xy.length / 2) * 3);
  for (let k = 0; k < xy.length / 2; k++) points.set([xy[2 * k], xy[2 * k + 1], z], 3 * k);
  return points;
}

function runOf(points: Float64Array, label: string, reversible: boolean): CutRun {
  const n = points.length;
  return { points, label, reversible, startX: points[0], startY: points[1], endX: points[n - 3], endY: points[n - 2] };
}

/** @param limit no deeper than this, z */
function writeRun(writer: PathWriter, cut: string, run: CutRun, reversed: boolean, limit: number): void {
  const { points } = run;
  const n = points.length / 3;
  writer.begin(cut, run.label);
  for (let k = 0; k < n; k++) {
    const i = 3 * (reversed ? n - 1 - k : k);
    const z = Math.max(limit, points[i + 2]);
    if (k === 0) writer.approach(points[i], points[i + 1], z);
    else writer.cutTo(points[i], points[i + 1], z);
  }
  writer.lift();
}

/** A line graph of x, y, r polylines. */
interface Lines {
  nodes: number;
  from: number[];
  to: number[];
  /** Every polyline from its `from` node to its `to` node, ends included. */
  points: number[][];
  lost: boolean;
  /** Lone plunge points, x y r. */
  dots: number[][];
}

/** Splits axis edges exactly at the two radii and keeps what lies between them. */
function splitAt(axis: MedialAxis, rmin: number, rmax: number): Lines {
  const out: Lines = { nodes: axis.x.length, from: [], to: [], points: [], lost: false, dots: [] };
  const inside = (r: number) => r >= rmin - 1e-12 && r <= rmax + 1e-12;
  for (let e = 0; e < axis.from.length; e++) {
    const a = axis.from[e];
    const b = axis.to[e];
    const line = edgeLine(axis, e);
    let piece: number[] = [];
    let from = a;
    const push = (to: number) => {
      if (piece.length >= 6) {
        out.from.push(from);
        out.to.push(to);
        out.points.push(piece);
      }
      piece = [];
    };
    for (let k = 0; k < line.length; k += 3) {
      const [x, y, r] = [line[k], line[k + 1], line[k + 2]];
      if (k > 0) {
        const [px, py, pr] = [line[k - 3], line[k - 2], line[k - 1]];
        const cuts = [rmin, rmax]
          .filter((limit) => (pr - limit) * (r - limit) < 0 && Math.abs(r - pr) > 1e-12)
          .map((limit) => (limit - pr) / (r - pr))
          .sort((p, q) => p - q);
        for (const s of cuts) {
          const point = [px + s * (x - px), py + s * (y - py), pr + s * (r - pr)];
          if (piece.length > 0) {
            piece.push(...point);
            push(out.nodes++);
          } else {
            from = out.nodes++;
            piece.push(...point);
          }
        }
      }
      if (inside(r)) {
        if (piece.length === 0) from = k === 0 ? a : out.nodes++;
        piece.push(x, y, r);
      } else {
        if (r < rmin && r > 0) out.lost = true;
        if (piece.length > 0) push(out.nodes++);
      }
    }
    push(inside(line[line.length - 1]) ? b : out.nodes++);
  }
  if (axis.from.length === 0) for (let i = 0; i < axis.x.length; i++) if (inside(axis.r[i])) out.dots.push([axis.x[i], axis.y[i], axis.r[i]]);
  return out;
}

/** Chains the lines into runs of x, y, r triples. */
function axisRuns(lines: Lines, liftCost: number): Float64Array[] {
  const length = lines.points.map((line) => {
    let sum = 0;
    for (let k = 3; k < line.length; k += 3) sum += Math.hypot(line[k] - line[k - 3], line[k + 1] - line[k - 2]);
    return sum;
  });
  const trails = trailsOf({ nodes: lines.nodes, from: lines.from, to: lines.to, length }, liftCost);
  const runs = trails.map((trail) => {
    const out: number[] = [];
    for (const { edge, way } of trail) {
      const line = lines.points[edge];
      const n = line.length / 3;
      for (let k = out.length ? 1 : 0; k < n; k++) {
        const i = 3 * (way === 1 ? k : n - 1 - k);
        out.push(line[i], line[i + 1], line[i + 2]);
      }
    }
    return Float64Array.from(out);
  });
  for (const dot of lines.dots) runs.push(Float64Array.from(dot));
  return runs;
}

/** Passes at floor depth: rings from the middle of what is left outwards, linked where they lie side by side, and the wall. */
function floorRuns(region: Region, rmax: number, stepover: number, z: number): CutRun[] {
  const wall = offset([region], -rmax)
    .flatMap(contoursOf)
    .filter(({ xy }) => perimeter(xy) >= 1e-3);
  return [
    ...wall.map(({ xy }) => runOf(atDepth(loop(xy).xy, z), 'wall', true)),
    ...rings(offset([region], -(rmax + stepover)), stepover).map(({ xy }) => runOf(atDepth(xy, z), 'floor', true)),
  ];
}

/** Slopes of the axis: below the first it is the middle of a stroke, above the second a corner so blunt that rings cover it. */
const LEVEL = 0.1;
const BLUNT = 0.95;

/**
 * Rings one step-over apart leave up to a whole step standing along the middle of a stroke where
 * the next ring no longer fits, and in a corner of angle θ up to step/(1 + sin(θ/2)) along its middle.
 * There the bit runs along the axis itself, so that no ridge is higher than between two rings; the
 * slope of the axis is sin(θ/2). (Derived.)
 */
function coreRuns(axis: MedialAxis, rmax: number, stepover: number, z: number, liftCost: number): CutRun[] {
  const left = (r: number) => {
    const beyond = r - rmax;
    return beyond - stepover * Math.max(0, Math.ceil(beyond / stepover - 1e-6) - 1);
  };
  const lines: Lines = { nodes: axis.x.length, from: [], to: [], points: [], lost: false, dots: [] };
  for (let e = 0; e < axis.from.length; e++) {
    const [a, b] = [axis.from[e], axis.to[e]];
    const line = edgeLine(axis, e);
    let points: number[] = [];
    let from = a;
    const flush = (to: number) => {
      if (points.length >= 6) {
        lines.from.push(from);
        lines.to.push(to);
        lines.points.push(points);
      }
      points = [];
    };
    for (let k = 3; k < line.length; k += 3) {
      const [x0, y0, r0, x1, y1, r1] = beyond(line.slice(k - 3, k + 3), rmax);
      const slope = Math.abs(r1 - r0) / (Math.hypot(x1 - x0, y1 - y0) || 1);
      const r = (r0 + r1) / 2;
      if (Math.min(r0, r1) > rmax - 1e-9 && slope < BLUNT && (slope > LEVEL || left(r) > stepover / 2)) {
        if (points.length === 0) {
          points.push(x0, y0, r0);
          from = k === 3 && r0 === line[2] ? a : lines.nodes++;
        }
        points.push(x1, y1, r1);
      } else flush(lines.nodes++);
    }
    flush(b);
  }
  return axisRuns(lines, liftCost).map((points) => {
    for (let i = 2; i < points.length; i += 3) points[i] = z;
    return runOf(points, 'floor', true);
  });
}

/** Of a stretch x y r x y r of the axis, the part where the radius is above a limit; a stretch all below stays as it is. */
function beyond(stretch: number[], limit: number): number[] {
  const [x0, y0, r0, x1, y1, r1] = stretch;
  if ((r0 - limit) * (r1 - limit) >= 0) return stretch;
  const f = (limit - r0) / (r1 - r0);
  const at = [x0 + f * (x1 - x0), y0 + f * (y1 - y0), limit];
  return r0 < limit ? [...at, x1, y1, r1] : [x0, y0, r0, ...at];
}
