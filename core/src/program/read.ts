/**
 * Interprets a program in RS274/NGC (NIST IR 6556; modal groups as in its table of modal groups,
 * from memory). Reads bytes, so that it can be fed a file in pieces; gives moves and events in
 * flat arrays. Positions are millimetres in the program's own coordinates; NaN means "where it is"
 * for an axis not yet named.
 */
import { finding, type Finding } from '../preflight/findings.ts';
import { MM_PER_INCH } from '../length/index.ts';
import { arcChords, PLANES } from './arc.ts';
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

/** Modal groups of G words, by ten times the word (NIST IR 6556, table 4; from memory). */
const GROUP: Record<number, number> = {};
for (const g of [0, 10, 20, 30, 382, 800, 810, 820, 830]) GROUP[g] = 1;
for (const g of [170, 180, 190]) GROUP[g] = 2;
for (const g of [900, 910]) GROUP[g] = 3;
for (const g of [930, 940]) GROUP[g] = 5;
for (const g of [200, 210]) GROUP[g] = 6;
for (const g of [400]) GROUP[g] = 7;
for (const g of [430, 431, 490]) GROUP[g] = 8;
for (const g of [980, 990]) GROUP[g] = 10;
for (const g of [540, 550, 560, 570, 580, 590, 591, 592, 593]) GROUP[g] = 12;
for (const g of [610, 611, 640]) GROUP[g] = 13;
for (const g of [40, 100, 280, 530, 920]) GROUP[g] = 20; // non-modal

/** Modal groups of M words: stops, change of tool, spindle, coolant (7 and 8 may stand together), override switches. */
const M_GROUP: Record<number, number> = { 0: 4, 1: 4, 2: 4, 30: 4, 6: 6, 3: 7, 4: 7, 5: 7, 7: 8, 8: 9, 9: 8, 48: 10, 49: 10 };

