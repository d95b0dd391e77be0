/**
 * A run: streams a released program with a bounded window, keeps its journal, and knows after any
 * stop - of the link, the machine or itself - how far it got. What it must remember is on disk
 * before the machine hears of it.
 */
import { createHash } from 'node:crypto';
import type { MachineStatus, RunFacts, RunState } from '@kerbe/core/link';
import { PROCESSES, type ProcessName } from '@kerbe/core/process';
import { linesOf, pauseIn } from '@kerbe/core/program';
import { sentence, type ManualControl } from './hands.ts';
import type { Journal } from './journal.ts';
import type { Link } from './link.ts';
import { SpindleWatch } from './spindle.ts';

export interface RunOrder {
  id: string;
  name: string;
  sha256: string;
  program: string;
  /** Hash of that very text, as whoever made it worked it out: an altered text never runs. */
  textSha256: string;
  /** Line of the released program each line comes from, when it was fitted to the board; left out when it runs as released. */
  source?: number[];
  /** Lines of the released program. */
  lines?: number;
  /** The kind of machine it was planned for. */
  process: ProcessName;
  /** Bits in order of use, by id. */
  bits: string[];
  datum: { corner: string; z: 'top' | 'spoilboard' };
  /** Extents under power from the datum, mm. */
  extents: { min: [number, number, number]; max: [number, number, number] };
  /** Work offset the program counts in. */
  workOffset?: string;
  /** The board is held by vacuum: lost, it holds. */
  vacuum?: boolean;
  /** Seconds within which somebody must say that they are there, where the process may not be left alone. */
  presence?: number;
  /** For the record: what was confirmed and skipped, and where it goes on from. */
  note?: string;
}

/** What a restarted agent needs to take a run up again. */
interface Kept {
  run: RunState;
  /** Program lines acknowledged before the machine last counted from 1, and what it counts for. */
  base: number;
  tag: string;
  boot: number;
  bitIndex: number;
  /** Pauses come to. */
  pauses: number;
  atPause: boolean;
  /** No line beyond this one has been sent, whatever happened since this was written. */
  promised: number;
}

/** Lines sent ahead of what is on disk, at most: the width of the doubt after a power loss of everything. */
const AHEAD = 500;

const isHeld = ({ state, queued }: MachineStatus) => state !== 'run' && (state !== 'idle' || queued === 0);

const isPause = (line: string) => pauseIn(line) !== null;

/** Where nobody has said otherwise somebody is asked for every five minutes. */
const fullPresence = ({ presence = 300 }: RunOrder) => ({ left: presence, every: presence });

/** Hash of a program's text. */
export const textHash = (program: string): string => createHash('sha256').update(program).digest('hex');
const isWhole = ({ program, textSha256 }: RunOrder) => textHash(program) === textSha256;

/** What an older agent left when it was replaced in the middle of a run: it knew one kind of pause, a change of bit. */
export function keptToday(kept: Kept | OldKept): Kept {
  if ('pause' in kept.run) return kept as Kept;
  const { bit, state, ...run } = kept.run as OldKept['run'];
  const pause = bit === null ? null : ({ reason: 'tool-change', tool: bit } as const);
  return { ...kept, pauses: kept.bitIndex, run: { ...run, state: state === 'bit-change' ? 'paused' : state, pause } };
}
type OldKept = Omit<Kept, 'run' | 'pauses'> & { run: Omit<RunState, 'pause' | 'state'> & { state: RunState['state'] | 'bit-change'; bit: string | null } };

export class Runner {
  run: RunState | null = null;
  atPause = false;
  private process = PROCESSES.router;
  private pauses = 0;
  /** The bit of the present pause is ready: measured, where that is asked for. */
  measured = false;
  private readonly link: Link;
  private readonly hands: ManualControl;
  private readonly journal: Journal;
  /** Told when a run has ended, whatever ended it. */
  private readonly ended: (state: RunState['state']) => void;
  private lines: string[] = [];
  private source: number[] | null = null;
  private bits: string[] = [];
  private bitIndex = 0;
  private sent = 0;
  private acked = 0;
  private base = 0;
  private promised = 0;
  /** The status at hand is younger than the last acknowledgement: an older one knows nothing of what was taken since. */
  private fresh = false;
  private tag = '';
  private boot = 0;
  private vacuum = false;
  /** Who is pressing Hold just now: the machine may brake before its answer is here. */
  private holder: string | null = null;
  private bytesOut = 0;
  private readonly sizes: number[] = [];
  private lastKept = 0;
  /** When presence was last counted, milliseconds; null when the run has just begun or gone on. */
  private watchedAt: number | null = null;
  private readonly spindle = new SpindleWatch();

