import { programOf } from '$lib/server/releases';
import type { RequestHandler } from './$types';

/** A program of a release, as a file: only as it was released. */
export const GET: RequestHandler = async ({ params }) => {
  const program = await programOf(params.id, params.name);
  if (program === null) return new Response('There is no such program.', { status: 404 });
  if (typeof program === 'string') return new Response(program, { status: 409 });
  return new Response(program.text, {
    headers: { 'content-type': 'text/plain; charset=us-ascii', 'content-disposition': `attachment; filename="${program.name}"`, 'x-sha256': program.sha256 },
  });
};
