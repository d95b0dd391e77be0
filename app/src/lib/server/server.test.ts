/** The server's routes over HTTP, with a real PostgreSQL, agent and simulated router behind them. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { inflateSync } from 'node:zlib';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { faceById, openFont } from '@kerbe/core/artwork/text';
import { distanceToEdges, insideRegion } from '@kerbe/core/geometry';
import type { Job } from '@kerbe/core/job';
import { planJob } from '@kerbe/core/plan';
import { readProgram } from '@kerbe/core/program';
import { NO_MACHINE, type MachineSnapshot } from '../machine.ts';

const require = createRequire(import.meta.url);
const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database'), max: 2 });
afterAll(() => pool.end());

type Person = (path: string, init?: RequestInit & { json?: unknown }) => Promise<Response>;

async function comeIn(role: 'owner' | 'operator'): Promise<Person> {
  const response = await fetch(`${url}/sign-in`, {
    method: 'POST',
    redirect: 'manual',
    headers: { origin: url, 'content-type': 'application/x-www-form-urlencoded' },
    body: `demo=${role}`,
  });
  const cookie = response.headers
    .getSetCookie()
    .map((text) => text.split(';')[0])
    .join('; ');
  expect(cookie).not.toBe('');
  return (path, { json, ...init } = {}) =>
    fetch(url + path, {
      redirect: 'manual',
      ...init,
      headers: { cookie, origin: url, ...(json !== undefined ? { 'content-type': 'application/json' } : {}), ...(init.headers as Record<string, string>) },
      body: json !== undefined ? JSON.stringify(json) : init.body,
    });
}

let owner: Person;
let operator: Person;
let id: string;
let job: Job;
let revision: number;

async function newSign(): Promise<void> {
  const made = await owner('/?/new', { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded' } });
  id = (made.headers.get('location') ?? JSON.stringify(await made.json())).match(/\/job\/([\w-]+)/)![1];
  ({ doc: job, revision } = await (await owner(`/api/jobs/${id}`)).json());
}
const save = (doc: unknown, from = revision, by = owner) => by(`/api/jobs/${id}`, { method: 'PUT', json: { from, label: 'Test', doc } });
const release = (by: Person, body: unknown) => by(`/api/jobs/${id}/release`, { method: 'POST', json: body });
const withWords = (text: string, change: Partial<Job> = {}): Job => ({
  ...job,
  ...change,
  items: { ...job.items, words: { ...job.items.words, text } as Job['items'][string] },
});

beforeAll(async () => {
  owner = await comeIn('owner');
  operator = await comeIn('operator');
  await newSign();
});

describe('who may do what', () => {
  it('sends strangers to sign in, and their requests away', async () => {
    const page = await fetch(`${url}/`, { redirect: 'manual' });
    expect([page.status, page.headers.get('location')]).toEqual([303, '/sign-in?to=%2F']);
    const api = await fetch(`${url}/api/jobs/${id}`);
    expect([api.status, (await api.json()).why]).toEqual([401, 'Sign in first.']);
  });
  it('refuses a wrong password in words, and a redirect to elsewhere', async () => {
    const response = await fetch(`${url}/sign-in?to=//evil.example`, {
      method: 'POST',
      headers: { origin: url, 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' },
      body: 'email=owner@saltgrass.example&password=wrong-password',
    });
    expect(await response.text()).toContain('That address and password do not belong together.');
  });
  it('refuses requests that come from another site', async () => {
    const response = await owner('/api/machine', { method: 'POST', json: { do: 'home' }, headers: { origin: 'https://evil.example', 'idempotency-key': 'x' } });
    expect(response.status).toBe(403);
  });
  it('lets only the owner release', async () => {
    const response = await release(operator, { revision, accepted: [] });
    expect([response.status, (await response.json()).why]).toEqual([403, expect.stringContaining('Only the owner')]);
  });
  it('lets the owner, and nobody else, make accounts; the new person can come in', async () => {
    const person = 'name=Reed&email=reed@saltgrass.example&role=operator&password=a-long-password';
    const form = { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' } };
    expect((await operator('/people', { ...form, body: person })).status).toBe(403);
    expect((await operator('/people')).status).toBe(403);
    expect(await (await owner('/people', { ...form, body: person.replace('a-long-password', 'short') })).text()).toContain('at least ten characters');
    expect(await (await owner('/people', { ...form, body: person })).text()).toContain('Reed can sign in now.');
    expect(await (await owner('/people', { ...form, body: person })).text()).toContain('There is an account for reed@saltgrass.example already.');
    const signIn = await fetch(`${url}/sign-in`, {
      method: 'POST',
      redirect: 'manual',
      headers: { origin: url, 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' },
      body: 'email=reed@saltgrass.example&password=a-long-password',
    });
    expect([signIn.status, signIn.headers.get('location')]).toEqual([303, '/']);
    const open = await fetch(`${url}/api/auth/sign-up/email`, {
      method: 'POST',
      headers: { origin: url, 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'x', email: 'x@x.example', password: 'a-long-password' }),
    });
    expect(open.ok).toBe(false);
  });
  it('sends security headers', async () => {
    const { headers } = await owner('/');
    expect(headers.get('content-security-policy')).toMatch(/default-src 'self'/);
    expect(headers.get('x-content-type-options')).toBe('nosniff');
  });
});

describe('saving', () => {
  it('saves a revision made from the present one, and refuses one made from an older', async () => {
    const first = await save(withWords('Fern'));
    expect(first.status).toBe(200);
    revision = (await first.json()).revision;
    const late = await save(withWords('Moss'), revision - 1);
    expect(late.status).toBe(409);
    expect(await late.json()).toMatchObject({ revision, why: expect.stringContaining('changed somewhere else') });
    expect((await (await owner(`/api/jobs/${id}`)).json()).doc.items.words.text).toBe('Fern');
  });
  it('two saves from the same revision at once: one wins, the other is told', async () => {
    const answers = await Promise.all([save(withWords('One')), save(withWords('Two'))]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
    revision++;
  });
  it('keeps every revision', async () => {
    const { rows } = await pool.query('select revision from job_revision where job_id = $1 order by revision', [id]);
    expect(rows.map((row) => row.revision)).toEqual(Array.from({ length: revision }, (_, i) => i + 1));
  });
  it.each([
    ['a board of no width', (doc: Job) => ({ ...doc, board: { ...doc.board, width: 0 } }), /board\.width/],
    ['a number that is none', (doc: Job) => ({ ...doc, board: { ...doc.board, thickness: null } }), /board\.thickness/],
    ['a cut with a bit that is not there', (doc: Job) => ({ ...doc, cuts: { ...doc.cuts, carve: { ...doc.cuts.carve, bit: 'ghost' } } }), /ghost/],
    ['something else altogether', () => 'hello', /job/],
  ])('refuses %s in words, and changes nothing', async (_what, spoil, why) => {
    const response = await save(spoil(job));
    expect(response.status).toBe(422);
    expect((await response.json()).why).toMatch(why);
    expect((await (await owner(`/api/jobs/${id}`)).json()).revision).toBe(revision);
  });
  it('refuses an upload that is too large, and lives on', async () => {
    const response = await owner(`/api/jobs/${id}`, { method: 'PUT', json: { from: revision, label: 'x', doc: 'x'.repeat(27_000_000) } }).catch(() => null);
    if (response) expect([400, 413]).toContain(response.status);
    expect((await owner(`/api/jobs/${id}`)).status).toBe(200);
  });
  const send = (path: string, bytes: Uint8Array | string) =>
    owner(path, { method: 'POST', body: bytes as Uint8Array<ArrayBuffer>, headers: { 'content-type': 'application/octet-stream' } });
  it('keeps a drawing with its job, reads it again here, and never serves it to be shown', async () => {
    const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><script>alert(1)</script><rect width="4" height="4"/></svg>';
    const first = await (await send(`/api/jobs/${id}/files?name=a.svg`, svg)).json();
    expect(first).toMatchObject({ kind: 'drawing', things: 1 });
    // The same file is kept once.
    expect((await (await send(`/api/jobs/${id}/files?name=b.svg`, svg)).json()).id).toBe(first.id);
    const served = await owner(`/api/assets/${first.id}`);
    expect(served.headers.get('content-type')).toBe('application/octet-stream');
    expect(served.headers.get('content-disposition')).toMatch(/^attachment/);
    expect(await served.text()).toBe(svg);
    expect((await fetch(`${url}/api/assets/${first.id}`)).status).toBe(401);
  });
  it.each([
    ['a broken drawing', 'a.svg', '<svg><path d="M0 0', /cannot be read/],
    [
      'entities that grow without end',
      'a.svg',
      `<!DOCTYPE svg [<!ENTITY a "${'x'.repeat(100)}">${[...'bcdefgh'].map((c, i) => `<!ENTITY ${c} "${`&${'abcdefgh'[i]};`.repeat(20)}">`).join('')}]><svg>&h;</svg>`,
      /cannot be read|Nothing/,
    ],
    ['a page', 'a.svg', '%PDF-1.4', /This is a PDF/],
    ['a program', 'a.dxf', 'MZ\0\0', /no kind of file/],
    [
      'a picture cut short',
      'a.png',
      new Uint8Array([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0, 0, 9, 0, 0, 0, 9, 8, 6, 0, 0, 0]),
      /damaged|no size/,
    ],
    ['nothing', 'a.svg', new Uint8Array(), /empty/],
  ])('refuses %s in words, in bounded time', async (_what, name, bytes, why) => {
    const began = Date.now();
    const response = await send(`/api/jobs/${id}/files?name=${name}`, bytes);
    expect(response.status).toBe(422);
    expect((await response.json()).why).toMatch(why);
    expect(Date.now() - began).toBeLessThan(30_000);
  });
  it('takes a face of the shop’s own, and a release is set in it', async () => {
    const woff = readFileSync(require.resolve('@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-400-normal.woff'));
    const kept = await (await send('/api/faces?name=Shop.woff', woff)).json();
    expect(kept).toMatchObject({ name: 'Shop', id: expect.stringMatching(/^own-/) });
    expect(Buffer.from(await (await owner(`/api/faces/${kept.id}`)).arrayBuffer()).equals(woff)).toBe(true);
    await newSign();
    const words = { ...withWords('Plex').items.words, face: kept.id } as Job['items'][string];
    const saved = await save({ ...job, items: { ...job.items, words } });
    expect(saved.status).toBe(200);
    revision = (await saved.json()).revision;
    expect((await release(owner, { revision, accepted: [] })).status).toBe(200);
    expect((await send('/api/faces?name=bad.ttf', Uint8Array.of(0, 1, 0, 0, 0, 9, 0, 0))).status).toBe(422);
  });
  it('draws the paper template of the saved job', async () => {
    const response = await owner(`/api/jobs/${id}/template?paper=a4`);
    expect(response.headers.get('content-type')).toBe('application/pdf');
    expect(
      Buffer.from(await response.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
  });
  it('refuses a job file that is none, in words', async () => {
    const form = new FormData();
    form.set('job', new File(['{"kerbe": 1}'], 'sign.json'));
    const response = await owner('/?/open', { method: 'POST', body: form, headers: { accept: 'text/html' } });
    expect(await response.text()).toContain('sign.json is not a job Kerbe can use');
  });
});

describe('releasing', () => {
  it('refuses what a finding forbids', async () => {
    const saved = await save(withWords('Fern', { cuts: { ...job.cuts, edge: { ...job.cuts.edge, tabs: 0 } as Job['cuts'][string] } }));
    revision = (await saved.json()).revision;
    const response = await release(owner, { revision, accepted: [] });
    expect([response.status, (await response.json()).why]).toEqual([422, expect.stringContaining('nothing holds it')]);
  });
  it('refuses a warning until a person has ticked it, and keeps the name', async () => {
    const saved = await save(withWords('Fern', { cuts: { ...job.cuts, carve: { ...job.cuts.carve, feed: 12_000 } } }));
    revision = (await saved.json()).revision;
    expect((await release(owner, { revision, accepted: [] })).status).toBe(422);
    const response = await release(owner, { revision, accepted: ['feed-over-limit'] });
    expect(response.status).toBe(200);
    const { rows } = await pool.query('select report from release where id = $1', [(await response.json()).id]);
    expect(rows[0].report.accepted).toEqual([{ code: 'feed-over-limit', by: 'owner' }]);
  });
  it('refuses a revision that was never saved', async () => {
    expect((await release(owner, { revision: 999, accepted: [] })).status).toBe(404);
  });
  it('gives out the program with its hash, readable and whole', async () => {
    const saved = await save(withWords('Fern'));
    revision = (await saved.json()).revision;
    const made = await (await release(owner, { revision, accepted: [] })).json();
    const response = await operator(`/api/releases/${made.id}/${encodeURIComponent('program-1-v60-12.7+end-6.35.nc')}`);
    const program = readProgram(await response.text());
    expect(program.findings).toEqual([]);
    expect(response.headers.get('x-sha256')).toMatch(/^[0-9a-f]{64}$/);
    const again = await (await release(owner, { revision, accepted: [] })).json();
    expect(again.sha256).toBe(made.sha256);
  });
});

describe('the machine', () => {
  const send = (by: Person, command: Record<string, unknown>, key = crypto.randomUUID() as string) =>
    by('/api/machine', { method: 'POST', json: command, headers: key ? { 'idempotency-key': key } : {} });
  it('wants a key with every command, and knows its commands', async () => {
    expect((await send(operator, { do: 'home' }, '')).status).toBe(400);
    expect((await send(operator, { do: 'fly' })).status).toBe(400);
  });
  it('says what holds a command, and writes it down', async () => {
    const response = await send(operator, { do: 'go-to-zero', clearance: 5 });
    expect(response.status).toBe(409);
    expect((await response.json()).why).toMatch(/Home it first|not been set/);
    await new Promise((done) => setTimeout(done, 200));
    const { rows } = await pool.query("select author, refused from audit where command = 'go-to-zero' order by id desc limit 1");
    expect(rows[0]).toMatchObject({ author: 'operator', refused: expect.stringMatching(/Home|set/) });
  });
  it('runs a release, never anything else', async () => {
    const response = await send(operator, { do: 'start', release: 'made-up', program: 'x.nc' });
    expect((await response.json()).why).toMatch(/Only a released program/);
    const { rows } = await pool.query('select id from release where job_id = $1 order by created_at limit 1', [id]);
    const old = await send(operator, { do: 'start', release: rows[0].id, program: 'program-1-v60-12.7+end-6.35.nc' });
    expect((await old.json()).why).toMatch(/changed after this release/);
  });
  it('leaves no run behind when the machine refuses to start', async () => {
    const { rows } = await pool.query('select id from release where job_id = $1 order by created_at desc limit 1', [id]);
    const response = await send(operator, { do: 'start', release: rows[0].id, program: 'program-1-v60-12.7+end-6.35.nc' });
    expect((await response.json()).why).toMatch(/Home it first/);
    expect((await pool.query('select 1 from run')).rowCount).toBe(0);
  });
  it('tells its state as a stream of events', async () => {
    const control = new AbortController();
    const response = await operator('/api/machine/events', { signal: control.signal });
    const { value } = await response.body!.getReader().read();
    const text = new TextDecoder().decode(value);
    expect(text.startsWith('data: ')).toBe(true);
    expect(JSON.parse(text.slice(6))).toMatchObject({ agent: true, link: true, run: null });
    control.abort();
  });
});

describe('the demo board, from release to carved wood', () => {
  it('is carved as it was drawn: nothing outside the letters, walls that meet the drawn line', async () => {
    const { rows } = await pool.query("select id, revision, doc from job where name = 'Heron Walk'");
    const [{ id: demo, revision: at, doc }] = rows as { id: string; revision: number; doc: Job }[];
    const made = await (await owner(`/api/jobs/${demo}/release`, { method: 'POST', json: { revision: at, accepted: [] } })).json();
    const send = async (command: Record<string, unknown>) => {
      const response = await operator('/api/machine', { method: 'POST', json: command, headers: { 'idempotency-key': crypto.randomUUID() } });
      expect((await response.json()).why).toBeNull();
    };
    const stream = new AbortController();
    let now: MachineSnapshot = NO_MACHINE;
    const reading = (async () => {
      const response = await operator('/api/machine/events', { signal: stream.signal });
      let rest = '';
      for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
        const parts = (rest + new TextDecoder().decode(chunk)).split('\n\n');
        rest = parts.pop()!;
        for (const part of parts) if (part.startsWith('data: ')) now = JSON.parse(part.slice(6));
      }
    })().catch(() => {});
    const until = async (what: () => boolean) => {
      for (let i = 0; i < 2400 && !what(); i++) await new Promise((done) => setTimeout(done, 25));
      expect(what(), JSON.stringify(now.run)).toBe(true);
    };
    await until(() => now.link);
    const board = { x: 150, y: 200, width: doc.board.width, height: doc.board.height, thickness: doc.board.thickness };
    const middle = [board.x + 300, board.y + 20];
    await send({ do: 'home' });
    await send({ do: 'bench', change: { board, cell: 0.25, bit: { shape: doc.bits.v60, stickOut: 40 } } });
    await send({ do: 'measure', bit: 'v60' });
    await send({ do: 'move-over', x: board.x, y: board.y });
    await send({ do: 'zero-xy', corner: doc.datum.corner });
    await send({ do: 'move-over', x: middle[0], y: middle[1] });
    await send({ do: 'bench', change: { plate: { x: middle[0], y: middle[1], thickness: 10 }, probeClip: true } });
    await send({ do: 'zero-z', method: 'plate', thickness: 10, datum: doc.datum.z });
    await send({ do: 'bench', change: { plate: null, probeClip: false } });
    await send({ do: 'start', release: made.id, program: 'program-1-v60-12.7+end-6.35.nc' });
    await until(() => now.run?.state === 'bit-change' && now.status?.state === 'idle' && now.status.spindle.actual === 0);
    await send({ do: 'bench', change: { bit: { shape: doc.bits.end6, stickOut: 33 } } });
    await send({ do: 'measure', bit: 'end6' });
    await send({ do: 'resume' });
    await until(() => now.run?.state === 'done');
    const map = (await (await operator('/api/machine/map')).json()) as { columns: number; data: string };
    stream.abort();
    await reading;
    const carved = new Float32Array(new Uint8Array(inflateSync(Buffer.from(map.data, 'base64'))).buffer);

    const plan = await planJob(doc, { fonts: (face) => openFont(readFileSync(require.resolve(faceById(face)!.file))) });
    const letters = plan.items[0].regions;
    const inLetters = (x: number, y: number) => letters.some((region) => insideRegion(region, x, y));
    const outline = plan.items[1].regions;
    const t = Math.tan(Math.PI / 6);
    let [inside, outside] = [0, 0];
    for (let j = 0; j < carved.length / map.columns; j += 2)
      for (let i = 0; i < map.columns; i += 2) {
        const [x, y] = [(i + 0.5) * 0.25, (j + 0.5) * 0.25];
        const z = carved[j * map.columns + i];
        if (!outline.some((region) => insideRegion(region, x, y))) continue;
        if (inLetters(x, y)) {
          expect(z).toBeLessThanOrEqual(-(distanceToEdges(letters, x, y) - 0.03) / t);
          inside++;
        } else if (z < 0) {
          // Words of 0.001 mm in the program, on a wall of 60 degrees.
          expect(distanceToEdges(letters, x, y)).toBeLessThanOrEqual(0.01);
          outside++;
        }
      }
    expect(inside).toBeGreaterThan(10_000);
    expect(outside).toBeLessThan(inside / 100);
    await new Promise((done) => setTimeout(done, 500));
    // The estimate is the motion planner's own: the machine needs about that long.
    const [{ actual_seconds: actual, estimate_seconds: estimate }] = (
      await pool.query('select actual_seconds, estimate_seconds from run where release_id = $1', [made.id])
    ).rows;
    expect(actual / estimate).toBeGreaterThan(0.8);
    expect(actual / estimate).toBeLessThan(1.5);
  }, 120_000);
});
