/**
 * DXF (R12 to 2018, ASCII) to things in millimetres: lines, arcs, circles, ellipses, polylines
 * with bulge, splines by control or fit points, nested inserts, words, outlines of hatches,
 * layers. Loose ends that meet within a tolerance are chained into contours.
 *
 * The format is pairs of lines: a group code and its value (published: the DXF reference). A bulge
 * is tan(θ/4) of the arc's included angle, positive counter-clockwise.
 */
import RBush from 'rbush';
import { insideContour, signedArea } from '../../geometry/index.ts';
import { finding } from '../../findings/index.ts';
import { applyMatrix, drawSubpaths, IDENTITY, reversedPath, times, transformPath, type Matrix, type Segment, type Subpath } from '../path.ts';
import { ellipsePath } from '../shapes.ts';
import { splinePath } from './spline.ts';
import { MAX_THINGS, type Imported, type ImportedPath, type ImportedText, withinReach } from './imported.ts';

/** Bounds on what one file may ask for. */
const MAX_DEPTH = 32;

/** Millimetres of one drawing unit by $INSUNITS; the units a shop may meet. */
const INSUNITS: Record<number, [string, number]> = {
  1: ['in', 25.4],
  2: ['ft', 304.8],
  4: ['mm', 1],
  5: ['cm', 10],
  6: ['m', 1000],
  8: ['microinch', 25.4e-6],
  9: ['mil', 0.0254],
  13: ['µm', 0.001],
  14: ['dm', 100],
};

interface Entity {
  type: string;
  /** Group codes and values in order; several of a kind stay several. */
  codes: number[];
  values: string[];
  /** VERTEX entities of a POLYLINE, ATTRIB of an INSERT. */
  children: Entity[];
}

interface Block {
  x: number;
  y: number;
  entities: Entity[];
}

export interface DxfOptions {
  /** Greatest gap that is closed between loose ends, in millimetres. */
  join?: number;
}

const number = (entity: Entity, code: number, missing = 0): number => {
  const i = entity.codes.indexOf(code);
  const value = i < 0 ? NaN : Number(entity.values[i]);
  return Number.isFinite(value) ? value : missing;
};
const textOf = (entity: Entity, code: number): string => {
  const i = entity.codes.indexOf(code);
  return i < 0 ? '' : entity.values[i];
};
const numbersOf = (entity: Entity, code: number): number[] => entity.values.filter((_, i) => entity.codes[i] === code).map(Number);

/** Reads a DXF file. Never throws on a bad one: `findings` says what is the matter. */
export function readDxf(text: string, { join = 0.05 }: DxfOptions = {}): Imported {
  const out: Imported = { things: [], size: { known: false, unit: 'mm', mm: 1 }, page: null, findings: [] };
  const fail = (why: string) => {
    out.findings.push(finding.importFailed(why));
    return out;
  };
  if (text.startsWith('AutoCAD Binary DXF')) return fail('it is a binary DXF; only the ASCII form is read here');
  if (text.startsWith('AC10')) return fail('it is a DWG under another name; save it as ASCII DXF');
  const file = parse(text);
  if (!file) return fail('it is no DXF: there are no sections in it');
  if (!file.whole) out.findings.push(finding.importCutShort());
  const unit = INSUNITS[file.units];
  // Without a unit, a drawing made in millimetres is the better guess where it says metric, or nothing.
  const [name, mm] = unit ?? (file.metric === 0 ? ['in', 25.4] : ['mm', 1]);
  out.size = { known: unit !== undefined, unit: name, mm };
  new Reader(out, file, mm).entities(join / mm);
  if (out.things.length === 0) out.findings.push(finding.importEmpty());
  return withinReach(out);
}

interface DxfFile {
  units: number;
  metric: number | null;
  layers: Map<string, { off: boolean }>;
  blocks: Map<string, Block>;
  entities: Entity[];
  whole: boolean;
}

