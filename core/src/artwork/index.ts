/**
 * Drawn things to what can be cut: every thing is path data about its own origin, placed on the
 * board by one matrix; filled things become regions, line work becomes lines.
 */
import { unite, type Contour, type DrawnLine, type Line, type Region } from '../geometry/index.ts';
import type { Item, Job } from '../job/index.ts';
import { finding, type Finding } from '../findings/index.ts';
import { drawSubpaths, parsePath, placeOf, transformPath, type Subpath } from './path.ts';
import { shapePath } from './shapes.ts';
import { faceById, setText, SINGLE_LINE, uniteGlyphs, type Font, type SetText } from './text/index.ts';

export * from './path.ts';
export { fitContour } from './fit.ts';
export { holeCentres, shapePath } from './shapes.ts';

/** Gives an opened font by face id, or undefined when it is not there. */
export type FontSource = (face: string) => Font | undefined;

export interface DrawContext {
  fonts: FontSource;
  /** Greatest distance of a flattened outline from the curve, mm. */
  tolerance: number;
  /** The things words may stand on. */
  items: Record<string, Item>;
}

export interface DrawnItem {
  regions: Region[];
  lines: DrawnLine[];
  /** Of words: the outlines or strokes of each letter by itself, in the order they were typed. */
  letters?: DrawnLetter[];
  findings: Finding[];
}

export interface DrawnLetter {
  /** As typed; several characters where a face joins them. */
  said: string;
  lines: Line[];
}

export interface ItemPath {
  /** On the board. Words come letter by letter in `letters`, all of them in `subpaths`. */
  subpaths: Subpath[];
  letters?: Subpath[][];
  /** What each of the letters is, as typed. */
  said?: string[];
  fill: 'nonzero' | 'evenodd' | 'none';
  findings: Finding[];
}

/** A thing as path data on the board: what is edited, exported and drawn from. */
export function itemPath(item: Item, context: DrawContext, depth = 0): ItemPath {
  const place = placeOf(item);
  if (item.kind === 'picture' || item.hidden) return { subpaths: [], fill: 'none', findings: [] };
  if (item.kind === 'path') {
    const { subpaths, why } = parsePath(item.d);
    return { subpaths: transformPath(subpaths, place), fill: item.fill, findings: why ? [finding.badPath(item.id, why)] : [] };
  }
  if (item.kind !== 'text') {
    const fill = item.kind === 'line' || (item.kind === 'arc' && Math.abs(item.sweep) < 360) ? 'none' : 'nonzero';
    return { subpaths: transformPath(shapePath(item), place), fill, findings: [] };
  }
  const strokes = item.face === SINGLE_LINE;
  const fill = strokes ? 'none' : 'nonzero';
  if (item.text.trim() === '') return { subpaths: [], fill, findings: [finding.emptyText(item.id)] };
  const font = strokes ? null : context.fonts(item.face);
  if (font === undefined) return { subpaths: [], fill, findings: [finding.unknownFace(item.id, item.face)] };
  const findings: Finding[] = [];
  let track: { line: Line; closed: boolean } | undefined;
  if (item.baseline.kind === 'path') {
    const on = context.items[item.baseline.item];
    // Words that stand on words that stand on words: once is enough.
    const path = on && on.id !== item.id && depth === 0 ? itemPath({ ...on, hidden: false }, context, depth + 1).subpaths[0] : undefined;
    if (path) {
      const drawn = drawSubpaths([path], context.tolerance, false);
      track = drawn.contours[0] ? { line: drawn.contours[0], closed: true } : drawn.lines[0] && { line: drawn.lines[0], closed: false };
    }
    if (!track) findings.push(finding.noBaseline(item.id));
  }
  let set: SetText;
  try {
    set = setText(item, font, track);
    if (!set.letters.every((letter) => letter.every(isFinitePath))) throw new RangeError('outlines without end');
  } catch (error) {
    // Only a font of somebody's own can be so damaged that it opens and cannot be drawn.
    if (strokes) throw error;
    return { subpaths: [], fill, findings: [finding.damagedFace(item.id, faceById(item.face)?.name ?? item.face)] };
  }
  if (set.missing.length) findings.push(finding.missingCharacters(item.id, set.missing, faceById(item.face)?.name ?? (item.name || item.face)));
  if (track && set.fellOff) findings.push(finding.lettersFellOff(item.id, set.fellOff));
  const letters = set.letters.map((letter) => transformPath(letter, place));
  return { subpaths: letters.flat(), letters, said: set.said, fill, findings };
}

const isFinitePath = ({ x, y, segments }: Subpath): boolean => Number.isFinite(x + y) && segments.every((s) => Number.isFinite(s.x + s.y));

/** A thing flattened: regions of what is filled, lines of line work, on the board. */
export function drawItem(item: Item, context: DrawContext): DrawnItem {
  const { subpaths, letters, said = [], fill, findings } = itemPath(item, context);
  const parts = (letters ?? [subpaths]).map((part) => drawSubpaths(part, context.tolerance, fill !== 'none'));
  const contours = parts.flatMap((part) => part.contours);
  const lines = parts.flatMap((part) => part.lines);
  const drawn = letters ? { letters: parts.map((part, k) => ({ said: said[k] ?? '', lines: [...part.contours, ...part.lines] })) } : {};
  if (fill === 'none') {
    const all = [...contours.map((line) => ({ line, closed: true })), ...lines.map((line) => ({ line, closed: false }))];
    return { regions: [], lines: all, ...drawn, findings };
  }
  // A mirrored thing turns the other way round; the non-zero rule does not mind.
  return { regions: item.kind === 'text' ? uniteGlyphs(contours) : unite(contours as Contour[], fill), lines: [], ...drawn, findings };
}

/** Is the thing, or the layer it lies on, hidden? Hidden things are neither drawn nor cut. */
export const isHidden = (item: Item, job: Pick<Job, 'layers'>): boolean =>
  item.hidden || (job.layers.find(({ id }) => id === (item.layer ?? job.layers[0]?.id))?.hidden ?? false);

/** Keeps what was drawn of every thing, so that only what changed is drawn again. */
export class ArtCache {
  private readonly kept = new Map<string, { key: string; drawn: DrawnItem }>();

  /** Draws a thing, or gives what was drawn of it before: the very same object when nothing changed. */
  draw(item: Item, context: DrawContext): DrawnItem {
    const on = item.kind === 'text' && item.baseline.kind === 'path' ? context.items[item.baseline.item] : undefined;
    const known = item.kind !== 'text' || item.face === SINGLE_LINE || context.fonts(item.face) !== undefined;
    const key = JSON.stringify([item, on, context.tolerance, known]);
    const kept = this.kept.get(item.id);
    if (kept?.key === key) return kept.drawn;
    const drawn = drawItem(item, context);
    this.kept.set(item.id, { key, drawn });
    return drawn;
  }

  /** Forgets things that are no longer in the job. */
  keepOnly(items: Record<string, Item>): void {
    for (const id of this.kept.keys()) if (!items[id]) this.kept.delete(id);
  }
}
