import { describe, expect, it } from 'vitest';
import { Bit } from '../job/index.ts';
import { bitLabel, bitSlug, chipLoad, cuttingWidth, deepestOfV, depthForStroke, grooveWidth, ridgeOfV, surfaceSpeed, type VBit } from './index.ts';

const v = (angle: number, diameter = 12.7, tipFlat = 0) => Bit.parse({ kind: 'v', id: 'b', angle, diameter, tipFlat }) as VBit;

// Plain geometry; the figures are common-practice check values of the trade.
describe('V bits', () => {
  it('groove width w = d0 + 2·h·tan(A/2)', () => {
    expect(grooveWidth(v(90), 3)).toBeCloseTo(6, 9);
    expect(grooveWidth(v(60), 3)).toBeCloseTo(3.464, 3);
    expect(grooveWidth(v(20, 3.175, 0.508), 0.254)).toBeCloseTo(0.598, 3);
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
    expect(ridgeOfV(v(60), 0.02 * 12.7)).toBeCloseTo(0.22, 3);
    expect(ridgeOfV(v(60), 0.1 * 12.7)).toBeCloseTo(1.1, 3);
    expect(ridgeOfV(v(60, 12.7, 1), 0.5)).toBe(0);
  });
});
it('feeds: chip load and surface speed (feed-per-tooth formula of any machinery handbook)', () => {
  expect(chipLoad(3600, 18000, 2)).toBeCloseTo(0.1, 9);
  expect(surfaceSpeed(6.35, 18000)).toBeCloseTo(359, 0);
});
it('reckons with the width a bit really cuts', () => {
  expect(cuttingWidth(Bit.parse({ kind: 'end', id: 'e', diameter: 3.175, measuredWidth: 3.3 }))).toBe(3.3);
  expect(bitSlug(v(60))).toBe('v60-12.7');
  expect(bitLabel(v(60))).toBe('60° V, 12.7 mm');
});
