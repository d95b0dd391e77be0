import type { Bit, FeedPreset, Job } from '../job/index.ts';

/** What the best place of a trial board teaches: a preset for its bit in the material of the board. */
export function presetFrom(job: Job, cell: number, date: string): { bit: Bit; material: string; preset: FeedPreset } | null {
  const cut = job.trial && job.cuts[job.trial.cells[cell]?.cut];
  if (!cut) return null;
  const { feed, plunge, speed } = cut;
  const depthPerPass = 'depthPerPass' in cut ? cut.depthPerPass : undefined;
  const source = `trial board “${job.name}”, place “${job.trial!.cells[cell].label}”, ${date}`.slice(0, 200);
  return {
    bit: job.tools[cut.tool],
    material: job.board.material,
    preset: { feed, plunge, speed, ...(depthPerPass === undefined ? {} : { depthPerPass }), source },
  };
}
