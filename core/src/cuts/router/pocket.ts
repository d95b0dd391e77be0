/**
 * Pocket: everything inside the drawn line down to a depth. The middle of the bit stays in the
 * *free area* - the drawing shrunk by half the cutting width - and passes a step-over apart sweep
 * it: rings inwards from the wall, or parallel lines and a pass along the wall. Where passes wider
 * apart than half the bit leave slivers standing, these are found and cut too.
 */
import { cuttingWidth, stepOver } from '../../bits/index.ts';
import {
  backwards,
  begunOnStraight,
  contourOf,
  contoursOf,
  intersect,
  offset,
  perimeter,
  strokeRegions,
  subtract,
  uniteRegions,
  type Region,
} from '../../geometry/index.ts';
import { isFree, zigzags } from './parallels.ts';
import { areaOf, DUST, leftBy } from './rest.ts';
import { chainOf, loop, rings, type Chain } from './rings.ts';
import type { Bit, Board, PocketCut } from '../../job/index.ts';
import { costOfLift, orderRuns, PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';

export interface PocketPlan {
  path: Toolpath;
  lifts: number;
  /** Area that the bit cannot reach, mm²: corners and narrow places. */
  unreached: number;
  /** Shapes the bit does not fit into at all. */
  lost: number;
}

/** Steepest way down along a pass, mm per mm (common practice: a few degrees). */
export const RAMP = Math.tan((4 * Math.PI) / 180);

/**
 * @param cleared the bit that cleared before, for rest clearing
 * @param board its size, for pockets open at its edges
 */
export function planPocket(
  regions: readonly Region[],
  cut: PocketCut,
  bit: Bit,
  travel: Travel,
  cleared?: Bit,
  board?: Pick<Board, 'width' | 'height'>,
): PocketPlan {
  const r = cuttingWidth(bit) / 2;
  const step = stepOver(bit, cut.stepover);
  const writer = new PathWriter(travel);
  let lifts = 0;
  let unreached = 0;
  let lost = 0;
  for (const region of cut.open && board ? overEdges(regions, board, r) : regions) {
    const wall = offset([region], -r);
    const reached = offset(wall, r);
    unreached += areaOf(subtract([region], reached));
    if (wall.length === 0) {
      lost++;
      continue;
    }
    let free = cut.allowance > 0 ? offset([region], -(r + cut.allowance)) : wall;
    if (cleared) {
      // Where the bit has to stand to reach what was left.
      free = intersect(free, offset(intersect(leftBy(cuttingWidth(cleared) / 2, [region]), reached), r));
    }
    const chains = cut.pattern === 'lines' ? lines(free, step, cut.angle) : rings(free, step);
    // Rings no farther apart than the bit's radius leave nothing: on the shortest way from any point to the
    // wall lies a point of the ring before it, less than a step away. Nor do lines with a pass along the wall.
    if (cut.pattern === 'rings' && step > r) chains.push(...slivers(free, chains, r));
    if (cut.direction === 'conventional') for (const chain of chains) turn(chain);
    if (cut.open && board) for (const chain of chains) chain.from = comingIn(chain, free, board, r);
    const reach = cut.depth - cut.startDepth;
    const passes = Math.max(1, Math.ceil(reach / cut.depthPerPass - 1e-9));
    const order = orderRuns(chains);
    for (let pass = 1; pass <= passes; pass++) {
      const above = -(cut.startDepth + (reach * (pass - 1)) / passes);
      const z = -(cut.startDepth + (reach * pass) / passes);
      let last: Chain | null = null;
      for (const { run } of order) {
        const chain = chains[run];
        writer.begin(cut.id, `pocket, pass ${pass} of ${passes}`);
        // What lies nearer than a lift costs is reached at depth, where the way there is inside the pocket.
        const near = last && !chain.from && Math.hypot(chain.startX - last.endX, chain.startY - last.endY) < costOfLift(travel);
        if (near && isFree(free, [last!.endX, last!.endY], [chain.startX, chain.startY])) followChain(writer, chain, z);
        else {
          cutChain(writer, chain, above, z, r, cut.entry);
          lifts++;
        }
        last = chain;
      }
      writer.lift();
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

/** Regions that reach an edge of the board go on beyond it, where the bit cuts air. */
function overEdges(regions: readonly Region[], { width, height }: Pick<Board, 'width' | 'height'>, r: number): Region[] {
  const beyond = 2 * r + 2 * CLEAR;
  const rectangle = (rim: number) => contourOf([-rim, -rim, width + rim, -rim, width + rim, height + rim, -rim, height + rim]);
  const around = subtract([{ outer: rectangle(2 * beyond), holes: [] }], [{ outer: rectangle(0), holes: [] }]);
  return regions.flatMap((region) =>
    uniteRegions([region, ...intersect(offset([region], beyond), around)]).filter((part) => areaOf(intersect([part], [region])) > 0),
  );
}

/** How far off the board the bit stands before it comes in, mm beyond its own radius. */
const CLEAR = 1;

/** The nearest place off the board from which a chain can be reached straight through the free area. */
function comingIn(chain: Chain, free: readonly Region[], { width, height }: Pick<Board, 'width' | 'height'>, r: number): [number, number] | undefined {
  const [x, y] = chain.xy;
  const out = r + CLEAR / 2;
  if (x <= -r || y <= -r || x >= width + r || y >= height + r) return [x, y];
  const places: [number, number][] = [
    [-out, y],
    [width + out, y],
    [x, -out],
    [x, height + out],
  ];
  return places.filter((place) => isFree(free, place, [x, y])).sort((a, b) => Math.hypot(a[0] - x, a[1] - y) - Math.hypot(b[0] - x, b[1] - y))[0];
}

/** The other way round: every lap by itself, since each ends where it began. */
function turn(chain: Chain): void {
  if (chain.laps.length > 0) chain.xy = chain.laps.flatMap(([from, to]) => [...backwards(Float64Array.from(chain.xy.slice(from, to)))]);
}

/** Parallel lines back and forth, then the wall itself. */
function lines(free: readonly Region[], step: number, angle: number): Chain[] {
  const chains = zigzags(free, step, angle).map((xy) => chainOf(xy, []));
  for (const { xy } of free.flatMap(contoursOf)) if (perimeter(xy) >= 1e-3) chains.push(loop(begunOnStraight(xy)));
  return chains;
}

/** What the passes leave standing inside the free area's reach: each sliver's own outline, which the bit can follow. */
function slivers(free: readonly Region[], chains: readonly Chain[], r: number): Chain[] {
  const swept = strokeRegions(
    chains.map(({ xy }) => ({ xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2) })),
    2 * r,
    false,
  );
  return subtract(free, swept)
    .filter((part) => areaOf([part]) > DUST)
    .flatMap((part) => contoursOf(part).map(({ xy }) => loop(xy)));
}

/** Comes down as asked - or as fits - and follows a chain at depth. */
function cutChain(writer: PathWriter, chain: Chain, above: number, z: number, r: number, entry: PocketCut['entry']): void {
  const { xy } = chain;
  if (chain.from) {
    writer.approach(...chain.from, z);
    followChain(writer, chain, z);
    return;
  }
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
  followChain(writer, chain, z);
}

function followChain(writer: PathWriter, { xy }: Chain, z: number): void {
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
