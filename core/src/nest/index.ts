/**
 * Fits pieces onto a plate: true shapes on a grid. Every piece is grown by half the gap and set down where none of
 * the cells it touches is taken - by another piece, by what was cut out of a remnant before, or by the margin - so that
 * no two come nearer than the gap, however coarse the grid. It goes as far to the left as it can, then as low,
 * in the turn that is narrowest there; also into the openings of others. The largest go first; after that other orders are
 * tried for as long as one likes, and the best kept: more pieces, then a shorter stretch of plate.
 */
import { mapRegion, offset, rectangle, regionArea, regionsBox, subtract, uniteRegions, type Region } from '../geometry/index.ts';

export interface NestPiece {
  id: string;
  /** What must stay whole, as it is drawn, mm. */
  regions: readonly Region[];
  copies: number;
  /** Turns it may take, degrees counter-clockwise; 0 alone for plate with a grain or a face. */
  turns: readonly number[];
}

export interface NestPlate {
  width: number;
  height: number;
  /** What is cut out of it already. */
  holes?: readonly Region[];
}

export interface NestSettings {
  /** Between pieces at least - the kerf belongs to it - and to the edge, mm. */
  gap: number;
  margin: number;
  /** Orders that are tried beyond the first. */
  rounds: number;
  /** The same seed tries the same orders. */
  seed?: number;
  /** What was found before: it goes on from there instead of from the largest. */
  from?: Pick<Nest, 'placed'>;
}

export interface Placed {
  id: string;
  copy: number;
  /** Turned about the origin first, degrees, then moved, mm. */
  angle: number;
  dx: number;
  dy: number;
}

export interface Nest {
  placed: Placed[];
  /** Pieces for which there is no room, once for each copy. */
  left: string[];
  /** How far to the right the plate is used, mm, and the share of that stretch that is pieces. */
  used: number;
  share: number;
}

/** Cells along the shorter way of a plate at least, and their size at least and at most, mm. */
const CELLS = 320;
const SMALLEST = 0.5;
const LARGEST = 4;

/** Rows of cells as bits, 32 to a word, from the left. */
interface Bitmap {
  words: number;
  rows: number;
  bits: Uint32Array;
}

/** A piece in one of its turns: the cells it touches, counted from its lower-left corner, and where that lies. */
interface Shape {
  angle: number;
  map: Bitmap;
  columns: number;
  minX: number;
  minY: number;
}

/** One copy to be set down. */
interface Copy {
  id: string;
  copy: number;
  area: number;
  size: number;
  shapes: Shape[];
}

/**
 * Lays pieces out on a plate. Gives what it has after each round to `onBetter` when that is better.
 *
 * @param signal stops it after the round under way: what was found stands
 */
export function nest(
  pieces: readonly NestPiece[],
  plate: NestPlate,
  settings: NestSettings,
  { signal, onRound }: { signal?: { aborted: boolean }; onRound?: (done: number, best: Nest) => void } = {},
): Nest {
  const cell = Math.min(LARGEST, Math.max(SMALLEST, Math.min(plate.width, plate.height) / CELLS));
  const bed = bedOf(plate, settings, cell);
  const copies = pieces.flatMap((piece): Copy[] => {
    const area = piece.regions.reduce((sum, region) => sum + regionArea(region), 0);
    const grown = offset(uniteRegions(piece.regions), settings.gap / 2);
    const shapes = [...new Set(piece.turns)]
      .map((angle) => shapeOf(grown, angle, cell))
      .filter(({ columns, map }) => columns <= bed.columns && map.rows <= bed.map.rows);
    const size = Math.max(...shapes.map(({ columns, map }) => columns * map.rows), 0);
    return Array.from({ length: piece.copies }, (_, copy) => ({ id: piece.id, copy, area, size, shapes }));
  });
  const before = new Map((settings.from?.placed ?? []).map(({ id, copy }, rank) => [`${id} ${copy}`, rank]));
  const rankOf = ({ id, copy }: Copy) => before.get(`${id} ${copy}`) ?? Infinity;
  const order = [...copies].sort((a, b) => Math.sign(rankOf(a) - rankOf(b)) || b.size - a.size);
  let best = lay(order, bed, cell);
  onRound?.(0, best);
  const random = chance(settings.seed ?? 1);
  let now = order;
  for (let round = 1; round <= settings.rounds && !signal?.aborted; round++) {
    const next = shuffled(now, random);
    const made = lay(next, bed, cell);
    if (isBetter(made, best)) [best, now] = [made, next];
    onRound?.(round, best);
  }
  return best;
}

