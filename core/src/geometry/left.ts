/** What is left of a sheet when much that lies far apart is taken out of it. */
import { groupsNear, subtract, unite } from './clip.ts';
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
 */
export function leftWithout(sheet: readonly Region[], taken: readonly Region[]): Region[] {
  const groups = groupsNear(taken, 0).map((group) => (group.length > 1 ? unite(group.flatMap(contoursOf)) : group));
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
