/** Artwork from files: every importer gives the same things in millimetres with Y up, and says what it left out. */
export { readSvg, type SvgOptions } from './svg.ts';
export * from './imported.ts';
export { chain, nest, readDxf, type DxfOptions } from './dxf.ts';
export { greyOf, MAX_PIXELS, tracePicture, type Raster } from './picture.ts';
export { TRACE, traceFor, type TraceSettings } from './trace.ts';
export { pictureFacts, sniff, type FileKind, type PictureFacts } from './sniff.ts';
export { MAX_BYTES, readDrawing } from './read.ts';
export { guessUnit, UNITS } from './units.ts';
