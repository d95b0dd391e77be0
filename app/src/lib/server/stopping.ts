/** Hold and Stop by themselves: the door takes them to the agent, and what it does not take comes here. */
import { json, type RequestHandler } from '@sveltejs/kit';
import { agentCommand, tabOf } from './agents';
import { writeDown } from './audit';

export const commandHandler =
  (word: 'hold' | 'stop'): RequestHandler =>
  async ({ params, request, locals }) => {
    const { id, name } = locals.user!;
    const why = await agentCommand(params.id!, { do: word }, { id, by: name, tab: tabOf(request) }, request.headers.get('idempotency-key')?.slice(0, 100));
    writeDown({ do: word, machine: params.id }, { id, name }, why);
    return json({ why }, { status: why === null ? 200 : 409 });
  };
