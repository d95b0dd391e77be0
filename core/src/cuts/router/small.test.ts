/** Drag-engrave, engrave, plug and recess, surface, chamfer, and what else a sign needs. */
import { describe, expect, it } from 'vitest';
import { grooveWidth, shapeOf, type PointedBit } from '../../bits/index.ts';
import { drawItem, drawSubpaths, parsePath } from '../../artwork/index.ts';
import { letterRegions, setText } from '../../artwork/text/index.ts';
import { circle, distanceToEdges, insideRegion, mapRegion, medialAxis, offset, strokeRegions, subtract, unite, type Region } from '../../geometry/index.ts';
import { Bit, Cut, makeItem, type CutOf, type CutKind } from '../../job/index.ts';
import { planJob, writePrograms } from '../../plan/index.ts';
import { readProgram, OP } from '../../program/index.ts';
import { carve, HeightMap } from '../../proof/index.ts';
import { fontOf, makeJob } from '../../reference/fixtures.ts';
import { RAPID, type Toolpath } from '../../toolpath/index.ts';
import { planChamfer } from './chamfer.ts';
import { planDrag } from './drag.ts';
import { planDrill } from './drill.ts';
import { planEngrave } from './engrave.ts';
import { fitOf, planPlug, planRecess } from './fit.ts';
import { planPocket } from './pocket.ts';
import { areaOf } from './rest.ts';
import { planSurface } from './surface.ts';

const travel = { clearance: 5, feed: 2400, plunge: 800 };
const { board } = makeJob();
const bit = (fields: object) => Bit.parse({ id: 'b', diameter: 6, ...fields });
const cutOf = <K extends CutKind>(kind: K, more: object = {}) => Cut.parse({ kind, id: 'c', on: 'art', tool: 'b', ...more }) as CutOf<K>;
const shapes = (d: string): Region[] => unite(drawSubpaths(parsePath(d).subpaths, 0.005, true).contours, 'evenodd');
const words = (text: string, face: string, capHeight: number) =>
  letterRegions(setText({ text, capHeight, lineSpacing: 1.5, letterSpacing: 0, align: 'left' }, fontOf(face)!), 0.005);
const underPower = (path: Toolpath) => [...path.kind.keys()].filter((i) => i > 0 && path.kind[i] !== RAPID && path.z[i] < 0);
/** The region a round mark of a width covers along a path. */
function marked(path: Toolpath, width: number): Region[] {
  return strokeRegions(
    underPower(path)
      .filter((i) => path.z[i - 1] < 0)
      .map((i) => ({ xy: Float64Array.of(path.x[i - 1], path.y[i - 1], path.x[i], path.y[i]), smooth: new Uint8Array(2) })),
    width,
    false,
  );
}

describe('outlines that nearly touch', () => {
  const fine = bit({ kind: 'engraving', angle: 40, tipFlat: 0.2 });
  // Three squares in a row, 0.4 apart; the middle one has a hole 0.3 inside its outline, the last is far off.
  const row = shapes('M10 10H20V20H10Z M20.4 10H30.4V20H20.4Z M20.7 10.3H30.1V19.7H20.7Z M50 10H60V20H50Z');
  const plan = (more: object) => planEngrave(row, [], cutOf('engrave', { depth: 0.4, depthPerPass: 0.2, ...more }), fine, travel, 0.005);
  it('are each cut by themselves, until they are to be joined', () => {
    expect(plan({}).lifts).toBe(4);
    expect(plan({ joinWithin: 0.35 }).lifts).toBe(4);
  });
  it('are cut in one go, the gap too; never across a stroke to its own hole', () => {
    const { path, lifts } = plan({ joinWithin: 0.5 });
    expect(lifts).toBe(3);
    const inGap = underPower(path).filter((i) => Math.abs((path.x[i] + path.x[i - 1]) / 2 - 20.2) < 0.1);
    // There and back, in each of two passes.
    expect(inGap).toHaveLength(4);
    for (const i of inGap) expect(Math.abs(path.x[i] - path.x[i - 1])).toBeCloseTo(0.4, 9);
    const cutLength = (of: Toolpath) =>
      underPower(of).reduce((sum, i) => sum + (of.z[i - 1] < 0 ? Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]) : 0), 0);
    expect(cutLength(path)).toBeCloseTo(2 * (3 * 40 + 4 * 9.4 + 2 * 0.4), 6);
  });
});

