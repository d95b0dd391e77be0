import { json } from '@sveltejs/kit';
import { sql } from 'kysely';
import { z } from 'zod';
import { bytesOf, jsonOf } from '$lib/server/body';
import { inChild, WorkLimitError } from '$lib/server/children';
import { db } from '$lib/server/db';
import { archive, copyJob, deleteJob, saveJob } from '$lib/server/jobs';
import type { RequestHandler } from './$types';

/** The document as it is kept: handed on as text, not read on the way. */
export const GET: RequestHandler = async ({ params }) => {
  const row = await db()
    .selectFrom('job')
    .select(['revision', sql<string>`doc::text`.as('doc')])
    .where('id', '=', params.id)
    .executeTakeFirst();
  if (!row) return json({ why: 'This job is not in the shop.' }, { status: 404 });
  return new Response(`{"revision":${row.revision},"doc":${row.doc}}`, { headers: { 'content-type': 'application/json', 'cache-control': 'no-store' } });
};

export const PUT: RequestHandler = async ({ params, request, locals }) => {
  const read = await inChild('job', { bytes: await bytesOf(request), bare: false }).catch((error: Error) => {
    if (error instanceof WorkLimitError) return { ok: false as const, status: 422, why: error.message };
    throw error;
  });
  if (!read.ok) return json({ why: `The job was not saved: ${read.why}` }, { status: read.status });
  const saved = await saveJob(params.id, read, locals.user!);
  return saved.ok ? json({ revision: saved.revision }) : json({ why: saved.why, revision: saved.revision }, { status: saved.status });
};

const Change = z.object({ away: z.boolean() });

const Copy = z.object({ as: z.enum(['copy', 'template', 'sign', 'again']), revision: z.int().min(1).optional() });

/** Copies a job: answers with the id of the copy. */
export const POST: RequestHandler = async ({ params, request, locals }) => {
  const what = await jsonOf(request, Copy);
  if (!what) return json({ why: 'What the copy is for was not said.' }, { status: 400 });
  const id = await copyJob(params.id, locals.user!, what.as, what.revision);
  return id ? json({ id, why: null }) : json({ why: 'This job is not in the shop any more.' }, { status: 404 });
};

/** Puts a job away, or hangs it on the wall again. */
export const PATCH: RequestHandler = async ({ params, request }) => {
  const change = await jsonOf(request, Change);
  if (!change) return json({ why: 'The change could not be read.' }, { status: 400 });
  const why = await archive(params.id, change.away);
  return json({ why }, { status: why ? 404 : 200 });
};

export const DELETE: RequestHandler = async ({ params }) => {
  const refused = await deleteJob(params.id);
  return refused ? json({ why: refused.why }, { status: refused.status }) : json({ why: null });
};
