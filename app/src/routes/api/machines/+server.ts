import { json } from '@sveltejs/kit';
import { randomUUID } from 'node:crypto';
import { MachineProfile, profileFaults } from '@kerbe/core/machine';
import { tryJsonOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** A new machine, from a whole profile. */
export const POST: RequestHandler = async ({ request }) => {
  const parsed = await tryJsonOf(request, MachineProfile);
  if (!parsed.success) return json({ why: parsed.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join(' ') }, { status: 400 });
  const why = profileFaults(parsed.data);
  if (why.length > 0) return json({ why: why.join(' ') }, { status: 422 });
  const id = randomUUID();
  await db()
    .insertInto('machine')
    .values({ id, name: parsed.data.limits.name, doc: JSON.stringify(parsed.data), connected: false })
    .execute();
  return json({ why: null, id });
};
