/** Work on regions that is done once: a figure that says nothing about shapes - a feed - is changed far more often than a shape. */
import type { Region } from './contour.ts';

/** So many answers are kept for the same regions, the newest. */
const KEPT = 4;

/**
 * A memory for work that depends on regions, by what they are and not by how they look, and on a key: whatever else
 * the work looks at must be in it. It lasts as long as the regions do. Nobody may change what comes back.
 *
 * @example const outlines = keptFor<Region[]>();
 * outlines(regions, String(distance), () => offset(regions, distance));
 */
export function keptFor<T>(): (regions: readonly Region[], key: string, work: () => T) => T {
  const known = new WeakMap<Region, { key: string; regions: readonly Region[]; value: T }[]>();
  return (regions, key, work) => {
    if (regions.length === 0) return work();
    const answers = known.get(regions[0]) ?? [];
    const found = answers.find((one) => one.key === key && one.regions.length === regions.length && one.regions.every((region, k) => region === regions[k]));
    if (found) return found.value;
    const value = work();
    known.set(regions[0], [{ key, regions: [...regions], value }, ...answers].slice(0, KEPT));
    return value;
  };
}
