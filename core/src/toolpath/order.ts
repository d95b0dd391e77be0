/**
 * Puts runs of cutting in an order that keeps travel short: nearest next, then 2-opt (turning a
 * stretch round) and or-opt (moving up to three runs elsewhere) among near neighbours until
 * nothing improves. Deterministic.
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

const ROUNDS = 40;
/** Near neighbours looked at of every run. */
const NEAR = 8;
/** Lists longer than this are left as nearest-next made them. */
const MOST = 6000;

/** Math.hypot guards against overflow no board can cause, and costs several times as much. */
const distance = (dx: number, dy: number): number => Math.sqrt(dx * dx + dy * dy);

/** @returns the runs in cutting order, each with the way it is cut */
export function orderRuns(runs: readonly Run[], fromX = 0, fromY = 0): Placed[] {
  const placed = nearestNext(runs, fromX, fromY);
  return runs.length < 2 || runs.length > MOST ? placed : new Tour(runs, placed, fromX, fromY).improve();
}

/** Length of the way from run to run, mm. */
export function travelOf(runs: readonly Run[], placed: readonly Placed[], fromX = 0, fromY = 0): number {
  let sum = 0;
  let [x, y] = [fromX, fromY];
  for (const { run, reversed } of placed) {
    const { startX, startY, endX, endY } = runs[run];
    sum += distance((reversed ? endX : startX) - x, (reversed ? endY : startY) - y);
    [x, y] = reversed ? [startX, startY] : [endX, endY];
  }
  return sum;
}

function nearestNext(runs: readonly Run[], fromX: number, fromY: number): Placed[] {
  const n = runs.length;
  const sx = Float64Array.from(runs, (r) => r.startX);
  const sy = Float64Array.from(runs, (r) => r.startY);
  const ex = Float64Array.from(runs, (r) => r.endX);
  const ey = Float64Array.from(runs, (r) => r.endY);
  const both = Uint8Array.from(runs, (r) => (r.reversible ? 1 : 0));
  // Those still left, kept close together at the front.
  const left = Int32Array.from({ length: n }, (_, i) => i);
  const placed: Placed[] = [];
  let [x, y] = [fromX, fromY];
  for (let count = n; count > 0; count--) {
    let best = 0;
    let bestReversed = false;
    let nearest = Infinity;
    for (let k = 0; k < count; k++) {
      const i = left[k];
      const ahead = (sx[i] - x) * (sx[i] - x) + (sy[i] - y) * (sy[i] - y);
      if (ahead < nearest || (ahead === nearest && i < left[best])) [best, bestReversed, nearest] = [k, false, ahead];
      if (!both[i]) continue;
      const back = (ex[i] - x) * (ex[i] - x) + (ey[i] - y) * (ey[i] - y);
      if (back < nearest) [best, bestReversed, nearest] = [k, true, back];
    }
    const run = left[best];
    left[best] = left[count - 1];
    placed.push({ run, reversed: bestReversed });
    [x, y] = bestReversed ? [sx[run], sy[run]] : [ex[run], ey[run]];
  }
  return placed;
}

/** An order in the making, over flat arrays: where the run in every place is entered (head) and left (tail). */
class Tour {
  private readonly runs: readonly Run[];
  private readonly n: number;
  private readonly order: Int32Array;
  private readonly reversed: Uint8Array;
  private readonly place: Int32Array;
  private readonly headX: Float64Array;
  private readonly headY: Float64Array;
  private readonly tailX: Float64Array;
  private readonly tailY: Float64Array;
  /** Runs that fix the way round of a stretch they stand in, counted up to every place. */
  private readonly stiff: Int32Array;
  private readonly near: Int32Array;
  private readonly fromX: number;
  private readonly fromY: number;

  constructor(runs: readonly Run[], placed: readonly Placed[], fromX: number, fromY: number) {
    const n = (this.n = placed.length);
    this.runs = runs;
    this.fromX = fromX;
    this.fromY = fromY;
    this.order = Int32Array.from(placed, ({ run }) => run);
    this.reversed = Uint8Array.from(placed, (p) => (p.reversed ? 1 : 0));
    this.place = new Int32Array(n);
    this.headX = new Float64Array(n);
    this.headY = new Float64Array(n);
    this.tailX = new Float64Array(n);
    this.tailY = new Float64Array(n);
    this.stiff = new Int32Array(n + 1);
    this.settle(0, n - 1);
    this.near = this.neighbours();
  }

  improve(): Placed[] {
    for (let round = 0; round < ROUNDS; round++) {
      let better = false;
      for (let run = 0; run < this.n; run++) better = this.improveAt(run) || better;
      if (!better) break;
    }
    return Array.from(this.order, (run, k) => ({ run, reversed: this.reversed[k] === 1 }));
  }

  /** A run that ends where it begins goes either way round in a stretch; one that may not be reversed does not. */
  private isStiff(run: number): boolean {
    const { reversible, startX, startY, endX, endY } = this.runs[run];
    return !reversible && (startX !== endX || startY !== endY);
  }

  private settle(from: number, to: number): void {
    for (let k = from; k <= to; k++) {
      const run = this.runs[this.order[k]];
      const turned = this.reversed[k] === 1;
      this.headX[k] = turned ? run.endX : run.startX;
      this.headY[k] = turned ? run.endY : run.startY;
      this.tailX[k] = turned ? run.startX : run.endX;
      this.tailY[k] = turned ? run.startY : run.endY;
      this.place[this.order[k]] = k;
      this.stiff[k + 1] = this.stiff[k] + (this.isStiff(this.order[k]) ? 1 : 0);
    }
  }

