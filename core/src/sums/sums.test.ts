/** The sums against worked examples: handbook values, published measures, and values of common practice, each named. */
import { describe, expect, it } from 'vitest';
import { kindNamed, KINDS } from '../cuts/index.ts';
import { findSums, nearestFraction, SUMS, usualFigures } from './index.ts';

const sumOf = (id: string, over: Record<string, number> = {}, chosen = '') => {
  const sum = SUMS.find((one) => one.id === id)!;
  return sum.results({ ...usualFigures(sum), ...over }, chosen || (sum.choice?.options[0] ?? ''));
};
const value = (id: string, label: string | RegExp, over?: Record<string, number>, chosen?: string) =>
  sumOf(id, over, chosen).find((one) => (typeof label === 'string' ? one.label === label : label.test(one.label)))!.value;

describe('worked examples', () => {
  it.each([
    // Common practice: a stroke of 12.7 mm with 60° is 11 mm deep; a V of 90° is as deep as half its width.
    ['v-depth', 'Depth', { width: 12.7, angle: 60 }, 10.998],
    ['v-depth', 'Depth', { width: 6, angle: 90 }, 3],
    ['v-width', 'Width', { depth: 3, angle: 90 }, 6],
    ['v-width', 'Width', { depth: 1, angle: 20, tip: 0.508 }, 0.8607],
    // Derived: a ball of radius 3.175 at a tenth of its width leaves 0.0159.
    ['ridge', 'Ridge', { diameter: 6.35, step: 0.635 }, 0.0159],
    // Machinery handbook: 18,000 rev/min, two flutes, 0.1 mm a tooth are 3,600 mm/min; 6.35 mm at that speed run at 359 m/min.
    ['chip', /^Feed for/, { speed: 18_000, flutes: 2, load: 0.1 }, 3600],
    ['chip', 'Chip load', { speed: 18_000, flutes: 2, feed: 3600 }, 0.1],
    ['chip', 'Surface speed', { diameter: 6.35, speed: 18_000 }, 359.08],
    // Derived: at a tenth of the width a chip measures 0.6 of its nominal.
    ['chip', /^What it measures/, { diameter: 10, step: 1, speed: 18_000, flutes: 2, feed: 3600 }, 0.06],
    ['ramp', 'Ramp angle', { depth: 10, length: 100 }, 5.7106],
    ['ramp', 'Helix angle', { diameter: 10, pitch: 1.5 }, 2.7336],
    ['through', 'Depth', { high: 18.4, more: 0.2 }, 18.6],
    ['through', 'Passes', { high: 18, more: 0, passes: 6 }, 3],
    ['through', 'Passes', { high: 18.1, more: 0, passes: 6 }, 4],
    ['fit', 'Draw the recess', { part: 6, asked: 10, measured: 9.9, gap: 0.1 }, 6.2],
    ['v-inlay', 'Deepest of the plug', { pocket: 5, glue: 1, saw: 1.5 }, 6.5],
    // Published: a board foot is 144 in³, 2359.737 cm³.
    ['weight', 'Board feet', { width: 304.8, height: 304.8, thickness: 25.4, count: 1 }, 1],
    // Manufacturers' Standard, from memory: 11 gauge is 3.038 mm.
    ['gauge', '11 gauge', { gauge: 11 }, 3.038],
    // Common practice: an inch for ten feet.
    ['letters', 'Reads best at', { distance: 3048 }, 25.4],
    ['letters', 'Just legible at', { distance: 9144 }, 25.4],
    ['spacing', /ends as given/, { length: 600, count: 5, edge: 40 }, 130],
    ['slope', 'Angle', { rise: 1, run: 1 }, 45],
    // Published: rest to rest, 100 mm at 100 mm/s and 1000 mm/s² take 1.1 s; a millimetre takes 2·sqrt(1/1000).
    ['time', 'Once', { length: 100, feed: 6000, acceleration: 1000 }, 1.1],
    ['time', 'Once', { length: 1, feed: 6000, acceleration: 1000 }, 0.06325],
    // Common practice: what the square lacks and the hole has too much is added to the kerf.
    ['kerf', 'Kerf', { used: 1.5, square: 60, cutSquare: 59.8, hole: 30, cutHole: 30.2 }, 1.7],
    // Derived: 10 W at 100 mm/s on 0.1 mm lay 1 J/mm².
    ['energy', 'A filled area takes', { watts: 10, power: 100, feed: 6000, pitch: 0.1 }, 1],
    ['energy', /^The same/, { power: 100, feed: 6000, other: 50 }, 3000],
    // Published: 300 dots to the inch are 11.811 to the mm, 0.08467 mm apart; 709 of them are 60.03 mm.
    ['dots', 'Lines', { dpi: 300 }, 11.811],
    ['dots', 'Line interval', { dpi: 300 }, 0.08467],
    ['dots', 'Size across', { dpi: 300, pixels: 709 }, 60.0287],
    // Derived: 100 mm/s at 2000 mm/s² want 2.5 mm; 250 want 15.6.
    ['overscan', 'On each side', { feed: 6000, acceleration: 2000 }, 2.5],
    ['overscan', 'On each side', { feed: 15_000, acceleration: 2000 }, 15.625],
    ['s-word', 'S', { power: 30, scale: 1000 }, 300],
    ['s-word', 'S', { power: 30, scale: 255 }, 76.5],
  ] as const)('%s: %s of %o is %d', (id, label, over, wanted) => {
    expect(value(id, label, { ...over })).toBeCloseTo(wanted, wanted < 1 ? 4 : 2);
  });
  it('a cubic metre of steel weighs 7850 kg, of pine half a tonne (handbook)', () => {
    const cube = { width: 1000, height: 1000, thickness: 1000, count: 1 };
    expect(value('weight', 'Weight', cube, 'mild steel')).toBeCloseTo(7850, 6);
    expect(value('weight', 'Weight', cube, 'pine')).toBeCloseTo(500, 6);
  });
  it('fractions of an inch: the nearest sixty-fourth, in its lowest terms, and by how much it is off', () => {
    expect(nearestFraction(12)).toMatchObject({ text: '15/32 in' });
    expect(nearestFraction(12).error).toBeCloseTo(-0.09375, 5);
    expect(nearestFraction(25.4)).toEqual({ text: '1 in', error: 0 });
    expect(nearestFraction(31.75).text).toBe('1 1/4 in');
    expect(nearestFraction(0.1).text).toBe('0 in');
  });
  it('what fades is gone, and said so', () => {
    const gone = sumOf('fades', { high: 19, low: 18, depth: 0.6 });
    expect(gone.find(({ label }) => /Depth left/.test(label))).toMatchObject({ value: 0, says: 'the stroke is gone there' });
    expect(value('fades', /Groove width there/, { high: 18.2, low: 18, depth: 0.6, angle: 90 })).toBeCloseTo(0.8, 9);
  });
});

