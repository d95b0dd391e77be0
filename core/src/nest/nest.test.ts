/** Fitting pieces to a plate: nothing overlaps, by an independent library; and more fits than in shelves. */
import DistanceOp from 'jsts/org/locationtech/jts/operation/distance/DistanceOp.js';
import GeoJSONReader from 'jsts/org/locationtech/jts/io/GeoJSONReader.js';
import { describe, expect, it } from 'vitest';
import { circle, contourOf, mapRegion, rectangle, regionArea, regionsBox, type Region } from '../geometry/index.ts';
import { nest, type Nest, type NestPiece, type NestPlate, type NestSettings } from './index.ts';

const shape = (points: number[]): Region => ({ outer: contourOf(points), holes: [] });
const ell = (size: number): Region => shape([0, 0, size, 0, size, size / 4, size / 4, size / 4, size / 4, size, 0, size]);
const wedge = (w: number, h: number): Region => shape([0, 0, w, 0, 0, h]);
const ring = (r: number, inner: number): Region => ({ outer: circle(0, 0, r), holes: [contourOf(backwards(circle(0, 0, inner).xy))] });
function backwards(xy: ArrayLike<number>): number[] {
  const out: number[] = [];
  for (let i = xy.length - 2; i >= 0; i -= 2) out.push(xy[i], xy[i + 1]);
  return out;
}
const piece = (id: string, region: Region, copies = 1, turns: number[] = [0, 90, 180, 270]): NestPiece => ({ id, regions: [region], copies, turns });

const whereOf = (pieces: readonly NestPiece[], { placed }: Nest): Region[] =>
  placed.map(({ id, angle, dx, dy }) => {
    const a = (angle * Math.PI) / 180;
    return mapRegion(pieces.find((one) => one.id === id)!.regions[0], (x, y) => [
      Math.cos(a) * x - Math.sin(a) * y + dx,
      Math.sin(a) * x + Math.cos(a) * y + dy,
    ]);
  });

// The independent library: distance of the areas themselves, openings and all.
const reader = new GeoJSONReader();
const polygon = ({ outer, holes }: Region) => {
  const closed = (xy: ArrayLike<number>) => Array.from({ length: xy.length / 2 + 1 }, (_, i) => [xy[(2 * i) % xy.length], xy[(2 * i + 1) % xy.length]]);
  return reader.read({ type: 'Polygon', coordinates: [closed(outer.xy), ...holes.map(({ xy }) => closed(xy))] });
};
function check(pieces: readonly NestPiece[], plate: NestPlate, settings: NestSettings, made: Nest): void {
  const regions = whereOf(pieces, made);
  for (const region of regions) {
    const { minX, minY, maxX, maxY } = regionsBox([region]);
    expect(Math.min(minX, minY, plate.width - maxX, plate.height - maxY)).toBeGreaterThanOrEqual(settings.margin - 0.01);
  }
  const areas = regions.map(polygon);
  for (let i = 0; i < areas.length; i++) {
    for (let j = i + 1; j < areas.length; j++) expect(DistanceOp.distance(areas[i], areas[j])).toBeGreaterThanOrEqual(settings.gap - 0.01);
    for (const hole of plate.holes ?? []) expect(DistanceOp.distance(areas[i], polygon(hole))).toBeGreaterThanOrEqual(settings.margin - 0.01);
  }
  const count = pieces.reduce((sum, { copies }) => sum + copies, 0);
  expect(made.placed.length + made.left.length).toBe(count);
  expect(new Set(made.placed.map(({ id, copy }) => `${id} ${copy}`)).size).toBe(made.placed.length);
}

/** Shelves, as one would lay boxes: the tallest first, in columns from the left. How far to the right they reach, mm. */
function shelves(pieces: readonly NestPiece[], plate: NestPlate, { gap, margin }: NestSettings): number {
  const boxes = pieces
    .flatMap(({ regions, copies }) => Array.from({ length: copies }, () => regionsBox(regions)))
    .map(({ minX, minY, maxX, maxY }) => [maxX - minX, maxY - minY])
    .sort((a, b) => b[0] - a[0]);
  let [x, y, wide] = [margin, margin, 0];
  for (const [w, h] of boxes) {
    if (y + h > plate.height - margin) [x, y, wide] = [x + wide + gap, margin, 0];
    y += h + gap;
    wide = Math.max(wide, w);
  }
  return x + wide;
}

const PLATE = { width: 600, height: 300 };
const SETTINGS = { gap: 4, margin: 8, rounds: 0 };

