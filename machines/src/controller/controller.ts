/**
 * The controller of every simulated machine: reads G-code with core's interpreter, moves with core's motion
 * planner, knows switches, soft limits, probing and an emergency stop. What it moves is its head's business.
 * Time is simulated: `advance(seconds)` makes it pass.
 */
import { wordsOf } from '@kerbe/core/findings';
import type { MachineMode, MachineStatus } from '@kerbe/core/link';
import { OFFSET_WORDS, OP, ProgramReader } from '@kerbe/core/program';
import type { Machine as MachineLimits } from '@kerbe/core/job';
import type { Head } from './head.ts';
import { Stretch, type Row, type Triple } from './stretch.ts';

/** Work offsets and which of them is in force. */
interface Offsets {
  all: Triple[];
  active: number;
}
const copyOf = ({ all, active }: Offsets): Offsets => ({ all: all.map((o) => [...o] as Triple), active });

const PROBE_STEP = 0.002;
const HOMING_SPEED = 50;
const SLICE = 0.005;
const QUEUE_LIMIT = 256;

const encoder = new TextEncoder();

export class Controller<H extends Head = Head> {
  readonly head: H;
  readonly limits: MachineLimits;
  /** How much faster than the clock it runs. */
  rate = 1;
  private clock = 0;
  state: MachineMode = 'idle';
  homed = false;
  estop = false;
  message = '';
  position: Triple;
  offsets: Offsets = { all: OFFSET_WORDS.map(() => [0, 0, 0]), active: 0 };
  probe: MachineStatus['probe'] = null;
  begun = 0;
  done = 0;
  /** Shares of what the program asks for: of the feed, and of the head's speed or power. */
  override = { feed: 1, spindle: 1 };
  /** Counts every power-on and reset: whoever counted lines before one counts anew. */
  boot = 1;
  /** What the lines are counted for, as the last restart named it. */
  tag = '';
  /** How often the motion ran dry in a program, and when it last began to brake for a hold (milliseconds of the clock). */
  dry = 0;
  brakedAt: number | null = null;
  /** A jog that goes on until it is ended, or until nobody has said for a while that it should. */
  jogging = false;
  private reader = new ProgramReader();
  private queue: Row[] = [];
  private expected = 1;
  private stretch: Stretch | null = null;
  /** The work offsets as they will be once everything waiting is done. */
  private planned: Offsets | null = null;
  private wait = 0;
  /** 1: full speed along the path; braking and starting scale time itself. */
  private pace = 1;
  private holding = false;
  private stopping = false;
  private jogEnded = false;
  private homing: { axis: number } | null = null;
  /** A program that was sent waits for the button at the machine. */
  private awaitsStart = false;
  /** Held with something that had to go out at once: where that was, how it is switched on again, and what was passed since. */
  private dark: { at: Triple; again: Row; passed: Row[] } | null = null;

  constructor(head: H, limits: MachineLimits) {
    this.head = head;
    this.limits = limits;
    // After power-on it stands anywhere; nobody knows where until it is homed.
    this.position = [limits.travel[0] * 0.37, limits.travel[1] * 0.41, -limits.travel[2] * 0.2];
  }

