/** One cut of a job to its toolpath, and the store that keeps what did not change. */
import { cuttingWidth } from '../bits/index.ts';
import type { Bit } from '../bits/schema.ts';
import type { PlacedPicture } from '../cuts/laser/picture.ts';
import { beyondBounds, workShape, type Work } from '../cuts/bounds.ts';
import { kindOf, makerOf, namedBy, type BaseCut, type CutContext, type Planned, type PlannedCut as PlannedOf, type WrongBit } from '../cuts/index.ts';
import { finding, type Finding } from '../findings/index.ts';
import { insideRegion, regionsBox, type Region } from '../geometry/index.ts';
import type { Cut, Job } from '../job/index.ts';
import { planMotion } from '../motion/index.ts';
import { factsOf, FEED, joined } from '../toolpath/index.ts';
import { inOrder } from './artorder.ts';
import { named } from './named.ts';
import { targetRegions, targets, type PlannedItem } from './items.ts';

export type PlannedCut = PlannedOf<Cut>;

/** Other cuts that leave what they go round standing as parts. */
const partCuts = (job: Job, but: BaseCut): Cut[] =>
  job.cutOrder.map((id) => job.cuts[id]).filter((other) => other.id !== but.id && kindOf(other).leavesParts?.(other));

/** Parts that other cuts leave standing. What lies around what this cut works on is not one of them: it is cut from it. */
function standingBeside(job: Job, cut: BaseCut, regions: readonly Region[], items: readonly PlannedItem[]): Region[] {
  return partCuts(job, cut)
    .flatMap((other) => targetRegions(job, other, items))
    .filter((part) => !regions.some((region) => insideRegion({ outer: part.outer, holes: [] }, region.outer.xy[0], region.outer.xy[1])));
}

/** A cut's surroundings, as its kind looks at them. */
export function contextOf(job: Job, cut: BaseCut, items: readonly PlannedItem[]): CutContext {
  const { maxSpeed } = job.machine;
  const regions = targetRegions(job, cut, items);
  return {
    job,
    bit: job.tools[cut.tool],
    regions,
    lines: targets(job, cut, items).flatMap((thing) => thing.lines),
    // The machine's limits win already here, not only at the machine.
    travel: {
      clearance: job.program.clearance,
      approach: job.program.approach,
      feed: Math.min(cut.feed, maxSpeed[0], maxSpeed[1]),
      plunge: Math.min(cut.plunge, maxSpeed[2]),
      rise: maxSpeed[2],
    },
    regionsOf: (other) => targetRegions(job, other, items),
    standing: () => standingBeside(job, cut, regions, items),
    ...picturesAmong(targets(job, cut, items)),
    boxOf(id) {
      const thing = items.find(({ item }) => item.id === id);
      return thing && thing.regions.length > 0 ? regionsBox(thing.regions) : null;
    },
  };
}

/** Pictures a cut burns, where they lie. */
export const picturesFor = (job: Job, cut: BaseCut, items: readonly PlannedItem[]): PlacedPicture[] => picturesAmong(targets(job, cut, items)).pictures;

/** Pictures among drawn things, where they lie; and those whose pixels are not at hand. */
function picturesAmong(things: readonly PlannedItem[]): { pictures: PlacedPicture[]; missing: string[] } {
  const pictures: PlacedPicture[] = [];
  const missing: string[] = [];
  for (const { item, pixels } of things) {
    if (item.kind !== 'picture') continue;
    if (pixels)
      pictures.push({
        id: item.id,
        x: item.x,
        y: item.y,
        width: item.width,
        height: item.height,
        angle: item.angle,
        mirror: item.mirror,
        pixels,
        trim: item.trim,
      });
    else missing.push(item.id);
  }
  return { pictures, missing };
}

/** How much work a cut would be: passes below each other, moves, and hours at its feed. */
export function workOf(cut: BaseCut, context: CutContext): Work {
  const kind = kindOf(cut);
  return makerOf(cut).work(cut, context, workShape(context.regions, kind.followsLines ? context.lines : [], cut.feed));
}

/** Plans one cut. Bits that cannot make it, and figures that leave nothing to cut, give a finding and no moves. */
export function planCut(job: Job, cut: Cut, items: readonly PlannedItem[]): PlannedCut {
  const kind = kindOf(cut);
  const context = contextOf(job, cut, items);
  const { bit, regions } = context;
  const lines = kind.followsLines ? context.lines : [];
  const pictures = kind.takesPictures ? context.pictures.length + context.missing.length : 0;
  const findings: Finding[] = [];
  const wrong = wrongBit(cut, bit);
  if (wrong) findings.push(finding.wrongBit(cut.id, wrong.need));
  const { start, end } = kind.depths(cut, job);
  const upside = end !== undefined && start >= end;
  if (upside) findings.push(finding.startsBelowDepth(cut.id, start, end));
  const much = beyondBounds(workOf(cut, context));
  if (much) findings.push(finding.tooMuchWork(cut.id, much));
  const forbidden = wrong?.forbids || upside || much !== null;
  const places = kind.takesPictures ? Math.max(1, pictures) : regions.length + lines.length + (kind.ownPlaces?.(cut) ?? 0);
  if (!forbidden && !kind.wholeBoard && places === 0) findings.push(finding.nothingToCut(cut.id));
  const short: Planned = forbidden ? { path: joined([]), lifts: 0, through: false } : makerOf(cut).plan(cut, context);
  findings.push(...(short.findings ?? []));
  const planned = kind.wholeBoard || kind.keepsOrder ? short : byThings(job, cut, context, items, short);
  const facts = factsOf(planned.path);
  const idle = kind.staysAbove ? planned.path.events === undefined : facts.deepest < 1e-9;
  if (idle && !findings.some(({ code, severity }) => severity === 'error' || code === 'cut-empty')) {
    const why = planned.tooNarrow
      ? 'every stroke is narrower than the tip of the bit'
      : 'at these depths, or with this bit, nothing is left of what it works on';
    findings.push(finding.nothingCut(cut.id, why));
  }
  if (facts.moves === 0) return { ...planned, cut, bit, findings, facts, seconds: 0, fastest: 0 };
  const { path } = planned;
  const { total, peak } = planMotion(path, job.machine);
  let fastest = 0;
  for (let i = 0; i < peak.length; i++) if (path.kind[i] === FEED) fastest = Math.max(fastest, peak[i] * 60);
  return { ...planned, cut, bit, findings, facts, seconds: total, fastest };
}

