/**
 * The agent: owns the link to one machine, carries out set-up steps in the safe order, streams a
 * released program with a bounded window and keeps its journal. Every refusal says what holds it.
 */
import type { AgentSnapshot, MachineStatus, RunState, Setup } from '@kerbe/core/link';
import type { Journal, JournalEntry } from './journal.ts';
import type { Link } from './link.ts';

/** Lines sent and not yet acknowledged, at most. */
const WINDOW = 24;
const PROBE_FEED = 240;

export interface RunOrder {
  id: string;
  name: string;
  sha256: string;
  program: string;
  /** Bits in order of use, by id. */
  bits: string[];
  datum: { corner: string; z: 'top' | 'spoilboard' };
  /** Extents under power from the datum, mm. */
  extents: { min: [number, number, number]; max: [number, number, number] };
}

const noSetup = (): Setup => ({ bitReading: null, bitFitted: null, zeroXY: null, zeroZ: null });

export class Agent {
  readonly link: Link;
  run: RunState | null = null;
  setup: Setup;
  private readonly journal: Journal;
  private lines: string[] = [];
  private bits: string[] = [];
  private bitIndex = 0;
  private sent = 0;
  private acked = 0;
  private nextSeq = 1;
  private atPause = false;
  private measuredInPause = false;
  private busyWith: string | null = null;
  private pendingLines: { last: number; done: (why: string | null) => void } | null = null;
  private lastTick = Date.now();
  private lastJournalled = 0;
  private stopAsked = false;

  constructor(link: Link, journal: Journal) {
    this.link = link;
    this.journal = journal;
    this.setup = journal.loadState<Setup>() ?? noSetup();
    link.on('ok', (seq) => this.acknowledged(seq));
    link.on('refused', (seq, why) => this.lineRefused(seq, why));
    link.on('status', (status) => this.tick(status));
    link.on('down', (why) => this.linkLost(why));
    link.on('up', () => this.linkBack());
  }

  get status(): MachineStatus | null {
    return this.link.up ? this.link.status : null;
  }

  get snapshot(): AgentSnapshot {
    return { link: this.link.up, status: this.status, setup: this.setup, run: this.run };
  }

  get running(): boolean {
    return this.run !== null && this.run.endedAt === null;
  }

  /** Why nothing can be started now, or null. */
  private holdUp(): string | null {
    const { status } = this;
    if (!status) return 'The machine does not answer: check that it is on and its cable is in.';
    if (status.estop) return 'The emergency stop is pressed. Turn it to release it, then clear the alarm.';
    if (status.state === 'estop') return 'The emergency stop was pressed. Clear the alarm first.';
    if (status.state === 'alarm') return `The machine is in alarm: ${status.message}. Clear the alarm first.`;
    if (this.busyWith) return `The machine is busy: ${this.busyWith}.`;
    return null;
  }

  private needHomed(): string | null {
    return this.holdUp() ?? (this.status!.homed ? null : 'The machine does not know where it is. Home it first.');
  }

  /** Set-up moves are for a machine that is not cutting; at a bit change they are needed. */
  private needFree(): string | null {
    return this.needHomed() ?? (this.running && !this.atPause ? 'A program is running.' : null);
  }

  async home(): Promise<string | null> {
    const why = this.holdUp() ?? (this.running ? 'A program is running.' : null);
    if (why) return why;
    return this.macro('homing', async () => {
      const refused = await this.link.command('home');
      if (refused) return sentence(refused);
      await this.settled();
      return this.status?.homed ? null : 'Homing did not finish.';
    });
  }

  async jog(dx: number, dy: number, dz: number, feed: number): Promise<string | null> {
    const why = this.needFree();
    if (why) return why;
    const refused = await this.link.command(`jog ${dx} ${dy} ${dz} ${feed}`);
    return refused && sentence(refused);
  }

  /** Sets X0 Y0 of the work offset where the bit stands now, or at a machine position. */
  async zeroXY(corner: string, at?: [number, number]): Promise<string | null> {
    const why = this.needFree();
    if (why) return why;
    if (this.running) return 'Zero stays where it is during a run.';
    return this.macro('setting zero', async () => {
      const { machine } = this.status!;
      const x = at ? machine[0] - at[0] : 0;
      const y = at ? machine[1] - at[1] : 0;
      const refused = await this.gcode([`G21 G90 G10 L20 P1 X${num(x)} Y${num(y)}`]);
      if (!refused) this.remember({ zeroXY: { corner } });
      return refused;
    });
  }

