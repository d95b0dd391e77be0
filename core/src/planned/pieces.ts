/**
 * What becomes of the plate when it is cut: which pieces come free, and whether each lies safely, tips or falls
 * through the slats. The kerf is taken out of the plate as an area; what remains is pieces.
 *
 * A free piece rests where it lies over slats. It lies still when its centre of gravity is over the hull of those
 * places, with a little to spare; it tips when it rests somewhere, but not there; it falls when nothing is under
 * it. (Statics: a body stands while its weight acts within its base.)
 */
import { boardThickness, goneOf, type Board } from '../board/index.ts';
import { weightOf } from '../board/gauge.ts';
import {
  hullOf,
  insideRegion,
  leftWithout,
  penOutline,
  rectangle,
  regionArea,
  regionsBox,
  simplified,
  subtract,
  thinned,
  contoursOf,
  type Box,
  type Contour,
  type Region,
} from '../geometry/index.ts';
import type { PlannedCut } from './cut.ts';
import type { Toolpath } from '../toolpath/index.ts';

export type Lies = 'held' | 'free' | 'tips' | 'falls';

export interface Piece {
  /** Drawn to be kept; else it is scrap. */
  part: boolean;
  lies: Lies;
  /** How many parts tabs hold in it; none in a part of its own. */
  holds: number;
  /** mm², and kg. */
  area: number;
  weight: number;
  /** Centre of gravity, mm. */
  centre: [number, number];
  region: Region;
}

/** Ways of the arc, each from where it is struck to where it goes off. */
export function arcWays({ x, y, power }: Toolpath): number[][] {
  const out: number[][] = [];
  if (!power) return out;
  for (let i = 1; i < x.length; i++) {
    if (Number.isNaN(power[i])) continue;
    if (Number.isNaN(power[i - 1])) out.push([x[i - 1], y[i - 1]]);
    const way = out.at(-1)!;
    if (x[i] !== way.at(-2) || y[i] !== way.at(-1)) way.push(x[i], y[i]);
  }
  return out;
}

/** How exactly the rounds of a kerf are drawn to judge what becomes of the plate, mm. */
const ROUND = 0.02;

/** What the arc takes out of the plate: the outline of each way's kerf, not united. */
function kerfOutlines(cuts: readonly PlannedCut[]): Contour[] {
  return cuts.flatMap(({ torch, path }) => {
    if (!torch) return [];
    const lineOf = (xy: number[]): Contour => ({ xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2) });
    // What is drawn no finer than its rounds is no worse for lines that are no finer either.
    return arcWays(torch.arc ?? path).map((way) => penOutline(way.length > 2 ? thinned(lineOf(way), ROUND / 2).xy : way, torch.kerf, ROUND));
  });
}

/** A piece no larger than this is a sliver of rounding, mm². */
const SLIVER = 0.5;
/** A support this near the edge of the base does not count on, mm. */
const SPARE = 0.5;

/**
 * Pieces of the plate after all cuts, the plate's own frame first.
 */
export function piecesOf(board: Board, cuts: readonly PlannedCut[]): Piece[] {
  const plate = plateOf(board);
  const parts = cuts.flatMap(({ torch }) => torch?.parts ?? []);
  const inners = parts.map(innerPoint);
  // Most parts are far from most pieces: their boxes say so first.
  const boxes = parts.map((drawn) => regionsBox([drawn]));
  const thickness = boardThickness(board);
  const rest = leftWithout(plate, kerfOutlines(cuts)).filter((region) => regionArea(region) > SLIVER);
  const pieces = rest.map((region): Piece => {
    const area = regionArea(region);
    const centre = centreOf(region);
    const edge = region.outer.xy;
    const onEdge = touchesEdge(edge, board);
    const inner = innerPoint(region);
    const part = parts.some((drawn, k) => within(boxes[k], inner) && insideRegion(drawn, ...inner));
    return {
      part,
      holds: part ? 0 : heldIn(region, inners),
      lies: onEdge ? 'held' : liesOn(region, centre, board),
      area,
      weight: weightOf(area, thickness, board.material),
      centre,
      region,
    };
  });
  // The frame is what is left of the plate's edge: where it has come apart, the largest holds and the rest lie as they lie.
  const frames = pieces.filter(({ lies }) => lies === 'held').sort((a, b) => b.area - a.area);
  for (const piece of frames.slice(1)) piece.lies = liesOn(piece.region, piece.centre, board);
  return pieces.sort((a, b) => Number(b.lies === 'held') - Number(a.lies === 'held') || b.area - a.area);
}

const within = ({ minX, minY, maxX, maxY }: Box, [x, y]: readonly [number, number]) => x >= minX && x <= maxX && y >= minY && y <= maxY;

/** How many of some places lie in an area. The frame of a full plate has thousands of openings: only those about a place are looked at. */
function heldIn(region: Region, places: readonly (readonly [number, number])[]): number {
  const box = regionsBox([region]);
  const openings = region.holes.map((hole) => ({ hole, box: regionsBox([{ outer: hole, holes: [] }]) }));
  return places.filter(
    (at) =>
      within(box, at) &&
      insideRegion({ outer: region.outer, holes: [] }, ...at) &&
      !openings.some((one) => within(one.box, at) && insideRegion({ outer: one.hole, holes: [] }, ...at)),
  ).length;
}

