/** Drawn things, and which of them a cut works on. */
import type { DrawnItem } from '../artwork/index.ts';
import type { BaseCut } from '../cuts/index.ts';
import type { Grey } from '../cuts/laser/tone.ts';
import { insideRegion, regionsBox, subtract, type Region } from '../geometry/index.ts';
import type { Item, Job } from '../job/index.ts';
import { worksOn } from '../job/target.ts';

export interface PlannedItem extends DrawnItem {
  item: Item;
  /** Of a picture, when they are at hand. */
  pixels?: Grey;
}

/** Things a cut works on. */
export const targets = (job: Job, cut: Pick<BaseCut, 'on'>, items: readonly PlannedItem[]): PlannedItem[] =>
  items.filter(({ item }) => worksOn(job, cut, item));

/** The regions a cut works on. */
export function targetRegions(job: Job, cut: Pick<BaseCut, 'on'>, items: readonly PlannedItem[]): Region[] {
  if (cut.on === 'outline' && job.outline === null) return outermost(items);
  return targets(job, cut, items).flatMap(({ regions }) => regions);
}

/** Things with their bars taken out of them, by their regions and those of the bars: the same as long as both are. */
const barred = new WeakMap<readonly Region[], { bars: readonly (readonly Region[])[]; regions: Region[] }>();

/** Things as they are cut: without what bridges lie over. Bridges themselves stay as they are. */
export function withBridges(items: readonly PlannedItem[]): PlannedItem[] {
  const bars = items.filter(({ item }) => item.bridge).map(({ regions }) => ({ regions, box: regionsBox(regions) }));
  if (bars.length === 0) return [...items];
  return items.map((thing) => {
    if (thing.item.bridge || thing.regions.length === 0) return thing;
    const { minX, minY, maxX, maxY } = regionsBox(thing.regions);
    const over = bars.filter(({ box }) => box.minX < maxX && box.maxX > minX && box.minY < maxY && box.maxY > minY).map(({ regions }) => regions);
    if (over.length === 0) return thing;
    const known = barred.get(thing.regions);
    const same = known?.bars.length === over.length && known.bars.every((one, k) => one === over[k]);
    const regions = same ? known.regions : subtract(thing.regions, over.flat());
    if (!same) barred.set(thing.regions, { bars: over, regions });
    return { ...thing, regions };
  });
}

/** Without a sign outline, the outermost shapes are what a profile cuts out, without their holes. */
function outermost(items: readonly PlannedItem[]): Region[] {
  const all = items.flatMap(({ item, regions }) => (item.bridge ? [] : regions));
  return all
    .filter((region) => !all.some((other) => other !== region && insideRegion({ outer: other.outer, holes: [] }, region.outer.xy[0], region.outer.xy[1])))
    .map(({ outer }) => ({ outer, holes: [] }));
}
