/**
 * Preflight: everything that can be known to spoil the board before a bit touches it. Works on
 * the planned cuts of a job; each finding says where, why and what to do.
 */
import { cuttingWidth, deepestOfV, grooveWidth } from '../bits/index.ts';
import { regionsBox } from '../geometry/index.ts';
import { boardThickness, type Job } from '../job/index.ts';
import type { PlannedCut, PlannedItem } from '../plan/index.ts';
import { finding, type Finding } from './findings.ts';

export { finding, forbids, speakIn, type Finding, type Severity } from './findings.ts';

/** How deep a through cut may go into the spoilboard, mm. (Common practice: 0.05 to 1 mm.) */
const SPOIL_LIMIT = 3;

export function preflight(job: Job, items: readonly PlannedItem[], cuts: readonly PlannedCut[]): Finding[] {
  const found: Finding[] = [...items.flatMap((item) => item.findings), ...items.flatMap((item) => offBoard(job, item))];
  if (job.cutOrder.length === 0) found.push(finding.noCuts());
  for (const planned of cuts) found.push(...planned.findings, ...checkCut(job, planned));
  const freed = cuts.findIndex((planned) => planned.cut.kind === 'profile' && planned.cut.side === 'outside' && planned.through);
  if (freed >= 0 && freed < cuts.length - 1 && cuts.slice(freed + 1).some((later) => later.cut.kind === 'vcarve'))
    found.push(finding.profileBeforeCarve(cuts[freed].cut.id));
  const { usable } = job.machine;
  if (job.board.width > usable.width || job.board.height > usable.height)
    found.push(finding.boardOutsideBed(job.board.width, job.board.height, usable.width, usable.height));
  return found;
}

function offBoard(job: Job, { item, regions }: PlannedItem): Finding[] {
  if (regions.length === 0) return [];
  const box = regionsBox(regions);
  const over = Math.max(-box.minX, -box.minY, box.maxX - job.board.width, box.maxY - job.board.height);
  if (over <= job.tolerance) return [];
  const at: [number, number] = [
    -box.minX === over ? box.minX : box.maxX - job.board.width === over ? box.maxX : (box.minX + box.maxX) / 2,
    -box.minY === over ? box.minY : box.maxY - job.board.height === over ? box.maxY : (box.minY + box.maxY) / 2,
  ];
  return [finding.artOffBoard(item.id, over, at)];
}

function checkCut(job: Job, planned: PlannedCut): Finding[] {
  const { cut, bit, facts } = planned;
  const { board, machine } = job;
  const found: Finding[] = [];
  const thickness = boardThickness(board);
  const thinnest = board.measured ? Math.min(...board.measured) : board.thickness;
  if (facts.moves === 0) return found;

  const deepest = facts.deepest;
  if (cut.kind === 'vcarve') {
    if (deepest >= thinnest) found.push(finding.deeperThanBoard(cut.id, deepest, thinnest));
    if (bit.kind === 'v') {
      const reach = Math.min(bit.fluteLength, Infinity);
      if (deepest - cut.startDepth > reach) found.push(finding.bitTooShort(cut.id, deepest - cut.startDepth, reach));
      if (planned.limitedByBit) found.push(finding.bitTooNarrow(cut.id, 2 * planned.widest!, grooveWidth(bit, deepestOfV(bit))));
      if (planned.tooNarrow) found.push(finding.strokeNarrowerThanTip(cut.id, bit.tipFlat));
    }
    const spread = thickness - thinnest;
    if (spread > 0 && spread > 0.25 * deepest) found.push(finding.unevenBoard(cut.id, spread, deepest));
  } else {
    if ((cut.kind === 'pocket' || cut.kind === 'engrave') && deepest >= thinnest) found.push(finding.deeperThanBoard(cut.id, deepest, thinnest));
    if (deepest > bit.fluteLength) found.push(finding.bitTooShort(cut.id, deepest, bit.fluteLength));
    if (deepest - thickness > SPOIL_LIMIT) found.push(finding.throughTooDeep(cut.id, deepest - thickness));
    const step = cut.kind === 'drill' ? 0 : Math.min(cut.depthPerPass, deepest);
    if (step > cuttingWidth(bit)) found.push(finding.passDeep(cut.id, step, cuttingWidth(bit)));
    if (cut.kind === 'profile' && planned.through && cut.side !== 'on') {
      if (cut.tabs === 0 && board.holdDown !== 'tape') found.push(finding.freedPart(cut.id));
      const fewest = Math.min(...(planned.tabs ?? []));
      if (cut.tabs > 0 && fewest < Math.min(cut.tabs, 2) && board.holdDown !== 'tape') found.push(finding.fewTabs(cut.id, cut.tabs, fewest));
    }
  }

  const feedLimit = Math.min(machine.maxSpeed[0], machine.maxSpeed[1]);
  if (cut.feed > feedLimit) found.push(finding.feedTooFast(cut.id, 'The feed of', cut.feed, feedLimit));
  if (cut.plunge > machine.maxSpeed[2]) found.push(finding.feedTooFast(cut.id, 'The plunge rate of', cut.plunge, machine.maxSpeed[2]));
  if (cut.speed > machine.maxSpindle) found.push(finding.spindleTooFast(cut.id, cut.speed, machine.maxSpindle));

  const { box } = facts;
  const { usable } = machine;
  if (box.maxX - box.minX > usable.width || box.maxY - box.minY > usable.height)
    found.push(finding.outsideMachine(cut.id, 'This cut is larger than the usable part of the bed.'));
  if (deepest + job.program.clearance > machine.travel[2]) found.push(finding.outsideMachine(cut.id, 'This cut needs more height than Z can travel.'));
  return found;
}
