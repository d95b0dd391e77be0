/**
 * Exact removal: what a bit leaves when it is swept along a toolpath, as the lower envelope of
 * its shape over every position, evaluated at the cell centres.
 *
 * A bit is a body of revolution (see bits): flat or ball at the point, then a cone rising k mm per
 * mm of radius, then straight sides. Swept along a straight move with slope m = dz/ds, the height
 * over a point at distance w beside and u along is the minimum over s of z0 + m·s + h(D),
 * D = sqrt((u-s)² + w²), h the bit's own height. With g = m/k the cone's minimum lies at
 * s* = u - |w|·g/sqrt(1-g²), that of a ball of radius R at s* = u - m·sqrt((R²-w²)/(1+m²)), each
 * clamped to the move; |g| >= 1 leaves the lower end alone. (Derived.)
 *
 * For a sharp cone the area where s* is inside the move is two planar quads, and only the wedges
 * on the outer side of each joint need the cone itself; that is what makes long carves cheap.
 */
import { heightAt, radiusAt, shapeOf, type BitShape } from '../bits/index.ts';
import { kindOf } from '../cuts/index.ts';
import type { ProcessName } from '../process/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { FEED, RAPID, type Toolpath } from '../toolpath/index.ts';
import { HeightMap } from './heightmap.ts';

/** What a cut takes away: a shape swept along moves, and how many of them belong to the first `i` rows of its toolpath. */
export interface Removal {
  path: Pick<Toolpath, 'kind' | 'x' | 'y' | 'z'>;
  shape: BitShape;
  upTo(i: number): number;
}

/** What each process does to a board: a router takes away what its bit goes through, a torch what its arc burns, down through the plate. */
const REMOVES: Record<ProcessName, (planned: PlannedCut, written: boolean) => Removal> = {
  router: (planned) => ({ path: scratched(planned), shape: shapeOf(planned.bit), upTo: (i) => i }),
  torch: (planned, written) => {
    const { kerf = 0, arc, depth = 0 } = planned.torch ?? {};
    return { ...arcWay((written ? null : arc) ?? planned.path, depth), shape: { ...shapeOf(planned.bit), outer: kerf / 2, flat: kerf / 2 } };
  },
  laser: (planned) => {
    const { width = 0, depth = 0 } = planned.beam ?? {};
    // What only marks takes nothing away.
    const { path } = planned;
    const dark = { ...path, power: path.power?.map((power) => (depth > 0 && power > 0 ? power : NaN)) };
    return { ...arcWay(dark, depth), shape: { ...shapeOf(planned.bit), outer: width / 2, flat: width / 2 } };
  },
};

/** @param way where the work really is done, or `as written`: that differs where the machine itself moves a torch off its path by half the kerf */
export const removalOf = (planned: PlannedCut, way: 'real' | 'as written' = 'real'): Removal =>
  REMOVES[kindOf(planned.cut).process](planned, way === 'as written');

/** Carves all cuts of a plan, each as its own process does. */
export function carvePlan(map: HeightMap, cuts: readonly PlannedCut[]): HeightMap {
  for (const planned of cuts) {
    const { path, shape } = removalOf(planned);
    carve(map, path, shape);
  }
  return map;
}

/** How deep the work goes at each row of a cut's toolpath, as it is drawn: Z of the bit, or the depth the arc goes down to. */
export function workHeights(planned: PlannedCut): Float64Array {
  const { path, torch, beam } = planned;
  const depth = torch?.depth ?? beam?.depth;
  if (depth === undefined) return scratched(planned).z;
  return path.z.map((z, i) => (path.power && path.power[i] > 0 ? -depth : z));
}

/** A bit that only marks the surface goes no deeper than that, whatever Z is programmed. */
function scratched({ cut, path }: PlannedCut): Toolpath {
  const { scratchDepth } = kindOf(cut);
  return scratchDepth === undefined ? path : { ...path, z: path.z.map((z) => Math.max(z, -scratchDepth)) };
}

