/** The edge of a bit over HTTP: hours since it was sharp, what the shop gives it, when it was sharpened, and what a job is told. */
import { unflatten } from 'devalue';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { DayView } from '$lib/day/view';
import { ShopSettings } from '$lib/shop/settings';
import type { RunView } from '$lib/stages/types';
import type { CribBit } from './crib';
import { comeIn, type Person } from './testing';

const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database'), max: 1 });
let owner: Person;
let operator: Person;
let job: string;
const ID = 'edge-test';
/** What an hour costs in a shop that has said nothing. */
const RATES = ShopSettings.parse({}).rates;
const bit = { kind: 'end', id: ID, diameter: 6, name: 'Edge test' };

beforeAll(async () => {
  [owner, operator] = [await comeIn(url, 'owner'), await comeIn(url, 'operator')];
  await owner('/api/bits', { method: 'POST', json: { bits: [bit] } });
  const made = await owner('/api/jobs', {
    method: 'POST',
    json: {
      kerbe: 4,
      name: 'Edge',
      board: { width: 100, height: 60, thickness: 12 },
      items: { box: { kind: 'rectangle', id: 'box', x: 50, y: 30, width: 40, height: 20 } },
      itemOrder: ['box'],
      tools: { e: { ...bit, id: 'e', crib: ID } },
      cuts: { p: { kind: 'pocket', id: 'p', on: ['box'], tool: 'e', depth: 3 } },
      cutOrder: ['p'],
    },
  });
  job = ((await made.json()) as { id: string }).id;
  await pool.query(`insert into release (id, job_id, revision, sha256, programs, report, author) values ('edge', $1, 1, 'x', '[]', '{}', 'owner')`, [job]);
});
afterAll(async () => {
  await pool.query(`delete from run where release_id = 'edge'`);
  await pool.query(`delete from release where id = 'edge'`);
  await owner(`/api/jobs/${job}`, { method: 'DELETE' });
  await owner(`/api/bits?id=${ID}`, { method: 'DELETE' });
  await pool.end();
});

let runs = 0;
/** A run that cut with it for so many hours, so many minutes ago. */
const cut = (hours: number, ago: number) =>
  pool.query(
    `insert into run (id, release_id, job_id, program, state, message, line, lines, estimate_seconds, actual_seconds, author, crib, notes, started_at, machine, setup, bit_seconds)
     values ($1, 'edge', $2, 'p', 'done', '', 1, 1, 10, 10, 'owner', $3, '', $4, 'Simulated router', '{}', $5)`,
    [`edge-${++runs}`, job, JSON.stringify({ e: ID }), new Date(Date.now() - ago * 60_000), JSON.stringify({ e: 3600 * hours })],
  );
const say = (by: Person, edge: object) => by('/api/bits', { method: 'PATCH', json: { id: ID, ...edge } });
const edge = async () => ((await (await owner('/api/bits')).json()) as { bits: CribBit[] }).bits.find((one) => one.bit.id === ID)!;

