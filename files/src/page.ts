/** Pages of A4 that are filled from the top down: for the set-up sheet and the quote. */
import PDFDocument from 'pdfkit';

export const PT = 72 / 25.4;
/** A4, mm; the drawing keeps within what any printer prints. */
export const PAGE = { width: 210, height: 297, margin: 14 };
export const WIDTH = PAGE.width - 2 * PAGE.margin;
type Doc = InstanceType<typeof PDFDocument>;

/** A page being filled from the top down; mm from the upper left corner. */
export class Sheet {
  readonly doc: Doc;
  y = PAGE.margin;

  constructor(doc: Doc) {
    this.doc = doc;
  }

  /** Begins another page when so much does not fit on this one. */
  room(height: number): void {
    if (this.y + height <= PAGE.height - PAGE.margin) return;
    this.doc.addPage({ size: [PAGE.width * PT, PAGE.height * PT], margin: 0 });
    this.y = PAGE.margin;
  }

  text(
    text: string,
    x: number,
    y: number,
    size = 9,
    options: { bold?: boolean; width?: number; align?: 'left' | 'right' | 'center'; grey?: boolean; mono?: boolean } = {},
  ): number {
    const { doc } = this;
    doc
      .font(options.mono ? 'Courier' : options.bold ? 'Helvetica-Bold' : 'Helvetica')
      .fontSize(size)
      .fillColor(options.grey ? '#555' : '#111');
    const width = (options.width ?? WIDTH - (x - PAGE.margin)) * PT;
    const plain = text.replace(/[^\x20-\xff–—‘’“”•…€]/g, '?');
    const height = doc.heightOfString(plain, { width });
    doc.text(plain, x * PT, y * PT, { width, align: options.align ?? 'left', lineBreak: true });
    return height / PT;
  }

  /** How much a line of a list takes, mm. */
  heightOf(text: string, x: number, size: number): number {
    this.doc.font('Helvetica').fontSize(size);
    return Math.max(4.4, this.doc.heightOfString(text, { width: (WIDTH - (x - PAGE.margin)) * PT }) / PT + 1);
  }

  title(text: string): void {
    this.room(14);
    this.y += 3;
    this.rule(this.y);
    this.text(text, PAGE.margin, this.y + 1.6, 10.5, { bold: true });
    this.y += 7.6;
  }

  rule(y: number): void {
    this.doc.lineWidth(0.4).strokeColor('#999').moveTo(PAGE.margin * PT, y * PT).lineTo((PAGE.margin + WIDTH) * PT, y * PT).stroke(); // prettier-ignore
  }
}

/** Room for a logo, mm. */
export const LOGO = { width: 34, height: 19 };

/** Draws the logo; a picture that cannot be read is left out, and the sheet is whole without it. */
export function logoAt({ doc, y }: Sheet, logo: string, x: number): boolean {
  try {
    doc.image(Buffer.from(logo.slice(logo.indexOf(',') + 1), 'base64'), x * PT, y * PT, { fit: [LOGO.width * PT, LOGO.height * PT], align: 'right' });
    return true;
  } catch {
    return false;
  }
}

/** The bytes of a file whose pages something fills. */
export function written(info: { title: string; date: string }, fill: (sheet: Sheet) => Promise<void> | void): Promise<Uint8Array> {
  const doc = new PDFDocument({
    size: [PAGE.width * PT, PAGE.height * PT],
    margin: 0,
    info: { Title: info.title, Creator: 'Kerbe', CreationDate: new Date(`${info.date}T00:00:00Z`) },
  });
  const chunks: Uint8Array[] = [];
  return new Promise<Uint8Array>((resolve, reject) => {
    doc.on('data', (chunk: Uint8Array) => chunks.push(chunk));
    doc.on('end', () => resolve(Buffer.concat(chunks)));
    doc.on('error', reject);
    Promise.resolve(fill(new Sheet(doc))).then(() => doc.end(), reject);
  });
}