  /** Brings the bit over a machine position in the safe order: Z up, then X and Y. */
  async moveOver(x: number, y: number): Promise<string | null> {
    const why = this.needFree();
    if (why) return why;
    return this.macro('moving', () => this.gcode(['G21 G90', 'G53 G0 Z0', `G53 G0 X${num(x)} Y${num(y)}`]));
  }

  /** Finds Z0 with the touch plate that lies on the datum surface, under the bit. */
  async zeroZByPlate(thickness: number, datum: 'top' | 'spoilboard'): Promise<string | null> {
    const why = this.needFree();
    if (why) return why;
    return this.macro('probing', async () => {
      const refused = await this.gcode(['G21 G91', `G38.2 Z${num(-this.zRoom())} F${PROBE_FEED}`, 'G90']);
      if (refused) return refused;
      const { probe } = this.status!;
      if (!probe?.touched) return 'Nothing was touched. Put the plate under the bit and its clip on the bit.';
      const set = await this.gcode([`G10 L20 P1 Z${num(thickness)}`, 'G91 G0 Z10', 'G90']);
      if (set) return set;
      this.zSet({ datum, method: 'plate', reading: this.setup.bitReading });
      return null;
    });
  }

  /** Sets Z0 with the bit just gripping a paper on the datum surface. */
  async zeroZByPaper(thickness: number, datum: 'top' | 'spoilboard'): Promise<string | null> {
    const why = this.needFree();
    if (why) return why;
    return this.macro('setting zero', async () => {
      const refused = await this.gcode([`G21 G90 G10 L20 P1 Z${num(thickness)}`, 'G91 G0 Z5', 'G90']);
      if (!refused) this.zSet({ datum, method: 'paper', reading: this.setup.bitReading });
      return refused;
    });
  }

  /** Measures the fitted bit on the tool sensor; after a bit change Z0 moves by the difference of the readings. */
  async measureBit(bit: string): Promise<string | null> {
    const why = this.needFree();
    if (why) return why;
    if (this.status!.spindle.actual > 0) return 'Wait until the spindle stands still.';
    return this.macro('measuring the bit', async () => {
      const { sensor } = this.status!;
      const refused = await this.gcode([
        'G21 G90',
        'G53 G0 Z0',
        `G53 G0 X${num(sensor.x)} Y${num(sensor.y)}`,
        'G91',
        `G38.2 Z${num(0.5 - this.status!.travel[2])} F${PROBE_FEED * 2}`,
        'G90',
      ]);
      if (refused) return refused;
      const { probe } = this.status!;
      if (!probe?.touched) return 'The tool sensor was not touched. Is a bit fitted?';
      const reading = probe.position[2];
      const lines = ['G53 G0 Z0'];
      const { zeroZ } = this.setup;
      const status = this.status!;
      if (zeroZ && zeroZ.reading !== null && Math.abs(reading - zeroZ.reading) > 1e-6) {
        const offset = status.offset[2] + reading - zeroZ.reading;
        lines.push(`G10 L20 P1 Z${num(0 - offset)}`);
      }
      const set = await this.gcode(lines);
      if (set) return set;
      this.remember({ bitReading: reading, bitFitted: bit, zeroZ: zeroZ && (zeroZ.reading === null ? null : { ...zeroZ, reading }) });
      this.measuredInPause = true;
      return null;
    });
  }

  /** Z up, then X and Y, then Z down to clearance above zero: never straight down. */
  async goToZero(clearance: number): Promise<string | null> {
    const why = this.needFree() ?? this.needZero();
    if (why) return why;
    return this.macro('going to zero', () => this.gcode(['G21 G90 G54', 'G53 G0 Z0', 'G0 X0 Y0', `G0 Z${num(Math.max(1, clearance))}`]));
  }

  /** Runs round the extents of a program at a safe height, spindle off. */
  async frame(extents: RunOrder['extents'], height: number): Promise<string | null> {
    const why = this.needFree() ?? this.needZero();
    if (why) return why;
    if (this.running) return 'A program is running.';
    const { min, max } = extents;
    const corners = [
      [min[0], min[1]],
      [max[0], min[1]],
      [max[0], max[1]],
      [min[0], max[1]],
      [min[0], min[1]],
    ];
    return this.macro('framing', () =>
      this.gcode([
        'G21 G90 G54',
        'G53 G0 Z0',
        `G0 X${num(min[0])} Y${num(min[1])}`,
        `G0 Z${num(Math.max(5, height))}`,
        ...corners.map(([x, y]) => `G1 X${num(x)} Y${num(y)} F6000`),
        'G53 G0 Z0',
      ]),
    );
  }

