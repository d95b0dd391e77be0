import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { ownFilesOf } from '$lib/server/assets';
import { jsonOf } from '$lib/server/body';
import { inChild } from '$lib/server/children';
import type { LayoutTold } from '$lib/stages/proof/advice';
import type { RequestHandler } from './$types';

const length = z.number().min(0).max(500);
const Body = z.object({
  job: z.looseObject({ items: z.record(z.string(), z.looseObject({ face: z.string().optional() })) }),
  settings: z.object({
    gap: length,
    margin: length,
    turns: z.array(z.number().min(0).max(360)).min(1).max(72),
    copies: z.record(z.string(), z.int().min(0).max(200)),
  }),
});

/** Lays the pieces of a job out - as it stands on the screen, saved or not. Line by line what was found; hung up on, it ends. */
export const POST: RequestHandler = async ({ request }) => {
  const asked = await jsonOf(request, Body);
  if (!asked) return json({ why: 'What is to be laid out could not be read.' }, { status: 400 });
  const faces = Object.values(asked.job.items).flatMap(({ face }) => face ?? []);
  const own = await ownFilesOf({ faces, pictures: [] });
  const hungUp = new AbortController();
  const body = new ReadableStream<Uint8Array>({
    async start(stream) {
      const say = (what: LayoutTold | { why: string }) => {
        if (!hungUp.signal.aborted) stream.enqueue(new TextEncoder().encode(`${JSON.stringify(what)}\n`));
      };
      try {
        await inChild('layout', { doc: asked.job, own, settings: asked.settings }, { tell: say, signal: hungUp.signal });
      } catch (error) {
        say({ why: (error as Error).message });
      }
      if (!hungUp.signal.aborted) stream.close();
    },
    cancel: () => hungUp.abort(),
  });
  return new Response(body, { headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store', 'x-accel-buffering': 'no' } });
};
