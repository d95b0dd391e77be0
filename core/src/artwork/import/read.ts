/** A file of unknown kind to drawn things: what the drop, the upload and the command line share. */
import { finding } from '../../findings/index.ts';
import { decodeText } from '../../text/index.ts';
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
      return readSvg(decodeText(bytes));
    case 'dxf':
      return readDxf(decodeText(bytes), options);
    case 'unknown':
      return empty(file.why.replace(/\.$/, ''));
    default:
      return empty(`it is a ${file.kind}, not a drawing`);
  }
}
