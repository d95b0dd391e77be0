/** Materials over HTTP: kept beside the shop's other settings, by whom, and what is refused. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { comeIn, type Person } from './testing';

const url = inject('url');
let owner: Person;
let operator: Person;
beforeAll(async () => {
  [owner, operator] = [await comeIn(url, 'owner'), await comeIn(url, 'operator')];
});
afterAll(() => owner('/api/materials', { method: 'PUT', json: { materials: [], leftovers: [] } }));
const put = (by: Person, change: object) => by('/api/materials', { method: 'PUT', json: change });
const iroko = { name: 'iroko', like: 'oak', on: ['router'], density: 0.66, thicknesses: [22], price: 95, care: '' };
const page = async (path = '/materials') => (await owner(path)).text();

describe('materials of the shop', () => {
  it('are kept by whoever works there, beside its name and its hours', async () => {
    expect((await put(operator, { materials: [iroko] })).status).toBe(200);
    expect(await page()).toContain('iroko');
    expect(
      (await put(owner, { leftovers: [{ id: 'a', material: 'iroko, like oak', width: 300, height: 200, thickness: 22, place: 'rack', note: '' }] })).status,
    ).toBe(200);
    // One of them is not lost by keeping the other.
    expect(await page()).toContain('iroko');
    expect(await page('/')).toContain('rack');
    const form = new URLSearchParams({ name: 'Saltgrass Sign Shed', units: 'mm', fraction: '0', machine: '', material: 'cedar', logo: '' });
    await owner('/settings', {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'application/json' },
      body: form.toString(),
    });
    expect(await page()).toContain('iroko');
  });
  it.each([
    [{ materials: [{ ...iroko, name: '' }] }, 'A material needs a name.'],
    [{ materials: [iroko, { ...iroko, name: 'Iroko' }] }, 'Two materials have one name.'],
    [{ materials: [{ ...iroko, density: -1 }] }, 'Nothing weighs nothing.'],
    [{ leftovers: [{ id: 'a', material: 'oak', width: 1, height: 200, thickness: 22 }] }, 'A piece of 5 mm at least.'],
  ])('a slip is said and changes nothing: %o', async (change, why) => {
    const answer = await put(owner, change);
    expect(answer.status).toBe(400);
    expect(((await answer.json()) as { why: string }).why).toContain(why);
    expect(await page()).toContain('iroko');
  });
});
