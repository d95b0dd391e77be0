/** Jobs in the database: read, saved by revision, made new. */
import { randomUUID } from 'node:crypto';
import { sql, type Transaction } from 'kysely';
import type { Author } from './audit';
import { db, type Tables } from './db';
import { machineFor } from './machines';
import type { JobText } from './job-text';
import type { SaveRead } from './heavy';

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
      const row = await trx
        .selectFrom('job')
        .select(['revision', 'picture', sql<boolean>`updated_at < current_date`.as('ofBefore')])
        .where('id', '=', id)
        .forUpdate()
        .executeTakeFirst();
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
      if (row.ofBefore) await thinOut(trx, id, row.revision);
      const revision = row.revision + 1;
      await trx
        .updateTable('job')
        .set({ revision, doc, name: job.name, updated_at: new Date(), ...(picture ? { picture } : {}) })
        .where('id', '=', id)
        .execute();
      await trx
        .insertInto('job_revision')
        .values({
          job_id: id,
          revision,
          doc,
          label,
          author: author.name,
          author_id: author.id,
          tab,
          ...(picture && picture !== row.picture ? { picture } : {}),
        })
        .execute();
      return { ok: true, revision };
    });
}

/**
 * Of the days before today one version each is kept, the last; and every one that was named or released, the first, and the present.
 * A version whose picture came from one that goes keeps it.
 */
async function thinOut(trx: Transaction<Tables>, id: string, present: number): Promise<void> {
  const goes = sql<boolean>`one.created_at < current_date and one.named is null and one.revision not in (1, ${present})
    and not exists (select from release where release.job_id = one.job_id and release.revision = one.revision)
    and exists (select from job_revision later where later.job_id = one.job_id and later.revision > one.revision and later.created_at::date = one.created_at::date)`;
  await sql`update job_revision as kept set picture = (select picture from job_revision seen where seen.job_id = kept.job_id
      and seen.revision < kept.revision and seen.picture is not null order by seen.revision desc limit 1)
    where kept.job_id = ${id} and kept.picture is null
      and exists (select from job_revision one where one.job_id = kept.job_id and one.revision = kept.revision - 1 and ${goes})`.execute(trx);
  await sql`delete from job_revision as one where one.job_id = ${id} and ${goes}`.execute(trx);
}

/** A new job. One that names no machine of this shop is for the one that comes first: which one that was stays true when others are linked. */
export async function createJob({ doc: text, name, machine, process }: JobText, author: Author, picture: string | null = null): Promise<string> {
  const id = randomUUID();
  const meant = await machineFor({ machine: { id: machine ?? undefined }, process });
  const doc = meant && meant.id !== machine ? sql<string>`jsonb_set(${text}::jsonb, '{machine,id}', to_jsonb(${meant.id}::text))` : text;
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

/** What a job is copied for: another like it, a template to start others from, or a sign begun from a template. */
export type CopyFor = 'copy' | 'template' | 'sign' | 'again';
const COPY_LABEL: Record<CopyFor, string> = { copy: 'Copy of', template: 'Template from', sign: 'Begun from', again: 'The same again as' };

/** A copy of a job as it stands, or as it was saved then, with its files, on the drawing table: its releases and runs stay with the first. Null when there is none. */
export function copyJob(id: string, author: Author, what: CopyFor, revision?: number): Promise<string | null> {
  const copy = randomUUID();
  return db()
    .transaction()
    .execute(async (trx) => {
      const row = await trx
        .selectFrom('job')
        .innerJoin('job_revision as past', (join) =>
          join.onRef('past.job_id', '=', 'job.id').on('past.revision', '=', sql`coalesce(${revision ?? null}::int, job.revision)`),
        )
        .select(['job.name', 'job.picture', sql<string>`past.doc::text`.as('doc')])
        .where('job.id', '=', id)
        .executeTakeFirst();
      if (!row) return null;
      const name = what === 'copy' ? `${row.name.slice(0, 110)} (copy)` : row.name;
      // Its files are its own, under ids of their own: the first may be deleted.
      const files = (await trx.selectFrom('asset').select('id').where('job_id', '=', id).execute()).map((file) => ({ was: file.id, is: randomUUID() }));
      const text = files.reduce((said, { was, is }) => said.replaceAll(was, is), row.doc);
      const doc = sql<string>`jsonb_set(${text}::jsonb, '{name}', to_jsonb(${name}::text))`;
      await trx
        .insertInto('job')
        .values({ id: copy, name, state: 'drawing', revision: 1, doc, picture: row.picture, template: what === 'template' })
        .execute();
      for (const { was, is } of files)
        await trx
          .insertInto('asset')
          .columns(['id', 'job_id', 'kind', 'name', 'mime', 'sha256', 'bytes', 'author'])
          .expression((from) =>
            from
              .selectFrom('asset')
              .select([sql<string>`${is}::text`.as('id'), sql<string>`${copy}::text`.as('job_id'), 'kind', 'name', 'mime', 'sha256', 'bytes', 'author'])
              .where('id', '=', was),
          )
          .execute();
      await trx
        .insertInto('job_revision')
        .values({
          job_id: copy,
          revision: 1,
          doc,
          label: `${COPY_LABEL[what]} ${row.name}`,
          picture: row.picture,
          author: author.name,
          author_id: author.id,
          tab: null,
        })
        .execute();
      return copy;
    });
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
