/** Files kept as they came: drawings and pictures with their job, faces with the shop. */
import { createHash, randomUUID } from 'node:crypto';
import { FACES, SINGLE_LINE } from '@kerbe/core/artwork/faces';
import type { Job } from '@kerbe/core/job';
import { db } from './db';
import type { OwnFaces, Read } from './planner.worker';
import { inThread, TooMuch } from './threads';

export type Kept = { ok: true; id: string; read: Read } | { ok: false; status: number; why: string };

const MIME: Record<string, string> = { png: 'image/png', jpg: 'image/jpeg', jpeg: 'image/jpeg', bmp: 'image/bmp', webp: 'image/webp' };
const mimeOf = (bytes: Uint8Array) =>
  bytes[0] === 0x89 ? MIME.png : bytes[0] === 0xff ? MIME.jpg : bytes[0] === 0x42 ? MIME.bmp : bytes[0] === 0x52 ? MIME.webp : 'application/octet-stream';

/** Reads an upload in a thread and keeps it when it is what it should be. The same file is kept once. */
export async function keep(bytes: Uint8Array, name: string, jobId: string | null, author: string, wanted: readonly Read['kind'][]): Promise<Kept> {
  let read: Read;
  try {
    read = await inThread('read', { bytes, name });
  } catch (error) {
    if (error instanceof TooMuch) return { ok: false, status: 422, why: `The file was not kept. ${error.message}` };
    throw error;
  }
  if (read.why) return { ok: false, status: 422, why: read.why };
  if (read.kind === 'other' || !wanted.includes(read.kind)) return { ok: false, status: 422, why: 'This kind of file does not belong here.' };
  const failed = read.findings.find(({ severity }) => severity === 'error');
  if (failed) return { ok: false, status: 422, why: `${failed.what} ${failed.remedy}` };
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const same = await db()
    .selectFrom('asset')
    .select('id')
    .where('sha256', '=', sha256)
    .where((e) => (jobId === null ? e('job_id', 'is', null) : e('job_id', '=', jobId)))
    .executeTakeFirst();
  if (same) return { ok: true, id: same.id, read };
  const id = read.kind === 'face' ? `own-${sha256.slice(0, 16)}` : randomUUID();
  const mime = read.kind === 'picture' ? mimeOf(bytes) : 'application/octet-stream';
  await db()
    .insertInto('asset')
    .values({ id, job_id: jobId, kind: read.kind, name: name.slice(0, 200), mime, sha256, bytes: Buffer.from(bytes), author })
    .execute();
  return { ok: true, id, read };
}

/** The shop's own faces: id, and the name of the file they came in. */
export const ownFaces = () => db().selectFrom('asset').select(['id', 'name']).where('kind', '=', 'face').orderBy('name').execute();

/** Bytes of the own faces that a job's words are set in. */
export async function ownFacesOf(doc: Job): Promise<OwnFaces> {
  const ids = new Set(Object.values(doc.items ?? {}).flatMap((item) => (item.kind === 'text' ? [item.face] : [])));
  for (const { id } of FACES) ids.delete(id);
  ids.delete(SINGLE_LINE);
  if (ids.size === 0) return {};
  const rows = await db()
    .selectFrom('asset')
    .select(['id', 'bytes'])
    .where('kind', '=', 'face')
    .where('id', 'in', [...ids])
    .execute();
  return Object.fromEntries(rows.map(({ id, bytes }) => [id, new Uint8Array(bytes)]));
}

/** The body of a request as bytes, no more than a bound. */
export async function bodyOf(request: Request, most: number): Promise<Uint8Array | null> {
  if (Number(request.headers.get('content-length') ?? 0) > most) return null;
  const bytes = new Uint8Array(await request.arrayBuffer());
  return bytes.length > most ? null : bytes;
}
export const MOST_BYTES = 64 * 1024 * 1024;
export const TOO_LARGE = 'The file is larger than 64 MB. Leave out what is not needed and save it again.';