  constructor(link: Link, hands: ManualControl, journal: Journal, ended: (state: RunState['state']) => void) {
    this.link = link;
    this.hands = hands;
    this.journal = journal;
    this.ended = ended;
    this.takeUp();
  }

  get running(): boolean {
    return this.run !== null && this.run.endedAt === null;
  }

  /** The bit that must be fitted now. */
  get bitNow(): string | undefined {
    return this.bits[this.bitIndex];
  }

  /** Does it wait for another tool? */
  get changing(): boolean {
    return this.atPause && this.run?.pause?.reason === 'tool-change';
  }

  async start(order: RunOrder): Promise<string | null> {
    if (!isWhole(order)) return 'The program is not the one that was handed over: its hash is another. Nothing was started.';
    const lines = linesOf(order.program);
    const id = order.id;
    const tag = `${id}:0`;
    const refused = await this.hands.command(`restart ${tag}`);
    if (refused) return refused;
    const run: RunState = {
      id,
      name: order.name,
      sha256: order.sha256,
      state: 'running',
      message: '',
      line: 0,
      lines: order.lines ?? lines.length,
      sent: 0,
      pause: null,
      startedAt: new Date().toISOString(),
      endedAt: null,
      seconds: 0,
      bitSeconds: {},
      ...(PROCESSES[order.process].attended ? { presence: fullPresence(order) } : {}),
    };
    try {
      this.journal.save(`order-${id}`, order);
      this.journal.write(id, { event: 'start', text: [`${order.name} ${order.sha256}`, order.note].filter(Boolean).join(' · ') });
    } catch (error) {
      return `The journal cannot be written (${(error as Error).message}), so nothing is started: no run goes unrecorded. Make room on the disk.`;
    }
    this.run = run;
    this.lines = lines;
    this.source = order.source ?? null;
    this.bits = order.bits;
    this.process = PROCESSES[order.process];
    this.bitIndex = this.pauses = this.sent = this.acked = this.base = this.promised = this.lastKept = 0;
    this.atPause = false;
    this.watchedAt = null;
    this.vacuum = order.vacuum ?? false;
    this.tag = tag;
    this.boot = this.link.status!.boot;
    this.forgetBytes();
    this.spindle.forget();
    this.fresh = false;
    this.keep();
    this.pump();
    return null;
  }

  async hold(by: string): Promise<string | null> {
    this.holder = by;
    const refused =
      (await this.hands.command('hold')) ??
      (await this.hands.confirmed(isHeld, 'The hold was sent, and the machine has not confirmed it. Use its own button.'));
    if (!refused && this.run?.state === 'running') this.heldBy('person', `Held by ${by}.`);
    this.holder = null;
    return refused;
  }

  private heldBy(by: 'person' | 'machine' | 'vacuum' | 'nobody', message: string): void {
    const out = this.process.held === 'is out' ? ' The arc went out with it: stop, and go on from the contour that was being cut.' : '';
    this.change('held', message + out, { kind: 'held', by });
  }

  /** Why a run that stands cannot simply go on, or null. */
  get out(): string | null {
    const stands = this.run?.state === 'held' || this.run?.state === 'link-lost';
    return stands && this.process.held === 'is out'
      ? 'The arc went out when it held: going on it would cut nothing. Stop, and go on from the contour that was being cut.'
      : null;
  }

  /** Somebody is there. */
  present(by: string): string | null {
    const { run } = this;
    if (!run?.presence || !this.running) return 'Nothing runs that asks for it.';
    run.presence = { ...run.presence, left: run.presence.every };
    this.note('present', `${by} is there`);
    return null;
  }

  /** Goes on after a hold, a lost link, or a bit change that is done. */
  async resume(): Promise<string | null> {
    if (!this.atPause) {
      // Nothing may be moving or waiting any more: then there is nothing to release.
      const idle = this.link.status?.state === 'idle' && this.run?.state === 'link-lost';
      const refused = idle ? null : await this.hands.command('resume');
      if (refused) return refused;
    }
    if (!this.run || !this.running) return null;
    if (this.atPause) {
      // Line numbers went on with the set-up moves: count the rest of the program from here.
      this.base = this.acked;
      this.tag = `${this.run.id}:${this.base}`;
      const again = await this.hands.command(`restart ${this.tag}`);
      if (again) return again;
      this.boot = this.link.status!.boot;
      this.atPause = false;
    } else if (this.run.state === 'link-lost') this.sent = this.acked = this.base + (this.link.status?.expected ?? 1) - 1;
    this.forgetBytes();
    this.run.pause = null;
    this.spindle.accept();
    this.watchedAt = null;
    this.change('running', '');
    this.pump();
    return null;
  }

