/**
 * Where lines meet: a piece between two crossings cut away, a line split at its crossings, an end drawn out until it
 * meets something. Straight lines meet exactly; arcs and curves within a ten-thousandth of a millimetre of their chords.
 */
import { arcByMiddle } from '../geometry/index.ts';
import type { Item, Job } from '../job/index.ts';
import type { Change } from './change.ts';
import { withClosingLine } from './corners.ts';
import { itemPath, type DrawContext } from './index.ts';
import { splitSegment } from './nodes.ts';
import type { Segment, Subpath } from './path.ts';
import { isHidden } from './index.ts';
import { freshId, pathThing } from './thing.ts';

/** What is done to the line that is pressed, nearest to `at`. */
export interface MeetEdit {
  do: 'trim' | 'split' | 'extend';
  at: [number, number];
  /** How near the press has to be, mm. */
  reach: number;
}

/** A subpath as short straight steps; `at` of each point is its segment and how far along that it is. */
interface Steps {
  xy: number[];
  at: number[];
}

const FINE = 1e-4;
/** Points nearer than this are one, mm. */
const SAME = 1e-5;
/** Steps of a curve: its chords are finer than anything that is cut. */
const CURVE_STEPS = 256;

const startOf = (subpath: Subpath, i: number): { x: number; y: number } => (i === 0 ? subpath : subpath.segments[i - 1]);

function stepsIn(x0: number, y0: number, s: Segment): number {
  if (s.kind === 'line') return 1;
  if (s.kind === 'curve') return CURVE_STEPS;
  const arc = arcByMiddle(x0, y0, s.rx, s.ry, (s.turn * Math.PI) / 180, s.large, s.sweep, s.x, s.y);
  if (!arc) return 1;
  const r = Math.max(arc.rx, arc.ry);
  return Math.min(20_000, Math.max(8, Math.ceil(Math.abs(arc.turn) / (2 * Math.acos(Math.max(0, 1 - FINE / r))))));
}

function pointOn(x0: number, y0: number, s: Segment, t: number): [number, number] {
  if (t <= 0) return [x0, y0];
  if (t >= 1) return [s.x, s.y];
  const [first] = splitSegment(x0, y0, s, t);
  return [first.x, first.y];
}

function stepped(subpath: Subpath): Steps {
  const xy = [subpath.x, subpath.y];
  const at = [0];
  subpath.segments.forEach((s, i) => {
    const { x, y } = startOf(subpath, i);
    const n = stepsIn(x, y, s);
    for (let k = 1; k <= n; k++) {
      xy.push(...pointOn(x, y, s, k / n));
      at.push(i + k / n);
    }
  });
  return { xy, at };
}

/** Where the way from a to b is met by that from c to d: shares along both, or null. Ends that only touch count. */
function meeting(ax: number, ay: number, bx: number, by: number, cx: number, cy: number, dx: number, dy: number): [number, number] | null {
  const [ux, uy, vx, vy] = [bx - ax, by - ay, dx - cx, dy - cy];
  const cross = ux * vy - uy * vx;
  const [lu, lv] = [Math.hypot(ux, uy), Math.hypot(vx, vy)];
  if (lu === 0 || lv === 0 || Math.abs(cross) < 1e-12 * lu * lv) return null;
  const t = ((cx - ax) * vy - (cy - ay) * vx) / cross;
  const s = ((cx - ax) * uy - (cy - ay) * ux) / cross;
  if (t < -SAME / lu || t > 1 + SAME / lu || s < -SAME / lv || s > 1 + SAME / lv) return null;
  return [Math.min(1, Math.max(0, t)), s];
}

/** Every line of a job that can be met, with the thing it belongs to. */
function linesOf(job: Job, context: DrawContext): { item: Item; index: number; subpath: Subpath; steps: Steps }[] {
  return Object.values(job.items)
    .filter((item) => item.kind !== 'picture' && !isHidden(item, job))
    .flatMap((item) =>
      itemPath(item, context)
        .subpaths.map((subpath) => ({ ...subpath, segments: withClosingLine(subpath) }))
        .flatMap((subpath, index) => (subpath.segments.length > 0 ? [{ item, index, subpath, steps: stepped(subpath) }] : [])),
    );
}
type Line = ReturnType<typeof linesOf>[number];

