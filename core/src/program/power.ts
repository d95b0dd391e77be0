/**
 * What a process says in a program about what is on while it moves, and how that is read back: S, M3 to M5,
 * M7 to M9 and G4 of RS274/NGC (NIST IR 6556), and the words of a common extension of it that switch outputs
 * in step with the motion (M62, M63, M67; from memory). A dialect is data.
 */
import type { ToolEvent } from '../toolpath/index.ts';
import { OP, type Program } from './read.ts';

export interface PowerWords {
  /** Constant power, or M4: dynamic power, which follows the speed; then M3 is written where constant power is asked for. */
  on: 'M3' | 'M4';
  /** S, or the level of the output, for a power of 1. */
  scale: number;
  /** Power that changes on the way stands as S in the line of the move, or goes to an analogue output in step with it. */
  level: 'S' | { output: number };
  /** Dark on every rapid: a beam must not draw where it only travels. */
  darkRapids?: boolean;
  /** The digital output, in step with the motion, that switches height control; null where there is none. */
  heightControl: number | null;
  assist: { air: 'M7' | 'M8'; mist: 'M7' | 'M8' };
}

const short = (value: number): string => String(Math.round(value * 1e4) / 1e4 + 0);

/** Lines that switch what an event says. */
export function eventLines(event: ToolEvent, words: PowerWords): string[] {
  if ('on' in event) return [`S${short(event.on * words.scale)} ${event.constant ? 'M3' : words.on}`];
  if ('off' in event) return ['M5'];
  if ('assist' in event) return [event.assist === 'none' ? 'M9' : words.assist[event.assist]];
  // What is felt for is a move, and written as one.
  if ('touch' in event) return [];
  return words.heightControl === null ? [] : [`${event.heightControl ? 'M62' : 'M63'} P${words.heightControl}`];
}

/** Another power on the way: a line before the move, and a word in its own line; either may be empty. */
export function levelWords(power: number, { level, scale }: PowerWords): { before: string; inLine: string } {
  const value = short(power * scale);
  return level === 'S' ? { before: '', inLine: `S${value}` } : { before: `M67 E${level.output} Q${value}`, inLine: '' };
}

/** What is on while the moves of a program are made. @param moves its rows that are moves, as `toPath` takes them */
export function powerOf(program: Program, moves: readonly number[], words: PowerWords): { power: Float64Array; events: ToolEvent[] } {
  const power = new Float64Array(moves.length).fill(NaN);
  const events: ToolEvent[] = [];
  const { kind, value, x, y, z } = program;
  const level = words.level === 'S' ? null : words.level.output;
  let now = NaN;
  let height = NaN;
  let at = 0;
  for (let i = 0; i < kind.length; i++) {
    if (moves[at] === i) {
      power[at++] = now;
      height = z[i];
    } else if (kind[i] === OP.SPINDLE) {
      const next = value[i] === 0 ? NaN : Math.abs(value[i]) / words.scale;
      if (Number.isNaN(next)) events.push({ at, off: true });
      else if (Number.isNaN(now)) {
        const waits = kind[i + 1] === OP.DWELL;
        events.push({ at, on: next, ...(waits ? { pierce: { height, seconds: value[i + 1] } } : {}) });
      }
      now = next;
    } else if (kind[i] === OP.COOLANT) {
      const word = `M${value[i]}`;
      events.push({ at, assist: word === 'M9' ? 'none' : word === words.assist.air ? 'air' : 'mist' });
    } else if (kind[i] === OP.OUTPUT) {
      if ((value[i] === 62 || value[i] === 63) && x[i] === words.heightControl) events.push({ at, heightControl: value[i] === 62 });
      if (value[i] === 67 && x[i] === level) now = y[i] / words.scale;
    }
  }
  return { power, events };
}