  /** The runs whose ends are nearest to either end of every run. */
  private neighbours(): Int32Array {
    const { runs, n } = this;
    const count = Math.min(NEAR, n - 1);
    const near = new Int32Array(n * NEAR).fill(-1);
    const best = new Float64Array(count);
    const sx = Float64Array.from(runs, (r) => r.startX);
    const sy = Float64Array.from(runs, (r) => r.startY);
    const ex = Float64Array.from(runs, (r) => r.endX);
    const ey = Float64Array.from(runs, (r) => r.endY);
    const square = (dx: number, dy: number) => dx * dx + dy * dy;
    // Runs that end where they begin - rings, holes - have one place, not two.
    const point = Uint8Array.from(runs, (r) => (r.startX === r.endX && r.startY === r.endY ? 1 : 0));
    for (let a = 0; a < n; a++) {
      let have = 0;
      for (let b = 0; b < n; b++) {
        if (a === b) continue;
        let d = square(ex[a] - sx[b], ey[a] - sy[b]);
        if (!point[b]) d = Math.min(d, square(ex[a] - ex[b], ey[a] - ey[b]));
        if (!point[a]) d = Math.min(d, square(sx[a] - sx[b], sy[a] - sy[b]), square(sx[a] - ex[b], sy[a] - ey[b]));
        if (have === count && d >= best[count - 1]) continue;
        let k = have < count ? have++ : count - 1;
        for (; k > 0 && best[k - 1] > d; k--) {
          best[k] = best[k - 1];
          near[a * NEAR + k] = near[a * NEAR + k - 1];
        }
        best[k] = d;
        near[a * NEAR + k] = b;
      }
    }
    return near;
  }

  private improveAt(run: number): boolean {
    let better = false;
    for (let k = 0; k < NEAR; k++) {
      const other = this.near[run * NEAR + k];
      if (other < 0) break;
      // Turn a stretch so that the two come next to each other, at either end of it.
      const [i, j] = [this.place[run], this.place[other]].sort((p, q) => p - q);
      better = this.tryTurn(i + 1, j) || this.tryTurn(i, j - 1) || better;
      for (let length = 1; length <= 3; length++) {
        better = this.tryMove(this.place[run], length, this.place[other]) || better;
        better = this.tryMove(this.place[run], length, this.place[other] - 1) || better;
      }
    }
    return better;
  }

  /** Way from the tail in place a to a point. */
  private fromTail(a: number, x: number, y: number): number {
    return a < 0 ? distance(x - this.fromX, y - this.fromY) : distance(x - this.tailX[a], y - this.tailY[a]);
  }

  /** Way from a point to the head in place b; beyond the end there is none. */
  private toHead(x: number, y: number, b: number): number {
    return b >= this.n ? 0 : distance(this.headX[b] - x, this.headY[b] - y);
  }

  private tryTurn(i: number, j: number): boolean {
    if (i > j || i < 0 || this.stiff[j + 1] !== this.stiff[i]) return false;
    const before = this.fromTail(i - 1, this.headX[i], this.headY[i]) + this.toHead(this.tailX[j], this.tailY[j], j + 1);
    const after = this.fromTail(i - 1, this.tailX[j], this.tailY[j]) + this.toHead(this.headX[i], this.headY[i], j + 1);
    if (after >= before - 1e-9) return false;
    this.turn(i, j);
    this.settle(i, j);
    return true;
  }

  private turn(i: number, j: number): void {
    this.order.subarray(i, j + 1).reverse();
    this.reversed.subarray(i, j + 1).reverse();
    for (let k = i; k <= j; k++) if (this.runs[this.order[k]].reversible) this.reversed[k] ^= 1;
  }

  /** Moves the runs i .. i + length - 1 behind place `to`, turned round when that is shorter. */
  private tryMove(i: number, length: number, to: number): boolean {
    const j = i + length - 1;
    if (j >= this.n || (to >= i - 1 && to <= j)) return false;
    const [hx, hy, tx, ty] = [this.headX[i], this.headY[i], this.tailX[j], this.tailY[j]];
    const gone =
      this.fromTail(i - 1, hx, hy) +
      this.toHead(tx, ty, j + 1) -
      (j + 1 < this.n ? this.fromTail(i - 1, this.headX[j + 1], this.headY[j + 1]) : 0) +
      (to + 1 < this.n ? this.fromTail(to, this.headX[to + 1], this.headY[to + 1]) : 0);
    const straight = this.fromTail(to, hx, hy) + this.toHead(tx, ty, to + 1);
    const turned = this.stiff[j + 1] === this.stiff[i] ? this.fromTail(to, tx, ty) + this.toHead(hx, hy, to + 1) : Infinity;
    if (Math.min(straight, turned) >= gone - 1e-9) return false;
    if (turned < straight) this.turn(i, j);
    const moved = this.order.slice(i, j + 1);
    const flags = this.reversed.slice(i, j + 1);
    if (to < i) {
      this.order.copyWithin(to + 1 + length, to + 1, i);
      this.reversed.copyWithin(to + 1 + length, to + 1, i);
      this.order.set(moved, to + 1);
      this.reversed.set(flags, to + 1);
      this.settle(to + 1, j);
    } else {
      this.order.copyWithin(i, j + 1, to + 1);
      this.reversed.copyWithin(i, j + 1, to + 1);
      this.order.set(moved, to + 1 - length);
      this.reversed.set(flags, to + 1 - length);
      this.settle(i, to);
    }
    return true;
  }
}
