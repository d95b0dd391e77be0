/** What a burned sheet looks like, and what its energy comes to in figures. Tones are drawn by eye. */
import type { Board } from '../board/index.ts';
import { darknessOf, responseOf } from '../feeds/energy.ts';
import type { BurnMap } from './burn.ts';
import { LOOKS, lookOf } from './looks.ts';

type Tone = readonly [number, number, number];
/** What a full mark and a charred one look like, 0 to 255: wood turns brown and black, clear plastic frosts, stone and coated tiles turn pale. */
const MARKS: [RegExp, { full: Tone; char: Tone }][] = [
  [/\bacrylic\b/i, { full: [250, 252, 253], char: [196, 202, 204] }],
  [/\b(slate|stone)\b/i, { full: [186, 190, 194], char: [226, 228, 230] }],
  [/\b(tile|ceramic|glass|coated)\b/i, { full: [34, 33, 36], char: [12, 12, 14] }],
];
const WOOD = { full: [96, 62, 34], char: [28, 20, 16] } as const;

/** Clear acrylic is looked at before something dark: its bare face is that. */
const bareOf = (material: string): Tone => {
  if (/\bacrylic\b/i.test(material)) return [62, 72, 78];
  if (/\b(tile|ceramic)\b/i.test(material)) return [238, 238, 234];
  const { pale, deep } = LOOKS[lookOf(material)];
  return [0, 1, 2].map((c) => 255 * (0.7 * pale[c] + 0.3 * deep[c])) as unknown as Tone;
};
/** Seen through where it is cut. */
const HOLE: Tone = [255, 255, 255];

const toward = (from: Tone, to: Tone, share: number): Tone => [0, 1, 2].map((c) => from[c] + share * (to[c] - from[c])) as unknown as Tone;

/** RGBA pixels, the top row first; every pixel the mean of the cells under it. @param width of the picture, pixels; a pixel for each cell by default */
export function burnImage(map: BurnMap, board: Board, width = map.columns): { width: number; height: number; data: Uint8ClampedArray } {
  const response = responseOf(board.material);
  const bare = bareOf(board.material);
  const { full, char } = MARKS.find(([word]) => word.test(board.material))?.[1] ?? WOOD;
  const step = map.columns / width;
  const height = Math.max(1, Math.round(map.rows / step));
  const data = new Uint8ClampedArray(4 * width * height);
  const tone = (k: number): Tone => {
    if (map.through[k]) return HOLE;
    const energy = map.energy[k];
    const marked = toward(bare, full, darknessOf(energy, response));
    return toward(marked, char, Math.min(1, Math.max(0, (energy - response.full) / (response.chars - response.full))));
  };
  for (let v = 0; v < height; v++)
    for (let u = 0; u < width; u++) {
      const [i0, i1] = [Math.floor(u * step), Math.max(Math.floor(u * step) + 1, Math.floor((u + 1) * step))];
      const [j0, j1] = [Math.floor(v * step), Math.max(Math.floor(v * step) + 1, Math.floor((v + 1) * step))];
      const sum = [0, 0, 0];
      let count = 0;
      for (let j = j0; j < Math.min(j1, map.rows); j++)
        for (let i = i0; i < Math.min(i1, map.columns); i++) {
          const seen = tone((map.rows - 1 - j) * map.columns + i);
          for (let c = 0; c < 3; c++) sum[c] += seen[c];
          count++;
        }
      data.set([...sum.map((one) => one / Math.max(1, count)), 255], 4 * (v * width + u));
    }
  return { width, height, data };
}

export interface BurnFigures {
  /** J of all that burns. */
  joules: number;
  /** J/mm². */
  most: number;
  mean: number;
  /** Shares of the sheet: marked at all, as dark as it gets, charred, cut through. */
  marked: number;
  full: number;
  charred: number;
  through: number;
}

export function burnFigures({ energy, through, joules }: BurnMap, board: Board): BurnFigures {
  const response = responseOf(board.material);
  const figures = { joules, most: 0, mean: 0, marked: 0, full: 0, charred: 0, through: 0 };
  for (const one of energy) {
    figures.most = Math.max(figures.most, one);
    figures.mean += one;
    if (one >= response.begins) figures.marked++;
    if (one >= response.full) figures.full++;
    if (one >= response.chars) figures.charred++;
  }
  for (const one of through) figures.through += one;
  for (const key of ['mean', 'marked', 'full', 'charred', 'through'] as const) figures[key] /= energy.length;
  return figures;
}
