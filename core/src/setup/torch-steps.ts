/** What is done at a plasma torch before a program runs. The usual caution; the torch's manual, local rules and qualified people come first. */
import { bitName } from '../bits/index.ts';
import { machineSteps } from './machine-steps.ts';
import { staleZero, StepList, type Step, type StepId, type StepInput } from './step-list.ts';
import { frameStep, placeStep, xyStep } from './zero-steps.ts';

export function torchSteps(input: StepInput): Step[] {
  const list = new StepList(input);
  const { job, program, machine, jobId, isToday } = input;
  machineSteps(list, input);
  const nozzle = program ? job.tools[program.bits[0]] : undefined;
  const called = nozzle ? bitName(nozzle, job.units) : 'the nozzle';
  const { status, setup } = machine;
  const table = status?.world?.table;
  const confirm = (id: StepId, title: string, holds: string) => list.add(id, title, 'confirmed', false, holds, { skip: false });
  list.add(
    'nozzle',
    `Fit ${called}`,
    'confirmed',
    false,
    'Power off at the torch first. Look at nozzle, electrode and shield: a worn one cuts a slope.',
    // What was said last counts, until a nozzle is taken out.
    { skip: false, done: nozzle !== undefined && setup.bitFitted === nozzle.id },
  );
  confirm('held', 'Lay the plate on the slats', 'Flat, square to the table, and free of what tipped up the last time.');
  list.either(
    'ground',
    'Clamp the work lead to the plate',
    table?.ground === true,
    'To bright metal of the plate itself, not to the slats: without it the arc does not hold, and nothing is felt by touch.',
  );
  list.either('air', 'Air on, dry and at its pressure', table?.air === true, 'Too little ruins the nozzle within minutes. The torch’s manual says how much.');
  list.either(
    'water',
    'Water or extraction on',
    table?.water === true,
    'Fumes must go somewhere. Never aluminium over standing water: the hydrogen under it explodes.',
  );
  xyStep(list, input);
  const staleZ = staleZero(setup.zeroZ, jobId, isToday);
  list.add(
    'z',
    'Touch the plate once, near the middle',
    'seen',
    setup.zeroZ !== null && staleZ === null,
    staleZ ?? 'It tries the touch and the ground, and tells how high the plate lies. The program feels for it again before it pierces.',
    { stale: staleZ !== null, skip: false },
  );
  placeStep(list, input);
  frameStep(list, input, 'Run round the outline, high above the plate');
  confirm(
    'fire',
    'Fire watch: nothing that burns lies under or round the table',
    'Sparks fly metres. An extinguisher is at hand, and somebody stays until it is cold.',
  );
  confirm('shade', 'Eyes, hands and clothes are for arc light', 'Shade by amperes, dry gloves, nothing that melts on skin. No one with a pacemaker near.');
  confirm('person', 'I stay with it until it ends', 'A torch never runs alone.');
  return list.steps;
}
