/**
 * Pictures to contours: a level line through grey values (marching squares between pixels),
 * corners found, curves fitted. Line art can be traced along its middle instead, by the medial
 * axis of what was found.
 */
import { contours as levelLines } from 'd3-contour';
import { contoursOf, medialAxis, offset, signedArea, unite, type Contour, type Line, type Region } from '../../geometry/index.ts';
import { finding } from '../../findings/index.ts';
import { fitContour } from '../fit.ts';
import { transformPath, type Matrix, type Subpath } from '../path.ts';
import type { Imported, ImportedPath } from './imported.ts';
import type { TraceSettings } from './trace.ts';

/** A picture as grey values, 0 black to 255 white, row by row from the top. See-through pixels count as white. */
export interface Raster {
  width: number;
  height: number;
  grey: Uint8Array;
  /** How far each pixel hides what is behind it, 0 to 255; left out when all of them do. */
  opacity?: Uint8Array;
}

/** What is larger is refused before it is decoded. */
export const MAX_PIXELS = 40_000_000;

/** Grey of RGBA pixels over white: luminance by ITU-R BT.601 (published). */
export function greyOf(rgba: ArrayLike<number>, width: number, height: number): Raster {
  const grey = new Uint8Array(width * height);
  let opacity: Uint8Array | undefined;
  for (let i = 0, k = 0; i < grey.length; i++, k += 4) {
    const a = rgba[k + 3];
    const light = (299 * rgba[k] + 587 * rgba[k + 1] + 114 * rgba[k + 2]) / 1000;
    grey[i] = Math.round((light * a + 255 * (255 - a)) / 255);
    if (a < 255) (opacity ??= new Uint8Array(grey.length).fill(255))[i] = a;
  }
  return { width, height, grey, ...(opacity ? { opacity } : {}) };
}

/**
 * Traces a picture.
 *
 * @param pixel size of a pixel, mm
 * @returns things about the picture's own middle, Y up
 */
export function tracePicture(raster: Raster, settings: TraceSettings, pixel: number): Imported {
  const out: Imported = {
    things: [],
    size: { known: false, unit: 'pixel', mm: pixel },
    page: { width: raster.width * pixel, height: raster.height * pixel },
    findings: [],
  };
  const { width, height } = raster;
  const place: Matrix = [pixel, 0, 0, -pixel, (-width / 2) * pixel, (height / 2) * pixel];
  const found = outlines(raster, settings);
  const regions = settings.round > 0 && settings.along === 'outline' ? rounded(found, settings.round) : found;
  const put = (subpaths: Subpath[], fill: ImportedPath['fill']) =>
    out.things.push({ kind: 'path', subpaths: transformPath(subpaths, place), fill, layer: '', name: '' });
  if (settings.along === 'middle') for (const line of middles(regions, settings.smooth)) put([line], 'none');
  else
    for (const { outer, holes } of regions)
      put(
        [outer, ...holes].map((contour) => fitContour(contour, settings.smooth)),
        holes.length ? 'evenodd' : 'nonzero',
      );
  if (out.things.length === 0) out.findings.push(finding.traceEmpty());
  return out;
}

/** No bend tighter than a radius: gaps that a disc of it cannot enter are closed, and what cannot hold one is taken off. */
function rounded(regions: readonly Region[], radius: number): Region[] {
  const precise = radius / 30;
  const grown = offset(unite(regions.flatMap(contoursOf), 'evenodd'), radius, 'round', precise);
  const round = ({ xy }: Contour): Contour => ({ xy, smooth: new Uint8Array(xy.length / 2).fill(1) });
  return offset(offset(grown, -2 * radius, 'round', precise), radius, 'round', precise).map(({ outer, holes }) => ({
    outer: round(outer),
    holes: holes.map(round),
  }));
}

