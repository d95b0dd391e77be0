/**
 * The job document: plain data, everything a sign needs to be planned again next year. Lengths
 * are millimetres from the board's lower-left corner (X right, Y away from the operator); depths
 * are positive downwards from the top of the board. Things live in a record by id with an order
 * list beside it.
 */
import { z } from 'zod';
import { cleanDeep } from '../text/index.ts';
import { Bit } from './bits.ts';
import { Cut } from './cuts.ts';
import { id, length, notNegative, positive } from './fields.ts';
import { Item, Layer } from './items.ts';

export * from './bits.ts';
export * from './cuts.ts';
export * from './items.ts';

export const JOB_VERSION = 1;

export const Board = z.strictObject({
  width: positive.max(20_000),
  height: positive.max(20_000),
  thickness: positive.max(1_000),
  /** Readings at lower-left, lower-right, upper-right, upper-left, when taken. */
  measured: z.tuple([positive, positive, positive, positive]).optional(),
  material: z.string().max(60).default('pine'),
  holdDown: z.enum(['clamps', 'screws', 'tape', 'vacuum']).default('screws'),
  /** How high clamps or screw heads stand above the board, mm: travel goes over them. */
  holdDownHeight: notNegative.max(200).default(0),
  /** Where clamps, screws and fences are: x, y their middle on the board (they may stand beside it). */
  holders: z
    .array(
      z.strictObject({
        kind: z.enum(['clamp', 'screw', 'fence']),
        x: length,
        y: length,
        width: positive,
        depth: positive,
        /** How high it stands above the board; below nought it lies under its top. */
        height: length,
      }),
    )
    .max(100)
    .default([]),
});

export const Datum = z.strictObject({
  corner: z.enum(['lower-left', 'lower-right', 'upper-left', 'upper-right', 'centre']).default('lower-left'),
  /** Z = 0 on top of the board, or on the spoilboard it lies on. */
  z: z.enum(['top', 'spoilboard']).default('top'),
});

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
  /** Measuring one bit, setting zero, and warming the spindle before the first cut of the day, seconds. (Common practice: about ten minutes.) */
  measureSeconds: notNegative.default(30),
  zeroSeconds: notNegative.default(90),
  warmUpSeconds: notNegative.default(600),
  /** Longest program the controller holds, bytes, when it must hold all of it. */
  memory: z.int().min(1).optional(),
  /** Touch plate or corner block: its size on the board, mm, when probing is to be checked against what holds the board. */
  plate: z.strictObject({ width: positive, depth: positive }).default({ width: 50, depth: 50 }),
  /** Where it rests after a program, machine X and Y. */
  park: z.tuple([length, length]).default([10, 880]),
});

/** How programs are written: what the controller takes, and what the shop is used to. */
export const ProgramSettings = z.strictObject({
  units: z.enum(['mm', 'in']).default('mm'),
  decimals: z.int().min(2).max(6).default(3),
  /** One program for each bit, or one program for all with bit changes in it. */
  split: z.enum(['bit', 'pauses']).default('pauses'),
  /** How a change of bit stands in a program for all: a stop with words, or M6 for a machine that changes by itself. */
  change: z.enum(['pause', 'M6']).default('pause'),
  /** Lengths of bits on a machine that changes by itself: measured by it, or called from its table by G43. */
  lengths: z.enum(['measured', 'G43']).default('measured'),
  /** Drilled holes as plain moves, or as canned cycles (G81 to G83) where they say the same. */
  drilling: z.enum(['moves', 'cycles']).default('moves'),
  /** Height above the board for travel, mm. */
  clearance: positive.default(5),
  /** Height above the board down to which the bit comes rapidly before it plunges, mm: uneven boards lie lower than this. */
  approach: positive.default(2),
  /** In what order a cut goes from thing to thing: the shortest way, or in the order of the artwork. */
  order: z.enum(['shortest', 'artwork']).default('shortest'),
  /** Arcs (G2, G3, helices too) where they fit within a tolerance, or lines only. */
  arcs: z.boolean().default(false),
  lineNumbers: z.boolean().default(false),
  comments: z.enum(['brackets', 'semicolon', 'none']).default('brackets'),
  lineEnd: z.enum(['lf', 'crlf']).default('lf'),
  extension: z
    .string()
    .regex(/^[a-z0-9]{1,5}$/i)
    .default('nc'),
  workOffset: z.enum(['G54', 'G55', 'G56', 'G57', 'G58', 'G59']).default('G54'),
  /** Seconds waited after the spindle starts; left out, the machine's. */
  spindleDelay: notNegative.max(600).optional(),
  /** Air or mist while cutting: M7, M8, or nothing. */
  air: z.enum(['none', 'M7', 'M8']).default('none'),
  /** Lines of the shop's own after the safe start and before the end. */
  startLines: z.array(z.string().max(120)).max(20).default([]),
  endLines: z.array(z.string().max(120)).max(20).default([]),
  /** Go to the machine's park position at the end. */
  park: z.boolean().default(true),
});

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
    .array(z.enum(['bit', 'depth', 'feed']))
    .min(1)
    .max(2),
  cells: z.array(z.strictObject({ label: z.string().max(40), cut: id, x: length, y: length })).max(200),
  /** The place that came out best, once somebody said so. */
  best: z.int().min(0).optional(),
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
  /** Set on a trial board. */
  trial: Trial.optional(),
  notes: z.string().max(20_000).default(''),
});

export type Job = z.infer<typeof Job>;
export type JobInput = z.input<typeof Job>;
export type Board = z.infer<typeof Board>;
export type Holder = Board['holders'][number];
export type Trial = z.infer<typeof Trial>;
export type Datum = z.infer<typeof Datum>;
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
  const job = cleanDeep(parsed.data);
  const why: string[] = [];
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
    if (!job.bits[cut.bit]) why.push(`Cut “${cut.id}” uses bit “${cut.bit}”, which is not in the job.`);
    if ((cut.kind === 'pocket' || cut.kind === 'vcarve') && cut.after !== undefined && !job.bits[cut.after])
      why.push(`Cut “${cut.id}” comes after bit “${cut.after}”, which is not in the job.`);
    if ((cut.kind === 'recess' || cut.kind === 'plug') && !job.bits[cut.mate])
      why.push(`Cut “${cut.id}” fits what bit “${cut.mate}” cuts, which is not in the job.`);
    if (cut.kind === 'pocket' && cut.floorOf !== undefined && job.cuts[cut.floorOf]?.kind !== 'vcarve')
      why.push(`Cut “${cut.id}” clears the floor of “${cut.floorOf}”, which is no V-carve of the job.`);
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

/** Cuts shallower than this would fade on an uneven board, mm. (Common practice.) */
const SHALLOW = 1;

/** The shallowest cut of a job that would fade on an uneven board, mm below its top; null when every cut is deep. */
export function shallowestOf(job: Job): number | null {
  const depths = Object.values(job.cuts).flatMap((cut) => ('depth' in cut && typeof cut.depth === 'number' ? [cut.depth] : []));
  const least = Math.min(...depths, Infinity);
  return least < SHALLOW ? least : null;
}
