/** What the feed stood at, and when it is offered as the new one: none, one, two, many; up, down and about. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { feedOffered, heldFeed, type TurnedRun } from './feeds.ts';

const run = (seconds: number, ...turned: [at: number, feed: number][]): TurnedRun => ({ seconds, turned: turned.map(([at, feed]) => ({ at, feed })) });
const at = (feed: number) => run(600, [20, feed]);

describe('the feed a run was cut at', () => {
  it.each<[string, TurnedRun, number | null]>([
    ['nothing was turned', run(600), 1],
    ['turned soon after the start', run(600, [20, 1.2]), 1.2],
    ['tried for a moment, and turned back', run(600, [300, 1.5], [330, 1]), 1],
    ['turned twice, most of it at the last', run(600, [60, 1.1], [120, 1.2]), 1.2],
    ['turned about', run(600, [200, 1.2], [400, 0.8]), null],
    ['turned after its end', run(600, [700, 1.2]), 1],
    ['a run of no time', run(0, [0, 1.2]), null],
  ])('%s', (_what, one, feed) => expect(heldFeed(one)).toBe(feed));
  it('adds up what stood at the same feed at different times', () => expect(heldFeed(run(600, [100, 1.2], [250, 1], [350, 1.2]))).toBe(1.2));
  it('is one of those it was turned to, or as programmed', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 10, max: 200 })), { maxLength: 6 }), (turned) => {
        const sorted = turned.sort(([a], [b]) => a - b).map(([t, percent]): [number, number] => [t, percent / 100]);
        const held = heldFeed(run(600, ...sorted));
        if (held !== null) expect([1, ...sorted.map(([, feed]) => feed)]).toContain(held);
      }),
    );
  });
});

describe('a feed is offered', () => {
  it('not after none, one or two runs; after three that were turned the same way, their middle', () => {
    expect(feedOffered([])).toBe(null);
    expect(feedOffered([at(1.2)])).toBe(null);
    expect(feedOffered([at(1.2), at(1.15)])).toBe(null);
    expect(feedOffered([at(1.2), at(1.15), at(1.1)])).toEqual({ feed: 1.15, runs: 3 });
    expect(feedOffered([at(1.2), at(1.1), at(1.1), at(1.3)])).toEqual({ feed: 1.15, runs: 4 });
    expect(feedOffered([at(0.8), at(0.9), at(0.85)])).toEqual({ feed: 0.85, runs: 3 });
  });
  it('only of the newest in a row: one as programmed, hardly turned, the other way or turned about ends it', () => {
    const three = [at(1.2), at(1.2), at(1.2)];
    for (const other of [run(600), at(1.04), at(0.8), run(600, [200, 1.2], [400, 0.8])]) {
      expect(feedOffered([other, ...three])).toBe(null);
      expect(feedOffered([at(1.2), at(1.2), other, ...three])).toBe(null);
      expect(feedOffered([...three, other])).toEqual({ feed: 1.2, runs: 3 });
    }
  });
  it('from a twentieth on, and of the last five runs at most', () => {
    expect(feedOffered([at(1.05), at(1.05), at(1.05)])).toEqual({ feed: 1.05, runs: 3 });
    expect(feedOffered(Array.from({ length: 9 }, () => at(1.2)))).toEqual({ feed: 1.2, runs: 5 });
  });
});
