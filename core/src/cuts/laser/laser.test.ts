/** The laser against its closed forms, a plain dither of our own, an independent polygon library, and its programs read back. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import BufferOp from 'jsts/org/locationtech/jts/operation/buffer/BufferOp.js';
import DistanceOp from 'jsts/org/locationtech/jts/operation/distance/DistanceOp.js';
import GeometryFactory from 'jsts/org/locationtech/jts/geom/GeometryFactory.js';
import Coordinate from 'jsts/org/locationtech/jts/geom/Coordinate.js';
import { fractionAt, moveAt, planMotion } from '../../motion/index.ts';
import { readProgram, toPath } from '../../program/index.ts';
import { powerOf } from '../../program/power.ts';
import { planJob, releasePrograms } from '../../plan/index.ts';
import { powerWordsOf } from '../../process/index.ts';
import { readJob, type Job } from '../../job/index.ts';
import { darknessOf, responseOf } from '../../feeds/energy.ts';
import { burnFigures, burnImage } from '../../proof/burn-look.ts';
import { burnMap, spotOutOfFocus } from '../../proof/burn.ts';
import { circle, contourOf, rectangle, regionArea, regionsBox, type Region } from '../../geometry/index.ts';
import { away, within } from '../../reference/arc-oracle.ts';
import { layCard } from './card.ts';
import { LaserFill, planFill, scanLines } from './fill.ts';
import { LaserCut, planLaserCut } from './outline.ts';
import { dotsOf, LaserPicture, planPictures } from './picture.ts';
import { overscanOf } from './rows.ts';
import { adjusted, bayer, dithered, DITHERS, floydSteinberg, LEVELS, type Dots } from './tone.ts';

const AS_IT_IS = { invert: false, brightness: 0, contrast: 1, gamma: 1, drop: 0 };
const mean = (values: ArrayLike<number>) => Array.from(values).reduce((sum, one) => sum + one, 0) / values.length;
/** Test patterns: a gradient, and a zone plate. */
const gradient = (columns: number, rows: number): Dots => ({
  columns,
  rows,
  dark: Float32Array.from({ length: columns * rows }, (_, k) => (k % columns) / (columns - 1)),
});
const zonePlate = (n: number): Dots => ({
  columns: n,
  rows: n,
  dark: Float32Array.from({ length: n * n }, (_, k) => 0.5 + 0.5 * Math.cos((((k % n) - n / 2) ** 2 + (Math.floor(k / n) - n / 2) ** 2) / n)),
});

describe('tones', () => {
  it.each([
    ['gradient', gradient(400, 200)],
    ['zone plate', zonePlate(256)],
  ])('of a %s the mean is kept within 1 %% by error diffusion and by the ordered matrix, within a level by shades', (_, dots) => {
    const wanted = mean(dots.dark);
    for (const how of ['floyd-steinberg', 'ordered'] as const) expect(Math.abs(mean(dithered(dots, how)) - wanted)).toBeLessThan(0.01);
    expect(Math.abs(mean(dithered(dots, 'grey')) - wanted)).toBeLessThan(0.5 / LEVELS);
  });
  it('error diffusion is that of a plain reference: a list of rows, the published weights, from the left', () => {
    // Floyd and Steinberg 1976, written down once more without looking: errors go to places in a table of rows.
    const plain = ({ columns, rows, dark }: Dots): number[] => {
      const table = Array.from({ length: rows }, (_, j) => Array.from({ length: columns }, (__, i) => Math.fround(dark[j * columns + i])));
      const give = (j: number, i: number, what: number) => {
        if (table[j]?.[i] !== undefined) table[j][i] = Math.fround(table[j][i] + what);
      };
      return table.flatMap((row, j) =>
        row.map((_, i) => {
          const dot = row[i] >= 0.5 ? 1 : 0;
          const error = row[i] - dot;
          give(j, i + 1, (error * 7) / 16);
          give(j + 1, i - 1, (error * 3) / 16);
          give(j + 1, i, (error * 5) / 16);
          give(j + 1, i + 1, error / 16);
          return dot;
        }),
      );
    };
    for (const dots of [gradient(64, 40), zonePlate(48)]) expect(Array.from(floydSteinberg(dots))).toEqual(plain(dots));
  });
  it('the ordered matrix is the published one (Bayer 1973)', () => {
    expect(bayer(2)).toEqual([
      [0, 2],
      [3, 1],
    ]);
    expect(bayer(4)).toEqual([
      [0, 8, 2, 10],
      [12, 4, 14, 6],
      [3, 11, 1, 9],
      [15, 7, 13, 5],
    ]);
    expect(
      bayer(8)
        .flat()
        .sort((a, b) => a - b),
    ).toEqual(Array.from({ length: 64 }, (_, k) => k));
  });
  it.each(DITHERS)('%s leaves a bare picture bare and a black one full', (how) => {
    const flat = (dark: number): Dots => ({ columns: 16, rows: 16, dark: new Float32Array(256).fill(dark) });
    expect(mean(dithered(flat(0), how))).toBe(0);
    expect(mean(dithered(flat(1), how))).toBe(1);
  });
  it('is adjusted as its words say: inverted, lighter, steeper, dropped', () => {
    expect(adjusted(0.25, AS_IT_IS)).toBe(0.75);
    expect(adjusted(0.25, { ...AS_IT_IS, invert: true })).toBe(0.25);
    expect(adjusted(0.25, { ...AS_IT_IS, brightness: 0.1 })).toBeCloseTo(0.65, 9);
    expect(adjusted(0.25, { ...AS_IT_IS, contrast: 2 })).toBe(1);
    expect(adjusted(0.25, { ...AS_IT_IS, gamma: 2 })).toBeCloseTo(0.5625, 9);
    expect(adjusted(0.9, { ...AS_IT_IS, drop: 0.2 })).toBe(0);
  });
});