describe('fitting', () => {
  it('nothing at all, and one piece in the lower left corner', () => {
    expect(nest([], PLATE, SETTINGS)).toMatchObject({ placed: [], left: [], used: 0, share: 0 });
    const made = nest([piece('a', shape([0, 0, 50, 0, 50, 20, 0, 20]), 1, [0])], PLATE, SETTINGS);
    expect(made.placed[0].dx).toBeLessThan(8 + 2);
    expect(made.placed[0].dx).toBeGreaterThanOrEqual(8);
    expect(made.placed[0].dy).toBeLessThan(8 + 2);
  });
  it('what is larger than the plate is left, and said', () =>
    expect(nest([piece('a', shape([0, 0, 700, 0, 700, 20, 0, 20]))], PLATE, SETTINGS)).toMatchObject({ placed: [], left: ['a'] }));
  it('what fits only turned is turned, where it may be', () => {
    const long = shape([0, 0, 20, 0, 20, 400, 0, 400]);
    expect(nest([piece('a', long)], PLATE, SETTINGS).placed[0].angle % 180).toBe(90);
    expect(nest([piece('a', long, 1, [0])], PLATE, SETTINGS).left).toEqual(['a']);
  });
  it('small pieces go into the openings of large ones', () => {
    const pieces = [piece('ring', ring(120, 100)), piece('disc', { outer: circle(0, 0, 30), holes: [] }, 4)];
    const made = nest(pieces, { width: 260, height: 260 }, SETTINGS);
    check(pieces, { width: 260, height: 260 }, SETTINGS, made);
    expect(made.left).toEqual([]);
  });
  it('nothing lies over what a remnant has lost already', () => {
    const plate = {
      ...PLATE,
      holes: [
        { outer: rectangle(0, 0, 200, 220), holes: [] },
        { outer: circle(400, 150, 80), holes: [] },
      ],
    };
    const pieces = [piece('wedge', wedge(90, 60), 14), piece('bar', shape([0, 0, 120, 0, 120, 12, 0, 12]), 6)];
    check(pieces, plate, SETTINGS, nest(pieces, plate, SETTINGS));
  });
  it('goes on from what was found before: never worse than that, and further than from the beginning with as few rounds', () => {
    const pieces = [piece('a', ell(90), 4), piece('b', wedge(70, 120), 4), piece('c', ell(50), 6)];
    const [plate, settings] = [
      { width: 900, height: 260 },
      { gap: 4, margin: 8, rounds: 12 },
    ];
    let best = nest(pieces, plate, { ...settings, rounds: 0 });
    const first = best.used;
    for (let seed = 1; seed <= 6; seed++) {
      const next = nest(pieces, plate, { ...settings, seed, from: best });
      expect([next.left.length, next.used <= best.used + 1e-9]).toEqual([0, true]);
      check(pieces, plate, settings, next);
      best = next;
    }
    expect(best.used).toBeLessThan(first);
    // No rounds at all: what it had before.
    expect(nest(pieces, plate, { ...settings, rounds: 0, from: best }).used).toBeCloseTo(best.used, 6);
  });
  it('more rounds are never worse, the same seed gives the same, and a stop keeps what there is', () => {
    const pieces = [piece('ell', ell(70), 8), piece('wedge', wedge(60, 80), 8), piece('disc', { outer: circle(0, 0, 18), holes: [] }, 8)];
    const plate = { width: 500, height: 200 };
    const one = nest(pieces, plate, SETTINGS);
    const more = nest(pieces, plate, { ...SETTINGS, rounds: 12 });
    check(pieces, plate, SETTINGS, more);
    expect(more.left.length < one.left.length || more.used <= one.used).toBe(true);
    expect(nest(pieces, plate, { ...SETTINGS, rounds: 12 })).toEqual(more);
    const signal = { aborted: false };
    let rounds = 0;
    nest(pieces, plate, { ...SETTINGS, rounds: 1000 }, { signal, onRound: (done) => ((rounds = done), (signal.aborted = done >= 3)) });
    expect(rounds).toBe(3);
  });
});

describe('a set of twenty, against shelves', () => {
  // Deterministic sets of signs, brackets and silhouettes' like: Ls, wedges, discs, rings, bars.
  const sets = Array.from({ length: 20 }, (_, k): NestPiece[] => [
    piece('ell', ell(50 + 6 * (k % 5)), 3 + (k % 3)),
    piece('wedge', wedge(50 + 5 * (k % 7), 60 + 4 * (k % 4)), 4 + (k % 4)),
    piece('ring', ring(36 + 2 * (k % 5), 24 + 2 * (k % 5)), 2),
    piece('disc', { outer: circle(0, 0, 10 + (k % 6)), holes: [] }, 3 + (k % 5)),
    piece('bar', shape([0, 0, 70 + 5 * (k % 6), 0, 70 + 5 * (k % 6), 14, 0, 14]), 2 + (k % 3)),
  ]);
  it('uses at least 1.15 times their share of the plate on the whole, and never overlaps', () => {
    const plate = { width: 2000, height: 200 };
    const settings = { ...SETTINGS, rounds: 4 };
    let [ours, theirs] = [0, 0];
    for (const pieces of sets) {
      const made = nest(pieces, plate, settings);
      check(pieces, plate, settings, made);
      expect(made.left).toEqual([]);
      const area = pieces.reduce((sum, { regions, copies }) => sum + copies * regionArea(regions[0]), 0);
      ours += area / (made.used * plate.height);
      theirs += area / (shelves(pieces, plate, settings) * plate.height);
    }
    expect(ours / theirs).toBeGreaterThan(1.15);
  });
});
