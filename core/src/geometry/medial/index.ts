/**
 * The medial axis of a region, ready for carving: exact nodes, branches that carry no visible
 * detail taken away, and every remaining edge cut into straight pieces that follow the true
 * radius. See trace.ts for how it is found.
 */
import type { Region } from '../contour.ts';
import { Bisector } from './bisector.ts';
import { traceRegion, type RawAxis } from './trace.ts';

export { traceRegion, type RawAxis } from './trace.ts';

/**
 * A graph of polylines. Node i is (x[i], y[i]) with inscribed radius r[i]. Edge j joins
 * from[j] and to[j]; its inner points are `points[start[j] .. start[j+1])` as x, y, r triples.
 */
export interface MedialAxis {
  x: Float64Array;
  y: Float64Array;
  r: Float64Array;
  /** 1 where the node is a corner of the drawing (r = 0). */
  corner: Uint8Array;
  from: Int32Array;
  to: Int32Array;
  start: Int32Array;
  points: Float64Array;
  trouble: string[];
}

export interface AxisOptions {
  /** Greatest thickness of wood a removed branch may leave uncut, mm. */
  uncut: number;
  /**
   * The same at points that only approximate a curve; `uncut` when left out. The curve itself has no
   * branch there, so that what its chords leave is no loss: how finely curves are cut into chords decides.
   */
  vertices?: number;
  /** Greatest error of position and radius between points of an edge, mm. */
  tolerance: number;
}

/** A vertex that turns less than this (radians) is no corner worth a branch of its own, flagged or not. */
const CORNER_TURN = 0.035;
const SHORT = 2e-4;

/** The pruned and subdivided medial axis of a region. */
export function medialAxis(region: Region, options: AxisOptions): MedialAxis {
  return carvedAxis(traceRegion(region), options);
}

/** An axis as it was traced, pruned and subdivided. */
export const carvedAxis = (raw: RawAxis, { uncut, vertices = uncut, tolerance }: AxisOptions): MedialAxis =>
  subdivide(raw, prune(raw, uncut, vertices), tolerance);

function isRealCorner({ sites }: RawAxis, vertex: number): boolean {
  if (sites.smooth[vertex]) return false;
  const p = sites.prev[vertex];
  const turn = Math.atan2(sites.dx[p] * sites.dy[vertex] - sites.dy[p] * sites.dx[vertex], sites.dx[p] * sites.dx[vertex] + sites.dy[p] * sites.dy[vertex]);
  return turn > CORNER_TURN;
}

/**
 * Takes away leaf branches as long as everything they would have carved is within `uncut` of
 * the disc that remains at their root. A branch that ends in a real corner always stays.
 * Returns 1 for every edge that stays.
 */
function prune(raw: RawAxis, uncut: number, vertices: number): Uint8Array {
  const nodes = raw.x.length;
  const edges = raw.from.length;
  const keep = new Uint8Array(edges).fill(1);
  const degree = new Int32Array(nodes);
  const first = new Int32Array(nodes + 1);
  for (let e = 0; e < edges; e++) {
    degree[raw.from[e]]++;
    degree[raw.to[e]]++;
  }
  for (let i = 0; i < nodes; i++) first[i + 1] = first[i] + degree[i];
  const fill = first.slice(0, nodes);
  const incident = new Int32Array(2 * edges);
  for (let e = 0; e < edges; e++) {
    incident[fill[raw.from[e]]++] = e;
    incident[fill[raw.to[e]]++] = e;
  }
  // Points given up so far at each node: x, y, the radius they had, and what is no loss of it.
  const lost: (number[] | undefined)[] = new Array(nodes);
  const queue: number[] = [];
  for (let i = 0; i < nodes; i++) if (degree[i] === 1) queue.push(i);
  let remaining = edges;
  while (queue.length > 0 && remaining > 0) {
    const leaf = queue.shift()!;
    if (degree[leaf] !== 1) continue;
    if (raw.corner[leaf] >= 0 && isRealCorner(raw, raw.corner[leaf])) continue;
    let edge = -1;
    for (let k = first[leaf]; k < first[leaf + 1]; k++) if (keep[incident[k]]) edge = incident[k];
    const root = raw.from[edge] === leaf ? raw.to[edge] : raw.from[edge];
    const given = lost[leaf] ?? [];
    const left = (k: number) => Math.hypot(given[k] - raw.x[root], given[k + 1] - raw.y[root]) + given[k + 2] - raw.r[root];
    given.push(raw.x[leaf], raw.y[leaf], raw.r[leaf], 0);
    // What a point of a curve gives up at first its chords stand for, not the curve.
    const own = given.length - 4;
    if (raw.corner[leaf] >= 0) given[own + 3] = left(own);
    let fits = true;
    for (let k = 0; k < given.length && fits; k += 4) fits = left(k) <= Math.max(uncut, Math.min(vertices, uncut + given[k + 3]));
    if (!fits) {
      given.length -= 4;
      continue;
    }
    keep[edge] = 0;
    remaining--;
    degree[leaf] = 0;
    degree[root]--;
    const at = lost[root];
    if (at) for (const value of given) at.push(value);
    else lost[root] = given;
    if (degree[root] === 1) queue.push(root);
  }
  return keep;
}

