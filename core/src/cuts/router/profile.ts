/**
 * Profile: the centre line of the bit runs half its cutting width off the drawn line - outside
 * for a part, inside for an opening, on it for a groove - in passes, with tabs that keep the part
 * in place. With a clockwise spindle, climb is clockwise round the outside of a part and
 * counter-clockwise inside an opening; conventional is the reverse (any machinery handbook).
 */
import { cuttingWidth } from '../../bits/index.ts';
import { backwards, contoursOf, longestEdge, offset, perimeter, regionArea, type Region } from '../../geometry/index.ts';
import { boardThickness, type Bit, type Board, type ProfileCut } from '../../job/index.ts';
import { orderRuns, PathWriter, type Run, type Toolpath, type Travel } from '../../toolpath/index.ts';

export interface ProfilePlan {
  path: Toolpath;
  depth: number;
  through: boolean;
  /** Tabs really placed on each contour. */
  tabs: number[];
  /** Contours too small for the bit, which were not cut. */
  lost: number;
}

/** Depth the cut reaches below the top of the board, mm. */
export const profileDepth = (cut: ProfileCut, board: Board): number => cut.depth ?? boardThickness(board) + cut.throughAllowance;

/** Plans a profile along the outlines of regions. */
export function planProfile(regions: readonly Region[], cut: ProfileCut, bit: Bit, board: Board, travel: Travel): ProfilePlan {
  const half = cuttingWidth(bit) / 2;
  const way = cut.side === 'outside' ? 1 : cut.side === 'inside' ? -1 : 0;
  const lines = way === 0 ? [...regions] : offset(regions, way * (half + cut.allowance));
  const depth = profileDepth(cut, board);
  const through = depth >= boardThickness(board);
  // Material lies on the other side of the line from the bit: inside an outside profile.
  // Regions run outer counter-clockwise, which is climb for an opening and conventional for a part.
  const turned = (cut.side === 'outside') === (cut.direction === 'climb');
  const contours = lines.flatMap(contoursOf).map(({ xy }) => new Contour(turned ? backwards(xy) : xy));
  const runs: Run[] = contours.map((contour) => contour.run());
  const writer = new PathWriter(travel);
  const tabs: number[] = [];
  // Smaller contours lie inside larger ones or beside them; cutting by size keeps inner before outer.
  const inner = contours.map((_, i) => i).filter((i) => contours[i].nested(contours));
  const outer = contours.map((_, i) => i).filter((i) => !inner.includes(i));
  for (const group of [inner, outer])
    for (const placed of orderRuns(group.map((i) => runs[i]))) {
      const contour = contours[group[placed.run]];
      const gaps = through && cut.tabs > 0 ? contour.tabGaps(cut.tabs, cut.tabWidth + 2 * half, half) : [];
      tabs.push(gaps.length);
      writePasses(writer, cut, contour, depth, gaps, boardThickness(board));
    }
  const drawn = regions.reduce((sum, region) => sum + contoursOf(region).length, 0);
  const lost = regions.filter((region) => regionArea(region) > 0).length > 0 ? Math.max(0, drawn - contours.length) : 0;
  return { path: writer.finish(), depth, through, tabs, lost };
}

function writePasses(writer: PathWriter, cut: ProfileCut, contour: Contour, depth: number, gaps: [number, number][], thickness: number): void {
  const reach = depth - cut.startDepth;
  const passes = Math.max(1, Math.ceil(reach / cut.depthPerPass - 1e-9));
  const tabTop = -Math.max(0, thickness - cut.tabHeight);
  const start = contour.at(0);
  for (let pass = 1; pass <= passes; pass++) {
    const z = -(cut.startDepth + (reach * pass) / passes);
    writer.begin(cut.id, `pass ${pass} of ${passes}`);
    if (pass === 1) writer.approach(start[0], start[1], z);
    else writer.cutTo(start[0], start[1], z);
    const lifted = z < tabTop ? gaps : [];
    let s = 0;
    for (const [from, to] of lifted) {
      contour.follow(s, from, (x, y) => writer.cutTo(x, y, z));
      const up = contour.at(from);
      writer.cutTo(up[0], up[1], tabTop);
      contour.follow(from, to, (x, y) => writer.cutTo(x, y, tabTop));
      const down = contour.at(to);
      writer.cutTo(down[0], down[1], z);
      s = to;
    }
    contour.follow(s, contour.length, (x, y) => writer.cutTo(x, y, z));
  }
  writer.lift();
}

