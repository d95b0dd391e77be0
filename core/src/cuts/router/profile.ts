/**
 * Profile: the centre line of the bit runs half its cutting width off the drawn line - outside
 * for a part, inside for an opening, on it for a groove - in passes, with tabs that keep the part
 * in place. With a clockwise spindle, climb is clockwise round the outside of a part and
 * counter-clockwise inside an opening; conventional is the reverse (any machinery handbook).
 */
import { z } from 'zod';
import { cuttingWidth } from '../../bits/index.ts';
import { backwards, begunOnStraight, ClosedLine, contoursOf, insideRegion, offset, regionArea, unite, type Region } from '../../geometry/index.ts';
import type { Bit } from '../../bits/schema.ts';
import { boardThickness, type Board } from '../../board/index.ts';
import { costOfLift, orderRuns, PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { relieved } from './corners.ts';
import { comeDown, RAMP } from './entry.ts';
import { begunClear, ledLine, tabPlaces, type Lead } from './leads.ts';
import { nearbyPoints, nearbyRegions } from '../nearby.ts';
import { WALL } from './rest.ts';
import { chainOf } from './rings.ts';
import { strokesAsWide } from './strokes.ts';
import { evenTabs, tabHeight, tabsNear, withGaps, type Gap } from './tabs.ts';
import { id, length, notNegative, positive } from '../../fields/index.ts';
import { cutting, direction, startDepth } from '../fields.ts';

/** Where a tab was put by hand: a place within the box of a drawn thing, 0 to 1 each way, so that it stays when the thing changes. */
export const TabPlace = z.strictObject({ item: id, u: z.number().min(-1).max(2), v: z.number().min(-1).max(2) });
export type TabPlace = z.infer<typeof TabPlace>;

export const ProfileCut = z.strictObject({
  ...cutting,
  kind: z.literal('profile'),
  /** `auto`: outside of a part and inside of its openings, and so on inwards. */
  side: z.enum(['auto', 'outside', 'inside', 'on']).default('outside'),
  startDepth,
  /** Depth below the top; left out to cut through. */
  depth: positive.optional(),
  /** How much deeper than the board a through cut goes. */
  throughAllowance: notNegative.default(0.3),
  /** Left uncut at the bottom on purpose and freed by hand, mm; then nothing is cut through. */
  skin: notNegative.default(0),
  depthPerPass: positive.default(4),
  direction,
  /** Left on the wall by the passes and taken off by a last one at full depth, mm. */
  allowance: length.default(0),
  entry: z.enum(['straight', 'ramp']).default('straight'),
  /** How the bit comes to the wall and leaves it, on the side of the waste. */
  lead: z.enum(['none', 'line', 'arc']).default('none'),
  leadLength: positive.default(4),
  /** Outside corners: the bit rolls round them, or runs on to a point so that they stay sharp. */
  outsideCorners: z.enum(['round', 'sharp']).default('round'),
  /** Inside corners, where a square part must fit: left round, or relieved along the middle (dog-bone) or one wall (T-bone). */
  insideCorners: z.enum(['round', 'dogbone', 'tbone']).default('round'),
  tabs: z.int().min(0).max(200).default(4),
  /** Distance between tabs; when given, their number follows from the length of the line. */
  tabEvery: positive.optional(),
  tabWidth: positive.default(6),
  tabHeight: positive.default(2),
  tabShape: z.enum(['square', 'ramped']).default('square'),
  /** Tabs put by hand take the place of those found. */
  tabsAt: z.array(TabPlace).max(400).default([]),
});
export type ProfileCut = z.infer<typeof ProfileCut>;

export interface ProfilePlan {
  path: Toolpath;
  depth: number;
  through: boolean;
  /** Tabs really placed on each contour. */
  tabs: number[];
  /** Middles of the tabs on the board, mm. */
  tabPoints: [number, number][];
  /** Contours too small for the bit, which were not cut. */
  unreachable: number;
  /** Contours with no room for a lead, which the bit meets head on. */
  noLead: number;
}

/** Depth the cut reaches below the top of the board, mm. A skin is left of the board's own thickness. */
export const profileDepth = (cut: Pick<ProfileCut, 'depth' | 'skin' | 'throughAllowance'>, board: Board): number =>
  cut.depth ?? (cut.skin > 0 ? boardThickness(board) - cut.skin : boardThickness(board) + cut.throughAllowance);

/** A contour to be cut, and what it needs. */
interface ContourPass {
  line: ClosedLine;
  /** Where the bit is lifted over tabs: its own, and those of other outlines that it passes. */
  gaps: Gap[];
  /** Its own tabs, and their middles. */
  tabs: number;
  middles: [number, number][];
  lead: Lead | null;
}

/** What else a profile must know of the job. */
export interface ProfileContext {
  tolerance?: number;
  /** Where tabs were put by hand, mm on the board; none: they are placed evenly. */
  tabPoints?: readonly (readonly [number, number])[];
  /** Parts that other cuts leave standing. */
  standing?: readonly Region[];
}

/** Plans a profile along the outlines of regions. */
export function planProfile(
  drawn: readonly Region[],
  cut: ProfileCut,
  bit: Bit,
  board: Board,
  travel: Travel,
  { tolerance = 0.01, tabPoints = [], standing = [] }: ProfileContext = {},
): ProfilePlan {
  const half = cuttingWidth(bit) / 2;
  const side = cut.side === 'auto' ? 'outside' : cut.side;
  // Things within things: a part, its openings, parts in the openings, and so on.
  const regions = cut.side === 'auto' ? unite(drawn.flatMap(contoursOf), 'evenodd') : [...drawn];
  const depth = profileDepth(cut, board);
  const thickness = boardThickness(board);
  const through = depth >= thickness;
  const slots: number[][] = [];
  const open = regions.filter((region) => {
    const middles = side === 'inside' ? slotsOf(region, half, tolerance / 2, costOfLift(travel)) : [];
    slots.push(...middles);
    return middles.length === 0;
  });
  const wall = linesOf(open, cut, half, 0);
  const rough = cut.allowance > 0 && side !== 'on' ? linesOf(open, cut, half, cut.allowance) : null;
  const gapsOn = (line: ClosedLine, points: readonly (readonly [number, number])[]): Gap[] => {
    const width = cut.tabWidth + 2 * half;
    if (!through) return [];
    if (points.length > 0) return tabsNear(line, points, width, 3 * half + cut.allowance + cut.tabWidth);
    const count = cut.tabs === 0 ? 0 : cut.tabEvery ? Math.max(2, Math.round(line.length / cut.tabEvery)) : cut.tabs;
    return count > 0 ? evenTabs(line, count, width, half) : [];
  };
  const others = cut.lead === 'none' ? [] : offset(standing, half);
  const rounds = (lines: readonly ClosedLine[], free: readonly Region[], points: readonly (readonly [number, number])[]) => {
    const own = lines.map((line) => ({ line, gaps: gapsOn(line, points) }));
    const tabs = nearbyPoints(own.flatMap(({ line, gaps }) => tabPlaces(line, gaps, half)));
    // Where a line passes the tab of an outline beside it, or its own on the other side of a slot, it is lifted over that too.
    const tabbed = own.map(({ line, gaps }) => ({
      ...begunClear(line, withGaps(line, gaps, tabs, half, riseOf(cut))),
      tabs: gaps.length,
      middles: gaps.map(([from, to]) => line.at((from + to) / 2)),
    }));
    const { lead: kind } = cut;
    if (kind === 'none' || side === 'on') return tabbed.map((round): ContourPass => ({ ...round, lead: null }));
    const room = { kind, length: cut.leadLength, free: nearbyRegions(free), inside: side === 'inside', standing: nearbyRegions(others), tabs, half };
    return tabbed.map((round): ContourPass => ({ ...round, ...(ledLine(round.line, round.gaps, room) ?? { lead: null }) }));
  };
  const finishing = rounds(wall.lines, wall.free, tabPoints);
  const middles = finishing.flatMap((round) => round.middles);
  const writer = new PathWriter(travel);
  for (const xy of slots) writeSlot(writer, cut, xy, depth, half);
  if (rough) {
    // The same tabs: both passes leave the same places standing.
    for (const round of inOrder(rounds(rough.lines, rough.free, middles))) writePasses(writer, cut, round, depth, thickness, cut.depthPerPass);
    // Where the last pass would not find the wood beside it gone, it is made ready for it in steps.
    const deep = side === 'inside' ? offset(rough.free, WALL * cut.allowance) : offset(rough.free, -WALL * cut.allowance);
    const isDeep = (x: number, y: number) => deep.some((region) => insideRegion(region, x, y)) === (side !== 'inside');
    for (const round of inOrder(finishing)) {
      if (round.lead) writeLead(writer, cut, round.lead, depth);
      for (const stretch of stretchesOf(round.line, isDeep)) writeStretch(writer, cut, round, stretch, depth, thickness, half);
      writePasses(writer, cut, round, depth, thickness, Infinity);
    }
  } else for (const round of inOrder(finishing)) writePasses(writer, cut, round, depth, thickness, cut.depthPerPass);
  // Each outline of what is no slot has its line, or was unreachable.
  const outlines = open.reduce((sum, region) => sum + contoursOf(region).length, 0);
  return {
    path: writer.finish(),
    depth,
    through,
    tabs: finishing.map(({ tabs }) => tabs),
    tabPoints: middles,
    unreachable: regions.some((region) => regionArea(region) > 0) ? Math.max(0, outlines - finishing.length) : 0,
    noLead: cut.lead === 'none' ? 0 : finishing.filter(({ lead }) => lead === null).length,
  };
}

/** Middle lines of an opening just as wide as the bit, x y. */
const slotsOf = (region: Region, half: number, slack: number, liftCost: number): number[][] =>
  offset([region], -half - slack).length > 0 ? [] : strokesAsWide(region, half, slack, liftCost).map((points) => [...points].filter((_, i) => i % 3 < 2));

/** Depths of the passes, z: each from where the one before ended. */
function passDepths(cut: ProfileCut, depth: number, most: number): { above: number; z: number }[] {
  const reach = depth - cut.startDepth;
  const passes = Math.max(1, Math.ceil(reach / most - 1e-9));
  return Array.from({ length: passes }, (_, k) => ({ above: -(cut.startDepth + (reach * k) / passes), z: -(cut.startDepth + (reach * (k + 1)) / passes) }));
}

/** A slot as wide as the bit: back and forth down its middle. */
function writeSlot(writer: PathWriter, cut: ProfileCut, xy: readonly number[], depth: number, half: number): void {
  const there = chainOf([...xy], []);
  const back = chainOf([...backwards(xy)], []);
  passDepths(cut, depth, cut.depthPerPass).forEach(({ above, z }, k, { length }) => {
    writer.begin(cut.id, `pass ${k + 1} of ${length}`, k + 1);
    const chain = k % 2 === 0 ? there : back;
    comeDown(writer, chain, above, z, half, cut.entry);
    for (let i = 2; i < chain.xy.length; i += 2) writer.cutTo(chain.xy[i], chain.xy[i + 1], z);
  });
  writer.lift();
}

/** Stretches of a line, from and to along it, where something holds; looked at in every corner and every so far between. */
function stretchesOf(line: ClosedLine, holds: (x: number, y: number) => boolean): Gap[] {
  const step = Math.max(0.25, line.length / 4000);
  const at: number[] = [];
  for (let i = 1; i < line.along.length; i++) {
    const [from, to] = [line.along[i - 1], line.along[i]];
    const n = Math.max(1, Math.ceil((to - from) / step));
    for (let k = 0; k < n; k++) at.push(from + ((to - from) * k) / n);
  }
  at.push(line.length);
  const out: Gap[] = [];
  for (let i = 0; i < at.length; i++) {
    if (!holds(...line.at(at[i]))) continue;
    // From the place before to the one after: between them it may begin anywhere.
    const [from, to] = [at[Math.max(0, i - 1)], at[Math.min(at.length - 1, i + 1)]];
    const last = out.at(-1);
    if (last && from <= last[1]) last[1] = to;
    else out.push([from, to]);
  }
  return out;
}

/** The way of a lead in passes, so that the last pass finds it open. */
function writeLead(writer: PathWriter, cut: ProfileCut, { leadIn, leadOut }: Lead, depth: number): void {
  passDepths(cut, depth, cut.depthPerPass).forEach(({ z }, k, { length }) => {
    writer.begin(cut.id, `pass ${k + 1} of ${length}`, k + 1);
    if (k === 0) writer.approach(...leadIn[0], z);
    for (const point of [...leadIn, ...leadOut, leadIn[0]]) writer.cutTo(...point, z);
  });
  writer.lift();
}

/** One stretch of a line in passes, over its tabs. */
function writeStretch(writer: PathWriter, cut: ProfileCut, { line, gaps }: ContourPass, [from, to]: Gap, depth: number, thickness: number, half: number): void {
  const tabTop = -Math.max(0, thickness - cut.tabHeight);
  const rise = riseOf(cut);
  const tab = (at: number) => tabHeight(gaps, at, -depth, tabTop, rise);
  const chain = chainOf(
    [...line.at(from), ...line.along.filter((s) => s > from && s < to).reduce<number[]>((xy, s) => (xy.push(...line.at(s)), xy), []), ...line.at(to)],
    [],
  );
  passDepths(cut, depth, cut.depthPerPass).forEach(({ above, z }, k, { length }) => {
    writer.begin(cut.id, `pass ${k + 1} of ${length}`, k + 1);
    const height = (at: number) => Math.max(z, tab(at));
    // Back and forth on the way down nothing is lifted over tabs: with one in the way it is straight down.
    const clear = gaps.every(([a, b]) => b < from || a > to) || z >= tabTop;
    if (clear) comeDown(writer, chain, above, z, half, cut.entry);
    else writer.approach(...line.at(from), height(from));
    follow(writer, line, from, to, height, stopsOf(gaps, rise, to));
    writer.lift();
  });
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
function inOrder(rounds: readonly ContourPass[]): ContourPass[] {
  const nested = ({ line }: ContourPass) => rounds.some((other) => other.line !== line && other.line.contains(...line.at(0)));
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

function writePasses(writer: PathWriter, cut: ProfileCut, { line, gaps, lead }: ContourPass, depth: number, thickness: number, most: number): void {
  const tabTop = -Math.max(0, thickness - cut.tabHeight);
  const rise = riseOf(cut);
  const [x, y] = lead ? lead.leadIn[0] : line.at(0);
  let s = 0;
  passDepths(cut, depth, most).forEach(({ above, z }, k, { length: passes }) => {
    const pass = k + 1;
    writer.begin(cut.id, passes > 1 || most < Infinity ? `pass ${pass} of ${passes}` : 'wall', pass);
    const ramped = cut.entry === 'ramp' && (lead ? spanOf(lead) : line.length) >= SHORTEST;
    const tab = (at: number) => tabHeight(gaps, at - Math.floor(at / line.length) * line.length, -depth, tabTop, rise);
    // A line all of tabs begins on one.
    const start = lead ? z : Math.max(z, tab(s));
    if (pass === 1) writer.approach(x, y, ramped ? above : start);
    if (lead) {
      if (ramped) zigzag(writer, lead, above, z);
      else writer.cutTo(x, y, z);
      for (const point of lead.leadIn) writer.cutTo(...point, z);
    } else if (!ramped) writer.cutTo(x, y, start);
    // Along the pass, down at a few degrees; then once round from where the bottom is reached.
    const down = ramped && !lead ? (above - z) / RAMP : 0;
    const base = (at: number) => (at < s + down ? above - ((above - z) * (at - s)) / down : z);
    follow(writer, line, s, s + down + line.length, (at) => Math.max(base(at), tab(at)), stopsOf(gaps, rise, s + down));
    s = lead ? 0 : (s + down) % line.length;
    if (lead) {
      for (const point of lead.leadOut) writer.cutTo(...point, z);
      if (pass < passes) writer.cutTo(x, y, z);
    }
  });
  writer.lift();
}

/** Half of a ramped tab's width is its level top, as the flat end of the bit leaves it. */
const riseOf = (cut: ProfileCut): number => (cut.tabShape === 'ramped' ? cut.tabWidth / 4 : 0);

/** A way down shorter than this is none: the bit would turn in one place for ever, mm. */
const SHORTEST = 1;

/** From where a lead begins to where it ends. */
const spanOf = ({ leadIn, leadOut }: Lead): number => Math.hypot(leadOut[leadOut.length - 1][0] - leadIn[0][0], leadOut[leadOut.length - 1][1] - leadIn[0][1]);

/** Back and forth between the ends of a lead, down at a few degrees, ending where it began. */
function zigzag(writer: PathWriter, { leadIn, leadOut }: Lead, above: number, z: number): void {
  const [from, to] = [leadIn[0], leadOut[leadOut.length - 1]];
  const length = spanOf({ leadIn, leadOut });
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
