/** What an edit or a repair makes of a job, and how it is laid into the document. */
import { namedBy } from '../cuts/index.ts';
import type { Item, Job } from '../job/index.ts';

/** Stands for the board where the id of a thing could stand. */
export const BOARD = ' board';

/** What an edit makes of the things it touches: the new thing, or null for one that is gone. New things come with new ids. */
export interface Change {
  items: Record<string, Item | null>;
  /** The order of all things, when it changed. */
  order?: string[];
  /** The order is one to cut in: somebody chose it. */
  toCutIn?: true;
  /** Said when something could not be done for all of it. */
  note?: string;
}

/**
 * A change laid into a job: things replaced where they stand, new ones on top of those they came
 * from, references to what is gone taken out, and with the sign's outline the cuts that were made for it. Returns the parts of the document that differ.
 */
export function changedJob(job: Job, { items, order: asked, toCutIn }: Change): Pick<Job, 'items' | 'itemOrder' | 'cuts' | 'cutOrder' | 'outline'> {
  const next = { ...job.items };
  const gone = new Set<string>();
  const added: string[] = [];
  let last = -1;
  for (const [id, item] of Object.entries(items)) {
    const at = job.itemOrder.indexOf(id);
    if (at >= 0) last = Math.max(last, at);
    if (item === null) {
      delete next[id];
      gone.add(id);
    } else {
      next[id] = item;
      if (at < 0) added.push(id);
    }
  }
  const order = [...(asked ?? job.itemOrder)];
  order.splice(last < 0 ? order.length : last + 1, 0, ...added);
  const outlineGone = job.outline !== null && gone.has(job.outline);
  // A cut through along an outline that is gone would go round the artwork instead.
  const meant = outlineGone ? Object.keys(job.cuts).filter((id) => job.cuts[id].on === 'outline') : [];
  const left = Object.entries(job.cuts).filter(([id, cut]) => ![id, ...namedBy(cut).cuts].some((one) => meant.includes(one)));
  const cuts = Object.fromEntries(left.map(([id, cut]) => [id, Array.isArray(cut.on) ? { ...cut, on: cut.on.filter((on) => !gone.has(on)) } : cut]));
  for (const [id, item] of Object.entries(next))
    if (item.kind === 'text' && item.baseline.kind === 'path' && gone.has(item.baseline.item)) next[id] = { ...item, baseline: { kind: 'straight' } };
  return {
    items: next,
    itemOrder: order.filter((id) => !gone.has(id)),
    cuts: toCutIn ? inTheirOrder(cuts) : gone.size ? cuts : job.cuts,
    cutOrder: gone.size ? job.cutOrder.filter((id) => id in cuts) : job.cutOrder,
    outline: outlineGone ? null : job.outline,
  };
}

/** Cuts that go the shortest way follow the things from now on; those with another order of their own keep it. */
const inTheirOrder = (cuts: Job['cuts']): Job['cuts'] =>
  Object.fromEntries(Object.entries(cuts).map(([id, cut]) => [id, cut.order === 'shortest' ? { ...cut, order: 'drawn' as const } : cut]));
