/** Set-up moves, each in the safe order, and what has been set and seen at the machine. */
import { createHash } from 'node:crypto';
import { noSetup, warmSeconds, type Confirmation, type MachineStatus, type RunState, type Setup, type Triple, type ZeroZ } from '@kerbe/core/link';
import type { Holder } from '@kerbe/core/job';
import { afterBitChange, edgeFrom, INWARDS, inTheWay, turned, zeroUnder, type Corner } from '@kerbe/core/setup';
import { num, type ManualControl } from './hands.ts';
import type { Journal } from './journal.ts';

const PROBE_FEED = 240;
/** How far a probe backs off from a side it touched, mm. */
const BACK_OFF = 4;
/** A bit that measures this much other than last time may be another one, or sit otherwise. */
const LENGTH_DOUBT = 3;

export interface Block {
  size: number;
  lip: number;
  thickness: number;
}

export class SetUp {
  state: Setup;
  private readonly hands: ManualControl;
  private readonly journal: Journal;
  /** The middle of the corner block and its top, from its Z probing: the sides are probed from there. */
  private blockAt: Triple | null = null;
  private fitting: number | null = null;
  private boot: number | null = null;
  private lastWarm = 0;

  /** Which machine all this was set up at. */
  private machine: string;

  constructor(hands: ManualControl, journal: Journal, machine: string) {
    this.hands = hands;
    this.journal = journal;
    this.machine = machine;
    this.state = { ...noSetup(), ...journal.load<Partial<Setup>>(fileOf(machine)) };
  }

  private get status(): MachineStatus {
    return this.hands.status!;
  }

  get sensor(): MachineStatus['sensor'] {
    return this.hands.status?.sensor ?? null;
  }

  /** Goes over to another machine: what stands on it stays its own; what was touched, measured and said must be so anew. */
  goTo(machine: string): void {
    this.machine = machine;
    const { places, bed, lengths } = { ...noSetup(), ...this.journal.load<Partial<Setup>>(fileOf(machine)) };
    this.fitting = this.boot = this.blockAt = null;
    this.lastWarm = 0;
    this.state = { ...noSetup(), places, bed, lengths };
    this.remember({});
  }

  /** Another board is laid down: its top is another, and so is how it lies. */
  newBoard(): void {
    const { zeroXY, zeroZ, zeros } = this.state;
    this.remember({
      zeroXY: zeroXY && zeroXY.angle !== 0 ? null : zeroXY,
      zeroZ: zeroZ?.datum === 'top' ? null : zeroZ,
      zeros: Object.fromEntries(Object.entries(zeros).map(([key, zero]) => [key, { ...zero, zeroZ: zero.zeroZ?.datum === 'top' ? null : zero.zeroZ }])),
      framed: null,
      readings: [],
      follow: false,
      confirmed: [],
    });
  }

  /** A person says which bit is in the collet. Fitted anew it stands out by another length. */
  fitted(bit: string, still: boolean): void {
    const { state } = this;
    if (still && state.bitFitted === bit) return;
    this.remember({
      bitFitted: bit,
      bitReading: null,
      measuredAt: null,
      changing: false,
      // With a sensor the difference of two readings moves Z0; without one it is touched again.
      zeroZ: this.sensor ? state.zeroZ : null,
      confirmed: state.confirmed.filter(({ id }) => id !== 'collet'),
    });
  }

  /** The zero holds for this job, and today: somebody looked. */
  keepZero(job: string | null): string | null {
    const { zeroXY, zeroZ } = this.state;
    const why = this.needZero();
    if (why) return why;
    const now = { job, at: new Date().toISOString() };
    this.remember({ zeroXY: { ...zeroXY!, ...now }, zeroZ: { ...zeroZ!, ...now } });
    return null;
  }