describe('drag-engrave', () => {
  const diamond = bit({ kind: 'drag', lineWidth: 0.5 });
  const plate = shapes('M10 10H50V30H10Z');
  it.each([
    ['outline', {}],
    ['hatch', { fill: 'hatch', outline: false }],
    ['cross', { fill: 'cross' }],
    ['rings', { fill: 'rings' }],
  ])('%s: the mark stays within the drawing, at the preload of the spring', (_name, more) => {
    const { path, marked: area, overlap } = planDrag(plate, [], cutOf('drag', more), diamond, travel);
    const mark = marked(path, 0.5);
    expect(areaOf(subtract(mark, offset(plate, 0.004)))).toBeLessThan(0.01);
    expect([...new Set([...path.z].filter((z) => z < 0))]).toEqual([-2.5]);
    // Summed over rows, against the polygon library.
    expect(Math.abs(area / areaOf(mark) - 1)).toBeLessThan(0.004);
    expect(overlap).toBeGreaterThanOrEqual(0);
  });
  it('a fill at the width of the line leaves nothing blank; at twice that, half', () => {
    const share = (more: object) => areaOf(marked(planDrag(plate, [], cutOf('drag', { fill: 'hatch', ...more }), diamond, travel).path, 0.5)) / areaOf(plate);
    expect(share({})).toBeGreaterThan(0.99);
    expect(share({ spacing: 1 })).toBeGreaterThan(0.45);
    expect(share({ spacing: 1 })).toBeLessThan(0.62);
    expect(areaOf(marked(planDrag(plate, [], cutOf('drag', { fill: 'rings' }), diamond, travel).path, 0.5)) / areaOf(plate)).toBeGreaterThan(0.99);
  });
  it('hatch runs at the angle asked for', () => {
    const { path } = planDrag(plate, [], cutOf('drag', { fill: 'hatch', outline: false, angle: 30 }), diamond, travel);
    let along = 0;
    let all = 0;
    for (const i of underPower(path)) {
      const [dx, dy] = [path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]];
      const length = Math.hypot(dx, dy);
      all += length;
      if (length > 0 && Math.abs(dx * Math.sin(Math.PI / 6) - dy * Math.cos(Math.PI / 6)) / length < 1e-3) along += length;
    }
    expect(along / all).toBeGreaterThan(0.9);
  });
  it('a nose cone goes its passes at what the point sticks out, never deeper', () => {
    const { path } = planDrag(plate, [], cutOf('drag', { hold: { by: 'cone', protrusion: 0.25, passes: 3 } }), diamond, travel);
    expect(Math.min(...path.z)).toBe(-0.25);
    expect(path.spans.map(({ label }) => label)).toEqual(['drag, pass 1 of 3', 'drag, pass 2 of 3', 'drag, pass 3 of 3']);
  });
  describe('the spindle stays off', () => {
    const job = makeJob({
      tools: { d: { kind: 'drag', id: 'd', diameter: 6 }, end6: { kind: 'end', id: 'end6', diameter: 6 } },
      cuts: { mark: { kind: 'drag', id: 'mark', on: 'art', tool: 'd' }, out: { kind: 'profile', id: 'out', on: 'outline', tool: 'end6' } },
      cutOrder: ['mark', 'out'],
    });
    it('in the program: no spindle start before or during the drag, and one after it for the mill', async () => {
      const plan = await planJob(job, { fonts: fontOf });
      expect(plan.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
      const files = [...writePrograms(job, plan, '2026-01-01', 'pauses'), ...writePrograms(job, plan, '2026-01-01', 'tool')];
      for (const { text } of files.slice(0, 2)) {
        const program = readProgram(text);
        let speed = 0;
        for (let i = 0; i < program.kind.length; i++) {
          if (program.kind[i] === OP.SPINDLE) speed = program.value[i];
          // The preload is what only the drag goes to.
          if (program.kind[i] === OP.FEED && program.z[i] === -2.5) expect(speed).toBe(0);
        }
        expect(text).toContain('spindle OFF');
      }
      expect(files[1].text).not.toMatch(/M3\b/);
      expect(files[2].text).toMatch(/S18000 M3/);
    });
    it('by the document: a speed is refused', () => {
      expect(Cut.safeParse({ kind: 'drag', id: 'c', on: 'art', tool: 'd', speed: 12000 }).success).toBe(false);
    });
    it('by the plan: a diamond turns for no other cut, and no other bit is dragged', async () => {
      const codes = async (cut: object) =>
        (await planJob({ ...job, cuts: { ...job.cuts, mark: Cut.parse(cut) } }, { fonts: fontOf })).findings.map(({ code, severity }) => `${severity} ${code}`);
      expect(await codes({ kind: 'engrave', id: 'mark', on: 'art', tool: 'd' })).toContain('error cut-wrong-bit');
      expect(await codes({ kind: 'drag', id: 'mark', on: 'art', tool: 'end6' })).toContain('error cut-wrong-bit');
    });
  });
});

