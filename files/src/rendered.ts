/** For tests: PDFs as a reader shows them, by an independent library (pdf.js, Apache-2.0). */
import { createCanvas, type SKRSContext2D } from '@napi-rs/canvas';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';

export interface RenderedPage {
  width: number;
  height: number;
  /** RGBA. */
  data: Uint8ClampedArray;
  text: string;
  png(): Buffer;
}

/** @param perMm pixels of a millimetre on paper */
export async function rendered(pdf: Uint8Array, perMm: number): Promise<RenderedPage[]> {
  const doc = await getDocument({ data: new Uint8Array(pdf), verbosity: 0 }).promise;
  const pages: RenderedPage[] = [];
  for (let k = 1; k <= doc.numPages; k++) {
    const page = await doc.getPage(k);
    // A PDF unit is 1/72 in (published: ISO 32000-1).
    const viewport = page.getViewport({ scale: (perMm * 25.4) / 72 });
    const canvas = createCanvas(Math.round(viewport.width), Math.round(viewport.height));
    const context: SKRSContext2D = canvas.getContext('2d');
    await page.render({ canvas: canvas as never, canvasContext: context as never, viewport }).promise;
    const { items } = await page.getTextContent();
    pages.push({
      width: canvas.width,
      height: canvas.height,
      data: context.getImageData(0, 0, canvas.width, canvas.height).data,
      text: items.map((item) => ('str' in item ? item.str : '')).join(' '),
      png: () => canvas.toBuffer('image/png'),
    });
  }
  await doc.destroy();
  return pages;
}

/** Runs of dark pixels in a row: from and to, in pixels. */
export function darkRuns({ width, data }: Pick<RenderedPage, 'width' | 'data'>, row: number): [number, number][] {
  const runs: [number, number][] = [];
  for (let x = 0, from = -1; x <= width; x++) {
    const dark = x < width && data[4 * (row * width + x)] < 128;
    if (dark && from < 0) from = x;
    if (!dark && from >= 0) {
      runs.push([from, x]);
      from = -1;
    }
  }
  return runs;
}
