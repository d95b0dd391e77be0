/** Removal on a height map, and what can be read off it. */
export { HeightMap } from './heightmap.ts';
export { carve, carvePlan, shapeOf, type BitShape } from './carve.ts';
export { boardStl } from './stl.ts';
export { thumbnail } from './thumbnail.ts';
