/** What a machine needs, over HTTP: care that is due and done, marks in a spoilboard, cuts through it counted. */
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { unflatten } from 'devalue';
import { THROUGH_CUTS, type CareState } from '@kerbe/core/setup/skim';
import type { SpoilboardState } from './care';
import { comeIn, type Person } from './testing';

const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database'), max: 1 });
let owner: Person;
let operator: Person;
let job: string;
const ID = 'shed-router';

beforeAll(async () => {
  [owner, operator] = [await comeIn(url, 'owner'), await comeIn(url, 'operator')];
  const made = await owner('/api/jobs', {
    method: 'POST',
    json: { kerbe: 4, name: 'Through', board: { width: 100, height: 60, thickness: 12 }, items: {}, itemOrder: [], tools: {}, cuts: {}, cutOrder: [] },
  });
  job = ((await made.json()) as { id: string }).id;
  for (const [id, deepest] of [
    ['through', 12.5],
    ['shallow', 11],
  ] as const)
    await pool.query(`insert into release (id, job_id, revision, sha256, programs, report, author) values ($1, $2, 1, 'x', '[]', $3, 'owner')`, [
      id,
      job,
      JSON.stringify({ deepest }),
    ]);
});
afterAll(async () => {
  await pool.query(`delete from run where release_id in ('through', 'shallow')`);
  await pool.query(`delete from release where id in ('through', 'shallow')`);
  await pool.query(`delete from machine_care where machine_id = $1`, [ID]);
  await pool.query(`delete from spoilboard_skim where machine_id = $1`, [ID]);
  await owner(`/api/jobs/${job}`, { method: 'DELETE' });
  await pool.end();
});
async function state(): Promise<{ board: SpoilboardState | undefined; cares: CareState[] }> {
  const { nodes } = (await (await owner('/machines/__data.json')).json()) as { nodes: ({ data: number[] } | null)[] };
  const data = unflatten(nodes.at(-1)!.data) as { spoilboards: Record<string, SpoilboardState>; cares: Record<string, CareState[]> };
  return { board: data.spoilboards[ID], cares: data.cares[ID] };
}
let runs = 0;
const cut = (release: string, hours: number, how = 'done', ago = 0) =>
  pool.query(
    `insert into run (id, release_id, job_id, program, state, message, line, lines, estimate_seconds, actual_seconds, author, crib, notes, started_at, machine, machine_id, setup, bit_seconds)
     values ($1, $2, $3, 'p', $4, '', 1, 1, 10, $5, 'owner', '{}', '', $6, 'Shed router', $7, '{}', '{}')`,
    [`care-${++runs}`, release, job, how, 3600 * hours, new Date(Date.now() - ago), ID],
  );
const tell = (by: Person, json: object) => by(`/api/machines/${ID}`, { method: 'POST', json });
const collets = async () => (await state()).cares.find(({ name }) => name === 'Clean collets and nuts')!;

