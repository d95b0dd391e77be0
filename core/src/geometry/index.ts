/**
 * Points, contours, regions with holes; union and offset through a clipping library; the exact
 * medial axis. Outer contours run counter-clockwise, holes clockwise; numbers in flat arrays.
 */
export * from './contour.ts';
export { congruent, type Congruent } from './congruent.ts';
export { ClosedLine } from './along.ts';
export { hullOf } from './hull.ts';
export { coveredArea } from './coverage.ts';
export { linksWithin, walksOver, type NearLink, type OnContour } from './near.ts';
export * from './clip.ts';
export * from './shapes.ts';
export { keptFor } from './kept.ts';
export { leftWithout } from './left.ts';
export { Pen } from './pen.ts';
export { penOutline } from './stroke.ts';
export { carvedAxis, medialAxis, traceRegion, type AxisOptions, type MedialAxis, type RawAxis } from './medial/index.ts';
export { arcByMiddle, type ArcByMiddle } from './arc.ts';
