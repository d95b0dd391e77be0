/**
 * The full-size paper template: the board laid over sheets of paper that overlap, with crosses to
 * line the sheets up by and a line of known length to check the printer with.
 */

import { MM_PER_INCH, type LengthUnit } from '../length/index.ts';

export interface Paper {
  name: string;
  /** mm, upright. ISO 216 for A sizes; letter and tabloid by ANSI/ASME Y14.1 (8.5 × 11 in, 11 × 17 in). */
  width: number;
  height: number;
}

export const PAPERS: Record<string, Paper> = {
  a4: { name: 'A4', width: 210, height: 297 },
  a3: { name: 'A3', width: 297, height: 420 },
  letter: { name: 'Letter', width: 215.9, height: 279.4 },
  tabloid: { name: 'Tabloid', width: 279.4, height: 431.8 },
};

/** Common printers cannot print nearer to the edge, mm (common practice). */
export const MARGIN = 12;
/** How far neighbouring sheets show the same, mm. */
export const OVERLAP = 10;
/** Room for the words and the check line at the foot of every sheet, mm. */
export const FOOT = 14;
/** The check line: a round length in the unit it is measured with, mm. */
export const checkLine = (unit: LengthUnit): number => (unit === 'in' ? 4 * MM_PER_INCH : 100);

export interface Sheet {
  /** `A1`: letters go along X, numbers along Y. */
  name: string;
  column: number;
  row: number;
  /** Size of the paper as it lies, mm. */
  width: number;
  height: number;
  /** What of the board it shows, mm. */
  x: number;
  y: number;
  shownWidth: number;
  shownHeight: number;
}

/**
 * Sheets that cover the board, lying or upright, whichever takes fewer.
 * Example: 300 × 100 on A4 takes two upright sheets or two lying ones; upright is kept.
 */
export function sheetsFor(board: { width: number; height: number }, paper: Paper): Sheet[] {
  const upright = grid(board, paper.width, paper.height);
  const lying = grid(board, paper.height, paper.width);
  return lying.length < upright.length ? lying : upright;
}

function grid(board: { width: number; height: number }, width: number, height: number): Sheet[] {
  const shownWidth = width - 2 * MARGIN;
  const shownHeight = height - 2 * MARGIN - FOOT;
  const count = (size: number, shown: number) => Math.max(1, Math.ceil((size - OVERLAP - 1e-9) / (shown - OVERLAP)));
  const [columns, rows] = [count(board.width, shownWidth), count(board.height, shownHeight)];
  const sheets: Sheet[] = [];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++)
      sheets.push({
        name: `${letters(column)}${row + 1}`,
        column,
        row,
        width,
        height,
        x: column * (shownWidth - OVERLAP),
        y: row * (shownHeight - OVERLAP),
        shownWidth,
        shownHeight,
      });
  return sheets;
}

const letters = (n: number): string => (n >= 26 ? letters(Math.floor(n / 26) - 1) : '') + String.fromCharCode(65 + (n % 26));

/** Crosses on the board that neighbouring sheets share, so that they can be laid over each other, mm. */
export function crossesOn(sheet: Sheet, sheets: readonly Sheet[]): [number, number][] {
  const columns = Math.max(...sheets.map(({ column }) => column)) + 1;
  const rows = Math.max(...sheets.map(({ row }) => row)) + 1;
  const stepX = sheet.shownWidth - OVERLAP;
  const stepY = sheet.shownHeight - OVERLAP;
  const out: [number, number][] = [];
  // In the middle of every overlap, a quarter and three quarters along it.
  for (const [column, of, horizontal] of [
    [sheet.column, columns, true],
    [sheet.row, rows, false],
  ] as const)
    for (const seam of [column, column + 1]) {
      if (seam <= 0 || seam >= of) continue;
      const at = seam * (horizontal ? stepX : stepY) + OVERLAP / 2;
      for (const part of [0.25, 0.75]) out.push(horizontal ? [at, sheet.y + part * sheet.shownHeight] : [sheet.x + part * sheet.shownWidth, at]);
    }
  return out;
}