  /** Takes line `seq`. Returns why it is refused, or null when it is queued. */
  accept(seq: number, text: string): string | null {
    // Why it stands says more than that its count began anew.
    const why = this.refusal();
    if (why) return why;
    if (seq !== this.expected) return `expected line ${this.expected}, got ${seq}`;
    const { reader } = this;
    this.syncReader();
    reader.clearRows();
    reader.findings.length = 0;
    reader.ended = false;
    reader.push(encoder.encode(text + '\n'));
    if (reader.findings.length > 0) return wordsOf(reader.findings[0], 'mm').what;
    const rows: Row[] = [];
    const end = this.plannedEnd();
    const planned = copyOf(this.queued > 0 && this.planned ? this.planned : this.offsets);
    for (let i = 0; i < reader.count; i++) {
      const kind = reader.kind[i];
      const given = [reader.x[i], reader.y[i], reader.z[i]];
      if (kind === OP.SET_ORIGIN) return 'a work offset is set with G10 L20 here, where the bit stands';
      if (kind === OP.LENGTH) return 'this machine keeps no table of tool lengths (G43): measure the bit';
      if (kind === OP.OFFSET) planned.active = reader.value[i] - 1;
      const which = kind === OP.SET_ZERO && reader.value[i] >= 1 ? reader.value[i] - 1 : planned.active;
      if (which >= OFFSET_WORDS.length) return `there are ${OFFSET_WORDS.length} work offsets, and this is number ${which + 1}`;
      const offset = planned.all[which];
      const target = given.map((v, axis) => (Number.isNaN(v) ? end[axis] : kind === OP.SET_ZERO || reader.machine[i] ? v : v + offset[axis])) as Triple;
      if (kind === OP.SET_ZERO)
        given.forEach((v, axis) => {
          target[axis] = v;
          if (!Number.isNaN(v)) offset[axis] = end[axis] - v;
        });
      if (kind === OP.RAPID || kind === OP.FEED || kind === OP.PROBE) {
        if (!this.homed) return 'it does not know where it is: home it first';
        const limit = this.limitCrossed(target);
        if (limit) return this.raise(limit);
        target.forEach((v, axis) => (end[axis] = v));
      }
      const output = kind === OP.OUTPUT ? reader.x[i] : undefined;
      const refused = this.head.refused({ kind, value: reader.value[i], output }, this.state === 'hold' || this.state === 'pause');
      if (refused) return refused;
      rows.push({ kind, target, value: kind === OP.SET_ZERO ? which : reader.value[i], seq, output });
    }
    // Lines without effect still count, so that progress follows the program.
    if (rows.length === 0) rows.push({ kind: OP.DWELL, target: [0, 0, 0], value: 0, seq });
    this.queue.push(...rows);
    this.planned = planned;
    this.expected++;
    return null;
  }

  /** Starts counting lines anew: a new program, or after a stop. */
  restartLines(tag = ''): string | null {
    if (this.busy) return 'it is still moving';
    this.tag = tag;
    this.expected = 1;
    this.begun = 0;
    this.done = 0;
    this.reader = new ProgramReader();
    this.awaitsStart = tag !== '' && this.head.begins();
    this.syncReader();
    return null;
  }

  /** The button at the machine: a program that waits for it begins. */
  pressStart(): string | null {
    if (!this.awaitsStart || this.state !== 'pause') return 'nothing waits for the Start button';
    const refused = this.head.refused({ kind: OP.SPINDLE, value: 1 });
    if (refused) return refused;
    this.awaitsStart = false;
    this.state = 'run';
    this.message = '';
    return null;
  }

  get queued(): number {
    return this.queue.length + (this.stretch?.left.length ?? 0);
  }

  /** No more lines are taken now: the queue is full, or what comes next is reckoned from where a touch will be. */
  get full(): boolean {
    return this.queued >= QUEUE_LIMIT || this.queue.some(({ kind }) => kind === OP.PROBE);
  }

  get busy(): boolean {
    return this.state === 'run' || this.state === 'hold' || this.state === 'home' || this.queued > 0;
  }

  /** Why nothing is accepted now, or null. */
  refusal(): string | null {
    if (this.estop) return 'the emergency stop is pressed: turn it to release it, then clear the alarm';
    if (this.state === 'estop') return 'the emergency stop was pressed: clear the alarm first';
    if (this.state === 'alarm') return `it is in alarm (${this.message}): clear the alarm first`;
    if (this.state === 'home') return 'it is homing';
    return null;
  }

  home(): string | null {
    const why = this.refusal();
    if (why) return why;
    if (this.busy) return 'it is still moving';
    if (this.head.on) return this.head.on;
    this.state = 'home';
    this.homing = { axis: 2 };
    return null;
  }

  hold(): string | null {
    if (this.state !== 'run') return 'it is not running';
    this.holding = true;
    this.state = 'hold';
    this.brakedAt = Date.now();
    const again = this.head.held();
    this.dark = again && { at: [...this.position], again: { ...again, target: [...this.position], seq: this.begun }, passed: [] };
    return null;
  }

  resume(): string | null {
    const why = this.refusal();
    if (why) return why;
    if (this.state === 'hold') {
      const refused = this.dark && this.head.refused({ ...this.dark.again, value: this.dark.again.value || 1 });
      if (refused) return refused;
      if (this.dark && this.pace > 0 && this.stretch) return 'it is still coming to rest';
      this.goBack();
      this.holding = false;
      this.state = 'run';
      return null;
    }
    if (this.state === 'pause' && this.awaitsStart) return 'press Start at the machine itself';
    if (this.state === 'pause') {
      this.state = 'idle';
      this.message = '';
      return null;
    }
    return 'it is neither holding nor waiting';
  }

