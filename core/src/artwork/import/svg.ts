/**
 * The plain shapes of an SVG file as drawn things: path, rect, circle, ellipse, polygon, both
 * fill rules, groups and transforms, in millimetres with Y turned up. What it cannot take is
 * named in `skipped`, never dropped in silence.
 */
import { XMLParser } from 'fast-xml-parser';
import svgpath from 'svgpath';
import type { Item } from '../../job/index.ts';

type Node = { ':@'?: Record<string, string>; [tag: string]: unknown };

export interface SvgShapes {
  items: Extract<Item, { kind: 'path' }>[];
  skipped: string[];
  why: string | null;
}

const MM: Record<string, number> = { mm: 1, cm: 10, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6 };
const MAX_SHAPES = 20_000;
const MAX_DEPTH = 200;

/**
 * @param pageHeight mm, used to turn Y up when the file states no size of its own
 */
export function readSvgShapes(text: string, pageHeight: number): SvgShapes {
  const out: SvgShapes = { items: [], skipped: [], why: null };
  let tree: Node[];
  try {
    tree = new XMLParser({ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', htmlEntities: true, parseTagValue: false }).parse(
      text,
    ) as Node[];
  } catch (cause) {
    out.why = `The file is not well-formed: ${(cause as Error).message}`;
    return out;
  }
  const svg = tree.find((node) => 'svg' in node);
  if (!svg) {
    out.why = 'The file holds no svg element.';
    return out;
  }
  const attrs = svg[':@'] ?? {};
  const box = (attrs.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const hasBox = box.length === 4 && box.every(Number.isFinite) && box[2] > 0 && box[3] > 0;
  const size = (value: string | undefined): number | null => {
    const m = value?.trim().match(/^([\d.]+)\s*(mm|cm|in|pt|pc)?$/);
    return m ? Number(m[1]) * (m[2] ? MM[m[2]] : 1) : null;
  };
  const width = size(attrs.width);
  const height = size(attrs.height) ?? (hasBox ? box[3] * (width ? width / box[2] : 1) : null);
  const scale = hasBox && width ? width / box[2] : hasBox && height ? height / box[3] : 1;
  const top = height ?? pageHeight;
  const [ox, oy] = hasBox ? [box[0], box[1]] : [0, 0];
  const visit = (nodes: Node[], transforms: string[], fill: string, depth: number): void => {
    if (depth > MAX_DEPTH) {
      out.skipped.push('groups nested too deeply');
      return;
    }
    for (const node of nodes) {
      const tag = Object.keys(node).find((key) => key !== ':@');
      if (!tag || tag.startsWith('#') || tag.startsWith('?')) continue;
      const a = node[':@'] ?? {};
      const style = Object.fromEntries((a.style ?? '').split(';').map((part) => part.split(':').map((t) => t.trim())));
      const rule = style['fill-rule'] ?? a['fill-rule'] ?? fill;
      const chain = a.transform ? [...transforms, a.transform] : transforms;
      if (tag === 'g' || tag === 'svg') {
        visit(node[tag] as Node[], chain, rule, depth + 1);
        continue;
      }
      const d = pathOf(tag, a);
      if (d === null) {
        if (!['defs', 'title', 'desc', 'metadata', 'style'].includes(tag)) out.skipped.push(tag);
        continue;
      }
      if (out.items.length >= MAX_SHAPES) {
        out.why = `The file holds more than ${MAX_SHAPES} shapes.`;
        return;
      }
      let path = svgpath(d);
      for (const transform of [...chain].reverse()) path = path.transform(transform);
      path = path.translate(-ox, -oy).scale(scale, -scale).translate(0, top);
      out.items.push({
        kind: 'path',
        id: `art${out.items.length + 1}`,
        name: a.id ?? tag,
        x: 0,
        y: 0,
        d: path.toString(),
        fill: rule === 'evenodd' ? 'evenodd' : 'nonzero',
      });
    }
  };
  visit(svg.svg as Node[], [], 'nonzero', 0);
  if (out.items.length === 0 && !out.why) out.why = 'The file holds no path, rect, circle, ellipse or polygon.';
  return out;
}

function pathOf(tag: string, a: Record<string, string>): string | null {
  const n = (name: string) => Number.parseFloat(a[name] ?? '0') || 0;
  switch (tag) {
    case 'path':
      return a.d ?? '';
    case 'polygon':
      return `M${a.points ?? ''}Z`;
    case 'circle':
    case 'ellipse': {
      const rx = tag === 'circle' ? n('r') : n('rx');
      const ry = tag === 'circle' ? n('r') : n('ry');
      const [cx, cy] = [n('cx'), n('cy')];
      return `M${cx + rx} ${cy}A${rx} ${ry} 0 0 1 ${cx - rx} ${cy}A${rx} ${ry} 0 0 1 ${cx + rx} ${cy}Z`;
    }
    case 'rect': {
      const [x, y, w, h] = [n('x'), n('y'), n('width'), n('height')];
      const rx = Math.min(a.rx === undefined ? n('ry') : n('rx'), w / 2);
      const ry = Math.min(a.ry === undefined ? rx : n('ry'), h / 2);
      if (!(rx > 0 && ry > 0)) return `M${x} ${y}H${x + w}V${y + h}H${x}Z`;
      const arc = (ex: number, ey: number) => `A${rx} ${ry} 0 0 1 ${ex} ${ey}`;
      return `M${x + rx} ${y}H${x + w - rx}${arc(x + w, y + ry)}V${y + h - ry}${arc(x + w - rx, y + h)}H${x + rx}${arc(x, y + h - ry)}V${y + ry}${arc(x + rx, y)}Z`;
    }
    default:
      return null;
  }
}
