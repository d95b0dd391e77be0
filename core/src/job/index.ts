/**
 * The job document: plain data, everything a sign needs to be planned again next year. Lengths
 * are millimetres from the board's lower-left corner (X right, Y away from the operator); depths
 * are positive downwards from the top of the board. Things live in a record by id with an order
 * list beside it.
 */
import { z } from 'zod';
import { cleanDeep } from '../text/index.ts';
import { Bit } from '../bits/schema.ts';
import { Board, Datum } from '../board/index.ts';
import { Cut, kindNamed, kindOf } from '../cuts/index.ts';
import { id, length, positive } from '../fields/index.ts';
import { Machine } from '../machine/index.ts';
import { PROCESS_NAMES, PROCESSES } from '../process/index.ts';
import { ProgramSettings } from '../program/settings.ts';
import { Item, Layer } from './items.ts';
import { Tiles } from './tiles.ts';
import { JOB_VERSION, upToDate } from './versions.ts';

export { Bit, FeedPreset } from '../bits/schema.ts';
export { Board, boardThickness, Datum, datumPoint, topHeight, type Holder } from '../board/index.ts';
export { Cut, type CutOf, type KindName as CutKind } from '../cuts/index.ts';
export * from './items.ts';
export { JOB_VERSION } from './versions.ts';
export { Machine } from '../machine/index.ts';
export { ProgramSettings } from '../program/settings.ts';

/** What the artwork check goes by. */
export const ArtCheck = z.strictObject({
  /** Greatest gap between loose ends that is offered for joining, mm. */
  gap: positive.max(50).default(1),
  /** Bridges that hold islands: width, mm, and how many to an island. (Common practice: about 3 mm.) */
  bridgeWidth: positive.max(100).default(3),
  bridges: z.int().min(1).max(8).default(2),
});

/** A trial board: the same piece cut in several ways, each place labelled in the wood. */
export const Trial = z.strictObject({
  /** What differs from place to place. */
  vary: z
    .array(z.enum(['tool', 'depth', 'feed', 'power', 'lines', 'focus', 'kerf']))
    .min(1)
    .max(2),
  cells: z.array(z.strictObject({ label: z.string().max(40), cut: id, x: length, y: length })).max(200),
  /** The place that came out best, once somebody said so. */
  best: z.int().min(0).optional(),
});

export const Job = z.strictObject({
  kerbe: z.literal(JOB_VERSION),
  /** The kind of machine it is for. */
  process: z.enum(PROCESS_NAMES).default('router'),
  name: z.string().min(1).max(120),
  units: z.enum(['mm', 'in']).default('mm'),
  /** Greatest deviation of anything computed from anything drawn, mm. */
  tolerance: z.number().min(0.001).max(0.5).default(0.01),
  board: Board,
  datum: Datum.prefault({}),
  items: z.record(id, Item),
  itemOrder: z.array(id),
  /** Layers from the bottom up; things that name none lie on the first. */
  layers: z.array(Layer).default([]),
  /** Lines things are set against: across the board at a distance from its left (`x`) or front (`y`) edge. */
  guides: z
    .array(z.strictObject({ axis: z.enum(['x', 'y']), at: length }))
    .max(200)
    .default([]),
  /** Measures kept as notes on the drawing: from one point to another. */
  dimensions: z
    .array(z.strictObject({ from: z.tuple([length, length]), to: z.tuple([length, length]) }))
    .max(200)
    .optional(),
  check: ArtCheck.prefault({}),
  /** The thing along which the sign is cut out of the board. */
  outline: id.nullable().default(null),
  /** What cuts: bits, on a router. */
  tools: z.record(id, Bit),
  cuts: z.record(id, Cut),
  cutOrder: z.array(id),
  /** The machine it is planned for, and which one of the shop's that is. */
  machine: Machine.extend({ id: z.string().max(60).optional() }).prefault({}),
  program: ProgramSettings.prefault({}),
  /** Pictures that travel with the document, by their assets: data addresses. */
  assets: z
    .record(
      id,
      z
        .string()
        .max(80_000_000)
        .regex(/^data:image\/(png|jpeg|webp|bmp);base64,/, 'A picture is a data address.'),
    )
    .optional(),
  /** How a sheet larger than the field is burned. */
  tiles: Tiles.optional(),
  /** Set on a trial board. */
  trial: Trial.optional(),
  notes: z.string().max(20_000).default(''),
});

export type Job = z.infer<typeof Job>;
export type JobInput = z.input<typeof Job>;
export type Trial = z.infer<typeof Trial>;

