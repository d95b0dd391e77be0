/**
 * Wood that cuts leave too thin to last: walls between two cuts that fray, and pieces that are short
 * along the grain. The grain runs along X. A wall is thin where the outline of one
 * cut comes nearer to that of another than a wall should be wide. (Common practice, from memory: a wall under about 1 mm frays, short
 * grain under about 3 mm snaps.)
 */
import RBush from 'rbush';
import { kindOf } from '../cuts/index.ts';
import { contoursOf, emptyBox, growBox, insideRegion, regionsBox, type Box, type Region } from '../geometry/index.ts';
import type { Job } from '../job/index.ts';
import type { PlannedCut } from '../planned/cut.ts';
import { targetRegions, type PlannedItem } from '../planned/items.ts';
import { finding, type Finding } from '../findings/index.ts';

const WALL = 1;
const GRAIN = 3;
/** Cuts shallower than this leave nothing that could break, mm. */
const DEEP = 1;
/** Materials that have grain. */
const GRAINED = /pine|cedar|oak|walnut|maple|fir|larch|ash|beech|cherry|spruce|wood/i;

export function woodFindings(job: Job, items: readonly PlannedItem[], cuts: readonly PlannedCut[]): Finding[] {
  const regionsOf = (walls: readonly string[]) =>
    cuts
      .filter(({ cut, facts }) => walls.includes(kindOf(cut).hollow ?? '') && facts.deepest >= DEEP)
      .flatMap(({ cut, fit }) => fit?.recess ?? targetRegions(job, cut, items));
  const found: Finding[] = [];
  const walls = thinBetween(regionsOf(['leaning', 'upright']), WALL);
  if (walls.length > 0) found.push(finding.thinWall(WALL, walls.length, middleOf(walls[0])));
  if (!GRAINED.test(job.board.material)) return found;
  // Walls of a V-carve lean outwards and are soon thick enough; upright ones are as thin at the foot.
  const short = thinBetween(regionsOf(['upright']), GRAIN).filter(({ minX, maxX, minY, maxY }) => maxY - minY > 2 * (maxX - minX));
  if (short.length > 0) found.push(finding.shortGrain(GRAIN, short.length, middleOf(short[0])));
  return found;
}

interface Placed extends Box {
  region: Region;
  number: number;
}

/** A thin place: middle, box, and how long it is, mm. */
interface Wall extends Box {
  length: number;
}

/** Outlines are looked at every so many mm. */
const STEP = 0.25;

/** Where two carved regions leave less than a width between them, the longest place first. */
function thinBetween(carved: readonly Region[], width: number): Wall[] {
  const tree = new RBush<Placed>();
  const placed = carved.map((region, number) => ({ ...regionsBox([region]), region, number }));
  tree.load(placed);
  const walls: Wall[] = [];
  for (const one of placed)
    for (const other of tree.search({ minX: one.minX - width, minY: one.minY - width, maxX: one.maxX + width, maxY: one.maxY + width })) {
      if (other.number <= one.number) continue;
      const wall = wallBetween(one, other, width);
      // A mere tip against a tip is no wall.
      if (wall && wall.length > width / 2) walls.push(wall);
    }
  return walls.sort((a, b) => b.length - a.length);
}

/** The stretch along which one outline is nearer than a width to another. What touches is one cut: there is no wall. */
function wallBetween(one: Placed, other: Placed, width: number): Wall | null {
  const near = edgesNear(other.region, one, width);
  const wall = { ...emptyBox(), length: 0 };
  if (near.length === 0) return null;
  for (const [ax, ay, bx, by] of edgesNear(one.region, other, width)) {
    const length = Math.hypot(bx - ax, by - ay);
    const steps = Math.max(1, Math.ceil(length / STEP));
    for (let k = 0; k < steps; k++) {
      const f = (k + 0.5) / steps;
      const [x, y] = [ax + f * (bx - ax), ay + f * (by - ay)];
      let least = width;
      for (const edge of near) least = Math.min(least, edgeDistance(x, y, edge));
      if (least >= width) continue;
      if (least < 1e-3) return null;
      wall.length += length / steps;
      growBox(wall, [x, y]);
    }
  }
  if (wall.length === 0 || overlaps(one.region, other.region)) return null;
  return wall;
}

/** One lies in the other's wood, or two cuts go over the same place. */
const overlaps = (a: Region, b: Region): boolean => insideRegion(a, b.outer.xy[0], b.outer.xy[1]) || insideRegion(b, a.outer.xy[0], a.outer.xy[1]);

type Edge = [number, number, number, number];

/** Edges of a region that come within a width of a box. */
function edgesNear(region: Region, box: Box, width: number): Edge[] {
  const out: Edge[] = [];
  for (const { xy } of contoursOf(region))
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const edge: Edge = [xy[j], xy[j + 1], xy[i], xy[i + 1]];
      if (Math.max(edge[0], edge[2]) < box.minX - width || Math.min(edge[0], edge[2]) > box.maxX + width) continue;
      if (Math.max(edge[1], edge[3]) < box.minY - width || Math.min(edge[1], edge[3]) > box.maxY + width) continue;
      out.push(edge);
    }
  return out;
}

function edgeDistance(x: number, y: number, [ax, ay, bx, by]: Edge): number {
  const [dx, dy] = [bx - ax, by - ay];
  const s = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(x - ax - s * dx, y - ay - s * dy);
}

const middleOf = ({ minX, minY, maxX, maxY }: Box): [number, number] => [(minX + maxX) / 2, (minY + maxY) / 2];
