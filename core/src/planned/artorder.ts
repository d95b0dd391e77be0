/**
 * A cut made in an order of one's own: its runs, each from one way down to the next way up, go piece by piece -
 * thing by thing as they are listed or put by hand, or letter by letter and shape by shape from the left, in rows,
 * or from the inside out. Within a piece they stay as they were planned, pass below pass; what lies inside another
 * piece is still cut out before it.
 */
import { distanceToEdges, growBox, emptyBox, insideRegion, type Box, type DrawnLine, type Region } from '../geometry/index.ts';
import type { BaseCut } from '../cuts/index.ts';
import { RAPID, type Span, type Toolpath } from '../toolpath/index.ts';
import type { PlannedItem } from './items.ts';

/** What is cut without going elsewhere in between. */
type Piece = Pick<PlannedItem, 'regions' | 'lines'>;

/** A run of moves from one way down to the next way up. */
export interface Stretch {
  start: number;
  end: number;
  spans: Span[];
}

/**
 * The same moves, piece by piece in the order that is asked for.
 *
 * @param things what the cut works on, in the order of the artwork
 * @param way the height of crossings; how far from a piece its cut may run, mm; whether the cut frees what it goes
 *   round, so that inner pieces come first; whether it has places that are not drawn
 */
export function inOrder(
  path: Toolpath,
  things: readonly PlannedItem[],
  { order, sequence }: Pick<BaseCut, 'order' | 'sequence'>,
  { clearance, reach, freed, ownPlaces }: { clearance: number; reach: number; freed: boolean; ownPlaces: boolean },
): Toolpath {
  const stretches = stretchesOf(path, clearance);
  const byThing = order === 'drawn' || order === 'hand';
  if (order === 'shortest' || stretches.length < 2 || (byThing && things.length < 2)) return path;
  const drawn: Piece[] = byThing ? [...things] : things.flatMap(piecesOf);
  const boxes = drawn.map(boxOf);
  // What belongs to nothing drawn, such as a hole at a typed place, is a piece of its own.
  const pieceOf = stretches.map((stretch) => {
    const [x, y] = firstCut(path, stretch);
    const found = drawn.length > 0 ? thingAt(path, stretch, drawn, boxes, reach) : -1;
    if (byThing || (found >= 0 && !(ownPlaces && outside(boxes[found], x, y) > reach))) return found;
    drawn.push({ regions: [], lines: [] });
    return boxes.push({ minX: x, minY: y, maxX: x, maxY: y }) - 1;
  });
  // As they are first come to now: where an order says nothing, the shortest way stands.
  const met = [...new Set(pieceOf)].filter((k) => k >= 0);
  const wanted =
    order === 'hand'
      ? byHand(things, sequence)
      : order === 'across'
        ? met.sort((a, b) => boxes[a].minX - boxes[b].minX)
        : order === 'rows'
          ? inRows(met, boxes)
          : order === 'drawn'
            ? drawn.map((_, k) => k)
            : met;
  const ranks = rankOf(drawn, boxes, wanted, freed || order === 'inside-out');
  const keyed = stretches.map((stretch, k) => ({ stretch, k, rank: ranks[pieceOf[k]] ?? drawn.length }));
  keyed.sort((a, b) => a.rank - b.rank || a.k - b.k);
  return assembled(
    path,
    keyed.map(({ stretch }) => stretch),
  );
}

/** Letters of words; else every shape and every line. */
function piecesOf({ regions, lines, letters = [] }: PlannedItem): Piece[] {
  const boxes = letters.map((letter) => letter.lines.reduce((box, { xy }) => growBox(box, xy), emptyBox()));
  const words = letters.map((): { regions: Region[]; lines: DrawnLine[] } => ({ regions: [], lines: [] }));
  const letterOf = (xy: ArrayLike<number>) => {
    const box = growBox(emptyBox(), xy);
    const [x, y] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
    const within = boxes.flatMap((one, k) => (outside(one, x, y) === 0 ? [k] : []));
    return words[within.sort((a, b) => areaOf(boxes[a]) - areaOf(boxes[b]))[0]];
  };
  const alone: Piece[] = [];
  for (const region of regions) {
    const letter = letterOf(region.outer.xy);
    if (letter) letter.regions.push(region);
    else alone.push({ regions: [region], lines: [] });
  }
  for (const line of lines) {
    const letter = letterOf(line.line.xy);
    if (letter) letter.lines.push(line);
    else alone.push({ regions: [], lines: [line] });
  }
  return [...words.filter((word) => word.regions.length + word.lines.length > 0), ...alone];
}

