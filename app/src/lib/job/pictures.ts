/** Pictures as the planner burns them: grey pixels as the server reads them, so that what is shown here is what it releases. */
import type { Grey } from '@kerbe/core/cuts';

const kept = new Map<string, Promise<Grey | null>>();

/** What the planner asks for pictures. One that is not kept here is none; without the server it is asked for again. */
export function greyPictures(asset: string): Promise<Grey | null> {
  let picture = kept.get(asset);
  if (!picture) {
    picture = fetched(asset);
    kept.set(asset, picture);
    picture.catch(() => kept.delete(asset));
  }
  return picture;
}

async function fetched(asset: string): Promise<Grey | null> {
  const answer = await fetch(`/api/assets/${encodeURIComponent(asset)}/grey`);
  if (answer.status === 404) return null;
  if (!answer.ok) throw new Error('A picture of this job could not be fetched. It is planned when the server answers again.');
  const bytes = new Uint8Array(await answer.arrayBuffer());
  const size = new DataView(bytes.buffer);
  const [width, height] = [size.getUint32(0), size.getUint32(4)];
  const end = 8 + width * height;
  return { width, height, data: bytes.subarray(8, end), ...(bytes.length > end ? { opacity: bytes.subarray(end) } : {}) };
}