  /** Stop was pressed: nothing more is sent; what the machine does is said when it has said it. */
  stopping(by: string): void {
    if (this.running && this.run!.state !== 'stopping')
      this.change('stopping', `${sentence(by).slice(0, -1)} pressed Stop. The machine has not confirmed it yet.`);
  }

  /** The machine stands, and has forgotten what was waiting: it was stopped. */
  stopped(by: string): void {
    if (this.running) this.finish('stopped', `Stopped by ${by} at line ${this.run!.line} of ${this.run!.lines}.`);
  }

  /** Ends the record of a run whose machine answers no more. What became of it nobody knows, and that is what is written. */
  giveUp(by: string): string | null {
    if (!this.running) return 'No run is under way.';
    if (this.link.up) return 'The machine answers: stop it, and the run ends by itself.';
    this.finish('failed', `Given up by ${by}: the machine did not answer. Line ${this.run!.line} was finished; what it did after that nobody saw.`);
    return null;
  }

  /** Writes an event of the run to its journal. */
  note(event: string, text?: string, facts?: RunFacts): void {
    const { run } = this;
    if (!run) return;
    try {
      this.journal.write(run.id, { event, line: run.line, ...(text ? { text } : {}), ...(facts ? { facts } : {}) });
      this.keep();
    } catch (error) {
      this.recordLost(error as Error);
    }
  }

  acknowledged(seq: number): void {
    if (!this.running || !Number.isInteger(seq)) return;
    const line = this.base + seq;
    this.fresh = false;
    // What was never sent cannot have been taken: noise.
    if (line > this.sent || line <= this.acked) return;
    for (; this.acked < line; this.acked++) this.bytesOut -= this.sizes.shift() ?? 0;
    if (isPause(this.lines[this.acked - 1] ?? '')) return this.paused();
    this.pump();
  }

  /** The line just taken asks for a person. */
  private paused(): void {
    if (this.run!.state === 'stopping') return;
    this.atPause = true;
    this.pauses++;
    const pause = this.process.pause(this.bits[this.bitIndex + 1]);
    if (pause.reason === 'tool-change') {
      this.bitIndex++;
      this.measured = this.process.change === 'none';
    }
    this.run!.pause = pause;
    this.change('paused', pauseIn(this.lines[this.acked - 1]) || 'The program asks for a person.', { kind: 'paused', pause });
  }

  refused(seq: number, why: string): void {
    if (!this.running || this.run!.state === 'stopping') return;
    void this.link.command('stop');
    this.finish('failed', `The machine refused line ${this.lineOf(this.base + seq)}: ${why}.`);
  }

  /** @param passed seconds of the machine's time since the last status */
  tick(status: MachineStatus, passed: number): void {
    const now = performance.now();
    const { run } = this;
    this.fresh = true;
    if (!run || !this.running) return;
    if (status.boot !== this.boot && run.state !== 'link-lost') return this.machineForgot();
    if (run.state === 'stopping') {
      if (status.tag === this.tag) run.line = Math.max(run.line, this.lineOf(Math.min(this.lines.length, this.base + status.done)));
      return;
    }
    if (this.atPause) {
      // The machine's own wait is ended at once, so that the new bit can be measured; the rest of
      // the program is kept back until a person says that the change is done. An emergency stop
      // pressed for the change of bit is no failure: it is asked for.
      if (status.state === 'pause') void this.link.command('resume');
      return;
    }
    if (run.state === 'running') {
      run.seconds += passed;
      const bit = this.bitNow;
      if (bit) run.bitSeconds[bit] = (run.bitSeconds[bit] ?? 0) + passed;
    }
    if (status.tag === this.tag) run.line = Math.max(run.line, this.lineOf(Math.min(this.lines.length, this.base + status.done)));
    run.sent = Math.max(run.sent, this.lineOf(this.sent));
    if (run.pause?.reason === 'start' && run.state === 'paused' && ['run', 'idle', 'hold'].includes(status.state)) {
      // Somebody pressed it: time and presence count from here.
      run.pause = null;
      this.watchedAt = null;
      this.change('running', '');
    }
    if (status.state === 'alarm' || status.state === 'estop') this.finish('failed', sentence(status.message));
    else if (run.state === 'running' && this.acked >= this.lines.length && status.state === 'idle' && status.queued === 0) {
      run.line = run.lines;
      this.finish('done', 'Finished.');
    } else if (run.state === 'running') {
      if (status.state === 'hold')
        this.heldBy(this.holder ? 'person' : 'machine', this.holder ? `Held by ${this.holder}.` : 'The machine holds by itself: its lid, or its own button.');
      else if (this.vacuum && !status.world?.vacuum) {
        void this.link.command('hold');
        this.heldBy('vacuum', 'The vacuum was lost: nothing holds the board. Look at it before going on; it may have moved.');
      } else if (status.state === 'pause' && !isPause(this.lines[this.sent - 1] ?? '')) {
        // It waits, and no line of the program asked for that: for its own button.
        this.run!.pause = { reason: 'start' };
        this.change('paused', 'The program is in the machine. Press Start there.', { kind: 'paused', pause: { reason: 'start' } });
      } else if (!this.isWatched(now)) {
        void this.link.command('hold');
        this.heldBy('nobody', 'Nobody said that they are there.');
      } else this.watchSpindle(status, passed);
      if (now - this.lastKept > 1000) {
        this.lastKept = now;
        this.note('progress');
      }
      this.pump();
    }
  }

