/** Releasing: the saved revision is planned again here by the same core, and stored with its hash. */
import { createHash, randomUUID } from 'node:crypto';
import { forbids } from '@kerbe/core/preflight';
import { ownFacesOf } from './assets';
import { cribBits } from './crib';
import { db } from './db';
import { inThread } from './threads';

export type Release = { ok: true; id: string; sha256: string } | { ok: false; status: number; why: string };

/** @param accepted codes of the warnings that were ticked */
export async function release(jobId: string, revision: number, accepted: string[], author: string): Promise<Release> {
  const row = await db().selectFrom('job_revision').select(['doc']).where('job_id', '=', jobId).where('revision', '=', revision).executeTakeFirst();
  if (!row) return { ok: false, status: 404, why: 'That revision has not been saved. Wait for “saved”, then release again.' };
  const { programs, report } = await inThread('plan', {
    doc: row.doc,
    date: new Date().toISOString().slice(0, 10),
    faces: await ownFacesOf(row.doc),
    crib: (await cribBits()).map(({ id }) => id),
  });
  if (forbids(report.findings))
    return { ok: false, status: 422, why: `A finding forbids cutting: ${report.findings.find((f) => f.severity === 'error')!.what}` };
  if (programs.length === 0) return { ok: false, status: 422, why: 'There is nothing to cut in this job yet.' };
  const open = report.findings.find((f) => f.severity === 'warning' && !accepted.includes(f.code));
  if (open) return { ok: false, status: 422, why: `A warning has not been ticked: ${open.what}` };
  const sha256 = createHash('sha256')
    .update(programs.map((program) => program.sha256).join('\n'))
    .digest('hex');
  const id = randomUUID();
  await db()
    .insertInto('release')
    .values({
      id,
      job_id: jobId,
      revision,
      sha256,
      programs: JSON.stringify(programs),
      report: JSON.stringify({ ...report, accepted: accepted.map((code) => ({ code, by: author })) }),
      author,
    })
    .execute();
  await db().updateTable('job').set({ state: 'ready' }).where('id', '=', jobId).where('state', '=', 'drawing').execute();
  return { ok: true, id, sha256 };
}
