/**
 * What must be done at the machine before a program runs, in order: from this job, this machine,
 * and what the agent has seen. A step is *seen* when the machine can show it and *confirmed* by a
 * person when not. The same list rules the card, the server and the record.
 */
import type { Job } from '../job/index.ts';
import { formatLength } from '../length/index.ts';
import { warmSeconds, type AgentSnapshot, type Confirmation, type SetFor } from '../link/index.ts';
import { plansAlike, type MachineProfile } from '../machine/index.ts';
import { zeroFaults } from './plausible.ts';
import { thicknessFacts } from './thickness.ts';

export type StepId =
  | 'program'
  | 'answers'
  | 'home'
  | 'held'
  | 'bare'
  | 'vacuum'
  | 'bit'
  | 'collet'
  | 'measure'
  | 'warm'
  | 'xy'
  | 'z'
  | 'flat'
  | 'place'
  | 'clear'
  | 'pins'
  | 'lid'
  | 'frame'
  | 'dust'
  | 'spindle'
  | 'person';

export interface Step {
  id: StepId;
  title: string;
  how: 'seen' | 'confirmed';
  done: boolean;
  /** Who went on without it. */
  skippedBy: string | null;
  skippable: boolean;
  /** What keeps it from being done, and what to do. */
  holds: string;
  /** What a confirmation of it is bound to. */
  key: string;
  /** It is done with the hands, and may be done with the emergency stop pressed. */
  byHand: boolean;
  /** A zero that was set for another job or on another day: it may be kept on purpose. */
  stale: boolean;
}

export interface StepInput {
  job: Job;
  profile: MachineProfile;
  /** The job's id: what is set for another one does not hold for it. */
  jobId: string;
  /** The released program with the bits of the run that will happen, or null before there is one. Extents from the datum, mm. */
  program: { sha256: string; bits: readonly string[]; spindle: boolean; shallowest: number | null; extents: Extents | null } | null;
  machine: AgentSnapshot & { agent: boolean };
  /** Milliseconds. */
  now: number;
  /** Is a moment (ISO) of today, where the machine stands? */
  isToday: (at: string) => boolean;
}

interface Extents {
  min: readonly [number, number, number];
  max: readonly [number, number, number];
}

export const CORNER_NAME: Record<string, string> = {
  'lower-left': 'front left corner',
  'lower-right': 'front right corner',
  'upper-left': 'back left corner',
  'upper-right': 'back right corner',
  centre: 'middle of the board',
};
const HOLD: Record<string, string> = {
  clamps: 'Clamps are tight, and the board does not move when you push it.',
  screws: 'Screws are in, sunk, outside every cut, and the board does not move when you push it.',
  tape: 'Tape and glue have taken, and the board does not move when you push it.',
  vacuum: 'The board lies flat on the vacuum and does not move when you push it.',
};

/** Why a zero does not hold for this job today, or null. */
function staleZero(zero: SetFor | null, jobId: string, isToday: StepInput['isToday']): string | null {
  if (!zero) return null;
  if (zero.job !== jobId) return 'It was set for another job. Touch it again, or say that it holds for this one.';
  if (!isToday(zero.at)) return 'It was set on another day. Touch it again, or say that it still holds.';
  return null;
}

