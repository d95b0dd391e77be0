/** What a machine says on its wire, taken only when it has the shape of a status: anything may come over a wire. */
import { z } from 'zod';
import type { MachineStatus } from './machine.ts';

const number = z.number().min(-1e9).max(1e9);
const count = z.int().min(0).max(1e12);
const triple = z.tuple([number, number, number]);
const words = z.string().max(2000);
const place = z.object({ x: number, y: number });

const world = z.object({
  board: place.extend({ width: number, height: number, thickness: number, material: z.string().max(80).optional() }).nullable(),
  bit: z.string().max(200).nullable(),
  clamps: z.array(place.extend({ width: number, depth: number, height: number })).max(1000),
  fitting: number,
  crash: words.nullable(),
  revision: number,
  pin: z.boolean().optional(),
  plate: place.extend({ thickness: number }).nullable().optional(),
  probeClip: z.boolean().optional(),
  block: z
    .object({ corner: z.string().max(20), size: number, lip: number, thickness: number })
    .nullable()
    .optional(),
  lidOpen: z.boolean().optional(),
  vacuum: z.boolean().optional(),
  dust: z.boolean().optional(),
  pinsUp: z.boolean().optional(),
  cabinet: z
    .object({ key: z.boolean(), air: z.boolean(), extraction: z.boolean(), smoke: number, free: count, late: z.boolean(), marked: z.boolean() })
    .optional(),
  table: z
    .object({
      ground: z.boolean(),
      air: z.boolean(),
      water: z.boolean(),
      worn: number,
      free: count,
      tipped: count,
      fallen: count,
      kerf: number,
      last: z.tuple([number, number]).optional(),
    })
    .optional(),
});

/** What only some machines say may be left out; what is said must be right. */
const schema = z.object({
  state: z.enum(['idle', 'run', 'hold', 'pause', 'home', 'alarm', 'estop']),
  homed: z.boolean(),
  estop: z.boolean(),
  message: words,
  machine: triple,
  work: triple,
  offset: triple,
  workOffset: z.string().max(20),
  begun: count,
  done: count,
  queued: count,
  expected: count,
  speed: number,
  spindle: z.object({ target: number, actual: number, power: z.boolean() }).optional(),
  arc: z
    .object({ wanted: z.boolean(), burns: z.boolean(), volts: number, over: number, heightControl: z.boolean(), pierces: count, seconds: number })
    .optional(),
  beam: z
    .object({ wanted: z.boolean(), power: number, constant: z.boolean(), out: number.nullable(), pointer: z.boolean(), full: number.optional() })
    .optional(),
  override: z.object({ feed: number, spindle: number }),
  boot: number,
  tag: z.string().max(200),
  dry: count,
  brakedAt: z.number().nullable(),
  probe: z.object({ touched: z.boolean(), position: triple }).nullable(),
  sensor: place.extend({ radius: number, height: number }).nullable(),
  travel: triple,
  world: world.optional(),
  rate: z.number().gt(0).max(1e6),
  clock: z.number().min(0).optional(),
});

/** Reads a status; gives what is wrong with it, in words, when it is none. */
export function readStatus(data: unknown): MachineStatus | { why: string } {
  const parsed = schema.safeParse(data);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  return { why: `${issue.path.join('.') || 'the status'}: ${issue.message}` };
}
