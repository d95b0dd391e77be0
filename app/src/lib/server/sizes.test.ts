/**
 * A shop of some years: 2,000 jobs, 50,000 runs, 500 versions of one job. No page reads a table of them through from end to end - told by
 * PostgreSQL itself, of every query the server makes -, none brings whole documents, and old versions are thinned out.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { comeIn, type Person } from './testing';

const url = inject('url');
const home = inject('home');
const pool = new pg.Pool({ connectionString: inject('database'), max: 1 });
const log = join(home, 'postgres/log');
let admin: pg.Client;
let owner: Person;
/** The job of 500 versions. */
let old: string;

const MARK = 'Reed bed';
const DOC = {
  kerbe: 4,
  name: MARK,
  notes: 'by the sluice',
  board: { width: 200, height: 90, thickness: 12, material: 'larch' },
  items: { words: { kind: 'text', id: 'words', x: 100, y: 45, text: 'SALTMARSH', face: 'bebas', capHeight: 20 } },
  itemOrder: ['words'],
  tools: {},
  cuts: {},
  cutOrder: [],
};
/** Tables that grow with the years. */
const GROWING = new Set(['job', 'job_revision', 'release', 'run', 'run_event', 'audit']);

beforeAll(async () => {
  owner = await comeIn(url, 'owner');
  const made = await owner('/api/jobs', { method: 'POST', json: DOC });
  old = ((await made.json()) as { id: string }).id;
  await pool.query(`insert into job (id, name, state, revision, doc, updated_at)
    select 'size-' || n, 'Reed bed ' || n, 'drawing', 1, (select doc from job where id = '${old}'), now() - n * interval '1 hour' from generate_series(1, 2000) n`);
  await pool.query(`insert into release (id, job_id, revision, sha256, programs, report, author)
    select 'size-' || n, 'size-' || n, 1, md5(n::text), '[]', jsonb_build_object('deepest', 3, 'header', (select string_agg(md5(k::text), ' ') from generate_series(n, n + 40) k)), 'owner' from generate_series(1, 2000) n`);
  await pool.query(`insert into run (id, release_id, job_id, program, state, estimate_seconds, actual_seconds, author, started_at, ended_at, machine, machine_id, crib, bit_seconds)
    select 'size-' || n, 'size-' || 1 + n % 2000, 'size-' || 1 + n % 2000, 'p.nc', (array['done', 'done', 'stopped'])[1 + n % 3], 600, 500 + n % 300, 'owner',
      now() - n * interval '20 minutes', now() - n * interval '20 minutes', 'Simulated router', 'simulated-router', '{"v": "v60"}', '{"v": 400}'
    from generate_series(1, 50000) n`);
  await pool.query(`insert into job_revision (job_id, revision, doc, label, author, created_at)
    select '${old}', n, (select doc from job where id = '${old}'), 'Edit ' || n, 'owner', date_trunc('day', now()) - (501 - n) * interval '1 hour' from generate_series(2, 500) n`);
  await pool.query(`update job set revision = 500, updated_at = now() - interval '1 day' where id = '${old}'`);
  // As it does by itself after a while.
  await pool.query('vacuum analyze job, job_revision, release, run, run_bit');
  admin = new pg.Client({
    host: '127.0.0.1',
    port: Number(new URL(inject('database')).port),
    user: 'kerbe_admin',
    password: readFileSync(join(home, 'database-password'), 'utf8'),
    database: 'kerbe',
  });
  await admin.connect();
  for (const setting of [
    "session_preload_libraries = 'auto_explain'",
    'auto_explain.log_min_duration = 0',
    'auto_explain.log_analyze = on',
    'auto_explain.log_timing = off',
    "auto_explain.log_format = 'json'",
  ])
    await admin.query(`alter database kerbe set ${setting}`);
  // Who is connected already does not say anything yet.
  await afresh();
});
const afresh = () => admin.query(`select pg_terminate_backend(pid) from pg_stat_activity where datname = 'kerbe' and usename = 'kerbe'`);

afterAll(async () => {
  await admin.query('alter database kerbe reset all');
  await afresh();
  await admin.end();
  const clean = new pg.Client({ connectionString: inject('database') });
  await clean.connect();
  for (const table of ['run', 'release', 'job']) await clean.query(`delete from ${table} where id like 'size-%'`);
  await clean.query('delete from job where id = $1', [old]);
  await clean.end();
  await pool.end().catch(() => {});
});
pool.on('error', () => {});

interface PlanNode {
  'Node Type': string;
  'Relation Name'?: string;
  'Actual Rows': number;
  'Actual Loops': number;
  'Rows Removed by Filter'?: number;
  Plans?: PlanNode[];
}
const within = (node: PlanNode): PlanNode[] => [node, ...(node.Plans ?? []).flatMap(within)];

/** Tables that were read through while something was done, with how many of their rows, and by which query. */
async function readThrough(work: () => Promise<unknown>): Promise<string[]> {
  const from = readFileSync(log).length;
  await work();
  const said = readFileSync(log).subarray(from).toString();
  const plans = [...said.matchAll(/plan:\n(\s*\{[\s\S]*?\n\s*\})(?=\n\S|\s*$)/g)].map(
    ([, json]) => JSON.parse(json) as { 'Query Text': string; Plan: PlanNode },
  );
  expect(plans.length).toBeGreaterThan(0);
  return plans.flatMap(({ Plan, 'Query Text': query }) =>
    within(Plan)
      .filter((node) => node['Node Type'] === 'Seq Scan' && GROWING.has(node['Relation Name'] ?? ''))
      .map((node) => ({ table: node['Relation Name'], rows: (node['Actual Rows'] + (node['Rows Removed by Filter'] ?? 0)) * node['Actual Loops'] }))
      .filter(({ rows }) => rows > 1000)
      .map(({ table, rows }) => `${table}: ${rows} rows read through by ${query.replace(/\s+/g, ' ').slice(0, 160)}`),
  );
}
const page = async (path: string): Promise<string> => {
  const response = await owner(path);
  expect(response.status).toBe(200);
  return response.text();
};

