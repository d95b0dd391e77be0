import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params }) => {
  const events = await db().selectFrom('run_event').select(['at', 'event', 'line', 'text']).where('run_id', '=', params.id).orderBy('id').execute();
  return json({ events });
};

export const PATCH: RequestHandler = async ({ params, request }) => {
  const parsed = z.object({ notes: z.string().max(20_000) }).safeParse(await request.json().catch(() => null));
  if (!parsed.success) return json({ why: 'The note could not be read.' }, { status: 400 });
  await db().updateTable('run').set({ notes: parsed.data.notes }).where('id', '=', params.id).execute();
  return json({ why: null });
};