const pixels = (width: number, height: number, grey: (x: number, y: number) => number) => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, k) => grey(k % width, Math.floor(k / width))),
});
const placed = (width: number, height: number, grey: (x: number, y: number) => number, mm: [number, number]) => ({
  id: 'p',
  x: 0,
  y: 0,
  width: mm[0],
  height: mm[1],
  angle: 0,
  mirror: false,
  pixels: pixels(width, height, grey),
});
const pictureCut = (over: object = {}) => LaserPicture.parse({ kind: 'laser-picture', id: 'p', on: 'art', tool: 'head', ...over });

describe('a picture', () => {
  it('keeps its size: 709 px at 300 dpi are 60.03 mm, with a row for every pixel (common practice)', () => {
    const mm = (709 / 300) * 25.4;
    expect(mm).toBeCloseTo(60.03, 2);
    const dots = dotsOf(
      placed(709, 50, () => 0, [mm, (50 / 300) * 25.4]),
      pictureCut({ linesPerMm: 300 / 25.4 }),
    );
    expect([dots.columns, dots.rows]).toEqual([709, 50]);
    expect(dots.pitchU).toBeCloseTo(25.4 / 300, 5);
    expect(dots.columns * dots.pitchU).toBeCloseTo(mm, 9);
  });
  it.each([2, 3.3, 10, 17.7])('at %d lines to the mm, the ends stay where they are and rows are as far apart as they say', (linesPerMm) => {
    const { path, rows } = planPictures([placed(31, 17, () => 0, [20, 11])], pictureCut({ linesPerMm, overscan: 0 }), 3000, 2000);
    let [low, high, left, right] = [Infinity, -Infinity, Infinity, -Infinity];
    const at = new Set<number>();
    for (let i = 1; i < path.x.length; i++)
      if (path.power![i] > 0) {
        at.add(path.y[i]);
        [low, high] = [Math.min(low, path.y[i]), Math.max(high, path.y[i])];
        [left, right] = [Math.min(left, path.x[i], path.x[i - 1]), Math.max(right, path.x[i], path.x[i - 1])];
      }
    expect(at.size).toBe(rows);
    expect(rows).toBe(Math.round(11 * linesPerMm));
    expect([left, right]).toEqual([expect.closeTo(-10, 2), expect.closeTo(10, 2)]);
    // Rows lie half a row inside: row and rows together are the height.
    expect(high - low + 11 / rows).toBeCloseTo(11, 2);
  });
  it('dots are the pixels, where there are as many of them; upright, mirrored and turned by a quarter', () => {
    const grey = (x: number, y: number) => (x * 37 + y * 61) % 256;
    const base = placed(8, 6, grey, [8, 6]);
    const darkAt = (x: number, y: number) => Math.fround(1 - grey(x, y) / 255);
    const upright = dotsOf(base, pictureCut({ linesPerMm: 1 }));
    for (let y = 0; y < 6; y++) for (let x = 0; x < 8; x++) expect(upright.dark[y * 8 + x]).toBeCloseTo(darkAt(x, y), 6);
    const mirrored = dotsOf({ ...base, mirror: true }, pictureCut({ linesPerMm: 1 }));
    for (let x = 0; x < 8; x++) expect(mirrored.dark[x]).toBeCloseTo(darkAt(7 - x, 0), 6);
    const turned = dotsOf(base, pictureCut({ linesPerMm: 1, angle: 90 }));
    expect([turned.columns, turned.rows]).toEqual([6, 8]);
    expect(mean(turned.dark)).toBeCloseTo(mean(upright.dark), 6);
  });
  it('see-through places stay bare whatever the tones are made to, or count as white; half see-through marks half as much', () => {
    // A black, a white and a clear column, and a black one half see-through: as a reader gives them, over white.
    const pixels = { width: 4, height: 1, data: Uint8Array.from([0, 255, 255, 127]), opacity: Uint8Array.from([255, 255, 0, 128]) };
    const tones = (more: object) =>
      Array.from(dotsOf({ id: 'p', x: 2, y: 0.5, width: 4, height: 1, angle: 0, mirror: false, pixels }, LaserPicture.parse({ kind: 'laser-picture', id: 'c', on: 'art', tool: 'h', linesPerMm: 1, ...more })).dark, (dark) => Math.round(dark * 100) / 100); // prettier-ignore
    expect(tones({})).toEqual([1, 0, 0, 0.5]);
    expect(tones({ invert: true })).toEqual([0, 1, 0, 0]);
    expect(tones({ clear: 'white' })).toEqual([1, 0, 0, 0.5]);
    expect(tones({ clear: 'white', invert: true })).toEqual([0, 1, 1, 0.5]);
  });
  it('of many pixels under a dot the mean is taken', () => {
    const dots = dotsOf(
      placed(100, 100, (x) => (x % 2 ? 255 : 0), [10, 10]),
      pictureCut({ linesPerMm: 1 }),
    );
    for (const dark of dots.dark) expect(dark).toBeCloseTo(0.5, 1);
  });
  it('crosses blank rows and long gaps rapidly and dark, and burns nothing where nothing is', () => {
    // A dot far left and one far right in every tenth row.
    const { path, rows } = planPictures(
      [placed(200, 40, (x, y) => (y % 10 === 0 && (x === 0 || x === 199) ? 0 : 255), [200, 40])],
      pictureCut({ linesPerMm: 1 }),
      3000,
      2000,
    );
    expect(rows).toBe(4);
    let burned = 0;
    for (let i = 1; i < path.x.length; i++) {
      const length = Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]);
      if (path.power![i] > 0) burned += length;
      else if (path.kind[i] === 1) expect(length).toBeLessThan(1);
    }
    expect(burned).toBeCloseTo(8, 6);
  });
});

