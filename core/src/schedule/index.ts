/**
 * Time, added up in one place. *Running* is what the machine does by a program: bringing the spindle to
 * speed and every move. *At the machine* a person's changes of bit come on top; what is done before the
 * start - measuring every bit, zero, warming up - stands apart. Footer, proof, program headers, downloads,
 * releases, runs and the record all show these figures.
 */
import type { Job } from '../job/index.ts';
import { processOf } from '../process/index.ts';

/** A stretch of a program with one bit at one speed. */
export interface ScheduledSection {
  tool: number;
  /** rev/min; 0 leaves the spindle off. */
  speed: number;
  cuts: readonly { seconds: number }[];
}

/** Seconds. */
export interface Schedule {
  cutting: number;
  spinUp: number;
  /** Cutting and spinning up: what the program itself takes. */
  running: number;
  changes: number;
  changeCount: number;
  /** Running, and changes of bit. */
  atMachine: number;
  /** Before the start: every bit measured, zero set; and warming up before the first cut of the day. */
  measuring: number;
  warmUp: number;
}

/** Until the spindle turns as fast as asked, seconds; a spindle that stays off needs none. */
export const spinUpOf = ({ program, machine }: Pick<Job, 'program' | 'machine'>, speed: number): number =>
  speed > 0 ? (program.spindleDelay ?? machine.spindleSeconds) : 0;

/** Time of sections that are cut one after the other: of a whole job, or of one of its programs. */
export function schedule(job: Pick<Job, 'process' | 'program' | 'machine'>, sections: readonly ScheduledSection[]): Schedule {
  const { machine } = job;
  const cutting = sections.reduce((sum, { cuts }) => sum + cuts.reduce((all, { seconds }) => all + seconds, 0), 0);
  const spinUp = sections.reduce((sum, { speed }) => sum + spinUpOf(job, speed), 0);
  const changeCount = Math.max(0, sections.length - 1);
  const changes = changeCount * machine.bitChangeSeconds;
  const bits = new Set(sections.map(({ tool }) => tool)).size;
  return {
    cutting,
    spinUp,
    running: cutting + spinUp,
    changes,
    changeCount,
    atMachine: cutting + spinUp + changes,
    measuring: bits === 0 ? 0 : (processOf(job).change === 'measure' ? bits * machine.measureSeconds : 0) + machine.zeroSeconds,
    warmUp: sections.some(({ speed }) => speed > 0) ? machine.warmUpSeconds : 0,
  };
}
