/** Every saved version of a job: listed with its picture, looked at, named. */
import { sql } from 'kysely';
import type { Version } from '$lib/job/version';
import { db } from './db';

/** Versions on a page. */
const PAGE = 24;

/**
 * Versions of a job, the newest first. One that was saved without a picture of its own looks as the last before it.
 *
 * @param before only those older than this revision
 * @param named only those that somebody named
 */
export async function versionsOf(id: string, before: number | null, named: boolean): Promise<{ versions: Version[]; more: boolean }> {
  let query = db()
    .selectFrom('job_revision as one')
    .select(['revision', 'label', 'author', 'named', 'created_at'])
    .select(
      sql<string | null>`(select picture from job_revision as seen where seen.job_id = one.job_id and seen.revision <= one.revision
        and seen.picture is not null order by seen.revision desc limit 1)`.as('picture'),
    )
    .where('job_id', '=', id)
    .orderBy('revision', 'desc')
    .limit(PAGE + 1);
  if (before !== null) query = query.where('revision', '<', before);
  if (named) query = query.where('named', 'is not', null);
  const rows = await query.execute();
  return {
    versions: rows.slice(0, PAGE).map(({ created_at, ...row }) => ({ ...row, at: created_at.toISOString() })),
    more: rows.length > PAGE,
  };
}

/** The document of a version as it was saved, as text; null when there is none. */
export async function versionText(id: string, revision: number): Promise<string | null> {
  const row = await db()
    .selectFrom('job_revision')
    .select(sql<string>`doc::text`.as('doc'))
    .where('job_id', '=', id)
    .where('revision', '=', revision)
    .executeTakeFirst();
  return row?.doc ?? null;
}

/** Gives a version a name, or takes it away. False when there is no such version. */
export async function nameVersion(id: string, revision: number, named: string | null): Promise<boolean> {
  const { numUpdatedRows } = await db().updateTable('job_revision').set({ named }).where('job_id', '=', id).where('revision', '=', revision).executeTakeFirst();
  return Number(numUpdatedRows) > 0;
}
