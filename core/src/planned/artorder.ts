/**
 * A cut made in the order of the artwork: its runs, each from one way down to the next way up, go
 * thing by thing as the things are listed. Within a thing they stay as they were planned; what lies
 * inside another thing is still cut out before it.
 */
import { distanceToEdges, growBox, emptyBox, insideRegion, type Box } from '../geometry/index.ts';
import { RAPID, type Span, type Toolpath } from '../toolpath/index.ts';
import type { PlannedItem } from './items.ts';

/** A run of moves from one way down to the next way up. */
export interface Stretch {
  start: number;
  end: number;
  spans: Span[];
}

/**
 * @param things what the cut works on, in the order of the artwork
 * @param reach how far from a thing its cut may run, mm
 * @param freed does the cut free what it goes round? Then inner things come first
 */
export function inArtworkOrder(path: Toolpath, things: readonly PlannedItem[], clearance: number, reach: number, freed: boolean): Toolpath {
  const stretches = stretchesOf(path, clearance);
  if (things.length < 2 || stretches.length < 2) return path;
  const boxes = things.map(boxOf);
  const ranks = rankOf(things, boxes, freed);
  const keyed = stretches.map((stretch, k) => ({ stretch, k, rank: ranks[thingAt(path, stretch, things, boxes, reach)] ?? things.length }));
  keyed.sort((a, b) => a.rank - b.rank || a.k - b.k);
  return assembled(
    path,
    keyed.map(({ stretch }) => stretch),
  );
}

/** Where a stretch first cuts. */
export function firstCut({ kind, x, y }: Toolpath, { start, end }: Stretch): [number, number] {
  let i = start;
  while (i < end - 1 && kind[i] === RAPID) i++;
  return [x[i], y[i]];
}

/** From one crossing at clearance to the next. */
export function stretchesOf({ kind, x, y, z, spans }: Toolpath, clearance: number): Stretch[] {
  const out: Stretch[] = [];
  for (let i = 0; i < kind.length; i++) {
    const across = i === 0 || (kind[i] === RAPID && z[i] >= clearance - 1e-9 && (x[i] !== x[i - 1] || y[i] !== y[i - 1]));
    if (!across) continue;
    if (out.length > 0) out[out.length - 1].end = i;
    out.push({ start: i, end: kind.length, spans: [] });
  }
  let k = 0;
  for (const span of spans) {
    while (k < out.length - 1 && out[k].end <= span.start) k++;
    for (let at = k; at < out.length && out[at].start < span.end; at++)
      out[at].spans.push({ ...span, start: Math.max(span.start, out[at].start), end: Math.min(span.end, out[at].end) });
  }
  return out;
}

function assembled(path: Toolpath, stretches: readonly Stretch[]): Toolpath {
  const n = path.kind.length;
  const out: Toolpath = {
    kind: new Uint8Array(n),
    x: new Float64Array(n),
    y: new Float64Array(n),
    z: new Float64Array(n),
    feed: new Float64Array(n),
    spans: [],
  };
  let at = 0;
  for (const { start, end, spans } of stretches) {
    for (const field of ['kind', 'x', 'y', 'z', 'feed'] as const) out[field].set(path[field].subarray(start, end) as never, at);
    for (const span of spans) out.spans.push({ ...span, start: span.start - start + at, end: span.end - start + at });
    at += end - start;
  }
  return out;
}

export function boxOf({ regions, lines }: PlannedItem): Box {
  const box = emptyBox();
  for (const { outer } of regions) growBox(box, outer.xy);
  for (const { line } of lines) growBox(box, line.xy);
  return box;
}

export const areaOf = (box: Box): number => (box.maxX - box.minX) * (box.maxY - box.minY);

/** Which thing a stretch belongs to, by its place in the list: the smallest that it begins in or beside; else the nearest box. */
export function thingAt(path: Toolpath, stretch: Stretch, things: readonly PlannedItem[], boxes: readonly Box[], reach: number): number {
  const [x, y] = firstCut(path, stretch);
  let best = -1;
  let nearest = 0;
  let away = Infinity;
  for (const [k, box] of boxes.entries()) {
    const off = Math.max(box.minX - x, x - box.maxX, box.minY - y, y - box.maxY, 0);
    if (off < away) [nearest, away] = [k, off];
    if (off > reach || (best >= 0 && areaOf(box) >= areaOf(boxes[best]))) continue;
    const { regions, lines } = things[k];
    const within = regions.some((region) => insideRegion(region, x, y)) || (regions.length > 0 && distanceToEdges(regions, x, y) <= reach);
    if (within || lines.some(({ line }) => besideLine(line.xy, x, y, reach))) best = k;
  }
  return best >= 0 ? best : nearest;
}

function besideLine(xy: ArrayLike<number>, x: number, y: number, reach: number): boolean {
  for (let i = 0; i < xy.length; i += 2) {
    const [ax, ay] = [xy[i], xy[i + 1]];
    const [dx, dy] = i + 2 < xy.length ? [xy[i + 2] - ax, xy[i + 3] - ay] : [0, 0];
    const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
    if (Math.hypot(ax + t * dx - x, ay + t * dy - y) <= reach) return true;
  }
  return false;
}

/** The place of every thing in the order. */
function rankOf(things: readonly PlannedItem[], boxes: readonly Box[], freed: boolean): number[] {
  const ranks: number[] = new Array<number>(things.length).fill(-1);
  let next = 0;
  const inside = (inner: number, outer: number): boolean => {
    const [a, b] = [boxes[inner], boxes[outer]];
    if (inner === outer || a.minX < b.minX || a.minY < b.minY || a.maxX > b.maxX || a.maxY > b.maxY || areaOf(a) >= areaOf(b)) return false;
    const region = things[inner].regions[0];
    return (
      region !== undefined && things[outer].regions.some(({ outer: edge }) => insideRegion({ outer: edge, holes: [] }, region.outer.xy[0], region.outer.xy[1]))
    );
  };
  const give = (k: number) => {
    if (ranks[k] >= 0) return;
    if (freed) for (let other = 0; other < things.length; other++) if (ranks[other] < 0 && inside(other, k)) give(other);
    if (ranks[k] < 0) ranks[k] = next++;
  };
  for (let k = 0; k < things.length; k++) give(k);
  return ranks;
}
