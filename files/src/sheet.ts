/**
 * The set-up sheet: what goes to the machine on paper. A picture of the carved board, where zero is
 * and what holds the board, bits to scale with how far they must stick out, the order of cuts, times,
 * cautions, and each program by name and hash with a code that opens it on the tablet.
 */
import QRCode from 'qrcode';
import { whereTimeGoes } from '@kerbe/core/advise';
import { bitName } from '@kerbe/core/bits';
import { silhouette } from '@kerbe/core/bits/silhouette';
import { boardThickness, datumPoint, type Bit, type Job } from '@kerbe/core/job';
import { formatLength } from '@kerbe/core/length';
import { sectionsOf, type Plan } from '@kerbe/core/plan';
import { processOf } from '@kerbe/core/process';
import { minutes, ON_SHEET } from './by-process.ts';
import { LOGO, logoAt, PAGE, PT, WIDTH, type Sheet, written } from './page.ts';
import { picturePng } from './picture.ts';

/** Room for the number of a cut, mm. */
const NUMBER = 8;
/** Bits are drawn this long at most, mm. */
const BIT_ROOM = 62;

export interface SheetFacts {
  /** Whose sheet it is; its logo a PNG or JPEG as a data address. */
  shop: { name: string; logo: string | null };
  revision: number;
  author: string;
  date: string;
  /** Hash of the release as a whole. */
  sha256: string;
  /** Seconds: running, and a person's changes of bit. */
  programs: { name: string; sha256: string; seconds: number; changes?: number; bits: string[] }[];
  /** What the code opens. */
  address: string;
  picture: { width: number; height: number; data: Uint8ClampedArray };
  /** Warnings somebody took on, and who. */
  accepted: { what: string; by: string }[];
}

/** @returns the bytes of the file, one or two pages of A4 */
export function setUpSheetPdf(job: Job, plan: Plan, facts: SheetFacts): Promise<Uint8Array> {
  return written({ title: `${job.name}, set-up sheet`, date: facts.date }, async (sheet) => {
    head(sheet, job, facts);
    await board(sheet, job, facts);
    cuts(sheet, job, plan);
    if (ON_SHEET[job.process].drawn) bits(sheet, job, plan);
    programs(sheet, facts);
    carried(sheet, job, plan);
    cautions(sheet, job, facts);
  });
}

const len = (job: Job, mm: number) => formatLength(mm, { unit: job.units });

function head(sheet: Sheet, job: Job, { shop, revision, author, date, sha256, address }: SheetFacts): void {
  const side = 25;
  const { modules } = QRCode.create(address, { errorCorrectionLevel: 'M' });
  const dot = side / modules.size;
  for (let row = 0; row < modules.size; row++)
    for (let column = 0; column < modules.size; column++)
      if (modules.get(row, column)) sheet.doc.rect((PAGE.margin + WIDTH - side + column * dot) * PT, (PAGE.margin - 3 + row * dot) * PT, dot * PT, dot * PT);
  sheet.doc.fill('#000');
  const room = shop.logo && logoAt(sheet, shop.logo, PAGE.margin + WIDTH - side - 4 - LOGO.width) ? LOGO.width + 4 : 0;
  sheet.text(job.name, PAGE.margin, sheet.y, 20, { bold: true, width: WIDTH - side - 4 - room });
  sheet.text(`${shop.name}. Set-up sheet, revision ${revision}, released by ${author}, ${date}`, PAGE.margin, sheet.y + 10, 9, { grey: true });
  sheet.text(`Release ${sha256.slice(0, 16)}`, PAGE.margin, sheet.y + 14.6, 9, { mono: true });
  sheet.y += 24;
}

