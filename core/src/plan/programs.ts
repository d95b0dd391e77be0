/** A plan as programs: sections by bit, a header with everything needed in two months. */
import { bitSlug } from '../bits/index.ts';
import { kindOf } from '../cuts/index.ts';
import { boardThickness, datumPoint, topHeight, type Job } from '../job/index.ts';
import { tileMove, type Tile } from '../job/tiles.ts';
import { emptyBox, growBox } from '../geometry/index.ts';
import { formatFeed, formatNumber } from '../length/index.ts';
import { finding, type Finding } from '../findings/index.ts';
import { gateFindings, pauseIn, readProgram, writeProgram, type ProgramSpan } from '../program/index.ts';
import { powerWordsOf, processOf } from '../process/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import type { PlannedSection } from '../planned/sections.ts';
import { tiledSections, type TiledSections } from '../planned/tiles.ts';
import { schedule, type Schedule } from '../schedule/index.ts';

/** Words a line of the shop's own may hold: a wait, air and mist, outputs, clamps, the shop's own M words. All else is the plan's alone. */
const ALLOWED = /^(?:N\d+|G0*4(?=P)|P\d*\.?\d+|M0*[789]|M1[01]|M6[2-5]|M1\d\d|E\d+|Q\d*\.?\d+)/i;

/** Why a line of the shop's own may not stand in a program, or null. */
function forbiddenIn(line: string): string | null {
  if (/[^\x20-\x7e]/.test(line)) return 'holds a character that is none of a program’s';
  let rest = line.replace(/\([^()]*\)|;.*$/g, '').replace(/\s+/g, '');
  if (/[()]/.test(rest)) return 'has a bracket without its other half';
  while (rest !== '') {
    const word = ALLOWED.exec(rest)?.[0];
    if (!word) return `does more than it may (${rest.slice(0, 12)})`;
    rest = rest.slice(word.length);
  }
  return null;
}

/** Lines of the shop's own that a program may not carry, and those that nobody here understands. */
export function ownLineFindings(job: Job): Finding[] {
  const lines = [...job.program.startLines, ...job.program.endLines];
  const forbidden = lines.flatMap((line) => {
    const why = forbiddenIn(line);
    return why === null ? [] : [finding.ownLineForbidden(line.replace(/[^\x20-\x7e]/g, '·'), why)];
  });
  if (forbidden.length > 0) return forbidden;
  return lines.flatMap((line) =>
    readProgram(`G21 G90\nG0 X0 Y0 Z0\nF100\n${line}\nM30\n`)
      .findings.filter(({ code }) => code === 'program-line')
      .map(({ data }) => finding.ownLine(line, data.what as string))
      // A stop is taken for a change of bit, and an end leaves the rest uncut.
      .concat(pauseIn(line) !== null || /M0*(2|30)(?!\d)/i.test(line) ? [finding.ownLine(line, 'it stops or ends the program')] : []),
  );
}

/** Programs longer than the controller holds. */
export function memoryFindings(job: Job, plan: { cuts: readonly PlannedCut[] }): Finding[] {
  const { memory } = job.machine;
  if (memory === undefined) return [];
  // The date is as long as any.
  return writePrograms(job, plan, '0000-00-00')
    .filter(({ text }) => text.length > memory)
    .map(({ name, text }) => finding.programTooLong(name, text.length, memory));
}

export interface ProgramFile {
  name: string;
  text: string;
  /** Which of its lines cut what. */
  spans: ProgramSpan[];
  /** Bits in the order they are used. */
  bits: string[];
  /** What the program itself takes, and a person for the changes of bit in it. */
  seconds: number;
  changes: number;
  /** The tile of a sheet it burns, when the sheet is larger than the field. */
  tile?: Tile;
}

