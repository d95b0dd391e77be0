/** What a machine shows that it cut, against what the proof said it would. */
import type { HeightMap } from './heightmap.ts';

/** Heights on a square grid, as a machine tells them. */
export type Shown = Pick<HeightMap, 'columns' | 'rows' | 'cell'> & { height: ArrayLike<number> };

export interface AsCut {
  /** Area cut deeper than the proof has it, and less deep, mm², each with its worst, mm, and where that is. */
  deeper: { area: number; worst: number; at: [number, number] };
  shallower: { area: number; worst: number; at: [number, number] };
  /** Area that was to be cut, mm². */
  asked: number;
}

/**
 * Compares cell by cell, a cell either way: an edge that falls between two grids is no difference.
 *
 * @param deepest below this, mm, all is through
 * @param slack heights this near each other are the same, mm
 */
export function asCut(proof: HeightMap, shown: Shown, deepest: number, slack: number): AsCut {
  const out: AsCut = { deeper: { area: 0, worst: 0, at: [0, 0] }, shallower: { area: 0, worst: 0, at: [0, 0] }, asked: 0 };
  const reach = shown.cell + proof.cell;
  const area = shown.cell * shown.cell;
  const note = (amount: AsCut['deeper'], size: number, at: [number, number]) => {
    amount.area += area;
    if (size > amount.worst) [amount.worst, amount.at] = [size, at];
  };
  const clip = (index: number, count: number) => Math.max(0, Math.min(count - 1, index));
  for (let j = 0; j < shown.rows; j++)
    for (let i = 0; i < shown.columns; i++) {
      const [x, y] = [(i + 0.5) * shown.cell, (j + 0.5) * shown.cell];
      const height = Math.max(shown.height[j * shown.columns + i], -deepest);
      let [low, high] = [Infinity, -Infinity];
      const [i0, i1] = [clip(Math.floor((x - reach) / proof.cell), proof.columns), clip(Math.floor((x + reach) / proof.cell), proof.columns)];
      const [j0, j1] = [clip(Math.floor((y - reach) / proof.cell), proof.rows), clip(Math.floor((y + reach) / proof.cell), proof.rows)];
      for (let q = j0; q <= j1; q++)
        for (let p = i0; p <= i1; p++) {
          const h = Math.max(proof.height[q * proof.columns + p], -deepest);
          if (h < low) low = h;
          if (h > high) high = h;
        }
      if (proof.at(x, y) < -slack) out.asked += area;
      if (height < low - slack) note(out.deeper, low - height, [x, y]);
      else if (height > high + slack) note(out.shallower, height - high, [x, y]);
    }
  return out;
}
