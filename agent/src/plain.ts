/**
 * A controller that takes plain lines and answers each: what its profile says, made into the
 * numbers and the status that the rest of Kerbe goes by. Tried against stand-ins only, on no
 * hardware.
 */
import { restingStatus, type MachineMode, type MachineStatus, type Triple } from '@kerbe/core/link';
import { bytesOfWord, type LinkProfile } from '@kerbe/core/machine';

export type Heard = { kind: 'status'; status: MachineStatus } | { kind: 'ok'; seq: number } | { kind: 'refused'; seq: number; why: string } | { kind: 'other' };

export class PlainTalk {
  private readonly profile: LinkProfile;
  private readonly accepted: RegExp;
  private readonly refused: RegExp;
  private readonly status: RegExp | null;
  /** Numbers of the lines whose answers are awaited, in order. Null: a line of a command of our own. */
  private readonly waiting: (number | null)[] = [];
  private done = 0;
  private expected = 1;
  private homed = false;
  private tag = '';

  constructor(profile: LinkProfile) {
    this.profile = profile;
    this.accepted = new RegExp(profile.accepted);
    this.refused = new RegExp(profile.refused, 'i');
    this.status = profile.status ? new RegExp(profile.status) : null;
  }

  line(seq: number, text: string): string {
    this.waiting.push(seq);
    this.expected = seq + 1;
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
        this.homed = true;
        this.waiting.push(null);
        return own(profile.home);
      case 'restart':
        this.tag = rest.join(' ');
        this.expected = 1;
        this.done = 0;
        return { bytes: [] };
      case 'jog': {
        const [x, y, z, feed] = rest;
        this.waiting.push(null, null);
        const end = { lf: '\n', cr: '\r', crlf: '\r\n' }[profile.lineEnd];
        return { bytes: [`G91 G1 X${x} Y${y} Z${z} F${feed}${end}`, `G90${end}`] };
      }
      default:
        return { why: `over a plain link there is no “${word}”` };
    }
  }

  receive(line: string): Heard {
    const match = this.status?.exec(line);
    if (match?.groups) return { kind: 'status', status: this.read(match.groups) };
    const refused = this.refused.exec(line);
    if (refused) {
      const seq = this.waiting.shift();
      return typeof seq === 'number' ? { kind: 'refused', seq, why: refused.at(-1) || line } : { kind: 'other' };
    }
    if (this.accepted.test(line)) {
      const seq = this.waiting.shift();
      if (typeof seq !== 'number') return { kind: 'other' };
      this.done = seq;
      return { kind: 'ok', seq };
    }
    return { kind: 'other' };
  }

  private read(groups: Record<string, string | undefined>): MachineStatus {
    const triple = (x?: string, y?: string, z?: string): Triple => [Number(x ?? NaN), Number(y ?? NaN), Number(z ?? NaN)];
    const machine = triple(groups.x, groups.y, groups.z);
    const work = groups.wx === undefined ? machine : triple(groups.wx, groups.wy, groups.wz);
    const said = groups.state ?? '';
    const state = (Object.entries(this.profile.states).find(([, pattern]) => new RegExp(pattern!).test(said))?.[0] ?? 'idle') as MachineMode;
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
      spindle: { target: 0, actual: Number(groups.spindle ?? 0), power: true },
      tag: this.tag,
    };
  }
}
