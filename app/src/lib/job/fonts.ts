/** Faces a worker has opened, fetched from the server once each. */
import { faceById, openFont, SINGLE_LINE, type Font } from '@kerbe/core/artwork/text';
import type { Job } from '@kerbe/core/job';

const fonts = new Map<string, Font>();
/** Faces the server does not have: asked for once. */
const unknown = new Set<string>();

export const fontSource = (face: string): Font | undefined => fonts.get(face);

/** Fetches and opens the faces a job's words are set in. Throws a sentence when the server cannot be reached. */
export const loadFonts = (job: Job): Promise<void> => loadFaces(new Set(Object.values(job.items).flatMap((item) => (item.kind === 'text' ? [item.face] : []))));

/** The same for faces by name. */
export async function loadFaces(faces: Iterable<string>): Promise<void> {
  for (const face of faces) {
    if (face === SINGLE_LINE || fonts.has(face) || unknown.has(face)) continue;
    const response = await fetch(`/api/faces/${encodeURIComponent(face)}`);
    if (response.status === 404 && !faceById(face)) unknown.add(face);
    else if (!response.ok) throw new Error('A face could not be fetched from the server. Check the connection and try again.');
    else fonts.set(face, openFont(new Uint8Array(await response.arrayBuffer())));
  }
}
