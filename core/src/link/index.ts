/**
 * What travels between machine, agent and web application, as types: the status a machine answers
 * with (docs/machine-link.md), and what the agent knows of set-up and run. Positions are mm.
 */

import type { Reading } from '../setup/thickness.ts';

export type Triple = [number, number, number];

export type MachineMode = 'idle' | 'run' | 'hold' | 'pause' | 'home' | 'alarm' | 'estop';

export interface MachineStatus {
  state: MachineMode;
  homed: boolean;
  estop: boolean;
  /** Why it is in alarm, or what a pause asks for. */
  message: string;
  machine: Triple;
  work: Triple;
  offset: Triple;
  /** Which work offset is in force, as its word: G54 … */
  workOffset: string;
  /** Last line begun, last line finished, and lines waiting. */
  begun: number;
  done: number;
  queued: number;
  /** Number the next line must carry. */
  expected: number;
  /** mm/s along the path. */
  speed: number;
  /** rev/min; power: the switch of its own box. */
  spindle: { target: number; actual: number; power: boolean };
  /** Shares of the programmed feed and spindle speed. */
  override: { feed: number; spindle: number };
  /** Counts power-ons and resets; the lines are counted anew after each. */
  boot: number;
  /** What the lines are counted for, as the last restart named it. */
  tag: string;
  /** How often the motion ran dry, and when it last began to brake (milliseconds of its clock). */
  dry: number;
  brakedAt: number | null;
  /** Machine position of the last touch, or of the end of the way without one. */
  probe: { touched: boolean; position: Triple } | null;
  /** Where the tool sensor stands; null where there is none. */
  sensor: { x: number; y: number; radius: number; height: number } | null;
  travel: Triple;
  /** The simulated machine's world, as a person beside it would see it. */
  world: {
    board: { x: number; y: number; width: number; height: number; thickness: number } | null;
    bit: string | null;
    /** A probe pin is in the collet instead of a bit. */
    pin: boolean;
    plate: { x: number; y: number; thickness: number } | null;
    probeClip: boolean;
    block: { corner: string; size: number; lip: number; thickness: number } | null;
    clamps: { x: number; y: number; width: number; depth: number; height: number }[];
    lidOpen: boolean;
    vacuum: boolean;
    dust: boolean;
    pinsUp: boolean;
    /** Counts every time a bit is put in or taken out. */
    fitting: number;
    crash: string | null;
    /** Counts every change of the carved surface. */
    revision: number;
  };
  /** How much faster than the clock it runs. */
  rate: number;
}

/** What a machine answers with that rests at its corner and has been told nothing; a link that cannot know better starts from it. */
export const restingStatus = (): MachineStatus => ({
  state: 'idle',
  homed: false,
  estop: false,
  message: '',
  machine: [0, 0, 0],
  work: [0, 0, 0],
  offset: [0, 0, 0],
  workOffset: 'G54',
  begun: 0,
  done: 0,
  queued: 0,
  expected: 1,
  speed: 0,
  spindle: { target: 0, actual: 0, power: true },
  override: { feed: 1, spindle: 1 },
  boot: 1,
  tag: '',
  dry: 0,
  brakedAt: null,
  probe: null,
  sensor: null,
  travel: [0, 0, 0],
  world: {
    board: null,
    bit: null,
    pin: false,
    plate: null,
    probeClip: false,
    block: null,
    clamps: [],
    lidOpen: false,
    vacuum: true,
    dust: true,
    pinsUp: false,
    fitting: 0,
    crash: null,
    revision: 0,
  },
  rate: 1,
});

export interface RunState {
  id: string;
  name: string;
  sha256: string;
  /** `stopping`: Stop was pressed and the machine has not confirmed that it stands. */
  state: 'running' | 'held' | 'bit-change' | 'link-lost' | 'stopping' | 'done' | 'stopped' | 'failed';
  message: string;
  /** Lines of the released program finished, and in all. */
  line: number;
  lines: number;
  /** Lines sent to the machine at most: after an end that nobody saw, what lies between may have been cut. */
  sent: number;
  /** The next bit, when a change is asked for. */
  bit: string | null;
  startedAt: string;
  endedAt: string | null;
  /** Seconds under way, holds and bit changes left out; and of these with each bit, by its id. */
  seconds: number;
  bitSeconds: Record<string, number>;
}

