/** What a program makes of its tools: how far each cut, and how often it was struck or switched on. */
import { firstBitFitted, pauseIn } from './pause.ts';
import type { PowerWords } from './power.ts';
import { linesOf } from './lines.ts';
import { readProgram } from './read.ts';
import { toPoweredPath } from './facts.ts';
import { FEED } from '../toolpath/index.ts';

export interface Worked {
  /** Way under power, m; of a tool that nothing turns, all of its way that is no rapid. */
  metres: number;
  /** How often it was switched on: pierces of an arc. */
  strikes: number;
}

/**
 * What each tool has done between two lines of a program, both counted.
 *
 * @param tools in order of use, as the program changes them
 * @param words how it says what is on
 */
export function workedBetween(text: string, tools: readonly string[], words: PowerWords, from: number, last: number): Record<string, Worked> {
  const path = toPoweredPath(readProgram(text), words);
  // The first is fitted before it begins.
  const changes = linesOf(firstBitFitted(text)).flatMap((line, k) => (pauseIn(line) !== null ? [k + 1] : []));
  const done: Record<string, Worked> = {};
  const toolAt = (line: number) => tools[Math.min(tools.length - 1, changes.filter((at) => at < line).length)];
  const of = (line: number) => (done[toolAt(line)] ??= { metres: 0, strikes: 0 });
  const turns = path.events.some((event) => 'on' in event);
  for (let i = 1; i < path.kind.length; i++) {
    const line = path.line[i];
    if (path.kind[i] !== FEED || line < from || line > last) continue;
    // Down to the plate and through the air nothing is cut.
    if (turns && !(path.power[i] > 0)) continue;
    of(line).metres += Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1], path.z[i] - path.z[i - 1]) / 1000;
  }
  for (const event of path.events) {
    if (!('on' in event)) continue;
    // It stands before the move it is on for.
    const line = path.line[Math.min(event.at, path.line.length - 1)];
    if (line >= from && line <= last) of(line).strikes++;
  }
  return done;
}
