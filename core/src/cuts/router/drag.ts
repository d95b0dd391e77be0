/**
 * Drag-engrave: a diamond is drawn over the surface with the spindle off and scratches lines of a
 * known width. What is programmed is how far a spring is loaded, or the little that the point sticks
 * out of a nose cone - not a depth. The diamond is round: it does not swivel, so corners stay as drawn;
 * where lines turn or meet, marks lie over each other, and how much is told.
 */
import type { DrawnLine } from '../../artwork/index.ts';
import { contoursOf, coveredArea, offset, type Region } from '../../geometry/index.ts';
import type { Bit, DragCut } from '../../job/index.ts';
import { orderRuns, PathWriter, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { zigzags } from './parallels.ts';

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

/** @param regions shapes; @param lines line work, which is followed as it is */
export function planDrag(regions: readonly Region[], lines: readonly DrawnLine[], cut: DragCut, bit: Bit, travel: Travel): DragPlan {
  const width = bit.kind === 'drag' ? bit.lineWidth : bit.diameter;
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
      writer.begin(cut.id, passes > 1 ? `drag, pass ${pass} of ${passes}` : 'drag');
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
