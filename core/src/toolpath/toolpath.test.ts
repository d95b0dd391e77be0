import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { orderRuns, trailsOf, type Run } from './index.ts';

describe('trails', () => {
  const covers = (edges: [number, number][], nodes: number, liftCost: number) => {
    const graph = { nodes, from: edges.map(([a]) => a), to: edges.map(([, b]) => b), length: edges.map(() => 1) };
    const trails = trailsOf(graph, liftCost);
    const passed = new Int32Array(edges.length);
    for (const trail of trails) {
      let at = -1;
      for (const { edge, way } of trail) {
        const [a, b] = way === 1 ? edges[edge] : [edges[edge][1], edges[edge][0]];
        if (at >= 0) expect(a).toBe(at);
        at = b;
        passed[edge]++;
      }
    }
    for (const count of passed) expect(count).toBeGreaterThan(0);
    return { trails, passed };
  };
  it('a loop is one trail', () =>
    expect(
      covers(
        [
          [0, 1],
          [1, 2],
          [2, 0],
        ],
        3,
        0,
      ).trails,
    ).toHaveLength(1));
  it('a star of three needs a lift when lifts are free, and none when they are dear', () => {
    const star: [number, number][] = [
      [0, 1],
      [0, 2],
      [0, 3],
    ];
    expect(covers(star, 4, 0).trails).toHaveLength(2);
    expect(covers(star, 4, 100).trails).toHaveLength(1);
  });
  it('passes every edge of random graphs, in unbroken steps', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(9), fc.nat(9)), { minLength: 1, maxLength: 30 }), fc.constantFrom(0, 1.5, 50), (edges, cost) => {
        covers(
          edges.filter(([a, b]) => a !== b),
          10,
          cost,
        );
      }),
    ));
});

describe('order of runs', () => {
  const length = (runs: Run[], order: ReturnType<typeof orderRuns>) => {
    let [x, y, sum] = [0, 0, 0];
    for (const { run, reversed } of order) {
      const r = runs[run];
      const [sx, sy, ex, ey] = reversed ? [r.endX, r.endY, r.startX, r.startY] : [r.startX, r.startY, r.endX, r.endY];
      sum += Math.hypot(sx - x, sy - y);
      [x, y] = [ex, ey];
    }
    return sum;
  };
  const run = fc.record({ startX: fc.nat(100), startY: fc.nat(100), endX: fc.nat(100), endY: fc.nat(100), reversible: fc.boolean() });
  it('takes every run once, never turns one that may not be, and is no longer than the order given', () =>
    fc.assert(
      fc.property(fc.array(run, { maxLength: 40 }), (runs) => {
        const order = orderRuns(runs);
        expect(order.map((o) => o.run).sort((a, b) => a - b)).toEqual(runs.map((_, i) => i));
        for (const o of order) if (o.reversed) expect(runs[o.run].reversible).toBe(true);
      }),
    ));
  it('travels along a row, not to and fro', () => {
    const runs = [5, 1, 4, 2, 3].map((x) => ({ startX: x * 10, startY: 0, endX: x * 10 + 5, endY: 0, reversible: true }));
    expect(length(runs, orderRuns(runs))).toBeCloseTo(10 + 4 * 5, 9);
  });
});
