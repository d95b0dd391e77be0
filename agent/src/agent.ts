/**
 * The agent: owns the link to one machine, lets one person at a time hold the controls, carries
 * out set-up steps in the safe order, and runs released programs. Every refusal says what holds it.
 */
import type { AgentSnapshot, MachineStatus } from '@kerbe/core/link';
import type { LinkProfile } from '@kerbe/core/machine';
import { boxWay, turned } from '@kerbe/core/setup';
import { Controls } from './controls.ts';
import { Hands, num } from './hands.ts';
import type { Journal, JournalEntry } from './journal.ts';
import type { Link } from './link.ts';
import { Runner, type RunOrder } from './runner.ts';
import { SetUp } from './setup.ts';

export type { RunOrder } from './runner.ts';

/** A jog that goes on ends when no screen has asked for it for this long, milliseconds. */
const JOG_SILENCE = 400;
const JOG_BEAT = 100;

export class Agent {
  readonly link: Link;
  readonly hands: Hands;
  readonly setup: SetUp;
  readonly runner: Runner;
  readonly controls = new Controls();
  private readonly journal: Journal;
  private readonly first: LinkProfile;
  private jogHeard = 0;
  private jogBeat: NodeJS.Timeout | null = null;
  private lastTick = performance.now();

  /** `first`: the link it was started with. */
  constructor(link: Link, journal: Journal, first: LinkProfile = link.profile) {
    this.link = link;
    this.journal = journal;
    this.first = first;
    this.hands = new Hands(link);
    this.setup = new SetUp(this.hands, journal);
    this.runner = new Runner(link, this.hands, journal);
    link.on('ok', (seq) => void (this.hands.acknowledged(seq) || this.runner.acknowledged(seq)));
    link.on('refused', (seq, why) => void (this.hands.refused(seq, why) || this.runner.refused(seq, why)));
    link.on('status', (status) => this.tick(status));
    link.on('down', (why) => {
      this.hands.abandon('The link to the machine was lost.');
      this.runner.linkLost(why);
    });
    link.on('up', () => this.runner.linkBack());
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
    if (state.zeroXY!.corner !== order.datum.corner)
      return `The program counts from the ${order.datum.corner} of the board, and zero was set at the ${state.zeroXY!.corner}. Set zero again.`;
    if (state.zeroZ!.datum !== order.datum.z)
      return `The program takes Z0 on the ${faceOf(order.datum.z)}, and it was set on the ${faceOf(state.zeroZ!.datum)}. Set Z again.`;
    if (state.bitFitted !== order.bits[0]) return 'The bit that was measured is not the one this program begins with.';
    const hindered = this.bitRefused(order.bits[0]);
    if (hindered) return hindered;
    if (order.workOffset && status.workOffset !== order.workOffset)
      return `The program counts in ${order.workOffset}, and zero was set in ${status.workOffset}. Go over to ${order.workOffset} and set zero there.`;
    if (!/(^|[^A-Z])G2[01](?![\d.])/im.test(order.program.slice(0, 20_000)))
      return 'The program does not say whether it counts in millimetres or inches (G21 or G20): an inch program read as millimetres is 25 times too small.';
    const overflow = outOfReach(order.extents, state.zeroXY!.angle, status);
    if (overflow) return overflow;
    return this.runner.start(order);
  }

  /** What keeps the spindle from turning with this bit: what a person forgets. */
  private bitRefused(bit: string | undefined): string | null {
    const { world, spindle } = this.status!;
    if (world.bit !== null && world.bit !== bit) return 'Another bit is fitted than the program asks for now.';
    if (world.probeClip) return 'The clip of the touch plate is still on the bit. Take it off.';
    if (world.lidOpen) return 'The lid is open. Close it.';
    if (!spindle.power) return 'The spindle’s own box is switched off. Switch it on.';
    return null;
  }

  /** Goes on after a hold, or after a bit change that has been completed. */
  async resume(): Promise<string | null> {
    const { runner } = this;
    if (!runner.running) return this.hands.command('resume');
    const why = this.hands.refusal();
    if (why) return why;
    if (runner.atPause) {
      if (!runner.measured) return 'The new bit has not been measured yet. Its length is not that of the last one.';
      if (this.setup.state.bitFitted !== runner.bitNow) return 'Another bit is fitted than the program asks for now.';
    }
    return this.bitRefused(runner.bitNow) ?? runner.resume();
  }

  async stop(by: string): Promise<string | null> {
    if (this.jogBeat) clearInterval(this.jogBeat);
    this.jogBeat = null;
    const refused = await this.runner.stop(by);
    this.hands.abandon('Stopped.');
    return refused;
  }

  async measure(bit: string, sure: boolean): Promise<string | null> {
    const why = this.needFree() ?? (this.status!.spindle.actual > 0 ? 'Wait until the spindle stands still.' : null);
    if (why) return why;
    const refused = await this.setup.measure(bit, sure);
    if (!refused && this.runner.atPause) {
      this.runner.measured = true;
      this.runner.note('measured', `${bit}: the tool sensor was touched at Z ${this.setup.state.bitReading!.toFixed(3)}`);
    }
    return refused;
  }

  async override(feed: number, spindle: number): Promise<string | null> {
    const refused = await this.hands.command(`override ${num(feed)} ${num(spindle)}`);
    if (!refused && this.runner.running) this.runner.note('override', `feed ${Math.round(100 * feed)} %, spindle ${Math.round(100 * spindle)} %`);
    return refused;
  }

  async warmUp(speed: number, seconds: number): Promise<string | null> {
    const why = this.needFree() ?? this.setup.needBit() ?? this.bitRefused(this.setup.state.bitFitted ?? undefined);
    if (why) return why;
    return this.setup.warmUp(speed, seconds);
  }

  /** Plays the hands of a person on the simulated machine. */
  async bench(change: Record<string, unknown>): Promise<string | null> {
    if ('bit' in change && this.status && this.status.spindle.actual > 0) return 'The spindle is turning. Hands off.';
    const refused = await this.hands.command(`bench ${JSON.stringify(change)}`);
    if (!refused && 'board' in change) this.setup.remember({ zeroXY: null, zeroZ: null, zeros: {}, framed: null, readings: [], follow: false });
    return refused;
  }

  /** Goes over to another link, and keeps it over a restart; null for the one it was started with. */
  connect(profile: LinkProfile | null): string | null {
    if (this.runner.running) return 'A program is running.';
    try {
      if (profile) this.journal.save('link', profile);
      else this.journal.remove('link');
    } catch (error) {
      return `The link could not be written down (${(error as Error).message}).`;
    }
    const next = profile ?? this.first;
    if (JSON.stringify(next) !== JSON.stringify(this.link.profile)) this.link.use(next);
    return null;
  }

  entries(run: string): JournalEntry[] {
    return this.journal.read(run);
  }

  private tick(status: MachineStatus): void {
    const now = performance.now();
    const passed = Math.min(1, (now - this.lastTick) / 1000) * status.rate;
    this.lastTick = now;
    const before = this.runner.running;
    this.setup.tick(status, passed);
    this.runner.tick(status);
    if (before && !this.runner.running) this.setup.afterRun();
  }
}

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