const outside = (box: Box, x: number, y: number): number => Math.max(box.minX - x, x - box.maxX, box.minY - y, y - box.maxY, 0);

/** Things in the order of a list of ids; those that are not in it after them. */
function byHand(things: readonly PlannedItem[], sequence: readonly string[]): number[] {
  const at = new Map(sequence.map((id, k) => [id, k]));
  return things.map((_, k) => k).sort((a, b) => (at.get(things[a].item.id) ?? Infinity) - (at.get(things[b].item.id) ?? Infinity) || a - b);
}

/** Row by row from the top, each from the left. A piece is in a row when its middle lies at the height of the row's first, or the other way round. */
function inRows(pieces: readonly number[], boxes: readonly Box[]): number[] {
  const middle = (k: number) => (boxes[k].minY + boxes[k].maxY) / 2;
  const holds = (a: number, b: number) => middle(b) >= boxes[a].minY && middle(b) <= boxes[a].maxY;
  const left = [...pieces].sort((a, b) => boxes[b].maxY - boxes[a].maxY);
  const out: number[] = [];
  while (left.length > 0) {
    const [first] = left;
    const row = left.filter((k) => holds(first, k) || holds(k, first));
    for (const k of row) left.splice(left.indexOf(k), 1);
    out.push(...row.sort((a, b) => boxes[a].minX - boxes[b].minX));
  }
  return out;
}

/** Where a stretch first cuts. */
export function firstCut({ kind, x, y }: Toolpath, { start, end }: Stretch): [number, number] {
  let i = start;
  while (i < end - 1 && kind[i] === RAPID) i++;
  return [x[i], y[i]];
}

/** Where a cut that is named by its things comes to each piece of them, in the order it does, mm. */
export function comesTo(path: Toolpath): [number, number][] {
  const out: [number, number][] = [];
  let last = '';
  for (const span of path.spans) {
    const piece = `${span.item ?? ''} ${span.part ?? ''}`;
    if (piece !== last) out.push(firstCut(path, { ...span, spans: [] }));
    last = piece;
  }
  return out;
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
    ...(path.events ? { power: new Float64Array(n), events: [] } : {}),
    spans: [],
  };
  let at = 0;
  for (const { start, end, spans } of stretches) {
    if (path.power) out.power!.set(path.power.subarray(start, end), at);
    for (const event of path.events ?? []) if (event.at >= start && event.at < end) out.events!.push({ ...event, at: event.at - start + at });
    for (const field of ['kind', 'x', 'y', 'z', 'feed'] as const) out[field].set(path[field].subarray(start, end) as never, at);
    for (const span of spans) out.spans.push({ ...span, start: span.start - start + at, end: span.end - start + at });
    at += end - start;
  }
  return out;
}

export function boxOf({ regions, lines }: Piece): Box {
  const box = emptyBox();
  for (const { outer } of regions) growBox(box, outer.xy);
  for (const { line } of lines) growBox(box, line.xy);
  return box;
}

export const areaOf = (box: Box): number => (box.maxX - box.minX) * (box.maxY - box.minY);

/** Which thing a stretch belongs to, by its place in the list: the smallest that it begins in or beside; else the nearest box. */
export function thingAt(path: Toolpath, stretch: Stretch, things: readonly Piece[], boxes: readonly Box[], reach: number): number {
  const [x, y] = firstCut(path, stretch);
  let best = -1;
  let nearest = 0;
  let away = Infinity;
  for (const [k, box] of boxes.entries()) {
    const off = outside(box, x, y);
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

/** The place of every piece, in the order they are wanted. */
function rankOf(things: readonly Piece[], boxes: readonly Box[], wanted: readonly number[], freed: boolean): number[] {
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
  for (const k of wanted) give(k);
  return ranks;
}
