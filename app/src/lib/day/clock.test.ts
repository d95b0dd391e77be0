/** The shop's clock: minutes and moments are each other's, on every day of the year. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ShopHours } from '@kerbe/core/day/planning';
import { midnight, minuteOf, momentOf, openSpans } from './clock';

describe('the shop’s clock', () => {
  const first = new Date(2026, 10, 30); // a Monday
  it('minutes and moments are each other’s', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 60 * 24 * 400 }), (minute) => {
        expect(minuteOf(momentOf(minute, first), first)).toBe(minute);
      }),
    ));
  it('counts from midnight of the day, before and after it, and over the end of a month', () => {
    expect(minuteOf('2026-11-30T09:30', first)).toBe(570);
    expect(minuteOf('2026-11-29T23:59', first)).toBe(-1);
    expect(minuteOf('2026-12-01T00:00', first)).toBe(1440);
    expect(momentOf(1440 + 16 * 60 + 5, first)).toBe('2026-12-01T16:05');
    expect(midnight(new Date(2026, 10, 30, 14, 3))).toEqual(first);
  });
  it('a day keeps its 1,440 minutes when the clocks change', () => {
    const march = new Date(2026, 2, 28);
    expect(minuteOf('2026-03-30T08:00', march)).toBe(2 * 1440 + 480);
  });
  it('somebody is in on working days', () => {
    const spans = openSpans(ShopHours.parse({ from: '07:30', to: '16:00' }), new Date(2026, 10, 27), 5); // from a Friday
    expect(spans).toEqual([
      { from: 450, to: 960 },
      { from: 3 * 1440 + 450, to: 3 * 1440 + 960 },
      { from: 4 * 1440 + 450, to: 4 * 1440 + 960 },
    ]);
  });
});
