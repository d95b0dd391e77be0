/** Units a drawing without any may have been meant in, the likeliest first: the one that makes it most like a sign. */
export const UNITS: readonly { unit: string; mm: number }[] = [
  { unit: 'mm', mm: 1 },
  { unit: 'px (96 to the inch)', mm: 25.4 / 96 },
  { unit: 'pt (72 to the inch)', mm: 25.4 / 72 },
  { unit: 'in', mm: 25.4 },
  { unit: 'cm', mm: 10 },
];

/**
 * Which unit a drawing of a given width (in its own units) was likely meant in: pixels for SVG,
 * unless that makes it far larger than the board; else the first that fits the board well.
 */
export function guessUnit(width: number, boardWidth: number, format: 'svg' | 'dxf'): number {
  const fits = (mm: number) => width * mm <= 1.2 * boardWidth && width * mm >= 0.02 * boardWidth;
  const order = format === 'svg' ? [1, 0, 2, 3, 4] : [0, 3, 4, 1, 2];
  return order.find((k) => fits(UNITS[k].mm)) ?? order[0];
}
