/**
 * What a kind of cut is. Every kind is one definition (`router/kinds/`), registered once (`index.ts`);
 * everything else - the document, the planner, proof, preflight, programs, cards, advice, the command
 * line - asks the definition and never the name of the kind.
 */
import type { BeamWork } from '../feeds/beam.ts';
import type { z } from 'zod';
import type { Bit } from '../bits/schema.ts';
import type { Board } from '../board/index.ts';
import type { Finding } from '../findings/index.ts';
import type { Box, DrawnLine, Region } from '../geometry/index.ts';
import type { LengthUnit } from '../length/index.ts';
import type { Machine } from '../machine/index.ts';
import type { ProcessName } from '../process/index.ts';
import type { ProgramSettings } from '../program/settings.ts';
import type { PathFacts, Toolpath, Travel } from '../toolpath/index.ts';
import type { Work, WorkShape } from './bounds.ts';
import type { Field } from './card.ts';
import type { Removal } from './removal.ts';
import type { ORDERS, Target } from './fields.ts';
import type { PlacedPicture } from './laser/picture.ts';
import type { TorchPlan } from './torch/torch.ts';

/** What every cut has. Feeds are mm/min, speed rev/min. */
export interface BaseCut {
  id: string;
  kind: string;
  name: string;
  on: Target;
  tool: string;
  order: (typeof ORDERS)[number];
  sequence: string[];
  off: boolean;
  group: string;
  feed: number;
  plunge: number;
  speed: number;
}

/** What a cut looks at of its job besides the drawing. A job is one. */
export interface CutJob {
  units: LengthUnit;
  tolerance: number;
  board: Board;
  machine: Machine;
  program: ProgramSettings;
  tools: Record<string, Bit>;
  cuts: Record<string, BaseCut>;
  cutOrder: string[];
}

/** A cut's surroundings: its job, its bit, and what it works on. */
export interface CutContext {
  job: CutJob;
  bit: Bit;
  regions: readonly Region[];
  /** Line work among it: only kinds that follow lines cut it. */
  lines: readonly DrawnLine[];
  travel: Travel;
  /** What another cut of the job works on. */
  regionsOf(cut: BaseCut): Region[];
  /** Parts that other cuts leave standing beside what this one works on. */
  standing(): Region[];
  /** Pictures among what it works on, and those whose pixels are not at hand, by their things. */
  pictures: readonly PlacedPicture[];
  missing: readonly string[];
  /** The box of a drawn thing that encloses something, mm; null when there is none. */
  boxOf(item: string): Box | null;
}

/** Plug and recess: outlines of both halves, and the smallest and largest distance of their walls as cut, mm. */
export interface FitResult {
  plug: Region[];
  recess: Region[];
  gap: { min: number; max: number };
}

/** A planned toolpath, and what its kind can tell of it. Lengths are mm, areas mm². */
export interface Planned {
  path: Toolpath;
  /** Plunges, one for every run of cutting. */
  lifts: number;
  through: boolean;
  findings?: Finding[];
  /** Half the widest stroke, and the ridge left on a floor. */
  widest?: number;
  ridge?: number;
  /** Width of the finest stroke, and where. */
  finest?: { width: number; at: [number, number] };
  limitedByBit?: boolean;
  tooNarrow?: boolean;
  /** Area the bit cannot reach. */
  unreached?: number;
  holes?: number;
  /** Tabs on each outline, and where they are. */
  tabs?: number[];
  tabPoints?: [number, number][];
  /** Passes across the widest stroke, and places touched with the point (x, y, area left). */
  passes?: number;
  spots?: [number, number, number][];
  /** Area marked, and gone over more than once. */
  marked?: number;
  overlap?: number;
  fit?: FitResult;
  /** Distance between lanes. */
  step?: number;
  /** Contours of a torch in cutting order, how often it pierces and feels for the plate, and what stays. */
  torch?: Omit<TorchPlan, 'path'>;
  /** Of a beam: how wide and how deep it takes away, mm; a mark nothing. */
  beam?: { width: number; depth: number };
}

