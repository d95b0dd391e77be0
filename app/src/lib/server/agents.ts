/** The web server's connections to the machines' agents, one for each: commands, and the stream of states. */
import { NO_MACHINE, type MachineSnapshot } from '$lib/machine';
import { env } from '$env/dynamic/private';
import { keptAgents } from './keeper';
import { keepRecord } from './run-record';
import { trouble } from './log';

type Listener = (machine: string, snapshot: MachineSnapshot) => void;
const listeners = new Set<Listener>();
const agents = new Map<string, AgentLink>();

const headers = () => ({ authorization: `Bearer ${env.KERBE_AGENT_TOKEN}`, 'content-type': 'application/json' });

/** Milliseconds after which a stream that broke is tried again, and after which it is asked whether there are other agents. */
const AGAIN = 500;
const LOOK = 5000;

/** The agent's answer never came: whether it did what it was told is not known. */
export const NO_AGENT = 'The machine agent does not answer. It runs beside Kerbe and is started with it: start Kerbe again if this stays.';
const NOT_LINKED = 'Kerbe is not linked to this machine. An owner links it on the Machines page.';

/** The tab a request comes from: a secret of that tab but for what stands before its dot. */
export const tabOf = (request: Request): string => (request.headers.get('x-kerbe-tab') ?? '').slice(0, 80);

/** Who gives a command, and from which screen. */
export interface Person {
  id: string;
  by: string;
  tab: string;
}

class AgentLink {
  latest: MachineSnapshot = NO_MACHINE;
  readonly url: string;
  private readonly machine: string;
  private readonly gone = new AbortController();

  constructor(machine: string, url: string) {
    this.machine = machine;
    this.url = url;
    void this.follow();
  }

  get(path: string): Promise<Response> {
    return fetch(this.url + path, { headers: headers() });
  }

  private async follow(): Promise<void> {
    const { signal } = this.gone;
    while (!signal.aborted) {
      try {
        const response = await fetch(`${this.url}/events`, { headers: headers(), signal });
        let rest = '';
        const decoder = new TextDecoder();
        for await (const chunk of response.body!) {
          const lines = (rest + decoder.decode(chunk as Uint8Array, { stream: true })).split('\n');
          rest = lines.pop()!;
          for (const line of lines) if (line) this.publish({ agent: true, ...(JSON.parse(line) as Omit<MachineSnapshot, 'agent'>) });
        }
      } catch {
        // Said to everyone by the snapshot below; tried again in a moment.
      }
      this.publish({ ...this.latest, agent: false, link: false, status: null });
      if (!signal.aborted) await new Promise((done) => setTimeout(done, AGAIN));
    }
  }

  private publish(snapshot: MachineSnapshot): void {
    this.latest = snapshot;
    for (const listener of listeners) listener(this.machine, snapshot);
    if (snapshot.run) keepRecord(this.url, snapshot.run);
  }

  close(): void {
    this.gone.abort();
  }
}

/** Goes by which agents there are now: others are followed, those that ended no more. */
export async function lookForAgents(): Promise<void> {
  const kept = await keptAgents();
  for (const [machine, agent] of [...agents])
    if (!kept.some((one) => one.machine === machine && one.url === agent.url)) {
      agent.close();
      agents.delete(machine);
    }
  for (const { machine, url } of kept) if (!agents.has(machine)) agents.set(machine, new AgentLink(machine, url));
}

let following = false;
/** Follows the agents for as long as the server lives. */
export function followAgents(): void {
  if (following) return;
  following = true;
  const look = () => lookForAgents().catch((error: Error) => trouble('agents', error));
  void look();
  setInterval(() => void look(), LOOK).unref();
}

/** What the agent of a machine said last. */
export const latestSnapshot = (machine: string): MachineSnapshot => agents.get(machine)?.latest ?? NO_MACHINE;

/** The state as it is at this moment: what a start is judged by. */
export async function presentSnapshot(machine: string): Promise<MachineSnapshot> {
  try {
    const response = await agents.get(machine)!.get('/state');
    return { agent: true, ...((await response.json()) as Omit<MachineSnapshot, 'agent'>) };
  } catch {
    return { ...latestSnapshot(machine), agent: false, link: false, status: null };
  }
}

/** Hears of every state of every machine from now on, until the function it gives is called. */
export function listen(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** The agents there are, and whether each and its machine answer. */
export const linkedAgents = (): { machine: string; agent: boolean; link: boolean }[] =>
  [...agents].map(([machine, { latest }]) => ({ machine, agent: latest.agent, link: latest.link }));

/** Sends a command to a machine's agent. The answer is null when it was carried out, else why not. */
export async function agentCommand(machine: string, command: unknown, { id, by, tab }: Person, key?: string): Promise<string | null> {
  const agent = agents.get(machine);
  if (!agent) return NOT_LINKED;
  try {
    const response = await fetch(`${agent.url}/command`, {
      method: 'POST',
      headers: {
        ...headers(),
        'x-kerbe-id': encodeURIComponent(id),
        'x-kerbe-by': encodeURIComponent(by),
        'x-kerbe-tab': encodeURIComponent(tab),
        ...(key ? { 'idempotency-key': key } : {}),
      },
      body: JSON.stringify(command),
    });
    return ((await response.json()) as { why: string | null }).why;
  } catch {
    return NO_AGENT;
  }
}

/** A page of the agent as it is, or null when it does not answer: `map` the carved surface, `talk` what was said on the wire lately. */
export async function agentPage(machine: string, page: 'map' | 'talk'): Promise<string | null> {
  try {
    return await (await agents.get(machine)!.get(`/${page}`)).text();
  } catch {
    return null;
  }
}
