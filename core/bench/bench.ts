/** Times of the heavy parts, side by side in one run. Ratios are what counts; seconds are this machine's. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import Delaunator from 'delaunator';
import { greyOf, placeThings, readDrawing, TRACE, tracePicture } from '../src/artwork/import/index.ts';
import { faceById, openFont, letterRegions, setText } from '../src/artwork/text/index.ts';
import { Bit, Cut, Job, type CutOf } from '../src/job/index.ts';
import { contourOf, contoursOf, insideRegion, medialAxis, offset, type Region } from '../src/geometry/index.ts';
import { traceRegion } from '../src/geometry/medial/index.ts';
import { planVCarve, VCarveCut } from '../src/cuts/router/vcarve.ts';
import { CutCache, planJob, writePrograms, type PlannedCut } from '../src/plan/index.ts';
import { candidatesFor, tryBit } from '../src/advise/index.ts';
import { ArtCache } from '../src/artwork/index.ts';
import { planMotion } from '../src/motion/index.ts';
import { shapeOf, type PointedBit } from '../src/bits/index.ts';
import { planPocket } from '../src/cuts/router/pocket.ts';
import { factsOf, orderRuns, travelOf, type Run, type Toolpath } from '../src/toolpath/index.ts';
import { carve, HeightMap, LayeredBoard, Scrubber } from '../src/proof/index.ts';
import { readProgram } from '../src/program/index.ts';
import { benchLaser } from './laser.ts';
import { benchTorch } from './torch.ts';

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

const bit = Bit.parse({ kind: 'v', id: 'v', angle: 60, diameter: 12.7 }) as PointedBit;
const cut = VCarveCut.parse({ kind: 'vcarve', id: 'c', on: 'art', tool: 'v' });
const travel = { clearance: 5, feed: 2400, plunge: 1000 };
const plan = planVCarve(regions, cut, bit, travel, 0.01);
row('lifts per letter', (plan.lifts / letters).toFixed(2), '');
const job = Job.parse({
  kerbe: 4,
  name: 'Bench',
  board: { width: 2000, height: 600, thickness: 18 },
  items: { words: { kind: 'text', id: 'words', x: 0, y: 300, face: 'playfair', ...setting } },
  itemOrder: ['words'],
  tools: { v: bit },
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

{
  const { items } = await planJob(job, { fonts: () => font });
  const bits = candidatesFor('vcarve', [], true).slice(0, 12);
  row(`bit finder: ${bits.length} bits on the same words`, s(time(() => bits.forEach((one) => tryBit(job, 'c', items, one)), 1)), '< 30 s');
}

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
// Ten of the small one against one of the large: as long at work, so that a fast or slow moment of the machine counts alike.
const tSmall =
  time(() => {
    for (let k = 0; k < 10; k++) traceRegion(small);
  }, 2) / 10;
const tLarge = time(() => traceRegion(large), 2);
row('axis of one outline of 10,000 and 100,000 vertices', `${s(tSmall)} ${s(tLarge)}`, '');
row('growth exponent', (Math.log(tLarge / tSmall) / Math.log(10)).toFixed(2), '<= 1.3');
row('offset of the same letters once, for comparison', s(time(() => regions.forEach((r) => offset([r], -0.5)))), '');

/** A toolpath as the one cut of a plan. */
function planned1(path: Toolpath): PlannedCut {
  return { cut, bit, path, facts: factsOf(path), seconds: 0, fastest: 0, lifts: 1, through: false, findings: [] };
}

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
const shape = shapeOf(bit);
const moves = winding(100_000);
const map = new HeightMap(600, 300, 0.1);
const proof = time(() => carve(map, moves, shape));
row('proof: 100,000 V moves on 600 x 300 mm at 0.1 mm', s(proof), '< 0.5 s');
const tenth = time(() => carve(map, moves, shape, 0, 10_000));
row('proof: 100,000 / 10,000 moves', (proof / tenth).toFixed(1), 'about 10 (linear)');

row('proof: the same at 0.2 mm', s(time(() => carve(new HeightMap(600, 300, 0.2), moves, shape))), 'about 0.1 s');
const million = winding(1_000_000);
row('proof: 1,000,000 / 100,000 moves', (time(() => carve(map, million, shape), 1) / proof).toFixed(1), 'about 10 (linear)');
{
  // A carve of 100,000 moves as a job: scrubbed forth and back, and one cut of two changed.
  const path = { ...moves, spans: [] };
  const planned = planned1(path);
  const scrub = new Scrubber({ machine: job.machine, program: job.program, board: { ...job.board, width: 600, height: 300 } }, [planned], 0.39);
  const first = time(() => scrub.at(scrub.timeline.seconds * 0.999), 1);
  let worst = 0;
  for (const share of [0.03, 0.97, 0.5, 0.49, 0.12, 0.88, 0.3])
    worst = Math.max(
      worst,
      time(() => scrub.at(share * scrub.timeline.seconds), 1),
    );
  row('scrub on 0.39 mm (as the screen does): first touch, slowest of 7', `${s(first)} ${s(worst)}`, '< 0.3 s');
  const layered = new LayeredBoard(new HeightMap(600, 300, 0.1));
  const whole = time(() => layered.update([planned, planned1({ ...winding(1000), spans: [] })]), 1);
  const part = time(() => layered.update([planned, planned1({ ...winding(1000), spans: [] })]), 1);
  row('18,000,000 cells: all cuts, and one small cut changed', `${s(whole)} ${s(part)}`, '');
}
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