describe('rows', () => {
  it.each([
    [6_000, 2_000, 2.5],
    [15_000, 2_000, 15.625],
  ])('at %d mm/min and %d mm/s² overscan is %d mm (v²/2a; common practice)', (feed, a, mm) => expect(overscanOf(feed, a)).toBeCloseTo(mm, 6));
  it('run on dark before and after by the overscan, both ways', () => {
    const { path } = planFill(
      [{ outer: rectangle(0, 0, 30, 1), holes: [] }],
      LaserFill.parse({ kind: 'laser-fill', id: 'f', on: 'art', tool: 'h', interval: 0.5 }),
      6000,
      2000,
    );
    const burning = [...path.power!.keys()].filter((i) => path.power![i] > 0);
    expect(burning).toHaveLength(2);
    for (const i of burning) {
      expect(Math.abs(path.x[i - 1] - path.x[i - 2])).toBeCloseTo(2.5, 9);
      expect(Math.abs(path.x[i + 1] - path.x[i])).toBeCloseTo(2.5, 9);
      expect([path.power![i - 1], path.power![i + 1]]).toEqual([0, 0]);
    }
    expect(Math.sign(path.x[burning[0]] - path.x[burning[0] - 1])).toBe(-Math.sign(path.x[burning[1]] - path.x[burning[1] - 1]));
  });
  it('a beam that is late is asked early: rows of either way are shifted by what it travels meanwhile', () => {
    const cut = LaserFill.parse({ kind: 'laser-fill', id: 'f', on: 'art', tool: 'h', interval: 0.5, lag: 2 });
    const { path } = planFill([{ outer: rectangle(0, 0, 30, 1), holes: [] }], cut, 6000, 2000);
    const [first, second] = [...path.power!.keys()].filter((i) => path.power![i] > 0);
    // 100 mm/s for 2 ms.
    expect([path.x[first - 1], path.x[first]]).toEqual([expect.closeTo(0.2, 9), expect.closeTo(30.2, 9)]);
    expect([path.x[second - 1], path.x[second]]).toEqual([expect.closeTo(29.8, 9), expect.closeTo(-0.2, 9)]);
  });
  it('scan lines cover an area: their length times the interval is it, at any angle, with holes (own sum)', () =>
    fc.assert(
      fc.property(fc.integer({ min: -90, max: 90 }), fc.double({ min: 0.05, max: 0.4, noNaN: true }), (angle, interval) => {
        const region: Region = { outer: circle(5, 7, 12, 0.01), holes: [contourOf(Float64Array.from([2, 4, 2, 9, 8, 9, 8, 4]))] };
        const length = scanLines([region], interval, angle).reduce((sum, { runs }) => sum + runs.reduce((all, [a, b]) => all + b - a, 0), 0);
        expect(Math.abs(length * interval - regionArea(region)) / regionArea(region)).toBeLessThan(0.02);
      }),
      { numRuns: 40 },
    ));
});

function job(cuts: object[], items: object[] = [{ kind: 'rectangle', id: 'r', x: 40, y: 30, width: 40, height: 20 }], over: object = {}): Job {
  const named = cuts.map((cut, k) => ({ id: `c${k}`, on: 'art', tool: 'head', ...cut }));
  const reading = readJob({
    kerbe: 4,
    process: 'laser',
    name: 'Tag',
    board: { width: 80, height: 60, thickness: 3, material: 'birch ply', holdDown: 'tape' },
    items: Object.fromEntries(items.map((item) => [(item as { id: string }).id, item])),
    itemOrder: items.map((item) => (item as { id: string }).id),
    tools: { head: { kind: 'head', id: 'head', watts: 10, diameter: 0.1 } },
    cuts: Object.fromEntries(named.map((cut) => [cut.id, cut])),
    cutOrder: named.map(({ id }) => id),
    ...over,
  });
  if (!reading.ok) throw new Error(reading.why.join('\n'));
  return reading.job;
}
const nothing = { fonts: () => null as never };

