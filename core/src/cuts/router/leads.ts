/**
 * Leads: how the bit comes to the wall and leaves it, in the waste, so that the wall bears no mark. A
 * quarter circle or a slanting line; all of it - and the way between its ends - is swept against what must
 * stand: the part, parts beside it, tabs. One that finds no room where it is wanted begins elsewhere along
 * the line, then is made shorter, then is left out and told.
 */
import { ClosedLine, type Region } from '../../geometry/index.ts';
import type { Nearby } from '../nearby.ts';
import { insideLength } from '../within.ts';
import type { Gap } from './tabs.ts';

type Point = [number, number];

/** Points in the waste to the wall's first point, and from there into the waste again. */
export interface Lead {
  leadIn: Point[];
  leadOut: Point[];
}

export interface LeadRoom {
  kind: 'line' | 'arc';
  length: number;
  /** Where the middle of the bit may be: inside these for an opening, outside them for a part. */
  free: Nearby<Region>;
  inside: boolean;
  /** Other parts, grown by half the bit: its middle must stay out of them. */
  standing: Nearby<Region>;
  /** Places of tabs, x y: the bit must not touch them. */
  tabs: Nearby<Point>;
  /** Half the cutting width. */
  half: number;
}

/** Places along a line where a lead is tried. */
const PLACES = 48;
/** What of a way may lie in what must stand, mm: rounding. */
const HAIR = 1e-3;

/** A line begun where a lead finds room, its tabs in the same places; null when there is none on it. */
export function ledLine(line: ClosedLine, gaps: readonly Gap[], room: LeadRoom): { line: ClosedLine; gaps: Gap[]; lead: Lead } | null {
  for (const part of [1, 0.5, 0.25])
    for (const s of placesOn(line, gaps)) {
      const lead = leadAt(line, s, { ...room, length: part * room.length });
      if (!lead) continue;
      return { ...begunThere(line, gaps, s), lead };
    }
  return null;
}

/** A line begun at another place along it, its gaps where they were. */
function begunThere(line: ClosedLine, gaps: readonly Gap[], s: number): { line: ClosedLine; gaps: Gap[] } {
  if (s === 0) return { line, gaps: [...gaps] };
  const shifted = gaps.map(([from, to]): Gap => {
    const at = (((from - s) % line.length) + line.length) % line.length;
    return [at, at + to - from];
  });
  return { line: new ClosedLine(begunAtLength(line, s)), gaps: shifted.sort((a, b) => a[0] - b[0]) };
}

/** A line that does not begin in one of its gaps: as it is, or from the middle of the longest stretch between them. */
export function begunClear(line: ClosedLine, gaps: readonly Gap[]): { line: ClosedLine; gaps: Gap[] } {
  const meets = gaps.some(([from, to]) => from <= 0 || to >= line.length);
  if (!meets) return { line, gaps: [...gaps] };
  // A gap that ends where the line does goes on where it begins.
  const last = gaps.at(-1)!;
  const joined = last[1] >= line.length && gaps[0][0] <= 0 && gaps.length > 1 ? [...gaps.slice(1, -1), [last[0], line.length + gaps[0][1]] as Gap] : [...gaps];
  let best = { room: -1, s: 0 };
  joined.forEach(([, to], k) => {
    const next = joined[(k + 1) % joined.length][0] + (k + 1 === joined.length ? line.length : 0);
    if (next - to > best.room) best = { room: next - to, s: ((to + next) / 2) % line.length };
  });
  return best.room > 0 ? begunThere(line, joined, best.s) : { line, gaps: [...gaps] };
}

/** Where it begins now, the middles of long edges, then places evenly spread; none within a tab. */
function placesOn(line: ClosedLine, gaps: readonly Gap[]): number[] {
  const edges = Array.from({ length: line.along.length - 1 }, (_, i) => i)
    .sort((a, b) => line.along[b + 1] - line.along[b] - (line.along[a + 1] - line.along[a]) || a - b)
    .slice(0, 8)
    .map((i) => (line.along[i] + line.along[i + 1]) / 2);
  const spread = Array.from({ length: PLACES }, (_, k) => ((k + 0.5) * line.length) / PLACES);
  const clear = (s: number) => gaps.every(([from, to]) => s < from - 0.5 || s > to + 0.5);
  return [0, ...[...edges, ...spread].filter((s) => s > 0.5 && s < line.length - 0.5 && clear(s))];
}

