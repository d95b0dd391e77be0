/**
 * Preflight: everything that can be known to spoil the board before a bit touches it. Works on
 * the planned cuts of a job; each finding says where, why and what to do.
 */
import { suggestFeeds } from '../advise/feeds.ts';
import {
  chipLoad,
  cuttingWidth,
  deepestOfV,
  depthForStroke,
  evenFrom,
  grooveWidth,
  isPointed,
  isStraight,
  pointLength,
  shapeOf,
  type PointedBit,
} from '../bits/index.ts';
import { contoursOf, regionArea, regionsBox, type Contour, type Region } from '../geometry/index.ts';
import { boardThickness, type CutOf, type Job } from '../job/index.ts';
import { uncutThings } from '../plan/uncut.ts';
import { targetRegions, type PlannedCut, type PlannedItem } from '../plan/index.ts';
import { finding, type Finding } from './findings.ts';
import { holderFindings } from './holders.ts';
import { woodFindings } from './wood.ts';

export { datumFindings, type ZeroSet } from './datum.ts';
export { finding, forbids, speakIn, type Finding, type Severity } from './findings.ts';

/** How deep a through cut may go into the spoilboard, mm. (Common practice: 0.05 to 1 mm.) */
const SPOIL_LIMIT = 3;
/** Taken off the spoilboard at a time at most, mm (common practice: 0.2 mm or 0.010 in). */
const SKIM = 0.254;
/** A plug with less room than this must be driven in; one with so much more than asked shows it, mm. */
const TIGHT = 0.02;
const UNEVEN = 0.05;
/** A part smaller than this is not trusted to vacuum, mm². (Common practice, from memory: about the size of a hand.) */
const VACUUM_HOLDS = 15_000;
/** Chips this much beyond the usual range are spoken of; ranges are broad and a little outside is nothing. */
const CHIP_SLACK = 2;
/** A feed of which less than this is ever reached is spoken of. */
const REACHED = 0.8;
/** Strokes finer than this many tips carve to mush. (Common practice.) */
const TIPS = 2;

export function preflight(job: Job, items: readonly PlannedItem[], cuts: readonly PlannedCut[]): Finding[] {
  const found: Finding[] = items.flatMap((item) => item.findings);
  if (job.cutOrder.length === 0) found.push(finding.noCuts());
  found.push(...uncutFindings(job, items));
  for (const planned of cuts) found.push(...planned.findings, ...checkCut(job, planned, items));
  found.push(...holderFindings(job, cuts), ...woodFindings(job, items, cuts));
  const shanks = [...new Set(cuts.filter(({ facts }) => facts.moves > 0).map(({ bit }) => bit.shank))];
  if (shanks.length > 1) found.push(finding.colletChange(shanks));
  if (!job.program.park) found.push(finding.noPark());
  if (job.program.clearance <= job.board.holdDownHeight) found.push(finding.clearanceLow(job.program.clearance, job.board.holdDownHeight));
  const { usable } = job.machine;
  if (job.board.width > usable.width || job.board.height > usable.height)
    found.push(finding.boardOutsideBed(job.board.width, job.board.height, usable.width, usable.height));
  return found;
}

function uncutFindings(job: Job, items: readonly PlannedItem[]): Finding[] {
  const uncut = uncutThings(job, items);
  return (['all', 'lines'] as const).flatMap((what) => {
    const those = uncut.filter((one) => one.what === what).map(({ item }) => job.items[item]);
    if (those.length === 0) return [];
    return [
      finding.notCut(
        what,
        those.map(calledThing),
        those.map(({ id }) => id),
        [those[0].x, those[0].y],
      ),
    ];
  });
}

/** What a drawn thing is called where people read of it. */
const calledThing = (item: Job['items'][string]): string =>
  item.name ? `“${item.name}”` : item.kind === 'text' ? `“${item.text.split('\n')[0].slice(0, 24)}”` : `a ${item.kind}`;

/** Bits of a job that the shop's crib does not hold. @param crib ids of its bits */
export function cribFindings(job: Job, crib: ReadonlySet<string>): Finding[] {
  const used = new Set(Object.values(job.cuts).map(({ bit }) => bit));
  return Object.values(job.bits)
    .filter((bit) => used.has(bit.id) && !(bit.crib && crib.has(bit.crib)))
    .map((bit) => finding.notInCrib(bit.name || bit.id));
}