/** Dark areas in pixel coordinates, Y down; holes run against their outlines. Corners are marked. */
function outlines({ width, height, grey }: Raster, { threshold, invert, despeckle }: TraceSettings): Region[] {
  // A rim of one pixel, so that what touches the edge of the picture is closed along it.
  const [w, h] = [width + 2, height + 2];
  const dark = new Float32Array(w * h);
  const inner = (x: number, y: number) => {
    const value = grey[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))];
    return invert ? value : 255 - value;
  };
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) dark[y * w + x] = inner(x - 1, y - 1);
  const values = isTwoTone(grey) ? softened(dark, w, h) : dark;
  const level = Math.min(254.5, Math.max(0.5, invert ? threshold : 255 - threshold));
  // Rim values mirrored about the level put the line exactly on the picture's edge.
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x += y === 0 || y === h - 1 ? 1 : w - 1) {
      const value = values[Math.min(h - 2, Math.max(1, y)) * w + Math.min(w - 2, Math.max(1, x))];
      values[y * w + x] = value >= level ? Math.min(level - 1e-3, 2 * level - value) : 0;
    }
  const [shape] = levelLines().size([w, h]).smooth(true).thresholds([level])(values as unknown as number[]);
  const regions: Region[] = [];
  for (const polygon of shape.coordinates) {
    const rings = polygon.map((ring) => cornered(ring));
    const large = (contour: Contour | null): contour is Contour => contour !== null && Math.abs(signedArea(contour.xy)) >= Math.max(1, despeckle);
    // The rings of a polygon: its outline, then its holes. A dropped outline takes its holes along.
    if (!large(rings[0])) continue;
    regions.push({ outer: rings[0], holes: rings.slice(1).filter(large) });
  }
  return regions;
}

/** Are nearly all pixels either black or white? Then edges are stairs, not slopes. */
function isTwoTone(grey: Uint8Array): boolean {
  let between = 0;
  for (const value of grey) if (value > 16 && value < 239) between++;
  return between < 0.002 * grey.length;
}

/** A three-by-three blur (weights 1 2 1): gives the stairs of a two-tone picture a slope the level line can follow. */
function softened(values: Float32Array, w: number, h: number): Float32Array {
  const across = new Float32Array(values.length);
  const out = new Float32Array(values.length);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      across[i] = (2 * values[i] + values[i - (x > 0 ? 1 : 0)] + values[i + (x < w - 1 ? 1 : 0)]) / 4;
    }
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      out[i] = (2 * across[i] + across[i - (y > 0 ? w : 0)] + across[i + (y < h - 1 ? w : 0)]) / 4;
    }
  return out;
}

/** Points this far apart along the ring are compared for a corner, pixels. */
const REACH = 3.5;
/** A turn above this within the reach is a corner, radians (about 46 degrees). */
const CORNER = 0.8;

/** A closed ring of points as a contour with its corners marked, without the rim's offset. */
function cornered(ring: readonly (readonly number[])[]): Contour | null {
  const xs: number[] = [];
  const ys: number[] = [];
  for (let i = 0; i + 1 < ring.length; i++) {
    const [x, y] = [ring[i][0] - 1, ring[i][1] - 1];
    const k = xs.length - 1;
    // Where the line passes close by a pixel's middle, two points nearly coincide.
    if (k >= 0 && Math.hypot(x - xs[k], y - ys[k]) < 0.5) continue;
    xs.push(x);
    ys.push(y);
  }
  const n = xs.length;
  if (n < 3) return null;
  const turn = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const back = walk(xs, ys, i, -1);
    const on = walk(xs, ys, i, 1);
    const [ax, ay, bx, by] = [xs[i] - back[0], ys[i] - back[1], on[0] - xs[i], on[1] - ys[i]];
    turn[i] = Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by));
  }
  const xy = new Float64Array(2 * n);
  const smooth = new Uint8Array(n).fill(1);
  for (let i = 0; i < n; i++) {
    xy[2 * i] = xs[i];
    xy[2 * i + 1] = ys[i];
    // The sharpest point of its neighbourhood only.
    if (turn[i] > CORNER && [-3, -2, -1, 1, 2, 3].every((d) => turn[i] > turn[(i + d + n) % n] || (turn[i] === turn[(i + d + n) % n] && d > 0))) smooth[i] = 0;
  }
  return thinned({ xy, smooth });
}

/** Every other point between corners: a curve that keeps within a third of a pixel is as well known from half of them. */
function thinned({ xy, smooth }: Contour): Contour {
  const n = smooth.length;
  if (n < 48) return { xy, smooth };
  const kept: number[] = [];
  const near = (i: number) => !smooth[i] || !smooth[(i + 1) % n] || !smooth[(i + n - 1) % n];
  for (let i = 0; i < n; i++) if (near(i) || kept.length === 0 || i - kept[kept.length - 1] >= 2) kept.push(i);
  return { xy: Float64Array.from(kept.flatMap((i) => [xy[2 * i], xy[2 * i + 1]])), smooth: Uint8Array.from(kept, (i) => smooth[i]) };
}

