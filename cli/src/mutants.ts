/** Files as damage, haste and malice make them: samples of eight kinds, and what can be done to them. The same seed makes the same file. */
import sharp from 'sharp';
import { PNG } from 'pngjs';

export const KINDS = ['svg', 'dxf', 'json', 'nc', 'png', 'jpg', 'webp', 'bmp'] as const;
export type MutantKind = (typeof KINDS)[number];

/** Evenly spread numbers below one, the same from the same seed (a linear congruential generator, Numerical Recipes' figures; from memory). */
export function chanceFrom(seed: number): () => number {
  let state = (seed * 2654435761) >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

const SVG = `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="120mm" height="60mm" viewBox="0 0 120 60">
<style>.a{fill:#000} #b{stroke:red;stroke-width:2} @media print{.a{fill:none}}</style>
<defs><path id="p" d="M0 0h10v10h-10z"/><clipPath id="c"><rect width="50" height="50"/></clipPath><symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="4"/></symbol></defs>
<g transform="translate(10 5) rotate(3 4 5) scale(1.5,0.5) skewX(2) matrix(1 0 0 1 2 3)"><use xlink:href="#p" x="3"/><use href="#s" width="20" height="20"/></g>
<path class="a" d="M10 10 L40 10 40 40 Z M50 50 c10 10 20 -10 30 0 s5 5 9 -3 q5 5 9 0 t9 1 A5 8 30 1 0 60 20 a1e1.5.5 0 01 5-5 H20 v-9 h-2 V4z"/>
<rect id="b" x="5" y="5" width="50" height="20" rx="4"/><circle cx="90" cy="30" r="12"/><ellipse cx="30" cy="40" rx="9" ry="5" clip-path="url(#c)"/>
<polygon points="1,1 20,3 9,18"/><polyline points="3 3 8 9 12 2" fill="none" stroke="#123"/><line x1="1" y1="2" x2="30" y2="40" stroke="black" stroke-dasharray="2 1"/>
<text x="5" y="50" font-size="8">Reed</text><svg x="60" y="5" width="20" height="20" viewBox="0 0 5 5"><path d="M0 0L5 5L0 5z"/></svg></svg>`;

const dxfPairs = (...pairs: (string | number)[]) => Array.from({ length: pairs.length / 2 }, (_, k) => `${pairs[2 * k]}\n${pairs[2 * k + 1]}\n`).join('');
const DXF = dxfPairs(
  0, 'SECTION', 2, 'HEADER', 9, '$INSUNITS', 70, 4, 9, '$ACADVER', 1, 'AC1015', 0, 'ENDSEC',
  0, 'SECTION', 2, 'TABLES', 0, 'TABLE', 2, 'LAYER', 70, 1, 0, 'LAYER', 2, 'ART', 70, 0, 62, 7, 6, 'CONTINUOUS', 0, 'ENDTAB', 0, 'ENDSEC',
  0, 'SECTION', 2, 'BLOCKS', 0, 'BLOCK', 2, 'LEAF', 10, 0, 20, 0, 0, 'LINE', 8, 'ART', 10, 0, 20, 0, 11, 5, 21, 5, 0, 'CIRCLE', 8, 'ART', 10, 2, 20, 2, 40, 1, 0, 'ENDBLK', 0, 'ENDSEC',
  0, 'SECTION', 2, 'ENTITIES',
  0, 'LINE', 8, 'ART', 10, 0, 20, 0, 11, 40, 21, 0, 0, 'LINE', 8, 'ART', 10, 40, 20, 0, 11, 40, 21, 30,
  0, 'ARC', 8, 'ART', 10, 20, 20, 20, 40, 10, 50, 30, 51, 200, 0, 'CIRCLE', 8, 'ART', 10, 60, 20, 20, 40, 8,
  0, 'ELLIPSE', 8, 'ART', 10, 80, 20, 20, 11, 9, 21, 2, 40, 0.5, 41, 0, 42, 6.28,
  0, 'LWPOLYLINE', 8, 'ART', 90, 4, 70, 1, 10, 5, 20, 5, 42, 0.4, 10, 25, 20, 5, 10, 25, 20, 15, 42, -0.3, 10, 5, 20, 15,
  0, 'SPLINE', 8, 'ART', 70, 8, 71, 3, 72, 8, 73, 4, 40, 0, 40, 0, 40, 0, 40, 0, 40, 1, 40, 1, 40, 1, 40, 1, 10, 0, 20, 0, 10, 10, 20, 20, 10, 20, 20, -20, 10, 30, 20, 0,
  0, 'INSERT', 8, 'ART', 2, 'LEAF', 10, 5, 20, 40, 41, 2, 42, 2, 50, 30, 70, 3, 71, 2, 44, 9, 45, 9,
  0, 'TEXT', 8, 'ART', 10, 3, 20, 3, 40, 5, 1, 'Reed', 0, 'HATCH', 8, 'ART', 2, 'SOLID', 91, 1, 92, 3, 72, 1, 73, 1, 93, 3, 10, 0, 20, 0, 42, 0, 10, 9, 20, 0, 42, 0.5, 10, 9, 20, 9, 42, 0,
  0, 'ENDSEC', 0, 'EOF'); // prettier-ignore

const JSON_JOB = JSON.stringify({
  kerbe: 4, name: 'Mutant', units: 'mm', board: { width: 200, height: 90, thickness: 12, material: 'oak' },
  items: {
    words: { kind: 'text', id: 'words', x: 100, y: 60, text: 'Reed', face: 'bebas', capHeight: 18 },
    edge: { kind: 'rectangle', id: 'edge', x: 100, y: 45, width: 180, height: 76, radius: 6 },
    ring: { kind: 'path', id: 'ring', x: 40, y: 25, d: 'M0 8A8 8 0 1 1 0 -8A8 8 0 1 1 0 8Z M0 4A4 4 0 1 0 0 -4A4 4 0 1 0 0 4Z' },
    holes: { kind: 'holes', id: 'holes', x: 140, y: 25, diameter: 5, layout: { kind: 'rows', columns: 3, rows: 2, dx: 10, dy: 9 } },
    star: { kind: 'star', id: 'star', x: 80, y: 25, points: 5, diameter: 16, inner: 7 },
  },
  itemOrder: ['words', 'edge', 'ring', 'holes', 'star'], outline: 'edge',
  tools: { v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 }, end6: { kind: 'end', id: 'end6', diameter: 6 }, end2: { kind: 'end', id: 'end2', diameter: 2 }, drill5: { kind: 'drill', id: 'drill5', diameter: 5, fluteLength: 40 } },
  cuts: {
    carve: { kind: 'vcarve', id: 'carve', on: ['words', 'star'], tool: 'v60', floorDepth: 3, stepover: 0.5 },
    pocket: { kind: 'pocket', id: 'pocket', on: ['ring'], tool: 'end2', depth: 3, depthPerPass: 1.5, stepover: 0.8 },
    holes: { kind: 'drill', id: 'holes', on: ['holes'], tool: 'drill5', peck: 3 },
    out: { kind: 'profile', id: 'out', on: 'outline', tool: 'end6', depthPerPass: 4, tabs: 4, lead: 'arc' },
  },
  cutOrder: ['carve', 'pocket', 'holes', 'out'], program: { arcs: true, clearance: 6 }, tolerance: 0.02,
}); // prettier-ignore

