/**
 * Pictures as dots of a beam: tones adjusted, and made of dots that burn or do not. Darkness is 0 for the bare
 * sheet and 1 for the full mark; rows from the top, as pictures have them.
 */

/** A grey picture: 0 black to 255 white, row by row from the top left. */
export interface Grey {
  width: number;
  height: number;
  data: Uint8Array | Uint8ClampedArray;
  /** How far each pixel hides what is behind it, 0 to 255; left out when all of them do. The tones are those over white. */
  opacity?: Uint8Array;
}

/** Darkness of dots. */
export interface Dots {
  columns: number;
  rows: number;
  dark: Float32Array;
}

export interface Adjusted {
  invert: boolean;
  /** Added to the darkness, -1 to 1: more is lighter. */
  brightness: number;
  /** Steepness about the middle tone; 1 leaves it. */
  contrast: number;
  /** Above 1 the middle tones become lighter. */
  gamma: number;
  /** What is lighter than this is left bare: a guide line, paper. */
  drop: number;
}

/** Darkness of a tone, adjusted. @param grey 0 to 1 */
export function adjusted(grey: number, { invert, brightness, contrast, gamma, drop }: Adjusted): number {
  const dark = invert ? grey : 1 - grey;
  const shifted = (dark - 0.5) * contrast + 0.5 - brightness;
  const held = Math.min(1, Math.max(0, shifted)) ** gamma;
  return held < drop ? 0 : held;
}

/**
 * Error diffusion by 7/16 ahead, 3/16, 5/16 and 1/16 below, every row from the left. (Published: Floyd and Steinberg 1976.)
 * What runs over the edge is lost.
 */
export function floydSteinberg({ columns, rows, dark }: Dots): Float32Array {
  const rest = Float32Array.from(dark);
  const out = new Float32Array(dark.length);
  for (let j = 0, k = 0; j < rows; j++)
    for (let i = 0; i < columns; i++, k++) {
      const value = rest[k] >= 0.5 ? 1 : 0;
      out[k] = value;
      const error = rest[k] - value;
      if (error === 0) continue;
      if (i + 1 < columns) rest[k + 1] += (error * 7) / 16;
      if (j + 1 === rows) continue;
      if (i > 0) rest[k + columns - 1] += (error * 3) / 16;
      rest[k + columns] += (error * 5) / 16;
      if (i + 1 < columns) rest[k + columns + 1] += error / 16;
    }
  return out;
}

/** The ordered matrix of side `n`, a power of two, 0 to n² - 1, by doubling. (Published: Bayer 1973.) */
export function bayer(n: number): number[][] {
  if (n === 1) return [[0]];
  const half = bayer(n / 2);
  const h = n / 2;
  return Array.from({ length: n }, (_, j) =>
    Array.from({ length: n }, (__, i) => 4 * half[j % h][i % h] + [0, 2, 3, 1][2 * Math.floor(j / h) + Math.floor(i / h)]),
  );
}

const MATRIX = 8;

function ordered({ columns, rows, dark }: Dots): Float32Array {
  const matrix = bayer(MATRIX);
  const out = new Float32Array(dark.length);
  for (let j = 0, k = 0; j < rows; j++) for (let i = 0; i < columns; i++, k++) out[k] = dark[k] > (matrix[j % MATRIX][i % MATRIX] + 0.5) / MATRIX ** 2 ? 1 : 0;
  return out;
}

/** Rows of a line screen: lines so many rows apart grow thicker with the tone. */
const SCREEN = 8;

function lines({ columns, rows, dark }: Dots): Float32Array {
  const out = new Float32Array(dark.length);
  // From the middle of a line outwards.
  const rank = Array.from({ length: SCREEN }, (_, r) => (Math.abs(r - (SCREEN - 1) / 2) * 2 + (r < SCREEN / 2 ? 0.5 : 0)) / SCREEN);
  for (let j = 0, k = 0; j < rows; j++) for (let i = 0; i < columns; i++, k++) out[k] = dark[k] > rank[j % SCREEN] ? 1 : 0;
  return out;
}

/** Powers between none and full that a grey picture has. */
export const LEVELS = 32;

export const DITHERS = ['floyd-steinberg', 'ordered', 'threshold', 'lines', 'grey'] as const;
export type Dither = (typeof DITHERS)[number];

/** Dots as they are burned: 0 or 1; of `grey` a share of the power in {@link LEVELS} steps. */
export function dithered(dots: Dots, how: Dither): Float32Array {
  switch (how) {
    case 'floyd-steinberg':
      return floydSteinberg(dots);
    case 'ordered':
      return ordered(dots);
    case 'lines':
      return lines(dots);
    case 'threshold':
      return dots.dark.map((dark) => (dark >= 0.5 ? 1 : 0));
    case 'grey':
      return dots.dark.map((dark) => Math.round(dark * LEVELS) / LEVELS);
  }
}
