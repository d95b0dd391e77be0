/** The cut chart: rows, what lies between them, what lies beyond; CSV; the kerf from a test cut. */
import { describe, expect, it } from 'vitest';
import { gaugeOf, STEEL_GAUGES, thicknessOfGauge } from '../board/gauge.ts';
import { chartFromCsv, chartToCsv, kerfFromTest, readChart, STARTING_CHART } from './chart.ts';

describe('a chart', () => {
  it('says a charted thickness as it stands', () => {
    const { row, between, beyond } = readChart(STARTING_CHART, 6.4)!;
    expect([row, between, beyond]).toEqual([STARTING_CHART[2], [6.4], false]);
  });
  it('lies between its two rows for what is between them, and names both', () => {
    // Half way from 6.4 to 9.5: (1600 + 800) / 2.
    const { row, between, beyond } = readChart(STARTING_CHART, 7.95)!;
    expect([row.feed, row.thickness, between, beyond]).toEqual([1200, 7.95, [6.4, 9.5], false]);
    expect(row.pierceDelay).toBeCloseTo(0.65, 2);
  });
  it.each([
    [0.8, 1.5],
    [20, 12.7],
  ])('takes the nearest row for %d mm, and says that it is beyond', (thickness, nearest) => {
    expect(readChart(STARTING_CHART, thickness)).toMatchObject({ between: [nearest], beyond: true });
  });
  it('that is empty says nothing', () => expect(readChart([], 3)).toBeNull());
  it('of one row says that row', () => expect(readChart([STARTING_CHART[0]], 1.5)).toMatchObject({ beyond: false }));
  it('goes out as CSV and comes back the same', () => expect(chartFromCsv(chartToCsv(STARTING_CHART))).toEqual({ chart: STARTING_CHART, why: [] }));
  it('tells a line that is none, and keeps the rest', () => {
    const { chart, why } = chartFromCsv(chartToCsv(STARTING_CHART) + '3,45,fast,0.2,3.8,1.5,120,1.5\n');
    expect(chart).toHaveLength(STARTING_CHART.length);
    expect(why).toEqual([expect.stringMatching(/^Line 7: feed/)]);
  });
  it('without the names of its columns is refused in words', () => expect(chartFromCsv('1,2,3\n').why[0]).toContain('thickness'));
});

describe('the kerf from a test cut', () => {
  it('outside 0.2 too small and the hole 0.2 too wide: 0.2 more', () =>
    expect(kerfFromTest(1.5, { square: 60, hole: 30 }, { square: 59.8, hole: 30.2 })).toBeCloseTo(1.7, 9));
  it('as drawn: as it was', () => expect(kerfFromTest(1.5, { square: 60, hole: 30 }, { square: 60, hole: 30 })).toBe(1.5));
});

describe('sheet gauges of steel', () => {
  // Manufacturers' Standard, published; from memory here.
  it.each([
    [10, 3.416],
    [11, 3.038],
    [12, 2.657],
    [14, 1.897],
    [16, 1.519],
    [18, 1.214],
  ])('%d ga is %d mm', (gauge, mm) => {
    expect(thicknessOfGauge(`${gauge} ga`)).toBe(mm);
    expect(gaugeOf(mm)).toBe(gauge);
  });
  it('follows from ounces to the square foot at 41.82 lb to the square foot and inch', () => {
    // 10 ga is 90 oz, 14 is 50, 16 is 40, 18 is 32.
    for (const [gauge, ounces] of [[10, 90], [14, 50], [16, 40], [18, 32]]) expect(STEEL_GAUGES[gauge]).toBeCloseTo((ounces / 16 / 41.82) * 25.4, 2); // prettier-ignore
  });
  it('a gauge that is not in the table, or no gauge, is none', () =>
    expect([thicknessOfGauge('99 ga'), thicknessOfGauge('3 mm'), gaugeOf(3)]).toEqual([null, null, null]));
});
