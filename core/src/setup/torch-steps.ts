/** What is done at a plasma torch before a program runs. The usual caution; the torch's manual, local rules and qualified people come first. */
import { bitName } from '../bits/index.ts';
import { machineSteps } from './machine-steps.ts';
import { CORNER_NAME, staleZero, StepList, type Step, type StepInput } from './step-list.ts';

export function torchSteps(input: StepInput): Step[] {
  const list = new StepList(input);
  const { job, program, machine, jobId, isToday } = input;
  machineSteps(list, input);
  const nozzle = program ? job.tools[program.bits[0]] : undefined;
  const called = nozzle ? bitName(nozzle, job.units) : 'the nozzle';
  const confirm = (id: Parameters<StepList['add']>[0], title: string, holds: string, skip = false) => list.add(id, title, 'confirmed', false, holds, { skip });
  confirm('nozzle', `Fit ${called}`, 'Power off at the torch first. Look at nozzle, electrode and shield: a worn one cuts a slope.');
  confirm('held', 'Lay the plate on the slats', 'Flat, square to the table, and free of what tipped up the last time.');
  confirm(
    'ground',
    'Clamp the work lead to the plate',
    'To bright metal of the plate itself, not to the slats: without it the arc does not hold, and nothing is felt by touch.',
  );
  confirm('air', 'Air on, dry and at its pressure', 'Too little ruins the nozzle within minutes. The torch’s manual says how much.');
  confirm('water', 'Water or extraction on', 'Fumes must go somewhere. Never aluminium over standing water: the hydrogen under it explodes.');
  const set = machine.setup.zeroXY;
  const stale = staleZero(set ?? null, jobId, isToday);
  list.add(
    'xy',
    `Set X and Y zero at the ${CORNER_NAME[job.datum.corner]}`,
    'seen',
    set !== null && stale === null,
    stale ?? 'Over the corner with the torch’s middle or the pointer.',
    {
      stale: stale !== null,
    },
  );
  list.add(
    'z',
    'Touch the plate once, near the middle',
    'seen',
    machine.setup.zeroZ !== null,
    'It tries the touch and the ground, and tells how high the plate lies. The program feels for it again before it pierces.',
  );
  confirm('frame', 'Run round the outline, high above the plate', 'Arc off. All of it must lie on the plate, clear of clamps, cable and hose.', true);
  confirm(
    'fire',
    'Fire watch: nothing that burns lies under or round the table',
    'Sparks fly metres. An extinguisher is at hand, and somebody stays until it is cold.',
  );
  confirm('shade', 'Eyes, hands and clothes are for arc light', 'Shade by amperes, dry gloves, nothing that melts on skin. No one with a pacemaker near.');
  confirm('person', 'I stay with it until it ends', 'A torch never runs alone.');
  return list.steps;
}
