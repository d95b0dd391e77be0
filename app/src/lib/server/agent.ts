/** The one connection of the web server to the machine agent: commands, the stream of states, and the run record kept from it. */
import { NO_MACHINE, type MachineSnapshot } from '$lib/machine';
import { env } from '$env/dynamic/private';
import { db } from './db';

type Listener = (snapshot: MachineSnapshot) => void;
const listeners = new Set<Listener>();
let latest: MachineSnapshot = NO_MACHINE;
let started = false;

const headers = () => ({ authorization: `Bearer ${env.KERBE_AGENT_TOKEN}`, 'content-type': 'application/json' });

export const latestSnapshot = (): MachineSnapshot => latest;

/** The state as it is at this moment: what a start is judged by. */
export async function presentSnapshot(): Promise<MachineSnapshot> {
  try {
    const response = await fetch(`${env.KERBE_AGENT_URL}/state`, { headers: headers() });
    return { agent: true, ...((await response.json()) as Omit<MachineSnapshot, 'agent'>) };
  } catch {
    return { ...latest, agent: false, link: false, status: null };
  }
}

export function listen(listener: Listener): () => void {
  listeners.add(listener);
  listener(latest);
  return () => listeners.delete(listener);
}

/** The tab a request comes from: a secret of that tab but for what stands before its dot. */
export const tabOf = (request: Request): string => (request.headers.get('x-kerbe-tab') ?? '').slice(0, 80);

/** Who gives a command, and from which screen. */
export interface Person {
  id: string;
  by: string;
  tab: string;
}

/** The agent's answer never came: whether it did what it was told is not known. */
export const NO_AGENT = 'The machine agent does not answer. It runs beside Kerbe and is started with it: start Kerbe again if this stays.';

/** Sends a command. The answer is null when it was carried out, else why not. */
export async function agentCommand(command: unknown, { id, by, tab }: Person, key?: string): Promise<string | null> {
  try {
    const response = await fetch(`${env.KERBE_AGENT_URL}/command`, {
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

export async function carvedMap(): Promise<string> {
  const response = await fetch(`${env.KERBE_AGENT_URL}/map`, { headers: headers() });
  return response.text();
}

/** What was said on the wire lately, for the test page of a link. */
export async function agentTalk(): Promise<unknown> {
  const response = await fetch(`${env.KERBE_AGENT_URL}/talk`, { headers: headers() });
  return response.json();
}

/** Follows the agent for as long as the server lives. */
export function follow(): void {
  if (started) return;
  started = true;
  // What the database did not take is offered again, also when nothing moves any more.
  setInterval(() => void recordRuns(), 1000).unref();
  void (async () => {
    for (;;) {
      try {
        const response = await fetch(`${env.KERBE_AGENT_URL}/events`, { headers: headers() });
        let rest = '';
        const decoder = new TextDecoder();
        for await (const chunk of response.body!) {
          const lines = (rest + decoder.decode(chunk as Uint8Array, { stream: true })).split('\n');
          rest = lines.pop()!;
          for (const line of lines) if (line) publish({ agent: true, ...(JSON.parse(line) as Omit<MachineSnapshot, 'agent'>) });
        }
      } catch {
        // Said to everyone by the snapshot below; tried again in a moment.
      }
      publish({ ...latest, agent: false, link: false, status: null });
      await new Promise((done) => setTimeout(done, 500));
    }
  })();
}

function publish(snapshot: MachineSnapshot): void {
  latest = snapshot;
  for (const listener of listeners) listener(snapshot);
  if (snapshot.run) {
    unrecorded.set(snapshot.run.id, snapshot.run);
    void recordRuns();
  }
}

/** The newest state of every run that the database may not have yet. */
const unrecorded = new Map<string, NonNullable<MachineSnapshot['run']>>();
let writing = false;

/** One at a time, so that an older state never overwrites a newer one; what fails is tried again with the next snapshot. */
async function recordRuns(): Promise<void> {
  if (writing) return;
  writing = true;
  for (const [id, run] of [...unrecorded]) {
    try {
      await record(run);
      if (unrecorded.get(id) === run) unrecorded.delete(id);
    } catch (error) {
      console.error(`run record: ${(error as Error).message}`);
    }
  }
  writing = false;
}

let recorded = '';
let recordedAt = 0;

/** Keeps the row of a run up to date: at every change of state, and once a second in between. */
async function record(run: NonNullable<MachineSnapshot['run']>): Promise<void> {
  const mark = `${run.id} ${run.state} ${run.endedAt}`;
  const now = Date.now();
  if (mark === recorded && (run.endedAt !== null || now - recordedAt < 1000)) return;
  const before = recorded;
  const changed = mark !== recorded;
  recorded = mark;
  recordedAt = now;
  try {
    // Events first: a run that is told as ended has all of them.
    if (changed) await takeJournal(run.id);
    await db()
      .updateTable('run')
      .set({
        state: run.state,
        message: run.message,
        line: run.line,
        lines: run.lines,
        actual_seconds: run.seconds,
        bit_seconds: JSON.stringify(run.bitSeconds),
        ended_at: run.endedAt ? new Date(run.endedAt) : null,
      })
      .where('id', '=', run.id)
      .execute();
    if (changed && run.endedAt) {
      const row = await db().selectFrom('run').select('job_id').where('id', '=', run.id).executeTakeFirst();
      if (row)
        await db()
          .updateTable('job')
          .set({ state: run.state === 'done' ? 'done' : 'ready' })
          .where('id', '=', row.job_id)
          .execute();
    }
  } catch (error) {
    recorded = before;
    throw error;
  }
}

/** Copies what the agent's journal has and the database has not: nothing is lost while either was away. */
async function takeJournal(run: string): Promise<void> {
  const response = await fetch(`${env.KERBE_AGENT_URL}/journal/${run}`, { headers: headers() });
  const entries = (await response.json()) as { at: string; event: string; line?: number; text?: string }[];
  const kept = entries.filter(({ event }) => event !== 'progress');
  // One at a time: two that counted together would both write the same, and later ones then skip as many.
  await db()
    .transaction()
    .execute(async (trx) => {
      await trx.selectFrom('run').select('id').where('id', '=', run).forUpdate().executeTakeFirst();
      const { count } = await trx
        .selectFrom('run_event')
        .select((eb) => eb.fn.countAll<string>().as('count'))
        .where('run_id', '=', run)
        .executeTakeFirstOrThrow();
      const fresh = kept.slice(Number(count));
      if (fresh.length === 0) return;
      await trx
        .insertInto('run_event')
        .values(fresh.map(({ at, event, line, text }) => ({ run_id: run, at: new Date(at), event, line: line ?? null, text: text ?? null })))
        .execute();
    });
}
