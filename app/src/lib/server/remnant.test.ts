/** What a run leaves of its plate, over HTTP: kept beside other pieces, and refused where nobody knows what is left. */
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { Leftover } from '@kerbe/core/board/materials';
import { comeIn, type Person } from './testing';

const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database') });
let owner: Person;
let operator: Person;
let job: string;
const PLATE = {
  kerbe: 4,
  process: 'torch',
  name: 'Plate with openings',
  board: { width: 300, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats' },
  items: { a: { kind: 'rectangle', id: 'a', x: 80, y: 80, width: 60, height: 40 } },
  itemOrder: ['a'],
  tools: { n: { kind: 'nozzle', id: 'n' } },
  cuts: { c: { kind: 'torch', id: 'c', on: 'art', tool: 'n', leadIn: 3 } },
  cutOrder: ['c'],
};
beforeAll(async () => {
  [owner, operator] = [await comeIn(url, 'owner'), await comeIn(url, 'operator')];
  job = ((await (await owner('/api/jobs', { method: 'POST', json: PLATE })).json()) as { id: string }).id;
  await pool.query(`insert into release (id, job_id, revision, sha256, programs, report, author) values ('remnant', $1, 1, 'x', '[]', '{}', 'owner')`, [job]);
  for (const state of ['done', 'stopped'])
    await pool.query(
      `insert into run (id, release_id, job_id, program, state, message, line, lines, estimate_seconds, actual_seconds, author, crib, notes, started_at, machine, setup, bit_seconds)
       values ($1, 'remnant', $2, 'p', $3, '', 1, 1, 10, 10, 'owner', '{}', '', now(), 'Simulated torch', '{}', '{}')`,
      [`remnant-${state}`, job, state],
    );
});
afterAll(async () => {
  await owner('/api/materials', { method: 'PUT', json: { leftovers: [] } });
  await pool.query('delete from run where job_id = $1', [job]);
  await pool.query('delete from release where job_id = $1', [job]);
  await owner(`/api/jobs/${job}`, { method: 'DELETE' });
  await pool.end();
});
const keep = (by: Person, run: string, json: object = { place: 'rack 3' }) => by(`/api/runs/${run}/remnant`, { method: 'POST', json });
const kept = async (): Promise<Leftover[]> => (await pool.query<{ doc: { leftovers?: Leftover[] } }>('select doc from shop')).rows[0]?.doc.leftovers ?? [];
const why = async (answer: Response) => [answer.status, ((await answer.json()) as { why: string | null }).why];

describe('what is left of a plate', () => {
  it('none is kept of a run that is not there or was stopped, nor where its place is no words', async () => {
    expect(await why(await keep(owner, 'nothing'))).toEqual([404, expect.stringContaining('not in the record')]);
    expect(await why(await keep(owner, 'remnant-stopped'))).toEqual([409, expect.stringContaining('nobody knows what is left')]);
    expect((await keep(owner, 'remnant-done', { place: 3 })).status).toBe(400);
    expect(await kept()).toEqual([]);
  });
  it('is kept with the opening the cut leaves: a kerf larger all round', async () => {
    expect(await why(await keep(operator, 'remnant-done'))).toEqual([200, null]);
    const [piece] = await kept();
    expect(piece).toMatchObject({ material: 'mild steel', width: 300, height: 200, thickness: 3, place: 'rack 3' });
    expect(piece.gone).toHaveLength(1);
    const xs = piece.gone![0].filter((_, k) => k % 2 === 0);
    const ys = piece.gone![0].filter((_, k) => k % 2 === 1);
    // 60 x 40 about 80, 80, a kerf of 1.5 round it; the lead reaches farther on one side.
    expect(Math.min(...xs)).toBeLessThanOrEqual(50 - 1.5 + 0.1);
    expect(Math.max(...xs)).toBeGreaterThanOrEqual(110 + 1.5 - 0.1);
    expect(Math.max(...xs) - Math.min(...xs)).toBeLessThan(60 + 2 * 1.5 + 6);
    expect(Math.max(...ys) - Math.min(...ys)).toBeGreaterThan(40 + 2 * 1.5 - 0.2);
  });
  it('two at once are both kept, beside what was there', async () => {
    await Promise.all([keep(owner, 'remnant-done', { place: 'a' }), keep(operator, 'remnant-done', { place: 'b' })]);
    expect((await kept()).map(({ place }) => place).sort()).toEqual(['a', 'b', 'rack 3']);
  });
});
