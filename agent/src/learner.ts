/** For tests: someone at the bench of a simulated machine, who does exercises and is watched as the page watches. */
import type { AgentSnapshot } from '@kerbe/core/link';
import { EXERCISES, judge, PRACTICE_RUN, sceneSteps, type Exercise, type Moment, type Verdict } from '@kerbe/core/practice/exercises';
import { practiceOrder } from '@kerbe/core/practice/programs';
import { sealed, wait, type Shop } from './testing.ts';

/** Someone at the bench, watched as the page watches: what they do, and every state they see. */
export class Learner {
  readonly trace: Moment[] = [];
  verdict: Verdict;
  /** Tasks in the order they were done. */
  readonly order: number[] = [];
  protected readonly shop: Shop;
  private readonly exercise: Exercise;
  private happened = false;

  constructor(shop: Shop, exercise: Exercise) {
    this.shop = shop;
    this.exercise = exercise;
    this.verdict = judge(exercise, []);
  }

  /** Lays out the scene of an exercise as the page does, and looks for the first time. */
  static async begin<L extends Learner>(this: new (shop: Shop, exercise: Exercise) => L, shop: Shop, id: string): Promise<L> {
    const exercise = EXERCISES.find((one) => one.id === id)!;
    for (const step of sceneSteps(exercise)) await (step.do === 'stop' ? shop.command(step) : shop.must(step));
    await wait(150);
    const learner = new this(shop, exercise);
    await learner.look();
    return learner;
  }

  private take(moment: Moment): void {
    this.trace.push(moment);
    const before = this.verdict.tasks;
    this.verdict = judge(this.exercise, this.trace, before);
    this.verdict.tasks.forEach((done, k) => done && !before[k] && this.order.push(k));
    const { happens } = this.exercise;
    if (!happens || this.happened || !happens.when(this.trace)) return;
    this.happened = true;
    void this.shop.must({ do: 'bench', change: happens.change });
  }

  async look(): Promise<void> {
    this.take({ at: Date.now(), machine: await this.shop.state() });
  }

  /** Does something, seeing what the machine shows meanwhile. Gives why it was refused. */
  async act(command: { do: string } & Record<string, unknown>): Promise<string | null> {
    const before = await this.shop.state();
    let going = true;
    const answer = this.shop.command(command).finally(() => (going = false));
    while (going) {
      await this.look();
      await wait(20);
    }
    const why = await answer;
    this.take({ at: Date.now(), machine: before, command, why });
    await wait(60);
    await this.look();
    return why;
  }
  bench = (change: Record<string, unknown>) => this.act({ do: 'bench', change });
  async rest(): Promise<void> {
    for (let i = 0; i < 200; i++) {
      await this.look();
      const { status } = await this.shop.state();
      if (status?.queued === 0 && status.state === 'idle') return;
      await wait(20);
    }
  }
  async jog(x: number, y: number, z: number): Promise<void> {
    await this.act({ do: 'jog', x, y, z, feed: 3000 });
    await this.rest();
  }

  /** Runs a program that lies ready, or takes it up again, as the server hands it over. Gives why it was refused. */
  async run(program: string, from?: number): Promise<string | null> {
    const order = await practiceOrder(this.exercise.process, program, from);
    if (typeof order === 'string') throw new Error(order);
    const id = `${PRACTICE_RUN}${crypto.randomUUID()}`;
    const before = await this.shop.state();
    const why = await this.shop.command({ do: 'start', order: sealed({ ...order, id, sha256: 'practice' }) });
    this.take({ at: Date.now(), machine: before, command: { do: 'practice', program, ...(from === undefined ? {} : { from }) }, why });
    await this.look();
    return why;
  }

  /** Watches until what it sees is so. */
  async until(what: (now: AgentSnapshot) => unknown, seconds = 60): Promise<AgentSnapshot> {
    for (const end = Date.now() + seconds * 1000; Date.now() < end; await wait(15)) {
      await this.look();
      const { machine } = this.trace.at(-1)!;
      if (what(machine)) return machine;
    }
    throw new Error(`waited in vain: ${JSON.stringify(this.trace.at(-1)!.machine.run)} ${JSON.stringify(this.trace.at(-1)!.machine.status)}`);
  }
}
