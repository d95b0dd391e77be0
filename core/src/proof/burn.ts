/**
 * What a beam leaves: the energy every place of the sheet takes, and how dark that makes it. Dynamic power follows the
 * speed, so that a millimetre always takes the same; at constant power it takes more where the carriage slows down.
 * A raster of lines at a pitch takes P/(v·pitch), a line P/v for each mm. (Derived.)
 */
import { boardThickness } from '../board/index.ts';
import { throughShare } from '../feeds/beam.ts';
import type { Job } from '../job/index.ts';
import { planMotion } from '../motion/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { FEED } from '../toolpath/index.ts';
import { carve, removalOf } from './carve.ts';
import { HeightMap } from './heightmap.ts';

export interface BurnMap {
  columns: number;
  rows: number;
  /** Edge of a cell, mm. */
  cell: number;
  /** J/mm², row by row from the lower left. */
  energy: Float32Array;
  /** 1 where a cut goes through: along the kerf of cuts that lay energy enough. */
  through: Uint8Array;
  /** Of all that burns, J, also beside the sheet. */
  joules: number;
}

/** Energy over the sheet. @param cell edge of a cell, mm @param until burned so far: all cuts before this one, and of it what lies before a move */
export function burnMap(
  job: Pick<Job, 'board' | 'machine'>,
  cuts: readonly PlannedCut[],
  cell: number,
  until: { cut: number; move: number } = { cut: cuts.length, move: 0 },
): BurnMap {
  const { width, height } = job.board;
  const [columns, rows] = [Math.max(1, Math.ceil(width / cell - 1e-9)), Math.max(1, Math.ceil(height / cell - 1e-9))];
  if (columns * rows > 100e6) throw new RangeError(`A map of ${columns} × ${rows} cells is too large; use a coarser cell.`);
  const map = new Float32Array(columns * rows);
  let joules = 0;
  let spot = 0;
  for (const [k, { path, bit, beam }] of cuts.entries()) {
    const end = k < until.cut ? path.kind.length : k === until.cut ? until.move : 0;
    if (!beam || bit.kind !== 'head' || !path.power) continue;
    spot = Math.max(spot, bit.diameter);
    const constant = path.events?.some((event) => 'on' in event && event.constant) === true;
    const start = constant ? planMotion(path, job.machine).start : null;
    for (let i = 1; i < end; i++) {
      const power = path.power[i];
      if (!(power > 0) || path.kind[i] !== FEED) continue;
      const [dx, dy] = [path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]];
      // A picture has millions of these: a plain root is much quicker than `hypot`.
      const length = Math.sqrt(dx * dx + dy * dy);
      if (length === 0) continue;
      const seconds = start ? start[i + 1] - start[i] : (60 * length) / path.feed[i];
      const energy = power * bit.watts * seconds;
      joules += energy;
      lay(map, columns, rows, cell, path.x[i - 1], path.y[i - 1], path.x[i], path.y[i], energy / (cell * cell), length);
    }
  }
  blur(map, columns, rows, spot / 2 / cell);
  return { columns, rows, cell, energy: map, through: throughs(job, cuts, cell, columns * rows, until), joules };
}

/** Does a cut go through the sheet, by its energy? Nothing when it is not meant to. */
export function goesThrough({ cut, bit, beam }: PlannedCut, board: Job['board']): boolean | null {
  if (!beam || beam.depth === 0 || bit.kind !== 'head' || !('power' in cut && 'passes' in cut)) return null;
  return throughShare(cut, bit, board.material, boardThickness(board)) >= 1;
}

function throughs(job: Pick<Job, 'board'>, cuts: readonly PlannedCut[], cell: number, cells: number, until: { cut: number; move: number }): Uint8Array {
  const deep = [...cuts.entries()].filter(([k, planned]) => k <= until.cut && goesThrough(planned, job.board) === true);
  const through = new Uint8Array(cells);
  if (deep.length === 0) return through;
  const map = new HeightMap(job.board.width, job.board.height, cell);
  for (const [k, planned] of deep) {
    const { path, shape, upTo } = removalOf(planned);
    // A kerf finer than the cells is still seen, and without gaps.
    const reach = Math.max(shape.outer, 0.71 * cell);
    carve(map, path, { ...shape, outer: reach, flat: reach }, 0, k < until.cut ? path.kind.length : upTo(until.move));
  }
  for (let k = 0; k < cells; k++) if (map.height[k] < 0) through[k] = 1;
  return through;
}