  async start(order: RunOrder): Promise<string | null> {
    const why = this.needHomed() ?? (this.running ? 'A program is running already.' : null) ?? this.needZero();
    if (why) return why;
    const { setup } = this;
    const status = this.status!;
    if (setup.zeroXY!.corner !== order.datum.corner)
      return `The program counts from the ${order.datum.corner} of the board, and zero was set at the ${setup.zeroXY!.corner}. Set zero again.`;
    if (setup.zeroZ!.datum !== order.datum.z)
      return `The program takes Z0 on the ${order.datum.z === 'top' ? 'top of the board' : 'spoilboard'}, and it was set on the ${setup.zeroZ!.datum === 'top' ? 'top of the board' : 'spoilboard'}. Set Z again.`;
    if (setup.bitReading === null) return 'The bit has not been measured since it was fitted.';
    if (setup.bitFitted !== order.bits[0]) return 'The bit that was measured is not the one this program begins with.';
    if (status.world.bit !== null && status.world.bit !== order.bits[0]) return 'Another bit is fitted than the one this program begins with.';
    if (status.world.probeClip) return 'The clip of the touch plate is still on the bit. Take it off.';
    const overflow = outOfReach(order.extents, status.offset);
    if (overflow) return overflow;
    const refused = await this.link.command('restart');
    if (refused) return sentence(refused);
    const run: RunState = {
      id: order.id,
      name: order.name,
      sha256: order.sha256,
      state: 'running',
      message: '',
      line: 0,
      lines: 0,
      bit: null,
      startedAt: new Date().toISOString(),
      endedAt: null,
      seconds: 0,
    };
    const lines = order.program.split('\n').filter((line) => line.trim() !== '');
    run.lines = lines.length;
    this.journal.write(run.id, { event: 'start', text: `${order.name} ${order.sha256}` });
    this.run = run;
    this.lines = lines;
    this.bits = order.bits;
    this.bitIndex = 0;
    this.sent = 0;
    this.acked = 0;
    this.atPause = false;
    this.stopAsked = false;
    this.lastJournalled = 0;
    this.lastTick = Date.now();
    this.pump();
    return null;
  }

  async hold(): Promise<string | null> {
    const refused = await this.link.command('hold');
    if (!refused && this.run?.state === 'running') this.change('held', 'Held by a person.');
    return refused && sentence(refused);
  }

  /** Goes on after a hold, or after a bit change that has been completed. */
  async resume(): Promise<string | null> {
    const why = this.holdUp();
    if (why) return why;
    if (this.atPause && this.run) {
      if (!this.measuredInPause) return 'The new bit has not been measured yet. Its length is not that of the last one.';
      const { status } = this;
      const next = this.bits[this.bitIndex];
      if (this.setup.bitFitted !== next || (status!.world.bit !== null && status!.world.bit !== next))
        return 'Another bit is fitted than the program asks for now.';
      if (status!.world.probeClip) return 'The clip of the touch plate is still on the bit. Take it off.';
    }
    if (!this.atPause) {
      const refused = await this.link.command('resume');
      if (refused) return sentence(refused);
    }
    if (this.run && this.running) {
      if (this.atPause || this.run.state === 'link-lost') {
        // Line numbers went on with the set-up moves: count the rest of the program from here.
        const again = this.atPause ? await this.link.command('restart') : null;
        if (again) return sentence(again);
        if (this.atPause) this.base = this.acked;
        else this.sent = this.acked = this.base + (this.status?.expected ?? 1) - 1;
        this.atPause = false;
      }
      this.run.bit = null;
      this.change('running', '');
      this.pump();
    }
    return null;
  }

  async stop(): Promise<string | null> {
    this.stopAsked = true;
    const refused = await this.link.command('stop');
    if (this.running) this.finish('stopped', `Stopped by a person at line ${this.run!.line} of ${this.run!.lines}.`);
    this.abandonMacro('stopped');
    return refused && sentence(refused);
  }

  async clear(): Promise<string | null> {
    const refused = await this.link.command('clear');
    this.nextSeq = 1;
    return refused && sentence(refused);
  }