/** The place on a line nearest to a point: how far along, and how far off, mm. */
function nearestOn({ xy, at }: Steps, px: number, py: number): { along: number; off: number } {
  let best = { along: 0, off: Infinity };
  for (let i = 0; i + 3 < xy.length; i += 2) {
    const [ax, ay, dx, dy] = [xy[i], xy[i + 1], xy[i + 2] - xy[i], xy[i + 3] - xy[i + 1]];
    const t = Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / (dx * dx + dy * dy || 1)));
    const off = Math.hypot(ax + t * dx - px, ay + t * dy - py);
    if (off < best.off) best = { along: at[i / 2] + t * (at[i / 2 + 1] - at[i / 2]), off };
  }
  return best;
}

/** Where a line is met by others, as places along it, in order, each once. */
function crossingsOf(line: Line, others: readonly Line[]): number[] {
  const { xy, at } = line.steps;
  const found: number[] = [];
  for (const other of others) {
    if (other === line) continue;
    const o = other.steps.xy;
    for (let i = 0; i + 3 < xy.length; i += 2) {
      const [minX, maxX] = [Math.min(xy[i], xy[i + 2]) - SAME, Math.max(xy[i], xy[i + 2]) + SAME];
      const [minY, maxY] = [Math.min(xy[i + 1], xy[i + 3]) - SAME, Math.max(xy[i + 1], xy[i + 3]) + SAME];
      for (let j = 0; j + 3 < o.length; j += 2) {
        if (Math.max(o[j], o[j + 2]) < minX || Math.min(o[j], o[j + 2]) > maxX || Math.max(o[j + 1], o[j + 3]) < minY || Math.min(o[j + 1], o[j + 3]) > maxY)
          continue;
        const met = meeting(xy[i], xy[i + 1], xy[i + 2], xy[i + 3], o[j], o[j + 1], o[j + 2], o[j + 3]);
        if (met) found.push(at[i / 2] + met[0] * (at[i / 2 + 1] - at[i / 2]));
      }
    }
  }
  found.sort((a, b) => a - b);
  const apart = (a: number, b: number) => {
    const [p, q] = [placeAt(line.subpath, a), placeAt(line.subpath, b)];
    return Math.hypot(p[0] - q[0], p[1] - q[1]) > 10 * SAME;
  };
  return found.filter((one, k) => k === 0 || apart(found[k - 1], one));
}

function placeAt(subpath: Subpath, along: number): [number, number] {
  const i = Math.min(subpath.segments.length - 1, Math.floor(along));
  const { x, y } = startOf(subpath, i);
  return pointOn(x, y, subpath.segments[i], along - i);
}

/** The stretch of a subpath from one place along it to another; of a closed one it may go on past its start. */
function stretch(subpath: Subpath, from: number, to: number): Subpath {
  const n = subpath.segments.length;
  const [x, y] = placeAt(subpath, from % n === 0 && from > 0 && !subpath.closed ? from : from % n);
  const segments: Segment[] = [];
  for (let i = Math.floor(from + 1e-12); i < to - 1e-12; i++) {
    const start = startOf(subpath, i % n);
    let s = subpath.segments[i % n];
    const [a, b] = [Math.max(0, from - i), Math.min(1, to - i)];
    if (b < 1) [s] = splitSegment(start.x, start.y, s, b);
    if (a > 0) [, s] = splitSegment(start.x, start.y, s, a / b);
    segments.push({ ...s });
  }
  return { x, y, closed: false, segments };
}

const long = ({ x, y, segments }: Subpath): boolean => segments.some((s) => s.kind !== 'line' || Math.hypot(s.x - x, s.y - y) > 10 * SAME);

/** A line cut at places along it: its pieces, each with where it begins and ends. */
function piecesOf(subpath: Subpath, cuts: readonly number[]): { from: number; to: number }[] {
  const n = subpath.segments.length;
  if (subpath.closed) return cuts.map((from, k) => ({ from, to: k + 1 < cuts.length ? cuts[k + 1] : cuts[0] + n }));
  const marks = [0, ...cuts, n];
  return marks.slice(1).map((to, k) => ({ from: marks[k], to }));
}

/**
 * Trims, splits or extends the line nearest to where the board is pressed.
 *
 * @throws a sentence when nothing is near, or it meets nothing
 */
