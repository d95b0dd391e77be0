import type { BitShape } from '../bits/index.ts';
import type { Contour, DrawnLine, Region } from '../geometry/index.ts';

/** What a cut is asked to take away, as data: places and depths below the top of the board, mm. Proof compares the carved board with it. */
export type Removal =
  /** So deep it may go there, or must. */
  | { kind: 'may' | 'must'; regions: readonly Region[]; depth: number }
  /** Walls as the bit leaves them, down to a floor. `widest`: half of the widest stroke, when known. */
  | { kind: 'walls'; regions: readonly Region[]; shape: BitShape; start: number; floor: number; widest?: number }
  /** Round a plug the walls meet their line at the start depth, and lean on over what stays up to the surface. */
  | { kind: 'lean'; stays: readonly Region[]; shape: BitShape; start: number }
  /** Grooves as deep as asked along their middle. */
  | { kind: 'along'; lines: readonly DrawnLine[]; outlines: readonly Contour[]; shape: BitShape; depth: number };