  /** Plays the hands of a person on the simulated machine. */
  async bench(change: Record<string, unknown>): Promise<string | null> {
    if ('bit' in change && this.status && this.status.spindle.actual > 0) return 'The spindle is turning. Hands off.';
    const refused = await this.link.command(`bench ${JSON.stringify(change)}`);
    if (refused) return sentence(refused);
    if ('bit' in change) this.remember({ bitReading: null, bitFitted: null, zeroZ: this.setup.zeroZ?.reading == null ? null : this.setup.zeroZ });
    if ('board' in change) this.remember({ zeroXY: null, zeroZ: null });
    return null;
  }

  entries(run: string): JournalEntry[] {
    return this.journal.read(run);
  }

  // ---- streaming ------------------------------------------------------------------------

  /** Program lines acknowledged before the machine last counted from 1. */
  private base = 0;

  private pump(): void {
    if (!this.run || this.run.state !== 'running' || !this.link.up) return;
    while (this.sent < this.lines.length && this.sent - this.acked < WINDOW) {
      const line = this.lines[this.sent];
      if (isPause(line)) {
        // A pause is a barrier: everything before it is cut first, nothing after it is sent.
        if (this.acked < this.sent || this.status!.queued > 0 || this.status!.state !== 'idle') return;
        this.sent++;
        this.link.line(this.sent - this.base, line);
        return;
      }
      if (this.sent > 0 && isPause(this.lines[this.sent - 1]) && this.acked < this.sent) return;
      this.sent++;
      this.link.line(this.sent - this.base, line);
    }
  }

