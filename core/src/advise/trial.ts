/**
 * The trial board: one piece of the artwork cut several times on an offcut, with other bits, depths
 * or feeds, each place labelled in the wood. What comes out best becomes the preset of its bit.
 */
import { cutName, kindOf } from '../cuts/index.ts';
import { regionsBox, growBox, type Box } from '../geometry/index.ts';
import { Cut, makeItem, type Bit, type Item, type Job, type Trial } from '../job/index.ts';
import { worksOn } from '../job/target.ts';
import type { PlannedItem } from '../plan/index.ts';
import { SINGLE_LINE } from '../artwork/text/index.ts';
import { bitLabel, isPointed } from '../bits/index.ts';
import { feedNumber, formatLength } from '../length/index.ts';
import { inJob } from './candidates.ts';
import { cutWith } from './finder.ts';

export type Vary = Trial['vary'][number];

export interface Range {
  vary: Vary;
  /** Bits by id of the job or the crib, depths in mm, feeds in mm/min. */
  values: (Bit | number)[];
}

export interface TrialAsk {
  /** The cut that is tried, and the drawn things that are repeated; none: all it works on. */
  cut: string;
  items?: string[];
  /** Along X, and up along Y when two things vary. */
  across: Range;
  up?: Range;
  /** The offcut, mm. */
  board: { width: number; height: number; thickness: number; material: string };
  /** The bit that writes the labels. */
  pen: Bit;
}

export type TrialBoard = { ok: true; job: Job } | { ok: false; why: string };

/** Room between places, height of the labels and how deep they are engraved, mm. */
const GAP = 8;
const CAP = 4;
const LABEL_DEPTH = 0.3;

export function trialBoard(job: Job, items: readonly PlannedItem[], ask: TrialAsk): TrialBoard {
  const cut = job.cuts[ask.cut];
  if (!cut) return { ok: false, why: 'This cut is not in the job.' };
  const piece = items.filter(({ item }) => (ask.items ? ask.items.includes(item.id) : worksOn(job, cut, item)));
  const box = piece.reduce<Box>((all, thing) => boxOf(thing, all), { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity });
  if (!(box.maxX > box.minX)) return { ok: false, why: 'There is nothing drawn to try it on. Select a letter or a shape.' };
  const columns = ask.across.values;
  const rows = ask.up?.values ?? [null];
  if (columns.length < 2 && rows.length < 2) return { ok: false, why: 'One way alone is no trial. Give at least two values.' };
  const [stepX, stepY] = [box.maxX - box.minX + GAP, box.maxY - box.minY + GAP + 2 * CAP];
  const [width, height] = [columns.length * stepX + GAP, rows.length * stepY + GAP];
  if (width > ask.board.width || height > ask.board.height)
    return {
      ok: false,
      why: `So many places take ${formatLength(width, { unit: job.units })} × ${formatLength(height, { unit: job.units })}; the board has ${formatLength(ask.board.width, { unit: job.units })} × ${formatLength(ask.board.height, { unit: job.units })}. Take a smaller piece, fewer values, or a larger offcut.`,
    };
  const out: Job = {
    ...job,
    name: `${job.name} - trial`.slice(0, 120),
    board: { ...job.board, ...ask.board, measured: undefined, holders: [] },
    items: {},
    itemOrder: [],
    layers: [],
    guides: [],
    outline: null,
    tools: {},
    cuts: {},
    cutOrder: [],
    trial: { vary: [ask.across.vary, ...(ask.up ? [ask.up.vary] : [])], cells: [] },
    notes: `Trial board for “${job.name}”: ${cutName(cut)}.`,
  };
  const put = (item: Item) => {
    out.items[item.id] = item;
    out.itemOrder.push(item.id);
  };
  const bitOf = (bit: Bit): Bit => {
    const [id, own] = out.tools[bit.id] ? [bit.id, out.tools[bit.id]] : job.tools[bit.id] === bit ? [bit.id, bit] : inJob(out, bit);
    return (out.tools[id] = own);
  };
  const labels: string[] = [];
  for (const [r, up] of rows.entries())
    for (const [c, across] of columns.entries()) {
      const [x, y] = [GAP + c * stepX, GAP + r * stepY + 2 * CAP];
      let tried: Cut = { ...cut, name: '' };
      for (const [range, value] of [[ask.across, across] as const, ...(ask.up && up !== null ? [[ask.up, up] as const] : [])])
        tried = varied(job, tried, range.vary, typeof value === 'number' ? value : bitOf(value));
      if (!out.tools[tried.tool]) out.tools[tried.tool] = job.tools[tried.tool];
      const label = [labelOf(job, ask.across.vary, across), ...(ask.up && up !== null ? [labelOf(job, ask.up.vary, up)] : [])].join('  ');
      const id = `try-${r + 1}-${c + 1}`;
      const copies = piece.map(({ item }, k) => ({
        ...item,
        id: `${id}-${k + 1}`,
        layer: undefined,
        group: id,
        hidden: false,
        x: item.x + x - box.minX,
        y: item.y + y - box.minY,
      }));
      copies.forEach(put);
      out.cuts[id] = { ...tried, id, name: label, on: copies.map((item) => item.id) };
      out.trial!.cells.push({ label, cut: id, x, y });
      const words = `label-${r + 1}-${c + 1}`;
      labels.push(words);
      put(makeItem({ kind: 'text', id: words, x: x + (stepX - GAP) / 2, y: y - CAP, text: label, face: SINGLE_LINE, capHeight: CAP, fitWidth: stepX - 2 }));
    }
  const pen = bitOf(ask.pen);
  out.cuts.labels = cutWith(out, Cut.parse({ kind: 'engrave', id: 'labels', name: 'Labels', on: labels, tool: pen.id, way: 'lines', depth: LABEL_DEPTH }), pen);
  // Labels first, while every place is untouched; then cuts of one bit together.
  const tries = Object.keys(out.cuts).filter((id) => id !== 'labels');
  const bits = [...new Set([pen.id, ...tries.map((id) => out.cuts[id].tool)])];
  out.cutOrder = ['labels', ...bits.flatMap((bit) => tries.filter((id) => out.cuts[id].tool === bit))];
  return { ok: true, job: out };
}

function boxOf({ regions, lines }: PlannedItem, box: Box): Box {
  for (const { line } of lines) growBox(box, line.xy);
  if (regions.length === 0) return box;
  const own = regionsBox(regions);
  return growBox(growBox(box, [own.minX, own.minY]), [own.maxX, own.maxY]);
}

/** A cut with one thing changed. */
function varied(job: Job, cut: Cut, vary: Vary, value: Bit | number): Cut {
  if (typeof value !== 'number') return cutWith(job, cut, value);
  // The plunge keeps its share of the feed.
  if (vary === 'feed') return { ...cut, feed: value, plunge: Math.max(10, Math.round((cut.plunge * value) / cut.feed)) };
  return kindOf(cut).varyDepth(cut, value) as Cut;
}

function labelOf(job: Job, vary: Vary, value: Bit | number): string {
  if (typeof value !== 'number') return isPointed(value) ? `${value.angle}° ${formatLength(value.diameter, { unit: job.units })}` : bitLabel(value, job.units);
  return vary === 'feed' ? `F${feedNumber(value, job.units)}` : formatLength(value, { unit: job.units });
}
