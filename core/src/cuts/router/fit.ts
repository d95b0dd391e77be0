/**
 * Plug and recess from one drawing. A round bit leaves its radius in every corner it cuts from
 * inside: the recess's bit in the convex corners of the shape, the plug's in the concave ones. So
 * the shape is first rounded both ways by at least those radii (grown and shrunk, shrunk and grown);
 * then the plug is cut outside it and the recess inside it, a gap apart. (Derived.)
 */
import { z } from 'zod';
import RBush from 'rbush';
import { cuttingWidth } from '../../bits/index.ts';
import { contoursOf, nearestOn, offset, type Region } from '../../geometry/index.ts';
import type { Bit } from '../../bits/schema.ts';
import type { Board } from '../../board/index.ts';
import type { Travel } from '../../toolpath/index.ts';
import { planPocket, PocketCut } from './pocket.ts';
import { planProfile, ProfileCut } from './profile.ts';
import { id, notNegative, positive } from '../../fields/index.ts';
import { cutting, direction } from '../fields.ts';
import type { FitResult } from '../kind.ts';

const fit = {
  ...cutting,
  /** The bit that cuts the other half: the shape is rounded by the wider of both. */
  mate: id,
  /** Corners rounded: all of them, or only those the bits cannot cut. */
  corners: z.enum(['all', 'needed']).default('needed'),
  /** Room between plug and recess on every side, mm, and how much of it the plug gives. */
  gap: notNegative.max(5).default(0.1),
  plugShare: z.number().min(0).max(1).default(1),
  depthPerPass: positive.default(3),
  direction,
};

export const RecessCut = z.strictObject({
  ...fit,
  kind: z.literal('recess'),
  depth: positive.default(4),
  stepover: positive.optional(),
});
export type RecessCut = z.infer<typeof RecessCut>;

export const PlugCut = z.strictObject({
  ...fit,
  kind: z.literal('plug'),
  /** Left uncut below the plug and freed by hand, mm. */
  skin: notNegative.default(0.3),
});
export type PlugCut = z.infer<typeof PlugCut>;

/** Distance of the places where the gap is measured, mm. */
const MEASURE = 0.5;

export function fitOf(regions: readonly Region[], cut: PlugCut | RecessCut, own: Bit, mate: Bit): FitResult {
  const [recessBit, plugBit] = cut.kind === 'recess' ? [own, mate] : [mate, own];
  let convex = cuttingWidth(recessBit) / 2;
  let concave = cuttingWidth(plugBit) / 2;
  if (cut.corners === 'all') convex = concave = Math.max(convex, concave);
  // A hair more than the bit: its own line then has no corner for rounding to blunt.
  const shape = opened(closed(opened([...regions], convex), concave * HAIR), convex * HAIR);
  const plug = offset(shape, -cut.gap * cut.plugShare);
  const recess = offset(shape, cut.gap * (1 - cut.plugShare));
  return { plug, recess, gap: gapOf(closed(plug, cuttingWidth(plugBit) / 2), opened(recess, cuttingWidth(recessBit) / 2)) };
}
const HAIR = 1.002;

/** Convex corners rounded: what a bit inside reaches. */
const opened = (regions: readonly Region[], r: number): Region[] => offset(offset(regions, -r), r);
/** Concave corners rounded: what a bit outside leaves. */
const closed = (regions: readonly Region[], r: number): Region[] => offset(offset(regions, r), -r);

function gapOf(plug: readonly Region[], recess: readonly Region[]): { min: number; max: number } {
  let [min, max] = [Infinity, 0];
  const measure = (from: readonly Region[], to: readonly Region[]) => {
    const distance = distanceTo(to);
    for (const { xy } of from.flatMap(contoursOf))
      for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
        const steps = Math.max(1, Math.ceil(Math.hypot(xy[i] - xy[j], xy[i + 1] - xy[j + 1]) / MEASURE));
        for (let k = 0; k < steps; k++) {
          const f = k / steps;
          const d = distance(xy[j] + f * (xy[i] - xy[j]), xy[j + 1] + f * (xy[i + 1] - xy[j + 1]));
          [min, max] = [Math.min(min, d), Math.max(max, d)];
        }
      }
  };
  if (plug.length === 0 || recess.length === 0) return { min: 0, max: 0 };
  measure(plug, recess);
  measure(recess, plug);
  return { min, max };
}

/** Distance to the nearest edge of regions, by a box tree looked into wider and wider. */
function distanceTo(regions: readonly Region[]): (x: number, y: number) => number {
  interface Edge {
    minX: number;
    minY: number;
    maxX: number;
    maxY: number;
    xy: number[];
  }
  const tree = new RBush<Edge>();
  tree.load(
    regions.flatMap(contoursOf).flatMap(({ xy }) =>
      Array.from({ length: xy.length / 2 }, (_, i) => {
        const [ax, ay, bx, by] = [xy[2 * i], xy[2 * i + 1], xy[(2 * i + 2) % xy.length], xy[(2 * i + 3) % xy.length]];
        return { minX: Math.min(ax, bx), minY: Math.min(ay, by), maxX: Math.max(ax, bx), maxY: Math.max(ay, by), xy: [ax, ay, bx, by] };
      }),
    ),
  );
  return (x, y) => {
    for (let reach = 0.5; ; reach *= 4) {
      let best = Infinity;
      // Of a line there and back the nearest place is that of the line.
      for (const { xy } of tree.search({ minX: x - reach, minY: y - reach, maxX: x + reach, maxY: y + reach }))
        best = Math.min(best, nearestOn(xy, x, y).distance);
      if (best <= reach || reach > 1e5) return best;
    }
  };
}

export function planRecess(regions: readonly Region[], cut: RecessCut, bit: Bit, mate: Bit, travel: Travel) {
  const fit = fitOf(regions, cut, bit, mate);
  const { id, on, depth, depthPerPass, stepover, direction } = cut;
  const pocket = PocketCut.parse({ kind: 'pocket', id, on, tool: cut.tool, depth, depthPerPass, stepover, direction });
  return { ...planPocket(fit.recess, pocket, bit, travel), fit };
}

export function planPlug(regions: readonly Region[], cut: PlugCut, bit: Bit, mate: Bit, board: Board, travel: Travel) {
  const fit = fitOf(regions, cut, bit, mate);
  const { id, on, depthPerPass, skin, direction } = cut;
  const profile = ProfileCut.parse({ kind: 'profile', id, on, tool: cut.tool, depthPerPass, skin, direction, entry: 'ramp', tabs: 0 });
  return { ...planProfile(fit.plug, profile, bit, board, travel), fit };
}
