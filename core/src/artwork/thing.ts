/** Drawn things made from path data on the board, and free ids for them. */
import { contoursOf, emptyBox, growBox, type Region } from '../geometry/index.ts';
import { makeItem, type Item, type PathItem } from '../job/index.ts';
import { fitContour } from './fit.ts';
import { formatPath, transformPath, type Subpath } from './path.ts';

const tidy = (value: number) => Math.round(value * 1e5) / 1e5;

/** A path thing from subpaths on the board, about their own middle, in the place of another thing. */
export function pathThing(like: Item, subpaths: readonly Subpath[], fill: PathItem['fill'], id = like.id): PathItem {
  const box = emptyBox();
  for (const { x, y, segments } of subpaths) growBox(box, [x, y, ...segments.flatMap((s) => [s.x, s.y])]);
  const [x, y] = [tidy((box.minX + box.maxX) / 2), tidy((box.minY + box.maxY) / 2)];
  return makeItem({
    kind: 'path',
    id,
    name: like.name || (like.kind === 'text' ? like.text.split('\n')[0].slice(0, 60) : ''),
    x,
    y,
    d: formatPath(transformPath(subpaths, [1, 0, 0, 1, -x, -y])),
    fill,
    layer: like.layer,
    group: like.group,
  });
}

/** Regions as subpaths with few curves, within a tolerance. */
export const regionPaths = (regions: readonly Region[], tolerance: number): Subpath[] =>
  regions.flatMap((region) => contoursOf(region).map((contour) => fitContour(contour, tolerance)));

/** A free id that begins like another. */
export function freshId(base: string, taken: (id: string) => boolean): string {
  const stem = base.replace(/-?\d+$/, '').slice(0, 30) || 'thing';
  let n = 2;
  while (taken(`${stem}-${n}`)) n++;
  return `${stem}-${n}`;
}
