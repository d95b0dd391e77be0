import { wordOf } from '$lib/server/body';
import { logCsv } from '$lib/server/logbook';
import type { RequestHandler } from './$types';

/** The log as CSV, as it is found and filtered on the page: all of it, sent as it is read. */
export const GET: RequestHandler = ({ url }) => {
  const pieces = logCsv({ find: wordOf(url, 'find'), state: wordOf(url, 'state') });
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
  return new Response(stream, { headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': 'attachment; filename="logbook.csv"' } });
};