/** What goes into one program each: everything, or what has one tool, of the whole sheet or of a tile. */
function programParts(job: Job, cuts: readonly PlannedCut[], split: Job['program']['split']): TiledSections[] {
  return tiledSections(job, cuts).flatMap(({ tile, sections }) =>
    split === 'tool' ? sections.map((section) => ({ tile, sections: [section] })) : sections.length > 0 ? [{ tile, sections }] : [],
  );
}

/** Eight letters and three, as an old file system has them. @param number of the program, or ALL. @example Heron Walk, 1 -> HERONW01.NC */
function shortName({ name, program }: Job, number: string): string {
  const end = number.padStart(2, '0').slice(0, 3);
  const letters = name
    .normalize('NFKD')
    .toUpperCase()
    .replace(/[^A-Z0-9]/g, '');
  return `${(letters || 'PROGRAM').slice(0, 8 - end.length)}${end}.${program.extension.slice(0, 3).toUpperCase()}`;
}

/**
 * Writes the programs of a plan.
 *
 * @param date shown in the header (the core knows no clock)
 * @param split one file per bit, or one with pauses; the job's own setting when left out
 */
export function writePrograms(job: Job, plan: { cuts: readonly PlannedCut[] }, date: string, split = job.program.split): ProgramFile[] {
  const parts = programParts(job, plan.cuts, split);
  return parts.map(({ tile, sections: part }, index) => {
    const number = parts.length > 1 || part.length === 1 ? String(index + 1) : 'ALL';
    const slugs = part.map((section) => bitSlug(section.cuts[0].bit)).join('+');
    const stem = `program-${index + 1}${tile ? `-tile-${tile.index + 1}-of-${tile.count}` : ''}-${slugs}`;
    const time = schedule(job, part);
    return {
      name: job.program.shortNames ? shortName(job, number) : `${stem.slice(0, 80)}.${job.program.extension}`,
      bits: part.map((section) => section.cuts[0].bit.id),
      seconds: time.running,
      changes: time.changes,
      ...(tile ? { tile } : {}),
      ...writeProgram({
        header: headerOf(job, part, date, index + 1, parts.length, time, tile),
        sections: part,
        settings: job.program,
        words: powerWordsOf(job),
        datum: datumPoint(job),
        zShift: job.datum.z === 'top' ? 0 : -topHeight(job.board),
        spindleSeconds: job.program.spindleDelay ?? job.machine.spindleSeconds,
        tool: processOf(job).tool.one,
        measured: processOf(job).change === 'measure',
        arcTolerance: job.tolerance / 2,
        park: job.machine.park,
      }),
    };
  });
}

/**
 * Programs as they may be released: written, read back and judged against the plan. With a finding
 * that forbids none of them may leave.
 */
export function releasePrograms(
  job: Job,
  plan: { cuts: readonly PlannedCut[] },
  date: string,
  split = job.program.split,
): { files: ProgramFile[]; findings: Finding[] } {
  const parts = programParts(job, plan.cuts, split);
  const files = writePrograms(job, plan, date, split);
  const unit = job.program.units === 'in' ? 25.4 : 1;
  const digit = unit * 10 ** -(job.program.decimals + (job.program.units === 'in' ? 1 : 0));
  const planned = {
    datum: datumPoint(job),
    zShift: job.datum.z === 'top' ? 0 : -topHeight(job.board),
    workOffset: job.program.workOffset,
    // Half a digit either way on three axes; an arc within its tolerance, read back as chords within as much;
    // a canned cycle's Q, rounded up, adds up over its pecks.
    slack: digit * (job.program.drilling === 'cycles' ? 24 : 1) + (job.program.arcs ? job.tolerance : 0),
    lengths: job.program.lengths === 'G43',
    park: job.program.end === 'park' ? job.machine.park : null,
    overDatum: job.program.end === 'datum',
    own: [...job.program.startLines, ...job.program.endLines],
    ...(processOf(job).power.darkRapids ? { fullPower: powerWordsOf(job).scale } : {}),
  };
  return {
    files,
    findings: files.flatMap(({ name, text }, k) => gateFindings(name, text, { ...planned, sections: parts[k].sections })),
  };
}

