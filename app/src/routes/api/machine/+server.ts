import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { agentCommand, tabOf, type Person } from '$lib/server/agent';
import { writeDown } from '$lib/server/audit';
import { jsonOf } from '$lib/server/body';
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
  const { id, name, role } = locals.user!;
  const command = await jsonOf(request, z.union([Own, Passed]));
  if (!command) return json({ why: 'The command could not be read.' }, { status: 400 });
  const key = request.headers.get('idempotency-key')?.slice(0, 100);
  if (!key) return json({ why: 'A command needs an idempotency key.' }, { status: 400 });
  // To stop a machine is everybody's who sees that it must stop.
  if (role === 'watcher' && command.do !== 'hold' && command.do !== 'stop')
    return json({ why: 'You may watch, hold and stop. To move the machine an owner gives you that role.' }, { status: 403 });
  if ((command.do === 'connect' || command.do === 'raw') && role !== 'owner')
    return json({ why: 'What a machine is linked to is for the owner to change.' }, { status: 403 });
  const person = { id, by: name, tab: tabOf(request) };
  const own = Own.safeParse(command);
  const why = own.success ? await carryOut(own.data, person, key) : await agentCommand(command, person, key);
  if (!SMALL.has(command.do)) writeDown(command, { id, name }, why);
  return json({ why }, { status: why === null ? 200 : 409 });
};

function carryOut(command: z.infer<typeof Own>, person: Person, key: string): Promise<string | null> {
  switch (command.do) {
    case 'start':
      return startRun(command, person, key);
    case 'frame':
      return frameRun(command, person, key);
    case 'connect':
      return connect(command.machine, person);
  }
}