function parse(text: string): DxfFile | null {
  const file: DxfFile = { units: 0, metric: null, layers: new Map(), blocks: new Map(), entities: [], whole: false };
  const lines = text.split(/\r\n|\r|\n/);
  let section = '';
  let variable = '';
  let block: Block | null = null;
  let blockName = '';
  let seen = false;
  let entity: Entity | null = null;
  let parent: Entity | null = null;
  const finish = () => {
    const done = entity;
    entity = null;
    if (!done) return;
    const { type } = done;
    if (type === 'BLOCK') {
      block = { x: number(done, 10), y: number(done, 20), entities: [] };
      blockName = textOf(done, 2);
      if (!file.blocks.has(blockName)) file.blocks.set(blockName, block);
      return;
    }
    if (type === 'ENDBLK') {
      block = null;
      return;
    }
    if (type === 'LAYER') {
      file.layers.set(textOf(done, 2), { off: number(done, 62, 7) < 0 || (number(done, 70) & 1) === 1 });
      return;
    }
    if (type === 'SEQEND') {
      parent = null;
      return;
    }
    if ((type === 'VERTEX' || type === 'ATTRIB') && parent) {
      parent.children.push(done);
      return;
    }
    if (section !== 'ENTITIES' && !(section === 'BLOCKS' && block)) return;
    (block ? block.entities : file.entities).push(done);
    parent = type === 'POLYLINE' || (type === 'INSERT' && number(done, 66) === 1) ? done : null;
  };
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = Number(lines[i]);
    const value = lines[i + 1];
    if (!Number.isInteger(code) || lines[i].trim() === '') {
      // One stray line: step over it and fall in step again.
      i--;
      continue;
    }
    if (code === 0) {
      finish();
      const type = value.trim();
      if (type === 'SECTION') {
        const next = lines[i + 3]?.trim() ?? '';
        section = lines[i + 2]?.trim() === '2' ? next : '';
        seen = true;
        block = null;
        parent = null;
      } else if (type === 'ENDSEC') section = '';
      else if (type === 'EOF') {
        file.whole = true;
        break;
      } else if (section !== 'HEADER' && section !== '' && section !== 'OBJECTS' && section !== 'CLASSES')
        entity = { type, codes: [], values: [], children: [] };
    } else if (section === 'HEADER') {
      if (code === 9) variable = value.trim();
      else if (variable === '$INSUNITS' && code === 70) file.units = Number(value);
      else if (variable === '$MEASUREMENT' && code === 70) file.metric = Number(value);
    } else if (entity) {
      entity.codes.push(code);
      // Words keep their spaces; everything else is trimmed.
      entity.values.push(code === 1 || code === 3 ? value : value.trim());
    }
  }
  finish();
  return seen ? file : null;
}

interface Drawn {
  subpath: Subpath;
  layer: string;
}

class Reader {
  private readonly out: Imported;
  private readonly file: DxfFile;
  private readonly scale: number;
  private readonly loose: Drawn[] = [];
  private readonly texts: ImportedText[] = [];
  private readonly left = new Map<string, number>();
  private count = 0;

  constructor(out: Imported, file: DxfFile, scale: number) {
    this.out = out;
    this.file = file;
    this.scale = scale;
  }

  entities(gap: number): void {
    for (const entity of this.file.entities) this.entity(entity, IDENTITY, '0', []);
    if (this.count > MAX_THINGS) this.out.findings.push(finding.importTooMuch(MAX_THINGS));
    const m: Matrix = [this.scale, 0, 0, this.scale, 0, 0];
    const byLayer = new Map<string, Subpath[]>();
    for (const { subpath, layer } of this.loose) {
      const list = byLayer.get(layer);
      if (list) list.push(subpath);
      else byLayer.set(layer, [subpath]);
    }
    let joined = 0;
    for (const [layer, subpaths] of byLayer) {
      const chained = chain(subpaths, gap);
      joined += chained.joined;
      for (const thing of nest(chained.subpaths)) this.out.things.push({ ...thing, subpaths: transformPath(thing.subpaths, m), layer, name: '' });
    }
    for (const text of this.texts) {
      const [x, y] = applyMatrix(m, text.x, text.y);
      this.out.things.push({ ...text, x, y, capHeight: text.capHeight * this.scale });
    }
    if (joined) this.out.findings.push(finding.importChained(joined));
    for (const [what, count] of this.left) this.out.findings.push(finding.importLeftOut(what, count));
  }