/** What a zero was set for, and when: for another job, or on another day, it must be touched or kept on purpose. */
export interface SetFor {
  /** The job's id; null when it was set for none. */
  job: string | null;
  at: string;
}

export interface ZeroXY extends SetFor {
  corner: string;
  /** How it was found, in words. */
  by: string;
  /** Turn of the job on the bed, radians counter-clockwise. */
  angle: number;
}
export interface ZeroZ extends SetFor {
  datum: 'top' | 'spoilboard';
  method: string;
  /** Reading of the tool sensor of the bit it was set with; null where it was not measured. */
  reading: number | null;
  /** The bit it was touched with: without a sensor it holds for that bit alone. */
  bit: string | null;
}

/** The run that is set up for: which released program, and the line it begins at. */
export interface NextRun {
  sha256: string;
  from: number;
}

/** What a person has said of a set-up step; `skipped` when they went on without it. */
export interface Confirmation {
  id: string;
  /** What it was said of: another release, another bit, and it counts no more. */
  key: string;
  by: string;
  at: string;
  skipped: boolean;
}

/** What has been set up and seen at the machine. */
export interface Setup {
  /** Machine Z at which the fitted bit touched the tool sensor. */
  bitReading: number | null;
  bitFitted: string | null;
  /** When the fitted bit was measured. */
  measuredAt: string | null;
  /** The last reading of each bit, by its id. */
  lengths: Record<string, number>;
  /** A change of bit that was begun and not finished: the spindle does not start. */
  changing: boolean;
  zeroXY: ZeroXY | null;
  zeroZ: ZeroZ | null;
  /** Zeros of the work offsets that are not in force, by their words. */
  zeros: Record<string, { zeroXY: ZeroXY | null; zeroZ: ZeroZ | null }>;
  /** Hash of the program whose frame was driven since zero was set. */
  framed: string | null;
  confirmed: Confirmation[];
  /** How long the spindle has turned lately, seconds, and when it last did, milliseconds. */
  warm: { at: number; seconds: number } | null;
  /** Heights of the board's top, work coordinates, and whether programs follow them. */
  readings: Reading[];
  follow: boolean;
  /** Where the board lies on the bed: its lower-left corner, machine coordinates. It stays for the next board. */
  bed: { x: number; y: number };
  /** Places with names, machine coordinates. */
  places: { name: string; at: Triple }[];
  /** What was chosen to be run; null: the first program from its beginning, or what just ran. */
  next: NextRun | null;
}

/** A machine at which nothing has been set up yet. */
export const noSetup = (): Setup => ({
  bitReading: null,
  bitFitted: null,
  measuredAt: null,
  lengths: {},
  changing: false,
  zeroXY: null,
  zeroZ: null,
  zeros: {},
  framed: null,
  confirmed: [],
  warm: null,
  readings: [],
  follow: false,
  bed: { x: 180, y: 220 },
  places: [],
  next: null,
});

/** Warmth lasts this long after the spindle last turned, milliseconds. (Common practice: the first cut of the day.) */
export const WARM_FOR = 4 * 3600e3;

/** Seconds the spindle has turned for the warmth it still has: none once it has stood too long. */
export const warmSeconds = (warm: Setup['warm'], now: number): number => (warm !== null && now - warm.at < WARM_FOR ? warm.seconds : 0);

/** Does anything wait in the machine, move or turn? Then Stop has something to stop. */
export const isAlive = ({ state, queued, spindle }: MachineStatus): boolean =>
  queued > 0 || state === 'run' || state === 'hold' || state === 'home' || state === 'pause' || spindle.target !== 0 || spindle.actual > 0;

/** Who holds the controls: one person on one screen at a time. */
export interface Controls {
  by: string;
  /** The part of the browser tab's name that all may see. */
  tab: string;
  since: string;
  /** Who had them before, when they were taken over. */
  from: string | null;
}

export interface AgentSnapshot {
  /** Does the machine answer? */
  link: boolean;
  status: MachineStatus | null;
  setup: Setup;
  run: RunState | null;
  controls: Controls | null;
  /** What it is busy with outside a program, in words. */
  busy: string | null;
  /** Who pressed Stop, as long as the machine has not confirmed it. */
  stopWanted: string | null;
}
