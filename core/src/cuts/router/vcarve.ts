/**
 * V-carve: the tip runs on the medial axis at the depth where the cone touches both edges,
 * h = (r - tipFlat/2)/t. Where that would be deeper than the floor (or than the bit is wide),
 * a wall pass follows the outline shrunk by rmax = hmax·t + tipFlat/2, and inward offsets clear
 * what is left. (Derived; see bits.)
 */
import { halfAngleTangent, deepestOfV, type VBit } from '../../bits/index.ts';
import { medialAxis, offset, perimeter, type MedialAxis, type Region } from '../../geometry/index.ts';
import type { VCarveCut } from '../../job/index.ts';
import { orderRuns, PathWriter, trailsOf, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';

export interface VCarvePlan {
  path: Toolpath;
  /** Half the width of the widest stroke, mm. */
  widest: number;
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

/**
 * Plans a V-carve of regions.
 *
 * @param travel feeds, and the clearance height between runs
 * @param tolerance of the job, mm; over-cut stays below half of it, uncut below twice
 */
export function planVCarve(regions: readonly Region[], cut: VCarveCut, bit: VBit, travel: Travel, tolerance: number): VCarvePlan {
  const t = halfAngleTangent(bit);
  const byBit = deepestOfV(bit);
  const hmax = Math.min(cut.floorDepth ?? Infinity, byBit);
  const rmax = hmax * t + bit.tipFlat / 2;
  const rmin = bit.tipFlat / 2;
  const depthAt = (r: number) => Math.min(hmax, Math.max(0, (r - rmin) / t));
  const top = -cut.startDepth;
  // What a lift costs, as a length of retraced groove: up, and down again at the plunge rate.
  const liftCost = (travel.feed * (2 * travel.clearance + 2)) / travel.plunge;
  let widest = 0;
  let tooNarrow = false;
  const trouble: string[] = [];
  const walls: CutRun[] = [];
  const floors: CutRun[][] = [];
  for (const region of regions) {
    const axis = medialAxis(region, { uncut: 2 * tolerance, tolerance: 0.3 * tolerance });
    trouble.push(...axis.trouble);
    for (const r of axis.r) widest = Math.max(widest, r);
    const split = splitAt(axis, rmin, rmax);
    tooNarrow ||= split.lost;
    for (const points of axisRuns(split, liftCost)) {
      for (let i = 2; i < points.length; i += 3) points[i] = top - depthAt(points[i]);
      walls.push(runOf(points, 'V-carve', true));
    }
    if (axis.r.some((r) => r > rmax + 1e-9))
      floors.push([...floorRuns(region, rmax, cut.stepover, top - hmax), ...coreRuns(axis, rmax, cut.stepover, top - hmax)]);
  }
  const writer = new PathWriter(travel);
  for (const group of [...floors, walls]) {
    for (const { run, reversed } of orderRuns(group)) writeRun(writer, cut.id, group[run], reversed);
  }
  const path = writer.finish();
  return {
    path,
    widest,
    deepest: depthAt(widest),
    limitedByBit: widest > rmax + 1e-6 && byBit <= (cut.floorDepth ?? Infinity),
    tooNarrow,
    lifts: walls.length + floors.reduce((sum, runs) => sum + runs.length, 0),
    trouble,
  };
}

function runOf(points: Float64Array, label: string, reversible: boolean): CutRun {
  const n = points.length;
  return { points, label, reversible, startX: points[0], startY: points[1], endX: points[n - 3], endY: points[n - 2] };
}

function writeRun(writer: PathWriter, cut: string, run: CutRun, reversed: boolean): void {
  const { points } = run;
  const n = points.length / 3;
  writer.begin(cut, run.label);
  for (let k = 0; k < n; k++) {
    const i = 3 * (reversed ? n - 1 - k : k);
    if (k === 0) writer.approach(points[i], points[i + 1], points[i + 2]);
    else writer.cutTo(points[i], points[i + 1], points[i + 2]);
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
    const line = [axis.x[a], axis.y[a], axis.r[a], ...axis.points.subarray(axis.start[e], axis.start[e + 1]), axis.x[b], axis.y[b], axis.r[b]];
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

/** Passes at floor depth: from the middle of what is left outwards to the wall, so that the wall is cut last. */
function floorRuns(region: Region, rmax: number, stepover: number, z: number): CutRun[] {
  const runs: CutRun[] = [];
  for (let k = 0; k < 20_000; k++) {
    const ring = offset([region], -(rmax + k * stepover));
    if (ring.length === 0) break;
    for (const part of ring)
      for (const { xy } of [part.outer, ...part.holes]) {
        if (perimeter(xy) < 1e-3) continue;
        const points: number[] = [];
        for (let i = 0; i <= xy.length; i += 2) points.push(xy[i % xy.length], xy[(i + 1) % xy.length], z);
        runs.push(runOf(Float64Array.from(points), k === 0 ? 'wall' : 'floor', true));
      }
  }
  return runs;
}

/**
 * Rings one step-over apart leave up to a whole step standing along the middle of a stroke where
 * the next ring no longer fits. There the bit runs along the axis itself, so that no ridge is
 * higher than between two rings. Where the axis climbs (towards a corner) the rings do cover it.
 */
function coreRuns(axis: MedialAxis, rmax: number, stepover: number, z: number): CutRun[] {
  const runs: CutRun[] = [];
  const left = (r: number) => {
    const beyond = r - rmax;
    return beyond - stepover * Math.max(0, Math.ceil(beyond / stepover - 1e-6) - 1);
  };
  for (let e = 0; e < axis.from.length; e++) {
    const [a, b] = [axis.from[e], axis.to[e]];
    const line = [axis.x[a], axis.y[a], axis.r[a], ...axis.points.subarray(axis.start[e], axis.start[e + 1]), axis.x[b], axis.y[b], axis.r[b]];
    let points: number[] = [];
    const flush = () => {
      if (points.length >= 6) runs.push(runOf(Float64Array.from(points), 'floor', true));
      points = [];
    };
    for (let k = 3; k < line.length; k += 3) {
      const [x0, y0, r0, x1, y1, r1] = line.slice(k - 3, k + 3);
      const slope = Math.abs(r1 - r0) / (Math.hypot(x1 - x0, y1 - y0) || 1);
      const r = (r0 + r1) / 2;
      if (Math.min(r0, r1) > rmax && slope < 0.5 && left(r) > stepover / 2) {
        if (points.length === 0) points.push(x0, y0, z);
        points.push(x1, y1, z);
      } else flush();
    }
    flush();
  }
  return runs;
}
