/**
 * Pocket: everything inside the drawn line down to a depth. The middle of the bit stays in the
 * *free area* - the drawing shrunk by half the cutting width - and passes a step-over apart sweep
 * it: rings inwards from the wall, or parallel lines and a pass along the wall. Where passes wider
 * apart than half the bit leave slivers standing, these are found and cut too. A place just as wide as
 * the bit is cut down its middle.
 */
import { z } from 'zod';
import { cuttingWidth, stepOver } from '../../bits/index.ts';
import {
  backwards,
  begunOnStraight,
  clipLines,
  contourOf,
  contoursOf,
  distanceToEdges,
  intersect,
  offset,
  perimeter,
  regionArea,
  regionsBox,
  strokeRegions,
  subtract,
  uniteRegions,
  type Region,
} from '../../geometry/index.ts';
import { comeDown, ENTRIES } from './entry.ts';
import { isFree } from '../within.ts';
import { zigzags } from './parallels.ts';
import { areaOf, DUST, leftBy, WALL } from './rest.ts';
import { chainOf, loop, rings, shrunk, type Chain } from './rings.ts';
import { strokesAsWide } from './strokes.ts';
import type { Bit } from '../../bits/schema.ts';
import type { Board } from '../../board/index.ts';
import { costOfLift, orderRuns, PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { id, notNegative, positive } from '../../fields/index.ts';
import { cutting, direction, startDepth, after, degrees } from '../fields.ts';

export const PocketCut = z.strictObject({
  ...cutting,
  kind: z.literal('pocket'),
  startDepth,
  /** Depth below the top. */
  depth: positive.default(3),
  depthPerPass: positive.default(3),
  /** Distance between passes; left out, 40 % of the cutting width (common practice). */
  stepover: positive.optional(),
  /** Rings inwards from the wall, or parallel lines at an angle with a pass along the wall. */
  pattern: z.enum(['rings', 'lines']).default('rings'),
  angle: degrees.default(0),
  direction,
  /** Left on the wall by the clearing passes and taken off by a last one, mm. */
  allowance: notNegative.default(0),
  /** How the bit comes down: what fits best, straight, along the pass, or in a helix. */
  entry: z.enum(ENTRIES).default('auto'),
  after,
  /** A V-carve whose floor this pocket clears first: depth and walls are its. */
  floorOf: id.optional(),
  /** Where the drawing reaches an edge of the board the bit runs out over it, and comes in from there. */
  open: z.boolean().default(false),
});
export type PocketCut = z.infer<typeof PocketCut>;

export interface PocketPlan {
  path: Toolpath;
  lifts: number;
  /** Area that the bit cannot reach, mm²: corners and narrow places. */
  unreached: number;
  /** Shapes the bit does not fit into at all. */
  unreachable: number;
}

/** What else a pocket must know of the job. */
export interface PocketContext {
  tolerance?: number;
  /** The bit that cleared before, for rest clearing. */
  cleared?: Bit;
  /** The board's size, for pockets open at its edges. */
  board?: Pick<Board, 'width' | 'height'>;
}

export function planPocket(
  regions: readonly Region[],
  cut: PocketCut,
  bit: Bit,
  travel: Travel,
  { tolerance = 0.01, cleared, board }: PocketContext = {},
): PocketPlan {
  const r = cuttingWidth(bit) / 2;
  const step = stepOver(bit, cut.stepover);
  const writer = new PathWriter(travel);
  let lifts = 0;
  let unreached = 0;
  let unreachable = 0;
  for (const region of cut.open && board ? overEdges(regions, board, r) : regions) {
    // Of a pocket open at the edge only what lies on the board counts: beyond it the bit finds room in any case.
    const drawn = cut.open && board ? intersect(regions, [region]) : [region];
    let wall = offset([region], -r);
    let reached = offset(wall, r);
    let left = subtract(drawn, reached);
    const slots = slotsIn(region, wall, left, r, tolerance / 2, costOfLift(travel));
    if (slots.length > 0) {
      // An outline next to nothing wide would be gone round there and back.
      wall = wall.filter((part) => offset([part], -tolerance / 4).length > 0);
      reached = uniteRegions([...offset(wall, r), ...strokeRegions(slots.map(lineOf), 2 * r, false)]);
      left = subtract(drawn, reached);
    }
    unreached += areaOf(left);
    if (slots.length === 0 && (wall.length === 0 || (cut.open && intersect(wall, drawn).length === 0))) {
      unreachable++;
      continue;
    }
    const rough = cut.allowance > 0 ? offset([region], -(r + cut.allowance)) : wall;
    let free = rough;
    if (cleared) {
      // Where the bit has to stand to reach what was left.
      free = intersect(free, offset(intersect(leftBy(cuttingWidth(cleared) / 2, [region]), reached), r));
    }
    const areas = cut.pattern === 'rings' ? shrunk(free, step) : [];
    const chains = cut.pattern === 'lines' ? lines(free, step, cut.angle, r) : rings(areas, step);
    // Rings no farther apart than the bit's radius leave nothing: on the shortest way from any point to the
    // wall lies a point of the ring before it, less than a step away. Nor do lines with a pass along the wall.
    if (cut.pattern === 'rings' && step > r) chains.push(...slivers(areas, r));
    if (cut.direction === 'conventional') for (const chain of chains) turn(chain);
    chains.push(...slots.map((xy) => chainOf(xy, [])));
    if (cut.allowance > 0) chains.push(...notRoughed(region, wall, rough, cut.allowance));
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
        writer.begin(cut.id, `pocket, pass ${pass} of ${passes}`, pass);
        // What lies nearer than a lift costs is reached at depth, where the way there is inside the pocket.
        const near = last && !chain.from && Math.hypot(chain.startX - last.endX, chain.startY - last.endY) < costOfLift(travel);
        if (near && isFree(free, [last!.endX, last!.endY], [chain.startX, chain.startY])) followChain(writer, chain, z);
        else {
          cutChain(writer, chain, above, z, r, cut.entry, pass > 1 ? above : undefined);
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
        cutChain(writer, chain, -cut.depth + Math.min(reach, cut.depthPerPass, 1), -cut.depth, r, 'ramp');
        writer.lift();
        lifts++;
      }
  }
  return { path: writer.finish(), lifts, unreached, unreachable };
}

/**
 * Middles of places that are just as wide as the bit, give or take the slack on either side. They are looked
 * for where they can be: where the bit leaves more than it does in a corner, or its free area is a hair wide.
 */
function slotsIn(region: Region, wall: readonly Region[], left: readonly Region[], r: number, slack: number, liftCost: number): number[][] {
  const edgeOf = (part: Region) => contoursOf(part).reduce((sum, { xy }) => sum + perimeter(xy), 0);
  // As thin as a hair is also as small: what has some area to it is not asked for its edge.
  const hair = wall.some((part) => regionArea(part) < 0.25 * r * r && 2 * regionArea(part) < slack * edgeOf(part));
  // What is left of a slot is nearly as wide as the bit; what is left of strokes and corners is thinner.
  const wide = (part: Region) => {
    if (regionArea(part) < 0.5 * r * r) return false;
    // Turned as it likes, nothing as wide as the bit has a smaller box.
    const { minX, minY, maxX, maxY } = regionsBox([part]);
    if (Math.min(maxX - minX, maxY - minY) < 2 * r - 4 * slack) return false;
    return 2 * regionArea(part) > 0.95 * r * edgeOf(part) && offset([part], 2 * slack - r).length > 0;
  };
  if (!hair && !left.some(wide)) return [];
  return strokesAsWide(region, r, slack, liftCost).map((points) => [...points].filter((_, i) => i % 3 < 2));
}

const lineOf = (xy: readonly number[]) => ({ xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2) });

