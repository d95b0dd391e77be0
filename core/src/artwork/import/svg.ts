/**
 * SVG to things in millimetres with Y up: paths with every command, shapes, groups, `use` and
 * symbols, nested viewports, units, transforms, clip paths, styles by attribute and by simple
 * stylesheet, words. Scripts and outside references are dropped and named.
 */
import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import { clipLines, emptyBox, growBox, intersect, rectangle, unite, type Region } from '../../geometry/index.ts';
import { finding } from '../../findings/index.ts';
import { drawSubpaths, IDENTITY, parsePath, straightPath, times, transformPath, type Matrix, type Segment, type Subpath } from '../path.ts';
import { fitContour } from '../fit.ts';
import { ellipsePath } from '../shapes.ts';
import { readStyleSheet, styleOf, type Styled, type StyleSheet } from './css.ts';
import { MAX_THINGS, pathBox, type Imported, type ImportedThing, withinReach } from './imported.ts';

type Node = { ':@'?: Record<string, string>; [tag: string]: unknown };

/** Bounds on what one file may ask for; real drawings stay far below. */
const MAX_DEPTH = 120;
const MAX_USES = 50_000;
const MAX_TEXT = 64 * 1024 * 1024;

const MM: Record<string, number> = { mm: 1, cm: 10, q: 0.25, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6, px: 25.4 / 96 };
/** Elements that draw nothing of their own, or nothing we could carve. */
const SILENT = new Set(
  'defs title desc metadata style linearGradient radialGradient pattern marker filter symbol clipPath mask view cursor font font-face namedview animate animateTransform set script'.split(
    ' ',
  ),
);
const INHERITED = [
  'fill',
  'fill-rule',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-linecap',
  'stroke-linejoin',
  'stroke-miterlimit',
  'stroke-opacity',
  'clip-rule',
  'visibility',
  'color',
  'font-family',
  'font-size',
  'text-anchor',
];

interface State {
  matrix: Matrix;
  style: Record<string, string>;
  clip: Region[] | null;
  /** Size of the nearest viewport, in user units, for percentages. */
  viewport: [number, number];
  path: Styled[];
}

export interface SvgOptions {
  /** Greatest distance of a clipped outline from its curve, mm. */
  tolerance?: number;
  /** Cut away what lies beyond the page, as every browser shows it. */
  clipToPage?: boolean;
}

/** Reads an SVG file. Never throws on a bad one: `findings` says what is the matter. */
export function readSvg(text: string, { tolerance = 0.005, clipToPage = true }: SvgOptions = {}): Imported {
  const out: Imported = { things: [], size: { known: false, unit: 'px', mm: MM.px }, page: null, findings: [] };
  const fail = (why: string) => {
    out.findings.push(finding.importFailed(why));
    return out;
  };
  if (text.length > MAX_TEXT) return fail('it is larger than 64 MB');
  let tree: Node[];
  try {
    tree = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: '',
      removeNSPrefix: true,
      htmlEntities: true,
      parseTagValue: false,
      parseAttributeValue: false,
      trimValues: false,
      maxNestedTags: MAX_DEPTH + 10,
      processEntities: { enabled: true, maxExpandedLength: 2_000_000, maxTotalExpansions: 2_000_000, maxEntitySize: 100_000, maxEntityCount: 1000 },
    }).parse(text) as Node[];
  } catch (cause) {
    return fail(`it is not well-formed (${(cause as Error).message})`);
  }
  const svg = tree.find((node) => 'svg' in node);
  if (!svg) return fail('there is no svg element in it');
  new Reader(out, tolerance).page(svg, clipToPage);
  if (out.things.length === 0) out.findings.push(finding.importEmpty());
  return withinReach(out);
}

class Reader {
  private readonly out: Imported;
  private readonly tolerance: number;
  private readonly byId = new Map<string, Node>();
  private sheet: StyleSheet = { rules: [], skipped: [] };
  private uses = 0;
  private full = false;
  private readonly left = new Map<string, number>();

  constructor(out: Imported, tolerance: number) {
    this.out = out;
    this.tolerance = tolerance;
  }

