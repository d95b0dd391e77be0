/** What a new piece begins with: on its board whatever the size, planned without an error, and following it until touched. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { STARTING_CHART } from '../bits/chart.ts';
import { nozzleFor } from '../bits/nozzle.ts';
import { USUAL, usualHead } from '../bits/usual.ts';
import { piecesOf, planJob, writePrograms } from '../plan/index.ts';
import type { LengthUnit } from '../length/index.ts';
import { makeItem, type Bit, type Item, type Job } from '../job/index.ts';
import type { Grey } from '../cuts/index.ts';
import { beginPiece, PIECE_NAMES, PIECES, startLayout, type PieceName } from './begin.ts';
import { resizedBoard } from './board.ts';
import { fontOf } from '../reference/fixtures.ts';

const begin = (piece: PieceName, width: number, height: number, thickness = 18, material = 'pine', units: LengthUnit = 'mm') =>
  beginPiece({ piece, board: { width, height, thickness, material }, units }, USUAL);
/** Half the size of what was made, and where it stands. */
const reach = (item: Item): [number, number] =>
  item.kind === 'rectangle' ? [item.width / 2, item.height / 2] : item.kind === 'text' ? [item.fitWidth! / 2, item.capHeight] : [0, 0];
const side = fc.double({ min: 20, max: 3000, noNaN: true });

