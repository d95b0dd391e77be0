/**
 * Interprets a program in RS274/NGC (NIST IR 6556; modal groups as in its table of modal groups,
 * from memory). Reads bytes, so that it can be fed a file in pieces; gives moves and events in
 * flat arrays. Positions are millimetres in the program's own coordinates; NaN means "where it is"
 * for an axis not yet named.
 */
import { finding, type Finding } from '../findings/index.ts';
import { arcChords, PLANES } from './arc.ts';
import { Block, type Modes } from './block.ts';
import { LETTER, Words } from './words.ts';

export const OP = {
  RAPID: 0,
  FEED: 1,
  DWELL: 2,
  /** value: rev/min, 0 for stop */
  SPINDLE: 3,
  PAUSE: 4,
  END: 5,
  TOOL: 6,
  PROBE: 7,
  /** G10 L20: the present position becomes x, y, z of work offset `value`; 0 or NaN for the one in force */
  SET_ZERO: 8,
  HOME: 9,
  /** value: work offset from here on, 1 for G54 to 9 for G59.3 */
  OFFSET: 10,
  /** G10 L2: the origin of work offset `value` lies at x, y, z of the machine; 0 for the one in force */
  SET_ORIGIN: 11,
  /** G43: the length of tool `value` counts from here on, as the machine's own table has it; of the one fitted when 0 */
  LENGTH: 12,
  /** Air and mist: `value` 7, 8, and 9 for none, as in M7 to M9. */
  COOLANT: 13,
  /**
   * An output is switched: `value` is the M word - 62 and 63 on and off with the next motion, 64 and 65 at once,
   * 67 and 68 to a level likewise - `x` its number, `y` the level.
   */
  OUTPUT: 14,
} as const;

/** Work offsets by their words, in the order of G10's P. */
export const OFFSET_WORDS = ['G54', 'G55', 'G56', 'G57', 'G58', 'G59', 'G59.1', 'G59.2', 'G59.3'] as const;

export interface Program {
  kind: Uint8Array;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** mm/min for FEED and PROBE, seconds for DWELL, rev/min for SPINDLE, number for TOOL and OFFSET. */
  value: Float64Array;
  /** 1: machine coordinates (G53). */
  machine: Uint8Array;
  line: Uint32Array;
  lines: number;
  comments: string[];
  findings: Finding[];
  units: 'mm' | 'in';
}

const MAX_FINDINGS = 50;

/** Motion in force after a refused cycle: none, so that lines which count on it are refused too. */
const NO_MOTION = 999;

/** More rows than this are held of no program: a few lines of it may ask for thousands of moves each. */
const MOST_ROWS = 12_000_000;
/** A pecking cycle comes rapidly back to so far above the hole's bottom, mm. (The standard leaves it to the machine.) */
const BACK = 0.25;

/** Reads a whole program. */
export function readProgram(text: string | Uint8Array): Program {
  const reader = new ProgramReader();
  reader.push(typeof text === 'string' ? encode(text) : text);
  return reader.finish();
}

/** ASCII bytes; other characters can only stand in comments and become '?'. */
function encode(text: string): Uint8Array {
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    bytes[i] = code < 128 ? code : 63;
  }
  return bytes;
}

/** A program in the making: feed it bytes, then {@link finish} it, or look at the rows as they come. */
export class ProgramReader {
  count = 0;
  kind = new Uint8Array(1024);
  x = new Float64Array(1024);
  y = new Float64Array(1024);
  z = new Float64Array(1024);
  value = new Float64Array(1024);
  machine = new Uint8Array(1024);
  line = new Uint32Array(1024);
  lines = 0;
  ended = false;
  readonly comments: string[] = [];
  readonly findings: Finding[] = [];

  private rest: Uint8Array | undefined;
  private readonly words = new Words();
  private motion = 0; // G0
  private readonly block = new Block();
  private readonly modes: Modes = { scale: 1, plane: 17, absolute: true, inverseTime: false, toStart: true };
  private inch = false;
  private unitsSaid = false;
  private feed = NaN;
  private speed = 0;
  /** 1 for M3, -1 for M4, 0 while nothing is switched on. */
  private turning = 0;
  /** Canned cycles: depth, height they begin at, peck, wait. */
  private cycle = { z: NaN, r: NaN, q: NaN, p: NaN };
  private tape = false;
  private begun = false;
  private turningSaid = false;
  private full = false;
  private px = NaN;
  private py = NaN;
  private pz = NaN;

