/** Removal on a height map, and what can be read off it: along time, by cut, against the drawing. */
export { asBurned, type AsBurned } from './as-burned.ts';
export { HeightMap } from './heightmap.ts';
export { asCut, type AsCut, type Shown } from './as-cut.ts';
export { blankMap } from './blank.ts';
export { carve, carvePlan, removalOf, workHeights, type Removal } from './carve.ts';
export { burnMap, goesThrough, spotOutOfFocus, type BurnMap } from './burn.ts';
export { burnFigures, burnImage, type BurnFigures } from './burn-look.ts';
export { eachRun } from './raster.ts';
export { LayeredBoard } from './layers.ts';
export { applyTiles, TILE, tilesOf } from './tiles.ts';
export { momentAt, speedOver, timelineOf, type Moment, type Stretch, type Timeline } from './timeline.ts';
export { Scrubber } from './scrub.ts';
export { differenceOf, type Amount, type Difference } from './difference.ts';
export { boardStl } from './stl.ts';
export { thumbnail, workPicture } from './thumbnail.ts';
export { heightBetween, measureAt, sectionAlong, type Measured } from './measure.ts';
export { kerfsAlong, LEANS, type KerfCrossing } from './kerf-section.ts';