function walk(xs: number[], ys: number[], i: number, way: 1 | -1): [number, number] {
  const n = xs.length;
  let gone = 0;
  for (let k = 0, j = i; k < 24; k++) {
    const next = (j + way + n) % n;
    const step = Math.hypot(xs[next] - xs[j], ys[next] - ys[j]);
    if (gone + step >= REACH) {
      const f = (REACH - gone) / step;
      return [xs[j] + f * (xs[next] - xs[j]), ys[j] + f * (ys[next] - ys[j])];
    }
    gone += step;
    j = next;
  }
  return [xs[(i + way * 24 + 24 * n) % n], ys[(i + way * 24 + 24 * n) % n]];
}

/** Middle lines of thin areas: the medial axis without the twigs that only the edge's unevenness makes. */
function middles(regions: readonly Region[], smooth: number): Subpath[] {
  const out: Subpath[] = [];
  for (const region of regions) {
    // Pixel rows run down: turned over, outlines are counter-clockwise as the axis wants them.
    const up = (contour: Contour, outer: boolean): Contour => {
      const n = contour.smooth.length;
      const xy = new Float64Array(2 * n);
      const way = signedArea(contour.xy) < 0 === outer ? 1 : -1;
      for (let i = 0; i < n; i++) {
        const k = way > 0 ? i : n - 1 - i;
        xy[2 * i] = contour.xy[2 * k];
        xy[2 * i + 1] = -contour.xy[2 * k + 1];
      }
      return { xy, smooth: new Uint8Array(n).fill(1) };
    };
    const turned: Region = { outer: up(region.outer, true), holes: region.holes.map((hole) => up(hole, false)) };
    const first = medialAxis(turned, { uncut: 0.5, tolerance: 0.1 });
    const radii = [...first.r].sort((a, b) => a - b);
    const half = radii[radii.length >> 1] ?? 1;
    const axis = medialAxis(turned, { uncut: Math.max(0.5, 0.7 * half), tolerance: 0.1 });
    for (const line of linesOf(axis)) {
      const path = fitContour(line, Math.max(smooth, 0.25), false);
      out.push({ ...path, y: -path.y, segments: path.segments.map((s) => (s.kind === 'curve' ? { ...s, y1: -s.y1, y2: -s.y2, y: -s.y } : { ...s, y: -s.y })) });
    }
  }
  return out;
}

/** The graph as lines from one fork or end to the next, and rings. */
function linesOf(axis: ReturnType<typeof medialAxis>): Line[] {
  const edges = axis.from.length;
  const at: number[][] = Array.from({ length: axis.x.length }, () => []);
  for (let e = 0; e < edges; e++) {
    at[axis.from[e]].push(e);
    at[axis.to[e]].push(e);
  }
  const used = new Uint8Array(edges);
  const lines: Line[] = [];
  const follow = (node: number, edge: number) => {
    const xy = [axis.x[node], axis.y[node]];
    for (let e = edge, from = node; ;) {
      used[e] = 1;
      const forward = axis.from[e] === from;
      const points: number[][] = [];
      for (let k = axis.start[e]; k < axis.start[e + 1]; k += 3) points.push([axis.points[k], axis.points[k + 1]]);
      if (!forward) points.reverse();
      for (const [x, y] of points) xy.push(x, y);
      from = forward ? axis.to[e] : axis.from[e];
      xy.push(axis.x[from], axis.y[from]);
      const next = at[from].length === 2 ? at[from].find((other) => !used[other]) : undefined;
      if (next === undefined) break;
      e = next;
    }
    // Corners of the line itself are rare in drawn art; a sharp bend is kept by the fit's tolerance.
    lines.push({ xy: Float64Array.from(xy), smooth: new Uint8Array(xy.length / 2).fill(1) });
  };
  for (let node = 0; node < at.length; node++) if (at[node].length !== 2) for (const edge of at[node]) if (!used[edge]) follow(node, edge);
  for (let edge = 0; edge < edges; edge++) if (!used[edge]) follow(axis.from[edge], edge);
  return lines.filter(({ xy }) => xy.length >= 4);
}