/** A closed line by the distance along it. */
class Contour {
  readonly length: number;
  private readonly xy: Float64Array;
  private readonly along: Float64Array;

  constructor(xy: Float64Array) {
    this.xy = startOnStraight(xy);
    const n = xy.length / 2;
    this.along = new Float64Array(n + 1);
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      this.along[i + 1] = this.along[i] + Math.hypot(this.xy[2 * j] - this.xy[2 * i], this.xy[2 * j + 1] - this.xy[2 * i + 1]);
    }
    this.length = perimeter(this.xy);
  }

  run(): Run {
    const [x, y] = this.at(0);
    return { startX: x, startY: y, endX: x, endY: y, reversible: false };
  }

  nested(all: readonly Contour[]): boolean {
    const [x, y] = this.at(0);
    return all.some((other) => other !== this && other.contains(x, y));
  }

  at(s: number): [number, number] {
    const n = this.along.length - 1;
    let lo = 0;
    let hi = n;
    while (hi - lo > 1) {
      const mid = (lo + hi) >> 1;
      if (this.along[mid] <= s) lo = mid;
      else hi = mid;
    }
    const j = (lo + 1) % n;
    const step = this.along[lo + 1] - this.along[lo];
    const f = step > 0 ? Math.min(1, (s - this.along[lo]) / step) : 0;
    return [this.xy[2 * lo] + f * (this.xy[2 * j] - this.xy[2 * lo]), this.xy[2 * lo + 1] + f * (this.xy[2 * j + 1] - this.xy[2 * lo + 1])];
  }

  /** Visits the vertices after `from`, and the point at `to`. */
  follow(from: number, to: number, visit: (x: number, y: number) => void): void {
    const n = this.along.length - 1;
    for (let i = 1; i < n; i++) if (this.along[i] > from + 1e-9 && this.along[i] < to - 1e-9) visit(this.xy[2 * i], this.xy[2 * i + 1]);
    const end = to >= this.length ? this.at(0) : this.at(to);
    visit(end[0], end[1]);
  }

  /**
   * Stretches along the line to be left standing: evenly spread, each moved to the nearest place
   * where the line runs straight for its whole width; dropped when they would meet.
   */
  tabGaps(count: number, width: number, margin: number): [number, number][] {
    const spacing = this.length / count;
    if (spacing < 1.5 * width) return count > 1 ? this.tabGaps(count - 1, width, margin) : [];
    const gaps: [number, number][] = [];
    const step = Math.max(0.25, width / 12);
    for (let k = 0; k < count; k++) {
      const target = (k + 0.5) * spacing;
      let best = target;
      let bestScore = -Infinity;
      for (let shift = 0; shift <= spacing * 0.4; shift += step)
        for (const s of [target + shift, target - shift]) {
          if (s - width / 2 < 0.5 || s + width / 2 > this.length - 0.5) continue;
          const score = Math.min(this.straightAround(s) - width / 2, margin) - shift / this.length;
          if (score > bestScore + 1e-12) [best, bestScore] = [s, score];
        }
      if (bestScore === -Infinity) continue;
      const gap: [number, number] = [best - width / 2, best + width / 2];
      if (gaps.length === 0 || gap[0] > gaps[gaps.length - 1][1] + 1) gaps.push(gap);
    }
    return gaps;
  }

  /** Distance from s to the nearest end of the straight run it lies on, mm. */
  private straightAround(s: number): number {
    const n = this.along.length - 1;
    let i = 0;
    let hi = n;
    while (hi - i > 1) {
      const mid = (i + hi) >> 1;
      if (this.along[mid] <= s) i = mid;
      else hi = mid;
    }
    return Math.min(s - this.along[i], this.along[i + 1] - s);
  }

  private contains(x: number, y: number): boolean {
    let inside = false;
    const { xy } = this;
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2)
      if (xy[i + 1] > y !== xy[j + 1] > y && x < ((xy[j] - xy[i]) * (y - xy[i + 1])) / (xy[j + 1] - xy[i + 1]) + xy[i]) inside = !inside;
    return inside;
  }
}

/** Turns the list of points so that it starts in the middle of its longest edge: entry marks show least there. */
function startOnStraight(xy: Float64Array): Float64Array {
  const n = xy.length / 2;
  const best = longestEdge(xy);
  const out = new Float64Array(xy.length);
  for (let k = 0; k < n; k++) {
    const i = (best + 1 + k) % n;
    out[2 * k] = xy[2 * i];
    out[2 * k + 1] = xy[2 * i + 1];
  }
  return out;
}
