/** `kerbe import`, `check` and `export`: artwork in, looked over, and out, without a browser. */
import { saidOf } from './said.ts';
import { readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import type { FontSource } from '@kerbe/core/artwork';
import { checkArtwork } from '@kerbe/core/artwork/check';
import { writeDxf } from '@kerbe/core/artwork/dxf';
import { exportedThings, writeSvg } from '@kerbe/core/artwork/export';
import { guessUnit, pathBox, placeThings, readDrawing, sniff, TRACE, tracePicture, UNITS, type Imported } from '@kerbe/core/artwork/import';
import { PAPERS } from '@kerbe/core/artwork/template';
import { emptyBox, growBox } from '@kerbe/core/geometry';
import { JOB_VERSION, readJob, type JobInput } from '@kerbe/core/job';
import { readLength } from '@kerbe/core/length';
import { drawJob } from '@kerbe/core/plan';
import { decodePicture, templatePdf } from '@kerbe/files';
import { loadJob } from './jobfile.ts';
import { Refusal } from './refusal.ts';

const mmOf = (text: string, what: string) => {
  const reading = readLength(text, { unit: 'mm' });
  if (!reading.ok) throw new Refusal(`${what}: ${reading.why}`);
  return reading.mm;
};

/** `kerbe import FILE --out drawing.json`: a job whose board is the page of the file, or its drawing with a rim. */
export async function importCommand(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      unit: { type: 'string' },
      width: { type: 'string' },
      join: { type: 'string', default: '0.05' },
      threshold: { type: 'string' },
    },
  });
  const file = positionals[0];
  if (!file) throw new Refusal('Which file? kerbe import FILE --out drawing.json');
  const bytes = readFileSync(file);
  const art =
    sniff(bytes, file).kind === 'picture' ? await traced(bytes, values.threshold) : readDrawing(bytes, basename(file), { join: mmOf(values.join, '--join') });
  for (const found of art.findings) process.stderr.write(saidOf(found, 'mm'));
  if (art.findings.some(({ severity }) => severity === 'error')) return 2;
  const box = extentOf(art);
  const scale = scaleOf(art, box.maxX - box.minX, sniff(bytes, file).kind === 'dxf' ? 'dxf' : 'svg', values);
  const rim = art.page ? 0 : 10;
  const frame = art.page ? { x: 0, y: 0, ...art.page } : { x: box.minX, y: box.minY, width: box.maxX - box.minX, height: box.maxY - box.minY };
  const { items, layers, leftOut } = placeThings(art.things, { scale, dx: rim - frame.x * scale, dy: rim - frame.y * scale, prefix: 'art', taken: {} });
  if (leftOut > 0)
    process.stderr.write(`warning: ${leftOut} ${leftOut === 1 ? 'thing is' : 'things are'} larger or farther away than a job can hold, and left out.\n`);
  const job: JobInput = {
    kerbe: JOB_VERSION,
    name: basename(file).slice(0, 120),
    board: { width: Math.max(1, frame.width * scale + 2 * rim), height: Math.max(1, frame.height * scale + 2 * rim), thickness: 18 },
    items: Object.fromEntries(items.map((item) => [item.id, item])),
    itemOrder: items.map(({ id }) => id),
    layers,
    tools: {},
    cuts: {},
    cutOrder: [],
  };
  const reading = readJob(job);
  if (!reading.ok) throw new Refusal(`${file}: ${reading.why.join('\n  ')}`);
  const text = JSON.stringify(reading.job, null, 2) + '\n';
  if (values.out) writeFileSync(values.out, text);
  else process.stdout.write(text);
  const [w, h] = [(box.maxX - box.minX) * scale, (box.maxY - box.minY) * scale];
  process.stderr.write(
    `${items.length} ${items.length === 1 ? 'thing' : 'things'}, ${w.toFixed(2)} x ${h.toFixed(2)} mm${art.size.known || values.unit || values.width ? '' : ' (the file states no unit: give --unit or --width if that is wrong)'}\n`,
  );
  return 0;
}

async function traced(bytes: Uint8Array, threshold?: string): Promise<Imported> {
  let decoded;
  try {
    decoded = await decodePicture(bytes);
  } catch (error) {
    throw new Refusal((error as Error).message, { cause: error });
  }
  const { raster, facts } = decoded;
  const art = tracePicture(raster, { ...TRACE, ...(threshold ? { threshold: Number(threshold) } : {}) }, 25.4 / (facts.dpi ?? 96));
  return { ...art, size: { known: facts.dpi !== null, unit: 'pixel', mm: 1 }, page: null };
}

function extentOf({ things }: Imported) {
  const box = emptyBox();
  for (const thing of things) {
    if (thing.kind === 'path') pathBox(thing.subpaths, box);
    else growBox(box, [thing.x, thing.y]);
  }
  return box.minX <= box.maxX ? box : { minX: 0, minY: 0, maxX: 0, maxY: 0 };
}

/** What the drawing's millimetres must be multiplied with: stated by the file, asked for, or guessed. */
function scaleOf({ size }: Imported, width: number, format: 'svg' | 'dxf', { unit, width: asked }: { unit?: string; width?: string }): number {
  if (asked) return mmOf(asked, '--width') / (width || 1);
  const own = width / size.mm;
  if (unit) {
    const found = UNITS.find((one) => one.unit.split(' ')[0] === unit);
    if (!found) throw new Refusal(`--unit is one of ${UNITS.map((one) => one.unit.split(' ')[0]).join(', ')}.`);
    return found.mm / size.mm;
  }
  return size.known ? 1 : UNITS[guessUnit(own, 600, format)].mm / size.mm;
}

/** `kerbe check drawing.json`: findings of the artwork; exit 2 when one forbids cutting. */
export async function checkCommand(args: string[], fonts: FontSource): Promise<number> {
  const { positionals } = parseArgs({ args, allowPositionals: true, options: {} });
  const job = loadJob(positionals[0]);
  const items = await drawJob(job, { fonts }, async () => {});
  const findings = [...items.flatMap((item) => item.findings), ...checkArtwork(job, items, { fonts, tolerance: job.tolerance / 2, items: job.items })];
  process.stdout.write(JSON.stringify({ things: items.length, findings }, null, 2) + '\n');
  return findings.some(({ severity }) => severity === 'error') ? 2 : 0;
}

/** `kerbe export job.json --svg|--dxf|--pdf FILE`. */
export async function exportCommand(args: string[], fonts: FontSource): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { svg: { type: 'string' }, dxf: { type: 'string' }, pdf: { type: 'string' }, paper: { type: 'string', default: 'a4' }, date: { type: 'string' } },
  });
  const job = loadJob(positionals[0]);
  if (!values.svg && !values.dxf && !values.pdf) throw new Refusal('What shall be written? --svg FILE, --dxf FILE or --pdf FILE.');
  if (values.svg) writeFileSync(values.svg, writeSvg(job, exportedThings(job, fonts)));
  if (values.dxf) writeFileSync(values.dxf, writeDxf(exportedThings(job, fonts)));
  if (values.pdf) {
    const paper = PAPERS[values.paper];
    if (!paper) throw new Refusal(`--paper is one of ${Object.keys(PAPERS).join(', ')}.`);
    writeFileSync(values.pdf, await templatePdf(job, fonts, paper, values.date ?? new Date().toISOString().slice(0, 10)));
  }
  return 0;
}
