/**
 * Going on with a program in its middle: the places where that is sensible, and the program that
 * re-enters there in the safe order - up, spindle at speed, across, down - and goes on.
 */
import { bytesOf, linesOf, word } from './lines.ts';
import { firstBitFitted, pauseIn } from './pause.ts';
import { OFFSET_WORDS, OP, ProgramReader } from './read.ts';
import type { Adapted } from './adapt.ts';

/** A stretch cut without lifting to travel height: a stroke of a letter, a hole; and of one that is cut in passes every pass. */
export interface ResumePoint {
  /** First and last line, from 1. */
  line: number;
  last: number;
  /** What the program says is being cut there. */
  label: string;
  /** Middle of it, program coordinates, mm. */
  at: [number, number];
  deepest: number;
}

/** Places where a program comes down from travel: each can be begun again without a mark. */
export function resumePoints(text: string): ResumePoint[] {
  const places: ResumePoint[] = [];
  const reader = new ProgramReader();
  const travel = travelHeight(text);
  let label = '';
  let open: { line: number; minX: number; maxX: number; minY: number; maxY: number; deepest: number } | null = null;
  let z = Infinity;
  const end = (last: number) => {
    if (!open || open.minX === Infinity) return;
    places.push({ line: open.line, last, label, at: [(open.minX + open.maxX) / 2, (open.minY + open.maxY) / 2], deepest: open.deepest });
  };
  linesOf(text).forEach((line, n) => {
    reader.clearRows();
    reader.push(bytesOf(line));
    const said = line.match(/^\(([^)]*)\)\s*$/)?.[1] ?? line.match(/^;\s*(.*)$/)?.[1];
    if (said !== undefined) {
      // Another pass of the same stretch begins without a lift.
      if (open && said !== label && open.minX < Infinity) {
        end(n);
        open = { line: n + 1, minX: Infinity, maxX: -Infinity, minY: Infinity, maxY: -Infinity, deepest: Infinity };
      }
      label = said;
    }
    for (let i = 0; i < reader.count; i++) {
      // Feeling for the plate is the first of a contour: it is felt for again when that is cut once more.
      if (reader.kind[i] === OP.PROBE && !open && z >= travel - 1e-6)
        open = { line: n + 1, minX: Infinity, maxX: -Infinity, minY: Infinity, maxY: -Infinity, deepest: Infinity };
      if (reader.kind[i] === OP.SET_ZERO && !Number.isNaN(reader.z[i])) z = reader.z[i];
      if (reader.kind[i] > OP.FEED) continue;
      const to = reader.machine[i] ? Infinity : reader.z[i];
      if (!Number.isNaN(to)) {
        if (to >= travel - 1e-6) {
          end(n);
          open = null;
        } else if (!open && z >= travel - 1e-6) open = { line: n + 1, minX: Infinity, maxX: -Infinity, minY: Infinity, maxY: -Infinity, deepest: Infinity };
        z = to;
      }
      if (open && !Number.isNaN(reader.x[i] + reader.y[i])) {
        open.minX = Math.min(open.minX, reader.x[i]);
        open.maxX = Math.max(open.maxX, reader.x[i]);
        open.minY = Math.min(open.minY, reader.y[i]);
        open.maxY = Math.max(open.maxY, reader.y[i]);
        open.deepest = Math.min(open.deepest, z);
      }
    }
  });
  return places;
}

/** A line without its number. */
const bare = (line: string): string => line.replace(/^N\d+ ?/i, '');

/** The height a program travels at: the lowest it goes across by rapids in work coordinates, mm. A rapid straight down is no travel. */
function travelHeight(text: string): number {
  const reader = new ProgramReader();
  reader.push(bytesOf(linesOf(text).join('\n')));
  let lowest = Infinity;
  let [x, y] = [NaN, NaN];
  for (let i = 0; i < reader.count; i++) {
    if (reader.kind[i] > OP.FEED) continue;
    const across = reader.x[i] !== x || reader.y[i] !== y;
    [x, y] = [reader.x[i], reader.y[i]];
    if (reader.kind[i] === OP.RAPID && across && !reader.machine[i] && !Number.isNaN(reader.z[i] + reader.x[i])) lowest = Math.min(lowest, reader.z[i]);
  }
  return lowest;
}

/** Bits still to be used when a program is begun at a line: what came before a pause is done with. */
export const bitsFrom = (text: string, line: number, bits: readonly string[]): string[] =>
  bits.slice(
    linesOf(firstBitFitted(text))
      .slice(0, line - 1)
      .filter((l) => pauseIn(l) !== null).length,
  );

/**
 * How a program is taken up again: a spindle turns before the bit is near the wood; an arc is struck and a
 * beam comes on only where the cut goes on, never on the way there.
 */
export type Reentry = 'running before it comes down' | 'pierce again' | 'on with the motion';

/**
 * The program from a line on: up to the top, the spindle to speed, across to where that line
 * begins, down at the slowest descent of the program, then on as written. Says in words when the
 * line is not one of the program.
 *
 * @param seconds waited after it is switched on: for a spindle to come to speed, for an arc to pierce
 */