/** Lays an energy along a stretch, shared among the four cells whose middles are nearest. */
function lay(
  map: Float32Array,
  columns: number,
  rows: number,
  cell: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  energy: number,
  length: number,
): void {
  const steps = Math.max(1, Math.ceil((2 * length) / cell));
  const share = energy / steps;
  const [du, dv] = [(bx - ax) / cell / steps, (by - ay) / cell / steps];
  let u = ax / cell - 0.5 + du / 2;
  let v = ay / cell - 0.5 + dv / 2;
  const last = u + (steps - 1) * du;
  if (dv === 0 && v >= 0 && v < rows - 1 && Math.min(u, last) >= 0 && Math.max(u, last) < columns - 1) {
    // Along a row, as a picture is nearly all: the same two rows of cells for all of it.
    const j = Math.floor(v);
    const upper = (v - j) * share;
    const lower = share - upper;
    const row = j * columns;
    for (let k = 0; k < steps; k++, u += du) {
      const i = Math.floor(u);
      const fu = u - i;
      const at = row + i;
      map[at] += (1 - fu) * lower;
      map[at + 1] += fu * lower;
      map[at + columns] += (1 - fu) * upper;
      map[at + columns + 1] += fu * upper;
    }
    return;
  }
  for (let k = 0; k < steps; k++, u += du, v += dv) {
    const i = Math.floor(u);
    const j = Math.floor(v);
    const fu = u - i;
    const fv = v - j;
    if (i >= 0 && j >= 0 && i + 1 < columns && j + 1 < rows) {
      const at = j * columns + i;
      map[at] += (1 - fu) * (1 - fv) * share;
      map[at + 1] += fu * (1 - fv) * share;
      map[at + columns] += (1 - fu) * fv * share;
      map[at + columns + 1] += fu * fv * share;
      continue;
    }
    // At the edge what falls beside the sheet is lost.
    for (let n = 0; n < 4; n++) {
      const [di, dj] = [n & 1, n >> 1];
      if (i + di >= 0 && j + dj >= 0 && i + di < columns && j + dj < rows) map[(j + dj) * columns + i + di] += (di ? fu : 1 - fu) * (dj ? fv : 1 - fv) * share;
    }
  }
}

/** Spreads what is laid over a spot: a mean over its width, along and across. @param radius in cells */
function blur(map: Float32Array, columns: number, rows: number, radius: number): void {
  const reach = Math.round(radius);
  if (reach < 1) return;
  const mean = 1 / (2 * reach + 1);
  const before = reach + 1;
  const line = new Float32Array(columns + 2 * before);
  for (let j = 0; j < rows; j++) {
    const start = j * columns;
    line.set(map.subarray(start, start + columns), before);
    // Nothing beside the sheet: the line is zero there.
    let sum = 0;
    for (let i = 0; i < reach; i++) sum += line[i + before];
    for (let i = 0; i < columns; i++) {
      sum += line[i + before + reach] - line[i];
      map[start + i] = sum * mean;
    }
  }
  // Across: the sums of all columns go from row to row together, so that memory is read in the order it lies.
  const sums = new Float64Array(columns);
  const passed = Array.from({ length: reach + 1 }, () => new Float32Array(columns));
  const nothing = new Float32Array(columns);
  for (let j = -reach; j < rows; j++) {
    const ahead = j + reach < rows ? map.subarray((j + reach) * columns, (j + reach + 1) * columns) : nothing;
    if (j < 0) {
      for (let i = 0; i < columns; i++) sums[i] += ahead[i];
      continue;
    }
    // What it held before is the row that the sum leaves behind.
    const kept = passed[j % (reach + 1)];
    const row = map.subarray(j * columns, (j + 1) * columns);
    for (let i = 0; i < columns; i++) {
      const sum = (sums[i] += ahead[i] - kept[i]);
      kept[i] = row[i];
      row[i] = sum * mean;
    }
  }
}

/** Width of a beam out of focus. (Published: Gaussian beam optics, w(z) = w0·sqrt(1 + (z/zR)²).) @param off mm from the focus; @param rayleigh its Rayleigh range, mm */
export const spotOutOfFocus = (spot: number, off: number, rayleigh: number): number => spot * Math.sqrt(1 + (off / rayleigh) ** 2);
