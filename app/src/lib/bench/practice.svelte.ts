/** One exercise under way: the scene laid out, everything observed, and the verdict as it stands. */
import type { ScreenCommand } from '@kerbe/core/link/commands';
import { EXERCISES, judge, sceneSteps, type Exercise, type Moment, type Verdict } from '@kerbe/core/practice/exercises';
import type { MachineLink } from '$lib/machine.svelte';
import { Act } from '$lib/stages/setup/act.svelte';
import { ask } from '$lib/ui/post';

/** A program that lies ready: its header, and where it can be taken up again. */
export interface PracticeFile {
  name: string;
  header: string[];
  seconds: number;
  places: { line: number; label: string }[];
}

/** As much of what was seen as a verdict can need. */
const MOST = 20_000;

export class Practice extends Act {
  exercise = $state.raw<Exercise | null>(null);
  verdict = $state.raw<Verdict | null>(null);
  laying = $state(false);
  /** Kept with the learner's results. */
  kept = $state<'no' | 'saving' | 'kept' | 'failed'>('no');
  private trace: Moment[] = [];
  private begun = 0;
  /** What happens by itself in this exercise has happened. */
  private happened = false;
  private last = '';

  constructor(machine: MachineLink) {
    super(machine);
  }

  /** Lays out the scene of an exercise, and begins. */
  async begin(id: string): Promise<void> {
    const exercise = EXERCISES.find((one) => one.id === id);
    if (!exercise) return;
    this.end();
    this.laying = true;
    // Nothing else is pressed meanwhile.
    this.doing = 'laying the scene';
    this.why = null;
    for (const step of sceneSteps(exercise)) {
      for (let i = 0; i < 100 && step.do !== 'stop' && this.machine.now.busy !== null; i++) await new Promise((done) => setTimeout(done, 50));
      this.why = await this.machine.send(step);
      if (this.why !== null && step.do !== 'stop') {
        this.why = `The scene could not be laid out. ${this.why}`;
        this.laying = false;
        this.doing = null;
        return;
      }
    }
    // What is observed from here on is the learner's.
    await new Promise((done) => setTimeout(done, 400));
    this.laying = false;
    this.doing = null;
    this.exercise = exercise;
    this.kept = 'no';
    this.trace = [];
    this.happened = false;
    this.begun = Date.now();
    this.verdict = judge(exercise, this.trace);
  }

  end(): void {
    this.exercise = null;
    this.verdict = null;
  }

  /** Something the machine showed. */
  see(): void {
    if (!this.exercise || this.laying) return;
    const text = JSON.stringify(this.machine.now);
    if (text === this.last) return;
    this.last = text;
    this.take({ at: Date.now(), machine: $state.snapshot(this.machine.now) });
  }

  override async send(command: ScreenCommand): Promise<boolean> {
    const before = $state.snapshot(this.machine.now);
    const done = await super.send(command);
    this.take({ at: Date.now(), machine: before, command, why: this.why });
    return done;
  }

  private take(moment: Moment): void {
    const { exercise } = this;
    if (!exercise || this.laying || this.verdict?.finished) return;
    this.trace.push(moment);
    if (this.trace.length > MOST) this.trace.splice(1, 1000);
    if (exercise.happens?.when(this.trace) && !this.happened) {
      this.happened = true;
      void this.machine.send({ do: 'bench', change: exercise.happens.change });
    }
    const verdict = judge(exercise, this.trace, this.verdict?.tasks);
    this.verdict = verdict;
    if (verdict.finished) void this.keep(exercise, verdict);
  }

  private async keep(exercise: Exercise, { passed, slips }: Verdict): Promise<void> {
    this.kept = 'saving';
    const answer = await ask('/api/exercises', 'POST', { exercise: exercise.id, passed, slips, seconds: (Date.now() - this.begun) / 1000 });
    this.kept = answer.ok ? 'kept' : 'failed';
  }
}
