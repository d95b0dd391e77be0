import { json } from '@sveltejs/kit';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { Leftover } from '@kerbe/core/board/materials';
import { ownFilesOf, PLANNED_FROM } from '$lib/server/assets';
import { jsonOf } from '$lib/server/body';
import { inChild, WorkLimitError } from '$lib/server/children';
import { db } from '$lib/server/db';
import { keepLeftover } from '$lib/server/shop';
import type { RequestHandler } from './$types';

const Kept = z.object({ place: Leftover.shape.place });

/** Writes down what a finished run has left of its plate, with its openings, among the pieces that are left. */
export const POST: RequestHandler = async ({ params, request }) => {
  const kept = await jsonOf(request, Kept);
  if (!kept) return json({ why: 'Where it stands could not be read.' }, { status: 400 });
  const run = await db()
    .selectFrom('run')
    .innerJoin('release', 'release.id', 'run.release_id')
    .innerJoin('job_revision', (join) => join.onRef('job_revision.job_id', '=', 'run.job_id').onRef('job_revision.revision', '=', 'release.revision'))
    .select(['run.state', ...PLANNED_FROM])
    .where('run.id', '=', params.id)
    .executeTakeFirst();
  if (!run) return json({ why: 'This run is not in the record, or what it cut is not kept any more.' }, { status: 404 });
  if (run.state !== 'done') return json({ why: 'It was not cut to its end: nobody knows what is left.' }, { status: 409 });
  const remnant = await inChild('remnant', { doc: run.doc, own: await ownFilesOf(run) }).catch((error: Error) => {
    if (error instanceof WorkLimitError) return { why: error.message };
    throw error;
  });
  if (remnant && 'why' in remnant) return json(remnant, { status: 503 });
  if (!remnant) return json({ why: 'Nothing of the plate holds together any more.' }, { status: 422 });
  const { board, gone, left } = remnant;
  const { width, height, thickness, material } = board;
  const piece = Leftover.safeParse({
    id: randomUUID(),
    material,
    width,
    height,
    thickness,
    gone,
    place: kept.place,
    note: `${Math.round(100 * left)} % of it`,
  });
  if (!piece.success) return json({ why: 'It has more openings than can be kept.' }, { status: 422 });
  return json({ why: await keepLeftover(piece.data) });
};
