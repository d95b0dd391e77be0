/** What a program that was read amounts to: extents, time, feeds, and its moves as a plain path. */
import { planMotion, type Limits } from '../motion/index.ts';
import { powerOf, type PowerWords } from './power.ts';
import { OP, type Program } from './read.ts';

export interface ProgramFacts {
  lines: number;
  /** Extents under power, program coordinates, mm; null when nothing is cut. */
  extents: { min: [number, number, number]; max: [number, number, number] } | null;
  moves: { rapid: number; feed: number; probe: number };
  seconds: number;
  pauses: number;
  feeds: { min: number; max: number } | null;
  spindle: { min: number; max: number } | null;
  units: 'mm' | 'in';
}

/** Rows that are moves in the program's own coordinates, every axis named by then. */
function movesOf({ kind, machine, x, y, z }: Program): number[] {
  const rows: number[] = [];
  for (let i = 0; i < kind.length; i++) if (kind[i] <= OP.FEED && !machine[i] && !Number.isNaN(x[i] + y[i] + z[i])) rows.push(i);
  return rows;
}

/** The same with what is on while the moves are made, as the words of a process say it. */
export const toPoweredPath = (program: Program, words: PowerWords) => ({ ...toPath(program), ...powerOf(program, movesOf(program), words) });

/**
 * The moves of a program as one path in program coordinates. Moves in machine coordinates are
 * left out: where they lead depends on the machine.
 */
export function toPath(program: Program) {
  const rows = movesOf(program);
  return {
    kind: Uint8Array.from(rows, (i) => program.kind[i]),
    x: Float64Array.from(rows, (i) => program.x[i]),
    y: Float64Array.from(rows, (i) => program.y[i]),
    z: Float64Array.from(rows, (i) => program.z[i]),
    feed: Float64Array.from(rows, (i) => program.value[i]),
    line: Uint32Array.from(rows, (i) => program.line[i]),
  };
}

export function statsOf(program: Program, limits: Limits): ProgramFacts {
  const path = toPath(program);
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  const moves = { rapid: 0, feed: 0, probe: 0 };
  let seconds = path.kind.length ? planMotion(path, limits).total : 0;
  let pauses = 0;
  let feeds: ProgramFacts['feeds'] = null;
  let spindle: ProgramFacts['spindle'] = null;
  let at: [number, number, number] = [NaN, NaN, NaN];
  for (let i = 0; i < program.kind.length; i++) {
    const value = program.value[i];
    switch (program.kind[i]) {
      case OP.RAPID:
        moves.rapid++;
        break;
      case OP.FEED:
        moves.feed++;
        feeds = feeds ? { min: Math.min(feeds.min, value), max: Math.max(feeds.max, value) } : { min: value, max: value };
        if (program.machine[i]) break;
        // From where it starts to where it ends.
        for (const [axis, v] of [...at.entries(), ...[program.x[i], program.y[i], program.z[i]].entries()]) {
          if (Number.isNaN(v)) continue;
          min[axis] = Math.min(min[axis], v);
          max[axis] = Math.max(max[axis], v);
        }
        break;
      case OP.PROBE:
        moves.probe++;
        break;
      case OP.DWELL:
        seconds += value;
        break;
      case OP.PAUSE:
        pauses++;
        break;
      case OP.SPINDLE:
        if (value > 0) spindle = spindle ? { min: Math.min(spindle.min, value), max: Math.max(spindle.max, value) } : { min: value, max: value };
        break;
      case OP.HOME:
      case OP.SET_ZERO:
      case OP.SET_ORIGIN:
        at = [NaN, NaN, NaN];
        break;
    }
    if (program.kind[i] <= OP.FEED) at = program.machine[i] ? [NaN, NaN, NaN] : [program.x[i], program.y[i], program.z[i]];
  }
  return { lines: program.lines, extents: moves.feed ? { min, max } : null, moves, seconds, pauses, feeds, spindle, units: program.units };
}
