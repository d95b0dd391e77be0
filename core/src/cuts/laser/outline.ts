/** Cutting along outlines, and scoring lines. */
import { z } from 'zod';
import { notNegative, positive } from '../../fields/index.ts';
import { contoursOf, type DrawnLine, type Region } from '../../geometry/index.ts';
import { orderRuns, type Toolpath } from '../../toolpath/index.ts';
import { cuttingOrder } from '../torch/order.ts';
import { contoursFor } from '../torch/torch.ts';
import { BeamWriter } from './beam.ts';
import { laserCommon } from './fields.ts';

export const LaserCut = z.strictObject({
  ...laserCommon,
  kind: z.literal('laser-cut'),
  feed: laserCommon.feed.default(600),
  power: laserCommon.power.default(80),
  /** `auto`: outside of a part and inside of its openings, and so on inwards. */
  side: z.enum(['auto', 'outside', 'inside', 'on']).default('auto'),
  /** Width the beam takes, mm. (Common practice: 0.1 to 0.3.) */
  kerf: notNegative.max(5).default(0.15),
  passes: z.int().min(1).max(20).default(1),
  /** Focus so much lower with each pass, mm. */
  focusStep: notNegative.max(20).default(0),
  /** Way in from the scrap, mm; 0: begun on the line. */
  leadIn: notNegative.max(50).default(0),
  /** Past the start before the beam goes off, mm. */
  overcut: notNegative.max(50).default(0),
  /** Gaps left uncut that hold the part: how many to an outline, and how wide, mm. */
  tabs: z.int().min(0).max(40).default(0),
  tabWidth: positive.max(20).default(0.5),
});
export type LaserCut = z.infer<typeof LaserCut>;

export const LaserScore = z.strictObject({
  ...laserCommon,
  kind: z.literal('laser-score'),
  feed: laserCommon.feed.default(2000),
  power: laserCommon.power.default(20),
  passes: z.int().min(1).max(20).default(1),
});
export type LaserScore = z.infer<typeof LaserScore>;

type Point = [number, number];

/** A closed line as x y from its start back to it, and where along it each point lies. */
function wayRound(xy: ArrayLike<number>): { points: Point[]; at: number[]; length: number } {
  const points: Point[] = [];
  for (let i = 0; i < xy.length; i += 2) points.push([xy[i], xy[i + 1]]);
  points.push(points[0]);
  const at = [0];
  for (let i = 1; i < points.length; i++) at.push(at[i - 1] + Math.hypot(points[i][0] - points[i - 1][0], points[i][1] - points[i - 1][1]));
  return { points, at, length: at.at(-1)! };
}

/** Burns along a way, dark within the gaps, from and to along it, mm. */
function burnAlong(writer: BeamWriter, points: readonly Point[], at: readonly number[], power: number, gaps: readonly [number, number][]): void {
  for (let i = 1; i < points.length; i++) {
    const [from, to] = [at[i - 1], at[i]];
    const stops = gaps
      .flat()
      .filter((s) => s > from && s < to)
      .concat(to);
    for (const s of stops) {
      const f = to > from ? (s - from) / (to - from) : 1;
      const middle = s - 1e-6;
      const dark = gaps.some(([a, b]) => middle > a && middle < b);
      writer.burnTo(points[i - 1][0] + f * (points[i][0] - points[i - 1][0]), points[i - 1][1] + f * (points[i][1] - points[i - 1][1]), dark ? 0 : power);
    }
  }
}

export interface LaserContour {
  side: 'outside' | 'inside' | 'on';
  length: number;
}

