/**
 * What differs between kinds of machine, in one definition for each. Everything else asks the definition
 * of a job's process and never what kind it is. What a process makes of a job - the steps of its set-up, what
 * is done to the board - is registered on the floors where jobs are known: `setup/steps`, `proof/work`.
 */
import type { PowerWords } from '../program/power.ts';
import type { Reentry } from '../program/resume.ts';

export type ProcessName = 'router' | 'torch' | 'laser';

/** What a stop in a program asks for; `start` when the machine itself waits for its Start button. */
export type Pause = { reason: 'tool-change'; tool: string } | { reason: 'person' } | { reason: 'start' };

/** How far a run is. */
export type RunStage = 'running' | 'held' | 'paused' | 'link-lost' | 'stopping' | 'done' | 'stopped' | 'failed';

export interface ProcessDef {
  /** The kind of machine, and what it works with. */
  label: string;
  tool: { one: string; many: string };
  /** How a program says what is on, and how that is read back. */
  power: PowerWords;
  /** What is counted beside its time: how often it lifts, pierces or begins a row or a way. */
  counts: { one: string; many: string };
  /** What the header of a program says: of a tool at its speed; whether cuts have a depth of their own; what to beware of. */
  header: { switched(speed: number): string; depths: boolean; lies: 'Board' | 'Plate' | 'Sheet'; caution: string };
  /** What an M0, M1 or M6 stands for. @param next the tool the program goes on with, if it needs another */
  pause(next: string | undefined): Pause;
  /** What a new tool needs before its program goes on: to be measured, a person's word, or nothing. */
  change: 'measure' | 'confirm' | 'none';
  /** What it leaves of a plate is cut again. */
  leavesRemnant?: boolean;
  /** Its cut is so wide that it follows no bend tighter than half of that. */
  roundsBends?: boolean;
  /** The work is a tone on the surface: its proof is a picture of what is burned. */
  burns?: boolean;
  /** What a hold does to the work: it goes on afterwards, or what was lit is out and the run must be taken up anew. */
  held: 'goes on' | 'is out';
  /** Does somebody have to say every so often that they are still there? */
  attended: boolean;
  /** How a program is taken up again in its middle. */
  resume: Reentry;
  /** What a person reads while a run is so, and what its record says; of a pause, one for a tool and one for its Start button. */
  stages: Record<RunStage | 'tool-change' | 'start', { now: string; record: string }>;
  /** What wears by a run, of each tool: its time, and where that counts the way it cut, m, and how often it was struck. */
  wears(run: { bitSeconds: Record<string, number>; worked: Record<string, { metres: number; strikes: number }> }): {
    tool: string;
    seconds: number;
    metres?: number;
    strikes?: number;
  }[];
}

const ANY = {
  start: { now: 'Press Start at the machine', record: 'waited for its Start button' },
  held: { now: 'Held', record: 'held' },
  paused: { now: 'Waiting for you', record: 'waited for a person' },
  'link-lost': { now: 'No link to the machine', record: 'link lost' },
  stopping: { now: 'Stop is not confirmed', record: 'stop not confirmed' },
  done: { now: 'Finished', record: 'finished' },
  stopped: { now: 'Stopped', record: 'stopped' },
  failed: { now: 'Something stopped it', record: 'failed' },
};

export const PROCESSES: Record<ProcessName, ProcessDef> = {
  router: {
    label: 'Router',
    tool: { one: 'bit', many: 'bits' },
    counts: { one: 'lift', many: 'lifts' },
    header: {
      switched: (speed) => (speed > 0 ? `, spindle ${speed} rev/min` : ', spindle OFF'),
      depths: true,
      lies: 'Board',
      caution: 'The machine manual and local rules come first. Hearing, eye and dust protection.',
    },
    power: { on: 'M3', scale: 1, level: 'S', heightControl: null, assist: { air: 'M7', mist: 'M8' } },
    pause: (next) => (next === undefined ? { reason: 'person' } : { reason: 'tool-change', tool: next }),
    change: 'measure',
    held: 'goes on',
    attended: false,
    resume: 'running before it comes down',
    stages: { running: { now: 'Cutting', record: 'running' }, 'tool-change': { now: 'Change the bit', record: 'at a bit change' }, ...ANY },
    wears: ({ bitSeconds, worked }) => Object.entries(bitSeconds).map(([tool, seconds]) => ({ tool, seconds, metres: worked[tool]?.metres })),
  },
  torch: {
    label: 'Plasma torch',
    tool: { one: 'nozzle', many: 'nozzles' },
    counts: { one: 'pierce', many: 'pierces' },
    header: {
      switched: () => '',
      depths: false,
      lies: 'Plate',
      caution: 'The torch manual and local rules come first. Shade for the eyes, dry gloves, fire watch, fumes led away. Never unattended.',
    },
    power: { on: 'M3', scale: 1, level: { output: 0 }, heightControl: 1, assist: { air: 'M7', mist: 'M8' } },
    pause: (next) => (next === undefined ? { reason: 'person' } : { reason: 'tool-change', tool: next }),
    change: 'confirm',
    held: 'is out',
    leavesRemnant: true,
    roundsBends: true,
    attended: true,
    resume: 'pierce again',
    stages: { running: { now: 'Cutting', record: 'running' }, 'tool-change': { now: 'Change the nozzle', record: 'at a nozzle change' }, ...ANY },
    wears: ({ bitSeconds, worked }) => Object.entries(bitSeconds).map(([tool, seconds]) => ({ tool, seconds, ...worked[tool] })),
  },
  laser: {
    label: 'Laser',
    tool: { one: 'head', many: 'heads' },
    counts: { one: 'row', many: 'rows' },
    header: {
      switched: () => '',
      depths: false,
      lies: 'Sheet',
      caution: 'The laser manual and local rules come first. Lid shut or eyewear for its wavelength, extraction on, extinguisher at hand. Never unattended.',
    },
    // The scale is the machine's own: `powerWordsOf`.
    power: { on: 'M4', scale: 1_000, level: 'S', darkRapids: true, heightControl: null, assist: { air: 'M8', mist: 'M7' } },
    pause: (next) => (next === undefined ? { reason: 'person' } : { reason: 'tool-change', tool: next }),
    change: 'confirm',
    burns: true,
    held: 'goes on',
    attended: true,
    resume: 'on with the motion',
    stages: { running: { now: 'Burning', record: 'running' }, 'tool-change': { now: 'Change the head', record: 'at a change of head' }, ...ANY },
    wears: ({ bitSeconds }) => Object.entries(bitSeconds).map(([tool, seconds]) => ({ tool, seconds })),
  },
};

export const PROCESS_NAMES = Object.keys(PROCESSES) as [ProcessName, ...ProcessName[]];

/** How a job's programs say what is on: the words of its process, at the scale of its machine. */
export const powerWordsOf = ({ process, machine }: { process: ProcessName; machine: { fullPower?: number } }): PowerWords => {
  const { power } = PROCESSES[process];
  return power.darkRapids ? { ...power, scale: machine.fullPower ?? power.scale } : power;
};

export const processOf = ({ process }: { process: ProcessName }): ProcessDef => PROCESSES[process];
