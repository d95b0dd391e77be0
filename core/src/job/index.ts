/**
 * The job document: plain data, everything a sign needs to be planned again next year. Lengths
 * are millimetres from the board's lower-left corner (X right, Y away from the operator); depths
 * are positive downwards from the top of the board. Things live in a record by id with an order
 * list beside it.
 */
import { z } from 'zod';
import { id, length, notNegative, positive } from './fields.ts';
import { Item, Layer } from './items.ts';

export * from './items.ts';

export const JOB_VERSION = 1;

const feed = z.number().gt(0).max(100_000);

export const Board = z.strictObject({
  width: positive.max(20_000),
  height: positive.max(20_000),
  thickness: positive.max(1_000),
  /** Readings at lower-left, lower-right, upper-right, upper-left, when taken. */
  measured: z.tuple([positive, positive, positive, positive]).optional(),
  material: z.string().max(60).default('pine'),
  holdDown: z.enum(['clamps', 'screws', 'tape', 'vacuum']).default('screws'),
});

export const Datum = z.strictObject({
  corner: z.enum(['lower-left', 'lower-right', 'upper-left', 'upper-right', 'centre']).default('lower-left'),
  /** Z = 0 on top of the board, or on the spoilboard it lies on. */
  z: z.enum(['top', 'spoilboard']).default('top'),
});

const bitFields = {
  id,
  name: z.string().max(80).default(''),
  diameter: positive.max(200),
  shank: positive.max(60).default(6.35),
  fluteLength: positive.max(300).default(25),
  flutes: z.int().min(1).max(12).default(2),
  /** Width of a slot it cut, mm, when it was measured. */
  measuredWidth: positive.max(200).optional(),
};
export const VBitSchema = z.strictObject({
  ...bitFields,
  kind: z.literal('v'),
  angle: z.number().min(5).max(170),
  tipFlat: notNegative.default(0),
});
export const EndMillSchema = z.strictObject({ ...bitFields, kind: z.literal('end') });
export const DrillSchema = z.strictObject({
  ...bitFields,
  kind: z.literal('drill'),
  /** Included angle of the point. (Common practice: 118° for twist drills.) */
  pointAngle: z.number().min(60).max(180).default(118),
});
export const Bit = z.discriminatedUnion('kind', [VBitSchema, EndMillSchema, DrillSchema]);

/** What a cut works on: every drawn thing but the sign's outline, the outline, or things by id. */
export const Target = z.union([z.literal('art'), z.literal('outline'), z.array(id)]);

const cutFields = {
  id,
  name: z.string().max(80).default(''),
  on: Target,
  bit: id,
  feed: feed.default(2400),
  plunge: feed.default(1000),
  /** Spindle, rev/min. */
  speed: z.number().gt(0).max(100_000).default(18_000),
};

export const VCarveCut = z.strictObject({
  ...cutFields,
  kind: z.literal('vcarve'),
  startDepth: notNegative.default(0),
  /** Depth below the start that the bit never passes: wider strokes get a flat floor. */
  floorDepth: positive.optional(),
  /** Distance of the passes that clear such a floor. */
  stepover: positive.default(0.5),
});

export const ProfileCut = z.strictObject({
  ...cutFields,
  kind: z.literal('profile'),
  side: z.enum(['outside', 'inside', 'on']).default('outside'),
  startDepth: notNegative.default(0),
  /** Depth below the top; left out to cut through. */
  depth: positive.optional(),
  /** How much deeper than the board a through cut goes. */
  throughAllowance: notNegative.default(0.3),
  depthPerPass: positive.default(4),
  direction: z.enum(['climb', 'conventional']).default('climb'),
  /** Distance kept from the line, for a finishing cut. */
  allowance: length.default(0),
  tabs: z.int().min(0).max(200).default(4),
  tabWidth: positive.default(6),
  tabHeight: positive.default(2),
});

