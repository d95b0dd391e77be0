import { fail, redirect } from '@sveltejs/kit';
import { decodeText } from '@kerbe/core/text';
import { readJob } from '@kerbe/core/job';
import { db } from '$lib/server/db';
import { connectedMachine } from '$lib/server/machines';
import { createJob, newSign } from '$lib/server/jobs';
import { auth } from '$lib/server/auth';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const jobs = await db()
    .selectFrom('job')
    .select(['id', 'name', 'state', 'revision', 'picture', 'updated_at', 'doc'])
    .orderBy('updated_at', 'desc')
    .limit(200)
    .execute();
  return {
    jobs: jobs.map(({ doc, ...job }) => ({ ...job, board: doc.board, units: doc.units })),
  };
};

export const actions: Actions = {
  new: async ({ locals }) => {
    // Planned for the machine the shop is linked to.
    const sign = { ...newSign('New sign'), machine: (await connectedMachine()).profile.limits };
    const id = await createJob(sign, locals.user!.name);
    redirect(303, `/job/${id}`);
  },
  open: async ({ request, locals }) => {
    const file = (await request.formData()).get('job');
    if (!(file instanceof File) || file.size === 0) return fail(400, { why: 'No file was chosen.' });
    let data: unknown;
    try {
      data = JSON.parse(decodeText(new Uint8Array(await file.arrayBuffer())));
    } catch {
      return fail(400, { why: `${file.name} is not a job: it is not JSON.` });
    }
    const reading = readJob(data);
    if (!reading.ok) return fail(400, { why: `${file.name} is not a job Kerbe can use: ${reading.why.slice(0, 3).join(' ')}` });
    redirect(303, `/job/${await createJob(reading.job, locals.user!.name)}`);
  },
  leave: async ({ request }) => {
    await auth().api.signOut({ headers: request.headers });
    redirect(303, '/sign-in');
  },
};