async function board(sheet: Sheet, job: Job, { picture }: SheetFacts): Promise<void> {
  const { doc } = sheet;
  const half = (WIDTH - 6) / 2;
  const shown = Math.min(64, half * (picture.height / picture.width));
  doc.image(Buffer.from(await picturePng(picture)), PAGE.margin * PT, sheet.y * PT, { fit: [half * PT, shown * PT] });
  const left = PAGE.margin + half + 6;
  const { width, height, material, measured, holders } = job.board;
  const scale = Math.min(half / (width * 1.12), 46 / (height * 1.12));
  const [ox, oy] = [left + (half - width * scale) / 2, sheet.y + 3 + height * scale + 2];
  const at = (x: number, y: number): [number, number] => [(ox + x * scale) * PT, (oy - y * scale) * PT];
  const [x0, y1] = at(0, height);
  doc.lineWidth(0.9).strokeColor('#111').rect(x0, y1, width * scale * PT, height * scale * PT).stroke(); // prettier-ignore
  for (const { kind, x, y, width: w, depth } of holders) {
    const [hx, hy] = at(x - w / 2, y + depth / 2);
    doc.lineWidth(0.6).strokeColor('#111').fillColor('#bbb').rect(hx, hy, w * scale * PT, depth * scale * PT).fillAndStroke(); // prettier-ignore
    if (kind === 'screw') doc.circle(...at(x, y), 2).fill('#111');
  }
  const [dx, dy] = at(...datumPoint(job));
  doc.lineWidth(1).strokeColor('#111').circle(dx, dy, 5).stroke().moveTo(dx - 9, dy).lineTo(dx + 9, dy).moveTo(dx, dy - 9).lineTo(dx, dy + 9).stroke(); // prettier-ignore
  sheet.text(len(job, width), left, oy + 2, 8, { width: half, align: 'center', grey: true });
  const below = Math.max(sheet.y + shown, oy + 6) + 2;
  const where = job.datum.corner === 'centre' ? 'in the centre' : `at the ${job.datum.corner.replace('-', ' ')} corner`;
  const lines = [
    `${processOf(job).header.lies}: ${material}, ${len(job, width)} x ${len(job, height)} x ${len(job, boardThickness(job.board))}${job.board.carrier ? `, on a carrier of ${len(job, job.board.carrier.thickness)}` : ''}${measured ? `, measured ${measured.map((mm) => len(job, mm)).join(' / ')}` : ''}`,
    `Zero: X and Y ${where} (ring on the drawing); ${ON_SHEET[job.process].zero(job)}`,
    ON_SHEET[job.process].held(job),
  ];
  sheet.y = below;
  for (const line of lines) sheet.y += sheet.text(line, PAGE.margin, sheet.y, 9.5) + 0.8;
}

function cuts(sheet: Sheet, job: Job, plan: Plan): void {
  sheet.title('Cuts, in order');
  const { columns, below } = ON_SHEET[job.process];
  const row = (number: string, cells: string[], bold = false, grey = false) => {
    sheet.room(6);
    let x = PAGE.margin;
    let tallest = 0;
    for (const [k, cell] of [number, ...cells].entries()) {
      const width = k === 0 ? NUMBER : columns[k - 1].width;
      tallest = Math.max(tallest, sheet.text(cell, x, sheet.y, 8.5, { bold, grey, width: width - 2, align: k > 2 ? 'right' : 'left' }));
      x += width;
    }
    sheet.y += tallest + 1.2;
  };
  row('', columns.map(({ title }) => title), true, true); // prettier-ignore
  const made = plan.cuts.filter(({ facts }) => facts.moves > 0);
  for (const [k, planned] of made.entries()) {
    row(`${k + 1}`, columns.map(({ cell }) => cell(job, planned))); // prettier-ignore
    const more = below(job, planned);
    if (more) sheet.y += sheet.text(more, PAGE.margin + NUMBER, sheet.y - 0.8, 8, { grey: true, width: WIDTH - NUMBER });
  }
  const time = whereTimeGoes(job, plan.cuts);
  sheet.y += 0.8;
  sheet.y += sheet.text(
    `${minutes(time.atMachine)} at the machine${time.changes > 0 ? `, of it ${minutes(time.changes)} for changing ${processOf(job).tool.many}` : ''}; before it about ${minutes(time.measuring)} for measuring and zero${time.warmUp > 0 ? `, and ${minutes(time.warmUp)} to warm a cold spindle` : ''}.`,
    PAGE.margin,
    sheet.y,
    9,
  );
}

/** How far a bit must stand out of the collet: its deepest cut and what the nut passes over, and never less than its flutes, which no collet may grip. (Common practice.) */
export function stickOut(job: Job, plan: Plan, bit: Bit): number {
  const deepest = Math.max(0, ...plan.cuts.filter((one) => one.bit.id === bit.id).map(({ facts }) => facts.deepest));
  const highest = Math.max(0, job.board.holdDownHeight, ...job.board.holders.map(({ height }) => height));
  return Math.max(bit.fluteLength, deepest + Math.max(highest, job.program.clearance));
}

