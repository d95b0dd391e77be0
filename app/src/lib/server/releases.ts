/** Releasing: the saved revision is planned again here by the same core, and stored with its hash. */
import { createHash, randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import { forbids } from '@kerbe/core/preflight';
import { ownFilesOf, PLANNED_FROM } from './assets';
import { cribBits } from './crib';
import { inChild, WorkLimitError } from './children';
import { db, type ProgramRecord } from './db';
import { hashOfHashes } from './hashes';
import type { Author } from './audit';
import type { Planned } from './heavy';

export type Release = { ok: true; id: string; sha256: string } | { ok: false; status: number; why: string };

/** @param accepted codes of the warnings that were ticked */
export async function release(jobId: string, revision: number, accepted: string[], author: Author): Promise<Release> {
  const row = await db().selectFrom('job_revision').select(PLANNED_FROM).where('job_id', '=', jobId).where('revision', '=', revision).executeTakeFirst();
  if (!row) return { ok: false, status: 404, why: 'That revision has not been saved. Wait for “saved”, then release again.' };
  let planned: Planned;
  try {
    planned = await inChild('plan', {
      doc: row.doc,
      date: new Date().toISOString().slice(0, 10),
      own: await ownFilesOf(row),
      crib: (await cribBits()).map(({ id }) => id),
    });
  } catch (error) {
    if (!(error instanceof WorkLimitError)) throw error;
    return { ok: false, status: 422, why: `The release was not made. ${error.message} Make the job smaller: fewer things, larger steps.` };
  }
  const { programs, sha256, count, report } = planned;
  if (forbids(report.findings))
    return { ok: false, status: 422, why: `A finding forbids cutting: ${report.findings.find((f) => f.severity === 'error')!.what}` };
  if (count === 0) return { ok: false, status: 422, why: 'There is nothing to cut in this job yet.' };
  const open = report.findings.find((f) => f.severity === 'warning' && !accepted.includes(f.code));
  if (open) return { ok: false, status: 422, why: `A warning has not been ticked: ${open.what}` };
  const id = randomUUID();
  await db()
    .insertInto('release')
    .values({
      id,
      job_id: jobId,
      revision,
      sha256,
      programs,
      report: JSON.stringify({ ...report, accepted: accepted.map((code) => ({ code, by: author.name })) }),
      author: author.name,
      author_id: author.id,
    })
    .execute();
  await db().updateTable('job').set({ state: 'ready' }).where('id', '=', jobId).where('state', '=', 'drawing').execute();
  return { ok: true, id, sha256 };
}

/** A program of a release, whole: text and hashes are looked at again whenever it is taken out. Null when there is none, a sentence when it was altered. */
export async function programOf(releaseId: string, name: string): Promise<ProgramRecord | string | null> {
  const row = await db()
    .selectFrom('release')
    .select([
      'sha256',
      sql<ProgramRecord | null>`jsonb_path_query_first(programs, '$[*] ? (@.name == $name)', jsonb_build_object('name', ${name}::text))`.as('program'),
      sql<string[]>`jsonb_path_query_array(programs, '$[*].sha256')`.as('hashes'),
    ])
    .where('id', '=', releaseId)
    .executeTakeFirst();
  if (!row?.program) return null;
  const { text, sha256 } = row.program;
  if (createHash('sha256').update(text).digest('hex') !== sha256 || hashOfHashes(row.hashes) !== row.sha256)
    return 'This program is not as it was released: its hash is another. It is not handed out. Release the job again.';
  return row.program;
}

/** The programs of a release without their texts, and whether each turns the spindle: what is only listed is not loaded. */
export const PROGRAMS_LISTED = sql<(Omit<ProgramRecord, 'text' | 'spans'> & { spindle: boolean })[]>`(
  select coalesce(jsonb_agg((program - 'text' - 'spans') || jsonb_build_object('spindle', (program ->> 'text') ~ '\\mM0?[34]\\M') order by place), '[]'::jsonb)
  from jsonb_array_elements(release.programs) with ordinality as one(program, place)
)`.as('programs');
