/**
 * Words to outlines: sized by cap height, kerned, set in lines, straight, on an arc or along a
 * path. Faces are fonts, or our own single-line alphabet whose letters are open strokes.
 */
import { create, type Font } from 'fontkit';
import { regionsBox, unite, type Contour, type Line, type Region } from '../../geometry/index.ts';
import type { TextItem } from '../../job/index.ts';
import { drawSubpaths, raised, times, transformPath, type Matrix, type Segment, type Subpath } from '../path.ts';
import { STROKE_CAP, strokeGlyph } from './stroke.ts';

export { FACES, faceById, SINGLE_LINE, type Face } from './faces.ts';
export type { Font } from 'fontkit';

export type TextSetting = Pick<TextItem, 'text' | 'capHeight' | 'lineSpacing' | 'letterSpacing' | 'align'> &
  Partial<Pick<TextItem, 'baseline' | 'fitWidth' | 'pairs'>>;

export interface SetText {
  /** Outlines (strokes, with the single-line alphabet) of all letters, each letter's together. */
  letters: Subpath[][];
  /** What each of those letters is, as typed; several characters where a face joins them. */
  said: string[];
  /** Characters of the text that the face cannot draw, each once. */
  missing: string[];
  /** Of the widest line, mm. */
  width: number;
  lines: number;
  /** Cap height as set, mm: less than asked when the words had to fit a width. */
  capHeight: number;
  /** Letters that found no room on the path they stand on. */
  fellOff: number;
}

/** Opens a TTF, OTF, WOFF or WOFF2 font. Throws a sentence when the bytes are not a font. */
export function openFont(bytes: Uint8Array): Font {
  try {
    const font = create(bytes);
    if (typeof font.layout !== 'function' || !(font.unitsPerEm > 0)) throw new Error('no outlines');
    // A damaged table often shows only when a letter is drawn.
    void font.layout('Ha').glyphs.map((glyph) => glyph.path.commands.length);
    return font;
  } catch (cause) {
    throw new Error('This file is not a font Kerbe can read, or it is damaged.', { cause });
  }
}

/** Height of a flat capital in font units: measured on H, which tables sometimes get wrong. */
export function capHeightOf(font: Font): number {
  if (font.hasGlyphForCodePoint(72)) {
    const { minY, maxY } = font.glyphForCodePoint(72).bbox;
    if (maxY > minY) return maxY;
  }
  return font.capHeight > 0 ? font.capHeight : font.unitsPerEm * 0.7;
}

/** A letter on its line: where it starts, how far it goes, and its outline in its own units. */
interface Letter {
  x: number;
  y: number;
  advance: number;
  said: string;
  outline: Subpath[];
}
interface SetLine {
  letters: Letter[];
  width: number;
}

/**
 * Sets text about its own origin: straight words have the alignment point of their lines at
 * x = 0 and the middle of the block's capitals at y = 0. On an arc the middle of the first line
 * stands where it would stand straight.
 *
 * @param font an opened font, or null for the single-line alphabet
 * @param track the line that words stand on when their baseline is a path: open or closed
 */
export function setText(setting: TextSetting, font: Font | null, track?: { line: Line; closed: boolean }): SetText {
  const missing = new Set<string>();
  const gapOf = pairGap(setting.pairs ?? {}, font ? capHeightOf(font) : STROKE_CAP);
  const lineOf = font ? fontLine(font, missing, gapOf) : strokeLine(missing, gapOf);
  // A no-break space is drawn as a space; some faces have a broken glyph for it.
  const texts = setting.text.replaceAll('\r', '').replaceAll('\u00a0', ' ').split('\n');
  const unitCap = font ? capHeightOf(font) : STROKE_CAP;
  let { capHeight, letterSpacing } = setting;
  const setAll = () => texts.map((text) => lineOf(text, capHeight / unitCap, letterSpacing));
  let lines = setAll();
  const widest = () => Math.max(0, ...lines.map(({ width }) => width));
  if (setting.fitWidth !== undefined && widest() > setting.fitWidth) {
    const k = setting.fitWidth / widest();
    [capHeight, letterSpacing] = [capHeight * k, letterSpacing * k];
    lines = setAll();
  }
  const scale = capHeight / unitCap;
  const step = setting.lineSpacing * capHeight;
  const baseline = setting.baseline ?? { kind: 'straight' };
  const top = ((lines.length - 1) * step) / 2 - capHeight / 2;
  const placed: Subpath[][] = [];
  const said: string[] = [];
  let fellOff = 0;
  lines.forEach(({ letters, width }, i) => {
    const left = setting.align === 'left' ? 0 : setting.align === 'centre' ? -width / 2 : -width;
    for (const letter of letters) {
      const at = left + letter.x;
      let place: Matrix | null;
      if (baseline.kind === 'straight') place = [1, 0, 0, 1, at, top - i * step];
      else if (baseline.kind === 'arc') place = onArc(at, letter.advance, baseline, i * step, capHeight);
      else place = track ? onTrack(track, at + baseline.from - (setting.align === 'left' ? 0 : left), letter.advance, baseline.raise - i * step) : null;
      if (place) {
        placed.push(transformPath(letter.outline, onGrid(times(place, [scale, 0, 0, scale, 0, letter.y]))));
        said.push(letter.said);
      } else fellOff++;
    }
  });
  return { letters: placed, said, missing: [...missing], width: widest(), lines: lines.length, capHeight, fellOff };
}

