import { boardThickness } from '../board/index.ts';
import { withPreset } from '../feeds/beam.ts';
import type { BeamPreset } from '../bits/schema.ts';
import type { Bit, Cut, Job } from '../job/index.ts';

/** What a cut of a beam was made with, as a preset of its head. @param date as 2026-11-29 */
export function beamPresetOf(job: Job, cut: Cut, source: string, date: string, care?: string): BeamPreset | null {
  if (!('power' in cut)) return null;
  const own = cut as Cut & Partial<Pick<BeamPreset, 'passes' | 'interval' | 'linesPerMm' | 'focus' | 'kerf'>>;
  const figures = { passes: own.passes, interval: own.interval, linesPerMm: own.linesPerMm, focus: own.focus, kerf: own.kerf, care };
  const given = Object.fromEntries(Object.entries(figures).filter(([, value]) => value !== undefined && value !== ''));
  const { material } = job.board;
  return { kind: cut.kind, material, thickness: boardThickness(job.board), feed: cut.feed, power: cut.power, source: source.slice(0, 200), date, ...given };
}

/** What the best place of a trial board or test card teaches: its bit, and how one that is the same in the crib is taught. */
export function presetFrom(job: Job, cell: number, date: string): { bit: Bit; source: string; into: (bit: Bit) => Bit } | null {
  const cut = job.trial && job.cuts[job.trial.cells[cell]?.cut];
  if (!cut) return null;
  const { feed, plunge, speed } = cut;
  const { label } = job.trial!.cells[cell];
  const { material } = job.board;
  const bit = job.tools[cut.tool];
  const beam = beamPresetOf(job, cut, `test card “${job.name}”, square “${label}”`, date);
  if (beam) return { bit, source: beam.source, into: (head) => withPreset(head, beam) };
  const depthPerPass = 'depthPerPass' in cut ? cut.depthPerPass : undefined;
  const source = `trial board “${job.name}”, place “${label}”, ${date}`.slice(0, 200);
  const preset = { feed, plunge, speed, ...(depthPerPass === undefined ? {} : { depthPerPass }), source };
  return { bit, source, into: (one) => ({ ...one, feeds: { ...one.feeds, [material]: preset } }) };
}
