import { wordsOf } from '../findings/index.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even, often } from '../reference/chance.ts';
import { fontOf, jobWith, type Given } from '../reference/fixtures.ts';
import { readJob, type Item, type Job } from '../job/index.ts';
import { insideRegion, regionArea } from '../geometry/index.ts';
import { barsFor } from './bridges.ts';
import { withBridges } from '../planned/items.ts';
import { checkArtwork } from './check.ts';
import { repairArtwork } from './repair.ts';
import { applyEdit, BOARD, changedJob, drawnBox, type Edit } from './edit.ts';
import { drawItem, formatPath, parsePath } from './index.ts';
import { editNodes, nodesOf, type NodeEdit } from './nodes.ts';

const contextOf = (job: Job) => ({ fonts: fontOf, tolerance: 0.005, items: job.items });
const after = (job: Job, edit: Edit): Job => ({ ...job, ...changedJob(job, applyEdit(job, edit, contextOf(job))) });
const box = (job: Job, id: string) => {
  const b = drawnBox(job.items[id], drawItem(job.items[id], contextOf(job)));
  return [b.minX, b.minY, b.maxX, b.maxY].map((v) => Math.round(v * 100) / 100 + 0);
};
const area = (job: Job, id: string) => drawItem(job.items[id], contextOf(job)).regions.reduce((sum, r) => sum + regionArea(r), 0);
/** Regions of what is drawn, as they are cut. */
const asCut = (job: Job) =>
  withBridges(job.itemOrder.map((id) => ({ item: job.items[id], ...drawItem(job.items[id], contextOf(job)) }))).map(({ regions }) => regions);
const rect = (x: number, y: number, width: number, height: number): Given => ({ kind: 'rectangle', x: x + width / 2, y: y + height / 2, width, height });
const path = (d: string, fill: 'nonzero' | 'evenodd' | 'none' = 'nonzero'): Given => ({ kind: 'path', d, fill });

describe('parametric shapes', () => {
  it.each<[string, Given, number]>([
    ['ellipse', { kind: 'ellipse', width: 10, height: 6 }, Math.PI * 15],
    ['square with round corners', { kind: 'rectangle', width: 10, height: 10, radius: 2 }, 100 - (4 - Math.PI) * 4],
    ['hollow corners', { kind: 'rectangle', width: 10, height: 10, radius: 2, corner: 'hollow' }, 100 - Math.PI * 4],
    ['cut corners', { kind: 'rectangle', width: 10, height: 10, radius: 2, corner: 'cut' }, 92],
    ['stepped corners', { kind: 'rectangle', width: 10, height: 10, radius: 2, corner: 'step' }, 84],
    ['hexagon', { kind: 'polygon', sides: 6, diameter: 10 }, (3 * Math.sqrt(3) * 25) / 2],
    ['star', { kind: 'star', points: 5, diameter: 10, inner: 4 }, 5 * 5 * 2 * Math.sin(Math.PI / 5)],
    ['slot', { kind: 'slot', length: 20, width: 6 }, 14 * 6 + Math.PI * 9],
    ['slot as wide as long', { kind: 'slot', length: 6, width: 6 }, Math.PI * 9],
    ['arrow', { kind: 'arrow', length: 20, shaft: 2, head: 8, headLength: 5 }, 15 * 2 + 20],
    ['holes in rows', { kind: 'holes', diameter: 4, layout: { kind: 'rows', columns: 3, rows: 2, dx: 10, dy: 8 } }, 6 * Math.PI * 4],
    ['holes in a ring', { kind: 'holes', diameter: 4, layout: { kind: 'circle', count: 8, across: 40 } }, 8 * Math.PI * 4],
    ['holes in corners', { kind: 'holes', diameter: 4, layout: { kind: 'corners', width: 100, height: 60, inset: 6 } }, 4 * Math.PI * 4],
  ])('%s has the area it should', (_name, thing, expected) => expect(area(jobWith({ a: thing }), 'a')).toBeCloseTo(expected, 0));
  it('turns and mirrors about its own point', () => {
    const job = jobWith({ a: { kind: 'slot', length: 20, width: 6, x: 50, y: 50, angle: 90 }, b: { kind: 'polygon', sides: 3, diameter: 10, mirror: true } });
    expect(box(job, 'a')).toEqual([47, 40, 53, 60]);
    expect(box(job, 'b')[3]).toBe(5);
  });
});

