/** Times of the heavy parts, side by side in one run. Ratios are what counts; seconds are this machine's. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import Delaunator from 'delaunator';
import { greyOf, placeThings, readDrawing, TRACE, tracePicture } from '../src/artwork/import/index.ts';
import { faceById, openFont, letterRegions, setText } from '../src/artwork/text/index.ts';
import { VBitSchema, Job, VCarveCut, type Bit } from '../src/job/index.ts';
import { contourOf, contoursOf, insideRegion, medialAxis, offset, type Region } from '../src/geometry/index.ts';
import { traceRegion } from '../src/geometry/medial/index.ts';
import { planVCarve } from '../src/cuts/router/vcarve.ts';
import { planJob, writePrograms } from '../src/plan/index.ts';
import { planMotion } from '../src/motion/index.ts';
import { carve, HeightMap, shapeOf } from '../src/proof/index.ts';
import { readProgram } from '../src/program/index.ts';

const require = createRequire(import.meta.url);
const font = openFont(readFileSync(require.resolve(faceById('playfair')!.file)));

/** Best of a few runs, seconds: the least disturbed one. */
function time(work: () => unknown, runs = 3): number {
  let best = Infinity;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    best = Math.min(best, (performance.now() - start) / 1000);
  }
  return best;
}
const row = (what: string, figure: string, aim: string) => console.log(`${what.padEnd(62)} ${figure.padStart(18)}   ${aim}`);
const s = (seconds: number) => `${seconds.toFixed(3)} s`;

const LETTERS = 'Sphinx of black quartz judge my vow HERON WALK 0123456789 & reed ';
const block = Array.from({ length: 8 }, (_, i) => (LETTERS + LETTERS).slice(i, i + 50)).join('\n');
const setting = { text: block, capHeight: 20, lineSpacing: 1.6, letterSpacing: 0, align: 'left' as const };
const letters = [...block].filter((c) => c.trim()).length;

const regions = letterRegions(setText(setting, font), 0.005);
const vertices = regions.reduce((sum, r) => sum + contoursOf(r).reduce((n, c) => n + c.smooth.length, 0), 0);

/** The simple way: sample the outline, triangulate, keep circumcentres inside. */
function sampledDelaunay(part: Region, h: number): number {
  const points: number[] = [];
  for (const { xy } of contoursOf(part))
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const n = Math.max(1, Math.ceil(Math.hypot(xy[i] - xy[j], xy[i + 1] - xy[j + 1]) / h));
      for (let k = 0; k < n; k++) points.push(xy[j] + ((xy[i] - xy[j]) * k) / n, xy[j + 1] + ((xy[i + 1] - xy[j + 1]) * k) / n);
    }
  const { triangles } = new Delaunator(points);
  let kept = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [2 * triangles[t], 2 * triangles[t + 1], 2 * triangles[t + 2]];
    const [bx, by, cx, cy] = [points[b] - points[a], points[b + 1] - points[a + 1], points[c] - points[a], points[c + 1] - points[a + 1]];
    const d = 2 * (bx * cy - by * cx);
    const x = points[a] + (cy * (bx * bx + by * by) - by * (cx * cx + cy * cy)) / d;
    const y = points[a + 1] + (bx * (cx * cx + cy * cy) - cx * (bx * bx + by * by)) / d;
    if (insideRegion(part, x, y)) kept++;
  }
  return kept;
}

console.log(`\nNode ${process.version}; ${letters} letters of 20 mm, ${vertices} vertices\n`);
const exact = time(() => regions.forEach((r) => medialAxis(r, { uncut: 0.02, tolerance: 0.003 })));
const sampled = time(() => regions.forEach((r) => sampledDelaunay(r, 0.2)));
row('medial axis, exact, pruned and subdivided', s(exact), 'about 0.4-0.8 s');
row('sampled Delaunay at h = 0.2 (axis points only)', s(sampled), '');
row('exact / sampled', (exact / sampled).toFixed(2), '<= 1.5');

const bit = VBitSchema.parse({ kind: 'v', id: 'v', angle: 60, diameter: 12.7 });
const cut = VCarveCut.parse({ kind: 'vcarve', id: 'c', on: 'art', bit: 'v' });
const travel = { clearance: 5, feed: 2400, plunge: 1000 };
const plan = planVCarve(regions, cut, bit, travel, 0.01);
row('lifts per letter', (plan.lifts / letters).toFixed(2), '');
const job = Job.parse({
  kerbe: 1,
  name: 'Bench',
  board: { width: 2000, height: 600, thickness: 18 },
  items: { words: { kind: 'text', id: 'words', x: 0, y: 300, face: 'playfair', ...setting } },
  itemOrder: ['words'],
  bits: { v: bit },
  cuts: { c: cut },
  cutOrder: ['c'],
});
const whole: number[] = [];
for (let i = 0; i < 3; i++) {
  const start = performance.now();
  writePrograms(job, await planJob(job, { fonts: () => font }), '2026-01-01');
  whole.push((performance.now() - start) / 1000);
}
row('words to program: union, axis, passes, order, time, program', s(Math.min(...whole)), 'about 1 s');

