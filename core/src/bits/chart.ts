/**
 * The cut chart of a torch: how one nozzle cuts plate of one thickness. Between two thicknesses the figures
 * are interpolated, and the two rows are named; beyond the thinnest and the thickest the nearest row stands, and
 * that is said.
 *
 * The starting values are from memory (45 A, air, mild steel): the chart of the torch's maker decides.
 */
import { z } from 'zod';
import { notNegative, positive } from '../fields/index.ts';

export const ChartRow = z.strictObject({
  /** Of the plate, mm. */
  thickness: positive.max(200),
  amperes: positive.max(1_000),
  /** mm/min. */
  feed: positive.max(30_000),
  /** Seconds. */
  pierceDelay: notNegative.max(60),
  /** Above the plate, mm. */
  pierceHeight: positive.max(50),
  cutHeight: positive.max(50),
  /** Of the arc while it cuts. */
  volts: positive.max(500),
  /** Width of the cut, mm. */
  kerf: positive.max(20),
});
export type ChartRow = z.infer<typeof ChartRow>;

const row = (thickness: number, feed: number, pierceDelay: number, kerf: number, volts: number): ChartRow => ({
  thickness,
  amperes: 45,
  feed,
  pierceDelay,
  pierceHeight: 3.8,
  cutHeight: 1.5,
  volts,
  kerf,
});

/** 45 A, air, mild steel. (From memory; the maker's chart decides.) */
export const STARTING_CHART: readonly ChartRow[] = [
  row(1.5, 8000, 0.1, 1.4, 118),
  row(3.4, 3900, 0.3, 1.5, 122),
  row(6.4, 1600, 0.5, 1.6, 128),
  row(9.5, 800, 0.8, 1.7, 134),
  row(12.7, 450, 1.2, 1.8, 140),
];

export interface ChartReading {
  row: ChartRow;
  /** Thicknesses of the rows it lies between, mm; one that is met exactly, or beyond which nothing is charted, stands alone. */
  between: [number] | [number, number];
  /** Thinner or thicker than anything in the chart. */
  beyond: boolean;
}

/**
 * What a chart says of a thickness, mm: a row of its own, or one interpolated between its neighbours.
 *
 * @returns null of an empty chart
 * @example readChart(STARTING_CHART, 3.4) // the row of 3.4 mm
 */
export function readChart(chart: readonly ChartRow[], thickness: number): ChartReading | null {
  const rows = [...chart].sort((a, b) => a.thickness - b.thickness);
  if (rows.length === 0) return null;
  const above = rows.findIndex((one) => one.thickness >= thickness - 1e-9);
  const [low, high] = above < 0 ? [rows.at(-1)!, rows.at(-1)!] : [rows[Math.max(0, above - 1)], rows[above]];
  if (above <= 0 || Math.abs(high.thickness - thickness) < 1e-9) {
    const one = above < 0 ? low : high;
    return { row: { ...one, thickness }, between: [one.thickness], beyond: Math.abs(one.thickness - thickness) >= 1e-9 };
  }
  const part = (thickness - low.thickness) / (high.thickness - low.thickness);
  const mixed = Object.fromEntries(
    (Object.keys(low) as (keyof ChartRow)[]).map((key) => [key, Math.round((low[key] + part * (high[key] - low[key])) * 100) / 100]),
  ) as ChartRow;
  return { row: { ...mixed, thickness }, between: [low.thickness, high.thickness], beyond: false };
}

const COLUMNS = ['thickness', 'amperes', 'feed', 'pierceDelay', 'pierceHeight', 'cutHeight', 'volts', 'kerf'] as const;

/** A chart as CSV, mm, mm/min and seconds, for a spreadsheet. */
export const chartToCsv = (chart: readonly ChartRow[]): string =>
  [COLUMNS.join(','), ...chart.map((one) => COLUMNS.map((column) => one[column]).join(','))].join('\n') + '\n';

/** Reads a chart from CSV; lines that are none are told with their number, and nothing else is lost. */
export function chartFromCsv(text: string): { chart: ChartRow[]; why: string[] } {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  const cells = (line: string) => line.split(line.includes(';') ? ';' : ',').map((cell) => cell.trim().replace(/^"(.*)"$/, '$1'));
  const head = cells(lines[0] ?? '');
  const missing = COLUMNS.filter((column) => !head.includes(column));
  if (missing.length > 0)
    return { chart: [], why: [`The first line must name the columns; ${missing.join(', ')} ${missing.length > 1 ? 'are' : 'is'} missing.`] };
  const chart: ChartRow[] = [];
  const why: string[] = [];
  for (const [k, line] of lines.slice(1).entries()) {
    const values = cells(line);
    const one = ChartRow.safeParse(Object.fromEntries(COLUMNS.map((column) => [column, Number(values[head.indexOf(column)] || NaN)])));
    if (one.success) chart.push(one.data);
    else why.push(`Line ${k + 2}: ${one.error.issues[0].path.join('.')} is not a figure that can be.`);
  }
  return { chart, why };
}

/** Sizes of the test square and its hole, mm. */
export const KERF_TEST = { square: 60, hole: 30 } as const;

/**
 * The kerf from a test cut: a square cut outside its line, with a hole cut inside its own, are measured; both are
 * off by the kerf against the line the torch ran on. (Derived: an outside line of w + k leaves w, a hole line of h - k leaves h.)
 *
 * @param used the kerf the program reckoned with, mm
 * @param asked sizes that were drawn, mm; @param measured sizes that came out, mm
 * @example kerfFromTest(1.5, { square: 60, hole: 30 }, { square: 59.8, hole: 30.2 }) // 1.7
 */
export function kerfFromTest(used: number, asked: { square: number; hole: number }, measured: { square: number; hole: number }): number {
  // Smaller outside, or wider inside, than asked: the arc took more than was reckoned with.
  const outside = used + asked.square - measured.square;
  const inside = used + measured.hole - asked.hole;
  return (outside + inside) / 2;
}