  private acknowledged(seq: number): void {
    if (this.pendingLines) {
      if (seq >= this.pendingLines.last) {
        const { done } = this.pendingLines;
        this.pendingLines = null;
        done(null);
      }
      return;
    }
    if (!this.running) return;
    this.acked = Math.max(this.acked, this.base + seq);
    if (isPause(this.lines[this.acked - 1] ?? '')) {
      this.atPause = true;
      this.measuredInPause = false;
      this.bitIndex++;
      this.run!.bit = this.bits[this.bitIndex] ?? null;
      const said = this.lines[this.acked - 1].match(/\(([^)]*)\)/)?.[1] ?? 'The program asks for a person.';
      this.nextSeq = this.acked - this.base + 1;
      this.change('bit-change', said);
      return;
    }
    this.pump();
  }

  private lineRefused(seq: number, why: string): void {
    if (this.pendingLines) {
      const { done } = this.pendingLines;
      this.pendingLines = null;
      this.nextSeq = seq;
      done(sentence(why));
      return;
    }
    if (!this.running || this.stopAsked) return;
    void this.link.command('stop');
    this.finish('failed', `The machine refused line ${this.base + seq}: ${why}.`);
  }

  private tick(status: MachineStatus): void {
    const now = Date.now();
    const { run } = this;
    if (!status.homed && (this.setup.zeroXY || this.setup.zeroZ)) this.remember({ zeroXY: null, zeroZ: null });
    if (run && this.running) {
      if (run.state === 'running') run.seconds += ((now - this.lastTick) / 1000) * status.rate;
      if (!this.atPause) run.line = Math.min(run.lines, this.base + status.done);
      // The machine's own wait is ended at once, so that the new bit can be measured; the agent
      // keeps the rest of the program back until a person says that the change is done.
      else if (status.state === 'pause') void this.link.command('resume');
      if (status.state === 'alarm' || status.state === 'estop') this.finish('failed', sentence(status.message));
      else if (this.acked >= this.lines.length && status.state === 'idle' && status.queued === 0) {
        run.line = run.lines;
        this.finish('done', 'Finished.');
      } else if (run.state === 'running') {
        if (now - this.lastJournalled > 1000) {
          this.lastJournalled = now;
          this.note('progress');
        }
        this.pump();
      }
    }
    this.lastTick = now;
  }

  private linkLost(why: string): void {
    this.abandonMacro('The link to the machine was lost.');
    if (this.running && this.run!.state !== 'bit-change')
      this.change('link-lost', `The link was lost (${why}) at line ${this.run!.line}. A machine that hears nothing holds where it is.`);
  }

  private linkBack(): void {
    this.nextSeq = this.link.status?.expected ?? 1;
    if (!this.running) return;
    const status = this.link.status!;
    if (status.expected === 1 && this.sent > 0 && !this.atPause) {
      this.finish('failed', `The machine was restarted during the run; it had finished line ${this.run!.line}. Look at the board before anything else.`);
    } else if (this.run!.state === 'link-lost')
      this.change('link-lost', `The link is back and the machine is holding after line ${this.base + status.done}. Resume when all is clear.`);
  }

  private change(state: RunState['state'], message: string): void {
    this.run!.state = state;
    this.run!.message = message;
    this.note(state, message);
  }

  private finish(state: 'done' | 'stopped' | 'failed', message: string): void {
    this.run!.endedAt = new Date().toISOString();
    this.change(state, message);
    this.base = 0;
    this.atPause = false;
    this.nextSeq = this.link.status?.expected ?? 1;
  }

  /** Journals; a journal that cannot be written stops the run, with the reason. */
  private note(event: string, text?: string): void {
    const run = this.run!;
    try {
      this.journal.write(run.id, { event, line: run.line, ...(text ? { text } : {}) });
    } catch (error) {
      if (run.endedAt) return;
      run.endedAt = new Date().toISOString();
      run.state = 'failed';
      run.message = `The journal could not be written (${(error as Error).message}). The machine was stopped at line ${run.line}.`;
      void this.link.command('stop');
    }
  }

  // ---- set-up moves ---------------------------------------------------------------------

  private needZero(): string | null {
    if (!this.setup.zeroXY) return 'X and Y zero have not been set.';
    if (!this.setup.zeroZ) return 'Z zero has not been set.';
    return null;
  }

  /** How far Z can still go down, mm. */
  private zRoom(): number {
    const { machine, travel } = this.status!;
    return Math.max(0, machine[2] + travel[2] - 0.5);
  }

  private zSet(zeroZ: NonNullable<Setup['zeroZ']>): void {
    this.remember({ zeroZ });
    this.measuredInPause = true;
  }

  private remember(change: Partial<Setup>): void {
    this.setup = { ...this.setup, ...change };
    try {
      this.journal.saveState(this.setup);
    } catch {
      // The set-up still stands in memory; the run itself will say that the disk is full.
    }
  }

  private async macro(what: string, work: () => Promise<string | null>): Promise<string | null> {
    this.busyWith = what;
    try {
      return await work();
    } finally {
      this.busyWith = null;
    }
  }

  /** Sends lines outside a program and waits until they are done. */
  private async gcode(lines: string[]): Promise<string | null> {
    this.nextSeq = this.status?.expected ?? this.nextSeq;
    const last = this.nextSeq + lines.length - 1;
    const why = await new Promise<string | null>((done) => {
      this.pendingLines = { last, done };
      for (const line of lines) this.link.line(this.nextSeq++, line);
    });
    if (why) return why;
    await this.settled(last);
    const { status } = this;
    if (!status) return 'The link to the machine was lost.';
    if (status.state === 'alarm' || status.state === 'estop') return sentence(status.message);
    return null;
  }

  /** Resolves when the machine has come to rest, has raised an alarm, or has gone. */
  private settled(last = 0): Promise<void> {
    return new Promise((done) => {
      let quiet = 0;
      const check = (status: MachineStatus) => {
        const resting = status.queued === 0 && (status.state === 'idle' || status.state === 'pause') && status.done >= last;
        if ((resting && ++quiet >= 2) || status.state === 'alarm' || status.state === 'estop') finished();
      };
      const finished = () => {
        this.link.off('status', check);
        this.link.off('down', finished);
        done();
      };
      this.link.on('status', check);
      this.link.on('down', finished);
    });
  }

  private abandonMacro(why: string): void {
    const pending = this.pendingLines;
    this.pendingLines = null;
    pending?.done(why);
  }
}

const isPause = (line: string) => /^\s*M(0|00|1|01|6|06)\b/.test(line);

/** Rounded to a ten-thousandth of a millimetre, without exponent. */
const num = (value: number) => String(Math.round(value * 1e4) / 1e4);

const sentence = (text: string) => text.charAt(0).toUpperCase() + text.slice(1) + (/[.!?]$/.test(text) ? '' : '.');

/** The simulated router's travel is refused by itself line by line; this says so before anything moves. */
function outOfReach(extents: RunOrder['extents'], offset: readonly number[]): string | null {
  for (let axis = 0; axis < 2; axis++)
    if (extents.min[axis] + offset[axis] < 0)
      return `From this zero the program would reach ${(-extents.min[axis] - offset[axis]).toFixed(1)} mm beyond the end of ${'XY'[axis]}. Check the datum corner, or move the board.`;
  return null;
}