describe('a shop of some years', () => {
  it('is heard: a query that reads a table through is told', async () => {
    const found = await readThrough(async () => {
      const one = new pg.Client({ connectionString: inject('database') });
      await one.connect();
      await one.query(`select count(*) from run where notes = 'nothing of that'`);
      await one.end();
    });
    expect(found).toEqual([expect.stringMatching(/^run: 50\d{3} rows read through by select count/)]);
  });
  it.each([
    ['the wall', '/__data.json'],
    ['the wall by name', '/__data.json?sort=name'],
    ['a part of a word on the wall', '/__data.json?find=altmars'],
    ['the wall after a job', '/__data.json?after=size-700'],
    ['jobs put away', '/__data.json?away'],
    ['the logbook', '/logbook/__data.json'],
    ['the logbook of a machine', '/logbook/__data.json?machine=simulated-router&state=stopped'],
    ['a word in the logbook', '/logbook/__data.json?find=heron'],
    ['the day', '/day/__data.json'],
    ['bits', '/bits/__data.json'],
    ['machines', '/machines/__data.json'],
    ['materials', '/materials/__data.json'],
    ['the bench', '/bench/__data.json'],
    ['a job that was cut often', '/job/size-7/__data.json'],
    ['the document of a job', '/api/jobs/size-7'],
  ])('%s reads no table through, and brings no whole documents', async (_what, path) => {
    let text = '';
    expect(await readThrough(async () => (text = await page(path)))).toEqual([]);
    if (!path.startsWith('/api/jobs')) expect(text).not.toContain('itemOrder');
    expect(text.length).toBeLessThan(300_000);
  });
  it('a job of 500 versions opens, and lists them page by page', async () => {
    expect(
      await readThrough(async () => {
        await page(`/job/${old}/__data.json`);
        const text = await page(`/api/jobs/${old}/versions`);
        expect(text).not.toContain('itemOrder');
      }),
    ).toEqual([]);
  });
  it('what a sign says is found by any part of it, and by its material and its notes', async () => {
    for (const part of ['altmars', 'LARCH', 'the sluice', 'eed bed 17']) expect(await page(`/__data.json?find=${encodeURIComponent(part)}`)).toContain(MARK);
    for (const none of ['altmarz', '100%', 'words']) expect(await page(`/__data.json?find=${encodeURIComponent(none)}`)).not.toContain(MARK);
  });
  it('hours of bits and machines are those of all runs, and follow a run that goes on', async () => {
    const client = new pg.Client({ connectionString: inject('database') });
    await client.connect();
    const sum = async () => (await client.query<{ sum: number }>(`select sum(seconds)::float from run_bit where run_id like 'size-%'`)).rows[0].sum;
    expect(await sum()).toBe(50_000 * 400);
    await client.query(`update run set bit_seconds = '{"v": 1400, "other": 3}' where id = 'size-5'`);
    expect(await sum()).toBe(50_000 * 400 + 1000);
    await client.query(`update run set bit_seconds = '{"v": 400}' where id = 'size-5'`);
    await client.end();
  });
});

describe('versions of a job', () => {
  it('are thinned by the first save of a day: one of each day before, the named, the released, the first; nothing of today', async () => {
    const client = new pg.Client({ connectionString: inject('database') });
    await client.connect();
    const versions = async () =>
      (
        await client.query<{ revision: number; picture: string | null }>('select revision, picture from job_revision where job_id = $1 order by revision', [
          old,
        ])
      ).rows;
    await client.query(`update job_revision set named = 'as the customer saw it' where job_id = $1 and revision = 100`, [old]);
    await client.query(`update job_revision set picture = 'data:,seen' where job_id = $1 and revision = 200`, [old]);
    await client.query(`insert into release (id, job_id, revision, sha256, programs, report, author) values ('size-old', $1, 300, 'x', '[]', '{}', 'owner')`, [
      old,
    ]);
    expect(await versions()).toHaveLength(500);
    const save = async (from: number, tab: string) => {
      const answer = await owner(`/api/jobs/${old}`, { method: 'PUT', json: { from, label: 'Edit', tab, doc: { ...DOC, notes: `${from}` } } });
      expect(answer.status).toBe(200);
    };
    await save(500, 'a');
    const left = await versions();
    const kept = left.map(({ revision }) => revision);
    // 499 hours back from midnight are 21 days; by whole days of the database's own clock.
    const { rows: lasts } = await client.query<{ max: number }>(`select max(500 - k) from generate_series(0, 498) k group by (date_trunc('day', now()) - (k + 1) * interval '1 hour')::date`); // prettier-ignore
    expect(kept).toEqual([...new Set([1, 100, 300, 500, 501, ...lasts.map(({ max }) => max)])].sort((a, b) => a - b));
    // The one that showed how it looked is gone; the next that stays shows it.
    expect(left.find(({ revision }) => revision > 200)?.picture).toBe('data:,seen');
    // The second save of the day takes nothing away, and somebody who has an old version open is told of the clash as ever.
    await save(501, 'a');
    expect((await versions()).map(({ revision }) => revision)).toEqual([...kept, 502]);
    const late = await owner(`/api/jobs/${old}`, { method: 'PUT', json: { from: 450, label: 'Late', tab: 'b', doc: DOC } });
    expect(late.status).toBe(409);
    await client.end();
  });
});
