/** The log of the shop over HTTP: found by words, days and machines, sorted and paged, as files, and what it adds up to. */
import { unflatten } from 'devalue';
import Papa from 'papaparse';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { patternsOf } from '@kerbe/core/record';
import type { LogSums } from './logbook';
import { comeIn, type Person } from './testing';

const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database'), max: 1 });
let owner: Person;
const jobs: string[] = [];

const SPAN = 1_000_000;
const STATES = ['done', 'done', 'done', 'stopped', 'failed'];
const PLACES = ['Shed router', 'Loft router'];
/** Runs as they are put in: 10,000 over three years, each of its own moment. */
const RUNS = Array.from({ length: 10_000 }, (_, k) => ({
  id: `log-${k}`,
  job: k % 3,
  state: STATES[k % 5],
  machine: PLACES[k % 2],
  planned: 100 + (k % 700),
  took: 120 + ((k * 7) % 900),
  author: k % 11 === 0 ? 'Wren' : 'Teal',
  notes: k % 1000 === 17 ? `Kingfisher no. ${k}` : '',
  started: new Date(Date.UTC(2021, 0, 1) + k * SPAN * 9),
}));
const NAMES = ['Alder plate', 'Beech plate', 'Ash round'];
const WOODS = ['oak', 'beech', 'ash'];

beforeAll(async () => {
  owner = await comeIn(url, 'owner');
  for (const [k, name] of NAMES.entries()) {
    const made = await owner('/api/jobs', {
      method: 'POST',
      json: {
        kerbe: 4,
        name,
        board: { width: 100, height: 60, thickness: 12, material: WOODS[k] },
        items: {},
        itemOrder: [],
        tools: {},
        cuts: {},
        cutOrder: [],
      },
    });
    jobs.push(((await made.json()) as { id: string }).id);
    await pool.query(`insert into release (id, job_id, revision, sha256, programs, report, author) values ($1, $2, 1, 'x', '[]', '{}', 'owner')`, [
      `log-${k}`,
      jobs[k],
    ]);
  }
  await pool.query(
    `insert into run (id, release_id, job_id, program, state, message, line, lines, estimate_seconds, actual_seconds, author, crib, notes, started_at, machine, setup, bit_seconds)
     select r->>'id', 'log-' || (r->>'job'), ($2::text[])[(r->>'job')::int + 1], 'plate.nc', r->>'state', '', 1, 1, (r->>'planned')::float, (r->>'took')::float,
       r->>'author', '{}', r->>'notes', (r->>'started')::timestamptz, r->>'machine', '{}', '{"a": 10}' from jsonb_array_elements($1) r`,
    [JSON.stringify(RUNS), jobs],
  );
});
afterAll(async () => {
  await pool.query(`delete from run where id like 'log-%'`);
  await pool.query(`delete from release where id like 'log-%'`);
  for (const job of jobs) await owner(`/api/jobs/${job}`, { method: 'DELETE' });
  await pool.end();
});

interface LogPage {
  rows: { id: string }[];
  count: number;
  sums: LogSums | null;
}
/** What the page of the log is given. */
async function load(query: Record<string, string>): Promise<LogPage> {
  const { nodes } = (await (await owner(`/logbook/__data.json?${new URLSearchParams(query)}`)).json()) as { nodes: ({ data: number[] } | null)[] };
  return unflatten(nodes.at(-1)!.data) as LogPage;
}
/** The ids of the runs on a page of the log, in its order, and how many there are in all. */
async function page(query: Record<string, string>): Promise<{ ids: string[]; count: number }> {
  const { rows, count } = await load(query);
  return { ids: rows.map(({ id }) => id), count };
}
const sums = async () => (await load({ ...MINE, view: 'sums' })).sums!;
const json = async (query: Record<string, string>) =>
  (await (await owner(`/api/logbook?${new URLSearchParams({ ...query, as: 'json' })}`)).json()) as { job: string; started: string; machine: string }[];
const newest = (runs: typeof RUNS) => [...runs].sort((a, b) => +b.started - +a.started).map(({ id }) => id);
const MINE = { from: '2020-12-31', to: '2023-12-31' };

