/**
 * Motion against a second reckoning that shares nothing with the planner: speed squared on a fine
 * grid along the way, lowered until nowhere it rises faster than the acceleration allows (uniformly
 * accelerated motion, v² = u² + 2as, any textbook of mechanics), and time as the sum of ds over the
 * mean of the speeds. Corners are found by trying circles, not by the formula.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fractionAt, moveAt, planMotion, type Limits, type Path, type Timing } from '../motion/index.ts';
import { DWELL, FEED, RAPID } from '../toolpath/index.ts';
import { even, often } from './chance.ts';

type Point = [number, number, number];
interface Move {
  to: Point;
  feed: number;
  kind: number;
}
const HOME: Point = [0, 0, 0];
const pathOf = (moves: readonly Move[]): Path => ({
  kind: Uint8Array.from(moves, ({ kind }) => kind),
  x: Float64Array.from(moves, ({ to }) => to[0]),
  y: Float64Array.from(moves, ({ to }) => to[1]),
  z: Float64Array.from(moves, ({ to }) => to[2]),
  feed: Float64Array.from(moves, ({ feed }) => feed),
});
const minus = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const size = (v: Point) => Math.hypot(...v);
const dot = (a: Point, b: Point) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** The most of a quantity along a direction when each axis has a most of its own: the box's edge is met where the first axis gives out. */
function along(way: Point, most: readonly number[]): number {
  let [low, high] = [0, 1e9];
  for (let k = 0; k < 200; k++) {
    const middle = (low + high) / 2;
    if (way.every((part, axis) => Math.abs(part) * middle <= most[axis] * (1 + 1e-15))) low = middle;
    else high = middle;
  }
  return low;
}

/** Radius of the circle that touches both legs of a corner and passes it at a distance, by trying. */
function cornerRadius(before: Point, after: Point, deviation: number): number {
  const cosine = Math.max(-1, Math.min(1, -dot(before, after) / size(before) / size(after)));
  const half = Math.acos(cosine) / 2;
  let [low, high] = [0, 1e7];
  for (let k = 0; k < 200; k++) {
    const radius = (low + high) / 2;
    // Its centre stands on the bisector, at a distance from the corner where both legs are tangents.
    if (radius / Math.sin(half) - radius <= deviation) low = radius;
    else high = radius;
  }
  return low;
}

/** Seconds of a way, reckoned on a grid of so many steps for each move. */
function secondsOnGrid(moves: readonly Move[], limits: Limits, steps: number): number {
  const legs = moves.map(({ to }, i) => minus(to, i === 0 ? HOME : moves[i - 1].to));
  const units = legs.map((leg) => leg.map((part) => part / size(leg)) as Point);
  const accelerations = units.map((unit) => along(unit, limits.acceleration));
  const cap: number[] = [0];
  const step: number[] = [];
  const gain: number[] = [];
  moves.forEach(({ feed, kind }, i) => {
    const machine = along(units[i], limits.maxSpeed);
    const top = ((kind === RAPID ? machine : Math.min(machine, feed)) / 60) ** 2;
    // The joint with the move before is held to both, and to the corner between them.
    cap[cap.length - 1] = Math.min(cap.at(-1)!, top);
    for (let k = 1; k <= steps; k++) {
      step.push(size(legs[i]) / steps);
      gain.push(2 * accelerations[i] * (size(legs[i]) / steps));
      cap.push(top);
    }
    if (i + 1 === moves.length) return;
    const turning = Math.acos(Math.max(-1, Math.min(1, dot(units[i], units[i + 1]))));
    const radius = Math.min(cornerRadius(legs[i], legs[i + 1], limits.cornerDeviation), (size(legs[i]) + size(legs[i + 1])) / 2 / turning);
    cap[cap.length - 1] = Math.min(top, radius * Math.min(accelerations[i], accelerations[i + 1]));
  });
  cap[cap.length - 1] = 0;
  for (let changed = true; changed;) {
    changed = false;
    const lower = (here: number, from: number, by: number) => {
      if (cap[here] <= cap[from] + by + 1e-12) return;
      cap[here] = cap[from] + by;
      changed = true;
    };
    for (let k = 0; k < step.length; k++) lower(k + 1, k, gain[k]);
    for (let k = step.length - 1; k >= 0; k--) lower(k, k + 1, gain[k]);
  }
  // Between two grid points the speed may still rise and fall again by a little: the grid is slow by that, and converges.
  return step.reduce((sum, ds, k) => sum + (2 * ds) / (Math.sqrt(cap[k]) + Math.sqrt(cap[k + 1])), 0);
}