/** The ways of a torch with its arc on; between them it is lifted straight up. */
function arcWay(path: Toolpath, depth: number): Omit<Removal, 'shape'> {
  const [kind, x, y, z]: number[][] = [[], [], [], []];
  const until = new Uint32Array(path.kind.length + 1);
  const put = (how: number, px: number, py: number, pz: number) => {
    kind.push(how);
    x.push(px);
    y.push(py);
    z.push(pz);
  };
  for (let i = 0; i < path.kind.length; i++) {
    if (i > 0 && path.power !== undefined && !Number.isNaN(path.power[i])) {
      const [px, py] = [path.x[i - 1], path.y[i - 1]];
      if (Number.isNaN(path.power[i - 1])) {
        // Where it is pierced.
        if (x.length > 0) put(RAPID, x.at(-1)!, y.at(-1)!, 1);
        put(RAPID, px, py, 1);
        put(FEED, px, py, -depth);
      }
      put(FEED, path.x[i], path.y[i], -depth);
    }
    until[i + 1] = x.length;
  }
  const of = (values: number[]) => Float64Array.from(values);
  return { path: { kind: Uint8Array.from(kind), x: of(x), y: of(y), z: of(z) }, upTo: (i) => until[i] };
}

/** Sweeps a bit along moves `from`..`to` (all by default) and lowers the map to what it leaves. */
export function carve(map: HeightMap, path: Pick<Toolpath, 'kind' | 'x' | 'y' | 'z'>, shape: BitShape, from = 0, to = path.kind.length): void {
  const sweep = new Sweep(map, shape);
  const cone = shape.flat < 1e-9 && shape.ball === 0 && shape.tangent > 0;
  const straight = shape.ball === 0 && shape.tangent === 0;
  let chained = false;
  for (let i = Math.max(1, from); i < to; i++) {
    if (path.z[i - 1] >= 0 && path.z[i] >= 0) {
      if (chained) sweep.endChain();
      chained = false;
      continue;
    }
    // A vertical rapid out of the wood removes nothing new; anything else under the surface does.
    if (path.kind[i] === RAPID && path.x[i] === path.x[i - 1] && path.y[i] === path.y[i - 1] && path.z[i] > path.z[i - 1]) {
      if (chained) sweep.endChain();
      chained = false;
      continue;
    }
    if (cone) {
      if (!chained) sweep.startChain(path.x[i - 1], path.y[i - 1], path.z[i - 1]);
      sweep.coneTo(path.x[i], path.y[i], path.z[i]);
      chained = true;
    } else if (straight && path.z[i] === path.z[i - 1]) sweep.stadium(path.x[i - 1], path.y[i - 1], path.x[i], path.y[i], path.z[i]);
    else sweep.frustum(path.x[i - 1], path.y[i - 1], path.z[i - 1], path.x[i], path.y[i], path.z[i]);
  }
  if (chained) sweep.endChain();
}

class Sweep {
  private readonly map: HeightMap;
  private readonly shape: BitShape;
  /** Rise of the flank, mm per mm of radius; Infinity for straight sides. */
  private readonly k: number;
  private px = 0;
  private py = 0;
  private pz = 0;
  // Where the last move's reach ends on its left and right at the joint: unit vectors.
  private joined = false;
  private inUX = 0;
  private inUY = 0;
  private inTilt = 0;
  private inLX = 0;
  private inLY = 0;
  private inRX = 0;
  private inRY = 0;
  private readonly quad = new Float64Array(10);
  private readonly low = new Float64Array(4);
  private readonly high = new Float64Array(4);
  private readonly at = new Float64Array(4);
  private readonly slope = new Float64Array(4);

  constructor(map: HeightMap, shape: BitShape) {
    this.map = map;
    this.shape = shape;
    this.k = shape.tangent > 0 ? 1 / shape.tangent : Infinity;
  }

  startChain(x: number, y: number, z: number): void {
    this.px = x;
    this.py = y;
    this.pz = z;
    this.joined = false;
  }

  endChain(): void {
    this.disc(this.px, this.py, this.pz);
  }

