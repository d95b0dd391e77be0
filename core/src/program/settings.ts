import { z } from 'zod';
import { notNegative, positive } from '../fields/index.ts';

/** How programs are written: what the controller takes, and what the shop is used to. */
export const ProgramSettings = z.strictObject({
  units: z.enum(['mm', 'in']).default('mm'),
  decimals: z.int().min(2).max(6).default(3),
  /** One program for each tool, or one program for all with tool changes in it. */
  split: z.enum(['tool', 'pauses']).default('pauses'),
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
  /** Arcs (G2, G3, helices too) where they fit within a tolerance, or lines only. */
  arcs: z.boolean().default(false),
  lineNumbers: z.boolean().default(false),
  comments: z.enum(['brackets', 'semicolon', 'none']).default('brackets'),
  lineEnd: z.enum(['lf', 'crlf']).default('lf'),
  extension: z
    .string()
    .regex(/^[a-z0-9]{1,5}$/i)
    .default('nc'),
  /** File names of eight letters and three, for controllers that read no longer ones from a stick. */
  shortNames: z.boolean().optional(),
  workOffset: z.enum(['G54', 'G55', 'G56', 'G57', 'G58', 'G59']).default('G54'),
  /** Seconds waited after the spindle starts; left out, the machine's. */
  spindleDelay: notNegative.max(600).optional(),
  /** Who waits while an arc pierces: the program (G4), or the machine, which moves on when its arc stands and its own delay is over. */
  pierce: z.enum(['program', 'machine']).optional(),
  /** Air or mist while cutting: M7, M8, or nothing. */
  air: z.enum(['none', 'M7', 'M8']).default('none'),
  /** Lines of the shop's own after the safe start and before the end. */
  startLines: z.array(z.string().max(120)).max(20).default([]),
  endLines: z.array(z.string().max(120)).max(20).default([]),
  /** Where it ends, always with Z at the top: at the machine's park position, over the datum, or where it is. */
  end: z.enum(['park', 'datum', 'stay']).default('park'),
});

export type ProgramSettings = z.infer<typeof ProgramSettings>;
