/**
 * The gate every program passes before it is released: its final text is read back, and must be the
 * planned toolpath - the same ways in the same order, rapid where it was rapid, no faster than asked,
 * in the asked work offset, and the spindle turning as planned at every move into the board. Whatever
 * was written into it from elsewhere, it is the text that is judged.
 */
import { finding, wordsOf, type Finding } from '../findings/index.ts';
import { DWELL, RAPID, type Toolpath } from '../toolpath/index.ts';
import { linesOf } from './lines.ts';
import { OFFSET_WORDS, OP, readProgram, type Program } from './read.ts';

export interface Planned {
  sections: readonly { path: Toolpath; speed: number }[];
  /** Board coordinates of the datum, and the height of the program's Z0 above the toolpath's, mm. */
  datum: readonly [number, number];
  zShift: number;
  workOffset: string;
  /** How far a written place may lie from the planned one, mm: the last digit, and an arc from its chords. */
  slack: number;
  /** The program calls lengths of bits from the machine's table. */
  lengths: boolean;
  park: readonly [number, number] | null;
  /** It ends over the datum, Z at the top. */
  overDatum: boolean;
  /** S at full power, of a beam: then every move must have the power that is planned. */
  fullPower?: number;
  /** Lines of the shop's own that a person has ticked: they may be unknown to the reader. They cannot move anything, or they would not be here. */
  own: readonly string[];
}

/** What in the text is not as it was planned: the first of it, with its line. Empty when it may be released. */
export function gateFindings(name: string, text: string, planned: Planned): Finding[] {
  const program = readProgram(text);
  const lines = linesOf(text);
  const isOwn = (n: number) => planned.own.includes((lines[n - 1] ?? '').replace(/^N\d+ /, ''));
  const bad = program.findings.find(({ severity, code, line = 0 }) => severity !== 'note' && !(code === 'program-line' && isOwn(line)));
  if (bad) return [finding.programNotPlanned(name, bad.line ?? 0, wordsOf(bad, 'mm').what)];
  const fault = new Gate(program, planned).fault();
  return fault ? [finding.programNotPlanned(name, fault.line, fault.why)] : [];
}

interface Fault {
  line: number;
  why: string;
}
type Point = readonly [number, number, number];

/** Distance of a point from a stretch, and how far along the stretch its nearest place lies, 0 to 1. */
function near(p: Point, a: Point, b: Point): { off: number; at: number } {
  const d = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const length2 = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
  const raw = length2 > 0 ? ((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1] + (p[2] - a[2]) * d[2]) / length2 : 0;
  const at = Math.min(1, Math.max(0, raw));
  return { off: Math.hypot(a[0] + at * d[0] - p[0], a[1] + at * d[1] - p[1], a[2] + at * d[2] - p[2]), at };
}

class Gate {
  private readonly program: Program;
  private readonly planned: Planned;
  private readonly top: number;
  private row = 0;
  private spindle = 0;
  private at: [number, number, number] = [NaN, NaN, NaN];
  /** The head is known to be at the top of the travel: only there does it go across by machine coordinates. */
  private raised = false;

  constructor(program: Program, planned: Planned) {
    this.program = program;
    this.planned = planned;
    this.top = -planned.zShift;
  }

  fault(): Fault | null {
    for (const section of this.planned.sections) {
      const why = this.between(section.speed) ?? this.section(section.path, section.speed);
      if (why) return why;
    }
    const why = this.between(0) ?? this.overDatum() ?? this.between(0);
    if (why) return why;
    if (this.row < this.program.kind.length) return this.say('it moves on after the last planned cut');
    return this.spindle === 0 ? null : this.say('the spindle still turns at its end');
  }

  private say(why: string): Fault {
    const { line } = this.program;
    return { line: line[Math.min(this.row, line.length - 1)] ?? 0, why };
  }

