/** The full-size paper template as a PDF: sheets with crosses to line them up and a check line. */
import PDFDocument from 'pdfkit';
import type { FontSource } from '@kerbe/core/artwork';
import { exportedThings } from '@kerbe/core/artwork/export';
import { formatPath, transformPath, type Matrix } from '@kerbe/core/artwork/path';
import { checkLine, crossesOn, FOOT, MARGIN, sheetsFor, type Paper, type Sheet } from '@kerbe/core/artwork/template';
import { datumPoint, type Job } from '@kerbe/core/job';
import { formatLength } from '@kerbe/core/length';

/** PDF points of a millimetre (published: ISO 32000-1, the default unit is 1/72 in). */
const PT = 72 / 25.4;

/**
 * @param date shown at the foot
 * @returns the bytes of the file
 */
export function templatePdf(job: Job, fonts: FontSource, paper: Paper, date: string): Promise<Uint8Array> {
  const sheets = sheetsFor(job.board, paper);
  // Today's date would make the same job give other bytes: the file carries the date it is given.
  const doc = new PDFDocument({
    autoFirstPage: false,
    info: { Title: `${job.name}, full size`, Creator: 'Kerbe', CreationDate: new Date(`${date}T00:00:00Z`) },
  });
  const chunks: Uint8Array[] = [];
  const done = new Promise<Uint8Array>((resolve, reject) => {
    doc.on('data', (chunk: Uint8Array) => chunks.push(chunk));
    doc.on('end', () => resolve(Buffer.concat(chunks)));
    doc.on('error', reject);
  });
  const things = exportedThings(job, fonts);
  for (const sheet of sheets) {
    doc.addPage({ size: [sheet.width * PT, sheet.height * PT], margin: 0 });
    drawSheet(doc, job, sheet, sheets, things);
    foot(doc, job, sheet, sheets, date);
  }
  doc.end();
  return done;
}

type Doc = InstanceType<typeof PDFDocument>;

/** From the board (mm, Y up) to the page (points, Y down). */
const toPage = (sheet: Sheet): Matrix => [PT, 0, 0, -PT, (MARGIN - sheet.x) * PT, (MARGIN + sheet.shownHeight + sheet.y) * PT];

function drawSheet(doc: Doc, job: Job, sheet: Sheet, sheets: readonly Sheet[], things: ReturnType<typeof exportedThings>): void {
  const m = toPage(sheet);
  const at = (x: number, y: number): [number, number] => [m[0] * x + m[4], m[3] * y + m[5]];
  doc.save();
  doc.rect(MARGIN * PT, MARGIN * PT, sheet.shownWidth * PT, sheet.shownHeight * PT).clip();
  const { width, height } = job.board;
  const [left, bottom] = at(0, 0);
  const [right, top] = at(width, height);
  doc.lineWidth(0.5).strokeColor('#777');
  doc.rect(left, top, right - left, bottom - top).stroke();
  doc.lineWidth(0.4).strokeColor('#000');
  for (const { subpaths, fill } of things) {
    const d = formatPath(transformPath(subpaths, m));
    if (d === '') continue;
    doc.path(d);
    if (fill === 'none') doc.stroke();
    // A light tone shows what is carved without hiding the edge.
    else doc.fillAndStroke('#e4e4e4', '#000', fill === 'evenodd' ? 'even-odd' : 'non-zero');
  }
  const [dx, dy] = at(...datumPoint(job));
  doc.lineWidth(0.7).strokeColor('#000').circle(dx, dy, 8).stroke();
  doc.moveTo(dx - 14, dy).lineTo(dx + 14, dy).moveTo(dx, dy - 14).lineTo(dx, dy + 14).stroke(); // prettier-ignore
  doc.restore();
  for (const [x, y] of crossesOn(sheet, sheets)) {
    const [px, py] = at(x, y);
    const arm = 4 * PT;
    doc.lineWidth(0.4).strokeColor('#000');
    doc.moveTo(px - arm, py).lineTo(px + arm, py).moveTo(px, py - arm).lineTo(px, py + arm).stroke(); // prettier-ignore
    doc.circle(px, py, 2 * PT).stroke();
  }
}

function foot(doc: Doc, job: Job, sheet: Sheet, sheets: readonly Sheet[], date: string): void {
  const y = (sheet.height - MARGIN - FOOT / 2) * PT;
  const x = MARGIN * PT;
  doc.lineWidth(0.6).strokeColor('#000');
  const check = checkLine(job.units);
  doc.moveTo(x, y).lineTo(x + check * PT, y).stroke(); // prettier-ignore
  for (const end of [x, x + check * PT]) doc.moveTo(end, y - 6).lineTo(end, y + 6).stroke(); // prettier-ignore
  const size = `${formatLength(job.board.width, { unit: job.units })} x ${formatLength(job.board.height, { unit: job.units })}`;
  doc.fillColor('#000').fontSize(8);
  doc.text(`This line is ${formatLength(check, { unit: job.units })}. If it is not, print at 100 %, not fitted to the page.`, x, y + 8, { lineBreak: false });
  const right = x + (check + 6) * PT;
  doc.text(`${sheet.name}: sheet ${sheets.indexOf(sheet) + 1} of ${sheets.length}`, right, y - 10, { lineBreak: false });
  doc.text(`${job.name.replace(/[^\x20-\xff]/g, '?').slice(0, 40)}, ${size}, ${date}`, right, y, { lineBreak: false });
}