export function resumeProgram(text: string, line: number, seconds: number, reentry: Reentry = 'running before it comes down'): Adapted | { why: string } {
  const lines = linesOf(text);
  if (!Number.isInteger(line) || line < 1 || line > lines.length)
    return { why: `The program has ${lines.length} lines; there is no line ${line} to go on from.` };
  const reader = new ProgramReader();
  const travel = travelHeight(text);
  let [x, y, z] = [NaN, NaN, NaN];
  let [spindle, tool, offset, air, plunge] = [0, NaN, 1, '', Infinity];
  let before = reader.unit;
  let motion = 0;
  let feed = NaN;
  // How an arc was struck: where it stood, how long it pierced, and how the plate was felt for.
  let [pierceZ, pierceSeconds] = [NaN, NaN];
  let touch: string[] = [];
  /** Felt for since it was last at travel height. */
  let felt = false;
  for (let n = 0; n < lines.length; n++) {
    if (n === line - 1) {
      before = reader.unit;
      motion = reader.motionWord;
      feed = reader.feedNow;
    }
    reader.clearRows();
    reader.push(bytesOf(lines[n]));
    if (n < line - 1) air = /\bM0?[78]\b/.exec(lines[n])?.[0] ?? (/\bM0?9\b/.test(lines[n]) ? '' : air);
    let depth = z;
    for (let i = 0; i < reader.count; i++) {
      const kind = reader.kind[i];
      if (kind === OP.FEED && !reader.machine[i]) {
        if (reader.z[i] < depth - 1e-9) plunge = Math.min(plunge, reader.value[i]);
        depth = reader.z[i];
      }
      if (n >= line - 1) continue;
      if (kind === OP.SPINDLE) {
        if (reader.value[i] !== 0 && spindle === 0) [pierceZ, pierceSeconds] = [z, NaN];
        spindle = reader.value[i];
      } else if (kind === OP.DWELL && spindle !== 0 && Number.isNaN(pierceSeconds)) pierceSeconds = reader.value[i];
      else if (kind === OP.PROBE) touch = [lines[n]];
      else if (kind === OP.SET_ZERO && touch.length === 1) {
        touch.push(lines[n]);
        z = reader.z[i];
        felt = true;
      }
      if (kind === OP.TOOL) tool = reader.value[i];
      else if (kind === OP.OFFSET) offset = reader.value[i];
      else if (kind <= OP.FEED) {
        if (!Number.isNaN(reader.x[i])) x = reader.machine[i] ? NaN : reader.x[i];
        if (!Number.isNaN(reader.y[i])) y = reader.machine[i] ? NaN : reader.y[i];
        if (!Number.isNaN(reader.z[i])) z = reader.machine[i] ? NaN : reader.z[i];
        if (!(z < travel - 1e-6)) felt = false;
      }
    }
  }
  const out: string[] = [`(Goes on from line ${line})`, `${before === 1 ? 'G21' : 'G20'} G90 G17 G94 G40 G49 G80`, OFFSET_WORDS[offset - 1], 'G53 G0 Z0'];
  if (!Number.isNaN(tool)) out.push(`T${tool}`);
  // A drag diamond's program never turns anything on.
  const on = spindle === 0 ? [] : [`S${word(Math.abs(spindle))} ${spindle < 0 ? 'M4' : 'M3'}`];
  const again = reentry === 'pierce again';
  const wait = spindle === 0 || reentry === 'on with the motion' ? [] : [`G4 P${word(again && !Number.isNaN(pierceSeconds) ? pierceSeconds : seconds)}`];
  const early = reentry === 'running before it comes down';
  if (early) out.push(...on, ...wait);
  else out.push('M5');
  if (air) out.push(air);
  let first = lines[line - 1];
  if (!Number.isNaN(x + y) && Number.isFinite(travel)) {
    out.push(`G0 X${word(x / before)} Y${word(y / before)}`, `G0 Z${word(travel / before)}`);
    if (again && spindle !== 0) {
      // As it was struck the first time: the plate felt for, down to where it stood, and only then.
      if (touch.length === 2) out.push(...touch.map(bare));
      if (pierceZ < travel - 1e-6) out.push(`G0 Z${word(pierceZ / before)}`);
      out.push(...on, ...wait);
    } else if (again && felt) {
      // Not driven down to where the plate once was: felt for again.
      out.push(...touch.map(bare), `G0 Z${word(z / before)}`);
    }
    if (z < travel - 1e-6 && !(again && felt && spindle === 0))
      out.push(`G1 Z${word(z / before)} F${word((Number.isFinite(plunge) ? plunge : feed / 2) / before)}`);
    if (reentry === 'on with the motion') out.push(...on);
    // The line may count on a motion word or a feed that stood before it.
    const moves = /[XYZ]/i.test(first.replace(/\([^)]*\)|;.*$/g, '')) && !/G53|G10/i.test(first);
    const said = /(^|[^A-Z\d.])G0*(?:[0-3]|38\.\d|8\d)(?![\d.])/i.test(first);
    if (moves && motion >= 0 && !said) first = first.replace(/^(N\d+ ?)?/i, `$1G${motion} `);
    if (moves && !/F/i.test(first) && !Number.isNaN(feed) && !/(^|[^A-Z\d.])G0*0(?![\d.])/i.test(first)) first += ` F${word(feed / before)}`;
  }
  const source = out.map(() => line);
  out.push(first, ...lines.slice(line));
  for (let n = line; n <= lines.length; n++) source.push(n);
  return { text: out.join('\n') + '\n', source };
}
