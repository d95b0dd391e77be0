/**
 * Everything a machine can be told, once: screens send these, the server makes some of them itself from what
 * was released, and the agent carries them out.
 */
import { z } from 'zod';
import { Linked } from '../machine/index.ts';
import { PROCESS_NAMES } from '../process/index.ts';
import { OFFSET_WORDS } from '../program/read.ts';

const number = z.number().min(-10_000).max(10_000);
const thickness = z.number().min(0).max(60);
const face = z.enum(['top', 'spoilboard']);
const corner = z.enum(['lower-left', 'lower-right', 'upper-left', 'upper-right', 'centre']);
const point = z.tuple([number, number]);
const triple = z.tuple([number, number, number]);
const extents = z.object({ min: triple, max: triple });
const words = z.string().min(1).max(80);
/** A bit of a job; no name that every object has by itself, for lengths are kept by it. */
const bit = z
  .string()
  .max(60)
  .refine((name) => !(name in {}), 'This is no bit.');
const feed = z.number().gt(0).max(20_000);
/** How much wood lies between the face that was touched and the one the program counts from, when they differ. */
const board = z.number().min(0).max(1000).default(0);
/** The job that a zero is set for. */
const job = z.string().max(80).nullable().default(null);
/** At a change of bit: tools are away and hands are off. */
const handsOff = z.boolean().default(false);

const Holder = z.object({ kind: z.enum(['clamp', 'screw', 'fence', 'pin']), x: number, y: number, width: number, depth: number, height: number });

