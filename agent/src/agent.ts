/**
 * The agent: owns the link to one machine, lets one person at a time hold the controls, carries
 * out set-up steps in the safe order, and runs released programs. Every refusal says what holds it.
 */
import type { AgentSnapshot, MachineStatus, NextRun } from '@kerbe/core/link';
import type { Linked } from '@kerbe/core/machine';
import { boxWay, turned } from '@kerbe/core/setup';
import { Controls } from './controls.ts';
import { ManualControl, num } from './hands.ts';
import type { Journal, JournalEntry } from './journal.ts';
import type { Link } from './link.ts';
import { Runner, type RunOrder } from './runner.ts';
import { MachineTime } from './time.ts';
import { SetUp } from './setup.ts';

export type { RunOrder } from './runner.ts';

/** A jog that goes on ends when no screen has asked for it for this long, milliseconds. */
const JOG_SILENCE = 400;
const JOG_BEAT = 100;
/** A Stop that the machine has not confirmed is sent again this often, milliseconds. */
const STOP_AGAIN = 500;
const UNCONFIRMED = 'Stop was sent, and the machine has not confirmed it. Use the red button on the machine.';
const UNSENT = 'The machine does not answer, so it has not been told to stop. Use the red button on the machine; Kerbe sends Stop first when it answers again.';

export class Agent {
  readonly link: Link;
  readonly hands: ManualControl;
  readonly setup: SetUp;
  readonly runner: Runner;
  readonly controls = new Controls();
  private readonly journal: Journal;
  private readonly simulated: Linked | null;
  private jogHeard = 0;
  private stopSent = 0;
  private jogBeat: NodeJS.Timeout | null = null;
  private readonly time = new MachineTime();

  /** @param simulated the simulated machine it belongs to; null for one with a cable of its own. */
  constructor(link: Link, journal: Journal, simulated: Linked | null = link.linked) {
    this.link = link;
    this.journal = journal;
    this.simulated = simulated;
    this.hands = new ManualControl(link);
    this.setup = new SetUp(this.hands, journal, this.machineKey);
    this.runner = new Runner(link, this.hands, journal, (state) => this.setup.afterRun(state));
    this.hands.stopWanted = journal.load<{ by: string }>('stop')?.by ?? null;
    link.on('ok', (seq) => void (this.hands.acknowledged(seq) || this.runner.acknowledged(seq)));
    link.on('refused', (seq, why) => void (this.hands.refused(seq, why) || this.runner.refused(seq, why)));
    link.on('status', (status) => this.tick(status));
    link.on('down', (why) => {
      this.hands.abandon('The link to the machine was lost.');
      this.runner.linkLost(why);
    });
    link.on('up', () => {
      // First of all: it may still be cutting.
      if (this.hands.stopWanted) this.sendStop();
      this.runner.linkBack();
    });
  }

  /** Which machine the set-up is of: another cable is another machine. A simulated one is the same wherever it answers. */
  private get machineKey(): string {
    const { linked } = this.link;
    return JSON.stringify(linked) === JSON.stringify(this.simulated) ? 'first' : JSON.stringify(linked.link.transport);
  }

  get status(): MachineStatus | null {
    return this.hands.status;
  }

  get snapshot(): AgentSnapshot {
    return {
      link: this.link.up,
      status: this.status,
      setup: this.setup.state,
      run: this.runner.run,
      controls: this.controls.state,
      busy: this.hands.busyWith,
      stopWanted: this.hands.stopWanted,
    };
  }

  /** Set-up moves are for a machine that is not cutting; at a bit change they are needed. */
  needFree(): string | null {
    return this.hands.needHomed() ?? (this.runner.running && !this.runner.atPause ? 'A program is running.' : null);
  }

  /** Not even at a bit change: zero and place stay where they are during a run. */
  needNoRun(): string | null {
    return this.needFree() ?? (this.runner.running ? 'Zero stays where it is during a run.' : null);
  }

  async home(): Promise<string | null> {
    const why = this.hands.refusal() ?? (this.runner.running ? 'A program is running.' : null);
    if (why) return why;
    return this.hands.macro('homing', async () => {
      const refused = await this.hands.command('home');
      if (refused) return refused;
      await this.hands.settled();
      return this.status?.homed ? null : 'Homing did not finish.';
    });
  }

