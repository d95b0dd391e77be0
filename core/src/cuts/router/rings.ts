/** Passes that cover an area in rings, linked to chains so that the bit need not come out between them. */
import { begunAt, begunOnStraight, contoursOf, nearestOn, offset, perimeter, simplified, type Contour, type Region } from '../../geometry/index.ts';
import type { Run } from '../../toolpath/index.ts';

/** How far a ring may leave its place when points are dropped from it, mm. */
const SLACK = 0.002;

/** A run of passes linked at depth: points x y, one after the other, and where the bit first goes round. */
export interface Chain extends Run {
  xy: number[];
  /** Closed passes in it, from and to which number; none when the run is open. The bit can ramp down along the first. */
  laps: [number, number][];
  /** Width of a circle through the first point that finds room, for a helix, mm; and where its middle lies from there, a unit vector. */
  room: number;
  towards: [number, number];
  /** A place off the board from which the bit comes in at depth. */
  from?: [number, number];
}

/** A closed pass as a chain that ends where it began. */
export function loop(xy: Float64Array): Chain {
  const points = [...xy, xy[0], xy[1]];
  return chainOf(points, [[0, points.length]]);
}

export function chainOf(xy: number[], laps: [number, number][]): Chain {
  return { xy, laps, room: 0, towards: [-1, 0], startX: xy[0], startY: xy[1], endX: xy[xy.length - 2], endY: xy[xy.length - 1], reversible: false };
}

/** An area shrunk by a step again and again, itself first, until nothing is left. */
export function shrunk(free: readonly Region[], step: number): (readonly Region[])[] {
  const areas: (readonly Region[])[] = [];
  // Each from the one before: shrinking in steps is shrinking at once, and every step is a small one. Points that
  // say nothing are dropped on the way; what that adds up to is far from the wall, and small against a step.
  for (let area = free; area.length > 0 && areas.length < 20_000; area = simplified(offset(area, -step), Math.min(SLACK, step / 100))) areas.push(area);
  return areas;
}

/** Rings from the inside out: each innermost ring begins a chain that goes on to the ring around it, and so on to the wall. @param areas shrunk by a step */
export function rings(areas: readonly (readonly Region[])[], step: number): Chain[] {
  const levels: Contour[][] = areas.map((area) => area.flatMap(contoursOf));
  const chains: (Chain & { level: number })[] = [];
  for (let level = levels.length - 1; level >= 0; level--) {
    const taken = new Set<Chain>();
    for (const { xy } of levels[level]) {
      if (perimeter(xy) < 1e-3) continue;
      // A chain that ended one ring further in, and lies against this one.
      let best: { chain: Chain & { level: number }; at: number } | null = null;
      for (const chain of chains) {
        if (chain.level !== level + 1 || taken.has(chain)) continue;
        const near = nearestOn(xy, chain.endX, chain.endY);
        if (near.distance <= 1.02 * step + 0.01) {
          best = { chain, at: near.at };
          break;
        }
      }
      const room = level * step;
      if (!best) {
        chains.push({ ...loop(begunOnStraight(xy)), room, level });
        continue;
      }
      const { chain } = best;
      taken.add(chain);
      const from = chain.xy.length;
      for (const value of around(xy, best.at)) chain.xy.push(value);
      chain.laps.push([from, chain.xy.length]);
      chain.endX = chain.xy[chain.xy.length - 2];
      chain.endY = chain.xy[chain.xy.length - 1];
      chain.level = level;
    }
  }
  return chains;
}

/** A closed line from a place on it all the way round. */
function around(xy: Float64Array, at: number): number[] {
  const points = [...begunAt(xy, at)];
  return [...points, points[0], points[1]];
}
