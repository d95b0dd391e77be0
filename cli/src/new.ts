import { wordsOf } from '@kerbe/core/findings';
import { saidOf } from './said.ts';
import { decodeText } from '@kerbe/core/text';
import { readFileSync, writeFileSync } from 'node:fs';
import io from 'node:process';
import { parseArgs } from 'node:util';
import { FACES, faceById } from '@kerbe/core/artwork/faces';
import { readChart, STARTING_CHART } from '@kerbe/core/bits/chart';
import { chartedFigures, nozzleFor } from '@kerbe/core/bits/nozzle';
import { thicknessOfGauge } from '@kerbe/core/board/gauge';
import { bitsFor, kindNamed, kindsOf } from '@kerbe/core/cuts';
import { PROCESS_NAMES, type ProcessName } from '@kerbe/core/process';
import { LASER_BENCH, TORCH_TABLE } from '@kerbe/core/machine';
import { JOB_VERSION, readJob, type Bit, type JobInput } from '@kerbe/core/job';
import { readLength, type LengthUnit } from '@kerbe/core/length';
import { pictureAddressOf, pixelsOf } from './pictures.ts';
import { Refusal } from './refusal.ts';

/** `kerbe new`: a job document from a few words on the command line. */
export async function newCommand(args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: {
      board: { type: 'string' },
      units: { type: 'string', default: 'mm' },
      text: { type: 'string' },
      face: { type: 'string', default: 'cinzel' },
      height: { type: 'string' },
      art: { type: 'string' },
      cut: { type: 'string' },
      bit: { type: 'string' },
      machine: { type: 'string', default: 'router' },
      nozzle: { type: 'string' },
      watts: { type: 'string', default: '10' },
      picture: { type: 'string' },
      'picture-width': { type: 'string' },
      outline: { type: 'string' },
      set: { type: 'string', multiple: true, default: [] },
      name: { type: 'string' },
      out: { type: 'string' },
    },
  });
  if (values.units !== 'mm' && values.units !== 'in') throw new Refusal('--units is mm or in.');
  const unit: LengthUnit = values.units;
  const len = (text: string, what: string) => {
    const reading = readLength(text, { unit });
    if (!reading.ok) throw new Refusal(`${what}: ${reading.why}`);
    return reading.mm;
  };
  const process = values.machine as ProcessName;
  if (!PROCESS_NAMES.includes(process)) throw new Refusal(`--machine is ${PROCESS_NAMES.join(' or ')}.`);
  if (!values.board) throw new Refusal('--board is missing: width x height x thickness, for example 300x120x18.');
  const [width, height, thickness] = dimensions(values.board, 3, '--board').map((text) => thicknessOfGauge(text) ?? len(text, '--board'));
  const job: JobInput = {
    kerbe: JOB_VERSION,
    process,
    name: values.name ?? values.text?.replaceAll('\n', ' ').slice(0, 100) ?? 'Sign',
    units: unit,
    board: { width, height, thickness },
    items: {},
    itemOrder: [],
    tools: {},
    cuts: {},
    cutOrder: [],
  };
  const add = (item: JobInput['items'][string]) => {
    job.items[item.id] = item;
    job.itemOrder.push(item.id);
  };
  /** A picture in the middle of the sheet, at the width that is asked for. */
  const addPicture = async (file: string, wide: string | undefined) => {
    if (!wide) throw new Refusal('--picture-width is missing: how wide the picture is to be, for example 50.');
    const address = pictureAddressOf(file);
    const pixels = await pixelsOf(address);
    const pictureWidth = len(wide, '--picture-width');
    job.assets = { picture: address };
    const size = { width: pictureWidth, height: (pictureWidth * pixels.height) / pixels.width };
    add({ kind: 'picture', id: 'picture', x: width / 2, y: height / 2, asset: 'picture', ...size });
  };
  if (values.text !== undefined && values.art) throw new Refusal('Give --text or --art, not both.');
  if (values.picture) await addPicture(values.picture, values['picture-width']);
  if (values.text !== undefined) {
    const face = faceById(values.face) ?? FACES.find(({ name }) => name.toLowerCase().startsWith(values.face.toLowerCase()));
    if (!face) throw new Refusal(`There is no face “${values.face}”. Shipped: ${FACES.map(({ id }) => id).join(', ')}.`);
    if (!values.height) throw new Refusal('--height is missing: the height of a capital letter.');
    add({
      kind: 'text',
      id: 'words',
      x: width / 2,
      y: height / 2,
      text: values.text.replaceAll('\\n', '\n'),
      face: face.id,
      capHeight: len(values.height, '--height'),
    });
  } else if (values.art) {
    const { placeThings, readSvg } = await import('@kerbe/core/artwork/import');
    const art = readSvg(decodeText(readFileSync(values.art)));
    const failed = art.findings.find(({ severity }) => severity === 'error');
    if (failed) throw new Refusal(`${values.art}: ${saidOf(failed, 'mm').trim()}`);
    for (const found of art.findings) io.stderr.write(`kerbe: ${values.art}: ${wordsOf(found, 'mm').what}\n`);
    // A file without a real size is taken in millimetres; without a page, Y is turned at the top of the board.
    const scale = art.size.known ? 1 : 1 / art.size.mm;
    const dy = art.page ? 0 : height - 150;
    for (const item of placeThings(art.things, { scale, dy, prefix: 'art', taken: job.items }).items) add({ ...item, layer: undefined });
  } else if (!values.picture) throw new Refusal('Nothing to work on: give --text, --art or --picture.');
  if (values.outline) {
    const [size, corner] = values.outline.split(':');
    const [w, h] = dimensions(size, 2, '--outline').map((text) => len(text, '--outline'));
    if (corner && !corner.startsWith('r')) throw new Refusal('--outline is WxH or WxH:rR, for example 280x100:r10.');
    add({ kind: 'rectangle', id: 'outline', x: width / 2, y: height / 2, width: w, height: h, radius: corner ? len(corner.slice(1), '--outline') : 0 });
    job.outline = 'outline';
  }
  if (process === 'torch') layOnSlats(job);
  else if (process === 'laser') layOnBench(job);
  else if (!values.bit) throw new Refusal('--bit is missing, for example v:60:12.7,end:6.35.');
  const specs = process === 'torch' || process === 'laser' ? [process] : values.bit!.split(',');
  for (const [index, spec] of specs.entries()) {
    const bit =
      process === 'torch' ? nozzleOf(values.nozzle, thickness) : process === 'laser' ? headOf(values.watts) : bitOf(spec.trim(), `bit${index + 1}`, len);
    job.tools[bit.id] = bit;
  }
  const bits = Object.values(job.tools) as Bit[];
  const through = thickness + 5;
  const known = kindsOf(process);
  for (const [index, kind] of (values.cut ?? known[0]).split(',').entries()) {
    const id = `cut${index + 1}`;
    if (!(known as readonly string[]).includes(kind)) throw new Refusal(`There is no cut “${kind}” for a ${process}. Known: ${known.join(', ')}.`);
    const { usualTarget, references = [], innerFirst } = kindNamed(kind);
    const fitting = bitsFor(kind, bits);
    const right = fitting[0] ?? bits[0];
    const mates = references.filter(({ to, required }) => to === 'tool' && required).map(({ field }) => [field, (fitting[1] ?? right).id]);
    const on = usualTarget === 'outline' ? 'outline' : 'art';
    job.cuts[id] = { kind, id, on, tool: right.id, ...Object.fromEntries(mates), ...chartedFigures(right, thickness) } as JobInput['cuts'][string];
    if (innerFirst && right.kind !== 'nozzle' && right.kind !== 'head') {
      // A bit drawn up for this job reaches through its board; a stated flute length stays.
      const bit = job.tools[right.id];
      if (bit.fluteLength === undefined) bit.fluteLength = Math.max(25, through);
    }
    job.cutOrder.push(id);
  }
  for (const setting of values.set) applySetting(job, setting);
  const reading = readJob(job);
  if (!reading.ok) throw new Refusal(`This makes no job:\n  ${reading.why.join('\n  ')}`);
  const text = JSON.stringify(reading.job, null, 2) + '\n';
  if (values.out) writeFileSync(values.out, text);
  else io.stdout.write(text);
  return 0;
}

