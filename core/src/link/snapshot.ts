/** What an agent knows of its machine, its set-up and its run: what it tells the web application ten times a second. */

import type { Reading } from '../board/thickness.ts';
import type { Pause, RunStage } from '../process/index.ts';
import type { MachineStatus, Triple } from './machine.ts';

export interface RunState {
  id: string;
  name: string;
  sha256: string;
  /** `stopping`: Stop was pressed and the machine has not confirmed that it stands. */
  state: RunStage;
  message: string;
  /** Lines of the released program finished, and in all. */
  line: number;
  lines: number;
  /** Lines sent to the machine at most: after an end that nobody saw, what lies between may have been cut. */
  sent: number;
  /** What a pause asks for, while it is paused. */
  pause: Pause | null;
  startedAt: string;
  endedAt: string | null;
  /** Where nobody may leave it alone: seconds until it holds unless somebody says that they are there, of so many. */
  presence?: { left: number; every: number };
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
  /** How it was found, in words, and with what; states kept by an older agent do not say with what. */
  method: string;
  with?: 'plate' | 'paper' | 'block' | 'torch' | 'focus' | 'gauge';
  /** Set lower by hand since, mm; higher when below zero. */
  deeper?: number;
  /** Reading of the tool sensor of the bit it was set with; null where it was not measured. */
  reading: number | null;
  /** The bit it was touched with: without a sensor it holds for that bit alone. */
  bit: string | null;
}

/** What an event of a run was, beside its words. Shares are 1 for what was programmed, speeds rev/min. */
export type RunFacts =
  | { kind: 'override'; feed: number; spindle: number }
  | { kind: 'spindle-slow'; asked: number; actual: number }
  | { kind: 'paused'; pause: Pause }
  /** By a person, by the machine's own lid or button, because nothing held the board, or because nobody said that they were there. */
  | { kind: 'held'; by: 'person' | 'machine' | 'vacuum' | 'nobody' };

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