export const Command = z.discriminatedUnion('do', [
  z.object({ do: z.literal('take') }),
  z.object({ do: z.literal('leave') }),
  z.object({ do: z.literal('renew') }),
  z.object({ do: z.literal('home') }),
  z.object({ do: z.literal('jog'), x: number, y: number, z: number, feed }),
  z.object({ do: z.literal('jog-start'), way: triple, feed }),
  z.object({ do: z.literal('jog-on') }),
  z.object({ do: z.literal('jog-end') }),
  z.object({
    do: z.literal('zero-xy'),
    corner,
    by: words.default('where the bit stood'),
    at: z.object({ x: number.optional(), y: number.optional() }).default({}),
    angle: z.number().min(-Math.PI).max(Math.PI).default(0),
    job,
  }),
  z.object({ do: z.literal('move-over'), x: number, y: number }),
  z.object({
    do: z.literal('zero-z'),
    method: z.enum(['plate', 'paper', 'torch', 'focus', 'gauge']),
    thickness,
    datum: face,
    on: face.optional(),
    board,
    job,
    handsOff,
  }),
  z.object({
    do: z.literal('probe-block'),
    axis: z.enum(['x', 'y', 'z']),
    corner: corner.exclude(['centre']),
    block: z.object({ size: z.number().gt(5).max(300), lip: thickness, thickness }),
    radius: z.number().min(0).max(60),
    datum: face,
    board,
    job,
  }),
  z.object({ do: z.literal('keep-zero'), job }),
  z.object({ do: z.literal('nudge'), deeper: z.number().min(-5).max(5) }),
  z.object({
    do: z.literal('use-offset'),
    word: z.string().refine((word) => (OFFSET_WORDS as readonly string[]).includes(word), 'There is no such work offset.'),
  }),
  z.object({ do: z.literal('measure'), bit, sure: z.boolean().default(false), handsOff }),
  z.object({ do: z.literal('fitted'), bit, still: z.boolean().default(false) }),
  z.object({ do: z.literal('next'), sha256: z.string().max(80), from: z.int().min(1).max(10_000_000), board: z.enum(['new', 'same']).default('same') }),
  z.object({ do: z.literal('go-to-zero'), clearance: z.number().min(1).max(100) }),
  z.object({
    do: z.literal('frame'),
    way: z.array(point).min(2).max(5000),
    height: z.number().min(1).max(1100),
    sha256: z.string(),
    holders: z.array(Holder).max(100).default([]),
    reach: z.number().min(0).max(100).default(0),
    /** With the beam so bright, on its controller's own scale, at so many mm/min; left out, dark. */
    beam: z.object({ level: z.number().gt(0).max(1e6), feed }).optional(),
    /** Where what shows the way is, seen from the tool, mm: a pointer beside its beam. */
    pointer: point.optional(),
  }),
  z.object({ do: z.literal('warm-up'), speed: z.number().min(500).max(100_000), seconds: z.number().gt(0).max(3600) }),
  z.object({ do: z.literal('reading'), thickness, at: z.object({ x: number, y: number, height: number }).optional() }),
  z.object({ do: z.literal('forget-readings') }),
  z.object({ do: z.literal('follow'), on: z.boolean() }),
  z.object({ do: z.literal('place-board'), x: number, y: number }),
  z.object({ do: z.literal('save-place'), name: words }),
  z.object({ do: z.literal('forget-place'), name: words }),
  z.object({ do: z.literal('confirm'), id: z.string().max(40), key: z.string().max(200), skipped: z.boolean().default(false) }),
  z.object({ do: z.literal('unconfirm'), id: z.string().max(40) }),
  /** Somebody is there, at a run that may not be left alone. */
  z.object({ do: z.literal('present') }),
  z.object({ do: z.literal('hold') }),
  z.object({ do: z.literal('resume'), handsOff }),
  /** Ends the record of a run whose machine does not answer any more. */
  z.object({ do: z.literal('give-up') }),
  z.object({ do: z.literal('stop') }),
  z.object({ do: z.literal('clear') }),
  z.object({ do: z.literal('override'), feed: z.number().min(0.1).max(2), spindle: z.number().min(0.5).max(1.5) }),
  z.object({ do: z.literal('bench'), change: z.record(z.string(), z.unknown()) }),
  /** Another link; null for the simulated machine it belongs to, or for none. */
  z.object({ do: z.literal('connect'), linked: Linked.nullable() }),
  z.object({ do: z.literal('raw'), text: z.string().max(200) }),
  z.object({
    do: z.literal('start'),
    order: z.object({
      id: z.string().regex(/^[\w-]{1,60}$/),
      name: z.string(),
      sha256: z.string(),
      program: z.string().max(200_000_000),
      textSha256: z.string().max(64),
      source: z.array(z.int()).max(10_000_000).optional(),
      lines: z.int().optional(),
      process: z.enum(PROCESS_NAMES).default('router'),
      bits: z.array(bit).min(1),
      datum: z.object({ corner: z.string(), z: face }),
      extents,
      workOffset: z.string().optional(),
      vacuum: z.boolean().optional(),
      /** Seconds within which somebody must say that they are there, where the process may not be left alone. */
      presence: z.number().min(5).max(3600).optional(),
      note: z.string().max(4000).optional(),
    }),
  }),
]);
export type Command = z.infer<typeof Command>;

/** What a screen asks of the server, which makes the machine's command from what was released or kept there. */
export const Asked = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('start'),
    release: z.string().max(80),
    program: z.string().max(200),
    from: z.int().min(1).optional(),
    /** Somebody stands at the machine and sees that it is clear. */
    here: z.boolean().default(false),
  }),
  z.object({
    do: z.literal('frame'),
    release: z.string().max(80),
    program: z.string().max(200),
    shape: z.enum(['box', 'outline']),
    height: z.number().min(1).max(100),
    /** With the beam instead of the pointer, per cent of full power: too little to mark. */
    power: z.number().gt(0).max(20).optional(),
  }),
  /** A program of the exercises, on a simulated machine. */
  z.object({ do: z.literal('practice'), program: z.string().max(80), from: z.int().min(1).optional() }),
]);

/** `connect` is the server's own: what a machine is linked to is changed on its page. */
type OwnName = z.infer<typeof Asked>['do'] | 'connect';
const own = new Set<string>([...Asked.options.map(({ shape }) => shape.do.value), 'connect']);
/** Commands that the server hands on as they are: the agent checks them and says what holds them. */
export const PASSED = Command.options.map(({ shape }) => shape.do.value).filter((name) => !own.has(name)) as Exclude<Command['do'], OwnName>[];

/** What a screen may send. */
export type ScreenCommand = z.input<typeof Asked> | Exclude<z.input<typeof Command>, { do: OwnName }>;
