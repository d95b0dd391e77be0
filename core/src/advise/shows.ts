/** Will it show: the finest strokes of a carve against the board's unevenness and the bit's tip. */
import { kindOf } from '../cuts/index.ts';
import { depthForStroke, isPointed } from '../bits/index.ts';
import type { Job } from '../job/index.ts';
import type { PlannedCut } from '../plan/index.ts';

export interface Showing {
  cut: string;
  /** Width of the finest stroke, mm, how deep it is carved, and where it is. */
  width?: number;
  depth: number;
  at?: [number, number];
  /** Highest less lowest reading of the board, mm; zero when it was not measured. */
  spread: number;
  /** Flat or round end of the bit, mm across. */
  tip: number;
  verdict: 'shows' | 'faint' | 'not';
}

/** Less of the depth than this is lost to the board before a stroke looks faint. (Common practice: 0.05 under 0.2 is fine, 0.2 under 0.2 is not.) */
const FINE = 0.25;

export function willItShow(job: Pick<Job, 'board'>, cuts: readonly PlannedCut[]): Showing[] {
  const { measured } = job.board;
  const spread = measured ? Math.max(...measured) - Math.min(...measured) : 0;
  return cuts.flatMap((planned): Showing[] => {
    const { cut, bit, facts, finest } = planned;
    if (facts.moves === 0 || !kindOf(cut).fadesOnUneven) return [];
    const tip = isPointed(bit) ? Math.max(bit.tipFlat, 2 * bit.tipRadius) : bit.diameter;
    const width = finest?.width;
    const depth = width !== undefined && isPointed(bit) ? Math.min(depthForStroke(bit, width), facts.deepest) : facts.deepest;
    const lost = depth > 0 ? spread / depth : Infinity;
    const verdict =
      lost >= 1 - 1e-6 || (width !== undefined && width <= tip) ? 'not' : lost > FINE + 1e-6 || (width !== undefined && width < 2 * tip) ? 'faint' : 'shows';
    return [{ cut: cut.id, width, depth, at: finest?.at, spread, tip, verdict }];
  });
}
