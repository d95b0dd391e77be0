import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { Bit } from '@kerbe/core/job';
import { tryJsonOf, wordOf } from '$lib/server/body';
import { crib, dropBit, fillCrib, giveLife, keepBits, sharpAgain } from '$lib/server/crib';
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

/** How many hours or pierces a bit is given, or that it is sharp again. */
const Edge = z.union([
  z.strictObject({ id: z.string().max(60), life: z.number('A life is a number of hours.').gt(0, 'More than no hour.').max(10_000).nullable() }),
  z.strictObject({ id: z.string().max(60), strikesLife: z.int('A life is a whole number of pierces.').min(1).max(100_000).nullable() }),
  z.strictObject({
    id: z.string().max(60),
    kind: z.enum(['sharpened', 'replaced']),
    cost: z.number('A cost is a number.').min(0).max(100_000).nullable(),
    note: z.string().trim().max(200),
  }),
]);

export const PATCH: RequestHandler = async ({ request, locals }) => {
  const edge = await tryJsonOf(request, Edge);
  if (!edge.success) return json({ why: 'Hours and pierces are numbers above nothing, a cost a number.' }, { status: 422 });
  if ('life' in edge.data) await giveLife(edge.data.id, { life: edge.data.life });
  else if ('strikesLife' in edge.data) await giveLife(edge.data.id, { strikes_life: edge.data.strikesLife });
  else {
    const { id, ...event } = edge.data;
    if (!(await sharpAgain({ bit: id, ...event }, locals.user!.name))) return json({ why: 'This bit is not in the crib any more.' }, { status: 404 });
  }
  return json({ bits: await crib() });
};

export const DELETE: RequestHandler = async ({ url }) => {
  await dropBit(wordOf(url, 'id'));
  return json({ bits: await crib() });
};