  remember(change: Partial<Setup>): void {
    this.state = { ...this.state, ...change };
    try {
      this.journal.save(fileOf(this.machine), this.state);
    } catch {
      // The set-up still stands in memory; the run itself will say that the disk is full.
    }
  }

  /** Goes by what the machine shows: what it has forgotten is forgotten here, and a bit that was touched is unmeasured. */
  tick(status: MachineStatus, passed: number): void {
    const { state } = this;
    if (!status.homed && (state.zeroXY || state.zeroZ || Object.keys(state.zeros).length > 0))
      this.remember({ zeroXY: null, zeroZ: null, zeros: {}, framed: null, readings: [], follow: false });
    // Switched off and on again: whoever was there then may not be there now.
    if (this.boot !== null && this.boot !== status.boot) this.remember({ confirmed: [], framed: null });
    const fitting = status.world?.fitting ?? 0;
    if (this.boot === status.boot && this.fitting !== null && this.fitting !== fitting)
      this.remember({
        bitReading: null,
        // What is measured is fitted; without a sensor it is what the machine shows.
        bitFitted: this.sensor ? null : (status.world?.bit ?? null),
        measuredAt: null,
        changing: this.sensor !== null || !status.world?.bit,
        zeroZ: state.zeroZ?.reading == null ? null : state.zeroZ,
        confirmed: this.state.confirmed.filter(({ id }) => id !== 'collet' && id !== 'bit'),
      });
    // Where the block was found was found with the bit of then.
    if (this.fitting !== fitting) this.blockAt = null;
    this.fitting = fitting;
    this.boot = status.boot;
    if (status.spindle && status.spindle.actual > 0) {
      const seconds = warmSeconds(state.warm, Date.now()) + passed;
      this.state = { ...state, ...this.state, warm: { at: Date.now(), seconds } };
      // Warmth is written down now and then only: it changes with every status.
      if (Math.abs(seconds - this.lastWarm) > 10) {
        this.lastWarm = seconds;
        this.remember({});
      }
    }
  }

  needZero(): string | null {
    if (!this.state.zeroXY) return 'X and Y zero have not been set.';
    if (!this.state.zeroZ) return 'Z zero has not been set.';
    return null;
  }

  /** The spindle may not turn while a bit is being changed. */
  needBit(): string | null {
    if (this.sensor && this.state.bitReading === null) return 'The bit has not been measured since it was fitted.';
    if (this.state.changing) return 'A change of bit is open: measure the new bit first.';
    return this.state.bitFitted === null ? 'Say first which bit is fitted.' : null;
  }

  /** Without a sensor Z zero holds for the bit that touched it, and for no other. */
  needTouch(): string | null {
    if (this.sensor || this.state.zeroZ?.bit === this.state.bitFitted) return null;
    return 'Z zero was touched with another bit, and this machine has no sensor to measure the difference. Touch it again with the bit that is fitted.';
  }

  /** X0, Y0 or both where the bit stands, or at a machine position. */
  zeroXY(corner: string, by: string, at: Partial<{ x: number; y: number }>, angle: number, job: string | null): Promise<string | null> {
    return this.hands.macro('setting zero', async () => {
      const { machine } = this.status;
      const both = at.x === undefined && at.y === undefined;
      const words = [
        ...(both || at.x !== undefined ? [`X${num(machine[0] - (at.x ?? machine[0]))}`] : []),
        ...(both || at.y !== undefined ? [`Y${num(machine[1] - (at.y ?? machine[1]))}`] : []),
      ];
      const refused = await this.hands.gcode([`G21 G90 G10 L20 P0 ${words.join(' ')}`]);
      if (!refused) this.remember({ zeroXY: { corner, by, angle, ...setFor(job) }, framed: null });
      return refused;
    });
  }

  /** Brings the bit over a machine position in the safe order: Z up, then X and Y. */
  moveOver(x: number, y: number): Promise<string | null> {
    return this.hands.macro('moving', () => this.hands.gcode(['G21 G90', 'G53 G0 Z0', `G53 G0 X${num(x)} Y${num(y)}`]));
  }

