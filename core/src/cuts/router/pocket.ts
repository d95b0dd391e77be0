/**
 * Pocket: everything inside the drawn line down to a depth. The middle of the bit stays in the
 * *free area* - the drawing shrunk by half the cutting width - and passes a step-over apart sweep
 * it: rings inwards from the wall, or parallel lines and a pass along the wall. Where passes wider
 * apart than half the bit leave slivers standing, these are found and cut too.
 */
import { cuttingWidth, stepOver } from '../../bits/index.ts';
import {
  backwards,
  longestEdge,
  regionArea,
  clipLines,
  contoursOf,
  intersect,
  offset,
  perimeter,
  regionsBox,
  strokeRegions,
  subtract,
  type Contour,
  type Region,
} from '../../geometry/index.ts';
import type { Bit, PocketCut } from '../../job/index.ts';
import { orderRuns, PathWriter, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';

export interface PocketPlan {
  path: Toolpath;
  lifts: number;
  /** Area that the bit cannot reach, mm²: corners and narrow places. */
  unreached: number;
  /** Shapes the bit does not fit into at all. */
  lost: number;
}

/** Steepest way down along a pass, mm per mm (common practice: a few degrees). */
const RAMP = Math.tan((4 * Math.PI) / 180);
/** Slivers smaller than this are dust, mm². */
const DUST = 1e-3;

/** A run of passes linked at depth: points x y, one after the other, and where the bit first goes round. */
interface Chain extends Run {
  xy: number[];
  /** Closed passes in it, from and to which number; none when the run is open. The bit can ramp down along the first. */
  laps: [number, number][];
  /** Room round the first point for a helix, mm. */
  room: number;
}

/**
 * @param cleared the bit that cleared before, for rest clearing
 */
export function planPocket(regions: readonly Region[], cut: PocketCut, bit: Bit, travel: Travel, cleared?: Bit): PocketPlan {
  const r = cuttingWidth(bit) / 2;
  const step = stepOver(bit, cut.stepover);
  const writer = new PathWriter(travel);
  let lifts = 0;
  let unreached = 0;
  let lost = 0;
  for (const region of regions) {
    const wall = offset([region], -r);
    const reached = offset(wall, r);
    unreached += area(subtract([region], reached));
    if (wall.length === 0) {
      lost++;
      continue;
    }
    let free = cut.allowance > 0 ? offset([region], -(r + cut.allowance)) : wall;
    if (cleared) {
      const before = cuttingWidth(cleared) / 2;
      const left = subtract(reached, offset(offset([region], -before), before));
      // Where the bit has to stand to reach what was left; specks of rounding are no work.
      const real = left.filter((part) => area([part]) > DUST && (2 * area([part])) / perimeter(part.outer.xy) > 0.01);
      free = intersect(free, offset(real, r));
    }
    const chains = cut.pattern === 'lines' ? lines(free, step, cut.angle) : rings(free, step);
    chains.push(...slivers(free, chains, r));
    if (cut.direction === 'conventional') for (const chain of chains) turn(chain);
    const reach = cut.depth - cut.startDepth;
    const passes = Math.max(1, Math.ceil(reach / cut.depthPerPass - 1e-9));
    const order = orderRuns(chains);
    for (let pass = 1; pass <= passes; pass++) {
      const above = -(cut.startDepth + (reach * (pass - 1)) / passes);
      const z = -(cut.startDepth + (reach * pass) / passes);
      for (const { run } of order) {
        writer.begin(cut.id, `pocket, pass ${pass} of ${passes}`);
        cutChain(writer, chains[run], above, z, r, cut.entry);
        writer.lift();
        lifts++;
      }
    }
    if (cut.allowance > 0)
      for (const { xy } of wall.flatMap(contoursOf)) {
        const chain = loop(cut.direction === 'conventional' ? backwards(xy) : xy);
        writer.begin(cut.id, 'wall');
        cutChain(writer, chain, -cut.depth + Math.min(cut.depth, 1), -cut.depth, r, 'ramp');
        writer.lift();
        lifts++;
      }
  }
  return { path: writer.finish(), lifts, unreached, lost };
}

const area = (regions: readonly Region[]): number => regions.reduce((sum, region) => sum + regionArea(region), 0);

/** A closed pass as a chain that ends where it began. */
function loop(xy: Float64Array): Chain {
  const points = [...xy, xy[0], xy[1]];
  return chainOf(points, [[0, points.length]]);
}

function chainOf(xy: number[], laps: [number, number][]): Chain {
  return { xy, laps, room: 0, startX: xy[0], startY: xy[1], endX: xy[xy.length - 2], endY: xy[xy.length - 1], reversible: false };
}

/** The other way round: every lap by itself, since each ends where it began. */
function turn(chain: Chain): void {
  if (chain.laps.length > 0) chain.xy = chain.laps.flatMap(([from, to]) => [...backwards(Float64Array.from(chain.xy.slice(from, to)))]);
}

/** Rings from the inside out: each innermost ring begins a chain that goes on to the ring around it, and so on to the wall. */
function rings(free: readonly Region[], step: number): Chain[] {
  const levels: Contour[][] = [];
  for (let ring: readonly Region[] = free; ring.length > 0 && levels.length < 20_000; ring = offset(free, -step * levels.length))
    levels.push(ring.flatMap(contoursOf));
  const chains: (Chain & { level: number })[] = [];
  for (let level = levels.length - 1; level >= 0; level--) {
    const taken = new Set<Chain>();
    for (const { xy } of levels[level]) {
      if (perimeter(xy) < 1e-3) continue;
      // A chain that ended one ring further in, and lies against this one.
      let best: { chain: Chain & { level: number }; at: number } | null = null;
      for (const chain of chains) {
        if (chain.level !== level + 1 || taken.has(chain)) continue;
        const near = nearestOn(xy, chain.endX, chain.endY);
        if (near.distance <= 1.02 * step + 0.01) {
          best = { chain, at: near.at };
          break;
        }
      }
      const room = level * step;
      if (!best) {
        chains.push({ ...loop(startLow(xy)), room, level });
        continue;
      }
      const { chain } = best;
      taken.add(chain);
      const from = chain.xy.length;
      chain.xy.push(...from0(xy, best.at));
      chain.laps.push([from, chain.xy.length]);
      chain.endX = chain.xy[chain.xy.length - 2];
      chain.endY = chain.xy[chain.xy.length - 1];
      chain.level = level;
    }
  }
  return chains;
}

/** The point of a closed line nearest to another: how far, and how far along in edges. */
function nearestOn(xy: Float64Array, x: number, y: number): { distance: number; at: number } {
  let best = Infinity;
  let at = 0;
  const n = xy.length / 2;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const [ax, ay] = [xy[2 * i], xy[2 * i + 1]];
    const [dx, dy] = [xy[2 * j] - ax, xy[2 * j + 1] - ay];
    const length = dx * dx + dy * dy;
    const f = length > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / length)) : 0;
    const d = (ax + f * dx - x) ** 2 + (ay + f * dy - y) ** 2;
    if (d < best) {
      best = d;
      at = i + f;
    }
  }
  return { distance: Math.sqrt(best), at };
}

