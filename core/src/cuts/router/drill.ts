/**
 * Drill: holes at the middles of drawn circles and at points. A hole as wide as the bit is pecked, the bit
 * coming out after every peck to clear the chips; a wider one is cut by a straight bit in a helix that grows
 * from the middle outwards. A twist drill cuts with its point alone and only ever goes straight down. What
 * is not round, or narrower than the bit, is left and named.
 */
import { z } from 'zod';
import { cuttingWidth, pointLength } from '../../bits/index.ts';
import { contoursOf, perimeter, regionArea, regionsBox, signedArea, type Region } from '../../geometry/index.ts';
import type { Bit } from '../../bits/schema.ts';
import { boardThickness, type Board } from '../../board/index.ts';
import { orderRuns, PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { length, notNegative, positive } from '../../fields/index.ts';
import { cutting } from '../fields.ts';

export const DrillCut = z.strictObject({
  ...cutting,
  kind: z.literal('drill'),
  /** Points drilled besides the circles it works on, mm on the board. */
  points: z
    .array(z.tuple([length, length]))
    .max(5_000)
    .default([]),
  /** Depth below the top; left out to go through. */
  depth: positive.optional(),
  /** What reaches that depth: the point of a drill, or its full width, the point going deeper. Through means full width in any case. */
  depthOf: z.enum(['point', 'width']).default('point'),
  throughAllowance: notNegative.default(0.5),
  /** Depth of each peck, after which the bit comes out to clear the chips. (Common practice: 3.2 mm.) */
  peck: positive.default(3.2),
  /** Seconds it stays at the bottom. */
  dwell: notNegative.max(60).default(0),
});
export type DrillCut = z.infer<typeof DrillCut>;

export interface Hole {
  x: number;
  y: number;
  diameter: number;
}

export interface DrillPlan {
  path: Toolpath;
  depth: number;
  through: boolean;
  holes: Hole[];
  /** Shapes that are no circle, and holes narrower than the bit. */
  notRound: number;
  tooNarrow: number;
  /** Holes drawn wider than the twist drill, which come out as wide as it is. */
  wider: number;
}

/** A circle has the largest area for its edge: 4πA/P² = 1. A flattened one of twenty sides or more keeps 0.99 of it; an octagon has 0.95. */
const ROUND = 0.985;
/** ... and is as wide as it is high. */
const EVEN = 0.01;
/** A hole this much wider than the bit is still only drilled, mm. */
const SAME = 0.05;
/** Depth of one turn of a helix, as a fraction of the bit's width (common practice: half or less). */
const PITCH = 0.3;

/** Circles among regions; a region with a hole is none. */
export function holesOf(regions: readonly Region[]): { holes: Hole[]; notRound: number } {
  const holes: Hole[] = [];
  let notRound = 0;
  for (const region of regions) {
    const area = signedArea(region.outer.xy);
    const edge = perimeter(region.outer.xy);
    const box = regionsBox([region]);
    const [w, h] = [box.maxX - box.minX, box.maxY - box.minY];
    if (region.holes.length > 0 || (4 * Math.PI * area) / (edge * edge) < ROUND || Math.abs(w - h) > EVEN * w) {
      notRound++;
      continue;
    }
    // A polygon inside the circle has less area than it: the box is nearer to the truth.
    holes.push({ x: (box.minX + box.maxX) / 2, y: (box.minY + box.maxY) / 2, diameter: (w + h) / 2 });
  }
  return { holes, notRound };
}

/** How deep the tip goes, mm below the top. Through, the full width comes out below: the point goes deeper by its own length. */
export const drillDepth = (cut: DrillCut, bit: Bit, board: Board): number =>
  cut.depth === undefined ? boardThickness(board) + cut.throughAllowance + pointLength(bit) : cut.depth + (cut.depthOf === 'width' ? pointLength(bit) : 0);

export function planDrill(regions: readonly Region[], cut: DrillCut, bit: Bit, board: Board, travel: Travel): DrillPlan {
  const width = cuttingWidth(bit);
  const { holes, notRound } = holesOf(regions.filter((region) => regionArea(region) > 0 && contoursOf(region).length > 0));
  const fitting = [...holes.filter(({ diameter }) => diameter >= width - SAME), ...cut.points.map(([x, y]): Hole => ({ x, y, diameter: width }))];
  const isWide = ({ diameter }: Hole) => diameter > width + SAME;
  const depth = drillDepth(cut, bit, board);
  const writer = new PathWriter(travel);
  for (const { run } of orderRuns(fitting.map(({ x, y }) => ({ startX: x, startY: y, endX: x, endY: y, reversible: false })))) {
    const hole = fitting[run];
    const milled = isWide(hole) && bit.kind !== 'drill';
    writer.begin(cut.id, milled ? 'hole, in a helix' : 'hole');
    if (milled) helix(writer, hole, width, depth);
    else peck(writer, hole, cut, depth, Math.min(OUT, travel.clearance));
    writer.lift();
  }
  return {
    path: writer.finish(),
    depth,
    through: depth - pointLength(bit) >= boardThickness(board),
    holes: fitting,
    notRound,
    tooNarrow: holes.length + cut.points.length - fitting.length,
    wider: bit.kind === 'drill' ? fitting.filter(isWide).length : 0,
  };
}

/** The bit comes out this far above the board to clear its chips, as a canned cycle does, and rapidly back to so far above where it was, mm. (Common practice.) */
const OUT = 1;
const BACK = 0.25;

/**
 * Equal pecks from just above the board down, as a canned cycle counts them (G83: NIST IR 6556, 3.5.16.4):
 * out to where it began, rapidly back to just above the hole's bottom, and on.
 */
function peck(writer: PathWriter, { x, y }: Hole, cut: DrillCut, depth: number, start: number): void {
  const pecks = Math.max(1, Math.ceil((depth + start) / cut.peck - 1e-9));
  const level = (k: number) => start - ((depth + start) * k) / pecks;
  writer.over(x, y, start);
  for (let k = 1; k <= pecks; k++) {
    if (k > 1) {
      writer.rapidTo(start);
      writer.rapidTo(Math.min(start, level(k - 1) + BACK));
    }
    writer.cutTo(x, y, level(k));
  }
  writer.dwell(cut.dwell);
}

/** Down in a helix round the middle, then flat rings outwards: the core of a hole wider than twice the bit goes too. */
function helix(writer: PathWriter, { x, y, diameter }: Hole, width: number, depth: number): void {
  const outer = (diameter - width) / 2;
  // Rings no farther apart than nearly half the bit, the first near enough to the middle to leave no core.
  const count = Math.max(1, Math.ceil(outer / (0.45 * width)));
  for (let ring = 1; ring <= count; ring++) {
    const radius = (outer * ring) / count;
    const sides = Math.max(24, Math.ceil(Math.PI / Math.acos(Math.max(0, 1 - 0.005 / radius))));
    const turns = Math.max(1, Math.ceil(depth / (PITCH * width)));
    writer.approach(x + radius, y, 0);
    for (let k = 1; k <= turns * sides; k++) {
      const a = (2 * Math.PI * k) / sides;
      writer.cutTo(x + radius * Math.cos(a), y + radius * Math.sin(a), (-depth * k) / (turns * sides));
    }
    // Once round at the bottom leaves it flat.
    for (let k = 1; k <= sides; k++) {
      const a = (2 * Math.PI * k) / sides;
      writer.cutTo(x + radius * Math.cos(a), y + radius * Math.sin(a), -depth);
    }
  }
}