  page(svg: Node, clipToPage: boolean): void {
    this.index([svg], 0);
    const a = svg[':@'] ?? {};
    const box = numbers(a.viewBox);
    const hasBox = box.length === 4 && box[2] > 0 && box[3] > 0;
    const w = physical(a.width);
    const h = physical(a.height);
    const ratio = hasBox ? box[3] / box[2] : 1;
    // A missing side follows from the other by the viewBox; both missing leave one pixel per unit.
    const width = w?.px ?? (h && hasBox ? h.px / ratio : hasBox ? box[2] : 300);
    const height = h?.px ?? (w && hasBox ? w.px * ratio : hasBox ? box[3] : 150);
    const stated = w ?? h;
    this.out.size = { known: stated !== null && stated.unit !== 'px', unit: stated?.unit ?? 'px', mm: MM.px };
    const mm = MM.px;
    if (stated || hasBox) this.out.page = { width: mm * width, height: mm * height };
    // Pixels of the page to millimetres, Y turned up.
    let matrix: Matrix = [mm, 0, 0, -mm, 0, mm * height];
    const page: Region[] = [{ outer: rectangle(0, 0, mm * width, mm * height), holes: [] }];
    let viewport: [number, number] = [width, height];
    if (hasBox) {
      matrix = times(matrix, viewBoxMatrix(box, [0, 0, width, height], a.preserveAspectRatio));
      viewport = [box[2], box[3]];
    }
    const state: State = {
      matrix,
      style: { fill: 'black', stroke: 'none', 'font-size': '16' },
      clip: clipToPage && this.out.page ? page : null,
      viewport,
      path: [],
    };
    this.children(svg.svg as Node[], this.entered('svg', a, state, false), 1);
    for (const [what, count] of this.left) this.out.findings.push(finding.importLeftOut(what, count));
    if (this.full) this.out.findings.push(finding.importTooMuch(MAX_THINGS));
    const colours = new Set(this.out.things.map(({ layer }) => layer));
    if (colours.size === 1) for (const thing of this.out.things) thing.layer = '';
  }

  private index(nodes: Node[], depth: number): void {
    if (depth > MAX_DEPTH) return;
    for (const node of nodes) {
      const tag = tagOf(node);
      if (!tag) continue;
      const id = node[':@']?.id;
      if (id !== undefined && !this.byId.has(id)) this.byId.set(id, node);
      if (tag === 'style') {
        const sheet = readStyleSheet(textOf(node.style as Node[]));
        this.sheet = { rules: [...this.sheet.rules, ...sheet.rules], skipped: [...this.sheet.skipped, ...sheet.skipped] };
        for (const selector of sheet.skipped) this.leave(`the style rule “${selector.slice(0, 40)}”`);
      }
      this.index(node[tag] as Node[], depth + 1);
    }
  }

  private leave(what: string): void {
    this.left.set(what, (this.left.get(what) ?? 0) + 1);
  }

  /** The state inside an element: style, transform and clip applied. */
  private entered(tag: string, a: Record<string, string>, outer: State, transforms = true): State {
    const path = [...outer.path, { tag, attributes: a }];
    const own: Record<string, string> = {};
    for (const key in a) if (key !== 'style') own[key] = a[key];
    if (this.sheet.rules.length) Object.assign(own, styleOf(this.sheet, path));
    if (a.style) Object.assign(own, declarations(a.style));
    const style = { ...outer.style };
    for (const key of INHERITED) {
      const value = own[key]?.trim().replace(/\s*!important$/, '');
      if (value && value !== 'inherit') style[key] = value;
    }
    style.display = own.display ?? '';
    style.opacity = own.opacity ?? '';
    style.mask = own.mask ?? '';
    if (style['font-size'].endsWith('%')) style['font-size'] = String((parseFloat(style['font-size']) / 100) * parseFloat(outer.style['font-size']));
    let { matrix, clip } = outer;
    if (transforms && (own.transform ?? a.transform)) matrix = times(matrix, transformOf(own.transform ?? a.transform));
    const state: State = { matrix, style, clip, viewport: outer.viewport, path };
    const ref = urlOf(own['clip-path']);
    if (ref) {
      const shape = this.clipRegion(ref, state, 0);
      if (shape) {
        clip = clip ? intersect(clip, shape) : shape;
        state.clip = clip;
      }
    }
    return state;
  }