describe('engrave', () => {
  it('along the middle of strokes: as far from one wall as from the other, and not into corners', () => {
    const bar = shapes('M10 10H70V18H10Z');
    const { path } = planEngrave(bar, [], cutOf('engrave', { way: 'centre', depth: 1 }), bit({ kind: 'v', angle: 60 }), travel, 0.01);
    for (const i of underPower(path)) expect(path.y[i]).toBeCloseTo(14, 6);
    // The middle line ends where the branches into the corners begin.
    expect(Math.min(...underPower(path).map((i) => path.x[i]))).toBeCloseTo(14, 1);
    expect(Math.max(...underPower(path).map((i) => path.x[i]))).toBeCloseTo(66, 1);
  });
  it('a round dot gets its middle', () => {
    const { path } = planEngrave(unite([circle(20, 20, 3)]), [], cutOf('engrave', { way: 'centre', depth: 1 }), bit({ kind: 'v', angle: 60 }), travel, 0.01);
    for (const i of underPower(path)) expect(Math.hypot(path.x[i] - 20, path.y[i] - 20)).toBeLessThan(0.2);
    expect(underPower(path).length).toBeGreaterThan(0);
  });
  it('fills small letters: nothing outside, all that the groove reaches gone, the rest listed and touched', () => {
    const letters = words('Rd', 'barlow', 6.35);
    const cutter = bit({ kind: 'engraving', angle: 60, diameter: 3.175, tipFlat: 0.2 });
    const cut = cutOf('engrave', { way: 'fill', depth: 0.254 });
    const { path, spots, passes } = planEngrave(letters, [], cut, cutter, travel, 0.01);
    const width = grooveWidth(cutter, 0.254);
    const done = marked(path, width);
    expect(areaOf(subtract(done, offset(letters, 0.006)))).toBeLessThan(0.005);
    const reach = offset(offset(letters, -width / 2), width / 2);
    expect(areaOf(subtract(offset(reach, -0.01), done))).toBeLessThan(0.002 * areaOf(letters));
    const widest = 2 * Math.max(...letters.flatMap((region) => [...medialAxis(region, { uncut: 0.02, tolerance: 0.01 }).r]));
    expect(passes).toBe(1 + Math.ceil((widest - width) / (0.6 * width) - 1e-9));
    expect(spots!.length).toBeGreaterThan(0);
    const touches = path.spans.filter(({ label }) => label === 'touch');
    expect(touches.length).toBeGreaterThan(0);
    expect(touches.length).toBeLessThanOrEqual(spots!.length);
    // A touch goes as deep as the walls allow: the cone stays within the drawing.
    for (const { start, end } of touches)
      for (let i = start; i < end; i++)
        if (path.z[i] < 0) expect(grooveWidth(cutter, -path.z[i]) / 2).toBeLessThanOrEqual(distanceToEdges(letters, path.x[i], path.y[i]) + 1e-6);
  });
  it('neighbouring contours are joined without a lift', () => {
    const { lifts } = planEngrave(
      shapes('M0 0H40V8H0Z'),
      [],
      cutOf('engrave', { way: 'fill', depth: 0.5 }),
      bit({ kind: 'engraving', angle: 30, diameter: 6, tipFlat: 0.5 }),
      travel,
      0.01,
    );
    // One for the fill, and one touch for every corner.
    expect(lifts).toBeLessThanOrEqual(5);
  });
});

