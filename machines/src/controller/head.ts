/**
 * What a controller carries about and acts with, and the world it acts on: everything in which kinds of
 * machine differ. The controller reads the program, moves and probes; it knows of no spindle and no board.
 */
import type { MachineStatus } from '@kerbe/core/link';
import type { z } from 'zod';

/** What a row of a program switches: one of core's OP codes, and its value. */
export interface Switch {
  kind: number;
  value: number;
  /** Which output, of those that are switched in step with the motion. */
  output?: number;
}

export interface Head {
  /** What went wrong in the world, in words: the controller stands still on it. */
  readonly crash: string | null;
  /** How far the machine really is from where it believes to be: lost steps, mm. */
  slip: [number, number, number];
  /** Why something may not be switched as a line asks for, or null. @param waits the motion is held: it is asked again before that goes on */
  refused(to: Switch, waits?: boolean): string | null;
  /** The motion waits for what was switched on: an arc that is not through yet. */
  readonly waited?: boolean;
  /** Is it switched in step with the motion, which does not stop for it? */
  inMotion(to: Switch): boolean;
  /** Switches something as a line asked for. */
  act(to: Switch): void;
  /** What it is told to do, in words such as “the spindle is turning”, or null: while it is on the machine is not homed. */
  readonly on: string | null;
  /** What it still does, in words, or null: while it turns, burns or shines nothing is touched with it. */
  readonly live: string | null;
  /**
   * The motion is held: what would burn where it stands goes out. Gives what must be switched for it to go on from
   * that very place, where the way it brakes on is gone over again; null when it went on while it braked, or cannot.
   */
  held(): Switch | null;
  /** A program begins. Gives whether it waits for a button at the machine itself. */
  begins(): boolean;
  /** It stands for so long with what is on, because a line says so. */
  stands?(seconds: number): void;
  /** Off, as soon as it can be: also at the end of a program. */
  off(): void;
  /** Off at once: its power is gone. */
  kill(): void;
  /** A share of what the program asks for, from now on. Gives why not, or null. */
  override(share: number): string | null;
  /** Time passes. */
  advance(seconds: number): void;
  /** It is carried from one place to another, machine coordinates, at a programmed feed, mm/min; @param seconds it takes */
  sweep(from: readonly number[], to: readonly number[], rapid: boolean, feed: number, seconds: number): void;
  /** Machine Z at which something closes the probe circuit here, or null. A wire that is broken closes none. */
  touches(at: readonly number[]): number | null;
  /** Does it press into what closes no circuit? */
  presses(at: readonly number[]): boolean;
  /** What was seen is taken note of: the alarm was cleared. */
  clear(): void;
  /** What it says of itself beside what every machine says. */
  status(): Pick<MachineStatus, 'spindle' | 'arc' | 'beam' | 'sensor' | 'world'>;
  /** The surface as it is worked so far; null without a board. */
  map(): { columns: number; rows: number; cell: number; revision: number; height: Float32Array } | null;
  /** What a person's hands can do to it, and what of that also while it moves. */
  readonly hands: { schema: z.ZodObject; whileMoving: ReadonlySet<string> };
  /** Hands at work. Gives true when everything must stop for it, as for a lid that opens. */
  change(by: Record<string, unknown>): boolean;
  /** Faults to order, from now on or no more. */
  readonly faults: Record<string, boolean>;
}

/** Farthest apart that a move is looked at for what it meets, mm. */
const LOOK = 3;

/** Places along a move, its end among them: a process that is given time seldom still meets all that its machine passes. */
export function* placesAlong(from: readonly number[], to: readonly number[]): Generator<readonly number[]> {
  const steps = Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) / LOOK);
  for (let k = 1; k < steps; k++) yield to.map((end, axis) => from[axis] + (k / steps) * (end - from[axis]));
  yield to;
}