const LIMITS: Limits = { maxSpeed: [6000, 5000, 3000], acceleration: [500, 400, 300], cornerDeviation: 0.02 };
const move = fc.record({
  to: fc.tuple(even(-60, 60), even(-60, 60), even(-12, 6)) as fc.Arbitrary<Point>,
  feed: even(200, 9000),
  kind: fc.constantFrom(RAPID, FEED, FEED, FEED),
});
/** Moves to anywhere, whose legs are long enough to have a direction. */
const polyline = fc
  .array(move, { minLength: 1, maxLength: 8 })
  .filter((moves) => moves.every(({ to }, i) => size(minus(to, i === 0 ? HOME : moves[i - 1].to)) > 0.05));
/** Short chords that turn a little at each joint, as along a letter: speed is carried on, and braking begins many moves ahead. */
const meander = fc
  .array(fc.record({ turn: even(-0.15, 0.15), climb: even(-0.05, 0.05), length: even(0.1, 4), feed: fc.constantFrom(1500, 6000, 9000) }), {
    minLength: 4,
    maxLength: 40,
  })
  .map((chords) => {
    let [heading, slope, at] = [0, 0, HOME];
    return chords.map(({ turn, climb, length, feed }): Move => {
      heading += turn;
      slope += climb;
      const flat = length * Math.cos(slope);
      at = [at[0] + flat * Math.cos(heading), at[1] + flat * Math.sin(heading), at[2] + length * Math.sin(slope)];
      return { to: at, feed, kind: FEED };
    });
  });
const way = fc.oneof(polyline, meander);

describe('the time of a way', () => {
  it('is what the second reckoning finds, feeds, rapids, corners and axes that differ included', () =>
    fc.assert(
      fc.property(way, (moves) => {
        const { total } = planMotion(pathOf(moves), LIMITS, HOME);
        const coarse = secondsOnGrid(moves, LIMITS, 200);
        const fine = secondsOnGrid(moves, LIMITS, 800);
        expect(Math.abs(fine - total) / total).toBeLessThan(0.004);
        // And the nearer the finer the grid is.
        expect(Math.abs(fine - total)).toBeLessThanOrEqual(Math.abs(coarse - total) + 1e-4 * total);
      }),
      often(60),
    ));

  it('does not depend on the units: lengths, speeds, accelerations and the corner all scaled alike', () =>
    fc.assert(
      fc.property(way, even(0.1, 30), (moves, k) => {
        const larger = moves.map(({ to, feed, kind }) => ({ to: to.map((v) => v * k) as Point, feed: feed * k, kind }));
        const by = (values: readonly [number, number, number]) => values.map((v) => v * k) as Point;
        const limits = { maxSpeed: by(LIMITS.maxSpeed), acceleration: by(LIMITS.acceleration), cornerDeviation: LIMITS.cornerDeviation * k };
        const { total } = planMotion(pathOf(moves), LIMITS, HOME);
        expect(planMotion(pathOf(larger), limits, HOME).total / total).toBeCloseTo(1, 6);
      }),
      often(100),
    ));

  it('is the same there and back', () =>
    fc.assert(
      fc.property(way, (moves) => {
        const stations = [HOME, ...moves.map(({ to }) => to)];
        const back = moves.map((_, i) => ({ ...moves[moves.length - 1 - i], to: stations[moves.length - 1 - i] }));
        const there = planMotion(pathOf(moves), LIMITS, HOME).total;
        expect(planMotion(pathOf(back), LIMITS, stations.at(-1)).total / there).toBeCloseTo(1, 9);
      }),
      often(100),
    ));

  it('never grows when the machine is quicker, or may cut its corners more', () =>
    fc.assert(
      fc.property(way, even(1, 4), fc.constantFrom('maxSpeed', 'acceleration', 'cornerDeviation'), (moves, k, which) => {
        const value = LIMITS[which];
        const better = { ...LIMITS, [which]: typeof value === 'number' ? value * k : value.map((v) => v * k) } as Limits;
        const before = planMotion(pathOf(moves), LIMITS, HOME).total;
        expect(planMotion(pathOf(moves), better, HOME).total).toBeLessThanOrEqual(before * (1 + 1e-9));
      }),
      often(100),
    ));

  it('a wait is its seconds, between two ends at rest', () =>
    fc.assert(
      fc.property(way, way, even(0, 5), (before, after, seconds) => {
        const stands = before.at(-1)!.to;
        fc.pre(size(minus(after[0].to, stands)) > 0.05);
        const whole = planMotion(pathOf([...before, { to: stands, feed: seconds, kind: DWELL }, ...after]), LIMITS, HOME).total;
        const parts = planMotion(pathOf(before), LIMITS, HOME).total + planMotion(pathOf(after), LIMITS, stands).total;
        expect(whole).toBeCloseTo(parts + seconds, 9);
      }),
      often(60),
    ));
});