  /** A move of a chain with a sharp cone. */
  coneTo(x: number, y: number, z: number): void {
    const x0 = this.px;
    const y0 = this.py;
    const z0 = this.pz;
    this.px = x;
    this.py = y;
    this.pz = z;
    const dx = x - x0;
    const dy = y - y0;
    const length = Math.sqrt(dx * dx + dy * dy);
    const { k } = this;
    const m = length > 1e-12 ? (z - z0) / length : Infinity;
    const g = m / k;
    if (!(Math.abs(g) < 0.9999)) {
      // So steep that only the ends count.
      this.disc(x0, y0, z0);
      this.joined = false;
      if (z < z0) this.disc(x, y, z);
      return;
    }
    const ux = dx / length;
    const uy = dy / length;
    const c = Math.sqrt(1 - g * g);
    // Rays on which s* reaches an end of the move: normals turned forward by the slope.
    const lx = -uy * c + ux * g;
    const ly = ux * c + uy * g;
    const rx = uy * c + ux * g;
    const ry = -ux * c + uy * g;
    if (!this.joined) this.disc(x0, y0, z0);
    else {
      // The rays stand at acos(g) from the direction of travel, left and right.
      const turn = Math.atan2(this.inUX * uy - this.inUY * ux, this.inUX * ux + this.inUY * uy);
      const tilt = this.inTilt - Math.acos(g);
      this.wedge(x0, y0, z0, tilt - turn, lx, ly, this.inLX, this.inLY);
      this.wedge(x0, y0, z0, tilt + turn, this.inRX, this.inRY, rx, ry);
    }
    // Height over the left side is z0 + m·u + w·sqrt(k²-m²): a plane, falling towards the line.
    const rise = Math.sqrt(k * k - m * m);
    const reach0 = Math.min(this.shape.outer, Math.max(0, -z0 / k));
    const reach1 = Math.min(this.shape.outer, Math.max(0, -z / k));
    this.plane(x0, y0, z0, ux, uy, m, rise, lx, ly, -uy, ux, x, y, reach0, reach1);
    this.plane(x0, y0, z0, ux, uy, m, rise, rx, ry, uy, -ux, x, y, reach0, reach1);
    this.joined = true;
    this.inUX = ux;
    this.inUY = uy;
    this.inTilt = Math.acos(g);
    this.inLX = lx;
    this.inLY = ly;
    this.inRX = rx;
    this.inRY = ry;
  }

  /** One side of a move: quad between the line and the lines of equal reach, filled with a plane. */
  private plane(
    x0: number,
    y0: number,
    z0: number,
    ux: number,
    uy: number,
    m: number,
    rise: number,
    ax: number,
    ay: number,
    nx: number,
    ny: number,
    x1: number,
    y1: number,
    reach0: number,
    reach1: number,
  ): void {
    if (reach0 <= 0 && reach1 <= 0) return;
    const q = this.quad;
    q[0] = x0;
    q[1] = y0;
    q[2] = x1;
    q[3] = y1;
    q[4] = x1 + ax * reach1;
    q[5] = y1 + ay * reach1;
    q[6] = x0 + ax * reach0;
    q[7] = y0 + ay * reach0;
    q[8] = q[0];
    q[9] = q[1];
    // z = z0 + m·((p - p0)·u) + rise·((p - p0)·n)
    const gx = m * ux + rise * nx;
    const gy = m * uy + rise * ny;
    this.fillQuad(gx, gy, z0 - gx * x0 - gy * y0);
  }

  private fillQuad(gx: number, gy: number, c: number): void {
    const { map, quad: q } = this;
    const { cell, columns, rows, height } = map;
    const minY = Math.min(q[1], q[3], q[5], q[7]);
    const maxY = Math.max(q[1], q[3], q[5], q[7]);
    const j0 = Math.max(0, Math.ceil(minY / cell - 0.5 - 1e-9));
    const j1 = Math.min(rows - 1, Math.floor(maxY / cell - 0.5 + 1e-9));
    if (j0 > j1) return;
    // Edges once for all rows: from where to where in y, and x as a line over y.
    const { low, high, at, slope } = this;
    for (let e = 0; e < 4; e++) {
      const [xa, ya, xb, yb] = [q[2 * e], q[2 * e + 1], q[2 * e + 2], q[2 * e + 3]];
      low[e] = (ya < yb ? ya : yb) - 1e-12;
      high[e] = (ya < yb ? yb : ya) + 1e-12;
      // Of a level edge the ends are those of its neighbours.
      slope[e] = Math.abs(yb - ya) < 1e-6 ? 0 : (xb - xa) / (yb - ya);
      at[e] = xa - slope[e] * ya;
    }
    for (let j = j0; j <= j1; j++) {
      const y = (j + 0.5) * cell;
      let left = Infinity;
      let right = -Infinity;
      for (let e = 0; e < 4; e++) {
        if (y < low[e] || y > high[e]) continue;
        const x = at[e] + slope[e] * y;
        if (x < left) left = x;
        if (x > right) right = x;
      }
      if (left > right) continue;
      const i0 = Math.max(0, Math.ceil(left / cell - 0.5 - 1e-9));
      const i1 = Math.min(columns - 1, Math.floor(right / cell - 0.5 + 1e-9));
      const base = j * columns;
      let z = c + gy * y + gx * (i0 + 0.5) * cell;
      const dz = gx * cell;
      for (let i = base + i0; i <= base + i1; i++, z += dz) if (z < height[i]) height[i] = z;
    }
  }

