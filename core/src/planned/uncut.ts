/** What is drawn and no cut works on: it would be missing from the sign, and nobody would have said so. */
import { kindOf } from '../cuts/index.ts';
import type { Job } from '../job/index.ts';
import { worksOn } from '../job/target.ts';
import type { PlannedItem } from './items.ts';

export interface Uncut {
  item: string;
  /** All of it, or only the lines in it that the cuts on it do not follow. */
  what: 'all' | 'lines';
}

/** Things that no cut works on, guides aside; and those whose lines no cut on them follows. */
export function uncutThings(job: Job, items: readonly PlannedItem[]): Uncut[] {
  // Without cuts there is nothing to compare with, and that is said by itself.
  if (job.cutOrder.length === 0) return [];
  const cuts = job.cutOrder.map((id) => job.cuts[id]).filter((cut) => !kindOf(cut).wholeBoard);
  const outline = job.outline === null && cuts.some(({ on }) => on === 'outline');
  return items.flatMap(({ item, regions, lines }): Uncut[] => {
    if (item.guide || item.bridge || item.later || (regions.length === 0 && lines.length === 0)) return [];
    const own = cuts.filter((cut) => worksOn(job, cut, item) || (outline && cut.on === 'outline' && regions.length > 0));
    if (!own.some((cut) => kindOf(cut).followsLines || regions.length > 0)) return [{ item: item.id, what: 'all' }];
    if (lines.length > 0 && !own.some((cut) => kindOf(cut).followsLines)) return [{ item: item.id, what: 'lines' }];
    return [];
  });
}