/** A closed line from a place on it all the way round. */
function from0(xy: Float64Array, at: number): number[] {
  const n = xy.length / 2;
  const i = Math.floor(at) % n;
  const f = at - Math.floor(at);
  const j = (i + 1) % n;
  const start = [xy[2 * i] + f * (xy[2 * j] - xy[2 * i]), xy[2 * i + 1] + f * (xy[2 * j + 1] - xy[2 * i + 1])];
  const out = [...start];
  for (let k = 0; k < n; k++) {
    const m = (i + 1 + k) % n;
    out.push(xy[2 * m], xy[2 * m + 1]);
  }
  out.push(...start);
  return out;
}

/** A closed line begun in the middle of its longest edge. */
function startLow(xy: Float64Array): Float64Array {
  return Float64Array.from(from0(xy, longestEdge(xy) + 0.5).slice(0, -2));
}

/** Parallel lines back and forth, linked along the wall where the way between two ends is free, then the wall itself. */
function lines(free: readonly Region[], step: number, angle: number): Chain[] {
  const a = (angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  const box = regionsBox(
    free.map(({ outer }) => ({
      outer: { ...outer, xy: outer.xy.map((_, i) => (i % 2 ? -sin * outer.xy[i - 1] + cos * outer.xy[i] : cos * outer.xy[i] + sin * outer.xy[i + 1])) },
      holes: [],
    })),
  );
  const rows: { from: [number, number]; to: [number, number] }[] = [];
  const back = (u: number, v: number): [number, number] => [cos * u - sin * v, sin * u + cos * v];
  const count = Math.max(1, Math.ceil((box.maxY - box.minY) / step));
  for (let k = 0; k < count; k++) {
    // The first and the last lie half a step inside: the pass along the wall takes the rest.
    const v = box.minY + ((k + 0.5) * (box.maxY - box.minY)) / count;
    const [x0, y0] = back(box.minX - 1, v);
    const [x1, y1] = back(box.maxX + 1, v);
    const cut = clipLines([{ xy: Float64Array.of(x0, y0, x1, y1), smooth: new Uint8Array(2) }], free).map(({ xy }) => xy);
    for (const xy of cut) {
      const [ax, ay, bx, by] = [xy[0], xy[1], xy[xy.length - 2], xy[xy.length - 1]];
      const forward = cos * (bx - ax) + sin * (by - ay) > 0;
      rows.push(forward ? { from: [ax, ay], to: [bx, by] } : { from: [bx, by], to: [ax, ay] });
    }
  }
  const chains: Chain[] = [];
  const used = new Uint8Array(rows.length);
  for (let i = 0; i < rows.length; i++) {
    if (used[i]) continue;
    used[i] = 1;
    const xy = [...rows[i].from, ...rows[i].to];
    let ahead = true;
    for (let end = rows[i].to; ;) {
      const next = rows.findIndex((row, j) => {
        if (used[j]) return false;
        const [px, py] = ahead ? row.to : row.from;
        return Math.hypot(px - end[0], py - end[1]) < 3 * step && isFree(free, end, [px, py]);
      });
      if (next < 0) break;
      used[next] = 1;
      ahead = !ahead;
      const [enter, leave] = ahead ? [rows[next].from, rows[next].to] : [rows[next].to, rows[next].from];
      xy.push(...enter, ...leave);
      end = leave;
    }
    chains.push(chainOf(xy, []));
  }
  for (const { xy } of free.flatMap(contoursOf)) if (perimeter(xy) >= 1e-3) chains.push(loop(startLow(xy)));
  return chains;
}

/** Does the straight way between two points stay in the free area? */
function isFree(free: readonly Region[], [ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]): boolean {
  const length = Math.hypot(bx - ax, by - ay);
  if (length < 1e-6) return true;
  const inside = clipLines([{ xy: Float64Array.of(ax, ay, bx, by), smooth: new Uint8Array(2) }], free).reduce(
    (sum, { xy }) => sum + Math.hypot(xy[xy.length - 2] - xy[0], xy[xy.length - 1] - xy[1]),
    0,
  );
  return inside > length - 1e-3;
}

/** What the passes leave standing inside the free area's reach: each sliver's own outline, which the bit can follow. */
function slivers(free: readonly Region[], chains: readonly Chain[], r: number): Chain[] {
  const swept = strokeRegions(
    chains.map(({ xy }) => ({ xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2) })),
    2 * r,
    false,
  );
  return subtract(free, swept)
    .filter((part) => area([part]) > DUST)
    .flatMap((part) => contoursOf(part).map(({ xy }) => loop(xy)));
}

