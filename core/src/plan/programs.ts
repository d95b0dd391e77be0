/** A plan as programs: sections by bit, a header with everything needed in two months. */
import { CALLED } from './called.ts';
import { bitLabel, bitSlug, fillStep, stepOver } from '../bits/index.ts';
import { boardThickness, datumPoint, type Job } from '../job/index.ts';
import { formatFeed, formatNumber } from '../length/index.ts';
import { finding, type Finding } from '../preflight/findings.ts';
import { gateFindings, pauseIn, readProgram, writeProgram, type Section } from '../program/index.ts';
import { factsOf, joined } from '../toolpath/index.ts';
import type { Plan, PlannedCut } from './index.ts';

/** Stretches of cuts that follow each other with the same bit and spindle speed. */
export function sectionsOf(cuts: readonly PlannedCut[]): (Section & { cuts: PlannedCut[] })[] {
  const tools = [...new Set(cuts.map(({ bit }) => bit.id))];
  const groups: PlannedCut[][] = [];
  for (const planned of cuts) {
    if (planned.path.kind.length === 0) continue;
    const last = groups.at(-1);
    if (last && last[0].bit.id === planned.bit.id && last[0].cut.speed === planned.cut.speed) last.push(planned);
    else groups.push([planned]);
  }
  return groups.map((group) => ({
    tool: tools.indexOf(group[0].bit.id) + 1,
    bitLabel: group[0].bit.name || bitLabel(group[0].bit),
    speed: group[0].cut.speed,
    path: joined(group.map(({ path }) => path)),
    cuts: group,
  }));
}

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
      .map(({ what }) => finding.ownLine(line, what.replace(/^Line \d+: /, '').replace(/\.$/, '')))
      // A stop is taken for a change of bit, and an end leaves the rest uncut.
      .concat(pauseIn(line) !== null || /M0*(2|30)(?!\d)/i.test(line) ? [finding.ownLine(line, 'it stops or ends the program')] : []),
  );
}

/** Programs longer than the controller holds. */
export function memoryFindings(job: Job, plan: Plan): Finding[] {
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
  /** Bits in the order they are used. */
  bits: string[];
  seconds: number;
}

/**
 * Writes the programs of a plan.
 *
 * @param date shown in the header (the core knows no clock)
 * @param split one file per bit, or one with pauses; the job's own setting when left out
 */
