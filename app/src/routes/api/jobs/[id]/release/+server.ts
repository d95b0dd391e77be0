import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { release } from '$lib/server/releases';
import type { RequestHandler } from './$types';

const Body = z.object({ revision: z.int().min(1), accepted: z.array(z.string().max(60)).max(100) });

export const POST: RequestHandler = async ({ params, request, locals }) => {
  if (locals.user!.role !== 'owner') return json({ why: 'Only the owner releases programs. Ask them to look at it.' }, { status: 403 });
  const parsed = Body.safeParse(await request.json().catch(() => null));
  if (!parsed.success) return json({ why: 'The release could not be read.' }, { status: 400 });
  const made = await release(params.id, parsed.data.revision, parsed.data.accepted, locals.user!.name);
  return made.ok ? json(made) : json({ why: made.why }, { status: made.status });
};
