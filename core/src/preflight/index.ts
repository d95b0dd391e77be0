/**
 * Preflight: everything that can be known to spoil the board before a bit touches it. Works on
 * the planned cuts of a job; each finding says where, why and what to do.
 */
import { bitName, chipLoad, cuttingWidth, isStraight, pointLength } from '../bits/index.ts';
import { kindOf, makerOf } from '../cuts/index.ts';
import { suggestFeeds } from '../feeds/index.ts';
import { finding, type Finding } from '../findings/index.ts';
import { boardThickness, type Job } from '../job/index.ts';
import { tilesOf } from '../job/tiles.ts';
import { contextOf, type PlannedCut } from '../planned/cut.ts';
import type { PlannedItem } from '../planned/items.ts';
import { uncutThings } from '../planned/uncut.ts';
import { processOf } from '../process/index.ts';
import { beamFindings, tileFindings } from './beam.ts';
import { holderFindings } from './holders.ts';
import { plateFindings } from './plate.ts';
import { woodFindings } from './wood.ts';

export { datumFindings, type ZeroSet } from './datum.ts';
export { wearFindings, type Wear } from './wear.ts';
export { finding, forbids, type Finding, type Severity } from '../findings/index.ts';

/** How deep a through cut may go into the spoilboard, mm. (Common practice: 0.05 to 1 mm.) */
const SPOIL_LIMIT = 3;
/** Of a carrier so much is left under the deepest cut at least, mm: thinner, it no longer holds together. */
const CARRIER_LEFT = 2;
/** Chips this much beyond the usual range are spoken of; ranges are broad and a little outside is nothing. */
const CHIP_SLACK = 2;
/** A feed of which less than this is ever reached is spoken of. */
const REACHED = 0.8;

