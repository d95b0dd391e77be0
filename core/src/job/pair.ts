/** The other half of a pair: a plug for a recess, a recess for a plug, or the plug of a V-carved inlay, each a job of its own - another board, another set-up, another record. */
import { isPointed, radiusAt, ridgeOf, shapeOf } from '../bits/index.ts';
import { formatLength } from '../length/index.ts';
import { Cut } from './cuts.ts';
import type { Bit } from './bits.ts';
import type { Item, Job } from './index.ts';
import { worksOn } from './target.ts';
import { bitsOf } from './template.ts';

/** Room for glue under a V-carved plug, and above the surface for the saw, mm. */
export interface InlayRoom {
  glue: number;
  saw: number;
}

/** `told`: what was done otherwise than asked, in words. */
export type Paired = { ok: true; job: Job; told: string[] } | { ok: false; why: string };

/**
 * The job of the mate of a cut.
 *
 * V-carved inlay (derived): the female's walls are vdepth·t in from the line at any depth. The plug is
 * carved round the mirrored drawing so that its wall meets the line at the start depth S: held into
 * the female face down, its top comes to depth S and its walls lie on the female's. With a floor D the
 * glue has D - S; the plug's own floor lies the saw's room above the female's surface. Where ridges on a
 * floor stand higher than the room before it, the room is made larger, and that is told.
 */
export function pairJob(job: Job, cutId: string, room: InlayRoom = { glue: 0.5, saw: 1 }): Paired {
  const cut = job.cuts[cutId];
  if (!cut) return { ok: false, why: 'This cut is not in the job.' };
  if (cut.kind === 'recess' || cut.kind === 'plug') {
    const { mate, bit, id, on, corners, gap, plugShare, depthPerPass, direction } = cut;
    const kind = cut.kind === 'recess' ? 'plug' : 'recess';
    const other = Cut.parse({
      kind,
      id,
      name: kind === 'plug' ? 'Cut the plug' : 'Sink the recess',
      on,
      bit: mate,
      mate: bit,
      corners,
      gap,
      plugShare,
      depthPerPass,
      direction,
    });
    return { ok: true, job: halved(job, other, kind, [], (item) => item), told: [] };
  }
  if (cut.kind !== 'vcarve' || cut.plug) return { ok: false, why: 'Only a recess, a plug, or a V-carve with a floor has another half.' };
  if (cut.floorDepth === undefined) return { ok: false, why: 'An inlay needs a floor: give the V-carve a depth it does not pass.' };
  const bit = job.bits[cut.bit];
  // Passes with a V leave ridges on the floors of both halves: neither may touch what it faces.
  const ridge = isPointed(bit) ? ridgeOf(bit, cut.stepover) : 0;
  const told: string[] = [];
  const show = (mm: number) => formatLength(mm, { unit: job.units });
  let { glue } = room;
  if (ridge + CLEAR > glue) {
    const finer = show(2 * radiusAt({ ...shapeOf(bit), outer: Infinity }, Math.max(0, glue - CLEAR)));
    glue = ridge + CLEAR;
    told.push(
      `Ridges ${show(ridge)} high stand on the floor it goes into: it is made to go ${show(glue)} less deep than that floor, so that it does not sit on them. For ${show(room.glue)} of glue, carve that floor with a step-over of ${finer} and pair again.`,
    );
  }
  if (glue >= cut.floorDepth)
    return {
      ok: false,
      why:
        glue > room.glue
          ? `The ridges on the floor (${show(ridge)}) take all of the depth: use a smaller step-over.`
          : 'The room for glue takes all of the depth.',
    };
  let { stepover } = cut;
  if (ridge + CLEAR > room.saw) {
    stepover = Math.max(0.02, 2 * radiusAt({ ...shapeOf(bit), outer: Infinity }, Math.max(0.01, room.saw - CLEAR)));
    told.push(`Its own floor is carved with a step-over of ${show(stepover)}: coarser ridges would touch the board before it is in.`);
  }
  const other: Cut = {
    ...cut,
    name: 'Carve the plug',
    startDepth: cut.floorDepth - glue,
    floorDepth: room.saw,
    stepover,
    after: undefined,
    plug: { margin: 12 },
  };
  const { width } = job.board;
  return {
    ok: true,
    job: halved(job, Cut.parse(other), 'plug', told, (item) => ({ ...item, x: width - item.x, angle: -item.angle, mirror: !item.mirror })),
    told,
  };
}

/** What is left between the top of a ridge and what it faces, mm. */
const CLEAR = 0.05;

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
  const bits: Record<string, Bit> = Object.fromEntries(bitsOf(cut).map((id) => [id, job.bits[id]]));
  const itemOrder = [...job.itemOrder.filter((id) => items[id]), ...Object.keys(items).filter((id) => !job.items[id])];
  return {
    ...job,
    name: `${job.name} - ${what}`.slice(0, 120),
    items,
    itemOrder,
    outline: job.outline && items[job.outline] ? job.outline : null,
    bits,
    cuts: { [cut.id]: cut },
    cutOrder: [cut.id],
    notes: [`The ${what} for “${job.name}”.`, ...told].join('\n'),
  };
}