  /** What went out when it was held is lit again where that was, not where it came to rest: back there first, and over that way once more. */
  private goBack(): void {
    const { dark } = this;
    if (!dark) return;
    this.dark = null;
    const left = [...dark.passed, ...(this.stretch?.left ?? [])];
    this.stretch = null;
    const [first, ...rest] = left;
    this.queue.unshift(
      { kind: OP.RAPID, target: dark.at, value: 0, seq: this.begun },
      ...(first ? [{ ...first, with: [dark.again, ...(first.with ?? [])] }, ...rest] : [dark.again]),
    );
    this.pace = 1;
  }

  /** Brakes as hard as it can, stops the spindle and forgets what was waiting. */
  stop(): string | null {
    this.holding = true;
    this.stopping = true;
    this.head.off();
    this.homing = null;
    if (!this.stretch && this.wait <= 0) this.settle();
    return null;
  }

  /** Feed and spindle as shares of what the program asks for. */
  setOverride(feed: number, spindle: number): string | null {
    if (!(feed >= 0.1 && feed <= 2)) return 'the feed can be set from 10 to 200 %';
    const why = this.head.override(spindle);
    if (why) return why;
    const ratio = feed / this.override.feed;
    this.override = { feed, spindle };
    if (this.stretch && ratio !== 1) {
      // Planned anew at the new feed; time itself takes the difference, so that the head changes speed as fast as it can brake.
      this.replan(this.stretch.speed * ratio);
      if (this.state === 'run') this.pace /= ratio;
    }
    return null;
  }

  /** A reset of the controller, as by a dip of the power: it forgets everything. */
  reset(): void {
    this.flush();
    this.boot++;
    this.tag = '';
    this.homed = false;
    this.state = 'idle';
    this.message = '';
    this.begun = this.done = 0;
    this.head.kill();
    this.head.override(1);
    this.probe = null;
    this.override = { feed: 1, spindle: 1 };
    this.offsets = { all: OFFSET_WORDS.map(() => [0, 0, 0]), active: 0 };
    this.syncReader();
  }

  /** A limit switch closes: everything stands still at once. */
  hitLimit(axis: number): void {
    this.homed = false;
    this.raise(`the limit switch of ${'XYZ'[axis]} was hit`);
  }

  /** The emergency stop button: pressed everything stands still at once. */
  setEstop(pressed: boolean): void {
    this.estop = pressed;
    if (!pressed) return;
    const moving = this.stretch !== null || this.state === 'home';
    this.flush();
    this.state = 'estop';
    this.message = 'emergency stop pressed';
    this.head.kill();
    // Standing still at once may lose steps.
    if (moving) this.homed = false;
  }

  clear(): string | null {
    if (this.estop) return 'the emergency stop is still pressed: turn it to release it';
    if (this.state === 'alarm' || this.state === 'estop') {
      this.state = 'idle';
      this.message = '';
      this.head.clear();
    }
    this.flush();
    return null;
  }

  /** A jog: a move of its own, relative, refused beyond the soft limits before it starts. */
  jog(delta: readonly number[], feed: number): string | null {
    const why = this.jogRefused(delta, feed);
    if (why) return why;
    const target = this.position.map((v, axis) => v + delta[axis]) as Triple;
    const limit = this.limitCrossed(target);
    if (limit) return limit;
    this.queue.push({ kind: OP.FEED, target, value: feed, seq: this.done });
    this.syncReader();
    return null;
  }

  private jogRefused(delta: readonly number[], feed: number): string | null {
    const why = this.refusal();
    if (why) return why;
    if (!this.homed) return 'it does not know where it is: home it first';
    if (this.busy) return 'it is still moving';
    if (!(feed > 0) || delta.length !== 3 || !delta.every(Number.isFinite)) return 'a jog needs three distances and a feed';
    return null;
  }

