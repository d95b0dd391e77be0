/**
 * A finding is data: a code, where it is, and its figures in mm. It is put into words where somebody
 * reads it, with the unit of the reader.
 */
import { formatChip, formatFeed, formatLength, type LengthUnit } from '../length/index.ts';

export type Severity = 'error' | 'warning' | 'note';

/** A repair Kerbe can carry out: the things it changes, or what is set. */
export interface Repair {
  items: string[];
  order?: string[];
  /** Fields of the cut that are set. */
  fields?: Record<string, number>;
  guide?: boolean;
  /** What was left out is taken, and the rest left out. */
  later?: boolean;
}

/** An error forbids a release; a warning wants a person's tick; a note is only said. */
export interface Finding {
  code: string;
  severity: Severity;
  /** Figures and names that its words speak of. Lengths are mm, areas mm², feeds mm/min. */
  data: Record<string, unknown>;
  cut?: string;
  item?: string;
  /** Where on the board, mm. */
  at?: [number, number];
  line?: number;
  repair?: Repair;
}

/** What is the matter, what it would do to the work, what to do about it; and what the button of its repair says. */
export interface FindingWords {
  what: string;
  why: string;
  remedy: string;
  repair?: string;
}

/** Figures as a person reads them, in their unit. */
interface Say {
  len(mm: number): string;
  areaOf(mm2: number): string;
  rate(mmPerMin: number): string;
  chipOf(mm: number): string;
}
type Texts = [what: string, why: string, remedy: string, repair?: string] | string[];

const catalogue = new Map<string, (data: never, say: Say) => Texts>();

/**
 * Adds a finding to the catalogue.
 *
 * @param of from what its finder knows to its data and its place
 * @param words its texts, from the data alone
 */
export function define<A extends unknown[], D extends Record<string, unknown>>(
  code: string,
  severity: Severity,
  of: (...args: A) => { data: D } & Omit<Finding, 'code' | 'severity' | 'data'> & Partial<Pick<Finding, 'severity'>>,
  words: (data: D, say: Say) => Texts,
): (...args: A) => Finding {
  catalogue.set(code, words as (data: never, say: Say) => Texts);
  return (...args) => ({ code, severity, ...of(...args) });
}

const sayIn = (unit: LengthUnit): Say => ({
  len: (mm) => formatLength(mm, { unit }),
  areaOf: (mm2) => (unit === 'in' ? `${(mm2 / 645.16).toFixed(3)} in²` : `${mm2 < 100 ? mm2.toFixed(2) : Math.round(mm2)} mm²`),
  rate: (mmPerMin) => formatFeed(mmPerMin, unit),
  chipOf: (mm) => formatChip(mm, unit),
});

/** A finding in words, in the unit of whoever reads it. */
export function wordsOf({ code, data }: Pick<Finding, 'code' | 'data'>, unit: LengthUnit): FindingWords {
  const words = catalogue.get(code);
  if (!words) return { what: `${code}.`, why: 'It was found by another version of Kerbe.', remedy: 'Plan the job again.' };
  const [what, why, remedy, repair] = words(data as never, sayIn(unit));
  return { what, why, remedy, ...(repair === undefined ? {} : { repair }) };
}

/** A finding as a record keeps it: with what people were told. */
export type ToldFinding = Omit<Finding, 'repair' | 'data'> & Omit<FindingWords, 'repair'>;

/** @param unit of whoever was told */
export function told({ repair: _repair, data, ...rest }: Finding, unit: LengthUnit): ToldFinding {
  const { what, why, remedy } = wordsOf({ code: rest.code, data }, unit);
  return { ...rest, what, why, remedy };
}

export const forbids = (findings: readonly Pick<Finding, 'severity'>[]): boolean => findings.some((f) => f.severity === 'error');
