import { inChild } from '$lib/server/children';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** A kept picture as grey pixels, clear where it is clear: width and height as four bytes each, then a byte for each pixel, row by row from the top; where it is see-through anywhere, then as many for how far each hides what is behind it. */
export const GET: RequestHandler = async ({ params }) => {
  const asset = await db().selectFrom('asset').select('bytes').where('id', '=', params.id).where('kind', '=', 'picture').executeTakeFirst();
  if (!asset) return new Response('This picture is not kept here.', { status: 404 });
  const { width, height, data, opacity } = await inChild('grey', { bytes: new Uint8Array(asset.bytes) });
  const body = new Uint8Array(8 + data.length + (opacity?.length ?? 0));
  const size = new DataView(body.buffer);
  size.setUint32(0, width);
  size.setUint32(4, height);
  body.set(data, 8);
  if (opacity) body.set(opacity, 8 + data.length);
  return new Response(body, {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'private, max-age=604800, immutable' },
  });
};
