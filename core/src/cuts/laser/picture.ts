/** Pictures burned row by row: the picture keeps its size end to end, whatever the lines per mm. */
import { z } from 'zod';
import type { Toolpath } from '../../toolpath/index.ts';
import { degrees } from '../fields.ts';
import { BeamWriter } from './beam.ts';
import { laserCommon } from './fields.ts';
import { burnRow, overscanOf, Stretches } from './rows.ts';
import { adjusted, dithered, DITHERS, type Dots, type Grey } from './tone.ts';

export const LaserPicture = z.strictObject({
  ...laserCommon,
  kind: z.literal('laser-picture'),
  feed: laserCommon.feed.default(3000),
  linesPerMm: z.number().min(0.5).max(60).default(10),
  dither: z.enum(DITHERS).default('floyd-steinberg'),
  /** Of the rows, from those of the picture. */
  angle: degrees.default(0),
  bothWays: z.boolean().default(true),
  overscan: z.number().min(0).max(100).optional(),
  lag: z.number().min(-20).max(20).default(0),
  invert: z.boolean().default(false),
  brightness: z.number().min(-1).max(1).default(0),
  contrast: z.number().min(0).max(10).default(1),
  gamma: z.number().min(0.1).max(10).default(1),
  /** What is lighter than this share of full darkness is left bare. */
  drop: z.number().min(0).max(1).default(0),
  /** What becomes of see-through places: the bare sheet, whatever the tones are made to; or white, like any other. */
  clear: z.enum(['bare', 'white']).default('bare'),
});
export type LaserPicture = z.infer<typeof LaserPicture>;

/** A picture where it lies: its middle, its size and its turn. Lengths are mm, angle in degrees. */
export interface PlacedPicture {
  id: string;
  x: number;
  y: number;
  width: number;
  height: number;
  angle: number;
  mirror: boolean;
  pixels: Grey;
  /** Shares that are cut off at the picture's own sides. */
  trim?: { left: number; right: number; top: number; bottom: number };
}

/**
 * Dots of a picture for rows at an angle: so many to the mm, a whole number of them from edge to edge, so that the size is
 * kept. Of several pixels under a dot the mean is taken; a picture with fewer pixels than dots is not smoothed.
 */