export function preflight(job: Job, items: readonly PlannedItem[], cuts: readonly PlannedCut[]): Finding[] {
  const found: Finding[] = items.flatMap((item) => item.findings);
  if (job.cutOrder.length === 0) found.push(finding.noCuts());
  found.push(...uncutFindings(job, items), ...leftOutFindings(job));
  for (const planned of cuts) found.push(...planned.findings, ...checkCut(job, planned, items));
  found.push(...holderFindings(job, cuts), ...woodFindings(job, items, cuts), ...plateFindings(job, cuts), ...beamFindings(job, cuts));
  const shanks = [...new Set(cuts.filter(({ facts }) => facts.moves > 0).map(({ bit }) => bit.shank))];
  if (shanks.length > 1) found.push(finding.colletChange(shanks));
  if (job.program.end === 'stay') found.push(finding.noPark());
  if (job.program.clearance <= job.board.holdDownHeight) found.push(finding.clearanceLow(job.program.clearance, job.board.holdDownHeight));
  const { usable } = job.machine;
  // In tiles it is pushed on under the field, one way.
  const across = tilesOf(job)[0]?.axis;
  const [width, height] = [across === 'x' ? 0 : job.board.width, across === 'y' ? 0 : job.board.height];
  if (width > usable.width || height > usable.height)
    found.push(finding.boardOutsideBed(job.board.width, job.board.height, usable.width, usable.height, processOf(job).burns === true));
  found.push(...tileFindings(job));
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

function leftOutFindings({ items, itemOrder }: Job): Finding[] {
  const those = itemOrder.map((id) => items[id]).filter((item) => item.later && !item.hidden);
  return those.length > 0
    ? [
        finding.leftOut(
          those.map(calledThing),
          those.map(({ id }) => id),
        ),
      ]
    : [];
}

/** What a drawn thing is called where people read of it. */
const calledThing = (item: Job['items'][string]): string =>
  item.name ? `“${item.name}”` : item.kind === 'text' ? `“${item.text.split('\n')[0].slice(0, 24)}”` : `a ${item.kind}`;

/** Bits of a job that the shop's crib does not hold. @param crib ids of its bits */
export function cribFindings(job: Job, crib: ReadonlySet<string>): Finding[] {
  const used = new Set(Object.values(job.cuts).map(({ tool: bit }) => bit));
  return Object.values(job.tools)
    .filter((bit) => used.has(bit.id) && !(bit.crib && crib.has(bit.crib)))
    .map((bit) => finding.notInCrib(bitName(bit, job.units)));
}

function checkCut(job: Job, planned: PlannedCut, items: readonly PlannedItem[]): Finding[] {
  const { cut, bit, facts } = planned;
  const { board, machine } = job;
  const found: Finding[] = [];
  const thickness = boardThickness(board);
  const thinnest = board.measured ? Math.min(...board.measured) : board.thickness;
  if (facts.moves === 0) return found;

  // A spring is pressed, not cut, so far; a focus goes down, and no tool; and what is planed lies above the top that remains.
  const kind = kindOf(cut);
  const deepest = kind.scratchDepth === undefined && !kind.staysAbove ? facts.deepest : 0;
  const spread = thickness - thinnest;
  found.push(...(makerOf(cut).check?.(planned, contextOf(job, cut, items)) ?? []));
  // What can stop at a floor: as board and flutes allow, in whole half millimetres.
  const floorField = kind.floorField?.(cut);
  const { start } = kind.depths(cut, job);
  const floor = floorField ? Math.floor(2 * Math.min(0.8 * thinnest - start, bit.fluteLength)) / 2 : 0;
  const repair = floor > 0 ? { field: floorField as string, depth: floor } : undefined;
  const at = deepestAt(planned);
  if (!kind.mayGoThrough && deepest >= thinnest) found.push({ ...finding.deeperThanBoard(cut.id, deepest, thinnest, repair), at });
  const below = deepest - thickness;
  // The point of a drill has to come through; how far the hole itself goes below the board is what was asked for.
  // A carrier is there to be cut into, and not through.
  const limit = board.carrier ? Math.min(SPOIL_LIMIT, board.carrier.thickness - CARRIER_LEFT) : SPOIL_LIMIT;
  if (below - pointLength(bit) > limit) found.push({ ...finding.throughTooDeep(cut.id, below), at });
  else if (below > limit) found.push({ ...finding.pointThrough(cut.id, below), at });
  const own = kind.fluteDepth?.(cut, deepest) ?? deepest;
  if (own > bit.fluteLength) found.push({ ...finding.bitTooShort(cut.id, own, bit.fluteLength, repair), at });
  if (kind.fadesOnUneven && spread > 0 && spread > 0.25 * deepest) found.push({ ...finding.unevenBoard(cut.id, spread, deepest), at });
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

  if (!kind.noChipLoad && cut.speed > 0) {
    const { load, known } = suggestFeeds(bit, board.material, machine);
    const chip = chipLoad(Math.min(cut.feed, feedLimit), cut.speed, bit.flutes);
    if (known && chip < load[0] / CHIP_SLACK) found.push(finding.chipThin(cut.id, chip, load[0]));
    if (known && chip > load[1] * CHIP_SLACK) found.push(finding.chipThick(cut.id, chip, load[1]));
  }
  if (planned.fastest < REACHED * Math.min(cut.feed, feedLimit)) found.push(finding.feedNotReached(cut.id, cut.feed, planned.fastest));

  const { box } = facts;
  const { usable } = machine;
  if (tilesOf(job).length === 0 && (box.maxX - box.minX > usable.width || box.maxY - box.minY > usable.height))
    found.push(finding.outsideMachine(cut.id, 'This cut is larger than the usable part of the bed.'));
  if (deepest + job.program.clearance > machine.travel[2]) found.push(finding.outsideMachine(cut.id, 'This cut needs more height than Z can travel.'));
  return found;
}

/** Where a cut goes deepest. */
function deepestAt({ path }: PlannedCut): [number, number] {
  let low = 0;
  for (let i = 1; i < path.z.length; i++) if (path.z[i] < path.z[low]) low = i;
  return [path.x[low], path.y[low]];
}
