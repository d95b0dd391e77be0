/** What is left of a sheet when much that lies far apart is taken out of it. */
import { subtract, unite } from './clip.ts';
import { congruent } from './congruent.ts';
import { contoursOf, insideRegion, regionsBox, reversed, signedArea, type Box, type Contour, type Region } from './contour.ts';

/** Somewhere that a piece can be: an outline, and what is taken out of it. */
interface Room {
  outer: Contour;
  holes: Contour[];
  box: Box;
  area: number;
  /** Not all of what is in its outline belongs to it: a sheet with openings. */
  whole: Region | null;
}

/**
 * A sheet without what is taken out of it. Groups of what is taken that lie apart are united each by itself, and no sweep
 * goes over all of them at once: those inside the sheet are holes of the room they lie in, and what they enclose is a room of its
 * own. As exact as subtracting all at once.
 *
 * @param taken outlines of it, together never round a place the other way (`penOutline`): what one goes round is taken
 */
export function leftWithout(sheet: readonly Region[], taken: readonly Contour[]): Region[] {
  const groups = united(meeting(taken));
  const edges = sheet.flatMap(contoursOf).map((contour) => regionsBox([{ outer: contour, holes: [] }]));
  const clear = sheet.length === 1 ? edges[0] : null;
  const inside = (box: Box) =>
    clear !== null &&
    box.minX > clear.minX &&
    box.minY > clear.minY &&
    box.maxX < clear.maxX &&
    box.maxY < clear.maxY &&
    !edges.slice(1).some((opening) => box.minX <= opening.maxX && opening.minX <= box.maxX && box.minY <= opening.maxY && opening.minY <= box.maxY);
  const lie = groups.map((group) => inside(regionsBox(group)));
  const crossing = groups.filter((_, k) => !lie[k]).flat();
  const within = groups.filter((_, k) => lie[k]).flat();
  const rooms = [
    ...(crossing.length > 0 ? subtract(sheet, crossing) : sheet).map((region) => room(region.outer, [...region.holes], region)),
    ...within.flatMap(({ holes }) => holes.map((hole) => room(reversed(hole), [], null))),
  ];
  for (const { outer } of within) {
    const [x, y] = [outer.xy[0], outer.xy[1]];
    const holding = rooms
      .filter(({ box }) => x >= box.minX && x <= box.maxX && y >= box.minY && y <= box.maxY)
      .filter((one) => insideRegion(one.whole ?? { outer: one.outer, holes: [] }, x, y));
    // In rings in each other the smallest is the one it lies in.
    const nearest = holding.reduce<Room | null>((best, one) => (best === null || one.area < best.area ? one : best), null);
    nearest?.holes.push(reversed(outer));
  }
  return rooms.map(({ outer, holes }) => ({ outer, holes }));
}

const room = (outer: Contour, holes: Contour[], whole: Region | null): Room => ({
  outer,
  holes,
  whole,
  box: regionsBox([{ outer, holes: [] }]),
  area: Math.abs(signedArea(outer.xy)),
});

/** Every group united by itself. Those that are one outline are often copies: what the first comes to, the others come to elsewhere. */
function united(groups: readonly Contour[][]): Region[][] {
  const alone = groups.filter(({ length }) => length === 1).map(([outer]): Region => ({ outer, holes: [] }));
  const copies = congruent(alone).flatMap(({ shape, members }) => {
    const regions = unite([shape.outer]);
    return members.map(({ x, y }) => regions.map((region) => moved(region, x, y)));
  });
  return [...copies, ...groups.filter(({ length }) => length > 1).map((group) => unite(group))];
}

function moved({ outer, holes }: Region, x: number, y: number): Region {
  const there = ({ xy, smooth }: Contour): Contour => ({ xy: xy.map((v, i) => v + (i % 2 ? y : x)), smooth });
  return { outer: there(outer), holes: holes.map(there) };
}

/** Outlines are looked for in squares of this size, mm. */
const CELL = 2;
/** More columns than any sheet has. */
const COLUMNS = 1 << 20;

/**
 * Outlines in groups no edge of which meets one of another group: they share no square that any of their edges goes
 * through. One inside another is apart from it.
 */
function meeting(outlines: readonly Contour[]): Contour[][] {
  const parent = outlines.map((_, k) => k);
  const root = (k: number): number => {
    while (parent[k] !== k) k = parent[k] = parent[parent[k]];
    return k;
  };
  const owner = new Map<number, number>();
  outlines.forEach(({ xy }, k) =>
    cellsAlong(xy, (cell) => {
      const other = owner.get(cell);
      if (other === undefined) owner.set(cell, k);
      else if (other !== k) parent[root(k)] = root(other);
    }),
  );
  const groups = new Map<number, Contour[]>();
  outlines.forEach((outline, k) => groups.set(root(k), [...(groups.get(root(k)) ?? []), outline]));
  return [...groups.values()];
}

/** Every square that an edge of an outline goes through, and no fewer; some of them more than once. */
function cellsAlong(xy: ArrayLike<number>, visit: (cell: number) => void): void {
  let last = NaN;
  for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
    // Column by column: between its sides an edge covers a span of rows.
    const [ax, ay, bx, by] = xy[j] <= xy[i] ? [xy[j], xy[j + 1], xy[i], xy[i + 1]] : [xy[i], xy[i + 1], xy[j], xy[j + 1]];
    const slope = bx > ax ? (by - ay) / (bx - ax) : 0;
    const [first, end] = [Math.floor(ax / CELL), Math.floor(bx / CELL)];
    for (let column = first; column <= end; column++) {
      const from = column === first ? ay : ay + slope * (column * CELL - ax);
      const to = column === end ? by : ay + slope * ((column + 1) * CELL - ax);
      const [low, high] = [Math.floor((Math.min(from, to) - HAIR) / CELL), Math.floor((Math.max(from, to) + HAIR) / CELL)];
      for (let row = low; row <= high; row++) {
        const cell = row * COLUMNS + column;
        if (cell !== last) visit((last = cell));
      }
    }
  }
}

/** What rounding can put a place on the other side of, mm. */
const HAIR = 1e-5;
