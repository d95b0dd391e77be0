/** What set-up and runs share: may the machine be told anything, and lines sent outside a program. */
import type { MachineStatus } from '@kerbe/core/link';
import type { Link } from './link.ts';

/** Rounded to a ten-thousandth of a millimetre, without exponent or minus zero. */
export const num = (value: number): string => String(Math.round(value * 1e4) / 1e4 + 0);

export const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1) + (/[.!?]$/.test(text) ? '' : '.');

/** How long a machine may take to show what it was told, milliseconds. */
const CONFIRM_WITHIN = 2000;

export class ManualControl {
  /** What it is doing outside a program, in words. */
  busyWith: string | null = null;
  /** Who pressed Stop, as long as the machine has not confirmed it: nothing else is begun. */
  stopWanted: string | null = null;
  private readonly link: Link;
  private nextSeq = 1;
  /** Why what was waited for was given up. */
  private abandoned: string | null = null;
  private readonly waiting = new Set<() => void>();
  private pending: { last: number; done: (why: string | null) => void } | null = null;

  constructor(link: Link) {
    this.link = link;
  }

  get status(): MachineStatus | null {
    return this.link.up ? this.link.status : null;
  }

  /** Why nothing can be started now, or null. What is forgotten most is looked at first. */
  refusal(): string | null {
    const { status } = this;
    if (!status) return 'The machine does not answer: check that it is on and its cable is in.';
    if (this.stopWanted) return 'Stop was pressed, and the machine has not confirmed it yet.';
    if (status.estop) return 'The emergency stop is pressed. Turn it to release it, then clear the alarm.';
    if (status.state === 'estop') return 'The emergency stop was pressed. Clear the alarm first.';
    if (status.state === 'alarm') return `The machine is in alarm: ${status.message}${/[.!?]$/.test(status.message) ? '' : '.'} Clear the alarm first.`;
    if (this.busyWith) return `The machine is busy: ${this.busyWith}.`;
    return null;
  }

  needHomed(): string | null {
    return this.refusal() ?? (this.status!.homed ? null : 'The machine does not know where it is. Home it first.');
  }

  /** A probe whose answer nobody can read must not be begun: it would only be driven on. */
  needProbe(): string | null {
    return this.link.isPlain && !this.link.profile.probe
      ? 'This machine’s link profile does not say how its answer to a touch reads, so nothing is probed. Use paper, or add the pattern on Machines.'
      : null;
  }

  async command(text: string): Promise<string | null> {
    const why = await this.link.command(text);
    return why && sentence(why);
  }

  /** Waits until the machine itself shows what it was told; `unless` when it does not in time. */
  confirmed(shows: (status: MachineStatus) => boolean, unless: string): Promise<string | null> {
    if (this.status && shows(this.status)) return Promise.resolve(null);
    return new Promise((done) => {
      const check = (status: MachineStatus) => shows(status) && end(null);
      const end = (why: string | null) => {
        clearTimeout(timer);
        this.link.off('status', check);
        done(why);
      };
      const timer = setTimeout(() => end(unless), CONFIRM_WITHIN);
      this.link.on('status', check);
    });
  }

  /** Does something that takes a while; nothing else is begun meanwhile. */
  async macro(what: string, work: () => Promise<string | null>): Promise<string | null> {
    this.busyWith = what;
    try {
      return await work();
    } finally {
      this.busyWith = null;
    }
  }

  /** Sends lines outside a program and waits until they are done. */
  async gcode(lines: string[]): Promise<string | null> {
    this.nextSeq = this.status?.expected ?? this.nextSeq;
    const last = this.nextSeq + lines.length - 1;
    const why = await new Promise<string | null>((done) => {
      this.pending = { last, done };
      for (const line of lines) this.link.line(this.nextSeq++, line);
    });
    if (why) return why;
    this.abandoned = null;
    await this.settled(last);
    if (this.abandoned) return this.abandoned;
    const { status } = this;
    if (!status) return 'The link to the machine was lost.';
    if (status.state === 'alarm' || status.state === 'estop') return sentence(status.message);
    return null;
  }

  /** Takes an acknowledgement when lines of its own are out; false when it is for a program. */
  acknowledged(seq: number): boolean {
    if (!this.pending) return false;
    if (seq >= this.pending.last) this.end(null);
    return true;
  }

  refused(_seq: number, why: string): boolean {
    if (!this.pending) return false;
    this.end(sentence(why));
    return true;
  }

  /** Gives up whatever is waited for: the machine was stopped, or is gone. */
  abandon(why: string): void {
    this.abandoned = why;
    if (this.pending) this.end(why);
    for (const finished of [...this.waiting]) finished();
  }

  private end(why: string | null): void {
    const { done } = this.pending!;
    this.pending = null;
    done(why);
  }

  /** Resolves when the machine has come to rest, has raised an alarm, or has gone. */
  settled(last = 0): Promise<void> {
    return new Promise((done) => {
      let quiet = 0;
      const check = (status: MachineStatus) => {
        const resting = status.queued === 0 && (status.state === 'idle' || status.state === 'pause') && status.done >= last;
        if ((resting && ++quiet >= 2) || status.state === 'alarm' || status.state === 'estop') finished();
      };
      const finished = () => {
        this.link.off('status', check);
        this.waiting.delete(finished);
        done();
      };
      this.link.on('status', check);
      this.waiting.add(finished);
    });
  }
}
