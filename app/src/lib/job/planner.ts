/** The main thread's side of the planning worker. */
import type { Amount, Moment, Stretch } from '@kerbe/core/proof';
import { applyTiles } from '@kerbe/core/proof/tiles';
import type { Showing, TimeReport } from '@kerbe/core/advise';
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
  through: boolean;
  widest?: number;
  tabPoints?: [number, number][];
  unreached?: number;
  holes?: number;
  passes?: number;
  /** Places a fill does not reach, touched with the point: x y area. */
  spots?: [number, number, number][];
  marked?: number;
  overlap?: number;
  step?: number;
  /** Outlines of both halves, x y, and the gap between them. */
  fit?: { plug: Float64Array[]; recess: Float64Array[]; gap: { min: number; max: number } };
}

/** Heights of the carved board, as the proof has them. */
export interface BoardMap {
  columns: number;
  rows: number;
  cell: number;
  height: Float32Array;
  /** Goes up by one with every change. */
  version: number;
  /** Tiles that differ from the version before; nothing when all may. */
  changed: Uint32Array | null;
  /** A second copy, for the drawing worker to take: copying so much would hold up the page. */
  spare?: Float32Array;
}

export interface PlanView {
  cuts: CutView[];
  findings: Finding[];
  seconds: number;
  files: ProgramFile[];
  map: BoardMap;
  deepest: number;
  time: TimeReport;
  stretches: Stretch[];
  shows: Showing[];
  thumbnail: { width: number; height: number; data: Uint8ClampedArray };
}

/** Heights as they come from the worker: all of them, or tiles that changed. */
export type SentMap = { columns: number; rows: number; cell: number } & (
  { height: Float32Array; spare?: Float32Array } | { tiles: Uint32Array; data: Float32Array }
);

/** Asked of the last plan, and what comes back. */
export interface Questions {
  /** The board after some seconds of the job. */
  scrub: [{ t: number }, { map: SentMap; moment: Moment | null }];
  /** Which cut made each cell: its number from 1 on. */
  owners: [Record<string, never>, { owners: Uint8Array }];
  difference: [Record<string, never>, DifferenceView];
  /** The same board on finer cells. */
  finer: [{ cell: number }, { map: SentMap }];
  speed: [{ parts: number }, { speeds: { at: number; speed: number; asked: number }[] }];
  stl: [Record<string, never>, { stl: Uint8Array }];
}

export interface DifferenceView {
  /** By cell: 1 left standing, 2 cut too much. */
  classes: Uint8Array;
  left: Amount;
  over: Amount;
  cuts: { cut: string; left: Amount; over: Amount }[];
}

export type Request =
  | { id: number; kind: 'plan'; job: Job; date: string; crib: string[] | null }
  | { [K in keyof Questions]: { id: number; kind: K; data: Questions[K][0] } }[keyof Questions];

export type Answer =
  | { kind: 'ready' }
  | { kind: 'progress'; id: number; what: string; done: number }
  | { kind: 'plan'; id: number; view: Omit<PlanView, 'map'>; map: SentMap }
  | { kind: 'answer'; id: number; answer: unknown }
  | { kind: 'failed'; id: number; why: string };

export interface PlannerEvents {
  progress(what: string, done: number): void;
  plan(view: PlanView): void;
  failed(why: string): void;
}

/** Plans the newest job it was given; older ones are dropped. Questions are about the plan shown last. */
export class Planner {
  /** Null after an error: the next wish starts another. */
  private worker: Worker | null;
  private id = 0;
  private newest = 0;
  private ready = false;
  private waiting: Request | null = null;
  private map: BoardMap | null = null;
  private readonly asked = new Map<number, { resolve: (answer: never) => void; reject: (why: Error) => void }>();
  private readonly events: PlannerEvents;

  constructor(events: PlannerEvents) {
    this.events = events;
    this.worker = this.start();
  }

  request(job: Job, date: string, crib: string[] | null): void {
    this.newest = ++this.id;
    const request: Request = { id: this.newest, kind: 'plan', job, date, crib };
    this.worker ??= this.start();
    if (this.ready) this.worker.postMessage(request);
    else this.waiting = request;
  }

  /** Asks about the last plan. Rejected when there is none, or the work was cancelled. */
  ask<K extends keyof Questions>(kind: K, data: Questions[K][0]): Promise<Questions[K][1]> {
    const id = ++this.id;
    const { worker } = this;
    if (!worker || !this.ready) return Promise.reject(new Error('Nothing is planned yet.'));
    return new Promise((resolve, reject) => {
      this.asked.set(id, { resolve, reject });
      worker.postMessage({ id, kind, data });
    });
  }

  /** Heights that came with an answer, as a map of their own. */
  mapOf(sent: SentMap): BoardMap {
    const version = ++this.id;
    const { columns, rows, cell } = sent;
    return 'height' in sent
      ? { columns, rows, cell, height: sent.height, spare: sent.spare, version, changed: null }
      : { columns, rows, cell, height: new Float32Array(0), version, changed: null };
  }

  /** Ends the work under way, even in the middle of a step. */
  cancel(): void {
    this.newest = ++this.id;
    this.waiting = null;
    this.end('Cancelled.');
    this.worker = this.start();
  }

  close(): void {
    this.worker?.terminate();
  }

  /** Lets the worker go; whoever waits for an answer is told. */
  private end(why: string): void {
    this.worker?.terminate();
    this.worker = null;
    this.ready = false;
    for (const { reject } of this.asked.values()) reject(new Error(why));
    this.asked.clear();
  }

  private start(): Worker {
    this.ready = false;
    this.map = null;
    const worker = new Worker(new URL('./planner.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<Answer>) => {
      if (data.kind === 'ready') {
        this.ready = true;
        if (this.waiting) worker.postMessage(this.waiting);
        this.waiting = null;
        return;
      }
      const question = this.asked.get(data.id);
      if (question && data.kind !== 'progress') {
        this.asked.delete(data.id);
        if (data.kind === 'answer') question.resolve(data.answer as never);
        else if (data.kind === 'failed') question.reject(new Error(data.why));
        return;
      }
      // Tiles that changed are put into the copy whether or not the plan is still wanted: the next ones build on it.
      if (data.kind === 'plan') this.map = this.renewed(data.map);
      if (data.id !== this.newest) return;
      if (data.kind === 'progress') this.events.progress(data.what, data.done);
      else if (data.kind === 'plan') this.events.plan({ ...data.view, map: this.map! });
      else if (data.kind === 'failed') this.events.failed(data.why);
    };
    worker.onerror = (event) => {
      if (this.worker !== worker) return;
      const why = event.message || 'The planning worker stopped.';
      // What was wished for and not begun would wait for ever.
      this.waiting = null;
      this.end(why);
      this.events.failed(`${why} It is started anew with the next change, or by “Plan again”.`);
    };
    return worker;
  }

  private renewed(sent: SentMap): BoardMap {
    const version = (this.map?.version ?? 0) + 1;
    const { columns, rows, cell } = sent;
    if ('height' in sent || !this.map)
      return {
        columns,
        rows,
        cell,
        height: 'height' in sent ? sent.height : new Float32Array(columns * rows),
        spare: 'height' in sent ? sent.spare : undefined,
        version,
        changed: null,
      };
    applyTiles(this.map, sent.tiles, sent.data);
    return { ...this.map, spare: undefined, version, changed: sent.tiles };
  }
}
