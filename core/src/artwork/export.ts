/** Artwork to open formats: SVG with millimetre units and true arcs, and path data for DXF (see dxf.ts). */
import { worksOn } from '../job/target.ts';
import type { Job } from '../job/index.ts';
import { isHidden, itemPath, type DrawContext } from './index.ts';
import { short, transformPath, type Subpath } from './path.ts';
import { kindOf } from '../cuts/index.ts';

export interface ExportedThing {
  id: string;
  name: string;
  layer: string;
  fill: 'nonzero' | 'evenodd' | 'none';
  /** On the board, mm, Y up. */
  subpaths: Subpath[];
}

/**
 * Everything that is drawn, as path data on the board. A thing lies on a layer named after the
 * cuts that work on it, so that the file says what was to be done with it.
 */
export function exportedThings(job: Job, fonts: DrawContext['fonts']): ExportedThing[] {
  const context = { fonts, tolerance: job.tolerance / 2, items: job.items };
  return job.itemOrder
    .map((id) => job.items[id])
    .filter((item) => !isHidden(item, job) && item.kind !== 'picture')
    .map((item) => {
      const { subpaths, fill } = itemPath(item, context);
      const cuts = job.cutOrder
        .map((id) => job.cuts[id])
        .filter((cut) => worksOn(job, cut, item))
        .map((cut) => cut.name || kindOf(cut).label);
      const name = item.name || (item.kind === 'text' ? item.text.split('\n')[0].slice(0, 60) : '');
      return { id: item.id, name, layer: cuts.join(' + ') || 'not cut', fill, subpaths };
    });
}

/** Characters that XML 1.0 allows: the control characters it forbids are left out. */
const allowed = (c: string) => (c >= ' ' ? c !== '\ufffe' && c !== '\uffff' : c === '\t' || c === '\n' || c === '\r');

const escaped = (text: string) =>
  [...text]
    .filter(allowed)
    .join('')
    .replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

/** The artwork as an SVG file the size of the board, one group for each layer. */
export function writeSvg(job: Job, things: readonly ExportedThing[]): string {
  const { width, height } = job.board;
  const layers = new Map<string, ExportedThing[]>();
  for (const thing of things) layers.set(thing.layer, [...(layers.get(thing.layer) ?? []), thing]);
  const lines = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" width="${short(width)}mm" height="${short(height)}mm" viewBox="0 0 ${short(width)} ${short(height)}">`,
    `<title>${escaped(job.name)}</title>`,
  ];
  for (const [layer, members] of layers) {
    lines.push(`<g><title>${escaped(layer)}</title>`);
    for (const { id, name, fill, subpaths } of members) {
      // Y is turned down, as SVG wants it.
      const d = svgData(transformPath(subpaths, [1, 0, 0, -1, 0, height]));
      if (d === '') continue;
      const paint = fill === 'none' ? 'fill="none" stroke="black" stroke-width="0.2"' : `fill="black"${fill === 'evenodd' ? ' fill-rule="evenodd"' : ''}`;
      lines.push(`<path id="${escaped(id)}" ${paint} d="${d}">${name ? `<title>${escaped(name)}</title>` : ''}</path>`);
    }
    lines.push('</g>');
  }
  return [...lines, '</svg>', ''].join('\n');
}

/** Path data with seven decimals: turning Y must not cost a rounding that coming back shows. */
function svgData(subpaths: readonly Subpath[]): string {
  const n = (value: number) => String(Math.round(value * 1e7) / 1e7);
  return subpaths
    .map(({ x, y, closed, segments }) => {
      const parts = segments.map((s) =>
        s.kind === 'line'
          ? `L${n(s.x)} ${n(s.y)}`
          : s.kind === 'curve'
            ? `C${n(s.x1)} ${n(s.y1)} ${n(s.x2)} ${n(s.y2)} ${n(s.x)} ${n(s.y)}`
            : `A${n(s.rx)} ${n(s.ry)} ${n(s.turn)} ${s.large ? 1 : 0} ${s.sweep ? 1 : 0} ${n(s.x)} ${n(s.y)}`,
      );
      return `M${n(x)} ${n(y)}${parts.join('')}${closed ? 'Z' : ''}`;
    })
    .join('');
}