/** A sheet lies on the honeycomb of the laser, held by its weight. */
function layOnBench(job: JobInput): void {
  Object.assign(job.board, { material: 'birch ply', holdDown: 'tape' });
  job.machine = LASER_BENCH;
}
/** A head of so many watts. */
function headOf(text: string): JobInput['tools'][string] {
  const watts = Number(text.replace(/\s*W$/i, ''));
  if (!(watts > 0 && watts <= 1000)) throw new Refusal('--watts is the full power of the head, for example 10.');
  return { kind: 'head', id: 'head1', watts };
}

/** A plate lies on the slats of the table; nothing clamps it but its weight. */
function layOnSlats(job: JobInput): void {
  Object.assign(job.board, { material: 'mild steel', holdDown: 'slats', slats: {} });
  job.machine = TORCH_TABLE;
  // Over what has tipped up a little.
  job.program = { clearance: 15 };
}

/** A nozzle with the starting chart: `45`, the amperes it is for; left out, the one that suits. */
function nozzleOf(text: string | undefined, thickness: number): JobInput['tools'][string] {
  const rows = STARTING_CHART.filter(({ amperes }) => text === undefined || amperes === Number(text.replace(/\s*A$/i, '')));
  if (rows.length === 0)
    throw new Refusal(
      `--nozzle: no chart for “${text}”. Charted: ${[...new Set(STARTING_CHART.map(({ amperes }) => `${amperes} A`))].join(', ')}; enter your maker’s chart in the job.`,
    );
  const reading = readChart(rows, thickness)!;
  if (reading.beyond)
    io.stderr.write(`kerbe: the chart has nothing for plate of ${thickness} mm; the row of ${reading.between[0]} mm is taken. Your maker’s chart decides.\n`);
  return nozzleFor(thickness, rows);
}

