import { error } from '@sveltejs/kit';
import { ownFaces } from '$lib/server/assets';
import { db } from '$lib/server/db';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, depends }) => {
  depends('kerbe:job');
  const job = await db().selectFrom('job').selectAll().where('id', '=', params.id).executeTakeFirst();
  if (!job) error(404, 'This job is not in the shop.');
  const releases = await db()
    .selectFrom('release')
    .select(['id', 'revision', 'sha256', 'programs', 'report', 'author', 'created_at'])
    .where('job_id', '=', params.id)
    .orderBy('created_at', 'desc')
    .limit(5)
    .execute();
  const runs = await db().selectFrom('run').selectAll().where('job_id', '=', params.id).orderBy('started_at', 'desc').limit(30).execute();
  return {
    id: job.id,
    revision: job.revision,
    doc: job.doc,
    runs,
    faces: await ownFaces(),
    releases: releases.map(({ programs, ...release }) => ({
      ...release,
      programs: programs.map(({ text: _text, ...program }) => program),
    })),
  };
};
