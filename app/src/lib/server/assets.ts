/** Files kept as they came: drawings and pictures with their job, faces with the shop. */
import { randomUUID } from 'node:crypto';
import { FACES, SINGLE_LINE } from '@kerbe/core/artwork/faces';
import { cleanText } from '@kerbe/core/text';
import { sql } from 'kysely';
import { db } from './db';
import type { OwnFiles, Read } from './heavy';
import { inChild, WorkLimitError } from './children';

export type Kept = { ok: true; id: string; read: Read } | { ok: false; status: number; why: string };

const MIME: Record<string, string> = { png: 'image/png', jpg: 'image/jpeg', jpeg: 'image/jpeg', bmp: 'image/bmp', webp: 'image/webp' };
const mimeOf = (bytes: Uint8Array) =>
  bytes[0] === 0x89 ? MIME.png : bytes[0] === 0xff ? MIME.jpg : bytes[0] === 0x42 ? MIME.bmp : bytes[0] === 0x52 ? MIME.webp : 'application/octet-stream';

/** Reads an upload in a process of its own and keeps it when it is what it should be. The same file is kept once. */
export async function keep(bytes: Uint8Array, name: string, jobId: string | null, author: string, wanted: readonly Read['kind'][]): Promise<Kept> {
  let read: Read & { sha256: string };
  try {
    read = await inChild('read', { bytes, name });
  } catch (error) {
    if (error instanceof WorkLimitError) return { ok: false, status: 422, why: `The file was not kept. ${error.message}` };
    throw error;
  }
  if (read.why) return { ok: false, status: 422, why: read.why };
  if (read.kind === 'other' || !wanted.includes(read.kind)) return { ok: false, status: 422, why: 'This kind of file does not belong here.' };
  if (read.failed) return { ok: false, status: 422, why: read.failed };
  const { sha256 } = read;
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
    .values({ id, job_id: jobId, kind: read.kind, name: cleanText(name).slice(0, 200), mime, sha256, bytes: Buffer.from(bytes), author })
    .execute();
  return { ok: true, id, read };
}

/** The shop's own faces: id, and the name of the file they came in. */
export const ownFaces = () => db().selectFrom('asset').select(['id', 'name']).where('kind', '=', 'face').orderBy('name').execute();

/** Bytes of what a job is planned from beside its document: own faces among those its words are set in, and pictures that are burned. */
export async function ownFilesOf({ faces, pictures }: { faces: readonly string[]; pictures: readonly string[] }): Promise<OwnFiles> {
  const own = new Set(faces);
  for (const { id } of FACES) own.delete(id);
  own.delete(SINGLE_LINE);
  return { faces: await bytesOf('face', [...own]), pictures: await bytesOf('picture', pictures) };
}

async function bytesOf(kind: 'face' | 'picture', ids: readonly string[]): Promise<Record<string, Uint8Array>> {
  if (ids.length === 0) return {};
  const rows = await db().selectFrom('asset').select(['id', 'bytes']).where('kind', '=', kind).where('id', 'in', ids).execute();
  return Object.fromEntries(rows.map(({ id, bytes }) => [id, new Uint8Array(bytes)]));
}

/** What a document is planned from: its text as it is kept, the faces its words are set in, and its pictures where a beam burns them. For a query on a table with a `doc`. */
export const PLANNED_FROM = [
  sql<string>`doc::text`.as('doc'),
  sql<string[]>`jsonb_path_query_array(doc, '$.items.*.face')`.as('faces'),
  sql<string[]>`case when doc->>'process' = 'laser' then jsonb_path_query_array(doc, '$.items.*.asset') else '[]' end`.as('pictures'),
] as const;

/** Takes a face out of the shop, when no job is set in it, nor a release of one. */
export async function dropFace(id: string): Promise<{ status: number; why: string } | null> {
  const { rows: used } = await sql<{ name: string }>`
    select job.name from job where jsonb_path_query_array(job.doc, '$.items.*.face') ? ${id}
    union
    select job.name from job join release on release.job_id = job.id
      join job_revision revision on revision.job_id = job.id and revision.revision = release.revision
      where jsonb_path_query_array(revision.doc, '$.items.*.face') ? ${id}
    limit 4`.execute(db());
  if (used.length > 0)
    return { status: 409, why: `Words are set in this face: ${used.slice(0, 3).map(({ name }) => `“${name}”`).join(', ')}${used.length > 3 ? ' and more' : ''}. Choose another there first.` }; // prettier-ignore
  const { numDeletedRows } = await db().deleteFrom('asset').where('id', '=', id).where('kind', '=', 'face').executeTakeFirst();
  return Number(numDeletedRows) === 0 ? { status: 404, why: 'There is no such face.' } : null;
}

/** Deletes a file that nothing shows any more: no run, and no revision of its job. */
export async function dropUnused(id: string): Promise<void> {
  await sql`delete from asset where id = ${id} and kind <> 'face'
    and not exists (select 1 from run_photo where asset_id = ${id})
    and not exists (select 1 from job_revision where job_id = asset.job_id and jsonb_path_query_array(doc, '$.items.*.asset') ? ${id})`.execute(db());
}