/** A plate with what is cut out of it already. */
const plateOf = (board: Board): Region[] => subtract([{ outer: rectangle(0, 0, board.width, board.height), holes: [] }], goneOf(board));

/** Outlines of a remnant are kept as exactly as this, mm. */
const KEPT = 0.1;
/** An opening no larger than this is not worth keeping, mm². */
const PINHOLE = 5;

/**
 * What is cut out of a plate when its cuts are done, as a board has it: everything that is not the frame. Null when no
 * frame is left.
 */
export function remnantOf(board: Board, cuts: readonly PlannedCut[]): { gone: number[][]; left: number } | null {
  const frame = piecesOf(board, cuts).find(({ lies }) => lies === 'held');
  if (!frame) return null;
  const open = subtract([{ outer: rectangle(0, 0, board.width, board.height), holes: [] }], [frame.region]);
  const rings = simplified(open, KEPT)
    .filter((region) => regionArea(region) > PINHOLE)
    .flatMap(contoursOf);
  return { gone: rings.map(({ xy }) => Array.from(xy, (v) => Math.round(v * 1e3) / 1e3)), left: frame.area / (board.width * board.height) };
}

function touchesEdge(xy: ArrayLike<number>, { width, height }: Board): boolean {
  for (let i = 0; i < xy.length; i += 2) if (xy[i] < 1e-3 || xy[i + 1] < 1e-3 || xy[i] > width - 1e-3 || xy[i + 1] > height - 1e-3) return true;
  return false;
}

/** Centre of gravity of an area with its holes. (Green's theorem.) */
export function centreOf(region: Region): [number, number] {
  let [area, mx, my] = [0, 0, 0];
  for (const { xy } of contoursOf(region))
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const cross = xy[j] * xy[i + 1] - xy[i] * xy[j + 1];
      area += cross / 2;
      mx += ((xy[j] + xy[i]) * cross) / 6;
      my += ((xy[j + 1] + xy[i + 1]) * cross) / 6;
    }
  return [mx / area, my / area];
}

/** A point well inside an area: in the middle of the widest run of a few lines across. */
export function innerPoint(region: Region): [number, number] {
  const { minY, maxY } = regionsBox([region]);
  let best: { at: [number, number]; size: number } = { at: [region.outer.xy[0], region.outer.xy[1]], size: -1 };
  for (let k = 1; k < 8; k++) {
    const y = minY + ((maxY - minY) * k) / 8;
    for (const [a, b] of runsAt(region, y, 'y')) if (b - a > best.size) best = { at: [(a + b) / 2, y], size: b - a };
  }
  return best.at;
}

/** Where a line across lies in an area, from and to: `y` for one along X at that Y, `x` for one along Y. */
function runsAt(region: Region, at: number, axis: 'x' | 'y'): [number, number][] {
  const [u, v] = axis === 'y' ? [0, 1] : [1, 0];
  const crossings: number[] = [];
  for (const { xy } of contoursOf(region))
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const [a, b] = [xy[j + v], xy[i + v]];
      if (a > at === b > at) continue;
      crossings.push(xy[j + u] + ((at - a) / (b - a)) * (xy[i + u] - xy[j + u]));
    }
  crossings.sort((a, b) => a - b);
  return Array.from({ length: crossings.length >> 1 }, (_, k) => [crossings[2 * k], crossings[2 * k + 1]]);
}

/** Slats of a table whose own are not known. */
const USUAL_SLATS = { along: 'y' as const, pitch: 100, first: 50, thick: 4 };

/** Just inside an edge, mm: on it a line crosses nothing. */
const INSIDE = 1e-3;

/** Does a piece that is free lie, tip or fall? */
export function liesOn(region: Region, centre: readonly [number, number], { slats = USUAL_SLATS }: Pick<Board, 'slats'>): Lies {
  const box = regionsBox([region]);
  const across = slats.along === 'y' ? 'x' : 'y';
  const [low, high] = across === 'x' ? [box.minX, box.maxX] : [box.minY, box.maxY];
  const points: [number, number][] = [];
  const first = Math.ceil((low - slats.first - slats.thick / 2) / slats.pitch);
  const last = Math.floor((high - slats.first + slats.thick / 2) / slats.pitch);
  for (let k = first; k <= last; k++) {
    const middle = slats.first + k * slats.pitch;
    // What of the slat is under it bears: at both its edges, and between them.
    const [from, to] = [Math.max(middle - slats.thick / 2, low + INSIDE), Math.min(middle + slats.thick / 2, high - INSIDE)];
    if (from > to) continue;
    for (const at of [from, (from + to) / 2, to]) {
      for (const [a, b] of runsAt(region, at, across === 'x' ? 'x' : 'y'))
        points.push(
          ...(across === 'x'
            ? ([
                [at, a],
                [at, b],
              ] as [number, number][])
            : ([
                [a, at],
                [b, at],
              ] as [number, number][])),
        );
    }
  }
  if (points.length === 0) return 'falls';
  return insideHull(points, centre) ? 'free' : 'tips';
}

/** Is a point within the hull of others, by a little more than nothing? */
function insideHull(points: readonly [number, number][], [x, y]: readonly [number, number]): boolean {
  const hull = hullOf(points);
  if (hull.length < 3) return false;
  return hull.every(([ax, ay], k) => {
    const [bx, by] = hull[(k + 1) % hull.length];
    const length = Math.hypot(bx - ax, by - ay);
    return ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / length > SPARE;
  });
}
