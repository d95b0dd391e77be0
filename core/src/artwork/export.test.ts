/** What is written comes back the same: by our own importers, and by independent readers (resvg, the dxf package). */
import { Resvg } from '@resvg/resvg-js';
import { Helper } from 'dxf';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even, often } from '../reference/chance.ts';
import { fontOf } from '../reference/fixtures.ts';
import { regionArea, regionsBox, subtract, unite, type Region } from '../geometry/index.ts';
import { makeItem, readJob, type Item, type Job } from '../job/index.ts';
import { writeDxf } from './dxf.ts';
import { exportedThings, writeSvg } from './export.ts';
import { placeThings, readDxf, readSvg, type Imported } from './import/index.ts';
import { drawItem, drawSubpaths } from './index.ts';

const jobOf = (items: Item[]): Job => {
  const reading = readJob({
    kerbe: 4,
    name: 'Heron & <Reed>',
    board: { width: 120, height: 80, thickness: 18 },
    items: Object.fromEntries(items.map((item) => [item.id, item])),
    itemOrder: items.map(({ id }) => id),
    tools: { v: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 } },
    cuts: { c: { kind: 'vcarve', id: 'c', name: 'Carve', on: 'art', tool: 'v' } },
    cutOrder: ['c'],
  });
  if (!reading.ok) throw new Error(reading.why.join());
  return reading.job;
};
const mixed = (): Job =>
  jobOf([
    makeItem({ kind: 'text', id: 't', x: 60, y: 50, text: 'Rb&8', face: 'playfair', capHeight: 18 }),
    makeItem({ kind: 'slot', id: 's', x: 30, y: 20, length: 24, width: 8, angle: 25 }),
    makeItem({ kind: 'ellipse', id: 'e', x: 85, y: 20, width: 30, height: 12, angle: -30 }),
    makeItem({ kind: 'path', id: 'p', x: 60, y: 20, d: 'M-5-5h10v10h-10zM-2-2h4v4h-4z', fill: 'evenodd' }),
    makeItem({ kind: 'arc', id: 'a', x: 60, y: 20, radius: 12, sweep: 100 }),
    makeItem({ kind: 'line', id: 'l', x: 5, y: 5, length: 40, angle: 12 }),
  ]);
const drawnOf = (job: Job) => job.itemOrder.map((id) => drawItem(job.items[id], { fonts: fontOf, tolerance: 0.001, items: job.items }));
const areaOf = (regions: Region[]) => regions.reduce((sum, r) => sum + regionArea(r), 0);
/** What two sets of regions do not have in common, mm². */
const difference = (a: Region[], b: Region[]) => areaOf(subtract(a, b)) + areaOf(subtract(b, a));
const regionsOf = (imported: Imported) =>
  imported.things.flatMap((t) => (t.kind === 'path' && t.fill !== 'none' ? unite(drawSubpaths(t.subpaths, 0.001, true).contours, t.fill) : []));
const lengthOf = (imported: Imported) =>
  imported.things.reduce((sum, t) => {
    if (t.kind !== 'path' || t.fill !== 'none') return sum;
    for (const { xy } of drawSubpaths(t.subpaths, 0.001, false).lines)
      for (let i = 2; i < xy.length; i += 2) sum += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
    return sum;
  }, 0);

describe('SVG out', () => {
  it('comes back the same, thing by thing, arcs as arcs', () => {
    const job = mixed();
    const back = readSvg(writeSvg(job, exportedThings(job, fontOf)));
    expect(back.findings).toEqual([]);
    expect(back.size.known).toBe(true);
    expect(back.things).toHaveLength(6);
    const drawn = drawnOf(job);
    expect(
      difference(
        regionsOf(back),
        drawn.flatMap(({ regions }) => regions),
      ),
    ).toBeLessThan(0.02);
    expect(lengthOf(back)).toBeCloseTo(40 + (12 * Math.PI * 100) / 180, 2);
    expect(JSON.stringify(back.things[1])).toMatch(/"kind":"arc"/);
  });
  it('is what an independent renderer paints', () => {
    const job = mixed();
    const { pixels, width, height } = new Resvg(
      writeSvg(
        job,
        exportedThings(job, fontOf).filter(({ fill }) => fill !== 'none'),
      ),
      { fitTo: { mode: 'width', value: 1500 } },
    ).render();
    let sum = 0;
    for (let i = 3; i < pixels.length; i += 4) sum += pixels[i] / 255;
    const rendered = (sum / (width * height)) * 120 * 80;
    const drawn = unite(drawnOf(job).flatMap(({ regions }) => regions.flatMap(({ outer, holes }) => [outer, ...holes])));
    expect(Math.abs(rendered - areaOf(drawn))).toBeLessThan(0.002 * areaOf(drawn));
  });
  it('leaves hidden things out, and names layers after the cuts', () => {
    const job = jobOf([
      makeItem({ kind: 'ellipse', id: 'e', x: 9, y: 9, width: 5, height: 5 }),
      makeItem({ kind: 'ellipse', id: 'f', x: 9, y: 9, width: 5, height: 5, hidden: true }),
    ]);
    const things = exportedThings(job, fontOf);
    expect(things.map(({ id, layer }) => [id, layer])).toEqual([['e', 'Carve']]);
    expect(writeSvg(job, things)).toContain('Heron &amp; &lt;Reed&gt;');
  });
});