/** JSON Schema of the document, as published in docs/job.schema.json. */
export const jobSchema = (): unknown => z.toJSONSchema(Job, { io: 'input' });

export type JobReading = { ok: true; job: Job } | { ok: false; why: string[] };

/**
 * Reads a job document from parsed JSON, of this version or any before. Every fault is named by where it stands, in words.
 * References to things, tools and cuts that are not there are faults too.
 */
export function readJob(data: unknown): JobReading {
  const version = (data as { kerbe?: unknown } | null)?.kerbe;
  if (typeof version === 'number' && version > JOB_VERSION)
    return { ok: false, why: [`This job was saved by a newer Kerbe (version ${version}). Update Kerbe to open it.`] };
  const parsed = Job.safeParse(upToDate(data));
  if (!parsed.success) return { ok: false, why: parsed.error.issues.slice(0, 20).map((issue) => `${issue.path.join('.') || 'job'}: ${issue.message}`) };
  const job = cleanDeep(parsed.data);
  const why: string[] = [];
  const { one: aTool } = PROCESSES[job.process].tool;
  const listed = (order: string[], record: Record<string, { id: string }>, what: string) => {
    for (const key of order) if (!record[key]) why.push(`${what} “${key}” is in the order but not in the job.`);
    const known = new Set(order);
    for (const key of Object.keys(record)) {
      if (!known.has(key)) why.push(`${what} “${key}” is missing from the order.`);
      if (record[key].id !== key) why.push(`${what} “${key}” carries another id.`);
    }
    if (known.size !== order.length) why.push(`${what}s are listed twice in the order.`);
  };
  listed(job.itemOrder, job.items, 'Drawn thing');
  listed(job.cutOrder, job.cuts, 'Cut');
  for (const cut of Object.values(job.cuts)) {
    if (kindOf(cut).process !== job.process)
      why.push(
        `Cut “${cut.id}” is made by a ${PROCESSES[kindOf(cut).process].label.toLowerCase()}, and this job is for a ${PROCESSES[job.process].label.toLowerCase()}.`,
      );
    if (!job.tools[cut.tool]) why.push(`Cut “${cut.id}” uses ${aTool} “${cut.tool}”, which is not in the job.`);
    for (const { field, to, says, kinds } of kindOf(cut).references ?? []) {
      const name = (cut as unknown as Record<string, unknown>)[field] as string | undefined;
      if (name === undefined) continue;
      if (to === 'tool' && !job.tools[name]) why.push(`Cut “${cut.id}” ${says(name)}, which is not in the job.`);
      if (to === 'cut' && !job.cuts[name]) why.push(`Cut “${cut.id}” ${says(name)}, which is no cut of the job.`);
      else if (to === 'cut' && kinds && !kinds.includes(job.cuts[name].kind))
        why.push(`Cut “${cut.id}” ${says(name)}, which is no ${kinds.map((kind) => kindNamed(kind).label).join(' or ')} of the job.`);
    }
    if (Array.isArray(cut.on)) for (const key of cut.on) if (!job.items[key]) why.push(`Cut “${cut.id}” works on “${key}”, which is not drawn.`);
  }
  const layers = new Set(job.layers.map((layer) => layer.id));
  for (const item of Object.values(job.items)) {
    if (item.layer && !layers.has(item.layer)) why.push(`Drawn thing “${item.id}” lies on layer “${item.layer}”, which is not in the job.`);
    if (item.kind === 'text' && item.baseline.kind === 'path' && !job.items[item.baseline.item])
      why.push(`Words “${item.id}” stand on “${item.baseline.item}”, which is not drawn.`);
  }
  if (job.tiles?.seams.some((seam, k, all) => k > 0 && seam <= all[k - 1])) why.push('The seams do not go up one after the other.');
  if (job.outline !== null && !job.items[job.outline]) why.push(`The outline “${job.outline}” is not drawn.`);
  return why.length ? { ok: false, why } : { ok: true, job };
}

/** Cuts shallower than this would fade on an uneven board, mm. (Common practice.) */
const SHALLOW = 1;

/** The shallowest cut of a job that would fade on an uneven board, mm below its top; null when every cut is deep. */
export function shallowestOf(job: Job): number | null {
  const depths = Object.values(job.cuts).flatMap((cut) => (!cut.off && 'depth' in cut && typeof cut.depth === 'number' ? [cut.depth] : []));
  const least = Math.min(...depths, Infinity);
  return least < SHALLOW ? least : null;
}
