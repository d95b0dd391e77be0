/** What becomes of each layer of a drawing on a laser: cut, scored, filled, burned as a picture, or left out. A layer is what it was in the file, or a colour. */
import { kindNamed } from '../cuts/index.ts';
import { suggestBeam } from '../feeds/beam.ts';
import { boardThickness, Cut, type Item, type Job } from '../job/index.ts';

export const LAYER_WORK = ['laser-cut', 'laser-score', 'laser-fill', 'laser-picture'] as const;
export type LayerWork = (typeof LAYER_WORK)[number];

/** The cut that a kind of work on layers is done by. */
const cutIdOf = (work: LayerWork): string => `layers-${work.slice('laser-'.length)}`;

export interface LayerView {
  id: string;
  name: string;
  items: string[];
  /** Pictures lie on it, or only drawn things, or both. */
  pictures: number;
  work: LayerWork | null;
}

const layerOf = (item: Item, first: string) => item.layer ?? first;

/** The layers of a job that have something on them, and what is made of each. */
export function layersOf(job: Job): LayerView[] {
  const layers = job.layers.length > 0 ? job.layers : [{ id: '', name: 'Everything' }];
  const first = layers[0].id;
  return layers.flatMap(({ id, name }) => {
    const items = job.itemOrder.filter((one) => layerOf(job.items[one], first) === id && one !== job.outline);
    if (items.length === 0) return [];
    const work = LAYER_WORK.find((kind) => {
      const on = job.cuts[cutIdOf(kind)]?.on;
      return Array.isArray(on) && items.every((one) => on.includes(one));
    });
    return [{ id, name, items, pictures: items.filter((one) => job.items[one].kind === 'picture').length, work: work ?? null }];
  });
}

/**
 * The job with a layer given to a kind of work, or to none. One cut does all layers of a kind, with what is suggested for the sheet when it is new;
 * marks come before what is cut out. (Common practice.)
 */
export function giveLayer(job: Job, layer: string, work: LayerWork | null): Job {
  const { items = [] } = layersOf(job).find(({ id }) => id === layer) ?? {};
  const cuts = { ...job.cuts };
  for (const kind of LAYER_WORK) {
    const id = cutIdOf(kind);
    const had = cuts[id] && Array.isArray(cuts[id].on) ? cuts[id].on : [];
    const on = [...had.filter((one) => !items.includes(one)), ...(kind === work ? items : [])];
    if (on.length === 0) delete cuts[id];
    else cuts[id] = cuts[id] ? ({ ...cuts[id], on } as Job['cuts'][string]) : newCut(job, kind, on);
  }
  // What other cuts are worked in stays; those of layers go from marks to what is cut out.
  const others = job.cutOrder.filter((id) => !LAYER_WORK.some((kind) => cutIdOf(kind) === id));
  const layered = (['laser-picture', 'laser-fill', 'laser-score', 'laser-cut'] as const).map(cutIdOf).filter((id) => id in cuts);
  const through = others.filter((id) => kindNamed(job.cuts[id].kind).burns === 'through');
  const marks = others.filter((id) => !through.includes(id));
  return { ...job, cuts, cutOrder: [...marks, ...layered, ...through] };
}

function newCut(job: Job, kind: LayerWork, on: string[]): Job['cuts'][string] {
  const head = Object.values(job.tools).find((tool) => tool.kind === 'head');
  if (!head) throw new Error('There is no laser head in this job: take one from the crib first.');
  const definition = kindNamed(kind);
  const { feed, power, passes } = suggestBeam(head, job.board.material, boardThickness(job.board), definition)!;
  const own = definition.takesPictures ? {} : { passes };
  return Cut.parse({ kind, id: cutIdOf(kind), name: `${definition.title}, by layer`, on, tool: head.id, feed, power, speed: 0, ...own });
}