/** Comes down as asked - or as fits - and follows a chain at depth. */
function cutChain(writer: PathWriter, chain: Chain, above: number, z: number, r: number, entry: PocketCut['entry']): void {
  const { xy } = chain;
  const drop = above - z;
  // The circle lies through the first point: twice its radius must find room.
  const helix = Math.min(0.5 * r, chain.room / 2);
  const [first] = chain.laps;
  const how = entry !== 'auto' ? entry : helix >= 0.2 * r ? 'helix' : first && lengthOf(xy, ...first) > 2 * r ? 'ramp' : 'straight';
  if (how === 'helix' && helix >= 0.05 * r && drop > 0) {
    // Round the start of the first pass, where the free area reaches at least this far on all sides.
    const turns = Math.max(1, Math.ceil(drop / (2 * Math.PI * helix * RAMP)));
    const [cx, cy] = [xy[0] - helix, xy[1]];
    writer.approach(xy[0], xy[1], above);
    for (let k = 1; k <= turns * 24; k++) {
      const a = (2 * Math.PI * k) / 24;
      writer.cutTo(cx + helix * Math.cos(a), cy + helix * Math.sin(a), above - (drop * k) / (turns * 24));
    }
  } else if (how !== 'straight' && first && drop > 0) {
    writer.approach(xy[0], xy[1], above);
    ramp(writer, xy, ...first, above, z);
  } else writer.approach(xy[0], xy[1], z);
  for (let i = 0; i < xy.length; i += 2) writer.cutTo(xy[i], xy[i + 1], z);
}

const lengthOf = (xy: readonly number[], from: number, to: number): number => {
  let sum = 0;
  for (let i = from + 2; i < to; i += 2) sum += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
  return sum;
};

/** Down along the first lap, as often round as it takes. */
function ramp(writer: PathWriter, xy: readonly number[], from: number, to: number, above: number, z: number): void {
  const lap = lengthOf(xy, from, to);
  if (lap < 1e-6) return;
  const laps = Math.max(1, Math.ceil((above - z) / (lap * RAMP)));
  let gone = 0;
  for (let k = 0; k < laps; k++)
    for (let i = from + 2; i < to; i += 2) {
      gone += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
      writer.cutTo(xy[i], xy[i + 1], above - ((above - z) * gone) / (laps * lap));
    }
}