export function meetEdit(job: Job, edit: MeetEdit, context: DrawContext): Change {
  const lines = linesOf(job, context);
  const [x, y] = edit.at;
  let near: { line: Line; along: number; off: number } | null = null;
  for (const line of lines) {
    if (line.item.kind === 'text' || line.item.locked) continue;
    const { along, off } = nearestOn(line.steps, x, y);
    if (off <= edit.reach && (!near || off < near.off)) near = { line, along, off };
  }
  if (!near) throw new Error('No line is there. Press on the line itself.');
  const { line, along } = near;
  if (edit.do === 'extend') return laid(job, line, [drawnOut(job, line, along, lines)], context);
  const cuts = crossingsOf(line, lines).filter((one) => line.subpath.closed || (one > 1e-9 && one < line.subpath.segments.length - 1e-9));
  if (cuts.length === 0) throw new Error('Nothing crosses that line: it stays as it is.');
  const n = line.subpath.segments.length;
  const pieces = piecesOf(line.subpath, cuts);
  const pressed = pieces.findIndex(({ from, to }) => (along >= from && along <= to) || (along + n >= from && along + n <= to));
  const kept = edit.do === 'split' ? pieces : pieces.filter((_, k) => k !== pressed);
  return laid(job, line, kept.map(({ from, to }) => stretch(line.subpath, from, to)).filter(long), context);
}

/** The line with its nearer end drawn straight on until it meets another, or the edge of the board. */
function drawnOut(job: Job, line: Line, along: number, lines: readonly Line[]): Subpath {
  const { subpath } = line;
  if (subpath.closed) throw new Error('A closed outline has no end to draw out.');
  const n = subpath.segments.length;
  const atEnd = along > n / 2;
  const last = subpath.segments[atEnd ? n - 1 : 0];
  const [ex, ey] = atEnd ? [last.x, last.y] : [subpath.x, subpath.y];
  const from = startOf(subpath, atEnd ? n - 1 : 0);
  const [ix, iy] = atEnd ? pointOn(from.x, from.y, last, 1 - 1e-6) : pointOn(from.x, from.y, last, 1e-6);
  const length = Math.hypot(ex - ix, ey - iy);
  if (length === 0) throw new Error('That line has no direction.');
  const reach = 2 * Math.hypot(job.board.width, job.board.height) + Math.hypot(ex, ey);
  const [tx, ty] = [ex + ((ex - ix) / length) * reach, ey + ((ey - iy) / length) * reach];
  const { width, height } = job.board;
  const edges = [0, 0, width, 0, width, height, 0, height, 0, 0];
  let best = Infinity;
  for (const xy of [...lines.filter((other) => other !== line).map(({ steps }) => steps.xy), edges])
    for (let j = 0; j + 3 < xy.length; j += 2) {
      const met = meeting(ex, ey, tx, ty, xy[j], xy[j + 1], xy[j + 2], xy[j + 3]);
      if (met && met[0] * reach > 10 * SAME) best = Math.min(best, met[0]);
    }
  if (!Number.isFinite(best)) throw new Error('Drawn on from there it meets nothing on the board.');
  const [mx, my] = [ex + (tx - ex) * best, ey + (ty - ey) * best];
  const segments = subpath.segments.map((s) => ({ ...s }));
  if (atEnd) {
    // A straight end only grows; anything else is followed by a straight line.
    if (last.kind === 'line') segments[n - 1] = { kind: 'line', x: mx, y: my };
    else segments.push({ kind: 'line', x: mx, y: my });
    return { ...subpath, segments };
  }
  return last.kind === 'line'
    ? { ...subpath, x: mx, y: my, segments }
    : { x: mx, y: my, closed: false, segments: [{ kind: 'line', x: ex, y: ey }, ...segments] };
}

/** The pieces in place of the line they came from; what else its thing had stays a thing. */
function laid(job: Job, { item, index }: Line, pieces: readonly Subpath[], context: DrawContext): Change {
  const whole = itemPath(item, context);
  const rest = whole.subpaths.filter((_, k) => k !== index);
  const items: Record<string, Item | null> = { [item.id]: rest.length > 0 ? pathThing(item, rest, whole.fill) : null };
  for (const [k, piece] of pieces.entries()) {
    const id = k === 0 && rest.length === 0 ? item.id : freshId(item.id, (other) => other in job.items || other in items);
    items[id] = pathThing(item, [piece], 'none', id);
  }
  return { items };
}
