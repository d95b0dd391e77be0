/** Jobs in the database: read, saved by revision, made new. */
import { randomUUID } from 'node:crypto';
import { readJob, type Job } from '@kerbe/core/job';
import { db } from './db';

export type Saved = { ok: true; revision: number } | { ok: false; status: number; why: string; revision?: number };

/** Saves a document as the next revision, if it was made from the present one. */
export async function saveJob(id: string, from: number, data: unknown, label: string, author: string, picture: string | null): Promise<Saved> {
  const reading = readJob(data);
  if (!reading.ok) return { ok: false, status: 422, why: `The job was not saved: ${reading.why.join(' ')}` };
  const { job } = reading;
  const doc = JSON.stringify(job);
  return db()
    .transaction()
    .execute(async (trx): Promise<Saved> => {
      const row = await trx.selectFrom('job').select('revision').where('id', '=', id).forUpdate().executeTakeFirst();
      if (!row) return { ok: false, status: 404, why: 'This job is not in the shop any more.' };
      if (row.revision !== from)
        return {
          ok: false,
          status: 409,
          why: 'This job was changed somewhere else in the meantime. Your changes are kept here; choose which to go on with.',
          revision: row.revision,
        };
      const revision = from + 1;
      await trx
        .updateTable('job')
        .set({ revision, doc, name: job.name, updated_at: new Date(), ...(picture ? { picture } : {}) })
        .where('id', '=', id)
        .execute();
      await trx.insertInto('job_revision').values({ job_id: id, revision, doc, label, author }).execute();
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
      await trx.insertInto('job_revision').values({ job_id: id, revision: 1, doc, label: 'New sign', author }).execute();
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
    machine: { name: 'Simulated router' },
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}

const SHOP_BITS = {
  v60: { kind: 'v', id: 'v60', name: '60° V, 12.7 mm', angle: 60, diameter: 12.7, shank: 6.35, fluteLength: 16, flutes: 2 },
  v90: { kind: 'v', id: 'v90', name: '90° V, 19 mm', angle: 90, diameter: 19, shank: 6.35, fluteLength: 14, flutes: 2 },
  end6: { kind: 'end', id: 'end6', name: 'end mill, 6.35 mm', diameter: 6.35, shank: 6.35, fluteLength: 25, flutes: 2 },
  end3: { kind: 'end', id: 'end3', name: 'end mill, 3.175 mm', diameter: 3.175, shank: 6.35, fluteLength: 12, flutes: 2 },
  drill5: { kind: 'drill', id: 'drill5', name: 'drill, 5 mm', diameter: 5, shank: 5, fluteLength: 50, flutes: 2 },
} as const;
