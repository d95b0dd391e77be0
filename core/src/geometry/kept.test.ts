/** What is remembered of regions: the same regions in the same order under the same key, and nothing else. */
import { expect, it } from 'vitest';
import { rectangle, type Region } from './index.ts';
import { keptFor } from './kept.ts';

const square = (size: number): Region => ({ outer: rectangle(0, 0, size, size), holes: [] });

it('works once for the same regions and key; others, another order, another key or a copy are worked out anew', () => {
  const kept = keptFor<number>();
  let worked = 0;
  const ask = (regions: Region[], key = 'k') => kept(regions, key, () => ++worked);
  const [a, b] = [square(1), square(2)];
  expect([ask([a, b]), ask([a, b])]).toEqual([1, 1]);
  expect(ask([b, a])).toBe(2);
  expect(ask([a])).toBe(3);
  expect(ask([a, b], 'l')).toBe(4);
  expect(ask([structuredClone(a), b])).toBe(5);
  expect([ask([a, b]), ask([a, b], 'l'), ask([a])]).toEqual([1, 4, 3]);
});

it('of nothing nothing is remembered, and of many answers the newest', () => {
  const kept = keptFor<number>();
  let worked = 0;
  const a = square(1);
  const ask = (key: string, regions = [a]) => kept(regions, key, () => ++worked);
  ask('', []);
  ask('', []);
  expect(worked).toBe(2);
  for (const key of ['1', '2', '3', '4', '5']) ask(key);
  expect(ask('5')).toBe(7);
  expect(ask('1')).toBe(8);
});