  private leave(what: string): void {
    this.left.set(what, (this.left.get(what) ?? 0) + 1);
  }

  private entity(entity: Entity, matrix: Matrix, within: string, path: readonly string[]): void {
    if (++this.count > MAX_THINGS) return;
    // What a block draws on layer 0 lies on the layer the block is put on.
    const own = textOf(entity, 8);
    const layer = own === '' || own === '0' ? within : own;
    if (this.file.layers.get(own || '0')?.off) return this.leave(`things on layers that are off (“${own.slice(0, 30)}”)`);
    if (number(entity, 60) === 1) return;
    if (number(entity, 67) === 1) return this.leave('things on paper sheets');
    // An entity whose extrusion points down is drawn mirrored.
    const flipped = number(entity, 230, 1) < 0;
    const m = flipped && entity.type !== 'LINE' && entity.type !== 'SPLINE' && entity.type !== 'ELLIPSE' ? times(matrix, [-1, 0, 0, 1, 0, 0]) : matrix;
    const put = (...subpaths: Subpath[]) => {
      for (const subpath of transformPath(subpaths, m)) if (isFinitePath(subpath) && subpath.segments.length) this.loose.push({ subpath, layer });
    };
    const n = (code: number, missing = 0) => number(entity, code, missing);
    switch (entity.type) {
      case 'LINE':
        return put({ x: n(10), y: n(20), closed: false, segments: [{ kind: 'line', x: n(11), y: n(21) }] });
      case 'CIRCLE':
        return n(40) > 0 ? put(ellipsePath(n(10), n(20), n(40), n(40))) : undefined;
      case 'ARC':
        return put(ellipseArc(n(10), n(20), n(40), n(40), 0, rad(n(50)), rad(n(51))));
      case 'ELLIPSE': {
        const major = Math.hypot(n(11), n(21));
        const turn = Math.atan2(n(21), n(11));
        const sense = flipped ? -1 : 1;
        const [from, to] = [n(41), n(42, 2 * Math.PI)];
        return put(
          sense > 0 ? ellipseArc(n(10), n(20), major, major * n(40, 1), turn, from, to) : ellipseArc(n(10), n(20), major, major * n(40, 1), turn, -to, -from),
        );
      }
      case 'LWPOLYLINE': {
        const points: { x: number; y: number; bulge: number }[] = [];
        entity.codes.forEach((code, i) => {
          const value = Number(entity.values[i]);
          if (code === 10) points.push({ x: value, y: 0, bulge: 0 });
          else if (points.length && code === 20) points[points.length - 1].y = value;
          else if (points.length && code === 42) points[points.length - 1].bulge = value;
        });
        return put(...bulged(points, (n(70) & 1) === 1));
      }
      case 'POLYLINE': {
        if (n(70) & (16 | 64)) return this.leave('meshes');
        // Vertices of a curve's control frame (16) are not on the curve itself.
        const points = entity.children.filter((v) => !(number(v, 70) & 16)).map((v) => ({ x: number(v, 10), y: number(v, 20), bulge: number(v, 42) }));
        return put(...bulged(points, (n(70) & 1) === 1));
      }
      case 'SPLINE': {
        const pairs = (cx: number, cy: number) => {
          const [xs, ys] = [numbersOf(entity, cx), numbersOf(entity, cy)];
          return xs.map((x, i): [number, number] => [x, ys[i] ?? 0]);
        };
        const tangent = (cx: number, cy: number): [number, number] | null => (entity.codes.includes(cx) ? [n(cx), n(cy)] : null);
        const drawn = splinePath({
          degree: n(71, 3),
          knots: numbersOf(entity, 40),
          weights: numbersOf(entity, 41),
          points: pairs(10, 20),
          fit: pairs(11, 21),
          closed: (n(70) & 1) === 1,
          start: tangent(12, 22),
          end: tangent(13, 23),
          tolerance: 0.002 / this.scale,
        });
        return drawn ? put(drawn) : this.leave('damaged splines');
      }
      case 'SOLID':
      case 'TRACE': {
        const p = (i: number) => ({ x: n(10 + i), y: n(20 + i), bulge: 0 });
        const four = entity.codes.includes(13);
        return put(...bulged(four ? [p(0), p(1), p(3), p(2)] : [p(0), p(1), p(2)], true));
      }
      case 'HATCH':
        return put(...hatchPaths(entity, 0.002 / this.scale));
      case 'INSERT':
        return this.insert(entity, m, layer, path);
      case 'TEXT':
      case 'ATTRIB':
      case 'MTEXT':
        return this.words(entity, m, layer);
      case 'ATTDEF':
      case 'POINT':
      case 'VIEWPORT':
      case 'ENDSEC':
        return;
    }
    this.leave(`${entity.type.slice(0, 30)} entities`);
  }