describe('cutting', () => {
  const shape: Region = { outer: rectangle(10, 10, 30, 20), holes: [contourOf(Float64Array.from([20, 15, 20, 20, 25, 20, 25, 15]))] };
  const cut = (over: object = {}) => LaserCut.parse({ kind: 'laser-cut', id: 'c', on: 'art', tool: 'h', kerf: 0.2, ...over });
  it('offsets by half the kerf: a comb fits its slots (independent library)', () => {
    const factory = new GeometryFactory();
    const ring = (xy: ArrayLike<number>) => {
      const places = Array.from({ length: xy.length / 2 }, (_, k) => new Coordinate(xy[2 * k], xy[2 * k + 1]));
      return factory.createLinearRing([...places, places[0]]);
    };
    const drawn = factory.createPolygon(
      ring(shape.outer.xy),
      shape.holes.map(({ xy }) => ring(xy)),
    );
    const apart = (x: number, y: number) => DistanceOp.distance(drawn.getBoundary(), factory.createPoint(new Coordinate(x, y)));
    const kept = (of: number) => (BufferOp.bufferOp(drawn, of, 64) as typeof drawn).getArea();
    for (const kerf of [0.1, 0.2, 0.4]) {
      const { path } = planLaserCut([shape], cut({ kerf }), 600);
      const burned: [number, number][] = [];
      for (let i = 0; i < path.x.length; i++) if (path.power![i] > 0) burned.push([path.x[i], path.y[i]]);
      // What is left between the middle of the beam and the drawn line is half a kerf, everywhere.
      for (const [x, y] of burned) expect(Math.abs(apart(x, y) - kerf / 2)).toBeLessThan(0.011);
      expect(kept(kerf / 2)).toBeGreaterThan(kept(0));
    }
  });
  it('cuts what lies inside first, and nothing of a part is burned away', () => {
    const { contours, path } = planLaserCut([shape], cut(), 600);
    expect(contours.map(({ side }) => side)).toEqual(['inside', 'outside']);
    expect(path.events!.filter((event) => 'on' in event)).toEqual([{ at: 0, on: 0, constant: true }]);
  });
  it('passes go lower with the focus, tabs stay dark, and it runs on past its start', () => {
    const { path } = planLaserCut([shape], cut({ side: 'outside', passes: 3, focusStep: 0.5, tabs: 2, tabWidth: 1, overcut: 2 }), 600);
    expect([...new Set(path.z)].sort((a, b) => b - a)).toEqual([0, -0.5, -1]);
    let dark = 0;
    for (let i = 1; i < path.x.length; i++)
      if (path.kind[i] === 1 && path.power![i] === 0) dark += Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]);
    expect(dark).toBeCloseTo(3 * 2 * 1 * 2, 3);
  });
  it('an opening narrower than the kerf is told, and forbids', async () => {
    const { findings } = await planJob(
      job([{ kind: 'laser-cut', side: 'inside', kerf: 0.3 }], [{ kind: 'slot', id: 's', x: 40, y: 30, length: 10, width: 0.2 }]),
      nothing,
    );
    expect(findings.map(({ code }) => code)).toContain('laser-kerf-too-wide');
  });
});

