/** How long each piece of a plate takes: its contours with the way to them, their touches and pierces. */
import { distanceToEdges, insideRegion, regionsBox, type Region } from '../geometry/index.ts';
import type { Machine } from '../machine/index.ts';
import { planMotion } from '../motion/index.ts';
import RBush from 'rbush';
import type { PlannedCut } from './cut.ts';
import { innerPoint, type Piece } from './pieces.ts';

/** A lead or a loop is at the most so far from its part, beyond its length, mm. */
const BESIDE = 5;

/**
 * Seconds for each of the pieces; scrap has none of its own. What is waited and travelled counts for what is cut next.
 * Parts that tabs hold in the frame count for the frame.
 */
export function pieceSeconds(pieces: readonly Piece[], cuts: readonly PlannedCut[], machine: Machine): number[] {
  const out = pieces.map(() => 0);
  const pieceOf = (part: Region): number => {
    const [x, y] = innerPoint(part);
    return pieces.findIndex(({ region }) => insideRegion(region, x, y));
  };
  for (const { torch, path, cut } of cuts) {
    if (!torch || torch.parts.length === 0) continue;
    const tree = new RBush<ReturnType<typeof regionsBox> & { k: number }>();
    tree.load(torch.parts.map((part, k) => ({ ...regionsBox([part]), k })));
    const reach = ('leadIn' in cut ? cut.leadIn : 0) + torch.kerf + BESIDE;
    const seconds = torch.parts.map(() => 0);
    const { start } = planMotion(path, machine);
    let [waiting, last] = [0, 0];
    for (let i = 1; i < path.kind.length; i++) {
      const [x, y] = [path.x[i], path.y[i]];
      waiting += start[i + 1] - start[i];
      if (!path.power || Number.isNaN(path.power[i])) continue;
      const near = tree.search({ minX: x - reach, minY: y - reach, maxX: x + reach, maxY: y + reach });
      if (near.length > 0)
        last =
          near.length === 1
            ? near[0].k
            : near.map(({ k }) => ({ k, off: distanceToEdges([torch.parts[k]], x, y) })).reduce((best, one) => (one.off < best.off ? one : best)).k;
      seconds[last] += waiting;
      waiting = 0;
    }
    seconds[last] += waiting;
    for (const [k, part] of torch.parts.entries()) {
      const piece = pieceOf(part);
      if (piece >= 0) out[piece] += seconds[k];
    }
  }
  return out;
}