  linkLost(why: string): void {
    if (this.running && !this.atPause && this.run!.state !== 'stopping')
      this.change('link-lost', `The link was lost (${why}) at line ${this.run!.line}. A machine that hears nothing holds where it is.`);
  }

  linkBack(): void {
    if (!this.running) return;
    const status = this.link.status!;
    if (status.boot !== this.boot) return this.machineForgot();
    if (this.atPause || this.run!.state === 'stopping') return;
    if (this.link.isPlain)
      // It keeps no count of its lines: what it still holds is not known, so it does not go on by itself.
      return this.finish(
        'failed',
        `The link was lost and is back. Line ${this.run!.line} was finished; this machine does not say what it did with lines up to ${this.lineOf(this.sent)}. Look at the board, home, and go on from the place you choose.`,
      );
    if (status.tag !== this.tag) return this.machineForgot();
    const taken = this.base + status.expected - 1;
    if (taken > this.acked && isPause(this.lines[taken - 1] ?? '')) {
      // It came to a pause while nobody heard it say so.
      this.sent = Math.max(this.sent, taken);
      return this.acknowledged(taken - this.base);
    }
    this.run!.line = Math.max(this.run!.line, this.lineOf(Math.min(this.lines.length, this.base + status.done)));
    if (this.run!.pause?.reason === 'start' && status.state === 'pause') {
      this.sent = this.acked = taken;
      this.forgetBytes();
      return this.change('paused', 'The link is back. The program is in the machine: press Start there.');
    }
    this.change(
      'link-lost',
      `The link is back and the machine is holding after line ${this.run!.line}. ${this.process.held === 'is out' ? 'Its arc is out: stop, and go on from the contour that was being cut.' : 'Resume when all is clear.'}`,
    );
  }

  // ---- inside -----------------------------------------------------------------------------

  private lineOf(n: number): number {
    return this.source ? (this.source[Math.max(1, n) - 1] ?? 0) : n;
  }

  private pump(): void {
    const { run, link } = this;
    if (!run || run.state !== 'running' || this.holder !== null || !link.up) return;
    const { lines: most, bytes } = link.profile;
    while (this.sent < this.lines.length && this.sent - this.acked < most) {
      const line = this.lines[this.sent];
      if (bytes !== undefined && this.sent > this.acked && this.bytesOut + line.length + 2 > bytes) return;
      // A pause is a barrier: everything before it is cut first, nothing after it is sent.
      if (isPause(line) && (!this.fresh || this.acked < this.sent || link.status!.queued > 0 || link.status!.state !== 'idle')) return;
      if (this.sent > 0 && isPause(this.lines[this.sent - 1]) && this.acked < this.sent) return;
      if (this.sent >= this.promised && !this.promise()) return;
      if (isPause(line) && link.isPlain) {
        // Some controllers answer a stop only when it is over. Everything before it is done: Kerbe waits itself.
        this.sent = ++this.acked;
        return this.paused();
      }
      this.sent++;
      this.sizes.push(line.length + 2);
      this.bytesOut += line.length + 2;
      link.line(this.sent - this.base, line);
    }
  }

  /** Writes down how far lines may be sent before any of them is; false when the disk refuses. */
  private promise(): boolean {
    this.promised = Math.min(this.lines.length, this.sent + AHEAD);
    try {
      this.keep();
      return true;
    } catch (error) {
      this.recordLost(error as Error);
      return false;
    }
  }