function dimensions(text: string, count: number, what: string): string[] {
  const parts = text.split(/[x×]/i);
  if (parts.length !== count) throw new Refusal(`${what}: “${text}” should be ${count} lengths joined by x.`);
  return parts;
}

const CONES = ['v', 'tapered', 'engraving'];
const ROUND = ['end', 'ball', 'surfacing', 'drill'];

/** Bits as they are typed, separated by commas; lengths in mm. */
export function bitsFrom(text: string): JobInput['tools'] {
  const mm = (part: string, what: string) => {
    const reading = readLength(part, { unit: 'mm' });
    if (!reading.ok) throw new Refusal(`${what}: ${reading.why}`);
    return reading.mm;
  };
  return Object.fromEntries(text.split(',').map((spec, k) => [`tried${k + 1}`, bitOf(spec.trim(), `tried${k + 1}`, mm)]));
}

/** `v:60:12.7`, `engraving:20:3.175:0.5` (a flat tip), `tapered:11:6:r0.5` (a round one), `end:6.35`, `drag:0.5` (its line). */
function bitOf(spec: string, id: string, len: (text: string, what: string) => number): JobInput['tools'][string] {
  const [kind, ...rest] = spec.split(':');
  const mm = (text: string) => len(text, '--bit');
  if (CONES.includes(kind) && (rest.length === 2 || rest.length === 3)) {
    const [angle, diameter, tip] = rest;
    const point = tip?.startsWith('r') ? { tipRadius: mm(tip.slice(1)) } : { tipFlat: tip ? mm(tip) : 0 };
    return { kind: kind as 'v', id, angle: Number(angle), diameter: mm(diameter), fluteLength: 60, ...point };
  }
  if (ROUND.includes(kind) && rest.length === 1) return { kind: kind as 'end', id, diameter: mm(rest[0]), ...(kind === 'drill' ? { fluteLength: 60 } : {}) };
  if (kind === 'drag' && rest.length === 1) return { kind: 'drag', id, diameter: 6, lineWidth: mm(rest[0]) };
  throw new Refusal(
    `--bit: “${spec}” should be v:ANGLE:DIAMETER, v:ANGLE:DIAMETER:TIP, end:DIAMETER, drill:DIAMETER or drag:LINE; also tapered and engraving, ball and surfacing.`,
  );
}

/** Sets one value by its path: `cuts.0.floorDepth=3`; a number picks by order, text stays text. Lengths are mm. */
function applySetting(job: JobInput, setting: string): void {
  const eq = setting.indexOf('=');
  if (eq < 1) throw new Refusal(`--set: “${setting}” should be path=value.`);
  const path = setting.slice(0, eq).split('.');
  const raw = setting.slice(eq + 1);
  const value: unknown =
    raw === 'true' ? true : raw === 'false' ? false : raw === 'null' ? null : raw.trim() !== '' && Number.isFinite(Number(raw)) ? Number(raw) : raw;
  let at = job as unknown as Record<string, unknown>;
  for (const [depth, part] of path.entries()) {
    if (['__proto__', 'constructor', 'prototype'].includes(part)) throw new Refusal(`--set: “${setting}” names nothing in a job.`);
    let key = part;
    if (depth === 1 && /^\d+$/.test(part)) {
      const order = path[0] === 'cuts' ? job.cutOrder : path[0] === 'items' ? job.itemOrder : Object.keys(job.tools);
      key = order[Number(part)];
      if (!key) throw new Refusal(`--set: there is no ${path[0]} ${part}.`);
    }
    if (depth === path.length - 1) at[key] = value;
    else {
      if (at[key] === undefined && depth === 0) at[key] = {};
      if (typeof at[key] !== 'object' || at[key] === null) throw new Refusal(`--set: “${setting}” names nothing in this job.`);
      at = at[key] as Record<string, unknown>;
    }
  }
}
