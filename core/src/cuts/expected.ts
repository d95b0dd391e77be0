/** What most cuts ask for, made of removals. */
import { offset, rectangle, strokeRegions, subtract, type Contour, type DrawnLine, type Region } from '../geometry/index.ts';
import type { CutContext } from './kind.ts';
import type { Removal } from './removal.ts';

/** The whole board. */
export const wholeBoard = ({ job: { board } }: CutContext): Region[] => [{ outer: rectangle(-1, -1, board.width + 2, board.height + 2), holes: [] }];

/** A flat floor: so deep and no deeper. */
export const flat = ({ job }: CutContext, regions: readonly Region[], depth: number, asked = true): Removal[] => [
  { kind: 'may', regions: offset(regions, job.tolerance), depth },
  ...(asked ? [{ kind: 'must' as const, regions: offset(regions, -job.tolerance), depth }] : []),
];

/** Lines, and outlines, as wide as a pen. */
export function penStrokes(lines: readonly DrawnLine[], width: number, outlines: readonly Contour[] = []): Region[] {
  return [
    ...strokeRegions([...outlines, ...lines.filter(({ closed }) => closed).map(({ line }) => line)], width, true),
    ...strokeRegions(
      lines.filter(({ closed }) => !closed).map(({ line }) => line),
      width,
      false,
    ),
  ];
}

/** Round a part: outside it anything may go; beside it half a bit's width must. */
export const roundPart = (context: CutContext, part: readonly Region[], half: number, depth: number, kept: number): Removal[] => [
  { kind: 'may', regions: subtract(wholeBoard(context), offset(part, -context.job.tolerance)), depth },
  { kind: 'must', regions: subtract(offset(part, half), offset(part, context.job.tolerance)), depth: kept },
];
