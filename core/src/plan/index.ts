/**
 * From a job document to toolpaths, times, findings and programs: one way through pure
 * functions. The same job gives the same bytes in the browser, on the server and in the
 * command line.
 */
import { ArtCache, isHidden, type FontSource } from '../artwork/index.ts';
import { checkArtwork, checkThing, type CheckedThings } from '../artwork/check.ts';
import { contoursOf } from '../geometry/index.ts';
import type { Item, Job } from '../job/index.ts';
import { workingJob } from '../job/working.ts';
import { finding } from '../findings/index.ts';
import { cribFindings, preflight, type Finding } from '../preflight/index.ts';
import { beyondBounds, MOST } from '../cuts/bounds.ts';
import { CutCache, type PlannedCut } from '../planned/cut.ts';
import { withBridges, type PlannedItem } from '../planned/items.ts';
import { nameOf, orderFindings } from './order.ts';
import { scheduleOf } from '../planned/tiles.ts';
import type { Grey } from '../cuts/laser/tone.ts';
import { schedule, type Schedule } from '../schedule/index.ts';
import { memoryFindings, ownLineFindings } from './programs.ts';

export { CutCache, picturesFor, planCut, type PlannedCut } from '../planned/cut.ts';
export { comesTo } from '../planned/artorder.ts';
export { targetRegions, type PlannedItem } from '../planned/items.ts';
export { pieceSeconds } from '../planned/part-time.ts';
export { piecesOf, remnantOf, type Piece } from '../planned/pieces.ts';
export { orderFindings, usualOrder } from './order.ts';
export { sectionsOf } from '../planned/sections.ts';
export { leastSeams, tiledSections } from '../planned/tiles.ts';
export { levelSaid, releasePrograms, writePrograms, type ProgramFile } from './programs.ts';

export interface Plan {
  items: PlannedItem[];
  cuts: PlannedCut[];
  findings: Finding[];
  time: Schedule;
}

export interface PlanOptions {
  fonts: FontSource;
  /** Pixels of a picture by its asset; null when they are not at hand. The same object for the same picture, so that nothing is planned anew. */
  pictures?: (asset: string) => Promise<Grey | null>;
  /** Drawings kept from the last time: only what changed is drawn again. */
  art?: ArtCache;
  /** Cuts kept from the last time: only those whose own facts changed are planned again. */
  cuts?: CutCache;
  /** Ids of the bits in the shop's crib, when it is known. */
  crib?: ReadonlySet<string>;
  /** What the artwork check found in single things the last time. */
  checked?: CheckedThings;
  /** An AbortSignal, or anything that throws when the work is no longer wanted. */
  signal?: { throwIfAborted(): void };
  /** Called between steps with what is being done and the fraction done. */
  onProgress?: (what: string, done: number) => void | Promise<void>;
}

/** Things drawn between two chances to cancel. */
const DRAW_STEP = 50;

/** Plans every cut of a job. Throws the signal's reason when it is aborted. */
export async function planJob(whole: Job, options: PlanOptions): Promise<Plan> {
  const job = workingJob(whole);
  const step = async (what: string, done: number) => {
    options.signal?.throwIfAborted();
    await options.onProgress?.(what, done);
    options.signal?.throwIfAborted();
  };
  const items = await drawJob(job, options, (done) => step('Drawing the artwork', 0.3 * done));
  const beyond = items.flatMap(({ findings }) => findings).filter(({ code }) => code === 'art-too-much');
  if (beyond.length > 0) return { items, cuts: [], findings: beyond, time: schedule(job, []) };
  const context = { fonts: options.fonts, tolerance: job.tolerance / 2, items: job.items };
  const checked = options.checked ?? (new WeakMap() as CheckedThings);
  for (const [index, thing] of items.entries()) {
    if (index % DRAW_STEP === 0) await step('Checking the artwork', 0.3);
    checkThing(job, thing, context, checked);
  }
  const art = checkArtwork(job, items, context, checked);
  const cuts: PlannedCut[] = [];
  const kept = options.cuts ?? new CutCache();
  kept.keepOnly(job.cuts);
  for (const [index, id] of job.cutOrder.entries()) {
    await step(`Planning cut ${index + 1} of ${job.cutOrder.length}`, 0.3 + (0.6 * index) / job.cutOrder.length);
    cuts.push(kept.plan(job, job.cuts[id], items));
    // One after the other stays within its bounds; all of them together must too.
    const moves = cuts.reduce((sum, { facts }) => sum + facts.moves, 0);
    if (moves > MOST.moves) {
      art.push(finding.tooMuchWork(id, beyondBounds({ passes: 1, moves, hours: 0 })!));
      break;
    }
  }
  await step('Checking', 0.95);
  const plan: Plan = { items, cuts, findings: [], time: scheduleOf(job, cuts) };
  plan.findings.push(...preflight(job, items, cuts), ...orderFindings(job), ...ownLineFindings(job), ...memoryFindings(job, plan), ...art);
  const off = whole.cutOrder.filter((id) => whole.cuts[id].off);
  if (off.length > 0)
    plan.findings.push(
      finding.cutsOff(
        off.map((id) => nameOf(whole.cuts[id])),
        whole.cutOrder.length - job.cutOrder.length - off.length,
      ),
    );
  if (options.crib) plan.findings.push(...cribFindings(job, options.crib));
  return plan;
}

/** Draws every thing of a job that is not hidden; what is more than can be held is told as a finding instead. */
export async function drawJob(
  job: Job,
  { fonts, pictures, art = new ArtCache() }: PlanOptions,
  onStep: (done: number) => Promise<void>,
): Promise<PlannedItem[]> {
  const context = { fonts, tolerance: job.tolerance / 2, items: job.items };
  const items: PlannedItem[] = [];
  art.keepOnly(job.items);
  let points = 0;
  for (const [index, id] of job.itemOrder.entries()) {
    if (index % DRAW_STEP === 0) await onStep(index / job.itemOrder.length);
    const item = job.items[id];
    if (isHidden(item, job)) continue;
    if (points + pointsAhead(item, context.tolerance) > MOST.points) {
      items.push({ item, regions: [], lines: [], findings: [finding.tooMuchDrawn(item.id, MOST.points)] });
      continue;
    }
    const pixels = item.kind === 'picture' ? ((await pictures?.(item.asset)) ?? undefined) : undefined;
    const thing: PlannedItem = { item, ...art.draw(item, context), ...(pixels ? { pixels } : {}) };
    items.push(thing);
    points += pointsOf(thing);
  }
  return withBridges(items);
}

/** Points a pattern of holes will have; everything else that is drawn has no more points than what it is written as. */
function pointsAhead(item: Item, tolerance: number): number {
  if (item.kind !== 'holes') return 0;
  const { layout } = item;
  const count = layout.kind === 'rows' ? layout.rows * layout.columns : layout.kind === 'circle' ? layout.count : 4;
  // Chords of a circle that stay within the tolerance.
  return count * Math.PI * Math.sqrt(item.diameter / 2 / (2 * tolerance));
}

const pointsOf = ({ regions, lines }: PlannedItem): number =>
  [...regions.flatMap(contoursOf), ...lines.map(({ line }) => line)].reduce((sum, { xy }) => sum + xy.length / 2, 0);