  async jog(dx: number, dy: number, dz: number, feed: number): Promise<string | null> {
    return this.needFree() ?? (await this.hands.command(`jog ${num(dx)} ${num(dy)} ${num(dz)} ${num(feed)}`));
  }

  /** Goes on in a direction for as long as {@link jogOn} is heard. */
  async startJog(way: readonly [number, number, number], feed: number): Promise<string | null> {
    const why = this.needFree() ?? (await this.hands.command(`jog-start ${way.map(num).join(' ')} ${num(feed)}`));
    if (why) return why;
    this.jogHeard = performance.now();
    if (this.jogBeat) clearInterval(this.jogBeat);
    this.jogBeat = setInterval(() => {
      if (performance.now() - this.jogHeard > JOG_SILENCE) void this.endJog();
      else void this.link.command('jog-on');
    }, JOG_BEAT);
    return null;
  }

  /** A screen still wants the jog to go on. */
  jogOn(): string | null {
    if (!this.jogBeat) return 'It is not jogging any more.';
    this.jogHeard = performance.now();
    return null;
  }

  async endJog(): Promise<string | null> {
    if (this.jogBeat) clearInterval(this.jogBeat);
    this.jogBeat = null;
    return this.hands.command('jog-end');
  }

  async start(order: RunOrder): Promise<string | null> {
    const why = this.hands.needHomed() ?? (this.runner.running ? 'A program is running already.' : null) ?? this.setup.needZero() ?? this.setup.needBit();
    if (why) return why;
    const { state } = this.setup;
    const status = this.status!;
    if (!stands(status)) return 'Something still waits in the machine, moves or turns. Let it come to rest, or stop it.';
    if (state.zeroXY!.corner !== order.datum.corner)
      return `The program counts from the ${order.datum.corner} of the board, and zero was set at the ${state.zeroXY!.corner}. Set zero again.`;
    if (state.zeroZ!.datum !== order.datum.z)
      return `The program takes Z0 on the ${faceOf(order.datum.z)}, and it was set on the ${faceOf(state.zeroZ!.datum)}. Set Z again.`;
    if (state.bitFitted !== order.bits[0]) return 'The bit that is fitted is not the one this program begins with.';
    const untouched = this.setup.needTouch();
    if (untouched) return untouched;
    const hindered = this.bitRefused(order.bits[0]);
    if (hindered) return hindered;
    if (order.workOffset && status.workOffset !== order.workOffset)
      return `The program counts in ${order.workOffset}, and zero was set in ${status.workOffset}. Go over to ${order.workOffset} and set zero there.`;
    if (!/(^|[^A-Z])G2[01](?![\d.])/im.test(order.program.slice(0, 20_000)))
      return 'The program does not say whether it counts in millimetres or inches (G21 or G20): an inch program read as millimetres is 25 times too small.';
    const overflow = outOfReach(order.extents, state.zeroXY!.angle, status);
    if (overflow) return overflow;
    const refused = await this.runner.start(order);
    if (!refused) this.setup.remember({ next: null });
    return refused;
  }

  /** What keeps a beam from shining for a frame: what a start asks for, and that it is a laser. */
  beamRefused(): string | null {
    if (!this.status?.beam) return 'This machine has no beam that could be seen to be off again. Frame with the pointer.';
    return this.bitRefused(this.setup.state.bitFitted ?? undefined);
  }

  /** What keeps the spindle from turning with this bit: what a person forgets. */
  private bitRefused(bit: string | undefined): string | null {
    const { world, spindle } = this.status!;
    if (world?.pin) return 'The probe pin is in the collet. Take it out and fit the bit: a pin must never turn.';
    if (world && world.bit !== null && world.bit !== bit) return 'Another bit is fitted than the program asks for now.';
    if (world?.probeClip) return 'The clip of the touch plate is still on the bit. Take it off.';
    if (world?.lidOpen) return 'The lid is open. Close it.';
    if (world?.table?.ground === false) return 'The work lead is not on the plate. Clamp it to bright metal.';
    if (world?.table?.air === false) return 'There is no air for the torch. Open it, and look at its pressure.';
    if (world?.cabinet?.key === false) return 'The key of the laser is off. Turn it on.';
    if (world?.cabinet?.extraction === false) return 'Extraction is off. Switch it on: the smoke must be led away.';
    if (spindle?.power === false) return 'The spindle’s own box is switched off. Switch it on.';
    return null;
  }

