import { listen } from '$lib/server/agent';
import type { RequestHandler } from './$types';

/** The machine's state as server-sent events, at most ten a second. */
export const GET: RequestHandler = () => {
  let leave = () => {};
  let beat: NodeJS.Timeout;
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      leave = listen((snapshot) => {
        // A browser that does not keep up gets the newest state, not a backlog.
        if ((controller.desiredSize ?? 1) > -20) controller.enqueue(encoder.encode(`data: ${JSON.stringify(snapshot)}\n\n`));
      });
      beat = setInterval(() => controller.enqueue(encoder.encode(': still here\n\n')), 15_000);
    },
    cancel() {
      leave();
      clearInterval(beat);
    },
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' } });
};