/** The same cut with its runs in the order that is asked for, and named by the things they cut. */
function byThings(job: Job, cut: Cut, context: CutContext, items: readonly PlannedItem[], planned: Planned): Planned {
  const things = targets(job, cut, items);
  const { clearance } = job.program;
  const reach = cuttingWidth(context.bit) / 2 + job.tolerance;
  const path = inOrder(planned.path, things, cut, {
    clearance,
    reach,
    freed: kindOf(cut).innerFirst === true,
    ownPlaces: (kindOf(cut).ownPlaces?.(cut) ?? 0) > 0,
  });
  const own = { ...planned, path: named(path, things, clearance, reach) };
  return { ...own, path: makerOf(cut).travel?.(own, cut, context) ?? own.path };
}

/** What bit a cut needs, when the one chosen will not do; `forbids` when it cannot even be planned. */
function wrongBit(cut: Cut, bit: Bit): WrongBit | null {
  const kind = kindOf(cut);
  // A diamond scratches with the spindle off and nothing else.
  if (bit.kind === 'drag' && !kind.tools.includes('drag')) return { need: 'a bit that turns: a drag diamond only scratches', forbids: true };
  if (bit.kind === 'head' && !kind.tools.includes('head')) return { need: 'a bit that turns: a laser head only shines', forbids: true };
  if (bit.kind === 'nozzle' && !kind.tools.includes('nozzle')) return { need: 'a bit that turns: a nozzle is for a torch', forbids: true };
  return kind.wrongBit(cut, bit);
}

/**
 * Keeps planned cuts from plan to plan: a cut is planned again when anything it is made from
 * changed - its own figures, its bits, the drawings it works on, the board, the machine's limits -
 * and only then.
 */
export class CutCache {
  private readonly kept = new Map<string, { key: string; drawings: readonly unknown[]; planned: PlannedCut }>();

  plan(job: Job, cut: Cut, items: readonly PlannedItem[]): PlannedCut {
    const { maxSpeed, acceleration, cornerDeviation } = job.machine;
    const others = lookedAt(job, cut);
    const key = JSON.stringify([
      cut,
      [cut, ...others.cuts].flatMap((one) => namedBy(one).tools).map((id) => job.tools[id]),
      others.cuts,
      others.parts.map(({ on }) => on),
      job.board,
      job.units,
      job.tolerance,
      job.program.clearance,
      job.program.approach,
      cut.order === 'drawn' && job.itemOrder,
      job.outline,
      maxSpeed,
      acceleration,
      cornerDeviation,
    ]);
    const drawings = items.filter((thing) => matters(job, cut, others, thing)).flatMap(({ regions, lines, pixels }) => [regions, lines, pixels]);
    const kept = this.kept.get(cut.id);
    if (kept?.key === key && kept.drawings.length === drawings.length && kept.drawings.every((one, i) => one === drawings[i])) return kept.planned;
    const planned = planCut(job, cut, items);
    this.kept.set(cut.id, { key, drawings, planned });
    return planned;
  }

  /** Forgets cuts that are no longer in the job. */
  keepOnly(cuts: Record<string, Cut>): void {
    for (const id of this.kept.keys()) if (!cuts[id]) this.kept.delete(id);
  }
}

/** Other cuts that a cut is made from: those whose figures it looks at, and those that leave parts it keeps clear of. */
function lookedAt(job: Job, cut: Cut): { cuts: BaseCut[]; parts: Cut[] } {
  const kind = kindOf(cut);
  return { cuts: kind.looksAt?.(cut, job) ?? [], parts: kind.avoidsParts?.(cut) ? partCuts(job, cut) : [] };
}

/** Does a cut look at a thing at all? */
function matters(job: Job, cut: Cut, others: ReturnType<typeof lookedAt>, thing: PlannedItem): boolean {
  if (cut.on === 'outline' && job.outline === null) return true;
  return (
    [cut, ...others.cuts, ...others.parts].some((one) => targets(job, one, [thing]).length > 0) ||
    (kindOf(cut).looksAtThings?.(cut) ?? []).includes(thing.item.id)
  );
}
