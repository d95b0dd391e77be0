import { listen } from '$lib/server/agent';
import { holdStream, stillGood } from '$lib/server/sessions';
import type { RequestHandler } from './$types';

/** The machine's state as server-sent events, at most ten a second, for as long as the session is good. */
export const GET: RequestHandler = ({ locals }) => {
  const { token } = locals.session!;
  let leave = () => {};
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const silence = listen((snapshot) => {
        // A browser that does not keep up gets the newest state, not a backlog.
        if ((controller.desiredSize ?? 1) > -20) controller.enqueue(encoder.encode(`data: ${JSON.stringify(snapshot)}\n\n`));
      });
      const beat = setInterval(async () => {
        if (await stillGood(token)) controller.enqueue(encoder.encode(': still here\n\n'));
        else close();
      }, 15_000);
      const release = holdStream(token, locals.user!.id, () => close());
      leave = () => {
        silence();
        clearInterval(beat);
        release();
      };
      const close = () => {
        leave();
        try {
          controller.close();
        } catch {
          // It has been closed from the other end in the meantime.
        }
      };
    },
    cancel() {
      leave();
    },
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' } });
};
