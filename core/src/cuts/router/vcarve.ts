/**
 * V-carve: the tip runs on the medial axis at the depth where the bit touches both edges: the
 * height of its own flank at the axis radius r, for a cone h = (r - tipFlat/2)/t. Where that would
 * be deeper than the floor (or than the bit is wide), a wall pass follows the outline shrunk by
 * rmax, the bit's radius at the floor, and inward offsets clear what is left - all of it, or what a
 * clearing bit could not reach. (Derived; see bits.)
 */
import { z } from 'zod';
import { cuttingWidth, deepestOfV, evenFrom, heightAt, radiusAt, shapeOf, type PointedBit } from '../../bits/index.ts';
import {
  carvedAxis,
  clipLines,
  congruent,
  contoursOf,
  offset,
  perimeter,
  subtract,
  traceRegion,
  uniteRegions,
  type AxisOptions,
  type MedialAxis,
  type RawAxis,
  type Region,
} from '../../geometry/index.ts';
import type { Bit } from '../../bits/schema.ts';
import { costOfLift, orderRuns, PathWriter, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { areaOf, leftBy } from './rest.ts';
import { loop, rings, shrunk } from './rings.ts';
import { chained, edgeLine, splitLine, strokesBetween, type Lines } from './strokes.ts';
import { positive } from '../../fields/index.ts';
import { cutting, startDepth, after } from '../fields.ts';

export const VCarveCut = z.strictObject({
  ...cutting,
  kind: z.literal('vcarve'),
  startDepth,
  /** Depth below the start that the bit never passes: wider strokes get a flat floor. */
  floorDepth: positive.optional(),
  /** Distance of the passes that clear such a floor. */
  stepover: positive.default(0.5),
  /** Greatest depth of one pass; left out, every groove is cut at once. */
  depthPerPass: positive.optional(),
  /** The bit of a pocket that clears the floor first. */
  after,
  /**
   * Carves round the artwork instead of into it: the plug of an inlay. The walls touch the drawn line
   * at the start depth, which is how deep the plug goes in; `margin` is cleared beyond its outline.
   */
  plug: z.strictObject({ margin: positive.default(12) }).optional(),
});
export type VCarveCut = z.infer<typeof VCarveCut>;

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
  /** Area drawn that the tip is too blunt to get into, mm²: such strokes, and the points of corners. */
  unreached: number;
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

/** Distance of the passes that clear a floor, mm: as chosen, but never so far apart that wood stands between them up to the surface. */
export const floorStep = (cut: VCarveCut, bit: PointedBit): number => Math.min(cut.stepover, 1.9 * limits(cut, bit).rmax);

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
  const { hmax, rmax } = limits(cut, bit);
  let widest = 0;
  let finest: VCarvePlan['finest'];
  let tooNarrow = false;
  const trouble: string[] = [];
  const walls: CutRun[] = [];
  const floors: CutRun[][] = [];
  const carved = carvedRegions(drawn, cut);
  for (const { shape, members } of congruent(carved))
    for (const one of carvedShape(traced(members[0].region, shape, tolerance, bit), cut, bit, tolerance, liftCost, cleared)) {
      widest = Math.max(widest, one.widest.r);
      tooNarrow ||= one.tooNarrow;
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
    limitedByBit: !cut.plug && widest > rmax + SNAP * tolerance && deepestOfV(bit) <= (cut.floorDepth ?? Infinity),
    tooNarrow,
    unreached: bluntBy(carved, shapeOf(bit).flat),
    lifts,
    trouble,
  };
}

/**
 * A stroke is still as wide as the groove at the floor when its half width is at most this much of the
 * tolerance more: then the bit runs once down its middle, and no wall stands farther off the line than that.
 */
const SNAP = 0.5;

