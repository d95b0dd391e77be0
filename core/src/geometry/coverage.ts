/** How much of a surface a round mark covers that is drawn along lines, places gone over again counted once. */

/** Rows across the width of the mark; the sum over them is good to a thousandth at worst, where the lines are short and steep, and far better otherwise. */
const ROWS = 64;
const MOST_ROWS = 40_000;

/**
 * Area of the union of all places within half a width of the lines, mm²: exact along X, summed over
 * rows in Y.
 *
 * @param lines lists of x y
 */
export function coveredArea(lines: readonly ArrayLike<number>[], width: number): number {
  const r = width / 2;
  let [minY, maxY] = [Infinity, -Infinity];
  for (const xy of lines)
    for (let i = 1; i < xy.length; i += 2) {
      minY = Math.min(minY, xy[i]);
      maxY = Math.max(maxY, xy[i]);
    }
  if (!(maxY >= minY)) return 0;
  const row = Math.max(width / ROWS, (maxY - minY + width) / MOST_ROWS);
  const count = Math.ceil((maxY - minY + width) / row);
  const bottom = minY - r;
  const covered: number[][] = Array.from({ length: count }, () => []);
  for (const xy of lines)
    for (let i = 0; i + 1 < xy.length; i += 2) {
      // The last point stands for itself: it matters where there is no other.
      const j = Math.min(i + 2, xy.length - 2);
      const [ax, ay, bx, by] = [xy[i], xy[i + 1], xy[j], xy[j + 1]];
      const length = Math.hypot(bx - ax, by - ay);
      const [nx, ny] = length > 0 ? [(-(by - ay) / length) * r, ((bx - ax) / length) * r] : [0, 0];
      const from = Math.max(0, Math.ceil((Math.min(ay, by) - r - bottom) / row - 0.5));
      const to = Math.min(count - 1, Math.floor((Math.max(ay, by) + r - bottom) / row - 0.5));
      for (let k = from; k <= to; k++) {
        const y = bottom + (k + 0.5) * row;
        let [left, right] = [Infinity, -Infinity];
        const reach = (x: number) => {
          left = Math.min(left, x);
          right = Math.max(right, x);
        };
        for (const [cx, cy] of [
          [ax, ay],
          [bx, by],
        ]) {
          const square = r * r - (y - cy) ** 2;
          if (square < 0) continue;
          reach(cx - Math.sqrt(square));
          reach(cx + Math.sqrt(square));
        }
        for (const side of [1, -1]) {
          const [ya, yb] = [ay + side * ny, by + side * ny];
          if (Math.abs(yb - ya) > 1e-12 && y >= Math.min(ya, yb) && y <= Math.max(ya, yb)) reach(ax + side * nx + ((y - ya) / (yb - ya)) * (bx - ax));
        }
        if (left < right) covered[k].push(left, right);
      }
    }
  let area = 0;
  for (const spans of covered) area += unionLength(spans) * row;
  return area;
}

/** Length of the union of intervals, given as from, to, from, to … */
function unionLength(spans: readonly number[]): number {
  const order = Array.from({ length: spans.length / 2 }, (_, k) => 2 * k).sort((a, b) => spans[a] - spans[b]);
  let sum = 0;
  let end = -Infinity;
  for (const k of order) {
    sum += Math.max(0, spans[k + 1] - Math.max(end, spans[k]));
    end = Math.max(end, spans[k + 1]);
  }
  return sum;
}
