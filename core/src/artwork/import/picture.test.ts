import { describe, expect, it } from 'vitest';
import { emptyBox, growBox, regionArea, regionsBox, unite } from '../../geometry/index.ts';
import { drawSubpaths } from '../path.ts';
import { makeJob } from '../../reference/fixtures.ts';
import { greyOf, TRACE, traceFor, tracePicture, type ImportedPath, type Raster, type TraceSettings } from './index.ts';

/** A picture drawn by asking, sixteen times in every pixel, whether it is dark there. */
function picture(width: number, height: number, dark: (x: number, y: number) => boolean, twoTone = false): Raster {
  const grey = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let hits = 0;
      for (let k = 0; k < 16; k++) if (dark(x + ((k % 4) + 0.5) / 4, y + (Math.floor(k / 4) + 0.5) / 4)) hits++;
      grey[y * width + x] = twoTone ? (hits > 8 ? 0 : 255) : 255 - Math.round((255 * hits) / 16);
    }
  return { width, height, grey };
}
const traced = (raster: Raster, settings = {}, pixel = 1) => tracePicture(raster, { ...TRACE, ...settings }, pixel);
const paths = (raster: Raster, settings = {}, pixel = 1) => traced(raster, settings, pixel).things as ImportedPath[];
const regionsOf = (things: ImportedPath[]) =>
  things.flatMap(({ subpaths, fill }) => unite(drawSubpaths(subpaths, 0.01, true).contours, fill === 'evenodd' ? 'evenodd' : 'nonzero'));
const area = (things: ImportedPath[]) => regionsOf(things).reduce((sum, r) => sum + regionArea(r), 0);
const disc = (x: number, y: number, r: number) => (px: number, py: number) => Math.hypot(px - x, py - y) < r;

describe('tracing a picture', () => {
  it.each([
    ['with soft edges', false, 0.3],
    ['in two tones', true, 0.5],
  ])('a disc %s: radius right to a fraction of a pixel, few curves', (_what, twoTone, worst) => {
    const [thing] = paths(picture(120, 120, disc(60, 60, 40), twoTone));
    const { xy } = drawSubpaths(thing.subpaths, 0.01, true).contours[0];
    for (let i = 0; i < xy.length; i += 2) expect(Math.abs(Math.hypot(xy[i], xy[i + 1]) - 40)).toBeLessThan(worst);
    expect(thing.subpaths[0].segments.length).toBeLessThan(24);
  });
  it('a square keeps its corners, within a pixel', () => {
    const [thing] = paths(picture(100, 100, (x, y) => x > 20 && x < 80 && y > 30 && y < 70));
    const box = regionsBox(regionsOf([thing]));
    expect([box.minX, box.minY, box.maxX, box.maxY].map(Math.round)).toEqual([-30, -20, 30, 20]);
    for (const [x, y] of [
      [-30, -20],
      [30, -20],
      [30, 20],
      [-30, 20],
    ])
      // prettier-ignore
      expect(Math.min(...thing.subpaths[0].segments.map((s) => Math.hypot(s.x - x, s.y - y)))).toBeLessThan(1);
  });
  it('holes stay holes, and islands in them too', () => {
    const things = paths(picture(120, 120, (x, y) => (disc(60, 60, 50)(x, y) && !disc(60, 60, 30)(x, y)) || disc(60, 60, 10)(x, y)));
    expect(area(things)).toBeCloseTo(Math.PI * (2500 - 900 + 100), -2);
    expect(things.map(({ subpaths }) => subpaths.length).sort()).toEqual([1, 2]);
  });
  it('has the size asked for, its middle at zero, Y up', () => {
    const drawing = traced(picture(100, 50, disc(25, 10, 8)), {}, 0.25);
    expect(drawing.page).toEqual({ width: 25, height: 12.5 });
    const box = regionsBox(regionsOf(drawing.things as ImportedPath[]));
    expect((box.minX + box.maxX) / 2).toBeCloseTo(-6.25, 0);
    expect((box.minY + box.maxY) / 2).toBeCloseTo(3.75, 0);
  });
  it('threshold, invert and despeckle do what they say', () => {
    const soft = picture(60, 60, disc(30, 30, 20));
    for (let i = 0; i < soft.grey.length; i++) soft.grey[i] = 100 + (soft.grey[i] * 155) / 255;
    expect(paths(soft, { threshold: 90 })).toHaveLength(0);
    expect(paths(soft, { threshold: 180 })).toHaveLength(1);
    expect(area(paths(soft, { threshold: 180, invert: true }))).toBeCloseTo(3600 - Math.PI * 400, -2);
    const spotted = picture(60, 60, (x, y) => disc(30, 30, 20)(x, y) || (x > 3 && x < 5 && y > 3 && y < 5));
    expect(paths(spotted, { despeckle: 0 })).toHaveLength(2);
    expect(paths(spotted, { despeckle: 8 })).toHaveLength(1);
  });
  it('a picture without anything dark says so', () => {
    expect(traced(picture(20, 20, () => false)).findings.map(({ code }) => code)).toEqual(['trace-empty']);
  });
  it('what touches the edge is closed along it', () => {
    expect(area(paths(picture(40, 40, (x) => x < 20)))).toBeCloseTo(800, -1);
  });
  it('takes see-through as white and weighs colours by how light they look', () => {
    expect([...greyOf([0, 0, 0, 0, 0, 0, 0, 255, 255, 0, 0, 255, 0, 255, 0, 255], 2, 2).grey]).toEqual([255, 0, 76, 150]);
  });
});

