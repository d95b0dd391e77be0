/**
 * Cuts on real shapes - filled icons of open collections, letters of every shipped face - and on
 * shapes nobody would draw. `npm run soak` takes every icon (well over 2,000), `npm test` every
 * eightieth. Oracles are apart from the code: distance to the drawn edges by looking at each, areas
 * by offsets of the library.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readSvg } from '../artwork/import/index.ts';
import { drawSubpaths } from '../artwork/index.ts';
import { letterRegions, setText } from '../artwork/text/index.ts';
import { shapeOf, type PointedBit } from '../bits/index.ts';
import { planChamfer } from '../cuts/router/chamfer.ts';
import { planDrag } from '../cuts/router/drag.ts';
import { planEngrave } from '../cuts/router/engrave.ts';
import { planPlug, planRecess } from '../cuts/router/fit.ts';
import { planPocket } from '../cuts/router/pocket.ts';
import { planProfile } from '../cuts/router/profile.ts';
import { areaOf, reachOf } from '../cuts/router/rest.ts';
import { planVCarve } from '../cuts/router/vcarve.ts';
import {
  circle,
  contourOf,
  distanceToEdges,
  insideRegion,
  mapRegion,
  offset,
  regionsBox,
  reversed,
  strokeRegions,
  subtract,
  unite,
  type Region,
} from '../geometry/index.ts';
import { Bit, Cut, type CutKind, type CutOf } from '../job/index.ts';
import { RAPID, type Toolpath } from '../toolpath/index.ts';
import { even, often } from './chance.ts';
import { COLLECTIONS, filesOf } from './corpus.ts';
import { rapidFaults } from './rapids.ts';
import { charactersOf, FACES, fontOf, makeJob } from './fixtures.ts';

const every = Math.max(1, Math.round(80 / Number(process.env.KERBE_SOAK ?? 1)));
const travel = { clearance: 5, feed: 2400, plunge: 800 };
const v60 = Bit.parse({ kind: 'v', id: 'v', angle: 60, diameter: 12.7 }) as PointedBit;
const mill = Bit.parse({ kind: 'end', id: 'e', diameter: 3 });
const { board } = makeJob();
const cutOf = <K extends CutKind>(kind: K, more: object = {}) => Cut.parse({ kind, id: 'c', on: 'art', tool: 'v', ...more }) as CutOf<K>;
const TOLERANCE = 0.01;

/** What a file fills, 60 mm wide. */
function filled(text: string): Region[] {
  const { things, page } = readSvg(text, { tolerance: 0.0005 });
  const contours = things.flatMap((thing) =>
    thing.kind === 'path' && thing.fill !== 'none'
      ? unite(drawSubpaths(thing.subpaths, 0.002, true).contours, thing.fill).flatMap(({ outer, holes }) => [outer, ...holes])
      : [],
  );
  const scale = 60 / (page?.width ?? 24);
  return unite(contours).map((region) => mapRegion(region, (x, y) => [x * scale, y * scale]));
}

const isIn = (regions: readonly Region[], x: number, y: number) => regions.some((region) => insideRegion(region, x, y));

/** Every bound a toolpath must keep, whatever it cuts. */
function sane(path: Toolpath): string[] {
  const why = rapidFaults(path, travel.clearance);
  for (let i = 1; i < path.kind.length; i++) {
    const [dx, dy, dz] = [path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1], path.z[i] - path.z[i - 1]];
    if (![path.x[i], path.y[i], path.z[i], path.feed[i]].every(Number.isFinite)) why.push('a number that is none');
    if (path.kind[i] !== RAPID && path.feed[i] > travel.feed + 1e-6) why.push('faster than the feed');
    if (path.kind[i] !== RAPID && dz < 0 && (path.feed[i] * -dz) / Math.hypot(dx, dy, dz) > travel.plunge + 1e-6) why.push('down faster than the plunge rate');
  }
  return why;
}

/** Points under power below the surface, at most so many of them. */
function* sampled(path: Toolpath, most: number) {
  const stride = Math.max(1, Math.floor(path.kind.length / most));
  for (let i = 1; i < path.kind.length; i += stride) if (path.kind[i] !== RAPID && path.z[i] < 0) yield i;
}