  /** Reads the complete lines of a chunk; a last line without its end waits for the next chunk. */
  push(chunk: Uint8Array): void {
    let bytes = chunk;
    if (this.rest) {
      bytes = new Uint8Array(this.rest.length + chunk.length);
      bytes.set(this.rest);
      bytes.set(chunk, this.rest.length);
      this.rest = undefined;
    }
    let start = 0;
    for (;;) {
      const end = bytes.indexOf(10, start);
      if (end < 0) break;
      this.readLine(bytes, start, end);
      start = end + 1;
    }
    if (start < bytes.length) this.rest = bytes.slice(start);
  }

  finish(): Program {
    if (this.rest) this.readLine(this.rest, 0, this.rest.length);
    this.rest = undefined;
    if (!this.ended && this.count > 0) this.findings.push(finding.programEndMissing());
    if (!this.unitsSaid && this.count > 0) this.findings.push(finding.programUnitsMissing());
    return {
      kind: this.kind.slice(0, this.count),
      x: this.x.slice(0, this.count),
      y: this.y.slice(0, this.count),
      z: this.z.slice(0, this.count),
      value: this.value.slice(0, this.count),
      machine: this.machine.slice(0, this.count),
      line: this.line.slice(0, this.count),
      lines: this.lines,
      comments: this.comments,
      findings: this.findings,
      units: this.inch ? 'in' : 'mm',
    };
  }

  /** Millimetres to one unit of the program as it stands. */
  get unit(): number {
    return this.modes.scale;
  }
  /** False while coordinates are distances (G91). */
  get isAbsolute(): boolean {
    return this.modes.absolute;
  }
  /** The motion word in force, as in G0 to G3; -1 for any other. */
  get motionWord(): number {
    return this.motion <= 30 ? this.motion / 10 : -1;
  }
  /** The feed in force, mm/min; NaN before any. */
  get feedNow(): number {
    return this.feed;
  }

  /** Forgets the rows read so far and keeps the modal state: for reading line by line. */
  clearRows(): void {
    this.count = 0;
  }

  /** Tells the interpreter where the machine is, in program coordinates. */
  setPosition(x: number, y: number, z: number): void {
    this.px = x;
    this.py = y;
    this.pz = z;
  }

  private fault(text: string): undefined {
    if (this.findings.length < MAX_FINDINGS) this.findings.push(finding.programLine(this.lines, text));
  }

  /**
   * One line: its words are gathered, then carried out in the order of NIST IR 6556, table 8 (from memory):
   * units and modes, feed, speed, tool, change, spindle, wait, offsets, motion, stop. A line with a fault does nothing.
   */
  private readLine(bytes: Uint8Array, start: number, end: number): void {
    this.lines++;
    if (this.ended) return;
    if (bytes[start] === 37) {
      // % marks the ends of a tape: what stands after the second is no program.
      if (this.tape || this.begun) this.ended = true;
      this.tape = true;
      return;
    }
    const { words, block } = this;
    const wrong = words.read(bytes, start, end);
    for (let at = 0; at < words.comments.length; at += 2) this.comment(bytes, words.comments[at], words.comments[at + 1]);
    if (wrong !== null) return this.fault(wrong);
    if (words.count > 0) this.begun = true;
    const refused = block.gather(words, this.modes);
    if (block.turns !== '') this.tellTurning(block.turns);
    if (refused !== null) {
      // Lines that count on a refused cycle are refused too; the side of the bit and old origins are no motion.
      if (block.refused >= 0 && block.refused !== 410 && block.refused !== 420) this.motion = NO_MOTION;
      return this.fault(refused);
    }
    this.carryOut(block);
  }

  private tellTurning(letter: string): void {
    if (!this.turningSaid && this.findings.length < MAX_FINDINGS) this.findings.push(finding.programTurns(this.lines, letter));
    this.turningSaid = true;
  }

