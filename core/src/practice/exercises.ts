/** All exercises, by the kind of machine they are done on. Without the planner: a page asks for nothing else. */
import type { ScreenCommand } from '../link/commands.ts';
import type { ProcessName } from '../process/index.ts';
import { LASER_EXERCISES } from './laser.ts';
import { ROUTER_EXERCISES } from './router.ts';
import { TORCH_EXERCISES } from './torch.ts';
import type { Exercise } from './judge.ts';

export { judge, type Exercise, type Moment, type Verdict } from './judge.ts';
export { PRACTICE_HEAD } from './laser.ts';
export { BOARD as EXERCISE_BOARD, EXERCISE_BITS } from './router.ts';
export { PRACTICE_NOZZLE } from './torch.ts';

export const EXERCISES: readonly Exercise[] = [
  ...ROUTER_EXERCISES.map((exercise) => ({ ...exercise, process: 'router' as const })),
  ...TORCH_EXERCISES.map((exercise) => ({ ...exercise, process: 'torch' as const })),
  ...LASER_EXERCISES.map((exercise) => ({ ...exercise, process: 'laser' as const })),
];

/** Runs of the exercises go by names of their own: no work is recorded of them. */
export const PRACTICE_RUN = 'practice-';
export const isPractice = (run: string): boolean => run.startsWith(PRACTICE_RUN);

/** Faults that may still be on, and what may lie in the way, from whoever was there before. */
const CLEARED: Record<ProcessName, readonly Record<string, unknown>[]> = {
  router: [{ fault: { kind: 'slow-spindle', on: false } }, { fault: { kind: 'probe-wire', on: false } }, { lidOpen: false, clamps: [], probeClip: false }],
  torch: [{ fault: { kind: 'arc-lost', on: false } }, { fault: { kind: 'no-arc', on: false } }, { clamps: [] }],
  laser: [{ fault: { kind: 'no-beam', on: false } }, { lidOpen: false, clamps: [] }],
};
/** How the surface is found where zero is set before an exercise begins. */
const FOUND = { router: 'plate', torch: 'torch', laser: 'focus' } as const;

const bench = (change: Record<string, unknown>): ScreenCommand => ({ do: 'bench', change });

/** Zero at the front left corner of what lies there, and on its top, a hand's breadth in from the corner. */
function zeroSteps({ process, scene }: Exercise): ScreenCommand[] {
  const { x, y } = scene.board as { x: number; y: number };
  return [
    { do: 'move-over', x, y },
    { do: 'zero-xy', corner: 'lower-left', by: 'as it was laid out' },
    { do: 'move-over', x: x + 12, y: y + 12 },
    { do: 'zero-z', method: FOUND[process], thickness: 0, datum: 'top' },
  ];
}

/** What lays out the scene of an exercise, step by step, whatever was there before; the first may be refused. */
export function sceneSteps(exercise: Exercise): ScreenCommand[] {
  const { fault, estop, ...scene } = exercise.scene;
  const { process, homed, zeroed, then } = exercise;
  return [
    { do: 'stop' },
    bench({ estop: false }),
    { do: 'clear' },
    ...(homed ? [] : [bench({ fault: { kind: 'reset' } })]),
    ...CLEARED[process].map(bench),
    ...(homed ? [{ do: 'home' as const }] : []),
    bench(scene),
    ...(zeroed ? zeroSteps(exercise) : []),
    ...(then ? [bench(then)] : []),
    ...(estop ? [bench({ estop })] : []),
    ...(fault ? [bench({ fault })] : []),
  ];
}
