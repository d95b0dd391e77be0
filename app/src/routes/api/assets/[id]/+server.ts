import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** A kept file. Only pictures are shown by a browser; drawings, which could carry scripts, are only ever saved. */
export const GET: RequestHandler = async ({ params }) => {
  const asset = await db().selectFrom('asset').select(['bytes', 'mime', 'name', 'kind']).where('id', '=', params.id).executeTakeFirst();
  if (!asset) return new Response('This file is not kept here.', { status: 404 });
  return new Response(new Uint8Array(asset.bytes), {
    headers: {
      'content-type': asset.kind === 'picture' ? asset.mime : 'application/octet-stream',
      'content-disposition': `${asset.kind === 'picture' ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(asset.name)}`,
      'content-security-policy': "default-src 'none'",
      'cache-control': 'private, max-age=604800, immutable',
    },
  });
};