describe('DXF out', () => {
  it('comes back the same through our own importer', () => {
    const job = mixed();
    const back = readDxf(writeDxf(exportedThings(job, fontOf)));
    expect(back.size).toEqual({ known: true, unit: 'mm', mm: 1 });
    expect(
      difference(
        regionsOf(back),
        drawnOf(job).flatMap(({ regions }) => regions),
      ),
    ).toBeLessThan(0.05);
    expect(lengthOf(back)).toBeCloseTo(40 + (12 * Math.PI * 100) / 180, 1);
    expect([...new Set(back.things.map(({ layer }) => layer))]).toEqual(['Carve']);
  });
  it('is read by an independent reader', () => {
    const job = jobOf([
      makeItem({ kind: 'slot', id: 's', x: 30, y: 20, length: 24, width: 8 }),
      makeItem({ kind: 'rectangle', id: 'r', x: 80, y: 40, width: 20, height: 10 }),
    ]);
    const { polylines } = new Helper(writeDxf(exportedThings(job, fontOf))).toPolylines() as { polylines: { vertices: [number, number][] }[] };
    const boxes = polylines.map(({ vertices }) =>
      regionsBox([{ outer: { xy: Float64Array.from(vertices.flat()), smooth: new Uint8Array(vertices.length) }, holes: [] }]),
    );
    expect(boxes[0].minX).toBeCloseTo(18, 3);
    expect(boxes[0].maxY).toBeCloseTo(24, 3);
    expect([boxes[1].minX, boxes[1].minY, boxes[1].maxX, boxes[1].maxY]).toEqual([70, 35, 90, 45]);
  });
  it('is the same bytes for the same job', () => {
    const things = exportedThings(mixed(), fontOf);
    expect(writeDxf(things)).toBe(writeDxf(things));
  });
});

it('export and import are each other’s undoing (random paths)', () => {
  const point = fc.tuple(even(5, 115), even(5, 75));
  const segment = fc.oneof(
    point.map(([x, y]) => `L${x} ${y}`),
    fc.tuple(point, point, point).map(([a, b, c]) => `C${a} ${b} ${c}`.replaceAll(',', ' ')),
    fc
      .tuple(even(5, 60), even(5, 60), even(-90, 90), fc.boolean(), fc.boolean(), point)
      .map(([rx, ry, turn, large, sweep, [x, y]]) => `A${rx} ${ry} ${turn} ${large ? 1 : 0} ${sweep ? 1 : 0} ${x} ${y}`),
  );
  const d = fc.tuple(point, fc.array(segment, { minLength: 2, maxLength: 6 })).map(([[x, y], rest]) => `M${x} ${y}${rest.join('')}Z`);
  fc.assert(
    fc.property(d, (path) => {
      const imported = readSvg(`<svg width="120mm" height="80mm" viewBox="0 0 120 80"><path d="${path}"/></svg>`, { clipToPage: false });
      const { items } = placeThings(imported.things, { prefix: 'a', taken: {} });
      const job = jobOf(items);
      const regions = drawnOf(job).flatMap((drawn) => drawn.regions);
      const svg = readSvg(writeSvg(job, exportedThings(job, fontOf)), { clipToPage: false });
      expect(difference(regionsOf(svg), regions)).toBeLessThan(0.02);
      const dxf = readDxf(writeDxf(exportedThings(job, fontOf)));
      const length = (region: Region[]) => region.reduce((sum, { outer }) => sum + outer.smooth.length, 1);
      // Even-odd and non-zero differ where a random path crosses itself; the outline is compared by its box.
      const [a, b] = [regionsBox(regionsOf(dxf)), regionsBox(regions)];
      if (length(regions) > 1) for (const side of ['minX', 'minY', 'maxX', 'maxY'] as const) expect(a[side]).toBeCloseTo(b[side], 1);
    }),
    often(60),
  );
});
