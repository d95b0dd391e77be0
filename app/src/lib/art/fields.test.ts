/** What can be typed about a thing, and which things are taken for equal. */
import { describe, expect, it } from 'vitest';
import { makeItem, type ItemInput } from '@kerbe/core/job';
import { equalTo, FIELDS, fieldsOf, kindName, nameOf } from './fields';

let n = 0;
const thing = (fields: object) => makeItem({ id: `i${++n}`, x: 0, y: 0, ...fields } as ItemInput);

describe('the figures of a thing', () => {
  it('a circle has a diameter and a radius; an ellipse a width and a height', () => {
    const circle = thing({ kind: 'ellipse', width: 36, height: 36 });
    expect(fieldsOf(circle).map(({ label }) => label)).toEqual(['Diameter', 'Radius']);
    expect([kindName(circle), nameOf(circle)]).toEqual(['Circle', 'Circle']);
    const oval = thing({ kind: 'ellipse', width: 36, height: 35 });
    expect(fieldsOf(oval)).toBe(FIELDS.ellipse);
    expect(kindName(oval)).toBe('Ellipse');
  });
  it('of a kind and of a size is equal, wherever it stands and however a file rounded it', () => {
    const hole = thing({ kind: 'ellipse', width: 36, height: 36 });
    const rounded = thing({ kind: 'ellipse', width: 36.004, height: 36, x: 90, angle: 20 });
    const all = [hole, rounded, thing({ kind: 'ellipse', width: 35, height: 36 }), thing({ kind: 'rectangle', width: 36, height: 36 })];
    expect(equalTo(hole, all)).toEqual([rounded]);
  });
  it.each([
    ['rectangle', { width: 20, height: 10, radius: 1 }, { radius: 2 }],
    ['slot', { length: 30, width: 6 }, { width: 7 }],
    ['polygon', { sides: 6, diameter: 20 }, { sides: 5 }],
    ['star', { points: 5, diameter: 20, inner: 8 }, { inner: 9 }],
  ])('a %s of other figures is another one', (kind, figures, other) => {
    const [one, same, apart] = [thing({ kind, ...figures }), thing({ kind, ...figures, y: 4 }), thing({ kind, ...figures, ...other })];
    expect(equalTo(one, [one, same, apart])).toEqual([same]);
  });
  it('words and free paths have no equals', () => {
    const words = { kind: 'text', text: 'Reed', capHeight: 20, face: 'cinzel' };
    expect(equalTo(thing(words), [thing(words)])).toEqual([]);
  });
});