/** A letter stands on the grid that drawings are united on, so that equal letters come out equal to the last digit. */
const onGrid = ([a, b, c, d, x, y]: Matrix): Matrix => [a, b, c, d, Math.round(x * 1e6) / 1e6, Math.round(y * 1e6) / 1e6];

/** Each letter stands square on the circle under the middle of its advance. */
function onArc(at: number, advance: number, { radius, side }: { radius: number; side: 'over' | 'under' }, down: number, capHeight: number): Matrix {
  const over = side === 'over';
  // Further lines lie on smaller circles over the arc, on larger ones under it.
  const r = Math.max(1e-3, over ? radius - down : radius + down);
  const cy = -capHeight / 2 + (over ? -radius : radius);
  const a = (over ? -1 : 1) * ((at + advance / 2) / r);
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  const [px, py] = over ? [-r * sin, cy + r * cos] : [r * sin, cy - r * cos];
  return times([cos, sin, -sin, cos, px, py], [1, 0, 0, 1, -advance / 2, 0]);
}

/** A letter on the tangent of the track at the middle of its advance; null beyond the end of an open one. */
function onTrack({ line, closed }: { line: Line; closed: boolean }, at: number, advance: number, raise: number): Matrix | null {
  const { xy } = line;
  const n = xy.length / 2;
  const edges = closed ? n : n - 1;
  const lengthOf = (i: number) => Math.hypot(xy[2 * ((i + 1) % n)] - xy[2 * i], xy[2 * ((i + 1) % n) + 1] - xy[2 * i + 1]);
  let total = 0;
  for (let i = 0; i < edges; i++) total += lengthOf(i);
  let s = at + advance / 2;
  if (closed && total > 0) s = ((s % total) + total) % total;
  else if (s < 0 || s > total) return null;
  for (let i = 0; i < edges; i++) {
    const length = lengthOf(i);
    if ((s > length && i < edges - 1) || length === 0) {
      s -= length;
      continue;
    }
    const j = (i + 1) % n;
    const [cos, sin] = [(xy[2 * j] - xy[2 * i]) / length, (xy[2 * j + 1] - xy[2 * i + 1]) / length];
    return times([cos, sin, -sin, cos, xy[2 * i] + cos * s - sin * raise, xy[2 * i + 1] + sin * s + cos * raise], [1, 0, 0, 1, -advance / 2, 0]);
  }
  return null;
}

/** No letter is so many times wider or higher than a capital: a damaged table says so. */
const MOST_CAPITALS = 50;

/** How far the letters after a pair are moved, in units of the face: what was set by hand for that pair. */
type PairGap = (left: string, right: string | undefined) => number;
const pairGap =
  (pairs: Record<string, number>, unitCap: number): PairGap =>
  (left, right) =>
    right === undefined ? 0 : ((pairs[([...left].at(-1) ?? '') + [...right][0]] ?? 0) / 1000) * unitCap;