export function setupSteps({ job, jobId, profile, program, machine, now, isToday }: StepInput): Step[] {
  const { status, setup } = machine;
  const len = (mm: number) => formatLength(mm, { unit: job.units });
  const steps: Step[] = [];
  const said = (id: StepId, key: string): Confirmation | undefined => setup.confirmed.find((c) => c.id === id && c.key === key && isToday(c.at));
  const add = (
    id: StepId,
    title: string,
    how: Step['how'],
    seen: boolean,
    holds: string,
    options: { key?: string; skip?: boolean; done?: boolean; stale?: boolean } = {},
  ) => {
    const key = options.key ?? program?.sha256 ?? '';
    const word = said(id, key);
    steps.push({
      id,
      title,
      how,
      done: options.done ?? (how === 'seen' ? seen : word !== undefined && !word.skipped),
      skippedBy: word?.skipped ? word.by : null,
      skippable: options.skip ?? how === 'confirmed',
      holds,
      key,
      byHand: id === 'bit' || id === 'collet',
      stale: options.stale ?? false,
    });
  };
  /** Seen when the machine shows it, else confirmed. */
  const either = (id: StepId, title: string, shown: boolean, holds: string) =>
    add(id, title, profile.shows ? 'seen' : 'confirmed', shown, holds, { skip: true });

  const loaded = program ? `Program ${program.sha256.slice(0, 8)} is loaded` : 'Release a program';
  const planned = plansAlike(job.machine, profile.limits);
  add(
    'program',
    loaded,
    'seen',
    program !== null && planned,
    planned
      ? 'Nothing is released for this job as it stands now.'
      : `This job is planned for ${job.machine.name}, and the shop is linked to ${profile.limits.name}. Plan it for that machine on Board, and release it again.`,
  );
  add(
    'answers',
    'The machine answers',
    'seen',
    machine.stopWanted === null && status !== null && !status.estop && status.state !== 'alarm' && status.state !== 'estop',
    whyNoAnswer(machine),
  );
  add('home', 'Home it', 'seen', status?.homed === true, 'The machine does not know where it is. Home it.');
  add('held', 'Lay the board down and fix it', 'confirmed', false, HOLD[job.board.holdDown]);
  const skim = Object.values(job.cuts).find((cut) => cut.kind === 'surface' && cut.of === 'spoilboard');
  if (skim?.kind === 'surface') {
    const bare = `Nothing is left on the spoilboard, no screw in it; ${len(skim.skim)} are taken off at a time, and the skim is written down afterwards.`;
    add('bare', 'The bed is bare', 'confirmed', false, bare, { skip: false });
  }
  if (job.board.holdDown === 'vacuum' && profile.has.vacuum)
    either('vacuum', 'Switch the vacuum on', status?.world.vacuum === true, 'The vacuum is off: nothing holds the board.');
  const { height, least } = profile.spoilboard;
  if (skim?.kind !== 'surface' && height < least) {
    const thin = `The spoilboard is ${len(height)} thick, and less than ${len(least)} is not to be cut on: fit a new one and write it down on Machines.`;
    add('bare', 'The spoilboard is too thin', 'seen', false, thin, { skip: true });
  }
  const bit = program ? job.bits[program.bits[0]] : undefined;
  const fitting = `${bit?.id} ${status?.world.fitting ?? 0}`;
  const ours = bit !== undefined && setup.bitFitted === bit.id;
  const called = bit?.name || bit?.id || 'the bit';
  const shown = status?.world.bit ?? null;
  add(
    'bit',
    `Fit ${called}`,
    profile.shows ? 'seen' : 'confirmed',
    bit !== undefined && shown === bit.id,
    shown !== null && shown !== bit?.id ? `Another bit is fitted (${job.bits[shown]?.name || shown}). Fit ${called}.` : `${called} is not fitted yet.`,
    // Where it does not show, it is what a person said last that counts.
    { skip: false, done: profile.shows ? undefined : ours },
  );
  add(
    'collet',
    'Its shank is held right',
    'confirmed',
    false,
    `The collet for a shank of ${bit ? len(bit.shank) : '?'}; pushed in, drawn back a little so that it is not bottomed, tight.`,
    {
      key: fitting,
    },
  );
  const measured = ours && setup.bitReading !== null && setup.measuredAt !== null && isToday(setup.measuredAt);
  if (profile.sensor) add('measure', 'Measure the bit', 'seen', measured, 'The bit has not been measured today since it was fitted.');
  const { warmUpSeconds } = profile.limits;
  if (warmUpSeconds > 0 && program?.spindle !== false) {
    const minutes = Math.max(1, Math.round(warmUpSeconds / 60));
    const warm = warmSeconds(setup.warm, now) >= warmUpSeconds;
    add(
      'warm',
      'Warm the spindle',
      profile.spindle.control === 'program' ? 'seen' : 'confirmed',
      warm,
      `The spindle is cold: about ${minutes === 1 ? 'a minute' : `${minutes} minutes`} before the first cut of the day, or what its manual says.`,
      {
        skip: true,
      },
    );
  }
  const corner = CORNER_NAME[job.datum.corner];
  const staleXY = staleZero(setup.zeroXY, jobId, isToday);
  const staleZ = staleZero(setup.zeroZ, jobId, isToday);
  const touched = profile.sensor !== null || setup.zeroZ === null || (ours && setup.zeroZ.bit === bit.id);
  add(
    'xy',
    `Set X and Y at the ${corner}`,
    'seen',
    setup.zeroXY?.corner === job.datum.corner && !staleXY,
    staleXY && setup.zeroXY?.corner === job.datum.corner
      ? staleXY
      : setup.zeroXY && setup.zeroXY.corner !== job.datum.corner
        ? `Zero was set at the ${CORNER_NAME[setup.zeroXY.corner] ?? setup.zeroXY.corner}, and this program counts from the ${corner}. Set it again.`
        : 'X and Y zero have not been set.',
    { stale: staleXY !== null && setup.zeroXY?.corner === job.datum.corner, skip: false },
  );
  const face = job.datum.z === 'top' ? 'top of the board' : 'spoilboard';
  add(
    'z',
    `Set Z on the ${face}`,
    'seen',
    setup.zeroZ?.datum === job.datum.z && !staleZ && touched,
    staleZ && setup.zeroZ?.datum === job.datum.z
      ? staleZ
      : !touched
        ? `Z was touched with another bit, and there is no sensor to measure the difference. Touch it again with ${called}.`
        : setup.zeroZ && setup.zeroZ.datum !== job.datum.z
          ? `Z0 was set on the ${setup.zeroZ.datum === 'top' ? 'top of the board' : 'spoilboard'}, and this program takes it on the ${face}. Set Z again.`
          : 'Z zero has not been set.',
    { stale: staleZ !== null && setup.zeroZ?.datum === job.datum.z, skip: false },
  );
  const shallowest = program?.shallowest ?? null;
  if (shallowest !== null) {
    const facts = thicknessFacts(setup.readings);
    const flat = setup.follow || (facts !== null && setup.readings.length >= 4 && facts.shallowest <= shallowest);
    add(
      'flat',
      'See how flat the board lies',
      'seen',
      flat,
      facts !== null && setup.readings.length >= 4
        ? `It lies ${len(facts.spread)} uneven: engraving of ${len(shallowest)} would fade. Let the program follow the surface, or make it flat.`
        : 'Measure its height at four corners or more: this engraving is shallow.',
      { skip: true },
    );
  }
  if (program?.extents && status && setup.zeroXY && setup.zeroZ) {
    const faults = zeroFaults({ job, profile, extents: program.extents, setup, offset: status.offset, there: status.world.board });
    // Another zero, another question.
    const key = `${program.sha256} ${status.offset.map((v) => v.toFixed(2)).join(' ')} ${setup.bed.x} ${setup.bed.y}`;
    add('place', 'Zero, board and bed agree', 'seen', faults.length === 0, faults.join(' '), { key, skip: true });
  }
  const clear = status !== null && !status.world.probeClip && status.world.plate === null && status.world.block === null;
  either('clear', 'Take plate, block and clip away', clear, 'The touch plate, the corner block or its clip is still there: the spindle must not turn with it.');
  if (profile.has.pins)
    either('pins', 'Put the location pins down', status !== null && !status.world.pinsUp, 'The location pins are still up: the bit would run into them.');
  if (profile.has.lid) either('lid', 'Close the lid', status !== null && !status.world.lidOpen, 'The lid is open.');
  add(
    'frame',
    'Run round the job above the wood',
    'seen',
    program !== null && setup.framed === program.sha256,
    'The frame of this program has not been driven since zero was set.',
    {
      skip: true,
    },
  );
  if (profile.has.dust) either('dust', 'Dust hose on, extraction running', status?.world.dust === true, 'The dust extraction is off.');
  if (program?.spindle && profile.spindle.control === 'hand') {
    const speed = Math.max(0, ...Object.values(job.cuts).map((cut) => ('speed' in cut && cut.bit === program.bits[0] ? (cut.speed ?? 0) : 0)));
    const holds = `It turns at ${speed || 'the planned number of'} rev/min, and has come to speed. At a bit change it is stopped there, and started again.`;
    add('spindle', 'Start the spindle at its box', 'confirmed', false, holds, { skip: false });
  }
  add('person', 'Eyes, ears, sleeves, people', 'confirmed', false, 'Glasses and ear protection on, sleeves and hair away, nobody else near the bed.');
  return steps;
}

