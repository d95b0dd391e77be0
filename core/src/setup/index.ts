/** Set-up: zero, probing, the thickness map, the bed, and the order in which it is all done. */
export * from './bed.ts';
export * from './plausible.ts';
export * from './probing.ts';
export * from './steps.ts';
export * from '../board/thickness.ts';
