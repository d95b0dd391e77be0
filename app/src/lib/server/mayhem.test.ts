/**
 * Web server, agent, machine and database killed at random while somebody saves without pause and a program
 * runs: no acknowledged save is lost, no line is lost or cut twice, nothing is shown that is not so.
 * Twice each here; 200 times each in the soak.
 */
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { AgentSnapshot } from '@kerbe/core/link';
import type { Job } from '@kerbe/core/job';
import { linesOf } from '@kerbe/core/program';
import { startStack } from '../../../../scripts/stack.mjs';
import { comeIn, must, setUp, tell, Watcher, type Person } from './testing';

const SOAK = Number(process.env.KERBE_SOAK ?? 1);
const KILLS = SOAK === 1 ? 2 : 5 * SOAK;
const VICTIMS = ['web server', 'agent of simulated-router', 'simulated-router', 'database'] as const;
const PROGRAM = 'program-1-v60-12.7+end-6.35.nc';
const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));

let home: string;
let stack: Awaited<ReturnType<typeof startStack>>;
let owner: Person;
let watcher: Watcher;
let pool: pg.Pool;
let doc: Job;
let released: { id: string; job: string; program: string; sha256: string };

beforeAll(async () => {
  home = mkdtempSync(join(tmpdir(), 'kerbe-mayhem-'));
  chmodSync(home, 0o755);
  stack = await startStack({ home, rate: 12, taken: join(home, 'taken') });
  pool = new pg.Pool({ connectionString: stack.database.url, max: 2, connectionTimeoutMillis: 2000 });
  pool.on('error', () => {});
  owner = await comeIn(stack.url, 'owner');
  const { rows } = await pool.query("select id, revision, doc from job where name = 'Heron Walk'");
  doc = rows[0].doc;
  const made = await (await owner(`/api/jobs/${rows[0].id}/release`, { method: 'POST', json: { revision: rows[0].revision, accepted: [] } })).json();
  const sha256 = (await owner(`/api/releases/${made.id}/${encodeURIComponent(PROGRAM)}`)).headers.get('x-sha256')!;
  released = { id: made.id, job: rows[0].id, program: PROGRAM, sha256 };
});
afterAll(async () => {
  await watcher?.close();
  await pool?.end();
  await stack?.stop();
  rmSync(home, { recursive: true, force: true });
});

const agent = async (): Promise<AgentSnapshot | null> =>
  fetch(`${stack.agentOf()}/state`, { headers: { authorization: `Bearer ${stack.token}` } })
    .then((response) => response.json() as Promise<AgentSnapshot>)
    .catch(() => null);
async function until<T>(what: () => Promise<T>, seconds = 150): Promise<NonNullable<T>> {
  let last = '';
  for (const end = performance.now() + seconds * 1000; performance.now() < end; await wait(40)) {
    const found = await what().catch((error: Error) => {
      last = error.message;
      return null;
    });
    if (found) return found as NonNullable<T>;
  }
  throw new Error(`waited in vain: ${last} ${JSON.stringify((await agent())?.run)}`);
}

/** Saves without pause, each with a number of its own; what was acknowledged is written down. */
class Ledger {
  readonly acknowledged: { revision: number; n: number }[] = [];
  failed = 0;
  private going = true;
  private readonly done: Promise<void>;

  constructor(
    private readonly id: string,
    private readonly job: Job,
    private revision: number,
  ) {
    this.done = this.save();
  }

  private async save(): Promise<void> {
    for (let n = 1; this.going; n++) {
      for (;;) {
        const body = { from: this.revision, label: 'Ledger', tab: 'ledger.secret', doc: { ...this.job, notes: `save ${n}` } };
        const answer = await owner(`/api/jobs/${this.id}`, { method: 'PUT', json: body })
          .then(async (response) => (response.ok ? ((await response.json()) as { revision: number }) : response.status))
          .catch(() => 0);
        if (typeof answer === 'object') {
          this.revision = answer.revision;
          this.acknowledged.push({ revision: answer.revision, n });
          break;
        }
        this.failed++;
        // Nobody else saves: a clash would be a lie.
        expect(answer).not.toBe(409);
        expect(answer).not.toBe(422);
        await wait(50);
      }
      await wait(20);
    }
  }

  async end(): Promise<void> {
    this.going = false;
    await this.done;
  }
}