describe('edits', () => {
  const three = () => jobWith({ a: rect(0, 0, 10, 10), b: rect(30, 5, 20, 10), c: rect(100, 50, 10, 40) });
  it('aligns to each other and to the board', () => {
    const ids = ['a', 'b', 'c'];
    expect(ids.map((id) => box(after(three(), { do: 'align', ids, edge: 'left', to: 'each other' }), id)[0])).toEqual([0, 0, 0]);
    expect(ids.map((id) => box(after(three(), { do: 'align', ids, edge: 'top', to: 'board' }), id)[3])).toEqual([200, 200, 200]);
    const middle = after(three(), { do: 'align', ids, edge: 'middle', to: 'board' });
    for (const id of ids) expect(box(middle, id)[0] + box(middle, id)[2]).toBe(300);
  });
  it('spreads evenly: the gaps are equal, the outer two stay', () => {
    const job = after(three(), { do: 'spread', ids: ['a', 'b', 'c'], along: 'x' });
    expect(box(job, 'b')[0] - box(job, 'a')[2]).toBeCloseTo(box(job, 'c')[0] - box(job, 'b')[2], 6);
    expect([box(job, 'a')[0], box(job, 'c')[2]]).toEqual([0, 110]);
  });
  it('a group keeps its shape when aligned', () => {
    const job = jobWith({ a: { ...rect(10, 10, 10, 10), group: 'g' }, b: { ...rect(30, 30, 10, 10), group: 'g' } });
    const moved = after(job, { do: 'align', ids: ['a', 'b'], edge: 'left', to: 'board' });
    expect([box(moved, 'a')[0], box(moved, 'b')[0]]).toEqual([0, 20]);
  });
  it('scales: parametric things keep their figures, evenly; unevenly they become paths', () => {
    const job = jobWith({ a: { kind: 'slot', length: 20, width: 6 }, t: { kind: 'text', text: 'Heron', face: 'cinzel', capHeight: 10 } });
    const twice = after(job, { do: 'scale', ids: ['a', 't'], x: 2, y: 2 });
    expect(twice.items.a).toMatchObject({ kind: 'slot', length: 40, width: 12 });
    expect(twice.items.t).toMatchObject({ kind: 'text', capHeight: 20 });
    const wide = applyEdit(job, { do: 'scale', ids: ['a'], x: 2, y: 1 }, contextOf(job));
    expect(wide.items.a).toMatchObject({ kind: 'path' });
    expect(wide.note).toMatch(/free path/);
    expect(box(after(job, { do: 'scale', ids: ['a'], x: 2, y: 1 }), 'a')).toEqual([-20, -3, 20, 3]);
  });
  it('turning or mirroring twice comes back, whatever the thing', () => {
    const thing = fc.constantFrom<Given>(
      { kind: 'slot', length: 20, width: 6, angle: 20 },
      { kind: 'star', points: 5, diameter: 20, inner: 9, mirror: true },
      { kind: 'text', text: 'Rg', face: 'lobster', capHeight: 9, angle: -70 },
    );
    fc.assert(
      fc.property(thing, even(-200, 200), even(0, 80), (given, by, x) => {
        const job = jobWith({ a: { ...given, x, y: 30 } });
        const there = after(job, { do: 'turn', ids: ['a'], by, about: [10, 20] });
        const back = after(there, { do: 'turn', ids: ['a'], by: -by, about: [10, 20] });
        box(back, 'a').forEach((v, i) => expect(v).toBeCloseTo(box(job, 'a')[i], 1));
        for (const across of ['x', 'y'] as const) {
          const mirrored = after(after(job, { do: 'mirror', ids: ['a'], across }), { do: 'mirror', ids: ['a'], across });
          box(mirrored, 'a').forEach((v, i) => expect(v).toBeCloseTo(box(job, 'a')[i], 1));
        }
        // A turn changes no area.
        expect(area(there, 'a')).toBeCloseTo(area(job, 'a'), 1);
      }),
      often(40),
    );
  });
  it('unites, subtracts, intersects: areas add up', () => {
    const job = jobWith({ a: rect(0, 0, 20, 20), b: rect(10, 10, 20, 20) });
    expect(area(after(job, { do: 'unite', ids: ['a', 'b'] }), 'a')).toBeCloseTo(700, 3);
    expect(area(after(job, { do: 'subtract', ids: ['a', 'b'] }), 'a')).toBeCloseTo(300, 3);
    expect(area(after(job, { do: 'intersect', ids: ['a', 'b'] }), 'a')).toBeCloseTo(100, 3);
    expect(after(job, { do: 'unite', ids: ['a', 'b'] }).itemOrder).toEqual(['a']);
    expect(() => after(jobWith({ a: rect(0, 0, 5, 5), b: rect(50, 0, 5, 5) }), { do: 'intersect', ids: ['a', 'b'] })).toThrow(/nothing in common/);
  });
  it('bridges gaps: what nearly touches is one shape, nothing else is added', () => {
    const d = 'M0 0H10V10H0Z M10.4 0H20.4V10H10.4Z M30 0H40V10H30Z';
    const row = jobWith({ row: path(d) });
    const near = after(row, { do: 'bridge gaps', ids: ['row'], gap: 0.5, width: 2 });
    expect(drawItem(near.items.row, contextOf(near)).regions).toHaveLength(2);
    // The bar lies over the gap, in the middle of where they lie side by side.
    expect(area(near, 'row')).toBeCloseTo(300 + 2 * 0.4, 4);
    expect(
      insideRegion(
        drawItem(near.items.row, contextOf(near)).regions.find((r) => insideRegion(r, 5, 5))!,
        10.2,
        5.9,
      ),
    ).toBe(true);
    expect(() => applyEdit(row, { do: 'bridge gaps', ids: ['row'], gap: 0.3, width: 2 }, contextOf(row))).toThrow('No two of these outlines');
  });
  it('offsets round, mitred and square', () => {
    const job = jobWith({ a: rect(0, 0, 20, 20) });
    const grown = (join: 'round' | 'mitre' | 'square') => area(after(job, { do: 'offset', ids: ['a'], by: 2, join }), 'a-2');
    expect(grown('mitre')).toBeCloseTo(576, 2);
    expect(grown('round')).toBeCloseTo(560 + Math.PI * 4, 1);
    expect(grown('square')).toBeGreaterThan(grown('round'));
    expect(() => after(job, { do: 'offset', ids: ['a'], by: -11, join: 'round' })).toThrow(/Nothing is left/);
  });
  it('fillets and chamfers all corners or one', () => {
    const job = jobWith({ a: rect(0, 0, 20, 20) });
    expect(area(after(job, { do: 'corners', ids: ['a'], radius: 4, how: 'fillet' }), 'a')).toBeCloseTo(400 - (4 - Math.PI) * 16, 0);
    expect(area(after(job, { do: 'corners', ids: ['a'], radius: 4, how: 'chamfer' }), 'a')).toBeCloseTo(400 - 32, 6);
    expect(area(after(job, { do: 'corners', ids: ['a'], radius: 4, how: 'chamfer', node: [0, 1] }), 'a')).toBeCloseTo(400 - 8, 6);
    expect(() => after(job, { do: 'corners', ids: ['a'], radius: 40, how: 'fillet' })).toThrow(/no corner/);
  });
  it('clears around a badge, keeping the stripes outside it', () => {
    const job = jobWith({
      stripe: rect(0, 40, 200, 10),
      badge: { kind: 'ellipse', x: 100, y: 45, width: 60, height: 60 },
      line: { kind: 'line', x: 0, y: 45, length: 200 },
    });
    const cleared = after(job, { do: 'clear around', ids: ['stripe', 'line'], by: 'badge', margin: 5 });
    expect(drawItem(cleared.items.stripe, contextOf(cleared)).regions).toHaveLength(2);
    expect(area(cleared, 'stripe')).toBeCloseTo(2000 - 10 * 70 + 2 * (35 - Math.sqrt(35 ** 2 - 25)) * 3.4, -1);
    expect(drawItem(cleared.items.line, contextOf(cleared)).lines.map(({ line }) => Math.round(Math.abs(line.xy[line.xy.length - 2] - line.xy[0])))).toEqual([
      65, 65,
    ]);
    expect(cleared.items.badge).toEqual(job.items.badge);
  });
  it('fits into the board or a plate with a margin, in its middle, without a change of shape', () => {
    const job = jobWith({ a: rect(10, 10, 40, 10), b: rect(60, 30, 20, 20), plate: rect(200, 100, 60, 50) });
    const wide = after(job, { do: 'fit', ids: ['a', 'b'], into: BOARD, margin: 15 });
    const [ax0] = box(wide, 'a');
    const [, , bx1] = box(wide, 'b');
    expect([ax0, bx1]).toEqual([15, 285]);
    const small = after(job, { do: 'fit', ids: ['a'], into: 'plate', margin: 5 });
    expect(box(small, 'a')).toEqual([205, 118.75, 255, 131.25]);
    expect(() => applyEdit(job, { do: 'fit', ids: ['a'], into: 'plate', margin: 40 }, contextOf(job))).toThrow('margins leave no room');
  });
  it('orders left to right and inside out, first and last; nothing else changes', () => {
    const job = jobWith({ big: rect(0, 0, 100, 100), right: rect(60, 10, 10, 10), left: rect(10, 10, 12, 12) });
    expect(after(job, { do: 'order', ids: ['big', 'right', 'left'], how: 'left to right' }).itemOrder).toEqual(['left', 'big', 'right']);
    expect(after(job, { do: 'order', ids: ['big', 'right', 'left'], how: 'inside out' }).itemOrder).toEqual(['right', 'left', 'big']);
    expect(after(job, { do: 'order', ids: ['left'], how: 'first' }).itemOrder).toEqual(['left', 'big', 'right']);
    const last = after(job, { do: 'order', ids: ['big'], how: 'last' });
    expect(last.itemOrder).toEqual(['right', 'left', 'big']);
    expect(last.items).toEqual(job.items);
  });
  it('bridges a stroke by hand, where it is pressed and as wide as asked', () => {
    const job = jobWith({ o: { kind: 'path', x: 50, y: 50, d: 'M-20 -20H20V20H-20ZM-10 -10V10H10V-10Z' } });
    const before = area(job, 'o');
    const next = after(job, { do: 'bridge', ids: ['o'], at: [65, 50], width: 4 });
    expect(next.items.o).toEqual(job.items.o);
    const bar = Object.values(next.items).find(({ bridge }) => bridge)!;
    expect(bar).toMatchObject({ kind: 'rectangle', name: 'Bridge', height: 4 });
    const [left] = asCut(next);
    expect(before - left.reduce((sum, r) => sum + regionArea(r), 0)).toBeCloseTo(4 * 10, 1);
    expect(left[0].holes).toHaveLength(0);
    // Pulled aside it holds nothing any more; another one has a name of its own.
    const aside = { ...next, items: { ...next.items, [bar.id]: { ...bar, x: 200 } } };
    expect(asCut(aside)[0][0].holes).toHaveLength(1);
    expect(Object.keys(after(next, { do: 'bridge', ids: ['o'], at: [35, 50], width: 4 }).items)).toHaveLength(3);
    expect(() => applyEdit(job, { do: 'bridge', ids: ['o'], at: [50, 50], width: 4 }, contextOf(job))).toThrow('between an island');
  });
  it('copies in rows and in a ring', () => {
    const rows = after(jobWith({ a: rect(0, 0, 5, 5) }), { do: 'rows', ids: ['a'], columns: 4, rows: 3, dx: 10, dy: 20 });
    expect(rows.itemOrder).toHaveLength(12);
    expect(box(rows, rows.itemOrder[11])).toEqual([30, 40, 35, 45]);
    const ring = after(jobWith({ a: rect(20, -1, 2, 2) }), { do: 'ring', ids: ['a'], count: 4, about: [0, 0] });
    expect(box(ring, ring.itemOrder[1])).toEqual([-1, 20, 1, 22]);
  });
  it('lines become shapes of a width, words become paths, paths come apart', () => {
    expect(area(after(jobWith({ a: { kind: 'line', length: 50 } }), { do: 'thicken', ids: ['a'], width: 4 }), 'a')).toBeCloseTo(200 + Math.PI * 4, 0);
    const job = jobWith({ t: { kind: 'text', text: 'AB', face: 'bebas', capHeight: 20 } });
    const paths = after(job, { do: 'to paths', ids: ['t'] });
    expect(paths.items.t.kind).toBe('path');
    expect(area(paths, 't')).toBeCloseTo(area(job, 't'), 0);
    const apart = after(job, { do: 'take apart', ids: ['t'] });
    expect(apart.itemOrder).toHaveLength(2);
    expect(apart.itemOrder.reduce((sum, id) => sum + area(apart, id), 0)).toBeCloseTo(area(job, 't'), 0);
  });
  it('leaves locked things alone, and references to what is gone are taken out', () => {
    const job = jobWith({ a: { ...rect(0, 0, 9, 9), locked: true }, b: rect(0, 0, 5, 5) });
    expect(() => after(job, { do: 'turn', ids: ['a'], by: 5 })).toThrow(/locked/);
    const words = jobWith({
      a: rect(0, 0, 9, 9),
      b: rect(5, 5, 9, 9),
      t: { kind: 'text', text: 'x', face: 'bebas', capHeight: 3, baseline: { kind: 'path', item: 'b' } },
    });
    const united = after(words, { do: 'unite', ids: ['a', 'b'] });
    expect(united.items.t).toMatchObject({ baseline: { kind: 'straight' } });
    expect(readJob(united).ok).toBe(true);
  });
});