function begunAtLength(line: ClosedLine, s: number): Float64Array {
  const i = line.edgeAt(s);
  const n = line.along.length - 1;
  const out: number[] = [...line.at(s)];
  for (let k = 1; k <= n; k++) out.push(line.xy[2 * ((i + k) % n)], line.xy[2 * ((i + k) % n) + 1]);
  // The place may be a corner already.
  const again = Math.hypot(out[0] - out[out.length - 2], out[1] - out[out.length - 1]) < 1e-9;
  return Float64Array.from(again ? out.slice(0, -2) : out);
}

function leadAt(line: ClosedLine, s: number, room: LeadRoom): Lead | null {
  const [x, y] = line.at(s);
  const [tx, ty] = line.direction(s);
  const { length } = room;
  const far = 2 * length + room.half;
  const [free, standing, tabs] = [room.free.within(x, y, far), room.standing.within(x, y, far), room.tabs.within(x, y, far)];
  // Into the waste: to the left of the line or to the right.
  const probe = (side: 1 | -1) => isWaste([x - side * 2 * HAIR * ty, y + side * 2 * HAIR * tx], free, room.inside);
  const side = probe(1) ? 1 : probe(-1) ? -1 : 0;
  if (side === 0) return null;
  const [nx, ny] = [-side * ty, side * tx];
  const steps = room.kind === 'arc' ? 12 : 1;
  const quarter = (way: 1 | -1) =>
    Array.from({ length: steps + 1 }, (_, k): Point => {
      // From the wall out into the waste, ahead of it or behind.
      const f = k / steps;
      const [a, b] = room.kind === 'arc' ? [Math.sin((f * Math.PI) / 2), 1 - Math.cos((f * Math.PI) / 2)] : [f, f];
      return [x + way * a * length * tx + b * length * nx, y + way * a * length * ty + b * length * ny];
    });
  const leadOut = quarter(1);
  const leadIn = quarter(-1).reverse();
  // Round and back to where it came from: that is how a ramped lead goes down.
  const way = [...leadIn, ...leadOut.slice(1), leadIn[0]];
  for (let k = 1; k < way.length; k++) {
    const [a, b] = [way[k - 1], way[k]];
    const within = insideLength(free, a, b);
    const whole = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if ((room.inside ? whole - within : within) > HAIR || insideLength(standing, a, b) > HAIR) return null;
    if (tabs.some((tab) => distanceToSegment(tab, a, b) < room.half - HAIR)) return null;
  }
  return { leadIn, leadOut };
}

const isWaste = ([x, y]: Point, free: readonly Region[], inside: boolean): boolean =>
  insideLength(free, [x - HAIR / 4, y], [x + HAIR / 4, y]) > HAIR / 4 === inside;

function distanceToSegment([x, y]: Point, [ax, ay]: Point, [bx, by]: Point): number {
  const [dx, dy] = [bx - ax, by - ay];
  const square = dx * dx + dy * dy;
  const f = square > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / square)) : 0;
  return Math.hypot(x - ax - f * dx, y - ay - f * dy);
}

/** Points all over the tabs of a line: what stands between the two places where the bit comes out and goes in again. */
export function tabPlaces(line: ClosedLine, gaps: readonly Gap[], half: number): Point[] {
  const out: Point[] = [];
  for (const [from, to] of gaps) {
    const [a, b] = [from + half, to - half];
    const steps = Math.max(1, Math.ceil((b - a) / 0.5));
    for (let k = 0; k <= steps; k++) {
      const s = a + ((b - a) * k) / steps;
      const [x, y] = line.at(s);
      const [tx, ty] = line.direction(s);
      for (const across of [-1, -0.5, 0, 0.5, 1]) out.push([x - across * half * ty, y + across * half * tx]);
    }
  }
  return out;
}