/** Every run there was, with the lines it was made of. */
const runs = new Map<string, string[]>();
async function startRun(): Promise<void> {
  await until(async () => watcher.now.agent && watcher.now.link);
  await tell(owner, { do: 'take' });
  await tell(owner, { do: 'stop' });
  await until(async () => {
    await setUp(owner, watcher, doc, released);
    return true;
  });
  await until(async () => (await tell(owner, { do: 'start', release: released.id, program: PROGRAM, here: true })) === null);
  const run = (await until(async () => ((await agent())?.run?.endedAt === null ? (await agent())!.run : null)))!;
  const order = JSON.parse(readFileSync(join(home, 'machines', 'simulated-router', `order-${run.id}.json`), 'utf8')) as { program: string };
  runs.set(run.id, linesOf(order.program));
}
/** A run that goes: begun anew when there is none, gone on with when it waits. */
async function keepRunning(): Promise<void> {
  const now = await agent();
  const run = now?.run;
  if (!run || run.endedAt !== null) return startRun();
  if (run.state === 'paused') {
    await must(owner, { do: 'stop' });
    return startRun();
  }
  if (run.state === 'link-lost' || run.state === 'held')
    await until(
      async () => (await tell(owner, { do: 'resume' })) === null || (await agent())?.run?.endedAt !== null || (await agent())?.run?.state === 'running',
    );
}

/** What the screens show is what the agent says, or is plainly old. */
async function shownIsSo(): Promise<void> {
  await until(async () => {
    const [shown, said] = [watcher.now, await agent()];
    if (said === null) return shown.agent === false;
    return shown.agent && shown.link === said.link && shown.run?.id === said.run?.id && shown.run?.state === said.run?.state;
  });
}

it(
  `${KILLS} kills of each, under saves and a run`,
  async () => {
    watcher = new Watcher(owner);
    const { rows } = await pool.query("select id, revision, doc from job where name = 'Reed Gate'");
    const ledger = new Ledger(rows[0].id, rows[0].doc, rows[0].revision);
    const order = VICTIMS.flatMap((name) => Array.from({ length: KILLS }, () => ({ name, at: Math.random() }))).sort((a, b) => a.at - b.at);
    await startRun();
    for (const { name } of order) {
      await wait(Math.random() * 1500);
      if (name === 'database') {
        stack.database.kill();
        await wait(Math.random() * 500);
        await until(async () => stack.database.start().ok);
      } else {
        await stack.kill(name);
        await wait(Math.random() * 500);
        // A machine that is away is never shown as if it answered.
        if (name === 'agent of simulated-router') await until(async () => !watcher.now.agent && watcher.now.status === null);
        await stack.again(name);
        if (name === 'web server') {
          await watcher.close();
          await until(async () => (await owner('/api/bits')).ok);
          watcher = new Watcher(owner);
        }
      }
      await until(async () => (await pool.query('select 1')).rows.length === 1);
      await until(async () => (await agent())?.link === true);
      await shownIsSo();
      await keepRunning();
    }
    await ledger.end();
    await tell(owner, { do: 'stop' });
    await until(async () => (await agent())?.run?.endedAt !== null);

    // Every acknowledged save is there, under the number it was told.
    const kept = new Map(
      (
        await pool.query<{ revision: number; notes: string }>("select revision, doc->>'notes' as notes from job_revision where job_id = $1", [rows[0].id])
      ).rows.map(({ revision, notes }) => [revision, notes]),
    );
    expect(ledger.acknowledged.length).toBeGreaterThan(10);
    expect(ledger.acknowledged.filter(({ revision, n }) => kept.get(revision) !== `save ${n}`)).toEqual([]);
    // Every line the machine took, run by run: from the first on, none left out, none twice.
    const taken = readFileSync(join(home, 'taken', 'simulated-router'), 'utf8').split('\n');
    expect(runs.size).toBeGreaterThan(0);
    for (const [id, lines] of runs) {
      const of = taken.filter((line) => line.startsWith(`${id}:`)).map((line) => line.slice(line.indexOf('\t') + 1));
      expect(of.length).toBeGreaterThan(0);
      expect(of).toEqual(lines.slice(0, of.length));
    }
    // Every run stands in the record with an end.
    const recorded = await until(async () => {
      const { rows: all } = await pool.query<{ id: string; state: string; ended_at: Date | null }>('select id, state, ended_at from run');
      return all.every(({ ended_at }) => ended_at !== null) ? all : null;
    });
    expect(recorded.map(({ id }) => id).sort()).toEqual([...runs.keys()].sort());
    console.log(
      `${4 * KILLS} kills: ${ledger.acknowledged.length} saves acknowledged and kept, ${ledger.failed} not acknowledged and said again; ${runs.size} runs, their lines whole`,
    );
  },
  120_000 + KILLS * 4 * 30_000,
);
