/** The plan of the day over HTTP: none, one, many; when a board is cut, another order, a slip, a watcher; nothing of it is lost when the shop's settings are kept. */
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { Planning } from '@kerbe/core/day/planning';
import type { DayView } from '$lib/day/view';
import { comeIn, type Person } from './testing';

const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database'), max: 1 });
let owner: Person;
let operator: Person;
const made: string[] = [];

const plate = (name: string, more: object = {}) => ({
  kerbe: 4,
  name,
  board: { width: 120, height: 60, thickness: 12, material: 'oak', holdDown: 'tape' },
  items: { box: { kind: 'rectangle', id: 'box', x: 60, y: 30, width: 40, height: 20 } },
  itemOrder: ['box'],
  tools: { e: { kind: 'end', id: 'e', diameter: 6, fluteLength: 20, name: 'end mill of the day' } },
  cuts: { p: { kind: 'pocket', id: 'p', on: ['box'], tool: 'e', depth: 3 } },
  cutOrder: ['p'],
  ...more,
});
async function job(name: string, more: object = {}): Promise<string> {
  const answer = await owner('/api/jobs', { method: 'POST', json: plate(name, more) });
  const { id } = (await answer.json()) as { id: string };
  made.push(id);
  return id;
}
const now = () => new Date().toISOString();
const put = async (by: Person, id: string, planning: object) => by(`/api/day/jobs/${id}`, { method: 'PATCH', json: planning });
const onPlan = async (id: string, planning: Partial<Planning> = {}): Promise<DayView> => {
  const answer = await put(owner, id, { since: now(), ...planning });
  expect(answer.status).toBe(200);
  return (await answer.json()) as DayView;
};
const day = async () => (await (await owner('/api/day')).json()) as DayView;
const slotsOf = ({ slots }: DayView, id: string) => slots.filter(({ task }) => task.job === id);

beforeAll(async () => {
  [owner, operator] = [await comeIn(url, 'owner'), await comeIn(url, 'operator')];
  // The demo's own promises are not looked at here.
  await pool.query(`update job set planning = '{}'`);
});
afterAll(async () => {
  await pool.query('delete from run where job_id = any($1)', [made]);
  await pool.query('delete from release where job_id = any($1)', [made]);
  for (const id of made) await owner(`/api/jobs/${id}`, { method: 'DELETE' });
  await pool.end();
});

