/** What a person on the board relies on: snapping, measures, the paper template, files by their content. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { circle, contourOf } from '../geometry/index.ts';
import { makeItem, type Item } from '../job/index.ts';
import { jobWith } from '../reference/fixtures.ts';
import { guessUnit, readDrawing, UNITS } from './import/index.ts';
import { radiusNear, roomAt, sizeOf, spanOf } from './measure.ts';
import { parsePath } from './path.ts';
import { marksOf, Snapper, tangentPoints } from './snap.ts';
import { checkLine, crossesOn, FOOT, MARGIN, OVERLAP, PAPERS, sheetsFor } from './template.ts';

const marks = (d: string) => marksOf(parsePath(d).subpaths);
const board = (more = {}) => ({ board: jobWith({}).board, guides: [], ...more });

describe('snapping', () => {
  const snapper = (d: string, grid = 0, more = {}) => new Snapper(board(more), () => [marks(d)], grid);
  it('finds ends, middles and centres, the nearest first', () => {
    const s = snapper('M10 10H30 M60 40A10 10 0 0 1 80 40');
    expect(s.snap(10.4, 9.7, 1)).toEqual({ x: 10, y: 10, to: 'end' });
    expect(s.snap(20.3, 10.2, 1)).toEqual({ x: 20, y: 10, to: 'middle' });
    const centre = s.snap(70.2, 40.3, 1);
    expect(centre.to).toBe('centre');
    expect([centre.x, centre.y].map((v) => Math.round(v * 1e9) / 1e9)).toEqual([70, 40]);
    expect(s.snap(45, 25, 1)).toEqual({ x: 45, y: 25, to: null });
  });
  it('finds tangents from where a line began', () => {
    const s = snapper('M60 40A10 10 0 0 1 80 40A10 10 0 0 1 60 40Z');
    const [tx, ty] = tangentPoints(100, 60, 70, 40, 10)[0];
    const found = s.snap(tx + 0.2, ty - 0.1, 1, [100, 60]);
    expect(found.to).toBe('tangent');
    expect(Math.hypot(found.x - 70, found.y - 40)).toBeCloseTo(10, 9);
    // Square to the radius: that is what touching means.
    expect((found.x - 70) * (found.x - 100) + (found.y - 40) * (found.y - 60)).toBeCloseTo(0, 9);
  });
  it('tangents touch the circle, wherever the point is; inside there are none (derived: Thales)', () => {
    const far = fc.double({ min: -500, max: 500, noNaN: true });
    fc.assert(
      fc.property(far, far, far, far, fc.double({ min: 0.1, max: 200, noNaN: true }), (px, py, cx, cy, r) => {
        const found = tangentPoints(px, py, cx, cy, r);
        expect(found).toHaveLength(Math.hypot(px - cx, py - cy) <= r ? 0 : 2);
        for (const [x, y] of found) {
          expect(Math.hypot(x - cx, y - cy)).toBeCloseTo(r, 6);
          expect(Math.abs((x - cx) * (x - px) + (y - cy) * (y - py))).toBeLessThan(1e-6 * (1 + r * Math.hypot(px - cx, py - cy)));
        }
      }),
    );
  });
  it('finds where lines cross, and where they meet a whole circle', () => {
    const s = snapper('M0 0L100 50 M0 50L100 0 M110 10A10 10 0 0 1 130 10A10 10 0 0 1 110 10Z M105 15H135');
    expect(s.snap(50.4, 25.2, 1)).toEqual({ x: 50, y: 25, to: 'crossing' });
    const met = s.snap(120 - Math.sqrt(75) + 0.2, 15.1, 1);
    expect(met.to).toBe('crossing');
    // 10² = 5² + 8.66²
    expect([met.x, met.y]).toEqual([expect.closeTo(120 - Math.sqrt(75), 9), 15]);
    expect(snapper('M0 0H20V20').snap(19.7, 0.2, 1).to).toBe('end');
  });
  it('finds the quadrants of a whole circle, and none of an arc', () => {
    const s = snapper('M60 40A10 10 0 0 1 80 40A10 10 0 0 1 60 40Z');
    expect(s.snap(70.2, 50.1, 1)).toMatchObject({ to: 'quadrant', x: expect.closeTo(70, 9), y: expect.closeTo(50, 9) });
    expect(snapper('M60 40A10 10 0 0 1 80 40').snap(70.2, 50.1, 1).to).not.toBe('quadrant');
  });
  it('meets a line or a circle squarely from where it began, and says so', () => {
    const s = snapper('M0 0L100 100 M60 140A10 10 0 0 1 80 140A10 10 0 0 1 60 140Z');
    const found = s.snap(40.3, 39.9, 1, [60, 20]);
    expect(found).toMatchObject({ to: 'perpendicular', x: expect.closeTo(40, 9), y: expect.closeTo(40, 9) });
    expect(s.snap(70.1, 130.2, 1, [70, 100])).toMatchObject({ x: expect.closeTo(70, 9), y: expect.closeTo(130, 9) });
  });
  it('goes on parallel to what is drawn, level and upright, from where it began', () => {
    const s = snapper('M0 0L30 10');
    const along = s.snap(110.05, 70.1, 1, [50, 50]);
    expect(along.to).toBe('parallel');
    expect((along.y - 50) / (along.x - 50)).toBeCloseTo(1 / 3, 9);
    expect(s.snap(90, 50.3, 1, [40, 50])).toEqual({ x: 90, y: 50, to: 'level' });
    expect(s.snap(40.3, 90, 1, [40, 50])).toEqual({ x: 40, y: 90, to: 'upright' });
    // Where it began every direction is near; and without a beginning there is none.
    expect(s.snap(42, 50.3, 1, [40, 50]).to).toBeNull();
    expect(s.snap(90, 50.3, 1).to).toBeNull();
  });
  it('level and upright keep what the other direction holds to', () => {
    const s = snapper('M0 0', 5, { guides: [{ axis: 'x', at: 93.3 }] });
    expect(s.snap(93.1, 41.2, 0.5, [40, 41])).toEqual({ x: 93.3, y: 41, to: 'level' });
  });
  it('a perpendicular is the shortest way to a line, whatever the line', () => {
    const far = fc.double({ min: -200, max: 200, noNaN: true });
    fc.assert(
      fc.property(far, far, fc.double({ min: 0, max: 6.28, noNaN: true }), fc.double({ min: 0.1, max: 0.4, noNaN: true }), (x1, y1, turn, t) => {
        const [ux, uy] = [80 * Math.cos(turn), 80 * Math.sin(turn)];
        const [x2, y2, fx, fy] = [x1 + ux, y1 + uy, x1 + t * ux, y1 + t * uy];
        const [px, py] = [fx - uy / 2, fy + ux / 2];
        const found = snapper(`M${x1} ${y1}L${x2} ${y2}`).snap(fx, fy, 0.01, [px, py]);
        expect(found.to).toBe('perpendicular');
        expect(Math.hypot(found.x - fx, found.y - fy)).toBeLessThan(1e-6);
      }),
    );
  });
  it('holds to guides, edges of the board and the grid, each direction by itself', () => {
    const s = snapper('M0 0', 5, { guides: [{ axis: 'x', at: 33.3 }] });
    expect(s.snap(33.5, 77.2, 0.5)).toEqual({ x: 33.3, y: 77.2, to: 'guide' });
    expect(s.snap(0.3, 20.2, 0.5)).toEqual({ x: 0, y: 20, to: 'edge' });
    expect(s.snap(14.8, 25.3, 0.5)).toEqual({ x: 15, y: 25, to: 'grid' });
  });
  it('moves a box so that its edge or its middle meets the board', () => {
    const { width, height } = board().board;
    const s = snapper('M0 0');
    const box = { minX: width / 2 - 10.4, maxX: width / 2 + 9.6, minY: 0.3, maxY: 20.3 };
    const { dx, dy } = s.snapBox(box, 1);
    expect(dx).toBeCloseTo(0.4, 9);
    expect(dy).toBeCloseTo(-0.3, 9);
    expect(s.snapBox({ minX: 30, maxX: 40, minY: height / 2 + 20, maxY: height / 2 + 33 }, 1)).toEqual({ dx: 0, dy: 0, to: null });
  });
});

describe('measures', () => {
  it('distance and angle', () => {
    expect(spanOf([0, 0], [3, 4])).toMatchObject({ distance: 5, dx: 3, dy: 4 });
    expect(spanOf([0, 0], [3, 4]).angle).toBeCloseTo(53.1301, 4);
  });
  it('area of a plate with a hole; radius of an arc, none on a straight edge or a corner', () => {
    const plate = contourOf([0, 0, 100, 0, 100, 50, 0, 50]).xy;
    const hole = circle(50, 25, 10, 0.001).xy;
    const reversed = Float64Array.from(
      Array.from({ length: hole.length / 2 }, (_, i) => [hole[hole.length - 2 - 2 * i], hole[hole.length - 1 - 2 * i]]).flat(),
    );
    const { area, edge, width, height } = sizeOf([plate, reversed]);
    expect(area).toBeCloseTo(5000 - Math.PI * 100, 0);
    expect(edge).toBeCloseTo(300 + 2 * Math.PI * 10, 1);
    expect([width, height]).toEqual([100, 50]);
    expect(radiusNear([plate, reversed], 58, 31, 5)).toBeCloseTo(10, 2);
    expect(radiusNear([plate], 0, 0, 5)).toBe(Infinity);
  });
  it('says how large a bit fits: the distance to the nearest edge, nothing outside and in a hole', () => {
    const ring = [contourOf([0, 0, 60, 0, 60, 60, 0, 60]).xy, contourOf([20, 20, 20, 40, 40, 40, 40, 20]).xy];
    expect(roomAt(ring, 10, 30)).toBeCloseTo(10, 9);
    expect(roomAt(ring, 30, 30)).toBe(0);
    expect(roomAt(ring, 70, 30)).toBe(0);
  });
});

describe('the paper template', () => {
  it.each(Object.keys(PAPERS))('%s: sheets cover the board, overlap, and are as few as can be', (name) => {
    for (const size of [
      { width: 100, height: 60 },
      { width: 610, height: 190 },
      { width: 1200, height: 900 },
    ]) {
      const sheets = sheetsFor(size, PAPERS[name]);
      const right = Math.max(...sheets.map((s) => s.x + s.shownWidth));
      const top = Math.max(...sheets.map((s) => s.y + s.shownHeight));
      expect(right).toBeGreaterThanOrEqual(size.width);
      expect(top).toBeGreaterThanOrEqual(size.height);
      for (const s of sheets) {
        expect(s.shownWidth).toBeCloseTo(s.width - 2 * MARGIN, 9);
        expect(s.shownHeight).toBeCloseTo(s.height - 2 * MARGIN - FOOT, 9);
        const next = sheets.find((o) => o.row === s.row && o.column === s.column + 1);
        if (next) expect(s.x + s.shownWidth - next.x).toBeCloseTo(OVERLAP, 9);
      }
      expect(Math.max(checkLine('mm'), checkLine('in'))).toBeLessThan(Math.min(...sheets.map((s) => s.shownWidth)));
    }
  });
  it('neighbours show the same crosses, in their overlap', () => {
    const sheets = sheetsFor({ width: 610, height: 400 }, PAPERS.a4);
    const shared = new Map<string, number>();
    for (const sheet of sheets)
      for (const [x, y] of crossesOn(sheet, sheets)) {
        expect(x).toBeGreaterThan(sheet.x);
        expect(x).toBeLessThan(sheet.x + sheet.shownWidth);
        expect(y).toBeGreaterThan(sheet.y);
        expect(y).toBeLessThan(sheet.y + sheet.shownHeight);
        const key = `${x.toFixed(6)} ${y.toFixed(6)}`;
        shared.set(key, (shared.get(key) ?? 0) + 1);
      }
    for (const count of shared.values()) expect(count).toBe(2);
  });
});

describe('files of unknown kind', () => {
  const bytes = (text: string) => new TextEncoder().encode(text);
  it('are read by their content, whatever they are called', () => {
    expect(
      readDrawing(bytes('<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"><rect width="4" height="4"/></svg>'), 'a.dxf')
        .things,
    ).toHaveLength(1);
    expect(readDrawing(bytes('0\nSECTION\n2\nENTITIES\n0\nCIRCLE\n8\n0\n10\n5\n20\n5\n40\n2\n0\nENDSEC\n0\nEOF\n'), 'a.svg').things).toHaveLength(1);
  });
  it('say what is wrong when they are none', () => {
    for (const [content, why] of [
      ['', 'empty'],
      ['%PDF-1.4', 'PDF'],
      ['hello', 'no kind of file'],
      ['AC1027', 'DWG'],
    ])
      expect(readDrawing(bytes(content), 'x').findings[0]).toMatchObject({
        code: 'import-failed',
        severity: 'error',
        data: { why: expect.stringContaining(why) },
      });
  });
  it('read UTF-16 and Latin-1 too', () => {
    const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"><title>Größe</title><rect width="4" height="4"/></svg>';
    const wide = new Uint8Array(2 + 2 * svg.length);
    wide.set([0xff, 0xfe]);
    [...svg].forEach((c, i) => wide.set([c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8], 2 + 2 * i));
    expect(readDrawing(wide, 'a.svg').things).toHaveLength(1);
    expect(
      readDrawing(
        Uint8Array.from(svg, (c) => c.charCodeAt(0)),
        'a.svg',
      ).things,
    ).toHaveLength(1);
  });
  it('guess a unit that makes a sign of them', () => {
    // A drawing 400 units wide for a board of 600: millimetres in DXF, pixels in SVG; 12 wide is inches in DXF.
    expect(UNITS[guessUnit(400, 600, 'dxf')].unit).toBe('mm');
    expect(UNITS[guessUnit(400, 600, 'svg')].unit).toMatch(/^px/);
    expect(UNITS[guessUnit(11, 600, 'dxf')].unit).toBe('in');
  });
});

describe('guides and pictures in the document', () => {
  it('are kept as they are', () => {
    const job = jobWith({}, { guides: [{ axis: 'y', at: 12 }] });
    expect(job.guides).toEqual([{ axis: 'y', at: 12 }]);
    const picture = makeItem({ kind: 'picture', id: 'p', x: 1, y: 2, asset: 'abc', width: 30, height: 20 }) satisfies Item;
    expect(picture.locked).toBe(false);
  });
});