  /**
   * Finds Z0 with the touch plate under the bit. The plate lies on `on`; when that is not the face
   * the program counts from, `board` mm of wood lie between.
   */
  zeroZByPlate(thickness: number, datum: ZeroZ['datum'], on: ZeroZ['datum'], board: number, job: string | null): Promise<string | null> {
    return this.hands.macro('probing', async () => {
      const touch = await this.probeDown();
      if (typeof touch === 'string') return touch;
      return this.setZ(zeroUnder(touch[2], thickness) + facesApart(datum, on, board), datum, `plate on the ${faceName(on)}`, 'plate', job);
    });
  }

  /** Sets Z0 where a torch feels the plate, which its program does again before it pierces, or where a distance sensor finds the focus. */
  zeroZByFeeling(by: 'torch' | 'focus', job: string | null): Promise<string | null> {
    return this.hands.macro(by === 'torch' ? 'feeling for the plate' : 'looking for the focus', async () => {
      const touch = await this.probeDown();
      if (typeof touch === 'string') return touch;
      return this.setZ(touch[2], 'top', by === 'torch' ? 'torch on the plate' : 'distance sensor', by, job);
    });
  }

  /** Sets Z0 where the surface is in focus: here, as the focus gauge just fits, or so much lower as was measured and typed. */
  zeroZByGauge(above: number, job: string | null): Promise<string | null> {
    return this.hands.macro('setting the focus', () =>
      this.setZ(zeroUnder(this.status.machine[2], above), 'top', above > 0 ? 'focus typed' : 'focus gauge', 'gauge', job, 5),
    );
  }

  /** Sets Z0 with the bit just gripping a paper. */
  zeroZByPaper(thickness: number, datum: ZeroZ['datum'], on: ZeroZ['datum'], board: number, job: string | null): Promise<string | null> {
    return this.hands.macro('setting zero', () =>
      this.setZ(zeroUnder(this.status.machine[2], thickness) + facesApart(datum, on, board), datum, `paper on the ${faceName(on)}`, 'paper', job, 5),
    );
  }

  /** Touches a corner block: its top over the middle, then its sides from there. Flutes are turned by hand in between. */
  probeBlock(
    axis: 'x' | 'y' | 'z',
    corner: Corner,
    block: Block,
    radius: number,
    datum: ZeroZ['datum'],
    board: number,
    job: string | null,
  ): Promise<string | null> {
    return this.hands.macro('probing the corner block', async () => {
      if (axis === 'z') {
        const touch = await this.probeDown();
        if (typeof touch === 'string') return touch;
        this.blockAt = touch;
        return this.setZ(zeroUnder(touch[2], block.thickness) + facesApart(datum, 'top', board), datum, 'corner block', 'block', job);
      }
      const middle = this.blockAt;
      if (!middle) return 'Touch the top of the block first: its sides are looked for from there.';
      const k = axis === 'x' ? 0 : 1;
      const letter = axis.toUpperCase();
      const sign = INWARDS[corner][k];
      const out = middle[k] - sign * (block.size / 2 + block.lip + radius + 8);
      const refused = await this.hands.gcode([
        'G21 G90',
        'G53 G0 Z0',
        `G53 G0 X${num(middle[0])} Y${num(middle[1])}`,
        `G53 G0 ${letter}${num(out)}`,
        `G53 G0 Z${num(middle[2] - block.thickness / 2)}`,
        'G91',
        `G38.2 ${letter}${num(sign * (block.size / 2 + block.lip + 16))} F${PROBE_FEED}`,
        `G0 ${letter}${num(-sign * BACK_OFF)}`,
        'G90',
        'G53 G0 Z0',
      ]);
      if (refused) return refused;
      const { probe, machine } = this.status;
      if (!probe?.touched) return 'The side of the block was not touched.';
      const edge = edgeFrom(probe.position[k], sign, radius, block.lip);
      const set = await this.hands.gcode([`G21 G90 G10 L20 P0 ${letter}${num(machine[k] - edge)}`]);
      if (set) return set;
      const half = `corner block, ${letter}`;
      const other = this.state.zeroXY?.by === `corner block, ${axis === 'x' ? 'Y' : 'X'}` && this.state.zeroXY.corner === `half ${corner}`;
      this.remember({
        zeroXY: { ...(other ? { corner, by: 'corner block' } : { corner: `half ${corner}`, by: half }), angle: 0, ...setFor(job) },
        framed: null,
      });
      return null;
    });
  }

