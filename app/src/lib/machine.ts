/** What the browser knows of the machine: the agent's snapshot, sent ten times a second. */
export interface MachineState {
  state: 'idle' | 'run' | 'hold' | 'pause' | 'home' | 'alarm' | 'estop';
  homed: boolean;
  estop: boolean;
  message: string;
  machine: [number, number, number];
  work: [number, number, number];
  offset: [number, number, number];
  queued: number;
  speed: number;
  spindle: { target: number; actual: number };
  sensor: { x: number; y: number; radius: number; height: number };
  travel: [number, number, number];
  world: {
    board: { x: number; y: number; width: number; height: number; thickness: number } | null;
    bit: string | null;
    plate: { x: number; y: number; thickness: number } | null;
    probeClip: boolean;
    crash: string | null;
    revision: number;
  };
  rate: number;
}

export interface RunSnapshot {
  id: string;
  name: string;
  sha256: string;
  state: 'running' | 'held' | 'bit-change' | 'link-lost' | 'done' | 'stopped' | 'failed';
  message: string;
  line: number;
  lines: number;
  bit: string | null;
  startedAt: string;
  endedAt: string | null;
  seconds: number;
}

export interface MachineSnapshot {
  /** False when the agent itself cannot be reached. */
  agent: boolean;
  link: boolean;
  status: MachineState | null;
  setup: {
    bitReading: number | null;
    bitFitted: string | null;
    zeroXY: { corner: string } | null;
    zeroZ: { datum: 'top' | 'spoilboard'; method: string; reading: number | null } | null;
  };
  run: RunSnapshot | null;
}

export const NO_MACHINE: MachineSnapshot = {
  agent: false,
  link: false,
  status: null,
  setup: { bitReading: null, bitFitted: null, zeroXY: null, zeroZ: null },
  run: null,
};