describe('plug and recess', () => {
  const key = shapes('M10 10H50V24H30V50H10Z');
  const letters = words('R', 'barlow', 60).map((region) => mapRegion(region, (x, y) => [x + 10, y + 10]));
  const mill = (id: string, diameter: number) => Bit.parse({ kind: 'end', id, diameter });
  const small = mill('b', 3.175);
  const large = mill('m', 6.35);
  // The rule (derived): with no gap the two meet everywhere; the figure is the trade's check value.
  it.each([
    ['a key', key],
    ['a letter', letters],
  ])('%s: with no gap they mate within 0.01 mm, with one it is that gap all round', (_name, shape) => {
    for (const [own, mate] of [
      [small, small],
      [small, large],
      [large, small],
    ]) {
      const fit = (gap: number, plugShare = 1) => fitOf(shape, cutOf('recess', { mate: 'm', gap, plugShare }), own, mate).gap;
      expect(fit(0).max).toBeLessThan(0.01);
      for (const share of [0, 0.5, 1]) {
        expect(fit(0.2, share).min).toBeGreaterThan(0.19);
        expect(fit(0.2, share).max).toBeLessThan(0.21);
      }
    }
  });
  it('as cut: the plug goes into the recess, and the boards say so cell by cell', () => {
    const fields = { mate: 'm', gap: 0.15, depth: 5, skin: 0.5 };
    const recess = planRecess(key, cutOf('recess', { mate: 'm', gap: 0.15, depth: 5 }), small, large, travel);
    const plug = planPlug(key, cutOf('plug', { mate: 'm', gap: fields.gap, skin: 0.5 }), large, small, { ...board, thickness: 6 }, travel);
    const hole = new HeightMap(60, 60, 0.1);
    carve(hole, recess.path, shapeOf(small));
    const part = new HeightMap(60, 60, 0.1);
    carve(part, plug.path, shapeOf(large));
    let stands = 0;
    let room = 0;
    for (let i = 0; i < hole.height.length; i++) {
      const [x, y] = [((i % 600) + 0.5) * 0.1, (Math.floor(i / 600) + 0.5) * 0.1];
      // What of the plug's top still stands near the shape must find a hole below it.
      if (part.height[i] < 0 || distanceToEdges(key, x, y) > 4 || !insideRegion(key[0], x, y)) continue;
      stands++;
      if (hole.height[i] < -4.99) room++;
    }
    expect(stands).toBeGreaterThan(5000);
    expect(room).toBe(stands);
    // The skin is left on purpose.
    expect(Math.min(...plug.path.z)).toBeCloseTo(-5.5, 9);
    expect(plug.through).toBe(false);
  });
  it('tells when the bits cannot follow the drawing: wide bits round it away, and the two still meet', () => {
    const fit = fitOf(key, cutOf('recess', { mate: 'm', gap: 0 }), mill('b', 10), mill('m', 10));
    expect(fit.gap.max).toBeLessThan(0.01);
    expect(areaOf(subtract(key, fit.recess))).toBeGreaterThan(5);
  });
});

describe('surface', () => {
  const cutter = Bit.parse({ kind: 'surfacing', id: 'b', diameter: 25 });
  it('planes every place of the board to the skim, perimeter first, then along the longer side', () => {
    const cut = cutOf('surface', { skim: 0.2, repeats: 2, overlap: 5 });
    const { path, step } = planSurface(cut, cutter, { width: 200, height: 120 }, travel);
    const map = new HeightMap(200, 120, 1);
    carve(map, path, shapeOf(cutter));
    expect(Math.max(...map.height)).toBeCloseTo(-0.4, 6);
    expect(map.deepest).toBeCloseTo(0.4, 6);
    expect(step).toBeLessThanOrEqual(0.7 * 25);
    const first = underPower(path);
    expect([path.x[first[1]], path.y[first[1]]]).toEqual([205, -5]);
    expect([path.x[first[4]], path.y[first[4]]]).toEqual([-5, -5]);
    // Then lanes along X.
    expect(path.y[first[6]]).toBe(path.y[first[5]]);
    expect(path.spans.map(({ label }) => label)).toEqual(['skim 1 of 2', 'skim 2 of 2']);
  });
  it('the header names the bit and the numbers; deep skims and a spoilboard are spoken of', async () => {
    const job = makeJob({
      tools: { s: { kind: 'surfacing', id: 's', diameter: 25 } },
      cuts: { skim: { kind: 'surface', id: 'skim', on: 'art', tool: 's', of: 'spoilboard', skim: 0.5 } },
      cutOrder: ['skim'],
    });
    const plan = await planJob(job, { fonts: fontOf });
    expect(plan.findings.map(({ code }) => code)).toEqual(expect.arrayContaining(['skim-deep', 'spoilboard-bare']));
    const [{ text }] = writePrograms(job, plan, '2026-01-01');
    expect(text.replace(/\)\n\(\s*/g, ' ')).toMatch(/surface: depth 0.5 mm.*spoilboard, skim 0.5 mm 1 times, bit 25 mm, step-over .* mm, overlap 0 mm/);
  });
});

