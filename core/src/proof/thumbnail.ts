import type { Job } from '../job/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { burnImage } from './burn-look.ts';
import { burnMap } from './burn.ts';
import { carvePlan } from './carve.ts';
import { blankMap } from './blank.ts';
import type { HeightMap } from './heightmap.ts';
import { LOOKS, lookOf } from './looks.ts';

/** Pixels across a small picture, and cells of the map it is made from. */
const ACROSS = 360;
const CELLS = 2 * ACROSS;

/** A small picture of a job as it will be: burned where a beam works, else carved. */
export function workPicture(job: Job, cuts: readonly PlannedCut[], carved?: HeightMap): { width: number; height: number; data: Uint8ClampedArray } {
  const { width } = job.board;
  if (cuts.some(({ beam }) => beam)) return burnImage(burnMap(job, cuts, width / CELLS), job.board, ACROSS);
  return thumbnail(carved ?? carvePlan(blankMap(job.board, width / CELLS), cuts), job.board);
}

/** A small picture of the real carve for the Shop wall, in the tone of its material: light from the upper left, depth as shade. */
export function thumbnail(
  map: HeightMap,
  { thickness, material }: { thickness: number; material: string },
): { width: number; height: number; data: Uint8ClampedArray } {
  const width = ACROSS;
  const step = map.columns / width;
  const height = Math.max(1, Math.round(map.rows / step));
  const data = new Uint8ClampedArray(4 * width * height);
  const deepest = Math.max(2, map.deepest);
  const { pale, deep } = LOOKS[lookOf(material)];
  const tone = pale.map((part, k) => 255 * (0.7 * part + 0.3 * deep[k]));
  const at = (i: number, j: number) => map.height[Math.min(map.rows - 1, Math.max(0, j)) * map.columns + Math.min(map.columns - 1, Math.max(0, i))];
  for (let v = 0; v < height; v++)
    for (let u = 0; u < width; u++) {
      const i = Math.floor((u + 0.5) * step);
      const j = map.rows - 1 - Math.floor((v + 0.5) * step);
      const h = at(i, j);
      const slope = (at(i - 1, j + 1) - at(i + 1, j - 1)) / map.cell;
      const through = h <= -thickness + 0.01;
      const depth = Math.min(1, -h / deepest);
      const light = Math.max(0.35, Math.min(1.15, 1 - 0.45 * depth - 0.12 * slope));
      const k = 4 * (v * width + u);
      const colour = through ? [60, 54, 46] : tone.map((part) => part * light);
      data.set([...colour, 255], k);
    }
  return { width, height, data };
}
