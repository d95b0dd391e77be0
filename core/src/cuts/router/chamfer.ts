/**
 * Chamfer: a V bit breaks the edge along an outline. The tip runs `clear` beyond the line so that it is not
 * the point that cuts: its middle lies far enough off the line that only the cone touches the edge - the
 * flat of the tip, or what of its ball is no cone yet, and `clear` more. With h the height of the bit's own
 * side, a bevel w wide is cut with the tip h(off + w) deep; its foot stands h(off + w) - h(off) = w/t below
 * the top. (Derived.)
 */
import { z } from 'zod';
import { evenFrom, heightAt, shapeOf, type PointedBit } from '../../bits/index.ts';
import { backwards, begunOnStraight, contoursOf, offset, type Region } from '../../geometry/index.ts';
import { orderRuns, PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { notNegative, positive } from '../../fields/index.ts';
import { cutting } from '../fields.ts';

/** Breaks the edge along outlines with a V bit. */
export const ChamferCut = z.strictObject({
  ...cutting,
  kind: z.literal('chamfer'),
  /** Width of the bevel seen from above, mm. */
  width: positive.default(1),
  /** On which side of the line the part lies. */
  part: z.enum(['inside', 'outside']).default('inside'),
  /** How far the tip stays clear of the bevel's foot, mm. */
  clear: notNegative.default(0.5),
});
export type ChamferCut = z.infer<typeof ChamferCut>;

export interface ChamferPlan {
  path: Toolpath;
  lifts: number;
  depth: number;
  /** The bit is too narrow for so wide a bevel. */
  tooWide: boolean;
  unreachable: number;
}

export function planChamfer(regions: readonly Region[], cut: ChamferCut, bit: PointedBit, travel: Travel): ChamferPlan {
  const shape = shapeOf(bit);
  const off = cut.clear + Math.max(shape.flat, evenFrom(bit));
  const depth = heightAt({ ...shape, outer: Infinity }, off + cut.width);
  const lines = offset(regions, cut.part === 'inside' ? off : -off).flatMap(contoursOf);
  // Climb: the part on the right of the bit's way. Outlines run with their inside on the left.
  const rings = lines.map(({ xy }) => begunOnStraight(cut.part === 'inside' ? backwards(xy) : xy));
  const writer = new PathWriter(travel);
  for (const { run } of orderRuns(rings.map((xy) => ({ startX: xy[0], startY: xy[1], endX: xy[0], endY: xy[1], reversible: false })))) {
    const xy = rings[run];
    writer.begin(cut.id, 'chamfer');
    writer.approach(xy[0], xy[1], -depth);
    for (let i = 2; i <= xy.length; i += 2) writer.cutTo(xy[i % xy.length], xy[(i % xy.length) + 1], -depth);
    writer.lift();
  }
  const drawn = regions.reduce((sum, region) => sum + contoursOf(region).length, 0);
  return { path: writer.finish(), lifts: rings.length, depth, tooWide: off + cut.width > shape.outer + 1e-9, unreachable: Math.max(0, drawn - rings.length) };
}
