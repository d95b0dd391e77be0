/** Which drawn thing every run of a cut belongs to, and of words which letter: what is run, stopped and gone on with is told by it. */
import { distanceToEdges, emptyBox, growBox, insideContour, type Box } from '../geometry/index.ts';
import type { Span, Toolpath } from '../toolpath/index.ts';
import { areaOf, boxOf, firstCut, stretchesOf, thingAt } from './artorder.ts';
import type { PlannedItem } from './items.ts';

/**
 * The same path with spans that go from lift to lift and name what they cut.
 *
 * @param things what the cut works on
 * @param reach how far from a thing its cut may run, mm
 */
export function named(path: Toolpath, things: readonly PlannedItem[], clearance: number, reach: number): Toolpath {
  if (things.length === 0) return path;
  const boxes = things.map(boxOf);
  const letters = new Map<PlannedItem, Box[]>();
  const spans: Span[] = [];
  for (const stretch of stretchesOf(path, clearance)) {
    const thing = things[things.length === 1 ? 0 : thingAt(path, stretch, things, boxes, reach)];
    if (!letters.has(thing))
      letters.set(
        thing,
        (thing.letters ?? []).map(({ lines }) => lines.reduce((box, { xy }) => growBox(box, xy), emptyBox())),
      );
    const part = letterAt(thing, letters.get(thing)!, ...firstCut(path, stretch));
    for (const span of stretch.spans) spans.push({ ...span, item: thing.item.id, ...(part === null ? {} : { part, letter: thing.letters![part].said }) });
  }
  return { ...path, spans };
}

/** The letter of words that a point lies in or, at its edge or beside it, is nearest to; null when there is none. */
function letterAt({ letters = [] }: PlannedItem, boxes: readonly Box[], x: number, y: number): number | null {
  // Far letters are told by their boxes alone: only the near ones are looked at edge by edge.
  const near = boxes
    .map((box, k) => ({ k, off: Math.max(box.minX - x, x - box.maxX, box.minY - y, y - box.maxY, 0) }))
    .filter(({ k }) => letters[k].lines.length > 0)
    .sort((a, b) => a.off - b.off);
  let within: number | null = null;
  for (const { k, off } of near) {
    if (off > 0) break;
    const inside = letters[k].lines.filter(({ xy }) => insideContour(xy, x, y)).length % 2 === 1;
    if (inside && (within === null || areaOf(boxes[k]) < areaOf(boxes[within]))) within = k;
  }
  if (within !== null) return within;
  let nearest: number | null = null;
  let away = Infinity;
  for (const { k, off } of near) {
    if (off > away) break;
    const { lines } = letters[k];
    const distance = distanceToEdges([{ outer: lines[0], holes: lines.slice(1) }], x, y);
    if (distance < away) [nearest, away] = [k, distance];
  }
  return nearest;
}