function subdivide(raw: RawAxis, keep: Uint8Array, tolerance: number): MedialAxis {
  const nodes = raw.x.length;
  // Contract hair-short edges: clusters of nodes at the centre of a nearly round end.
  const alias = Int32Array.from({ length: nodes }, (_, i) => i);
  const rootOf = (i: number) => {
    while (alias[i] !== i) {
      alias[i] = alias[alias[i]];
      i = alias[i];
    }
    return i;
  };
  for (let e = 0; e < keep.length; e++) {
    if (!keep[e]) continue;
    const a = rootOf(raw.from[e]);
    const b = rootOf(raw.to[e]);
    if (a === b || Math.hypot(raw.x[a] - raw.x[b], raw.y[a] - raw.y[b]) >= SHORT) continue;
    if (raw.corner[a] >= 0 && raw.corner[b] >= 0) continue;
    // A corner keeps its place; otherwise the smaller disc does, so that nothing is over-cut.
    const stays = raw.corner[a] >= 0 || (raw.corner[b] < 0 && raw.r[a] <= raw.r[b]) ? a : b;
    alias[stays === a ? b : a] = stays;
    keep[e] = 0;
  }
  const index = new Int32Array(nodes).fill(-1);
  const x: number[] = [];
  const y: number[] = [];
  const r: number[] = [];
  const corner: number[] = [];
  const nodeOf = (i: number) => {
    const k = rootOf(i);
    if (index[k] < 0) {
      index[k] = x.length;
      x.push(raw.x[k]);
      y.push(raw.y[k]);
      r.push(raw.r[k]);
      corner.push(raw.corner[k] >= 0 && isRealCorner(raw, raw.corner[k]) ? 1 : 0);
    }
    return index[k];
  };
  const from: number[] = [];
  const to: number[] = [];
  const start: number[] = [0];
  const points: number[] = [];
  const bisector = new Bisector(raw.sites);
  for (let e = 0; e < keep.length; e++) {
    if (!keep[e]) continue;
    const a = raw.from[e];
    const b = raw.to[e];
    const i = nodeOf(a);
    const j = nodeOf(b);
    from.push(i);
    to.push(j);
    bisector.start(raw.right[e], raw.left[e], raw.x[a], raw.y[a], raw.x[b] - raw.x[a], raw.y[b] - raw.y[a]);
    if (bisector.curved) subdivideCurve(bisector, bisector.parameterAt(raw.x[b], raw.y[b]), raw, a, b, tolerance, points);
    start.push(points.length);
  }
  if (from.length === 0 && nodes > 0) {
    // A disc shrinks to one plunge: the widest node is what is left of it.
    let widest = 0;
    for (let i = 1; i < nodes; i++) if (raw.r[i] > raw.r[widest]) widest = i;
    nodeOf(widest);
  }
  return {
    x: Float64Array.from(x),
    y: Float64Array.from(y),
    r: Float64Array.from(r),
    corner: Uint8Array.from(corner),
    from: Int32Array.from(from),
    to: Int32Array.from(to),
    start: Int32Array.from(start),
    points: Float64Array.from(points),
    trouble: raw.trouble,
  };
}

/**
 * Splits a bent edge so that straight pieces stay within the tolerance in place and in radius.
 * The radius is convex along the curve: interpolating it between far nodes would over-cut.
 */
function subdivideCurve(bisector: Bisector, end: number, raw: RawAxis, a: number, b: number, tolerance: number, out: number[]): void {
  const split = (t0: number, x0: number, y0: number, r0: number, t1: number, x1: number, y1: number, r1: number, depth: number) => {
    const t = bisector.farthestFromChord(t0, t1);
    const f = (t - t0) / (t1 - t0);
    bisector.at(t);
    const { x, y, r } = bisector;
    const flat = Math.hypot(x - x0 - f * (x1 - x0), y - y0 - f * (y1 - y0)) + Math.abs(r - r0 - f * (r1 - r0));
    if (flat <= tolerance || depth > 12) return;
    split(t0, x0, y0, r0, t, x, y, r, depth + 1);
    out.push(x, y, r);
    split(t, x, y, r, t1, x1, y1, r1, depth + 1);
  };
  split(0, raw.x[a], raw.y[a], raw.r[a], end, raw.x[b], raw.y[b], raw.r[b], 0);
}
