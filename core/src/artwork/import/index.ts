/** Files to drawn things. */
export { readSvgShapes, type SvgShapes } from './svg.ts';
