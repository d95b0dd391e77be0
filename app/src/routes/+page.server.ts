import { fail, redirect } from '@sveltejs/kit';
import { sql } from 'kysely';
import type { Job } from '@kerbe/core/job';
import { z } from 'zod';
import { beginPiece, PIECE_NAMES, PIECES } from '@kerbe/core/artwork/begin';
import { wordOf } from '$lib/server/body';
import { inChild, WorkLimitError } from '$lib/server/children';
import { cribBits } from '$lib/server/crib';
import { db } from '$lib/server/db';
import { machineFor, machines } from '$lib/server/machines';
import { createJob } from '$lib/server/jobs';
import { textOf } from '$lib/server/job-text';
import { shopSettings } from '$lib/server/shop';
import type { Actions, PageServerLoad } from './$types';

const PAGE = 60;
const size = z.coerce.number().positive().max(20_000);
const NewSign = z.object({
  piece: z.enum(PIECE_NAMES),
  units: z.enum(['mm', 'in']),
  width: size,
  height: size,
  thickness: size.max(1000),
  material: z.string().max(60),
  /** The piece that is left it is made on; empty for a new board. */
  leftover: z.string().max(40).default(''),
});

export const load: PageServerLoad = async ({ url }) => {
  const after = wordOf(url, 'after');
  const away = url.searchParams.has('away');
  const find = (url.searchParams.get('find') ?? '').trim().slice(0, 100);
  const sort = url.searchParams.get('sort') === 'name' ? 'name' : 'newest';
  let query = db()
    .selectFrom('job')
    .select(['id', 'name', 'state', 'revision', 'picture', 'updated_at'])
    .select([
      sql<Job['board']>`doc->'board'`.as('board'),
      sql<Job['units']>`doc->>'units'`.as('units'),
      sql<Job['process']>`coalesce(doc->>'process', 'router')`.as('process'),
    ])
    .where('archived_at', away ? 'is not' : 'is', null)
    .where(sql<boolean>`not template`)
    .limit(PAGE + 1);
  // A name, a wood, what the sign says, or a note.
  if (find) {
    const like = `%${find.replace(/[\\%_]/g, '\\$&')}%`;
    query = query.where(sql<boolean>`searched ilike ${like}`);
  }
  if (sort === 'name') {
    query = query.orderBy(sql`lower(name)`).orderBy('id');
    if (after) query = query.where(sql<boolean>`(lower(name), id) > (select lower(name), id from job where id = ${after})`);
  } else {
    query = query.orderBy('updated_at', 'desc').orderBy('id', 'desc');
    if (after) query = query.where(sql<boolean>`(updated_at, id) < (select updated_at, id from job where id = ${after})`);
  }
  const rows = await query.execute();
  const jobs = rows.slice(0, PAGE);
  const anyAway = await db().selectFrom('job').select('id').where('archived_at', 'is not', null).limit(1).executeTakeFirst();
  const templates = await db()
    .selectFrom('job')
    .select(['id', 'name', 'picture'])
    .where(sql<boolean>`template`)
    .where('archived_at', 'is', null)
    .orderBy(sql`lower(name)`)
    .limit(PAGE)
    .execute();
  const shop = await shopSettings();
  const linked = (await machines()).filter(({ connected }) => connected).map(({ id, name, profile }) => ({ id, name, kind: profile.kind }));
  return {
    shop,
    templates,
    machines: linked,
    jobs,
    after,
    away,
    find,
    sort,
    anyAway: anyAway !== undefined,
    older: rows.length > PAGE ? jobs.at(-1)!.id : null,
  };
};

export const actions: Actions = {
  new: async ({ request, locals }) => {
    const asked = NewSign.safeParse(Object.fromEntries(await request.formData()));
    if (!asked.success) return fail(400, { why: 'A board needs a width, a height and a thickness.' });
    const { piece, units, leftover, ...size } = asked.data;
    const shop = await shopSettings();
    const gone = shop.leftovers.find(({ id }) => id === leftover)?.gone;
    const board = { ...size, ...(gone ? { gone } : {}) };
    const machine = await machineFor({ machine: { id: shop.machine ?? undefined }, process: PIECES[piece].process });
    const limits = machine ? { ...machine.profile.limits, id: machine.id } : undefined;
    redirect(303, `/job/${await createJob(textOf(beginPiece({ piece, board, units, machine: limits }, await cribBits())), locals.user!)}`);
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
