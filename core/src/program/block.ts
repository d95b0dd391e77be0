/** The words of one line, gathered and checked before any of them is carried out. */
import { MM_PER_INCH } from '../length/index.ts';
import { LETTER, type Words } from './words.ts';

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

/** Modal groups of M words: stops, change of tool, spindle, coolant (7 and 8 may stand together), override switches, outputs (of a common extension of the standard; from memory). */
const M_GROUP: Record<number, number> = {
  0: 4,
  1: 4,
  2: 4,
  30: 4,
  6: 6,
  3: 7,
  4: 7,
  5: 7,
  7: 8,
  8: 9,
  9: 8,
  48: 10,
  49: 10,
  62: 11,
  63: 11,
  64: 11,
  65: 11,
  67: 11,
  68: 11,
};

/** G words known by name that Kerbe does not carry out, and why the line is refused. */
const REFUSED: Record<number, string> = {
  410: 'G41 (cutter compensation) is not read: the path must be that of the middle of the bit',
  420: 'G42 (cutter compensation) is not read: the path must be that of the middle of the bit',
  921: 'G92.1 is not read: where its origin lay before is not known',
  922: 'G92.2 is not read: where its origin lay before is not known',
  923: 'G92.3 is not read: where its origin lay before is not known',
};
for (const g of [730, 840, 850, 860, 870, 880, 890]) REFUSED[g] = `G${g / 10} (a canned cycle) is not read`;

/** Letters whose value alone counts, and those of turning axes, which are told and left out; by character code. */
const VALUE = 1;
const TURNING = 2;
const MEANS = new Uint8Array(128);
for (const letter of 'XYZIJKRFSTPQLHEN') MEANS[letter.charCodeAt(0)] = VALUE;
for (const letter of 'ABC') MEANS[letter.charCodeAt(0)] = TURNING;
const LENGTHS = [...'XYZIJKRQ'].map((letter) => letter.charCodeAt(0) - 65);

/** What an output's words lack, or null. Its level stands in Q, which is no length there. */
function outputFault(output: number, p: number, e: number, q: number, waits: boolean): string | null {
  if (output < 0) return Number.isNaN(e) ? null : 'E stands without M67 or M68';
  if (output >= 67) return e >= 0 && !Number.isNaN(q) ? null : `M${output} needs E, which output, and Q, its level`;
  if (waits) return `M${output} and G4 both need P in one line`;
  return p >= 0 ? null : `M${output} needs P, which output`;
}

/** What holds from line to line and a line may change before it moves. */
export interface Modes {
  /** Millimetres to one unit. */
  scale: number;
  plane: number;
  absolute: boolean;
  inverseTime: boolean;
  /** Canned cycles end where they came from (G98). */
  toStart: boolean;
}

/**
 * A line as its words have it ("block" in the standard). One is used again and again: a program of a million
 * lines makes no garbage.
 */
export class Block implements Modes {
  scale = 1;
  plane = 17;
  absolute = true;
  inverseTime = false;
  toStart = true;
  /** Ten times the motion word, the other word that acts at once (dwell, G10, home, G92), and M words; -1 where there is none. */
  motion = -1;
  other = -1;
  stop = -1;
  spindle = -1;
  output = -1;
  /** Work offset to use from here on, 1 for G54; 0 for the one in force. */
  offset = 0;
  /** Bits 0 to 2 for M7 to M9. */
  coolant = 0;
  change = false;
  length = false;
  useMachine = false;
  saysUnits = false;
  /** A turning axis that is named, as its letter; '' for none. */
  turns = '';
  /** A word that is known and not carried out, by ten times its number: why the line was refused; -1 for none. */
  refused = -1;
  private groups = 0;
  private mGroups = 0;
  private letters = 0;
  /** Values by letter, from A; NaN where a letter does not stand. */
  private readonly values = new Float64Array(26);

  /** The value of a letter, lengths in millimetres; NaN where it does not stand. */
  get(letter: number): number {
    return this.values[letter - 65];
  }
  /** Does a word of a modal group of G words stand in it? */
  has(group: number): boolean {
    return (this.groups & (1 << group)) !== 0;
  }
  get namesAxes(): boolean {
    return !Number.isNaN(this.get(LETTER.X)) || !Number.isNaN(this.get(LETTER.Y)) || !Number.isNaN(this.get(LETTER.Z));
  }

