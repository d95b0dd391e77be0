/**
 * A second reckoning of what a bit leaves, apart from the code it checks: the bit as a curve written down
 * from its drawing, a move as the set of its positions, a place in the wood as the lowest of the bit over
 * all of them. Slow, plain, and of one place at a time. (Derived: plain geometry.)
 */
import type { Bit } from '../job/index.ts';
import { RAPID, type Toolpath } from '../toolpath/index.ts';

/** Height of a bit's side above its lowest point at a distance from its axis; Infinity beyond it. */
export function sideOf(bit: Bit): (r: number) => number {
  const half = (degrees: number) => (degrees * Math.PI) / 360;
  switch (bit.kind) {
    case 'v':
    case 'tapered':
    case 'engraving': {
      const a = half(bit.angle);
      const R = bit.tipRadius;
      const outer = bit.diameter / 2;
      if (R > 0)
        // A ball of radius R sitting in the cone touches it at height R(1 - sin a), R cos a from the axis.
        return (r) =>
          r > outer ? Infinity : r <= R * Math.cos(a) ? R - Math.sqrt(R * R - r * r) : R * (1 - Math.sin(a)) + (r - R * Math.cos(a)) / Math.tan(a);
      return (r) => (r > outer ? Infinity : Math.max(0, r - bit.tipFlat / 2) / Math.tan(a));
    }
    case 'drill':
      return (r) => (r > bit.diameter / 2 ? Infinity : r / Math.tan(half(bit.pointAngle)));
    case 'ball': {
      const R = (bit.measuredWidth ?? bit.diameter) / 2;
      return (r) => (r > R ? Infinity : R - Math.sqrt(R * R - r * r));
    }
    case 'drag':
      return (r) => (r > bit.lineWidth / 2 ? Infinity : 0);
    default: {
      const R = (bit.measuredWidth ?? bit.diameter) / 2;
      return (r) => (r > R ? Infinity : 0);
    }
  }
}

const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** How wide a bit is at most, from its axis. */
const reachOf = (bit: Bit): number => (bit.kind === 'drag' ? bit.lineWidth / 2 : Math.max(bit.diameter, bit.measuredWidth ?? 0) / 2);

/**
 * How deep the wood is gone at a place, mm below the top, after moves from..to of a path. The lowest of the bit
 * over a move is that of a convex function of the way along it: found by a golden section of the stretch where
 * the bit reaches the place at all.
 */
export function depthAt(path: Toolpath, bit: Bit, x: number, y: number, from = 1, to = path.kind.length): number {
  const side = sideOf(bit);
  const flat = bit.kind === 'end' || bit.kind === 'surfacing' || bit.kind === 'drag';
  const outer = reachOf(bit) + 1e-9;
  let lowest = 0;
  for (let i = Math.max(1, from); i < to; i++) {
    const z0 = path.z[i - 1];
    const z1 = path.z[i];
    if (Math.min(z0, z1) >= lowest) continue;
    const x0 = path.x[i - 1];
    const y0 = path.y[i - 1];
    const dx = path.x[i] - x0;
    const dy = path.y[i] - y0;
    const square = dx * dx + dy * dy;
    // Where along the move the axis is within the bit's reach of the place.
    let [a, b] = [0, 1];
    if (square > 0) {
      const middle = ((x - x0) * dx + (y - y0) * dy) / square;
      const off = Math.abs((x - x0) * dy - (y - y0) * dx) / Math.sqrt(square);
      if (off > outer) continue;
      const along = Math.sqrt((outer * outer - off * off) / square);
      [a, b] = [Math.max(0, middle - along), Math.min(1, middle + along)];
      if (a > b) continue;
      // No place of the move lies lower than its lower end, seen from where the axis passes nearest.
      if (Math.min(z0, z1) + side(Math.min(outer - 2e-9, off)) >= lowest) continue;
    } else if (Math.hypot(x - x0, y - y0) > outer) continue;
    const away = (s: number) => Math.sqrt((x - x0 - s * dx) ** 2 + (y - y0 - s * dy) ** 2);
    const height = (s: number) => z0 + s * (z1 - z0) + side(Math.min(outer - 2e-9, away(s)));
    if (square === 0) {
      lowest = Math.min(lowest, Math.min(z0, z1) + side(Math.hypot(x - x0, y - y0)));
      continue;
    }
    // A level move is lowest where its axis passes nearest.
    if (z0 === z1) {
      lowest = Math.min(lowest, height(Math.max(0, Math.min(1, ((x - x0) * dx + (y - y0) * dy) / square))));
      continue;
    }
    let low = a;
    let high = b;
    // Under a flat bit the height is linear along the move: its ends are all there is.
    for (let k = flat ? 30 : 0; k < 30; k++) {
      const p = high - GOLDEN * (high - low);
      const q = low + GOLDEN * (high - low);
      if (height(p) <= height(q)) high = q;
      else low = p;
    }
    lowest = Math.min(lowest, height(a), height(b), height((low + high) / 2));
  }
  return 0 - lowest;
}

