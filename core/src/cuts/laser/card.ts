/** Test cards: small squares, each with figures of its own, labelled by the laser; the best of them becomes the preset. */

/** What differs from row to row and from column to column. */
export const CARD_KINDS = ['power-speed', 'lines', 'focus', 'kerf'] as const;
export type CardKind = (typeof CARD_KINDS)[number];

export interface CardAsk {
  kind: CardKind;
  width: number;
  height: number;
  rows: number;
  columns: number;
  /** Per cent of full power, lowest to highest. */
  power: [number, number];
  /** mm/min. */
  speed: [number, number];
}

/** A place on a card: the middle and size of its square, mm, and the figures it is burned with. */
export interface CardCell {
  row: number;
  column: number;
  x: number;
  y: number;
  size: number;
  power: number;
  speed: number;
  linesPerMm: number;
  /** Of the focus below the surface, and of the slot, mm. */
  focus: number;
  slot: number;
}

/** Values from low to high, evenly. @example steps([10, 50], 3) // 10, 30, 50 */
const steps = ([low, high]: [number, number], count: number): number[] =>
  Array.from({ length: count }, (_, k) => (count === 1 ? low : low + ((high - low) * k) / (count - 1)));

/** Room for labels beside the squares, and between them, as shares of a square. */
const LABEL = 1;
const GAP = 0.35;

export interface Card {
  cells: CardCell[];
  /** Labels: what they say and where their left end stands, with their height, mm. */
  labels: { text: string; x: number; y: number; height: number }[];
}

const RANGE = { lines: [4, 16], focus: [-3, 3], slot: [0, 0.4] } as const;

/**
 * Lays a card out on a sheet, as large as it allows.
 *
 * @throws a sentence when there is no room for it
 */
export function layCard({ kind, width, height, rows, columns, power, speed }: CardAsk): Card {
  const size = Math.min(width / (columns * (1 + GAP) + LABEL + GAP), height / (rows * (1 + GAP) + LABEL + GAP), 12);
  if (!(size >= 2)) throw new Error('There is no room for so many squares: they would be smaller than 2 mm.');
  const pitch = size * (1 + GAP);
  const [left, bottom] = [size * (LABEL + GAP), size * (LABEL + GAP)];
  const across = {
    'power-speed': steps(speed, columns),
    lines: steps([...RANGE.lines], columns),
    focus: steps([...RANGE.focus], columns),
    kerf: steps([...RANGE.slot], columns),
  }[kind];
  const powers = steps(power, rows);
  const middle = { power: (power[0] + power[1]) / 2, speed: (speed[0] + speed[1]) / 2 };
  const cells = powers.flatMap((rowPower, row) =>
    across.map((value, column): CardCell => ({
      row,
      column,
      x: left + column * pitch + size / 2,
      y: bottom + row * pitch + size / 2,
      size,
      power: Math.round(rowPower),
      speed: kind === 'power-speed' ? Math.round(value) : middle.speed,
      linesPerMm: kind === 'lines' ? Math.round(value * 10) / 10 : 10,
      focus: kind === 'focus' ? value : 0,
      slot: kind === 'kerf' ? value : 0,
    })),
  );
  const labelHeight = Math.min(2.5, 0.3 * size);
  const said = (value: number) => String(Math.round(value * 100) / 100);
  return {
    cells,
    labels: [
      ...powers.map((value, row) => ({
        text: `${Math.round(value)}%`,
        x: 0.1 * size,
        y: bottom + row * pitch + size / 2 - labelHeight / 2,
        height: labelHeight,
      })),
      ...across.map((value, column) => ({ text: said(value), x: left + column * pitch, y: bottom - 0.5 * size, height: labelHeight })),
    ],
  };
}
