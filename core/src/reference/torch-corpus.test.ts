/**
 * Drawings of others cut by a torch: nothing of the arc comes into a part, no pierce, lead or loop, and the scrap lies on the left of
 * every move; the islands of a face are those its letters are known for. `npm run soak` takes 500 drawings, `npm test` a few of each kind.
 */
import { expect, it } from 'vitest';
import { drawSubpaths } from '../artwork/index.ts';
import { readSvg } from '../artwork/import/index.ts';
import { Bit } from '../bits/schema.ts';
import { TorchCut } from '../cuts/torch/cut.ts';
import { planTorch } from '../cuts/torch/torch.ts';
import { contoursOf, mapRegion, regionsBox, unite, type Contour, type Region } from '../geometry/index.ts';
import { arcMoves, away, within } from './arc-oracle.ts';
import { filesOf } from './corpus.ts';

const soak = Number(process.env.KERBE_SOAK ?? 1) > 1;
/** Silhouettes: filled shapes with openings. */
const SHARES: [collection: string, all: number, few: number][] = [
  ['tabler filled', 250, 10],
  ['bootstrap', 150, 6],
  ['maki', 100, 6],
];
/** As large as a panel, mm; and the kerf. */
const SIZE = 400;
const KERF = 1.5;

/** The areas a drawing fills, at the size of a panel in the middle of its plate; null when it fills none. */
function silhouette(text: string): Region[] | null {
  const { things } = readSvg(text, { tolerance: 0.001 });
  const filled: Contour[] = things.flatMap((thing) =>
    thing.kind === 'path' && thing.fill !== 'none' ? unite(drawSubpaths(thing.subpaths, 0.001, true).contours, thing.fill).flatMap(contoursOf) : [],
  );
  const regions = unite(filled);
  if (regions.length === 0) return null;
  const { minX, minY, maxX, maxY } = regionsBox(regions);
  const by = SIZE / Math.max(maxX - minX, maxY - minY);
  return regions.map((region) => mapRegion(region, (x, y) => [50 + by * (x - minX), 50 + by * (y - minY)]));
}

/** Does a corner of an outline, or the middle of a side of it, come nearer to a part than the kerf? */
function someWithin(xy: Float64Array, part: Region): boolean {
  const { minX, minY, maxX, maxY } = regionsBox([part]);
  for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2)
    for (const [x, y] of [
      [xy[i], xy[i + 1]],
      [(xy[i] + xy[j]) / 2, (xy[i + 1] + xy[j + 1]) / 2],
    ])
      if (x > minX - KERF && x < maxX + KERF && y > minY - KERF && y < maxY + KERF && away([part], x, y) < KERF) return true;
  return false;
}

const plan = (regions: Region[], swirl: 'left' | 'right') =>
  planTorch(
    regions,
    [],
    TorchCut.parse({ kind: 'torch', id: 'c', on: 'art', tool: 'n', feed: 4000, kerf: KERF, corners: 'triangle', leadIn: 4 }),
    Bit.parse({ kind: 'nozzle', id: 'n', swirl }),
    { clearance: 15, feed: 4000, plunge: 2500 },
    { plate: { width: SIZE + 100, height: SIZE + 100, thickness: 3 } },
  );

it.each(SHARES)('%s: the arc keeps out of every part, the scrap on its left', { timeout: 1_200_000 }, (collection, all, few) => {
  const files = filesOf(collection);
  const every = Math.max(1, Math.floor(files.length / (soak ? all : few)));
  let cut = 0;
  for (const [k, { name, text }] of files.entries()) {
    if (k % every !== 0) continue;
    const regions = silhouette(text);
    if (!regions) continue;
    // Parts closer than the kerf cannot both be cut: they are told (torch-parts-too-close), and looked at no further here.
    if (regions.some(({ outer: { xy } }, i) => regions.some((other, j) => i !== j && someWithin(xy, other)))) continue;
    cut++;
    const mirrored = cut % 2 === 0;
    const { path, contours, noLead } = plan(regions, mirrored ? 'left' : 'right');
    const bare = new Set(noLead.map(String));
    for (const { pierce } of contours) if (!bare.has(String(pierce))) expect([name, within(regions, ...pierce)]).toEqual([name, false]);
    let [right, wrong, inside] = [0, 0, 0];
    for (const [ax, ay, bx, by] of arcMoves(path)) {
      const [mx, my] = [(ax + bx) / 2, (ay + by) / 2];
      const far = away(regions, mx, my);
      if (within(regions, mx, my) && far > 1e-3) inside++;
      const size = Math.hypot(bx - ax, by - ay);
      if (size < 0.2 || far > KERF / 2 + 0.01) continue;
      const way = mirrored ? -1 : 1;
      const [nx, ny] = [(-way * (by - ay)) / size, (way * (bx - ax)) / size];
      const isPart = (by: number) => within(regions, mx + by * nx, my + by * ny);
      if (isPart(-1.2 * (KERF / 2)) && !isPart(0.4)) right++;
      else if (isPart(1.2 * (KERF / 2)) && !isPart(-0.4)) wrong++;
    }
    expect([name, wrong, inside]).toEqual([name, 0, 0]);
    expect([name, right > 0 || contours.length === 0]).toEqual([name, true]);
  }
  expect(cut).toBeGreaterThan(soak ? all / 2 : few / 2);
});
