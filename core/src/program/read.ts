/**
 * Interprets a program in RS274/NGC (NIST IR 6556; modal groups as in its table of modal groups,
 * from memory). Reads bytes, so that it can be fed a file in pieces; gives moves and events in
 * flat arrays. Positions are millimetres in the program's own coordinates; NaN means "where it is"
 * for an axis not yet named.
 */
import { finding, type Finding } from '../preflight/findings.ts';
import { MM_PER_INCH } from '../length/index.ts';

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

const CHORD = 0.002;
const MAX_FINDINGS = 50;

const GROUP: Record<number, number> = {};
for (const g of [0, 10, 20, 30, 382, 800]) GROUP[g] = 1;
for (const g of [170, 180, 190]) GROUP[g] = 2;
for (const g of [900, 910]) GROUP[g] = 3;
for (const g of [930, 940]) GROUP[g] = 5;
for (const g of [200, 210]) GROUP[g] = 6;
for (const g of [400]) GROUP[g] = 7;
for (const g of [431, 490]) GROUP[g] = 8;
for (const g of [540, 550, 560, 570, 580, 590, 591, 592, 593]) GROUP[g] = 12;
for (const g of [610, 611, 640]) GROUP[g] = 13;
for (const g of [40, 100, 280, 530]) GROUP[g] = 20; // non-modal

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
  private motion = 0; // G0
  private scale = 1;
  private inch = false;
  private unitsSaid = false;
  private absolute = true;
  private inverseTime = false;
  private plane = 17;
  private feed = NaN;
  private speed = 0;
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

  private readLine(bytes: Uint8Array, start: number, end: number): void {
    this.lines++;
    if (this.ended) return;
    let i = start;
    let x = NaN;
    let y = NaN;
    let z = NaN;
    let wi = NaN;
    let wj = NaN;
    let wr = NaN;
    let p = NaN;
    let l = NaN;
    let f = NaN;
    let motionWord = -1;
    let other = -1;
    let stop = -1;
    let spindle = -1;
    let tool = NaN;
    let offset = 0;
    let toolChange = false;
    let useMachine = false;
    let axes = false;
    let groups = 0;
    if (bytes[i] === 37) return; // % marks the ends of a tape
    while (i < end) {
      let c = bytes[i++];
      if (c === 32 || c === 9 || c === 13) continue;
      if (c === 59) {
        this.comment(bytes, i, end);
        break;
      }
      if (c === 40) {
        const close = bytes.indexOf(41, i);
        if (close < 0 || close >= end) return this.fault('a comment is opened with ( and never closed');
        this.comment(bytes, i, close);
        i = close + 1;
        continue;
      }
      if (c >= 97 && c <= 122) c -= 32;
      if (c === 47 && i === start + 1) continue; // block delete switch: off
      if (c < 65 || c > 90) return this.fault(`“${String.fromCharCode(c)}” is not a word of a program`);
      // number
      while (i < end && (bytes[i] === 32 || bytes[i] === 9)) i++;
      let sign = 1;
      if (bytes[i] === 45) {
        sign = -1;
        i++;
      } else if (bytes[i] === 43) i++;
      let digits = 0;
      let mantissa = 0;
      let divisor = 1;
      let d = i < end ? bytes[i] : 0;
      while (d >= 48 && d <= 57) {
        mantissa = mantissa * 10 + (d - 48);
        digits++;
        i++;
        d = i < end ? bytes[i] : 0;
      }
      if (d === 46) {
        i++;
        d = i < end ? bytes[i] : 0;
        while (d >= 48 && d <= 57) {
          mantissa = mantissa * 10 + (d - 48);
          divisor *= 10;
          digits++;
          i++;
          d = i < end ? bytes[i] : 0;
        }
      }
      if (digits === 0) return this.fault(`${String.fromCharCode(c)} has no number`);
      if (digits > 15) return this.fault(`the number after ${String.fromCharCode(c)} is too long`);
      const value = (sign * mantissa) / divisor;
      switch (c) {
        case 71: {
          const code = Math.round(value * 10);
          const group = GROUP[code];
          if (group === undefined || Math.abs(value * 10 - code) > 1e-9) return this.fault(`G${value} is not a word Kerbe knows`);
          if (groups & (1 << group)) return this.fault(`G${value} and another word of its modal group stand in one line`);
          groups |= 1 << group;
          switch (code) {
            case 0:
            case 10:
            case 20:
            case 30:
            case 382:
            case 800:
              motionWord = code;
              break;
            case 40:
            case 100:
            case 280:
              other = code;
              break;
            case 530:
              useMachine = true;
              break;
            case 170:
            case 180:
            case 190:
              this.plane = code / 10;
              break;
            case 200:
              this.scale = MM_PER_INCH;
              this.inch = true;
              this.unitsSaid = true;
              break;
            case 210:
              this.scale = 1;
              this.inch = false;
              this.unitsSaid = true;
              break;
            case 540:
            case 550:
            case 560:
            case 570:
            case 580:
            case 590:
            case 591:
            case 592:
            case 593:
              offset = code <= 590 ? code / 10 - 53 : code - 584;
              break;
            case 900:
              this.absolute = true;
              break;
            case 910:
              this.absolute = false;
              break;
            case 930:
              this.inverseTime = true;
              this.feed = NaN;
              break;
            case 940:
              if (this.inverseTime) this.feed = NaN;
              this.inverseTime = false;
              break;
          }
          break;
        }
        case 77: {
          if (value === 0 || value === 1 || value === 2 || value === 30) stop = value;
          else if (value >= 3 && value <= 5) spindle = value;
          else if (value === 6) toolChange = true;
          else if (value < 7 || value > 9) return this.fault(`M${value} is not a word Kerbe knows`);
          break;
        }
        case 88:
          x = value * this.scale;
          axes = true;
          break;
        case 89:
          y = value * this.scale;
          axes = true;
          break;
        case 90:
          z = value * this.scale;
          axes = true;
          break;
        case 73:
          wi = value * this.scale;
          break;
        case 74:
          wj = value * this.scale;
          break;
        case 82:
          wr = value * this.scale;
          break;
        case 70:
          f = value;
          break;
        case 83:
          if (value < 0) return this.fault('S is negative');
          this.speed = value;
          break;
        case 84:
          tool = value;
          break;
        case 80:
          p = value;
          break;
        case 76:
          l = value;
          break;
        case 78:
          break;
        default:
          return this.fault(`${String.fromCharCode(c)} is not a word Kerbe knows`);
      }
    }
    // Order of execution within a line as in NIST IR 6556 (from memory): feed, speed, tool, spindle,
    // dwell, motion, stop.
    if (!Number.isNaN(f)) {
      if (f <= 0) return this.fault('F is not above zero');
      this.feed = this.inverseTime ? f : f * this.scale;
    }
    if (!Number.isNaN(tool)) this.row(OP.TOOL, NaN, NaN, NaN, tool, false);
    if (offset > 0) this.row(OP.OFFSET, NaN, NaN, NaN, offset, false);
    if (toolChange) this.row(OP.PAUSE, NaN, NaN, NaN, 6, false);
    if (spindle >= 0) this.row(OP.SPINDLE, NaN, NaN, NaN, spindle === 5 ? 0 : spindle === 4 ? -this.speed : this.speed, false);
    if (other === 40) {
      if (!(p >= 0)) return this.fault('G4 needs P, the seconds to wait');
      this.row(OP.DWELL, NaN, NaN, NaN, p, false);
    } else if (other === 100) {
      if (l !== 20) return this.fault('of G10 only L20 is known');
      this.row(OP.SET_ZERO, x, y, z, p, false);
      if (!Number.isNaN(x)) this.px = x;
      if (!Number.isNaN(y)) this.py = y;
      if (!Number.isNaN(z)) this.pz = z;
      axes = false;
    } else if (other === 280) {
      this.row(OP.HOME, NaN, NaN, NaN, 0, false);
      this.px = this.py = this.pz = NaN;
      axes = false;
    }
    if (motionWord >= 0) this.motion = motionWord;
    if (axes || motionWord === 20 || motionWord === 30) this.move(x, y, z, wi, wj, wr, useMachine);
    if (stop >= 0) {
      if (stop === 0 || stop === 1) this.row(OP.PAUSE, NaN, NaN, NaN, stop, false);
      else {
        this.row(OP.END, NaN, NaN, NaN, 0, false);
        this.ended = true;
      }
    }
  }

  private move(x: number, y: number, z: number, i: number, j: number, r: number, useMachine: boolean): void {
    if (useMachine) {
      if (this.motion > 10) return this.fault('G53 goes with G0 or G1 only');
      this.row(this.motion === 0 ? OP.RAPID : OP.FEED, x, y, z, this.motion === 0 ? 0 : this.feed, true);
      if (!Number.isNaN(x)) this.px = NaN;
      if (!Number.isNaN(y)) this.py = NaN;
      if (!Number.isNaN(z)) this.pz = NaN;
      return;
    }
    if (this.motion === 800) return this.fault('an axis is named but no motion (G80 is in force)');
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
      else if (!this.arc(tx, ty, tz, i, j, r, feed)) return;
    }
    this.px = tx;
    this.py = ty;
    this.pz = tz;
  }

  /** G2/G3 in the XY plane, helix included, as chords within {@link CHORD} of the arc. */
  private arc(x: number, y: number, z: number, i: number, j: number, r: number, feed: number): boolean {
    const fail = (text: string) => {
      this.fault(text);
      return false;
    };
    if (this.plane !== 17) return fail('arcs are read in the XY plane (G17) only');
    if (Number.isNaN(this.px) || Number.isNaN(this.py)) return fail('an arc needs a known start point');
    const clockwise = this.motion === 20;
    let cx: number;
    let cy: number;
    if (!Number.isNaN(r)) {
      const dx = x - this.px;
      const dy = y - this.py;
      const chord = Math.hypot(dx, dy);
      if (chord < 1e-9) return fail('an arc by radius needs an end point of its own');
      if (chord / 2 > Math.abs(r) * 1.001 + 0.002) return fail('the radius is too short for this arc');
      const h = Math.sqrt(Math.max(0, r * r - (chord * chord) / 4)) * (clockwise === r > 0 ? -1 : 1);
      cx = this.px + dx / 2 - (h * dy) / chord;
      cy = this.py + dy / 2 + (h * dx) / chord;
    } else {
      if (Number.isNaN(i) && Number.isNaN(j)) return fail('an arc needs I and J, or R');
      cx = this.px + (Number.isNaN(i) ? 0 : i);
      cy = this.py + (Number.isNaN(j) ? 0 : j);
    }
    const radius = Math.hypot(this.px - cx, this.py - cy);
    if (Math.abs(radius - Math.hypot(x - cx, y - cy)) > Math.max(0.01, radius * 0.001)) return fail('the arc does not end on its circle');
    const a0 = Math.atan2(this.py - cy, this.px - cx);
    let turn = Math.atan2(y - cy, x - cx) - a0;
    if (clockwise && turn >= -1e-12) turn -= 2 * Math.PI;
    if (!clockwise && turn <= 1e-12) turn += 2 * Math.PI;
    const step = 2 * Math.acos(Math.max(0, 1 - CHORD / Math.max(radius, CHORD)));
    const n = Math.max(1, Math.ceil(Math.abs(turn) / step));
    const z0 = this.pz;
    for (let k = 1; k <= n; k++) {
      const a = a0 + (turn * k) / n;
      const s = k / n;
      this.row(OP.FEED, k === n ? x : cx + radius * Math.cos(a), k === n ? y : cy + radius * Math.sin(a), z0 + s * (z - z0), feed, false);
    }
    return true;
  }

  private comment(bytes: Uint8Array, from: number, to: number): void {
    if (this.comments.length >= 200) return;
    let text = '';
    for (let i = from; i < to; i++) text += String.fromCharCode(bytes[i]);
    this.comments.push(text.trim());
  }

  private row(kind: number, x: number, y: number, z: number, value: number, machine: boolean): void {
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
