import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { bodyOf } from '$lib/server/assets';
import { db } from '$lib/server/db';
import { saveJob } from '$lib/server/jobs';
import type { RequestHandler } from './$types';

const Save = z.object({
  from: z.int().min(0),
  label: z.string().max(200),
  doc: z.unknown(),
  tab: z.string().max(60).optional(),
  picture: z
    .string()
    .max(300_000)
    .regex(/^data:image\/(png|webp);base64,/)
    .nullable()
    .optional(),
});

const MOST_BYTES = 25 * 1024 * 1024;

function readJson(body: Uint8Array): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(body));
  } catch {
    return null;
  }
}

export const GET: RequestHandler = async ({ params }) => {
  const row = await db().selectFrom('job').select(['revision', 'doc']).where('id', '=', params.id).executeTakeFirst();
  return row ? json(row) : json({ why: 'This job is not in the shop.' }, { status: 404 });
};

export const PUT: RequestHandler = async ({ params, request, locals }) => {
  const body = await bodyOf(request, MOST_BYTES);
  if (!body) return json({ why: 'The job has grown beyond 25 MB and cannot be saved so. Take some of its artwork out, or simplify it.' }, { status: 413 });
  const parsed = Save.safeParse(readJson(body));
  if (!parsed.success) return json({ why: 'The save could not be read.' }, { status: 400 });
  const { from, label, doc, picture, tab } = parsed.data;
  const saved = await saveJob(params.id, from, doc, label, locals.user!.name, picture ?? null, tab ?? null);
  return saved.ok ? json({ revision: saved.revision }) : json({ why: saved.why, revision: saved.revision }, { status: saved.status });
};
