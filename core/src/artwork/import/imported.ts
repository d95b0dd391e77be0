/** What an importer makes of a file, whatever its format: things in millimetres, Y up, and what was found on the way. */
import { emptyBox, growBox, type Box } from '../../geometry/index.ts';
import { Item, type ItemInput, type Layer, type TextItem } from '../../job/index.ts';
import { finding, type Finding } from '../../findings/index.ts';
import { recognise } from '../recognise.ts';
import { formatPath, transformPath, type Matrix, type Subpath } from '../path.ts';

/** So many things one file may bring, whatever it asks for. */
export const MAX_THINGS = 100_000;

export interface ImportedPath {
  kind: 'path';
  subpaths: Subpath[];
  fill: 'nonzero' | 'evenodd' | 'none';
  strokeWidth?: number;
  join?: 'mitre' | 'round' | 'square';
  cap?: 'butt' | 'round' | 'square';
  mitreLimit?: number;
  /** Name of the layer (or colour) it came on. */
  layer: string;
  name: string;
}
export interface ImportedText {
  kind: 'text';
  text: string;
  face: string;
  capHeight: number;
  align: TextItem['align'];
  /** Middle of the capitals at the alignment point, and its turn in degrees. */
  x: number;
  y: number;
  angle: number;
  layer: string;
  name: string;
}
export type ImportedThing = ImportedPath | ImportedText;

export interface Imported {
  things: ImportedThing[];
  /** How the size was read: `unit` says what of, `mm` is the length of one drawing unit. When not `known`, a person must say. */
  size: { known: boolean; unit: string; mm: number };
  /** The page as the file states it, mm; null when it states none. Its lower-left corner is at 0, 0. */
  page: { width: number; height: number } | null;
  findings: Finding[];
}

/** Rough box of path data: control points included, so never too small. */
export function pathBox(subpaths: readonly Subpath[], box: Box = emptyBox()): Box {
  for (const { x, y, segments } of subpaths) {
    growBox(box, [x, y]);
    let [px, py] = [x, y];
    for (const s of segments) {
      growBox(box, s.kind === 'curve' ? [s.x1, s.y1, s.x2, s.y2, s.x, s.y] : [s.x, s.y]);
      // An arc stays within its own diameter of both of its ends, and within the enlarged radius.
      if (s.kind === 'arc') {
        const r = Math.max(s.rx, s.ry, Math.hypot(s.x - px, s.y - py) / 2);
        const reach = s.large ? 2 * r : r;
        growBox(box, [Math.min(px, s.x) - reach, Math.min(py, s.y) - reach, Math.max(px, s.x) + reach, Math.max(py, s.y) + reach]);
      }
      [px, py] = [s.x, s.y];
    }
  }
  return box;
}

/** Middle of what path data draws: ends of its segments only, which is near enough for a point to turn about. */
function middleOf(subpaths: readonly Subpath[]): [number, number] {
  const box = emptyBox();
  const grow = (x: number, y: number) => {
    if (x < box.minX) box.minX = x;
    if (x > box.maxX) box.maxX = x;
    if (y < box.minY) box.minY = y;
    if (y > box.maxY) box.maxY = y;
  };
  for (const { x, y, segments } of subpaths) {
    grow(x, y);
    for (const s of segments) grow(s.x, s.y);
  }
  return [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
}

export interface Placing {
  /** Applied to everything, for example to put it in the middle of the board. */
  scale?: number;
  dx?: number;
  dy?: number;
  /** Ids are this with a number, none of them taken. */
  prefix: string;
  taken: Record<string, unknown>;
  /** Filled outlines that are circles, slots or rectangles within so much, mm, come as what they are. */
  shapes?: number;
  /** Every outline and every hole becomes a thing of its own. */
  apart?: boolean;
  /** One group for everything, so that it moves as one. */
  group?: string;
}

/** Farther from zero than this, in any unit, nothing was drawn on purpose. */
const REACH = 1e9;

/** What was read, without things whose numbers are none or lie beyond all reach: those are told of. */
export function withinReach(read: Imported): Imported {
  const sane = (value: number | boolean | string) => typeof value !== 'number' || Math.abs(value) <= REACH;
  const near = (thing: ImportedThing): boolean =>
    thing.kind === 'text'
      ? [thing.x, thing.y, thing.capHeight, thing.angle].every(sane) && thing.capHeight > 0
      : thing.subpaths.every(({ x, y, segments }) => sane(x) && sane(y) && segments.every((segment) => Object.values(segment).every(sane)));
  const things = read.things.filter(near);
  const lost = read.things.length - things.length;
  return lost === 0 ? read : { ...read, things, findings: [...read.findings, finding.importLeftOut('things that lie beyond all reach', lost)] };
}

/**
 * Imported things as drawn things of a job, and the layers they lie on when there is more than one.
 * Things larger or farther away than a job can hold are left out; their number is told.
 */
export function placeThings(
  things: readonly ImportedThing[],
  { scale = 1, dx = 0, dy = 0, prefix, taken, shapes, apart = false, group }: Placing,
): { items: Item[]; layers: Layer[]; leftOut: number } {
  const names = [...new Set(things.map(({ layer }) => layer))];
  const layers =
    names.length > 1 ? names.map((name, i) => ({ id: `${prefix}-layer-${i + 1}`, name: name.slice(0, 80) || 'no name', hidden: false, locked: false })) : [];
  const layerId = new Map(layers.map((layer, i) => [names[i], layer.id]));
  const tidy = (value: number) => Math.round(value * 1e5) / 1e5;
  let n = 0;
  const nextId = () => {
    do n++;
    while (taken[`${prefix}${n}`]);
    return `${prefix}${n}`;
  };
  const single = (thing: ImportedThing): ImportedThing[] =>
    apart && thing.kind === 'path' && thing.fill !== 'none' && thing.subpaths.length > 1
      ? thing.subpaths.map((subpath) => ({ ...thing, subpaths: [subpath] }))
      : [thing];
  const inputs = things.flatMap(single).map((thing): ItemInput => {
    const common = { id: nextId(), name: thing.name.slice(0, 120), layer: layerId.get(thing.layer), ...(group ? { group } : {}) };
    if (thing.kind === 'text')
      return {
        kind: 'text',
        ...common,
        x: thing.x * scale + dx,
        y: thing.y * scale + dy,
        angle: thing.angle,
        text: thing.text,
        face: thing.face,
        capHeight: thing.capHeight * scale,
        align: thing.align,
      };
    if (shapes && thing.fill !== 'none' && thing.subpaths.length === 1) {
      const onBoard = transformPath(thing.subpaths, [scale, 0, 0, scale, dx, dy]);
      const known = recognise(onBoard[0], shapes);
      if (known) return { ...common, ...known };
    }
    const [mx, my] = middleOf(thing.subpaths);
    const [x, y] = [tidy(mx * scale + dx), tidy(my * scale + dy)];
    // Moved onto the board and about its own middle in one step.
    const own: Matrix = [scale, 0, 0, scale, dx - x, dy - y];
    return {
      kind: 'path',
      ...common,
      x,
      y,
      d: formatPath(transformPath(thing.subpaths, own)),
      fill: thing.fill,
      ...(thing.strokeWidth ? { strokeWidth: thing.strokeWidth * scale } : {}),
    };
  });
  const items = inputs.flatMap((input) => {
    const parsed = Item.safeParse(input);
    return parsed.success ? [parsed.data] : [];
  });
  return { items, layers, leftOut: inputs.length - items.length };
}
