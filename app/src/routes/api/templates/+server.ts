import { randomUUID } from 'node:crypto';
import { json } from '@sveltejs/kit';
import { Template } from '@kerbe/core/job/template';
import { tryJsonOf, wordOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** Every cut list kept, as one of the present version. */
async function all() {
  const kept = await db().selectFrom('cut_template').select(['id', 'name', 'doc', 'author']).orderBy('name').execute();
  return kept.map((row) => ({ ...row, doc: Template.parse(row.doc) }));
}

export const GET: RequestHandler = async () => json({ templates: await all() });

export const POST: RequestHandler = async ({ request, locals }) => {
  const parsed = await tryJsonOf(request, Template);
  if (!parsed.success) return json({ why: `The template was not kept: ${parsed.error.issues[0].message}` }, { status: 422 });
  const { name } = parsed.data;
  // A template of the same name is the same template, made better.
  await db().deleteFrom('cut_template').where('name', '=', name).execute();
  await db()
    .insertInto('cut_template')
    .values({ id: randomUUID(), name, doc: JSON.stringify(parsed.data), author: locals.user!.name })
    .execute();
  return json({ templates: await all() });
};

export const DELETE: RequestHandler = async ({ url }) => {
  await db().deleteFrom('cut_template').where('id', '=', wordOf(url, 'id')).execute();
  return json({ templates: await all() });
};
