import { json } from '@sveltejs/kit';
import { sql } from 'kysely';
import { ownFilesOf, PLANNED_FROM } from '$lib/server/assets';
import { db } from '$lib/server/db';
import { inChild } from '$lib/server/children';
import { PROGRAMS_LISTED } from '$lib/server/releases';
import { shopSettings } from '$lib/server/shop';
import type { RequestHandler } from './$types';

/** The set-up sheet of a release, as a PDF. */
export const GET: RequestHandler = async ({ params, url }) => {
  const release = await db()
    .selectFrom('release')
    .select(['job_id', 'revision', 'author', 'sha256', 'report', PROGRAMS_LISTED])
    .where('id', '=', params.id)
    .executeTakeFirst();
  const row =
    release &&
    (await db()
      .selectFrom('job_revision')
      .select([...PLANNED_FROM, sql<string>`doc->>'name'`.as('name')])
      .where('job_id', '=', release.job_id)
      .where('revision', '=', release.revision)
      .executeTakeFirst());
  if (!release || !row) return json({ why: 'There is no such release.' }, { status: 404 });
  const { programs, report } = release;
  const { name, logo } = await shopSettings();
  const pdf = await inChild('sheet', {
    doc: row.doc,
    own: await ownFilesOf(row),
    facts: {
      shop: { name, logo },
      revision: release.revision,
      author: release.author,
      date: report.date,
      sha256: release.sha256,
      programs: programs.map(({ name, sha256, seconds, changes, bits }) => ({ name, sha256, seconds, changes, bits })),
      address: `${url.origin}/job/${release.job_id}?stage=setup`,
      accepted: report.accepted.map(({ code, by }) => ({ what: report.findings.find((found) => found.code === code)?.what ?? code, by })),
    },
  });
  const file = row.name.replace(/[^\w -]/g, '') || 'sign';
  return new Response(Buffer.from(pdf), {
    headers: { 'content-type': 'application/pdf', 'content-disposition': `attachment; filename="${file} set-up sheet.pdf"` },
  });
};