/** Is a place inside outlines, by how often a ray from it crosses them (even or odd)? */
export function isInside(outlines: readonly ArrayLike<number>[], x: number, y: number): boolean {
  let odd = false;
  for (const xy of outlines)
    for (let i = 0; i < xy.length; i += 2) {
      const [ax, ay, bx, by] = [xy[i], xy[i + 1], xy[(i + 2) % xy.length], xy[(i + 3) % xy.length]];
      if (ay > y === by > y) continue;
      if (x < ax + ((y - ay) / (by - ay)) * (bx - ax)) odd = !odd;
    }
  return odd;
}

/** Distance of a place from the nearest of the outlines. */
export function edgeDistance(outlines: readonly ArrayLike<number>[], x: number, y: number): number {
  let best = Infinity;
  for (const xy of outlines)
    for (let i = 0; i < xy.length; i += 2) {
      const [ax, ay] = [xy[i], xy[i + 1]];
      const [dx, dy] = [xy[(i + 2) % xy.length] - ax, xy[(i + 3) % xy.length] - ay];
      const f = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
      best = Math.min(best, Math.hypot(x - ax - f * dx, y - ay - f * dy));
    }
  return best;
}

/**
 * The most wood a single move takes away at a place, mm of depth, and where: the board as heights in cells,
 * lowered move by move. A rapid has a negative number.
 *
 * @param wall what lies so near wood that stays does not count: there a last pass may take its allowance
 */
export function greatestBite(
  path: Toolpath,
  bit: Bit,
  cell: number,
  wall = 0,
  outlines: readonly ArrayLike<number>[] = [],
): { bite: number; at: [number, number]; move: number } {
  const reach = reachOf(bit);
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < path.kind.length; i++) {
    if (path.z[i] >= 0) continue;
    [minX, maxX] = [Math.min(minX, path.x[i] - reach - wall - cell), Math.max(maxX, path.x[i] + reach + wall + cell)];
    [minY, maxY] = [Math.min(minY, path.y[i] - reach - wall - cell), Math.max(maxY, path.y[i] + reach + wall + cell)];
  }
  const columns = Math.max(0, Math.ceil((maxX - minX) / cell));
  const rows = Math.max(0, Math.ceil((maxY - minY) / cell));
  const height = new Float64Array(columns * rows);
  const most = new Float64Array(columns * rows);
  const by = new Int32Array(columns * rows);
  for (let i = 1; i < path.kind.length; i++) {
    const low = Math.min(path.z[i - 1], path.z[i]);
    if (low >= 0) continue;
    const [left, right] = [Math.min(path.x[i - 1], path.x[i]) - reach, Math.max(path.x[i - 1], path.x[i]) + reach];
    const [front, back] = [Math.min(path.y[i - 1], path.y[i]) - reach, Math.max(path.y[i - 1], path.y[i]) + reach];
    for (let j = Math.max(0, Math.floor((front - minY) / cell)); j < Math.min(rows, Math.ceil((back - minY) / cell)); j++)
      for (let k = Math.max(0, Math.floor((left - minX) / cell)); k < Math.min(columns, Math.ceil((right - minX) / cell)); k++) {
        const c = j * columns + k;
        if (low >= height[c]) continue;
        const depth = depthAt(path, bit, minX + (k + 0.5) * cell, minY + (j + 0.5) * cell, i, i + 1);
        if (-depth >= height[c]) continue;
        if (height[c] + depth > most[c]) [most[c], by[c]] = [height[c] + depth, path.kind[i] === RAPID ? -i : i];
        height[c] = -depth;
      }
  }
  const window = Math.ceil(wall / cell) + 1;
  const stays = (j: number, k: number) => {
    for (let v = -window; v <= window; v++)
      for (let u = -window; u <= window; u++) if (Math.hypot(u, v) * cell <= wall + 0.75 * cell && height[(j + v) * columns + k + u] === 0) return true;
    return false;
  };
  const worst: { bite: number; at: [number, number]; move: number } = { bite: 0, at: [0, 0], move: 0 };
  for (let j = 0; j < rows; j++)
    for (let k = 0; k < columns; k++) {
      const c = j * columns + k;
      if (most[c] <= worst.bite || (wall > 0 && stays(j, k))) continue;
      const at: [number, number] = [minX + (k + 0.5) * cell, minY + (j + 0.5) * cell];
      // The point of a sharp part may be thinner than a cell.
      if (wall > 0 && edgeDistance(outlines, ...at) < wall) continue;
      Object.assign(worst, { bite: most[c], at, move: by[c] });
    }
  return worst;
}

/** Places spread evenly over a box, the same every time. (The R2 sequence: powers of the plastic number.) */
export function* resumePoints(minX: number, minY: number, maxX: number, maxY: number, count: number): Generator<[number, number]> {
  const g = 1.324717957244746;
  for (let k = 1; k <= count; k++) yield [minX + ((0.5 + k / g) % 1) * (maxX - minX), minY + ((0.5 + k / (g * g)) % 1) * (maxY - minY)];
}