/** The offsets a pocket of rings needs, and nothing else. */
const mill = Bit.parse({ kind: 'end', id: 'e', diameter: 3 });
const pocket = Cut.parse({ kind: 'pocket', id: 'p', on: 'art', tool: 'e' }) as CutOf<'pocket'>;
const bare = () =>
  regions.forEach((region) => {
    for (let k = 0; offset([region], -(1.5 + 1.2 * k)).length > 0; k++);
  });
const tBare = time(bare);
const tPocket = time(() => planPocket(regions, pocket, mill, travel));
row('pocket of the same letters with a 3 mm bit', s(tPocket), '');
row('pocket / the offsets it needs', (tPocket / tBare).toFixed(2), '< 2');

/** Order of starts against a long 2-opt run from the same nearest-next order. */
let seed = 12345;
const chance = () => (seed = (seed * 1103515245 + 12345) & 0x7fffffff) / 0x7fffffff;
const starts: Run[] = Array.from({ length: 2000 }, () => {
  const [x, y] = [600 * chance(), 400 * chance()];
  return { startX: x, startY: y, endX: x, endY: y, reversible: false };
});
const ordered = orderRuns(starts);
row('order of 2,000 starts', s(time(() => orderRuns(starts))), '< 1 s');
const way = (a: number, b: number) => Math.hypot((a < 0 ? 0 : starts[a].startX) - starts[b].startX, (a < 0 ? 0 : starts[a].startY) - starts[b].startY);
const tour = ordered.map(({ run }) => run).sort((a, b) => starts[a].startX - starts[b].startX);
for (let better = true; better;) {
  better = false;
  for (let i = 0; i < tour.length - 1; i++)
    for (let j = i + 1; j < tour.length; j++) {
      const a = i ? tour[i - 1] : -1;
      const end = j + 1 < tour.length;
      const before = way(a, tour[i]) + (end ? way(tour[j], tour[j + 1]) : 0);
      const after = way(a, tour[j]) + (end ? way(tour[i], tour[j + 1]) : 0);
      if (after >= before - 1e-9) continue;
      tour.splice(i, j - i + 1, ...tour.slice(i, j + 1).reverse());
      better = true;
    }
}
const long = tour.reduce((sum, run, k) => sum + way(k ? tour[k - 1] : -1, run), 0);
row('its travel / that of 2-opt until nothing improves', (travelOf(starts, ordered) / long).toFixed(2), '<= 1.1');

/** Ten cuts of a large sign, and one figure of one of them changed. */
const ten = Job.parse({
  kerbe: 4,
  name: 'Ten',
  board: { width: 600, height: 300, thickness: 18 },
  items: {
    words: { kind: 'text', id: 'words', x: 300, y: 190, text: 'HERON WALK', face: 'playfair', capHeight: 60 },
    plate: { kind: 'rectangle', id: 'plate', x: 300, y: 70, width: 300, height: 60, radius: 8 },
    name: { kind: 'text', id: 'name', x: 300, y: 70, text: 'Larkmere Arboretum', face: 'playfair', capHeight: 18 },
    holes: { kind: 'holes', id: 'holes', x: 300, y: 150, diameter: 6, layout: { kind: 'corners', width: 580, height: 280, inset: 12 } },
    edge: { kind: 'rectangle', id: 'edge', x: 300, y: 150, width: 580, height: 280, radius: 20 },
  },
  itemOrder: ['words', 'plate', 'name', 'holes', 'edge'],
  outline: 'edge',
  tools: {
    v: bit,
    e6: { kind: 'end', id: 'e6', diameter: 6.35 },
    e3: { kind: 'end', id: 'e3', diameter: 3.175 },
    d: { kind: 'drill', id: 'd', diameter: 5, fluteLength: 40 },
    x: { kind: 'drag', id: 'x', diameter: 6 },
  },
  cuts: {
    c1: { kind: 'drill', id: 'c1', on: 'holes', tool: 'd' },
    c2: { kind: 'pocket', id: 'c2', on: ['plate'], tool: 'e6' },
    c3: { kind: 'pocket', id: 'c3', on: ['plate'], tool: 'e3', after: 'e6' },
    c4: { kind: 'vcarve', id: 'c4', on: ['words'], tool: 'v', floorDepth: 4, after: 'e3' },
    c5: { kind: 'pocket', id: 'c5', on: ['words'], tool: 'e3', floorOf: 'c4' },
    c6: { kind: 'vcarve', id: 'c6', on: ['name'], tool: 'v', startDepth: 3 },
    c7: { kind: 'engrave', id: 'c7', on: ['plate'], tool: 'v' },
    c8: { kind: 'chamfer', id: 'c8', on: 'outline', tool: 'v' },
    c9: { kind: 'drag', id: 'c9', on: ['name'], tool: 'x', fill: 'hatch' },
    c10: { kind: 'profile', id: 'c10', on: 'outline', tool: 'e6', lead: 'arc', entry: 'ramp' },
  },
  cutOrder: ['c1', 'c2', 'c3', 'c5', 'c4', 'c6', 'c7', 'c8', 'c9', 'c10'],
});
const timed = async (one: Job, keep: { art?: ArtCache; cuts?: CutCache }) => {
  const start = performance.now();
  await planJob(one, { fonts: () => font, ...keep });
  return (performance.now() - start) / 1000;
};
const fresh = Math.min(await timed(ten, {}), await timed(ten, {}), await timed(ten, {}));
row('plan of a job with 10 cuts', s(fresh), '< 3 s');
const kept = { art: new ArtCache(), cuts: new CutCache() };
await timed(ten, kept);
const changed = { ...ten, cuts: { ...ten.cuts, c1: { ...ten.cuts.c1, peck: 2 } as Job['cuts'][string] } };
row('the same again, one figure of the drilling changed', s(await timed(changed, kept)), '');
benchTorch(time, row);
await benchLaser(time, row);