function fontLine(font: Font, missing: Set<string>, gapOf: PairGap) {
  const most = MOST_CAPITALS * capHeightOf(font);
  const sane = (value: number) => Math.abs(value) <= most;
  return (text: string, scale: number, spacing: number): SetLine => {
    for (const character of text) if (!font.hasGlyphForCodePoint(character.codePointAt(0)!)) missing.add(character);
    const known = [...text].filter((character) => !missing.has(character)).join('');
    const letters: Letter[] = [];
    let x = 0;
    let width = 0;
    if (known !== '') {
      const { glyphs, positions } = font.layout(known);
      // What fontkit says a glyph stands for may be from another use of it; how many characters it took is not.
      const characters = [...known];
      const spelt = glyphs.map((glyph) => characters.splice(0, Math.max(1, glyph.codePoints.length)).join(''));
      glyphs.forEach((glyph, i) => {
        const { xAdvance, xOffset, yOffset } = positions[i];
        const { commands } = glyph.path;
        if (![xAdvance, xOffset, yOffset].every(sane) || !commands.every(({ args }) => args.every(sane)))
          throw new Error('A letter of this face is as large as a house: the font is damaged.');
        const outline = outlineOf(commands);
        const said = spelt[i];
        if (outline.length) letters.push({ x: x + xOffset * scale, y: yOffset * scale, advance: xAdvance * scale, said, outline });
        x += xAdvance * scale;
        width = x;
        x += spacing + gapOf(said, spelt[i + 1]) * scale;
      });
    }
    return { letters, width };
  };
}

function strokeLine(missing: Set<string>, gapOf: PairGap) {
  return (text: string, scale: number, spacing: number): SetLine => {
    const letters: Letter[] = [];
    let x = 0;
    let width = 0;
    const characters = [...text];
    for (const [i, character] of characters.entries()) {
      const glyph = strokeGlyph(character);
      if (!glyph) {
        missing.add(character);
        continue;
      }
      if (glyph.subpaths.length) letters.push({ x, y: 0, advance: glyph.advance * scale, said: character, outline: glyph.subpaths });
      x += glyph.advance * scale;
      width = x;
      x += spacing + gapOf(character, characters[i + 1]) * scale;
    }
    return { letters, width };
  };
}

function outlineOf(commands: { command: string; args: number[] }[]): Subpath[] {
  const subpaths: Subpath[] = [];
  let segments: Segment[] = [];
  let [x, y] = [0, 0];
  for (const { command, args: a } of commands) {
    if (command === 'moveTo') {
      segments = [];
      subpaths.push({ x: a[0], y: a[1], closed: true, segments });
    } else if (command === 'lineTo') segments.push({ kind: 'line', x: a[0], y: a[1] });
    else if (command === 'quadraticCurveTo') segments.push({ kind: 'curve', ...raised(x, y, a[0], a[1], a[2], a[3]), x: a[2], y: a[3] });
    else if (command === 'bezierCurveTo') segments.push({ kind: 'curve', x1: a[0], y1: a[1], x2: a[2], y2: a[3], x: a[4], y: a[5] });
    if (a.length >= 2) [x, y] = a.slice(-2);
  }
  return subpaths.filter((subpath) => subpath.segments.length > 0);
}

/**
 * Unites the outlines of letters non-zero: overlaps of strokes inside a letter as well as of
 * neighbouring letters, so that no carve runs inside one. Letters that do not touch are united
 * apart from each other, which is several times faster than the whole block at once.
 */
export function uniteGlyphs(contours: Contour[]): Region[] {
  const boxes = contours.map((contour) => regionsBox([{ outer: contour, holes: [] }]));
  const order = contours.map((_, i) => i).sort((a, b) => boxes[a].minX - boxes[b].minX);
  const parent = contours.map((_, i) => i);
  const root = (i: number): number => (parent[i] === i ? i : (parent[i] = root(parent[i])));
  let open: number[] = [];
  for (const i of order) {
    open = open.filter((j) => boxes[j].maxX >= boxes[i].minX);
    for (const j of open) if (boxes[j].maxY >= boxes[i].minY && boxes[i].maxY >= boxes[j].minY) parent[root(i)] = root(j);
    open.push(i);
  }
  const groups = new Map<number, Contour[]>();
  contours.forEach((contour, i) => {
    const key = root(i);
    const group = groups.get(key);
    if (group) group.push(contour);
    else groups.set(key, [contour]);
  });
  return [...groups.values()].flatMap((group) => unite(group));
}

/** The regions of set text, flattened within a tolerance (mm). */
export const letterRegions = (set: Pick<SetText, 'letters'>, tolerance: number): Region[] =>
  uniteGlyphs(drawSubpaths(set.letters.flat(), tolerance, true).contours);