export function writePrograms(job: Job, plan: Plan, date: string, split = job.program.split): ProgramFile[] {
  const sections = sectionsOf(plan.cuts);
  const files = split === 'bit' ? sections.map((section) => [section]) : sections.length ? [sections] : [];
  return files.map((part, index) => {
    const stem = split === 'bit' ? `program-${index + 1}-${bitSlug(part[0].cuts[0].bit)}` : `program-1-${part.map((s) => bitSlug(s.cuts[0].bit)).join('+')}`;
    const seconds = part.reduce((sum, section) => sum + section.cuts.reduce((s, planned) => s + planned.seconds, 0) + job.machine.spindleSeconds, 0);
    return {
      name: `${stem.slice(0, 80)}.${job.program.extension}`,
      bits: part.map((section) => section.cuts[0].bit.id),
      seconds,
      text: writeProgram({
        header: headerOf(job, part, date, index + 1, files.length, seconds),
        sections: part,
        settings: job.program,
        datum: datumPoint(job),
        zShift: job.datum.z === 'top' ? 0 : -boardThickness(job.board),
        spindleSeconds: job.program.spindleDelay ?? job.machine.spindleSeconds,
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
export function releasePrograms(job: Job, plan: Plan, date: string, split = job.program.split): { files: ProgramFile[]; findings: Finding[] } {
  const sections = sectionsOf(plan.cuts);
  const files = writePrograms(job, plan, date, split);
  const unit = job.program.units === 'in' ? 25.4 : 1;
  const digit = unit * 10 ** -(job.program.decimals + (job.program.units === 'in' ? 1 : 0));
  const planned = {
    datum: datumPoint(job),
    zShift: job.datum.z === 'top' ? 0 : -boardThickness(job.board),
    workOffset: job.program.workOffset,
    // Half a digit either way on three axes; an arc within its tolerance, read back as chords within as much;
    // a canned cycle's Q, rounded up, adds up over its pecks.
    slack: digit * (job.program.drilling === 'cycles' ? 24 : 1) + (job.program.arcs ? job.tolerance : 0),
    lengths: job.program.lengths === 'G43',
    park: job.program.park ? job.machine.park : null,
    own: [...job.program.startLines, ...job.program.endLines],
  };
  return {
    files,
    findings: files.flatMap(({ name, text }, k) => gateFindings(name, text, { ...planned, sections: split === 'bit' ? [sections[k]] : sections })),
  };
}

function headerOf(job: Job, sections: ReturnType<typeof sectionsOf>, date: string, number: number, count: number, seconds: number): string[] {
  const unit = { unit: job.program.units };
  const show = (mm: number) => `${formatNumber(mm, unit)} ${unit.unit}`;
  const { board } = job;
  const facts = factsOf(joined(sections.map(({ path }) => path)));
  const [dx, dy] = datumPoint(job);
  return [
    `Job: ${job.name}`,
    `Program ${number} of ${count}, written by Kerbe, ${date}`,
    `Board: ${board.material}, ${show(board.width)} x ${show(board.height)} x ${show(boardThickness(board))}, held by ${board.holdDown}`,
    `Datum: ${job.datum.corner}, Z0 on ${job.datum.z === 'top' ? 'top of board' : 'spoilboard'}`,
    `Extents from datum: X ${show(facts.box.minX - dx)} to ${show(facts.box.maxX - dx)}, Y ${show(facts.box.minY - dy)} to ${show(facts.box.maxY - dy)}`,
    `Deepest: ${show(facts.deepest)} below top of board. Clearance: ${show(job.program.clearance)}`,
    `Machine: ${job.machine.name}. About ${Math.ceil(seconds / 60)} min`,
    ...sections.flatMap((section) => [
      `Bit ${section.tool}: ${section.bitLabel}, ${section.speed > 0 ? `spindle ${section.speed} rev/min` : 'spindle OFF'}`,
      ...section.cuts.map(
        (planned) =>
          `- ${CALLED[planned.cut.kind]}${planned.cut.kind === 'profile' ? ` ${planned.cut.side}` : ''}: depth ${show(planned.facts.deepest)}, feed ${formatFeed(planned.cut.feed, unit.unit)}, plunge ${formatFeed(planned.cut.plunge, unit.unit)}${more(planned, show)}`,
      ),
    ]),
    'The machine manual and local rules come first. Hearing, eye and dust protection.',
  ];
}

/** What else must be known of a cut in two months. */
function more({ cut, bit, tabs, fit, step }: PlannedCut, show: (mm: number) => string): string {
  switch (cut.kind) {
    case 'vcarve':
      return `, step-over ${show(cut.stepover)}${cut.startDepth ? `, start ${show(cut.startDepth)}` : ''}${cut.plug ? ', round a plug' : ''}`;
    case 'profile':
      return `, depth per pass ${show(cut.depthPerPass)}, ${cut.skin > 0 && cut.depth === undefined ? `skin ${show(cut.skin)}` : `${Math.max(0, ...(tabs ?? []))} tabs`}`;
    case 'pocket':
      return `, depth per pass ${show(cut.depthPerPass)}, step-over ${show(stepOver(bit, cut.stepover))}, ${cut.pattern}`;
    case 'drill':
      return `, peck ${show(cut.peck)}${cut.dwell ? `, dwell ${cut.dwell} s` : ''}`;
    case 'engrave':
      return `, depth per pass ${show(cut.depthPerPass)}${cut.way === 'fill' ? `, filled, step-over ${show(fillStep(bit, cut.depth - cut.startDepth, cut.stepover))}` : ''}`;
    case 'drag':
      return cut.hold.by === 'spring'
        ? ', depth is the preload of the spring'
        : `, nose cone, point out ${show(cut.hold.protrusion)}, ${cut.hold.passes} passes`;
    case 'recess':
    case 'plug':
      return `, depth per pass ${show(cut.depthPerPass)}, gap ${show(fit?.gap.min ?? cut.gap)} to ${show(fit?.gap.max ?? cut.gap)}${cut.kind === 'plug' ? `, skin ${show(cut.skin)}` : ''}`;
    case 'surface':
      return `, ${cut.of}, skim ${show(cut.skim)} ${cut.repeats} times, bit ${show(bit.diameter)}, step-over ${show(step ?? 0)}, overlap ${show(cut.overlap)}`;
    case 'chamfer':
      return `, bevel ${show(cut.width)} wide`;
  }
}
