import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { jsonOf } from '$lib/server/body';
import { nameVersion, versionText } from '$lib/server/history';
import type { RequestHandler } from './$types';

const GONE = { why: 'There is no such version of this job.' };
const revisionOf = (text: string): number => (/^\d{1,9}$/.test(text) ? Number(text) : -1);

/** The document of a version as it was saved. */
export const GET: RequestHandler = async ({ params }) => {
  const doc = await versionText(params.id, revisionOf(params.revision));
  return doc === null ? json(GONE, { status: 404 }) : new Response(`{"doc":${doc}}`, { headers: { 'content-type': 'application/json' } });
};

const Named = z.object({ named: z.string().trim().max(80) });

/** Names a version; an empty name takes it away. */
export const PATCH: RequestHandler = async ({ params, request }) => {
  const asked = await jsonOf(request, Named);
  if (!asked) return json({ why: 'A name has 80 letters at most.' }, { status: 400 });
  const done = await nameVersion(params.id, revisionOf(params.revision), asked.named || null);
  return done ? json({ why: null }) : json(GONE, { status: 404 });
};