const isBetter = (a: Nest, b: Nest): boolean => a.left.length < b.left.length || (a.left.length === b.left.length && a.used < b.used - 1e-9);

interface Bed {
  map: Bitmap;
  columns: number;
}

/** The plate: cells that are taken before anything lies there. */
function bedOf({ width, height, holes = [] }: NestPlate, { gap, margin }: NestSettings, cell: number): Bed {
  const [columns, rows] = [Math.floor(width / cell), Math.floor(height / cell)];
  const map = bitmap(columns, rows);
  // Pieces are grown by half a gap already.
  const edge = margin - gap / 2;
  const usable = subtract([{ outer: rectangle(edge, edge, width - 2 * edge, height - 2 * edge), holes: [] }], offset(holes, edge));
  const outside = subtract([{ outer: rectangle(-cell, -cell, width + 2 * cell, height + 2 * cell), holes: [] }], usable);
  touch(map, columns, outside, cell, 0, 0);
  return { map, columns };
}

const bitmap = (columns: number, rows: number): Bitmap => {
  const words = (columns + 31) >> 5;
  return { words, rows, bits: new Uint32Array(words * rows) };
};

function shapeOf(regions: readonly Region[], angle: number, cell: number): Shape {
  const a = (angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  const turned = regions.map((region) => mapRegion(region, (x, y) => [cos * x - sin * y, sin * x + cos * y]));
  const { minX, minY, maxX, maxY } = regionsBox(turned);
  const [columns, rows] = [Math.ceil((maxX - minX) / cell + 1e-9), Math.ceil((maxY - minY) / cell + 1e-9)];
  const map = bitmap(columns, rows);
  touch(map, columns, turned, cell, minX, minY);
  return { angle, map, columns, minX, minY };
}

/** Sets every cell that an area touches: those its edges go through, and those between them. */
function touch({ words, rows, bits }: Bitmap, columns: number, area: readonly Region[], cell: number, left: number, low: number): void {
  const set = (row: number, from: number, to: number) => {
    if (row < 0 || row >= rows) return;
    for (let c = Math.max(0, from); c <= Math.min(columns - 1, to); c++) bits[row * words + (c >> 5)] |= 1 << (c & 31);
  };
  for (const region of area) {
    const rings = [region.outer, ...region.holes].map(({ xy }) => xy);
    // Inside, along the middle of each row.
    for (let row = 0; row < rows; row++) {
      const y = low + (row + 0.5) * cell;
      const crossings: number[] = [];
      for (const xy of rings)
        for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
          const [a, b] = [xy[j + 1], xy[i + 1]];
          if (a > y !== b > y) crossings.push(xy[j] + ((y - a) / (b - a)) * (xy[i] - xy[j]));
        }
      crossings.sort((a, b) => a - b);
      for (let k = 0; k + 1 < crossings.length; k += 2) set(row, Math.floor((crossings[k] - left) / cell), Math.floor((crossings[k + 1] - left) / cell));
    }
    // Edges, row by row: between where one comes into the row and where it leaves it.
    for (const xy of rings)
      for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
        const [ax, ay, bx, by] = [xy[j] - left, xy[j + 1] - low, xy[i] - left, xy[i + 1] - low];
        const [from, to] = [Math.floor(Math.min(ay, by) / cell), Math.floor(Math.max(ay, by) / cell)];
        for (let row = Math.max(0, from); row <= Math.min(rows - 1, to); row++) {
          const part = (y: number) => (by === ay ? 0 : Math.min(1, Math.max(0, (y - ay) / (by - ay))));
          const [t, u] = by === ay ? [0, 1] : [part(row * cell), part((row + 1) * cell)];
          const [x, w] = [ax + t * (bx - ax), ax + u * (bx - ax)];
          set(row, Math.floor(Math.min(x, w) / cell - 1e-9), Math.floor(Math.max(x, w) / cell + 1e-9));
        }
      }
  }
}