  private children(nodes: Node[], state: State, depth: number): void {
    if (depth > MAX_DEPTH) return this.leave('groups nested too deeply');
    for (const node of nodes) {
      const tag = tagOf(node);
      if (tag && !this.full) this.element(tag, node, state, depth);
    }
  }

  private element(tag: string, node: Node, outer: State, depth: number): void {
    if (tag === 'script') return this.leave('scripts');
    if (SILENT.has(tag)) return;
    const a = node[':@'] ?? {};
    const state = this.entered(tag, a, outer);
    if (state.style.display === 'none' || parseFloat(state.style.opacity) === 0) return;
    if (state.style.mask && state.style.mask !== 'none') this.leave('masks');
    const kids = node[tag] as Node[];
    switch (tag) {
      case 'g':
      case 'a':
        return this.children(kids, state, depth + 1);
      case 'switch':
        return this.children(kids.filter((kid) => tagOf(kid) !== null && tagOf(kid) !== 'foreignObject').slice(0, 1), state, depth + 1);
      case 'svg': {
        const length = (value: string | undefined, full: number, missing: number) => lengthIn(value, full) ?? missing;
        const [vw, vh] = state.viewport;
        const at = [length(a.x, vw, 0), length(a.y, vh, 0), length(a.width, vw, vw), length(a.height, vh, vh)];
        return this.nested(kids, a, state, at, depth);
      }
      case 'use':
        return this.use(a, state, depth);
      case 'text':
        return this.words(node, state);
      case 'image':
        return this.leave('pictures inside the drawing');
      case 'foreignObject':
        return this.leave('foreign content');
    }
    const subpaths = this.shape(tag, a, state.viewport);
    if (subpaths === null) return this.leave(`“${tag.slice(0, 30)}” elements`);
    this.draw(subpaths, state, a);
  }

  private nested(kids: Node[], a: Record<string, string>, state: State, [x, y, w, h]: number[], depth: number): void {
    if (!(w > 0 && h > 0)) return;
    const box = numbers(a.viewBox);
    const hasBox = box.length === 4 && box[2] > 0 && box[3] > 0;
    const inner: State = { ...state };
    if (a.overflow !== 'visible') {
      const edge = this.regionsOf(rectPath(x, y, w, h, 0, 0), state.matrix, 'nonzero');
      inner.clip = state.clip ? intersect(state.clip, edge) : edge;
    }
    inner.matrix = times(state.matrix, hasBox ? viewBoxMatrix(box, [x, y, w, h], a.preserveAspectRatio) : [1, 0, 0, 1, x, y]);
    inner.viewport = hasBox ? [box[2], box[3]] : [w, h];
    this.children(kids, inner, depth + 1);
  }

  private use(a: Record<string, string>, state: State, depth: number): void {
    const href = a.href ?? '';
    if (!href.startsWith('#')) return this.leave('references to other files');
    const target = this.byId.get(href.slice(1));
    if (!target) return this.leave('references to nothing');
    if (depth > MAX_DEPTH) return this.leave('references that go round in a circle');
    if (++this.uses > MAX_USES) {
      this.full = true;
      return;
    }
    const tag = tagOf(target)!;
    // An element that uses itself, or an ancestor of its own, would never end.
    if (state.path.some(({ attributes }, i) => attributes.id === href.slice(1) && state.path[i].tag !== 'use'))
      return this.leave('references that go round in a circle');
    const [x, y] = [lengthIn(a.x, state.viewport[0]) ?? 0, lengthIn(a.y, state.viewport[1]) ?? 0];
    const moved: State = { ...state, matrix: times(state.matrix, [1, 0, 0, 1, x, y]) };
    if (tag !== 'symbol' && tag !== 'svg') return this.element(tag, target, moved, depth + 1);
    const ta = target[':@'] ?? {};
    const inner = this.entered(tag, ta, moved);
    const [vw, vh] = state.viewport;
    const size = (own: string | undefined, theirs: string | undefined, full: number) => lengthIn(own, full) ?? lengthIn(theirs, full) ?? full;
    this.nested(target[tag] as Node[], ta, inner, [0, 0, size(a.width, ta.width, vw), size(a.height, ta.height, vh)], depth);
  }

