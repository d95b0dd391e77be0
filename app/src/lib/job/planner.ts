/** The main thread's side of the planning worker. */
import type { Bit, Job } from '@kerbe/core/job';
import type { ProgramFile } from '@kerbe/core/plan';
import type { Finding } from '@kerbe/core/preflight';
import type { PathFacts } from '@kerbe/core/toolpath';

export interface CutView {
  id: string;
  bit: Bit;
  kind: Uint8Array;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  facts: PathFacts;
  seconds: number;
  lifts: number;
  regions: number;
  ridge?: number;
  widest?: number;
  tabs?: number;
  unreached?: number;
  holes?: number;
}

export interface PlanView {
  cuts: CutView[];
  findings: Finding[];
  seconds: number;
  files: ProgramFile[];
  map: { columns: number; rows: number; cell: number; levels: { width: number; height: number; data: Float32Array }[] };
  deepest: number;
  thumbnail: { width: number; height: number; data: Uint8ClampedArray };
}

export interface Request {
  id: number;
  job: Job;
  date: string;
}

export type Answer =
  | { kind: 'ready' }
  | { kind: 'progress'; id: number; what: string; done: number }
  | { kind: 'plan'; id: number; view: PlanView }
  | { kind: 'failed'; id: number; why: string };

export interface PlannerEvents {
  progress(what: string, done: number): void;
  plan(view: PlanView): void;
  failed(why: string): void;
}

/** Plans the newest job it was given; older ones are dropped. */
export class Planner {
  private worker: Worker;
  private id = 0;
  private ready = false;
  private waiting: Request | null = null;
  private readonly events: PlannerEvents;

  constructor(events: PlannerEvents) {
    this.events = events;
    this.worker = this.start();
  }

  request(job: Job, date: string): void {
    const request = { id: ++this.id, job, date };
    if (this.ready) this.worker.postMessage(request);
    else this.waiting = request;
  }

  /** Ends the work under way, even in the middle of a step. */
  cancel(): void {
    this.id++;
    this.worker.terminate();
    this.worker = this.start();
  }

  close(): void {
    this.worker.terminate();
  }

  private start(): Worker {
    this.ready = false;
    const worker = new Worker(new URL('./planner.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<Answer>) => {
      if (data.kind === 'ready') {
        this.ready = true;
        if (this.waiting) worker.postMessage(this.waiting);
        this.waiting = null;
        return;
      }
      if (data.id !== this.id) return;
      if (data.kind === 'progress') this.events.progress(data.what, data.done);
      else if (data.kind === 'plan') this.events.plan(data.view);
      else this.events.failed(data.why);
    };
    worker.onerror = (event) => this.events.failed(event.message || 'The planning worker stopped.');
    return worker;
  }
}
