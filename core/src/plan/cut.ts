/** One cut of a job to its toolpath, and the store that keeps what did not change. */
import type { DrawnItem } from '../artwork/index.ts';
import { cuttingWidth, isPointed, isStraight, ridgeOf } from '../bits/index.ts';
import { planChamfer } from '../cuts/router/chamfer.ts';
import { planDrag } from '../cuts/router/drag.ts';
import { planDrill } from '../cuts/router/drill.ts';
import { planEngrave } from '../cuts/router/engrave.ts';
import { planPlug, planRecess, type Fit } from '../cuts/router/fit.ts';
import { planPocket } from '../cuts/router/pocket.ts';
import { planProfile, profileDepth } from '../cuts/router/profile.ts';
import { planSurface } from '../cuts/router/surface.ts';
import { floorOf, floorStep, planVCarve } from '../cuts/router/vcarve.ts';
import { insideRegion, regionsBox, type Region } from '../geometry/index.ts';
import { boardThickness, type Bit, type Cut, type Item, type Job, type ProfileCut } from '../job/index.ts';
import { worksOn } from '../job/target.ts';
import { planMotion } from '../motion/index.ts';
import { inArtworkOrder } from './artorder.ts';
import { beyondBounds, workOf } from './bounds.ts';
import { finding, type Finding } from '../preflight/findings.ts';
import { factsOf, FEED, joined, type PathFacts, type Toolpath } from '../toolpath/index.ts';

export interface PlannedItem extends DrawnItem {
  item: Item;
}

/** What the planner of a kind of cut tells. */
interface Planned {
  path: Toolpath;
  /** Plunges, one for every run of cutting. */
  lifts: number;
  through: boolean;
  /** V-carve: half the widest stroke, and the ridge on a floor, mm. */
  widest?: number;
  ridge?: number;
  /** V-carve: width of the finest stroke, mm, and where. */
  finest?: { width: number; at: [number, number] };
  limitedByBit?: boolean;
  tooNarrow?: boolean;
  /** Pocket: area the bit cannot reach, mm². Drill: holes. */
  unreached?: number;
  holes?: number;
  /** Profile: tabs on each outline, and where they are. */
  tabs?: number[];
  tabPoints?: [number, number][];
  /** Fill: passes across the widest stroke, and places touched with the point. */
  passes?: number;
  spots?: [number, number, number][];
  /** Drag: area marked, and gone over more than once, mm². */
  marked?: number;
  overlap?: number;
  /** Plug and recess. */
  fit?: Fit;
  /** Surface: distance between lanes, mm. */
  step?: number;
}

export interface PlannedCut extends Planned {
  cut: Cut;
  bit: Bit;
  facts: PathFacts;
  seconds: number;
  /** Greatest speed that is really reached under power, mm/min. */
  fastest: number;
  findings: Finding[];
}

/** Things a cut works on. */
const targets = (job: Job, cut: Cut, items: readonly PlannedItem[]): readonly PlannedItem[] => items.filter(({ item }) => worksOn(job, cut, item));

/** The regions a cut works on. */
export function targetRegions(job: Job, cut: Cut, items: readonly PlannedItem[]): Region[] {
  if (cut.on === 'outline' && job.outline === null) return outermost(items);
  return targets(job, cut, items).flatMap(({ regions }) => regions);
}

/** The lines a cut follows; only grooves go along lines. */
const linesFor = (job: Job, cut: Cut, items: readonly PlannedItem[]) =>
  cut.kind === 'engrave' || cut.kind === 'drag' ? targets(job, cut, items).flatMap((thing) => thing.lines) : [];

/** Without a sign outline, the outermost shapes are what a profile cuts out, without their holes. */
function outermost(items: readonly PlannedItem[]): Region[] {
  const all = items.flatMap(({ regions }) => regions);
  return all
    .filter((region) => !all.some((other) => other !== region && insideRegion({ outer: other.outer, holes: [] }, region.outer.xy[0], region.outer.xy[1])))
    .map(({ outer }) => ({ outer, holes: [] }));
}

