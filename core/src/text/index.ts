/** Text from outside: what its bytes say, and that no character is in it that a database or another program takes amiss. */

declare const TextDecoder: new (label: string, options?: { fatal: boolean }) => { decode(bytes: Uint8Array): string };

/** Zero bytes, and halves of a surrogate pair without the other half: no text, and no database takes them. */
const AMISS = /[\0\p{Surrogate}]/u;
const ALL_AMISS = new RegExp(AMISS, 'gu');

/** A string as it may be kept: what is no character becomes the sign for that, U+FFFD. */
export const cleanText = (text: string): string => (AMISS.test(text) ? text.replace(ALL_AMISS, '\ufffd') : text);

/** Cleans every string of plain data, names of fields too, where it stands; gives the data. Only for data whose depth is bounded. */
export function cleanDeep<T>(data: T): T {
  if (typeof data === 'string') return cleanText(data) as T;
  if (typeof data !== 'object' || data === null) return data;
  const bag = data as Record<string, unknown>;
  for (const key of Object.keys(bag)) {
    const value = bag[key];
    const clean = cleanDeep(value);
    const name = cleanText(key);
    if (name !== key) delete bag[key];
    if (name !== key || clean !== value) bag[name] = clean;
  }
  return data;
}

/** Bytes looked at to tell what a text without a mark is written in. */
const LOOK = 2048;

/**
 * The text of a file: UTF-8 or UTF-16 by its mark; UTF-16 without one where every other byte is zero;
 * else UTF-8; what is no UTF-8 is read as Latin-1 (as the web reads it: Windows-1252). Cleaned.
 */
export function decodeText(bytes: Uint8Array): string {
  return cleanText(new TextDecoder(labelOf(bytes)).decode(bytes));
}

function labelOf(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const head = bytes.subarray(0, LOOK);
  const noughts = [0, 0];
  head.forEach((byte, i) => (noughts[i % 2] += byte === 0 ? 1 : 0));
  // Letters of European languages have zero as their upper byte.
  const half = head.length / 2;
  if (noughts[1] > 0.6 * half && noughts[0] === 0) return 'utf-16le';
  if (noughts[0] > 0.6 * half && noughts[1] === 0) return 'utf-16be';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}
