import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { agentCommand } from '$lib/server/agent';
import { db } from '$lib/server/db';
import { connect } from '$lib/server/machines';
import { frameRun, startRun } from '$lib/server/runs';
import type { RequestHandler } from './$types';

/** What the server makes itself, from what was released or kept here. */
const Own = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('start'),
    release: z.string().max(80),
    program: z.string().max(200),
    from: z.int().min(1).optional(),
    /** Somebody stands at the machine and sees that it is clear. */
    here: z.boolean().default(false),
  }),
  z.object({
    do: z.literal('frame'),
    release: z.string().max(80),
    program: z.string().max(200),
    shape: z.enum(['box', 'outline']),
    height: z.number().min(1).max(100),
  }),
  z.object({ do: z.literal('connect'), machine: z.string().max(80) }),
]);
/** Everything else goes to the agent as it is: the agent checks it and says what holds it. */
const PASSED = [
  ...([
    'take',
    'leave',
    'renew',
    'home',
    'jog',
    'jog-start',
    'jog-on',
    'jog-end',
    'zero-xy',
    'move-over',
    'zero-z',
    'probe-block',
    'nudge',
    'keep-zero',
  ] as const),
  ...([
    'use-offset',
    'measure',
    'fitted',
    'next',
    'give-up',
    'go-to-zero',
    'warm-up',
    'reading',
    'forget-readings',
    'follow',
    'place-board',
    'save-place',
  ] as const),
  ...(['forget-place', 'confirm', 'unconfirm', 'hold', 'resume', 'stop', 'clear', 'override', 'bench', 'raw'] as const),
] as const;
const Passed = z.looseObject({ do: z.enum(PASSED) });
/** Said many times a second or by itself: not worth a line in the books. */
const SMALL = new Set<string>(['jog-on', 'renew']);

export const POST: RequestHandler = async ({ request, locals }) => {
  const { name, role } = locals.user!;
  const body: unknown = await request.json().catch(() => null);
  const own = Own.safeParse(body);
  const parsed = own.success ? own : Passed.safeParse(body);
  if (!parsed.success) return json({ why: 'The command could not be read.' }, { status: 400 });
  const command = parsed.data;
  const key = request.headers.get('idempotency-key') ?? undefined;
  if (!key) return json({ why: 'A command needs an idempotency key.' }, { status: 400 });
  // To stop a machine is everybody's who sees that it must stop.
  if (role === 'watcher' && command.do !== 'hold' && command.do !== 'stop')
    return json({ why: 'You may watch, hold and stop. To move the machine an owner gives you that role.' }, { status: 403 });
  if ((command.do === 'connect' || command.do === 'raw') && role !== 'owner')
    return json({ why: 'What a machine is linked to is for the owner to change.' }, { status: 403 });
  const person = { by: name, tab: (request.headers.get('x-kerbe-tab') ?? '').slice(0, 60) };
  const why = own.success ? await carryOut(own.data, person, key) : await agentCommand(command, person, key);
  // Stopping a machine must not wait for the database.
  if (!SMALL.has(command.do))
    void db()
      .insertInto('audit')
      .values({ author: name, command: command.do, detail: JSON.stringify(command).slice(0, 2000), refused: why })
      .execute()
      .catch((error: Error) => console.error(`audit: ${error.message}`));
  return json({ why }, { status: why === null ? 200 : 409 });
};

function carryOut(command: z.infer<typeof Own>, person: { by: string; tab: string }, key: string): Promise<string | null> {
  switch (command.do) {
    case 'start':
      return startRun(command, person, key);
    case 'frame':
      return frameRun(command, person, key);
    case 'connect':
      return connect(command.machine, person);
  }
}