  private carryOut(block: Block): void {
    this.takeModes(block);
    this.switchOver(block);
    const moves = this.actAtOnce(block);
    if (moves === undefined) return;
    const { motion } = block;
    if (motion >= 0) {
      // What a cycle was told holds for the cycles after it, and for nothing else.
      if (motion < 810 && this.motion >= 810) this.cycle = { z: NaN, r: NaN, q: NaN, p: NaN };
      this.motion = motion;
    }
    if (moves || motion === 20 || motion === 30) {
      const x = block.get(LETTER.X);
      const y = block.get(LETTER.Y);
      const z = block.get(LETTER.Z);
      const r = block.get(LETTER.R);
      if (this.motion >= 810 && this.motion <= 830) this.drill(x, y, z, r, block.get(LETTER.Q), block.get(LETTER.P), block.get(LETTER.L), block.useMachine);
      else this.move(x, y, z, block.get(LETTER.I), block.get(LETTER.J), block.get(LETTER.K), r, block.useMachine);
    }
    if (block.stop === 0 || block.stop === 1) this.row(OP.PAUSE, NaN, NaN, NaN, block.stop, false);
    else if (block.stop > 1) {
      this.row(OP.END, NaN, NaN, NaN, 0, false);
      this.ended = true;
    }
  }

  /** Units, plane, distances, feed and speed. */
  private takeModes(block: Block): void {
    const { modes } = this;
    if (block.saysUnits) {
      this.inch = block.scale !== 1;
      this.unitsSaid = true;
    }
    // The way feeds are counted was named: what was said before is no feed now.
    if (block.inverseTime !== modes.inverseTime || (block.inverseTime && block.has(5))) this.feed = NaN;
    modes.scale = block.scale;
    modes.plane = block.plane;
    modes.absolute = block.absolute;
    modes.toStart = block.toStart;
    modes.inverseTime = block.inverseTime;
    const f = block.get(LETTER.F);
    if (!Number.isNaN(f)) this.feed = block.inverseTime ? f : f * block.scale;
    const s = block.get(LETTER.S);
    if (!Number.isNaN(s)) this.speed = s;
  }

  /** Tool, offset, change, spindle or beam, air, outputs. */
  private switchOver(block: Block): void {
    const { spindle, output } = block;
    const tool = block.get(LETTER.T);
    if (!Number.isNaN(tool)) this.row(OP.TOOL, NaN, NaN, NaN, tool, false);
    if (block.offset > 0) this.row(OP.OFFSET, NaN, NaN, NaN, block.offset, false);
    if (block.change) this.row(OP.PAUSE, NaN, NaN, NaN, 6, false);
    if (block.length) this.row(OP.LENGTH, NaN, NaN, NaN, block.get(LETTER.H) || 0, false);
    if (spindle >= 0) this.turning = spindle === 5 ? 0 : spindle === 4 ? -1 : 1;
    // An S alone counts at once while something is switched on: a spindle goes to another speed, a beam to another power.
    if (spindle >= 0 || (!Number.isNaN(block.get(LETTER.S)) && this.turning !== 0)) this.row(OP.SPINDLE, NaN, NaN, NaN, this.turning * this.speed + 0, false);
    for (let c = 0; c < 3; c++) if (block.coolant & (1 << c)) this.row(OP.COOLANT, NaN, NaN, NaN, 7 + c, false);
    if (output >= 67) this.row(OP.OUTPUT, block.get(LETTER.E), block.get(LETTER.Q) / block.scale, NaN, output, false);
    else if (output >= 0) this.row(OP.OUTPUT, block.get(LETTER.P), NaN, NaN, output, false);
  }

  /** Waiting, zeros and homing. @returns whether the axes that are named are to move; undefined when the line was refused */
  private actAtOnce(block: Block): boolean | undefined {
    const { other } = block;
    if (other < 0) return block.namesAxes;
    const p = block.get(LETTER.P);
    const [x, y, z] = [block.get(LETTER.X), block.get(LETTER.Y), block.get(LETTER.Z)];
    if (other === 40) {
      if (!(p >= 0)) return this.fault('G4 needs P, the seconds to wait');
      this.row(OP.DWELL, NaN, NaN, NaN, p, false);
    } else if (other === 100) {
      const l = block.get(LETTER.L);
      if (l !== 20 && l !== 2) return this.fault('of G10 only L2 and L20 are known');
      if (l === 2 && !(p >= 0 && p <= 9)) return this.fault('G10 L2 needs P, the number of the work offset');
      this.setZero(l === 2 ? OP.SET_ORIGIN : OP.SET_ZERO, x, y, z, p);
      return false;
    } else if (other === 920) {
      if (!block.namesAxes) return this.fault('G92 needs an axis');
      if (this.findings.length < MAX_FINDINGS) this.findings.push(finding.programShifts(this.lines));
      this.setZero(OP.SET_ZERO, x, y, z, 0);
      return false;
    } else if (other === 280) {
      this.row(OP.HOME, NaN, NaN, NaN, 0, false);
      this.px = this.py = this.pz = NaN;
      return false;
    }
    return block.namesAxes;
  }

