import { logCsv } from '$lib/server/logbook';
import type { RequestHandler } from './$types';

/** The log as CSV, as it is found and filtered on the page. */
export const GET: RequestHandler = async ({ url }) => {
  const csv = await logCsv({ find: url.searchParams.get('find') ?? '', state: url.searchParams.get('state') ?? '' });
  return new Response(csv, { headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': 'attachment; filename="logbook.csv"' } });
};
