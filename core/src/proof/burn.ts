/**
 * What a beam leaves: the energy every place of the sheet takes, and how dark that makes it. Dynamic power follows the
 * speed, so that a millimetre always takes the same; at constant power it takes more where the carriage slows down.
 * A raster of lines at a pitch takes P/(v·pitch), a line P/v for each mm. (Derived.)
 */
import type { Job } from '../job/index.ts';
import { planMotion } from '../motion/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { FEED } from '../toolpath/index.ts';

/** Energies of a material, J/mm²: where a mark begins, where it is fully dark, where it chars; and what takes a mm away. From memory, for wood and a blue diode: a test card decides. */
export interface Response {
  begins: number;
  full: number;
  chars: number;
  throughPerMm: number;
}
const WOOD: Response = { begins: 0.05, full: 0.6, chars: 2.5, throughPerMm: 9 };
const RESPONSES: [RegExp, Response][] = [
  [/\bacrylic\b/i, { begins: 0.2, full: 1.2, chars: 6, throughPerMm: 14 }],
  [/\b(slate|stone|tile|ceramic|glass)\b/i, { begins: 0.4, full: 1.6, chars: 20, throughPerMm: 1e6 }],
  [/\b(leather|cork|felt)\b/i, { begins: 0.04, full: 0.4, chars: 1.5, throughPerMm: 6 }],
  [/\b(steel|alumini?um|brass|copper)\b/i, { begins: 2, full: 8, chars: 1e6, throughPerMm: 1e6 }],
];
export const responseOf = (material: string): Response => RESPONSES.find(([word]) => word.test(material))?.[1] ?? WOOD;

/** Darkness of the mark, 0 to 1. */
export const darknessOf = (energy: number, { begins, full }: Response): number => Math.min(1, Math.max(0, (energy - begins) / (full - begins)));

export interface BurnMap {
  columns: number;
  rows: number;
  /** Edge of a cell, mm. */
  cell: number;
  /** J/mm², row by row from the lower left. */
  energy: Float32Array;
  /** Of all that burns, J, also beside the sheet. */
  joules: number;
}

/** Energy over the sheet. @param cell edge of a cell, mm */
export function burnMap(job: Pick<Job, 'board' | 'machine'>, cuts: readonly PlannedCut[], cell: number): BurnMap {
  const { width, height } = job.board;
  const [columns, rows] = [Math.max(1, Math.ceil(width / cell - 1e-9)), Math.max(1, Math.ceil(height / cell - 1e-9))];
  if (columns * rows > 100e6) throw new RangeError(`A map of ${columns} × ${rows} cells is too large; use a coarser cell.`);
  const map = new Float32Array(columns * rows);
  let joules = 0;
  let spot = 0;
  for (const { path, bit, beam } of cuts) {
    if (!beam || bit.kind !== 'head' || !path.power) continue;
    spot = Math.max(spot, bit.diameter);
    const constant = path.events?.some((event) => 'on' in event && event.constant) === true;
    const start = constant ? planMotion(path, job.machine).start : null;
    for (let i = 1; i < path.kind.length; i++) {
      const power = path.power[i];
      if (!(power > 0) || path.kind[i] !== FEED) continue;
      const length = Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]);
      if (length === 0) continue;
      const seconds = start ? start[i + 1] - start[i] : (60 * length) / path.feed[i];
      const energy = power * bit.watts * seconds;
      joules += energy;
      lay(map, columns, rows, cell, path.x[i - 1], path.y[i - 1], path.x[i], path.y[i], energy / (cell * cell), length);
    }
  }
  blur(map, columns, rows, spot / 2 / cell);
  return { columns, rows, cell, energy: map, joules };
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
  for (let k = 0; k < steps; k++) {
    const f = (k + 0.5) / steps;
    const u = (ax + f * (bx - ax)) / cell - 0.5;
    const v = (ay + f * (by - ay)) / cell - 0.5;
    const [i, j] = [Math.floor(u), Math.floor(v)];
    const [fu, fv] = [u - i, v - j];
    for (const [di, dj, part] of [
      [0, 0, (1 - fu) * (1 - fv)],
      [1, 0, fu * (1 - fv)],
      [0, 1, (1 - fu) * fv],
      [1, 1, fu * fv],
    ])
      if (i + di >= 0 && j + dj >= 0 && i + di < columns && j + dj < rows) map[(j + dj) * columns + i + di] += part * share;
  }
}

/** Spreads what is laid over a spot: a mean over its width, along and across. @param radius in cells */
function blur(map: Float32Array, columns: number, rows: number, radius: number): void {
  const reach = Math.round(radius);
  if (reach < 1) return;
  const line = new Float32Array(Math.max(columns, rows));
  const pass = (start: number, count: number, stride: number) => {
    for (let k = 0; k < count; k++) line[k] = map[start + k * stride];
    let sum = 0;
    for (let k = 0; k < Math.min(reach, count); k++) sum += line[k];
    for (let k = 0; k < count; k++) {
      if (k + reach < count) sum += line[k + reach];
      if (k - reach - 1 >= 0) sum -= line[k - reach - 1];
      map[start + k * stride] = sum / (2 * reach + 1);
    }
  };
  for (let j = 0; j < rows; j++) pass(j * columns, columns, 1);
  for (let i = 0; i < columns; i++) pass(i, rows, columns);
}

/** Width of a beam out of focus. (Published: Gaussian beam optics, w(z) = w0·sqrt(1 + (z/zR)²).) @param off mm from the focus; @param rayleigh its Rayleigh range, mm */
export const spotOutOfFocus = (spot: number, off: number, rayleigh: number): number => spot * Math.sqrt(1 + (off / rayleigh) ** 2);