const NC = [
  '%', '(Mutant)', 'G21 G90 G17 G54', 'G53 G0 Z0', 'S18000 M3', 'G4 P2', 'G0 X10 Y10', 'Z5', 'G1 Z-1 F300', ...Array.from({ length: 40 }, (_, k) => `N${k} G1 X${(k * 1.37).toFixed(3)} Y${(9 + Math.sin(k)).toFixed(3)} F1200`),
  'G1 X20 Y20', 'G2 X40 Y20 I10 J0', 'G3 X20 Y20 R12', 'G2 X20 Y20 I3 J0 Z-3', 'G81 X5 Y5 Z-4 R2 F200', 'G83 X9 Y9 Z-8 Q2 R2', 'G80', 'G91 G1 X2 Y2', 'G90', 'G20 G1 X1 Y1', 'G21', 'M0 (bit)', 'T2 M6', 'G43 H2', 'G0 Z5', 'M5', 'M30', '%',
].join('\n'); // prettier-ignore

async function pictures(): Promise<Record<'png' | 'jpg' | 'webp' | 'bmp', Buffer>> {
  const [width, height] = [96, 64];
  const data = Buffer.alloc(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    data.fill((x - 30) ** 2 + (y - 30) ** 2 < 400 || (x > 60 && y % 9 < 4) ? 20 : 240, 4 * i, 4 * i + 3);
    data[4 * i + 3] = 255;
  }
  const raw = () => sharp(data, { raw: { width, height, channels: 4 } });
  const png = new PNG({ width, height });
  png.data = data;
  const bmp = Buffer.alloc(54 + width * height * 3);
  bmp.write('BM');
  bmp.writeUInt32LE(bmp.length, 2);
  bmp.writeUInt32LE(54, 10);
  bmp.writeUInt32LE(40, 14);
  bmp.writeInt32LE(width, 18);
  bmp.writeInt32LE(height, 22);
  bmp.writeUInt16LE(1, 26);
  bmp.writeUInt16LE(24, 28);
  for (let i = 0; i < width * height; i++) data.copy(bmp, 54 + 3 * i, 4 * i, 4 * i + 3);
  return { png: PNG.sync.write(png), jpg: await raw().jpeg().toBuffer(), webp: await raw().webp().toBuffer(), bmp };
}

