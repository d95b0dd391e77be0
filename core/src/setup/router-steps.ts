/** The steps of a router: the board, the bit, zero by touch, and what is forgotten in front of the start. */
import { bitName } from '../bits/index.ts';
import { kindOf } from '../cuts/index.ts';
import { workingJob } from '../job/working.ts';
import { formatLength } from '../length/index.ts';
import { warmSeconds } from '../link/index.ts';
import { thicknessFacts } from '../board/thickness.ts';
import { machineSteps } from './machine-steps.ts';
import { skimmedBy } from './skim.ts';
import { frameStep, placeStep, xyStep } from './zero-steps.ts';
import { staleZero, StepList, type Step, type StepInput } from './step-list.ts';

const HOLD: Record<string, string> = {
  clamps: 'Clamps are tight, and the board does not move when you push it.',
  screws: 'Screws are in, sunk, outside every cut, and the board does not move when you push it.',
  tape: 'Tape and glue have taken, and the board does not move when you push it.',
  vacuum: 'The board lies flat on the vacuum and does not move when you push it.',
};

const lengthIn =
  ({ job }: StepInput) =>
  (mm: number) =>
    formatLength(mm, { unit: job.units });

/** The bit the run begins with, whether it is the one that was fitted last, and what it is called. */
function firstBit({ job, program, machine }: StepInput) {
  const bit = program ? job.tools[program.bits[0]] : undefined;
  return { bit, ours: bit !== undefined && machine.setup.bitFitted === bit.id, called: bit ? bitName(bit, job.units) : 'the bit' };
}

/** What is done at a router before a program runs, in order. */
export function routerSteps(input: StepInput): Step[] {
  const list = new StepList(input);
  machineSteps(list, input);
  boardSteps(list, input);
  bitSteps(list, input);
  zeroSteps(list, input);
  lastSteps(list, input);
  return list.steps;
}

function boardSteps(list: StepList, input: StepInput): void {
  const {
    job,
    profile,
    machine: { status },
  } = input;
  const len = lengthIn(input);
  const { carrier } = job.board;
  const onto = carrier
    ? `First the board onto its carrier of ${len(carrier.thickness)}, flat and without a chip between them; then the carrier onto the bed. Screws come from below, or stand where they are drawn. `
    : '';
  list.add('held', 'Lay the board down and fix it', 'confirmed', false, onto + HOLD[job.board.holdDown]);
  const planed = Object.values(workingJob(job).cuts).map((cut) => kindOf(cut).planes?.(cut));
  const skim = planed.find((one) => one?.of === 'spoilboard');
  if (skim) {
    const bare = `Nothing is left on the spoilboard, no screw in it; ${len(skim.skim)} are taken off at a time, and the skim is written down afterwards.`;
    list.add('bare', 'The bed is bare', 'confirmed', false, bare, { skip: false });
  }
  if (job.board.holdDown === 'vacuum' && profile.has.vacuum)
    list.either('vacuum', 'Switch the vacuum on', status?.world?.vacuum === true, 'The vacuum is off: nothing holds the board.');
  const { height, least } = profile.spoilboard;
  if (!skim && height < least) {
    const thin = `The spoilboard is ${len(height)} thick, and less than ${len(least)} is not to be cut on: fit a new one and write it down on Machines.`;
    list.add('bare', 'The spoilboard is too thin', 'seen', false, thin, { skip: true });
  }
}

function bitSteps(list: StepList, input: StepInput): void {
  const {
    job,
    profile,
    program,
    machine: { status, setup },
    now,
    isToday,
  } = input;
  const len = lengthIn(input);
  const { bit, ours, called } = firstBit(input);
  const fitting = `${bit?.id} ${status?.world?.fitting ?? 0}`;
  const shown = status?.world?.bit ?? null;
  list.add(
    'bit',
    `Fit ${called}`,
    profile.shows ? 'seen' : 'confirmed',
    bit !== undefined && shown === bit.id,
    shown !== null && shown !== bit?.id
      ? `Another bit is fitted (${shown in job.tools ? bitName(job.tools[shown], job.units) : shown}). Fit ${called}.`
      : `${called} is not fitted yet.`,
    // Where it does not show, it is what a person said last that counts.
    { skip: false, done: profile.shows ? undefined : ours },
  );
  list.add(
    'collet',
    'Check collet and shank',
    'confirmed',
    false,
    `The collet for a shank of ${bit ? len(bit.shank) : '?'}; pushed in, drawn back a little so that it is not bottomed, tight.`,
    {
      key: fitting,
    },
  );
  const measured = ours && setup.bitReading !== null && setup.measuredAt !== null && isToday(setup.measuredAt);
  if (profile.sensor) list.add('measure', 'Measure the bit', 'seen', measured, 'The bit has not been measured today since it was fitted.');
  const { warmUpSeconds } = profile.limits;
  if (warmUpSeconds > 0 && program?.spindle !== false) {
    const minutes = Math.max(1, Math.round(warmUpSeconds / 60));
    const warm = warmSeconds(setup.warm, now) >= warmUpSeconds;
    list.add(
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
}

function zeroSteps(list: StepList, input: StepInput): void {
  const {
    job,
    jobId,
    profile,
    program,
    machine: { setup },
    isToday,
  } = input;
  const len = lengthIn(input);
  const { bit, ours, called } = firstBit(input);
  // The next skim goes on from the zero of the last one.
  const staleZ = staleZero(setup.zeroZ, jobId, isToday, skimmedBy(job) ? profile.spoilboard.fitted : profile.spoilboard.skimmed);
  const touched = profile.sensor !== null || setup.zeroZ === null || (ours && setup.zeroZ.bit === bit!.id);
  xyStep(list, input);
  const face = job.datum.z === 'top' ? 'top of the board' : 'spoilboard';
  list.add(
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
    list.add(
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
  placeStep(list, input);
}

function lastSteps(list: StepList, input: StepInput): void {
  const {
    job,
    profile,
    program,
    machine: { status },
  } = input;
  // What a machine does not show is not seen.
  const world = status?.world;
  const clear = world !== undefined && !world.probeClip && !world.plate && !world.block;
  list.either(
    'clear',
    'Take plate, block and clip away',
    clear,
    'The touch plate, the corner block or its clip is still there: the spindle must not turn with it.',
  );
  if (profile.has.pins)
    list.either('pins', 'Put the location pins down', world !== undefined && !world.pinsUp, 'The location pins are still up: the bit would run into them.');
  if (profile.has.lid) list.either('lid', 'Close the lid', world !== undefined && !world.lidOpen, 'The lid is open.');
  frameStep(list, input, 'Frame the job');
  if (profile.has.dust) list.either('dust', 'Dust hose on, extraction running', world?.dust === true, 'The dust extraction is off.');
  if (program?.spindle && profile.spindle.control === 'hand') {
    const speed = Math.max(0, ...Object.values(workingJob(job).cuts).map((cut) => ('speed' in cut && cut.tool === program.bits[0] ? (cut.speed ?? 0) : 0)));
    const holds = `It turns at ${speed || 'the planned number of'} rev/min, and has come to speed. At a bit change it is stopped there, and started again.`;
    list.add('spindle', 'Start the spindle at its box', 'confirmed', false, holds, { skip: false });
  }
  list.add('person', 'Eyes, ears, sleeves, people', 'confirmed', false, 'Glasses and ear protection on, sleeves and hair away, nobody else near the bed.');
}