describe('the edge of a bit', () => {
  it('a new one has no hours and no end', async () => expect(await edge()).toMatchObject({ hours: 0, since: 0, life: null, events: [] }));
  it('its way and how often it was struck are counted beside its hours, and may have an end of their own', async () => {
    await cut(0.5, 240);
    await pool.query(`update run set worked = $2 where id = $1`, [
      `edge-${runs}`,
      JSON.stringify({ e: { metres: 12.5, strikes: 40 }, other: { metres: 99, strikes: 9 } }),
    ]);
    expect(await edge()).toMatchObject({ hours: 0.5, metres: 12.5, metresSince: 12.5, strikes: 40, strikesSince: 40, strikesLife: null });
    expect((await say(operator, { strikesLife: 0 })).status).toBe(422);
    expect((await say(operator, { strikesLife: 45 })).status).toBe(200);
    expect(await edge()).toMatchObject({ strikesLife: 45, life: null });
    expect((await say(operator, { strikesLife: null })).status).toBe(200);
    await pool.query(`delete from run where id = $1`, [`edge-${runs}`]);
    expect(await edge()).toMatchObject({ hours: 0, metres: 0, strikes: 0, strikesLife: null });
  });
  it('counts what it cut; sharpened it counts anew, and remembers who and what it cost', async () => {
    await cut(2, 120);
    await cut(1.5, 60);
    expect(await edge()).toMatchObject({ hours: 3.5, since: 3.5 });
    expect((await say(operator, { kind: 'sharpened', cost: 12.5, note: '' })).status).toBe(200);
    expect(await edge()).toMatchObject({ hours: 3.5, since: 0, events: [{ kind: 'sharpened', cost: 12.5, by: 'operator' }] });
    await cut(0.5, -1);
    expect(await edge()).toMatchObject({ hours: 4, since: 0.5 });
    expect((await say(owner, { kind: 'replaced', cost: null, note: '' })).status).toBe(200);
    expect((await edge()).events.map(({ kind }) => kind)).toEqual(['replaced', 'sharpened']);
  });
  it('is given hours; kept again as a bit it keeps them', async () => {
    expect((await say(operator, { life: 6 })).status).toBe(200);
    await owner('/api/bits', { method: 'POST', json: { bits: [{ ...bit, diameter: 6.1 }] } });
    expect(await edge()).toMatchObject({ life: 6, hours: 4 });
    // What the page of a job is given to say whether its bits are sharp.
    const page = await (await owner(`/job/${job}/__data.json`)).text();
    expect(page).toContain(ID);
    await say(operator, { life: null });
    expect((await edge()).life).toBeNull();
  });
  it('what it wears is a share of what making it sharp cost: in the plan, and in the record of each run, which only the owner is told', async () => {
    const costsSeen = async (by: Person) => {
      const page = (await (await by(`/job/${job}/__data.json`)).json()) as { nodes: { data: unknown[] }[] };
      const nodes = page.nodes.flatMap(({ data }) => (data ? [unflatten(data) as { runs?: RunView[] }] : []));
      return nodes.find(({ runs }) => runs)!.runs!.map(({ costs }) => costs);
    };
    const planned = async () => {
      const answer = await owner(`/api/day/jobs/${job}`, { method: 'PATCH', json: { since: new Date().toISOString() } });
      return ((await answer.json()) as DayView).jobs.find(({ id }) => id === job)!;
    };
    await pool.query(`delete from run where release_id = 'edge'`);
    await cut(3, 10);
    // Runs that go on have no cost yet.
    expect(await costsSeen(owner)).toEqual([null]);
    await pool.query(`update run set ended_at = started_at + interval '3 hours', actual_seconds = 10800, estimate_seconds = 9000 where release_id = 'edge'`);
    // Sharpening it cost 12.50, but how long it stays sharp nobody said.
    expect((await costsSeen(owner))[0]).toMatchObject({ taken: { bits: null, machine: expect.closeTo(3 * RATES.machine, 6) } });
    await say(operator, { life: 6 });
    const job1 = await planned();
    expect(job1.cost!.bits).toBeGreaterThan(0);
    expect(job1.cost!.bits).toBeLessThan((12.5 * job1.seconds!) / (6 * 3600));
    const [seen] = await costsSeen(owner);
    expect(seen!.taken.bits).toBeCloseTo(6.25, 6);
    expect(seen!.planned.bits).toBeCloseTo(job1.cost!.bits!, 9);
    expect(seen!.planned.machine).toBeCloseTo(2.5 * RATES.machine, 6);
    for (const { material, machine, bits, hands, all } of [seen!.planned, seen!.taken]) expect(all).toBeCloseTo((material ?? 0) + machine + bits! + hands, 9);
    expect(await costsSeen(operator)).toEqual([null]);
    // Of a version that is past its wear goes by the time it was to take.
    await pool.query(`update job set figures = null where id = $1`, [job]);
    expect((await costsSeen(owner))[0]!.planned.bits).toBeCloseTo((6.25 * 9000) / 10800, 6);
    await owner(`/api/day/jobs/${job}`, { method: 'PATCH', json: { since: null } });
    await say(operator, { life: null });
  });
  it('slips are said', async () => {
    expect((await say(owner, { life: 0 })).status).toBe(422);
    expect((await say(owner, { kind: 'lost', cost: null, note: '' })).status).toBe(422);
    expect((await owner('/api/bits', { method: 'PATCH', json: { id: 'nobody', kind: 'sharpened', cost: null, note: '' } })).status).toBe(404);
  });
});
