/**
 * Fits a released program to the board as it lies: turned about work zero, and following a surface
 * that is not flat. Everything but moves in work coordinates stays as it was written.
 */
import { bytesOf, linesOf, word } from './lines.ts';
import { OP, ProgramReader } from './read.ts';

export interface WorkAlignment {
  /** What an S word is multiplied by: a controller may count its spindle on a scale of its own. */
  spindle?: number;
  /** Turn about work zero, radians counter-clockwise. */
  angle?: number;
  /** Height of the board's top above Z0, mm, at a place in the turned work coordinates. */
  surface?: (x: number, y: number) => number;
}

export interface Adapted {
  text: string;
  /** The line (from 1) of the program it came from, for each line. */
  source: number[];
}

/** A line with its S word, if it has one outside its comments, on another scale. */
const scaledSpeed = (line: string, factor: number): string =>
  line.replace(/\([^)]*\)|;.*$|S(\d+(?:\.\d*)?)/gi, (all, speed?: string) => (speed === undefined ? all : `S${word(Number(speed) * factor)}`));

/** Air, or an output, that stands in a line beside its motion, as a line of its own; null for what cannot be parted from it. */
function besideMotion(reader: ProgramReader, i: number): string | null {
  const value = reader.value[i];
  if (reader.kind[i] === OP.COOLANT) return `M${value}`;
  if (reader.kind[i] !== OP.OUTPUT) return null;
  return value >= 67 ? `M${value} E${word(reader.x[i])} Q${word(reader.y[i])}` : `M${value} P${word(reader.x[i])}`;
}

/** Longest piece of a move that follows a surface, mm. */
const PIECE = 3;

/**
 * Gives the program as it must be run on this board, or says in words why it cannot be fitted:
 * `text` with distances (G91), or a place of which only one axis is known.
 */
export function adaptProgram(text: string, fit: WorkAlignment): Adapted | { why: string } {
  const [cos, sin] = [Math.cos(fit.angle ?? 0), Math.sin(fit.angle ?? 0)];
  const reader = new ProgramReader();
  const out: string[] = [];
  const source: number[] = [];
  let [x, y, z] = [NaN, NaN, NaN];
  let feed = NaN;
  const lines = linesOf(text);
  for (let n = 0; n < lines.length; n++) {
    reader.clearRows();
    reader.push(bytesOf(lines[n]));
    const put = (line: string) => {
      out.push(line);
      source.push(n + 1);
    };
    let moves = 0;
    for (let i = 0; i < reader.count; i++) if (reader.kind[i] <= OP.FEED && !reader.machine[i]) moves++;
    if (moves === 0) {
      put(fit.spindle === undefined ? lines[n] : scaledSpeed(lines[n], fit.spindle));
      for (let i = 0; i < reader.count; i++) {
        if (reader.kind[i] === OP.HOME) x = y = z = NaN;
        if (reader.kind[i] > OP.FEED || !reader.machine[i]) continue;
        if (!Number.isNaN(reader.x[i])) x = NaN;
        if (!Number.isNaN(reader.y[i])) y = NaN;
        if (!Number.isNaN(reader.z[i])) z = NaN;
      }
      continue;
    }
    // What else the line does is done before it moves and goes before it; an S alone stays with the motion.
    const bare = lines[n].replace(/\([^)]*\)|;.*$/g, '');
    const speed = /S *(\d+(?:\.\d*)?)/i.exec(bare);
    const spoken = speed ? `S${word(Number(speed[1]) * (fit.spindle ?? 1))}` : '';
    const switched = /M0*([345])(?!\d)/i.exec(bare)?.[1];
    const words = spoken && !switched ? [spoken] : [];
    for (let i = 0; i < reader.count; i++) {
      if (reader.kind[i] <= OP.FEED && !reader.machine[i]) continue;
      if (reader.kind[i] === OP.SPINDLE && !switched) continue;
      const said = reader.kind[i] === OP.SPINDLE ? `${spoken} M${switched}`.trim() : besideMotion(reader, i);
      if (said === null) return { why: `Line ${n + 1} does more than move, so it cannot be fitted to the board: ${lines[n].slice(0, 60)}` };
      put(said);
    }
    if (!reader.isAbsolute) return { why: `Line ${n + 1} moves by distances (G91), so the program cannot be fitted to the board.` };
    const unit = reader.unit;
    for (let i = 0; i < reader.count; i++) {
      if (reader.kind[i] > OP.FEED) continue;
      const rapid = reader.kind[i] === OP.RAPID;
      const [tx, ty, tz] = [reader.x[i], reader.y[i], reader.z[i]];
      if (Number.isNaN(tx) !== Number.isNaN(ty)) return { why: `At line ${n + 1} only one of X and Y is known, so the program cannot be turned.` };
      const whole = !Number.isNaN(tx + ty + x + y + z + tz);
      const length = whole ? Math.hypot(tx - x, ty - y) : 0;
      const pieces = fit.surface && !rapid ? Math.max(1, Math.ceil(length / PIECE)) : 1;
      for (let k = 1; k <= pieces; k++) {
        const s = k / pieces;
        const px = whole ? x + s * (tx - x) : tx;
        const py = whole ? y + s * (ty - y) : ty;
        const pz = whole ? z + s * (tz - z) : tz;
        const said = [rapid ? 'G0' : 'G1', ...words.splice(0)];
        const [rx, ry] = [cos * px - sin * py, sin * px + cos * py];
        if (!Number.isNaN(px)) said.push(`X${word(rx / unit)}`, `Y${word(ry / unit)}`);
        if (!Number.isNaN(pz)) said.push(`Z${word((pz + (fit.surface && !Number.isNaN(px) ? fit.surface(rx, ry) : 0)) / unit)}`);
        if (!rapid && reader.value[i] !== feed) {
          feed = reader.value[i];
          said.push(`F${word(feed / unit)}`);
        }
        put(said.join(' '));
      }
      [x, y, z] = [tx, ty, tz];
    }
  }
  return { text: out.join('\n') + '\n', source };
}
