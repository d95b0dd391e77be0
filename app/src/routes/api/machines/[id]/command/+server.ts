import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { Asked, PASSED } from '@kerbe/core/link/commands';
import { agentCommand, tabOf, type Person } from '$lib/server/agents';
import { writeDown } from '$lib/server/audit';
import { jsonOf } from '$lib/server/body';
import { practiseRun } from '$lib/server/practice';
import { frameRun, startRun } from '$lib/server/runs';
import type { RequestHandler } from './$types';

/** Everything that is not asked of the server itself goes to the agent as it is. */
const Passed = z.looseObject({ do: z.enum(PASSED) });
/** Said many times a second or by itself: not worth a line in the books. */
const SMALL = new Set<string>(['jog-on', 'renew']);

export const POST: RequestHandler = async ({ params, request, locals }) => {
  const { id, name, role } = locals.user!;
  const command = await jsonOf(request, z.union([Asked, Passed]));
  if (!command) return json({ why: 'The command could not be read.' }, { status: 400 });
  const key = request.headers.get('idempotency-key')?.slice(0, 100);
  if (!key) return json({ why: 'A command needs an idempotency key.' }, { status: 400 });
  // To stop a machine is everybody's who sees that it must stop.
  if (role === 'watcher' && command.do !== 'hold' && command.do !== 'stop')
    return json({ why: 'You may watch, hold and stop. To move the machine an owner gives you that role.' }, { status: 403 });
  if (command.do === 'raw' && role !== 'owner') return json({ why: 'What is sent to a machine as it is typed is the owner’s.' }, { status: 403 });
  const person = { id, by: name, tab: tabOf(request) };
  const own = Asked.safeParse(command);
  const why = own.success ? await carryOut(params.id, own.data, person, key) : await agentCommand(params.id, command, person, key);
  if (!SMALL.has(command.do)) writeDown({ ...command, machine: params.id }, { id, name }, why);
  return json({ why }, { status: why === null ? 200 : 409 });
};

function carryOut(machine: string, command: z.infer<typeof Asked>, person: Person, key: string): Promise<string | null> {
  switch (command.do) {
    case 'start':
      return startRun(machine, command, person, key);
    case 'frame':
      return frameRun(machine, command, person, key);
    case 'practice':
      return practiseRun(machine, command, person, key);
  }
}