/**
 * The step to do next: not done, and nobody went on without it. A bit is fitted with the emergency
 * stop pressed, as is usual: then it is released after the fitting, not before.
 */
export function nextStep(steps: readonly Step[]): Step | null {
  const open = steps.filter((step) => !step.done && step.skippedBy === null);
  const home = steps.find(({ id }) => id === 'home');
  if (open[0]?.id === 'answers' && open[0].holds === PRESSED && home?.done) return open.find(({ byHand }) => byHand) ?? open[0];
  return open[0] ?? null;
}

const PRESSED = 'The emergency stop is pressed. Turn it to release it, then clear the alarm.';

/** Why a machine takes nothing: what is looked at first is what is forgotten most. */
export function whyNoAnswer({ agent, link, status, stopWanted }: Pick<AgentSnapshot, 'link' | 'status' | 'stopWanted'> & { agent: boolean }): string {
  if (!agent) return 'The machine agent does not answer. It is started together with Kerbe.';
  if (!link || !status) return 'The machine does not answer: check that it is on and its cable is in.';
  if (stopWanted) return 'Stop was pressed, and the machine has not confirmed it yet.';
  if (status.estop) return PRESSED;
  if (status.state === 'estop') return 'The emergency stop was pressed. It is released; clear the alarm.';
  if (status.state === 'alarm') return `The machine is in alarm: ${status.message}${/[.!?]$/.test(status.message) ? '' : '.'} Clear the alarm.`;
  return '';
}