export interface PlannedCut<C extends BaseCut = BaseCut> extends Planned {
  cut: C;
  bit: Bit;
  findings: Finding[];
  facts: PathFacts;
  seconds: number;
  /** Greatest speed that is really reached under power, mm/min. */
  fastest: number;
}

/** The usual order of cuts (common practice): the board is planed, holes while it is whole, carving, edges, openings, the outline. */
export const STAGES = ['surface', 'holes', 'carving', 'edges', 'openings', 'outline'] as const;
export type Stage = (typeof STAGES)[number];

/** A field that names a tool or another cut. */
export interface Reference {
  field: string;
  to: 'tool' | 'cut';
  /** How the reference reads after “Cut c1 …”. */
  says(name: string): string;
  /** Kinds of cut it may name; any when left out. */
  kinds?: readonly string[];
  /** It cannot be left out; a new cut gets another bit that suits, if there is one. */
  required?: boolean;
}

/** A figure of a planned cut, without its unit: mm, mm² or a number. */
export interface Figure {
  label: string;
  value: number;
  as: 'length' | 'area' | 'count';
}

/** Why the bit will not do: what it needs, and whether it cannot even be planned. */
export interface WrongBit {
  need: string;
  forbids: boolean;
}

/** A change of a cut that may save time, and what it costs. */
export interface FasterIdea<C> {
  label: string;
  cost: string;
  change: Partial<C>;
}

/** The cut of the other half of an inlay. */
export type OtherHalf =
  | {
      ok: true;
      cut: BaseCut;
      what: 'plug' | 'recess';
      /** Done otherwise than asked, in words. */
      told: string[];
      /** It is carved face down. */
      mirrored: boolean;
    }
  | { ok: false; why: string };

/** Room for glue under a V-carved plug, and above the surface for the saw, mm. */
export interface InlayRoom {
  glue: number;
  saw: number;
}

/** Writes a length with the unit of whoever reads it. */
export type Show = (mm: number) => string;

export interface CutKind<C extends BaseCut, S extends z.ZodType<C> = z.ZodType<C>> {
  kind: C['kind'];
  /** The kind of machine that makes it. */
  process: ProcessName;
  /** Within a sentence, and as the title of a card. */
  label: string;
  title: string;
  /** What it is for, in a sentence or two. */
  help: string;
  /** Its fields, as docs/job-format.md lists them. */
  format: string;
  schema: S;
  /** Kinds of bit that can make it, the likeliest first. */
  tools: readonly Bit['kind'][];
  /** Works on the whole board, whatever is drawn. */
  wholeBoard?: boolean;
  /** Goes along lines; others work on what has an inside. */
  followsLines?: boolean;
  /** Of a beam: what it does to the sheet. */
  burns?: BeamWork;
  /** It burns pictures, and nothing that is drawn. */
  takesPictures?: boolean;
  /** It has its own order of runs, and is not taken apart by the things it works on. */
  keepsOrder?: boolean;
  /** What a new one works on. */
  usualTarget: Extract<Target, string>;
  /** What one more of it begins with, where one works on the usual already and there are holes. */
  again?: Partial<C>;
  /** What a new one begins with beside its feeds, by bit and board: lengths, mm. */
  begins?(bit: Bit, board: CutJob['board']): Partial<C>;
  references?: readonly Reference[];
  /** Fields that say something of this drawing only, as they are in a cut list for others. */
  unplaced?: Partial<C>;
  /** Fields whose figure was chosen for the bit's width. */
  ofBitWidth?: readonly (keyof C)[];
  /** The bit only marks the surface, so deep at most, whatever Z is programmed, mm. */
  scratchDepth?: number;
  /** What lies in what decides, so that things may lie over each other. */
  byNesting?(cut: C): boolean;
  /** Its tool stays above the board: what it cuts is cut through, whatever its Z. */
  staysAbove?: boolean;
  /** It may go through the board. */
  mayGoThrough?: boolean;
  /** Of things within things the inner ones are cut first: it frees them. */
  innerFirst?: boolean;
  /** Shallow strokes of it fade where the board is low. */
  fadesOnUneven?: boolean;
  /** It sinks what it works on, and its walls stand so: what is left between may be thin. */
  hollow?: 'leaning' | 'upright';
  /** Chip loads of tables say nothing of it. */
  noChipLoad?: boolean;
  /** A field that keeps it above a floor, when it may have one. */
  floorField?(cut: C): keyof C | null;

