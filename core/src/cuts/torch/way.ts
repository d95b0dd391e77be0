/** One contour of a torch cut from its pierce to its end, and how it is written: lead, line, corners, where the arc goes off and where height is locked. */
import { ClosedLine, signedArea, type DrawnLine } from '../../geometry/index.ts';
import type { PathWriter } from '../../toolpath/index.ts';
import { awayFrom, leadFromEdge } from './chain.ts';
import { cornersOf, ringPoints, type RingPoint } from './corners.ts';
import type { TorchCut } from './cut.ts';
import { isOpen, leadFor, onPlate, poleOf, type Lead, type LeadRoom } from './leads.ts';

type Point = [number, number];

/** One contour as it is cut. */
export interface TorchContour {
  side: 'outside' | 'inside' | 'on';
  direction: 'clockwise' | 'counter-clockwise';
  pierce: Point;
  /** `none`: there was no room for one, or it was not asked for. */
  lead: Lead['kind'] | 'none';
  leadLength: number;
  /** The arc comes on from the contour before it: no pierce. */
  chained: boolean;
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

/** A line to be cut, with its waste on the left of travel before the swirl is looked at. */
export interface Contour {
  ring: ClosedLine;
  side: 'outside' | 'inside' | 'on';
  /** Waste inside the ring: a hole. */
  hole: boolean;
}

/** A contour from its pierce to its end: points of the lead, then of the line itself. */
export interface Way {
  ring: ClosedLine;
  /** The waste lies inside it. */
  hole: boolean;
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

export function wayOf({ ring: line, side, hole }: Contour, cut: TorchCut, room: LeadRoom, starts: readonly Point[], half: number, mirrored: boolean): Way {
  const pole = hole && side !== 'on' ? poleOf(line.xy) : null;
  const byHand = starts
    .map(([x, y]) => line.nearest(x, y))
    .filter(({ distance }) => distance < 3 * cut.kerf)
    .map(({ s }) => s);
  const asked = cut.lead !== 'none' && side !== 'on';
  const edge = asked && cut.edgeStart > 0 && side === 'outside' && !hole ? leadFromEdge(line, room, cut.edgeStart, byHand) : null;
  const found = edge ?? (asked ? leadFor(line, room, { pole, byHand }) : null);
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
    hole,
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
      chained: false,
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

/** With a left-hand swirl all of it runs the other way round: the lead is that of the line turned back. */
function reversedWay(way: Way, cut: TorchCut, room: LeadRoom, s: number, beyond: number, looped: boolean): Way {
  const back = new ClosedLine(Float64Array.from(turnedTo(way.ring.xy, signedArea(way.ring.xy) > 0 ? -1 : 1)));
  const at = back.nearest(...way.ring.at(s)).s;
  const corners = looped ? cornersOf(back, at, cut, room) : new Map<number, Point[]>();
  let points = ringPoints(back, at, beyond, corners);
  if (beyond === 0 && cut.leadOut > 0 && way.lead.length > 0) points = [...points, ...leadOut(back, at, cut.leadOut, room, -1)];
  // The lead comes from the same side; where it came along the line it now comes from ahead of the start.
  const found = way.lead.length > 0 && way.facts.lead !== 'edge' ? leadFor(back, room, { pole: null, byHand: [at], fixed: true, waste: -1 }) : null;
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
export function openWay({ line, closed }: DrawnLine, cut: TorchCut): Way {
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
    hole: false,
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
      chained: false,
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

/** @param goesOn the arc stays on at its end: it goes on to another contour */
export function writeWay(writer: PathWriter, { lead, points, offAt, feed: pace, slow, control }: Way, cut: TorchCut, goesOn: boolean): void {
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
      if (!goesOn) writer.off();
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
  if (on && !goesOn) writer.off();
}

export const endOf = ({ points }: Pick<Way, 'points'>): Point => [points.at(-1)!.x, points.at(-1)!.y];

/** Counter-clockwise for 1, clockwise for -1. */
export function turnedTo(xy: ArrayLike<number>, way: 1 | -1): number[] {
  const out = Array.from(xy);
  if (Math.sign(signedArea(xy)) === way) return out;
  const back: number[] = [];
  for (let i = out.length - 2; i >= 0; i -= 2) back.push(out[i], out[i + 1]);
  return back;
}
