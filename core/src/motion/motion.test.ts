import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { even } from '../reference/chance.ts';
import { fractionAt, moveAt, planMotion, type Limits, type Path } from './index.ts';

const limits: Limits = { maxSpeed: [6000, 6000, 3000], acceleration: [500, 500, 300], cornerDeviation: 0.02 };
const path = (points: number[][], feed = 3000): Path => ({
  kind: Uint8Array.from(points, () => 1),
  x: Float64Array.from(points, (p) => p[0]),
  y: Float64Array.from(points, (p) => p[1]),
  z: Float64Array.from(points, (p) => p[2] ?? 0),
  feed: Float64Array.from(points, () => feed),
});
const total = (points: number[][], feed?: number) => planMotion(path(points, feed), limits, [0, 0, 0]).total;

describe('rest to rest', () => {
  // Derived: t = d/v + v/a when the speed is reached, 2·sqrt(d/a) when not.
  it('reaches its speed: d/v + v/a', () => expect(total([[100, 0]])).toBeCloseTo(100 / 50 + 50 / 500, 9));
  it('does not reach it: 2·sqrt(d/a)', () => expect(total([[2, 0]])).toBeCloseTo(2 * Math.sqrt(2 / 500), 9));
  it('is limited by the slower axis', () => expect(total([[0, 0, -50]], 6000)).toBeCloseTo(50 / 50 + 50 / 300, 9));
  it('uses two axes together on a diagonal', () => {
    const d = 100 * Math.SQRT2;
    expect(total([[100, 100]])).toBeCloseTo(d / 50 + 50 / (500 * Math.SQRT2), 9);
  });
  it('a straight line in pieces takes no longer', () => {
    const pieces = Array.from({ length: 100 }, (_, i) => [i + 1, 0]);
    expect(total(pieces)).toBeCloseTo(total([[100, 0]]), 6);
  });
  it('stops at a hairpin', () =>
    expect(
      total([
        [50, 0],
        [0, 0],
      ]),
    ).toBeCloseTo(2 * total([[50, 0]]), 9));
});

describe('corners and curves', () => {
  it('takes a square corner at v² = a·δ·s/(1-s), s = sin(45°)', () => {
    const timing = planMotion(
      path([
        [100, 0],
        [100, 100],
      ]),
      limits,
      [0, 0, 0],
    );
    const s = Math.SQRT1_2;
    expect(timing.v0[1]).toBeCloseTo(Math.sqrt((500 * 0.02 * s) / (1 - s)), 6);
  });
  it('takes a circle no faster than v² = a·R, however fine its chords', () => {
    for (const n of [60, 600, 6000]) {
      const R = 5;
      const points = Array.from({ length: n }, (_, i) => [R * Math.sin((2 * Math.PI * (i + 1)) / n), R - R * Math.cos((2 * Math.PI * (i + 1)) / n)]);
      const { v0 } = planMotion(path(points, 60_000), { ...limits, maxSpeed: [60_000, 60_000, 60_000] }, [0, 0, 0]);
      // Per-axis limits allow up to sqrt(2) times the axis acceleration along a diagonal.
      expect(Math.max(...v0)).toBeLessThan(Math.sqrt(500 * Math.SQRT2 * R) * 1.02);
    }
  });
});

describe('invariants on random paths', () => {
  const points = fc.array(fc.tuple(even(-50, 50), even(-50, 50), even(-10, 10)), { minLength: 1, maxLength: 40 });
  it('never exceeds feed, axis speed or acceleration, and ends at rest', () =>
    fc.assert(
      fc.property(points, (list) => {
        const timing = planMotion(path(list), limits, [0, 0, 0]);
        expect(timing.v0[0]).toBe(0);
        expect(timing.v0[list.length]).toBe(0);
        for (let i = 0; i < list.length; i++) {
          expect(timing.peak[i]).toBeLessThanOrEqual(50 + 1e-9);
          const gained = Math.abs(timing.v0[i + 1] ** 2 - timing.v0[i] ** 2);
          expect(gained).toBeLessThanOrEqual(2 * timing.accel[i] * timing.length[i] + 1e-6);
          expect(timing.start[i + 1]).toBeGreaterThanOrEqual(timing.start[i]);
        }
        expect(Number.isFinite(timing.total)).toBe(true);
      }),
    ));
  it('position at time is continuous and complete', () =>
    fc.assert(
      fc.property(points, (list) => {
        const timing = planMotion(path(list), limits, [0, 0, 0]);
        for (let i = 0; i < list.length; i++) {
          if (timing.length[i] < 1e-9) continue;
          expect(fractionAt(timing, i, timing.start[i])).toBeCloseTo(0, 6);
          expect(fractionAt(timing, i, timing.start[i + 1])).toBeCloseTo(1, 6);
          const middle = (timing.start[i] + timing.start[i + 1]) / 2;
          expect(moveAt(timing, middle)).toBe(i);
        }
      }),
    ));
});
