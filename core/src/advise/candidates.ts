/** Bits that are worth trying on a cut, and how one of the crib comes into a job. */
import { kindNamed } from '../cuts/index.ts';
import { isPointed } from '../bits/index.ts';
import { Bit, type CutKind, type Job } from '../job/index.ts';

/** A usual V cuts over its whole cone, a usual straight bit over three diameters. */
const size = (id: string, facts: { kind: 'v' | 'engraving'; angle: number; diameter: number; tipFlat?: number } | { kind: 'end'; diameter: number }): Bit =>
  Bit.parse({
    id: id.replace('.', '_'),
    shank: facts.diameter <= 3.175 ? 3.175 : facts.diameter > 8 ? 12.7 : 6.35,
    fluteLength: facts.kind === 'end' ? Math.max(3, 3 * facts.diameter) : facts.diameter / 2 / Math.tan((facts.angle * Math.PI) / 360),
    ...facts,
  });

/** Sizes that are tried besides those of the crib. (Common practice: what most suppliers carry.) */
export const USUAL_SIZES: Bit[] = [
  ...[30, 60, 90, 120].flatMap((angle) => [6.35, 12.7, 25.4].map((diameter) => size(`v${angle}-${diameter}`, { kind: 'v', angle, diameter }))),
  ...[1, 1.5, 2, 3.175, 4, 6.35, 8, 12.7].map((diameter) => size(`end-${diameter}`, { kind: 'end', diameter })),
  ...[0.25, 0.5, 0.75, 1].map((tipFlat) => size(`engraving-${tipFlat}`, { kind: 'engraving', angle: 20, diameter: 3.175, tipFlat })),
];

/** Bits worth trying for a kind of cut: those of the crib, then usual sizes that are not there. */
export function candidatesFor(kind: CutKind, crib: readonly Bit[], usual = true): Bit[] {
  const fits = (bit: Bit) => kindNamed(kind).tools.includes(bit.kind);
  const own = crib.filter(fits);
  const alike = (a: Bit, b: Bit) =>
    a.kind === b.kind &&
    a.diameter === b.diameter &&
    (!isPointed(a) || !isPointed(b) || (a.angle === b.angle && a.tipFlat === b.tipFlat && a.tipRadius === b.tipRadius));
  return [...own, ...(usual ? USUAL_SIZES.filter((size) => fits(size) && !own.some((bit) => alike(bit, size))) : [])];
}

/** A bit of the crib as one of the job: the one that is there already, or under an id that is free. */
export function inJob(job: Pick<Job, 'tools'>, bit: Bit): [string, Bit] {
  const own = Object.values(job.tools).find(({ crib }) => crib !== undefined && crib === bit.id);
  if (own) return [own.id, own];
  let id = bit.id;
  for (let n = 2; job.tools[id]; n++) id = `${bit.id}-${n}`;
  return [id, { ...bit, id, crib: bit.id }];
}
