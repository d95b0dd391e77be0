/** Trim, split and extend against figures worked out by hand and by the formulas of lines and circles. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readJob, type Job } from '../job/index.ts';
import { even, often } from '../reference/chance.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { changedJob } from './change.ts';
import { itemPath } from './index.ts';
import { meetEdit, type MeetEdit } from './meets.ts';
import type { Subpath } from './path.ts';

const jobOf = (items: Record<string, object>): Job => {
  const reading = readJob({
    ...JSON.parse(JSON.stringify(makeJob())),
    board: { width: 200, height: 120, thickness: 18 },
    outline: null,
    items: Object.fromEntries(Object.entries(items).map(([id, item]) => [id, { id, ...item }])),
    itemOrder: Object.keys(items),
    tools: {},
    cuts: {},
    cutOrder: [],
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
};
const contextOf = (job: Job) => ({ fonts: fontOf, tolerance: 0.005, items: job.items });
const done = (job: Job, what: MeetEdit['do'], at: [number, number]): Job => ({
  ...job,
  ...changedJob(job, meetEdit(job, { do: what, at, reach: 3 }, contextOf(job))),
});
const paths = (job: Job, prefix: string): Subpath[] =>
  job.itemOrder.filter((id) => id.startsWith(prefix)).flatMap((id) => itemPath(job.items[id], contextOf(job)).subpaths);
const ends = ({ x, y, segments }: Subpath) => [x, y, segments.at(-1)!.x, segments.at(-1)!.y].map((v) => Math.round(v * 1e4) / 1e4);
const line = (x0: number, y0: number, x1: number, y1: number) => ({
  kind: 'line',
  x: x0,
  y: y0,
  length: Math.hypot(x1 - x0, y1 - y0),
  angle: (Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI,
});
const circle = (x: number, y: number, d: number) => ({ kind: 'ellipse', x, y, width: d, height: d });

describe('a line crossed by two others', () => {
  const job = jobOf({ long: line(10, 60, 110, 60), a: line(40, 20, 40, 100), b: line(80, 20, 80, 100) });
  it('loses the piece that is pressed, and no other', () => {
    expect(paths(done(job, 'trim', [60, 60]), 'long').map(ends)).toEqual([
      [10, 60, 40, 60],
      [80, 60, 110, 60],
    ]);
    expect(paths(done(job, 'trim', [20, 60]), 'long').map(ends)).toEqual([
      [40, 60, 80, 60],
      [80, 60, 110, 60],
    ]);
  });
  it('splits into three lines end to end', () => {
    const next = done(job, 'split', [60, 60]);
    expect(paths(next, 'long').map(ends)).toEqual([
      [10, 60, 40, 60],
      [40, 60, 80, 60],
      [80, 60, 110, 60],
    ]);
    expect(next.itemOrder).toHaveLength(5);
  });
  it('that ends on another is cut there too', () => {
    const tee = jobOf({ long: line(10, 60, 110, 60), up: line(50, 60, 50, 100) });
    expect(paths(done(tee, 'trim', [90, 60]), 'long').map(ends)).toEqual([[10, 60, 50, 60]]);
  });
});

describe('an end drawn out', () => {
  it('stops at the first thing it meets', () => {
    const job = jobOf({ short: line(20, 60, 60, 60), wall: line(90, 20, 90, 100), far: line(120, 20, 120, 100) });
    expect(paths(done(job, 'extend', [55, 60]), 'short').map(ends)).toEqual([[20, 60, 90, 60]]);
    // Its other end goes to the edge of the board: nothing else is there.
    expect(paths(done(job, 'extend', [25, 60]), 'short').map(ends)).toEqual([[0, 60, 60, 60]]);
  });
  it('meets a circle where the formula says', () => {
    fc.assert(
      fc.property(even(-25, 25), even(10, 28), (dy, r) => {
        fc.pre(Math.abs(dy) < r - 0.5);
        const job = jobOf({ short: line(20, 60, 60, 60), ring: circle(120, 60 + dy, 2 * r) });
        const [[, , x, y]] = paths(done(job, 'extend', [58, 60]), 'short').map(ends);
        expect(y).toBeCloseTo(60, 3);
        expect(x).toBeCloseTo(120 - Math.sqrt(r * r - dy * dy), 2);
      }),
      often(40),
    );
  });
  it('of an arc goes on straight, along its tangent', () => {
    const job = jobOf({ bow: { kind: 'arc', x: 60, y: 60, radius: 20, angle: 180, sweep: -90 }, wall: line(150, 10, 150, 110) });
    const before = ends(paths(job, 'bow')[0]);
    const [after] = paths(done(job, 'extend', [before[2], before[3]]), 'bow');
    expect(after.segments).toHaveLength(2);
    expect(ends(after)[2]).toBeCloseTo(150, 3);
    expect(ends(after)[3]).toBeCloseTo(before[3], 2);
  });
});

describe('a circle crossed by a line', () => {
  const job = jobOf({ ring: circle(100, 60, 60), bar: line(40, 75, 160, 75) });
  /** Half the chord at 15 above the middle of a circle of radius 30. */
  const half = Math.sqrt(30 ** 2 - 15 ** 2);
  it('loses its cap, and ends on the line', () => {
    const [arc, ...others] = paths(done(job, 'trim', [100, 90]), 'ring');
    expect(others).toEqual([]);
    expect(arc.closed).toBe(false);
    expect([ends(arc)[0], ends(arc)[2]].sort((a, b) => a - b).map((v) => Math.round(v * 100) / 100)).toEqual(
      [100 - half, 100 + half].map((v) => Math.round(v * 100) / 100),
    );
    for (const y of [ends(arc)[1], ends(arc)[3]]) expect(y).toBeCloseTo(75, 2);
  });
  it('splits into two arcs that are the whole of it', () => {
    const arcs = paths(done(job, 'split', [100, 90]), 'ring');
    expect(arcs).toHaveLength(2);
    const length = (s: Subpath) => {
      let [sum, x, y] = [0, s.x, s.y];
      for (const g of s.segments) {
        if (g.kind !== 'arc') throw new Error('an arc stays an arc');
        const chord = Math.hypot(g.x - x, g.y - y);
        const turn = 2 * Math.asin(Math.min(1, chord / (2 * g.rx)));
        sum += g.rx * (g.large ? 2 * Math.PI - turn : turn);
        [x, y] = [g.x, g.y];
      }
      return sum;
    };
    expect(length(arcs[0]) + length(arcs[1])).toBeCloseTo(Math.PI * 60, 2);
  });
  it('trims the line to the circle', () => {
    expect(paths(done(job, 'trim', [100, 75]), 'bar').map((one) => ends(one).map((v) => Math.round(v * 100) / 100))).toEqual([
      [40, 75, Math.round((100 - half) * 100) / 100, 75],
      [Math.round((100 + half) * 100) / 100, 75, 160, 75],
    ]);
  });
});