  /** Goes on in a direction until {@link endJog}, at most to the end of the travel. */
  startJog(way: readonly number[], feed: number): string | null {
    const why = this.jogRefused(way, feed);
    if (why) return why;
    const { low, high } = this.reach;
    let s = Infinity;
    way.forEach((v, axis) => {
      if (v !== 0) s = Math.min(s, ((v > 0 ? high[axis] : low[axis]) - this.position[axis]) / v);
    });
    if (!Number.isFinite(s)) return 'a jog needs a direction';
    if (s <= 1e-6) return 'it stands at the end of its travel there';
    this.queue.push({ kind: OP.FEED, target: this.position.map((v, axis) => v + s * way[axis]) as Triple, value: feed, seq: this.done });
    this.jogging = true;
    this.syncReader();
    return null;
  }

  /** Ends a jog: brakes on the path and stands. */
  endJog(): string | null {
    if (!this.jogging) return null;
    this.jogging = false;
    this.jogEnded = true;
    this.holding = true;
    this.stopping = true;
    this.brakedAt = Date.now();
    if (!this.stretch && this.wait <= 0) this.settle(false);
    return null;
  }

  status(): MachineStatus {
    return {
      state: this.state,
      homed: this.homed,
      estop: this.estop,
      message: this.message,
      machine: [...this.position],
      work: this.position.map((v, axis) => v - this.offset[axis]) as MachineStatus['work'],
      offset: [...this.offset],
      workOffset: OFFSET_WORDS[this.offsets.active],
      begun: this.begun,
      done: this.done,
      queued: this.queued,
      expected: this.expected,
      speed: this.stretch ? this.stretch.speed * this.pace : 0,
      override: { ...this.override },
      boot: this.boot,
      tag: this.tag,
      dry: this.dry,
      brakedAt: this.brakedAt,
      probe: this.probe,
      travel: this.limits.travel,
      ...this.head.status(),
      rate: this.rate,
      clock: this.clock,
    };
  }

  /** The work offset in force. */
  get offset(): Triple {
    return this.offsets.all[this.offsets.active];
  }

  /** Lets simulated time pass. */
  advance(seconds: number): void {
    let left = seconds;
    this.clock += seconds;
    this.head.advance(seconds);
    if (this.state === 'estop' || this.state === 'alarm') return;
    if (this.homing) return this.advanceHoming(seconds);
    for (let guard = 0; left > 1e-9 && guard < 100_000; guard++) {
      this.setPace(left);
      if (this.pace <= 0) {
        if (this.stopping) this.settle(!this.jogEnded);
        return;
      }
      if (this.wait > 0) {
        const used = Math.min(left, this.wait);
        this.head.stands?.(used);
        if (this.head.crash) {
          this.raise(this.head.crash);
          return;
        }
        this.wait -= used;
        left -= used;
        if (this.wait > 1e-9) return;
        this.wait = 0;
      }
      if (!this.stretch && this.head.waited) {
        this.state = 'run';
        return;
      }
      if (!this.stretch && !this.nextStretch()) {
        if (this.state === 'run') this.state = 'idle';
        this.jogging = false;
        return;
      }
      if (!this.stretch) continue;
      // While braking or starting, time passes in slices short against any brake.
      const slice = this.holding || this.pace !== 1 ? Math.min(left, SLICE) : left;
      left -= slice - this.followStretch(this.stretch, slice);
      if (this.isAlarmed()) return;
    }
  }

  private isAlarmed(): boolean {
    return this.state === 'alarm' || this.state === 'estop';
  }

  /** Carries out waiting rows that are not moves, up to the next moves, and plans those. */
  private nextStretch(): boolean {
    // What would be switched now waits until it goes on: it was held in the dark.
    if (this.state === 'pause' || this.dark) return false;
    if (this.awaitsStart && this.queue.length > 0) {
      this.state = 'pause';
      this.message = 'press Start at the machine itself';
      return false;
    }
    while (this.queue.length > 0) {
      const row = this.queue[0];
      if (row.kind === OP.RAPID || row.kind === OP.FEED) {
        this.state = 'run';
        this.planStretch();
        return true;
      }
      this.queue.shift();
      this.begun = Math.max(this.begun, row.seq);
      switch (row.kind) {
        case OP.PROBE:
          this.state = 'run';
          this.doProbe(row);
          this.done = row.seq;
          return !this.isAlarmed();
        case OP.DWELL:
          this.done = row.seq;
          if (row.value > 0) {
            this.state = 'run';
            this.wait = row.value;
            return true;
          }
          break;
        case OP.SET_ZERO:
          row.target.forEach((v, axis) => {
            if (!Number.isNaN(v)) this.offsets.all[row.value][axis] = this.position[axis] - v;
          });
          this.done = row.seq;
          this.syncReader();
          break;
        case OP.OFFSET:
          this.offsets.active = row.value - 1;
          this.done = row.seq;
          break;
        case OP.PAUSE:
          this.done = row.seq;
          this.state = 'pause';
          this.message = 'the program asks for a person';
          return false;
        case OP.END:
          this.head.off();
          this.done = row.seq;
          break;
        default:
          this.head.act(row);
          this.done = row.seq;
          if (this.head.waited) return true;
      }
    }
    return false;
  }

