/**
 * Words to regions: sized by cap height, kerned, set in lines, and every overlap united - of
 * strokes inside a glyph as well as of neighbouring letters, so that no carve runs inside one.
 */
import { create, type Font } from 'fontkit';
import { regionsBox, unite, type Contour, type Region } from '../../geometry/index.ts';
import { Pen } from '../../geometry/pen.ts';

export { FACES, faceById, type Face } from './faces.ts';
export type { Font } from 'fontkit';

export interface TextSetting {
  text: string;
  /** Height of a capital letter, mm. */
  capHeight: number;
  /** Distance of baselines as a multiple of cap height. */
  lineSpacing: number;
  /** Extra space between letters, mm. */
  letterSpacing: number;
  align: 'left' | 'centre' | 'right';
}

export interface SetText {
  /** First baseline at y = 0, left edge of the widest line at x = 0. */
  regions: Region[];
  /** Characters of the text that the face cannot draw, each once. */
  missing: string[];
  width: number;
  lines: number;
}

/** Opens a TTF, OTF, WOFF or WOFF2 font. Throws a sentence when the bytes are not a font. */
export function openFont(bytes: Uint8Array): Font {
  try {
    const font = create(bytes);
    if (typeof font.layout !== 'function' || !(font.unitsPerEm > 0)) throw new Error('no outlines');
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

/**
 * Sets text in a font.
 *
 * @param tolerance greatest distance of the flattened outline from the curve, mm
 */
export function setText(setting: TextSetting, font: Font, tolerance: number): SetText {
  const scale = setting.capHeight / capHeightOf(font);
  const missing = new Set<string>();
  // A no-break space is drawn as a space; some faces have a broken glyph for it.
  const lines = setting.text.replaceAll('\r', '').replaceAll('\u00a0', ' ').split('\n');
  const set = lines.map((line) => setLine(line, font, scale, setting.letterSpacing, tolerance, missing));
  const width = Math.max(0, ...set.map((line) => line.width));
  const contours: Contour[] = [];
  set.forEach((line, i) => {
    const dx = setting.align === 'left' ? 0 : (width - line.width) / (setting.align === 'centre' ? 2 : 1);
    const dy = -i * setting.lineSpacing * setting.capHeight;
    for (const contour of line.contours) {
      for (let k = 0; k < contour.xy.length; k += 2) {
        contour.xy[k] += dx;
        contour.xy[k + 1] += dy;
      }
      contours.push(contour);
    }
  });
  return { regions: uniteGlyphs(contours), missing: [...missing], width, lines: lines.length };
}

function setLine(line: string, font: Font, scale: number, spacing: number, tolerance: number, missing: Set<string>) {
  for (const character of line) if (!font.hasGlyphForCodePoint(character.codePointAt(0)!)) missing.add(character);
  const known = [...line].filter((character) => !missing.has(character)).join('');
  const pen = new Pen(tolerance);
  let x = 0;
  let width = 0;
  if (known !== '') {
    const { glyphs, positions } = font.layout(known);
    glyphs.forEach((glyph, i) => {
      const ox = x + positions[i].xOffset * scale;
      const oy = positions[i].yOffset * scale;
      drawGlyph(pen, glyph.path.commands, ox, oy, scale);
      x += positions[i].xAdvance * scale;
      width = x;
      x += spacing;
    });
  }
  return { contours: pen.contours, width };
}

function drawGlyph(pen: Pen, commands: { command: string; args: number[] }[], ox: number, oy: number, scale: number): void {
  for (const { command, args } of commands) {
    const a = args.map((value, i) => (i % 2 === 0 ? ox : oy) + value * scale);
    if (command === 'moveTo') pen.moveTo(a[0], a[1]);
    else if (command === 'lineTo') pen.lineTo(a[0], a[1]);
    else if (command === 'quadraticCurveTo') pen.quadTo(a[0], a[1], a[2], a[3]);
    else if (command === 'bezierCurveTo') pen.cubicTo(a[0], a[1], a[2], a[3], a[4], a[5]);
    else if (command === 'closePath') pen.close();
  }
  pen.close();
}

/**
 * Unites contours non-zero. Glyphs that do not touch are united apart from each other, which is
 * several times faster than the whole block at once.
 */
function uniteGlyphs(contours: Contour[]): Region[] {
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
