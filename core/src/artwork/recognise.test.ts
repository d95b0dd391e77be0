/** Shapes known again in path data: what is given back draws the same outline; what is none of them stays as it is. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeItem, type Item, type ItemInput } from '../job/index.ts';
import { applyEdit } from './edit.ts';
import type { DrawContext } from './index.ts';
import { fontOf, jobWith } from '../reference/fixtures.ts';
import { readDxf, readSvg, placeThings } from './import/index.ts';
import { parsePath, placeOf, transformPath, type Subpath } from './path.ts';
import { recognise } from './recognise.ts';
import { shapePath } from './shapes.ts';

type Shape = Extract<Item, { kind: 'rectangle' | 'ellipse' | 'slot' }>;
const subpathsOf = (item: Shape): Subpath[] => transformPath(shapePath(item), placeOf(item));
const shape = (input: ItemInput): Shape => makeItem(input as Extract<ItemInput, { kind: 'rectangle' }>) as unknown as Shape;
const size = fc.double({ min: 2, max: 400, noNaN: true });
const place = fc.double({ min: -500, max: 500, noNaN: true });
const TOLERANCE = 0.01;
const d = (path: string) => recognise(parsePath(path).subpaths[0], TOLERANCE);

describe('shapes are known again, wherever they stand and however they are turned', () => {
  it('rectangles, with and without round corners', () =>
    fc.assert(
      fc.property(
        size,
        size,
        place,
        place,
        fc.integer({ min: -44, max: 44 }),
        fc.double({ min: 0, max: 0.4, noNaN: true }),
        (width, height, x, y, angle, share) => {
          fc.pre(Math.abs(width - height) > 1);
          const radius = share < 0.05 ? 0 : share * Math.min(width, height);
          const found = recognise(subpathsOf(shape({ kind: 'rectangle', id: 'a', x, y, angle, width, height, radius }))[0], TOLERANCE)!;
          expect(found.kind).toBe('rectangle');
          expect(found.x).toBeCloseTo(x, 2);
          expect(found.y).toBeCloseTo(y, 2);
          if (found.kind !== 'rectangle') return;
          // Turned by a quarter the sides change names; both are the same rectangle.
          const upright = Math.abs(((((found.angle - angle) % 180) + 180) % 180) - 90) > 45;
          expect(upright ? found.width : found.height).toBeCloseTo(width, 2);
          expect(upright ? found.height : found.width).toBeCloseTo(height, 2);
          expect(Math.abs(found.radius - radius)).toBeLessThan(0.05);
        },
      ),
    ));
  it('circles, of arcs and of curves, and slots', () =>
    fc.assert(
      fc.property(size, place, place, fc.integer({ min: -80, max: 80 }), fc.double({ min: 1.3, max: 5, noNaN: true }), (width, x, y, angle, times) => {
        const circle = recognise(subpathsOf(shape({ kind: 'ellipse', id: 'a', x, y, width, height: width }))[0], TOLERANCE)!;
        expect(circle).toMatchObject({ kind: 'ellipse' });
        expect([circle.x - x, circle.y - y, (circle as { width: number }).width - width].every((v) => Math.abs(v) < 0.02)).toBe(true);
        const slot = recognise(subpathsOf(shape({ kind: 'slot', id: 'a', x, y, angle, width, length: times * width }))[0], TOLERANCE)!;
        expect(slot.kind).toBe('slot');
        if (slot.kind !== 'slot') return;
        expect(slot.width).toBeCloseTo(width, 1);
        expect(slot.length).toBeCloseTo(times * width, 1);
      }),
    ));
  it('a circle of four cubic curves, as drawing programs write it (error of that curve: 2.7e-4 of the radius, derived)', () => {
    const k = (4 / 3) * Math.tan(Math.PI / 8) * 18;
    const found = d(`M18 0C18 ${k} ${k} 18 0 18C${-k} 18 -18 ${k} -18 0C-18 ${-k} ${-k} -18 0 -18C${k} -18 18 ${-k} 18 0Z`);
    expect(found).toMatchObject({ kind: 'ellipse', width: 36, height: 36 });
  });
});

describe('what is none of them', () => {
  it.each([
    ['a triangle', 'M0 0H40L20 30Z'],
    ['a trapezium', 'M0 0H40L38 20H2Z'],
    ['a square with a nick', 'M0 0H40V20H22L20 18L18 20H0Z'],
    ['a hexagon', 'M20 0L10 17.32H-10L-20 0L-10 -17.32H10Z'],
    ['a drop', 'M0 0C10 20 30 20 40 0C30 -8 10 -8 0 0Z'],
    ['an open line', 'M0 0H40V20'],
    ['a square gone round twice', 'M0 0H20V20H0ZM0 0'.replace('ZM0 0', 'V0H20V20H0Z')],
    ['a point', 'M3 3L3 3Z'],
    ['a rectangle with one round corner', 'M0 0H40V14A6 6 0 0 1 34 20H0Z'],
  ])('%s', (_, path) => expect(d(path)).toBeNull());
});

describe('taking apart', () => {
  const context = { fonts: fontOf, tolerance: 0.01 } as DrawContext;
  const apart = (d: string) => {
    const job = jobWith({ plate: { kind: 'path', d, fill: 'evenodd', name: 'Plate' } });
    return Object.values(applyEdit(job, { do: 'take apart', ids: ['plate'] }, context).items as Record<string, Item>);
  };
  it('gives an outline with holes as shapes that have figures', () => {
    const found = apart('M-45 -20H45V20H-45ZM-33 0a8 8 0 1 0 16 0a8 8 0 1 0 -16 0ZM17 0a8 8 0 1 0 16 0a8 8 0 1 0 -16 0Z');
    expect(found.map(({ kind }) => kind).sort()).toEqual(['ellipse', 'ellipse', 'rectangle']);
    expect(found.every(({ name }) => name === 'Plate')).toBe(true);
  });
  it('keeps each ring of several whole', () => {
    const ring = (x: number) => `M${x} 0h20v20h-20ZM${x + 5} 5v10h10v-10Z`;
    expect(apart(ring(-40) + ring(20)).map(({ kind }) => kind)).toEqual(['path', 'path']);
  });
  it('says so when there is but one outline', () => expect(() => apart('M0 0H40L20 30Z')).toThrow('one piece'));
});

describe('a file on its way in', () => {
  const plate = `<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="60mm" viewBox="0 0 120 60">
    <rect x="0" y="0" width="120" height="60" rx="5"/><circle cx="20" cy="30" r="18"/><path d="M60 20h40v20h-40z"/><path d="M70 5l8 9l5 -4z"/></svg>`;
  it('brings circles and rectangles in with their figures, the rest as it is', () => {
    const { items } = placeThings(readSvg(plate, {}).things, { prefix: 'a', taken: {}, shapes: TOLERANCE });
    expect(items.map(({ kind }) => kind)).toEqual(['rectangle', 'ellipse', 'rectangle', 'path']);
    expect(items[1]).toMatchObject({ x: 20, y: 30, width: 36, height: 36 });
    expect(items[0]).toMatchObject({ width: 120, height: 60, radius: 5 });
  });
  it('takes an outline and its holes as things of their own where that is asked for', () => {
    const one = `<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="40mm" viewBox="0 0 90 40"><path fill-rule="evenodd" d="M0 0H90V40H0ZM20 20a8 8 0 1 0 16 0a8 8 0 1 0 -16 0ZM54 20a8 8 0 1 0 16 0a8 8 0 1 0 -16 0Z"/></svg>`;
    const { things } = readSvg(one, {});
    expect(placeThings(things, { prefix: 'a', taken: {}, shapes: TOLERANCE }).items.map(({ kind }) => kind)).toEqual(['path']);
    const { items } = placeThings(things, { prefix: 'a', taken: {}, shapes: TOLERANCE, apart: true });
    expect(items.map(({ kind }) => kind)).toEqual(['rectangle', 'ellipse', 'ellipse']);
    expect(items.slice(1).map((item) => (item as { width: number }).width)).toEqual([16, 16]);
  });
  it('scaled, a circle is as large as it is drawn', () => {
    const { items } = placeThings(readSvg(plate, {}).things, { prefix: 'a', taken: {}, shapes: TOLERANCE, scale: 0.5, dx: 100, dy: 7 });
    expect(items[1]).toMatchObject({ kind: 'ellipse', x: 110, y: 22, width: 18, height: 18 });
  });
  it('a DXF circle is one', () => {
    const dxf = ['0', 'SECTION', '2', 'ENTITIES', '0', 'CIRCLE', '8', 'holes', '10', '30', '20', '25', '40', '4.5', '0', 'ENDSEC', '0', 'EOF'].join('\n');
    const { items } = placeThings(readDxf(dxf, {}).things, { prefix: 'a', taken: {}, shapes: TOLERANCE });
    expect(items).toEqual([expect.objectContaining({ kind: 'ellipse', x: 30, y: 25, width: 9, height: 9 })]);
  });
});