  /** Sets Z0 lower or higher than it was found: what a carve was too shallow by. */
  nudge(deeper: number): Promise<string | null> {
    return this.hands.macro('setting zero', async () => {
      const { zeroZ } = this.state;
      const refused = await this.hands.gcode([`G21 G90 G10 L20 P0 Z${num(this.status.work[2] + deeper)}`]);
      if (!refused && zeroZ) {
        this.remember({ zeroZ: { ...zeroZ, deeper: Math.round(((zeroZ.deeper ?? 0) + deeper) * 1e4) / 1e4 } });
      }
      return refused;
    });
  }

  /** Goes over to another work offset; each keeps the zeros that were set in it. */
  useOffset(word: string): Promise<string | null> {
    return this.hands.macro('changing the work offset', async () => {
      const before = this.status.workOffset;
      if (before === word) return null;
      const refused = await this.hands.gcode([word]);
      if (refused) return refused;
      const { zeroXY, zeroZ, zeros } = this.state;
      const next = zeros[word] ?? { zeroXY: null, zeroZ: null };
      const rest = Object.fromEntries(Object.entries(zeros).filter(([key]) => key !== word));
      this.remember({ ...next, zeros: { ...rest, [before]: { zeroXY, zeroZ } }, framed: null, readings: [], follow: false });
      return null;
    });
  }

  /** Measures the fitted bit on the tool sensor; after a bit change Z0 moves by the difference of the readings. */
  measure(bit: string, sure: boolean): Promise<string | null> {
    return this.hands.macro('measuring the bit', async () => {
      const { sensor, travel } = this.status;
      const mute = this.hands.needProbe();
      if (mute) return mute;
      if (!sensor) return 'This machine has no tool sensor. Touch Z zero again with the bit that is fitted.';
      const refused = await this.hands.gcode([
        'G21 G90',
        'G53 G0 Z0',
        `G53 G0 X${num(sensor.x)} Y${num(sensor.y)}`,
        'G91',
        `G38.2 Z${num(0.5 - travel[2])} F${PROBE_FEED * 2}`,
        'G90',
      ]);
      if (refused) return refused;
      const { probe } = this.status;
      if (!probe?.touched) return 'The tool sensor was not touched. Is a bit fitted?';
      const reading = probe.position[2];
      const before = this.state.lengths[bit];
      if (before !== undefined && !sure && Math.abs(reading - before) > LENGTH_DOUBT) {
        const up = await this.hands.gcode(['G53 G0 Z0']);
        const longer = reading > before ? 'longer' : 'shorter';
        return (
          up ??
          `This bit measures ${Math.abs(reading - before).toFixed(1)} mm ${longer} than last time. Is it the right one, and held as before? Measure again when you are sure.`
        );
      }
      const lines = ['G53 G0 Z0'];
      const { zeroZ, zeros } = this.state;
      if (zeroZ && zeroZ.reading !== null && Math.abs(reading - zeroZ.reading) > 1e-6) {
        // Z stands at the top after the move: work zero is put where the new tip will meet it.
        lines.push(`G10 L20 P0 Z${num(0 - afterBitChange(this.status.offset[2], zeroZ.reading, reading))}`);
      }
      const set = await this.hands.gcode(lines);
      if (set) return set;
      this.remember({
        bitReading: reading,
        bitFitted: bit,
        measuredAt: new Date().toISOString(),
        changing: false,
        lengths: { ...this.state.lengths, [bit]: reading },
        zeroZ: zeroZ && (zeroZ.reading === null ? null : { ...zeroZ, reading, bit }),
        // The other offsets were set with the length of the last bit: their Z no longer holds.
        zeros: Object.fromEntries(Object.entries(zeros).map(([key, zero]) => [key, { ...zero, zeroZ: zero.zeroZ?.reading === reading ? zero.zeroZ : null }])),
      });
      return null;
    });
  }

