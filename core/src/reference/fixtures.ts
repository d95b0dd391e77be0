/** Shared by tests: shipped faces from node_modules, and jobs made of a few words. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { FACES, faceById, openFont, type Font } from '../artwork/text/index.ts';
import { readJob, type ItemInput, type Job, type JobInput } from '../job/index.ts';

const require = createRequire(import.meta.url);
const opened = new Map<string, Font>();

export function fontOf(id: string): Font | undefined {
  const face = faceById(id);
  if (!face) return undefined;
  let font = opened.get(id);
  if (!font) opened.set(id, (font = openFont(readFileSync(require.resolve(face.file)))));
  return font;
}

/** Every character of the Latin file that a face really has. */
export function charactersOf(font: Font): string[] {
  const out: string[] = [];
  for (let code = 33; code < 0x250; code++) if (code !== 0xad && font.hasGlyphForCodePoint(code)) out.push(String.fromCharCode(code));
  return out;
}

/** A plate with things on it and one torch cut through them. */
export const plateJob = (items: NonNullable<JobInput['items']>[string][], cut: object = {}, board: object = {}): Job =>
  makeJob({
    process: 'torch',
    board: { width: 300, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats', ...board },
    items: Object.fromEntries(items.map((item) => [item.id, item])),
    itemOrder: items.map(({ id }) => id),
    outline: null,
    tools: { n: { kind: 'nozzle', id: 'n' } },
    cuts: { c: { kind: 'torch', id: 'c', on: 'art', tool: 'n', leadIn: 3, ...cut } },
    cutOrder: ['c'],
    program: { clearance: 15 },
  });

/** A rectangle to be drawn, by its middle. */
export const rect = (id: string, x: number, y: number, width: number, height = width) => ({ kind: 'rectangle' as const, id, x, y, width, height });

export function makeJob(change: Partial<JobInput> = {}): Job {
  const reading = readJob({
    kerbe: 4,
    name: 'Test',
    board: { width: 200, height: 80, thickness: 18 },
    items: {
      words: { kind: 'text', id: 'words', x: 100, y: 40, text: 'Reed', face: 'playfair', capHeight: 25 },
      edge: { kind: 'rectangle', id: 'edge', x: 100, y: 40, width: 180, height: 60, radius: 8 },
    },
    itemOrder: ['words', 'edge'],
    outline: 'edge',
    tools: {
      v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 },
      end6: { kind: 'end', id: 'end6', diameter: 6.35 },
    },
    cuts: {
      carve: { kind: 'vcarve', id: 'carve', on: 'art', tool: 'v60' },
      out: { kind: 'profile', id: 'out', on: 'outline', tool: 'end6' },
    },
    cutOrder: ['carve', 'out'],
    ...change,
  });
  if (!reading.ok) throw new Error(reading.why.join('\n'));
  return reading.job;
}

/** A job with something for every kind of cut to work on - words, a plate, holes, a line, an edge - and a bit for each. */
export const mixedJob = (change: Partial<JobInput>): Job =>
  makeJob({
    items: {
      words: { kind: 'text', id: 'words', x: 60, y: 55, text: 'Reed', face: 'playfair', capHeight: 18 },
      plate: { kind: 'rectangle', id: 'plate', x: 60, y: 25, width: 60, height: 16, radius: 3 },
      holes: { kind: 'holes', id: 'holes', x: 100, y: 40, diameter: 5, layout: { kind: 'corners', width: 184, height: 64, inset: 8 } },
      line: { kind: 'line', id: 'line', x: 110, y: 25, length: 50 },
      edge: { kind: 'rectangle', id: 'edge', x: 100, y: 40, width: 190, height: 70, radius: 8 },
    },
    itemOrder: ['words', 'plate', 'holes', 'line', 'edge'],
    tools: {
      v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 },
      end6: { kind: 'end', id: 'end6', diameter: 6.35 },
      end3: { kind: 'end', id: 'end3', diameter: 3.175 },
      drill5: { kind: 'drill', id: 'drill5', diameter: 5, fluteLength: 40 },
    },
    ...change,
  });

/** A thing without what a test does not care for. */
export type Given = ItemInput extends infer T ? (T extends unknown ? Omit<T, 'id' | 'x' | 'y'> & { x?: number; y?: number } : never) : never;
export function jobWith(things: Record<string, Given>, more: Partial<JobInput> = {}): Job {
  const items = Object.fromEntries(Object.entries(things).map(([id, thing]) => [id, { x: 0, y: 0, ...thing, id }]));
  const reading = readJob({
    kerbe: 4,
    name: 'T',
    board: { width: 300, height: 200, thickness: 18 },
    items,
    itemOrder: Object.keys(items),
    tools: {},
    cuts: {},
    cutOrder: [],
    ...more,
  });
  if (!reading.ok) throw new Error(reading.why.join());
  return reading.job;
}
export { FACES };
