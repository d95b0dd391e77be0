/** The server's heavy work, done in processes of its own so that the server goes on answering: read a job that is saved, plan for a release, read an upload, draw the paper template. */
import { told, wordsOf } from '@kerbe/core/findings';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { FontSource } from '@kerbe/core/artwork';
import { readDrawing } from '@kerbe/core/artwork/import';
import { sniff } from '@kerbe/core/artwork/sniff';
import { PAPERS } from '@kerbe/core/artwork/template';
import { faceById, openFont, type Font } from '@kerbe/core/artwork/text';
import type { Grey } from '@kerbe/core/cuts';
import { bitLabel, bitName } from '@kerbe/core/bits';
import { contoursOf } from '@kerbe/core/geometry';
import { RAPID } from '@kerbe/core/toolpath';
import { spinUpOf } from '@kerbe/core/schedule';
import { readJob, type Job } from '@kerbe/core/job';
import { layouts, type JobNestSettings } from '@kerbe/core/nest/job';
import { cleanText, decodeText } from '@kerbe/core/text';
import { z } from 'zod';
import { drawJob, planJob, releasePrograms, remnantOf, tiledSections } from '@kerbe/core/plan';
import { workPicture } from '@kerbe/core/proof';
import { readProgram, statsOf } from '@kerbe/core/program';
import { decodePicture, pictureAddress, quotePdf, setUpSheetPdf, templatePdf, type QuoteFacts, type SheetFacts } from '@kerbe/files';
import type { LaidOut, LayoutTold } from '../stages/proof/advice.ts';
import { textOf, type JobText } from './job-text.ts';
import type { JobFigures, ProgramRecord, ReleaseReport } from './db';
import { hashOfHashes } from './hashes';

const require = createRequire(import.meta.url);
const fonts = new Map<string, Font>();

/** Tells whoever asked how far it is, or what was found so far. */
export type Tell = (what: unknown) => void;

/** Files of a shop's own that a job is planned from, by id: the faces it brought, and the pictures that are burned. */
export interface OwnFiles {
  faces: Record<string, Uint8Array>;
  pictures: Record<string, Uint8Array>;
}

const fontsWith =
  ({ faces: own }: OwnFiles): FontSource =>
  (id) => {
    const face = faceById(id);
    if (!face && !Object.hasOwn(own, id)) return undefined;
    let font = fonts.get(id);
    if (!font) fonts.set(id, (font = openFont(face ? readFileSync(require.resolve(face.file)) : own[id])));
    return font;
  };

/** A picture as grey pixels; what is clear is bare. */
export async function grey({ bytes }: { bytes: Uint8Array }): Promise<Grey> {
  const { raster } = await decodePicture(bytes);
  return { width: raster.width, height: raster.height, data: raster.grey, opacity: raster.opacity };
}

const sourcesOf = (own: OwnFiles) => ({
  fonts: fontsWith(own),
  pictures: (id: string) => (Object.hasOwn(own.pictures, id) ? grey({ bytes: own.pictures[id] }) : Promise.resolve(null)),
});

function jobOf(doc: string): Job {
  const reading = readJob(JSON.parse(doc));
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}

/** A job that comes in, whole: as a save with what it was made from, or as a document alone. */
const Save = z.object({
  from: z.int().min(0),
  label: z.string().max(200),
  doc: z.unknown(),
  tab: z.string().max(80).optional(),
  picture: z
    .string()
    .max(300_000)
    .regex(/^data:image\/(png|webp);base64,/)
    .nullable()
    .optional(),
});

export type SaveRead =
  { ok: true; job: JobText; from: number; label: string; tab: string | null; picture: string | null } | { ok: false; status: number; why: string };

/** Reads the body of a save - or, with `bare`, of a document alone: 25 MB of it take a second that nobody else should wait. */
export function job({ bytes, bare }: { bytes: Uint8Array; bare: boolean }): SaveRead {
  let data: unknown;
  try {
    data = JSON.parse(decodeText(bytes));
  } catch {
    return { ok: false, status: 400, why: 'it is not JSON.' };
  }
  const parsed = Save.safeParse(bare ? { from: 0, label: '', doc: data } : data);
  if (!parsed.success) return { ok: false, status: 400, why: 'the save could not be read.' };
  const { doc, from, label, tab = null, picture = null } = parsed.data;
  const reading = readJob(doc);
  if (!reading.ok) return { ok: false, status: 422, why: reading.why.slice(0, 5).join(' ') };
  return { ok: true, job: textOf(reading.job), from, label: cleanText(label), tab, picture };
}