function bits(sheet: Sheet, job: Job, plan: Plan): void {
  const used = sectionsOf(plan.cuts).map(({ tool, cuts: [{ bit }] }) => ({ tool, bit }));
  const each = used.filter(({ tool }, k) => used.findIndex((one) => one.tool === tool) === k);
  const longest = Math.max(0, ...each.map(({ bit }) => Math.max(bit.fluteLength, stickOut(job, plan, bit)) + 8));
  // Full size where that fits, else smaller, and it says so.
  const scale = Math.min(1, BIT_ROOM / longest);
  const tall = longest * scale;
  sheet.title(`Bits, ${scale === 1 ? 'full size' : `at ${Math.round(100 * scale)} %`}`);
  const cell = WIDTH / Math.max(3, Math.min(6, each.length));
  for (let k = 0; k < each.length; k += Math.floor(WIDTH / cell)) {
    sheet.room(tall + 22);
    for (const [n, { tool, bit }] of each.slice(k, k + Math.floor(WIDTH / cell)).entries()) {
      const cx = PAGE.margin + (n + 0.5) * cell;
      const tip = sheet.y + tall;
      const out = stickOut(job, plan, bit);
      const { doc } = sheet;
      const drawn = silhouette(bit, cx * PT, tip * PT, scale * PT, sheet.y * PT);
      doc.lineWidth(0.7).strokeColor('#111');
      if (drawn.shank) doc.path(drawn.shank).fillAndStroke('#ececec', '#111');
      doc.path(drawn.cutting).fillAndStroke('#d5d5d5', '#111');
      const collet = (tip - out * scale) * PT;
      doc.lineWidth(0.9).dash(3, { space: 2 }).moveTo((cx - cell * 0.42) * PT, collet).lineTo((cx + cell * 0.42) * PT, collet).stroke().undash(); // prettier-ignore
      sheet.text(`out ${len(job, out)} or more`, cx + bit.diameter * scale * 0.5 + 1.5, tip - out * scale + 0.8, 7, { grey: true, width: cell / 2 });
      sheet.text(`${tool}. ${bitName(bit, job.units)}`, cx - cell / 2 + 1, tip + 1.6, 8.5, { bold: true, width: cell - 2, align: 'center' });
      sheet.text(`shank ${len(job, bit.shank)}, cuts over ${len(job, bit.fluteLength)}`, cx - cell / 2 + 1, tip + 6, 7.5, {
        grey: true,
        width: cell - 2,
        align: 'center',
      });
    }
    sheet.y += tall + 12;
  }
}

function programs(sheet: Sheet, { programs: files }: SheetFacts): void {
  sheet.title('Programs');
  for (const { name, sha256, seconds, changes = 0 } of files) {
    sheet.room(6);
    sheet.text(name, PAGE.margin, sheet.y, 9, { width: 92 });
    sheet.text(sha256.slice(0, 24), PAGE.margin + 94, sheet.y, 8.5, { mono: true, width: 60 });
    sheet.text(minutes(seconds + changes), PAGE.margin + 154, sheet.y, 9, { width: 28, align: 'right' });
    sheet.y += 5;
  }
}

/** What is done by hand where the machine has no link. */
function carried(sheet: Sheet, job: Job, plan: Plan): void {
  const lines = ON_SHEET[job.process].carried?.(job, plan.cuts.filter(({ facts }) => facts.moves > 0)) ?? []; // prettier-ignore
  if (lines.length === 0) return;
  sheet.room(10 + lines.reduce((sum, line) => sum + sheet.heightOf(line, PAGE.margin, 9), 0));
  for (const line of lines) sheet.y += sheet.text(line, PAGE.margin, sheet.y, 9) + 0.8;
}

function cautions(sheet: Sheet, job: Job, { accepted }: SheetFacts): void {
  const lines = [
    ...ON_SHEET[job.process].before(job),
    ...accepted.map(({ what, by }) => `Accepted by ${by}: ${what}`),
    'The machine’s manual and local rules come first.',
  ];
  // One list, on one page: a single line left for the next one is read by nobody.
  sheet.room(14 + lines.reduce((sum, line) => sum + sheet.heightOf(line, PAGE.margin + 5, 9), 0));
  sheet.title('Before it starts');
  for (const line of lines) {
    sheet.doc.lineWidth(0.6).strokeColor('#111').rect(PAGE.margin * PT, (sheet.y + 0.2) * PT, 3 * PT, 3 * PT).stroke(); // prettier-ignore
    sheet.text(line, PAGE.margin + 5, sheet.y, 9);
    sheet.y += sheet.heightOf(line, PAGE.margin + 5, 9);
  }
}
