/** What becomes of a plate while it is cut: pieces that tip up in the torch's way. */
import { contoursOf, distanceToEdges, insideRegion, regionsBox } from '../geometry/index.ts';
import { finding, type Finding } from '../findings/index.ts';
import type { Job } from '../job/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { arcWays, piecesOf } from '../planned/pieces.ts';

/** A slug this small drops or lies flat, mm²; nothing of it stands up into the way. */
const SLUG = 150;

/** What a plate is of, and pieces that tip when they come free; an error where the torch then travels over one, lower than it may stand. */
export function plateFindings(job: Job, cuts: readonly PlannedCut[]): Finding[] {
  const torch = cuts.filter(({ torch: facts }) => facts !== undefined);
  if (torch.length === 0) return [];
  const cut = torch[0].cut.id;
  const found: Finding[] = /\balumini?um\b/i.test(job.board.material) ? [finding.aluminiumOverWater(cut)] : [];
  const tipping = piecesOf(job.board, cuts).filter(({ lies, area }) => lies === 'tips' && area > SLUG);
  if (tipping.length === 0) return found;
  const ways = torch.flatMap(({ torch: facts, path }) => arcWays(facts!.arc ?? path).map((xy) => ({ xy, half: facts!.kerf / 2 })));
  for (const { region } of tipping) {
    const box = regionsBox([region]);
    const size = Math.hypot(box.maxX - box.minX, box.maxY - box.minY);
    // The last way that goes along it sets it free.
    const freed = ways.findLastIndex(({ xy, half }) => borders(xy, region, half, box));
    for (let k = freed + 1; k < ways.length; k++) {
      const [from, to] = [ways[k - 1].xy.slice(-2), ways[k].xy];
      const at = overIt(from[0], from[1], to[0], to[1], region);
      if (at && job.program.clearance < size) return [...found, finding.overTipping(cut, tipping.length, job.program.clearance, at)];
    }
  }
  const first = tipping[0];
  return [...found, finding.tips(cut, tipping.length, first.centre)];
}

type Piece = ReturnType<typeof piecesOf>[number]['region'];

/** Does a way run along a piece, half a kerf beside it? */
function borders(xy: readonly number[], piece: Piece, half: number, box: ReturnType<typeof regionsBox>): boolean {
  for (let i = 0; i < xy.length; i += 2) {
    const [x, y] = [xy[i], xy[i + 1]];
    if (x < box.minX - half - 0.1 || x > box.maxX + half + 0.1 || y < box.minY - half - 0.1 || y > box.maxY + half + 0.1) continue;
    if (distanceToEdges([piece], x, y) < half + 0.1) return true;
  }
  return false;
}

/** How near to each other the places on a way across are looked at, mm. */
const STEP = 2;

/** Where a way across comes over a piece or an opening in it; null when it does not. */
function overIt(ax: number, ay: number, bx: number, by: number, piece: Piece): [number, number] | null {
  const outline = { outer: contoursOf(piece)[0], holes: [] };
  const box = regionsBox([outline]);
  if (Math.max(ax, bx) < box.minX || Math.min(ax, bx) > box.maxX || Math.max(ay, by) < box.minY || Math.min(ay, by) > box.maxY) return null;
  const steps = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / STEP));
  for (let k = 0; k <= steps; k++) {
    const [x, y] = [ax + ((bx - ax) * k) / steps, ay + ((by - ay) * k) / steps];
    if (insideRegion(outline, x, y)) return [x, y];
  }
  return null;
}