  /** Goes on after a hold, or after a bit change that has been completed. */
  async resume(handsOff: boolean): Promise<string | null> {
    const { runner } = this;
    if (!runner.running) {
      if (this.status && this.status.queued > 0 && !this.hands.busyWith)
        return `Lines wait in the machine that belong to no run (${this.status.queued}): gone on with, they would be cut and nobody would know. Stop it.`;
      return this.hands.command('resume');
    }
    const why = this.hands.refusal() ?? runner.out;
    if (why) return why;
    if (runner.changing && !runner.measured)
      return this.setup.sensor
        ? 'The new bit has not been measured yet. Its length is not that of the last one.'
        : 'Z zero has not been touched with the new bit yet. Its length is not that of the last one.';
    if (runner.atPause && !handsOff) return HANDS_OFF;
    if (runner.changing && this.setup.state.bitFitted !== runner.bitNow) return 'Another bit is fitted than the program asks for now.';
    return this.bitRefused(runner.bitNow) ?? runner.resume();
  }

  async stop(by: string): Promise<string | null> {
    if (this.jogBeat) clearInterval(this.jogBeat);
    this.jogBeat = null;
    this.hands.stopWanted = by;
    try {
      this.journal.save('stop', { by });
    } catch {
      // It is sent all the same; only a restart of the agent in this moment would forget it.
    }
    this.runner.stopping(by);
    this.hands.abandon('Stopped.');
    this.sendStop();
    if (!this.link.up) return UNSENT;
    const why = await this.hands.confirmed(stands, UNCONFIRMED);
    if (!why) this.stopConfirmed();
    return why;
  }

  private sendStop(): void {
    this.stopSent = performance.now();
    void this.link.command('stop');
  }

  private stopConfirmed(): void {
    const by = this.hands.stopWanted;
    if (!by) return;
    this.hands.stopWanted = null;
    this.journal.remove('stop');
    this.runner.stopped(by);
  }

  /** What a machine that shows its bit would not let pass: a length written down under another name. */
  private otherBit(bit: string): string | null {
    const { world, spindle } = this.status!;
    if (spindle && spindle.actual > 0) return 'Wait until the spindle stands still.';
    if (world?.pin) return 'The probe pin is in the collet. Take it out and fit the bit.';
    if (world && world.bit !== null && world.bit !== bit)
      return 'Another bit is fitted than the one to be measured: its length would be written down under a wrong name.';
    return null;
  }

  /** Z zero, by plate or paper; without a sensor this is also how a new bit's length is found. */
  async zeroZ(set: () => Promise<string | null>, handsOff: boolean): Promise<string | null> {
    const { runner } = this;
    const why = this.needFree() ?? (runner.atPause && !handsOff ? HANDS_OFF : null);
    if (why) return why;
    const refused = await set();
    if (!refused && runner.changing && !this.setup.sensor && this.setup.state.bitFitted === runner.bitNow) {
      runner.measured = true;
      runner.note('measured', `${runner.bitNow}: Z zero was touched with it`);
    }
    return refused;
  }

  /** A person says which bit is in the collet; `still` when it was not touched since. */
  fitted(bit: string, still: boolean): string | null {
    const why = this.hands.refusal() ?? (this.runner.running && !this.runner.atPause ? 'A program is running.' : null) ?? this.otherBit(bit);
    if (why) return why;
    if (!still) this.runner.measured = false;
    this.setup.fitted(bit, still);
    return null;
  }

  /** Chooses what is run next; a new board takes with it what was only true of the last one. */
  chooseNext(next: NextRun, board: 'new' | 'same'): string | null {
    if (this.runner.running) return 'A program is running.';
    if (board === 'new') this.setup.newBoard();
    this.setup.remember({ next });
    return null;
  }

  async measure(bit: string, sure: boolean, handsOff: boolean): Promise<string | null> {
    const why = this.needFree() ?? this.otherBit(bit) ?? (this.runner.atPause && !handsOff ? HANDS_OFF : null);
    if (why) return why;
    const refused = await this.setup.measure(bit, sure);
    if (!refused && this.runner.changing) {
      this.runner.measured = true;
      this.runner.note('measured', `${bit}: the tool sensor was touched at Z ${this.setup.state.bitReading!.toFixed(3)}`);
    }
    return refused;
  }