  /** Places it has besides what is drawn. */
  ownPlaces?(cut: C): number;
  wrongBit(cut: C, bit: Bit): WrongBit | null;
  stage(cut: C, job: Pick<CutJob, 'board'>): Stage;
  /** Does it clear the way for another cut, and so has to come before? */
  clearsFor?(cut: C, other: BaseCut): boolean;
  /** Does it leave what it goes round standing as a part? */
  leavesParts?(cut: C): boolean;
  /** Does it keep clear of parts that other cuts leave standing? */
  avoidsParts?(cut: C): boolean;
  /** Does it cut through along what it works on, from the inside or on the line? Islands drop out then. */
  opens?(cut: C, job: Pick<CutJob, 'board'>): boolean;
  /** A round bit inside the drawing leaves its narrow parts uncut, and nothing else says so. */
  missesNarrow?(cut: C): boolean;
  /** What it planes off, and how much at a time, mm. */
  planes?(cut: C): { of: 'board' | 'spoilboard'; skim: number; from: number; to: number };
  /** Where it begins and ends below the top, mm; undefined where it ends by itself. */
  depths(cut: C, job: Pick<CutJob, 'board'>): { start: number; end: number | undefined };
  /** Depth of the flutes that cut at its deepest, mm; that of the cut when left out. */
  fluteDepth?(cut: C, deepest: number): number;
  /** Cuts whose things, bits and figures it looks at: they are part of what it is made from. */
  looksAt?(cut: C, job: Pick<CutJob, 'cuts' | 'cutOrder'>): BaseCut[];
  /** Things it looks at besides those it works on. */
  looksAtThings?(cut: C): readonly string[];
  /** For the header of a program: what else must be known of it in two months. */
  variant?(cut: C): string;
  described(planned: PlannedCut<C>, show: Show): string;
  /** What it comes to, for its card. */
  figures(planned: PlannedCut<C>): Figure[];
  fields: readonly Field<C>[];
  /** The figure a trial board varies as its depth. */
  varyDepth(cut: C, depth: number): C;
  /** Distance of the passes of a straight bit that clears: narrow ones thin the chip. */
  clearingStep?(cut: C, bit: Bit): number;
  /** What a trial with a bit leaves: the ridge on a floor, and whether it needs one. */
  tried?(planned: PlannedCut<C>, job: Pick<CutJob, 'board'>): { ridge: number; needsFloor: boolean };
  /** Changes worth trying. @param depthPerPass the suggested one for its bit and the board */
  faster?(planned: PlannedCut<C>, context: { job: CutJob; depthPerPass: number; show: Show }): FasterIdea<C>[];
  /** Pointed bits of a wider angle make it shallower, and quicker. */
  widerIsFaster?(planned: PlannedCut<C>): Partial<C> | null;
  /** Why it has no other half is said, too. */
  otherHalf?(cut: C, job: CutJob, room: InlayRoom): OtherHalf;
}

/** How a kind is planned: apart from what it is, so that a page that only asks for a cut need not carry its geometry. */
export interface CutMaker<C extends BaseCut> {
  /** How much work it would be, before it is planned. */
  work(cut: C, context: CutContext, shape: WorkShape): Work;
  plan(cut: C, context: CutContext): Planned;
  /** How it travels between its runs, once they are in the order that was asked for. */
  travel?(planned: Planned, cut: C, context: CutContext): Toolpath;
  /** What the drawing asks it to take away: proof compares with it. */
  expected(planned: PlannedCut<C>, context: CutContext): Removal[];
  /** What is wrong with it that only its kind knows. */
  check?(planned: PlannedCut<C>, context: CutContext): Finding[];
}