describe('findings', () => {
  const codes = async (of: Job) => (await planJob(of, nothing)).findings.map(({ code }) => code);
  it.each(['PVC', 'vinyl sheet', 'ABS', 'carbon fibre', 'galvanised steel'])('%s is refused', async (material) => {
    const of = job([{ kind: 'laser-fill', interval: 0.2 }]);
    of.board.material = material;
    expect(await codes(of)).toContain('laser-forbidden-sheet');
  });
  it.each(['birch ply', 'oak', 'leather', 'slate'])('%s is not', async (material) => {
    const of = job([{ kind: 'laser-fill', interval: 0.2 }]);
    of.board.material = material;
    expect(await codes(of)).not.toContain('laser-forbidden-sheet');
  });
  it('strokes narrower than the spot are told, with how much of it they are; those as wide are not', async () => {
    const strokes = (width: number) =>
      job(
        [{ kind: 'laser-fill', interval: 0.1 }],
        [
          { kind: 'rectangle', id: 'wide', x: 20, y: 20, width: 10, height: 1 },
          { kind: 'rectangle', id: 'thin', x: 20, y: 40, width: 50, height: width },
        ],
      );
    const { findings } = await planJob(strokes(0.1), nothing);
    // 5 mm² of 15: all of the thin one, whose middle the spot of 0.12 does not reach.
    expect(findings.find(({ code }) => code === 'laser-too-small')?.data.share).toBeCloseTo(5 / 15, 2);
    expect(await codes(strokes(0.14))).not.toContain('laser-too-small');
  });
  it('a focus that ends below the sheet is told, one that ends in it is not', async () => {
    const through = (passes: number) => job([{ kind: 'laser-cut', passes, focus: 1, focusStep: 1 }]);
    // The sheet is 3 mm: 1, 2, 3, and then 4 mm below its surface.
    expect(await codes(through(3))).not.toContain('laser-focus-below-sheet');
    expect(await codes(through(4))).toContain('laser-focus-below-sheet');
  });
  it('lines finer than the spot are told, and those as wide as it are not', async () => {
    expect(await codes(job([{ kind: 'laser-fill', interval: 0.05 }]))).toContain('laser-finer-than-spot');
    expect(await codes(job([{ kind: 'laser-fill', interval: 0.1 }]))).not.toContain('laser-finer-than-spot');
  });
  it('cut before engrave is told', async () => {
    const both = [{ kind: 'laser-cut' }, { kind: 'laser-fill', interval: 0.2 }];
    expect(await codes(job(both))).toContain('order-freed-first');
    expect(await codes(job([...both].reverse()))).not.toContain('order-freed-first');
  });
  it('a hole near the edge of its part is told when less than the thickness is left, and not when more is', async () => {
    const tag = (x: number) =>
      job(
        [{ kind: 'laser-cut', feed: 160, power: 85 }],
        [
          { kind: 'rectangle', id: 'tag', x: 40, y: 30, width: 40, height: 20 },
          { kind: 'ellipse', id: 'hole', x, y: 30, width: 6, height: 6 },
        ],
      );
    // The part ends at 20: two millimetres are left, and then four.
    expect(await codes(tag(25))).toContain('laser-thin-web');
    expect(await codes(tag(27))).not.toContain('laser-thin-web');
  });
  it('corners that constant power heats are told, by as much as a walk through time finds; slow cuts, round shapes and dynamic power are not', async () => {
    const at = (kind: string, feed: number, shape = 'rectangle') => job([{ kind, feed, power: 85 }], [{ kind: shape as 'rectangle', id: 'p', x: 40, y: 30, width: 40, height: 20 }]); // prettier-ignore
    const { cuts, findings } = await planJob(at('laser-cut', 6000), nothing);
    const told = findings.find(({ code }) => code === 'laser-hot-corners')!;
    expect(told.data.count).toBe(4);
    // A walk through time: how long it is within half a millimetre of a corner, against a millimetre at the feed.
    const { path } = cuts[0];
    const timing = planMotion(path, at('laser-cut', 6000).machine);
    const step = 1e-5;
    const along = timing.length.reduce<number[]>((sums, length) => [...sums, (sums.at(-1) ?? 0) + length], []);
    const corner = along[path.x.findIndex((x, i) => x === told.at![0] && path.y[i] === told.at![1])];
    let spent = 0;
    for (let t = 0; t < timing.total; t += step) {
      const i = moveAt(timing, t);
      const s = along[i] - (1 - fractionAt(timing, i, t)) * timing.length[i];
      if (path.power![i] > 0 && Math.abs(s - corner) <= 0.5) spent += step;
    }
    // As much of the line as burns there: a corner where it begins has it on one side only.
    const burned = along.reduce(
      (sum, end, i) => sum + (path.power![i] > 0 ? Math.max(0, Math.min(end, corner + 0.5) - Math.max(end - timing.length[i], corner - 0.5)) : 0),
      0,
    );
    expect(told.data.times).toBeCloseTo(spent / (burned / 100), 2);
    expect(told.data.times).toBeGreaterThan(2);
    for (const calm of [at('laser-cut', 1200), at('laser-cut', 6000, 'ellipse'), at('laser-score', 6000)])
      expect(await codes(calm)).not.toContain('laser-hot-corners');
  });
  it('a part so small that it is blown away is told, and not one that gaps hold, nor a larger one', async () => {
    const part = (size: number, over: object = {}) =>
      job([{ kind: 'laser-cut', feed: 160, power: 85, side: 'outside', ...over }], [{ kind: 'rectangle', id: 'p', x: 40, y: 30, width: size, height: size }]);
    expect(await codes(part(9))).toContain('laser-loose-parts');
    expect(await codes(part(9, { tabs: 2 }))).not.toContain('laser-loose-parts');
    expect(await codes(part(11))).not.toContain('laser-loose-parts');
  });
  it.each(['laser-fill', 'laser-score', 'laser-cut'])('what a %s burns beside the sheet is told, and not what it burns up to its edge', async (kind) => {
    const at = (x: number) =>
      job([{ kind, feed: 160, ...(kind === 'laser-cut' ? { power: 85, side: 'on' } : {}) }], [{ kind: 'rectangle', id: 'p', x, y: 30, width: 40, height: 20 }]);
    expect(await codes(at(15))).toContain('laser-off-sheet');
    expect(await codes(at(20))).not.toContain('laser-off-sheet');
  });
  it('rows that run beyond the field are told', async () => {
    const wide = { kind: 'rectangle', id: 'r', x: 40, y: 30, width: 78, height: 2 };
    const fast = job([{ kind: 'laser-fill', interval: 0.2, feed: 30_000 }], [wide], {
      machine: { usable: { x: 0, y: 0, width: 100, height: 100 }, travel: [100, 100, 50], maxSpeed: [30_000, 30_000, 600] },
    });
    expect(await codes(fast)).toContain('laser-overscan-off-field');
  });
  it('a picture that states no size is told as long as it has the width that was proposed; one that was given a width, that is no part of it or that says its size is not', async () => {
    const photo = { kind: 'picture', id: 'p', x: 40, y: 30, asset: 'a', width: 20, height: 10, proposedWidth: 20 };
    const box = { kind: 'rectangle', id: 'r', x: 40, y: 30, width: 10, height: 10 };
    const of = async (picture: object, on: string[] = ['p']) =>
      (
        await planJob(job([{ kind: on[0] === 'p' ? 'laser-picture' : 'laser-fill', on }], [picture, box]), {
          ...nothing,
          pictures: async () => pixels(20, 10, () => 90),
        })
      ).findings.filter(({ code }) => code === 'laser-picture-unsized');
    expect(await of(photo)).toMatchObject([{ severity: 'warning', item: 'p', data: { width: 20 } }]);
    expect(await of({ ...photo, width: 20.5 })).toEqual([]);
    expect(await of({ ...photo, proposedWidth: undefined })).toEqual([]);
    expect(await of(photo, ['r'])).toEqual([]);
  });
  it('a picture whose pixels are not at hand forbids, and so does none', async () => {
    const photo = { kind: 'picture', id: 'p', x: 40, y: 30, asset: 'a', width: 20, height: 10 };
    expect(await codes(job([{ kind: 'laser-picture' }], [photo]))).toContain('laser-no-pixels');
    expect(await codes(job([{ kind: 'laser-picture' }]))).toContain('laser-no-picture');
  });
});