  private setZero(kind: number, x: number, y: number, z: number, number: number): void {
    this.row(kind, x, y, z, number, false);
    // A zero that is set says where the machine is; an origin that is moved makes it unknown.
    const known = kind === OP.SET_ZERO;
    if (!Number.isNaN(x)) this.px = known ? x : NaN;
    if (!Number.isNaN(y)) this.py = known ? y : NaN;
    if (!Number.isNaN(z)) this.pz = known ? z : NaN;
  }

  private move(x: number, y: number, z: number, i: number, j: number, k: number, r: number, useMachine: boolean): void {
    if (useMachine) {
      if (this.motion > 10) return this.fault('G53 goes with G0 or G1 only');
      this.row(this.motion === 0 ? OP.RAPID : OP.FEED, x, y, z, this.motion === 0 ? 0 : this.feed, true);
      if (!Number.isNaN(x)) this.px = NaN;
      if (!Number.isNaN(y)) this.py = NaN;
      if (!Number.isNaN(z)) this.pz = NaN;
      return;
    }
    if (this.motion === 800) return this.fault('an axis is named but no motion (G80 is in force)');
    if (this.motion === NO_MOTION) return this.fault('this line counts on a word that was refused before it');
    const tx = Number.isNaN(x) ? this.px : this.modes.absolute ? x : this.px + x;
    const ty = Number.isNaN(y) ? this.py : this.modes.absolute ? y : this.py + y;
    const tz = Number.isNaN(z) ? this.pz : this.modes.absolute ? z : this.pz + z;
    if (this.motion === 0) this.row(OP.RAPID, tx, ty, tz, 0, false);
    else {
      let feed = this.feed;
      if (Number.isNaN(feed)) return this.fault('a cutting move before any feed (F)');
      if (this.modes.inverseTime) {
        feed = this.feed * Math.hypot(tx - this.px, ty - this.py, tz - this.pz);
        this.feed = NaN;
      }
      if (this.motion === 10) this.row(OP.FEED, tx, ty, tz, feed, false);
      else if (this.motion === 382) this.row(OP.PROBE, tx, ty, tz, feed, false);
      else {
        const wrong = this.arc(tx, ty, tz, i, j, k, r, feed);
        if (wrong !== null) return this.fault(wrong);
      }
    }
    this.px = tx;
    this.py = ty;
    this.pz = tz;
  }

  private arc(x: number, y: number, z: number, i: number, j: number, k: number, radius: number, feed: number): string | null {
    const words = { clockwise: this.motion === 20, centre: [i, j, k] as const, radius };
    return arcChords([this.px, this.py, this.pz], [x, y, z], words, PLANES[this.modes.plane], (ax, ay, az) => this.row(OP.FEED, ax, ay, az, feed, false));
  }

