/** Areas filled by scan lines. */
import { z } from 'zod';
import { positive } from '../../fields/index.ts';
import { contoursOf, groupsNear, offset, regionsBox, regionArea, signedArea, subtract, type Contour, type Region } from '../../geometry/index.ts';
import type { Toolpath } from '../../toolpath/index.ts';
import { degrees } from '../fields.ts';
import { BeamWriter } from './beam.ts';
import { laserCommon } from './fields.ts';
import { burnRow, crossedFrom, overscanOf, Stretches } from './rows.ts';

export const LaserFill = z.strictObject({
  ...laserCommon,
  kind: z.literal('laser-fill'),
  feed: laserCommon.feed.default(3000),
  /** Distance of the scan lines, mm. */
  interval: positive.max(5).default(0.1),
  /** Lines across it, or its own outline again and again inwards. */
  by: z.enum(['lines', 'offsets']).default('lines'),
  angle: degrees.default(0),
  /** A second time, across. */
  cross: z.boolean().default(false),
  bothWays: z.boolean().default(true),
  passes: z.int().min(1).max(20).default(1),
  /** Dark way before and after each run, mm; what the machine needs at this feed when left out. */
  overscan: z.number().min(0).max(100).optional(),
  /** How late the beam is, ms: found on a test card. */
  lag: z.number().min(-20).max(20).default(0),
});
export type LaserFill = z.infer<typeof LaserFill>;

/** Where lines at a distance cross an area, each a list of from and to along it. Lines stand at whole multiples of the interval, half of one off. */
export function scanLines(regions: readonly Region[], interval: number, angle: number): { v: number; runs: [number, number][] }[] {
  const a = (angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  const lines = new Map<number, number[]>();
  for (const region of regions)
    for (const { xy } of contoursOf(region))
      for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
        const [u0, v0] = [cos * xy[j] + sin * xy[j + 1], -sin * xy[j] + cos * xy[j + 1]];
        const [u1, v1] = [cos * xy[i] + sin * xy[i + 1], -sin * xy[i] + cos * xy[i + 1]];
        if (v0 === v1) continue;
        const [low, high] = [Math.min(v0, v1), Math.max(v0, v1)];
        // The upper end of an edge is no part of it: a corner is crossed once or not at all.
        for (let k = Math.ceil(low / interval - 0.5); (k + 0.5) * interval < high; k++) {
          const v = (k + 0.5) * interval;
          if (v < low) continue;
          const at = u0 + ((v - v0) / (v1 - v0)) * (u1 - u0);
          const line = lines.get(k);
          if (line) line.push(at);
          else lines.set(k, [at]);
        }
      }
  return [...lines]
    .sort(([p], [q]) => p - q)
    .map(([k, us]) => {
      us.sort((p, q) => p - q);
      return { v: (k + 0.5) * interval, runs: Array.from({ length: us.length >> 1 }, (_, n) => [us[2 * n], us[2 * n + 1]] as [number, number]) };
    });
}

/** A ring with no more inside than this is burned as the last one, mm². */
const SPECK = 1e-3;

/** What no next outline comes near is burned by itself when it is larger than this share of a square of the interval. */
const LOBE = 0.05;

/** An area's outlines, and those of it inwards at a distance. Where none comes any more - in its middle, in a lobe - one half as far in covers what is left. */
function ringsOf(region: Region, interval: number): Contour[] {
  const inwards = offset([region], -interval, 'mitre');
  const middle = offset([region], -interval / 2, 'mitre');
  const left = inwards.length === 0 ? middle : subtract(middle, offset(inwards, 0.55 * interval, 'mitre'));
  return [
    ...contoursOf(region),
    ...left.filter((one) => regionArea(one) > LOBE * interval * interval).flatMap(contoursOf),
    ...inwards.flatMap((one) => ringsOf(one, interval)),
  ];
}

/** An area by its own outlines, again and again inwards, from the outside in: piece after piece. */
function planOffsets(regions: readonly Region[], cut: LaserFill, feed: number): { path: Toolpath; rows: number } {
  const writer = new BeamWriter(feed);
  writer.focus(cut.focus);
  let rows = 0;
  if (regions.length > 0) {
    writer.ready('dynamic', cut.air);
    for (let pass = 1; pass <= cut.passes; pass++) {
      writer.begin(cut.id, cut.passes > 1 ? `fill, pass ${pass} of ${cut.passes}` : 'fill', cut.passes > 1 ? pass : undefined);
      for (const { xy } of regions.flatMap((region) => offset([region], -cut.interval / 2, 'mitre')).flatMap((ring) => ringsOf(ring, cut.interval))) {
        if (Math.abs(signedArea(xy)) < SPECK) continue;
        writer.goTo(xy[0], xy[1]);
        for (let i = 2; i < xy.length; i += 2) writer.burnTo(xy[i], xy[i + 1], cut.power / 100);
        writer.burnTo(xy[0], xy[1], cut.power / 100);
        rows++;
      }
    }
  }
  return { path: writer.finish(cut.air), rows };
}

/** @param acceleration mm/s² */
export function planFill(regions: readonly Region[], cut: LaserFill, feed: number, acceleration: number): { path: Toolpath; rows: number } {
  if (cut.by === 'offsets') return planOffsets(regions, cut, feed);
  const writer = new BeamWriter(feed);
  writer.focus(cut.focus);
  const plan = { overscan: cut.overscan ?? overscanOf(feed, acceleration), bothWays: cut.bothWays, late: (cut.lag / 1000) * (feed / 60) };
  const stretches = new Stretches();
  let rows = 0;
  // What lies so far apart that the beam would cross dark from one to the other is filled one after the other.
  const groups = groupsNear(regions, crossedFrom(plan.overscan));
  if (regions.length > 0 && regionsBox(regions).maxX > -Infinity) {
    writer.ready('dynamic', cut.air);
    for (let pass = 1; pass <= cut.passes; pass++)
      for (const angle of cut.cross ? [cut.angle, cut.angle + 90] : [cut.angle]) {
        const a = (angle * Math.PI) / 180;
        const [cos, sin] = [Math.cos(a), Math.sin(a)];
        for (const group of groups) {
          writer.begin(cut.id, cut.passes > 1 ? `fill, pass ${pass} of ${cut.passes}` : 'fill', cut.passes > 1 ? pass : undefined);
          for (const { v, runs } of scanLines(group, cut.interval, angle)) {
            stretches.clear();
            for (const [from, to] of runs) if (to - from > 1e-6) stretches.add(from, to, cut.power / 100);
            burnRow(writer, stretches, { x: -sin * v, y: cos * v, ux: cos, uy: sin }, cut.bothWays && rows % 2 === 1, plan);
            if (stretches.count > 0) rows++;
          }
        }
      }
  }
  return { path: writer.finish(cut.air), rows };
}