describe('programs', () => {
  const picture = { kind: 'picture', id: 'p', x: 40, y: 30, asset: 'a', width: 12, height: 8 };
  const source = () => Promise.resolve(pixels(60, 40, (x, y) => (x * 4 + y * 2) % 256));
  it.each(DITHERS)('of a %s picture reads back to the same dots at the same power', async (dither) => {
    const of = job([{ kind: 'laser-picture', dither, power: 40, linesPerMm: 5 }], [picture]);
    const plan = await planJob(of, { ...nothing, pictures: source });
    const { files, findings } = releasePrograms(of, plan, '2026-01-31');
    expect(findings).toEqual([]);
    const read = readProgram(files[0].text);
    const moves = toPath(read);
    const rows = [...read.kind.keys()].filter((i) => read.kind[i] <= 1 && !read.machine[i] && !Number.isNaN(read.x[i] + read.y[i]));
    const { power } = powerOf(read, rows, powerWordsOf(of));
    const burned = (path: { x: ArrayLike<number>; y: ArrayLike<number> }, share: ArrayLike<number>) => {
      const out: string[] = [];
      for (let i = 1; i < path.x.length; i++)
        if (share[i] > 0) out.push([path.x[i - 1], path.x[i], path.y[i]].map((v) => v.toFixed(2)).join(' ') + ` ${Math.round(share[i] * 800)}`);
      return out;
    };
    const wanted = burned(plan.cuts[0].path, plan.cuts[0].path.power!);
    expect(wanted.length).toBeGreaterThan(30);
    expect(moves.kind.length).toBeGreaterThan(0);
    expect(burned({ x: rows.map((i) => read.x[i]), y: rows.map((i) => read.y[i]) }, power)).toEqual(wanted);
  });
  it.each([
    [1000, 30, 300],
    [255, 30, 76.5],
    [12_000, 12.5, 1500],
  ])('at a full scale of %d, %d %% is S%d, and the header says both', async (fullPower, power, s) => {
    const of = job([{ kind: 'laser-fill', interval: 0.5, power }], undefined, { machine: { fullPower } });
    const { files } = releasePrograms(of, await planJob(of, nothing), '2026-01-31');
    expect(files[0].text).toMatch(new RegExp(`X[\\d.]+ S${String(s).replace('.', '\\.')}\\n`));
    expect(files[0].text.replace(/\)\n\( +/g, ' ')).toContain(`S${Math.round(s)} of ${fullPower}, ${power} % of full power`);
  });
  it('are dark on every rapid, constant to cut and dynamic to mark, and off at the end', async () => {
    const of = job([{ kind: 'laser-fill', interval: 0.5 }, { kind: 'laser-cut' }]);
    const { files, findings } = releasePrograms(of, await planJob(of, nothing), '2026-01-31');
    expect(findings).toEqual([]);
    const lines = files[0].text.split('\n');
    expect(lines.filter((line) => /M[34]\b/.test(line))).toEqual(['S0 M4', 'S0 M3']);
    // S as it stands on every line; a rapid never has one that burns.
    let [now, rapid] = [0, false];
    for (const line of lines) {
      if (line.startsWith('(')) continue;
      now = /S([\d.]+)/.test(line) ? Number(/S([\d.]+)/.exec(line)![1]) : now;
      rapid = /G0\b/.test(line) ? true : /G1\b/.test(line) ? false : rapid;
      if (/M5/.test(line)) now = 0;
      if (rapid && /[XY]/.test(line)) expect(now, line).toBe(0);
    }
    expect(lines.lastIndexOf('M5')).toBeGreaterThan(lines.findLastIndex((line) => /^X|^Y/.test(line)));
  });
  it.each<[string, (text: string) => string]>([
    ['another power', (text) => text.replace(/(X[\d.]+) S300/, '$1 S900')],
    ['on across a gap', (text) => text.replace(/S0\nG0/, '\nG0')],
    ['never on', (text) => text.replace(/S300/g, 'S0')],
    ['never off', (text) => text.replace(/ S0\nM5\nM9\nM5/, '\nM9')],
  ])('one that is %s is not released', async (_, tamper) => {
    const of = job([{ kind: 'laser-fill', interval: 0.5 }]);
    const plan = await planJob(of, nothing);
    const { gateFindings } = await import('../../program/index.ts');
    const { files } = releasePrograms(of, plan, '2026-01-31');
    const planned = {
      sections: [{ path: plan.cuts[0].path, speed: 0 }],
      datum: [0, 0] as const,
      zShift: 0,
      workOffset: 'G54',
      slack: 0.001,
      lengths: false,
      park: of.machine.park,
      overDatum: false,
      own: [],
      fullPower: 1000,
    };
    expect(gateFindings('p', files[0].text, planned)).toEqual([]);
    const changed = tamper(files[0].text);
    expect(changed).not.toBe(files[0].text);
    expect(gateFindings('p', changed, planned)).toHaveLength(1);
  });
});