/** V-carve: as deep as the nearest edge allows, and never deeper: the tip runs in the middle. */
function vcarveFaults(regions: readonly Region[]): string[] {
  const { path, trouble } = planVCarve(regions, cutOf('vcarve'), v60, travel, TOLERANCE);
  const why = [...trouble, ...sane(path)];
  const { tangent, outer } = shapeOf(v60);
  for (const i of sampled(path, 250)) {
    if (!isIn(regions, path.x[i], path.y[i])) {
      if (-path.z[i] * tangent > TOLERANCE) why.push(`outside at ${path.x[i].toFixed(2)} ${path.y[i].toFixed(2)}`);
      continue;
    }
    const edge = distanceToEdges(regions, path.x[i], path.y[i]);
    const cuts = -path.z[i] * tangent;
    if (cuts > edge + TOLERANCE / 2 + 1e-6) why.push(`over-cut by ${(cuts - edge).toFixed(4)}`);
    if (cuts < Math.min(edge, outer) - 2 * TOLERANCE - 1e-6) why.push(`${(edge - cuts).toFixed(4)} short of the wall`);
  }
  return why;
}

/** Pocket: the bit never reaches beyond the wall, and what is left is what it cannot reach. */
function pocketFaults(regions: readonly Region[], pattern: 'rings' | 'lines'): string[] {
  const { path, unreached } = planPocket(regions, cutOf('pocket', { pattern, angle: 20 }), mill, travel);
  const why = sane(path);
  for (const i of sampled(path, 250)) {
    const near = isIn(regions, path.x[i], path.y[i]) ? distanceToEdges(regions, path.x[i], path.y[i]) : 0;
    if (near < 1.5 - 0.006) why.push(`${(1.5 - near).toFixed(4)} into the wall`);
  }
  const lines: { xy: Float64Array; smooth: Uint8Array }[] = [];
  let run: number[] = [];
  const end = () => {
    if (run.length >= 4) lines.push({ xy: Float64Array.from(run), smooth: new Uint8Array(run.length / 2) });
    run = [];
  };
  for (let i = 1; i < path.kind.length; i++) {
    if (path.kind[i] === RAPID || path.z[i] > -3 + 1e-9) end();
    else run.push(path.x[i], path.y[i]);
  }
  end();
  const swept = strokeRegions(lines, 3, false);
  const reach = reachOf(1.5, regions);
  const left = areaOf(subtract(offset(reach, -0.01), swept).filter((part) => areaOf([part]) > 0.02));
  if (left > 1e-3 * areaOf(reach) + 0.02) why.push(`${left.toFixed(3)} mm² left standing`);
  const missed = Math.abs(unreached - (areaOf(regions) - areaOf(reach)));
  if (missed > 0.005 * areaOf(regions) + 0.05)
    why.push(`says ${unreached.toFixed(2)} mm² is not reached, it is ${(areaOf(regions) - areaOf(reach)).toFixed(2)}`);
  return why;
}

describe('icons', () => {
  it.each(['tabler filled', 'bootstrap', 'maki'] satisfies (keyof typeof COLLECTIONS)[])(
    '%s: V-carve and pocket',
    { timeout: 3_000_000 },
    async (collection) => {
      const files = filesOf(collection).filter((_, i) => i % every === 0);
      const faults: string[] = [];
      let shapes = 0;
      for (const [k, { name, text }] of files.entries()) {
        const regions = filled(text);
        if (regions.length === 0) continue;
        shapes++;
        const add = (what: string, why: string[]) => why.length && faults.push(`${name}, ${what}: ${[...new Set(why)].slice(0, 3).join('; ')}`);
        add('V-carve', vcarveFaults(regions));
        add('pocket', pocketFaults(regions, k % 2 ? 'lines' : 'rings'));
        if (k % 20 === 0) await new Promise(setImmediate);
      }
      expect(faults, faults.slice(0, 20).join('\n')).toEqual([]);
      expect(shapes).toBeGreaterThan(2);
    },
  );
});

describe('letters of every shipped face', () => {
  it.each(FACES.map(({ id }) => id))('%s', { timeout: 600_000 }, (face) => {
    const characters = charactersOf(fontOf(face)!).filter((character) => /[A-Za-z0-9&?@]/.test(character));
    const mine = characters.filter((_, i) => i % Math.min(12, every) === 0).join('');
    const regions = letterRegions(setText({ text: mine, capHeight: 30, lineSpacing: 1.5, letterSpacing: 6, align: 'left' }, fontOf(face)!), 0.005);
    expect([...new Set([...vcarveFaults(regions), ...pocketFaults(regions, 'rings')])].slice(0, 5)).toEqual([]);
  });
});

