/**
 * Travel that keeps off what is cut free already: a piece that has tipped up, or a slug that hangs, breaks the torch
 * away. Where a way round it is open, the torch goes round; where none is, it goes straight, and the proof tells
 * whether anything stands there. (Common practice.)
 */
import RBush from 'rbush';
import { emptyBox, growBox, hullOf, type Box } from '../../geometry/index.ts';
import { RAPID, type Toolpath } from '../../toolpath/index.ts';

type Point = readonly [number, number];

interface Obstacle extends Box {
  /** Convex, counter-clockwise; most are never in the way of anything, and are not asked. */
  hull(): Point[];
}

/** So far off a piece the torch goes round it, mm: half of its own width, or less where there is no room for that. */
const CLEAR = [8, 3];
/** Corners of a piece this near to each other are gone round as one, mm. */
const CORNER = 4;
/** A way that goes so little over a piece only passes its edge, mm. */
const GRAZES = 1;
/** Beyond what is kept off, mm: a corner of the way round, and not on a side of it. */
const HAIR = 0.01;
/** Pieces behind pieces that are gone round, one after another; and how often is looked for them before the way is taken straight. */
const DEPTH = 6;
const LOOKS = 150;

/**
 * The same path with its crossings led round what has come free by then.
 *
 * @param freeing lines that set free what is inside them, vertex for vertex as the path goes along them
 */
export function roundFreed(path: Toolpath, freeing: readonly ArrayLike<number>[], plate: { width: number; height: number }, clearance: number): Toolpath {
  const at = new Map<number, number>();
  freeing.forEach((xy, k) => {
    for (let i = 0; i < xy.length; i += 2) at.set(placeOf(xy[i], xy[i + 1]), k);
  });
  const tree = new RBush<Obstacle>();
  const cut = new Set<number>();
  /** Places on the way to move i. */
  const detours = new Map<number, Point[]>();
  let fresh = new Set<number>();
  const { x, y, z, kind, power } = path;
  for (let i = 1; i < kind.length; i++) {
    if (power && !Number.isNaN(power[i])) {
      const ring = at.get(placeOf(x[i], y[i]));
      if (ring !== undefined && !cut.has(ring)) fresh.add(ring);
      continue;
    }
    if (kind[i] !== RAPID || (x[i] === x[i - 1] && y[i] === y[i - 1])) continue;
    for (const ring of fresh) {
      cut.add(ring);
      tree.insert(obstacleOf(freeing[ring]));
    }
    fresh = new Set();
    if (z[i] < clearance - 1e-9) continue;
    const ways = around([x[i - 1], y[i - 1]], [x[i], y[i]], { tree, plate, left: LOOKS }, DEPTH);
    if (ways && ways.length > 0) detours.set(i, ways);
  }
  return detours.size === 0 ? path : withDetours(path, detours, clearance);
}

/** A place as one number: to the thousandth of a millimetre, on tables of up to 67 m. */
const placeOf = (x: number, y: number): number => Math.round(x * 1e3) * 2 ** 26 + Math.round(y * 1e3);

function obstacleOf(xy: ArrayLike<number>): Obstacle {
  let hull: Point[] | null = null;
  return {
    ...growBox(emptyBox(), xy),
    hull: () => (hull ??= hullOf(Array.from({ length: xy.length / 2 }, (_, k): Point => [xy[2 * k], xy[2 * k + 1]]))),
  };
}

/** Looks for pieces in the way, and how often it may still look for one crossing. */
interface Search {
  tree: RBush<Obstacle>;
  plate: { width: number; height: number };
  left: number;
}

/** Places between a and b that keep off what is free; none when the straight way does, null when no way was found. */
function around(a: Point, b: Point, search: Search, depth: number): Point[] | null {
  if (search.left-- <= 0) return null;
  const first = firstMet(a, b, search.tree);
  if (!first) return [];
  if (depth === 0) return null;
  const { width, height } = search.plate;
  for (const off of CLEAR) {
    const sides = sidesOf(a, b, first.hull(), off).filter((side) => side.every(([x, y]) => x >= 0 && y >= 0 && x <= width && y <= height));
    // The shorter way round, if it is open.
    for (const side of sides.sort((p, q) => lengthOf(a, p, b) - lengthOf(a, q, b))) {
      const way = alongOf(a, side, b, search, depth - 1);
      if (way) return way;
    }
  }
  return null;
}

/** The stops of a way round, each leg of it led round what else it meets; null when one cannot be. */
function alongOf(a: Point, side: readonly Point[], b: Point, search: Search, depth: number): Point[] | null {
  const out: Point[] = [];
  let from = a;
  for (const to of [...side, b]) {
    const leg = around(from, to, search, depth);
    if (!leg) return null;
    out.push(...leg, to);
    from = to;
  }
  return out.slice(0, -1);
}

/** The first free piece that a straight way goes over. One that an end lies in must be left, or come to, somehow. */
function firstMet(a: Point, b: Point, tree: RBush<Obstacle>): Obstacle | null {
  let [first, at]: [Obstacle | null, number] = [null, Infinity];
  for (const one of tree.search({ minX: Math.min(a[0], b[0]), minY: Math.min(a[1], b[1]), maxX: Math.max(a[0], b[0]), maxY: Math.max(a[1], b[1]) })) {
    const way = wayOver(a, b, one.hull());
    if (!way || way.length <= GRAZES || way.from >= at || isIn(a, one.hull()) || isIn(b, one.hull())) continue;
    [first, at] = [one, way.from];
  }
  return first;
}

const lengthOf = (a: Point, between: readonly Point[], b: Point): number =>
  [...between, b].reduce((sum, p, k) => sum + Math.hypot(p[0] - (between[k - 1] ?? a)[0], p[1] - (between[k - 1] ?? a)[1]), 0);

