/** Pictures to grey values: PNG, JPEG and WebP by sharp, BMP by its own reader. */
import { decode as decodeBmp } from 'bmp-ts';
import sharp from 'sharp';
import { greyOf, MAX_PIXELS, pictureFacts, type PictureFacts, type Raster } from '@kerbe/core/artwork/import';

/**
 * Decodes a picture. Size is judged by its header first: a picture that would fill the memory is
 * never decoded.
 *
 * @throws a sentence when it cannot be read, or is too large
 */
export async function decodePicture(bytes: Uint8Array): Promise<{ raster: Raster; facts: PictureFacts }> {
  const facts = pictureFacts(bytes);
  if (!facts) throw new Error('This is not a PNG, JPEG, BMP or WebP picture, or its beginning is damaged.');
  if (facts.width * facts.height > MAX_PIXELS)
    throw new Error(
      `The picture has ${Math.round((facts.width * facts.height) / 1e6)} million pixels; more than ${MAX_PIXELS / 1e6} million are not read. Make it smaller first.`,
    );
  if (!(facts.width > 0 && facts.height > 0)) throw new Error('The picture has no size.');
  try {
    if (facts.format === 'bmp') {
      const { data, width, height } = decodeBmp(Buffer.from(bytes), { toRGBA: true });
      // Most BMP files have no see-through channel, and it reads as zero: nothing is see-through then.
      if (data.every((value, i) => i % 4 !== 3 || value === 0)) for (let i = 3; i < data.length; i += 4) data[i] = 255;
      return { raster: greyOf(data, width, height), facts };
    }
    const { data, info } = await sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'error' })
      .rotate()
      .toColourspace('srgb')
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return { raster: greyOf(data, info.width, info.height), facts };
  } catch (cause) {
    throw new Error('The picture is damaged or cut short.', { cause });
  }
}

/** RGBA pixels as a WebP data address, as a page shows it. */
export async function pictureAddress({ width, height, data }: { width: number; height: number; data: Uint8ClampedArray }): Promise<string> {
  const bytes = await sharp(data, { raw: { width, height, channels: 4 } })
    .webp({ quality: 80 })
    .toBuffer();
  return `data:image/webp;base64,${bytes.toString('base64')}`;
}

/** RGBA pixels as a PNG without the channel that nothing is seen through: a PDF takes that as it is. */
export const picturePng = ({ width, height, data }: { width: number; height: number; data: Uint8ClampedArray }): Promise<Buffer> =>
  sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .png()
    .toBuffer();