  private insert(entity: Entity, matrix: Matrix, layer: string, path: readonly string[]): void {
    const name = textOf(entity, 2);
    const block = this.file.blocks.get(name);
    if (!block) return this.leave(`the block “${name.slice(0, 30)}”, which is not in the file`);
    if (path.includes(name)) return this.leave('blocks that insert themselves');
    if (path.length >= MAX_DEPTH) return this.leave('blocks nested too deeply');
    const n = (code: number, missing = 0) => number(entity, code, missing);
    const turn = rad(n(50));
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
    const [columns, rows] = [Math.min(1000, Math.max(1, n(70, 1))), Math.min(1000, Math.max(1, n(71, 1)))];
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        const [dx, dy] = [c * n(44), r * n(45)];
        const place: Matrix = [cos, sin, -sin, cos, n(10) + cos * dx - sin * dy, n(20) + sin * dx + cos * dy];
        const inner = times(times(matrix, place), times([n(41, 1), 0, 0, n(42, 1), 0, 0], [1, 0, 0, 1, -block.x, -block.y]));
        for (const part of block.entities) {
          if (this.count > MAX_THINGS) return;
          this.entity(part, inner, layer, [...path, name]);
        }
      }
    for (const attribute of entity.children) this.entity(attribute, matrix, layer, path);
  }

  private words(entity: Entity, m: Matrix, layer: string): void {
    const n = (code: number, missing = 0) => number(entity, code, missing);
    const many = entity.type === 'MTEXT';
    const raw = (many ? entity.values.filter((_, i) => entity.codes[i] === 3).join('') : '') + textOf(entity, 1);
    const text = many
      ? plainMtext(raw)
      : raw
          .replace(/%%[cC]/g, '⌀')
          .replace(/%%[dD]/g, '°')
          .replace(/%%[pP]/g, '±')
          .replace(/%%[uUoO]/g, '');
    if (text.trim() === '' || (number(entity, 70) & 1 && entity.type === 'ATTRIB')) return;
    const size = n(40, 1);
    const stretch = Math.sqrt(Math.abs(m[0] * m[3] - m[1] * m[2]));
    const across = many ? (n(71, 1) - 1) % 3 : n(72);
    const second = !many && (n(72) !== 0 || n(73) !== 0) && entity.codes.includes(11);
    const angle = many && entity.codes.includes(11) ? Math.atan2(n(21), n(11)) : rad(n(50));
    // Height of the middle of the capitals over the point that is given.
    const lines = text.split('\n').length;
    const block = (lines - 1) * 1.6 + 1;
    const down = many ? Math.floor((n(71, 1) - 1) / 3) : 3 - n(73);
    const rise = many ? [-block / 2, 0, block / 2][down] : [-0.5, 0, 0.5, 0.5][down];
    const [x, y] = second ? [n(11), n(21)] : [n(10), n(20)];
    const [px, py] = applyMatrix(m, x - Math.sin(angle) * rise * size, y + Math.cos(angle) * rise * size);
    this.texts.push({
      kind: 'text',
      text,
      face: 'barlow',
      capHeight: Math.max(1e-3, size * stretch),
      align: across === 1 || (!many && n(72) === 4) ? 'centre' : across === 2 ? 'right' : 'left',
      x: px,
      y: py,
      angle: ((Math.atan2(m[1], m[0]) + angle) * 180) / Math.PI,
      layer,
      name: text.slice(0, 40),
    });
    this.leave('the face of words, replaced by a shipped one');
  }
}