describe('every sum', () => {
  it.each(SUMS.map((sum) => [sum.id, sum] as const))(
    '%s has an answer for what stands there first, and for the least and the most that may be typed',
    (_, sum) => {
      const usual = usualFigures(sum);
      const chosen = sum.choice?.options[0] ?? '';
      const fine = (given: Record<string, number>) =>
        sum.results(given, chosen).every(({ value: one, as, says }) => Number.isFinite(one) && (as !== 'text' || !!says));
      expect(fine(usual)).toBe(true);
      for (const field of sum.fields)
        for (const end of [field.min, field.max ?? 1e6]) if (end !== undefined) expect(fine({ ...usual, [field.key]: end }), `${field.key} ${end}`).toBe(true);
    },
  );
  it('names are used once, and each says where its formula is from', () => {
    expect(new Set(SUMS.map(({ id }) => id)).size).toBe(SUMS.length);
    expect(SUMS.every(({ source, asks }) => source.length > 5 && asks.endsWith('?'))).toBe(true);
  });
  it.each([
    ['depth for 12 mm with 60°', 'v-depth'],
    ['dpi', 'dots'],
    ['chip load', 'chip'],
    ['scallop', 'ridge'],
    ['how many degrees is a bevel', 'slope'],
  ])('“%s” finds %s', (text, id) => expect(findSums(text)[0].id).toBe(id));
});

describe('what comes out and may be put into a cut', () => {
  it('goes into a field that a kind of cut really has', () => {
    const into = SUMS.flatMap((sum) => sum.results(usualFigures(sum), sum.choice?.options[0] ?? '')).flatMap((one) => (one.into ? [one] : []));
    expect(into.length).toBeGreaterThan(8);
    for (const { into: field, value: figure } of into) {
      const takes = KINDS.filter((kind) => {
        const read = kindNamed(kind).schema.safeParse({ kind, id: 'c', on: 'art', tool: 't', [field!]: figure });
        return !read.error?.issues.some(({ code }) => code === 'unrecognized_keys');
      });
      expect([field, takes.length > 0]).toEqual([field, true]);
    }
  });
});
