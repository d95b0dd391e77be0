/**
 * Real SVG files from open icon and flag collections, and an independent renderer (resvg) as
 * oracle: what Kerbe imports must cover the same area as what the renderer paints.
 */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import svgpath from 'svgpath';
import { drawSubpaths } from '../artwork/index.ts';
import { readSvg, type ImportedPath } from '../artwork/import/index.ts';
import { contoursOf, intersect, rectangle, regionArea, strokeRegions, unite, type Contour } from '../geometry/index.ts';

const require = createRequire(import.meta.url);
const folder = (pack: string, rest: string) =>
  join(
    require.resolve.paths(pack)!.find((base) => existsSync(join(base, pack)))!,
    pack,
    rest,
  );

/** The collections, by name. Licences: MIT, MIT, MIT, CC0, ISC, MIT. */
export const COLLECTIONS: Record<string, () => string> = {
  'tabler outline': () => folder('@tabler/icons', 'icons/outline'),
  'tabler filled': () => folder('@tabler/icons', 'icons/filled'),
  bootstrap: () => folder('bootstrap-icons', 'icons'),
  maki: () => folder('@mapbox/maki', 'icons'),
  lucide: () => folder('lucide-static', 'icons'),
  'flags 4x3': () => folder('flag-icons', 'flags/4x3'),
};

export function filesOf(collection: string): { name: string; text: string }[] {
  const dir = COLLECTIONS[collection]();
  return readdirSync(dir)
    .filter((name) => name.endsWith('.svg'))
    .map((name) => ({ name, text: readFileSync(join(dir, name), 'utf8') }));
}

/** Area of what Kerbe makes of a file, as a fraction of its page: fills and the full width of strokes, united. */
export function importedArea(text: string): number {
  const { things, page } = readSvg(text, { tolerance: 0.0005 });
  if (!page) throw new Error('no page');
  const all: Contour[] = [];
  for (const thing of things) if (thing.kind === 'path') all.push(...painted(thing));
  const inside = intersect(unite(all), [{ outer: rectangle(0, 0, page.width, page.height), holes: [] }]);
  return inside.reduce((sum, region) => sum + regionArea(region), 0) / (page.width * page.height);
}

function painted({ subpaths, fill, strokeWidth, join, cap, mitreLimit }: ImportedPath): Contour[] {
  const out: Contour[] = [];
  if (fill !== 'none') out.push(...unite(drawSubpaths(subpaths, 0.0005, true).contours, fill).flatMap(contoursOf));
  if (strokeWidth) {
    const { contours, lines } = drawSubpaths(subpaths, 0.0005, false);
    out.push(...strokeRegions(contours, strokeWidth, true, join, cap, mitreLimit).flatMap(contoursOf));
    out.push(...strokeRegions(lines, strokeWidth, false, join, cap, mitreLimit).flatMap(contoursOf));
  }
  return out;
}

/** Area of what the renderer paints, as a fraction of the page: the sum of its coverage. */
function renderedArea(text: string, width: number): number {
  const image = new Resvg(text, { fitTo: { mode: 'width', value: width }, shapeRendering: 2, font: { loadSystemFonts: false } }).render();
  const { pixels } = image;
  let sum = 0;
  for (let i = 3; i < pixels.length; i += 4) sum += pixels[i];
  return sum / 255 / (image.width * image.height);
}

/**
 * How far the import is from the renderer, as a fraction of the area. The renderer has errors of
 * its own - coverage in steps, small arcs by few curves - so a file that differs is rendered once
 * more, four times as large, and then with its arcs turned into curves by a third party (svgpath).
 */
export function disagreement(file: string): number {
  // A see-through fill is carved like any other: its opacity is no part of the area.
  const text = file.replace(/\s(fill-|stroke-)?opacity="0?\.\d+"/g, '');
  const area = importedArea(text);
  const error = (rendered: number) => Math.abs(area - rendered) / Math.max(rendered, 1e-6);
  let best = error(renderedArea(text, 800));
  if (best >= LIMIT) best = Math.min(best, error(renderedArea(text, 2400)));
  if (best >= LIMIT) {
    const plain = text.replace(/(\sd=")([^"]*)"/g, (_, before: string, d: string) => `${before}${svgpath(d).abs().unarc().round(5).toString()}"`);
    best = Math.min(best, error(renderedArea(plain, 2400)));
  }
  return best;
}

/** Agreement that is asked for: a thousandth of the area. */
export const LIMIT = 1e-3;

/**
 * Where lines are drawn with a round pen the renderer itself is up to 0.2 % off: a dot of
 * length 0.01 and width 2 on a page of 24 covers π + 0.02 (derived), and it paints 0.2 % more.
 */
export const STROKE_LIMIT = 2.5e-3;
