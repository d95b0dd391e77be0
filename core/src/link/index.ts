/**
 * What travels between machine, agent and web application, as types: the status a machine answers
 * with (docs/machine-link.md), and what the agent knows of set-up and run. Positions are mm.
 */

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
  /** Last line begun, last line finished, and lines waiting. */
  begun: number;
  done: number;
  queued: number;
  /** Number the next line must carry. */
  expected: number;
  /** mm/s along the path. */
  speed: number;
  spindle: { target: number; actual: number };
  /** Machine position of the last touch, or of the end of the way without one. */
  probe: { touched: boolean; position: Triple } | null;
  sensor: { x: number; y: number; radius: number; height: number };
  travel: Triple;
  /** The simulated machine's world, as a person beside it would see it. */
  world: {
    board: { x: number; y: number; width: number; height: number; thickness: number } | null;
    bit: string | null;
    plate: { x: number; y: number; thickness: number } | null;
    probeClip: boolean;
    crash: string | null;
    /** Counts every change of the carved surface. */
    revision: number;
  };
  /** How much faster than the clock it runs. */
  rate: number;
}

export interface RunState {
  id: string;
  name: string;
  sha256: string;
  state: 'running' | 'held' | 'bit-change' | 'link-lost' | 'done' | 'stopped' | 'failed';
  message: string;
  /** Program lines finished, and in all. */
  line: number;
  lines: number;
  /** The next bit, when a change is asked for. */
  bit: string | null;
  startedAt: string;
  endedAt: string | null;
  /** Seconds under way, holds and bit changes left out. */
  seconds: number;
}

/** What has been set up and seen at the machine. */
export interface Setup {
  /** Machine Z at which the fitted bit touched the tool sensor. */
  bitReading: number | null;
  bitFitted: string | null;
  zeroXY: { corner: string } | null;
  zeroZ: { datum: 'top' | 'spoilboard'; method: 'plate' | 'paper'; reading: number | null } | null;
}

export interface AgentSnapshot {
  /** Does the machine answer? */
  link: boolean;
  status: MachineStatus | null;
  setup: Setup;
  run: RunState | null;
}