  /** A journal that cannot be written stops the run: none goes unrecorded. */
  private recordLost(error: Error): void {
    const run = this.run!;
    if (run.endedAt) return;
    run.endedAt = new Date().toISOString();
    run.state = 'failed';
    run.message = `The journal could not be written (${error.message}). The machine was told to stop at line ${run.line}.`;
    void this.link.command('stop');
    this.ended('failed');
  }

  private forgetBytes(): void {
    this.sizes.length = 0;
    this.bytesOut = 0;
  }

  /** Counts down to when somebody must have said that they are there: by the clock on the wall, however fast a simulated machine is. */
  private isWatched(now: number): boolean {
    const { presence } = this.run!;
    const passed = this.watchedAt === null ? 0 : (now - this.watchedAt) / 1000;
    this.watchedAt = now;
    if (!presence) return true;
    presence.left = Math.max(0, presence.left - passed);
    return presence.left > 0;
  }

  private watchSpindle({ spindle }: MachineStatus, passed: number): void {
    // One that says nothing of its spindle cannot be watched.
    if (!spindle || !this.spindle.slow(spindle, passed)) return;
    void this.link.command('hold');
    this.change(
      'held',
      `The spindle turns ${spindle.actual} of ${spindle.target} rev/min. ${spindle.power ? 'Look at its drive and at what loads it' : 'Its own box is switched off'}; resume when that is as it should be.`,
      { kind: 'spindle-slow', asked: spindle.target, actual: spindle.actual },
    );
  }

  private machineForgot(): void {
    const run = this.run;
    run!.sent = Math.max(run!.sent, this.lineOf(Math.min(this.lines.length, this.sent)));
    this.finish(
      'failed',
      `The machine was restarted during the run. Line ${run!.line} was finished; lines up to ${run!.sent} had been sent and may have been cut. Look at the board, home, and go on from the place you choose.`,
    );
  }

  private change(state: RunState['state'], message: string, facts?: RunFacts): void {
    this.run!.state = state;
    this.run!.message = message;
    this.note(state, message, facts);
  }

  private finish(state: 'done' | 'stopped' | 'failed', message: string): void {
    this.run!.endedAt = new Date().toISOString();
    this.run!.sent = Math.max(this.run!.sent, this.lineOf(this.sent));
    this.change(state, message);
    this.atPause = false;
    this.journal.remove(`order-${this.run!.id}`);
    this.ended(state);
  }

  private keep(): void {
    const { base, tag, boot, bitIndex, pauses, atPause, promised } = this;
    const kept: Kept = { run: this.run!, base, tag, boot, bitIndex, pauses, atPause, promised };
    this.journal.save('run', kept);
  }

  /** After a restart of the agent: takes up what was going on, and says where it stands. */
  private takeUp(): void {
    const left = this.journal.load<Kept>('run');
    if (!left) return;
    const kept = keptToday(left);
    this.run = kept.run;
    if (kept.run.endedAt !== null) return;
    const order = this.journal.load<RunOrder>(`order-${kept.run.id}`);
    if (!order) {
      this.finish('failed', `The agent was restarted and its copy of the program is gone. Line ${kept.run.line} was finished.`);
      return;
    }
    if (!isWhole(order)) {
      this.finish('failed', `The agent was restarted, and its copy of the program has been altered: its hash is another. Line ${kept.run.line} was finished.`);
      return;
    }
    this.lines = linesOf(order.program);
    this.source = order.source ?? null;
    this.bits = order.bits;
    this.process = PROCESSES[order.process ?? 'router'];
    this.vacuum = order.vacuum ?? false;
    this.base = kept.base;
    this.tag = kept.tag;
    this.boot = kept.boot;
    this.bitIndex = kept.bitIndex;
    this.pauses = kept.pauses;
    this.atPause = kept.atPause;
    if (this.atPause) {
      // Up to the pause everything was acknowledged; it is the last line before the rest.
      this.sent = this.acked = this.pauseLine(kept.pauses);
      this.note('restart', 'The agent was restarted while the program waited.');
    } else if (kept.run.state === 'stopping') {
      this.sent = this.acked = this.base;
      this.run.sent = Math.max(this.run.sent, this.lineOf(kept.promised));
    } else {
      this.sent = this.acked = this.base;
      this.promised = kept.promised;
      this.run.sent = Math.max(this.run.sent, this.lineOf(kept.promised));
      this.change('link-lost', `The agent was restarted. A machine that hears nothing holds where it is; line ${kept.run.line} was finished.`);
    }
  }

  /** Number of the line of the k-th pause. */
  private pauseLine(k: number): number {
    let seen = 0;
    for (let n = 0; n < this.lines.length; n++) if (isPause(this.lines[n]) && ++seen === k) return n + 1;
    return this.base;
  }
}
