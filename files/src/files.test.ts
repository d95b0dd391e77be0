/** Pictures decoded within bounds, and the paper template measured in the PDF itself. */
import { inflateSync } from 'node:zlib';
import { PNG } from 'pngjs';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { PAPERS, sheetsFor } from '@kerbe/core/artwork/template';
import { readJob, type Job } from '@kerbe/core/job';
import { decodePicture, templatePdf } from './index.ts';

const picture = (width: number, height: number) => {
  const png = new PNG({ width, height });
  for (let i = 0; i < width * height; i++) png.data.set(i % 2 ? [0, 0, 0, 255] : [255, 255, 255, 255], 4 * i);
  return PNG.sync.write(png);
};

describe('pictures', () => {
  it('PNG, JPEG and WebP give the grey values that were drawn', async () => {
    const png = await decodePicture(picture(16, 8));
    expect([png.raster.width, png.raster.height, png.raster.grey[0], png.raster.grey[1]]).toEqual([16, 8, 255, 0]);
    for (const format of ['jpeg', 'webp'] as const) {
      const bytes = await sharp({ create: { width: 32, height: 16, channels: 3, background: '#404040' } })
        .toFormat(format, { quality: 100 })
        .toBuffer();
      const { raster } = await decodePicture(bytes);
      expect([raster.width, raster.height]).toEqual([32, 16]);
      expect(Math.abs(raster.grey[200] - 0x40)).toBeLessThan(4);
    }
  });
  it.each([
    [1, 1],
    [709, 3],
    [37, 501],
  ])('a picture of %d by %d keeps every pixel, as sharp and the header of the file have them', async (width, height) => {
    const png = picture(width, height);
    for (const bytes of [png, await sharp(png).jpeg().toBuffer(), await sharp(png).webp({ lossless: true }).toBuffer()]) {
      const { raster } = await decodePicture(bytes);
      const own = await sharp(bytes).metadata();
      expect([raster.width, raster.height, raster.grey.length]).toEqual([own.width, own.height, width * height]);
    }
    // Published: the IHDR chunk of PNG (ISO/IEC 15948) has both at bytes 16 and 20.
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([width, height]);
  });
  it('BMP of 24 bits, bottom row first', async () => {
    // By hand (published: the bitmap file header and BITMAPINFOHEADER): 2 × 2, black below white.
    const bmp = Buffer.alloc(54 + 16);
    bmp.write('BM');
    bmp.writeUInt32LE(70, 2);
    bmp.writeUInt32LE(54, 10);
    bmp.writeUInt32LE(40, 14);
    bmp.writeInt32LE(2, 18);
    bmp.writeInt32LE(2, 22);
    bmp.writeUInt16LE(1, 26);
    bmp.writeUInt16LE(24, 28);
    bmp.fill(255, 62, 68);
    const { raster } = await decodePicture(bmp);
    expect([...raster.grey]).toEqual([255, 255, 0, 0]);
  });
  it('what is cut short, no picture, or 400 million pixels is refused in words, and at once', async () => {
    const whole = picture(200, 200);
    await expect(decodePicture(whole.subarray(0, whole.length >> 1))).rejects.toThrow('damaged or cut short');
    await expect(decodePicture(Buffer.from('GIF89a'))).rejects.toThrow('not a PNG');
    const bomb = Buffer.from(picture(4, 4));
    bomb.writeUInt32BE(20_000, 16);
    bomb.writeUInt32BE(20_000, 20);
    await expect(decodePicture(bomb)).rejects.toThrow('400 million pixels');
  });
});

const job = (width: number, height: number): Job => {
  const reading = readJob({
    kerbe: 4,
    name: 'Plate',
    board: { width, height, thickness: 18 },
    items: { r: { kind: 'rectangle', id: 'r', x: 60, y: 40, width: 100, height: 50 } },
    itemOrder: ['r'],
    tools: {},
    cuts: {},
    cutOrder: [],
  });
  if (!reading.ok) throw new Error(reading.why.join());
  return reading.job;
};

/** Page sizes and drawing operators of every page, from the file's own objects and streams. */
function pagesOf(pdf: Uint8Array) {
  const text = Buffer.from(pdf).toString('latin1');
  const boxes = [...text.matchAll(/\/MediaBox \[0 0 ([\d.]+) ([\d.]+)\]/g)].map((m) => [Number(m[1]), Number(m[2])]);
  const streams = [...text.matchAll(/\/Filter \/FlateDecode[^>]*>>\s*stream\r?\n/g)].map((m) => {
    const begin = m.index + m[0].length;
    return inflateSync(Buffer.from(text.slice(begin, text.indexOf('endstream', begin)), 'latin1')).toString('latin1');
  });
  return { boxes, streams };
}
const MM = 72 / 25.4;

describe('the paper template', () => {
  it('is drawn full size: the check line is 100 mm, the rectangle 100 by 50 (published: ISO 32000, a unit is 1/72 in)', async () => {
    const { boxes, streams } = pagesOf(await templatePdf(job(150, 90), () => undefined, PAPERS.a4, '2026-01-01'));
    expect(boxes).toHaveLength(1);
    expect(boxes[0].map((v) => Math.round(v / MM)).sort()).toEqual([210, 297]);
    const [page] = streams;
    const check = [...page.matchAll(/([\d.]+) ([\d.]+) m\s+([\d.]+) \2 l/g)].map((m) => (Number(m[3]) - Number(m[1])) / MM);
    expect(check.some((length) => Math.abs(length - 100) < 0.01)).toBe(true);
    // The rectangle's corners, wherever the sheet puts them.
    const path = page.match(/([\d.-]+) ([\d.-]+) m\s+([\d.-]+) ([\d.-]+) l\s+([\d.-]+) ([\d.-]+) l\s+([\d.-]+) ([\d.-]+) l\s+h/)!;
    const xs = [1, 3, 5, 7].map((i) => Number(path[i]));
    const ys = [2, 4, 6, 8].map((i) => Number(path[i]));
    expect((Math.max(...xs) - Math.min(...xs)) / MM).toBeCloseTo(100, 2);
    expect((Math.max(...ys) - Math.min(...ys)) / MM).toBeCloseTo(50, 2);
  });
  it('takes as many sheets as the board needs, the same bytes for the same job', async () => {
    const large = job(610, 400);
    const pdf = await templatePdf(large, () => undefined, PAPERS.a4, '2026-01-01');
    expect(pagesOf(pdf).boxes).toHaveLength(sheetsFor(large.board, PAPERS.a4).length);
    expect(Buffer.compare(Buffer.from(pdf), Buffer.from(await templatePdf(large, () => undefined, PAPERS.a4, '2026-01-01')))).toBe(0);
  });
});