  async override(feed: number, spindle: number): Promise<string | null> {
    const refused = await this.hands.command(`override ${num(feed)} ${num(spindle)}`);
    if (!refused && this.runner.running)
      this.runner.note('override', `feed ${Math.round(100 * feed)} %, spindle ${Math.round(100 * spindle)} %`, { kind: 'override', feed, spindle });
    return refused;
  }

  async warmUp(speed: number, seconds: number): Promise<string | null> {
    const why = this.needFree() ?? this.setup.needBit() ?? this.bitRefused(this.setup.state.bitFitted ?? undefined);
    if (why) return why;
    return this.setup.warmUp(speed, seconds);
  }

  /** Plays the hands of a person on the simulated machine. */
  async bench(change: Record<string, unknown>): Promise<string | null> {
    if ('bit' in change && (this.status?.spindle?.actual ?? 0) > 0) return 'The spindle is turning. Hands off.';
    const refused = await this.hands.command(`bench ${JSON.stringify(change)}`);
    if (!refused && 'board' in change) this.setup.remember({ zeroXY: null, zeroZ: null, zeros: {}, framed: null, readings: [], follow: false });
    return refused;
  }

  /**
   * Goes over to another link, and keeps it over a restart; null for the simulated machine it belongs to, or,
   * where there is none, for no machine any more: it is about to be let go.
   */
  connect(linked: Linked | null): string | null {
    if (this.runner.running) return 'A program is running.';
    if (this.hands.stopWanted) return 'Stop was pressed, and the machine has not confirmed it yet.';
    try {
      if (linked) this.journal.save('linked', linked);
      else this.journal.remove('linked');
    } catch (error) {
      return `The link could not be written down (${(error as Error).message}).`;
    }
    const next = linked ?? this.simulated;
    if (!next) {
      this.link.close();
      return null;
    }
    if (JSON.stringify(next) === JSON.stringify(this.link.linked)) return null;
    this.link.use(next);
    this.setup.goTo(this.machineKey);
    return null;
  }

  entries(run: string): JournalEntry[] {
    return this.journal.read(run);
  }

  private tick(status: MachineStatus): void {
    const now = performance.now();
    const passed = this.time.since(status);
    this.setup.tick(status, passed);
    this.runner.tick(status, passed);
    if (!this.hands.stopWanted) return;
    // A status from before the stop was sent says nothing of it; two intervals are more than enough.
    if (stands(status) && now - this.stopSent > 100) this.stopConfirmed();
    else if (now - this.stopSent > STOP_AGAIN) this.sendStop();
  }
}

const HANDS_OFF = 'Say first that tools are away and hands are off: the bit is about to move.';

/** Nothing waits, nothing moves, and nothing is told to turn or burns. */
const stands = ({ state, queued, spindle, arc, beam }: MachineStatus) =>
  queued === 0 &&
  state !== 'run' &&
  state !== 'hold' &&
  state !== 'home' &&
  state !== 'pause' &&
  !spindle?.target &&
  !arc?.wanted &&
  !arc?.burns &&
  !beam?.wanted;

const faceOf = (datum: 'top' | 'spoilboard') => (datum === 'top' ? 'top of the board' : 'spoilboard');

/** A machine refuses what is beyond its travel line by line; this says so before anything moves. */
function outOfReach({ min, max }: RunOrder['extents'], angle: number, { offset, travel }: MachineStatus): string | null {
  const corners = boxWay(min, max).map((point) => turned(point, angle));
  for (let axis = 0; axis < 2; axis++) {
    const low = Math.min(...corners.map((c) => c[axis])) + offset[axis];
    const high = Math.max(...corners.map((c) => c[axis])) + offset[axis];
    const beyond = Math.max(-low, travel[axis] > 0 ? high - travel[axis] : -Infinity);
    if (beyond > 0)
      return `From this zero the program would reach ${beyond.toFixed(1)} mm beyond the end of ${'XY'[axis]}. Check the datum corner, or move the board.`;
  }
  return null;
}
