/** A cut's motion as the board shows it: what a beam does not burn is travel, and rows of millions of dots are as few lines as can be told apart. */
import type { PlannedCut } from '@kerbe/core/plan';
import { workHeights } from '@kerbe/core/proof';
import { RAPID, type Toolpath } from '@kerbe/core/toolpath';

export type ShownPath = Pick<Toolpath, 'kind' | 'x' | 'y' | 'z'>;

/** A beam marks the surface: it is drawn as the shallowest of depths, mm. */
const MARK = 0.1;
/** More strokes than this are not told apart on a screen; each costs as much as any other line to draw. */
const MOST_STROKES = 20_000;
/** Dark gaps that are closed at first where there are more, mm. */
const FIRST_GAP = 0.25;
/** Strokes lie in one line when neither is this far off the other, mm. */
const STRAIGHT = 1e-3;

/** Copies: those planned are kept for the next plan. */
export function shownPath(planned: PlannedCut): ShownPath {
  const { path, beam } = planned;
  // What a diamond is pressed by is no depth.
  const z = workHeights(planned);
  if (!beam) return { kind: path.kind.slice(), x: path.x.slice(), y: path.y.slice(), z: z.slice() };
  let shown = strokesOf(path, z, 0);
  for (let gap = FIRST_GAP; shown.kind.length > 2 * MOST_STROKES && gap < 100; gap *= 2) shown = strokesOf(path, z, gap);
  return shown;
}

/**
 * What a beam burns, as strokes: one that goes straight on is part of the one before, across a dark gap no longer than
 * this, mm. Between strokes it travels.
 */
function strokesOf({ kind, x, y, power }: Toolpath, z: ArrayLike<number>, gap: number): ShownPath {
  const out: { kind: number[]; x: number[]; y: number[]; z: number[] } = { kind: [], x: [], y: [], z: [] };
  const put = (k: number, px: number, py: number, pz: number) => {
    out.kind.push(k);
    out.x.push(px);
    out.y.push(py);
    out.z.push(pz);
  };
  let [ux, uy, level] = [0, 0, NaN];
  for (let i = 1; i < kind.length; i++) {
    if (!(power![i] > 0)) continue;
    const last = out.kind.length - 1;
    const [ax, ay, bx, by] = [x[i - 1], y[i - 1], x[i], y[i]];
    const height = Math.min(z[i], -MARK);
    const [px, py] = [out.x[last], out.y[last]];
    const ahead = (ax - px) * ux + (ay - py) * uy;
    const on = (qx: number, qy: number) => Math.abs((qx - px) * uy - (qy - py) * ux) <= STRAIGHT;
    const goesOn = last >= 0 && height === level && ahead >= -STRAIGHT && ahead <= gap + STRAIGHT && on(ax, ay) && on(bx, by);
    if (goesOn && (bx - ax) * ux + (by - ay) * uy >= 0) {
      out.x[last] = bx;
      out.y[last] = by;
      continue;
    }
    const length = Math.hypot(bx - ax, by - ay);
    // A dot that stands has no direction: nothing goes on from it but what begins anew.
    [ux, uy, level] = length > 0 ? [(bx - ax) / length, (by - ay) / length, height] : [0, 0, NaN];
    if (last < 0 || px !== ax || py !== ay || out.z[last] !== height) put(RAPID, ax, ay, height);
    put(kind[i], bx, by, height);
  }
  return { kind: Uint8Array.from(out.kind), x: Float64Array.from(out.x), y: Float64Array.from(out.y), z: Float64Array.from(out.z) };
}