describe('filled inwards', () => {
  const cut = LaserFill.parse({ kind: 'laser-fill', id: 'f', on: 'art', tool: 'h', interval: 0.4, by: 'offsets', power: 50 });
  const SHAPES: [string, Region[]][] = [
    ['a square', [{ outer: rectangle(10, 10, 30, 20), holes: [] }]],
    ['a ring', [{ outer: circle(30, 30, 15, 0.01), holes: [contourOf(Float64Array.from([25, 25, 25, 33, 36, 33, 36, 25]))] }]],
    [
      'two, one finer than the lines',
      [
        { outer: rectangle(10, 10, 8, 0.6), holes: [] },
        { outer: circle(30, 30, 4, 0.01), holes: [] },
      ],
    ],
  ];
  it.each(SHAPES)('%s: all of it is covered, nothing beside it is burned, and the length times the interval is the area', (_, regions) => {
    const { path, rows } = planFill(regions, cut, 6000, 2000);
    const burned = [...path.power!.keys()].filter((i) => path.power![i] > 0);
    const moves = burned.map((i) => [path.x[i - 1], path.y[i - 1], path.x[i], path.y[i]] as const);
    expect(rows).toBeGreaterThan(0);
    const distance = (x: number, y: number) =>
      Math.min(
        ...moves.map(([ax, ay, bx, by]) => {
          const [dx, dy] = [bx - ax, by - ay];
          const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
          return Math.hypot(ax + t * dx - x, ay + t * dy - y);
        }),
      );
    for (const [ax, ay] of moves) {
      expect(within(regions, ax, ay)).toBe(true);
      expect(away(regions, ax, ay)).toBeGreaterThan(0.2 - 2e-3);
    }
    const { minX, minY, maxX, maxY } = regionsBox(regions);
    for (let k = 0; k < 600; k++) {
      const [x, y] = [minX + ((k * 0.618034) % 1) * (maxX - minX), minY + ((k * 0.754878) % 1) * (maxY - minY)];
      // Between two outlines that turn a corner of 2h the farthest place is i/(1 + sin h) off (derived): 0.34 where it is as sharp as 20 degrees.
      if (within(regions, x, y)) expect(distance(x, y)).toBeLessThan(0.4 / (1 + Math.sin((10 * Math.PI) / 180)));
    }
    const length = moves.reduce((sum, [ax, ay, bx, by]) => sum + Math.hypot(bx - ax, by - ay), 0);
    const area = regions.reduce((sum, region) => sum + regionArea(region), 0);
    expect(Math.abs((length * 0.4) / area - 1)).toBeLessThan(_.includes('finer') ? 0.12 : 0.03);
  });
  it('nothing is burned of what is narrower than a line', () => {
    expect(planFill([{ outer: rectangle(0, 0, 10, 0.3), holes: [] }], cut, 6000, 2000).rows).toBe(0);
  });
});

describe('energy', () => {
  it('of a filled square is P·t over its area, within 2 %; in its middle it is P/(v·pitch)', async () => {
    const of = job([{ kind: 'laser-fill', interval: 0.1, power: 50, feed: 6000 }]);
    const plan = await planJob(of, nothing);
    const map = burnMap(of, plan.cuts, 0.1);
    // 200 rows of 40 mm at 100 mm/s and 5 W.
    expect(map.joules).toBeCloseTo(((200 * 40) / 100) * 5, 3);
    expect(Math.abs((map.joules / (40 * 20) / 0.5 - 1) * 100)).toBeLessThan(2);
    const middle = map.energy[Math.round(30 / 0.1) * map.columns + Math.round(40 / 0.1)];
    expect(Math.abs(middle - 5 / (100 * 0.1))).toBeLessThan(0.02 * 0.5);
    expect(mean(map.energy) * 80 * 60).toBeCloseTo(map.joules, 0);
  });
  it('half the power at half the speed is the same; in corners constant power burns more', async () => {
    const at = async (power: number, feed: number) => {
      const of = job([{ kind: 'laser-fill', interval: 0.2, power, feed }]);
      return burnMap(of, (await planJob(of, nothing)).cuts, 0.2).joules;
    };
    expect(await at(20, 1000)).toBeCloseTo(await at(40, 2000), 6);
    const cut = job([{ kind: 'laser-cut', power: 50, feed: 6000 }]);
    const planned = (await planJob(cut, nothing)).cuts;
    const even = (5 * planned[0].facts.cutting) / 100;
    expect(burnMap(cut, planned, 0.2).joules).toBeGreaterThan(1.001 * even);
  });
  it('darkens from where a mark begins to where it is full', () => {
    const response = responseOf('birch ply');
    expect(darknessOf(response.begins, response)).toBe(0);
    expect(darknessOf(response.full, response)).toBe(1);
    expect(darknessOf((response.begins + response.full) / 2, response)).toBeCloseTo(0.5, 9);
  });
  it('a beam one Rayleigh range out of focus is √2 as wide (Gaussian beam optics)', () => {
    expect(spotOutOfFocus(0.1, 0, 2)).toBe(0.1);
    expect(spotOutOfFocus(0.1, 2, 2)).toBeCloseTo(0.1 * Math.SQRT2, 9);
  });
});

