/**
 * Torch cut: the middle of the arc runs half a kerf off the drawn line, always in the scrap, which lies on the
 * left of travel with a right-hand swirl: outlines of parts clockwise, holes counter-clockwise (common practice:
 * the square edge is on the right). Every contour is pierced in the scrap, begun by a lead-in and, where it is a
 * hole, cut a little past its start with the arc switched off early. What lies inside is cut first.
 *
 * Heights are above the plate: unlike a bit the torch never goes below its top.
 */
import { z } from 'zod';
import type { Bit } from '../../bits/schema.ts';
import { id, notNegative, positive } from '../../fields/index.ts';
import { ClosedLine, contoursOf, offset, signedArea, unite, type DrawnLine, type Region } from '../../geometry/index.ts';
import { PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { common, feed } from '../fields.ts';
import { nearbyRegions } from '../nearby.ts';
import { cornersOf, ringPoints, type RingPoint } from './corners.ts';
import { isOpen, leadFor, onPlate, poleOf, type Lead, type LeadRoom } from './leads.ts';
import { cuttingOrder } from './order.ts';

type Point = [number, number];

/** Where a contour was begun by hand: a place within the box of a drawn thing, 0 to 1 each way, so that it stays when the thing changes. */
export const StartPlace = z.strictObject({ item: id, u: z.number().min(-1).max(2), v: z.number().min(-1).max(2) });

export const TorchCut = z.strictObject({
  ...common,
  feed: feed.default(3900),
  /** Down from pierce height to cut height, mm/min. */
  plunge: feed.default(2500),
  kind: z.literal('torch'),
  /** No spindle turns. */
  speed: z.literal(0).default(0),
  /** `auto`: outside of a part and inside of its openings, and so on inwards. */
  side: z.enum(['auto', 'outside', 'inside', 'on']).default('auto'),
  /** Width the arc takes, mm. */
  kerf: positive.max(20).default(1.5),
  /** Who moves the torch off the line by half of it: the program, or the machine by its own offset. One of the two, never both. */
  kerfBy: z.enum(['program', 'machine']).default('program'),
  lead: z.enum(['line', 'arc', 'straight', 'none']).default('arc'),
  leadIn: positive.max(200).default(4),
  /** On past the end, into the scrap, mm; often none. */
  leadOut: notNegative.max(200).default(0),
  /** Contours begun by hand. */
  startsAt: z.array(StartPlace).max(2_000).default([]),
  /** The pierce leaves a crater so far round: it must not touch a part, mm. (Common practice: 2.5, more in thick plate.) */
  crater: notNegative.max(50).default(2.5),
  /** Holes are cut so far past their start, and the arc goes off so far before that, mm. (Common practice.) */
  overcut: notNegative.max(50).default(2),
  offEarly: notNegative.max(50).default(1),
  /** At outside corners sharper than `cornerAngle` the torch runs on into the scrap and comes back. */
  corners: z.enum(['plain', 'triangle', 'round']).default('plain'),
  /** Degrees between the edges of the part. */
  cornerAngle: z.number().min(1).max(170).default(100),
  cornerLoop: positive.max(100).default(5),
  /** Share of the feed round sharp corners, and in holes narrower than `smallHole`, mm. (Common practice: 60 % in small holes.) */
  cornerFeed: z.number().min(0.1).max(1).default(1),
  smallHole: notNegative.max(1_000).default(12),
  smallHoleFeed: z.number().min(0.1).max(1).default(0.6),
  /** Above the plate, mm; seconds; volts of the arc. */
  pierceHeight: positive.max(50).default(3.8),
  pierceDelay: notNegative.max(60).default(0.3),
  cutHeight: positive.max(50).default(1.5),
  volts: positive.max(500).default(122),
  /** Height control by the arc's voltage: only where the torch moves at speed. */
  heightControl: z.boolean().default(true),
  /** The plate is found by touch before each pierce; or again only so far from the last touch, mm; or never. */
  touch: z.enum(['each', 'far', 'never']).default('each'),
  touchAfter: positive.max(10_000).default(150),
  /** How far the float switch travels before it speaks, mm: subtracted from every touch. */
  floatTravel: notNegative.max(50).default(0),
  /** Left uncut at the end of each part's outline to hold it, mm; 0: parts come free. (Common practice: half a kerf to a whole one.) */
  microTab: notNegative.max(20).default(0),
  /** Neighbours are skipped, so that heat spreads: it costs travel. */
  spreadHeat: z.boolean().default(false),
});
export type TorchCut = z.infer<typeof TorchCut>;

/** One contour as it is cut. */
export interface TorchContour {
  side: 'outside' | 'inside' | 'on';
  direction: 'clockwise' | 'counter-clockwise';
  pierce: Point;
  /** `none`: there was no room for one, or it was not asked for. */
  lead: Lead['kind'] | 'none';
  leadLength: number;
  /** A place was found only elsewhere along the line, or with a shorter lead. */
  moved: boolean;
  shortened: boolean;
  /** Along the contour, without leads, mm. */
  length: number;
  /** A hole that is cut slower. */
  slow: boolean;
  feed: number;
  loops: number;
  /** Where it begins on its line, mm. */
  start: Point;
}

export interface TorchPlan {
  path: Toolpath;
  contours: TorchContour[];
  pierces: number;
  touches: number;
  /** Contours the kerf does not fit into. */
  unreachable: number;
  /** Where a lead was asked for and no room was found. */
  noLead: Point[];
  /** What must stay: the parts. */
  parts: Region[];
  /** Where the arc really runs, when the machine moves it off the path by itself; else it is the path. */
  arc: Toolpath | null;
  /** How wide and how deep the arc takes, mm. */
  kerf: number;
  depth: number;
}

/** A line to be cut, with its waste on the left of travel before the swirl is looked at. */
export interface Contour {
  ring: ClosedLine;
  side: 'outside' | 'inside' | 'on';
  /** Waste inside the ring: a hole. */
  hole: boolean;
}

/** What the drawing means: the parts that must stay. Of openings it is what lies round them that stays. */
export function partsOf(drawn: readonly Region[], side: TorchCut['side'], plate: Region): Region[] {
  if (side === 'inside') return unite([...contoursOf(plate), ...drawn.flatMap(contoursOf)], 'evenodd');
  if (side === 'outside') return [...drawn];
  return unite(drawn.flatMap(contoursOf), 'evenodd');
}

/**
 * Lines the middle of the arc runs on.
 *
 * @param half half the kerf that the program reckons with; 0 when the machine does
 */
export function contoursFor(drawn: readonly Region[], cut: Pick<TorchCut, 'side' | 'corners'>, half: number): { contours: Contour[]; unreachable: number } {
  const ringOf = (xy: ArrayLike<number>) => new ClosedLine(Float64Array.from(xy));
  if (cut.side === 'on') {
    const rings = drawn.flatMap((region) => contoursOf(region).map(({ xy }, k) => ({ xy, hole: k > 0 })));
    return { contours: rings.map(({ xy, hole }) => ({ ring: ringOf(turned(xy, hole)), side: 'on', hole })), unreachable: 0 };
  }
  const regions = cut.side === 'auto' ? unite(drawn.flatMap(contoursOf), 'evenodd') : [...drawn];
  const join = cut.corners === 'plain' ? 'round' : 'mitre';
  const contours: Contour[] = [];
  let unreachable = 0;
  const add = (xy: ArrayLike<number>, side: 'outside' | 'inside', hole: boolean) => contours.push({ ring: ringOf(turned(xy, hole)), side, hole });
  const opened = (xy: ArrayLike<number>, side: 'outside' | 'inside') => {
    // An opening: the torch inside it. Its own outline is taken as an area.
    const inner = offset([areaIn(xy)], -half);
    if (inner.length === 0) unreachable++;
    for (const region of inner) for (const ring of contoursOf(region)) add(ring.xy, side, ring === region.outer);
  };
  const kept = (xy: ArrayLike<number>, side: 'outside' | 'inside') => {
    for (const region of offset([areaIn(xy)], half, join)) for (const ring of contoursOf(region)) add(ring.xy, side, ring !== region.outer);
  };
  for (const region of regions) {
    const inside = cut.side === 'inside';
    (inside ? opened : kept)(region.outer.xy, inside ? 'inside' : 'outside');
    for (const hole of region.holes) (inside ? kept : opened)(hole.xy, inside ? 'outside' : 'inside');
  }
  return { contours, unreachable };
}

/** What an outline encloses, by itself. */
const areaIn = (xy: ArrayLike<number>): Region => ({ outer: { xy: Float64Array.from(turnedTo(xy, 1)), smooth: new Uint8Array(xy.length / 2) }, holes: [] });

/** Counter-clockwise for 1, clockwise for -1. */
function turnedTo(xy: ArrayLike<number>, way: 1 | -1): number[] {
  const out = Array.from(xy);
  if (Math.sign(signedArea(xy)) === way) return out;
  const back: number[] = [];
  for (let i = out.length - 2; i >= 0; i -= 2) back.push(out[i], out[i + 1]);
  return back;
}
/** Waste on the left: round a part clockwise, in a hole counter-clockwise. */
const turned = (xy: ArrayLike<number>, hole: boolean): number[] => turnedTo(xy, hole ? 1 : -1);

/** What else a torch cut must know of its job. */
export interface TorchContext {
  plate: { width: number; height: number; thickness: number };
  /** Places where contours were begun by hand, mm. */
  starts?: readonly Point[];
  /** Parts that other cuts leave standing. */
  standing?: readonly Region[];
}

export function planTorch(
  drawn: readonly Region[],
  lines: readonly DrawnLine[],
  cut: TorchCut,
  nozzle: Bit,
  travel: Travel,
  { plate, starts = [], standing = [] }: TorchContext,
): TorchPlan {
  const half = cut.kerfBy === 'program' ? cut.kerf / 2 : 0;
  const parts = partsOf(drawn, cut.side, areaIn([0, 0, plate.width, 0, plate.width, plate.height, 0, plate.height]));
  const { contours, unreachable } = contoursFor(drawn, cut, half);
  const mirrored = nozzle.kind === 'nozzle' && nozzle.swirl === 'left';
  const kept = [...parts, ...standing];
  const room: LeadRoom = {
    kind: cut.lead === 'none' ? 'arc' : cut.lead,
    length: cut.leadIn,
    crater: cut.crater,
    // Where the program may not go: in a part, or so near that the kerf takes of it. A machine that moves off by itself is led along the edge.
    closed: nearbyRegions(offset(kept, half - CLOSE)),
    parts: nearbyRegions(kept),
    plate,
    half: cut.kerf / 2,
  };
  const ways = contours.map((contour) => wayOf(contour, cut, room, starts, half, mirrored));
  const open = cut.side === 'on' ? lines.map((line) => openWay(line, cut)) : [];
  const all = [...ways, ...open];
  const order = cuttingOrder(
    all.map(({ facts, ring }) => ({ at: facts.pierce, ring })),
    cut.spreadHeat,
  );
  const writer = new PathWriter(travel);
  let touched: Point | null = null;
  let touches = 0;
  order.forEach((k, n) => {
    const way = all[k];
    const { pierce } = way.facts;
    writer.begin(cut.id, `contour ${n + 1} of ${order.length}, ${way.facts.side}`);
    const far = touched === null || Math.hypot(pierce[0] - touched[0], pierce[1] - touched[1]) > cut.touchAfter;
    // What is put in another order afterwards is felt for everywhere: what was near then need not be near now.
    const touch = cut.touch === 'each' || (cut.touch === 'far' && (far || cut.order !== 'shortest'));
    writer.over(pierce[0], pierce[1], touch ? travel.clearance : cut.pierceHeight);
    if (touch) {
      writer.touch(cut.floatTravel);
      touches++;
      touched = pierce;
      writer.rapidTo(cut.pierceHeight);
    }
    writer.on(1, cut.pierceDelay);
    writer.cutTo(pierce[0], pierce[1], cut.cutHeight);
    writeWay(writer, way, cut);
    writer.lift();
  });
  const noLead = cut.lead === 'none' || cut.side === 'on' ? [] : ways.filter(({ facts }) => facts.lead === 'none').map(({ facts }) => facts.pierce);
  // What the machine makes of it: what does not fit the kerf does not fit there either.
  const real = cut.kerfBy === 'machine' ? planTorch(drawn, lines, { ...cut, kerfBy: 'program' }, nozzle, travel, { plate, starts, standing }) : null;
  return {
    path: writer.finish(),
    contours: order.map((k) => all[k].facts),
    pierces: order.length,
    touches,
    unreachable: real?.unreachable ?? unreachable,
    noLead,
    parts,
    arc: real?.path ?? null,
    kerf: cut.kerf,
    depth: plate.thickness + SLAG,
  };
}

/** The arc comes out below the plate by so much, mm: what it goes through is through. */
const SLAG = 1;

/** A lead may come so near to a part's grown edge: its own end lies on it, mm. */
const CLOSE = 2e-3;

/** A contour from its pierce to its end: points of the lead, then of the line itself. */
interface Way {
  ring: ClosedLine;
  lead: Point[];
  points: RingPoint[];
  /** Distance along `points` at which the arc goes off. */
  offAt: number;
  feed: number;
  /** Stretches along `points` that are taken slower, height locked. */
  slow: [number, number][];
  control: boolean;
  facts: TorchContour;
}

function wayOf({ ring: line, side, hole }: Contour, cut: TorchCut, room: LeadRoom, starts: readonly Point[], half: number, mirrored: boolean): Way {
  const pole = hole && side !== 'on' ? poleOf(line.xy) : null;
  const byHand = starts
    .map(([x, y]) => line.nearest(x, y))
    .filter(({ distance }) => distance < 3 * cut.kerf)
    .map(({ s }) => s);
  const asked = cut.lead !== 'none' && side !== 'on';
  const found = asked ? leadFor(line, room, { pole, byHand }) : null;
  const s = found?.s ?? byHand[0] ?? 0;
  const corners = cut.corners !== 'plain' && side === 'outside' ? cornersOf(line, s, cut, room) : new Map<number, Point[]>();
  const small = hole && side !== 'on' && pole !== null && 2 * (pole.distance + half) < cut.smallHole;
  const pace = small ? cut.smallHoleFeed * cut.feed : cut.feed;
  const closes = hole && side !== 'on';
  const beyond = cut.microTab > 0 && !hole && side === 'outside' ? -tabBefore(line, s, found?.points ?? [], cut) : closes ? cut.overcut : 0;
  let points = ringPoints(line, s, Math.max(-0.9 * line.length, beyond), corners);
  if (beyond === 0 && cut.leadOut > 0 && found) points = [...points, ...leadOut(line, s, cut.leadOut, room, 1)];
  const length = points.at(-1)!.at;
  const offAt = closes ? Math.max(0, length - Math.min(cut.offEarly, cut.overcut)) : length;
  const slow = small ? [] : slowStretches(points, cut);
  const way: Way = {
    ring: line,
    lead: found ? found.points : [],
    points,
    offAt,
    feed: pace,
    slow,
    control: cut.heightControl && !small,
    facts: {
      side,
      direction: Math.sign(signedArea(line.xy)) > 0 === !mirrored ? 'counter-clockwise' : 'clockwise',
      pierce: found ? found.points[0] : line.at(s),
      lead: found?.kind ?? 'none',
      leadLength: found?.length ?? 0,
      moved: found?.moved ?? false,
      shortened: found?.shortened ?? false,
      length: line.length,
      slow: small,
      feed: pace,
      loops: corners.size,
      start: line.at(s),
    },
  };
  return mirrored ? reversedWay(way, cut, room, s, beyond, corners.size > 0) : way;
}

/** Places where the end of a tab is tried, mm apart. */
const TAB_STEP = 0.05;

/** How far before its start a contour ends, so that a tab so wide stays between what is cut there and the lead, mm. */
function tabBefore(line: ClosedLine, s: number, lead: readonly Point[], { microTab, kerf }: TorchCut): number {
  const apart = microTab + kerf;
  // A lead comes alongside: straight back is not far enough.
  const cut = lead.length > 1 ? lead : [line.at(s)];
  let back = apart;
  while (back < line.length / 2 && awayFrom(cut, line.at(s - back)) < apart) back += TAB_STEP;
  return back;
}

/** Distance of a point from a line of points, mm. */
function awayFrom(points: readonly Point[], [x, y]: Point): number {
  let least = Math.hypot(points[0][0] - x, points[0][1] - y);
  for (let k = 1; k < points.length; k++) {
    const [[ax, ay], [bx, by]] = [points[k - 1], points[k]];
    const [dx, dy] = [bx - ax, by - ay];
    const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
    least = Math.min(least, Math.hypot(ax + t * dx - x, ay + t * dy - y));
  }
  return least;
}

/** With a left-hand swirl all of it runs the other way round: the lead is that of the line turned back. */
function reversedWay(way: Way, cut: TorchCut, room: LeadRoom, s: number, beyond: number, looped: boolean): Way {
  const back = new ClosedLine(Float64Array.from(turnedTo(way.ring.xy, signedArea(way.ring.xy) > 0 ? -1 : 1)));
  const at = back.nearest(...way.ring.at(s)).s;
  const corners = looped ? cornersOf(back, at, cut, room) : new Map<number, Point[]>();
  let points = ringPoints(back, at, beyond, corners);
  if (beyond === 0 && cut.leadOut > 0 && way.lead.length > 0) points = [...points, ...leadOut(back, at, cut.leadOut, room, -1)];
  // The lead comes from the same side; where it came along the line it now comes from ahead of the start.
  const found = way.lead.length > 0 ? leadFor(back, room, { pole: null, byHand: [at], fixed: true, waste: -1 }) : null;
  const lead = found?.points ?? (way.lead.length > 0 ? [way.lead[0], back.at(at)] : []);
  return {
    ...way,
    ring: back,
    lead,
    points,
    offAt: points.at(-1)!.at - (way.points.at(-1)!.at - way.offAt),
    slow: way.slow.length > 0 ? slowStretches(points, cut) : [],
    facts: { ...way.facts, pierce: lead[0] ?? way.facts.pierce, loops: corners.size },
  };
}

/** An open line as it is drawn, begun at its first point. */
function openWay({ line, closed }: DrawnLine, cut: TorchCut): Way {
  const points: RingPoint[] = [];
  const n = line.xy.length / 2 + (closed ? 1 : 0);
  let at = 0;
  for (let i = 0; i < n; i++) {
    const k = i % (line.xy.length / 2);
    const [x, y] = [line.xy[2 * k], line.xy[2 * k + 1]];
    const last = points.at(-1);
    at += last ? Math.hypot(x - last.x, y - last.y) : 0;
    points.push({ x, y, at });
  }
  const pierce: Point = [points[0].x, points[0].y];
  return {
    ring: new ClosedLine(Float64Array.from(line.xy)),
    lead: [],
    points,
    offAt: at,
    feed: cut.feed,
    slow: slowStretches(points, cut),
    control: cut.heightControl,
    facts: {
      side: 'on',
      direction: 'clockwise',
      pierce,
      lead: 'none',
      leadLength: 0,
      moved: false,
      shortened: false,
      length: at,
      slow: false,
      feed: cut.feed,
      loops: 0,
      start: pierce,
    },
  };
}

/** On past the end and away into the scrap, a straight way at 45 degrees; none where there is no room. */
function leadOut(line: ClosedLine, s: number, length: number, room: LeadRoom, waste: 1 | -1): RingPoint[] {
  const from = line.at(s);
  const [tx, ty] = line.direction(s);
  const f = length * Math.SQRT1_2;
  const end: Point = [from[0] + f * (tx - waste * ty), from[1] + f * (ty + waste * tx)];
  return isOpen([from, end], room) && onPlate(end, room) ? [{ x: end[0], y: end[1], at: line.length + length }] : [];
}

/** How far before and after a sharp corner height is locked, mm: the torch slows there, and the voltage would make it dive. (Common practice.) */
const LOCKED = 2;

/** Stretches round sharp corners, along the points. */
function slowStretches(points: readonly RingPoint[], cut: Pick<TorchCut, 'cornerAngle'>): [number, number][] {
  const out: [number, number][] = [];
  for (let i = 1; i < points.length - 1; i++) {
    const [a, b, c] = [points[i - 1], points[i], points[i + 1]];
    const turn = Math.abs(Math.atan2((b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x), (b.x - a.x) * (c.x - b.x) + (b.y - a.y) * (c.y - b.y)));
    if (180 - (turn * 180) / Math.PI > cut.cornerAngle) continue;
    const [from, to] = [b.at - LOCKED, b.at + LOCKED];
    const last = out.at(-1);
    if (last && from <= last[1]) last[1] = to;
    else out.push([Math.max(0, from), to]);
  }
  return out;
}

/** Height is locked before the arc goes off, mm. */
const LOCK_BEFORE_END = 3;

function writeWay(writer: PathWriter, { lead, points, offAt, feed: pace, slow, control }: Way, cut: TorchCut): void {
  writer.setFeed(pace);
  for (const [x, y] of lead.slice(1)) writer.cutTo(x, y, cut.cutHeight);
  const end = points.at(-1)!.at;
  const locked: [number, number][] = [...slow, [Math.max(0, offAt - LOCK_BEFORE_END), end + 1]];
  const isLocked = (at: number) => locked.some(([from, to]) => at > from && at < to);
  const isSlow = (at: number) => slow.some(([from, to]) => at > from && at < to);
  // Split where something changes on the way.
  const marks = [...new Set([...slow.flat(), ...locked.flat(), offAt])].filter((at) => at > 0 && at < end).sort((a, b) => a - b);
  let [on, controlled, m] = [true, false, 0];
  const step = (x: number, y: number, from: number, to: number) => {
    const middle = (from + to) / 2;
    if (control && on && controlled === isLocked(middle)) {
      controlled = !controlled;
      writer.heightControl(controlled);
    }
    writer.setFeed(isSlow(middle) ? cut.cornerFeed * pace : pace);
    writer.cutTo(x, y, cut.cutHeight);
    if (on && to >= offAt - 1e-9) {
      if (controlled) writer.heightControl(false);
      writer.off();
      on = false;
    }
  };
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1], points[i]];
    let from = a.at;
    for (; m < marks.length && marks[m] <= b.at + 1e-9; m++) {
      if (marks[m] <= from + 1e-9) continue;
      const f = (marks[m] - a.at) / (b.at - a.at);
      if (f < 1 - 1e-9) step(a.x + f * (b.x - a.x), a.y + f * (b.y - a.y), from, marks[m]);
      if (f < 1 - 1e-9) from = marks[m];
    }
    if (b.at > from + 1e-9) step(b.x, b.y, from, b.at);
  }
  if (on) writer.off();
}
