/**
 * Surface: planes the whole board - or the spoilboard - flat. The perimeter first, then back and
 * forth along the longer side, skimmed a little at a time and repeated until no mark is left
 * (common practice: 0.2 mm at a time, never deeper).
 */
import { z } from 'zod';
import { cuttingWidth, stepOver } from '../../bits/index.ts';
import type { Bit } from '../../bits/schema.ts';
import type { Board } from '../../board/index.ts';
import { PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { notNegative, positive } from '../../fields/index.ts';
import { cutting } from '../fields.ts';

/** Planes the whole board, or the spoilboard that is the board of the job. */
export const SurfaceCut = z.strictObject({
  ...cutting,
  kind: z.literal('surface'),
  of: z.enum(['board', 'spoilboard']).default('board'),
  /** Taken off at a time. (Common practice: 0.2 mm, never deeper.) */
  skim: positive.max(5).default(0.2),
  repeats: z.int().min(1).max(50).default(1),
  /** So much was taken off before, from the same zero. */
  startDepth: notNegative.max(100).optional(),
  stepover: positive.optional(),
  /** How far the middle of the bit runs beyond the edges, mm. */
  overlap: notNegative.max(100).default(0),
});
export type SurfaceCut = z.infer<typeof SurfaceCut>;

export interface SurfacePlan {
  path: Toolpath;
  lifts: number;
  /** Distance between lanes as it came out even, mm. */
  step: number;
}

export function planSurface(cut: SurfaceCut, bit: Bit, board: Pick<Board, 'width' | 'height'>, travel: Travel): SurfacePlan {
  const [left, front] = [-cut.overlap, -cut.overlap];
  const [right, back] = [board.width + cut.overlap, board.height + cut.overlap];
  const asked = stepOver(bit, cut.stepover ?? 0.7 * cuttingWidth(bit));
  const along = right - left >= back - front;
  const across = along ? back - front : right - left;
  const lanes = Math.max(1, Math.ceil(across / asked - 1e-9));
  const step = across / lanes;
  const writer = new PathWriter(travel);
  for (let pass = 1; pass <= cut.repeats; pass++) {
    const z = -(cut.startDepth ?? 0) - cut.skim * pass;
    writer.begin(cut.id, cut.repeats > 1 ? `skim ${pass} of ${cut.repeats}` : 'skim', pass);
    writer.approach(left, front, z);
    for (const [x, y] of [
      [right, front],
      [right, back],
      [left, back],
      [left, front],
    ])
      writer.cutTo(x, y, z);
    // The outermost lanes are the perimeter itself.
    for (let lane = 1; lane < lanes; lane++) {
      const at = lane * step;
      const ahead = lane % 2 === 1;
      const ends = along
        ? [
            [left, front + at],
            [right, front + at],
          ]
        : [
            [left + at, front],
            [left + at, back],
          ];
      for (const [x, y] of ahead ? ends : ends.reverse()) writer.cutTo(x, y, z);
    }
    writer.lift();
  }
  return { path: writer.finish(), lifts: cut.repeats, step };
}
