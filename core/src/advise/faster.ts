/**
 * What would make a job faster, each change really planned: the seconds it saves are the difference
 * of two plans, and one that is slower, or brings up a finding that was not there, is never offered.
 */
import { scheduleOf } from '../planned/tiles.ts';
import { cutName, kindOf } from '../cuts/index.ts';
import { isPointed, isStraight, bitName } from '../bits/index.ts';
import { drawItem, isHidden, type FontSource } from '../artwork/index.ts';
import { changedJob } from '../artwork/change.ts';
import { repairArtwork } from '../artwork/repair.ts';
import { feedNumber, formatChip, formatFeed, formatLength } from '../length/index.ts';
import type { Bit, Cut, Job } from '../job/index.ts';
import { workingJob } from '../job/working.ts';
import { preflight, type Finding } from '../preflight/index.ts';
import { orderFindings, planCut, usualOrder, type Plan, type PlannedCut, type PlannedItem } from '../plan/index.ts';
import { candidatesFor, inJob } from './candidates.ts';
import { cutWith } from './finder.ts';
import { suggestFeeds } from '../feeds/index.ts';

export interface Faster {
  /** What is changed, as a button says it. */
  label: string;
  /** What it costs. */
  cost: string;
  cut?: string;
  saved: number;
  /** Parts of the job that change. */
  change: Partial<Pick<Job, 'cuts' | 'cutOrder' | 'tools' | 'program' | 'items' | 'itemOrder' | 'outline'>>;
}

type Idea = Omit<Faster, 'saved'>;

export interface FasterOptions {
  /** The shop's bits: wider ones are tried where a floor costs time. */
  crib?: readonly Bit[];
  /** Faces: with them drawings of needless nodes are tried with curves fitted to them. */
  fonts?: FontSource;
  signal?: { throwIfAborted(): void };
  onProgress?: (what: string, done: number) => void | Promise<void>;
}

/** Savings smaller than this are not worth a person's time: seconds, and share of the job. */
const LEAST = 1;
const SHARE = 0.004;
/** Room above what holds the board, mm. */
const ROOM = 2;
/** A plunge of a straight bit is half its feed at most. (Common practice.) */
const STRAIGHT_PLUNGE = 0.5;

/** Changes that save time, the largest saving first. Throws the signal's reason when it is aborted. */
export async function fasterWays(job: Job, plan: Plan, options: FasterOptions = {}): Promise<Faster[]> {
  const ideas = [
    ...clearance(job),
    ...order(job),
    ...(options.fonts ? curves(job, plan, options.fonts) : []),
    ...plan.cuts.flatMap((planned) => ofCut(job, planned, options.crib ?? [])),
  ];
  const known = new Set(plan.findings.map(mark));
  const out: Faster[] = [];
  for (const [k, idea] of ideas.entries()) {
    options.signal?.throwIfAborted();
    await options.onProgress?.(`Trying: ${idea.label}`, k / ideas.length);
    options.signal?.throwIfAborted();
    const next = workingJob({ ...job, ...idea.change });
    const items = idea.change.items ? drawnAnew(next, plan, options.fonts!) : plan.items;
    const cuts = next.cutOrder.map((id) => {
      const same = plan.cuts.find(({ cut }) => cut.id === id && next.cuts[id] === job.cuts[id]);
      return same && !idea.change.program && !idea.change.items ? same : planCut(next, next.cuts[id], items);
    });
    const saved = plan.time.atMachine - scheduleOf(next, cuts).atMachine;
    if (saved < LEAST || saved < SHARE * plan.time.atMachine) continue;
    const findings = [...preflight(next, items, cuts), ...orderFindings(next)];
    if (findings.some((found) => found.severity !== 'note' && !known.has(mark(found)))) continue;
    out.push({ ...idea, saved });
  }
  return out.sort((a, b) => b.saved - a.saved);
}

const mark = ({ code, cut, item }: Finding): string => `${code} ${cut ?? ''} ${item ?? ''}`;

function clearance(job: Job): Idea[] {
  const highest = Math.max(0, job.board.holdDownHeight, ...job.board.holders.map(({ height }) => height));
  const next = Math.max(2, highest + ROOM);
  if (next >= job.program.clearance) return [];
  return [
    {
      label: `Travel ${show(job, next)} above the board instead of ${show(job, job.program.clearance)}`,
      cost: highest > 0 ? `Only ${show(job, ROOM)} over what holds the board.` : 'Nothing may stand higher than that: no clamp, no screw head.',
      change: { program: { ...job.program, clearance: next } },
    },
  ];
}