/** Places put by hand within the boxes of things, as points on the board. */
function handTabs(cut: ProfileCut, items: readonly PlannedItem[]): [number, number][] {
  return cut.tabsAt.flatMap(({ item, u, v }) => {
    const thing = items.find((one) => one.item.id === item);
    if (!thing || thing.regions.length === 0) return [];
    const { minX, minY, maxX, maxY } = regionsBox(thing.regions);
    return [[minX + u * (maxX - minX), minY + v * (maxY - minY)] as [number, number]];
  });
}

/** Does a cut come to its wall through the waste? */
const leads = (cut: Cut): boolean => cut.kind === 'profile' && cut.lead !== 'none';

/** Cuts that leave parts standing: what they work on is to be kept. */
const partCuts = (job: Job, but: Cut): Cut[] =>
  job.cutOrder
    .map((id) => job.cuts[id])
    .filter((other) => other.id !== but.id && ((other.kind === 'profile' && (other.side === 'outside' || other.side === 'auto')) || other.kind === 'plug'));

/** Parts that other cuts leave standing. What lies around what this cut works on is not one of them: it is cut from it. */
function standingBeside(job: Job, cut: ProfileCut, items: readonly PlannedItem[]): Region[] {
  if (!leads(cut)) return [];
  const own = targetRegions(job, cut, items);
  return partCuts(job, cut)
    .flatMap((other) => targetRegions(job, other, items))
    .filter((part) => !own.some((region) => insideRegion({ outer: part.outer, holes: [] }, region.outer.xy[0], region.outer.xy[1])));
}

