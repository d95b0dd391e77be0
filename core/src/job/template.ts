/**
 * Cut lists kept for other artwork: "brass plate, two holes". A template holds cuts and their tools;
 * what a cut works on is kept by role - words, holes, lines, shapes, the outline - so that it finds
 * the like in another drawing.
 */
import { z } from 'zod';
import { Bit } from '../bits/schema.ts';
import { Cut, kindOf, namedBy, renamed } from '../cuts/index.ts';
import { id } from '../fields/index.ts';
import type { Job } from './index.ts';
import { roleOfItem } from './target.ts';
import { toolsForBits } from './versions.ts';

const TEMPLATE_VERSION = 2;

const Kept = z.strictObject({
  kerbeTemplate: z.literal(TEMPLATE_VERSION),
  name: z.string().min(1).max(120),
  tools: z.record(id, Bit),
  cuts: z.record(id, Cut),
  cutOrder: z.array(id),
});

/** A template of this version or the first, which spoke of bits. */
export const Template = z.preprocess((data) => {
  const document = data as { kerbeTemplate?: unknown } | null;
  return document?.kerbeTemplate === 1 ? { ...toolsForBits(document), kerbeTemplate: TEMPLATE_VERSION } : data;
}, Kept);
export type Template = z.infer<typeof Template>;

/** The cut list of a job. Things picked one by one become their role, or everything when they are of several. */
export function templateOf(job: Job, name: string): Template {
  const roles = (ids: readonly string[]) => [...new Set(ids.filter((one) => job.items[one]).map((one) => roleOfItem(job.items[one])))];
  const cuts = Object.fromEntries(
    job.cutOrder.map((key) => {
      const cut = structuredClone(job.cuts[key]);
      if (Array.isArray(cut.on)) {
        const found = roles(cut.on);
        cut.on = cut.on.length === 1 && cut.on[0] === job.outline ? 'outline' : found.length === 1 ? found[0] : 'art';
      }
      // Places on this drawing mean nothing on another.
      return [key, { ...cut, ...structuredClone(kindOf(cut).unplaced) } as Cut];
    }),
  );
  const used = new Set(Object.values(cuts).flatMap((cut) => namedBy(cut).tools));
  const bits = Object.fromEntries(Object.entries(job.tools).filter(([key]) => used.has(key)));
  return structuredClone({ kerbeTemplate: TEMPLATE_VERSION, name, tools: bits, cuts, cutOrder: [...job.cutOrder] });
}

/**
 * A job with its cuts replaced by a template's. Bits the job has already, alike in every figure, are
 * used; others come along under a free name.
 *
 * @returns the job, and the names of cuts whose role nothing in the drawing plays
 */
export function layTemplate(job: Job, template: Template): { job: Job; idle: string[] } {
  const bits = { ...job.tools };
  const names: Record<string, string> = {};
  const facts = (bit: Bit) => JSON.stringify({ ...bit, id: '', name: '', crib: undefined, feeds: undefined });
  for (const [key, bit] of Object.entries(template.tools)) {
    const same = Object.values(bits).find((other) => facts(other) === facts(bit));
    let free = same?.id ?? key;
    for (let n = 2; !same && bits[free]; n++) free = `${key}-${n}`;
    names[key] = free;
    if (!same) bits[free] = { ...bit, id: free };
  }
  const played = new Set<string>(job.itemOrder.filter((one) => one !== job.outline).map((one) => roleOfItem(job.items[one])));
  if (played.size > 0) played.add('art');
  if (job.outline || played.size > 0) played.add('outline');
  const cuts: Record<string, Cut> = {};
  const idle: string[] = [];
  for (const key of template.cutOrder) {
    const cut = renamed(structuredClone(template.cuts[key]), 'tool', (name) => names[name]);
    cuts[key] = cut;
    if (!kindOf(cut).wholeBoard && typeof cut.on === 'string' && !played.has(cut.on)) idle.push(cut.name || cut.kind);
  }
  return { job: { ...job, tools: bits, cuts, cutOrder: [...template.cutOrder] }, idle };
}
