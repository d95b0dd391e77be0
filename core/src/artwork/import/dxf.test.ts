import { wordsOf } from '../../findings/index.ts';
import { describe, expect, it } from 'vitest';
import { regionArea, regionsBox, unite } from '../../geometry/index.ts';
import { drawSubpaths } from '../path.ts';
import { MAX_THINGS } from './imported.ts';
import { chain, readDxf, type ImportedPath, type ImportedText } from './index.ts';
import { splinePath, splinePoint } from './spline.ts';

type Pair = [number, number | string];
const pairs = (list: Pair[]) => list.map(([code, value]) => `${code}\n${value}`).join('\n');
const e = (type: string, ...codes: Pair[]): Pair[] => [[0, type], [8, 'Lines'], ...codes];
interface Parts {
  units?: number;
  layers?: Pair[];
  blocks?: Pair[];
}
const file = (entities: Pair[], { units = 4, layers = [], blocks = [] }: Parts = {}) =>
  pairs([
    [0, 'SECTION'], [2, 'HEADER'], [9, '$ACADVER'], [1, 'AC1015'], [9, '$INSUNITS'], [70, units], [0, 'ENDSEC'],
    [0, 'SECTION'], [2, 'TABLES'], [0, 'TABLE'], [2, 'LAYER'], ...layers, [0, 'ENDTAB'], [0, 'ENDSEC'],
    [0, 'SECTION'], [2, 'BLOCKS'], ...blocks, [0, 'ENDSEC'],
    [0, 'SECTION'], [2, 'ENTITIES'], ...entities, [0, 'ENDSEC'], [0, 'EOF'],
  ]) + '\n'; // prettier-ignore
const read = (entities: Pair[], parts?: Parts) => readDxf(file(entities, parts));
const paths = (entities: Pair[], parts?: Parts) => read(entities, parts).things.filter((t): t is ImportedPath => t.kind === 'path');
const area = ({ subpaths, fill }: ImportedPath) =>
  unite(drawSubpaths(subpaths, 0.0005, true).contours, fill === 'evenodd' ? 'evenodd' : 'nonzero').reduce((sum, r) => sum + regionArea(r), 0);
const box = ({ subpaths }: ImportedPath) => {
  const { contours, lines } = drawSubpaths(subpaths, 0.0005, false);
  const b = regionsBox([...contours, ...lines].map((outer) => ({ outer, holes: [] })));
  return [b.minX, b.minY, b.maxX, b.maxY].map((v) => Math.round(v * 100) / 100 + 0);
};
const square = (x: number, y: number, w: number): Pair[] =>
  e('LWPOLYLINE', [90, 4], [70, 1], [10, x], [20, y], [10, x + w], [20, y], [10, x + w], [20, y + w], [10, x], [20, y + w]);

