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

function improved(runs: readonly Run[], placed: Placed[], fromX: number, fromY: number): Placed[] {
  const n = placed.length;
  if (n < 3 || n > 4000) return placed;
  const headX = ({ run, reversed }: Placed) => (reversed ? runs[run].endX : runs[run].startX);
  const headY = ({ run, reversed }: Placed) => (reversed ? runs[run].endY : runs[run].startY);
  const tailX = ({ run, reversed }: Placed) => (reversed ? runs[run].startX : runs[run].endX);
  const tailY = ({ run, reversed }: Placed) => (reversed ? runs[run].startY : runs[run].endY);
  // Fixed (irreversible) runs forbid turning a stretch that holds one.
  const fixedBefore = (list: Placed[]) => {
    const count = new Int32Array(n + 1);
    list.forEach((p, i) => (count[i + 1] = count[i] + (runs[p.run].reversible ? 0 : 1)));
    return count;
  };
  const window = n > 800 ? 60 : n;
  for (let round = 0; round < ROUNDS; round++) {
    let better = false;
    let fixed = fixedBefore(placed);
    for (let i = 0; i < n - 1; i++) {
      const ax = i === 0 ? fromX : tailX(placed[i - 1]);
      const ay = i === 0 ? fromY : tailY(placed[i - 1]);
      for (let j = i + 1; j < Math.min(n, i + window); j++) {
        if (fixed[j + 1] - fixed[i] > 0) continue;
        const p = placed[i];
        const q = placed[j];
        let before = distance(headX(p) - ax, headY(p) - ay);
        let after = distance(tailX(q) - ax, tailY(q) - ay);
        if (j + 1 < n) {
          const next = placed[j + 1];
          before += distance(headX(next) - tailX(q), headY(next) - tailY(q));
          after += distance(headX(next) - headX(p), headY(next) - headY(p));
        }
        if (after < before - 1e-9) {
          const turned = placed.slice(i, j + 1).reverse();
          turned.forEach((item, k) => (placed[i + k] = { run: item.run, reversed: !item.reversed }));
          fixed = fixedBefore(placed);
          better = true;
        }
      }
    }
    if (!better) break;
  }
  return placed;
}