function headerOf(job: Job, sections: readonly PlannedSection[], date: string, number: number, count: number, time: Schedule, tile: Tile | null): string[] {
  const unit = { unit: job.program.units };
  const show = (mm: number) => `${formatNumber(mm, unit)} ${unit.unit}`;
  const { board } = job;
  const { header, tool } = processOf(job);
  const facts = sections.flatMap(({ cuts }) => cuts.map((planned) => planned.facts));
  const { minX, minY, maxX, maxY } = facts.reduce((all, { box }) => growBox(all, [box.minX, box.minY, box.maxX, box.maxY]), emptyBox());
  const deepest = Math.max(0, ...facts.map((one) => one.deepest));
  const [dx, dy] = datumPoint(job);
  return [
    `Job: ${job.name}`,
    `Program ${number} of ${count}, written by Kerbe, ${date}`,
    `${header.lies}: ${board.material}, ${show(board.width)} x ${show(board.height)} x ${show(boardThickness(board))}${board.carrier ? ` on a carrier of ${show(board.carrier.thickness)}` : ''}, held by ${board.holdDown}`,
    ...(tile
      ? [
          `Tile ${tile.index + 1} of ${tile.count}: ${show(tile.from)} to ${show(tile.to)} of the sheet, across ${tile.axis.toUpperCase()}`,
          `FIRST: ${tileMove(tile, show)}`,
        ]
      : []),
    `Datum: ${job.datum.corner}, Z0 on ${job.datum.z === 'top' ? 'top of board' : 'spoilboard'}`,
    `Extents from datum: X ${show(minX - dx)} to ${show(maxX - dx)}, Y ${show(minY - dy)} to ${show(maxY - dy)}`,
    `${header.depths ? `Deepest: ${show(deepest)} below top of board. ` : ''}Clearance: ${show(job.program.clearance)}`,
    `Machine: ${job.machine.name}. About ${inMinutes(time, tool.one)}`,
    ...sections.flatMap((section) => [
      `${tool.one[0].toUpperCase()}${tool.one.slice(1)} ${section.tool}: ${section.bitLabel}${header.switched(section.speed)}`,
      ...section.cuts.map(
        (planned) =>
          `- ${calledIn(planned)}: ${header.depths ? `depth ${show(planned.facts.deepest)}, ` : ''}feed ${formatFeed(planned.cut.feed, unit.unit)}${planned.beam ? levelSaid(job, planned.cut) : `, plunge ${formatFeed(planned.cut.plunge, unit.unit)}`}${kindOf(planned.cut).described(planned, show)}`,
      ),
    ]),
    ...(job.program.pierce === 'machine' && processOf(job).resume === 'pierce again'
      ? ['Pierce delay: BY THE MACHINE, which moves on when its arc stands']
      : []),
    header.caution,
  ];
}

/** What a share of full power is on the machine's own scale. @example `, S300 of 1000` */
export const levelSaid = (job: Job, cut: object): string => {
  const { scale } = powerWordsOf(job);
  return 'power' in cut ? `, S${Math.round((Number(cut.power) / 100) * scale)} of ${scale}` : '';
};

/** @example 12 min; 12 min, and 4 min for 2 changes of bit */
function inMinutes({ running, changes, changeCount }: Schedule, tool: string): string {
  const minutes = (seconds: number) => `${Math.ceil(seconds / 60)} min`;
  return `${minutes(running)}${changeCount > 0 ? `, and ${minutes(changes)} for ${changeCount === 1 ? 'a change' : `${changeCount} changes`} of ${tool}` : ''}`;
}

const calledIn = ({ cut }: PlannedCut): string => `${kindOf(cut).label}${kindOf(cut).variant?.(cut) ?? ''}`;