  /** What is no move in work coordinates: up, park, the spindle to the speed that is planned next, change of bit. Stops before the next that is. */
  private between(speed: number): Fault | null {
    const { kind, machine, value, x, y, z } = this.program;
    for (; this.row < kind.length; this.row++) {
      const k = this.row;
      if (kind[k] <= OP.FEED) {
        if (!machine[k]) return null;
        if (kind[k] !== OP.RAPID) return this.say('it cuts in machine coordinates');
        const across = !Number.isNaN(x[k]) || !Number.isNaN(y[k]);
        if (!Number.isNaN(z[k]) && z[k] < 0) return this.say('it goes down in machine coordinates');
        if (across && !this.raised && Number.isNaN(z[k])) return this.say('it goes across before it has gone up');
        if (across && !this.parks(x[k], y[k])) return this.say('it goes to a place of the machine that is not where it parks');
        this.raised ||= !Number.isNaN(z[k]);
        this.at = [NaN, NaN, NaN];
      } else {
        const why = this.word(k);
        if (why) return this.say(why);
        if (kind[k] === OP.SPINDLE && value[k] !== 0 && value[k] !== speed)
          return this.say(`the spindle is told to turn ${value[k]}, and ${speed} is planned next`);
        if (kind[k] === OP.SPINDLE) this.spindle = value[k];
      }
    }
    return null;
  }

  /** The way back over the datum: across alone, with the head at the top and the spindle off. */
  private overDatum(): Fault | null {
    const { kind, x, y, z } = this.program;
    const k = this.row;
    if (!this.planned.overDatum || k >= kind.length) return null;
    const { slack } = this.planned;
    const goesThere = kind[k] === OP.RAPID && Math.abs(x[k]) <= slack && Math.abs(y[k]) <= slack && Number.isNaN(z[k]);
    if (!goesThere || !this.raised || this.spindle !== 0) return this.say('it moves on after the last planned cut');
    this.row++;
    return null;
  }

  /** Why feeling for the plate is not as planned, or null: straight down, with nothing on, and the height set from there and nothing else. */
  private touch(k: number, travel: number): string | null {
    const { kind, x, y, z } = this.program;
    const { slack } = this.planned;
    const across = (to: number, now: number) => !Number.isNaN(to) && Math.abs(to - now) > slack;
    if (this.spindle !== 0) return 'it feels for the plate with the arc on';
    if (across(x[k], this.at[0]) || across(y[k], this.at[1]) || !(z[k] < this.top - travel)) return 'it feels for the plate where that is not planned';
    const zeroed = kind[k + 1] === OP.SET_ZERO && Number.isNaN(x[k + 1]) && Number.isNaN(y[k + 1]) && Math.abs(z[k + 1] - (this.top - travel)) <= slack;
    return zeroed ? null : 'it does not take the height from where it felt the plate';
  }

  private parks(x: number, y: number): boolean {
    const { park, slack } = this.planned;
    return park !== null && Math.abs(x - park[0]) <= slack && Math.abs(y - park[1]) <= slack;
  }

  /** Why a word that is no move may not stand in the program, or null. */
  private word(k: number): string | null {
    const { kind, value } = this.program;
    const { workOffset, lengths } = this.planned;
    switch (kind[k]) {
      case OP.OFFSET:
        return OFFSET_WORDS[value[k] - 1] === workOffset ? null : `it goes over to ${OFFSET_WORDS[value[k] - 1]}, and ${workOffset} is planned`;
      case OP.LENGTH:
        return lengths ? null : 'it calls a length from a tool table';
      case OP.SET_ZERO:
      case OP.SET_ORIGIN:
        return 'it sets a zero';
      case OP.HOME:
        return 'it goes home';
      case OP.PROBE:
        return 'it probes';
      case OP.PAUSE:
        return this.spindle === 0 ? null : 'it stops for a person while the spindle turns';
      default:
        return null;
    }
  }