/** Outlines cut through, what lies inside first; waste is on the left of travel. */
export function planLaserCut(regions: readonly Region[], cut: LaserCut, feed: number): { path: Toolpath; contours: LaserContour[]; unreachable: number } {
  const { contours, unreachable } = contoursFor(regions, { side: cut.side, corners: 'plain' }, cut.kerf / 2);
  const order = cuttingOrder(
    contours.map(({ ring }) => ({ at: [ring.xy[0], ring.xy[1]], ring })),
    false,
  );
  const writer = new BeamWriter(feed);
  writer.focus(cut.focus);
  const power = cut.power / 100;
  const done: LaserContour[] = [];
  if (order.length > 0) writer.ready('constant', cut.air);
  for (const [n, k] of order.entries()) {
    const { ring, side } = contours[k];
    const { points, at, length } = wayRound(ring.xy);
    done.push({ side, length });
    // The beam need not be off and on again between passes of one outline: it is dark on the way to its start.
    for (let pass = 1; pass <= cut.passes; pass++) {
      const label = `outline ${n + 1} of ${order.length}, ${side}${cut.passes > 1 ? `, pass ${pass} of ${cut.passes}` : ''}`;
      writer.begin(cut.id, label, cut.passes > 1 ? pass : undefined);
      const lead = pass === 1 && side !== 'on' ? leadOf(points, cut.leadIn) : null;
      writer.goTo(...(lead ?? points[0]));
      if (cut.focusStep > 0) writer.focus(cut.focus + (pass - 1) * cut.focusStep);
      if (lead) writer.burnTo(...points[0], power);
      const gaps = Array.from({ length: cut.tabs }, (_, t): [number, number] => {
        const middle = ((t + 0.5) / cut.tabs) * length;
        return [Math.max(0, middle - cut.tabWidth / 2), Math.min(length, middle + cut.tabWidth / 2)];
      });
      burnAlong(writer, points, at, power, gaps);
      if (cut.overcut > 0 && pass === cut.passes) pastStart(writer, points, at, Math.min(cut.overcut, length / 2), power);
    }
    if (cut.focusStep > 0) writer.focus(cut.focus);
  }
  return { path: writer.finish(cut.air), contours: done, unreachable };
}

/** Where a straight way in from the waste on the left begins; null without one. */
function leadOf(points: readonly Point[], leadIn: number): Point | null {
  if (leadIn <= 0) return null;
  const [[ax, ay], [bx, by]] = points;
  const length = Math.hypot(bx - ax, by - ay);
  if (length === 0) return null;
  // Slanting in, so that it meets the line on its way.
  const [ux, uy] = [(bx - ax) / length, (by - ay) / length];
  const slant = Math.SQRT1_2 * leadIn;
  return [ax - slant * ux - slant * uy, ay - slant * uy + slant * ux];
}

/** On along the way round, so far past its start. */
function pastStart(writer: BeamWriter, points: readonly Point[], at: readonly number[], overcut: number, power: number): void {
  for (let i = 1; i < points.length; i++) {
    const f = at[i] <= overcut ? 1 : (overcut - at[i - 1]) / (at[i] - at[i - 1]);
    writer.burnTo(points[i - 1][0] + f * (points[i][0] - points[i - 1][0]), points[i - 1][1] + f * (points[i][1] - points[i - 1][1]), power);
    if (at[i] >= overcut) return;
  }
}

/** Lines and outlines drawn with the beam. */
export function planScore(regions: readonly Region[], lines: readonly DrawnLine[], cut: LaserScore, feed: number): { path: Toolpath; ways: number } {
  const closed = (xy: ArrayLike<number>) => [...Array.from(xy), xy[0], xy[1]];
  const ways = [
    ...regions.flatMap((region) => contoursOf(region).map(({ xy }) => closed(xy))),
    ...lines.map((one) => (one.closed ? closed(one.line.xy) : [...one.line.xy])),
  ];
  const runs = ways.map((xy) => ({ startX: xy[0], startY: xy[1], endX: xy.at(-2)!, endY: xy.at(-1)!, reversible: true }));
  const writer = new BeamWriter(feed);
  writer.focus(cut.focus);
  if (ways.length > 0) writer.ready('dynamic', cut.air);
  for (const [n, { run, reversed }] of orderRuns(runs).entries()) {
    const points: Point[] = [];
    for (let i = 0; i < ways[run].length; i += 2) points.push([ways[run][i], ways[run][i + 1]]);
    if (reversed) points.reverse();
    for (let pass = 1; pass <= cut.passes; pass++) {
      writer.begin(cut.id, `line ${n + 1} of ${ways.length}`, cut.passes > 1 ? pass : undefined);
      writer.goTo(...points[0]);
      for (const [x, y] of points.slice(1)) writer.burnTo(x, y, cut.power / 100);
    }
  }
  return { path: writer.finish(cut.air), ways: ways.length };
}