describe('DXF entities, each by hand', () => {
  it('CIRCLE, LWPOLYLINE, SOLID', () => {
    expect(area(paths(e('CIRCLE', [10, 5], [20, 5], [40, 3]))[0])).toBeCloseTo(9 * Math.PI, 1);
    expect(area(paths(square(0, 0, 10))[0])).toBeCloseTo(100, 9);
    // The corners of a SOLID come crosswise.
    expect(area(paths(e('SOLID', [10, 0], [20, 0], [11, 4], [21, 0], [12, 0], [22, 3], [13, 4], [23, 3]))[0])).toBeCloseTo(12, 9);
  });
  // Published (the DXF reference): bulge = tan(θ/4); a half circle has 1, a quarter tan(π/8).
  it.each([
    [1, Math.PI / 2, Math.PI],
    [Math.tan(Math.PI / 8), undefined, Math.PI / 2],
    [Math.tan((3 * Math.PI) / 8), undefined, (3 * Math.PI) / 2],
    [-1, -Math.PI / 2, Math.PI],
  ])('a bulge of %f spans its angle', (bulge, half, theta) => {
    const [{ subpaths }] = paths(e('LWPOLYLINE', [90, 2], [70, 0], [10, 0], [20, 0], [42, bulge], [10, 2], [20, 0]));
    const { xy } = drawSubpaths(subpaths, 1e-5, false).lines[0];
    let length = 0;
    for (let i = 2; i < xy.length; i += 2) length += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
    expect(length).toBeCloseTo((theta * 1) / Math.sin(theta / 2), 3);
    // Positive is counter-clockwise: to the right of the chord first.
    if (half) expect(Math.sign(xy[2 * (xy.length >> 2) + 1])).toBe(-Math.sign(bulge));
  });
  it('POLYLINE with VERTEX and SEQEND, closed, with bulge', () => {
    const vertex = (x: number, y: number, bulge = 0): Pair[] => e('VERTEX', [10, x], [20, y], [42, bulge]);
    const [thing] = paths([...e('POLYLINE', [66, 1], [70, 1]), ...vertex(0, 0), ...vertex(10, 0, 1), ...vertex(10, 10), ...vertex(0, 10), ...e('SEQEND')]);
    expect(area(thing)).toBeCloseTo(100 + (Math.PI * 25) / 2, 1);
  });
  it('ARC and ELLIPSE, whole and in part, any turn', () => {
    expect(box(paths(e('ARC', [10, 0], [20, 0], [40, 5], [50, 0], [51, 90]))[0])).toEqual([0, 0, 5, 5]);
    expect(box(paths(e('ARC', [10, 0], [20, 0], [40, 5], [50, 270], [51, 90]))[0])).toEqual([0, -5, 5, 5]);
    expect(area(paths(e('ELLIPSE', [10, 0], [20, 0], [11, 3], [21, 4], [40, 0.5], [41, 0], [42, 2 * Math.PI]))[0])).toBeCloseTo(Math.PI * 12.5, 1);
    expect(box(paths(e('ELLIPSE', [10, 0], [20, 0], [11, 6], [21, 0], [40, 0.5], [41, 0], [42, Math.PI / 2]))[0])).toEqual([0, 0, 6, 3]);
  });
  it('an extrusion that points down mirrors', () => {
    expect(box(paths(e('ARC', [10, 10], [20, 0], [40, 5], [50, 0], [51, 90], [230, -1]))[0])).toEqual([-15, 0, -10, 5]);
  });
  it('INSERT: nested, moved, turned, scaled, mirrored, in rows', () => {
    const block = (name: string, x: number, y: number, ...inside: Pair[]): Pair[] => [
      [0, 'BLOCK'],
      [8, '0'],
      [2, name],
      [10, x],
      [20, y],
      ...inside,
      [0, 'ENDBLK'],
    ];
    const blocks = [...block('A', 1, 0, ...square(1, 0, 2)), ...block('B', 0, 0, ...e('INSERT', [2, 'A'], [10, 5], [20, 0], [41, -1]))];
    const at = (...codes: Pair[]) => paths(e('INSERT', ...codes), { blocks }).map(box);
    expect(at([2, 'A'], [10, 10], [20, 10])).toEqual([[10, 10, 12, 12]]);
    expect(at([2, 'A'], [10, 0], [20, 0], [41, 3], [42, 2], [50, 90])).toEqual([[-4, 0, 0, 6]]);
    expect(at([2, 'B'], [10, 0], [20, 0])).toEqual([[3, 0, 5, 2]]);
    expect(at([2, 'A'], [10, 0], [20, 0], [70, 3], [71, 2], [44, 10], [45, 5])).toHaveLength(6);
  });
  it('HATCH outlines: polyline and edges', () => {
    const hatch = (...codes: Pair[]) => paths(e('HATCH', [2, 'SOLID'], [70, 1], [71, 0], [91, 1], ...codes));
    expect(area(hatch([92, 2], [72, 1], [73, 1], [93, 2], [10, 0], [20, 0], [42, 1], [10, 10], [20, 0], [42, 1])[0])).toBeCloseTo(25 * Math.PI, 1);
    const edges = hatch(
      [92, 1], [93, 2], [72, 1], [10, 0], [20, 0], [11, 10], [21, 0],
      [72, 2], [10, 5], [20, 0], [40, 5], [50, 0], [51, 180], [73, 1],
    ); // prettier-ignore
    expect(area(edges[0])).toBeCloseTo((25 * Math.PI) / 2, 1);
  });
  it('TEXT and MTEXT: height, alignment, turn, formatting codes taken away', () => {
    const texts = read([
      ...e('TEXT', [10, 0], [20, 0], [40, 10], [1, '45%%d'], [50, 90]),
      ...e('TEXT', [10, 0], [20, 0], [11, 50], [21, 20], [40, 5], [1, 'Middle'], [72, 1], [73, 2]),
      ...e('MTEXT', [10, 5], [20, 5], [40, 4], [71, 5], [1, '{\\fSomething|b1;Reed}\\Pand \\H2x;heron']),
    ]).things as ImportedText[];
    expect(texts.map(({ text, capHeight, align, angle }) => [text, capHeight, align, Math.round(angle)])).toEqual([
      ['45°', 10, 'left', 90],
      ['Middle', 5, 'centre', 0],
      ['Reed\nand heron', 4, 'centre', 0],
    ]);
    expect([texts[0].x, texts[0].y].map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([-5, 0]);
    expect([texts[1].x, texts[1].y]).toEqual([50, 20]);
    expect([texts[2].x, texts[2].y]).toEqual([5, 5]);
  });
  it('layers: names kept, off and frozen left out, and a block takes the layer it is put on', () => {
    const layers: Pair[] = [
      [0, 'LAYER'],
      [2, 'Off'],
      [62, -7],
      [70, 0],
      [0, 'LAYER'],
      [2, 'Cold'],
      [62, 7],
      [70, 1],
      [0, 'LAYER'],
      [2, 'Lines'],
      [62, 3],
      [70, 0],
    ];
    const on = (layer: string): Pair[] => square(0, 0, 5).map(([c, v]) => (c === 8 ? [8, layer] : [c, v]));
    const drawing = read([...on('Off'), ...on('Cold'), ...on('Lines')], { layers });
    expect(drawing.things.map(({ layer }) => layer)).toEqual(['Lines']);
    expect(drawing.findings.filter(({ code }) => code === 'import-left-out')).toHaveLength(2);
    const blocks: Pair[] = [[0, 'BLOCK'], [8, '0'], [2, 'A'], [10, 0], [20, 0], ...on('0'), [0, 'ENDBLK']];
    expect(read(e('INSERT', [2, 'A'], [10, 0], [20, 0]), { blocks }).things[0].layer).toBe('Lines');
  });
  it.each([
    [1, 25.4, true],
    [4, 1, true],
    [5, 10, true],
    [6, 1000, true],
    [0, 1, false],
  ])('$INSUNITS %i: a unit is %f mm', (units, mm, known) => {
    const drawing = read(square(0, 0, 10), { units });
    expect(box(drawing.things[0] as ImportedPath)[2]).toBeCloseTo(10 * mm, 6);
    expect(drawing.size.known).toBe(known);
  });
});

describe('DXF splines', () => {
  // A circle as a rational quadratic B-spline of nine points (The NURBS Book, Piegl & Tiller, 7.5; from memory).
  const w = Math.SQRT1_2;
  const ring: [number, number][] = [[1, 0], [1, 1], [0, 1], [-1, 1], [-1, 0], [-1, -1], [0, -1], [1, -1], [1, 0]]; // prettier-ignore
  const knots = [0, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 4];
  const weights = [1, w, 1, w, 1, w, 1, w, 1];
  it('weights: nine points make a true circle', () => {
    const entity = e('SPLINE', [70, 12], [71, 2], [72, 12], [73, 9], ...knots.map((k): Pair => [40, k]), ...weights.map((v): Pair => [41, v]), ...ring.flatMap(([x, y]): Pair[] => [[10, 10 * x], [20, 10 * y]])); // prettier-ignore
    const [thing] = paths(entity);
    expect(thing.subpaths[0].closed).toBe(true);
    expect(area(thing)).toBeCloseTo(100 * Math.PI, 1);
    for (let t = 0; t < 4; t += 0.1) expect(Math.hypot(...splinePoint(2, knots, ring, weights, t))).toBeCloseTo(1, 12);
  });
  it('a cubic B-spline becomes exactly its Bézier pieces', () => {
    const points: [number, number][] = [[0, 0], [3, 8], [7, -4], [12, 9], [15, 0], [20, 5]]; // prettier-ignore
    for (const k of [
      [0, 0, 0, 0, 1, 2, 3, 3, 3, 3],
      [0, 1, 2, 3, 4, 5, 6, 7, 8, 9],
    ]) {
      const path = splinePath({ degree: 3, knots: k, weights: [], points, fit: [], closed: false, start: null, end: null, tolerance: 0.01 })!;
      expect(path.segments).toHaveLength(3);
      let [x, y] = [path.x, path.y];
      path.segments.forEach((s, i) => {
        if (s.kind !== 'curve') throw new Error('no curve');
        const at = k[3 + i] + 0.5 * (k[4 + i] - k[3 + i]);
        const [px, py] = splinePoint(3, k, points, null, at);
        expect((x + 3 * s.x1 + 3 * s.x2 + s.x) / 8).toBeCloseTo(px, 10);
        expect((y + 3 * s.y1 + 3 * s.y2 + s.y) / 8).toBeCloseTo(py, 10);
        [x, y] = [s.x, s.y];
      });
    }
  });
  it('fit points: the curve goes through them, smoothly, and a ring closes smoothly', () => {
    const fit: [number, number][] = Array.from({ length: 12 }, (_, i) => [10 * Math.cos((i * Math.PI) / 6), 10 * Math.sin((i * Math.PI) / 6)]);
    const [thing] = paths(
      e(
        'SPLINE',
        [70, 1],
        [71, 3],
        [74, 12],
        ...fit.flatMap(([x, y]): Pair[] => [
          [11, x],
          [21, y],
        ]),
      ),
    );
    expect(area(thing)).toBeCloseTo(100 * Math.PI, 0);
    const open = splinePath({ degree: 3, knots: [], weights: [], points: [], fit: [[0, 0], [5, 5], [10, 0]], closed: false, start: null, end: null, tolerance: 0.01 })!; // prettier-ignore
    expect(open.segments.map(({ x, y }) => [x, y])).toEqual([[5, 5], [10, 0]]); // prettier-ignore
  });
  it('refuses numbers that make no spline', () => {
    const bad = {
      degree: 3,
      knots: [0, 1],
      weights: [],
      points: [[0, 0]] as [number, number][],
      fit: [],
      closed: false,
      start: null,
      end: null,
      tolerance: 0.01,
    };
    expect(splinePath(bad)).toBeNull();
    expect(wordsOf(read(e('SPLINE', [71, 3], [40, 0], [10, 0], [20, 0])).findings[0], 'mm').what).toMatch(/damaged splines/);
  });
});

describe('DXF: loose ends and nesting', () => {
  const line = (x: number, y: number, x2: number, y2: number) => e('LINE', [10, x], [20, y], [11, x2], [21, y2]);
  it('chains lines in any order and direction into one outline, within the gap', () => {
    const things = paths([...line(10, 10, 0, 10), ...line(0, 0, 10, 0), ...line(0, 10.02, 0, 0), ...line(10, 10, 10.01, 0)]);
    expect(things).toHaveLength(1);
    expect(things[0].fill).toBe('nonzero');
    expect(area(things[0])).toBeCloseTo(100, 0);
    expect(read([...line(0, 0, 9, 0), ...line(9, 0, 9, 9)]).findings.map(({ code }) => code)).toEqual(['import-chained']);
  });
  it('leaves a wide gap open, as a line', () => {
    const things = paths([...line(0, 0, 10, 0), ...line(10, 0, 10, 10), ...line(10, 10, 0.5, 0)]);
    expect(things.map(({ fill }) => fill)).toEqual(['none']);
    expect(chain(things[0].subpaths, 1).subpaths[0].closed).toBe(true);
  });
  it('a thousand shuffled pieces of a ring find each other', () => {
    const n = 1000;
    const piece = (i: number) =>
      line(
        50 * Math.cos((2 * Math.PI * i) / n),
        50 * Math.sin((2 * Math.PI * i) / n),
        50 * Math.cos((2 * Math.PI * (i + 1)) / n),
        50 * Math.sin((2 * Math.PI * (i + 1)) / n),
      );
    const order = Array.from({ length: n }, (_, i) => (i * 387) % n);
    const things = paths(order.flatMap(piece));
    expect(things).toHaveLength(1);
    expect(area(things[0])).toBeCloseTo(Math.PI * 2500, 0);
  });
  it('an outline keeps what lies in it as its island', () => {
    const things = paths([...square(2, 2, 6), ...square(0, 0, 10), ...square(20, 0, 5)]);
    expect(things.map(({ subpaths, fill }) => [subpaths.length, fill])).toEqual([[2, 'evenodd'], [1, 'nonzero']]); // prettier-ignore
    expect(area(things[0])).toBeCloseTo(64, 6);
  });
});

describe('DXF: hostile and broken files end in a finding, soon', () => {
  const codes = (text: string) => readDxf(text).findings.map(({ code }) => code);
  it('no DXF, binary DXF, DWG, nothing', () => {
    expect(codes('hello\nworld')).toEqual(['import-failed']);
    expect(codes('')).toEqual(['import-failed']);
    expect(wordsOf(readDxf('AutoCAD Binary DXF\r\n\x1a\x00').findings[0], 'mm').what).toMatch(/binary/);
    expect(wordsOf(readDxf('AC1032\0\0').findings[0], 'mm').what).toMatch(/DWG/);
  });
  it('a file cut short gives what it holds and says so', () => {
    const whole = file([...square(0, 0, 10), ...square(20, 0, 10)]);
    const drawing = readDxf(whole.slice(0, whole.length * 0.87));
    expect(drawing.things.length).toBeGreaterThan(0);
    expect(drawing.findings.map(({ code }) => code)).toContain('import-cut-short');
  });
  it('blocks that insert themselves, each other, or by the million', () => {
    const block = (name: string, other: string, extra: Pair[] = []): Pair[] => [
      [0, 'BLOCK'],
      [2, name],
      [10, 0],
      [20, 0],
      ...square(0, 0, 1),
      ...e('INSERT', [2, other], [10, 1], [20, 0], ...extra),
      [0, 'ENDBLK'],
    ];
    const blocks = [...block('A', 'A'), ...block('B', 'C'), ...block('C', 'B')];
    for (const name of ['A', 'B'])
      expect(
        readDxf(file(e('INSERT', [2, name]), { blocks }))
          .findings.map((one) => wordsOf(one, 'mm').what)
          .join(),
      ).toMatch(/insert themselves/);
    const million = [...block('D', 'E', [[70, 1000], [71, 1000], [44, 1], [45, 1]]), [0, 'BLOCK'], [2, 'E'], [10, 0], [20, 0], ...square(0, 0, 1), [0, 'ENDBLK']] as Pair[]; // prettier-ignore
    // Bounded work, whatever is asked for: so many things and not one more.
    const { things, findings } = readDxf(file(e('INSERT', [2, 'D']), { blocks: million }));
    expect(findings.map(({ code }) => code)).toContain('import-too-much');
    expect(things.length).toBeLessThanOrEqual(MAX_THINGS);
  });
  it('numbers that are none, stray lines, Windows line ends', () => {
    expect(paths(e('CIRCLE', [10, 'x'], [20, 0], [40, 3]))).toHaveLength(1);
    expect(read(e('CIRCLE', [10, 0], [20, 0], [40, '1e999'])).things).toHaveLength(0);
    const crlf = file(square(0, 0, 10)).replaceAll('\n', '\r\n');
    expect(readDxf(crlf).things).toHaveLength(1);
    expect(readDxf(file(square(0, 0, 10)).replace('LWPOLYLINE', 'LWPOLYLINE\nstray words')).things).toHaveLength(1);
  });
  it('a hundred thousand lines come in whole', () => {
    const many: Pair[] = [];
    for (let i = 0; i < 4200; i++) many.push(...square((i % 80) * 3, Math.floor(i / 80) * 3, 2));
    const text = file(many);
    expect(text.split('\n').length).toBeGreaterThan(100_000);
    expect(readDxf(text).things).toHaveLength(4200);
  });
});
