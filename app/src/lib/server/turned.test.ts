/** A feed that was turned at the machine in run after run is offered on the job's page: after none, two and three runs, and no more once the job has it. */
import { unflatten } from 'devalue';
import pg from 'pg';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { comeIn, type Person } from './testing';

const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database'), max: 1 });
let owner: Person;
let job: string;
const doc = (feed: number) => ({
  kerbe: 4,
  name: 'Turned',
  board: { width: 100, height: 60, thickness: 12 },
  items: { box: { kind: 'rectangle', id: 'box', x: 50, y: 30, width: 40, height: 20 } },
  itemOrder: ['box'],
  tools: { e: { kind: 'end', id: 'e', diameter: 6 } },
  cuts: { p: { kind: 'pocket', id: 'p', on: ['box'], tool: 'e', depth: 3, feed } },
  cutOrder: ['p'],
});

beforeAll(async () => {
  owner = await comeIn(url, 'owner');
  const made = await owner('/api/jobs', { method: 'POST', json: doc(1000) });
  job = ((await made.json()) as { id: string }).id;
  await pool.query(`insert into release (id, job_id, revision, sha256, programs, report, author) values ('turned', $1, 1, 'x', '[]', '{}', 'owner')`, [job]);
});
afterAll(async () => {
  await pool.query(`delete from run where release_id = 'turned'`);
  await pool.query(`delete from release where id = 'turned'`);
  await owner(`/api/jobs/${job}`, { method: 'DELETE' });
  await pool.end();
});

let runs = 0;
/** A run of ten minutes whose feed was turned a little after its start. */
async function ran(feed: number, { state = 'done', from = null as number | null } = {}) {
  const id = `turned-${++runs}`;
  const start = Date.UTC(2026, 0, 1 + runs);
  await pool.query(
    `insert into run (id, release_id, job_id, program, state, message, line, lines, estimate_seconds, actual_seconds, author, crib, notes, started_at, ended_at, machine, setup, bit_seconds, from_line)
     values ($1, 'turned', $2, 'p', $3, '', 1, 1, 10, 10, 'owner', '{}', '', $4, $5, 'Simulated router', '{}', '{}', $6)`,
    [id, job, state, new Date(start), new Date(start + 600_000), from],
  );
  if (feed !== 1)
    await pool.query(`insert into run_event (run_id, at, event, text, facts) values ($1, $2, 'override', '', $3)`, [
      id,
      new Date(start + 20_000),
      JSON.stringify({ kind: 'override', feed, spindle: 1 }),
    ]);
}
async function offered(): Promise<unknown> {
  const { nodes } = (await (await owner(`/job/${job}/__data.json`)).json()) as { nodes: { data: unknown[] }[] };
  return (unflatten(nodes.at(-1)!.data) as { turned: unknown }).turned;
}

it('is offered after three finished runs, whole ones, of the feeds the job has', async () => {
  expect(await offered()).toBe(null);
  await ran(1.2);
  await ran(1.1);
  expect(await offered()).toBe(null);
  // One that was stopped, and one that went on from a line, are no whole runs.
  await ran(0.5, { state: 'stopped' });
  await ran(0.5, { from: 12 });
  await ran(1.15);
  expect(await offered()).toEqual({ feed: 1.15, runs: 3 });
  // Taken, it is offered no more; the runs before were of other feeds.
  const kept = await owner(`/api/jobs/${job}`, { method: 'PUT', json: { from: 1, label: 'Feeds as they were run', doc: doc(1150) } });
  expect(kept.status).toBe(200);
  expect(await offered()).toBe(null);
});