  /** Path data of a shape in its own units, or null when it is no shape. */
  private shape(tag: string, a: Record<string, string>, [vw, vh]: [number, number]): Subpath[] | null {
    const x = (key: string) => lengthIn(a[key], vw) ?? 0;
    const y = (key: string) => lengthIn(a[key], vh) ?? 0;
    const r = (key: string) => lengthIn(a[key], Math.hypot(vw, vh) / Math.SQRT2) ?? 0;
    switch (tag) {
      case 'path': {
        const { subpaths, why } = parsePath(a.d ?? '');
        if (why) this.leave('damaged ends of paths');
        return subpaths;
      }
      case 'rect': {
        const [w, h] = [x('width'), y('height')];
        if (!(w > 0 && h > 0)) return [];
        const given = [lengthIn(a.rx, vw), lengthIn(a.ry, vh)];
        const [rx, ry] = [given[0] ?? given[1] ?? 0, given[1] ?? given[0] ?? 0];
        return rectPath(x('x'), y('y'), w, h, Math.min(rx, w / 2), Math.min(ry, h / 2));
      }
      case 'circle':
        return r('r') > 0 ? [ellipsePath(x('cx'), y('cy'), r('r'), r('r'))] : [];
      case 'ellipse':
        return x('rx') > 0 && y('ry') > 0 ? [ellipsePath(x('cx'), y('cy'), x('rx'), y('ry'))] : [];
      case 'line':
        return [{ x: x('x1'), y: y('y1'), closed: false, segments: [{ kind: 'line', x: x('x2'), y: y('y2') }] }];
      case 'polyline':
      case 'polygon': {
        const p = numbers(a.points);
        if (p.length < 4) return [];
        return [straightPath({ xy: Float64Array.from(p.slice(0, p.length & ~1)), smooth: new Uint8Array(0) }, tag === 'polygon')];
      }
    }
    return null;
  }

  private draw(subpaths: Subpath[], state: State, a: Record<string, string>): void {
    const { style, matrix, clip } = state;
    if (subpaths.length === 0 || style.visibility === 'hidden' || style.visibility === 'collapse') return;
    const filled = this.paints(style.fill, style['fill-opacity']);
    const scale = Math.sqrt(Math.abs(matrix[0] * matrix[3] - matrix[1] * matrix[2]));
    const strokeWidth = this.paints(style.stroke, style['stroke-opacity']) ? (lengthIn(style['stroke-width'] ?? '1', state.viewport[0]) ?? 1) * scale : 0;
    if (!filled && !(strokeWidth > 0)) return;
    if (scale === 0) return;
    let placed = transformPath(subpaths, matrix);
    const fill = filled ? (style['fill-rule'] === 'evenodd' ? 'evenodd' : 'nonzero') : 'none';
    // A single straight line encloses nothing: a fill does not show it.
    if (fill !== 'none' && !(strokeWidth > 0) && placed.every(({ segments }) => segments.length < 2 && segments[0]?.kind === 'line')) return;
    if (clip) {
      const kept = this.clipped(placed, fill, clip);
      if (kept === null) return;
      placed = kept;
    }
    if (fill !== 'none') placed = placed.map((subpath) => ({ ...subpath, closed: true }));
    if (this.out.things.length >= MAX_THINGS) {
      this.full = true;
      return;
    }
    const thing: ImportedThing = {
      kind: 'path',
      subpaths: placed,
      fill,
      layer: colourName(filled ? style.fill : style.stroke, style.color),
      name: a.id ?? '',
    };
    if (strokeWidth > 0) {
      thing.strokeWidth = strokeWidth;
      thing.join = style['stroke-linejoin'] === 'round' ? 'round' : style['stroke-linejoin'] === 'bevel' ? 'square' : 'mitre';
      thing.cap = style['stroke-linecap'] === 'round' ? 'round' : style['stroke-linecap'] === 'square' ? 'square' : 'butt';
      thing.mitreLimit = Number(style['stroke-miterlimit'] ?? 4) || 4;
    }
    this.out.things.push(thing);
  }

