/** Pictures of a job document on the command line: into it, and out of it as pixels. */
import { readFileSync } from 'node:fs';
import type { Grey } from '@kerbe/core/cuts';
import type { Job } from '@kerbe/core/job';
import { Refusal } from './refusal.ts';

const TYPES: [number[], string][] = [
  [[0x89, 0x50, 0x4e, 0x47], 'png'],
  [[0xff, 0xd8, 0xff], 'jpeg'],
  [[0x42, 0x4d], 'bmp'],
  [[0x52, 0x49, 0x46, 0x46], 'webp'],
];

/** A picture file as a data address, by what it begins with and not by its name. */
export function pictureAddressOf(file: string): string {
  const bytes = readFileSync(file);
  const type = TYPES.find(([head]) => head.every((byte, k) => bytes[k] === byte))?.[1];
  if (!type) throw new Refusal(`${file} is no PNG, JPEG, BMP or WebP picture.`);
  return `data:image/${type};base64,${bytes.toString('base64')}`;
}

/** Grey pixels of a data address; what is clear is bare. */
export async function pixelsOf(address: string): Promise<Grey> {
  const { decodePicture } = await import('@kerbe/files/picture');
  const { raster } = await decodePicture(Buffer.from(address.slice(address.indexOf(',') + 1), 'base64'));
  return { width: raster.width, height: raster.height, data: raster.grey, opacity: raster.opacity };
}

/** What the planner asks for pictures. */
export const picturesOf =
  ({ assets = {} }: Job) =>
  async (asset: string): Promise<Grey | null> =>
    asset in assets ? pixelsOf(assets[asset]) : null;
