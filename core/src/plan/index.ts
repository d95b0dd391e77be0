/**
 * From a job document to toolpaths, times, findings and programs: one way through pure
 * functions. The same job gives the same bytes in the browser, on the server and in the
 * command line.
 */
import { bitLabel, bitSlug, ridgeOfV, stepOver, type VBit } from '../bits/index.ts';
import { ArtCache, isHidden, type DrawnItem, type FontSource } from '../artwork/index.ts';
import { checkArtwork, checkThing } from '../artwork/check.ts';
import { planDrill } from '../cuts/router/drill.ts';
import { planEngrave } from '../cuts/router/engrave.ts';
import { planPocket } from '../cuts/router/pocket.ts';
import { planProfile } from '../cuts/router/profile.ts';
import { planVCarve } from '../cuts/router/vcarve.ts';
import { insideRegion, type Region } from '../geometry/index.ts';
import { boardThickness, datumPoint, type Bit, type Cut, type Item, type Job } from '../job/index.ts';
import { formatNumber } from '../length/index.ts';
import { planMotion } from '../motion/index.ts';
import { finding, preflight, speakIn, type Finding } from '../preflight/index.ts';
import { writeProgram, type Section } from '../program/index.ts';
import { factsOf, joined, type PathFacts, type Toolpath } from '../toolpath/index.ts';

export interface PlannedItem extends DrawnItem {
  item: Item;
}

export interface PlannedCut {
  cut: Cut;
  bit: Bit;
  path: Toolpath;
  facts: PathFacts;
  seconds: number;
  /** Plunges, one for every run of cutting. */
  lifts: number;
  through: boolean;
  findings: Finding[];
  /** V-carve: half the widest stroke, and the ridge on a floor, mm. */
  widest?: number;
  ridge?: number;
  limitedByBit?: boolean;
  tooNarrow?: boolean;
  /** Pocket: area the bit cannot reach, mm². Drill: holes. */
  unreached?: number;
  holes?: number;
  /** Profile: tabs on each outline. */
  tabs?: number[];
}

export interface Plan {
  items: PlannedItem[];
  cuts: PlannedCut[];
  findings: Finding[];
  /** Whole time: cutting, spindle, bit changes; seconds. */
  seconds: number;
}

export interface PlanOptions {
  fonts: FontSource;
  /** Drawings kept from the last time: only what changed is drawn again. */
  art?: ArtCache;
  /** What the artwork check found in single things the last time. */
  checked?: WeakMap<object, Finding[]>;
  /** An AbortSignal, or anything that throws when the work is no longer wanted. */
  signal?: { throwIfAborted(): void };
  /** Called between steps with what is being done and the fraction done. */
  onProgress?: (what: string, done: number) => void | Promise<void>;
}

/** Things drawn between two chances to cancel. */
const DRAW_STEP = 50;

/** Plans every cut of a job. Throws the signal's reason when it is aborted. */
export async function planJob(job: Job, options: PlanOptions): Promise<Plan> {
  speakIn(job.units);
  const step = async (what: string, done: number) => {
    options.signal?.throwIfAborted();
    await options.onProgress?.(what, done);
    options.signal?.throwIfAborted();
  };
  const items = await drawJob(job, options, (done) => step('Drawing the artwork', 0.3 * done));
  const context = { fonts: options.fonts, tolerance: job.tolerance / 2, items: job.items };
  const checked = options.checked ?? new WeakMap<object, Finding[]>();
  for (const [index, thing] of items.entries()) {
    if (index % DRAW_STEP === 0) await step('Checking the artwork', 0.3);
    checkThing(job, thing, context, checked);
  }
  const art = checkArtwork(job, items, context, checked);
  const cuts: PlannedCut[] = [];
  for (const [index, id] of job.cutOrder.entries()) {
    await step(`Planning cut ${index + 1} of ${job.cutOrder.length}`, 0.3 + (0.6 * index) / job.cutOrder.length);
    cuts.push(planCut(job, job.cuts[id], items));
  }
  await step('Checking', 0.95);
  return { items, cuts, findings: [...preflight(job, items, cuts), ...art], seconds: totalSeconds(job, cuts) };
}