const rad = (degrees: number) => (degrees * Math.PI) / 180;
const isFinitePath = (s: Subpath) => Number.isFinite(s.x + s.y) && s.segments.every((g) => Number.isFinite(g.x + g.y));

/** Formatting codes of many-line text taken away, line ends kept. */
const plainMtext = (raw: string): string =>
  raw
    .replace(/\\P/g, '\n')
    .replace(/\\~/g, ' ')
    .replace(/\\S([^;^#/]*)[\^#/]([^;]*);/g, '$1/$2')
    .replace(/\\[ACcFfHhQTWpLlOoKk][^;\\{}]*;|\\[LlOoKk]/g, '')
    .replace(/\\U\+([0-9A-Fa-f]{4})/g, (_, hex: string) => String.fromCodePoint(parseInt(hex, 16)))
    // Escaped braces and backslashes stay, braces that only group go.
    .replace(/\\([\\{}])|[{}]/g, '$1');

/** Part of an ellipse, counter-clockwise from one parameter to another (radians), as at most two arcs. */
function ellipseArc(cx: number, cy: number, rx: number, ry: number, turn: number, from: number, to: number): Subpath {
  let sweep = (to - from) % (2 * Math.PI);
  if (sweep <= 1e-9) sweep += 2 * Math.PI;
  const at = (t: number): [number, number] => {
    const [a, b] = [rx * Math.cos(t), ry * Math.sin(t)];
    return [cx + a * Math.cos(turn) - b * Math.sin(turn), cy + a * Math.sin(turn) + b * Math.cos(turn)];
  };
  const whole = sweep > 2 * Math.PI - 1e-9;
  const [x, y] = at(from);
  const parts = sweep > Math.PI ? 2 : 1;
  const segments: Segment[] = [];
  for (let i = 1; i <= parts; i++) {
    const [ex, ey] = whole && i === parts ? [x, y] : at(from + (sweep * i) / parts);
    segments.push({ kind: 'arc', rx, ry: Math.abs(ry), turn: (turn * 180) / Math.PI, large: false, sweep: true, x: ex, y: ey });
  }
  return { x, y, closed: whole, segments };
}

/** A polyline whose edges may bulge into arcs. */
function bulged(points: readonly { x: number; y: number; bulge: number }[], closed: boolean): Subpath[] {
  if (points.length < 2) return [];
  const segments: Segment[] = [];
  const edges = closed ? points.length : points.length - 1;
  for (let i = 0; i < edges; i++) {
    const from = points[i];
    const to = points[(i + 1) % points.length];
    const chord = Math.hypot(to.x - from.x, to.y - from.y);
    if (chord === 0) continue;
    if (Math.abs(from.bulge) < 1e-9) segments.push({ kind: 'line', x: to.x, y: to.y });
    else {
      // Half the chord is r·sin(θ/2), and sin(2·atan b) = 2b/(1+b²).
      const b = Math.abs(from.bulge);
      const r = (chord * (1 + b * b)) / (4 * b);
      segments.push({ kind: 'arc', rx: r, ry: r, turn: 0, large: b > 1, sweep: from.bulge > 0, x: to.x, y: to.y });
    }
  }
  return segments.length ? [{ x: points[0].x, y: points[0].y, closed, segments }] : [];
}

/** Outlines of a hatch: polylines, or edges of lines, arcs, ellipses and splines. */
function hatchPaths(entity: Entity, tolerance: number): Subpath[] {
  const out: Subpath[] = [];
  const { codes, values } = entity;
  let i = codes.indexOf(91);
  if (i < 0) return out;
  const paths = Math.min(100_000, Number(values[i++]));
  const read = (code: number, missing = 0): number => {
    // Fields come in order; optional ones may be missing.
    if (codes[i] !== code) return missing;
    const value = Number(values[i++]);
    return Number.isFinite(value) ? value : missing;
  };
  for (let p = 0; p < paths && i < codes.length; p++) {
    while (i < codes.length && codes[i] !== 92) i++;
    const flags = read(92);
    if (flags & 2) {
      const hasBulge = read(72);
      const closed = read(73, 1) === 1;
      const count = Math.min(codes.length, read(93));
      const points: { x: number; y: number; bulge: number }[] = [];
      for (let k = 0; k < count; k++) points.push({ x: read(10), y: read(20), bulge: hasBulge ? read(42) : 0 });
      out.push(...bulged(points, closed));
      continue;
    }
    const edges = Math.min(codes.length, read(93));
    const pieces: Subpath[] = [];
    for (let k = 0; k < edges; k++) {
      const type = read(72);
      if (type === 1) {
        const [x, y, x2, y2] = [read(10), read(20), read(11), read(21)];
        pieces.push({ x, y, closed: false, segments: [{ kind: 'line', x: x2, y: y2 }] });
      } else if (type === 2 || type === 3) {
        const [cx, cy] = [read(10), read(20)];
        const [mx, my] = type === 3 ? [read(11), read(21)] : [0, 0];
        const r = read(40);
        const [from, to] = [read(50), read(51)];
        const ccw = read(73, 1) === 1;
        const major = type === 3 ? Math.hypot(mx, my) : r;
        const minor = type === 3 ? major * r : r;
        // Clockwise edges give their angles mirrored.
        const arc = ccw
          ? ellipseArc(cx, cy, major, minor, Math.atan2(my, mx), rad(from), rad(to))
          : reversedPath(ellipseArc(cx, cy, major, minor, Math.atan2(my, mx), rad(-to), rad(-from)));
        pieces.push(arc);
      } else if (type === 4) {
        const degree = read(94);
        const rational = read(73);
        read(74);
        const [knotCount, pointCount] = [Math.min(codes.length, read(95)), Math.min(codes.length, read(96))];
        const knots = Array.from({ length: knotCount }, () => read(40));
        const points: [number, number][] = [];
        const weights: number[] = [];
        for (let c = 0; c < pointCount; c++) {
          points.push([read(10), read(20)]);
          if (rational) weights.push(read(42, 1));
        }
        const drawn = splinePath({ degree, knots, weights, points, fit: [], closed: false, start: null, end: null, tolerance });
        if (drawn) pieces.push(drawn);
      } else break;
    }
    out.push(...chain(pieces, 1e-6 + tolerance).subpaths.map((s) => ({ ...s, closed: true })));
  }
  return out;
}

/**
 * Chains open pieces whose ends meet within a gap. An end takes the nearest free end, once; a
 * chain that comes back to its start is closed.
 */
export function chain(pieces: readonly Subpath[], gap: number): { subpaths: Subpath[]; joined: number } {
  const out: Subpath[] = [];
  const open: Subpath[] = [];
  for (const piece of pieces) (piece.closed ? out : open).push(piece);
  const ends = open.map((s) => {
    const last = s.segments[s.segments.length - 1];
    return [s.x, s.y, last.x, last.y];
  });
  const cell = Math.max(gap, 1e-9);
  const grid = new Map<string, number[]>();
  const key = (x: number, y: number) => `${Math.floor(x / cell)},${Math.floor(y / cell)}`;
  ends.forEach(([x0, y0, x1, y1], i) => {
    for (const [k, x, y] of [
      [2 * i, x0, y0],
      [2 * i + 1, x1, y1],
    ]) {
      const at = key(x, y);
      const list = grid.get(at);
      if (list) list.push(k);
      else grid.set(at, [k]);
    }
  });
  const used = new Uint8Array(open.length);
  let joined = 0;
  /** The nearest free end within the gap: twice the piece, plus one for its far end. */
  const nearest = (x: number, y: number): number => {
    let best = -1;
    let distance = gap;
    const [cx, cy] = [Math.floor(x / cell), Math.floor(y / cell)];
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (const k of grid.get(`${cx + i},${cy + j}`) ?? []) {
          if (used[k >> 1]) continue;
          const e = ends[k >> 1];
          const d = Math.hypot(e[2 * (k & 1)] - x, e[2 * (k & 1) + 1] - y);
          if (d <= distance) [best, distance] = [k, d];
        }
    return best;
  };
  for (let i = 0; i < open.length; i++) {
    if (used[i]) continue;
    used[i] = 1;
    let run: Subpath = { ...open[i], segments: [...open[i].segments] };
    for (let way = 0; way < 2; way++) {
      for (;;) {
        const last = run.segments[run.segments.length - 1];
        const k = nearest(last.x, last.y);
        if (k < 0) break;
        used[k >> 1] = 1;
        const piece = k & 1 ? reversedPath(open[k >> 1]) : open[k >> 1];
        // The seam is drawn where the run ended; a gap within tolerance is bridged by moving one end.
        if (Math.hypot(piece.x - last.x, piece.y - last.y) > gap / 2 + 1e-12) run.segments.push({ kind: 'line', x: piece.x, y: piece.y });
        run.segments.push(...piece.segments);
        joined++;
      }
      // The other end may go on too.
      if (way === 0) run = reversedPath(run);
    }
    run = reversedPath(run);
    const last = run.segments[run.segments.length - 1];
    if ((run.segments.length > 1 || goesRound(run.segments[0], run, gap)) && Math.hypot(last.x - run.x, last.y - run.y) <= gap) {
      run.closed = true;
      // An arc that ended where it began would be no arc: a round of one piece is closed by a straight line.
      if (run.segments.length > 1) [last.x, last.y] = [run.x, run.y];
      joined++;
    }
    out.push(run);
  }
  return { subpaths: out, joined };
}

/** Is a single piece a round of its own, and no speck whose ends are near because all of it is small? */
function goesRound(s: Segment, from: { x: number; y: number }, gap: number): boolean {
  if (s.kind === 'arc') return s.large && Math.min(s.rx, s.ry) > gap;
  return s.kind === 'curve' && Math.max(Math.hypot(s.x1 - from.x, s.y1 - from.y), Math.hypot(s.x2 - from.x, s.y2 - from.y)) > 2 * gap;
}

type Nested = Pick<ImportedPath, 'kind' | 'subpaths' | 'fill'>;

/**
 * Closed outlines with what lies inside them as one thing, filled by the even-odd rule: a letter
 * with its island. Open lines stay things of their own.
 */
export function nest(subpaths: readonly Subpath[]): Nested[] {
  const closed = subpaths.filter((s) => s.closed);
  const things: Nested[] = subpaths.filter((s) => !s.closed).map((s) => ({ kind: 'path', subpaths: [s], fill: 'none' }));
  const rough = closed.map((s) => drawSubpaths([s], 0.05, true).contours[0]);
  const shapes = closed
    .map((subpath, i) => ({ subpath, xy: rough[i]?.xy, area: rough[i] ? Math.abs(signedArea(rough[i].xy)) : 0 }))
    .filter(({ xy }) => xy)
    .map((shape) => {
      let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
      for (let i = 0; i < shape.xy.length; i += 2) {
        x0 = Math.min(x0, shape.xy[i]);
        x1 = Math.max(x1, shape.xy[i]);
        y0 = Math.min(y0, shape.xy[i + 1]);
        y1 = Math.max(y1, shape.xy[i + 1]);
      }
      return { ...shape, box: [x0, y0, x1, y1] };
    })
    .sort((a, b) => b.area - a.area);
  const roots: { shape: (typeof shapes)[number]; inside: Subpath[] }[] = [];
  // Roots lie beside each other; an index finds the few that can hold an outline.
  const index = new RBush<{ minX: number; minY: number; maxX: number; maxY: number; root: (typeof roots)[number] }>();
  for (const shape of shapes) {
    const [x0, y0, x1, y1] = shape.box;
    const home = index
      .search({ minX: x0, minY: y0, maxX: x0, maxY: y0 })
      .find(({ maxX, maxY, root }) => maxX >= x1 && maxY >= y1 && insideContour(root.shape.xy, shape.xy[0], shape.xy[1]));
    if (home) home.root.inside.push(shape.subpath);
    else {
      const root = { shape, inside: [] };
      roots.push(root);
      index.insert({ minX: x0, minY: y0, maxX: x1, maxY: y1, root });
    }
  }
  for (const { shape, inside } of roots) things.push({ kind: 'path', subpaths: [shape.subpath, ...inside], fill: inside.length ? 'evenodd' : 'nonzero' });
  return things;
}
