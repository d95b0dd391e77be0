import { json } from '@sveltejs/kit';
import { MachineProfile, profileFaults } from '@kerbe/core/machine';
import { sql } from 'kysely';
import { z } from 'zod';
import { jsonOf, tryJsonOf } from '$lib/server/body';
import { writeDown } from '$lib/server/audit';
import { db } from '$lib/server/db';
import { tabOf, type Person } from '$lib/server/agents';
import { CareDone, careDone, Cares, keepCares, noteMarks, Skim, skim } from '$lib/server/care';
import { isSimulated, link, unlink } from '$lib/server/machines';
import type { RequestHandler } from './$types';

const GONE = 'This machine is not in the shop any more.';
const personOf = (request: Request, { user }: App.Locals): Person => ({ id: user!.id, by: user!.name, tab: tabOf(request) });

export const PUT: RequestHandler = async ({ params, request, locals }) => {
  const parsed = await tryJsonOf(request, MachineProfile);
  if (!parsed.success) return json({ why: parsed.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join(' ') }, { status: 400 });
  const why = profileFaults(parsed.data);
  if (why.length > 0) return json({ why: why.join(' ') }, { status: 422 });
  const row = await db()
    .updateTable('machine')
    .set({
      // Of the spoilboard a form knows only the least: the rest is written by skims.
      doc: sql`jsonb_set(${JSON.stringify(parsed.data)}::jsonb, '{spoilboard}', coalesce(doc->'spoilboard', '{}') || ${JSON.stringify({ least: parsed.data.spoilboard.least })}::jsonb)`,
      name: parsed.data.limits.name,
      updated_at: new Date(),
    })
    .where('id', '=', params.id)
    .returning('connected')
    .executeTakeFirst();
  if (!row) return json({ why: GONE }, { status: 404 });
  // Its agent must know the machine as it is described now.
  const refused = row.connected ? await link(params.id, personOf(request, locals)) : null;
  return json({ why: refused && `The profile is kept, but the machine is still linked as before: ${refused}` }, { status: refused ? 409 : 200 });
};

/** Links Kerbe to the machine, or lets it go. */
export const PATCH: RequestHandler = async ({ params, request, locals }) => {
  const read = await jsonOf(request, z.object({ linked: z.boolean() }));
  if (!read) return json({ why: 'A machine is linked or it is not.' }, { status: 400 });
  const person = personOf(request, locals);
  const why = read.linked ? await link(params.id, person) : await unlink(params.id, person);
  writeDown({ do: read.linked ? 'link' : 'unlink', machine: params.id }, { id: person.id, name: person.by }, why);
  return json({ why }, { status: why === null ? 200 : 409 });
};

export const DELETE: RequestHandler = async ({ params }) => {
  const row = await db().selectFrom('machine').select('connected').where('id', '=', params.id).executeTakeFirst();
  if (row?.connected || isSimulated(params.id))
    return json({ why: 'A machine that is linked stays, and so do the simulated ones. Let it go first.' }, { status: 409 });
  await db().deleteFrom('machine').where('id', '=', params.id).execute();
  return json({ why: null });
};

const Said = z.union([Cares, z.object({ care: CareDone }), z.object({ marks: z.string().max(400) }), Skim]);

/** Of all it could have been: what is wrong with the list of what is to be done, when it was that. */
function whyNot({ issues }: z.ZodError): string {
  const lists = issues.flatMap((issue) => (issue.code === 'invalid_union' ? (issue.errors[0] ?? []) : [issue])).filter(({ path }) => path[0] === 'cares');
  const own = lists.filter(({ code, path }) => code === 'custom' || path.length > 1);
  return own.length > 0 ? own.map(({ message }) => message).join(' ') : 'The new height of the spoilboard is a length above nothing.';
}

/** Writes down a skim of its spoilboard, marks that were seen in it, or something that was done to the machine. */
export const POST: RequestHandler = async ({ params, request, locals }) => {
  const parsed = await tryJsonOf(request, Said);
  if (!parsed.success) return json({ why: whyNot(parsed.error) }, { status: 400 });
  const read = parsed.data;
  const by = locals.user!.name;
  if ('marks' in read) {
    await noteMarks(params.id, read.marks, by);
    return json({ why: null });
  }
  if ('cares' in read) {
    if (locals.user!.role !== 'owner') return json({ why: 'What is to be done to a machine is for the owner to say.' }, { status: 403 });
    const why = await keepCares(params.id, read);
    return json({ why }, { status: why === null ? 200 : 404 });
  }
  const why = await ('care' in read ? careDone(params.id, read.care, by) : skim(params.id, read, by));
  return json({ why }, { status: why === null ? 200 : 409 });
};