/** Draws every thing of a job that is not hidden. */
export async function drawJob(job: Job, { fonts, art = new ArtCache() }: PlanOptions, onStep: (done: number) => Promise<void>): Promise<PlannedItem[]> {
  const context = { fonts, tolerance: job.tolerance / 2, items: job.items };
  const items: PlannedItem[] = [];
  art.keepOnly(job.items);
  for (const [index, id] of job.itemOrder.entries()) {
    if (index % DRAW_STEP === 0) await onStep(index / job.itemOrder.length);
    const item = job.items[id];
    if (!isHidden(item, job)) items.push({ item, ...art.draw(item, context) });
  }
  return items;
}

/** Things a cut works on. */
function targets(job: Job, cut: Cut, items: readonly PlannedItem[]): readonly PlannedItem[] {
  const { on } = cut;
  return items.filter(({ item }) => (Array.isArray(on) ? on.includes(item.id) : on === 'outline' ? item.id === job.outline : item.id !== job.outline));
}

/** The regions a cut works on. */
export function targetRegions(job: Job, cut: Cut, items: readonly PlannedItem[]): Region[] {
  if (cut.on === 'outline' && job.outline === null) return outermost(items);
  return targets(job, cut, items).flatMap(({ regions }) => regions);
}

/** Without a sign outline, the outermost shapes are what a profile cuts out, without their holes. */
function outermost(items: readonly PlannedItem[]): Region[] {
  const all = items.flatMap(({ regions }) => regions);
  return all
    .filter((region) => !all.some((other) => other !== region && insideRegion({ outer: other.outer, holes: [] }, region.outer.xy[0], region.outer.xy[1])))
    .map(({ outer }) => ({ outer, holes: [] }));
}

function planCut(job: Job, cut: Cut, items: readonly PlannedItem[]): PlannedCut {
  const bit = job.bits[cut.bit];
  const regions = targetRegions(job, cut, items);
  const { maxSpeed } = job.machine;
  // The machine's limits win already here, not only at the machine.
  const travel = {
    clearance: job.program.clearance,
    feed: Math.min(cut.feed, maxSpeed[0], maxSpeed[1]),
    plunge: Math.min(cut.plunge, maxSpeed[2]),
  };
  const findings: Finding[] = [];
  const lines = cut.kind === 'engrave' ? targets(job, cut, items).flatMap((thing) => thing.lines) : [];
  if (regions.length + lines.length === 0) findings.push(finding.nothingToCut(cut.id));
  const planned = plannedOf();
  const { path } = planned;
  return {
    ...planned,
    cut,
    bit,
    findings,
    facts: factsOf(path),
    seconds: path.kind.length ? planMotion(path, job.machine).total : 0,
  };

  function plannedOf(): Omit<PlannedCut, 'facts' | 'seconds' | 'cut' | 'bit' | 'findings'> {
    switch (cut.kind) {
      case 'vcarve': {
        if (bit.kind !== 'v') {
          findings.push(finding.wrongBit(cut.id, 'a V bit'));
          return { path: joined([]), lifts: 0, through: false };
        }
        const plan = planVCarve(regions, cut, bit, travel, job.tolerance);
        if (plan.trouble.length) findings.push(finding.axisTrouble(cut.id, plan.trouble.length));
        return { ...plan, through: false, ridge: ridgeOfV(bit as VBit, cut.stepover) };
      }
      case 'profile': {
        const plan = planProfile(regions, cut, bit, job.board, travel);
        if (bit.kind !== 'end' && cut.side !== 'on') findings.push(finding.wrongBit(cut.id, 'a straight bit'));
        if (plan.lost > 0) findings.push(finding.bitTooLarge(cut.id, plan.lost));
        return { ...plan, lifts: plan.tabs.length };
      }
      case 'pocket': {
        if (bit.kind !== 'end') {
          findings.push(finding.wrongBit(cut.id, 'a straight bit'));
          return { path: joined([]), lifts: 0, through: false };
        }
        const plan = planPocket(regions, cut, bit, travel, cut.after ? job.bits[cut.after] : undefined);
        if (plan.lost > 0) findings.push(finding.bitTooLarge(cut.id, plan.lost));
        return { ...plan, through: cut.depth >= boardThickness(job.board) };
      }
      case 'drill': {
        const plan = planDrill(regions, cut, bit, job.board, travel);
        if (plan.notRound > 0) findings.push(finding.notRound(cut.id, plan.notRound));
        if (plan.tooNarrow > 0) findings.push(finding.bitTooLarge(cut.id, plan.tooNarrow));
        return { path: plan.path, lifts: plan.holes.length, through: plan.through, holes: plan.holes.length };
      }
      case 'engrave':
        return { ...planEngrave(regions, lines, cut, travel), through: cut.depth >= boardThickness(job.board) };
    }
  }
}

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

