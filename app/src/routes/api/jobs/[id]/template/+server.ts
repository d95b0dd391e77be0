import { json } from '@sveltejs/kit';
import { ownFilesOf, PLANNED_FROM } from '$lib/server/assets';
import { wordOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import { inChild } from '$lib/server/children';
import type { RequestHandler } from './$types';

/** The full-size paper template of the saved job, as a PDF. */
export const GET: RequestHandler = async ({ params, url }) => {
  const row = await db()
    .selectFrom('job')
    .select(['name', ...PLANNED_FROM])
    .where('id', '=', params.id)
    .executeTakeFirst();
  if (!row) return json({ why: 'This job is not in the shop.' }, { status: 404 });
  const pdf = await inChild('template', {
    doc: row.doc,
    own: await ownFilesOf(row),
    paper: wordOf(url, 'paper', 20) || 'a4',
    date: new Date().toISOString().slice(0, 10),
  });
  const name = row.name.replace(/[^\w -]/g, '') || 'sign';
  return new Response(Buffer.from(pdf), {
    headers: { 'content-type': 'application/pdf', 'content-disposition': `attachment; filename="${name} full size.pdf"` },
  });
};
