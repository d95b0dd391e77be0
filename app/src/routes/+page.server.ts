import { fail, redirect } from '@sveltejs/kit';
import { sql } from 'kysely';
import type { Job } from '@kerbe/core/job';
import { wordOf } from '$lib/server/body';
import { inChild, WorkLimitError } from '$lib/server/children';
import { db } from '$lib/server/db';
import { machineFor, machines } from '$lib/server/machines';
import { createJob } from '$lib/server/jobs';
import { textOf } from '$lib/server/job-text';
import { newSign } from '$lib/server/new-sign';
import type { Actions, PageServerLoad } from './$types';

const PAGE = 60;

export const load: PageServerLoad = async ({ url }) => {
  const after = wordOf(url, 'after');
  const away = url.searchParams.has('away');
  let query = db()
    .selectFrom('job')
    .select(['id', 'name', 'state', 'revision', 'picture', 'updated_at'])
    .select([sql<Job['board']>`doc->'board'`.as('board'), sql<Job['units']>`doc->>'units'`.as('units')])
    .where('archived_at', away ? 'is not' : 'is', null)
    .orderBy('updated_at', 'desc')
    .orderBy('id', 'desc')
    .limit(PAGE + 1);
  if (after) query = query.where(sql<boolean>`(updated_at, id) < (select updated_at, id from job where id = ${after})`);
  const rows = await query.execute();
  const jobs = rows.slice(0, PAGE);
  const anyAway = await db().selectFrom('job').select('id').where('archived_at', 'is not', null).limit(1).executeTakeFirst();
  const linked = (await machines()).filter(({ connected }) => connected).map(({ id, name, profile }) => ({ id, name, kind: profile.kind }));
  return { machines: linked, jobs, after, away, anyAway: anyAway !== undefined, older: rows.length > PAGE ? jobs.at(-1)!.id : null };
};

export const actions: Actions = {
  new: async ({ locals }) => {
    const sign = newSign('New sign');
    const machine = await machineFor(sign);
    const id = await createJob(textOf(machine ? { ...sign, machine: { ...machine.profile.limits, id: machine.id } } : sign), locals.user!);
    redirect(303, `/job/${id}`);
  },
  open: async ({ request, locals }) => {
    const file = (await request.formData()).get('job');
    if (!(file instanceof File) || file.size === 0) return fail(400, { why: 'No file was chosen.' });
    const read = await inChild('job', { bytes: new Uint8Array(await file.arrayBuffer()), bare: true }).catch((error: Error) => {
      if (error instanceof WorkLimitError) return { ok: false as const, why: error.message };
      throw error;
    });
    if (!read.ok) return fail(400, { why: `${file.name} is not a job Kerbe can use: ${read.why}` });
    redirect(303, `/job/${await createJob(read.job, locals.user!)}`);
  },
};