/** What a flat tip of some radius does not reach: the discs it fits into cover all the rest. */
const bluntBy = (regions: readonly Region[], flat: number): number => (flat > 0 ? areaOf(leftBy(flat, regions)) : 0);

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
  tooNarrow: boolean;
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
  const step = floorStep(cut, bit);
  const depthAt = (r: number) => Math.min(hmax, heightAt({ ...shape, outer: Infinity }, r));
  return pieces.map(([region, axis]) => {
    let wide = 0;
    for (let i = 1; i < axis.r.length; i++) if (axis.r[i] > axis.r[wide]) wide = i;
    const snap = SNAP * tolerance;
    const split = strokesBetween(axis, rmin, rmax + snap);
    const walls = chained(split, liftCost).map((run) => {
      const points = bit.tipRadius > 0 ? refined(run, bit, tolerance) : run;
      for (let i = 2; i < points.length; i += 3) points[i] = top - depthAt(points[i]);
      return runOf(points, 'V-carve', true);
    });
    let floor: CutRun[] = [];
    if (axis.r[wide] > rmax + snap / 2) {
      floor = [...floorRuns(region, rmax, snap, step, top - hmax), ...coreRuns(axis, rmax, step, top - hmax, liftCost)];
      if (cleared) floor = notCleared(floor, offset([region], -(rmax - rmin)), cuttingWidth(cleared) / 2, step);
    }
    const widest = { x: axis.x[wide] ?? 0, y: axis.y[wide] ?? 0, r: axis.r[wide] ?? 0 };
    return { walls, floor, widest, finest: finestStroke(axis) ?? widest, tooNarrow: split.tooNarrow, trouble: axis.trouble };
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
function traced(region: Region, shape: Region, tolerance: number, bit: PointedBit): [Region, MedialAxis][] {
  const options = axisOptions(tolerance, bit);
  const kept = axes.get(region) ?? { pieces: rawPieces(shape), made: new Map<number, [Region, MedialAxis][]>() };
  axes.set(region, kept);
  const made = kept.made.get(options.uncut) ?? kept.pieces.map(([one, raw]): [Region, MedialAxis] => [one, carvedAxis(raw, options)]);
  kept.made.set(options.uncut, made);
  return made;
}

/** The costly part, the axis as it is, and what bits of one steepness make of it. */
const axes = new WeakMap<Region, { pieces: [Region, RawAxis][]; made: Map<number, [Region, MedialAxis][]> }>();

/** What a branch may leave uncut is counted in depth: a steep bit turns a small distance into a large one. In classes, so that bits alike share an axis. */
function axisOptions(tolerance: number, bit: PointedBit): AxisOptions {
  const { tangent } = shapeOf(bit);
  const steep = STEEP.find((least) => tangent >= least) ?? STEEP[STEEP.length - 1];
  return { uncut: 2 * tolerance * steep, vertices: 2 * tolerance, tolerance: 0.3 * tolerance * Math.min(1, 2 * steep) };
}

/** Half angles as tangents: from 60°, 20° and less. */
const STEEP = [0.577, 0.176, 0.08];

function rawPieces(region: Region): [Region, RawAxis][] {
  const trace = (one: Region): [Region, RawAxis] => [one, traceRegion(one)];
  const troubles = (pieces: readonly [Region, RawAxis][]) => pieces.reduce((sum, [, { trouble }]) => sum + trouble.length, 0);
  const apart = () => offset([region], -TOUCHING / 2, 'mitre').map(trace);
  if (touchesItself(region)) {
    const pieces = apart();
    if (pieces.length > 0 && troubles(pieces) === 0) return pieces;
  }
  const whole = [trace(region)];
  if (troubles(whole) === 0) return whole;
  const pieces = apart();
  return pieces.length > 0 && troubles(pieces) < troubles(whole) ? pieces : whole;
}

/** Do outlines of a region meet in a point, as those of an even-odd drawing do wherever it crosses itself? */
function touchesItself(region: Region): boolean {
  // Places to a hundredth of a micrometre, as one number each.
  const places = contoursOf(region).flatMap(({ xy }) =>
    Array.from({ length: xy.length / 2 }, (_, i) => Math.round(xy[2 * i] * 1e5) * 2 ** 26 + Math.round(xy[2 * i + 1] * 1e5)),
  );
  const sorted = Float64Array.from(places).sort();
  for (let i = 1; i < sorted.length; i++) if (sorted[i] === sorted[i - 1]) return true;
  return false;
}

function lowest({ points }: CutRun): number {
  let z = Infinity;
  for (let i = 2; i < points.length; i += 3) z = Math.min(z, points[i]);
  return z;
}

/**
 * Where the tip is a ball, depth h does not go evenly with the radius r: more points there. Between two
 * points the bit goes down evenly, and is as wide at the surface as it is at that depth; that must not be
 * wider than the stroke. Halfway it is radiusAt((h0 + h1)/2), against (r0 + r1)/2. (Derived.)
 */
function refined(run: Float64Array, bit: PointedBit, tolerance: number): Float64Array {
  const body = { ...shapeOf(bit), outer: Infinity };
  const even = evenFrom(bit);
  const out: number[] = [run[0], run[1], run[2]];
  const go = (from: number[], to: number[]) => {
    const [r0, r1] = [from[2], to[2]];
    const over = radiusAt(body, (heightAt(body, r0) + heightAt(body, r1)) / 2) - (r0 + r1) / 2;
    if (over <= tolerance / 3) return void out.push(...to);
    const middle = from.map((value, c) => (value + to[c]) / 2);
    go(from, middle);
    go(middle, to);
  };
  for (let i = 3; i < run.length; i += 3) {
    const [from, to] = [[...run.subarray(i - 3, i)], [...run.subarray(i, i + 3)]];
    // Where the ball passes into the cone the curve ends: no part spans that.
    const f = (even - from[2]) / (to[2] - from[2]);
    if (!(f > 0 && f < 1)) {
      go(from, to);
      continue;
    }
    const joint = from.map((value, c) => value + f * (to[c] - value));
    go(from, joint);
    go(joint, to);
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

/**
 * Passes at floor depth: rings from the middle of what is left outwards, linked where they lie side by side, and the wall.
 *
 * @param snap a floor nowhere wider than twice this is no floor: the pass down the middle is all it needs
 */
function floorRuns(region: Region, rmax: number, snap: number, stepover: number, z: number): CutRun[] {
  const wall = offset([region], -rmax)
    .filter((part) => offset([part], -snap / 2).length > 0)
    .flatMap(contoursOf)
    .filter(({ xy }) => perimeter(xy) >= 1e-3);
  return [
    ...wall.map(({ xy }) => runOf(atDepth(loop(xy).xy, z), 'wall', true)),
    ...rings(shrunk(offset([region], -(rmax + stepover)), stepover), stepover).map(({ xy }) => runOf(atDepth(xy, z), 'floor', true)),
  ];
}

/** Slopes of the axis: below the first it is the middle of a stroke, above the second a corner so blunt that rings cover it. */
const LEVEL = 0.1;
const BLUNT = 0.95;
/** A ring that would be thinner than this part of a step need not be there. */
const THIN = 0.02;

/**
 * Rings one step-over apart leave up to a whole step standing along the middle of a stroke where
 * the next ring no longer fits, and in a corner of angle θ up to step/(1 + sin(θ/2)) along its middle.
 * There the bit runs along the axis itself, so that no ridge is higher than between two rings; the
 * slope of the axis is sin(θ/2). Where a floor is round all that is left is a nub in its middle: the
 * bit goes there once. (Derived.)
 */
function coreRuns(axis: MedialAxis, rmax: number, stepover: number, z: number, liftCost: number): CutRun[] {
  // How far a place on the axis lies from the nearest ring: beyond - k·step for the innermost ring k that is surely there.
  const left = (r: number) => {
    const beyond = r - rmax;
    return beyond - stepover * Math.max(0, Math.ceil(beyond / stepover - THIN) - 1);
  };
  const widest = axis.r.reduce((most, r) => Math.max(most, r), 0);
  const steps = Math.min(100_000, Math.ceil((widest - rmax) / stepover));
  // The radii at which it becomes too far, and near enough again.
  const turns = [rmax, ...Array.from({ length: Math.max(0, steps) }, (_, k) => [rmax + (k + 0.5) * stepover, rmax + (k + 1 + THIN) * stepover]).flat()];
  const lines: Lines = { nodes: axis.x.length, from: [], to: [], points: [], tooNarrow: false, dots: [] };
  const touched = new Uint8Array(axis.x.length);
  // Middles of floors: no edge leads on to a wider place.
  const top = new Uint8Array(axis.x.length).fill(1);
  for (let e = 0; e < axis.from.length; e++) {
    const [a, b] = [axis.from[e], axis.to[e]];
    const whole = edgeLine(axis, e);
    if (whole[5] > axis.r[a]) top[a] = 0;
    if (whole[whole.length - 4] > axis.r[b]) top[b] = 0;
    const line = splitLine(whole, turns);
    let points: number[] = [];
    let from = a;
    // On what needs no visit the bit goes on to what does, when that is nearer than a lift.
    let idle: number[] = [];
    let way = 0;
    const flush = (to: number) => {
      if (points.length >= 6) {
        lines.from.push(from);
        lines.to.push(to);
        lines.points.push(points);
        if (from < touched.length) touched[from] = 1;
        if (to < touched.length) touched[to] = 1;
      }
      [points, idle, way] = [[], [], 0];
    };
    for (let k = 3; k < line.length; k += 3) {
      const [x0, y0, r0, x1, y1, r1] = line.slice(k - 3, k + 3);
      const length = Math.hypot(x1 - x0, y1 - y0);
      const slope = Math.abs(r1 - r0) / (length || 1);
      const floor = Math.min(r0, r1) >= rmax;
      if (floor && slope < BLUNT && (slope > LEVEL || left((r0 + r1) / 2) > stepover / 2)) {
        if (points.length === 0) {
          points.push(x0, y0, r0);
          from = k === 3 ? a : lines.nodes++;
        }
        points.push(...idle, x1, y1, r1);
        [idle, way] = [[], 0];
      } else {
        way += length;
        if (floor && points.length > 0 && way < liftCost) idle.push(x1, y1, r1);
        else flush(lines.nodes++);
      }
    }
    flush(idle.length > 0 ? lines.nodes++ : b);
  }
  for (let i = 0; i < top.length; i++)
    if (top[i] && !touched[i] && axis.r[i] > rmax && left(axis.r[i]) > stepover / 2) lines.dots.push([axis.x[i], axis.y[i], axis.r[i]]);
  return chained(lines, liftCost).map((points) => {
    for (let i = 2; i < points.length; i += 3) points[i] = z;
    return runOf(points, 'floor', true);
  });
}
