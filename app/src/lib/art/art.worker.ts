/**
 * Everything about artwork that takes time, off the main thread: drawing and checking, edits and
 * repairs, files read and traced, files written. Only what changed is drawn and sent again.
 */
import { ArtCache, drawSubpaths, itemPath, type DrawContext, type DrawnItem } from '@kerbe/core/artwork';
import { checkArtwork, checkThing, type CheckedThings } from '@kerbe/core/artwork/check';
import { repairArtwork } from '@kerbe/core/artwork/repair';
import { writeDxf } from '@kerbe/core/artwork/dxf';
import { applyEdit, drawnBox } from '@kerbe/core/artwork/edit';
import { exportedThings, writeSvg } from '@kerbe/core/artwork/export';
import {
  greyOf,
  guessUnit,
  MAX_PIXELS,
  pathBox,
  pictureFacts,
  placeThings,
  readDrawing,
  sniff,
  tracePicture,
  type Imported,
  type ImportedPath,
  type Raster,
} from '@kerbe/core/artwork/import';
import { editNodes } from '@kerbe/core/artwork/nodes';
import { marksOf } from '@kerbe/core/artwork/snap';
import { formatPath } from '@kerbe/core/artwork/path';
import { pathThing } from '@kerbe/core/artwork/thing';
import { letterRegions, setText, SINGLE_LINE } from '@kerbe/core/artwork/text';
import { contoursOf, emptyBox, growBox } from '@kerbe/core/geometry';
import type { Item, Job } from '@kerbe/core/job';
import { drawJob, type PlannedItem } from '@kerbe/core/plan';
import { finding } from '@kerbe/core/findings';
import { fontSource, loadFaces, loadFonts } from '../job/fonts.ts';
import { answer, transfer } from '../workers/answering.ts';
import { Superseded } from '../workers/superseded.ts';
import type { Answers } from '../workers/workroom.ts';
import type { Drawing, DrawnThing, FileView, Questions } from './desk.ts';

const art = new ArtCache();
const checked: CheckedThings = new WeakMap();
/** What was sent of every thing: its regions are the same object as long as nothing changed. */
let sent = new Map<string, DrawnItem['regions']>();
/** The newest drawing or check that was asked for: older ones are given up. */
let newest = 0;
/** What was drawn last, for the check. */
let drawn: PlannedItem[] = [];
let file: Imported | null = null;
let raster: Raster | null = null;

const breathe = () => new Promise<void>((done) => setTimeout(done, 0));
function stillWanted(id: number): void {
  if (id !== newest) throw new Superseded('Something newer is wanted.');
}
const contextOf = (job: Job): DrawContext => ({ fonts: fontSource, tolerance: job.tolerance / 2, items: job.items });

/** A ring with its first point once more at its end. */
const closedRing = (xy: Float64Array): Float64Array => Float64Array.from([...xy, xy[0], xy[1]]);

