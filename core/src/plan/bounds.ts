/**
 * How much work a cut would be, worked out before it is made: a depth per pass of a millionth would
 * plan for days and fill the memory. The figures are rough, within a few times of what is made; the
 * bounds lie far beyond any sign.
 */
import { cuttingWidth, fillStep, stepOver } from '../bits/index.ts';
import { profileDepth } from '../cuts/router/profile.ts';
import { contoursOf, perimeter, regionArea, type Line, type Region } from '../geometry/index.ts';
import { boardThickness, type Bit, type Cut, type Item, type Job } from '../job/index.ts';

export const MOST = {
  /** Points of everything drawn. */
  points: 5_000_000,
  /** Passes one below the other, or pecks of a hole. */
  passes: 2_000,
  /** Moves of one cut, and of all cuts of a job. A move is 40 bytes in memory and some 30 in a program. */
  moves: 4_000_000,
  /** Hours under power of one cut: two weeks. */
  hours: 336,
};

export interface Work {
  passes: number;
  moves: number;
  hours: number;
}

/** Points a pattern of holes will have; everything else that is drawn has no more points than what it is written as. */
export function pointsAhead(item: Item, tolerance: number): number {
  if (item.kind !== 'holes') return 0;
  const { layout } = item;
  const count = layout.kind === 'rows' ? layout.rows * layout.columns : layout.kind === 'circle' ? layout.count : 4;
  // Chords of a circle that stay within the tolerance.
  return count * Math.PI * Math.sqrt(item.diameter / 2 / (2 * tolerance));
}

/** What a cut works on, measured. Lengths are mm. */
interface Measured {
  length: number;
  area: number;
  points: number;
}

function measured(regions: readonly Region[], lines: readonly Line[]): Measured {
  const contours = [...regions.flatMap(contoursOf), ...lines];
  return {
    length: contours.reduce((sum, { xy }) => sum + perimeter(xy), 0),
    area: regions.reduce((sum, region) => sum + Math.abs(regionArea(region)), 0),
    points: contours.reduce((sum, { xy }) => sum + xy.length / 2, 0),
  };
}

const passesTo = (depth: number, most: number | undefined): number => (most === undefined ? 1 : Math.max(1, Math.ceil(depth / most)));

/** How much a cut would be: passes below each other, moves, and hours at its feed. */
export function workOf(job: Job, cut: Cut, bit: Bit, regions: readonly Region[], lines: readonly { line: Line }[]): Work {
  const shape = measured(
    regions,
    lines.map(({ line }) => line),
  );
  const work = (passes: number, { length, points }: { length: number; points: number }): Work => ({
    passes,
    moves: passes * points,
    hours: (passes * length) / cut.feed / 60,
  });
  const outlines = { length: shape.length, points: shape.points };
  /** Cleared at a distance: as rings, each of as many points as the outlines have. */
  const cleared = (step: number) => {
    const rings = shape.length > 0 ? shape.area / shape.length / step : 0;
    return { length: shape.length + shape.area / step, points: shape.points * (1 + rings) + rings };
  };
  const thickness = boardThickness(job.board);
  switch (cut.kind) {
    case 'vcarve': {
      const most = 'angle' in bit ? bit.diameter / 2 / Math.tan((bit.angle * Math.PI) / 360) : thickness;
      const passes = passesTo(Math.min(cut.floorDepth ?? Infinity, most), cut.depthPerPass);
      if (cut.plug) {
        const { margin } = cut.plug;
        const rings = margin / cut.stepover;
        return work(passes, { length: shape.length * (1 + rings), points: shape.points * (1 + rings) + rings });
      }
      return work(passes, cut.floorDepth === undefined ? outlines : cleared(cut.stepover));
    }
    case 'profile': {
      const tabs = cut.tabEvery ? shape.length / cut.tabEvery : 0;
      const { length, points } = outlines;
      return work(passesTo(profileDepth(cut, job.board), cut.depthPerPass), { length, points: points + 4 * tabs });
    }
    case 'pocket':
    case 'recess': {
      const carve = cut.kind === 'pocket' && cut.floorOf !== undefined ? job.cuts[cut.floorOf] : undefined;
      const depth = carve?.kind === 'vcarve' ? (carve.floorDepth ?? thickness) : cut.depth;
      return work(passesTo(depth, cut.depthPerPass), cleared(stepOver(bit, cut.stepover)));
    }
    case 'plug':
      return work(passesTo(thickness, cut.depthPerPass), outlines);
    case 'engrave':
      return work(passesTo(cut.depth, cut.depthPerPass), cut.way === 'fill' ? cleared(fillStep(bit, cut.depth, cut.stepover)) : outlines);
    case 'drag': {
      const width = bit.kind === 'drag' ? bit.lineWidth : cuttingWidth(bit);
      const passes = cut.hold.by === 'cone' ? cut.hold.passes : 1;
      const ways = cut.fill === 'none' ? 0 : cut.fill === 'cross' ? 2 : 1;
      const fill = cleared(cut.spacing ?? width);
      return work(passes, ways === 0 ? outlines : { length: ways * fill.length, points: ways * fill.points });
    }
    case 'drill': {
      const depth = cut.depth ?? thickness + cut.throughAllowance;
      const holes = regions.length + cut.points.length;
      const pecks = passesTo(depth, cut.peck);
      // Out of the hole and back at each peck; a hole wider than the bit is cut as a helix.
      return { passes: pecks, moves: 3 * pecks * holes + shape.points * pecks, hours: (holes * depth * pecks) / cut.plunge / 60 };
    }
    case 'surface': {
      const { width, height } = job.board;
      const lanes = Math.min(width, height) / stepOver(bit, cut.stepover ?? 0.7 * cuttingWidth(bit));
      return work(cut.repeats, { length: lanes * Math.max(width, height), points: 2 * lanes });
    }
    case 'chamfer':
      return work(1, outlines);
  }
}

/** What of a cut is beyond all bounds, in words; null when it can be planned. */
export function beyondBounds({ passes, moves, hours }: Work): string | null {
  const many = (count: number) => (count < 1e15 ? Math.round(count).toLocaleString('en-GB') : 'more than can be counted');
  if (passes > MOST.passes) return `${many(passes)} passes, one below the other (at most ${many(MOST.passes)})`;
  if (moves > MOST.moves) return `about ${many(moves)} moves (at most ${many(MOST.moves)})`;
  if (hours > MOST.hours) return `about ${many(hours)} hours under power (at most ${many(MOST.hours)})`;
  return null;
}
