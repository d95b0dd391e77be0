/**
 * Edits of drawn things, each one named step: plain data in, changed things out. The same
 * functions serve the screen (in a worker), tests and the command line.
 */
import {
  clipLines,
  emptyBox,
  growBox,
  intersect,
  linksWithin,
  offset,
  strokeRegions,
  subtract,
  uniteRegions,
  type Box,
  type Join,
  type OnContour,
  type Region,
} from '../geometry/index.ts';
import { makeItem, type Item, type Job, type PathItem } from '../job/index.ts';
import { roundCorners } from './corners.ts';
import { barAt, type Bar } from './bridges.ts';
import { BOARD, type Change } from './change.ts';
import { fitContour } from './fit.ts';
import { drawItem, itemPath, type DrawContext, type DrawnItem } from './index.ts';
import { nest } from './import/dxf.ts';
import { applyMatrix, formatPath, parsePath, placeOf, transformPath, type Matrix, type Subpath } from './path.ts';
import { meetEdit, type MeetEdit } from './meets.ts';
import { recognise } from './recognise.ts';
import { freshId, pathThing, regionPaths } from './thing.ts';

export { freshId, pathThing, regionPaths } from './thing.ts';

export { BOARD, changedJob, type Change } from './change.ts';

/** What is done to things by their ids, or to the line that is pressed. */
export type Edit = MeetEdit | ThingEdit;

type ThingEdit =
  | { do: 'turn'; ids: string[]; by: number; about?: [number, number] }
  | { do: 'scale'; ids: string[]; x: number; y: number; about?: [number, number] }
  | { do: 'mirror'; ids: string[]; across: 'x' | 'y' }
  | { do: 'align'; ids: string[]; edge: 'left' | 'middle' | 'right' | 'bottom' | 'centre' | 'top'; to: 'each other' | 'board' }
  | { do: 'spread'; ids: string[]; along: 'x' | 'y' }
  | { do: 'unite' | 'subtract' | 'intersect'; ids: string[] }
  | { do: 'offset'; ids: string[]; by: number; join: Join }
  | { do: 'corners'; ids: string[]; radius: number; how: 'fillet' | 'chamfer'; node?: [number, number] }
  /** What nearly touches becomes one: a bar of a width over every gap that is not wider than said. */
  | { do: 'bridge gaps'; ids: string[]; gap: number; width: number }
  | { do: 'clear around'; ids: string[]; by: string; margin: number }
  | { do: 'rows'; ids: string[]; columns: number; rows: number; dx: number; dy: number }
  | { do: 'ring'; ids: string[]; count: number; about: [number, number] }
  /** As large as it goes into the board or the box of another thing, with a margin all round, in its middle. */
  | { do: 'fit'; ids: string[]; into: string; margin: number }
  /** The order things are listed and cut in. */
  | { do: 'order'; ids: string[]; how: 'left to right' | 'inside out' | 'first' | 'last' }
  /** One bridge across a stroke, by hand. */
  | { do: 'bridge'; ids: string[]; at: [number, number]; width: number }
  | { do: 'thicken'; ids: string[]; width: number }
  | { do: 'to paths'; ids: string[] }
  | { do: 'take apart'; ids: string[] };

/** Box of what is drawn of a thing; a picture's own frame. Infinite the wrong way round when nothing is drawn. */
export function drawnBox(item: Item, drawn: DrawnItem): Box {
  const box = emptyBox();
  for (const region of drawn.regions) growBox(box, region.outer.xy);
  for (const { line } of drawn.lines) growBox(box, line.xy);
  if (item.kind === 'picture') {
    const place = placeOf(item);
    for (const [sx, sy] of [[-1, -1], [1, -1], [1, 1], [-1, 1]]) growBox(box, applyMatrix(place, (sx * item.width) / 2, (sy * item.height) / 2)); // prettier-ignore
  }
  return box;
}