export function dotsOf(
  { width, height, mirror, pixels, trim = WHOLE }: PlacedPicture,
  cut: LaserPicture,
): Dots & { pitchU: number; pitchV: number; u0: number; v0: number } {
  const a = (cut.angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  // What the rows must cover: the box of the turned picture.
  const spanU = Math.abs(width * cos) + Math.abs(height * sin);
  const spanV = Math.abs(width * sin) + Math.abs(height * cos);
  const [columns, rows] = [Math.max(1, Math.round(spanU * cut.linesPerMm)), Math.max(1, Math.round(spanV * cut.linesPerMm))];
  const [pitchU, pitchV] = [spanU / columns, spanV / rows];
  const dark = new Float32Array(columns * rows);
  const square = Math.abs(Math.sin(2 * a)) < 1e-9;
  const tones = Float32Array.from({ length: 256 }, (_, grey) => adjusted(grey / 255, cut));
  const { width: pixelsAcross, height: pixelsDown, data } = pixels;
  // Nearly all are, and those are read without a call.
  const opaque = !pixels.opacity || cut.clear === 'white';
  const toneOf = tonesOf(pixels, tones, cut.clear);
  // What is left of it when it is trimmed, in pixels: from where, and how many.
  const [left, top] = [trim.left * pixelsAcross, trim.top * pixelsDown];
  const [w, h] = [(1 - trim.left - trim.right) * pixelsAcross, (1 - trim.top - trim.bottom) * pixelsDown];
  // Half the size of a dot in pixels, for the mean.
  const turned = square && Math.abs(sin) > 0.5;
  const [reachX, reachY] = square ? [((turned ? pitchV : pitchU) / width) * (w / 2), ((turned ? pitchU : pitchV) / height) * (h / 2)] : [0, 0];
  if (square) {
    // Rows along an edge of the picture: which pixels lie under a dot is one question for its column and one for its row.
    const [along, across] = turned ? [pixelsDown, pixelsAcross] : [pixelsAcross, pixelsDown];
    const place = (k: number, pitch: number, span: number) => (k + 0.5) * pitch - span / 2;
    const columnsUnder = under(columns, along, turned ? reachY : reachX, (i) => {
      const u = place(i, pitchU, spanU);
      return turned ? top + (0.5 - (sin * u) / height) * h : left + ((mirror ? -cos * u : cos * u) / width + 0.5) * w;
    });
    const rowsUnder = under(rows, across, turned ? reachX : reachY, (j) => {
      const v = -place(j, pitchV, spanV);
      return turned ? left + ((mirror ? sin * v : -sin * v) / width + 0.5) * w : top + (0.5 - (cos * v) / height) * h;
    });
    const [xs, ys] = turned ? [rowsUnder, columnsUnder] : [columnsUnder, rowsUnder];
    for (let j = 0, k = 0; j < rows; j++)
      for (let i = 0; i < columns; i++, k++) {
        const [x, y] = turned ? [j, i] : [i, j];
        if (xs.first[x] < 0 || ys.first[y] < 0) continue;
        if (xs.single[x] && ys.single[y]) {
          const pixel = ys.nearest[y] * pixelsAcross + xs.nearest[x];
          dark[k] = opaque ? tones[data[pixel]] : toneOf(pixel);
          continue;
        }
        let sum = 0;
        for (let py = ys.first[y]; py <= ys.last[y]; py++) for (let px = xs.first[x]; px <= xs.last[x]; px++) sum += toneOf(py * pixelsAcross + px);
        dark[k] = sum / ((xs.last[x] - xs.first[x] + 1) * (ys.last[y] - ys.first[y] + 1));
      }
    return { columns, rows, dark, pitchU, pitchV, u0: -spanU / 2, v0: spanV / 2 };
  }
  // Turned rows: the pixel under the middle of each dot.
  for (let j = 0; j < rows; j++) {
    const v = spanV / 2 - (j + 0.5) * pitchV;
    for (let i = 0; i < columns; i++) {
      const u = (i + 0.5) * pitchU - spanU / 2;
      const [x, y] = [cos * u - sin * v, sin * u + cos * v];
      const px = ((mirror ? -x : x) / width + 0.5) * w;
      const py = (0.5 - y / height) * h;
      if (px >= 0 && py >= 0 && px < w && py < h) dark[j * columns + i] = toneOf(Math.floor(top + py) * pixelsAcross + Math.floor(left + px));
    }
  }
  return { columns, rows, dark, pitchU, pitchV, u0: -spanU / 2, v0: spanV / 2 };
}

const WHOLE = { left: 0, right: 0, top: 0, bottom: 0 };

/** Darkness of each pixel, see-through ones as they are asked for. @param tones darkness of each grey */
function tonesOf({ data, opacity }: Grey, tones: Float32Array, clear: LaserPicture['clear']): (k: number) => number {
  if (!opacity || clear === 'white') return (k) => tones[data[k]];
  // The tone it has by itself, without the white behind it; what is half see-through marks half as much.
  return (k) => (opacity[k] === 0 ? 0 : (tones[Math.max(0, Math.round(255 - ((255 - data[k]) * 255) / opacity[k]))] * opacity[k]) / 255);
}

/** Pixels of one side of a picture under each of a row of dots; `first` is -1 where there are none. */
function under(count: number, pixels: number, reach: number, at: (k: number) => number) {
  const [first, last, nearest] = [new Int32Array(count), new Int32Array(count), new Int32Array(count)];
  const single = new Uint8Array(count);
  for (let k = 0; k < count; k++) {
    const p = at(k);
    if (p < 0 || p >= pixels) {
      first[k] = -1;
      continue;
    }
    // Those whose middle lies within reach; the one under the place when there is none.
    const from = Math.max(0, Math.ceil(p - reach - 0.5));
    const to = Math.min(pixels - 1, Math.ceil(p + reach - 0.5) - 1);
    nearest[k] = Math.min(pixels - 1, Math.floor(p));
    single[k] = to <= from ? 1 : 0;
    [first[k], last[k]] = to < from ? [nearest[k], nearest[k]] : [from, to];
  }
  return { first, last, nearest, single };
}

/** Moves that dots will be, about: two for each stretch of one power, and those that begin and end a row. */
function movesFor(burned: Float32Array, columns: number, rows: number): number {
  let stretches = 0;
  for (let j = 0, k = 0; j < rows; j++) {
    let last = 0;
    for (let i = 0; i < columns; i++, k++) {
      const power = burned[k];
      if (power > 0) stretches += power === last ? 0 : last > 0 ? 1 : 2;
      last = power;
    }
  }
  return stretches + 2 * rows;
}

/** @param acceleration mm/s² */
export function planPictures(pictures: readonly PlacedPicture[], cut: LaserPicture, feed: number, acceleration: number): { path: Toolpath; rows: number } {
  const writer = new BeamWriter(feed);
  writer.focus(cut.focus);
  const plan = { overscan: cut.overscan ?? overscanOf(feed, acceleration), bothWays: cut.bothWays, late: (cut.lag / 1000) * (feed / 60) };
  const stretches = new Stretches();
  let rows = 0;
  if (pictures.length > 0) writer.ready('dynamic', cut.air);
  for (const picture of pictures) {
    writer.begin(cut.id, 'picture');
    const dots = dotsOf(picture, cut);
    const burned = dithered(dots, cut.dither);
    writer.reserve(movesFor(burned, dots.columns, dots.rows));
    const a = ((cut.angle + picture.angle) * Math.PI) / 180;
    const [cos, sin] = [Math.cos(a), Math.sin(a)];
    // From the bottom row up: smoke is drawn away over what is still bare.
    for (let j = dots.rows - 1; j >= 0; j--) {
      stretches.ofDots(burned, j * dots.columns, dots.columns, dots.pitchU, dots.u0, cut.power / 100);
      if (stretches.count === 0) continue;
      const v = dots.v0 - (j + 0.5) * dots.pitchV;
      burnRow(writer, stretches, { x: picture.x - sin * v, y: picture.y + cos * v, ux: cos, uy: sin }, cut.bothWays && rows % 2 === 1, plan);
      rows++;
    }
  }
  return { path: writer.finish(cut.air), rows };
}