describe('where the bit is at a time', () => {
  const placeAt = (moves: readonly Move[], timing: Timing, t: number): Point => {
    const i = moveAt(timing, t);
    const from = i === 0 ? HOME : moves[i - 1].to;
    const part = fractionAt(timing, i, t);
    return from.map((v, axis) => v + part * (moves[i].to[axis] - v)) as Point;
  };
  it('moves no axis faster than its top speed, and speeds none up faster than its acceleration within a move', () =>
    fc.assert(
      fc.property(way, (moves) => {
        const timing = planMotion(pathOf(moves), LIMITS, HOME);
        const dt = timing.total / 4000;
        // As parts of what is allowed; a difference of places is good to their rounding only.
        let [fastest, hardest] = [0, 0];
        for (let k = 1; k < 3999; k++) {
          const t = k * dt;
          const [before, here, after] = [placeAt(moves, timing, t - dt), placeAt(moves, timing, t), placeAt(moves, timing, t + dt)];
          const within = moveAt(timing, t - dt) === moveAt(timing, t + dt);
          for (let axis = 0; axis < 3; axis++) {
            fastest = Math.max(fastest, Math.abs(after[axis] - here[axis]) / dt / (LIMITS.maxSpeed[axis] / 60));
            const change = Math.max(0, Math.abs(after[axis] - 2 * here[axis] + before[axis]) - 1e-11) / dt ** 2;
            if (within) hardest = Math.max(hardest, change / LIMITS.acceleration[axis]);
          }
        }
        expect(fastest).toBeLessThanOrEqual(1 + 1e-6);
        expect(hardest).toBeLessThanOrEqual(1.001);
      }),
      often(20),
    ));
  it('the way travelled adds up to its length', () =>
    fc.assert(
      fc.property(way, (moves) => {
        const timing = planMotion(pathOf(moves), LIMITS, HOME);
        let travelled = 0;
        let last = HOME;
        for (let k = 1; k <= 20_000; k++) {
          const next = placeAt(moves, timing, (timing.total * k) / 20_000);
          travelled += size(minus(next, last));
          last = next;
        }
        const length = timing.length.reduce((sum, d) => sum + d, 0);
        expect(travelled).toBeLessThanOrEqual(length + 1e-9);
        expect(travelled / length).toBeGreaterThan(0.999);
        expect(size(minus(last, moves.at(-1)!.to))).toBeLessThan(1e-9);
      }),
      often(10),
    ));
});
