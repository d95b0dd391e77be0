/** The other half of a pair: a plug for a recess, a recess for a plug, or the plug of a V-carved inlay, each a job of its own - another board, another set-up, another record. */
import type { Bit } from '../bits/schema.ts';
import { kindOf, namedBy, type Cut, type InlayRoom } from '../cuts/index.ts';
import type { Item, Job } from './index.ts';
import { worksOn } from './target.ts';

export type { InlayRoom } from '../cuts/index.ts';

/** `told`: what was done otherwise than asked, in words. */
export type Paired = { ok: true; job: Job; told: string[] } | { ok: false; why: string };

/** The job of the mate of a cut. */
export function pairJob(job: Job, cutId: string, room: InlayRoom = { glue: 0.5, saw: 1 }): Paired {
  const cut = job.cuts[cutId];
  if (!cut) return { ok: false, why: 'This cut is not in the job.' };
  const half = kindOf(cut).otherHalf?.(cut, job, room) ?? { ok: false, why: 'Only a recess, a plug, or a V-carve with a floor has another half.' };
  if (!half.ok) return half;
  const { width } = job.board;
  const placed = (item: Item): Item => (half.mirrored ? { ...item, x: width - item.x, angle: -item.angle, mirror: !item.mirror } : item);
  return { ok: true, job: halved(job, half.cut as Cut, half.what, half.told, placed), told: half.told };
}

function halved(job: Job, cut: Cut, what: string, told: readonly string[], map: (item: Item) => Item): Job {
  const items: Record<string, Item> = {};
  for (const id of job.itemOrder) if (worksOn(job, cut, job.items[id])) items[id] = map(job.items[id]);
  // What words stand on comes along as it was, unseen: they are mirrored after they are set.
  for (const item of Object.values(items)) {
    if (item.kind !== 'text' || item.baseline.kind !== 'path') continue;
    const line = `${item.baseline.item}-line`;
    items[line] = { ...job.items[item.baseline.item], id: line, hidden: true };
    items[item.id] = { ...item, baseline: { ...item.baseline, item: line } };
  }
  const bits: Record<string, Bit> = Object.fromEntries(namedBy(cut).tools.map((id) => [id, job.tools[id]]));
  const itemOrder = [...job.itemOrder.filter((id) => items[id]), ...Object.keys(items).filter((id) => !job.items[id])];
  return {
    ...job,
    name: `${job.name} - ${what}`.slice(0, 120),
    items,
    itemOrder,
    outline: job.outline && items[job.outline] ? job.outline : null,
    tools: bits,
    cuts: { [cut.id]: cut },
    cutOrder: [cut.id],
    notes: [`The ${what} for “${job.name}”.`, ...told].join('\n'),
  };
}