describe('what cannot be done is said', () => {
  const job = jobOf({ alone: line(20, 60, 60, 60), ring: circle(120, 60, 30) });
  it.each([
    ['nothing crosses it', 'trim', [40, 60], /Nothing crosses/],
    ['nothing is there', 'trim', [40, 20], /No line is there/],
    ['a closed outline has no end', 'extend', [120, 75], /no end/],
  ] as const)('%s', (_what, what, at, why) => {
    expect(() => done(job, what, [...at])).toThrow(why);
  });
  it('a locked line is left alone', () => {
    const locked = jobOf({ alone: { ...line(20, 60, 60, 60), locked: true }, wall: line(40, 20, 40, 100) });
    expect(() => done(locked, 'trim', [30, 60])).toThrow(/No line/);
  });
});

it('random lines: what is split is as long as before, and every piece lies on the line', () => {
  const spot = fc.tuple(even(5, 195), even(5, 115));
  fc.assert(
    fc.property(spot, spot, fc.array(fc.tuple(spot, spot), { minLength: 1, maxLength: 6 }), ([ax, ay], [bx, by], others) => {
      fc.pre(Math.hypot(bx - ax, by - ay) > 5 && others.every(([[x, y], [u, v]]) => Math.hypot(x - u, y - v) > 1));
      const job = jobOf({ main: line(ax, ay, bx, by), ...Object.fromEntries(others.map(([[x, y], [u, v]], k) => [`o${k}`, line(x, y, u, v)])) });
      let next: Job;
      try {
        next = done(job, 'split', [ax, ay]);
      } catch (error) {
        expect((error as Error).message).toMatch(/Nothing crosses/);
        return;
      }
      const pieces = paths(next, 'main').map(ends);
      // Another line may lie nearer to the press: then it is that one which was split.
      if (pieces.length < 2) return;
      const total = pieces.reduce((sum, [x, y, u, v]) => sum + Math.hypot(u - x, v - y), 0);
      expect(total).toBeCloseTo(Math.hypot(bx - ax, by - ay), 2);
      for (const [x, y] of pieces) expect(Math.abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / Math.hypot(bx - ax, by - ay)).toBeLessThan(0.001);
    }),
    often(60),
  );
});