/** Stretches of the wall that the passes before the last leave more of than the allowance: slots too narrow for them, necks, corners. */
function notRoughed(region: Region, wall: readonly Region[], rough: readonly Region[], allowance: number): Chain[] {
  const untouched = subtract([region], offset(rough, WALL * allowance));
  return clipLines(
    wall.flatMap(contoursOf).map(({ xy }) => lineOf([...xy, xy[0], xy[1]])),
    untouched,
  ).map(({ xy }) => chainOf([...xy], []));
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
function lines(free: readonly Region[], step: number, angle: number, r: number): Chain[] {
  const chains = zigzags(free, step, angle).map((xy) => {
    const chain = chainOf(xy, []);
    const length = Math.hypot(xy[2] - xy[0], xy[3] - xy[1]);
    chain.towards = [(xy[2] - xy[0]) / length, (xy[3] - xy[1]) / length];
    // A helix begins at the end of a line, its circle along the line: as large as finds room there.
    const fits = (radius: number) => distanceToEdges(free, xy[0] + radius * chain.towards[0], xy[1] + radius * chain.towards[1]) > radius - 1e-6;
    chain.room = 2 * ([0.5, 0.4, 0.3, 0.2, 0.1].map((part) => part * r).find((radius) => 2 * radius <= length && fits(radius)) ?? 0);
    return chain;
  });
  for (const { xy } of free.flatMap(contoursOf)) if (perimeter(xy) >= 1e-3) chains.push(loop(begunOnStraight(xy)));
  return chains;
}

/**
 * What rings farther apart than the bit's radius leave standing: places more than that inside one ring and
 * more than that outside the next. Each sliver's own outline, which the bit can follow.
 */
const slivers = (areas: readonly (readonly Region[])[], r: number): Chain[] =>
  areas
    .flatMap((area, k) => subtract(offset(area, -r), offset(areas[k + 1] ?? [], r)))
    .filter((part) => areaOf([part]) > DUST)
    .flatMap((part) => contoursOf(part).map(({ xy }) => loop(xy)));

/** Comes down as asked - or as fits - and follows a chain at depth. */
function cutChain(writer: PathWriter, chain: Chain, above: number, z: number, r: number, entry: PocketCut['entry'], cut?: number): void {
  if (chain.from) writer.approach(...chain.from, z);
  else comeDown(writer, chain, above, z, r, entry, cut);
  followChain(writer, chain, z);
}

function followChain(writer: PathWriter, { xy }: Chain, z: number): void {
  for (let i = 0; i < xy.length; i += 2) writer.cutTo(xy[i], xy[i + 1], z);
}