  /** Z up, then X and Y, then Z down to clearance above zero: never straight down. */
  goToZero(clearance: number): Promise<string | null> {
    return this.hands.macro('going to zero', () => this.hands.gcode(['G21 G90', 'G53 G0 Z0', 'G0 X0 Y0', `G0 Z${num(Math.max(1, clearance))}`]));
  }

  /** Drives round a program at a safe height, spindle off, when nothing stands in that way; with a beam too weak to mark, where that is asked for. */
  frame(
    way: [number, number][],
    height: number,
    sha256: string,
    holders: Holder[],
    reach: number,
    beam?: { level: number; feed: number },
    pointer: readonly [number, number] = [0, 0],
  ): Promise<string | null> {
    const level = Math.max(5, height);
    const angle = this.state.zeroXY?.angle ?? 0;
    // The pointer goes round the job; the head beside it, by as much on the machine's axes however the board lies.
    const [aside, across] = turned(pointer, -angle);
    way = way.map(([x, y]) => [x - aside, y - across]);
    const hit = inTheWay(way, level, holders, reach);
    if (hit)
      return Promise.resolve(
        `A ${hit.kind} stands in the way of the frame: it is ${hit.height.toFixed(0)} mm high there and the bit would pass at ${level.toFixed(0)} mm. Move it, or frame higher.`,
      );
    const points = way.map((point) => turned(point, angle));
    const beyond = this.beyond(points, level);
    if (beyond) return Promise.resolve(beyond);
    return this.hands.macro('framing', async () => {
      const refused = await this.hands.gcode([
        'G21 G90',
        'G53 G0 Z0',
        `G0 X${num(points[0][0])} Y${num(points[0][1])}`,
        `G0 Z${num(level)}`,
        // By the speed: where it stands, nothing shines.
        ...(beam ? [`M4 S${num(beam.level)}`] : []),
        ...points.map(([x, y]) => `G1 X${num(x)} Y${num(y)} F${num(beam?.feed ?? 6000)}`),
        ...(beam ? ['M5'] : []),
        'G53 G0 Z0',
      ]);
      if (beam && refused) await this.hands.command('stop');
      if (!refused) this.remember({ framed: sha256 });
      return refused;
    });
  }

  /** Why a way at a height cannot be driven from this zero: said before anything moves. */
  private beyond(points: readonly (readonly [number, number])[], level: number): string | null {
    const { offset, travel } = this.status;
    for (let axis = 0; axis < 2; axis++) {
      if (!(travel[axis] > 0)) continue;
      const along = points.map((point) => point[axis] + offset[axis]);
      const over = Math.max(-Math.min(...along), Math.max(...along) - travel[axis]);
      if (over > 0)
        return `From this zero the frame would reach ${over.toFixed(1)} mm beyond the end of ${'XY'[axis]}. Check the corner that zero was set at, or move the board.`;
    }
    const high = level + offset[2];
    return high > 0 ? `The frame would pass ${high.toFixed(1)} mm higher than Z can go. Frame lower.` : null;
  }

