import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { Bit } from '@kerbe/core/job';
import { tryJsonOf, wordOf } from '$lib/server/body';
import { crib, dropBit, fillCrib, keepBits } from '$lib/server/crib';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async () => json({ bits: await crib() });

/** Bits to be kept, or `usual` for an empty crib. */
const Keep = z.union([z.object({ bits: z.array(Bit).min(1).max(500) }), z.object({ usual: z.literal(true) })]);

export const POST: RequestHandler = async ({ request }) => {
  const parsed = await tryJsonOf(request, Keep);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    return json({ why: `The bit was not kept: ${issue.message}` }, { status: 422 });
  }
  if ('usual' in parsed.data) await fillCrib();
  else await keepBits(parsed.data.bits);
  return json({ bits: await crib() });
};

export const DELETE: RequestHandler = async ({ url }) => {
  await dropBit(wordOf(url, 'id'));
  return json({ bits: await crib() });
};
