import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { faceById } from '@kerbe/core/artwork/text';
import type { RequestHandler } from './$types';

const require = createRequire(import.meta.url);

/** The bytes of a shipped face. */
export const GET: RequestHandler = ({ params }) => {
  const face = faceById(params.id);
  if (!face) return new Response('There is no such face.', { status: 404 });
  return new Response(readFileSync(require.resolve(face.file)), { headers: { 'content-type': 'font/woff', 'cache-control': 'private, max-age=604800' } });
};