export interface Planned {
  /** The programs as they are kept, as JSON: they may be long, and nobody reads them on the way. */
  programs: string;
  count: number;
  sha256: string;
  report: Omit<ReleaseReport, 'accepted'>;
}

export async function plan({ doc, date, own, crib }: { doc: string; date: string; own: OwnFiles; crib: string[] }): Promise<Planned> {
  const job = jobOf(doc);
  const planned = await planJob(job, { ...sourcesOf(own), crib: new Set(crib) });
  const whole = releasePrograms(job, planned, date, 'pauses');
  const parts = releasePrograms(job, planned, date, 'tool');
  // With one bit the program for all is the program for that bit: it is there once.
  const files = [...whole.files, ...parts.files.filter(({ name }) => !whole.files.some((file) => file.name === name))];
  const programs = files.map((file): ProgramRecord => {
    const program = readProgram(file.text);
    return {
      ...file,
      sha256: createHash('sha256').update(file.text).digest('hex'),
      lines: program.lines,
      extents: statsOf(program, job.machine).extents,
    };
  });
  return {
    programs: JSON.stringify(programs),
    count: programs.length,
    sha256: hashOfHashes(programs.map(({ sha256 }) => sha256)),
    report: {
      date,
      seconds: planned.time.atMachine,
      deepest: Math.max(0, ...planned.cuts.map(({ facts }) => facts.deepest)),
      findings: [...planned.findings, ...whole.findings, ...parts.findings].map((found) => told(found, job.units)),
      cuts: planned.cuts.map(({ cut, bit, facts, seconds, lifts }) => ({
        id: cut.id,
        kind: cut.kind,
        bit: bitLabel(bit, job.units),
        moves: facts.moves,
        seconds,
        deepest: facts.deepest,
        length: facts.cutting,
        lifts,
      })),
    },
  };
}

/** Longer than this nobody waits, milliseconds. */
const LONG_ENOUGH = 240_000;

/** Lays a job's pieces out, better and better; each better one is told as it is found. */
export async function layout({ doc, own, settings }: { doc: unknown; own: OwnFiles; settings: Omit<JobNestSettings, 'rounds' | 'seed' | 'from'> }, tell: Tell) {
  const reading = readJob(doc);
  if (!reading.ok) throw new Error(reading.why.join(' '));
  const { job } = reading;
  const items = await drawJob(job, sourcesOf(own), async () => {});
  const end = performance.now() + LONG_ENOUGH;
  for (const { tried, better } of layouts(job, items, settings)) {
    const outlines = better?.outlines.flatMap((piece) => piece.flatMap(contoursOf).map(({ xy }) => Array.from(xy, (v) => Math.round(v * 100) / 100)));
    const laid = better && { job: pick(better.job), nest: better.nest, outlines: outlines! };
    tell({ tried, better: laid } satisfies LayoutTold);
    if (performance.now() > end) return;
  }
}
const pick = ({ items, itemOrder, cuts, outline }: Job): LaidOut['job'] => ({ items, itemOrder, cuts, outline });

/** What a job takes at the machine, for the plan of the day. */
export async function figures({ doc, own }: { doc: string; own: OwnFiles }): Promise<Omit<JobFigures, 'revision'>> {
  const job = jobOf(doc);
  const planned = await planJob(job, sourcesOf(own));
  const calls: number[] = [];
  const bits: JobFigures['bits'] = [];
  const worn: NonNullable<JobFigures['worn']> = [];
  let at = 0;
  const programs = tiledSections(job, planned.cuts).map(({ sections }) => sections);
  for (const [k, { speed, cuts }] of programs.flat().entries()) {
    const { bit } = cuts[0];
    const key = bit.crib ?? bitLabel(bit, 'mm');
    // Between tiles somebody pushes the sheet on.
    const tile = k > 0 && programs.some(([first]) => first.cuts === cuts);
    if (tile) calls.push(at);
    else if (bits.length > 0) {
      if (bits.at(-1)!.key !== key) calls.push(at);
      at += job.machine.bitChangeSeconds;
    }
    at += spinUpOf(job, speed) + cuts.reduce((sum, { seconds }) => sum + seconds, 0);
    if (bit.crib) {
      const paths = cuts.map(({ path }) => path.kind);
      const strikes = paths.reduce((sum, kind) => sum + kind.reduce((n, k, i) => n + Number(k !== RAPID && (i === 0 || kind[i - 1] === RAPID)), 0), 0);
      worn.push({ bit: bit.crib, seconds: cuts.reduce((sum, { seconds }) => sum + seconds, 0), strikes });
    }
    if (bits.at(-1)?.key !== key) bits.push({ key, mm: bitName(bit, 'mm'), in: bitName(bit, 'in') });
  }
  return { seconds: planned.time.atMachine, bits, worn, calls, forbidden: planned.findings.some(({ severity }) => severity === 'error') };
}

