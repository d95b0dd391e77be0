/** Regions and points found by where they are, so that each question looks only at what is near. */
import RBush from 'rbush';
import { regionsBox, type Box, type Region } from '../geometry/index.ts';

/** Things found by where they are. */
export class Nearby<T> {
  private readonly tree = new RBush<Box & { thing: T }>();

  constructor(things: readonly T[], boxOf: (thing: T) => Box) {
    this.tree.load(things.map((thing) => ({ ...boxOf(thing), thing })));
  }

  /** Those whose boxes come within a distance of a place, along X and along Y. */
  within(x: number, y: number, distance: number): T[] {
    return this.tree.search({ minX: x - distance, minY: y - distance, maxX: x + distance, maxY: y + distance }).map(({ thing }) => thing);
  }
}
export const nearbyRegions = (regions: readonly Region[]): Nearby<Region> => new Nearby(regions, (region) => regionsBox([region]));
export const nearbyPoints = (points: readonly [number, number][]): Nearby<[number, number]> =>
  new Nearby(points, ([x, y]) => ({ minX: x, minY: y, maxX: x, maxY: y }));
