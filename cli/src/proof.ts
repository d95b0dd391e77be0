import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { PNG } from 'pngjs';
import type { FontSource } from '@kerbe/core/artwork';
import { boardThickness } from '@kerbe/core/job';
import { planJob } from '@kerbe/core/plan';
import { boardStl, carvePlan, HeightMap } from '@kerbe/core/proof';
import { loadJob } from './jobfile.ts';
import { Refusal } from './main.ts';

/** Cell of the small map that answers `--at` exactly: the point is the centre of its one cell. */
const POINT = 1e-3;

/** `kerbe proof`: carved depth at points, a picture, the board as STL. */
export async function proofCommand(args: string[], fonts: FontSource): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      at: { type: 'string', multiple: true, default: [] },
      png: { type: 'string' },
      stl: { type: 'string' },
      cell: { type: 'string', default: '0.2' },
    },
  });
  const job = loadJob(positionals[0]);
  const cell = Number(values.cell);
  if (!(cell > 0 && cell < 100)) throw new Refusal('--cell is a size in mm, for example 0.2.');
  const points = values.at.map((text) => {
    const [x, y] = text.split(',').map((part) => (part.trim() === '' ? NaN : Number(part)));
    if (!Number.isFinite(x) || !Number.isFinite(y)) throw new Refusal(`--at: “${text}” should be X,Y in mm.`);
    return [x, y];
  });
  const plan = await planJob(job, { fonts });
  const thickness = boardThickness(job.board);
  for (const [x, y] of points) {
    // Move the work so that the point is the centre of the only cell: the formula, no grid error.
    const map = new HeightMap(POINT, POINT, POINT);
    const cuts = plan.cuts.map((cut) => ({
      ...cut,
      path: { ...cut.path, x: cut.path.x.map((v) => v - x + POINT / 2), y: cut.path.y.map((v) => v - y + POINT / 2) },
    }));
    carvePlan(map, cuts);
    const depth = Math.min(-map.height[0], thickness) || 0;
    process.stdout.write(`${x},${y} ${depth.toFixed(4)}\n`);
  }
  if (values.png || values.stl) {
    const map = carvePlan(new HeightMap(job.board.width, job.board.height, cell), plan.cuts);
    if (values.png) writeFileSync(values.png, pictureOf(map, thickness));
    if (values.stl) writeFileSync(values.stl, boardStl(map, thickness));
  }
  return 0;
}

/** Shallow light, deep dark, one cell a pixel. */
function pictureOf(map: HeightMap, thickness: number): Buffer {
  const png = new PNG({ width: map.columns, height: map.rows });
  const deepest = Math.min(Math.max(map.deepest, 0.1), thickness);
  const shallow = [217, 230, 211];
  const deep = [11, 46, 42];
  for (let j = 0; j < map.rows; j++)
    for (let i = 0; i < map.columns; i++) {
      const d = Math.min(1, -map.height[j * map.columns + i] / deepest);
      const at = 4 * ((map.rows - 1 - j) * map.columns + i);
      for (let c = 0; c < 3; c++) png.data[at + c] = d > 0 ? shallow[c] + d * (deep[c] - shallow[c]) : [246, 243, 234][c];
      png.data[at + 3] = 255;
    }
  return PNG.sync.write(png);
}
