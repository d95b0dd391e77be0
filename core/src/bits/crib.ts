/** The crib - the shop's bits - as CSV and JSON, in and out. */
import Papa from 'papaparse';
import { Bit } from './schema.ts';

const COLUMNS = [
  'id',
  'kind',
  'name',
  'diameter',
  'shank',
  'fluteLength',
  'flutes',
  'measuredWidth',
  'angle',
  'tipFlat',
  'tipRadius',
  'spiral',
  'upLength',
  'lineWidth',
  'pointAngle',
] as const;
const WORDS = new Set(['id', 'kind', 'name', 'spiral']);

/** One row for each bit, lengths in mm; what a kind does not have stays empty. Presets are kept by JSON only. */
export const cribToCsv = (bits: readonly Bit[]): string =>
  Papa.unparse({ fields: [...COLUMNS], data: bits.map((bit) => COLUMNS.map((column) => (bit as Record<string, unknown>)[column] ?? '')) }) + '\r\n';

export const cribToJson = (bits: readonly Bit[]): string => JSON.stringify({ kerbeBits: 1, bits }, null, 2) + '\n';

/** Bits that could be read, and a line of words for every one that could not. */
export interface CribReading {
  bits: Bit[];
  why: string[];
}

/** Reads CSV (comma, semicolon or tab, in any order of columns) or JSON; ids that are missing are made from kind and size. */
export function readCrib(text: string): CribReading {
  const trimmed = text.trim();
  if (trimmed === '') return { bits: [], why: ['The file is empty.'] };
  const rows = /^[[{]/.test(trimmed) ? rowsOfJson(trimmed) : rowsOfCsv(trimmed);
  if ('why' in rows) return { bits: [], why: [rows.why] };
  const bits: Bit[] = [];
  const why: string[] = [];
  rows.list.forEach((row, k) => {
    const parsed = Bit.safeParse(row.id ? row : { ...row, id: freeId(row, bits) });
    if (parsed.success && bits.some(({ id }) => id === parsed.data.id)) why.push(`Bit ${k + 1}: the id “${parsed.data.id}” stands twice.`);
    else if (parsed.success) bits.push(parsed.data);
    else {
      const [issue] = parsed.error.issues;
      why.push(`Bit ${k + 1}${row.name ? ` (${String(row.name)})` : ''}: ${issue.path.join('.') || 'bit'}: ${issue.message}`);
    }
  });
  return { bits, why };
}

type Rows = { list: Record<string, unknown>[] } | { why: string };

function rowsOfJson(text: string): Rows {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return { why: `This is no JSON: ${(error as Error).message}` };
  }
  const list = Array.isArray(data) ? data : (data as { bits?: unknown }).bits;
  return Array.isArray(list)
    ? { list: list.map((row) => (typeof row === 'object' && row ? (row as Record<string, unknown>) : {})) }
    : { why: 'There is no list of bits in it.' };
}

function rowsOfCsv(text: string): Rows {
  const { data, meta } = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: 'greedy', transformHeader: (name) => name.trim() });
  const names = meta.fields ?? [];
  if (!names.includes('kind') || !names.includes('diameter')) return { why: 'The first line must name the columns, kind and diameter among them.' };
  return {
    list: data.map((row) =>
      Object.fromEntries(
        COLUMNS.flatMap((column): [string, unknown][] => {
          const value = row[column]?.trim();
          if (!value) return [];
          if (WORDS.has(column)) return [[column, value]];
          // A decimal comma is what half the world types.
          return [[column, Number(value.replace(/^(-?\d+),(\d+)$/, '$1.$2'))]];
        }),
      ),
    ),
  };
}

function freeId(row: Record<string, unknown>, taken: readonly Bit[]): string {
  const stem = `${String(row.kind)}${String(row.diameter)}`.replace(/[^A-Za-z0-9_-]/g, '-').slice(0, 30);
  for (let n = 1; ; n++) {
    const id = n === 1 ? stem : `${stem}-${n}`;
    if (!taken.some((bit) => bit.id === id)) return id;
  }
}