function checkCut(job: Job, planned: PlannedCut, items: readonly PlannedItem[]): Finding[] {
  const { cut, bit, facts } = planned;
  const { board, machine } = job;
  const found: Finding[] = [];
  const thickness = boardThickness(board);
  const thinnest = board.measured ? Math.min(...board.measured) : board.thickness;
  if (facts.moves === 0) return found;

  // A spring is pressed, not cut, so far; and what is planed lies above the top that remains.
  const deepest = cut.kind === 'drag' ? 0 : facts.deepest;
  const spread = thickness - thinnest;
  switch (cut.kind) {
    case 'vcarve':
      if (isPointed(bit)) {
        if (planned.limitedByBit) found.push(finding.bitTooNarrow(cut.id, 2 * planned.widest!, grooveWidth(bit, deepestOfV(bit))));
        if (planned.tooNarrow) found.push(finding.strokeNarrowerThanTip(cut.id, bit.tipFlat));
        if (cut.plug) found.push(...inlayFindings(cut, bit, planned, targetRegions(job, cut, items)));
        if (planned.finest) {
          const { width, at } = planned.finest;
          const tip = Math.max(bit.tipFlat, 2 * bit.tipRadius);
          if (!planned.tooNarrow && tip > 0 && width < TIPS * tip) found.push(finding.carvesToMush(cut.id, width, 'tip', tip, at));
          else if (spread > 0 && depthForStroke(bit, width) < spread) found.push(finding.carvesToMush(cut.id, width, 'board', spread, at));
        }
      }
      if (cut.after && !clears(job, cut.id, (other) => other.floorOf === cut.id))
        found.push(finding.clearingMissing(cut.id, `bit “${nameOf(job, cut.after)}”`));
      break;
    case 'pocket':
      if (cut.after && !clears(job, cut.id, (other) => other.bit === cut.after)) found.push(finding.clearingMissing(cut.id, `bit “${nameOf(job, cut.after)}”`));
      break;
    case 'profile':
      if (planned.through && cut.side !== 'on') {
        const tabs = planned.tabs ?? [];
        if (cut.tabs === 0 && cut.tabsAt.length === 0) {
          if (board.holdDown === 'vacuum') found.push(...smallOnVacuum(cut.id, targetRegions(job, cut, items)));
          else if (board.holdDown !== 'tape') found.push(finding.freedPart(cut.id));
        } else if (board.holdDown !== 'tape') {
          const wanted = cut.tabsAt.length > 0 ? 2 : Math.min(cut.tabs, 2);
          const fewest = Math.min(...tabs);
          if (fewest < wanted) found.push(finding.fewTabs(cut.id, Math.max(wanted, cut.tabs), fewest));
        }
      }
      break;
    case 'plug':
      if (planned.through && board.holdDown === 'vacuum') found.push(...smallOnVacuum(cut.id, planned.fit?.plug ?? []));
      else if (planned.through && board.holdDown !== 'tape') found.push(finding.freedPart(cut.id));
      break;
    case 'surface':
      if (cut.skim > SKIM) found.push(finding.skimDeep(cut.id, cut.skim));
      if (cut.of === 'spoilboard') found.push(finding.spoilboardBare(cut.id));
      break;
    case 'engrave':
      if (planned.spots?.length) found.push(finding.spotsTouched(cut.id, planned.spots.length));
      break;
  }
  if (planned.fit) {
    const { gap } = cut as { gap: number };
    if (planned.fit.gap.min < TIGHT) found.push(finding.plugTooTight(cut.id, planned.fit.gap.min));
    if (planned.fit.gap.max > gap + UNEVEN) found.push(finding.plugUneven(cut.id, planned.fit.gap.max, gap));
  }
  const mayGoThrough = cut.kind === 'profile' || cut.kind === 'drill' || cut.kind === 'plug';
  // A V-carve can stop at a floor: what board and flutes allow, in whole half millimetres.
  const floor = cut.kind === 'vcarve' && !cut.plug ? Math.floor(2 * Math.min(0.8 * thinnest - cut.startDepth, bit.fluteLength)) / 2 : undefined;
  const repair = floor !== undefined && floor > 0 ? floor : undefined;
  const at = deepestAt(planned);
  if (!mayGoThrough && deepest >= thinnest) found.push({ ...finding.deeperThanBoard(cut.id, deepest, thinnest, repair), at });
  const below = deepest - thickness;
  // The point of a drill has to come through; how far the hole itself goes below the board is what was asked for.
  if (below - pointLength(bit) > SPOIL_LIMIT) found.push({ ...finding.throughTooDeep(cut.id, below), at });
  else if (below > SPOIL_LIMIT) found.push({ ...finding.pointThrough(cut.id, below), at });
  const start = 'startDepth' in cut ? cut.startDepth : 0;
  const own = cut.kind === 'vcarve' && !cut.plug ? deepest - start : deepest;
  if (own > bit.fluteLength) found.push({ ...finding.bitTooShort(cut.id, own, bit.fluteLength, repair), at });
  if ((cut.kind === 'vcarve' || cut.kind === 'engrave') && spread > 0 && spread > 0.25 * deepest)
    found.push({ ...finding.unevenBoard(cut.id, spread, deepest), at });
  if (bit.kind === 'end' && bit.spiral === 'compression' && 'depthPerPass' in cut && cut.depthPerPass !== undefined) {
    const pass = Math.min(cut.depthPerPass, deepest);
    if (pass < bit.upLength) found.push(finding.compressionShallow(cut.id, pass, bit.upLength));
  }
  if ('depthPerPass' in cut && cut.depthPerPass !== undefined && (isStraight(bit) || bit.kind === 'ball')) {
    const step = Math.min(cut.depthPerPass, deepest);
    if (step > cuttingWidth(bit)) found.push(finding.passDeep(cut.id, step, cuttingWidth(bit)));
  }

  const feedLimit = Math.min(machine.maxSpeed[0], machine.maxSpeed[1]);
  if (cut.feed > feedLimit) found.push(finding.feedTooFast(cut.id, 'The feed of', cut.feed, feedLimit));
  if (cut.plunge > machine.maxSpeed[2]) found.push(finding.feedTooFast(cut.id, 'The plunge rate of', cut.plunge, machine.maxSpeed[2]));
  if (cut.speed > machine.maxSpindle) found.push(finding.spindleTooFast(cut.id, cut.speed, machine.maxSpindle));

  if (cut.kind !== 'drag' && cut.kind !== 'drill' && cut.speed > 0) {
    const { load, known } = suggestFeeds(bit, board.material, machine);
    const chip = chipLoad(Math.min(cut.feed, feedLimit), cut.speed, bit.flutes);
    if (known && chip < load[0] / CHIP_SLACK) found.push(finding.chipThin(cut.id, chip, load[0]));
    if (known && chip > load[1] * CHIP_SLACK) found.push(finding.chipThick(cut.id, chip, load[1]));
  }
  if (planned.fastest < REACHED * Math.min(cut.feed, feedLimit)) found.push(finding.feedNotReached(cut.id, cut.feed, planned.fastest));

  const { box } = facts;
  const { usable } = machine;
  if (box.maxX - box.minX > usable.width || box.maxY - box.minY > usable.height)
    found.push(finding.outsideMachine(cut.id, 'This cut is larger than the usable part of the bed.'));
  if (deepest + job.program.clearance > machine.travel[2]) found.push(finding.outsideMachine(cut.id, 'This cut needs more height than Z can travel.'));
  return found;
}