describe('a new piece', () => {
  it.each(PIECE_NAMES)('%s: stands on every board, and in the middle', (piece) =>
    fc.assert(
      fc.property(side, side, (width, height) => {
        for (const item of Object.values(begin(piece, width, height).items)) {
          const [w, h] = reach(item);
          expect(item.x - w).toBeGreaterThan(0);
          expect(item.x + w).toBeLessThan(width);
          expect(item.y - h).toBeGreaterThan(0);
          expect(item.y + h).toBeLessThan(height);
        }
      }),
    ),
  );
  it.each(PIECE_NAMES)('%s: the program speaks the unit of the shop', (piece) => {
    expect(begin(piece, 300, 200, 12, 'pine', 'in').program).toMatchObject({ units: 'in', decimals: 4 });
    expect(begin(piece, 300, 200, 12, 'pine', 'mm').program).toMatchObject({ units: 'mm', decimals: 3 });
  });
  it('in an inch shop is written in G20', async () => {
    const job = begin('sign', 305, 152, 19, 'pine', 'in');
    (job.items.words as { text: string }).text = 'INLET';
    const [{ text }] = writePrograms(job, await planJob(job, { fonts: fontOf }), '2026-11-30');
    expect(text).toMatch(/\bG20\b/);
    expect(text).not.toMatch(/\bG21\b/);
  });
  it.each([
    [100, 60, 12],
    [400, 150, 18],
    [1200, 400, 30],
  ])('on a board of %d x %d what cuts the sign out stays on the board', (width, height, thickness) => {
    const { edge } = startLayout({ width, height });
    const bit = begin('sign', width, height, thickness).tools.end6;
    expect((width - edge.width) / 2).toBeGreaterThan(bit.diameter);
    expect((height - edge.height) / 2).toBeGreaterThan(bit.diameter);
  });
  it.each(PIECE_NAMES.filter((name) => PIECES[name].cuts('pine').length > 0 && name !== 'picture'))(
    '%s: with words typed nothing forbids cutting it, on three boards',
    async (piece) => {
      for (const [width, height, thickness, material] of [
        // Letters of 14 mm have eyes no bit fits that reaches through half an inch: that is found, and not begun with.
        [100, 60, piece === 'letters' ? 3 : 12, 'oak'],
        [400, 150, 18, 'pine'],
        [610, 190, 6, 'birch ply'],
      ] as const) {
        const job = begin(piece, width, height, thickness, material);
        (job.items.words as { text: string }).text = 'Reed';
        const plan = await planJob(job, { fonts: fontOf });
        expect(plan.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
        expect(plan.cuts.every(({ facts }) => facts.moves > 0)).toBe(true);
      }
    },
  );
  it('a picture: asks for one first, and with it nothing forbids burning it', async () => {
    const job = begin('picture', 100, 70, 3, 'birch ply');
    const pixels: Grey = { width: 40, height: 30, data: Uint8Array.from({ length: 1200 }, (_, k) => (k * 7) % 256) };
    expect((await planJob(job, { fonts: fontOf })).findings.map(({ code }) => code)).toContain('laser-no-picture');
    const photo = makeItem({ kind: 'picture', id: 'photo', asset: 'a', x: 50, y: 35, width: 80, height: 60 });
    const brought = { ...job, items: { photo }, itemOrder: ['photo'] };
    const plan = await planJob(brought, { fonts: fontOf, pictures: () => Promise.resolve(pixels) });
    expect(plan.findings.filter(({ severity }) => severity !== 'note')).toEqual([]);
    expect(plan.cuts[0].facts.moves).toBeGreaterThan(100);
  });
  it.each([
    ['tag', 100, 70, 3, 'birch ply'],
    ['tag', 150, 80, 4, 'clear acrylic'],
    ['sign', 400, 150, 18, 'pine'],
    ['sign', 610, 190, 18, 'oak'],
    ['panel', 400, 150, 18, 'cedar'],
    ['letters', 400, 150, 18, 'pine'],
    ['plate', 120, 60, 3, 'brass'],
    ['plate', 300, 100, 6, 'acrylic'],
  ] as const)('a %s of %d x %d x %d %s has nothing to check', async (piece, width, height, thickness, material) => {
    const job = begin(piece, width, height, thickness, material);
    (job.items.words as { text: string }).text = 'Reed Gate';
    const { findings } = await planJob(job, { fonts: fontOf });
    expect(findings.filter(({ severity }) => severity !== 'note')).toEqual([]);
  });
  it.each([
    [400, 150, 3],
    [900, 300, 6],
  ])('a sign cut out of %d x %d x %d steel: scrap that tips, and bridges as thin as the plate, are all there is to say', async (width, height, thickness) => {
    const job = begin('steel', width, height, thickness, 'mild steel');
    (job.items.words as { text: string }).text = 'Reed Gate';
    const { findings, cuts } = await planJob(job, { fonts: fontOf });
    expect(findings.filter(({ severity, code }) => severity !== 'note' && !['torch-tips', 'torch-thin-web'].includes(code))).toEqual([]);
    expect(cuts[0].torch!.pierces).toBeGreaterThan(8);
    // No island in a stencil face: what is kept is one piece.
    expect(piecesOf(job.board, cuts).filter(({ part }) => part)).toHaveLength(1);
  });
  it('in inches every length is a sixteenth and every feed whole inches a minute', () => {
    const inch = 25.4;
    const whole = (mm: number, of: number) => expect(Math.abs(mm / of - Math.round(mm / of))).toBeLessThan(1e-9);
    for (const piece of PIECE_NAMES) {
      const job = begin(piece, 16 * inch, 6 * inch, 0.75 * inch, 'oak', 'in');
      for (const item of Object.values(job.items))
        for (const key of ['capHeight', 'fitWidth', 'width', 'height', 'radius'])
          if (key in item) whole((item as unknown as Record<string, number>)[key], inch / 16);
      for (const cut of Object.values(job.cuts)) {
        whole(cut.feed, inch);
        whole(cut.plunge, inch);
        if (cut.kind === 'profile') whole(cut.depthPerPass, inch / 16);
      }
    }
  });
  it('engraves wood and plastic with a cutter, scratches metal with a diamond and the spindle off', () => {
    expect(begin('plate', 120, 60, 3, 'acrylic').cuts.carve).toMatchObject({ kind: 'engrave', tool: 'engrave20' });
    expect(begin('plate', 120, 60, 3, 'Brass 1.5 mm').cuts.carve).toMatchObject({ kind: 'drag', tool: 'drag', speed: 0 });
  });
  it('takes the bits of the shop where it has one of the sort, under its own name', () => {
    const own = { ...USUAL[0], id: 'mine', name: 'The good V' };
    const job = beginPiece({ piece: 'panel', board: { width: 200, height: 90, thickness: 18, material: 'pine' }, units: 'mm' }, [own]);
    expect(job.cuts.carve.tool).toBe('mine');
    expect(job.tools.mine).toMatchObject({ name: 'The good V', crib: 'mine' });
    expect(job.tools.end6).toMatchObject({ crib: 'end6' });
  });
  it('cuts with a nozzle and a head of the shop: marked as its own, so that their wear is counted', () => {
    const thin = { ...nozzleFor(3), id: 'thin', chart: STARTING_CHART.slice(0, 2) };
    const thick = { ...nozzleFor(10), id: 'thick', chart: STARTING_CHART.slice(2) };
    const cut = (thickness: number, crib: Bit[]) =>
      Object.values(beginPiece({ piece: 'steel', board: { width: 500, height: 300, thickness, material: 'mild steel' }, units: 'mm' }, crib).tools);
    expect(cut(3, [thin, thick])).toMatchObject([{ id: 'thin', crib: 'thin' }]);
    expect(cut(10, [thin, thick])).toMatchObject([{ id: 'thick', crib: 'thick' }]);
    // Neither is charted so thick: any of the shop's; and where it has none, one with starting values.
    expect(cut(30, [thin, thick])).toMatchObject([{ id: 'thin' }]);
    expect(cut(3, [])).toMatchObject([{ kind: 'nozzle', id: 'nozzle1', crib: 'nozzle1' }]);
    const head = { ...usualHead(), id: 'mine', watts: 40 };
    const tag = beginPiece({ piece: 'tag', board: { width: 80, height: 40, thickness: 3, material: 'birch ply' }, units: 'mm' }, [head]);
    expect(tag.tools).toMatchObject({ mine: { kind: 'head', watts: 40, crib: 'mine' } });
    // The usual set has both.
    expect(USUAL.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['nozzle', 'head']));
  });
});

describe('what was made', () => {
  const resized = (job: Job, size: { width?: number; height?: number }): Job => ({ ...job, ...resizedBoard(job, size) });
  it('follows the board: one resized is one begun in that size', () =>
    fc.assert(
      fc.property(side, side, side, side, (w1, h1, w2, h2) => {
        const job = resized(resized(begin('sign', w1, h1), { width: w2 }), { height: h2 });
        expect(job.items).toEqual(begin('sign', w2, h2).items);
      }),
    ));
  it('stays as it is once it is touched, and words typed are not a touch', () => {
    const job = begin('sign', 400, 150);
    (job.items.words as { text: string }).text = 'HERON';
    (job.items.edge as { width: number }).width = 300;
    const { items } = resizedBoard(job, { width: 200 });
    expect(items.words).toMatchObject({ text: 'HERON', ...startLayout({ width: 200, height: 150 }).words });
    expect(items.edge).toMatchObject({ x: 100, height: 120 });
    expect((items.edge as { width: number }).width).not.toBe(startLayout({ width: 200, height: 150 }).edge.width);
  });
});
