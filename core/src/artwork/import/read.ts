/** A file of unknown kind to drawn things: what the drop, the upload and the command line share. */
import { finding } from '../../preflight/findings.ts';
import { readDxf } from './dxf.ts';
import type { Imported } from './imported.ts';
import { sniff } from './sniff.ts';
import { readSvg } from './svg.ts';

/** Vector files above this many bytes are refused before they are read. */
export const MAX_BYTES = 64 * 1024 * 1024;

const empty = (why: string): Imported => ({ things: [], size: { known: false, unit: 'unit', mm: 1 }, page: null, findings: [finding.importFailed(why)] });

/**
 * Reads an SVG or a DXF by its content. Anything else, and anything broken, comes back without
 * things and with a finding that says why.
 */
export function readDrawing(bytes: Uint8Array, name: string, options: { join?: number } = {}): Imported {
  if (bytes.length > MAX_BYTES) return empty('it is larger than 64 MB');
  const file = sniff(bytes, name);
  switch (file.kind) {
    case 'svg':
      return readSvg(textOf(bytes));
    case 'dxf':
      return readDxf(textOf(bytes), options);
    case 'unknown':
      return empty(file.why.replace(/\.$/, ''));
    default:
      return empty(`it is a ${file.kind}, not a drawing`);
  }
}

declare const TextDecoder: new (label: string) => { decode(bytes: Uint8Array): string };

/** UTF-8 or UTF-16 by its mark, else UTF-8; what is no UTF-8 is read as Latin-1. */
function textOf(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const text = new TextDecoder('utf-8').decode(bytes);
  return text.includes('\ufffd') ? new TextDecoder('latin1').decode(bytes) : text;
}
