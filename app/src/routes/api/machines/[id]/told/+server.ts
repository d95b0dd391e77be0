import { timingSafeEqual } from 'node:crypto';
import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { env } from '$env/dynamic/private';
import { writeDown } from '$lib/server/audit';
import { jsonOf } from '$lib/server/body';
import type { RequestHandler } from './$types';

const Told = z.object({ do: z.enum(['hold', 'stop']), id: z.string().max(80), name: z.string().max(80) });

/** What the door did by itself, for the books. */
export const POST: RequestHandler = async ({ params, request }) => {
  const [given, wanted] = [request.headers.get('x-kerbe-door') ?? '', env.KERBE_DOOR_TOKEN ?? ''].map((text) => Buffer.from(text));
  if (wanted.length === 0 || given.length !== wanted.length || !timingSafeEqual(given, wanted))
    return json({ why: 'That is for the door alone.' }, { status: 403 });
  const told = await jsonOf(request, Told);
  if (!told) return json({ why: 'That could not be read.' }, { status: 400 });
  writeDown({ do: told.do, machine: params.id }, told, null);
  return json({ why: null });
};
