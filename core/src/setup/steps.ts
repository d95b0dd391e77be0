/**
 * What must be done at the machine before a program runs, in order: from this job, this machine,
 * and what the agent has seen. A step is *seen* when the machine can show it and *confirmed* by a
 * person when not. The same list rules the card, the server and the record. What the steps are is for
 * each process to say.
 */
import type { ProcessName } from '../process/index.ts';
import { routerSteps } from './router-steps.ts';
import { laserSteps } from './laser-steps.ts';
import { torchSteps } from './torch-steps.ts';
import { PRESSED, type Step, type StepInput } from './step-list.ts';

export { seamZero } from './zero-steps.ts';
export { CORNER_NAME, whyNoAnswer, type Step, type StepId, type StepInput } from './step-list.ts';

const STEPS: Record<ProcessName, (input: StepInput) => Step[]> = { router: routerSteps, torch: torchSteps, laser: laserSteps };

export const setupSteps = (input: StepInput): Step[] => STEPS[input.job.process](input);

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
