import { latestSnapshot, listen } from '$lib/server/agents';
import { holdStream, stillGood } from '$lib/server/sessions';
import type { MachineSnapshot } from '$lib/machine';
import type { RequestHandler } from './$types';

/** The states of the machines asked for, as server-sent events, at most ten a second of each, for as long as the session is good. */
export const GET: RequestHandler = ({ url, locals }) => {
  const asked = new Set(url.searchParams.getAll('machine'));
  const { token } = locals.session!;
  let leave = () => {};
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      let open = true;
      const send = (machine: string, snapshot: MachineSnapshot) =>
        controller.enqueue(encoder.encode(`event: machine\ndata: ${JSON.stringify({ machine, snapshot })}\n\n`));
      for (const machine of asked) send(machine, latestSnapshot(machine));
      const silence = listen((machine, snapshot) => {
        // A browser that does not keep up gets the newest state, not a backlog.
        if (asked.has(machine) && (controller.desiredSize ?? 1) > -20) send(machine, snapshot);
      });
      const beat = setInterval(async () => {
        const good = await stillGood(token);
        // While that was asked the browser may have gone.
        if (!open) return;
        if (good) controller.enqueue(encoder.encode(': still here\n\n'));
        else close();
      }, 15_000);
      const release = holdStream(token, locals.user!.id, () => close());
      leave = () => {
        open = false;
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