  /**
   * The cone standing at a joint, over the wedge of the given angle from direction a counter-
   * clockwise to direction b. No angle: the two moves overlap there. Half a turn or more happens
   * where the bit comes down and turns back: then the whole cone, which is never wrong.
   */
  private wedge(x: number, y: number, z: number, angle: number, ax: number, ay: number, bx: number, by: number): void {
    if (angle <= 0) return;
    if (angle > 3.14) this.disc(x, y, z);
    else this.coneRows(x, y, z, ax, ay, bx, by);
  }

  private disc(x: number, y: number, z: number): void {
    this.coneRows(x, y, z, 0, 0, 0, 0);
  }

  private coneRows(x: number, y: number, z: number, ax: number, ay: number, bx: number, by: number): void {
    const { map, k } = this;
    const { cell, columns, rows, height } = map;
    const { outer } = this.shape;
    const reach = Math.min(outer, -z / k);
    if (!(reach > 0)) return;
    const whole = ax === 0 && ay === 0;
    const slack = 1e-9;
    const j0 = Math.max(0, Math.ceil((y - reach) / cell - 0.5));
    const j1 = Math.min(rows - 1, Math.floor((y + reach) / cell - 0.5));
    for (let j = j0; j <= j1; j++) {
      const wy = (j + 0.5) * cell - y;
      const half = Math.sqrt(Math.max(0, reach * reach - wy * wy));
      let left = -half;
      let right = half;
      if (!whole) {
        // Left of ray a: ax·wy - ay·wx >= 0; right of ray b: bx·wy - by·wx <= 0.
        if (ay > 1e-12) right = Math.min(right, (ax * wy) / ay + slack);
        else if (ay < -1e-12) left = Math.max(left, (ax * wy) / ay - slack);
        else if (ax * wy < -slack) continue;
        if (by > 1e-12) left = Math.max(left, (bx * wy) / by - slack);
        else if (by < -1e-12) right = Math.min(right, (bx * wy) / by + slack);
        else if (bx * wy > slack) continue;
      }
      const i0 = Math.max(0, Math.ceil((x + left) / cell - 0.5));
      const i1 = Math.min(columns - 1, Math.floor((x + right) / cell - 0.5));
      const base = j * columns;
      for (let i = i0; i <= i1; i++) {
        const wx = (i + 0.5) * cell - x;
        const h = z + k * Math.sqrt(wx * wx + wy * wy);
        if (h < height[base + i]) height[base + i] = h;
      }
    }
  }

  /** A straight bit on a level move leaves a flat stadium: two discs and the strip between, row by row. */
  stadium(x0: number, y0: number, x1: number, y1: number, z: number): void {
    if (z >= 0) return;
    const { map, shape } = this;
    const { cell, columns, rows, height } = map;
    const r = shape.outer;
    const length = Math.hypot(x1 - x0, y1 - y0);
    // The two sides of the strip run beside the move; of none there is only a disc.
    const [nx, ny] = length > 1e-12 ? [(-(y1 - y0) / length) * r, ((x1 - x0) / length) * r] : [0, 0];
    const j0 = Math.max(0, Math.ceil((Math.min(y0, y1) - r) / cell - 0.5));
    const j1 = Math.min(rows - 1, Math.floor((Math.max(y0, y1) + r) / cell - 0.5));
    for (let j = j0; j <= j1; j++) {
      const y = (j + 0.5) * cell;
      let left = Infinity;
      let right = -Infinity;
      const reach = (x: number) => {
        if (x < left) left = x;
        if (x > right) right = x;
      };
      const disc = (cx: number, cy: number) => {
        const square = r * r - (y - cy) ** 2;
        if (square < 0) return;
        const half = Math.sqrt(square);
        reach(cx - half);
        reach(cx + half);
      };
      disc(x0, y0);
      disc(x1, y1);
      const side = (sx: number, sy: number) => {
        const [ya, yb] = [y0 + sy, y1 + sy];
        if (Math.abs(yb - ya) > 1e-9 && y >= Math.min(ya, yb) && y <= Math.max(ya, yb)) reach(x0 + sx + ((y - ya) / (yb - ya)) * (x1 - x0));
      };
      side(nx, ny);
      side(-nx, -ny);
      if (left > right) continue;
      const base = j * columns;
      const i1 = Math.min(columns - 1, Math.floor((right + 1e-9) / cell - 0.5));
      for (let i = Math.max(0, Math.ceil((left - 1e-9) / cell - 0.5)); i <= i1; i++) if (z < height[base + i]) height[base + i] = z;
    }
  }

