import { json } from '@sveltejs/kit';
import { ownFilesOf, PLANNED_FROM } from '$lib/server/assets';
import { inChild } from '$lib/server/children';
import { costOfJob } from '$lib/server/day';
import { db } from '$lib/server/db';
import { shopSettings } from '$lib/server/shop';
import type { RequestHandler } from './$types';

/** A quote for a customer, as a PDF: what one costs the shop, and what the shop adds. */
export const GET: RequestHandler = async ({ params }) => {
  const row = await db()
    .selectFrom('job')
    .select(['name', ...PLANNED_FROM])
    .where('id', '=', params.id)
    .executeTakeFirst();
  if (!row) return json({ why: 'This job is not in the shop any more.' }, { status: 404 });
  const worked = await costOfJob(params.id);
  if (!worked) return json({ why: 'What it takes could not be worked out: open it and look.' }, { status: 422 });
  const { cost, planning } = worked;
  if (cost.material === null)
    return json({ why: 'The shop has no price for its material. Put one in under Materials, and the quote is whole.' }, { status: 422 });
  const { name, logo, currency, rates } = await shopSettings();
  const pdf = await inChild('quote', {
    doc: row.doc,
    own: await ownFilesOf(row),
    facts: {
      shop: { name, logo },
      date: new Date().toISOString().slice(0, 10),
      to: planning.promisedTo,
      quantity: planning.quantity,
      currency,
      each: cost.all * (1 + rates.added / 100),
      finishing: planning.finishing.map((step) => step.name),
      ready: planning.due ? planning.due.replace('T', ', ') : '',
    },
  });
  const file = row.name.replace(/[^\w -]/g, '') || 'sign';
  return new Response(Buffer.from(pdf), {
    headers: { 'content-type': 'application/pdf', 'content-disposition': `attachment; filename="${file} quote.pdf"` },
  });
};