/** A closed wavy outline of n vertices: one region, no symmetry. */
const wavy = (n: number): Region => {
  const points: number[] = [];
  for (let i = 0; i < n; i++) {
    const a = (2 * Math.PI * i) / n;
    const r = 400 + 60 * Math.sin(9 * a) + 25 * Math.sin(31 * a + 1) + 8 * Math.sin((n / 40) * a);
    points.push(r * Math.cos(a), r * Math.sin(a));
  }
  return { outer: contourOf(points.map((v) => Math.round(v * 1e6) / 1e6)), holes: [] };
};
const [small, large] = [wavy(10_000), wavy(100_000)];
const tSmall = time(() => traceRegion(small), 2);
const tLarge = time(() => traceRegion(large), 1);
row('axis of one outline of 10,000 and 100,000 vertices', `${s(tSmall)} ${s(tLarge)}`, '');
row('growth exponent', (Math.log(tLarge / tSmall) / Math.log(10)).toFixed(2), '<= 1.3');
row('offset of the same letters once, for comparison', s(time(() => regions.forEach((r) => offset([r], -0.5)))), '');

/** V-carve like moves: short, winding, rising and falling. */
function winding(n: number) {
  const out = { kind: new Uint8Array(n).fill(1), x: new Float64Array(n), y: new Float64Array(n), z: new Float64Array(n), feed: new Float64Array(n).fill(2400) };
  let [x, y, a] = [50, 50, 0];
  for (let i = 0; i < n; i++) {
    a += Math.sin(i * 0.37) * 0.3;
    const step = 0.5;
    x += step * Math.cos(a);
    y += step * Math.sin(a);
    if (x < 5 || x > 595 || y < 5 || y > 295) {
      a += Math.PI / 2;
      x = Math.min(595, Math.max(5, x));
      y = Math.min(295, Math.max(5, y));
    }
    out.x[i] = x;
    out.y[i] = y;
    out.z[i] = -2 - 1.5 * Math.sin(i * 0.05);
  }
  return out;
}
const shape = shapeOf(bit as Bit);
const moves = winding(100_000);
const map = new HeightMap(600, 300, 0.1);
const proof = time(() => carve(map, moves, shape));
row('proof: 100,000 V moves on 600 x 300 mm at 0.1 mm', s(proof), '< 0.5 s');
const tenth = time(() => carve(map, moves, shape, 0, 10_000));
row('proof: 100,000 / 10,000 moves', (proof / tenth).toFixed(1), 'about 10 (linear)');

const million = winding(1_000_000);
row('motion: 1,000,000 moves', s(time(() => planMotion(million, job.machine))), '< 0.5 s');
const lines =
  'G21 G90\nF2400\n' + Array.from({ length: 1_000_000 }, (_, i) => `G1 X${(i % 600) + 0.125} Y${i % 300} Z-${(i % 50) / 10}`).join('\n') + '\nM30\n';
const bytes = new TextEncoder().encode(lines);
const reading = time(() => readProgram(bytes));
row('program reader', `${(1 / reading).toFixed(1)} M lines/s`, '> 1');

// Artwork: files as large as they come.
const text = (content: string) => new TextEncoder().encode(content);
const manyPaths = text(
  `<svg xmlns="http://www.w3.org/2000/svg" width="2000mm" height="1000mm" viewBox="0 0 2000 1000">${Array.from(
    { length: 20_000 },
    (_, i) =>
      `<path d="M${(i % 200) * 10 + 1} ${Math.floor(i / 200) * 10 + 1}c2 0 4 1.5 4 4.25s-1.5 3.125-3.375 3.5s-3.25-1.25-3.5-3.125s.5-4.125 2.875-4.625l1.5 2.25z" fill="#1c2723"/>`,
  ).join('')}</svg>`,
);
row(
  `SVG of 20,000 paths (${(manyPaths.length / 1e6).toFixed(1)} MB) to things of a job`,
  s(time(() => placeThings(readDrawing(manyPaths, 'a.svg').things, { prefix: 'a', taken: {} }), 2)),
  '< 3 s',
);
const dxf = text(
  `0\nSECTION\n2\nENTITIES\n${Array.from({ length: 6300 }, (_, i) => `0\nLINE\n8\n0\n10\n${i}\n20\n${(i * 7) % 50}\n30\n0\n11\n${i + 1}\n21\n${((i + 1) * 7) % 50}\n31\n0\n`).join('')}0\nENDSEC\n0\nEOF\n`,
);
row(`DXF of ${dxf.filter((byte) => byte === 10).length} lines to chained contours`, s(time(() => readDrawing(dxf, 'a.dxf'), 2)), '< 3 s');
const [pw, ph] = [1600, 1000];
const pixels = new Uint8ClampedArray(4 * pw * ph).fill(255);
for (let y = 0; y < ph; y++)
  for (let x = 0; x < pw; x++) {
    const wave = Math.sin(x / 37) * Math.cos(y / 29) + 0.4 * Math.sin((x + y) / 11);
    pixels.set(
      [0, 1, 2].map(() => Math.round(Math.min(255, Math.max(0, 128 + 400 * wave)))),
      4 * (y * pw + x),
    );
  }
row('picture of 1600 x 1000 traced to curves', s(time(() => tracePicture(greyOf(pixels, pw, ph), TRACE, 0.1), 2)), '< 1 s');