  private paints(paint: string | undefined, opacity: string | undefined): boolean {
    if (!paint || paint === 'none' || paint === 'transparent' || parseFloat(opacity ?? '1') === 0) return false;
    const ref = urlOf(paint);
    if (ref && !this.byId.has(ref)) return !/^url\([^)]*\)\s*$/.test(paint) && !/none\s*$/.test(paint);
    return !/^(rgba|hsla)\(.*,\s*0(\.0+)?\s*\)$/.test(paint);
  }

  /** What of a path lies inside a clip: the path itself when all of it does; null when nothing does. */
  private clipped(subpaths: Subpath[], fill: 'nonzero' | 'evenodd' | 'none', clip: Region[]): Subpath[] | null {
    if (clip.length === 0) return null;
    const box = pathBox(subpaths);
    if (clip.length === 1 && clip[0].holes.length === 0 && isBox(clip[0], box)) return subpaths;
    const drawn = drawSubpaths(subpaths, this.tolerance, fill !== 'none');
    if (
      clip.length === 1 &&
      clip[0].holes.length === 0 &&
      isBox(
        clip[0],
        [...drawn.contours, ...drawn.lines].reduce((all, { xy }) => growBox(all, xy), emptyBox()),
      )
    )
      return subpaths;
    if (fill !== 'none') {
      const regions = intersect(unite(drawn.contours, fill), clip);
      return regions.length ? regions.flatMap(({ outer, holes }) => [outer, ...holes].map((contour) => fitContour(contour, this.tolerance))) : null;
    }
    // A closed line that is clipped comes apart: it is drawn as an open one that returns to its start.
    const lines = [...drawn.lines, ...drawn.contours.map(opened)];
    const kept = clipLines(lines, clip);
    return kept.length ? kept.map((line) => fitContour(line, this.tolerance, false)) : null;
  }

  private regionsOf(subpaths: Subpath[], matrix: Matrix, rule: 'nonzero' | 'evenodd'): Region[] {
    return unite(drawSubpaths(transformPath(subpaths, matrix), this.tolerance, true).contours, rule);
  }

  /** The region of a clipPath, in millimetres; null when the reference leads nowhere. */
  private clipRegion(id: string, user: State, depth: number): Region[] | null {
    const node = this.byId.get(id);
    if (!node || tagOf(node) !== 'clipPath' || depth > 8) return null;
    const a = node[':@'] ?? {};
    if (a.clipPathUnits === 'objectBoundingBox') {
      this.leave('clips measured by the box of a thing');
      return null;
    }
    const base = this.entered('clipPath', a, { ...user, clip: null });
    const regions: Region[] = [];
    for (const kid of node.clipPath as Node[]) {
      let tag = tagOf(kid);
      if (!tag) continue;
      let state = this.entered(tag, kid[':@'] ?? {}, base);
      let target = kid;
      if (tag === 'use') {
        const ua = kid[':@'] ?? {};
        const found = this.byId.get((ua.href ?? '').slice(1));
        if (!found) continue;
        target = found;
        tag = tagOf(found)!;
        const shift: Matrix = [1, 0, 0, 1, lengthIn(ua.x, state.viewport[0]) ?? 0, lengthIn(ua.y, state.viewport[1]) ?? 0];
        state = this.entered(tag, found[':@'] ?? {}, { ...state, matrix: times(state.matrix, shift) });
      }
      if (state.style.display === 'none') continue;
      const subpaths = this.shape(tag, target[':@'] ?? {}, state.viewport);
      if (!subpaths) continue;
      let region = this.regionsOf(subpaths, state.matrix, state.style['clip-rule'] === 'evenodd' ? 'evenodd' : 'nonzero');
      if (state.clip) region = intersect(region, state.clip);
      regions.push(...region);
    }
    const whole = unite(regions.flatMap(({ outer, holes }) => [outer, ...holes]));
    return base.clip ? intersect(whole, base.clip) : whole;
  }

  /** Words become words in a shipped face of the same kind, with a finding that says so. */
  private words(node: Node, state: State): void {
    const a = node[':@'] ?? {};
    const kids = node.text as Node[];
    const put = (text: string, attrs: Record<string, string>, own: State) => {
      const words = text.replace(/\s+/g, ' ').trim();
      if (words === '') return;
      const size = lengthIn(own.style['font-size'], 100) ?? 16;
      const scale = Math.sqrt(Math.abs(own.matrix[0] * own.matrix[3] - own.matrix[1] * own.matrix[2]));
      const capHeight = 0.7 * size * scale;
      const [x, y] = [numbers(attrs.x)[0] ?? numbers(a.x)[0] ?? 0, numbers(attrs.y)[0] ?? numbers(a.y)[0] ?? 0];
      const m = own.matrix;
      const angle = (Math.atan2(m[1], m[0]) * 180) / Math.PI;
      const px = m[0] * x + m[2] * y + m[4];
      const py = m[1] * x + m[3] * y + m[5];
      const a0 = (angle * Math.PI) / 180;
      if (!(capHeight > 1e-3)) return;
      const anchor = own.style['text-anchor'];
      this.out.things.push({
        kind: 'text',
        text: words,
        face: faceFor(own.style['font-family'] ?? ''),
        capHeight,
        align: anchor === 'middle' ? 'centre' : anchor === 'end' ? 'right' : 'left',
        x: px - (Math.sin(a0) * capHeight) / 2,
        y: py + (Math.cos(a0) * capHeight) / 2,
        angle,
        layer: colourName(own.style.fill, own.style.color),
        name: words.slice(0, 40),
      });
      this.leave(`the face “${(own.style['font-family'] ?? 'of the file').slice(0, 40)}”, replaced by a shipped one`);
    };
    let plain = '';
    for (const kid of kids) {
      if ('#text' in kid) plain += String(kid['#text']);
      else if ('tspan' in kid) {
        const ka = kid[':@'] ?? {};
        if (ka.x !== undefined || ka.y !== undefined) put(textOf(kid.tspan as Node[]), ka, this.entered('tspan', ka, state, false));
        else plain += textOf(kid.tspan as Node[]);
      }
    }
    put(plain, a, state);
  }
}

