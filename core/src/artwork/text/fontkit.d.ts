/** The part of fontkit that Kerbe uses. */
declare module 'fontkit' {
  export interface Glyph {
    id: number;
    /** Characters it stood for when it was first used: more than one where letters are joined. */
    codePoints: number[];
    path: { commands: { command: string; args: number[] }[] };
    bbox: { minX: number; minY: number; maxX: number; maxY: number };
  }
  export interface Font {
    unitsPerEm: number;
    capHeight: number;
    hasGlyphForCodePoint(codePoint: number): boolean;
    glyphForCodePoint(codePoint: number): Glyph;
    layout(text: string): {
      glyphs: Glyph[];
      positions: { xAdvance: number; yAdvance: number; xOffset: number; yOffset: number }[];
    };
  }
  export function create(bytes: Uint8Array): Font;
}
