/** The main thread's side of the artwork worker: what can be asked of it, and what comes back. */
import type { Change } from '@kerbe/core/artwork/change';
import type { Edit } from '@kerbe/core/artwork/edit';
import type { PlacedLetter } from '@kerbe/core/artwork/letters';
import type { TraceSettings } from '@kerbe/core/artwork/import';
import type { NodeEdit } from '@kerbe/core/artwork/nodes';
import type { Subpath } from '@kerbe/core/artwork/path';
import type { Marks } from '@kerbe/core/artwork/snap';
import type { Box } from '@kerbe/core/geometry';
import type { Item, Job, Layer } from '@kerbe/core/job';
import type { Finding } from '@kerbe/core/preflight';

/** One thing as it is drawn: outlines and holes of what is filled, lines of line work. */
export interface DrawnThing {
  id: string;
  contours: Float64Array[];
  lines: { xy: Float64Array; closed: boolean }[];
  box: Box;
  marks: Marks;
  /** Parts that have an island, and all parts. */
  islands: number;
  parts: number;
  /** Of words: its letters, in the order they were typed. */
  letters: PlacedLetter[];
}

export interface Drawing {
  /** Things that changed since the last drawing. */
  changed: DrawnThing[];
  gone: string[];
}

/** What a file holds, before it is placed; the worker keeps the rest. */
export interface FileView {
  shapes: number;
  lines: number;
  words: number;
  layers: string[];
  /** Of everything in it, mm as read; the wrong way round when there is nothing. */
  box: Box;
  size: { known: boolean; unit: string; mm: number };
  page: { width: number; height: number } | null;
  findings: Finding[];
  /** A likely unit when the file states none: an index of UNITS. */
  guess: number;
  /** Outlines for a small picture of it. */
  preview: Float64Array[];
}

export interface Placed {
  items: Item[];
  layers: Layer[];
  /** Things larger or farther away than a job can hold. */
  leftOut: number;
}

/** Questions and their answers, by name. */
export interface Questions {
  draw: [{ job: Job }, Drawing];
  /** Of what was drawn last. */
  check: [{ job: Job }, Finding[]];
  edit: [{ job: Job; edit: Edit }, Change];
  repair: [{ job: Job; finding: Finding }, Change];
  subpaths: [{ job: Job; thing: string }, Subpath[]];
  nodes: [{ job: Job; thing: string; edit: NodeEdit }, Change];
  read: [{ bytes: Uint8Array; name: string; boardWidth: number }, FileView];
  /** Decodes a picture and keeps it for tracing. */
  picture: [{ bytes: Uint8Array }, { width: number; height: number; dpi: number | null }];
  trace: [{ settings: TraceSettings; pixel: number }, FileView];
  place: [{ scale: number; dx: number; dy: number; prefix: string; taken: string[]; group?: string; oneThing: boolean; layers: boolean }, Placed];
  export: [{ job: Job; format: 'svg' | 'dxf' }, string];
}
export type Question = keyof Questions;

export type Ask = { [Q in Question]: { id: number; ask: Q } & Questions[Q][0] }[Question];
export type Reply =
  | { kind: 'ready' }
  | { kind: 'progress'; id: number; done: number }
  | { kind: 'answer'; id: number; answer: Questions[Question][1] }
  | { kind: 'failed'; id: number; why: string; superseded: boolean };

/** A question whose answer is no longer wanted. */
export class Superseded extends Error {}

interface Waiting {
  resolve(answer: never): void;
  reject(error: Error): void;
  onProgress?: (done: number) => void;
}

export class ArtDesk {
  private worker: Worker;
  private id = 0;
  private ready = false;
  private queue: Ask[] = [];
  private readonly waiting = new Map<number, Waiting>();

  constructor() {
    this.worker = this.start();
  }

  ask<Q extends Question>(ask: Q, what: Questions[Q][0], onProgress?: (done: number) => void): Promise<Questions[Q][1]> {
    const message = { ...what, ask, id: ++this.id } as unknown as Ask;
    return new Promise((resolve, reject) => {
      this.waiting.set(message.id, { resolve, reject, onProgress } as Waiting);
      if (this.ready) this.worker.postMessage(message);
      else this.queue.push(message);
    });
  }

  /** Ends all work under way, even in the middle of a step. */
  cancel(): void {
    this.worker.terminate();
    for (const { reject } of this.waiting.values()) reject(new Superseded('Cancelled.'));
    this.waiting.clear();
    this.queue = [];
    this.worker = this.start();
  }

  close(): void {
    this.worker.terminate();
  }

  private start(): Worker {
    this.ready = false;
    const worker = new Worker(new URL('./art.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<Reply>) => {
      if (data.kind === 'ready') {
        this.ready = true;
        for (const message of this.queue.splice(0)) worker.postMessage(message);
        return;
      }
      const waiting = this.waiting.get(data.id);
      if (data.kind === 'progress') return waiting?.onProgress?.(data.done);
      this.waiting.delete(data.id);
      if (data.kind === 'answer') waiting?.resolve(data.answer as never);
      else waiting?.reject(data.superseded ? new Superseded(data.why) : new Error(data.why));
    };
    worker.onerror = (event) => {
      event.preventDefault();
      const error = new Error('The artwork worker stopped; it was started again. Try once more.');
      for (const { reject } of this.waiting.values()) reject(error);
      this.waiting.clear();
      worker.terminate();
      this.worker = this.start();
    };
    return worker;
  }
}
