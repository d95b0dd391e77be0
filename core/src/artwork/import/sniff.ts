/** What a file really is, by its first bytes and not by its name; and the size of a picture before it is decoded. */

import { decodeText } from '../../text/index.ts';

export type FileKind = { kind: 'svg' | 'dxf' | 'picture' | 'font' | 'job' | 'list' } | { kind: 'unknown'; why: string };

const ascii = (bytes: Uint8Array, from: number, length: number) => String.fromCharCode(...bytes.subarray(from, from + length));

export function sniff(bytes: Uint8Array, name: string): FileKind {
  if (bytes.length === 0) return { kind: 'unknown', why: 'The file is empty.' };
  if (pictureFacts(bytes)) return { kind: 'picture' };
  const head = ascii(bytes, 0, 4);
  if (head === 'wOFF' || head === 'wOF2' || head === 'OTTO' || head === 'true' || head === '\0\x01\0\0') return { kind: 'font' };
  if (head === '%PDF') return { kind: 'unknown', why: 'This is a PDF. Save the drawing as SVG or DXF and bring that in.' };
  if (head === 'GIF8') return { kind: 'unknown', why: 'This is a GIF. Save it as PNG and bring that in.' };
  if (head.startsWith('PK')) return { kind: 'unknown', why: 'This is a packed folder. Unpack it first.' };
  if (head === 'AC10') return { kind: 'unknown', why: 'This is a DWG. Save it as ASCII DXF and bring that in.' };
  const text = decodeText(bytes.subarray(0, 8192));
  if (/<svg[\s>]|<!DOCTYPE svg/i.test(text) || (/^\s*<\?xml/.test(text) && /\.svg$/i.test(name))) return { kind: 'svg' };
  if (text.startsWith('AutoCAD Binary DXF') || /^\s*(999\s*\r?\n[^\n]*\n\s*)*0\s*\r?\nSECTION/.test(text)) return { kind: 'dxf' };
  if (/^\s*\{/.test(text) && /"kerbe"\s*:/.test(text)) return { kind: 'job' };
  if (/\.(csv|tsv|txt)$/i.test(name) && !text.includes('\ufffd')) return { kind: 'list' };
  return { kind: 'unknown', why: 'This is no kind of file Kerbe knows. It takes SVG, DXF, PNG, JPEG, BMP, WebP, fonts, and lists as CSV.' };
}

export interface PictureFacts {
  format: 'png' | 'jpeg' | 'bmp' | 'webp';
  width: number;
  height: number;
  /** Dots per inch the file states, or null. */
  dpi: number | null;
}

/** Size and dpi from the header of a PNG, JPEG, BMP or WebP; null for anything else. */
export function pictureFacts(bytes: Uint8Array): PictureFacts | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  try {
    if (ascii(bytes, 1, 3) === 'PNG') return png(bytes, view);
    if (bytes[0] === 0xff && bytes[1] === 0xd8) return jpeg(bytes, view);
    if (ascii(bytes, 0, 2) === 'BM' && bytes.length > 54) {
      const perMetre = view.getInt32(38, true);
      return {
        format: 'bmp',
        width: Math.abs(view.getInt32(18, true)),
        height: Math.abs(view.getInt32(22, true)),
        dpi: dpiOf(perMetre * 0.0254),
      };
    }
    if (ascii(bytes, 0, 4) === 'RIFF' && ascii(bytes, 8, 4) === 'WEBP') return webp(bytes, view);
  } catch {
    // A header cut short.
  }
  return null;
}

/** Dots per inch as a picture may have them; null for what is none. */
const dpiOf = (dots: number): number | null => (dots >= 1 && dots <= 100_000 ? Math.round(dots) : null);

function png(bytes: Uint8Array, view: DataView): PictureFacts {
  const facts: PictureFacts = { format: 'png', width: view.getUint32(16), height: view.getUint32(20), dpi: null };
  for (let at = 8; at + 12 < bytes.length; at += 12 + view.getUint32(at)) {
    const type = ascii(bytes, at + 4, 4);
    // Pixels per metre, when the unit says metre.
    if (type === 'pHYs' && bytes[at + 16] === 1) facts.dpi = dpiOf(view.getUint32(at + 8) * 0.0254);
    if (type === 'IDAT') break;
  }
  return facts;
}

function jpeg(bytes: Uint8Array, view: DataView): PictureFacts | null {
  let dpi: number | null = null;
  for (let at = 2; at + 9 < bytes.length;) {
    if (bytes[at] !== 0xff) return null;
    const marker = bytes[at + 1];
    if (marker === 0xff) {
      at++;
      continue;
    }
    if (marker === 0xe0 && ascii(bytes, at + 4, 4) === 'JFIF') {
      const density = view.getUint16(at + 12);
      dpi = bytes[at + 11] === 1 ? dpiOf(density) : bytes[at + 11] === 2 ? dpiOf(density * 2.54) : null;
    }
    // Start of frame, any kind but the tables between.
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return { format: 'jpeg', height: view.getUint16(at + 5), width: view.getUint16(at + 7), dpi };
    at += 2 + view.getUint16(at + 2);
  }
  return null;
}

function webp(bytes: Uint8Array, view: DataView): PictureFacts | null {
  const type = ascii(bytes, 12, 4);
  const three = (at: number) => bytes[at] | (bytes[at + 1] << 8) | (bytes[at + 2] << 16);
  if (type === 'VP8X') return { format: 'webp', width: 1 + three(24), height: 1 + three(27), dpi: null };
  if (type === 'VP8 ') return { format: 'webp', width: view.getUint16(26, true) & 0x3fff, height: view.getUint16(28, true) & 0x3fff, dpi: null };
  if (type === 'VP8L') {
    const bits = view.getUint32(21, true);
    return { format: 'webp', width: 1 + (bits & 0x3fff), height: 1 + ((bits >> 14) & 0x3fff), dpi: null };
  }
  return null;
}