describe('what is to be done to a machine', () => {
  it('by hours of cutting: due, done by whoever does it, and counting anew', async () => {
    expect(await collets()).toMatchObject({ due: false, since: 0, done: null });
    await cut('shallow', 19);
    expect(await collets()).toMatchObject({ due: false, since: 19 });
    await cut('shallow', 1.5, 'stopped');
    expect(await collets()).toMatchObject({ due: true, since: 20.5 });
    expect((await tell(operator, { care: { name: 'Clean collets and nuts' } })).status).toBe(200);
    const after = await collets();
    expect(after).toMatchObject({ due: false, since: 0 });
    expect(after.done).toBeGreaterThan(0);
    expect((await tell(operator, { care: { name: 'Sing to it' } })).status).toBe(409);
  });
  it('its own list takes the place of the usual one', async () => {
    const doc = (await pool.query('select doc from machine where id = $1', [ID])).rows[0].doc;
    expect((await owner(`/api/machines/${ID}`, { method: 'PUT', json: { ...doc, care: [{ name: 'Oil the lead screw', days: 7 }] } })).status).toBe(200);
    expect((await state()).cares.map(({ name }) => name)).toEqual(['Oil the lead screw']);
    expect((await owner(`/api/machines/${ID}`, { method: 'PUT', json: doc })).status).toBe(200);
  });
  it('its list is the owner’s to write; what could not be told apart or never be due is refused; and it goes back to what is usual', async () => {
    const usual = (await state()).cares.map(({ name }) => name);
    const list = [
      { name: 'Oil the lead screw', days: 7 },
      { name: 'Look at the brushes', hours: 50, days: 90 },
    ];
    expect((await tell(operator, { cares: list })).status).toBe(403);
    expect((await tell(owner, { cares: list })).status).toBe(200);
    expect((await state()).cares.map(({ name, hours, days }) => ({ name, hours, days }))).toEqual([
      { name: 'Oil the lead screw', hours: undefined, days: 7 },
      { name: 'Look at the brushes', hours: 50, days: 90 },
    ]);
    const refused = async (cares: object[]) => ((await (await tell(owner, { cares })).json()) as { why: string }).why;
    expect(await refused([...list, { name: 'oil the LEAD screw', days: 1 }])).toBe('Two things to do have one name.');
    expect(await refused([{ name: 'Sing to it' }])).toBe('Every one is due after hours, after days, or both.');
    expect((await state()).cares).toHaveLength(2);
    expect((await tell(owner, { cares: null })).status).toBe(200);
    expect((await state()).cares.map(({ name }) => name)).toEqual(usual);
  });
});

describe('its spoilboard', () => {
  it('runs that cut through it are counted, those that did not or were stopped are not', async () => {
    for (let k = 0; k < THROUGH_CUTS - 1; k++) await cut('through', 0.1);
    await cut('through', 0.1, 'stopped');
    expect((await state()).board).toMatchObject({ through: THROUGH_CUTS - 1, due: [] });
    await cut('through', 0.1);
    expect((await state()).board!.due).toHaveLength(1);
  });
  it('marks are noted, and both are over with a skim; a form of the machine that was open meanwhile changes nothing of it', async () => {
    const doc = (await pool.query('select doc from machine where id = $1', [ID])).rows[0].doc;
    expect((await tell(operator, { marks: 'by the fence' })).status).toBe(200);
    expect((await state()).board!.due).toHaveLength(2);
    expect((await tell(operator, { height: 17.5, note: 'clean' })).status).toBe(200);
    expect((await state()).board).toMatchObject({
      through: 0,
      due: [],
      measure: false,
      job: null,
      heights: [{ height: 17.5, note: 'clean', reckoned: false }],
    });
    expect((await owner(`/api/machines/${ID}`, { method: 'PUT', json: { ...doc, spoilboard: { height: 18, least: 6 } } })).status).toBe(200);
    const now = (await pool.query('select doc from machine where id = $1', [ID])).rows[0].doc.spoilboard;
    expect(now).toMatchObject({ height: 17.5, least: 6, skimmed: expect.stringMatching(/Z$/) });
    expect(now.fitted).toBeUndefined();
  });
  it('measured after a skim that was reckoned, its top is where it was: zeros on it still hold', async () => {
    const skimmed = async () => (await pool.query('select doc from machine where id = $1', [ID])).rows[0].doc.spoilboard as { height: number; skimmed: string };
    const before = await skimmed();
    const { rows } = await pool.query(`select id from run where release_id = 'through' limit 1`);
    await pool.query(`insert into spoilboard_skim (machine_id, height, author, run_id) values ($1, 17.3, 'owner', $2)`, [ID, rows[0].id]);
    // A little thicker than reckoned is measured, not refused.
    expect((await tell(operator, { height: 17.52 })).status).toBe(200);
    expect(await skimmed()).toMatchObject({ height: 17.52, skimmed: before.skimmed });
  });
  it('a new one may be thicker, and is fitted', async () => {
    expect((await tell(operator, { height: 19 })).status).toBe(409);
    expect((await tell(operator, { height: 19, fresh: true })).status).toBe(200);
    expect((await pool.query('select doc from machine where id = $1', [ID])).rows[0].doc.spoilboard.fitted).toMatch(/Z$/);
    await owner(`/api/machines/${ID}`, { method: 'POST', json: { height: 18 } });
  });
});