describe('the plan of the day', () => {
  it('none: an empty day that can be planned', async () => {
    expect(await day()).toMatchObject({ slots: [], jobs: [], calls: [], late: 0, changes: 0 });
    expect((await owner('/api/day', { method: 'POST', json: { do: 'plan' } })).status).toBe(200);
  });
  it('one: with its time, its bit, and who is needed when', async () => {
    const id = await job('Reed plate');
    const view = await onPlan(id, { promisedTo: 'Larkmere' });
    expect(view.jobs).toMatchObject([{ id, left: 1, done: 0, why: null, planning: { promisedTo: 'Larkmere' } }]);
    expect(view.jobs[0].seconds).toBeGreaterThan(5);
    const [slot] = slotsOf(view, id);
    expect(slot.task.bits.map((bit) => view.names[bit])).toEqual(['end mill of the day']);
    expect(view.open.some(({ from, to }) => slot.from >= from && slot.to <= to)).toBe(true);
    expect(view.calls.filter(({ task }) => task === 'Reed plate').map(({ what }) => what)).toEqual(['board', 'off']);
  });
  it('many of one: each board counted, and one less for each that was cut since', async () => {
    const id = await job('Row plate');
    const view = await onPlan(id, { quantity: 3 });
    expect(slotsOf(view, id).map(({ task }) => task.name)).toEqual(['Row plate (1 of 3)', 'Row plate (2 of 3)', 'Row plate (3 of 3)']);
    const release = `day-${id}`;
    await pool.query(`insert into release (id, job_id, revision, sha256, programs, report, author) values ($1, $2, 1, 'x', '[]', '{}', 'owner')`, [
      release,
      id,
    ]);
    const run = (name: string, state: string, at: string) =>
      pool.query(
        `insert into run (id, release_id, job_id, program, state, message, line, lines, estimate_seconds, actual_seconds, author, crib, notes, started_at, machine, setup, bit_seconds)
         values ($1, $2, $3, 'p', $4, '', 1, 1, 10, 10, 'owner', '{}', '', $5, 'Simulated router', '{}', '{}')`,
        [`${release}-${name}`, release, id, state, at],
      );
    await run('one', 'done', new Date(Date.now() + 1000).toISOString());
    await run('stopped', 'stopped', new Date(Date.now() + 1000).toISOString());
    await run('old', 'done', '2020-01-01T00:00:00Z');
    const after = await day();
    expect(after.jobs.find((one) => one.id === id)).toMatchObject({ left: 2, done: 1 });
    expect(slotsOf(after, id).map(({ task }) => task.name)).toEqual(['Row plate (2 of 3)', 'Row plate (3 of 3)']);
  });
  it('changed at two places at once, both changes stay; what is no planning changes nothing', async () => {
    const id = await job('Twice plate');
    await onPlan(id);
    await Promise.all([put(owner, id, { quantity: 2 }), put(operator, id, { promisedTo: 'Larkmere' }), put(owner, id, { urgent: true })]);
    const planning = async () => (await day()).jobs.find((one) => one.id === id)?.planning;
    expect(await planning()).toMatchObject({ quantity: 2, promisedTo: 'Larkmere', urgent: true });
    const refused = await put(owner, id, { quantity: 0.5, urgent: false });
    expect([refused.status, ((await refused.json()) as { why: string }).why]).toEqual([400, 'A quantity is a whole number.']);
    expect(await planning()).toMatchObject({ quantity: 2, urgent: true });
    expect((await put(owner, 'nothing', { quantity: 2 })).status).toBe(404);
    await put(owner, id, { since: null });
  });
  it('what cannot be cut says why, and has no place', async () => {
    const empty = await job('Bare board', { items: {}, itemOrder: [], cuts: {}, cutOrder: [], tools: {} });
    const view = await onPlan(empty);
    expect(view.jobs.find(({ id }) => id === empty)?.why).toContain('nothing to cut');
    expect(slotsOf(view, empty)).toEqual([]);
  });
  it('is put in another order by hand and keeps it; planned anew what was put somewhere is free', async () => {
    const before = await day();
    const order = [...before.order].reverse();
    const last = order.at(-1)!;
    const view = (await (await operator('/api/day', { method: 'PUT', json: { order, pins: { [last]: `${before.first}T23:59` } } })).json()) as DayView;
    expect(view.order).toEqual(order);
    expect((await day()).order).toEqual(order);
    expect(view.slots.at(-1)!.from).toBeGreaterThanOrEqual(24 * 60);
    const anew = (await (await operator('/api/day', { method: 'POST', json: { do: 'plan' } })).json()) as DayView;
    expect(anew.pins).toEqual({});
    expect(anew.late).toBeLessThanOrEqual(view.late);
  });
  it('a change of the drawing changes its time; taken off it is gone', async () => {
    const id = await job('Deeper plate');
    const [before] = (await onPlan(id)).jobs.filter((one) => one.id === id);
    const doc = plate('Deeper plate', { cuts: { p: { kind: 'pocket', id: 'p', on: ['box'], tool: 'e', depth: 9, depthPerPass: 1 } } });
    expect((await owner(`/api/jobs/${id}`, { method: 'PUT', json: { from: 1, label: 'Depth', doc } })).status).toBe(200);
    const after = (await day()).jobs.find((one) => one.id === id)!;
    expect(after.seconds).toBeGreaterThan(1.5 * before.seconds!);
    const off = (await (await put(owner, id, { ...after.planning, since: null })).json()) as DayView;
    expect(off.jobs.some((one) => one.id === id)).toBe(false);
  });
  it('says what a board costs once its material has a price, and quotes it as a PDF with what the shop adds', async () => {
    const id = await job('Priced plate');
    await owner('/api/materials', { method: 'PUT', json: { materials: [] } });
    const before = (await onPlan(id)).jobs.find((one) => one.id === id)!;
    expect(before.cost).toMatchObject({ material: null });
    const refused = await owner(`/api/jobs/${id}/quote`);
    expect(refused.status).toBe(422);
    expect(((await refused.json()) as { why: string }).why).toContain('no price for its material');
    await owner('/api/materials', { method: 'PUT', json: { materials: [{ name: 'oak', on: ['router'], price: 100 }] } });
    const { cost } = (await day()).jobs.find((one) => one.id === id)!;
    // 120 x 60 mm of a square metre at 100.
    expect(cost!.material).toBeCloseTo(0.72, 9);
    expect(cost!.all).toBeCloseTo(before.cost!.all + 0.72, 6);
    const quote = await owner(`/api/jobs/${id}/quote`);
    expect([quote.status, quote.headers.get('content-type')]).toEqual([200, 'application/pdf']);
    expect(
      Buffer.from(await quote.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
    expect((await owner('/api/jobs/nothing/quote')).status).toBe(404);
    await owner('/api/materials', { method: 'PUT', json: { materials: [] } });
  });
  it('a skim that is due is done before the first board of that machine, and pushes it back', async () => {
    const id = await job('Morning plate');
    const first = ({ slots }: DayView) => slots.filter(({ task }) => task.machine === 'simulated-router').sort((a, b) => a.from - b.from)[0];
    const before = first(await onPlan(id));
    expect(before.morning.map(({ name }) => name)).not.toContain('a skim of the spoilboard');
    expect((await owner('/api/machines/simulated-router', { method: 'POST', json: { marks: 'by the fence' } })).status).toBe(200);
    try {
      const after = first(await day());
      const skim = after.morning.find(({ name }) => name === 'a skim of the spoilboard')!;
      // A bed of more than a square metre in lanes of an inch or two.
      expect(skim.minutes).toBeGreaterThan(5);
      expect(skim.minutes).toBeLessThan(90);
      const span = ({ from, to }: { from: number; to: number }) => to - from;
      expect(span(after)).toBeCloseTo(span(before) + skim.minutes, 6);
    } finally {
      await pool.query(`delete from spoilboard_skim where machine_id = 'simulated-router'`);
    }
    await put(owner, id, { since: null });
  });
  it('slips are said, and change nothing', async () => {
    const before = await day();
    expect(await (await put(owner, made[0], { since: now(), quantity: 0 })).json()).toEqual({ why: 'At least one board.' });
    expect((await put(owner, 'nobody', { since: now() })).status).toBe(404);
    expect((await owner('/api/day', { method: 'PUT', json: { order: 'x' } })).status).toBe(400);
    expect((await owner('/api/day', { method: 'POST', json: {} })).status).toBe(400);
    expect((await day()).jobs).toEqual(before.jobs);
  });
  it('hours are the owner’s to change; a form of the settings keeps them', async () => {
    const { hours } = await day();
    expect((await operator('/api/day/hours', { method: 'PUT', json: hours })).status).toBe(403);
    expect(await (await owner('/api/day/hours', { method: 'PUT', json: { ...hours, from: '17:00', to: '08:00' } })).json()).toEqual({
      why: 'The shop closes after it opens.',
    });
    expect((await owner('/api/day/hours', { method: 'PUT', json: { ...hours, people: 2, from: '07:15' } })).status).toBe(200);
    const form = new URLSearchParams({ name: 'Saltgrass Sign Shed', units: 'mm', fraction: '0', machine: '', material: 'cedar', logo: '' });
    await owner('/settings', {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'application/json' },
      body: form.toString(),
    });
    expect((await day()).hours).toMatchObject({ people: 2, from: '07:15' });
    await owner('/api/day/hours', { method: 'PUT', json: hours });
  });
});