  /**
   * G81 drill, G82 drill and wait, G83 peck (NIST IR 6556, section 3.5.16): across, rapidly down to R, down to Z
   * at the feed - G83 in steps of Q with the bit out to R between them - and out again, to R (G99) or to where it
   * came from if that is higher (G98). Z, R, Q and P hold until they change; L makes it as often.
   */
  private drill(x: number, y: number, z: number, r: number, q: number, p: number, l: number, useMachine: boolean): void {
    const { cycle } = this;
    if (!Number.isNaN(z)) cycle.z = z;
    if (!Number.isNaN(r)) cycle.r = r;
    if (!Number.isNaN(q)) cycle.q = q;
    if (!Number.isNaN(p)) cycle.p = p;
    const name = `G${this.motion / 10}`;
    if (useMachine) return this.fault('G53 goes with G0 or G1 only');
    if (this.modes.plane !== 17) return this.fault(`${name} is read in the XY plane (G17) only`);
    if (Number.isNaN(this.feed) || this.modes.inverseTime) return this.fault(`${name} needs a feed (F) in units per minute`);
    if (Number.isNaN(cycle.z) || Number.isNaN(cycle.r)) return this.fault(`${name} needs Z, how deep, and R, where it begins`);
    if (this.motion === 820 && !(cycle.p >= 0)) return this.fault('G82 needs P, the seconds to wait');
    if (this.motion === 830 && !(cycle.q > 0)) return this.fault('G83 needs Q above zero, the depth of a peck');
    if (!this.modes.absolute && Number.isNaN(this.pz)) return this.fault(`${name} by distances (G91) needs a known height`);
    const times = Number.isNaN(l) ? 1 : l;
    if (!Number.isInteger(times) || times < 0 || times > 1000) return this.fault('L is not a number of times');
    for (let n = 0; n < times; n++) {
      const top = this.modes.absolute ? cycle.r : this.pz + cycle.r;
      const bottom = this.modes.absolute ? cycle.z : top + cycle.z;
      if (bottom > top) return this.fault(`${name} ends above where it begins`);
      if (this.motion === 830 && (top - bottom) / cycle.q > 10_000) return this.fault('G83 makes more than ten thousand pecks');
      const before = this.pz;
      const tx = Number.isNaN(x) ? this.px : this.modes.absolute ? x : this.px + x;
      const ty = Number.isNaN(y) ? this.py : this.modes.absolute ? y : this.py + y;
      if (before < top) this.row(OP.RAPID, this.px, this.py, top, 0, false);
      this.row(OP.RAPID, tx, ty, before < top ? top : before, 0, false);
      if (!(before <= top)) this.row(OP.RAPID, tx, ty, top, 0, false);
      if (this.motion === 830)
        for (let at = top; at > bottom;) {
          if (at < top) {
            this.row(OP.RAPID, tx, ty, top, 0, false);
            this.row(OP.RAPID, tx, ty, Math.min(top, at + BACK), 0, false);
          }
          at = at - cycle.q < bottom + 1e-4 ? bottom : at - cycle.q;
          this.row(OP.FEED, tx, ty, at, this.feed, false);
        }
      else this.row(OP.FEED, tx, ty, bottom, this.feed, false);
      if (this.motion === 820) this.row(OP.DWELL, NaN, NaN, NaN, cycle.p, false);
      const out = this.modes.toStart && before > top ? before : top;
      this.row(OP.RAPID, tx, ty, out, 0, false);
      [this.px, this.py, this.pz] = [tx, ty, out];
    }
  }

  private comment(bytes: Uint8Array, from: number, to: number): void {
    if (this.comments.length >= 200) return;
    let text = '';
    for (let i = from; i < to; i++) text += String.fromCharCode(bytes[i]);
    this.comments.push(text.trim());
  }

  private row(kind: number, x: number, y: number, z: number, value: number, machine: boolean): void {
    if (this.count === MOST_ROWS) {
      if (!this.full) this.fault(`the program makes more than ${MOST_ROWS / 1e6} million moves; what comes from here on is not read`);
      this.full = true;
      return;
    }
    const i = this.count++;
    if (i === this.kind.length) this.grow();
    this.kind[i] = kind;
    this.x[i] = x;
    this.y[i] = y;
    this.z[i] = z;
    this.value[i] = value;
    this.machine[i] = machine ? 1 : 0;
    this.line[i] = this.lines;
  }

  private grow(): void {
    const size = this.kind.length * 2;
    const bigger = <T extends Uint8Array | Float64Array | Uint32Array>(old: T, made: T): T => {
      made.set(old);
      return made;
    };
    this.kind = bigger(this.kind, new Uint8Array(size));
    this.x = bigger(this.x, new Float64Array(size));
    this.y = bigger(this.y, new Float64Array(size));
    this.z = bigger(this.z, new Float64Array(size));
    this.value = bigger(this.value, new Float64Array(size));
    this.machine = bigger(this.machine, new Uint8Array(size));
    this.line = bigger(this.line, new Uint32Array(size));
  }
}
