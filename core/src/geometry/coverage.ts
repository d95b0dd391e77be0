/** How much of a surface a round mark covers that is drawn along lines, places gone over again counted once. */

/** Rows across the width of the mark; the sum over them is good to a thousandth at worst, where the lines are short and steep, and far better otherwise. */
const ROWS = 64;
/** Fewer when the lines are long: so many crossings of a row with a mark are worked out at most. */
const CROSSINGS = 1_500_000;
/** Such rows lie anywhere within their share of the height, spread as evenly as can be, so that they never keep step with a hatch. (The golden ratio.) */
const SPREAD = (Math.sqrt(5) - 1) / 2;

/**
 * Area of the union of all places within half a width of the lines, mm²: exact along X, summed over
 * rows in Y.
 *
 * @param lines lists of x y
 */
export function coveredArea(lines: readonly ArrayLike<number>[], width: number): number {
  const r = width / 2;
  let [minY, maxY, climb] = [Infinity, -Infinity, 0];
  for (const xy of lines)
    for (let i = 1; i < xy.length; i += 2) {
      minY = Math.min(minY, xy[i]);
      maxY = Math.max(maxY, xy[i]);
      climb += width + (i > 1 ? Math.abs(xy[i] - xy[i - 2]) : 0);
    }
  if (!(maxY >= minY)) return 0;
  const bottom = minY - r;
  const row = Math.max(width / ROWS, climb / CROSSINGS, (maxY - minY + width) / CROSSINGS);
  const count = Math.ceil((maxY - minY + width) / row);
  const coarse = row > width / ROWS;
  const rowAt = (k: number) => bottom + (k + (coarse ? (k * SPREAD) % 1 : 0.5)) * row;
  // Counted first, then kept row by row in one flat list of from, to.
  const start = new Int32Array(count + 1);
  const each = (found: (row: number, left: number, right: number) => void) => {
    for (const xy of lines)
      for (let i = 0; i + 1 < xy.length; i += 2) {
        // The last point stands for itself: it matters where there is no other.
        const j = Math.min(i + 2, xy.length - 2);
        const [ax, ay, bx, by] = [xy[i], xy[i + 1], xy[j], xy[j + 1]];
        const length = Math.sqrt((bx - ax) * (bx - ax) + (by - ay) * (by - ay));
        const nx = length > 0 ? (-(by - ay) / length) * r : 0;
        const ny = length > 0 ? ((bx - ax) / length) * r : 0;
        const from = Math.max(0, Math.floor((Math.min(ay, by) - r - bottom) / row) - 1);
        const to = Math.min(count - 1, Math.ceil((Math.max(ay, by) + r - bottom) / row));
        for (let k = from; k <= to; k++) {
          const y = rowAt(k);
          let left = Infinity;
          let right = -Infinity;
          for (let end = 0; end < 2; end++) {
            const [cx, cy] = end === 0 ? [ax, ay] : [bx, by];
            const square = r * r - (y - cy) * (y - cy);
            if (square < 0) continue;
            const half = Math.sqrt(square);
            left = Math.min(left, cx - half);
            right = Math.max(right, cx + half);
          }
          for (let side = -1; side <= 1; side += 2) {
            const [ya, yb] = [ay + side * ny, by + side * ny];
            if (Math.abs(yb - ya) <= 1e-12 || y < Math.min(ya, yb) || y > Math.max(ya, yb)) continue;
            const x = ax + side * nx + ((y - ya) / (yb - ya)) * (bx - ax);
            left = Math.min(left, x);
            right = Math.max(right, x);
          }
          if (left < right) found(k, left, right);
        }
      }
  };
  each((k) => start[k + 1]++);
  for (let k = 0; k < count; k++) start[k + 1] += start[k];
  const fill = start.slice(0, count);
  const lefts = new Float64Array(start[count]);
  const rights = new Float64Array(start[count]);
  each((k, left, right) => {
    lefts[fill[k]] = left;
    rights[fill[k]++] = right;
  });
  let area = 0;
  for (let k = 0; k < count; k++) area += unionLength(lefts.subarray(start[k], start[k + 1]), rights.subarray(start[k], start[k + 1])) * row;
  return area;
}

/** Length of the union of intervals: going from left to right, how many have begun and not ended. */
function unionLength(lefts: Float64Array, rights: Float64Array): number {
  lefts.sort();
  rights.sort();
  let sum = 0;
  let open = 0;
  for (let i = 0, j = 0, from = 0; j < rights.length;) {
    if (i < lefts.length && lefts[i] <= rights[j]) {
      if (open++ === 0) from = lefts[i];
      i++;
    } else if (--open === 0) sum += rights[j++] - from;
    else j++;
  }
  return sum;
}