const middle = (box: Box): [number, number] => [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
const joinBoxes = (boxes: readonly Box[]): Box =>
  boxes.reduce((all, b) => (b.minX <= b.maxX ? growBox(all, [b.minX, b.minY, b.maxX, b.maxY]) : all), emptyBox());
const tidy = (value: number) => Math.round(value * 1e5) / 1e5;
const tidyTurn = (degrees: number) => tidy(((((degrees + 180) % 360) + 360) % 360) - 180);

/** Turns a thing by degrees about a point. */
export function turned(item: Item, by: number, [cx, cy]: [number, number]): Item {
  const m = placeOf({ x: 0, y: 0, angle: by, mirror: false });
  const [x, y] = applyMatrix(m, item.x - cx, item.y - cy);
  return { ...item, x: tidy(cx + x), y: tidy(cy + y), angle: tidyTurn(item.angle + by) };
}

/** Mirrors a thing: across `x` left and right change places, across `y` top and bottom. */
export function mirrored(item: Item, across: 'x' | 'y', [cx, cy]: [number, number]): Item {
  // Top to bottom is left to right and half a turn.
  const swapped = { ...item, x: tidy(2 * cx - item.x), angle: tidyTurn(-item.angle), mirror: !item.mirror };
  return across === 'x' ? swapped : turned(swapped, 180, [cx, cy]);
}

/** Scales a thing's own figures; null when they cannot say what it would become. */
function scaled(item: Item, sx: number, sy: number, [cx, cy]: [number, number]): Item | null {
  const [x, y] = [tidy(cx + sx * (item.x - cx)), tidy(cy + sy * (item.y - cy))];
  const quarter = Math.abs(item.angle % 180) === 90;
  const [kx, ky] = quarter ? [sy, sx] : [sx, sy];
  if (sx !== sy) {
    if (item.angle % 90 !== 0) return null;
    if (item.kind === 'rectangle' && item.radius === 0) return { ...item, x, y, width: tidy(item.width * kx), height: tidy(item.height * ky) };
    if (item.kind === 'ellipse' || item.kind === 'picture') return { ...item, x, y, width: tidy(item.width * kx), height: tidy(item.height * ky) };
    if (item.kind === 'path') return { ...item, x, y, d: formatPath(transformPath(parsePath(item.d).subpaths, [kx, 0, 0, ky, 0, 0])) };
    return null;
  }
  const k = sx;
  const all = (...names: string[]) => Object.fromEntries(names.map((name) => [name, tidy((item as unknown as Record<string, number>)[name] * k)]));
  switch (item.kind) {
    case 'text': {
      const { baseline } = item;
      return {
        ...item,
        x,
        y,
        ...all('capHeight', 'letterSpacing'),
        ...(item.fitWidth ? all('fitWidth') : {}),
        baseline: baseline.kind === 'arc' ? { ...baseline, radius: tidy(baseline.radius * k) } : baseline,
      };
    }
    case 'rectangle':
      return { ...item, x, y, ...all('width', 'height', 'radius') };
    case 'ellipse':
    case 'picture':
      return { ...item, x, y, ...all('width', 'height') };
    case 'polygon':
      return { ...item, x, y, ...all('diameter') };
    case 'star':
      return { ...item, x, y, ...all('diameter', 'inner') };
    case 'slot':
      return { ...item, x, y, ...all('length', 'width') };
    case 'arrow':
      return { ...item, x, y, ...all('length', 'shaft', 'head', 'headLength') };
    case 'line':
      return { ...item, x, y, ...all('length') };
    case 'arc':
      return { ...item, x, y, ...all('radius') };
    case 'holes': {
      const { layout } = item;
      const by = (value: number) => tidy(value * k);
      const grown =
        layout.kind === 'rows'
          ? { ...layout, dx: by(layout.dx), dy: by(layout.dy) }
          : layout.kind === 'circle'
            ? { ...layout, across: by(layout.across) }
            : { ...layout, width: by(layout.width), height: by(layout.height), inset: by(layout.inset) };
      return { ...item, x, y, ...all('diameter'), layout: grown };
    }
    case 'path':
      return { ...item, x, y, d: formatPath(transformPath(parsePath(item.d).subpaths, [k, 0, 0, k, 0, 0])), ...(item.strokeWidth ? all('strokeWidth') : {}) };
  }
}

/** What an edit works on: the things selected that are not locked, and what is drawn of them. */
interface Selected {
  job: Job;
  items: Item[];
  boxes: Box[];
  /** The box of all of them, and its middle. */
  whole: Box;
  centre: [number, number];
  /** Greatest deviation of what is drawn anew, mm. */
  fit: number;
  context: DrawContext;
  draw: (item: Item) => DrawnItem;
  regionsOf: (item: Item) => Region[];
}
type Changed = Record<string, Item | null>;
type EditOf<D extends Edit['do']> = Extract<ThingEdit, { do: D }>;

function turn({ items, centre }: Selected, edit: EditOf<'turn'>): Change {
  const changed: Changed = {};
  for (const item of items) changed[item.id] = turned(item, edit.by, edit.about ?? centre);
  return { items: changed };
}

function mirror({ items, centre }: Selected, edit: EditOf<'mirror'>): Change {
  const changed: Changed = {};
  for (const item of items) changed[item.id] = mirrored(item, edit.across, centre);
  return { items: changed };
}

function scale({ items, centre, context }: Selected, edit: EditOf<'scale'>): Change {
  const changed: Changed = {};
  if (!(edit.x > 0 && edit.y > 0 && edit.x < 1e4 && edit.y < 1e4)) throw new Error('The size must be larger than zero.');
  const about = edit.about ?? centre;
  let turnedToPaths = 0;
  for (const item of items) {
    const grown = scaled(item, edit.x, edit.y, about);
    if (grown) changed[item.id] = grown;
    else {
      const { subpaths, fill } = itemPath(item, context);
      const m: Matrix = [edit.x, 0, 0, edit.y, about[0] - edit.x * about[0], about[1] - edit.y * about[1]];
      changed[item.id] = pathThing(item, transformPath(subpaths, m), fill);
      turnedToPaths++;
    }
  }
  return { items: changed, ...(turnedToPaths ? { note: 'Stretched unevenly, it is a free path now: its figures can no longer be typed.' } : {}) };
}

function align({ job, items, boxes, whole }: Selected, edit: EditOf<'align'>): Change {
  const changed: Changed = {};
  const board = { minX: 0, minY: 0, maxX: job.board.width, maxY: job.board.height };
  const frame = edit.to === 'board' ? board : whole;
  // Grouped things keep their places within the group.
  const units = groupsOf(items, boxes);
  for (const unit of units) {
    const b = unit.box;
    const dx =
      edit.edge === 'left' ? frame.minX - b.minX : edit.edge === 'right' ? frame.maxX - b.maxX : edit.edge === 'middle' ? middle(frame)[0] - middle(b)[0] : 0;
    const dy =
      edit.edge === 'bottom' ? frame.minY - b.minY : edit.edge === 'top' ? frame.maxY - b.maxY : edit.edge === 'centre' ? middle(frame)[1] - middle(b)[1] : 0;
    for (const item of unit.items) changed[item.id] = { ...item, x: tidy(item.x + dx), y: tidy(item.y + dy) };
  }
  return { items: changed };
}

function spread({ items, boxes, whole }: Selected, edit: EditOf<'spread'>): Change {
  const changed: Changed = {};
  const units = groupsOf(items, boxes);
  if (units.length < 3) throw new Error('Spreading evenly needs three things or more.');
  const [low, high] = edit.along === 'x' ? (['minX', 'maxX'] as const) : (['minY', 'maxY'] as const);
  units.sort((a, b) => a.box[low] + a.box[high] - b.box[low] - b.box[high]);
  const room = whole[high] - whole[low] - units.reduce((sum, { box }) => sum + box[high] - box[low], 0);
  const gap = room / (units.length - 1);
  let at = whole[low];
  for (const unit of units) {
    const by = at - unit.box[low];
    for (const item of unit.items) changed[item.id] = edit.along === 'x' ? { ...item, x: tidy(item.x + by) } : { ...item, y: tidy(item.y + by) };
    at += unit.box[high] - unit.box[low] + gap;
  }
  return { items: changed };
}

function combine({ items, fit, regionsOf }: Selected, edit: EditOf<'unite' | 'subtract' | 'intersect'>): Change {
  const changed: Changed = {};
  if (items.length < 2) throw new Error('This needs two things or more.');
  const [first, ...rest] = items.map(regionsOf);
  const regions =
    edit.do === 'unite'
      ? uniteRegions([first, ...rest].flat())
      : edit.do === 'subtract'
        ? subtract(first, rest.flat())
        : rest.reduce((sum, other) => intersect(sum, other), first);
  if (regions.length === 0) throw new Error(edit.do === 'intersect' ? 'These things have nothing in common.' : 'Nothing would be left.');
  for (const item of items) changed[item.id] = null;
  changed[items[0].id] = pathThing(items[0], regionPaths(regions, fit), 'nonzero');
  return { items: changed };
}

function bridgeGaps({ items, fit, regionsOf }: Selected, edit: EditOf<'bridge gaps'>): Change {
  const regions = uniteRegions(items.flatMap(regionsOf));
  const outlines = regions.map(({ outer }) => outer);
  const links = linksWithin(outlines, edit.gap);
  if (links.length === 0) throw new Error('No two of these outlines are that near to each other.');
  const bars = links.map(({ at: [a, b], distance }): Region => {
    const [ux, uy] = [(b.x - a.x) / distance, (b.y - a.y) / distance];
    const half = edit.width / 2;
    // A little into both, so that no seam stays between.
    const point = (from: OnContour, along: number, side: number) => [from.x + ux * along - uy * side, from.y + uy * along + ux * side];
    const xy = Float64Array.from([...point(a, -half, -half), ...point(b, half, -half), ...point(b, half, half), ...point(a, -half, half)]);
    return { outer: { xy, smooth: new Uint8Array(4) }, holes: [] };
  });
  const changed: Changed = Object.fromEntries(items.map(({ id }) => [id, null]));
  changed[items[0].id] = pathThing(items[0], regionPaths(uniteRegions([...regions, ...bars]), fit), 'nonzero');
  return { items: changed, note: `${links.length} ${links.length === 1 ? 'gap is' : 'gaps are'} bridged.` };
}

function offsetBy({ job, items, fit, regionsOf }: Selected, edit: EditOf<'offset'>): Change {
  const changed: Changed = {};
  for (const item of items) {
    const regions = offset(regionsOf(item), edit.by, edit.join, fit);
    if (regions.length === 0) throw new Error('Nothing is left: it is narrower than twice the distance.');
    const id = freshId(item.id, (other) => other in job.items || other in changed);
    changed[id] = pathThing(item, regionPaths(regions, fit), 'nonzero', id);
  }
  return { items: changed };
}

function corners({ items, context }: Selected, edit: EditOf<'corners'>): Change {
  const changed: Changed = {};
  let left = 0;
  for (const item of items) {
    const { subpaths, fill } = itemPath(item, context);
    const rounded = roundCorners(subpaths, edit.radius, edit.how, edit.node);
    left += rounded.left;
    if (rounded.done) changed[item.id] = pathThing(item, rounded.subpaths, fill);
  }
  if (Object.keys(changed).length === 0) throw new Error('There is no corner between straight lines with room for that.');
  return {
    items: changed,
    ...(left ? { note: `${left} ${left === 1 ? 'corner has' : 'corners have'} no room for that, or meet a curve, and stay sharp.` } : {}),
  };
}

function clearAround({ job, items, fit, draw, regionsOf }: Selected, edit: EditOf<'clear around'>): Change {
  const changed: Changed = {};
  const shape = job.items[edit.by];
  if (!shape) throw new Error('The thing to keep clear of is not there any more.');
  const keepOut = offset(filledIn(regionsOf(shape)), edit.margin, 'round', fit);
  if (keepOut.length === 0) throw new Error('The thing to keep clear of encloses nothing.');
  for (const item of items) {
    if (item.id === shape.id) continue;
    const drawn = draw(item);
    if (drawn.regions.length) {
      const regions = subtract(drawn.regions, keepOut);
      changed[item.id] = regions.length ? pathThing(item, regionPaths(regions, fit), 'nonzero') : null;
    } else if (drawn.lines.length) {
      const frame = growBox(joinBoxes([drawnBox(item, drawn)]), []);
      const outside = subtract([{ outer: boxContour(frame, 10), holes: [] }], keepOut);
      const lines = clipLines(
        drawn.lines.map(({ line, closed }) => (closed ? closedUp(line) : line)),
        outside,
      );
      changed[item.id] = lines.length
        ? pathThing(
            item,
            lines.map((line) => fitContour(line, fit, false)),
            'none',
          )
        : null;
    }
  }
  return { items: changed };
}

function repeat({ job, items }: Selected, edit: EditOf<'rows' | 'ring'>): Change {
  const changed: Changed = {};
  const count = edit.do === 'rows' ? edit.columns * edit.rows : edit.count;
  if (!(count >= 1 && count * items.length <= 20_000)) throw new Error('That would be more than twenty thousand things.');
  for (let k = 1; k < count; k++) {
    const groups = new Map<string, string>();
    for (const item of items) {
      const id = freshId(item.id, (other) => other in job.items || other in changed);
      let group = item.group;
      if (group)
        groups.set(group, (group = groups.get(group) ?? freshId(group, (g) => Object.values({ ...job.items, ...changed }).some((i) => i?.group === g))));
      const copy =
        edit.do === 'ring'
          ? turned(item, (360 * k) / count, edit.about)
          : { ...item, x: tidy(item.x + edit.dx * (k % edit.columns)), y: tidy(item.y + edit.dy * Math.floor(k / edit.columns)) };
      changed[id] = { ...copy, id, ...(group ? { group } : {}) };
    }
  }
  return { items: changed };
}

function fitInto({ job, items, whole, centre, draw }: Selected, edit: EditOf<'fit'>): Change {
  const changed: Changed = {};
  const into = edit.into === BOARD ? undefined : job.items[edit.into];
  if (edit.into !== BOARD && !into) throw new Error('The plate is not there any more.');
  const frame = into ? drawnBox(into, draw(into)) : { minX: 0, minY: 0, maxX: job.board.width, maxY: job.board.height };
  const [width, height] = [frame.maxX - frame.minX - 2 * edit.margin, frame.maxY - frame.minY - 2 * edit.margin];
  if (!(width > 0 && height > 0)) throw new Error('The margins leave no room.');
  const k = Math.min(width / (whole.maxX - whole.minX), height / (whole.maxY - whole.minY));
  if (!(k > 1e-4 && k < 1e4)) throw new Error('There is nothing drawn that could be fitted.');
  const [dx, dy] = [middle(frame)[0] - centre[0], middle(frame)[1] - centre[1]];
  // Scaling evenly never fails: every kind of thing can be larger or smaller.
  for (const item of items) {
    const grown = scaled(item, k, k, centre)!;
    changed[item.id] = { ...grown, x: tidy(grown.x + dx), y: tidy(grown.y + dy) };
  }
  return { items: changed };
}

function reorder({ job, items, boxes }: Selected, edit: EditOf<'order'>): Change {
  const chosen = new Set(items.map(({ id }) => id));
  const rank = items.map((item, i) => ({ id: item.id, box: boxes[i], area: (boxes[i].maxX - boxes[i].minX) * (boxes[i].maxY - boxes[i].minY) }));
  if (edit.how === 'left to right') rank.sort((a, b) => middle(a.box)[0] - middle(b.box)[0]);
  if (edit.how === 'inside out') rank.sort((a, b) => a.area - b.area);
  const sorted = rank.map(({ id }) => id);
  const others = job.itemOrder.filter((id) => !chosen.has(id));
  if (edit.how === 'first') return { items: {}, order: [...sorted, ...others], toCutIn: true };
  if (edit.how === 'last') return { items: {}, order: [...others, ...sorted], toCutIn: true };
  // Sorted among themselves, in the places they have together.
  return { items: {}, order: job.itemOrder.map((id) => (chosen.has(id) ? sorted.shift()! : id)), toCutIn: true };
}

function bridge({ items, job, regionsOf }: Selected, edit: EditOf<'bridge'>): Change {
  const [item] = items;
  const bar = barAt(regionsOf(item), edit.at, edit.width);
  if (!bar) throw new Error('Press on a stroke between an island and what is around it.');
  return { items: bridgeThings([bar], (id) => id in job.items) };
}

/** Bars as things of their own: they are pulled to where they hide best, and stay when the words change. */
export function bridgeThings(bars: readonly Bar[], taken: (id: string) => boolean): Record<string, Item> {
  const out: Record<string, Item> = {};
  for (const { x, y, length, width, angle } of bars) {
    const id = freshId('bridge', (other) => taken(other) || other in out);
    const tidy = (value: number) => Math.round(value * 1e3) / 1e3;
    out[id] = makeItem({
      kind: 'rectangle',
      id,
      name: 'Bridge',
      x: tidy(x),
      y: tidy(y),
      width: tidy(length),
      height: width,
      angle: tidy(angle),
      bridge: true,
    });
  }
  return out;
}

function thicken({ items, fit, draw }: Selected, edit: EditOf<'thicken'>): Change {
  const changed: Changed = {};
  for (const item of items) {
    const drawn = draw(item);
    const open = drawn.lines.filter(({ closed }) => !closed).map(({ line }) => line);
    const rings = drawn.lines.filter(({ closed }) => closed).map(({ line }) => line);
    const regions = uniteRegions([...strokeRegions(open, edit.width, false), ...strokeRegions(rings, edit.width, true)]);
    if (regions.length) changed[item.id] = pathThing(item, regionPaths(regions, fit), 'nonzero');
  }
  if (Object.keys(changed).length === 0) throw new Error('Only lines can be made into shapes; this is a shape already.');
  return { items: changed };
}

function toPaths({ items, fit, regionsOf, context }: Selected): Change {
  const changed: Changed = {};
  for (const item of items) {
    if (item.kind === 'path' || item.kind === 'picture') continue;
    const { subpaths, fill } = itemPath(item, context);
    // Words that overlap are united, so that what is carved stays the same.
    if (item.kind === 'text' && fill !== 'none') changed[item.id] = pathThing(item, regionPaths(regionsOf(item), fit), 'nonzero');
    else changed[item.id] = pathThing(item, subpaths, fill);
  }
  return { items: changed };
}

/** Shapes that stand apart, each with its holes; of a single one its outline and its holes. */
function piecesOf(subpaths: readonly Subpath[], fill: PathItem['fill']): { subpaths: Subpath[]; fill: PathItem['fill'] }[] {
  const shapes = nest([...subpaths]);
  return shapes.length > 1 ? shapes : subpaths.map((one) => ({ subpaths: [one], fill }));
}

/** A piece as the shape it is, so that it has figures to type; or as a free path. */
function partThing(like: Item, { subpaths, fill }: { subpaths: Subpath[]; fill: PathItem['fill'] }, tolerance: number, id = like.id): Item {
  const known = subpaths.length === 1 && fill !== 'none' ? recognise(subpaths[0], tolerance) : null;
  return known ? makeItem({ ...known, id, name: like.name, layer: like.layer, group: like.group }) : pathThing(like, subpaths, fill, id);
}

function takeApart({ job, items, context }: Selected): Change {
  const changed: Changed = {};
  for (const item of items) {
    const { subpaths, letters, fill } = itemPath(item, context);
    const parts =
      letters && letters.length > 1
        ? letters.map((letter) => ({ subpaths: letter, fill }))
        : fill === 'none'
          ? subpaths.map((s) => ({ subpaths: [s], fill }))
          : piecesOf(subpaths, fill);
    if (parts.length < 2) continue;
    changed[item.id] = partThing(item, parts[0], job.tolerance);
    for (const part of parts.slice(1)) {
      const id = freshId(item.id, (other) => other in job.items || other in changed);
      changed[id] = partThing(item, part, job.tolerance, id);
    }
  }
  if (Object.keys(changed).length === 0) throw new Error('It is one piece already.');
  return { items: changed };
}

/** What each edit makes of what is selected. */
const EDITS: { [D in ThingEdit['do']]: (selected: Selected, edit: EditOf<D>) => Change } = {
  turn: turn,
  mirror: mirror,
  scale: scale,
  align: align,
  spread: spread,
  unite: combine,
  subtract: combine,
  intersect: combine,
  offset: offsetBy,
  corners: corners,
  'bridge gaps': bridgeGaps,
  'clear around': clearAround,
  rows: repeat,
  ring: repeat,
  fit: fitInto,
  order: reorder,
  bridge: bridge,
  thicken: thicken,
  'to paths': toPaths,
  'take apart': takeApart,
};

/**
 * Works out an edit. Things that are locked stay as they are.
 *
 * @throws a sentence when the edit makes no sense for what is selected
 */
export function applyEdit(job: Job, edit: Edit, context: DrawContext): Change {
  if ('reach' in edit) return meetEdit(job, edit, context);
  const locked = new Set(job.layers.filter((layer) => layer.locked).map((layer) => layer.id));
  const items = edit.ids.map((id) => job.items[id]).filter((item) => item && !item.locked && !locked.has(item.layer ?? job.layers[0]?.id ?? ''));
  if (items.length === 0) throw new Error(edit.ids.length ? 'What is selected is locked.' : 'Nothing is selected.');
  const draw = (item: Item) => drawItem(item, context);
  const boxes = items.map((item) => drawnBox(item, draw(item)));
  const whole = joinBoxes(boxes);
  const selected: Selected = {
    job,
    items,
    boxes,
    whole,
    centre: middle(whole),
    fit: job.tolerance / 2,
    context,
    draw,
    regionsOf: (item) => draw(item).regions,
  };
  return (EDITS[edit.do] as (selected: Selected, edit: ThingEdit) => Change)(selected, edit);
}

/** Regions without their holes: what a badge covers, not only its rim. */
const filledIn = (regions: readonly Region[]): Region[] => uniteRegions(regions.map(({ outer }) => ({ outer, holes: [] })));

const boxContour = (box: Box, by: number) => {
  const [x0, y0, x1, y1] = [box.minX - by, box.minY - by, box.maxX + by, box.maxY + by];
  return { xy: Float64Array.of(x0, y0, x1, y0, x1, y1, x0, y1), smooth: new Uint8Array(4) };
};

const closedUp = ({ xy, smooth }: { xy: Float64Array; smooth: Uint8Array }) => ({
  xy: Float64Array.from([...xy, xy[0], xy[1]]),
  smooth: Uint8Array.from([...smooth, smooth[0]]),
});

function groupsOf(items: readonly Item[], boxes: readonly Box[]): { items: Item[]; box: Box }[] {
  const units = new Map<string, { items: Item[]; boxes: Box[] }>();
  items.forEach((item, i) => {
    const key = item.group ? `group ${item.group}` : `thing ${item.id}`;
    const unit = units.get(key) ?? { items: [], boxes: [] };
    unit.items.push(item);
    unit.boxes.push(boxes[i]);
    units.set(key, unit);
  });
  return [...units.values()].map((unit) => ({ items: unit.items, box: joinBoxes(unit.boxes) }));
}