/** A shipped face of the kind a family name asks for. */
function faceFor(family: string): string {
  const name = family.toLowerCase();
  if (/cursive|script|hand/.test(name)) return 'lobster';
  if (/stencil/.test(name)) return 'stardos';
  if (/slab/.test(name)) return 'zilla';
  if (/sans|condensed|narrow|mono/.test(name)) return /condensed|narrow/.test(name) ? 'barlow' : 'bebas';
  return /serif|roman|times/.test(name) ? 'playfair' : 'barlow';
}

const tagOf = (node: Node): string | null => {
  for (const key in node) if (key !== ':@') return key.startsWith('#') || key.startsWith('?') ? null : key;
  return null;
};
const textOf = (nodes: Node[]): string =>
  nodes
    .map((node) =>
      '#text' in node ? String(node['#text']) : '__cdata' in node ? textOf(node.__cdata as Node[]) : textOf((node[tagOf(node) ?? ''] as Node[]) ?? []),
    )
    .join('');

const numbers = (text: string | undefined): number[] => (text?.match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi) ?? []).map(Number);

function declarations(style: string): Record<string, string> {
  const out: Record<string, string> = {};
  for (const part of style.split(';')) {
    const colon = part.indexOf(':');
    if (colon > 0) out[part.slice(0, colon).trim()] = part.slice(colon + 1).trim();
  }
  return out;
}

const urlOf = (value: string | undefined): string | null => value?.match(/^url\(\s*['"]?#([^'")]+)['"]?\s*\)/)?.[1] ?? null;