const answers: Answers<Questions> = {
  async draw({ job }, progress) {
    const id = ++newest;
    await loadFonts(job);
    drawn = await drawJob(job, { fonts: fontSource, art }, async (done) => {
      void progress?.(done);
      await breathe();
      stillWanted(id);
    });
    const context = contextOf(job);
    const drawing: Drawing = { changed: [], gone: [], whole: sent.size === 0 };
    const now = new Map<string, DrawnItem['regions']>();
    for (const { item, ...thing } of drawn) {
      now.set(item.id, thing.regions);
      if (sent.get(item.id) !== thing.regions) drawing.changed.push(thingOf(item, thing, context));
    }
    drawing.gone = [...sent.keys()].filter((key) => !now.has(key));
    sent = now;
    return transfer(drawing, drawing.changed.flatMap(buffersOf));
  },
  async check({ job }) {
    const id = ++newest;
    const items = drawn;
    const context = contextOf(job);
    let rested = performance.now();
    for (const thing of items) {
      checkThing(job, thing, context, checked);
      if (performance.now() - rested < 30) continue;
      await breathe();
      stillWanted(id);
      rested = performance.now();
    }
    return [...items.flatMap((item) => item.findings), ...checkArtwork(job, items, context, checked)];
  },
  async faces({ text, faces }) {
    await loadFaces(faces);
    return faces.flatMap((face) => {
      const font = fontSource(face);
      if (!font && face !== SINGLE_LINE) return [];
      try {
        const { letters } = setText({ text, capHeight: 20, lineSpacing: 1.6, letterSpacing: 0, align: 'left' }, font ?? null);
        const subpaths = letters.flat();
        return [{ face, d: formatPath(subpaths), box: pathBox(subpaths) }];
      } catch {
        // A damaged face of the shop's own is listed by its name.
        return [];
      }
    });
  },
  async edit({ job, edit }) {
    await loadFonts(job);
    return applyEdit(job, edit, contextOf(job));
  },
  async foresee({ job, edit }) {
    await loadFonts(job);
    const context = contextOf(job);
    const { items } = applyEdit(job, edit, context);
    return Object.values(items).flatMap((item) => {
      if (!item) return [];
      const { contours, lines } = drawSubpaths(itemPath(item, context).subpaths, job.tolerance, itemPath(item, context).fill !== 'none');
      return [...contours.map(({ xy }) => closedRing(xy)), ...lines.map(({ xy }) => xy)];
    });
  },
  async repair({ job, finding: found }) {
    await loadFonts(job);
    return repairArtwork(job, found, contextOf(job));
  },
  async subpaths({ job, thing }) {
    await loadFonts(job);
    return itemPath(job.items[thing], contextOf(job)).subpaths;
  },
  async nodes({ job, thing, edit }) {
    const item = job.items[thing];
    if (item?.kind !== 'path') throw new Error('Nodes are those of a free path.');
    const subpaths = editNodes(itemPath(item, contextOf(job)).subpaths, edit);
    return { items: { [thing]: subpaths.length ? { ...pathThing(item, subpaths, item.fill), locked: item.locked } : null } };
  },
  read({ bytes, name, boardWidth }) {
    file = readDrawing(bytes, name);
    return viewOf(file, boardWidth, sniff(bytes, name).kind === 'dxf' ? 'dxf' : 'svg');
  },
  async picture({ bytes }) {
    raster = null;
    const facts = pictureFacts(bytes);
    if (!facts) throw new Error('This is not a PNG, JPEG, BMP or WebP picture, or its beginning is damaged.');
    if (facts.width * facts.height > MAX_PIXELS)
      throw new Error(
        `The picture has ${Math.round((facts.width * facts.height) / 1e6)} million pixels; more than ${MAX_PIXELS / 1e6} million are not read. Make it smaller first.`,
      );
    const image = await createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>])).catch(() => null);
    const context = image && new OffscreenCanvas(image.width, image.height).getContext('2d', { willReadFrequently: true });
    if (!context) throw new Error('The picture is damaged or cut short.');
    context.drawImage(image, 0, 0);
    raster = greyOf(context.getImageData(0, 0, image.width, image.height).data, image.width, image.height);
    return { width: raster.width, height: raster.height, dpi: facts.dpi };
  },
  trace({ settings, pixel }) {
    if (!raster) throw new Error('The picture is not there any more. Bring it in again.');
    file = tracePicture(raster, settings, pixel);
    return viewOf(file, Infinity, 'svg');
  },
  place({ scale, dx, dy, prefix, taken, group, oneThing, apart, shapes, layers }) {
    if (!file) throw new Error('The drawing is not there any more. Bring it in again.');
    const placed = placeThings(oneThing ? merged(file) : file.things, {
      scale,
      dx,
      dy,
      prefix,
      taken: Object.fromEntries(taken.map((id) => [id, true])),
      apart,
      shapes,
      group,
    });
    return layers ? placed : { ...placed, items: placed.items.map((item): Item => ({ ...item, layer: undefined })), layers: [] };
  },
  async export({ job, format }) {
    await loadFonts(job);
    const things = exportedThings(job, fontSource);
    return format === 'svg' ? writeSvg(job, things) : writeDxf(things);
  },
};

