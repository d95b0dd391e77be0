/** What the sheet and the field say against what a laser is to do. */
import { boardThickness } from '../board/index.ts';
import { kindOf } from '../cuts/index.ts';
import { throughShare } from '../feeds/beam.ts';
import { finding, type Finding } from '../findings/index.ts';
import { hotCorners } from './hot-corners.ts';
import type { Job } from '../job/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { darkBeside, factsInPrograms } from '../planned/tiles.ts';
import { processOf } from '../process/index.ts';

/** Materials a laser must never meet, by a word of their name, and what they give off. (Common practice; the sheet's maker and local rules decide.) */
const NEVER: [RegExp, string][] = [
  [/\b(pvc|vinyl)\b/i, 'it gives off hydrogen chloride'],
  [/\bpolycarbonate\b/i, 'it catches fire and gives off poisonous smoke'],
  [/\babs\b/i, 'it melts, burns and gives off hydrogen cyanide'],
  [/\b(ptfe|teflon)\b/i, 'it gives off fluorine compounds'],
  [/\bcarbon fib(re|er)\b/i, 'its resin and fibres are harmful'],
  [/\bgalvani[sz]ed\b/i, 'its zinc gives off poisonous fumes'],
  [/\bchrome[- ]tanned\b/i, 'it gives off chromium compounds'],
  [/\bunknown\b/i, 'nobody knows what it gives off'],
];

/** A corner that takes so many times the energy of its line is told. */
const TWICE = 2;

export function beamFindings(job: Job, cuts: readonly PlannedCut[]): Finding[] {
  const beams = cuts.filter(({ beam }) => beam !== undefined);
  if (beams.length === 0) return [];
  const found: Finding[] = [];
  const never = NEVER.find(([word]) => word.test(job.board.material));
  if (never) found.push(finding.forbiddenSheet(job.board.material, never[1]));
  const { usable } = job.machine;
  const thickness = boardThickness(job.board);
  for (const item of Object.values(job.items)) {
    if (item.kind !== 'picture' || item.guide || item.hidden || item.proposedWidth === undefined || Math.abs(item.width - item.proposedWidth) > 1e-6) continue;
    if (beams.some(({ cut }) => kindOf(cut).takesPictures && (!Array.isArray(cut.on) || cut.on.includes(item.id))))
      found.push(finding.pictureUnsized(item.name ? `“${item.name}”` : 'A picture', item.width, item.id));
  }
  for (const { cut, bit, beam, facts, path } of beams) {
    if (facts.moves === 0) continue;
    if (beam!.depth > 0 && bit.kind === 'head' && 'power' in cut && 'passes' in cut) {
      const share = throughShare(cut, bit, job.board.material, thickness);
      if (share < 1) found.push(finding.beamNotThrough(cut.id, share, job.board.material, thickness));
    }
    const hot = hotCorners(path, job.machine, TWICE);
    if (hot.length > 0) {
      const worst = hot.reduce((a, b) => (b.times > a.times ? b : a));
      found.push(finding.hotCorners(cut.id, hot.length, worst.times, worst.at));
    }
    // Beside what burns a row runs on, dark: all of that must find room in the field, wherever the sheet lies.
    const beyond = Math.max(
      ...factsInPrograms(job, cuts, cut.id).map(({ box }) => Math.max(box.maxX - box.minX - usable.width, box.maxY - box.minY - usable.height)),
    );
    if (beyond > 0) found.push(finding.overscanOff(cut.id, darkBeside(path), beyond));
  }
  return found;
}

/** What can be wrong with tiles themselves. */
export function tileFindings(job: Job): Finding[] {
  const { tiles } = job;
  if (!tiles) return [];
  const { burns, label } = processOf(job);
  if (!burns) return [finding.tilesElsewhere(label.toLowerCase())];
  const found: Finding[] = [];
  const count = tiles.seams.length + 1;
  if (job.datum.corner !== 'lower-left') found.push(finding.tilesDatum());
  const left = tiles.leftOut.filter((one) => one < count);
  if (left.length > 0) found.push(finding.tilesLeftOut(left, count));
  if (tiles.by === 'marks') found.push(finding.tilesMarked(tiles.seams.length));
  return found;
}
