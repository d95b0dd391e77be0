/**
 * Order of runs and trails against exact answers: the shortest order of few runs by dynamic
 * programming over subsets (Bellman 1962; Held and Karp 1962), the fewest trails by Euler's theorem
 * on odd nodes (1736), and the least way gone twice by trying every pairing of odd nodes
 * (the route inspection problem; Edmonds and Johnson 1973). All from memory, none shares code with Kerbe.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { orderRuns, trailsOf, travelOf, type Graph, type Run } from '../toolpath/index.ts';
import { even, often } from './chance.ts';

/** Length of the shortest way from 0, 0 through every run, each cut a way it may be. */
function shortestTravel(runs: readonly Run[]): number {
  const n = runs.length;
  const ends = runs.flatMap(({ startX, startY, endX, endY, reversible }) => [
    { from: [startX, startY], to: [endX, endY], allowed: true },
    { from: [endX, endY], to: [startX, startY], allowed: reversible },
  ]);
  const best = Array.from({ length: 1 << n }, () => new Float64Array(2 * n).fill(Infinity));
  ends.forEach(({ from, allowed }, k) => {
    if (allowed) best[1 << (k >> 1)][k] = Math.hypot(from[0], from[1]);
  });
  for (let set = 1; set < 1 << n; set++)
    ends.forEach(({ to }, last) => {
      if (best[set][last] === Infinity) return;
      ends.forEach(({ from, allowed }, next) => {
        if (!allowed || set & (1 << (next >> 1))) return;
        const with_ = set | (1 << (next >> 1));
        best[with_][next] = Math.min(best[with_][next], best[set][last] + Math.hypot(from[0] - to[0], from[1] - to[1]));
      });
    });
  return n === 0 ? 0 : Math.min(...best[(1 << n) - 1]);
}

describe('order of runs against the shortest there is', () => {
  const run = fc.record({ startX: even(0, 600), startY: even(0, 300), endX: even(0, 600), endY: even(0, 300), reversible: fc.boolean() });
  const letters = fc
    .array(fc.record({ at: even(0, 600), y: even(0, 300), wide: even(-30, 30), high: even(-30, 30), reversible: fc.boolean() }), { minLength: 1, maxLength: 9 })
    .map((list) => list.map(({ at, y, wide, high, reversible }) => ({ startX: at, startY: y, endX: at + wide, endY: y + high, reversible })));
  it.each([
    ['runs anywhere', fc.array(run, { minLength: 1, maxLength: 9 })],
    ['short ones, as of letters', letters],
  ])('%s: never shorter, nearly always as short, never longer by a third', (_name, lists) => {
    let [ours, least, worst] = [0, 0, 1];
    fc.assert(
      fc.property(lists, (runs) => {
        const travel = travelOf(runs, orderRuns(runs));
        const shortest = shortestTravel(runs);
        expect(travel).toBeGreaterThanOrEqual(shortest - 1e-9);
        worst = Math.max(worst, travel / shortest);
        [ours, least] = [ours + travel, least + shortest];
      }),
      often(80),
    );
    expect(ours / least).toBeLessThan(1.04);
    expect(worst).toBeLessThan(1.35);
  });
});

