/** Drawn things, and which of them a cut works on. */
import type { DrawnItem } from '../artwork/index.ts';
import type { BaseCut } from '../cuts/index.ts';
import type { Grey } from '../cuts/laser/tone.ts';
import { insideRegion, type Region } from '../geometry/index.ts';
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

/** Without a sign outline, the outermost shapes are what a profile cuts out, without their holes. */
function outermost(items: readonly PlannedItem[]): Region[] {
  const all = items.flatMap(({ regions }) => regions);
  return all
    .filter((region) => !all.some((other) => other !== region && insideRegion({ outer: other.outer, holes: [] }, region.outer.xy[0], region.outer.xy[1])))
    .map(({ outer }) => ({ outer, holes: [] }));
}
