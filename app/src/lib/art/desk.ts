/** The main thread's side of the artwork worker: what can be asked of it, and what comes back. */
import type { Change } from '@kerbe/core/artwork/change';
import type { Edit } from '@kerbe/core/artwork/edit';
import type { TraceSettings } from '@kerbe/core/artwork/import';
import type { NodeEdit } from '@kerbe/core/artwork/nodes';
import type { Subpath } from '@kerbe/core/artwork/path';
import type { Marks } from '@kerbe/core/artwork/snap';
import type { Box } from '@kerbe/core/geometry';
import type { Item, Job, Layer } from '@kerbe/core/job';
import type { Finding } from '@kerbe/core/preflight';
import { Workroom } from '../workers/workroom.ts';

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
}

export interface Drawing {
  /** Things that changed since the last drawing. */
  changed: DrawnThing[];
  gone: string[];
  /** All there is: nothing was sent before. */
  whole: boolean;
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
  /** What an edit would make, as outlines: to look at before it is done. */
  foresee: [{ job: Job; edit: Edit }, Float64Array[]];
  /** Words as each of some faces would set them, one line each: outlines as SVG path data, and their box. */
  faces: [{ text: string; faces: readonly string[] }, { face: string; d: string; box: Box }[]];
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
  place: [
    {
      scale: number;
      dx: number;
      dy: number;
      prefix: string;
      taken: string[];
      group?: string;
      oneThing: boolean;
      apart: boolean;
      shapes?: number;
      layers: boolean;
    },
    Placed,
  ];
  export: [{ job: Job; format: 'svg' | 'dxf' }, string];
}

export const artRoom = (): Workroom<Questions> =>
  new Workroom<Questions>('The artwork worker', () => new Worker(new URL('./art.worker.ts', import.meta.url), { type: 'module' }));