/** Plans one cut. Bits that cannot make it, and figures that leave nothing to cut, give a finding and no moves. */
export function planCut(job: Job, cut: Cut, items: readonly PlannedItem[]): PlannedCut {
  const bit = job.bits[cut.bit];
  const findings: Finding[] = [];
  const wrong = wrongBit(cut, bit);
  if (wrong) findings.push(finding.wrongBit(cut.id, wrong.need));
  const upside = startsBelow(job, cut);
  if (upside) findings.push(finding.startsBelowDepth(cut.id, upside.start, upside.depth));
  const much = beyondBounds(workOf(job, cut, bit, targetRegions(job, cut, items), linesFor(job, cut, items)));
  if (much) findings.push(finding.tooMuchWork(cut.id, much));
  const short = wrong?.forbids || upside || much ? nothing() : plannedOf(job, cut, bit, items, findings);
  const planned = job.program.order === 'artwork' && cut.kind !== 'surface' ? inOrderOf(job, cut, bit, items, short) : short;
  const facts = factsOf(planned.path);
  if (facts.deepest < 1e-9 && !findings.some(({ code, severity }) => severity === 'error' || code === 'cut-empty')) {
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

/** The same cut, thing by thing as the artwork lists them. */
function inOrderOf(job: Job, cut: Cut, bit: Bit, items: readonly PlannedItem[], planned: Planned): Planned {
  const freed = cut.kind === 'profile' || cut.kind === 'plug';
  const path = inArtworkOrder(planned.path, targets(job, cut, items), job.program.clearance, cuttingWidth(bit) / 2 + job.tolerance, freed);
  return { ...planned, path };
}

/** Where a cut is to begin no higher than it ends: both as depths below the top. */
function startsBelow(job: Job, cut: Cut): { start: number; depth: number } | null {
  const start = 'startDepth' in cut ? cut.startDepth : 0;
  const depth =
    cut.kind === 'profile' ? profileDepth(cut, job.board) : cut.kind === 'plug' ? boardThickness(job.board) - cut.skin : 'depth' in cut ? cut.depth : undefined;
  return depth !== undefined && start >= depth ? { start, depth } : null;
}

const nothing = (): Planned => ({ path: joined([]), lifts: 0, through: false });

/** What bit a cut needs, when the one chosen will not do; `forbids` when it cannot even be planned. */
function wrongBit(cut: Cut, bit: Bit): { need: string; forbids: boolean } | null {
  // A diamond scratches with the spindle off and nothing else; and nothing else scratches.
  if ((bit.kind === 'drag') !== (cut.kind === 'drag'))
    return { need: cut.kind === 'drag' ? 'a drag diamond, with the spindle off' : 'a bit that turns: a drag diamond only scratches', forbids: true };
  switch (cut.kind) {
    case 'vcarve':
    case 'chamfer':
      return isPointed(bit) ? null : { need: 'a V bit', forbids: true };
    case 'pocket':
    case 'surface':
      return isStraight(bit) ? null : { need: 'a straight bit', forbids: true };
    case 'recess':
    case 'plug':
      return bit.kind === 'end' ? null : { need: 'a straight bit', forbids: true };
    case 'profile':
      return bit.kind === 'end' || cut.side === 'on' ? null : { need: 'a straight bit', forbids: false };
    case 'drill':
      return bit.kind === 'drill' || bit.kind === 'end' ? null : { need: 'a drill or a straight bit', forbids: true };
    default:
      return null;
  }
}

function plannedOf(job: Job, cut: Cut, bit: Bit, items: readonly PlannedItem[], findings: Finding[]): Planned {
  const regions = targetRegions(job, cut, items);
  const { maxSpeed } = job.machine;
  // The machine's limits win already here, not only at the machine.
  const travel = {
    clearance: job.program.clearance,
    approach: job.program.approach,
    feed: Math.min(cut.feed, maxSpeed[0], maxSpeed[1]),
    plunge: Math.min(cut.plunge, maxSpeed[2]),
    rise: maxSpeed[2],
  };
  const thickness = boardThickness(job.board);
  const lines = linesFor(job, cut, items);
  const points = cut.kind === 'drill' ? cut.points.length : 0;
  if (cut.kind !== 'surface' && regions.length + lines.length + points === 0) findings.push(finding.nothingToCut(cut.id));
  const lost = (count: number) => {
    if (count > 0) findings.push(finding.bitTooLarge(cut.id, count));
  };
  switch (cut.kind) {
    case 'vcarve': {
      if (!isPointed(bit)) return nothing();
      const plan = planVCarve(regions, cut, bit, travel, job.tolerance, cut.after ? job.bits[cut.after] : undefined);
      if (plan.trouble.length) findings.push(finding.axisTrouble(cut.id, plan.trouble.length));
      return { ...plan, through: false, ridge: ridgeOf(bit, floorStep(cut, bit)) };
    }
    case 'profile': {
      const plan = planProfile(regions, cut, bit, job.board, travel, {
        tolerance: job.tolerance,
        tabPoints: handTabs(cut, items),
        standing: standingBeside(job, cut, items),
      });
      lost(plan.lost);
      if (cut.allowance < 0) findings.push(finding.allowanceNegative(cut.id, cut.allowance));
      if (plan.noLead > 0) findings.push(finding.noLead(cut.id, plan.noLead));
      return { ...plan, lifts: plan.tabs.length };
    }
    case 'pocket': {
      const carve = cut.floorOf === undefined ? undefined : job.cuts[cut.floorOf];
      const cone = carve && job.bits[carve.bit];
      if (carve?.kind === 'vcarve' && cone && isPointed(cone)) {
        const floor = floorOf(targetRegions(job, carve, items), carve, cone);
        const plan = planPocket(floor.regions, { ...cut, depth: floor.depth }, bit, travel, { tolerance: job.tolerance });
        // Where it does not fit the V bit takes all, as it would without.
        return { ...plan, through: floor.depth >= thickness };
      }
      const plan = planPocket(regions, cut, bit, travel, { tolerance: job.tolerance, cleared: cut.after ? job.bits[cut.after] : undefined, board: job.board });
      lost(plan.lost);
      return { ...plan, through: cut.depth >= thickness };
    }
    case 'drill': {
      const plan = planDrill(regions, cut, bit, job.board, travel);
      if (plan.notRound > 0) findings.push(finding.notRound(cut.id, plan.notRound));
      lost(plan.tooNarrow);
      if (plan.wider > 0) findings.push(finding.drillThin(cut.id, plan.wider, cuttingWidth(bit)));
      return { path: plan.path, lifts: plan.holes.length, through: plan.through, holes: plan.holes.length };
    }
    case 'engrave': {
      const plan = planEngrave(regions, lines, cut, bit, travel, job.tolerance);
      lost(plan.lost ?? 0);
      return { ...plan, through: cut.depth >= thickness };
    }
    case 'drag':
      return { ...planDrag(regions, lines, cut, bit, travel), through: false };
    case 'recess': {
      const plan = planRecess(regions, cut, bit, job.bits[cut.mate], travel);
      lost(plan.lost);
      return { ...plan, through: cut.depth >= thickness };
    }
    case 'plug': {
      const plan = planPlug(regions, cut, bit, job.bits[cut.mate], job.board, travel);
      lost(plan.lost);
      return { ...plan, lifts: plan.tabs.length };
    }
    case 'surface':
      return { ...planSurface(cut, bit, job.board, travel), through: false };
    case 'chamfer': {
      if (!isPointed(bit)) return nothing();
      const plan = planChamfer(regions, cut, bit, travel);
      lost(plan.lost);
      if (plan.tooWide) findings.push(finding.bevelTooWide(cut.id, cut.width));
      return { ...plan, through: false };
    }
  }
}

/**
 * Keeps planned cuts from plan to plan: a cut is planned again when anything it is made from
 * changed - its own figures, its bits, the drawings it works on, the board, the machine's limits -
 * and only then.
 */
export class CutCache {
  private readonly kept = new Map<string, { key: string; drawings: readonly unknown[]; planned: PlannedCut }>();

  plan(job: Job, cut: Cut, items: readonly PlannedItem[]): PlannedCut {
    const carve = cut.kind === 'pocket' && cut.floorOf ? job.cuts[cut.floorOf] : undefined;
    const others = ['after', 'mate'].flatMap((field) => job.bits[(cut as Record<string, unknown>)[field] as string] ?? []);
    const { maxSpeed, acceleration, cornerDeviation } = job.machine;
    const key = JSON.stringify([
      cut,
      job.bits[cut.bit],
      others,
      carve && [carve, job.bits[carve.bit]],
      leads(cut) && partCuts(job, cut).map(({ on }) => on),
      job.board,
      job.units,
      job.tolerance,
      job.program.clearance,
      job.program.approach,
      job.program.order === 'artwork' && job.itemOrder,
      job.outline,
      maxSpeed,
      acceleration,
      cornerDeviation,
    ]);
    const drawings = items.filter((thing) => this.matters(job, cut, carve, thing)).flatMap(({ regions, lines }) => [regions, lines]);
    const kept = this.kept.get(cut.id);
    if (kept?.key === key && kept.drawings.length === drawings.length && kept.drawings.every((one, i) => one === drawings[i])) return kept.planned;
    const planned = planCut(job, cut, items);
    this.kept.set(cut.id, { key, drawings, planned });
    return planned;
  }

  /** Does a cut look at a thing at all? */
  private matters(job: Job, cut: Cut, carve: Cut | undefined, thing: PlannedItem): boolean {
    if (cut.on === 'outline' && job.outline === null) return true;
    return (
      [cut, carve, ...(leads(cut) ? partCuts(job, cut) : [])].some((one) => one && targets(job, one, [thing]).length > 0) ||
      (cut.kind === 'profile' && cut.tabsAt.some(({ item }) => item === thing.item.id))
    );
  }

  /** Forgets cuts that are no longer in the job. */
  keepOnly(cuts: Record<string, Cut>): void {
    for (const id of this.kept.keys()) if (!cuts[id]) this.kept.delete(id);
  }
}
