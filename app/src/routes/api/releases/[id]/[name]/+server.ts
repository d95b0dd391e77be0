import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** A program of a release, as a file. */
export const GET: RequestHandler = async ({ params }) => {
  const row = await db().selectFrom('release').select('programs').where('id', '=', params.id).executeTakeFirst();
  const program = row?.programs.find(({ name }) => name === params.name);
  if (!program) return new Response('There is no such program.', { status: 404 });
  return new Response(program.text, {
    headers: { 'content-type': 'text/plain; charset=us-ascii', 'content-disposition': `attachment; filename="${program.name}"`, 'x-sha256': program.sha256 },
  });
};