  private isInMotion({ kind, value, output }: Row): boolean {
    return kind > OP.FEED && this.head.inMotion({ kind, value, output });
  }

  /** Plans all waiting moves up to the next row that is not one. */
  private planStretch(speed = 0): void {
    const rows: Row[] = [];
    while (rows.length < QUEUE_LIMIT) {
      // What is switched in step with the motion goes with the move it stands before; without one it waits.
      let ahead = 0;
      while (ahead < this.queue.length && this.isInMotion(this.queue[ahead])) ahead++;
      if (!(this.queue[ahead]?.kind <= OP.FEED)) break;
      const switches = this.queue.splice(0, ahead);
      const move = this.queue.shift()!;
      rows.push(ahead > 0 ? { ...move, with: [...switches, ...(move.with ?? [])] } : move);
    }
    this.stretch = new Stretch(rows, this.position, this.limits, this.jogging ? 1 : this.override.feed, speed);
    this.begun = Math.max(this.begun, rows[0].seq);
  }

  /** Gives the seconds that are left over when it ends before. */
  private followStretch(now: Stretch, seconds: number): number {
    // New moves came in: plan on from here, at the present speed, so that it need not stop between.
    const next = this.queue.find((row) => !this.isInMotion(row));
    const waiting = next !== undefined && next.kind <= OP.FEED;
    if (waiting && now.left.length < QUEUE_LIMIT / 2) this.replan(now.speed);
    const stretch = this.stretch!;
    const { pace } = this;
    const used = stretch.follow(seconds * pace, (to, row, done, took) => {
      const switches = row.with?.splice(0) ?? [];
      if (this.dark) {
        // What is switched while it comes to rest waits for the second time it goes this way.
        if (done) this.dark.passed.push({ ...row, with: switches });
        else row.with = switches;
      } else switches.forEach((one) => this.head.act(one));
      this.head.sweep(this.position, to, row.kind === OP.RAPID, row.value, took / pace);
      this.position = [...to];
      this.begun = Math.max(this.begun, row.seq);
      if (done) this.done = Math.max(this.done, row.seq);
    });
    if (this.head.crash) {
      this.raise(this.head.crash);
      return 0;
    }
    if (!stretch.over) return 0;
    if (this.queue.length === 0 && !this.jogging) this.dry++;
    this.stretch = null;
    return Math.max(0, seconds - used / this.pace);
  }

  /** Plans anew from where it is, with what has come in since. @param speed it has now at full pace, mm/s. */
  private replan(speed: number): void {
    this.queue.unshift(...this.stretch!.left);
    const begun = this.begun;
    this.planStretch(speed);
    this.begun = Math.max(begun, this.begun);
  }

  /** Braking for a hold: time itself slows, so the bit stays on its path. */
  private setPace(seconds: number): void {
    const moving = this.stretch?.speed ?? 0;
    const rate = moving > 1e-6 ? Math.min(...this.limits.acceleration) / moving : Infinity;
    if (this.holding) this.pace = Math.max(0, this.pace - rate * Math.min(seconds, SLICE));
    else if (this.pace > 1) this.pace = Math.max(1, this.pace - rate * Math.min(seconds, SLICE));
    else this.pace = Math.min(1, Math.max(this.pace, 0.02) + rate * Math.min(seconds, SLICE));
  }

  private settle(forgetLines = true): void {
    this.flush(forgetLines);
    // A stop clears no alarm: only a person does, who has seen what it was.
    if (this.isAlarmed()) return;
    this.state = 'idle';
    this.message = '';
  }

