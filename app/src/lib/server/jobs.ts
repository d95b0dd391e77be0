/** Jobs in the database: read, saved by revision, made new. */
import { randomUUID } from 'node:crypto';
import { readJob, type Job } from '@kerbe/core/job';
import { SHOP_BITS } from './crib';
import { db } from './db';

export type Saved = { ok: true; revision: number } | { ok: false; status: number; why: string; revision?: number };

/**
 * Saves a document as the next revision, if it was made from the present one - or if every revision
 * since came from the same tab: then an answer was lost on its way there, and nobody else is overwritten.
 */
export async function saveJob(
  id: string,
  from: number,
  data: unknown,
  label: string,
  author: string,
  picture: string | null,
  tab: string | null = null,
): Promise<Saved> {
  const reading = readJob(data);
  if (!reading.ok) return { ok: false, status: 422, why: `The job was not saved: ${reading.why.join(' ')}` };
  const { job } = reading;
  const doc = JSON.stringify(job);
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
      await trx.insertInto('job_revision').values({ job_id: id, revision, doc, label, author, tab }).execute();
      return { ok: true, revision };
    });
}

export async function createJob(job: Job, author: string, picture: string | null = null): Promise<string> {
  const id = randomUUID();
  const doc = JSON.stringify(job);
  await db()
    .transaction()
    .execute(async (trx) => {
      await trx.insertInto('job').values({ id, name: job.name, state: 'drawing', revision: 1, doc, picture }).execute();
      await trx.insertInto('job_revision').values({ job_id: id, revision: 1, doc, label: 'New sign', author, tab: null }).execute();
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
