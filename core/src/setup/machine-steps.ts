import { plansAlike } from '../machine/index.ts';
import { whyNoAnswer, type StepInput, type StepList } from './step-list.ts';

/** What comes first at any machine: a program for it, an answer from it, and that it knows where it is. */
export function machineSteps(list: StepList, { job, profile, program, machine }: StepInput): void {
  const { status } = machine;
  const loaded = program ? `Program ${program.sha256.slice(0, 8)} is loaded` : 'Release a program';
  const planned = plansAlike(job.machine, profile.limits);
  list.add(
    'program',
    loaded,
    'seen',
    program !== null && planned,
    planned
      ? 'Nothing is released for this job as it stands now.'
      : `This job is planned for ${job.machine.name}, and ${profile.limits.name} has other limits. Plan it for that machine on Board, and release it again.`,
  );
  list.add(
    'answers',
    'The machine answers',
    'seen',
    machine.stopWanted === null && status !== null && !status.estop && status.state !== 'alarm' && status.state !== 'estop',
    whyNoAnswer(machine),
  );
  list.add('home', 'Home it', 'seen', status?.homed === true, 'The machine does not know where it is. Home it.');
}