function thingOf(item: Item, { regions, lines }: Pick<DrawnItem, 'regions' | 'lines'>, context: DrawContext): DrawnThing {
  const { subpaths, letters } = itemPath(item, context);
  // Words are counted letter by letter, even where a script has joined them.
  const parts = letters
    ? letters.filter((letter) => letter.length > 0).map((letter) => letterRegions({ letters: [letter] }, 0.05).some(({ holes }) => holes.length > 0))
    : regions.map(({ holes }) => holes.length > 0);
  return {
    id: item.id,
    // Copies: the cache keeps its own arrays, these are handed over.
    contours: regions.flatMap((region) => contoursOf(region).map(({ xy }) => xy.slice())),
    lines: lines.map(({ line, closed }) => ({ xy: line.xy.slice(), closed })),
    box: drawnBox(item, { regions, lines, findings: [] }),
    marks: marksOf(item.kind === 'text' ? [] : subpaths),
    islands: parts.filter(Boolean).length,
    parts: parts.length,
  };
}

/** Filled things as one, when there are too many to handle one by one. Even-odd things keep their own rule, so they stay single. */
function merged({ things }: Imported): Imported['things'] {
  const like = new Map<string, ImportedPath>();
  const out: Imported['things'] = [];
  for (const thing of things) {
    if (thing.kind !== 'path' || thing.fill === 'evenodd') {
      out.push(thing);
      continue;
    }
    const key = `${thing.fill} ${thing.layer}`;
    const first = like.get(key);
    if (first) first.subpaths.push(...thing.subpaths);
    else {
      const whole = { ...thing, subpaths: [...thing.subpaths] };
      like.set(key, whole);
      out.push(whole);
    }
  }
  return out;
}

/** Outlines in the small picture have at most this many points. */
const PREVIEW = 60_000;

function viewOf(art: Imported, boardWidth: number, format: 'svg' | 'dxf'): FileView {
  const box = emptyBox();
  const preview: Float64Array[] = [];
  let points = 0;
  const view: FileView = {
    shapes: 0,
    lines: 0,
    words: 0,
    layers: [...new Set(art.things.map(({ layer }) => layer))],
    box,
    size: art.size,
    page: art.page,
    findings: art.findings,
    guess: 0,
    preview,
  };
  for (const thing of art.things) {
    if (thing.kind === 'text') {
      view.words++;
      growBox(box, [thing.x, thing.y, thing.x, thing.y + thing.capHeight]);
      continue;
    }
    if (thing.fill === 'none') view.lines++;
    else view.shapes++;
    if (points < PREVIEW) {
      const rough = pathBox(thing.subpaths);
      const { contours, lines } = drawSubpaths(thing.subpaths, Math.max(rough.maxX - rough.minX, rough.maxY - rough.minY, 1e-3) / 400, thing.fill !== 'none');
      for (const { xy } of contours) preview.push(Float64Array.from([...xy, xy[0], xy[1]]));
      for (const { xy } of lines) preview.push(xy);
      for (const { xy } of [...contours, ...lines]) {
        growBox(box, xy);
        points += xy.length / 2;
      }
    } else pathBox(thing.subpaths, box);
  }
  if (box.minX <= box.maxX && Number.isFinite(boardWidth)) view.guess = guessUnit((box.maxX - box.minX) / art.size.mm, boardWidth, format);
  if (art.things.length === 0 && art.findings.length === 0) view.findings = [finding.importEmpty()];
  return view;
}

const buffersOf = ({ contours, lines, marks }: DrawnThing): Transferable[] =>
  [...contours, ...lines.map(({ xy }) => xy), marks.points, marks.lines, marks.circles, marks.rounds].map(({ buffer }) => buffer as ArrayBuffer);

answer(answers);
