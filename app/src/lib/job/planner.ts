/** The main thread's side of the planning worker. */
import { Superseded } from '../workers/superseded.ts';
import { Workroom } from '../workers/workroom.ts';
import type { Figure } from '@kerbe/core/cuts';
import type { Amount, AsBurned, AsCut, BurnFigures, Moment, Shown, Stretch, KerfCrossing } from '@kerbe/core/proof';
import { applyTiles } from '@kerbe/core/proof/tiles';
import type { Showing, TimeReport } from '@kerbe/core/advise';
import type { Bit, Job } from '@kerbe/core/job';
import type { Piece, ProgramFile } from '@kerbe/core/plan';
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
  /** What it comes to, as its kind tells it. */
  figures: Figure[];
  tabPoints?: [number, number][];
  /** Where it comes to its pieces, in their order, when that is not simply the shortest. */
  pieces: [number, number][];
  /** Places a fill does not reach, touched with the point: x y area. */
  spots?: [number, number, number][];
  /** Outlines of both halves, x y, and the gap between them. */
  fit?: { plug: Float64Array[]; recess: Float64Array[]; gap: { min: number; max: number } };
}

/** A piece of a plate once it is cut; its outlines x y, mm. */
export type PieceView = Pick<Piece, 'part' | 'lies' | 'holds' | 'area' | 'weight' | 'centre'> & {
  rings: Float64Array[];
  /** To cut it, with the way to it. */ seconds: number;
};

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
  files: ProgramFile[];
  map: BoardMap;
  deepest: number;
  time: TimeReport;
  stretches: Stretch[];
  shows: Showing[];
  thumbnail: { width: number; height: number; data: Uint8ClampedArray };
  /** Of a torch job: what becomes of the plate. */
  pieces: PieceView[];
}

/** Heights as they come from the worker: all of them, or tiles that changed. */
export type SentMap = { columns: number; rows: number; cell: number } & (
  { height: Float32Array; spare?: Float32Array } | { tiles: Uint32Array; data: Float32Array }
);

/** Asked of the planning worker, and what comes back: a plan, and then about the last one. */
export interface Questions {
  plan: [{ job: Job; date: string; crib: string[] | null }, { view: Omit<PlanView, 'map'>; map: SentMap }];
  /** The board after some seconds of the job. */
  scrub: [{ t: number }, { map: SentMap; moment: Moment | null }];
  /** Which cut made each cell: its number from 1 on. */
  owners: [Record<string, never>, { owners: Uint8Array }];
  difference: [Record<string, never>, DifferenceView];
  /** The same board on finer cells. */
  finer: [{ cell: number }, { map: SentMap }];
  /** The sheet as a beam leaves it, after some seconds or in the end, on cells of so many mm. */
  burn: [{ cell: number; t: number | null }, BurnView];
  /** What a machine shows that it cut, against the proof. */
  asCut: [Shown, AsCut];
  /** Where a line across the plate meets the kerfs of an arc. */
  kerfs: [{ from: [number, number]; to: [number, number] }, KerfCrossing[]];
  speed: [{ parts: number }, { speeds: { at: number; speed: number; asked: number }[] }];
  /** Seams that cross as little as can be, for tiles no longer than the field. */
  seams: [{ axis: 'x' | 'y'; field: number }, { seams: number[] }];
  stl: [Record<string, never>, { stl: Uint8Array }];
  /** SHA-256 of each program as it was written here; nothing where the browser has no means to. */
  sums: [Record<string, never>, { sums: { name: string; sha256: string }[] }];
}

export interface BurnView {
  /** RGBA, the top row first. */
  image: { width: number; height: number; data: Uint8ClampedArray };
  figures: BurnFigures;
  /** What is asked against it, once all is burned. */
  asked: AsBurned | null;
  cell: number;
  /** Where the head is. */
  at: { x: number; y: number } | null;
}

export interface DifferenceView {
  /** By cell: 1 left standing, 2 cut too much. */
  classes: Uint8Array;
  left: Amount;
  over: Amount;
  cuts: { cut: string; left: Amount; over: Amount }[];
}

export interface PlannerEvents {
  progress(what: string, done: number): void;
  plan(view: PlanView): void;
  failed(why: string): void;
}

const makeRoom = () => new Workroom<Questions>('The planning worker', () => new Worker(new URL('./planner.worker.ts', import.meta.url), { type: 'module' }));
/** Planners at work, and a room for the first of them. */
const atWork = new Set<Planner>();
let early: Workroom<Questions> | null = null;
/** A job is about to be opened: its worker is read and gets ready while the job is fetched. */
export function startPlanning(): void {
  if (atWork.size === 0) early ??= makeRoom();
}

/** Plans the newest job it was given; older ones are dropped. Questions are about the plan shown last. */
export class Planner {
  private readonly room = early ?? makeRoom();
  private newest = 0;
  private version = 0;
  private map: BoardMap | null = null;
  private readonly events: PlannerEvents;

  constructor(events: PlannerEvents) {
    this.events = events;
    early = null;
    atWork.add(this);
  }

  request(job: Job, date: string, crib: string[] | null): void {
    const id = ++this.newest;
    const wanted = () => id === this.newest;
    this.room
      .ask('plan', { job, date, crib }, (done, what = '') => void (wanted() && this.events.progress(what, done)))
      .then(
        ({ view, map }) => {
          // Tiles that changed are put into the copy whether or not the plan is still wanted: the next ones build on it.
          this.map = this.renewed(map);
          if (wanted()) this.events.plan({ ...view, map: this.map });
        },
        (error: Error) => {
          if (wanted() && !(error instanceof Superseded)) this.events.failed(error.message);
        },
      );
  }

  /** Asks about the last plan. Rejected when there is none, or the work was cancelled. */
  ask<K extends Exclude<keyof Questions, 'plan'>>(kind: K, data: Questions[K][0]): Promise<Questions[K][1]> {
    return this.room.ask(kind, data as never) as Promise<Questions[K][1]>;
  }

  /** Heights that came with an answer, as a map of their own. */
  mapOf(sent: SentMap): BoardMap {
    const version = ++this.version;
    const { columns, rows, cell } = sent;
    return 'height' in sent
      ? { columns, rows, cell, height: sent.height, spare: sent.spare, version, changed: null }
      : { columns, rows, cell, height: new Float32Array(0), version, changed: null };
  }

  /** Ends the work under way, even in the middle of a step. */
  cancel(): void {
    this.newest++;
    this.map = null;
    this.room.cancel();
  }

  close(): void {
    atWork.delete(this);
    this.newest++;
    this.room.close();
  }

  private renewed(sent: SentMap): BoardMap {
    // One more than the map it builds on: who draws it goes by that.
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
