/**
 * A sheet larger than the field, burned in tiles: strips between seams, one program each. Before every tile but the first
 * the sheet is pushed on, so that the tile lies where the one before it lay.
 */
import { z } from 'zod';
import { positive } from '../fields/index.ts';

export const Tiles = z.strictObject({
  /** Across the seams: the way the sheet is pushed. */
  axis: z.enum(['x', 'y']),
  /** From the left (`x`) or front (`y`) edge of the sheet, ascending, mm. */
  seams: z.array(positive).min(1).max(20),
  /** How a tile finds the one before it: the sheet is pushed along a stop by so much, or lies by two marks burned on the seam. */
  by: z.enum(['stop', 'marks']).default('stop'),
  /** Tiles that are not burned this time, from 0. */
  leftOut: z.array(z.int().min(0).max(20)).default([]),
});
export type Tiles = z.infer<typeof Tiles>;

export interface Tile {
  axis: 'x' | 'y';
  /** From 0, of how many. */
  index: number;
  count: number;
  /** From where to where on the sheet, mm. */
  from: number;
  to: number;
  /** How far the sheet is pushed since the tile before it that is burned, mm. */
  push: number;
  by: Tiles['by'];
}

/** All tiles of a sheet, those that are left out too; none when it is burned in one. Seams beyond a sheet that was made smaller are none. */
export function tilesOf({ tiles, board }: { tiles?: Tiles; board: { width: number; height: number } }): (Tile & { leftOut: boolean })[] {
  if (!tiles) return [];
  const size = tiles.axis === 'x' ? board.width : board.height;
  const seams = tiles.seams.filter((seam) => seam < size);
  if (seams.length === 0) return [];
  const edges = [0, ...seams, size];
  let last = 0;
  return edges.slice(1).map((to, index) => {
    const leftOut = tiles.leftOut.includes(index);
    const from = edges[index];
    const push = from - last;
    if (!leftOut) last = from;
    return { axis: tiles.axis, index, count: edges.length - 1, from, to, push, by: tiles.by, leftOut };
  });
}

/** How far from the edges of the sheet the marks on a seam are, and how long their strokes, mm. */
const MARK = { in: 6, arm: 2 };

/** The two marks on the seam a tile begins with, on the sheet: what it is laid by. None for the first. */
export function marksOf({ axis, index, from, by }: Tile, board: { width: number; height: number }): [number, number][] {
  if (index === 0 || by !== 'marks') return [];
  const along = axis === 'x' ? board.height : board.width;
  return [MARK.in, along - MARK.in].map((at): [number, number] => (axis === 'x' ? [from, at] : [at, from]));
}

/** Strokes of a mark: a cross. */
export const strokesOf = ([x, y]: readonly [number, number]): [[number, number], [number, number]][] => [
  [[x - MARK.arm, y], [x + MARK.arm, y]],
  [[x, y - MARK.arm], [x, y + MARK.arm]],
]; // prettier-ignore

/** What is done before a tile is burned, with lengths as they are shown. @param len a length in words */
export function tileMove({ axis, index, push, by }: Tile, len: (mm: number) => string): string {
  const way = axis === 'x' ? 'to the left' : 'to the front';
  if (index === 0) return 'Lay the sheet with its front left corner at zero';
  if (by === 'stop') return `Push the sheet along its stops, ${len(push)} ${way} of where it lay`;
  return `Push the sheet about ${len(push)} ${way}, and set X and Y by the two marks on the seam`;
}
