import { describe, expect, it } from 'vitest';
import { Bit } from '../job/index.ts';
import {
  bitLabel,
  bitSlug,
  chipLoad,
  cuttingWidth,
  deepestOfV,
  depthForStroke,
  feedFor,
  fillStep,
  grooveWidth,
  heightAt,
  passesAcross,
  radiusAt,
  ridgeOf,
  shapeOf,
  surfaceSpeed,
  thinnedChip,
  type PointedBit,
} from './index.ts';

const bit = (fields: object) => Bit.parse({ id: 'b', diameter: 6, ...fields });
const v = (angle: number, diameter = 12.7, tipFlat = 0) => bit({ kind: 'v', angle, diameter, tipFlat }) as PointedBit;

// Plain geometry; the figures are common-practice check values of the trade.
describe('V bits', () => {
  it('groove width w = d0 + 2·h·tan(A/2)', () => {
    expect(grooveWidth(v(90), 3)).toBeCloseTo(6, 9);
    expect(grooveWidth(v(60), 3)).toBeCloseTo(3.464, 3);
    // A tapered engraving cutter of 20° with a tip flat of 0.02 in, 0.01 in deep.
    expect(grooveWidth(bit({ kind: 'engraving', angle: 20, diameter: 3.175, tipFlat: 0.508 }), 0.254)).toBeCloseTo(0.598, 3);
  });
  it('depth for a stroke of 12.7', () => {
    expect(depthForStroke(v(90), 12.7)).toBeCloseTo(6.35, 3);
    expect(depthForStroke(v(60), 12.7)).toBeCloseTo(10.998, 2);
    expect(depthForStroke(v(30), 12.7)).toBeCloseTo(23.698, 2);
    expect(depthForStroke(v(60, 12.7, 1), 0.5)).toBe(0);
  });
  it('deepest before the shank', () => {
    expect(deepestOfV(v(60))).toBeCloseTo(10.998, 2);
    expect(deepestOfV(v(30, 3.175))).toBeCloseTo(5.925, 3);
  });
  it('ridge between passes', () => {
    expect(ridgeOf(v(60), 0.02 * 12.7)).toBeCloseTo(0.22, 3);
    expect(ridgeOf(v(60), 0.1 * 12.7)).toBeCloseTo(1.1, 3);
    expect(ridgeOf(v(60, 12.7, 1), 0.5)).toBe(0);
    expect(ridgeOf(bit({ kind: 'ball', diameter: 6.35 }), 0.635)).toBeCloseTo(0.0159, 4);
  });
});

describe('the body of any bit', () => {
  it.each([
    ['v', { kind: 'v', angle: 60 }],
    ['v with a flat', { kind: 'v', angle: 60, tipFlat: 0.8 }],
    ['v with a ball', { kind: 'v', angle: 60, tipRadius: 0.7 }],
    ['tapered', { kind: 'tapered', angle: 11, tipRadius: 0.5 }],
    ['engraving', { kind: 'engraving', angle: 20, tipFlat: 0.2 }],
    ['ball', { kind: 'ball' }],
    ['drill', { kind: 'drill' }],
  ])('%s: width at a depth and depth at a width undo each other, and it only widens', (_name, fields) => {
    const shape = shapeOf(bit(fields));
    let last = -1;
    for (let h = 0.01; h < 12; h += 0.07) {
      const r = radiusAt(shape, h);
      expect(r).toBeGreaterThanOrEqual(last);
      last = r;
      if (r < shape.outer - 1e-9) expect(heightAt(shape, r)).toBeCloseTo(h, 9);
    }
    expect(heightAt(shape, shape.outer + 0.01)).toBe(Infinity);
  });
  it('a ball passes into its cone without a kink', () => {
    const shape = shapeOf(bit({ kind: 'v', angle: 60, tipRadius: 0.7 }));
    const meets = 0.7 * Math.cos(Math.PI / 6);
    const slope = (r: number) => (heightAt(shape, r + 1e-6) - heightAt(shape, r - 1e-6)) / 2e-6;
    expect(slope(meets - 1e-4)).toBeCloseTo(slope(meets + 1e-4), 2);
    expect(slope(meets + 0.1)).toBeCloseTo(1 / Math.tan(Math.PI / 6), 6);
  });
  it('straight bits are flat all over', () => {
    for (const kind of ['end', 'surfacing']) expect(heightAt(shapeOf(bit({ kind })), 2.9)).toBe(0);
  });
  it('refuses a tip that is flat and round at once, or wider than the bit', () => {
    expect(Bit.safeParse({ id: 'b', kind: 'v', angle: 60, diameter: 6, tipFlat: 1, tipRadius: 1 }).success).toBe(false);
    expect(Bit.safeParse({ id: 'b', kind: 'v', angle: 60, diameter: 6, tipRadius: 4 }).success).toBe(false);
  });
});

describe('feeds', () => {
  it('chip load and surface speed (feed-per-tooth formula of any machinery handbook)', () => {
    expect(chipLoad(3600, 18000, 2)).toBeCloseTo(0.1, 9);
    expect(feedFor(18000, 2, 0.1)).toBeCloseTo(3600, 9);
    expect(surfaceSpeed(6.35, 18000)).toBeCloseTo(359, 0);
    expect(chipLoad(600, 0, 1)).toBe(0);
  });
  it('chip thinning: a tenth of the width leaves 0.6 of the chip (derived)', () => {
    expect(thinnedChip(0.1, 0.6, 6)).toBeCloseTo(0.06, 9);
    expect(thinnedChip(0.1, 4, 6)).toBeCloseTo(0.1, 9);
  });
});

// Common practice: a badge letter 0.25 in high, strokes near 0.1 in (the width is from memory), 39-40 % overlap.
it('passes that fill a stroke of a badge letter: 8 with a 0.020 in cutter, 4 to 6 with one of 0.030', () => {
  const inch = 25.4;
  const passes = (tip: number) => {
    const cutter = bit({ kind: 'engraving', angle: 1, diameter: 3.175, tipFlat: tip * inch });
    return passesAcross(0.1 * inch, grooveWidth(cutter, 0), fillStep(cutter, 0));
  };
  expect(passes(0.02)).toBe(8);
  expect(passes(0.03)).toBeGreaterThanOrEqual(4);
  expect(passes(0.03)).toBeLessThanOrEqual(6);
  expect(passes(0.034)).toBeLessThanOrEqual(passes(0.03));
});

it('reckons with the width a bit really cuts', () => {
  expect(cuttingWidth(bit({ kind: 'end', diameter: 3.175, measuredWidth: 3.3 }))).toBe(3.3);
});
it('names', () => {
  expect([bitSlug(v(60)), bitLabel(v(60))]).toEqual(['v60-12.7', '60° V, 12.7 mm']);
  expect(bitLabel(bit({ kind: 'end', spiral: 'compression' }))).toBe('compression bit, 6 mm');
  expect(bitLabel(bit({ kind: 'drag', lineWidth: 0.4 }))).toBe('drag diamond, 0.4 mm line');
  expect(bitSlug(bit({ kind: 'tapered', angle: 11 }))).toBe('tapered11-6');
});
