/** What a person's hands do on the simulated machine, from what the job says. */
import { topHeight, type Job } from '@kerbe/core/job';

/** How far a bit stands out of the collet: different for every bit, as in a real shop, mm. */
export const stickOut = (id: string): number => 30 + ((id.charCodeAt(0) * 7 + id.length * 5) % 12);

/** A fresh board where it is to lie, with what holds it. */
export function simulatedBoard(job: Job, bed: { x: number; y: number }): Record<string, unknown> {
  const { width, height, holders, holdDown, slats, gone } = job.board;
  // What lies there is as high as board and carrier together.
  const thickness = topHeight(job.board);
  return {
    board: {
      x: bed.x,
      y: bed.y,
      width,
      height,
      thickness,
      ...(job.process === 'laser' ? { material: job.board.material } : {}),
      ...(job.process === 'torch' && gone ? { gone } : {}),
    },
    // A table shows the slats the job reckons with; a router has none.
    ...(job.process === 'torch'
      ? { arcOk: job.program.pierce === 'machine', ...(slats ? { slats: { ...slats, first: slats.first + (slats.along === 'y' ? bed.x : bed.y) } } : {}) }
      : job.process === 'router'
        ? { vacuumHeld: holdDown === 'vacuum' }
        : {}),
    clamps: holders.map((h) => ({ x: bed.x + h.x, y: bed.y + h.y, width: h.width, depth: h.depth, height: Math.max(0.5, thickness + h.height) })),
  };
}
