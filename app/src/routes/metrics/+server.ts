import { timingSafeEqual } from 'node:crypto';
import { env } from '$env/dynamic/private';
import { registry } from '$lib/server/metrics';
import type { RequestHandler } from './$types';

/** Figures for whoever watches the installation, by the token it was started with. */
export const GET: RequestHandler = async ({ request }) => {
  const wanted = Buffer.from(`Bearer ${env.KERBE_METRICS_TOKEN ?? ''}`);
  const given = Buffer.from(request.headers.get('authorization') ?? '');
  if (!env.KERBE_METRICS_TOKEN || given.length !== wanted.length || !timingSafeEqual(given, wanted))
    return new Response('The token of this installation is wanted: it stands in its secrets.json.\n', { status: 401 });
  return new Response(await registry.metrics(), { headers: { 'content-type': registry.contentType, 'cache-control': 'no-store' } });
};
