/** A quote for a customer: the sign as it will be, its size, what it is of, and what it costs. */
import { boardThickness, type Job } from '@kerbe/core/job';
import { formatLength } from '@kerbe/core/length';
import { LOGO, logoAt, PAGE, PT, WIDTH, written } from './page.ts';
import { picturePng } from './picture.ts';

export interface QuoteFacts {
  shop: { name: string; logo: string | null };
  date: string;
  /** Whom it is for; empty for nobody in particular. */
  to: string;
  quantity: number;
  /** Stands before prices; what one costs. */
  currency: string;
  each: number;
  /** What is done to it after it is cut. */
  finishing: string[];
  /** When it is ready, in words; empty when nothing is promised. */
  ready: string;
  picture: { width: number; height: number; data: Uint8ClampedArray };
}

/** @returns the bytes of the file, a page of A4 */
export function quotePdf(job: Job, { shop, date, to, quantity, currency, each, finishing, ready, picture }: QuoteFacts): Promise<Uint8Array> {
  const len = (mm: number) => formatLength(mm, { unit: job.units });
  // Pennies are rounded once, for one of them: what is multiplied is what is written.
  const price = Math.round(each * 100) / 100;
  return written({ title: `${job.name}, quote`, date }, async (sheet) => {
    if (shop.logo) logoAt(sheet, shop.logo, PAGE.margin + WIDTH - LOGO.width);
    sheet.text(shop.name, PAGE.margin, sheet.y, 11, { bold: true, width: WIDTH - LOGO.width - 4 });
    sheet.text(`Quote of ${date}${to ? ` for ${to}` : ''}`, PAGE.margin, sheet.y + 7, 10, { grey: true, width: WIDTH - LOGO.width - 4 });
    sheet.y += 26;
    sheet.y += sheet.text(job.name, PAGE.margin, sheet.y, 22, { bold: true }) + 4;
    const shown = Math.min(130, WIDTH * (picture.height / picture.width));
    sheet.doc.image(Buffer.from(await picturePng(picture)), PAGE.margin * PT, sheet.y * PT, { fit: [WIDTH * PT, shown * PT], align: 'center' });
    sheet.y += shown + 8;
    const { width, height, material } = job.board;
    const outline = job.outline ? job.items[job.outline] : null;
    const size = outline?.kind === 'rectangle' || outline?.kind === 'ellipse' ? outline : { width, height };
    const rows: [string, string][] = [
      ['Size', `${len(size.width)} wide, ${len(size.height)} high, ${len(boardThickness(job.board))} thick`],
      ['Of', material],
      ...(finishing.length > 0 ? [['Finished', finishing.join(', ')] as [string, string]] : []),
      ...(ready ? [['Ready', ready] as [string, string]] : []),
      ['One', `${currency}${price.toFixed(2)}`],
      ...(quantity > 1 ? [[`${quantity} of them`, `${currency}${(price * quantity).toFixed(2)}`] as [string, string]] : []),
    ];
    for (const [what, says] of rows) {
      sheet.room(9);
      sheet.rule(sheet.y);
      sheet.text(what, PAGE.margin, sheet.y + 2, 11, { grey: true, width: 40 });
      sheet.y += Math.max(8, sheet.text(says, PAGE.margin + 42, sheet.y + 2, 11, { bold: true, width: WIDTH - 42 }) + 4);
    }
    sheet.rule(sheet.y);
    sheet.text('The picture is reckoned from the cuts; wood has its own grain and colour.', PAGE.margin, sheet.y + 3, 9, { grey: true });
  });
}
