/** The shop's own sums, by the functions the planner works with. */
import { CUTTING } from './cutting.ts';
import { HEAT } from './heat.ts';
import { MEASURES } from './measures.ts';
import type { Sum } from './sum.ts';

export type { Asked, Choice, Kind, Result, Sum } from './sum.ts';
export { DENSITIES, nearestFraction } from './measures.ts';

export const SUMS: readonly Sum[] = [...CUTTING, ...MEASURES, ...HEAT];
export const GROUPS = ['Carving', 'Milling', 'Board', 'Torch', 'Laser', 'Measures'] as const;

/** What stands in its fields first. */
export const usualFigures = ({ fields }: Sum): Record<string, number> => Object.fromEntries(fields.map(({ key, value }) => [key, value]));

/** Sums that are meant by some words; all of them by none. The more of the words a sum has, the earlier. */
export function findSums(text: string): Sum[] {
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word.length > 1);
  if (words.length === 0) return [...SUMS];
  const hits = (sum: Sum) => {
    const all = [sum.title, sum.asks, sum.group, ...sum.words].join(' ').toLowerCase();
    return words.filter((word) => all.includes(word)).length;
  };
  return SUMS.map((sum) => ({ sum, count: hits(sum) }))
    .filter(({ count }) => count > 0)
    .sort((a, b) => b.count - a.count)
    .map(({ sum }) => sum);
}
