/**
 * A controller that takes plain lines and answers each: what its profile says, made into the
 * numbers and the status that the rest of Kerbe goes by. Tried against stand-ins only, on no
 * hardware.
 */
import { restingStatus, type MachineMode, type MachineStatus, type Triple } from '@kerbe/core/link';
import { readStatus } from '@kerbe/core/link/status';
import { bytesOfWord, type Linked, type LinkProfile } from '@kerbe/core/machine';

export type Heard =
  { kind: 'status'; status: MachineStatus | { why: string } } | { kind: 'ok'; seq: number } | { kind: 'refused'; seq: number; why: string } | { kind: 'other' };

export class PlainTalk {
  private readonly linked: Linked;
  private readonly profile: LinkProfile;
  private readonly accepted: RegExp;
  private readonly refused: RegExp;
  private readonly status: RegExp | null;
  private readonly probe: RegExp | null;
  private readonly greeting: RegExp | null;
  /** Numbers of the lines whose answers are awaited, in order. Words: a command of our own. */
  private readonly waiting: (number | 'home' | 'jog')[] = [];
  private done = 0;
  private expected = 1;
  private homed = false;
  private tag = '';
  private boot = 1;
  private touch: MachineStatus['probe'] = null;

  constructor(linked: Linked) {
    const profile = linked.link;
    this.linked = linked;
    this.profile = profile;
    this.accepted = new RegExp(profile.accepted);
    this.refused = new RegExp(profile.refused, 'i');
    this.status = profile.status ? new RegExp(profile.status) : null;
    this.probe = profile.probe ? new RegExp(profile.probe) : null;
    this.greeting = profile.greeting ? new RegExp(profile.greeting) : null;
  }

  line(seq: number, text: string): string {
    this.waiting.push(seq);
    this.expected = seq + 1;
    // The answer to the last one is no answer to this one.
    if (/G38\.[2-5]/i.test(text)) this.touch = null;
    return text;
  }

  /** The bytes of a command; words it has none for are refused. */
  command(text: string): { bytes: string[] } | { why: string } {
    const [word, ...rest] = text.split(' ');
    const { profile } = this;
    const own = (bytes: string) => {
      if (!bytes) return { why: `this machine’s link profile has nothing to send for “${word}”` };
      return { bytes: [bytesOfWord(bytes)] };
    };
    switch (word) {
      case 'hold':
      case 'resume':
        return own(profile[word]);
      case 'stop':
      case 'clear':
        this.waiting.length = 0;
        this.expected = 1;
        return own(profile[word]);
      case 'home':
        // Known to be home when it has answered, not when it was asked.
        this.homed = false;
        this.waiting.push('home');
        return own(profile.home);
      case 'restart':
        if (this.waiting.length > 0) return { why: 'it is still moving' };
        this.tag = rest.join(' ');
        this.expected = 1;
        this.done = 0;
        return { bytes: [] };
      case 'jog': {
        const [x, y, z, feed] = rest;
        this.waiting.push('jog', 'jog');
        const end = { lf: '\n', cr: '\r', crlf: '\r\n' }[profile.lineEnd];
        return { bytes: [`G21 G91 G1 X${x} Y${y} Z${z} F${feed}${end}`, `G90${end}`] };
      }
      default:
        return { why: `over a plain link there is no “${word}”` };
    }
  }

  receive(line: string): Heard {
    const match = this.status?.exec(line);
    if (match?.groups) return { kind: 'status', status: readStatus(this.read(match.groups)) };
    const touch = this.probe?.exec(line)?.groups;
    if (touch) {
      this.touch = { touched: touch.touched === undefined || !['', '0'].includes(touch.touched), position: tripleOf(touch.x, touch.y, touch.z) };
      return { kind: 'other' };
    }
    if (this.greeting?.test(line)) {
      this.boot++;
      this.homed = false;
      this.waiting.length = 0;
      this.expected = 1;
      this.done = 0;
      this.tag = '';
      return { kind: 'other' };
    }
    const refused = this.refused.exec(line);
    if (refused) {
      const seq = this.waiting.shift();
      return typeof seq === 'number' ? { kind: 'refused', seq, why: refused.at(-1) || line } : { kind: 'other' };
    }
    if (this.accepted.test(line)) {
      const seq = this.waiting.shift();
      if (seq === 'home') this.homed = true;
      if (typeof seq !== 'number') return { kind: 'other' };
      this.done = seq;
      return { kind: 'ok', seq };
    }
    return { kind: 'other' };
  }

  private read(groups: Record<string, string | undefined>): MachineStatus {
    const machine = tripleOf(groups.x, groups.y, groups.z);
    const work = groups.wx === undefined ? machine : tripleOf(groups.wx, groups.wy, groups.wz);
    const said = groups.state ?? '';
    // A word nobody told us: it may well be moving.
    const unknown = Object.keys(this.profile.states).length > 0 ? 'run' : 'idle';
    const state = (Object.entries(this.profile.states).find(([, pattern]) => new RegExp(pattern!).test(said))?.[0] ?? unknown) as MachineMode;
    return {
      ...restingStatus(),
      state,
      homed: this.homed,
      estop: state === 'estop',
      message: state === 'alarm' ? said : '',
      machine,
      work,
      offset: machine.map((v, axis) => v - work[axis]) as Triple,
      begun: groups.line === undefined ? this.done : Number(groups.line),
      done: this.done,
      queued: this.waiting.length,
      expected: this.expected,
      ...(groups.spindle === undefined ? {} : { spindle: { target: 0, actual: Number(groups.spindle), power: true } }),
      tag: this.tag,
      boot: this.boot,
      probe: this.touch,
      sensor: this.linked.sensor,
      travel: this.linked.travel,
    };
  }
}

const tripleOf = (x?: string, y?: string, z?: string): Triple => [Number(x ?? NaN), Number(y ?? NaN), Number(z ?? NaN)];