export async function samples(): Promise<Record<MutantKind, Buffer>> {
  return { svg: Buffer.from(SVG), dxf: Buffer.from(DXF), json: Buffer.from(JSON_JOB), nc: Buffer.from(NC), ...(await pictures()) };
}

const EXTREME = ['0', '-0', '-1', '1e-9', '1e308', '-1e308', '1e400', 'NaN', 'Infinity', '99999999999999999999', '1e5', '100000', '0.000001', '', '1,5', '0x10', 'null', '--3', '1e', '65536', '4294967295']; // prettier-ignore
const JUNK = [
  '\0',
  '\ufffe',
  '<',
  '>',
  '"',
  '{',
  '}',
  '[',
  ']',
  '&a;',
  '%00',
  '\ud800',
  '(',
  '\n',
  ';',
  '\r',
  'M30',
  '__proto__',
  'constructor',
  'é',
  '../..',
  '🪶',
];

/** One mutant of a sample. */
export function mutant(kind: MutantKind, sample: Buffer, seed: number): Buffer {
  const chance = chanceFrom(seed + 1000003 * KINDS.indexOf(kind));
  const below = (n: number) => Math.floor(chance() * n);
  const pick = <T>(list: readonly T[]): T => list[below(list.length)];
  const text = kind === 'svg' || kind === 'dxf' || kind === 'json' || kind === 'nc';
  let out = Buffer.from(sample);
  for (let k = 1 + below(text ? 4 : 6); k > 0; k--) {
    const at = below(out.length);
    const piece = out.subarray(at, at + 1 + below(200));
    switch (below(text ? 9 : 5)) {
      case 0:
        out = out.subarray(0, at) as typeof out;
        break;
      case 1:
        for (let i = 0; i < 8; i++) if (out.length > 0) out[below(out.length)] = below(256);
        break;
      case 2:
        out = Buffer.concat([out.subarray(0, at), out.subarray(at + piece.length)]);
        break;
      case 3:
        out = Buffer.concat([out.subarray(0, at), ...Array.from({ length: pick([2, 3, 50, 2000]) }, () => piece), out.subarray(at)]);
        break;
      case 4:
        // Sizes stand at the beginning.
        if (out.length > 0) out[below(Math.min(64, out.length))] = pick([0, 1, 127, 128, 255]);
        break;
      default: {
        const words = out.toString('latin1');
        if (below(3) === 0) {
          out = Buffer.from(words.slice(0, at) + pick(JUNK) + words.slice(at));
          break;
        }
        const numbers = [...words.matchAll(/-?\d+(\.\d+)?/g)];
        if (numbers.length === 0) break;
        const { index, 0: number } = pick(numbers);
        out = Buffer.from(words.slice(0, index) + pick(EXTREME) + words.slice(index + number.length), 'latin1');
      }
    }
  }
  return out;
}