/** Both ways round a convex piece, as the hull of it with both ends has them. An end at the piece is led away from it first. */
function sidesOf(a: Point, b: Point, hull: readonly Point[], off: number): Point[][] {
  const [from, to] = [awayFrom(a, hull, off + HAIR), awayFrom(b, hull, off + HAIR)];
  const ring = hullOf([...grown(hull, off), from, to]);
  const [i, j] = [from, to].map((end) => ring.findIndex((p) => p[0] === end[0] && p[1] === end[1]));
  if (i < 0 || j < 0) return [];
  const run = (k: number, n: number): Point[] => (k < n ? ring.slice(k + 1, n) : [...ring.slice(k + 1), ...ring.slice(0, n)]);
  return [run(i, j), run(j, i).reverse()].map((way) => [...(from === a ? [] : [from]), ...way, ...(to === b ? [] : [to])]);
}

/** A place that lies nearer to a convex piece than so much, moved straight off its nearest side; any other as it is. */
function awayFrom(at: Point, hull: readonly Point[], off: number): Point {
  let [nearest, by] = [-Infinity, [0, 0] as Point];
  hull.forEach((p, k) => {
    const q = hull[(k + 1) % hull.length];
    const length = Math.hypot(q[0] - p[0], q[1] - p[1]);
    const normal: Point = [(q[1] - p[1]) / length, (p[0] - q[0]) / length];
    const outside = normal[0] * (at[0] - p[0]) + normal[1] * (at[1] - p[1]);
    if (outside > nearest) [nearest, by] = [outside, normal];
  });
  return nearest >= off ? at : [at[0] + (off - nearest) * by[0], at[1] + (off - nearest) * by[1]];
}

/** A convex polygon with every corner moved out, along the middle of its two sides' normals. */
function grown(hull: readonly Point[], off: number): Point[] {
  const corners = hull.filter((p, k) => k === 0 || Math.hypot(p[0] - hull[k - 1][0], p[1] - hull[k - 1][1]) > CORNER);
  if (corners.length < 3) return grownBox(hull, off);
  return corners.flatMap((p, k): Point[] => {
    const [before, after] = [corners[(k + corners.length - 1) % corners.length], corners[(k + 1) % corners.length]];
    return [
      [before, p],
      [p, after],
    ].map(([q, r]): Point => {
      const length = Math.hypot(r[0] - q[0], r[1] - q[1]);
      return [p[0] + (off * (r[1] - q[1])) / length, p[1] - (off * (r[0] - q[0])) / length];
    });
  });
}

/** Well inside a convex polygon? */
const isIn = ([x, y]: Point, hull: readonly Point[]): boolean =>
  hull.every(([px, py], k) => {
    const [qx, qy] = hull[(k + 1) % hull.length];
    return (qx - px) * (y - py) - (qy - py) * (x - px) > GRAZES * Math.hypot(qx - px, qy - py);
  });

/** The box of a piece that is all corner. */
function grownBox(hull: readonly Point[], off: number): Point[] {
  const { minX, minY, maxX, maxY } = growBox(emptyBox(), hull.flat());
  return [
    [minX - off, minY - off],
    [maxX + off, minY - off],
    [maxX + off, maxY + off],
    [minX - off, maxY + off],
  ];
}

/** What of a straight way lies in a convex polygon: where that begins, as a share, and how long it is, mm. (Cyrus and Beck.) */
function wayOver(a: Point, b: Point, hull: readonly Point[]): { from: number; length: number } | null {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  let [from, to] = [0, 1];
  for (let k = 0; k < hull.length; k++) {
    const [p, q] = [hull[k], hull[(k + 1) % hull.length]];
    // Inside is on the left of every side.
    const [nx, ny] = [p[1] - q[1], q[0] - p[0]];
    const [out, along] = [nx * (a[0] - p[0]) + ny * (a[1] - p[1]), nx * dx + ny * dy];
    if (Math.abs(along) < 1e-12) {
      if (out < 0) return null;
    } else if (along > 0) from = Math.max(from, -out / along);
    else to = Math.min(to, -out / along);
  }
  return to > from ? { from, length: (to - from) * Math.hypot(dx, dy) } : null;
}

/** Crossings at travel height before the moves they lead to; what spans and events say stays with the moves it was said of. */
function withDetours(path: Toolpath, detours: ReadonlyMap<number, readonly Point[]>, clearance: number): Toolpath {
  const total = path.kind.length + [...detours.values()].reduce((sum, { length }) => sum + length, 0);
  const out: Toolpath = {
    kind: new Uint8Array(total),
    x: new Float64Array(total),
    y: new Float64Array(total),
    z: new Float64Array(total),
    feed: new Float64Array(total),
    ...(path.power ? { power: new Float64Array(total).fill(NaN) } : {}),
    spans: [],
  };
  const moved = new Int32Array(path.kind.length + 1);
  let n = 0;
  for (let i = 0; i < path.kind.length; i++) {
    moved[i] = n;
    for (const [x, y] of detours.get(i) ?? []) {
      [out.kind[n], out.x[n], out.y[n], out.z[n]] = [RAPID, x, y, clearance];
      n++;
    }
    for (const what of ['kind', 'x', 'y', 'z', 'feed'] as const) out[what][n] = path[what][i];
    if (path.power) out.power![n] = path.power[i];
    n++;
  }
  moved[path.kind.length] = n;
  out.spans = path.spans.map((span) => ({ ...span, start: moved[span.start], end: moved[span.end] }));
  if (path.events) out.events = path.events.map((event) => ({ ...event, at: moved[event.at] }));
  return out;
}