describe('ten thousand runs', () => {
  it('the newest hundred first, then the next, to the last', async () => {
    const all = newest(RUNS);
    const first = await page(MINE);
    expect(first.count).toBe(RUNS.length);
    expect(first.ids).toEqual(all.slice(0, 100));
    expect((await page({ ...MINE, page: '57' })).ids).toEqual(all.slice(5600, 5700));
    expect((await page({ ...MINE, page: '100' })).ids).toEqual(all.slice(9900));
    expect((await page({ ...MINE, page: '101' })).ids).toEqual([]);
    expect((await page({ ...MINE, page: 'x', by: 'nothing', down: 'perhaps' })).ids).toEqual(all.slice(0, 100));
  });
  it('sorted by what they took, by job, by result: up and down', async () => {
    const by = (of: (run: (typeof RUNS)[number]) => number | string, sign: number) =>
      [...RUNS].sort((a, b) => sign * (of(a) < of(b) ? -1 : of(a) > of(b) ? 1 : 0) || +b.started - +a.started).map(({ id }) => id);
    expect((await page({ ...MINE, by: 'took', down: 'true' })).ids).toEqual(by(({ took }) => took, -1).slice(0, 100));
    expect((await page({ ...MINE, by: 'took', down: 'false', page: '3' })).ids).toEqual(by(({ took }) => took, 1).slice(200, 300));
    expect((await page({ ...MINE, by: 'result', down: 'false' })).ids).toEqual(by(({ state }) => state, 1).slice(0, 100));
    expect((await page({ ...MINE, by: 'job', down: 'false' })).ids).toEqual(by(({ job }) => [...NAMES].sort().indexOf(NAMES[job]), 1).slice(0, 100));
  });
  it('by words: how they begin, of the run and of its job together, whatever is between them', async () => {
    expect((await page({ find: 'kingfish' })).ids).toEqual(newest(RUNS.filter(({ notes }) => notes)));
    expect((await page({ find: 'beech, KINGFISHER' })).ids).toEqual(newest(RUNS.filter(({ notes, job }) => notes && job === 1)));
    expect((await page({ find: 'fisher' })).ids).toEqual([]);
    expect((await page({ find: "'); drop :* | & !" })).ids).toEqual([]);
    expect((await page({ ...MINE, find: '?!' })).count).toBe(RUNS.length);
  });
  it('by what the job is called now', async () => {
    const doc = ((await (await owner(`/api/jobs/${jobs[2]}`)).json()) as { doc: object; revision: number }).doc;
    await pool.query(`update job set name = 'Cormorant round', doc = $2 where id = $1`, [jobs[2], JSON.stringify({ ...doc, name: 'Cormorant round' })]);
    expect((await page({ find: 'cormorant' })).count).toBe(RUNS.filter(({ job }) => job === 2).length);
  });
  it('by day, machine and result at once; the last day is in it', async () => {
    const day = '2021-06-15';
    const of = RUNS.filter(({ started, machine, state }) => started.toISOString().slice(0, 10) === day && machine === PLACES[1] && state === 'done');
    expect(of.length).toBeGreaterThan(1);
    const zone = (await pool.query('show timezone')).rows[0].TimeZone as string;
    // The day is the shop's own: the test knows only the one of a clock at UTC.
    if (['UTC', 'Etc/UTC', 'GMT'].includes(zone)) expect((await page({ from: day, to: day, machine: PLACES[1], state: 'done' })).ids).toEqual(newest(of));
    expect((await page({ from: '2021-13-45', to: 'x', find: 'kingfisher' })).count).toBe(10);
  });
  it('as files: every run once, the same in both', async () => {
    const [lines, list] = [
      Papa.parse<Record<string, string>>(await (await owner(`/api/logbook?${new URLSearchParams(MINE)}`)).text(), { header: true, skipEmptyLines: true }).data,
      await json(MINE),
    ];
    expect(list).toHaveLength(RUNS.length);
    expect(new Set(list.map(({ started }) => started)).size).toBe(RUNS.length);
    expect(lines.map(({ started, machine, job }) => [started, machine, job])).toEqual(list.map(({ started, machine, job }) => [started, machine, job]));
    expect(await json({ find: 'nothing-at-all' })).toEqual([]);
  });
});

describe('what they add up to', () => {
  it('hours of each machine by week, planned and taken of whole runs', async () => {
    const { weeks } = await sums();
    const total = (of: (run: (typeof RUNS)[number]) => number) => RUNS.reduce((sum, run) => sum + of(run), 0);
    expect(weeks.reduce((sum, { seconds }) => sum + seconds, 0)).toBeCloseTo(total(({ took }) => took));
    expect(weeks.reduce((sum, { runs }) => sum + runs, 0)).toBe(RUNS.length);
    expect(weeks.reduce((sum, { planned }) => sum + planned, 0)).toBeCloseTo(total(({ state, planned }) => (state === 'done' ? planned : 0)));
    for (const { week } of weeks) expect(new Date(`${week}T12:00:00Z`).getUTCDay()).toBe(1);
    for (const machine of PLACES) expect(new Set(weeks.filter((one) => one.machine === machine).map(({ week }) => week)).size).toBeGreaterThan(50);
    expect(await (await owner('/logbook?view=sums')).text()).toContain('Does it take as long as planned?');
  });
  it('defects with the bits that were in, and the hours each had cut since it was sharp', async () => {
    const bit = { kind: 'end', id: 'log-bit', diameter: 6, name: 'Log end mill' };
    await owner('/api/bits', { method: 'POST', json: { bits: [bit] } });
    const ids = newest(RUNS).slice(0, 5).reverse();
    for (const id of ids)
      await pool.query(
        `update run set crib = '{"a": "log-bit"}', bit_seconds = '{"a": 7200}', defects = '[{"kind": "fuzzy", "note": "", "cause": "", "by": "owner", "at": ""}]' where id = $1`,
        [id],
      );
    const started = RUNS.find(({ id }) => id === ids[1])!.started;
    await pool.query(`insert into bit_event (bit, kind, at, by) values ('log-bit', 'sharpened', $1, 'owner')`, [new Date(+started + 1000)]);
    const { defects } = await sums();
    // Newest first; sharpened after the second: the third counts anew.
    expect(defects.map(({ bits }) => bits[0].hours)).toEqual([6, 4, 2, 4, 2]);
    expect(patternsOf(defects)).toEqual([{ kind: 'fuzzy', count: 5, of: 5, common: { bit: 'log-bit', name: 'Log end mill', hours: 2 } }]);
    await owner('/api/bits?id=log-bit', { method: 'DELETE' });
  });
  it('promised boards: in time and late', async () => {
    const last = async (k: number, ended: string) =>
      pool.query(`update run set ended_at = $2 where id = (select max(id) from run where job_id = $1 and state = 'done')`, [jobs[k], ended]);
    await last(0, '2023-06-01T10:00:00Z');
    await last(1, '2023-06-02T10:00:00Z');
    for (const k of [0, 1]) await pool.query(`update job set planning = '{"due": "2023-06-01T18:00"}' where id = $1`, [jobs[k]]);
    const { late } = await sums();
    expect(late.map((one) => one.late).sort()).toEqual([false, true]);
  });
});
