/**
 * Marks: a dimple in the middle of each hole that is drilled afterwards - the arc struck and put out before it is
 * through -, or lines drawn with the torch moving so fast that it only marks. Nothing comes free. (Common practice.)
 */
import { z } from 'zod';
import { notNegative, positive } from '../../fields/index.ts';
import { contoursOf, type DrawnLine, type Region } from '../../geometry/index.ts';
import { orderRuns, PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { common, feed } from '../fields.ts';
import { poleOf } from './leads.ts';

export const MarkCut = z.strictObject({
  ...common,
  kind: z.literal('mark'),
  speed: z.literal(0).default(0),
  /** So fast that the arc does not get through, mm/min. */
  feed: feed.default(10_000),
  how: z.enum(['dimple', 'line']).default('dimple'),
  /** How long the arc stands on a dimple, seconds. */
  seconds: z.number().min(0.01).max(5).default(0.1),
  /** Of the torch above the plate while it marks, mm. */
  height: positive.max(50).default(3),
  /** What the source is set to while it marks, A; 0: as for the cut. */
  amperes: notNegative.max(1_000).default(0),
  touch: z.enum(['each', 'never']).default('each'),
  floatTravel: notNegative.max(50).default(0),
});
export type MarkCut = z.infer<typeof MarkCut>;

/** Ways to mark, x y: of a dimple a single place. */
function waysOf(regions: readonly Region[], lines: readonly DrawnLine[], how: MarkCut['how']): number[][] {
  if (how === 'dimple') return regions.map(({ outer }) => poleOf(outer.xy).at);
  const closed = (xy: ArrayLike<number>) => [...Array.from(xy), xy[0], xy[1]];
  return [
    ...regions.flatMap((region) => contoursOf(region).map(({ xy }) => closed(xy))),
    ...lines.map((one) => (one.closed ? closed(one.line.xy) : [...one.line.xy])),
  ];
}

export function planMark(regions: readonly Region[], lines: readonly DrawnLine[], cut: MarkCut, travel: Travel): { path: Toolpath; marks: number } {
  const ways = waysOf(regions, lines, cut.how);
  const runs = ways.map((xy) => ({ startX: xy[0], startY: xy[1], endX: xy.at(-2)!, endY: xy.at(-1)!, reversible: false }));
  const writer = new PathWriter(travel);
  for (const [n, { run }] of orderRuns(runs).entries()) {
    const xy = ways[run];
    writer.begin(cut.id, cut.how === 'dimple' ? `dimple ${n + 1} of ${ways.length}` : `line ${n + 1} of ${ways.length}`);
    writer.over(xy[0], xy[1], cut.touch === 'each' ? travel.clearance : cut.height);
    if (cut.touch === 'each') {
      writer.touch(cut.floatTravel);
      writer.rapidTo(cut.height);
    }
    if (cut.how === 'dimple') writer.on(1, cut.seconds);
    else {
      writer.on(1);
      for (let i = 2; i < xy.length; i += 2) writer.cutTo(xy[i], xy[i + 1], cut.height);
    }
    writer.off();
    writer.lift();
  }
  return { path: writer.finish(), marks: ways.length };
}
