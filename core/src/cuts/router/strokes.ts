/**
 * Strokes: what the medial axis says of a drawing cut down the middle. Edges of the axis as polylines
 * with their radius, those parts of them that lie between two radii, and chains of them that need few lifts.
 */
import { medialAxis, type MedialAxis, type Region } from '../../geometry/index.ts';
import { trailsOf } from '../../toolpath/index.ts';

/** An edge of the axis as x y r triples, its ends included. */
export function edgeLine(axis: MedialAxis, e: number): number[] {
  const [a, b] = [axis.from[e], axis.to[e]];
  return [axis.x[a], axis.y[a], axis.r[a], ...axis.points.subarray(axis.start[e], axis.start[e + 1]), axis.x[b], axis.y[b], axis.r[b]];
}

/** A line graph of x, y, r polylines. */
export interface Lines {
  nodes: number;
  from: number[];
  to: number[];
  /** Every polyline from its `from` node to its `to` node, ends included. */
  points: number[][];
  tooNarrow: boolean;
  /** Lone plunge points, x y r. */
  dots: number[][];
}

/**
 * Keeps of the axis what lies between two radii, both included, edges split exactly there. One question
 * decides for points and for crossings alike - is the radius beyond a limit? - so that no piece is lost
 * between them.
 */
export function strokesBetween(axis: MedialAxis, rmin: number, rmax: number): Lines {
  const out: Lines = { nodes: axis.x.length, from: [], to: [], points: [], tooNarrow: false, dots: [] };
  const inside = (r: number) => r >= rmin && r <= rmax;
  for (let e = 0; e < axis.from.length; e++) {
    const line = splitLine(edgeLine(axis, e), [rmin, rmax]);
    let piece: number[] = [];
    let from = axis.from[e];
    const push = (to: number) => {
      if (piece.length >= 6) {
        out.from.push(from);
        out.to.push(to);
        out.points.push(piece);
      }
      piece = [];
    };
    for (let k = 3; k < line.length; k += 3) {
      const [r0, r1] = [line[k - 1], line[k + 2]];
      // What runs down to zero is a corner, not a stroke.
      if (Math.max(r0, r1) <= rmin && Math.min(r0, r1) > 0 && rmin > 0) out.tooNarrow = true;
      if (!inside(r0) || !inside(r1)) {
        push(out.nodes++);
        continue;
      }
      if (piece.length === 0) {
        piece.push(...line.slice(k - 3, k));
        from = k === 3 ? axis.from[e] : out.nodes++;
      }
      piece.push(...line.slice(k, k + 3));
    }
    push(axis.to[e]);
  }
  if (axis.from.length === 0) for (let i = 0; i < axis.x.length; i++) if (inside(axis.r[i])) out.dots.push([axis.x[i], axis.y[i], axis.r[i]]);
  return out;
}

/** A line of x y r triples with a point more wherever its radius passes one of some rising values, where it has that value exactly. */
export function splitLine(line: readonly number[], at: readonly number[]): number[] {
  const out = [line[0], line[1], line[2]];
  for (let k = 3; k < line.length; k += 3) {
    const [x0, y0, r0, x1, y1, r1] = [line[k - 3], line[k - 2], line[k - 1], line[k], line[k + 1], line[k + 2]];
    const up = r1 > r0;
    // The values strictly between the two ends, in the order they are met.
    for (let i = up ? above(at, r0) : above(at, r0, true) - 1; up ? at[i] < r1 : at[i] > r1; i += up ? 1 : -1) {
      const f = (at[i] - r0) / (r1 - r0);
      out.push(x0 + f * (x1 - x0), y0 + f * (y1 - y0), at[i]);
    }
    out.push(x1, y1, r1);
  }
  return out;
}

/** Index of the first of rising values above a value, or equal to it when asked; their number when there is none. */
function above(values: readonly number[], value: number, orEqual = false): number {
  let [low, high] = [0, values.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle] > value || (orEqual && values[middle] === value)) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Chains the lines into runs of x, y, r triples. */
export function chained(lines: Lines, liftCost: number): Float64Array[] {
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

/**
 * The middle lines of strokes as wide as a bit: where the half width is its radius, give or take some
 * slack. An everyday slot: one pass down the middle. x y r triples; a round hole is a single point.
 */
export function strokesAsWide(region: Region, radius: number, slack: number, liftCost: number): Float64Array[] {
  const axis = medialAxis(region, { uncut: 4 * slack, tolerance: 0.6 * slack });
  const lines = strokesBetween(axis, radius - slack, radius + slack);
  return chained(lines, liftCost);
}