  private flush(forgetLines = true): void {
    this.queue.length = 0;
    this.planned = null;
    this.stretch = null;
    this.wait = 0;
    this.pace = 1;
    this.holding = false;
    this.stopping = false;
    this.homing = null;
    this.jogging = this.jogEnded = false;
    this.dark = null;
    if (forgetLines) {
      this.awaitsStart = false;
      this.expected = 1;
      this.tag = '';
      this.reader = new ProgramReader();
    }
    this.syncReader();
  }

  private raise(why: string): string {
    this.flush();
    this.state = 'alarm';
    this.message = why;
    this.head.off();
    return why;
  }

  /** Z up first, then X and Y, each to its switch. */
  private advanceHoming(seconds: number): void {
    const homing = this.homing!;
    let step = HOMING_SPEED * seconds;
    while (step > 0) {
      const way = homing.axis === 2 ? 1 : -1;
      const before = this.position[homing.axis];
      const gap = Math.abs(before);
      const go = Math.min(step, gap);
      this.position[homing.axis] = before + way * go;
      step -= go;
      if (go < gap - 1e-12) return;
      this.position[homing.axis] = 0;
      if (homing.axis === 2) homing.axis = 0;
      else if (homing.axis === 0) homing.axis = 1;
      else {
        this.homing = null;
        this.homed = true;
        // Found anew by its switches: what its drives had lost is made good.
        this.head.slip = [0, 0, 0];
        this.state = 'idle';
        this.syncReader();
        return;
      }
    }
  }

  /** Probes straight towards the target until something closes the circuit. */
  private doProbe(row: Row): void {
    const from = this.position;
    const to = row.target;
    if (this.head.live) {
      this.raise(`probing, and ${this.head.live}`);
      return;
    }
    const length = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]);
    const steps = Math.max(1, Math.ceil(length / PROBE_STEP));
    const { head } = this;
    const upright = to[0] === from[0] && to[1] === from[1];
    let at: Triple = [...from];
    for (let i = 1; i <= steps; i++) {
      const f = i / steps;
      const next: Triple = [from[0] + f * (to[0] - from[0]), from[1] + f * (to[1] - from[1]), from[2] + f * (to[2] - from[2])];
      const surface = head.touches(next);
      if (surface !== null) {
        // Straight down the height of what is touched is met exactly, not to a step.
        if (upright) next[2] = surface;
        this.position = next;
        this.wait = (length * f * 60) / Math.max(1, row.value);
        this.probe = { touched: true, position: [...next] };
        this.syncReader();
        return;
      }
      if (head.presses(next)) {
        this.position = at;
        this.probe = { touched: false, position: [...at] };
        this.raise('the probe went past where the touch plate should be and met the board: is the plate under the bit, and its wire whole?');
        return;
      }
      at = next;
    }
    this.position = at;
    this.probe = { touched: false, position: [...at] };
    this.raise('the probe reached the end of its way without touching anything');
  }

  /** Where the queue will end, machine coordinates. */
  private plannedEnd(): Triple {
    for (let i = this.queue.length - 1; i >= 0; i--) if (this.queue[i].kind <= OP.FEED || this.queue[i].kind === OP.PROBE) return [...this.queue[i].target];
    if (this.stretch) return [...this.stretch.end];
    return [...this.position];
  }

  private syncReader(): void {
    const end = this.plannedEnd();
    const { all, active } = (this.queued > 0 && this.planned) || this.offsets;
    const offset = all[active];
    this.reader.setPosition(end[0] - offset[0], end[1] - offset[1], end[2] - offset[2]);
  }

  /** Ends of the travel, machine coordinates. */
  private get reach(): { low: number[]; high: number[] } {
    const { travel } = this.limits;
    return { low: [0, 0, -travel[2]], high: [travel[0], travel[1], 0] };
  }

  private limitCrossed(target: readonly number[]): string | null {
    const { low, high } = this.reach;
    for (let axis = 0; axis < 3; axis++) {
      if (target[axis] < low[axis] - 1e-3 || target[axis] > high[axis] + 1e-3)
        return `${'XYZ'[axis]} would go to ${target[axis].toFixed(2)} and its travel is ${low[axis]} to ${high[axis]} (machine coordinates)`;
    }
    return null;
  }
}
