/**
 * Drag-engrave: a diamond is drawn over the surface with the spindle off and scratches lines of a
 * known width. What is programmed is how far a spring is loaded, or the little that the point sticks
 * out of a nose cone - not a depth. The diamond is round: it does not swivel, so corners stay as drawn;
 * where lines turn or meet, marks lie over each other, and how much is told.
 */
import { z } from 'zod';
import { contoursOf, coveredArea, offset, type DrawnLine, type Region } from '../../geometry/index.ts';
import type { Bit } from '../../bits/schema.ts';
import { orderRuns, PathWriter, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { zigzags } from './parallels.ts';
import { positive } from '../../fields/index.ts';
import { common, degrees } from '../fields.ts';

/** A diamond drawn over the surface, spindle off: it scratches lines of a known width. */
export const DragCut = z.strictObject({
  ...common,
  kind: z.literal('drag'),
  /** Off, always. */
  speed: z.literal(0).default(0),
  /** How the point is pressed: by a spring loaded this far below touch, or by a nose cone it sticks out of by so much. */
  hold: z
    .discriminatedUnion('by', [
      z.strictObject({ by: z.literal('spring'), preload: positive.max(20).default(2.5) }),
      z.strictObject({ by: z.literal('cone'), protrusion: positive.max(2).default(0.25), passes: z.int().min(1).max(20).default(2) }),
    ])
    .default({ by: 'spring', preload: 2.5 }),
  outline: z.boolean().default(true),
  fill: z.enum(['none', 'hatch', 'cross', 'rings']).default('none'),
  /** Of the hatch. (Common practice: 45°.) */
  angle: degrees.default(45),
  /** Between lines of a fill; left out, the width of the line (common practice: 1 to 1.25 of it). */
  spacing: positive.optional(),
});
export type DragCut = z.infer<typeof DragCut>;

export interface DragPlan {
  path: Toolpath;
  lifts: number;
  /** Area marked, mm², and how much of it is gone over more than once. */
  marked: number;
  overlap: number;
}

/** One line of the mark, and whether its end joins its start. */
interface Mark extends Run {
  xy: number[];
}

/** Width of the line a diamond scratches, mm. */
export const markWidth = (bit: Bit): number => (bit.kind === 'drag' ? bit.lineWidth : bit.diameter);

/** @param regions shapes; @param lines line work, which is followed as it is */
export function planDrag(regions: readonly Region[], lines: readonly DrawnLine[], cut: DragCut, bit: Bit, travel: Travel): DragPlan {
  const width = markWidth(bit);
  const spacing = cut.spacing ?? width;
  // The mark's edge, not its middle, lies on the drawn line.
  const inside = offset(regions, -width / 2);
  const marks: Mark[] = lines.map(({ line, closed }) => markOf(closed ? [...line.xy, line.xy[0], line.xy[1]] : [...line.xy], !closed));
  const ring = (area: readonly Region[]) => marks.push(...area.flatMap(contoursOf).map(({ xy }) => markOf([...xy, xy[0], xy[1]], false)));
  if (cut.outline) ring(inside);
  if (cut.fill === 'rings')
    for (let k = cut.outline ? 1 : 0, area = offset(inside, -k * spacing); area.length > 0 && k < 5000; area = offset(inside, -++k * spacing)) ring(area);
  if (cut.fill === 'hatch' || cut.fill === 'cross') {
    const within = cut.outline ? offset(inside, -Math.min(spacing, width) / 2) : inside;
    for (const angle of cut.fill === 'cross' ? [cut.angle, cut.angle + 90] : [cut.angle])
      marks.push(...zigzags(within, spacing, angle).map((xy) => markOf(xy, true)));
  }
  const writer = new PathWriter(travel);
  const passes = cut.hold.by === 'cone' ? cut.hold.passes : 1;
  const z = cut.hold.by === 'spring' ? -cut.hold.preload : -cut.hold.protrusion;
  for (const { run, reversed } of orderRuns(marks)) {
    const { xy } = marks[run];
    for (let pass = 1; pass <= passes; pass++) {
      writer.begin(cut.id, passes > 1 ? `drag, pass ${pass} of ${passes}` : 'drag', pass);
      const backwards = marks[run].reversible && reversed !== (pass % 2 === 0);
      for (let k = 0; k < xy.length; k += 2) {
        const i = backwards ? xy.length - 2 - k : k;
        if (pass === 1 && k === 0) writer.approach(xy[i], xy[i + 1], z);
        else writer.cutTo(xy[i], xy[i + 1], z);
      }
    }
    writer.lift();
  }
  const marked = coveredArea(
    marks.map(({ xy }) => xy),
    width,
  );
  const length = marks.reduce((sum, { xy }) => sum + lengthOf(xy), 0);
  return { path: writer.finish(), lifts: marks.length, marked, overlap: Math.max(0, length * width - marked) };
}

function markOf(xy: number[], reversible: boolean): Mark {
  return { xy, reversible, startX: xy[0], startY: xy[1], endX: xy[xy.length - 2], endY: xy[xy.length - 1] };
}

const lengthOf = (xy: readonly number[]): number => {
  let sum = 0;
  for (let i = 2; i < xy.length; i += 2) sum += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
  return sum;
};