describe('chamfer', () => {
  const v90 = bit({ kind: 'v', angle: 90, diameter: 12 }) as PointedBit;
  const part = shapes('M20 20H80V60H20Z');
  // 45°: the bevel is as deep at the line as it is wide.
  it('breaks the edge as wide as asked, and as deep as the angle makes it', () => {
    const { path, depth } = planChamfer(part, cutOf('chamfer', { width: 2 }), v90, travel);
    expect(depth).toBeCloseTo(2.5, 9);
    const map = new HeightMap(100, 80, 0.1);
    carve(map, path, shapeOf(v90));
    for (const [off, z] of [
      [0.05, -1.95],
      [1.05, -0.95],
      [1.95, -0.05],
      [2.15, 0],
    ])
      expect(map.at(50, 20 + off)).toBeCloseTo(z, 2);
  });
  it('of an opening it lies outside of the line', () => {
    const { path } = planChamfer(part, cutOf('chamfer', { width: 1, part: 'outside' }), v90, travel);
    for (const i of underPower(path)) expect(insideRegion(part[0], path.x[i], path.y[i])).toBe(true);
  });
  it('says when the bit is too narrow', () => {
    expect(planChamfer(part, cutOf('chamfer', { width: 6 }), v90, travel).tooWide).toBe(true);
  });
});

describe('drill', () => {
  it('at points, with a wait at the bottom that counts in the time and stands in the program', async () => {
    const job = makeJob({
      tools: { d: { kind: 'drill', id: 'd', diameter: 5, fluteLength: 40 } },
      cuts: {
        holes: {
          kind: 'drill',
          id: 'holes',
          on: [],
          tool: 'd',
          points: [
            [20, 20],
            [180, 60],
          ],
          dwell: 1.5,
          depth: 3,
        },
      },
      cutOrder: ['holes'],
    });
    const plan = await planJob(job, { fonts: fontOf });
    expect(plan.cuts[0].holes).toBe(2);
    const still = await planJob({ ...job, cuts: { holes: { ...job.cuts.holes, dwell: 0 } as typeof job.cuts.holes } }, { fonts: fontOf });
    expect(plan.cuts[0].seconds - still.cuts[0].seconds).toBeCloseTo(3, 6);
    const [{ text }] = writePrograms(job, plan, '2026-01-01');
    expect(text.match(/^G4 P1\.5$/gm)).toHaveLength(2);
    expect(readProgram(text).findings).toEqual([]);
  });
  it('names points that a drill bit cannot make wider', () => {
    const { holes, tooNarrow } = planDrill([], cutOf('drill', { points: [[5, 5]] }), bit({ kind: 'drill' }), board, travel);
    expect([holes.length, tooNarrow]).toEqual([1, 0]);
  });
});

describe('a pocket open at the edge of the board', () => {
  it('runs out over the edge, comes in from there at depth, and leaves nothing of the drawing standing', () => {
    const region = shapes('M-1 30H60V50H-1Z');
    const mill = bit({ kind: 'end' });
    const { path } = planPocket(region, cutOf('pocket', { open: true, depth: 4 }), mill, travel, { board });
    const map = new HeightMap(board.width, board.height, 0.2);
    carve(map, path, shapeOf(mill));
    for (const [x, y] of [
      [0.3, 30.3],
      [0.3, 49.7],
      [30, 40],
    ])
      expect(map.at(x, y)).toBeCloseTo(-4, 6);
    expect(map.at(30, 29.8)).toBe(0);
    expect(map.at(30, 50.2)).toBe(0);
    // Every descent is beside the board.
    for (let i = 1; i < path.kind.length; i++) if (path.kind[i] !== RAPID && path.z[i] < path.z[i - 1] - 1e-9) expect(path.x[i]).toBeLessThanOrEqual(-3);
  });
});

it('single-line words can be scratched as well as grooved', () => {
  const item = makeItem({ kind: 'text', id: 't', x: 50, y: 30, text: 'HEI', face: 'single-line', capHeight: 20 });
  const { regions, lines } = drawItem(item, { fonts: fontOf, tolerance: 0.005, items: {} });
  const { lifts } = planDrag(regions, lines, cutOf('drag'), bit({ kind: 'drag' }), travel);
  expect(lifts).toBe(6);
});