describe('nodes', () => {
  const square = 'M0 0L10 0L10 10L0 10Z';
  const edited = (d: string, ...edits: NodeEdit[]) => formatPath(edits.reduce((subpaths, edit) => editNodes(subpaths, edit), parsePath(d).subpaths));
  it('counts nodes, closed and open', () => {
    expect(nodesOf(parsePath(square).subpaths[0])).toHaveLength(4);
    expect(nodesOf(parsePath('M0 0L5 5L9 0').subpaths[0])).toHaveLength(3);
  });
  it('moves a corner, and the closing line follows', () => {
    expect(edited(square, { do: 'move', nodes: [[0, 0]], dx: -2, dy: -3 })).toBe('M-2 -3L10 0L10 10L0 10L-2 -3Z');
    expect(edited(square, { do: 'move', nodes: [[0, 2], [0, 3]], dx: 0, dy: 5 })).toBe('M0 0L10 0L10 15L0 15L0 0Z'); // prettier-ignore
  });
  it('an arc whose end moves becomes curves; one whose both ends move stays an arc', () => {
    expect(edited('M0 0A5 5 0 0 1 10 0', { do: 'move', nodes: [[0, 1]], dx: 1, dy: 0 })).toMatch(/^M0 0C.*C.*11 0$/);
    expect(edited('M0 0A5 5 0 0 1 10 0', { do: 'move', nodes: [[0, 0], [0, 1]], dx: 1, dy: 1 })).toBe('M1 1A5 5 0 0 1 11 1'); // prettier-ignore
  });
  it('adding a node changes nothing that is drawn', () => {
    const sample = (d: string) =>
      drawItem(jobWith({ a: path(d) }).items.a, contextOf(jobWith({ a: path(d) }))).regions.reduce((sum, r) => sum + regionArea(r), 0);
    for (const d of [square, 'M0 0C5 10 10 10 15 0L0 0Z', 'M0 0A8 5 20 1 1 10 0Z'])
      expect(sample(edited(d, { do: 'add', at: [0, 0], t: 0.3 }))).toBeCloseTo(sample(d), 1);
  });
  it('deletes, smooths, sharpens', () => {
    expect(edited(square, { do: 'delete', nodes: [[0, 1]] })).toBe('M0 0L10 10L0 10L0 0Z');
    expect(edited(square, { do: 'delete', nodes: [[0, 0], [0, 1], [0, 2]] })).toBe(''); // prettier-ignore
    const smooth = edited(square, { do: 'smooth', nodes: [[0, 1]] });
    const [, node] = nodesOf(parsePath(smooth).subpaths[0]);
    const [a, b] = [node.before!, node.after!];
    expect((node.x - a.x) * (b.y - node.y) - (node.y - a.y) * (b.x - node.x)).toBeCloseTo(0, 3);
    expect(edited(smooth, { do: 'corner', nodes: [[0, 1]] })).toMatch(/10 0C10 0/);
  });
  it('cuts a ring open, cuts a line in two, joins ends again', () => {
    expect(edited(square, { do: 'cut', at: [0, 2] })).toBe('M10 10L0 10L0 0L10 0L10 10');
    const two = edited('M0 0L5 0L10 0', { do: 'cut', at: [0, 1] });
    expect(two).toBe('M0 0L5 0M5 0L10 0');
    expect(edited(two, { do: 'join', from: [0, 1], to: [1, 0] })).toBe('M0 0L5 0L10 0');
    expect(edited('M0 0L5 0M9 9L5 1', { do: 'join', from: [0, 1], to: [1, 1] })).toBe('M0 0L5 0L5 1L9 9');
    expect(() => edited(square, { do: 'join', from: [0, 1], to: [0, 2] })).toThrow(/open lines/);
  });
});

