/** A first job, led through by the page itself: what to do next, seen to be done, taken up again after a reload, left whenever one likes. */
import type { Stage, StageState } from './stages';
import { JOB } from '$lib/labels/job';

interface Step {
  stage: Stage;
  title: string;
  says: string;
  /** Is it done? Asked of how the job stands, and of what is on the screen. */
  done(now: Now): boolean;
}
export interface Now {
  stage: Stage;
  carved: boolean;
  states: Record<Stage, StageState>;
}

export const STEPS: readonly Step[] = [
  {
    stage: 'artwork',
    title: JOB.typeTheWords,
    says: 'Type a word or two into “What the sign says”. Board, outline and cuts are there already and follow what you type.',
    done: ({ states }) => states.artwork === 'ready',
  },
  {
    stage: 'cuts',
    title: JOB.chooseTheCuts,
    says: 'Go to Cuts. One cut carves the words with a V bit, another cuts the sign out. Press a cut to see its bit and its figures.',
    done: ({ stage }) => stage === 'cuts',
  },
  {
    stage: 'proof',
    title: JOB.lookAtItCarved,
    says: 'Go to Proof. The carved board is reckoned from the very moves the machine will make. Turn it with the mouse; look at what was found.',
    done: ({ stage, carved, states }) => stage === 'proof' && carved && states.proof === 'ready',
  },
  {
    stage: 'program',
    title: JOB.releaseIt,
    says: 'Go to Program. Tick what should be known, and release: from then on this program, and no other, goes to the machine.',
    done: ({ states }) => states.program === 'ready',
  },
  {
    stage: 'setup',
    title: JOB.setTheMachineUp,
    says: 'Go to Set up and follow its list. The machine is a simulated one: “Do it for me” stands for what your hands would do.',
    done: ({ states }) => states.setup === 'ready',
  },
  {
    stage: 'run',
    title: JOB.cutIt,
    says: 'Go to Run and start. Hold stops at once and goes on where it was. When the bit is to be changed it says so and waits.',
    done: ({ states }) => states.run === 'ready',
  },
  {
    stage: 'record',
    title: JOB.seeWhatWasKept,
    says: 'Go to Record. Who cut it, with which bits and how long it took is kept here, for the next sign like it.',
    done: ({ stage }) => stage === 'record',
  },
];

const KEY = 'kerbe-first-job';
interface Kept {
  /** The job it is about; null until one is made. */
  job: string | null;
  step: number;
  over: boolean;
}

function read(): Kept | null {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Kept | null;
    return kept && typeof kept.step === 'number' ? kept : null;
  } catch {
    return null;
  }
}

class FirstJob {
  private kept = $state.raw<Kept | null>(read());

  /** It was never begun, is under way, or was finished or left. */
  get state(): 'new' | 'under way' | 'over' {
    return this.kept === null ? 'new' : this.kept.over ? 'over' : 'under way';
  }
  get job(): string | null {
    return this.kept?.job ?? null;
  }
  /** The step a job is at; null when it is not the first job. */
  stepOf(job: string): { number: number; step: Step } | null {
    if (this.state !== 'under way' || this.job !== job) return null;
    return { number: this.kept!.step + 1, step: STEPS[this.kept!.step] };
  }

  /** The job that is made next is the first one. */
  begin(): void {
    this.keep({ job: null, step: 0, over: false });
  }
  /** A job is opened: one that was waited for is taken up. */
  opened(job: string): void {
    if (this.state === 'under way' && this.job === null) this.keep({ ...this.kept!, job });
  }
  /** Goes on as far as things are done. */
  look(job: string, now: Now): void {
    const at = this.stepOf(job);
    if (!at?.step.done(now)) return;
    const step = this.kept!.step + 1;
    this.keep({ ...this.kept!, step, over: step >= STEPS.length });
  }
  leave(): void {
    this.keep({ job: this.job, step: this.kept?.step ?? 0, over: true });
  }

  private keep(kept: Kept): void {
    this.kept = kept;
    localStorage.setItem(KEY, JSON.stringify(kept));
  }
}

export const firstJob = new FirstJob();
