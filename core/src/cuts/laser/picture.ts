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
}

/**
 * Dots of a picture for rows at an angle: so many to the mm, a whole number of them from edge to edge, so that the size is
 * kept. Of several pixels under a dot the mean is taken; a picture with fewer pixels than dots is not smoothed.
 */
export function dotsOf({ width, height, mirror, pixels }: PlacedPicture, cut: LaserPicture): Dots & { pitchU: number; pitchV: number; u0: number; v0: number } {
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
  const { width: w, height: h, data } = pixels;
  // Half the size of a dot in pixels, for the mean.
  const turned = square && Math.abs(sin) > 0.5;
  const [reachX, reachY] = square ? [((turned ? pitchV : pitchU) / width) * (w / 2), ((turned ? pitchU : pitchV) / height) * (h / 2)] : [0, 0];
  for (let j = 0; j < rows; j++) {
    // Rows from the top of the picture, as it is written.
    const v = spanV / 2 - (j + 0.5) * pitchV;
    for (let i = 0; i < columns; i++) {
      const u = (i + 0.5) * pitchU - spanU / 2;
      const [x, y] = [cos * u - sin * v, sin * u + cos * v];
      const px = ((mirror ? -x : x) / width + 0.5) * w;
      const py = (0.5 - y / height) * h;
      if (px < 0 || py < 0 || px >= w || py >= h) continue;
      dark[j * columns + i] = meanTone(data, w, h, px, py, reachX, reachY, tones);
    }
  }
  return { columns, rows, dark, pitchU, pitchV, u0: -spanU / 2, v0: spanV / 2 };
}

/** Mean of the tones of pixels whose middle lies within reach; of the one under the place when there is none. */
function meanTone(data: Grey['data'], w: number, h: number, px: number, py: number, rx: number, ry: number, tones: Float32Array): number {
  const [x0, x1] = [Math.max(0, Math.ceil(px - rx - 0.5)), Math.min(w - 1, Math.ceil(px + rx - 0.5) - 1)];
  const [y0, y1] = [Math.max(0, Math.ceil(py - ry - 0.5)), Math.min(h - 1, Math.ceil(py + ry - 0.5) - 1)];
  if (x1 <= x0 && y1 <= y0) return tones[data[Math.min(h - 1, Math.floor(py)) * w + Math.min(w - 1, Math.floor(px))]];
  let sum = 0;
  const [fx, tx] = x1 < x0 ? [Math.floor(px), Math.floor(px)] : [x0, x1];
  const [fy, ty] = y1 < y0 ? [Math.floor(py), Math.floor(py)] : [y0, y1];
  for (let y = fy; y <= ty; y++) for (let x = fx; x <= tx; x++) sum += tones[data[y * w + x]];
  return sum / ((tx - fx + 1) * (ty - fy + 1));
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
    for (let k = 0; k < burned.length; k++) burned[k] *= cut.power / 100;
    const a = ((cut.angle + picture.angle) * Math.PI) / 180;
    const [cos, sin] = [Math.cos(a), Math.sin(a)];
    // From the bottom row up: smoke is drawn away over what is still bare.
    for (let j = dots.rows - 1; j >= 0; j--) {
      stretches.ofDots(burned, j * dots.columns, dots.columns, dots.pitchU, dots.u0);
      if (stretches.count === 0) continue;
      const v = dots.v0 - (j + 0.5) * dots.pitchV;
      burnRow(writer, stretches, { x: picture.x - sin * v, y: picture.y + cos * v, ux: cos, uy: sin }, cut.bothWays && rows % 2 === 1, plan);
      rows++;
    }
  }
  return { path: writer.finish(cut.air), rows };
}
