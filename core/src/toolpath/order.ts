/**
 * Puts runs of cutting in an order that keeps travel short: nearest next, then 2-opt and moves
 * of single runs until nothing improves (or a fixed number of rounds). Deterministic.
 */

export interface Run {
  startX: number;
  startY: number;
  endX: number;
  endY: number;
  /** May it be cut from its end to its start? */
  reversible: boolean;
}

export interface Placed {
  run: number;
  reversed: boolean;
}

const ROUNDS = 30;

/** Math.hypot guards against overflow no board can cause, and costs several times as much. */
const distance = (dx: number, dy: number): number => Math.sqrt(dx * dx + dy * dy);

/** @returns the runs in cutting order, each with the way it is cut */
export function orderRuns(runs: readonly Run[], fromX = 0, fromY = 0): Placed[] {
  const n = runs.length;
  const placed: Placed[] = [];
  const left = new Uint8Array(n).fill(1);
  let x = fromX;
  let y = fromY;
  for (let k = 0; k < n; k++) {
    let best = -1;
    let bestReversed = false;
    let bestDistance = Infinity;
    for (let i = 0; i < n; i++) {
      if (!left[i]) continue;
      const run = runs[i];
      const ahead = (run.startX - x) ** 2 + (run.startY - y) ** 2;
      if (ahead < bestDistance) [best, bestReversed, bestDistance] = [i, false, ahead];
      if (!run.reversible) continue;
      const back = (run.endX - x) ** 2 + (run.endY - y) ** 2;
      if (back < bestDistance) [best, bestReversed, bestDistance] = [i, true, back];
    }
    left[best] = 0;
    placed.push({ run: best, reversed: bestReversed });
    x = bestReversed ? runs[best].startX : runs[best].endX;
    y = bestReversed ? runs[best].startY : runs[best].endY;
  }
  return improved(runs, placed, fromX, fromY);
}

/** 2-opt over flat arrays: where every run is entered (head) and left (tail), in the order they are placed. */
function improved(runs: readonly Run[], placed: Placed[], fromX: number, fromY: number): Placed[] {
  const n = placed.length;
  if (n < 3 || n > 4000) return placed;
  const order = Int32Array.from(placed, ({ run }) => run);
  const reversed = Uint8Array.from(placed, (p) => (p.reversed ? 1 : 0));
  const [headX, headY, tailX, tailY] = Array.from({ length: 4 }, () => new Float64Array(n));
  // Fixed (irreversible) runs forbid turning a stretch that holds one.
  const fixed = new Int32Array(n + 1);
  const put = (k: number) => {
    const run = runs[order[k]];
    const turned = reversed[k] === 1;
    headX[k] = turned ? run.endX : run.startX;
    headY[k] = turned ? run.endY : run.startY;
    tailX[k] = turned ? run.startX : run.endX;
    tailY[k] = turned ? run.startY : run.endY;
  };
  for (let k = 0; k < n; k++) {
    put(k);
    fixed[k + 1] = fixed[k] + (runs[order[k]].reversible ? 0 : 1);
  }
  const window = n > 800 ? 60 : n;
  for (let round = 0; round < ROUNDS; round++) {
    let better = false;
    for (let i = 0; i < n - 1; i++) {
      const ax = i === 0 ? fromX : tailX[i - 1];
      const ay = i === 0 ? fromY : tailY[i - 1];
      const last = Math.min(n, i + window);
      for (let j = i + 1; j < last && fixed[j + 1] === fixed[i]; j++) {
        let before = distance(headX[i] - ax, headY[i] - ay);
        let after = distance(tailX[j] - ax, tailY[j] - ay);
        if (j + 1 < n) {
          before += distance(headX[j + 1] - tailX[j], headY[j + 1] - tailY[j]);
          after += distance(headX[j + 1] - headX[i], headY[j + 1] - headY[i]);
        }
        if (after < before - 1e-9) {
          // Only stretches without fixed runs are turned, so `fixed` stays as it is.
          order.subarray(i, j + 1).reverse();
          reversed.subarray(i, j + 1).reverse();
          for (let k = i; k <= j; k++) {
            reversed[k] ^= 1;
            put(k);
          }
          better = true;
        }
      }
    }
    if (!better) break;
  }
  return Array.from(order, (run, k) => ({ run, reversed: reversed[k] === 1 }));
}
