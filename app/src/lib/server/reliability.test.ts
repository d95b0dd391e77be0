/**
 * The whole of Kerbe with parts of it taken away in a run: the web server and the database killed,
 * the machine held and stopped while they are gone. KERBE_SOAK multiplies how often.
 */
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AgentSnapshot } from '@kerbe/core/link';
import type { Job } from '@kerbe/core/job';
import { startStack } from '../../../../scripts/stack.mjs';
import { comeIn, must, setUp, tell, Watcher, type Person } from './testing';

const SOAK = Number(process.env.KERBE_SOAK ?? 1);
const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));
type Stack = Awaited<ReturnType<typeof startStack>>;

let home: string;
let stack: Stack;
let owner: Person;
let watcher: Watcher;
let doc: Job;
let released: { id: string; job: string; program: string; sha256: string };
let pool: pg.Pool;

/** What the agent itself says, without the web server. */
const agent = async () => (await (await fetch(`${stack.agentOf()}/state`, { headers: { authorization: `Bearer ${stack.token}` } })).json()) as AgentSnapshot;
async function until(what: (now: AgentSnapshot) => unknown, seconds = 150): Promise<AgentSnapshot> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const now = await agent();
    if (what(now)) return now;
    if (Date.now() > end) throw new Error(`waited in vain: ${JSON.stringify(now.run)}`);
    await wait(25);
  }
}
const query = async (text: string) => (await pool.query(text)).rows;

beforeAll(async () => {
  home = mkdtempSync(join(tmpdir(), 'kerbe-rely-'));
  chmodSync(home, 0o755);
  stack = await startStack({ home, rate: 12 });
  pool = new pg.Pool({ connectionString: stack.database.url, max: 2 });
  pool.on('error', () => {});
  owner = await comeIn(stack.url, 'owner');
  watcher = new Watcher(owner);
  const [row] = await query("select id, revision, doc from job where name = 'Heron Walk'");
  doc = row.doc;
  const made = await (await owner(`/api/jobs/${row.id}/release`, { method: 'POST', json: { revision: row.revision, accepted: [] } })).json();
  const program = 'program-1-v60-12.7+end-6.35.nc';
  const sha256 = (await owner(`/api/releases/${made.id}/${encodeURIComponent(program)}`)).headers.get('x-sha256')!;
  released = { id: made.id, job: row.id, program, sha256 };
});
afterAll(async () => {
  await watcher?.close();
  await pool?.end();
  await stack?.stop();
  rmSync(home, { recursive: true, force: true });
});

async function start(): Promise<string> {
  await setUp(owner, watcher, doc, released);
  await must(owner, { do: 'start', release: released.id, program: released.program, here: true });
  const { run } = await until((now) => now.run?.state === 'running' && now.run.line > 30);
  return run!.id;
}
/** A moment of the run that nobody chose. */
const anyMoment = () => wait(Math.random() * 2000);
/** Ends a run and waits until the record has it. */
async function ended(id: string): Promise<void> {
  await must(owner, { do: 'stop' });
  for (let i = 0; i < 200; i++) {
    const [row] = await query(`select state from run where id = '${id}'`);
    if (row?.state === 'stopped') return;
    await wait(50);
  }
  throw new Error('The record never had the end of the run.');
}
const eventsOf = async (id: string) => (await query(`select event from run_event where run_id = '${id}' order by id`)).map(({ event }) => event);

describe('in the middle of a run', () => {
  it(
    'kill -9 of the web server does not disturb it; the record is complete afterwards, every event once',
    async () => {
      for (let k = 0; k < SOAK; k++) {
        const id = await start();
        await anyMoment();
        // At a pace at which a busy computer keeps the machine fed: it must not run dry for want of the web server.
        await must(owner, { do: 'bench', change: { rate: 2 } });
        const before = await agent();
        await stack.kill('web server');
        const later = await until((now) => now.run!.line > before.run!.line + 150);
        expect(later.run!.state).toBe('running');
        expect(later.status!.dry).toBe(before.status!.dry);
        await stack.again('web server');
        await watcher.close();
        watcher = new Watcher(owner);
        await watcher.until((now) => now.run?.id === id);
        await must(owner, { do: 'bench', change: { rate: 12 } });
        await ended(id);
        expect(await eventsOf(id)).toEqual(['start', 'stopping', 'stopped']);
      }
    },
    120_000 * SOAK,
  );

  it(
    'kill -9 of PostgreSQL: the machine is held, goes on and is stopped all the same; nothing of the record is lost',
    async () => {
      for (let k = 0; k < SOAK; k++) {
        const id = await start();
        await anyMoment();
        stack.database.kill();
        await wait(300);
        expect(await tell(owner, { do: 'hold' })).toBeNull();
        await until((now) => now.run!.state === 'held' && now.status!.speed === 0);
        // Strangers are strangers still.
        const stranger = await fetch(`${stack.url}/api/machines/simulated-router/command`, {
          method: 'POST',
          headers: { origin: stack.url, 'content-type': 'application/json', 'idempotency-key': 'x' },
          body: JSON.stringify({ do: 'stop' }),
        });
        expect(stranger.status).toBe(401);
        expect((await agent()).run!.state).toBe('held');
        expect(await tell(owner, { do: 'resume' })).toBeNull();
        await until((now) => now.run!.state === 'running');
        // What the killed one left behind must be gone first: that takes it a moment.
        for (let i = 0; i < 40 && !stack.database.start().ok; i++) await wait(250);
        for (let i = 0; i < 100 && (await query('select 1').catch(() => [])).length === 0; i++) await wait(100);
        await ended(id);
        for (let i = 0; i < 60 && (await eventsOf(id)).length < 4; i++) await wait(100);
        expect(await eventsOf(id)).toEqual(['start', 'held', 'running', 'stopping', 'stopped']);
      }
    },
    120_000 * SOAK,
  );

  it('the agent killed under the web server: its run is told to every screen as it stands, and goes on by a press', async () => {
    const id = await start();
    await anyMoment();
    await stack.kill('agent of simulated-router');
    await watcher.until((now) => !now.agent);
    expect(await tell(owner, { do: 'hold' })).toMatch(/agent does not answer/);
    await stack.again('agent of simulated-router');
    await watcher.until((now) => now.agent && now.link && /link is back/.test(now.run?.message ?? ''));
    await must(owner, { do: 'resume' });
    await until((now) => now.run!.state === 'running');
    await ended(id);
    expect(await eventsOf(id)).toEqual(['start', 'link-lost', 'link-lost', 'running', 'stopping', 'stopped']);
  }, 120_000);
});
