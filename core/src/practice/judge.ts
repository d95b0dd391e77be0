/**
 * Exercises on a simulated machine: a scene laid out on its bench, tasks that are seen done by
 * what the machine shows, slips that are seen made, and what each teaches. Judged by plain
 * functions over what was observed, so that the same trace always gets the same verdict.
 */
import type { AgentSnapshot, MachineStatus, SimulatedWorld } from '../link/index.ts';
import type { ProcessName } from '../process/index.ts';

/** One thing observed: a state of the machine, and the command that was just given, if one was. */
export interface Moment {
  /** Milliseconds. */
  at: number;
  machine: AgentSnapshot;
  command?: { do: string } & Record<string, unknown>;
  /** Why it was refused; null when it was carried out. */
  why?: string | null;
}

export type Look = (trace: readonly Moment[]) => boolean;

export interface Practised {
  id: string;
  title: string;
  /** What the learner finds, and is to do. */
  brief: string;
  /** Numbers of the classic mistakes it practises. */
  mistakes: readonly number[];
  /** The scene: changes of the bench, and set-up that is done already. */
  scene: Record<string, unknown>;
  /** Homed before it begins? */
  homed: boolean;
  /** Zero set before it begins, at the front left corner and on the top. */
  zeroed?: boolean;
  /** What is changed on the bench after zero was set, and before anybody looks. */
  then?: Record<string, unknown>;
  /** What happens by itself, once, as soon as it is seen that the moment has come. */
  happens?: { when: Look; change: Record<string, unknown> };
  /** Programs that lie ready, by their names; see `programs`. */
  programs?: readonly string[];
  tasks: readonly { text: string; done: Look }[];
  slips: readonly { text: string; made: Look }[];
  /** What to take away from it. */
  lesson: string;
}

export interface Exercise extends Practised {
  /** The kind of machine it is done on. */
  process: ProcessName;
}

/** What a machine shows that can be practised on. */
export type Simulated = MachineStatus & { world: SimulatedWorld };
export const last = (trace: readonly Moment[]): Moment | undefined => trace[trace.length - 1];

/** Looks at moments in which the machine shows what a kind of them shows. */
export const looksAt = <Shown extends Simulated>(shownAt: (status: Simulated) => Shown | null) => {
  const shown = ({ machine: { status } }: Moment) => (status?.world ? shownAt(status as Simulated) : null);
  type What = (status: Shown, moment: Moment) => boolean;
  return {
    /** It is so now. */
    now:
      (what: What): Look =>
      (trace) => {
        const moment = last(trace);
        const status = moment && shown(moment);
        return status ? what(status, moment) : false;
      },
    /** It was so at some moment. */
    once:
      (what: What): Look =>
      (trace) =>
        trace.some((moment) => {
          const status = shown(moment);
          return status !== null && what(status, moment);
        }),
  };
};

export const told = (name: string, carriedOut: boolean): Look => {
  return (trace) => trace.some(({ command, why }) => command?.do === name && (carriedOut ? why === null : typeof why === 'string'));
};
/** What a command was refused as, is seen in the machine as it was when it was given. */
export const wasRefused = ({ command, why }: Moment): boolean => command !== undefined && typeof why === 'string';
export const refused =
  (name: string, when: (moment: Moment) => boolean): Look =>
  (trace) =>
    trace.some((moment) => moment.command?.do === name && wasRefused(moment) && when(moment));

/** A practice program was run, from its beginning or from a place in it, and came to its end: not one of before. */
export const ran =
  (...programs: string[]): Look =>
  (trace) =>
    trace.some(({ machine: { run } }) => run !== null && run.id !== trace[0].machine.run?.id && run.state === 'done' && programs.includes(run.name));
/** A practice program was begun. */
export const began =
  (...programs: string[]): Look =>
  (trace) =>
    trace.some(({ machine: { run } }) => run !== null && run.id !== trace[0].machine.run?.id && programs.includes(run.name));

export interface Verdict {
  /** Done, for each task in order. A task once done stays done. */
  tasks: boolean[];
  slips: string[];
  finished: boolean;
  /** Everything done, and no slip made. */
  passed: boolean;
}

/** Judges an exercise as it goes: `done` are the tasks that were done before. */
export function judge(exercise: Exercise, trace: readonly Moment[], done: readonly boolean[] = []): Verdict {
  const tasks = exercise.tasks.map((task, k) => done[k] || task.done(trace));
  const slips = exercise.slips.filter((slip) => slip.made(trace)).map(({ text }) => text);
  // The last task must be done now, with all before it.
  const finished = tasks.every(Boolean);
  return { tasks, slips, finished, passed: finished && slips.length === 0 };
}
