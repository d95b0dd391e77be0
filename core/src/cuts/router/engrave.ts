/** Engrave: the middle of the bit follows lines and outlines at a depth, in passes; the groove is as the bit makes it. */
import type { DrawnLine } from '../../artwork/index.ts';
import { contoursOf, type Region } from '../../geometry/index.ts';
import type { EngraveCut } from '../../job/index.ts';
import { orderRuns, PathWriter, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';

export interface EngravePlan {
  path: Toolpath;
  lifts: number;
}

interface Groove extends Run {
  xy: Float64Array;
  closed: boolean;
}

/** @param regions shapes whose outlines are followed; @param lines line work: single-line words, open and closed lines */
export function planEngrave(regions: readonly Region[], lines: readonly DrawnLine[], cut: EngraveCut, travel: Travel): EngravePlan {
  const grooves: Groove[] = [
    ...regions.flatMap((region) => contoursOf(region).map(({ xy }) => grooveOf(xy, true))),
    ...lines.map(({ line, closed }) => grooveOf(line.xy, closed)),
  ];
  const writer = new PathWriter(travel);
  const reach = cut.depth - cut.startDepth;
  const passes = Math.max(1, Math.ceil(reach / cut.depthPerPass - 1e-9));
  for (const { run, reversed } of orderRuns(grooves)) {
    const { xy, closed } = grooves[run];
    const points = closed ? [...xy, xy[0], xy[1]] : [...xy];
    for (let pass = 1; pass <= passes; pass++) {
      const z = -(cut.startDepth + (reach * pass) / passes);
      // An open line is followed back and forth, so that no pass begins with a lift.
      const backwards = closed ? false : reversed !== (pass % 2 === 0);
      writer.begin(cut.id, passes > 1 ? `engrave, pass ${pass} of ${passes}` : 'engrave');
      for (let k = 0; k < points.length; k += 2) {
        const i = backwards ? points.length - 2 - k : k;
        if (pass === 1 && k === 0) writer.approach(points[i], points[i + 1], z);
        else writer.cutTo(points[i], points[i + 1], z);
      }
    }
    writer.lift();
  }
  return { path: writer.finish(), lifts: grooves.length };
}

function grooveOf(xy: Float64Array, closed: boolean): Groove {
  const end = closed ? 0 : xy.length - 2;
  return { xy, closed, reversible: !closed, startX: xy[0], startY: xy[1], endX: xy[end], endY: xy[end + 1] };
}