/** Sets copies down in an order, one after the other. */
function lay(order: readonly Copy[], bed: Bed, cell: number): Nest {
  const taken: Bitmap = { ...bed.map, bits: bed.map.bits.slice() };
  const placed: Placed[] = [];
  const left: string[] = [];
  /** Where a copy of the same piece found no room to the left of, in the same round, no other will. */
  const from = new Map<string, number>();
  let [used, area] = [0, 0];
  for (const { id, copy, shapes, area: own } of order) {
    let best: { shape: Shape; column: number; row: number; right: number } | null = null;
    for (const shape of shapes) {
      const key = `${id} ${shape.angle}`;
      const most = best ? best.right - shape.columns : bed.columns - shape.columns;
      const at = firstFree(taken, shape, from.get(key) ?? 0, most);
      if (!at) continue;
      from.set(key, at.column);
      const right = at.column + shape.columns;
      if (!best || right < best.right) best = { shape, ...at, right };
    }
    if (!best) {
      left.push(id);
      continue;
    }
    put(taken, best.shape, best.column, best.row);
    used = Math.max(used, best.right * cell);
    area += own;
    placed.push({ id, copy, angle: best.shape.angle, dx: best.column * cell - best.shape.minX, dy: best.row * cell - best.shape.minY });
  }
  return { placed, left, used, share: used > 0 ? area / (used * bed.map.rows * cell) : 0 };
}

/** The place farthest to the left, then lowest, where a shape touches nothing that is taken. */
function firstFree(taken: Bitmap, { map }: Shape, from: number, most: number): { column: number; row: number } | null {
  const { words, bits } = taken;
  for (let column = from; column <= most; column++) {
    const [word, shift] = [column >> 5, column & 31];
    rows: for (let row = 0; row + map.rows <= taken.rows; row++) {
      for (let r = 0; r < map.rows; r++) {
        const [base, own] = [(row + r) * words + word, r * map.words];
        for (let w = 0; w < map.words; w++) {
          const piece = map.bits[own + w];
          if (piece === 0) continue;
          if (bits[base + w] & (piece << shift) || (shift > 0 && word + w + 1 < words && bits[base + w + 1] & (piece >>> (32 - shift)))) {
            // The next place this row of the piece could lie free begins beyond what is in its way.
            row += ahead(taken, row + r, column, map, r) - 1;
            continue rows;
          }
        }
      }
      return { column, row };
    }
  }
  return null;
}

/** Rows to go up until the row of the piece that met something meets it no longer: one at least. */
function ahead(taken: Bitmap, row: number, column: number, map: Bitmap, r: number): number {
  const { words, bits, rows } = taken;
  const [word, shift] = [column >> 5, column & 31];
  let step = 1;
  for (; row + step < rows; step++) {
    let met = false;
    for (let w = 0; w < map.words && !met; w++) {
      const piece = map.bits[r * map.words + w];
      const base = (row + step) * words + word + w;
      met = (bits[base] & (piece << shift)) !== 0 || (shift > 0 && word + w + 1 < words && (bits[base + 1] & (piece >>> (32 - shift))) !== 0);
    }
    if (!met) break;
  }
  return step;
}

function put({ words, bits }: Bitmap, { map }: Shape, column: number, row: number): void {
  const [word, shift] = [column >> 5, column & 31];
  for (let r = 0; r < map.rows; r++)
    for (let w = 0; w < map.words; w++) {
      const piece = map.bits[r * map.words + w];
      const base = (row + r) * words + word + w;
      bits[base] |= piece << shift;
      if (shift > 0 && word + w + 1 < words) bits[base + 1] |= piece >>> (32 - shift);
    }
}

/** Numbers from 0 up to 1, the same for a seed every time. (A linear congruential generator, constants as in Numerical Recipes.) */
function chance(seed: number): () => number {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

/** An order with a few of its copies moved elsewhere. */
function shuffled(order: readonly Copy[], random: () => number): Copy[] {
  const out = [...order];
  const moves = 1 + Math.floor(random() * Math.max(1, order.length / 8));
  for (let k = 0; k < moves; k++) {
    const [one] = out.splice(Math.floor(random() * out.length), 1);
    out.splice(Math.floor(random() * (out.length + 1)), 0, one);
  }
  return out;
}