  /** Any bit along one move, cell by cell; those but the sharp cone make few moves. */
  frustum(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number): void {
    const { map, shape, k } = this;
    const { cell, columns, rows, height } = map;
    const low = Math.min(z0, z1);
    const reach = radiusAt(shape, -low);
    if (!(reach > 0) || low >= 0) return;
    const dx = x1 - x0;
    const dy = y1 - y0;
    const length = Math.hypot(dx, dy);
    const ux = length > 1e-12 ? dx / length : 1;
    const uy = length > 1e-12 ? dy / length : 0;
    const m = length > 1e-12 ? (z1 - z0) / length : 0;
    const zStart = length > 1e-12 ? z0 : low;
    const g = Number.isFinite(k) ? m / k : 0;
    const j0 = Math.max(0, Math.ceil((Math.min(y0, y1) - reach) / cell - 0.5));
    const j1 = Math.min(rows - 1, Math.floor((Math.max(y0, y1) + reach) / cell - 0.5));
    for (let j = j0; j <= j1; j++) {
      const cy = (j + 0.5) * cell - y0;
      // Cells of the row within reach of the line: |w| <= reach.
      let left = Math.min(x0, x1) - reach;
      let right = Math.max(x0, x1) + reach;
      if (Math.abs(uy) > 1e-9) {
        const a = x0 + (cy * ux - reach) / uy;
        const b = x0 + (cy * ux + reach) / uy;
        left = Math.max(left, Math.min(a, b));
        right = Math.min(right, Math.max(a, b));
      }
      const i0 = Math.max(0, Math.ceil(left / cell - 0.5));
      const i1 = Math.min(columns - 1, Math.floor(right / cell - 0.5));
      const base = j * columns;
      for (let i = i0; i <= i1; i++) {
        const cx = (i + 0.5) * cell - x0;
        const u = cx * ux + cy * uy;
        const w = Math.abs(cx * uy - cy * ux);
        if (w > reach) continue;
        const h = lowestOver(u, w, length, zStart, m, g, shape);
        if (h < height[base + i]) height[base + i] = h;
      }
    }
  }
}

/**
 * Lowest height of the swept bit over a point u along and w beside a move of the given length.
 * Infinity where the bit does not reach. The function of s is convex, so the free minimum is
 * clamped to where the bit covers the point and to the move.
 */
function lowestOver(u: number, w: number, length: number, z0: number, m: number, g: number, shape: BitShape): number {
  const { flat, outer } = shape;
  const cover = outer * outer - w * w;
  if (cover < 0) return Infinity;
  const q = Math.sqrt(cover);
  const lo = Math.max(0, u - q);
  const hi = Math.min(length, u + q);
  if (lo > hi) return Infinity;
  const s = Math.min(hi, Math.max(lo, lowestAlong()));
  return z0 + m * s + heightAt(shape, Math.min(outer, Math.sqrt((u - s) * (u - s) + w * w)));

  function lowestAlong(): number {
    if (m === 0) return u;
    const { ball, tangent } = shape;
    if (ball > w) {
      const back = m * Math.sqrt((ball * ball - w * w) / (1 + m * m));
      const end = tangent > 0 ? (ball * ball) / (1 + tangent * tangent) : ball * ball;
      // The ball ends where the cone begins: cos² of half the angle is 1/(1+t²).
      if (back * back + w * w <= end) return u - back;
    }
    if (Math.abs(g) >= 1) return m > 0 ? lo : hi;
    const c = Math.sqrt(1 - g * g);
    if (g !== 0 && w / c >= flat) return u - (w * g) / c;
    return u - Math.sign(m) * Math.sqrt(Math.max(0, flat * flat - w * w));
  }
}
