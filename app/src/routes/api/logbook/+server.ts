import { queryOf } from '$lib/server/body';
import { logCsv, logJson, LogQuery } from '$lib/server/logbook';
import type { RequestHandler } from './$types';

const AS = {
  csv: { write: logCsv, type: 'text/csv; charset=utf-8', file: 'logbook.csv' },
  json: { write: logJson, type: 'application/json', file: 'logbook.json' },
};

/** The log as CSV, or as JSON when that is asked for, as it is found and filtered on the page: all of it, sent as it is read. */
export const GET: RequestHandler = ({ url }) => {
  const { write, type, file } = AS[url.searchParams.get('as') === 'json' ? 'json' : 'csv'];
  const pieces = write(queryOf(url, LogQuery));
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await pieces.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(value));
    },
    async cancel() {
      await pieces.return(undefined);
    },
  });
  return new Response(stream, { headers: { 'content-type': type, 'content-disposition': `attachment; filename="${file}"` } });
};