export const PocketCut = z.strictObject({
  ...cutFields,
  kind: z.literal('pocket'),
  startDepth: notNegative.default(0),
  /** Depth below the top. */
  depth: positive.default(3),
  depthPerPass: positive.default(3),
  /** Distance between passes; left out, 40 % of the cutting width (common practice). */
  stepover: positive.optional(),
  /** Rings inwards from the wall, or parallel lines at an angle with a pass along the wall. */
  pattern: z.enum(['rings', 'lines']).default('rings'),
  angle: z.number().min(-360).max(360).default(0),
  direction: z.enum(['climb', 'conventional']).default('climb'),
  /** Left on the wall by the clearing passes and taken off by a last one, mm. */
  allowance: notNegative.default(0),
  /** How the bit comes down: what fits best, straight, along the pass, or in a helix. */
  entry: z.enum(['auto', 'straight', 'ramp', 'helix']).default('auto'),
  /** A bit that cleared here before: only what it could not reach is cut. */
  after: id.optional(),
});

export const DrillCut = z.strictObject({
  ...cutFields,
  kind: z.literal('drill'),
  /** Depth below the top; left out to go through. */
  depth: positive.optional(),
  throughAllowance: notNegative.default(0.5),
  /** Depth of each peck, after which the bit comes out to clear the chips. (Common practice: 3.2 mm.) */
  peck: positive.default(3.2),
});

/** Along lines, and along the outlines of shapes: a groove as the bit makes it. */
export const EngraveCut = z.strictObject({
  ...cutFields,
  kind: z.literal('engrave'),
  startDepth: notNegative.default(0),
  depth: positive.default(0.5),
  depthPerPass: positive.default(1),
});

export const Cut = z.discriminatedUnion('kind', [VCarveCut, ProfileCut, PocketCut, DrillCut, EngraveCut]);

const triple = z.tuple([positive, positive, positive]);
export const Machine = z.strictObject({
  name: z.string().max(80).default('Router'),
  /** Travel of X, Y, Z, mm. */
  travel: triple.default([1300, 900, 130]),
  /** The part of the bed that can be reached and used: from corner and size, machine coordinates. */
  usable: z.strictObject({ x: length, y: length, width: positive, height: positive }).default({ x: 20, y: 20, width: 1240, height: 840 }),
  /** Greatest speed of X, Y, Z, mm/min. */
  maxSpeed: triple.default([10_000, 10_000, 4_000]),
  /** Greatest acceleration of X, Y, Z, mm/s². */
  acceleration: triple.default([900, 900, 500]),
  /** How far a corner may be cut short when it is taken without stopping, mm. */
  cornerDeviation: positive.default(0.02),
  maxSpindle: positive.default(24_000),
  spindleSeconds: notNegative.default(4),
  bitChangeSeconds: notNegative.default(120),
  /** Where it rests after a program, machine X and Y. */
  park: z.tuple([length, length]).default([10, 880]),
});

export const ProgramSettings = z.strictObject({
  units: z.enum(['mm', 'in']).default('mm'),
  decimals: z.int().min(2).max(6).default(3),
  /** One program for each bit, or one program that pauses for every bit change. */
  split: z.enum(['bit', 'pauses']).default('pauses'),
  /** Height above the board for travel, mm. */
  clearance: positive.default(5),
});

/** What the artwork check goes by. */
export const ArtCheck = z.strictObject({
  /** Greatest gap between loose ends that is offered for joining, mm. */
  gap: positive.max(50).default(1),
  /** Bridges that hold islands: width, mm, and how many to an island. (Common practice: about 3 mm.) */
  bridgeWidth: positive.max(100).default(3),
  bridges: z.int().min(1).max(8).default(2),
});

export const Job = z.strictObject({
  kerbe: z.literal(JOB_VERSION),
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
  check: ArtCheck.prefault({}),
  /** The thing along which the sign is cut out of the board. */
  outline: id.nullable().default(null),
  bits: z.record(id, Bit),
  cuts: z.record(id, Cut),
  cutOrder: z.array(id),
  machine: Machine.prefault({}),
  program: ProgramSettings.prefault({}),
  notes: z.string().max(20_000).default(''),
});