  /** One bit's stretch: every move of the program lies along the planned path, and every planned place is come to. */
  private section({ kind, x, y, z, feed, power, events = [] }: Toolpath, speed: number): Fault | null {
    const { program, planned } = this;
    const { slack } = planned;
    const eps = slack + 1e-6;
    const [dx, dy] = planned.datum;
    const point = (i: number): Point => [x[i] - dx, y[i] - dy, z[i] + this.top];
    const moves: number[] = [];
    for (let i = 0; i < kind.length; i++) if (kind[i] !== DWELL) moves.push(i);
    let next = 0;
    let struck = 0;
    const strikes = events.filter((event) => 'on' in event).length;
    const touches = new Map(events.flatMap((event) => ('touch' in event ? [[event.at, event.touch.travel] as const] : [])));
    const isOn = (i: number) => power !== undefined && power[i] > 0;
    const beam = planned.fullPower;
    const first = moves.length > 0 ? point(moves[0]) : null;
    this.raised = false;
    while (next < moves.length) {
      const k = this.row;
      if (k >= program.kind.length) return this.say('it ends before all that is planned is cut');
      if (program.kind[k] === OP.PROBE && touches.has(moves[next])) {
        const travel = touches.get(moves[next])!;
        const why = this.touch(k, travel);
        if (why) return this.say(why);
        this.at[2] = this.top - travel;
        next++;
        this.row += 2;
        continue;
      }
      if (program.kind[k] > OP.FEED) {
        const why = this.word(k);
        if (why) return this.say(why);
        if (program.kind[k] === OP.SPINDLE) {
          if (this.spindle === 0 && program.value[k] !== 0) struck++;
          this.spindle = program.value[k];
        }
        this.row++;
        continue;
      }
      if (program.machine[k]) {
        // Left out because they are shorter than the last digit: the rest of the path is where it stands.
        if (moves.slice(next).every((i) => near(point(i), this.at, this.at).off <= 2 * eps)) break;
        return this.say('it leaves the planned path');
      }
      const rapid = program.kind[k] === OP.RAPID;
      const to: Point = [program.x[k], program.y[k], program.z[k]];
      if (Number.isNaN(to[0] + to[1])) {
        // The very first: up to the planned height before X and Y are known.
        if (!rapid || !first || !(to[2] >= first[2] - eps)) return this.say('it moves before it has come to the first planned place');
        this.at = [NaN, NaN, to[2]];
        this.row++;
        continue;
      }
      const from: Point = Number.isNaN(this.at[0] + this.at[1]) ? [to[0], to[1], to[2]] : this.at;
      // A head that goes lower moves its focus: nothing goes into the sheet.
      if (beam === undefined && !rapid && Math.min(from[2], to[2]) < this.top - eps && this.spindle !== speed)
        return this.say(`the spindle turns ${this.spindle} in the board, and ${speed} is planned`);
      // Planned places this move goes over, in their order along it.
      let along = 0;
      while (next < moves.length) {
        const i = moves[next];
        const { off, at } = near(point(i), from, to);
        if (off > eps || at < along - 1e-9) break;
        const same = (kind[i] === RAPID) === rapid;
        // A place that was come to before is no new move, whatever its kind.
        if (!same && near(point(i), from, from).off > eps) break;
        // What says itself what is on must be on there, and nowhere else.
        if (power && isOn(i) !== (this.spindle !== 0) && near(point(i), from, from).off > eps)
          return this.say(isOn(i) ? 'what is to cut is off on its way' : 'it is on where nothing is to be cut');
        if (beam !== undefined && power && isOn(i) && Math.abs(Math.abs(this.spindle) - power[i] * beam) > 0.001 * beam && near(point(i), from, from).off > eps)
          return this.say(`it burns at S${Math.abs(this.spindle)}, and S${Math.round(power[i] * beam)} is planned`);
        // What is shorter than the last digit is written with its neighbour, at its neighbour's feed.
        const short = next > 0 && near(point(i), point(moves[next - 1]), point(moves[next - 1])).off <= 4 * eps;
        if (same && !rapid && !short && program.value[k] > feed[i] * 1.000001 + 1)
          return this.say(`it moves at ${Math.round(program.value[k])}, and ${Math.round(feed[i])} is planned`);
        along = at;
        next++;
      }
      // Where it ends lies on the way to the next planned place, or is the last of those it went over.
      const before = next > 0 ? point(moves[next - 1]) : from;
      const toward = next < moves.length ? point(moves[next]) : before;
      const onWay =
        near(to, before, toward).off <= eps && (next >= moves.length || near(to, before, before).off <= eps || (kind[moves[next]] === RAPID) === rapid);
      if (!onWay && !(next === 0 && first !== null && rapid && to[2] >= first[2] - eps && near(to, first, first).off <= eps))
        return this.say('it leaves the planned path');
      this.at = [...to];
      this.row++;
    }
    // A beam goes dark and on again with every dot.
    if (power && beam === undefined && struck !== strikes) return this.say(`what is switched on is on ${struck} times, and ${strikes} are planned`);
    return null;
  }
}
