import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { PNG } from 'pngjs';
import type { FontSource } from '@kerbe/core/artwork';
import { boardThickness } from '@kerbe/core/job';
import { piecesOf, planJob, type Piece } from '@kerbe/core/plan';
import { blankMap, boardStl, burnFigures, burnImage, burnMap, carvePlan, differenceOf, HeightMap, type Amount } from '@kerbe/core/proof';
import { loadJob } from './jobfile.ts';
import { picturesOf } from './pictures.ts';
import { Refusal } from './refusal.ts';
import { piecesReport, rounded } from './plan.ts';

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
      diff: { type: 'boolean', default: false },
      pieces: { type: 'boolean', default: false },
      burn: { type: 'string' },
      'diff-png': { type: 'string' },
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
  const plan = await planJob(job, { fonts, pictures: picturesOf(job) });
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
  if (values.pieces) {
    const pieces = piecesOf(job.board, plan.cuts);
    // What tabs still hold in a piece lies as it does.
    const count = (lies: Piece['lies']) => pieces.reduce((sum, piece) => sum + (piece.lies === lies ? Number(piece.part) + piece.holds : 0), 0);
    const parts = { free: count('free'), held: count('held'), tips: count('tips'), falls: count('falls') };
    process.stdout.write(JSON.stringify({ parts, pieces: piecesReport(job, plan) }, null, 2) + '\n');
  }
  if (values.burn) {
    const map = burnMap(job, plan.cuts, cell);
    const image = burnImage(map, job.board);
    writeFileSync(values.burn, PNG.sync.write(Object.assign(new PNG({ width: image.width, height: image.height }), { data: Buffer.from(image.data) })));
    // J, J/mm², and the shares of the sheet that are marked, charred and cut through.
    const figures = Object.entries(burnFigures(map, job.board)).map(([key, value]) => [key, rounded(value)]);
    process.stdout.write(JSON.stringify({ ...Object.fromEntries(figures), cell: map.cell }, null, 2) + '\n');
  }
  if (values.png || values.stl || values.diff || values['diff-png']) {
    const map = carvePlan(blankMap(job.board, cell), plan.cuts);
    if (values.diff || values['diff-png']) {
      const difference = differenceOf(job, plan.items, plan.cuts, map);
      const amount = ({ area, worst, at }: Amount) => ({ area: rounded(area), worst: rounded(worst), at: at.map(rounded) });
      const cuts = difference.cuts.map(({ cut, left, over }) => ({ cut, left: amount(left), over: amount(over) }));
      const report = { left: amount(difference.left), over: amount(difference.over), cuts, cell, slack: difference.slack };
      if (values.diff) process.stdout.write(JSON.stringify(report, null, 2) + '\n');
      if (values['diff-png']) writeFileSync(values['diff-png'], differencePicture(map, difference.by));
    }
    if (values.png) writeFileSync(values.png, pictureOf(map, thickness));
    if (values.stl) writeFileSync(values.stl, boardStl(map, thickness));
  }
  return 0;
}

const PAPER = [246, 243, 234];

/** Shallow light, deep dark, one cell a pixel. */
function pictureOf(map: HeightMap, thickness: number): Buffer {
  const deepest = Math.min(Math.max(map.deepest, 0.1), thickness);
  const shallow = [217, 230, 211];
  const deep = [11, 46, 42];
  return painted(map, (i) => {
    const d = Math.min(1, -map.height[i] / deepest);
    return d > 0 ? shallow.map((from, c) => from + d * (deep[c] - from)) : PAPER;
  });
}

/** What was left standing in stripes, what was cut too much solid. */
const differencePicture = (map: HeightMap, by: Float32Array): Buffer =>
  painted(map, (i) => {
    if (by[i] < 0) return [168, 32, 26];
    if (by[i] > 0) return (Math.floor(i / map.columns) + (i % map.columns)) % 6 < 3 ? [154, 91, 0] : [240, 190, 110];
    return map.height[i] < 0 ? [217, 230, 211] : PAPER;
  });

/** A map as a picture, one cell a pixel, the far edge on top. */
function painted(map: Pick<HeightMap, 'columns' | 'rows'>, colourOf: (cell: number) => number[]): Buffer {
  const png = new PNG({ width: map.columns, height: map.rows });
  for (let j = 0; j < map.rows; j++)
    for (let i = 0; i < map.columns; i++) png.data.set([...colourOf(j * map.columns + i), 255], 4 * ((map.rows - 1 - j) * map.columns + i));
  return PNG.sync.write(png);
}