export type Job = z.infer<typeof Job>;
export type JobInput = z.input<typeof Job>;
export type Board = z.infer<typeof Board>;
export type Datum = z.infer<typeof Datum>;
export type Bit = z.infer<typeof Bit>;
export type Cut = z.infer<typeof Cut>;
export type VCarveCut = z.infer<typeof VCarveCut>;
export type ProfileCut = z.infer<typeof ProfileCut>;
export type PocketCut = z.infer<typeof PocketCut>;
export type DrillCut = z.infer<typeof DrillCut>;
export type EngraveCut = z.infer<typeof EngraveCut>;
export type Machine = z.infer<typeof Machine>;
export type ProgramSettings = z.infer<typeof ProgramSettings>;

/** JSON Schema of the document, as published in docs/job.schema.json. */
export const jobSchema = (): unknown => z.toJSONSchema(Job, { io: 'input' });

export type JobReading = { ok: true; job: Job } | { ok: false; why: string[] };

/**
 * Reads a job document from parsed JSON. Every fault is named by where it stands, in words.
 * References to things, bits and cuts that are not there are faults too.
 */
export function readJob(data: unknown): JobReading {
  const version = (data as { kerbe?: unknown } | null)?.kerbe;
  if (typeof version === 'number' && version > JOB_VERSION)
    return { ok: false, why: [`This job was saved by a newer Kerbe (version ${version}). Update Kerbe to open it.`] };
  const parsed = Job.safeParse(data);
  if (!parsed.success) return { ok: false, why: parsed.error.issues.slice(0, 20).map((issue) => `${issue.path.join('.') || 'job'}: ${issue.message}`) };
  const job = parsed.data;
  const why: string[] = [];
  const listed = (order: string[], record: Record<string, { id: string }>, what: string) => {
    for (const key of order) if (!record[key]) why.push(`${what} “${key}” is in the order but not in the job.`);
    for (const key of Object.keys(record)) {
      if (!order.includes(key)) why.push(`${what} “${key}” is missing from the order.`);
      if (record[key].id !== key) why.push(`${what} “${key}” carries another id.`);
    }
    if (new Set(order).size !== order.length) why.push(`${what}s are listed twice in the order.`);
  };
  listed(job.itemOrder, job.items, 'Drawn thing');
  listed(job.cutOrder, job.cuts, 'Cut');
  for (const cut of Object.values(job.cuts)) {
    if (!job.bits[cut.bit]) why.push(`Cut “${cut.id}” uses bit “${cut.bit}”, which is not in the job.`);
    if (cut.kind === 'pocket' && cut.after !== undefined && !job.bits[cut.after])
      why.push(`Cut “${cut.id}” comes after bit “${cut.after}”, which is not in the job.`);
    if (Array.isArray(cut.on)) for (const key of cut.on) if (!job.items[key]) why.push(`Cut “${cut.id}” works on “${key}”, which is not drawn.`);
  }
  const layers = new Set(job.layers.map((layer) => layer.id));
  for (const item of Object.values(job.items)) {
    if (item.layer && !layers.has(item.layer)) why.push(`Drawn thing “${item.id}” lies on layer “${item.layer}”, which is not in the job.`);
    if (item.kind === 'text' && item.baseline.kind === 'path' && !job.items[item.baseline.item])
      why.push(`Words “${item.id}” stand on “${item.baseline.item}”, which is not drawn.`);
  }
  if (job.outline !== null && !job.items[job.outline]) why.push(`The outline “${job.outline}” is not drawn.`);
  return why.length ? { ok: false, why } : { ok: true, job };
}

/** Machine X, Y of the datum relative to the board's lower-left corner, mm. */
export function datumPoint(job: Pick<Job, 'board' | 'datum'>): [number, number] {
  const { width, height } = job.board;
  switch (job.datum.corner) {
    case 'lower-left':
      return [0, 0];
    case 'lower-right':
      return [width, 0];
    case 'upper-left':
      return [0, height];
    case 'upper-right':
      return [width, height];
    case 'centre':
      return [width / 2, height / 2];
  }
}

/** Thickest reading of the board: Z is zeroed on the highest point, through cuts reckon with it. */
export const boardThickness = (board: Board): number => (board.measured ? Math.max(...board.measured) : board.thickness);
