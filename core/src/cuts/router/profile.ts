/**
 * Profile: the centre line of the bit runs half its cutting width off the drawn line - outside
 * for a part, inside for an opening, on it for a groove - in passes, with tabs that keep the part
 * in place. With a clockwise spindle, climb is clockwise round the outside of a part and
 * counter-clockwise inside an opening; conventional is the reverse (any machinery handbook).
 */
import { cuttingWidth } from '../../bits/index.ts';
import { backwards, begunOnStraight, ClosedLine, contoursOf, insideRegion, offset, regionArea, unite, type Region } from '../../geometry/index.ts';
import { boardThickness, type Bit, type Board, type ProfileCut } from '../../job/index.ts';
import { orderRuns, PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { relieved } from './corners.ts';
import { RAMP } from './pocket.ts';
import { evenTabs, tabHeight, tabsNear, type Gap } from './tabs.ts';

export interface ProfilePlan {
  path: Toolpath;
  depth: number;
  through: boolean;
  /** Tabs really placed on each contour. */
  tabs: number[];
  /** Middles of the tabs on the board, mm. */
  tabPoints: [number, number][];
  /** Contours too small for the bit, which were not cut. */
  lost: number;
  /** Contours with no room for a lead, which the bit meets head on. */
  noLead: number;
}

/** Depth the cut reaches below the top of the board, mm. A skin is left of the board's own thickness. */
export const profileDepth = (cut: Pick<ProfileCut, 'depth' | 'skin' | 'throughAllowance'>, board: Board): number =>
  cut.depth ?? (cut.skin > 0 ? boardThickness(board) - cut.skin : boardThickness(board) + cut.throughAllowance);

/** A contour to be cut, and what it needs. */
interface Round {
  line: ClosedLine;
  gaps: Gap[];
  lead: Lead | null;
}

/**
 * Plans a profile along the outlines of regions.
 *
 * @param tabPoints where tabs were put by hand, mm on the board; none: they are placed evenly
 */
export function planProfile(
  drawn: readonly Region[],
  cut: ProfileCut,
  bit: Bit,
  board: Board,
  travel: Travel,
  tabPoints: readonly (readonly [number, number])[] = [],
): ProfilePlan {
  const half = cuttingWidth(bit) / 2;
  const side = cut.side === 'auto' ? 'outside' : cut.side;
  // Things within things: a part, its openings, parts in the openings, and so on.
  const regions = cut.side === 'auto' ? unite(drawn.flatMap(contoursOf), 'evenodd') : [...drawn];
  const depth = profileDepth(cut, board);
  const thickness = boardThickness(board);
  const through = depth >= thickness;
  const wall = linesOf(regions, cut, half, 0);
  const rough = cut.allowance > 0 && side !== 'on' ? linesOf(regions, cut, half, cut.allowance) : null;
  const gapsOn = (line: ClosedLine, points: readonly (readonly [number, number])[]): Gap[] => {
    const width = cut.tabWidth + 2 * half;
    if (!through) return [];
    if (points.length > 0) return tabsNear(line, points, width, 3 * half + cut.allowance + cut.tabWidth);
    const count = cut.tabs === 0 ? 0 : cut.tabEvery ? Math.max(2, Math.round(line.length / cut.tabEvery)) : cut.tabs;
    return count > 0 ? evenTabs(line, count, width, half) : [];
  };
  const rounds = (lines: readonly ClosedLine[], free: readonly Region[], points: readonly (readonly [number, number])[]) =>
    lines.map((line): Round => ({ line, gaps: gapsOn(line, points), lead: leadOf(line, cut, free, side) }));
  const finishing = rounds(wall.lines, wall.free, tabPoints);
  const middles = finishing.flatMap(({ line, gaps }) => gaps.map(([from, to]) => line.at((from + to) / 2)));
  const writer = new PathWriter(travel);
  if (rough) {
    // The same tabs: both passes leave the same places standing.
    for (const round of inOrder(rounds(rough.lines, rough.free, middles))) writePasses(writer, cut, round, depth, thickness, cut.depthPerPass);
    for (const round of inOrder(finishing)) writePasses(writer, cut, round, depth, thickness, Infinity);
  } else for (const round of inOrder(finishing)) writePasses(writer, cut, round, depth, thickness, cut.depthPerPass);
  const outlines = regions.reduce((sum, region) => sum + contoursOf(region).length, 0);
  return {
    path: writer.finish(),
    depth,
    through,
    tabs: finishing.map(({ gaps }) => gaps.length),
    tabPoints: middles,
    lost: regions.some((region) => regionArea(region) > 0) ? Math.max(0, outlines - finishing.length) : 0,
    noLead: cut.lead === 'none' ? 0 : finishing.filter(({ lead }) => lead === null).length,
  };
}

/** The lines of the bit's middle, begun where they show least and turned the way they are cut; and the area it may be in. */
function linesOf(regions: readonly Region[], cut: ProfileCut, half: number, allowance: number): { lines: ClosedLine[]; free: Region[] } {
  const way = cut.side === 'inside' ? -1 : cut.side === 'on' ? 0 : 1;
  const join = cut.outsideCorners === 'sharp' && way !== 0 ? 'mitre' : 'round';
  const free = way === 0 ? [...regions] : offset(regions, way * (half + allowance), join);
  let lines = free.flatMap(contoursOf).map(({ xy }) => xy);
  if (cut.insideCorners !== 'round' && way !== 0 && allowance === 0) lines = relieved(lines, regions, half, way < 0, cut.insideCorners);
  // Material lies on the other side of the line from the bit: inside an outside profile.
  // Regions run outer counter-clockwise, which is climb for an opening and conventional for a part.
  const turned = way > 0 === (cut.direction === 'climb');
  return { lines: lines.map((xy) => new ClosedLine(begunOnStraight(turned ? backwards(xy) : xy))), free };
}

/** What lies inside another line is cut before it, each lot on a short way. */
function inOrder(rounds: readonly Round[]): Round[] {
  const nested = ({ line }: Round) => rounds.some((other) => other.line !== line && other.line.contains(...line.at(0)));
  const inner = rounds.filter(nested);
  const outer = rounds.filter((round) => !nested(round));
  return [inner, outer].flatMap((group) =>
    orderRuns(
      group.map(({ line }) => {
        const [x, y] = line.at(0);
        return { startX: x, startY: y, endX: x, endY: y, reversible: false };
      }),
    ).map(({ run }) => group[run]),
  );
}

/** How the bit comes to the wall and leaves it: points x y in the waste, and the wall's first point. */
interface Lead {
  come: [number, number][];
  leave: [number, number][];
}

/**
 * A quarter circle, or a slanting line, on the side of the waste. It must find room: half as long
 * and a quarter as long are tried too.
 */
function leadOf(line: ClosedLine, cut: ProfileCut, free: readonly Region[], side: 'outside' | 'inside' | 'on'): Lead | null {
  if (cut.lead === 'none' || side === 'on') return null;
  const [x, y] = line.at(0);
  const [tx, ty] = line.direction(0);
  const [nx, ny] = wasteSide(line, free, side);
  const isFree = ([px, py]: [number, number]) => free.some((region) => insideRegion(region, px, py)) === (side === 'inside');
  for (const length of [cut.leadLength, cut.leadLength / 2, cut.leadLength / 4]) {
    const steps = cut.lead === 'arc' ? 12 : 1;
    const quarter = (way: 1 | -1) =>
      Array.from({ length: steps + 1 }, (_, k): [number, number] => {
        // From the wall out into the waste, ahead of it or behind.
        const f = k / steps;
        const [a, b] = cut.lead === 'arc' ? [Math.sin((f * Math.PI) / 2), 1 - Math.cos((f * Math.PI) / 2)] : [f, f];
        return [x + way * a * length * tx + b * length * nx, y + way * a * length * ty + b * length * ny];
      });
    const leave = quarter(1);
    const come = quarter(-1).reverse();
    const between: [number, number] = [(come[0][0] + leave[steps][0]) / 2, (come[0][1] + leave[steps][1]) / 2];
    if ([...come.slice(0, -1), ...leave.slice(1), between].every(isFree)) return { come, leave };
  }
  return null;
}

/** Unit vector from the line into the waste. */
function wasteSide(line: ClosedLine, free: readonly Region[], side: 'outside' | 'inside' | 'on'): [number, number] {
  const [x, y] = line.at(0);
  const [tx, ty] = line.direction(0);
  const hair = 1e-3;
  const onLeft = free.some((region) => insideRegion(region, x - hair * ty, y + hair * tx));
  return onLeft === (side === 'inside') ? [-ty, tx] : [ty, -tx];
}

function writePasses(writer: PathWriter, cut: ProfileCut, { line, gaps, lead }: Round, depth: number, thickness: number, most: number): void {
  const reach = depth - cut.startDepth;
  const passes = Math.max(1, Math.ceil(reach / most - 1e-9));
  const tabTop = -Math.max(0, thickness - cut.tabHeight);
  // Half of a ramped tab's width is its level top, as the flat end of the bit leaves it.
  const rise = cut.tabShape === 'ramped' ? cut.tabWidth / 4 : 0;
  const [x, y] = lead ? lead.come[0] : line.at(0);
  let s = 0;
  for (let pass = 1; pass <= passes; pass++) {
    const above = -(cut.startDepth + (reach * (pass - 1)) / passes);
    const z = -(cut.startDepth + (reach * pass) / passes);
    writer.begin(cut.id, passes > 1 || most < Infinity ? `pass ${pass} of ${passes}` : 'wall');
    const ramped = cut.entry === 'ramp' && line.length * RAMP > 1e-6;
    if (pass === 1) writer.approach(x, y, ramped ? above : z);
    if (lead) {
      if (ramped) zigzag(writer, lead, above, z);
      else writer.cutTo(x, y, z);
      for (const point of lead.come) writer.cutTo(...point, z);
    } else if (!ramped) writer.cutTo(x, y, z);
    // Along the pass, down at a few degrees; then once round from where the bottom is reached.
    const down = ramped && !lead ? (above - z) / RAMP : 0;
    const base = (at: number) => (at < s + down ? above - ((above - z) * (at - s)) / down : z);
    const tab = (at: number) => tabHeight(gaps, at - Math.floor(at / line.length) * line.length, -depth, tabTop, rise);
    follow(writer, line, s, s + down + line.length, (at) => Math.max(base(at), tab(at)), stopsOf(gaps, rise, s + down));
    s = lead ? 0 : (s + down) % line.length;
    if (lead) {
      for (const point of lead.leave) writer.cutTo(...point, z);
      if (pass < passes) writer.cutTo(x, y, z);
    }
  }
  writer.lift();
}

/** Back and forth between the ends of a lead, down at a few degrees, ending where it began. */
function zigzag(writer: PathWriter, { come, leave }: Lead, above: number, z: number): void {
  const [from, to] = [come[0], leave[leave.length - 1]];
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const turns = 2 * Math.max(1, Math.ceil((above - z) / (2 * length * RAMP)));
  for (let k = 1; k <= turns; k++) writer.cutTo(...(k % 2 ? to : from), above - ((above - z) * k) / turns);
}

/** Places along one lap where the height may break: ends of tabs and of their slopes; and where a ramp ends. */
function stopsOf(gaps: readonly Gap[], rise: number, bottom: number): { every: number[]; once: number[] } {
  return { every: gaps.flatMap(([from, to]) => (rise > 0 ? [from, from + rise, to - rise, to] : [from, to])), once: [bottom] };
}

/** Follows a line from one place to another at a height that is even between its stops, and may jump at them. */
function follow(
  writer: PathWriter,
  line: ClosedLine,
  from: number,
  to: number,
  height: (s: number) => number,
  { every, once }: { every: number[]; once: number[] },
): void {
  const stops = new Set<number>([to]);
  for (let lap = Math.floor(from / line.length); lap * line.length < to; lap++) {
    const add = (s: number) => {
      const at = lap * line.length + s;
      if (at > from + 1e-9 && at < to - 1e-9) stops.add(at);
    };
    line.along.forEach(add);
    every.forEach(add);
  }
  for (const at of once) if (at > from + 1e-9 && at < to - 1e-9) stops.add(at);
  const hair = 1e-7;
  let a = from;
  for (const b of [...stops].sort((p, q) => p - q)) {
    if (b - a < 1e-9) continue;
    const [za, zb] = [height(a + hair), height(b - hair)];
    writer.cutTo(...line.at(a), za);
    // Where a ramp runs into a tab the two heights cross within the stretch.
    const middle = height((a + b) / 2);
    if (Math.abs(middle - (za + zb) / 2) > 1e-6) {
      const at = crossing(height, a + hair, b - hair);
      writer.cutTo(...line.at(at), height(at));
    }
    writer.cutTo(...line.at(b), zb);
    a = b;
  }
}

/** The bend of a height made of two straight pieces between a and b. */
function crossing(height: (s: number) => number, a: number, b: number): number {
  const slope = (s: number, way: 1 | -1) => (height(s + way * 1e-5) - height(s)) / (way * 1e-5);
  const [ka, kb] = [slope(a, 1), slope(b, -1)];
  return Math.abs(ka - kb) < 1e-9 ? (a + b) / 2 : Math.min(b, Math.max(a, (height(b) - kb * b - height(a) + ka * a) / (ka - kb)));
}
