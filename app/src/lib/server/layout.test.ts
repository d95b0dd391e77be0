/** Pieces laid out by the server: told as it gets better, ended when nobody listens, refused in words. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { LayoutTold } from '$lib/stages/proof/advice';
import { comeIn, type Person } from './testing';

const url = inject('url');
let owner: Person;
let id: string;
const rectangle = (name: string, width: number, height: number) => ({ kind: 'rectangle', id: name, x: 100, y: 100, width, height });
const JOB = {
  kerbe: 4,
  process: 'torch',
  name: 'Brackets to lay out',
  board: { width: 600, height: 400, thickness: 3, material: 'mild steel', holdDown: 'slats' },
  items: { a: rectangle('a', 90, 40), b: { ...rectangle('b', 30, 70), x: 300 } },
  itemOrder: ['a', 'b'],
  tools: { n: { kind: 'nozzle', id: 'n' } },
  cuts: { c: { kind: 'torch', id: 'c', on: ['a', 'b'], tool: 'n', leadIn: 3 } },
  cutOrder: ['c'],
};
const settings = { gap: 5, margin: 10, turns: [0, 90], copies: { a: 5, b: 6 } };
beforeAll(async () => {
  owner = await comeIn(url, 'owner');
  id = ((await (await owner('/api/jobs', { method: 'POST', json: JOB })).json()) as { id: string }).id;
});
afterAll(() => owner(`/api/jobs/${id}`, { method: 'DELETE' }));
const ask = (json: object, signal?: AbortSignal) => owner(`/api/jobs/${id}/layout`, { method: 'POST', json, ...(signal ? { signal } : {}) });
/** How many are being laid out, as whoever watches the server reads it. */
async function busy(): Promise<number> {
  const text = await (await fetch(`${url}/metrics`, { headers: { authorization: `Bearer ${inject('metrics')}` } })).text();
  return Number(/kerbe_heavy_work\{kind="layout",state="busy"\} (\d+)/.exec(text)![1]);
}

describe('laying out', () => {
  it('tells what is better line by line; every piece is there once, in its cut, and none lies over another', async () => {
    const text = await (await ask({ job: JOB, settings })).text();
    const told = text
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as LayoutTold);
    const better = told.flatMap((one) => one.better ?? []);
    expect(told[0].better).not.toBe(null);
    expect(told.at(-1)!.tried).toBeGreaterThan(200);
    for (const [k, one] of better.entries()) if (k > 0) expect(one.nest.used).toBeLessThan(better[k - 1].nest.used);
    const { job, nest, outlines } = better.at(-1)!;
    expect(nest.left).toEqual([]);
    expect(job.itemOrder).toHaveLength(11);
    expect(new Set((job.cuts.c as { on: string[] }).on)).toEqual(new Set(job.itemOrder));
    const boxes = outlines.map((xy) => {
      const [xs, ys] = [xy.filter((_, k) => k % 2 === 0), xy.filter((_, k) => k % 2 === 1)];
      return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    });
    expect(boxes.map(([l, b, r, t]) => Math.round((r - l) * (t - b))).sort()).toEqual([...Array(6).fill(2100), ...Array(5).fill(3600)]);
    for (const [i, [l, b, r, t]] of boxes.entries()) {
      expect(l).toBeGreaterThanOrEqual(9.99);
      expect(b).toBeGreaterThanOrEqual(9.99);
      expect(r).toBeLessThanOrEqual(590.01);
      expect(t).toBeLessThanOrEqual(390.01);
      for (const [l2, b2, r2, t2] of boxes.slice(0, i)) expect(Math.max(l - r2, l2 - r, b - t2, b2 - t)).toBeGreaterThanOrEqual(4.99);
    }
  });
  it('ends when whoever asked hangs up', async () => {
    const hangUp = new AbortController();
    const many = { ...settings, copies: { a: 40, b: 40 }, turns: [0, 45, 90, 135, 180] };
    const response = await ask({ job: JOB, settings: many }, hangUp.signal);
    await response.body!.getReader().read();
    expect(await busy()).toBe(1);
    hangUp.abort();
    for (let k = 0; k < 200 && (await busy()) > 0; k++) await new Promise((done) => setTimeout(done, 50));
    expect(await busy()).toBe(0);
  });
  it('says what it cannot lay out', async () => {
    expect((await ask({ job: JOB, settings: { ...settings, turns: [] } })).status).toBe(400);
    const text = await (await ask({ job: { ...JOB, board: { width: -1 } }, settings })).text();
    expect((JSON.parse(text) as { why: string }).why).toMatch(/board/i);
  });
});
