/** Jobs in the database: read, saved by revision, made new. */
import { randomUUID } from 'node:crypto';
import { readJob, type Job } from '@kerbe/core/job';
import { SHOP_BITS } from './crib';
import { db } from './db';
import type { JobText, SaveRead } from './planner.worker';

/** Whoever does something: the account, and the name as it stands in the record. */
export interface Author {
  id: string;
  name: string;
}

export type Saved = { ok: true; revision: number } | { ok: false; status: number; why: string; revision?: number };

/**
 * Saves a document as the next revision, if it was made from the present one - or if every revision
 * since came from the same tab: then an answer was lost on its way there, and nobody else is overwritten.
 */
export async function saveJob(id: string, save: Extract<SaveRead, { ok: true }>, author: Author): Promise<Saved> {
  const { from, label, picture, tab, job } = save;
  const { doc } = job;
  return db()
    .transaction()
    .execute(async (trx): Promise<Saved> => {
      const row = await trx.selectFrom('job').select('revision').where('id', '=', id).forUpdate().executeTakeFirst();
      if (!row) return { ok: false, status: 404, why: 'This job is not in the shop any more.' };
      const others =
        row.revision === from
          ? []
          : await trx
              .selectFrom('job_revision')
              .select('revision')
              .where('job_id', '=', id)
              .where('revision', '>', from)
              .where((eb) => eb.or([eb('tab', 'is', null), eb('tab', '!=', tab ?? '')]))
              .limit(1)
              .execute();
      if (from > row.revision || others.length > 0)
        return {
          ok: false,
          status: 409,
          why: 'This job was changed somewhere else in the meantime. Your changes are kept here; choose which to go on with.',
          revision: row.revision,
        };
      const revision = row.revision + 1;
      await trx
        .updateTable('job')
        .set({ revision, doc, name: job.name, updated_at: new Date(), ...(picture ? { picture } : {}) })
        .where('id', '=', id)
        .execute();
      await trx.insertInto('job_revision').values({ job_id: id, revision, doc, label, author: author.name, author_id: author.id, tab }).execute();
      return { ok: true, revision };
    });
}

/** A job that is at hand, as it is kept. */
export const textOf = (job: Job): JobText => ({ doc: JSON.stringify(job), name: job.name });

export async function createJob({ doc, name }: JobText, author: Author, picture: string | null = null): Promise<string> {
  const id = randomUUID();
  await db()
    .transaction()
    .execute(async (trx) => {
      await trx.insertInto('job').values({ id, name, state: 'drawing', revision: 1, doc, picture }).execute();
      await trx
        .insertInto('job_revision')
        .values({ job_id: id, revision: 1, doc, label: 'New sign', author: author.name, author_id: author.id, tab: null })
        .execute();
    });
  return id;
}

/** A fresh sign: a board, a pair of bits and the cuts most signs have; the words are still to come. */
export function newSign(name: string): Job {
  const reading = readJob({
    kerbe: 1,
    name,
    board: { width: 400, height: 150, thickness: 18, material: 'pine' },
    items: {
      words: { kind: 'text', id: 'words', name: 'Words', x: 200, y: 75, text: '', face: 'cinzel', capHeight: 38 },
      edge: { kind: 'rectangle', id: 'edge', name: 'Sign outline', x: 200, y: 75, width: 370, height: 120, radius: 12 },
    },
    itemOrder: ['words', 'edge'],
    outline: 'edge',
    bits: SHOP_BITS,
    cuts: {
      carve: { kind: 'vcarve', id: 'carve', name: 'Carve the words', on: 'art', bit: 'v60', feed: 2400, plunge: 1200, speed: 18000 },
      edge: {
        kind: 'profile',
        id: 'edge',
        name: 'Cut out the sign',
        on: 'outline',
        bit: 'end6',
        feed: 3000,
        plunge: 900,
        speed: 18000,
        depthPerPass: 4,
        tabs: 4,
      },
    },
    cutOrder: ['carve', 'edge'],
    machine: { name: 'Simulated router', warmUpSeconds: 60 },
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}

/** Takes a job off the wall, or hangs it there again. */
export async function archive(id: string, away: boolean): Promise<string | null> {
  const { numUpdatedRows } = await db()
    .updateTable('job')
    .set({ archived_at: away ? new Date() : null })
    .where('id', '=', id)
    .executeTakeFirst();
  return Number(numUpdatedRows) === 0 ? 'This job is not in the shop any more.' : null;
}

/** Deletes a job for good, with its files and releases. One that was cut stays: it is part of the shop's record. */
export function deleteJob(id: string): Promise<{ status: number; why: string } | null> {
  return db()
    .transaction()
    .execute(async (trx) => {
      const row = await trx.selectFrom('job').select('id').where('id', '=', id).forUpdate().executeTakeFirst();
      if (!row) return { status: 404, why: 'This job is not in the shop any more.' };
      const run = await trx.selectFrom('run').select('id').where('job_id', '=', id).limit(1).executeTakeFirst();
      if (run) return { status: 409, why: 'This job was cut: it belongs to the shop’s record and is not deleted. Put it away instead.' };
      await trx.deleteFrom('release').where('job_id', '=', id).execute();
      await trx.deleteFrom('job').where('id', '=', id).execute();
      return null;
    });
}