/** G words known by name that Kerbe does not carry out, and why the line is refused. */
const REFUSED: Record<number, string> = {
  410: 'G41 (cutter compensation) is not read: the path must be that of the middle of the bit',
  420: 'G42 (cutter compensation) is not read: the path must be that of the middle of the bit',
  921: 'G92.1 is not read: where its origin lay before is not known',
  922: 'G92.2 is not read: where its origin lay before is not known',
  923: 'G92.3 is not read: where its origin lay before is not known',
};
for (const g of [730, 840, 850, 860, 870, 880, 890]) REFUSED[g] = `G${g / 10} (a canned cycle) is not read`;
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
  private scale = 1;
  private inch = false;
  private unitsSaid = false;
  private absolute = true;
  private inverseTime = false;
  private plane = 17;
  private feed = NaN;
  private speed = 0;
  /** Canned cycles: depth, height they begin at, peck, wait; and whether they end where they came from (G98) or there. */
  private cycle = { z: NaN, r: NaN, q: NaN, p: NaN };
  private toStart = true;
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
    return this.scale;
  }
  /** False while coordinates are distances (G91). */
  get isAbsolute(): boolean {
    return this.absolute;
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

  private fault(text: string): void {
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
    const { words } = this;
    const wrong = words.read(bytes, start, end);
    for (let at = 0; at < words.comments.length; at += 2) this.comment(bytes, words.comments[at], words.comments[at + 1]);
    if (wrong !== null) return this.fault(wrong);
    if (words.count > 0) this.begun = true;
    let x = NaN;
    let y = NaN;
    let z = NaN;
    let i = NaN;
    let j = NaN;
    let k = NaN;
    let r = NaN;
    let p = NaN;
    let q = NaN;
    let l = NaN;
    let f = NaN;
    let s = NaN;
    let h = NaN;
    let tool = NaN;
    let motionWord = -1;
    let other = -1;
    let stop = -1;
    let spindle = -1;
    let offset = 0;
    let change = false;
    let useMachine = false;
    let inverseTime = this.inverseTime;
    let scale = this.scale;
    let plane = this.plane;
    let absolute = this.absolute;
    let toStart = this.toStart;
    let unitsWord = false;
    let length = false;
    let groups = 0;
    let mGroups = 0;
    let letters = 0;
    for (let w = 0; w < words.count; w++) {
      const letter = words.letter[w];
      const value = words.value[w];
      if (letter !== LETTER.G && letter !== LETTER.M) {
        const bit = 1 << (letter - 65);
        if (letters & bit) return this.fault(`${String.fromCharCode(letter)} stands twice in one line`);
        letters |= bit;
      }
      switch (letter) {
        case LETTER.G: {
          const code = Math.round(value * 10);
          const group = GROUP[code];
          if (group === undefined || Math.abs(value * 10 - code) > 1e-9) {
            if (REFUSED[code] === undefined) return this.fault(`G${value} is not a word Kerbe knows`);
            if (code !== 410 && code !== 420) this.motion = NO_MOTION;
            return this.fault(REFUSED[code]);
          }
          if (groups & (1 << group)) return this.fault(`G${value} and another word of its modal group stand in one line`);
          groups |= 1 << group;
          if (group === 1) motionWord = code;
          else if (group === 2) plane = code / 10;
          else if (group === 3) absolute = code === 900;
          else if (group === 5) inverseTime = code === 930;
          else if (group === 6) {
            scale = code === 200 ? MM_PER_INCH : 1;
            unitsWord = true;
          } else if (group === 10) toStart = code === 980;
          else if (group === 12) offset = code <= 590 ? code / 10 - 53 : code - 584;
          else if (code === 430) length = true;
          else if (code === 530) useMachine = true;
          else if (group === 20) other = code;
          break;
        }
        case LETTER.M: {
          const group = M_GROUP[value];
          if (group === undefined)
            return this.fault(value === 98 || value === 99 ? `M${value} (subroutines) is not read` : `M${value} is not a word Kerbe knows`);
          if (mGroups & (1 << group)) return this.fault(`M${value} and another word of its modal group stand in one line`);
          mGroups |= 1 << group;
          if (group === 4) stop = value;
          else if (group === 7) spindle = value;
          else if (group === 6) change = true;
          break;
        }
        case LETTER.X:
          x = value;
          break;
        case LETTER.Y:
          y = value;
          break;
        case LETTER.Z:
          z = value;
          break;
        case LETTER.I:
          i = value;
          break;
        case LETTER.J:
          j = value;
          break;
        case LETTER.K:
          k = value;
          break;
        case LETTER.R:
          r = value;
          break;
        case LETTER.F:
          f = value;
          break;
        case LETTER.S:
          if (value < 0) return this.fault('S is negative');
          s = value;
          break;
        case LETTER.T:
          tool = value;
          break;
        case LETTER.P:
          p = value;
          break;
        case LETTER.Q:
          q = value;
          break;
        case LETTER.L:
          l = value;
          break;
        case LETTER.H:
          h = value;
          break;
        case LETTER.N:
          break;
        case LETTER.A:
        case LETTER.B:
        case LETTER.C:
          if (!this.turningSaid && this.findings.length < MAX_FINDINGS) this.findings.push(finding.programTurns(this.lines, String.fromCharCode(letter)));
          this.turningSaid = true;
          break;
        default:
          return this.fault(`${String.fromCharCode(letter)} is not a word Kerbe knows`);
      }
    }
    if (f <= 0) return this.fault('F is not above zero');
    if (!Number.isNaN(h) && !(groups & (1 << 8))) return this.fault('H stands without G43');
    // Units act on the whole line, wherever in it their word stands.
    this.scale = scale;
    if (unitsWord) {
      this.inch = scale !== 1;
      this.unitsSaid = true;
    }
    if (scale !== 1) {
      x *= scale;
      y *= scale;
      z *= scale;
      i *= scale;
      j *= scale;
      k *= scale;
      r *= scale;
      q *= scale;
    }
    this.plane = plane;
    this.absolute = absolute;
    this.toStart = toStart;
    if (inverseTime !== this.inverseTime) this.feed = NaN;
    else if (inverseTime && groups & (1 << 5)) this.feed = NaN;
    this.inverseTime = inverseTime;
    if (!Number.isNaN(f)) this.feed = inverseTime ? f : f * scale;
    if (!Number.isNaN(s)) this.speed = s;
    if (!Number.isNaN(tool)) this.row(OP.TOOL, NaN, NaN, NaN, tool, false);
    if (offset > 0) this.row(OP.OFFSET, NaN, NaN, NaN, offset, false);
    if (change) this.row(OP.PAUSE, NaN, NaN, NaN, 6, false);
    if (length) this.row(OP.LENGTH, NaN, NaN, NaN, Number.isNaN(h) ? 0 : h, false);
    if (spindle >= 0) this.row(OP.SPINDLE, NaN, NaN, NaN, spindle === 5 ? 0 : spindle === 4 ? -this.speed : this.speed, false);
    let axes = !Number.isNaN(x) || !Number.isNaN(y) || !Number.isNaN(z);
    if (other === 40) {
      if (!(p >= 0)) return this.fault('G4 needs P, the seconds to wait');
      this.row(OP.DWELL, NaN, NaN, NaN, p, false);
    } else if (other === 100) {
      if (l !== 20 && l !== 2) return this.fault('of G10 only L2 and L20 are known');
      if (l === 2 && !(p >= 0 && p <= 9)) return this.fault('G10 L2 needs P, the number of the work offset');
      this.setZero(l === 2 ? OP.SET_ORIGIN : OP.SET_ZERO, x, y, z, p);
      axes = false;
    } else if (other === 920) {
      if (!axes) return this.fault('G92 needs an axis');
      if (this.findings.length < MAX_FINDINGS) this.findings.push(finding.programShifts(this.lines));
      this.setZero(OP.SET_ZERO, x, y, z, 0);
      axes = false;
    } else if (other === 280) {
      this.row(OP.HOME, NaN, NaN, NaN, 0, false);
      this.px = this.py = this.pz = NaN;
      axes = false;
    }
    if (motionWord >= 0) {
      // What a cycle was told holds for the cycles after it, and for nothing else.
      if (motionWord < 810 && this.motion >= 810) this.cycle = { z: NaN, r: NaN, q: NaN, p: NaN };
      this.motion = motionWord;
    }
    if (axes || motionWord === 20 || motionWord === 30) {
      if (this.motion >= 810 && this.motion <= 830) this.drill(x, y, z, r, q, p, l, useMachine);
      else this.move(x, y, z, i, j, k, r, useMachine);
    }
    if (stop >= 0) {
      if (stop === 0 || stop === 1) this.row(OP.PAUSE, NaN, NaN, NaN, stop, false);
      else {
        this.row(OP.END, NaN, NaN, NaN, 0, false);
        this.ended = true;
      }
    }
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
    const tx = Number.isNaN(x) ? this.px : this.absolute ? x : this.px + x;
    const ty = Number.isNaN(y) ? this.py : this.absolute ? y : this.py + y;
    const tz = Number.isNaN(z) ? this.pz : this.absolute ? z : this.pz + z;
    if (this.motion === 0) this.row(OP.RAPID, tx, ty, tz, 0, false);
    else {
      let feed = this.feed;
      if (Number.isNaN(feed)) return this.fault('a cutting move before any feed (F)');
      if (this.inverseTime) {
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
    return arcChords([this.px, this.py, this.pz], [x, y, z], words, PLANES[this.plane], (ax, ay, az) => this.row(OP.FEED, ax, ay, az, feed, false));
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
    if (this.plane !== 17) return this.fault(`${name} is read in the XY plane (G17) only`);
    if (Number.isNaN(this.feed) || this.inverseTime) return this.fault(`${name} needs a feed (F) in units per minute`);
    if (Number.isNaN(cycle.z) || Number.isNaN(cycle.r)) return this.fault(`${name} needs Z, how deep, and R, where it begins`);
    if (this.motion === 820 && !(cycle.p >= 0)) return this.fault('G82 needs P, the seconds to wait');
    if (this.motion === 830 && !(cycle.q > 0)) return this.fault('G83 needs Q above zero, the depth of a peck');
    if (!this.absolute && Number.isNaN(this.pz)) return this.fault(`${name} by distances (G91) needs a known height`);
    const times = Number.isNaN(l) ? 1 : l;
    if (!Number.isInteger(times) || times < 0 || times > 1000) return this.fault('L is not a number of times');
    for (let n = 0; n < times; n++) {
      const top = this.absolute ? cycle.r : this.pz + cycle.r;
      const bottom = this.absolute ? cycle.z : top + cycle.z;
      if (bottom > top) return this.fault(`${name} ends above where it begins`);
      if (this.motion === 830 && (top - bottom) / cycle.q > 10_000) return this.fault('G83 makes more than ten thousand pecks');
      const before = this.pz;
      const tx = Number.isNaN(x) ? this.px : this.absolute ? x : this.px + x;
      const ty = Number.isNaN(y) ? this.py : this.absolute ? y : this.py + y;
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
      const out = this.toStart && before > top ? before : top;
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