describe('tracing along the middle of thin lines', () => {
  it('a ring of line becomes one closed run on its middle', () => {
    const things = paths(
      picture(140, 140, (x, y) => Math.abs(Math.hypot(x - 70, y - 70) - 50) < 3),
      { along: 'middle' },
    );
    expect(things.map(({ fill }) => fill)).toEqual(['none']);
    const { lines, contours } = drawSubpaths(things[0].subpaths, 0.05, false);
    const { xy } = lines[0] ?? contours[0];
    for (let i = 0; i < xy.length; i += 2) expect(Math.abs(Math.hypot(xy[i], xy[i + 1]) - 50)).toBeLessThan(0.6);
  });
  it('a cross becomes four arms that meet, without twigs', () => {
    const things = paths(
      picture(100, 100, (x, y) => (Math.abs(x - 50) < 3 && y > 10 && y < 90) || (Math.abs(y - 50) < 3 && x > 10 && x < 90)),
      { along: 'middle' },
    );
    expect(things).toHaveLength(4);
    const box = things.reduce((all, { subpaths }) => growBox(all, drawSubpaths(subpaths, 0.05, false).lines[0].xy), emptyBox());
    for (const side of [-box.minX, box.maxX, -box.minY, box.maxY]) expect(Math.abs(side - 38.5)).toBeLessThan(2.5);
  });
  it('a straight bar becomes one straight line', () => {
    const things = paths(
      picture(100, 40, (x, y) => x > 10 && x < 90 && y > 17 && y < 23),
      { along: 'middle' },
    );
    expect(things).toHaveLength(1);
    const { xy } = drawSubpaths(things[0].subpaths, 0.05, false).lines[0];
    for (let i = 1; i < xy.length; i += 2) expect(Math.abs(xy[i])).toBeLessThan(0.5);
  });
});

