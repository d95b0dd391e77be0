/** What holds the board, against what moves over it: cuts, travel, the frame driven round, and the touch plate. */
import { cuttingWidth } from '../bits/index.ts';
import { datumPoint, type Holder, type Job } from '../job/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { RAPID } from '../toolpath/index.ts';
import { finding, type Finding } from '../findings/index.ts';

export function holderFindings(job: Job, cuts: readonly PlannedCut[]): Finding[] {
  const { holders } = job.board;
  if (holders.length === 0) return [];
  const found: Finding[] = [];
  for (const holder of holders) {
    for (const planned of cuts) {
      const hit = firstHit(planned, holder);
      if (hit) found.push(finding.throughHolder(planned.cut.id, holder.kind, hit.how, hit.at));
    }
    if (holder.height >= job.program.clearance) {
      const at = onFrame(cuts, holder);
      if (at) found.push(finding.frameOverHolder(holder.kind, at));
    }
    if (overlap(plateOf(job), holder)) found.push(finding.probeBlocked(holder.kind, [holder.x, holder.y]));
  }
  return found;
}

/** Where a bit, as wide as the wider of its cutting part and its shank, first meets a holder. */
function firstHit({ path, bit }: PlannedCut, holder: Holder): { how: 'cut' | 'travel'; at: [number, number] } | null {
  const reach = Math.max(cuttingWidth(bit), bit.shank) / 2;
  const { kind, x, y, z } = path;
  for (let i = 1; i < kind.length; i++) {
    // The lowest the bit is on the move; level with the top touches.
    if (Math.min(z[i - 1], z[i]) > holder.height) continue;
    if (distanceToHolder(x[i - 1], y[i - 1], x[i], y[i], holder) >= reach) continue;
    return { how: kind[i] === RAPID ? 'travel' : 'cut', at: [holder.x, holder.y] };
  }
  return null;
}

/** Does the box round all cuts, driven along, pass over a holder? */
function onFrame(cuts: readonly PlannedCut[], holder: Holder): [number, number] | null {
  const boxes = cuts.filter(({ facts }) => facts.moves > 0).map(({ facts }) => facts.box);
  if (boxes.length === 0) return null;
  const [minX, minY] = [Math.min(...boxes.map((b) => b.minX)), Math.min(...boxes.map((b) => b.minY))];
  const [maxX, maxY] = [Math.max(...boxes.map((b) => b.maxX)), Math.max(...boxes.map((b) => b.maxY))];
  const corners = [minX, minY, maxX, minY, maxX, maxY, minX, maxY];
  for (let k = 0; k < 8; k += 2)
    if (distanceToHolder(corners[k], corners[k + 1], corners[(k + 2) % 8], corners[(k + 3) % 8], holder) <= 0) return [holder.x, holder.y];
  return null;
}

/** Where the touch plate lies: on the datum's corner, towards the middle of the board; in the centre over it. */
function plateOf(job: Job): Pick<Holder, 'x' | 'y' | 'width' | 'depth'> {
  const { width, depth } = job.machine.plate;
  const [x, y] = datumPoint(job);
  const inwards = (at: number, size: number, of: number) => (at === 0 ? size / 2 : at === of ? -size / 2 : 0);
  return { x: x + inwards(x, width, job.board.width), y: y + inwards(y, depth, job.board.height), width, depth };
}

const overlap = (a: Pick<Holder, 'x' | 'y' | 'width' | 'depth'>, b: Pick<Holder, 'x' | 'y' | 'width' | 'depth'>): boolean =>
  Math.abs(a.x - b.x) < (a.width + b.width) / 2 && Math.abs(a.y - b.y) < (a.depth + b.depth) / 2;

/** Distance of a straight way from the rectangle of a holder, mm; zero where it passes over it. */
export function distanceToHolder(ax: number, ay: number, bx: number, by: number, { x, y, width, depth }: Holder): number {
  const [hx, hy] = [width / 2, depth / 2];
  // Clip the way to the rectangle (slab by slab): anything left passes over it.
  let [from, to] = [0, 1];
  for (const [a, b, h] of [
    [ax - x, bx - x, hx],
    [ay - y, by - y, hy],
  ]) {
    const d = b - a;
    if (d === 0) {
      if (Math.abs(a) > h) from = 2;
      continue;
    }
    from = Math.max(from, Math.min((-h - a) / d, (h - a) / d));
    to = Math.min(to, Math.max((-h - a) / d, (h - a) / d));
  }
  if (from <= to) return 0;
  const beside = (px: number, py: number) => Math.hypot(Math.max(0, Math.abs(px - x) - hx), Math.max(0, Math.abs(py - y) - hy));
  const corner = (cx: number, cy: number) => {
    const [dx, dy] = [bx - ax, by - ay];
    const s = Math.min(1, Math.max(0, ((cx - ax) * dx + (cy - ay) * dy) / (dx * dx + dy * dy || 1)));
    return Math.hypot(cx - ax - s * dx, cy - ay - s * dy);
  };
  return Math.min(beside(ax, ay), beside(bx, by), ...[-hx, hx].flatMap((dx) => [-hy, hy].map((dy) => corner(x + dx, y + dy))));
}
