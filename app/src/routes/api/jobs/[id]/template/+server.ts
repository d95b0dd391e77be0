import { json } from '@sveltejs/kit';
import { ownFacesOf } from '$lib/server/assets';
import { db } from '$lib/server/db';
import { inThread } from '$lib/server/threads';
import type { RequestHandler } from './$types';

/** The full-size paper template of the saved job, as a PDF. */
export const GET: RequestHandler = async ({ params, url }) => {
  const row = await db().selectFrom('job').select(['doc', 'name']).where('id', '=', params.id).executeTakeFirst();
  if (!row) return json({ why: 'This job is not in the shop.' }, { status: 404 });
  const pdf = await inThread('template', {
    doc: row.doc,
    faces: await ownFacesOf(row.doc),
    paper: url.searchParams.get('paper') ?? 'a4',
    date: new Date().toISOString().slice(0, 10),
  });
  const name = row.name.replace(/[^\w -]/g, '') || 'sign';
  return new Response(Buffer.from(pdf), {
    headers: { 'content-type': 'application/pdf', 'content-disposition': `attachment; filename="${name} full size.pdf"` },
  });
};