  /** Gathers a line on top of what holds. @returns what is wrong with it, or null */
  gather(words: Words, modes: Modes): string | null {
    this.clear(modes);
    for (let w = 0; w < words.count; w++) {
      const letter = words.letter[w];
      const value = words.value[w];
      const wrong = letter === LETTER.G ? this.takeG(value) : letter === LETTER.M ? this.takeM(value) : this.takeValue(letter, value);
      if (wrong !== null) return wrong;
    }
    const wrong = this.fault();
    // Units act on the whole line, wherever in it their word stands.
    if (wrong === null && this.scale !== 1) for (const at of LENGTHS) this.values[at] *= this.scale;
    return wrong;
  }

  private clear({ scale, plane, absolute, inverseTime, toStart }: Modes): void {
    this.scale = scale;
    this.plane = plane;
    this.absolute = absolute;
    this.inverseTime = inverseTime;
    this.toStart = toStart;
    this.motion = this.other = this.stop = this.spindle = this.output = this.refused = -1;
    this.offset = this.coolant = this.groups = this.mGroups = this.letters = 0;
    this.change = this.length = this.useMachine = this.saysUnits = false;
    this.turns = '';
    this.values.fill(NaN);
  }

  private takeG(value: number): string | null {
    const code = Math.round(value * 10);
    const group = GROUP[code];
    if (group === undefined || Math.abs(value * 10 - code) > 1e-9) {
      if (REFUSED[code] === undefined) return `G${value} is not a word Kerbe knows`;
      this.refused = code;
      return REFUSED[code];
    }
    if (this.groups & (1 << group)) return `G${value} and another word of its modal group stand in one line`;
    this.groups |= 1 << group;
    if (group === 1) this.motion = code;
    else if (group === 2) this.plane = code / 10;
    else if (group === 3) this.absolute = code === 900;
    else if (group === 5) this.inverseTime = code === 930;
    else if (group === 6) {
      this.scale = code === 200 ? MM_PER_INCH : 1;
      this.saysUnits = true;
    } else if (group === 10) this.toStart = code === 980;
    else if (group === 12) this.offset = code <= 590 ? code / 10 - 53 : code - 584;
    else if (code === 430) this.length = true;
    else if (code === 530) this.useMachine = true;
    else if (group === 20) this.other = code;
    return null;
  }

  private takeM(value: number): string | null {
    const group = M_GROUP[value];
    if (group === undefined) return value === 98 || value === 99 ? `M${value} (subroutines) is not read` : `M${value} is not a word Kerbe knows`;
    if (this.mGroups & (1 << group)) return `M${value} and another word of its modal group stand in one line`;
    this.mGroups |= 1 << group;
    if (group === 4) this.stop = value;
    else if (group === 7) this.spindle = value;
    else if (group === 6) this.change = true;
    else if (group === 8 || group === 9) this.coolant |= 1 << (value - 7);
    else if (group === 11) this.output = value;
    return null;
  }

  private takeValue(letter: number, value: number): string | null {
    const bit = 1 << (letter - 65);
    if (this.letters & bit) return `${String.fromCharCode(letter)} stands twice in one line`;
    this.letters |= bit;
    if (MEANS[letter] === VALUE) {
      if (letter === LETTER.S && value < 0) return 'S is negative';
      this.values[letter - 65] = value;
      return null;
    }
    if (MEANS[letter] !== TURNING) return `${String.fromCharCode(letter)} is not a word Kerbe knows`;
    this.turns ||= String.fromCharCode(letter);
    return null;
  }

  /** What is wrong with words that are right each by itself. */
  private fault(): string | null {
    if (this.get(LETTER.F) <= 0) return 'F is not above zero';
    if (!Number.isNaN(this.get(LETTER.H)) && !this.has(8)) return 'H stands without G43';
    return outputFault(this.output, this.get(LETTER.P), this.get(LETTER.E), this.get(LETTER.Q), this.other === 40);
  }
}