describe('a test card', () => {
  it.each(['power-speed', 'lines', 'focus', 'kerf'] as const)('of %s lies on its sheet, no square on another, powers and figures in order', (kind) => {
    const card = layCard({ kind, width: 90, height: 70, rows: 4, columns: 5, power: [10, 70], speed: [600, 3000] });
    expect(card.cells).toHaveLength(20);
    for (const { x, y, size } of card.cells) {
      expect(Math.min(x, y) - size / 2).toBeGreaterThan(0);
      expect(x + size / 2).toBeLessThan(90);
      expect(y + size / 2).toBeLessThan(70);
    }
    for (const [k, a] of card.cells.entries())
      for (const b of card.cells.slice(k + 1)) expect(Math.max(Math.abs(a.x - b.x), Math.abs(a.y - b.y))).toBeGreaterThan(a.size);
    expect(card.cells[0].power).toBe(10);
    expect(card.cells.at(-1)!.power).toBe(70);
    expect(card.labels).toHaveLength(9);
  });
  it('says when there is no room', () => {
    expect(() => layCard({ kind: 'lines', width: 10, height: 10, rows: 10, columns: 10, power: [10, 70], speed: [600, 3000] })).toThrow(/no room/);
  });
});

describe('the burned sheet', () => {
  const square = (over: object = {}) =>
    job([{ kind: 'laser-cut', feed: 160, power: 85, kerf: 0.15, ...over }], [{ kind: 'rectangle', id: 'part', x: 20, y: 15, width: 20, height: 10 }], {
      board: { width: 40, height: 30, thickness: 3, material: 'birch ply', holdDown: 'tape' },
    });
  const proofOf = async (of: Job, until?: { cut: number; move: number }) => burnMap(of, (await planJob(of, nothing)).cuts, 0.1, until);

  it('is cut through all round where the energy is enough, by no more than the kerf and a cell, and nowhere where it is not', async () => {
    const map = await proofOf(square());
    const share = burnFigures(map, square().board).through;
    // Once round 60 mm: at least a cell of 0.1 mm, at most the kerf of 0.15 mm and two cells.
    expect(share * 40 * 30).toBeGreaterThan(60 * 0.1);
    expect(share * 40 * 30).toBeLessThan(60 * 0.35);
    // Without a gap: from inside nothing leads out.
    const seen = new Set<number>([150 * map.columns + 200]);
    for (const k of seen)
      for (const next of [k - 1, k + 1, k - map.columns, k + map.columns]) if (!map.through[next] && next >= 0 && next < map.through.length) seen.add(next);
    expect(seen.size * 0.01).toBeCloseTo(200, -1);
    expect(burnFigures(await proofOf(square({ feed: 600 })), square().board).through).toBe(0);
    const codes = async (of: Job) => (await planJob(of, nothing)).findings.map(({ code }) => code);
    expect(await codes(square())).not.toContain('laser-not-through');
    expect(await codes(square({ feed: 240 }))).toContain('laser-not-through');
    expect(await codes(square({ feed: 240, passes: 2 }))).not.toContain('laser-not-through');
  });
  it('grows along its time: nothing at first, everything at the end', async () => {
    const part = square();
    const moves = (await planJob(part, nothing)).cuts[0].path.kind.length;
    const sums = await Promise.all([0, 3, moves].map(async (move) => (await proofOf(part, { cut: 0, move })).joules));
    expect(sums[0]).toBe(0);
    expect(sums[1]).toBeGreaterThan(0);
    expect(sums[2]).toBeGreaterThan(sums[1]);
    expect(sums[2]).toBeCloseTo((await proofOf(part)).joules, 6);
  });
  it('its picture has the tones of what is laid: bare outside, dark in a fill, white in a kerf; small ones too', async () => {
    const map = await proofOf(square());
    const tone = (width?: number) => {
      const image = burnImage(map, square().board, width);
      const at = (x: number, y: number) => image.data[4 * (Math.floor((1 - y / 30) * image.height) * image.width + Math.floor((x / 40) * image.width))];
      return [at(2, 2), at(20, 15), at(9.925, 15.02)];
    };
    const [bare, inside, kerf] = tone();
    expect(inside).toBe(bare);
    expect(kerf).toBe(255);
    expect(bare).toBeLessThan(245);
    expect(tone(100)[0]).toBe(bare);
  });
});