function totalSeconds(job: Job, cuts: readonly PlannedCut[]): number {
  const sections = sectionsOf(cuts);
  return (
    cuts.reduce((sum, planned) => sum + planned.seconds, 0) +
    sections.length * job.machine.spindleSeconds +
    Math.max(0, sections.length - 1) * job.machine.bitChangeSeconds
  );
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
    const name =
      split === 'bit' ? `program-${index + 1}-${bitSlug(part[0].cuts[0].bit)}.nc` : `program-1-${part.map((s) => bitSlug(s.cuts[0].bit)).join('+')}.nc`;
    const seconds = part.reduce((sum, section) => sum + section.cuts.reduce((s, planned) => s + planned.seconds, 0) + job.machine.spindleSeconds, 0);
    return {
      name,
      bits: part.map((section) => section.cuts[0].bit.id),
      seconds,
      text: writeProgram({
        header: headerOf(job, part, date, index + 1, files.length, seconds),
        sections: part,
        settings: job.program,
        datum: datumPoint(job),
        zShift: job.datum.z === 'top' ? 0 : -boardThickness(job.board),
        spindleSeconds: job.machine.spindleSeconds,
        park: job.machine.park,
      }),
    };
  });
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
      `Bit ${section.tool}: ${section.bitLabel}, spindle ${section.speed} rev/min`,
      ...section.cuts.map(
        ({ cut, bit, facts: f }) =>
          `- ${CALLED[cut.kind]}${cut.kind === 'profile' ? ` ${cut.side}` : ''}: depth ${show(f.deepest)}, feed ${Math.round(cut.feed)} mm/min, plunge ${Math.round(cut.plunge)} mm/min${more(cut, bit, show)}`,
      ),
    ]),
    'The machine manual and local rules come first. Hearing, eye and dust protection.',
  ];
}

const CALLED: Record<Cut['kind'], string> = { vcarve: 'V-carve', profile: 'profile', pocket: 'pocket', drill: 'drill', engrave: 'engrave' };

/** What else must be known of a cut in two months. */
function more(cut: Cut, bit: Bit, show: (mm: number) => string): string {
  switch (cut.kind) {
    case 'vcarve':
      return `, step-over ${show(cut.stepover)}`;
    case 'profile':
      return `, depth per pass ${show(cut.depthPerPass)}, ${cut.tabs} tabs`;
    case 'pocket':
      return `, depth per pass ${show(cut.depthPerPass)}, step-over ${show(stepOver(bit, cut.stepover))}, ${cut.pattern}`;
    case 'drill':
      return `, peck ${show(cut.peck)}`;
    case 'engrave':
      return `, depth per pass ${show(cut.depthPerPass)}`;
  }
}
