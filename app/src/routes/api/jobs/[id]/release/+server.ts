import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { jsonOf } from '$lib/server/body';
import { release } from '$lib/server/releases';
import type { RequestHandler } from './$types';

const Body = z.object({ revision: z.int().min(1), accepted: z.array(z.string().max(60)).max(100) });

export const POST: RequestHandler = async ({ params, request, locals }) => {
  const asked = await jsonOf(request, Body);
  if (!asked) return json({ why: 'The release could not be read.' }, { status: 400 });
  const made = await release(params.id, asked.revision, asked.accepted, locals.user!);
  return made.ok ? json(made) : json({ why: made.why }, { status: made.status });
};
