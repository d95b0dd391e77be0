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

/** RGBA pixels, the top row first; every pixel the mean of the cells under it. @param width of the picture, pixels; a pixel for each cell by default */
export function burnImage(map: BurnMap, board: Board, width = map.columns): { width: number; height: number; data: Uint8ClampedArray } {
  const response = responseOf(board.material);
  const bare = bareOf(board.material);
  const { full, char } = MARKS.find(([word]) => word.test(board.material))?.[1] ?? WOOD;
  const step = map.columns / width;
  const height = Math.max(1, Math.round(map.rows / step));
  const data = new Uint8ClampedArray(4 * width * height);
  const charring = response.chars - response.full;
  for (let v = 0; v < height; v++)
    for (let u = 0; u < width; u++) {
      const [i0, i1] = [Math.floor(u * step), Math.min(map.columns, Math.max(Math.floor(u * step) + 1, Math.floor((u + 1) * step)))];
      const [j0, j1] = [Math.floor(v * step), Math.min(map.rows, Math.max(Math.floor(v * step) + 1, Math.floor((v + 1) * step)))];
      let [red, green, blue] = [0, 0, 0];
      for (let j = j0; j < j1; j++)
        for (let k = (map.rows - 1 - j) * map.columns + i0, end = k + i1 - i0; k < end; k++) {
          if (map.through[k]) {
            red += HOLE[0];
            green += HOLE[1];
            blue += HOLE[2];
            continue;
          }
          // First towards the full mark, then from there towards the charred one.
          const energy = map.energy[k];
          const dark = energy > 0 ? darknessOf(energy, response) : 0;
          const charred = Math.min(1, Math.max(0, (energy - response.full) / charring));
          const [ofBare, ofFull] = [(1 - dark) * (1 - charred), dark * (1 - charred)];
          red += ofBare * bare[0] + ofFull * full[0] + charred * char[0];
          green += ofBare * bare[1] + ofFull * full[1] + charred * char[1];
          blue += ofBare * bare[2] + ofFull * full[2] + charred * char[2];
        }
      const count = Math.max(1, (i1 - i0) * (j1 - j0));
      const at = 4 * (v * width + u);
      data[at] = red / count;
      data[at + 1] = green / count;
      data[at + 2] = blue / count;
      data[at + 3] = 255;
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