describe('artwork check', () => {
  const check = (job: Job) => checkArtwork(job, job.itemOrder.map((id) => ({ item: job.items[id], ...drawItem(job.items[id], contextOf(job)) })), contextOf(job)); // prettier-ignore
  const codes = (job: Job) => check(job).map(({ code }) => code);
  const mended = (job: Job, code: string): Job => {
    const found = check(job).find((f) => f.code === code)!;
    expect(found, code).toBeDefined();
    return { ...job, ...changedJob(job, repairArtwork(job, found, contextOf(job))) };
  };
  it('finds nothing in clean artwork', () => {
    expect(
      codes(
        jobWith({
          a: rect(0, 0, 50, 30),
          t: { kind: 'text', text: 'Heron', face: 'lobster', capHeight: 20, x: 150, y: 100 },
          h: { kind: 'holes', x: 80, y: 20, diameter: 5, layout: { kind: 'rows', columns: 2, rows: 2, dx: 9, dy: 9 } },
        }),
      ),
    ).toEqual([]);
  });
  it('open ends: found, marked, joined into a shape', () => {
    const job = jobWith({ a: path('M0 0L40 0L40 30', 'none'), b: path('M40.5 30L0 30L0 0.4', 'none') });
    expect(check(job)[0]).toMatchObject({ code: 'art-open-ends', repair: { items: ['a', 'b'] } });
    const closed = mended(job, 'art-open-ends');
    expect(codes(closed)).toEqual([]);
    expect(closed.itemOrder).toEqual(['a']);
    expect(area(closed, 'a')).toBeCloseTo(1200, -2);
  });
  it('does not take the strokes of single-line words for loose ends', () => {
    expect(codes(jobWith({ t: { kind: 'text', text: 'Heron & reed', face: 'single-line', capHeight: 10 } }))).toEqual([]);
  });
  it('doubled things and doubled lines, whichever way round', () => {
    const job = jobWith({ a: rect(0, 0, 40, 30), b: path('M40 30L40 0L0 0L0 30Z') });
    expect(mended(job, 'art-doubled').itemOrder).toEqual(['a']);
    const lines = jobWith({ a: path('M0 0L10 0L10 10', 'none'), b: path('M10 0L0 0M20 0L30 0', 'none') });
    const once = mended(lines, 'art-doubled-edges');
    expect(codes(once).filter((code) => code.startsWith('art-doubled'))).toEqual([]);
    expect(once.items.b).toMatchObject({ kind: 'path' });
  });
  it('self-crossing: united, the painted area stays', () => {
    const job = jobWith({ a: path('M0 0L40 30L40 0L0 30Z') });
    const before = area(job, 'a');
    expect(check(job)[0].at!.map(Math.round)).toEqual([20, 15]);
    const after = mended(job, 'art-self-crossing');
    expect(codes(after)).not.toContain('art-self-crossing');
    expect(area(after, 'a')).toBeCloseTo(before, 2);
  });
  it('overlapping shapes: united; a frame around words is none', () => {
    const job = jobWith({ a: rect(0, 0, 20, 20), b: rect(10, 0, 20, 20) });
    expect(area(mended(job, 'art-overlap'), 'a')).toBeCloseTo(600, 2);
    expect(codes(jobWith({ frame: path('M0 0h60v40h-60zM2 2h56v36h-56z', 'evenodd'), b: rect(10, 10, 20, 20) }))).toEqual([]);
  });
  it('specks and slivers: dropped', () => {
    const job = jobWith({ a: path('M0 0h40v30h-40zM50 0h.1v.1h-.1zM60 0h30v.05h-30z') });
    const clean = mended(job, 'art-specks');
    expect(area(clean, 'a')).toBeCloseTo(1200, 2);
    expect(codes(clean)).toEqual([]);
  });
  it('a circle broken as one arc, or as a polyline: found and joined to a shape', () => {
    for (const d of ['M0 20 A20 20 0 1 1 0.4 20', 'M0 20L20 0L0 -20L-20 0L-0.3 19.7']) {
      const job = jobWith({ a: { kind: 'path', d, fill: 'none', x: 60, y: 60 } });
      expect(codes(job)).toContain('art-open-ends');
      const next = mended(job, 'art-open-ends');
      expect(codes(next)).not.toContain('art-open-ends');
      expect(area(next, 'a')).toBeGreaterThan(780);
    }
    // Half a circle is a line, and a small arc is no circle because its ends are near.
    for (const d of ['M0 20 A20 20 0 0 1 0 -20', 'M0 20 A20 20 0 0 1 0.4 20'])
      expect(codes(jobWith({ a: { kind: 'path', d, fill: 'none', x: 60, y: 60 } }))).not.toContain('art-open-ends');
  });
  it('needless nodes: fewer, within tolerance, and says how many', () => {
    const d =
      'M' + Array.from({ length: 400 }, (_, i) => `${(50 * Math.cos(i / 63.662)).toFixed(4)} ${(50 * Math.sin(i / 63.662)).toFixed(4)}`).join('L') + 'Z';
    const job = jobWith({ a: { ...path(d), x: 60, y: 60 } });
    expect(wordsOf(check(job)[0], 'mm').what).toMatch(/^3\d\d of 399 nodes.*0\.0\d+ mm/);
    const fitted = mended(job, 'art-needless-nodes');
    // No more than half the tolerance on average.
    expect(Math.abs(area(fitted, 'a') - area(job, 'a'))).toBeLessThan(0.005 * 100 * Math.PI);
    expect(codes(fitted)).toEqual([]);
  });
  it('wrong winding: a hole that would be carved solid', () => {
    const job = jobWith({ a: path('M0 0h40v30h-40zM10 10h10v10h-10z') });
    expect(area(job, 'a')).toBeCloseTo(1200, 3);
    expect(area(mended(job, 'art-winding'), 'a')).toBeCloseTo(1100, 3);
  });
  it('letters that run into each other: said, and spaced until each stands by itself', () => {
    const words = (face: string, letterSpacing: number): Given => ({ kind: 'text', x: 150, y: 100, text: 'HOUSE', face, capHeight: 20, letterSpacing });
    const codes = (job: Job) => check(job).map(({ code }) => code);
    expect(codes(jobWith({ t: words('bebas', 0) }))).not.toContain('art-letters-overlap');
    const tight = jobWith({ t: words('bebas', -3) });
    expect(codes(tight)).toContain('art-letters-overlap');
    const finding = check(tight).find(({ code }) => code === 'art-letters-overlap')!;
    const mended = { ...tight, ...changedJob(tight, repairArtwork(tight, finding, contextOf(tight))) };
    expect(codes(mended)).not.toContain('art-letters-overlap');
    expect((mended.items.t as { letterSpacing: number }).letterSpacing).toBeGreaterThan(-3);
    expect(finding.severity).toBe('note');
    // Script is joined on purpose.
    expect(codes(jobWith({ t: { ...words('lobster', 0), text: 'reed' } as Given }))).toEqual([]);
  });
  it('islands: only where cut through, bridged so that nothing drops out', () => {
    const cut = { kind: 'profile' as const, id: 'c', on: 'art' as const, tool: 'e', side: 'inside' as const };
    const bits = { e: { kind: 'end' as const, id: 'e', diameter: 1 } };
    const thing: Given = { kind: 'text', text: 'BOA', face: 'alfa', capHeight: 40, x: 150, y: 100 };
    expect(codes(jobWith({ t: thing }))).toEqual([]);
    const job = jobWith({ t: thing }, { tools: bits, cuts: { c: cut }, cutOrder: ['c'] });
    expect(check(job)[0]).toMatchObject({ code: 'art-islands', severity: 'error' });
    const held = mended(job, 'art-islands');
    const regionsOfWords = asCut(held)[0];
    expect(regionsOfWords.every(({ holes }) => holes.length === 0)).toBe(true);
    expect(regionsOfWords.reduce((sum, r) => sum + regionArea(r), 0)).toBeGreaterThan(0.7 * area(job, 't'));
    // Words stay words, and bars stay where they are when others are written.
    expect(held.items.t).toEqual(job.items.t);
    expect(Object.values(held.items).filter(({ bridge }) => bridge)).toHaveLength(8);
  });
  it('bridges stand where the stroke is thinnest and as wide as asked', () => {
    const outer = { xy: Float64Array.of(0, 0, 60, 0, 60, 40, 0, 40), smooth: new Uint8Array(4) };
    const hole = { xy: Float64Array.of(5, 15, 5, 25, 55, 25, 55, 15), smooth: new Uint8Array(4) };
    const bars = barsFor([{ outer, holes: [hole] }], { width: 3, count: 2 });
    // Left and right of the opening, where five are between it and the edge.
    expect(bars.map(({ y, width }) => [Math.round(y), width])).toEqual([
      [20, 3],
      [20, 3],
    ]);
    const [left, right] = [...bars].sort((a, b) => a.x - b.x);
    for (const { x, length } of bars) expect([x - length / 2 < 0 || x + length / 2 > 60, length]).toEqual([true, 5 + 3 + 1.5]);
    expect([left.x < 5, right.x > 55]).toEqual([true, true]);
  });
  it('narrower than a bit that cuts inside', () => {
    const job = jobWith(
      { a: path('M0 0h40v30h-40zM40 10h20v2h-20z') },
      {
        tools: { e: { kind: 'end', id: 'e', diameter: 6 } },
        cuts: { c: { kind: 'profile', id: 'c', on: 'art', tool: 'e', side: 'inside', depth: 3 } },
        cutOrder: ['c'],
      },
    );
    expect(codes(job)).toContain('art-narrower-than-bit');
  });
  it('a repair never moves an outline beyond tolerance (random stars)', () => {
    fc.assert(
      fc.property(fc.array(even(5, 40), { minLength: 24, maxLength: 60 }), (rays) => {
        const d = 'M' + rays.flatMap((r, i) => [0, 0.02].map((s) => `${(r * Math.cos((i + s) / rays.length * 6.2832)).toFixed(3)} ${(r * Math.sin((i + s) / rays.length * 6.2832)).toFixed(3)}`)).join('L') + 'Z'; // prettier-ignore
        const job = jobWith({ a: path(d) });
        for (const code of codes(job)) {
          const after = mended(job, code);
          if (after.items.a) expect(Math.abs(area(after, 'a') - area(job, 'a'))).toBeLessThan(0.02 * 2000);
        }
      }),
      often(20),
    );
  });
  it('refuses a repair of what is gone', () => {
    const job = jobWith({ a: rect(0, 0, 9, 9) });
    expect(() => repairArtwork(job, { code: 'art-specks', severity: 'warning', data: {}, repair: { items: ['x'] } }, contextOf(job))).toThrow(/not there/);
  });
  it('off the board: moved onto it', () => {
    const job = jobWith({ a: rect(-20, 190, 30, 30) });
    const found = { code: 'art-off-board', severity: 'error' as const, data: {}, repair: { items: ['a'] } };
    const moved = { ...job, ...changedJob(job, repairArtwork(job, found, contextOf(job))) };
    expect(box(moved as Job, 'a')).toEqual([0, 170, 30, 200]);
    expect((moved.items.a as Item).kind).toBe('rectangle');
  });
});
