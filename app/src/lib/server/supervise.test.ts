/** What `npm start` does when one of its processes ends: that one is started again, and all others go on. */
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startStack } from '../../../../scripts/stack.mjs';
import { comeIn, must, setUp, Watcher, type Person } from './testing';

let home: string;
let stack: Awaited<ReturnType<typeof startStack>>;
let owner: Person;
const trouble: string[] = [];
beforeAll(async () => {
  home = mkdtempSync(join(tmpdir(), 'kerbe-super-'));
  chmodSync(home, 0o755);
  stack = await startStack({ home, rate: 12, supervise: true, onTrouble: (text: string) => trouble.push(text) });
  owner = await comeIn(stack.url, 'owner');
});
afterAll(async () => {
  await stack?.stop();
  rmSync(home, { recursive: true, force: true });
});

async function until(what: () => Promise<unknown>, seconds = 120) {
  const end = performance.now() + seconds * 1000;
  for (;;) {
    const found = await what().catch(() => null);
    if (found) return found;
    if (performance.now() > end) throw new Error('waited in vain');
    await new Promise((done) => setTimeout(done, 100));
  }
}
const jobs = () => owner('/api/logbook').then((response) => response.ok);

it('the database and the web server killed in a run: both are back, and the run has gone on', async () => {
  const watcher = new Watcher(owner);
  const pool = new pg.Pool({ connectionString: stack.database.url, max: 1 });
  const [{ id, revision, doc }] = (await pool.query("select id, revision, doc from job where name = 'Heron Walk'")).rows;
  await pool.end();
  const made = await (await owner(`/api/jobs/${id}/release`, { method: 'POST', json: { revision, accepted: [] } })).json();
  const program = 'program-1-v60-12.7+end-6.35.nc';
  const sha256 = (await owner(`/api/releases/${made.id}/${encodeURIComponent(program)}`)).headers.get('x-sha256')!;
  await setUp(owner, watcher, doc, { id: made.id, job: id, program, sha256 });
  await must(owner, { do: 'start', release: made.id, program, here: true });
  const { run } = await watcher.until((now) => now.run?.state === 'running' && now.run.line > 20);
  await watcher.close();
  const agent = () => fetch(`${stack.agentOf()}/state`, { headers: { authorization: `Bearer ${stack.token}` } }).then((response) => response.json());

  stack.database.kill();
  process.kill(stack.web.child.pid!, 'SIGKILL');
  await until(jobs);
  const after = (await agent()) as { run: { id: string; line: number; state: string } };
  expect(after.run.id).toBe(run!.id);
  expect(['running', 'paused']).toContain(after.run.state);
  expect(after.run.line).toBeGreaterThan(run!.line);
  expect(trouble).toEqual([]);
}, 120_000);

it('the agent killed: it is back where it was, with the run it had', async () => {
  const before = stack.agentOf();
  process.kill(stack.processOf('agent of simulated-router')!, 'SIGKILL');
  const state = (await until(() => fetch(`${before}/state`, { headers: { authorization: `Bearer ${stack.token}` } }).then((response) => response.json()))) as {
    run: unknown;
  };
  expect(state.run).not.toBeNull();
  expect(trouble).toEqual([]);
}, 60_000);