describe('for a torch', () => {
  /** A wading shape of discs and bars with teeth of a pixel or two all round, as a scan has them; a slit and a speck in it. */
  const teeth = (x: number, y: number) => ((Math.floor(x * 0.37) * 7 + Math.floor(y * 0.41) * 13) % 5) - 2;
  const ragged = picture(400, 300, (x, y) => {
    const r = teeth(x, y);
    const body = Math.hypot(x - 150, y - 150) < 80 + r;
    const neck = x > 140 && x < 330 + r && Math.abs(y - 110) < 24 + r;
    const leg = Math.abs(x - 170) < 14 + r && y > 150 && y < 280;
    const slit = Math.abs(y - 170) < 2 && x > 40 && x < 120;
    const speck = Math.hypot(x - 150, y - 150) < 4;
    return (body || neck || leg) && !slit && !speck;
  });
  const pixel = 0.25;
  const plate = makeJob({
    process: 'torch',
    board: { width: 300, height: 200, thickness: 3, material: 'mild steel' },
    items: {},
    itemOrder: [],
    outline: null,
    tools: { n: { kind: 'nozzle', id: 'n' } },
    cuts: {},
    cutOrder: [],
  });
  const settings = traceFor(plate, pixel);
  const outlinesOf = (more: Partial<TraceSettings>) =>
    (tracePicture(ragged, { ...TRACE, ...more }, pixel).things as ImportedPath[]).flatMap(({ subpaths }) => drawSubpaths(subpaths, 0.01, true).contours);
  /** How much of the outline a disc of a radius can follow on both sides: its middle, that far off, is no nearer to any other place of it. */
  function followed(contours: readonly { xy: ArrayLike<number> }[], radius: number): number {
    const edges = contours.flatMap(({ xy }) =>
      Array.from({ length: xy.length / 2 }, (_, i) => [xy[2 * i], xy[2 * i + 1], xy[(2 * i + 2) % xy.length], xy[(2 * i + 3) % xy.length]]),
    );
    const distance = (x: number, y: number) =>
      Math.min(
        ...edges.map(([ax, ay, bx, by]) => {
          const f = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2 || 1)));
          return Math.hypot(x - ax - f * (bx - ax), y - ay - f * (by - ay));
        }),
      );
    let [good, all] = [0, 0];
    for (const [ax, ay, bx, by] of edges) {
      const length = Math.hypot(bx - ax, by - ay);
      if (length < 1e-6) continue;
      const [x, y, nx, ny] = [(ax + bx) / 2, (ay + by) / 2, -(by - ay) / length, (bx - ax) / length];
      all += length;
      if ([1, -1].every((side) => distance(x + side * radius * nx, y + side * radius * ny) > 0.93 * radius)) good += length;
    }
    return good / all;
  }
  it('no bend is tighter than half the kerf, so that the arc can follow all of it; as it is drawn it cannot', () => {
    const radius = settings.round * pixel;
    expect(radius).toBeCloseTo(0.74, 1);
    expect(followed(outlinesOf(settings), 0.9 * radius)).toBeGreaterThan(0.99);
    expect(followed(outlinesOf({}), 0.9 * radius)).toBeLessThan(0.9);
  });
  it('the shape stays: nothing moves by more than the teeth and the rounding, and few curves are left', () => {
    const plain = tracePicture(ragged, TRACE, pixel).things as ImportedPath[];
    const smooth = tracePicture(ragged, settings, pixel).things as ImportedPath[];
    // The slit and the speck are filled; the teeth come to a third of a pixel all round at most.
    const filled = area(plain) + (80 * 4 + Math.PI * 16) * pixel ** 2;
    expect(Math.abs(area(smooth) - filled) / filled).toBeLessThan(0.01);
    const count = (things: ImportedPath[]) => things.flatMap(({ subpaths }) => subpaths.flatMap(({ segments }) => segments)).length;
    expect(count(smooth)).toBeLessThan(count(plain) / 2);
  });
  it('spots smaller than the plate is thick and slits narrower than the kerf are left out; on a router they stay', () => {
    expect(outlinesOf(settings)).toHaveLength(1);
    expect(outlinesOf({}).length).toBeGreaterThan(1);
    expect(traceFor(makeJob(), pixel)).toEqual(TRACE);
    // Without a nozzle there is no kerf to reckon with.
    expect(traceFor({ ...plate, tools: {} }, pixel)).toEqual(TRACE);
  });
});
