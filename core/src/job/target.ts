/** What a cut works on. */
import type { BaseCut } from '../cuts/index.ts';
import type { Item, Job } from './index.ts';

export type Role = 'words' | 'holes' | 'lines' | 'shapes';

/** What a drawn thing is to a cut list, by its kind alone. */
export function roleOfItem(item: Item): Role {
  if (item.kind === 'text') return 'words';
  if (item.kind === 'holes' || (item.kind === 'ellipse' && item.width === item.height)) return 'holes';
  if (item.kind === 'line' || item.kind === 'arc' || (item.kind === 'path' && item.fill === 'none')) return 'lines';
  return 'shapes';
}

/** Does a cut work on a thing? Without an outline of its own a job's outline is nothing that is drawn. */
export function worksOn(job: Pick<Job, 'outline'>, { on }: Pick<BaseCut, 'on'>, item: Item): boolean {
  if (item.guide || item.bridge || item.later) return false;
  if (Array.isArray(on)) return on.includes(item.id);
  if (on === 'outline') return item.id === job.outline;
  return item.id !== job.outline && (on === 'art' || roleOfItem(item) === on);
}

/** Turns a job over to its next run: what was left out of this one is cut, and what was cut is left out. Guides and bridges stay. */
export function takeLeftOut({ items }: Pick<Job, 'items'>): void {
  for (const item of Object.values(items)) {
    if (item.guide || item.bridge || item.hidden) continue;
    if (item.later) delete item.later;
    else item.later = true;
  }
}