type Edge = [number, number, number];
const graphOf = (nodes: number, edges: readonly Edge[]): Graph => ({
  nodes,
  from: edges.map(([a]) => a),
  to: edges.map(([, b]) => b),
  length: edges.map(([, , l]) => l),
});
/** Shortest way between every two nodes, by Floyd and Warshall. */
function distances(nodes: number, edges: readonly Edge[]): number[][] {
  const d = Array.from({ length: nodes }, (_, i) => Array.from({ length: nodes }, (_, j) => (i === j ? 0 : Infinity)));
  for (const [a, b, l] of edges) d[a][b] = d[b][a] = Math.min(d[a][b], l);
  for (let k = 0; k < nodes; k++) for (let i = 0; i < nodes; i++) for (let j = 0; j < nodes; j++) d[i][j] = Math.min(d[i][j], d[i][k] + d[k][j]);
  return d;
}
/** What trails cost at the least: ways gone twice, and lifts between trails at their price, every pairing of odd nodes tried. */
function leastCost(nodes: number, edges: readonly Edge[], lift: number): number {
  const d = distances(nodes, edges);
  const degree = new Array<number>(nodes).fill(0);
  for (const [a, b] of edges) for (const node of [a, b]) degree[node]++;
  const used = [...degree.keys()].filter((i) => degree[i] > 0);
  const parts = new Set(used.map((i) => used.find((j) => d[i][j] < Infinity)!));
  let cost = (parts.size - 1) * lift;
  for (const part of parts) {
    const odd = used.filter((i) => d[part][i] < Infinity && degree[i] % 2 === 1);
    // Two ends are free; every further pair is joined by going back, or begins a trail of its own.
    const pairings = (left: number[], free: boolean): number => {
      if (left.length === 0) return 0;
      const [first, ...rest] = left;
      let least = Infinity;
      rest.forEach((other, k) => {
        const others = rest.filter((_, i) => i !== k);
        least = Math.min(least, Math.min(lift, d[first][other]) + pairings(others, free));
        if (free) least = Math.min(least, pairings(others, false));
      });
      return least;
    };
    cost += pairings(odd, true);
  }
  return cost;
}

describe('trails against exact answers', () => {
  const nodes = 9;
  const graphs = fc
    .array(fc.tuple(fc.nat(nodes - 1), fc.nat(nodes - 1), even(1, 20)), { minLength: 1, maxLength: 14 })
    .map((edges) => edges.filter(([a, b]) => a !== b))
    .filter((edges) => edges.length > 0);
  /** The axis of a stroke: a tree, most of its nodes dead ends or forks. */
  const trees = fc
    .array(fc.tuple(fc.nat(1_000_000), even(0.5, 20)), { minLength: 1, maxLength: nodes - 1 })
    .map((steps) => steps.map(([n, length], k): Edge => [n % (k + 1), k + 1, length]));
  const costOf = (edges: readonly Edge[], lift: number) => {
    const trails = trailsOf(graphOf(nodes, edges), lift);
    const gone = trails.flat().reduce((sum, { edge }) => sum + edges[edge][2], 0);
    return { trails: trails.length, cost: (trails.length - 1) * lift + gone - edges.reduce((sum, [, , l]) => sum + l, 0) };
  };
  it('lifts that cost nothing: as few trails as Euler allows, and nothing gone twice', () =>
    fc.assert(
      fc.property(fc.oneof(graphs, trees), (edges) => {
        const degree = new Map<number, number>();
        for (const [a, b] of edges) for (const node of [a, b]) degree.set(node, (degree.get(node) ?? 0) + 1);
        const d = distances(nodes, edges);
        const parts = new Set([...degree.keys()].map((i) => [...degree.keys()].filter((j) => d[i][j] < Infinity).sort((p, q) => p - q)[0]));
        const fewest = [...parts].reduce((sum, part) => {
          const odd = [...degree].filter(([node, n]) => d[part][node] < Infinity && n % 2 === 1).length;
          return sum + Math.max(1, odd / 2);
        }, 0);
        expect(costOf(edges, 0)).toEqual({ trails: fewest, cost: expect.closeTo(0, 9) });
      }),
      often(300),
    ));
  it.each([['any graph', graphs] as const, ['trees, as the axes of strokes are', trees] as const])(
    '%s: never cheaper than the best pairing, and little dearer; never dearer than lifting each time',
    (_name, kind) => {
      let [ours, least] = [0, 0];
      fc.assert(
        fc.property(kind, fc.constantFrom(1, 5, 15, 40), (edges, lift) => {
          const { cost } = costOf(edges, lift);
          const best = leastCost(nodes, edges, lift);
          expect(cost).toBeGreaterThanOrEqual(best - 1e-9);
          const onlyLifts = (costOf(edges, 0).trails - 1) * lift;
          expect(cost).toBeLessThanOrEqual(onlyLifts + 1e-9);
          [ours, least] = [ours + cost, least + best];
        }),
        often(200),
      );
      expect(ours / least).toBeLessThan(1.05);
    },
  );
});