/** Outlines of many short lines, as curves within the job's tolerance. */
function curves(job: Job, plan: Plan, fonts: FontSource): Idea[] {
  const context = { fonts, tolerance: job.tolerance / 2, items: job.items };
  return plan.findings
    .filter(({ code, repair }) => code === 'art-needless-nodes' && repair)
    .map((found) => ({
      label: `Fit curves to “${job.items[found.item!].name || job.items[found.item!].kind}”`,
      cost: 'The outline moves by no more than the tolerance of the job.',
      change: changedJob(job, repairArtwork(job, found, context)),
    }));
}

/** The drawing again, where it changed. */
function drawnAnew(next: Job, plan: Plan, fonts: FontSource): PlannedItem[] {
  const context = { fonts, tolerance: next.tolerance / 2, items: next.items };
  return next.itemOrder
    .filter((id) => !isHidden(next.items[id], next))
    .map((id) => plan.items.find(({ item }) => item === next.items[id]) ?? { item: next.items[id], ...drawItem(next.items[id], context) });
}

function order(job: Job): Idea[] {
  const usual = usualOrder(job);
  if (usual.every((id, k) => id === job.cutOrder[k])) return [];
  return [{ label: 'Put the cuts in the usual order', cost: 'Nothing: fewer changes of bit.', change: { cutOrder: usual } }];
}

function ofCut(job: Job, planned: PlannedCut, crib: readonly Bit[]): Idea[] {
  const { cut, bit, facts } = planned;
  if (facts.moves === 0) return [];
  const ideas: Idea[] = [];
  const named = cutName(cut);
  const add: Add = (label, cost, next, more = {}) =>
    ideas.push({ label: `${named}: ${label}`, cost, cut: cut.id, change: { ...more, cuts: { ...job.cuts, [cut.id]: { ...cut, ...next } as Cut } } });
  const [sx, sy, sz] = job.machine.maxSpeed;
  const most = isStraight(bit) ? STRAIGHT_PLUNGE * cut.feed : cut.feed;
  const plunge = Math.floor(Math.min(most, sz));
  if (cut.speed > 0 && plunge > 1.05 * cut.plunge)
    add(
      `come down at ${formatFeed(plunge, job.units)} instead of ${feedNumber(cut.plunge, job.units)}`,
      isPointed(bit) ? 'Harder on the tip; a V hardly minds.' : 'Harder on the bit and the spindle.',
      { plunge },
    );
  const advice = suggestFeeds(bit, job.board.material, job.machine);
  if (advice.known && cut.speed > 0) {
    const feed = Math.floor(Math.min(advice.load[1] * cut.speed * bit.flutes, sx, sy) / 10) * 10;
    // A faster feed that is never reached saves nothing; the plan says so.
    if (feed > 1.05 * cut.feed)
      add(
        `feed at ${formatFeed(feed, job.units)} instead of ${feedNumber(cut.feed, job.units)}`,
        `Thicker chips: ${formatChip(feed / cut.speed / bit.flutes, job.units)} a tooth, the upper end of what is usual.`,
        { feed },
      );
  }
  const kind = kindOf(cut);
  const context = { job, depthPerPass: advice.depthPerPass, show: (mm: number) => show(job, mm) };
  for (const { label, cost, change } of kind.faster?.(planned, context) ?? []) add(label, cost, change as Partial<Cut>);
  const shallower = kind.widerIsFaster?.(planned);
  if (shallower && isPointed(bit))
    for (const wider of candidatesFor(cut.kind, crib, false)) {
      if (!isPointed(wider) || wider.angle <= bit.angle || wider.tipFlat > bit.tipFlat + 0.1) continue;
      const [id, own] = inJob(job, wider);
      add(
        `use ${bitName(wider, job.units)} instead`,
        `Walls lean more: ${wider.angle}° instead of ${bit.angle}°, and the middle is shallower.`,
        { ...cutWith(job, cut, own), ...shallower } as Partial<Cut>,
        { tools: { ...job.tools, [id]: own } },
      );
    }
  return ideas;
}

type Add = (label: string, cost: string, next: Partial<Cut>, more?: Idea['change']) => void;

const show = (job: Job, mm: number): string => formatLength(mm, { unit: job.units });