/** A length in user units (pixels); `full` is what 100 % is. Null when there is none. */
function lengthIn(value: string | undefined, full: number): number | null {
  const m = value?.trim().match(/^([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*(mm|cm|q|in|pt|pc|px|em|ex|%)?$/i);
  if (!m) return null;
  const number = Number(m[1]);
  const unit = (m[2] ?? 'px').toLowerCase();
  if (unit === '%') return (number / 100) * full;
  if (unit === 'em') return number * 16;
  if (unit === 'ex') return number * 8;
  return (number * MM[unit]) / MM.px;
}

/** Width or height of the page in pixels, with the unit it was given in; null for none or a percentage. */
function physical(value: string | undefined): { px: number; unit: string } | null {
  const px = value?.includes('%') ? null : lengthIn(value, 0);
  if (px === null || !(px > 0)) return null;
  return { px, unit: value!.match(/[a-z]+$/i)?.[0].toLowerCase() ?? 'px' };
}

/** The `transform` attribute, or the transform of a style, as one matrix. */
function transformOf(text: string): Matrix {
  const probe = (x: number, y: number) => {
    let at: [number, number] = [0, 0];
    svgpath(`M${x} ${y}`)
      .transform(text.replace(/(\d)(px|deg)/g, '$1'))
      .iterate((s) => void (at = [s[1] as number, s[2] as number]));
    return at;
  };
  const [e, f] = probe(0, 0);
  const [a, b] = probe(1, 0);
  const [c, d] = probe(0, 1);
  const m: Matrix = [a - e, b - f, c - e, d - f, e, f];
  return m.every(Number.isFinite) ? m : IDENTITY;
}

/** Maps a viewBox into a box of the parent's units, as preserveAspectRatio says (SVG 1.1, 7.8). */
function viewBoxMatrix(box: number[], [x, y, w, h]: number[], ratio = 'xMidYMid meet'): Matrix {
  let [sx, sy] = [w / box[2], h / box[3]];
  const [align, how] = ratio.trim().split(/\s+/);
  if (align !== 'none') sx = sy = how === 'slice' ? Math.max(sx, sy) : Math.min(sx, sy);
  const part = (name: 'x' | 'Y') => (align.includes(`${name}Min`) ? 0 : align.includes(`${name}Max`) ? 1 : 0.5);
  const [fx, fy] = align === 'none' ? [0, 0] : [part('x'), part('Y')];
  return [sx, 0, 0, sy, x + (w - box[2] * sx) * fx - box[0] * sx, y + (h - box[3] * sy) * fy - box[1] * sy];
}

function rectPath(x: number, y: number, w: number, h: number, rx: number, ry: number): Subpath[] {
  const segments: Segment[] = [];
  const to = (px: number, py: number) => segments.push({ kind: 'line', x: px, y: py });
  const corner = (px: number, py: number) => {
    if (rx > 0 && ry > 0) segments.push({ kind: 'arc', rx, ry, turn: 0, large: false, sweep: true, x: px, y: py });
  };
  if (!(rx > 0 && ry > 0)) [rx, ry] = [0, 0];
  to(x + w - rx, y);
  corner(x + w, y + ry);
  to(x + w, y + h - ry);
  corner(x + w - rx, y + h);
  to(x + rx, y + h);
  corner(x, y + h - ry);
  if (ry > 0) to(x, y + ry);
  corner(x + rx, y);
  return [{ x: x + rx, y, closed: true, segments }];
}

/** Is the clip a plain upright rectangle around the box? */
function isBox({ outer: { xy } }: Region, box: { minX: number; minY: number; maxX: number; maxY: number }): boolean {
  if (xy.length !== 8) return false;
  const xs = [xy[0], xy[2], xy[4], xy[6]];
  const ys = [xy[1], xy[3], xy[5], xy[7]];
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  if (!xs.every((x) => x === x0 || x === x1) || !ys.every((y) => y === y0 || y === y1)) return false;
  const slack = 1e-6 * Math.max(1, x1 - x0, y1 - y0);
  return box.minX >= x0 - slack && box.maxX <= x1 + slack && box.minY >= y0 - slack && box.maxY <= y1 + slack;
}

const opened = ({ xy, smooth }: { xy: Float64Array; smooth: Uint8Array }) => ({
  xy: Float64Array.from([...xy, xy[0], xy[1]]),
  smooth: Uint8Array.from([...smooth, smooth[0]]),
});

const colourName = (paint: string, current: string | undefined): string =>
  paint === 'currentColor' ? (current ?? 'black').toLowerCase() : urlOf(paint) ? 'shaded' : paint.toLowerCase();