describe('shapes nobody would draw (random)', () => {
  const coordinate = even(0, 60);
  const scribble = fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 16 }).map((points) => unite([contourOf(points.flat())]));
  const holed = fc
    .tuple(fc.array(even(6, 30), { minLength: 5, maxLength: 14 }), fc.array(fc.tuple(even(-10, 10), even(-10, 10), even(0.05, 6)), { maxLength: 4 }))
    .map(([rays, holes]) =>
      unite([
        contourOf(rays.flatMap((r, i) => [30 + r * Math.cos((2 * Math.PI * i) / rays.length), 30 + r * Math.sin((2 * Math.PI * i) / rays.length)])),
        ...holes.map(([x, y, r]) => reversed(circle(30 + x, 30 + y, r))),
      ]),
    );
  /** Two parts that nearly touch, spikes thinner than any bit, the same thing twice, and next to nothing. */
  const near = even(0.0001, 0.2).map((gap) => unite([contourOf([0, 0, 20, 0, 20, 30, 0, 30]), contourOf([20 + gap, 0, 40, 0, 40, 30, 20 + gap, 30])]));
  const spike = even(0.001, 1).map((width) => unite([contourOf([0, 0, 40, 0, 40, 20, 25, 20, 20 + width, 60, 20, 60, 20 - width, 20, 0, 20])]));
  const doubled = scribble.map((regions) => unite([...regions, ...regions].map(({ outer }) => outer)));
  const tiny = even(1e-4, 0.5).map((size) => unite([contourOf([5, 5, 5 + size, 5, 5 + size, 5 + size])]));
  const any = fc.oneof(scribble, holed, near, spike, doubled, tiny);

  it('any cut of any of them is planned, with every number sane and nothing outside', { timeout: 1_200_000 }, () => {
    const engraving = Bit.parse({ kind: 'engraving', id: 'v', angle: 20, diameter: 3.175, tipFlat: 0.3 });
    const diamond = Bit.parse({ kind: 'drag', id: 'v', diameter: 6, lineWidth: 0.5 });
    fc.assert(
      fc.property(any, fc.constantFrom('arc', 'line', 'none'), fc.constantFrom('round', 'dogbone', 'tbone'), (regions, lead, corners) => {
        const box = regionsBox(regions);
        const within = (path: Toolpath, reach: number) => {
          expect(sane(path)).toEqual([]);
          for (let i = 0; i < path.kind.length; i++)
            if (path.kind[i] !== RAPID)
              expect(Math.max(box.minX - path.x[i], path.x[i] - box.maxX, box.minY - path.y[i], path.y[i] - box.maxY)).toBeLessThanOrEqual(reach);
        };
        for (const side of ['auto', 'outside', 'inside', 'on'] as const) {
          const cut = cutOf('profile', {
            side,
            lead,
            insideCorners: corners,
            outsideCorners: 'sharp',
            entry: 'ramp',
            tabShape: 'ramped',
            allowance: side === 'on' ? 0 : 0.2,
          });
          // A sharp corner runs out to a point, as far as the mitre may go; leads run into the waste. A T-bone cuts into one wall.
          within(planProfile(regions, cut, mill, board, travel).path, side === 'inside' ? (corners === 'tbone' ? 1.51 : 0.01) : 8 * 1.7 + 8);
        }
        for (const way of ['lines', 'centre', 'fill'] as const)
          within(planEngrave(regions, [], cutOf('engrave', { way }), engraving, travel, TOLERANCE).path, 0.01);
        for (const fill of ['none', 'hatch', 'cross', 'rings'] as const)
          within(planDrag(regions, [], cutOf('drag', { fill, spacing: 2 }), diamond, travel).path, 0.01);
        within(planVCarve(regions, cutOf('vcarve', { floorDepth: 2, stepover: 1, depthPerPass: 1 }), v60, travel, TOLERANCE, mill).path, 0.01);
        within(
          planVCarve(regions, cutOf('vcarve', { startDepth: 2, floorDepth: 1, stepover: 1, plug: { margin: 6 } }), v60, travel, TOLERANCE).path,
          6 * Math.SQRT2 + 0.01,
        );
        within(planChamfer(regions, cutOf('chamfer'), v60, travel).path, 0.51);
        const fit = { mate: 'v', gap: 0.1 };
        within(planRecess(regions, cutOf('recess', fit), mill, mill, travel).path, 0.1);
        within(planPlug(regions, cutOf('plug', fit), mill, mill, board, travel).path, 1.7);
        within(planPocket(regions, cutOf('pocket', { open: true, depth: 1 }), mill, travel, { board: { width: 40, height: 40 } }).path, 6);
      }),
      often(15),
    );
  });
});