/** Ridges that come this near to what they face touch it, mm. */
const PROUD = 0.05;
/** Turns sharper than this are corners to an inlay, radians. */
const CORNER = 0.5;

/** What keeps a V-carved plug from going in: ridges beside it, and corners a blunt tip cannot cut into its other half. */
function inlayFindings(cut: CutOf<'vcarve'>, bit: PointedBit, { ridge = 0 }: PlannedCut, regions: readonly Region[]): Finding[] {
  const found: Finding[] = [];
  if (cut.floorDepth !== undefined && ridge > cut.floorDepth - PROUD) found.push(finding.inlayProud(cut.id, ridge, cut.floorDepth));
  const tip = Math.max(shapeOf(bit).flat, bit.tipRadius > 0 ? evenFrom(bit) : 0);
  const corner = tip > 0 ? regions.flatMap(contoursOf).flatMap(convexCorner)[0] : undefined;
  // The tip leaves its own radius in a corner of angle θ, r/sin(θ/2) - r short of it: 0.41 r when that is square.
  if (corner) found.push(finding.inlayBinds(cut.id, 2 * tip, (Math.SQRT2 - 1) * tip, corner));
  return found;
}

/** The first sharp convex corner of an outline; inside is on its left. */
function convexCorner({ xy, smooth }: Contour): [number, number][] {
  const n = smooth.length;
  for (let i = 0; i < n; i++) {
    if (smooth[i]) continue;
    const [p, q] = [(i + n - 1) % n, (i + 1) % n];
    const [ax, ay, bx, by] = [xy[2 * i] - xy[2 * p], xy[2 * i + 1] - xy[2 * p + 1], xy[2 * q] - xy[2 * i], xy[2 * q + 1] - xy[2 * i + 1]];
    if (Math.atan2(ax * by - ay * bx, ax * bx + ay * by) > CORNER) return [[xy[2 * i], xy[2 * i + 1]]];
  }
  return [];
}

/** Where a cut goes deepest. */
function deepestAt({ path }: PlannedCut): [number, number] {
  let low = 0;
  for (let i = 1; i < path.z.length; i++) if (path.z[i] < path.z[low]) low = i;
  return [path.x[low], path.y[low]];
}

/** Parts cut free that vacuum will not hold, the smallest named. */
function smallOnVacuum(cut: string, parts: readonly Region[]): Finding[] {
  const small = parts.map((part) => ({ part, area: regionArea(part) })).sort((a, b) => a.area - b.area)[0];
  if (!small || small.area >= VACUUM_HOLDS) return [];
  const { minX, minY, maxX, maxY } = regionsBox([small.part]);
  return [finding.smallOnVacuum(cut, small.area, [(minX + maxX) / 2, (minY + maxY) / 2])];
}

/** Does a pocket of the job clear for a cut? */
const clears = (job: Job, cut: string, how: (pocket: CutOf<'pocket'>) => boolean): boolean =>
  Object.values(job.cuts).some((other) => other.id !== cut && other.kind === 'pocket' && how(other));

const nameOf = (job: Job, bit: string): string => job.bits[bit]?.name || bit;
