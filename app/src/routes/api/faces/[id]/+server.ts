import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { faceById } from '@kerbe/core/artwork/faces';
import { json } from '@sveltejs/kit';
import { dropFace } from '$lib/server/assets';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

const require = createRequire(import.meta.url);

/** The bytes of a face: one that ships, or one of the shop's own. */
export const GET: RequestHandler = async ({ params }) => {
  const headers = { 'content-type': 'font/woff', 'cache-control': 'private, max-age=604800' };
  const face = faceById(params.id);
  if (face) return new Response(readFileSync(require.resolve(face.file)), { headers });
  const own = await db().selectFrom('asset').select('bytes').where('id', '=', params.id).where('kind', '=', 'face').executeTakeFirst();
  return own ? new Response(new Uint8Array(own.bytes), { headers }) : new Response('There is no such face.', { status: 404 });
};

/** Takes a face of the shop's own out of it. */
export const DELETE: RequestHandler = async ({ params }) => {
  const refused = await dropFace(params.id);
  return refused ? json({ why: refused.why }, { status: refused.status }) : json({ why: null });
};