  /** Lets the spindle run itself warm, Z at the top. Stop ends it. */
  warmUp(speed: number, seconds: number): Promise<string | null> {
    return this.hands.macro('warming the spindle', () => this.hands.gcode(['G21 G90', 'G53 G0 Z0', `S${Math.round(speed)} M3`, `G4 P${num(seconds)}`, 'M5']));
  }

  /** The height of the board's top under the bit, by the touch plate that lies there: one reading of the thickness map. */
  takeReading(thickness: number): Promise<string | null> {
    return this.hands.macro('probing', async () => {
      const touch = await this.probeDown();
      if (typeof touch === 'string') return touch;
      const { offset } = this.status;
      const up = await this.hands.gcode(['G53 G0 Z0']);
      if (up) return up;
      const [x, y] = [touch[0] - offset[0], touch[1] - offset[1]];
      const height = touch[2] - thickness - offset[2];
      this.addReading({ x, y, height });
      return null;
    });
  }

  addReading(reading: Setup['readings'][number]): void {
    const near = (r: Setup['readings'][number]) => Math.hypot(r.x - reading.x, r.y - reading.y) < 5;
    this.remember({ readings: [...this.state.readings.filter((r) => !near(r)), reading] });
  }

  savePlace(name: string): void {
    const at = [...this.status.machine] as Triple;
    this.remember({ places: [...this.state.places.filter((place) => place.name !== name), { name, at }] });
  }

  forgetPlace(name: string): void {
    this.remember({ places: this.state.places.filter((place) => place.name !== name) });
  }

  confirm(word: Confirmation): void {
    this.remember({ confirmed: [...this.state.confirmed.filter(({ id }) => id !== word.id), word] });
  }

  unconfirm(id: string): void {
    this.remember({ confirmed: this.state.confirmed.filter((word) => word.id !== id) });
  }

  /**
   * After a run everything that was said before it must be said anew; what was set stays. Somebody who
   * stopped it and goes on has said it of this very board, and says once more that they are there.
   */
  afterRun(state: RunState['state']): void {
    this.remember({ next: null, ...(state === 'stopped' ? {} : { confirmed: [] }) });
  }

  /** Probes straight down from where the bit stands. Gives where it touched, or why it did not. */
  private async probeDown(): Promise<Triple | string> {
    const mute = this.hands.needProbe();
    if (mute) return mute;
    const { machine, travel } = this.status;
    const room = Math.max(0, machine[2] + travel[2] - 0.5);
    const refused = await this.hands.gcode(['G21 G91', `G38.2 Z${num(-room)} F${PROBE_FEED}`, 'G90']);
    if (refused) return refused;
    const { probe } = this.status;
    if (!probe?.touched) return 'Nothing was touched. Put the plate under the bit and its clip on the bit.';
    return [...probe.position];
  }

  private async setZ(zero: number, datum: ZeroZ['datum'], method: string, by: ZeroZ['with'], job: string | null, lift = 10): Promise<string | null> {
    const refused = await this.hands.gcode([`G21 G90 G10 L20 P0 Z${num(this.status.machine[2] - zero)}`, `G91 G0 Z${lift}`, 'G90']);
    if (!refused) {
      const { bitReading: reading, bitFitted: bit } = this.state;
      this.remember({ zeroZ: { datum, method, with: by, reading, bit, ...setFor(job) }, framed: null, readings: [], follow: false });
    }
    return refused;
  }
}

const setFor = (job: string | null) => ({ job, at: new Date().toISOString() });

/** Where the set-up of a machine is kept. */
const fileOf = (machine: string) => (machine === 'first' ? 'setup' : `setup-${createHash('sha256').update(machine).digest('hex').slice(0, 16)}`);

const faceName = (face: ZeroZ['datum']) => (face === 'top' ? 'top of the board' : 'spoilboard');

/** Height of the face a program counts from above the one that was touched, mm. */
const facesApart = (datum: ZeroZ['datum'], touched: ZeroZ['datum'], board: number): number => (datum === touched ? 0 : datum === 'top' ? board : -board);