export interface Read {
  kind: 'drawing' | 'picture' | 'face' | 'other';
  things: number;
  /** Why it cannot be read. */
  failed?: string;
  /** Why the file is not kept, in words. */
  why?: string;
}

/** Reads an upload again, whatever the browser made of it. */
export async function read(file: { bytes: Uint8Array; name: string }): Promise<Read & { sha256: string }> {
  return { ...(await kindOf(file)), sha256: createHash('sha256').update(file.bytes).digest('hex') };
}

async function kindOf({ bytes, name }: { bytes: Uint8Array; name: string }): Promise<Read> {
  const none = (why: string): Read => ({ kind: 'other', things: 0, why });
  const file = sniff(bytes, name);
  switch (file.kind) {
    case 'svg':
    case 'dxf': {
      const { things, findings } = readDrawing(bytes, name);
      const bad = findings.find(({ severity }) => severity === 'error');
      const words = bad && wordsOf(bad, 'mm');
      return { kind: 'drawing', things: things.length, ...(words ? { failed: `${words.what} ${words.remedy}` } : {}) };
    }
    case 'picture':
      try {
        await decodePicture(bytes);
        return { kind: 'picture', things: 1 };
      } catch (error) {
        return none((error as Error).message);
      }
    case 'font':
      try {
        openFont(bytes);
        return { kind: 'face', things: 0 };
      } catch (error) {
        return none((error as Error).message);
      }
    case 'unknown':
      return none(file.why);
    default:
      return none('This kind of file is not kept with a job.');
  }
}

/** The full-size paper template as a PDF. */
export async function template({ doc, own, paper, date }: { doc: string; own: OwnFiles; paper: string; date: string }): Promise<Uint8Array> {
  return templatePdf(jobOf(doc), fontsWith(own), PAPERS[paper] ?? PAPERS.a4, date);
}

/** What is left of a plate when a job is cut; null when nothing of it holds together. */
export async function remnant({ doc, own }: { doc: string; own: OwnFiles }): Promise<{ board: Job['board']; gone: number[][]; left: number } | null> {
  const job = jobOf(doc);
  const remnant = remnantOf(job.board, (await planJob(job, sourcesOf(own))).cuts);
  return remnant && { board: job.board, ...remnant };
}

/** The set-up sheet of a release as a PDF. */
export async function sheet({ doc, own, facts }: { doc: string; own: OwnFiles; facts: Omit<SheetFacts, 'picture'> }): Promise<Uint8Array> {
  const job = jobOf(doc);
  const planned = await planJob(job, sourcesOf(own));
  return setUpSheetPdf(job, planned, { ...facts, picture: workPicture(job, planned.cuts) });
}

/** A quote for a customer as a PDF. */
export async function quote({ doc, own, facts }: { doc: string; own: OwnFiles; facts: Omit<QuoteFacts, 'picture'> }): Promise<Uint8Array> {
  const job = jobOf(doc);
  const planned = await planJob(job, sourcesOf(own));
  return quotePdf(job, { ...facts, picture: workPicture(job, planned.cuts) });
}

/** A picture of the carved board for the Shop wall, as a data address. */
export async function picture({ doc, own }: { doc: string; own: OwnFiles }): Promise<string> {
  const job = jobOf(doc);
  const planned = await planJob(job, sourcesOf(own));
  return pictureAddress(workPicture(job, planned.cuts));
}
