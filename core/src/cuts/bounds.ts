/**
 * How much work a cut would be, worked out before it is made: a depth per pass of a millionth would
 * plan for days and fill the memory. The figures are rough, within a few times of what is made; the
 * bounds lie far beyond any sign.
 */
import { contoursOf, perimeter, regionArea, type DrawnLine, type Region } from '../geometry/index.ts';

export const MOST = {
  /** Points of everything drawn. */
  points: 5_000_000,
  /** Passes one below the other, or pecks of a hole. */
  passes: 2_000,
  /** Moves of one cut, and of all cuts of a job: a picture of 4,000 by 4,000 dots. A move is 41 bytes in memory and 11 to 30 in a program. */
  moves: 12_000_000,
  /** Hours under power of one cut: two weeks. */
  hours: 336,
};

export interface Work {
  passes: number;
  moves: number;
  hours: number;
}

interface Way {
  length: number;
  points: number;
}

/** What a cut works on, measured. Lengths are mm, areas mm². */
export interface WorkShape {
  length: number;
  points: number;
  /** Once along everything drawn. */
  outlines: Way;
  /** Cleared at a distance: as rings, each of as many points as the outlines have. */
  cleared(step: number): Way;
  /** So many passes along a way. */
  passes(count: number, way: Way): Work;
}

/** @param feed mm/min */
export function workShape(regions: readonly Region[], lines: readonly DrawnLine[], feed: number): WorkShape {
  const contours = [...regions.flatMap(contoursOf), ...lines.map(({ line }) => line)];
  const length = contours.reduce((sum, { xy }) => sum + perimeter(xy), 0);
  const area = regions.reduce((sum, region) => sum + Math.abs(regionArea(region)), 0);
  const points = contours.reduce((sum, { xy }) => sum + xy.length / 2, 0);
  return {
    length,
    points,
    outlines: { length, points },
    cleared: (step) => {
      const rings = length > 0 ? area / length / step : 0;
      return { length: length + area / step, points: points * (1 + rings) + rings };
    },
    passes: (passes, way) => ({ passes, moves: passes * way.points, hours: (passes * way.length) / feed / 60 }),
  };
}

/** Passes of at most so much down to a depth; one when nothing bounds them. */
export const passesTo = (depth: number, most: number | undefined): number => (most === undefined ? 1 : Math.max(1, Math.ceil(depth / most)));

/** What of a cut is beyond all bounds, in words; null when it can be planned. */
export function beyondBounds({ passes, moves, hours }: Work): string | null {
  const many = (count: number) => (count < 1e15 ? Math.round(count).toLocaleString('en-GB') : 'more than can be counted');
  if (passes > MOST.passes) return `${many(passes)} passes, one below the other (at most ${many(MOST.passes)})`;
  if (moves > MOST.moves) return `about ${many(moves)} moves (at most ${many(MOST.moves)})`;
  if (hours > MOST.hours) return `about ${many(hours)} hours under power (at most ${many(MOST.hours)})`;
  return null;
}
