import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even } from '../reference/chance.ts';
import {
  feedNumber,
  formatChip,
  formatFeed,
  formatLength,
  formatNumber,
  formatSurface,
  otherUnit,
  readFeed,
  readLength,
  type LengthSettings,
} from './index.ts';

const mm: LengthSettings = { unit: 'mm' };
const read = (text: string, settings = mm) => {
  const reading = readLength(text, settings);
  return reading.ok ? reading.mm : reading.why;
};

describe('reading lengths', () => {
  // 1 in = 25.4 mm exactly: international yard and pound agreement, 1959.
  it.each([
    ['3/8 in', 9.525],
    ['1 1/4"', 31.75],
    ['1-1/4 in', 31.75],
    ['½ in', 12.7],
    ['1½"', 38.1],
    ['18mm', 18],
    ['18 MM', 18],
    ['0.767in + 1mm', 20.4818],
    ['2\' 6"', 762],
    ['1 ft', 304.8],
    ['-0.5', -0.5],
    ['10 - 2.5', 7.5],
    ['1in - 1/4in', 19.05],
    ['.5in', 12.7],
    ['20 thou', 0.508],
    ['2.5 cm', 25],
  ])('reads %s as %f mm', (text, expected) => expect(read(text)).toBeCloseTo(expected, 9));

  it('uses the unit of the shop for a bare number', () => {
    expect(read('2', { unit: 'in' })).toBe(50.8);
    expect(read('1 1/2', { unit: 'in' })).toBeCloseTo(38.1, 9);
  });

  it('reads a decimal comma only when the shop uses one', () => {
    expect(read('12,5', { unit: 'mm', decimalComma: true })).toBe(12.5);
    expect(read('12,5')).toMatch(/comma/);
  });

  it.each([
    ['', /Nothing typed/],
    ['wide', /not a length/],
    ['18mmm', /not a unit/],
    ['3/0 in', /divides by zero/],
    ['12 18', /does not follow/],
    ['5 +', /not a length/],
    ['1e5', /not a unit/],
    ['NaN', /not a length/],
    ['Infinity', /not a length/],
  ])('refuses %j with a sentence', (text, why) => expect(read(text)).toMatch(why));
});

describe('writing lengths', () => {
  it('writes fractions reduced', () => {
    const in64: LengthSettings = { unit: 'in', fraction: 64 };
    expect(formatLength(9.525, in64)).toBe('3/8 in');
    expect(formatLength(31.75, in64)).toBe('1 1/4 in');
    expect(formatLength(25.39, in64)).toBe('1 in');
    expect(formatLength(-12.7, in64)).toBe('-1/2 in');
    // A size that is one to the thousandth is said in full; what is reckoned is rounded to hundredths.
    expect(formatLength(3.175, { unit: 'mm' })).toBe('3.175 mm');
    expect(formatLength(3.17512, { unit: 'mm' })).toBe('3.18 mm');
    expect(formatLength(0, in64)).toBe('0 in');
  });
  it('writes decimals without needless zeros and never minus zero', () => {
    expect(formatLength(18, mm)).toBe('18 mm');
    expect(formatNumber(-0.0001, mm)).toBe('0');
    expect(formatNumber(6.35, { unit: 'in' })).toBe('0.25');
    expect(formatNumber(1.5, { unit: 'mm', decimalComma: true })).toBe('1,5');
    expect(formatNumber(1200, { unit: 'mm', decimals: 0 })).toBe('1200');
  });
  it('shows the other unit', () => {
    expect(formatLength(25.4, otherUnit(mm))).toBe('1 in');
    expect(formatLength(25.4, otherUnit({ unit: 'in' }))).toBe('25.4 mm');
  });
  it('reads back what it wrote, within the last digit shown', () =>
    fc.assert(
      fc.property(even(-5000, 5000), fc.constantFrom(0, 16, 64), (value, fraction) => {
        const settings: LengthSettings = fraction ? { unit: 'in', fraction } : { unit: 'mm', decimals: 3 };
        const step = fraction ? 25.4 / fraction : 0.001;
        const back = readLength(formatLength(value, settings).replace(/^-(\d+) (\d)/, '-$1-$2'), settings);
        expect(back.ok && Math.abs(back.mm - value)).toBeLessThanOrEqual(step / 2 + 1e-9);
      }),
    ));
  it('never throws on any text', () => fc.assert(fc.property(fc.string(), (text) => typeof readLength(text, mm).ok === 'boolean')));
});

describe('feeds', () => {
  const feed = (text: string, unit: 'mm' | 'in' = 'mm') => {
    const reading = readFeed(text, { unit });
    return reading.ok ? reading.mm : reading.why;
  };
  // 1 in/min = 25.4 mm/min; the figures beside it are common practice of inch shops.
  it.each([
    ['2400', 'mm', 2400],
    ['60', 'in', 1524],
    ['60 in/min', 'mm', 1524],
    ['60ipm', 'mm', 1524],
    ['15 IPM', 'in', 381],
    ['25 mm/s', 'mm', 1500],
    ['25mm / s', 'in', 1500],
    ['1.5 m/min', 'mm', 1500],
    ['1500 mm/min', 'in', 1500],
    ['10/min', 'in', 254],
  ] as const)('%s, in a shop of %s, is %f mm/min', (text, unit, value) => expect(feed(text, unit)).toBeCloseTo(value, 9));
  it.each(['', 'fast', '60 rev/min', '10 in/h', '-/min', '/min'])('refuses %j with a sentence', (text) => expect(feed(text)).toMatch(/\./));
  it('shows whole mm/min and tenths of in/min, and reads back what it showed', () => {
    expect([formatFeed(2400, 'mm'), formatFeed(2400, 'in'), feedNumber(1524, 'in'), formatFeed(380.6, 'mm')]).toEqual([
      '2400 mm/min',
      '94.5 in/min',
      '60',
      '381 mm/min',
    ]);
    fc.assert(
      fc.property(even(10, 50_000), fc.constantFrom('mm' as const, 'in' as const), (value, unit) => {
        expect(Math.abs(Number(feed(formatFeed(value, unit))) - value)).toBeLessThanOrEqual(unit === 'in' ? 1.28 : 0.51);
      }),
    );
  });
  it('chips and surface speed go with it: 0.1 mm is 0.0039 in, 359 m/min is 1178 ft/min', () => {
    expect([formatChip(0.1, 'mm'), formatChip(0.1, 'in')]).toEqual(['0.1 mm', '0.0039 in']);
    expect([formatSurface(359, 'mm'), formatSurface(359, 'in')]).toEqual(['359 m/min', '1178 ft/min']);
  });
});
