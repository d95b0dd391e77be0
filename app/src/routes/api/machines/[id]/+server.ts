import { json } from '@sveltejs/kit';
import { MachineProfile, profileFaults } from '@kerbe/core/machine';
import { jsonOf, tryJsonOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import { tabOf } from '$lib/server/agent';
import { connect, connectedMachine, SIMULATED, Skim, skim } from '$lib/server/machines';
import type { RequestHandler } from './$types';

export const PUT: RequestHandler = async ({ params, request, locals }) => {
  const parsed = await tryJsonOf(request, MachineProfile);
  if (!parsed.success) return json({ why: parsed.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join(' ') }, { status: 400 });
  const why = profileFaults(parsed.data);
  if (why.length > 0) return json({ why: why.join(' ') }, { status: 422 });
  const { numUpdatedRows } = await db()
    .updateTable('machine')
    .set({ doc: JSON.stringify(parsed.data), name: parsed.data.limits.name, updated_at: new Date() })
    .where('id', '=', params.id)
    .executeTakeFirst();
  if (Number(numUpdatedRows) === 0) return json({ why: 'This machine is not in the shop any more.' }, { status: 404 });
  // The agent must know the machine as it is described now.
  const now = await connectedMachine();
  const refused = now.id === params.id ? await connect(params.id, { id: locals.user!.id, by: locals.user!.name, tab: tabOf(request) }) : null;
  return json({ why: refused && `The profile is kept, but the machine is still linked as before: ${refused}` }, { status: refused ? 409 : 200 });
};

export const DELETE: RequestHandler = async ({ params }) => {
  const row = await db().selectFrom('machine').select('connected').where('id', '=', params.id).executeTakeFirst();
  if (row?.connected || params.id === SIMULATED) return json({ why: 'The machine the agent is linked to, and the simulated one, stay.' }, { status: 409 });
  await db().deleteFrom('machine').where('id', '=', params.id).execute();
  return json({ why: null });
};

/** Writes down a skim of its spoilboard. */
export const POST: RequestHandler = async ({ params, request, locals }) => {
  const read = await jsonOf(request, Skim);
  if (!read) return json({ why: 'The new height of the spoilboard is a length above nothing.' }, { status: 400 });
  const why = await skim(params.id, read, locals.user!.name);
  return json({ why }, { status: why === null ? 200 : 409 });
};
