/** What a round bit leaves of an area: corners and narrow places, for a smaller bit to take. */
import { offset, perimeter, regionArea, subtract, type Region } from '../../geometry/index.ts';

/** Leavings smaller than this are dust, mm². */
export const DUST = 1e-3;

/** A last pass takes off the wall what was left on it; where more stands than this many times that, it goes down in steps. */
export const WALL = 1.5;

export const areaOf = (regions: readonly Region[]): number => regions.reduce((sum, region) => sum + regionArea(region), 0);

/** What a bit of a radius can reach inside regions, itself staying inside. */
export const reachOf = (radius: number, regions: readonly Region[]): Region[] => offset(offset(regions, -radius), radius);

/** What it cannot reach, without the hairs that rounding leaves along the walls. */
export const leftBy = (radius: number, regions: readonly Region[]): Region[] =>
  subtract(regions, reachOf(radius, regions)).filter((part) => {
    const area = areaOf([part]);
    return area > DUST && (2 * area) / perimeter(part.outer.xy) > 0.01;
  });
