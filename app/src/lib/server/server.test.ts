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
import type { MachineSnapshot } from '../machine.ts';
import { comeIn, must, signIn, tell, Watcher, type Person } from './testing';

const require = createRequire(import.meta.url);
const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database'), max: 2 });
afterAll(() => pool.end());

let owner: Person;
let operator: Person;
let id: string;
let job: Job;
let revision: number;

async function newSign(): Promise<void> {
  const body = new URLSearchParams({ piece: 'sign', units: 'mm', width: '400', height: '150', thickness: '18', material: 'pine' });
  const made = await owner('/?/new', { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded' }, body });
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
  owner = await comeIn(url, 'owner');
  operator = await comeIn(url, 'operator');
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
    const response = await owner('/api/machines/simulated-router/command', {
      method: 'POST',
      json: { do: 'home' },
      headers: { origin: 'https://evil.example', 'idempotency-key': 'x' },
    });
    expect(response.status).toBe(403);
  });
  it('lets only the owner release', async () => {
    const response = await release(operator, { revision, accepted: [] });
    expect([response.status, (await response.json()).why]).toEqual([403, expect.stringContaining('Only the owner')]);
  });
  it('lets the owner, and nobody else, make accounts; the new person can come in', async () => {
    const person = 'name=Reed&email=reed@saltgrass.example&role=operator&password=a-long-password';
    const form = { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' } };
    expect((await operator('/people?/make', { ...form, body: person })).status).toBe(403);
    expect((await operator('/people')).status).toBe(403);
    expect(await (await owner('/people?/make', { ...form, body: person.replace('a-long-password', 'short') })).text()).toContain('at least ten characters');
    expect(await (await owner('/people?/make', { ...form, body: person })).text()).toContain('Reed can sign in now.');
    expect(await (await owner('/people?/make', { ...form, body: person })).text()).toContain('There is an account for reed@saltgrass.example already.');
    const came = await fetch(`${url}/sign-in`, {
      method: 'POST',
      redirect: 'manual',
      headers: { origin: url, 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' },
      body: 'email=reed@saltgrass.example&password=a-long-password',
    });
    expect([came.status, came.headers.get('location')]).toEqual([303, '/']);
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
  it('a tab whose answer got lost saves again without a clash, as long as nobody else saved meanwhile', async () => {
    const from = revision;
    const send = (words: string, tab: string) =>
      owner(`/api/jobs/${id}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ from, label: 'Words', doc: withWords(words), tab }),
      });
    expect((await send('Lost', 'tab-a')).status).toBe(200);
    const again = await send('Found', 'tab-a');
    expect([again.status, (await again.json()).revision]).toEqual([200, from + 2]);
    expect((await send('Other', 'tab-b')).status).toBe(409);
    revision = from + 2;
    const other = await save(withWords('Between'));
    revision = (await other.json()).revision;
    expect((await send('Late', 'tab-a')).status).toBe(409);
  });
  it('keeps every revision', async () => {
    const { rows } = await pool.query('select revision from job_revision where job_id = $1 order by revision', [id]);
    expect(rows.map((row) => row.revision)).toEqual(Array.from({ length: revision }, (_, i) => i + 1));
  });
  it.each([
    ['a board of no width', (doc: Job) => ({ ...doc, board: { ...doc.board, width: 0 } }), /board\.width/],
    ['a number that is none', (doc: Job) => ({ ...doc, board: { ...doc.board, thickness: null } }), /board\.thickness/],
    ['a cut with a bit that is not there', (doc: Job) => ({ ...doc, cuts: { ...doc.cuts, carve: { ...doc.cuts.carve, tool: 'ghost' } } }), /ghost/],
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
  ])('refuses %s in words', async (_what, name, bytes, why) => {
    const response = await send(`/api/jobs/${id}/files?name=${name}`, bytes);
    expect(response.status).toBe(422);
    expect((await response.json()).why).toMatch(why);
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
    const drop = (face: string) => owner(`/api/faces/${face}`, { method: 'DELETE' });
    const used = await drop(kept.id);
    expect([used.status, (await used.json()).why]).toEqual([409, expect.stringContaining('“New carved sign”')]);
    // Words set otherwise now: the release still is set in it.
    revision = (await (await save({ ...job, items: { ...job.items, words: withWords('Plex').items.words } })).json()).revision;
    expect((await drop(kept.id)).status).toBe(409);
    const spare = await (
      await send('/api/faces?name=Spare.woff', readFileSync(require.resolve('@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-700-normal.woff')))
    ).json();
    expect([(await drop(spare.id)).status, (await drop(spare.id)).status, (await drop('bebas')).status]).toEqual([200, 404, 404]);
    expect((await send('/api/faces?name=bad.ttf', Uint8Array.of(0, 1, 0, 0, 0, 9, 0, 0))).status).toBe(422);
  });
  const isPdf = async (response: Response) => {
    expect(response.headers.get('content-type')).toBe('application/pdf');
    expect(new TextDecoder().decode(new Uint8Array(await response.arrayBuffer()).subarray(0, 5))).toBe('%PDF-');
  };
  it('draws the paper template of the saved job', async () => isPdf(await owner(`/api/jobs/${id}/template?paper=a4`)));
  it('draws the set-up sheet of a release, for the operator too; of none there is none', async () => {
    const { id: made } = await (await release(owner, { revision, accepted: [] })).json();
    await isPdf(await operator(`/api/releases/${made}/sheet`));
    expect((await operator('/api/releases/made-up/sheet')).status).toBe(404);
  });
  it('refuses a job file that is none, in words', async () => {
    const form = new FormData();
    form.set('job', new File(['{"kerbe": 1}'], 'sign.json'));
    const response = await owner('/?/open', { method: 'POST', body: form, headers: { accept: 'text/html' } });
    expect(await response.text()).toContain('sign.json is not a job Kerbe can use');
  });
});

describe('the wall', () => {
  const wall = async (query: string): Promise<string[]> => {
    const page = await (await owner(`/?${query}`)).text();
    return [...page.matchAll(/<article[^>]*aria-label="([^"]*)"/g)].map(([, name]) => name);
  };
  it('finds jobs by name, wood, what they say and notes, whatever the case, and takes no pattern', async () => {
    expect(await wall('find=heron')).toContain('Heron Walk');
    expect(await wall('find=CEDAR')).toContain('Heron Walk');
    expect(await wall('find=closed+at+dusk')).toEqual(['Reed Gate']);
    expect(await wall('find=trailhead')).toContain('Heron Walk');
    expect(await wall('find=%25')).toEqual([]);
    expect(await wall('find=nothing-says-this')).toEqual([]);
  });
  it('stands in the order asked for', async () => {
    const byName = await wall('sort=name');
    expect([...byName].sort()).toEqual([...(await wall(''))].sort());
    const drawn = ['Bench plate', 'Leaf inlay', 'Raised map', 'Reed Gate', 'Reed Hide', 'Species plates'];
    expect(byName.filter((name) => drawn.includes(name))).toEqual(drawn);
  });
  it('keeps a job for a kind of machine the shop has not, and says so instead of opening it', async () => {
    const laser = {
      kerbe: 4,
      process: 'laser',
      name: 'A tag to burn',
      board: { width: 80, height: 60, thickness: 3 },
      items: { r: { kind: 'rectangle', id: 'r', x: 40, y: 30, width: 40, height: 20 } },
      itemOrder: ['r'],
      tools: { head: { kind: 'head', id: 'head' } },
      cuts: { c: { kind: 'laser-cut', id: 'c', on: 'art', tool: 'head' } },
      cutOrder: ['c'],
    };
    const made = (await (await owner('/api/jobs', { method: 'POST', json: laser })).json()) as { id: string };
    // A shop without its simulated laser.
    await pool.query(`update machine set doc = jsonb_set(doc, '{kind}', '"router"') where id = 'simulated-laser'`);
    // The page is made in the browser: what the server has to say of it comes with its data.
    const data = await owner(`/job/${made.id}/__data.json`);
    expect(await data.text()).toContain('This job is for a laser, and the shop has no such machine.');
    await pool.query(`update machine set doc = jsonb_set(doc, '{kind}', '"laser"') where id = 'simulated-laser'`);
    expect(await (await owner(`/job/${made.id}/__data.json`)).text()).not.toContain('no such machine');
    expect(await wall('find=burn')).toContain('A tag to burn');
  });
  it('copies a job with its files under ids of their own; the copy outlives the first', async () => {
    await newSign();
    const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
    const kept = await pool.query("insert into asset (id, job_id, kind, name, mime, sha256, bytes, author) values ('asset-of-first', $1, 'picture', 'a.png', 'image/png', 'x', $2, 'owner') returning id", [id, png]); // prettier-ignore
    expect((await save(withWords('COPIED', { notes: `picture ${kept.rows[0].id}` }))).status).toBe(200);
    // As it was saved then, not as it is now; a version that never was is none.
    const { id: then } = await (await operator(`/api/jobs/${id}`, { method: 'POST', json: { as: 'again', revision: 1 } })).json();
    const saved = (await pool.query('select doc from job_revision where job_id = $1 and revision = 1', [id])).rows[0].doc;
    expect((await (await operator(`/api/jobs/${then}`)).json()).doc.board).toEqual(saved.board);
    expect((await operator(`/api/jobs/${id}`, { method: 'POST', json: { as: 'again', revision: 99_999 } })).status).toBe(404);
    await operator(`/api/jobs/${then}`, { method: 'DELETE' });
    const { id: copy } = await (await operator(`/api/jobs/${id}`, { method: 'POST', json: { as: 'copy' } })).json();
    const { doc, revision: first } = await (await owner(`/api/jobs/${copy}`)).json();
    expect(first).toBe(1);
    expect(doc.name).toBe(`${job.name} (copy)`);
    expect(doc.items.words.text).toBe('COPIED');
    const { rows } = await pool.query('select id, bytes from asset where job_id = $1', [copy]);
    expect(rows).toHaveLength(1);
    expect(rows[0].bytes.equals(png)).toBe(true);
    expect(doc.notes).toBe(`picture ${rows[0].id}`);
    expect((await owner(`/api/jobs/${id}`, { method: 'DELETE' })).status).toBe(200);
    expect((await owner(`/api/jobs/${copy}`)).status).toBe(200);
    expect((await operator('/api/jobs/none', { method: 'POST', json: { as: 'copy' } })).status).toBe(404);
    expect((await operator(`/api/jobs/${copy}`, { method: 'POST', json: {} })).status).toBe(400);
    await newSign();
  });
});

describe('history', () => {
  interface Version {
    revision: number;
    label: string;
    author: string;
    named: string | null;
    picture: string | null;
  }
  const versions = async (query = '') => (await (await operator(`/api/jobs/${id}/versions${query}`)).json()) as { versions: Version[]; more: boolean };
  /** Saves the next revision, with a picture or without. */
  async function next(text: string, picture?: string) {
    const answer = await owner(`/api/jobs/${id}`, {
      method: 'PUT',
      json: { from: revision, label: 'Test', doc: withWords(text), ...(picture && { picture }) },
    });
    expect(answer.status).toBe(200);
    ({ revision } = await answer.json());
  }
  const PICTURE = (n: number) => `data:image/png;base64,${Buffer.from(`picture ${n}`).toString('base64')}`;
  it('lists every saved version, newest first, each with the picture it had', async () => {
    await newSign();
    const first = revision;
    await next('ONE', PICTURE(1));
    await next('TWO');
    await next('THREE', PICTURE(3));
    const { versions: all, more } = await versions();
    expect(more).toBe(false);
    expect(all.map((one) => one.revision)).toEqual([first + 3, first + 2, first + 1, first]);
    expect(all.map(({ picture }) => picture)).toEqual([PICTURE(3), PICTURE(1), PICTURE(1), null]);
    expect((await (await operator(`/api/jobs/${id}/versions/${first + 1}`)).json()).doc.items.words.text).toBe('ONE');
    expect((await operator(`/api/jobs/${id}/versions/${first + 9}`)).status).toBe(404);
    expect((await operator(`/api/jobs/${id}/versions/x`)).status).toBe(404);
  });
  it('names a version and finds it by that; a watcher does not', async () => {
    const at = revision - 1;
    const name = (named: string) => operator(`/api/jobs/${id}/versions/${at}`, { method: 'PATCH', json: { named } });
    expect((await name('  as ordered ')).status).toBe(200);
    expect((await versions('?named=1')).versions.map(({ revision: r, named }) => [r, named])).toEqual([[at, 'as ordered']]);
    expect((await name('')).status).toBe(200);
    expect((await versions('?named=1')).versions).toEqual([]);
    expect((await name('x'.repeat(81))).status).toBe(400);
    expect((await operator(`/api/jobs/${id}/versions/99999`, { method: 'PATCH', json: { named: 'x' } })).status).toBe(404);
    expect((await fetch(`${url}/api/jobs/${id}/versions`)).status).toBe(401);
  });
  it('goes on to older ones, a page at a time', async () => {
    for (let k = 0; k < 26; k++) await next(`V${k}`);
    const first = await versions();
    expect([first.versions.length, first.more]).toEqual([24, true]);
    const rest = await versions(`?before=${first.versions.at(-1)!.revision}`);
    expect(rest.more).toBe(false);
    const seen = [...first.versions, ...rest.versions].map((one) => one.revision);
    expect(seen).toEqual(Array.from({ length: revision }, (_, k) => revision - k));
  });
});

describe('templates', () => {
  it('a job kept as one is off the wall and offered for new signs; what is begun from it is a job of its own', async () => {
    await newSign();
    await save(withWords('STANDARD', { name: 'Standard plate' }));
    const { id: template } = await (await operator(`/api/jobs/${id}`, { method: 'POST', json: { as: 'template' } })).json();
    const wall = await (await operator('/')).text();
    expect(wall).not.toContain(`href="/job/${template}"`);
    expect(wall).toContain(template);
    const { id: begun } = await (await operator(`/api/jobs/${template}`, { method: 'POST', json: { as: 'sign' } })).json();
    const { doc } = await (await operator(`/api/jobs/${begun}`)).json();
    expect([doc.name, doc.items.words.text]).toEqual(['Standard plate', 'STANDARD']);
    expect(await (await operator('/')).text()).toContain(`href="/job/${begun}"`);
    // The template is changed like any job, and what was begun from it stays as it was.
    expect((await operator(`/api/jobs/${template}`, { method: 'PATCH', json: { away: true } })).status).toBe(200);
    expect(await (await operator('/')).text()).not.toContain(template);
    expect((await operator(`/api/jobs/${begun}`)).status).toBe(200);
    await newSign();
  });
});

describe('the shop’s settings', () => {
  const keep = (by: Person, fields: Record<string, string>) =>
    by('/settings', {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'application/json' },
      body: new URLSearchParams(fields).toString(),
    });
  const FIELDS = { name: 'Dunlin Signs', logo: '', units: 'in', fraction: '16', machine: '', material: 'oak' };
  it('are the owner’s to change, and stand on the wall', async () => {
    expect(await (await operator('/')).text()).toContain('Saltgrass Sign Shed');
    expect((await operator('/settings')).status).toBe(403);
    expect((await keep(operator, FIELDS)).status).toBe(403);
    await keep(owner, FIELDS);
    expect(await (await operator('/')).text()).toContain('Dunlin Signs');
    expect(await (await owner('/settings')).text()).toContain('Dunlin Signs');
  });
  it.each([
    ['no name', { ...FIELDS, name: '  ' }],
    ['a logo that is no picture', { ...FIELDS, logo: 'data:text/html;base64,PGI+' }],
    ['a fraction of sevenths', { ...FIELDS, fraction: '7' }],
  ])('%s is refused, and nothing is lost', async (_what, fields) => {
    expect(await (await keep(owner, fields)).json()).toMatchObject({ type: 'failure', status: 400 });
    expect(await (await operator('/')).text()).toContain('Dunlin Signs');
  });
  it('can be put back', async () => {
    await keep(owner, { ...FIELDS, name: 'Saltgrass Sign Shed', units: 'mm', fraction: '0', material: 'cedar' });
    expect(await (await operator('/')).text()).toContain('Saltgrass Sign Shed');
  });
});

describe('the crib and cut lists', () => {
  type Crib = { bits: { bit: { id: string; name: string; diameter: number }; hours: number }[] };
  const crib = async (response: Promise<Response>) => (await (await response).json()) as Crib;
  it('is there for everyone who is signed in, and begins with the usual set', async () => {
    expect((await fetch(`${url}/api/bits`)).status).toBe(401);
    const { bits } = await crib(operator('/api/bits'));
    expect(bits.length).toBeGreaterThan(8);
    expect(bits.every(({ hours }) => hours >= 0)).toBe(true);
  });
  it('keeps a bit, puts a better one in its place, and lets it go', async () => {
    const wide = { kind: 'v', id: 'wide', name: 'wide', angle: 120, diameter: 25 };
    await operator('/api/bits', { method: 'POST', json: { bits: [wide] } });
    const { bits } = await crib(operator('/api/bits', { method: 'POST', json: { bits: [{ ...wide, diameter: 30 }] } }));
    expect(bits.filter(({ bit }) => bit.id === 'wide').map(({ bit }) => bit.diameter)).toEqual([30]);
    const after = await crib(operator('/api/bits?id=wide', { method: 'DELETE' }));
    expect(after.bits.some(({ bit }) => bit.id === 'wide')).toBe(false);
  });
  it.each([[{ bits: [] }], [{ bits: [{ kind: 'chisel', id: 'x', diameter: 3 }] }], [{ bits: [{ kind: 'v', id: 'x', angle: 60, diameter: -3 }] }], [null]])(
    'refuses %j in words',
    async (body) => {
      const response = await operator('/api/bits', { method: 'POST', json: body });
      expect(response.status).toBe(422);
      expect((await response.json()).why).toMatch(/not kept/);
    },
  );
  it('keeps a cut list, one of a name, and gives it back as it was', async () => {
    const template = { kerbeTemplate: 2, name: 'Two holes', tools: job.tools, cuts: job.cuts, cutOrder: job.cutOrder };
    await operator('/api/templates', { method: 'POST', json: template });
    const answer = await operator('/api/templates', { method: 'POST', json: template });
    const { templates } = (await answer.json()) as { templates: { id: string; name: string; doc: unknown }[] };
    const mine = templates.filter(({ name }) => name === 'Two holes');
    expect(mine).toHaveLength(1);
    expect(mine[0].doc).toEqual(template);
    const left = (await (await operator(`/api/templates?id=${mine[0].id}`, { method: 'DELETE' })).json()) as { templates: { name: string }[] };
    expect(left.templates.some(({ name }) => name === 'Two holes')).toBe(false);
    expect((await operator('/api/templates', { method: 'POST', json: { name: 'half' } })).status).toBe(422);
  });
  it('gives a cut list kept in the words of before as one of today', async () => {
    const cuts = Object.fromEntries(Object.entries(job.cuts).map(([key, { tool: bit, ...cut }]) => [key, { ...cut, bit }]));
    const doc = { kerbeTemplate: 1, name: 'Old list', bits: job.tools, cuts, cutOrder: job.cutOrder };
    await pool.query("insert into cut_template (id, name, doc, author) values ('old', 'Old list', $1, '')", [JSON.stringify(doc)]);
    const { templates } = (await (await operator('/api/templates')).json()) as { templates: { id: string; doc: unknown }[] };
    expect(templates.find(({ id }) => id === 'old')!.doc).toEqual({
      kerbeTemplate: 2,
      name: 'Old list',
      tools: job.tools,
      cuts: job.cuts,
      cutOrder: job.cutOrder,
    });
    await operator('/api/templates?id=old', { method: 'DELETE' });
  });
  it('makes a job from another document, and refuses one that is none', async () => {
    const made = await operator('/api/jobs', { method: 'POST', json: { ...job, name: 'Other half' } });
    const { id: other } = (await made.json()) as { id: string };
    expect((await (await owner(`/api/jobs/${other}`)).json()).doc.name).toBe('Other half');
    expect((await operator('/api/jobs', { method: 'POST', json: { kerbe: 4 } })).status).toBe(422);
    await pool.query('delete from job where id = $1', [other]);
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
    // One ticked is not all of them: so fast a feed makes thick chips too.
    expect((await release(owner, { revision, accepted: ['feed-over-limit'] })).status).toBe(422);
    const response = await release(owner, { revision, accepted: ['feed-over-limit', 'chip-thick'] });
    expect(response.status).toBe(200);
    const { rows } = await pool.query('select report from release where id = $1', [(await response.json()).id]);
    expect(rows[0].report.accepted).toEqual(['feed-over-limit', 'chip-thick'].map((code) => ({ code, by: 'owner' })));
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
    by('/api/machines/simulated-router/command', { method: 'POST', json: command, headers: key ? { 'idempotency-key': key } : {} });
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
    expect((await response.json()).why).toMatch(/Before the start: home it/);
    expect((await pool.query('select 1 from run')).rowCount).toBe(0);
  });
  it('tells its state as a stream of events', async () => {
    const control = new AbortController();
    const response = await operator('/api/machines/events?machine=simulated-router', { signal: control.signal });
    const { value } = await response.body!.getReader().read();
    const text = new TextDecoder().decode(value);
    expect(text.startsWith('event: machine\ndata: ')).toBe(true);
    expect(JSON.parse(text.slice(text.indexOf('{')))).toMatchObject({ machine: 'simulated-router', snapshot: { agent: true, link: true, run: null } });
    control.abort();
  });
  it('a browser that goes while its session is looked at takes nothing down with it', async () => {
    const control = new AbortController();
    const response = await operator('/api/machines/events?machine=simulated-router', { signal: control.signal });
    await response.body!.getReader().read();
    const client = await pool.connect();
    await client.query('begin');
    await client.query('lock table session in access exclusive mode');
    // Every quarter of a minute the stream asks whether its session is good still: it waits for the answer, and the browser goes.
    await new Promise((done) => setTimeout(done, 16_000));
    control.abort();
    await new Promise((done) => setTimeout(done, 500));
    await client.query('rollback');
    client.release();
    await new Promise((done) => setTimeout(done, 500));
    expect((await fetch(`${url}/health`)).status).toBe(200);
  }, 60_000);
});

describe('machines', () => {
  type Row = { id: string; name: string; connected: boolean; doc: Record<string, unknown> };
  const rows = async () => (await pool.query('select id, name, connected, doc from machine order by name')).rows as Row[];
  it('are there from the first start: the simulated ones linked, an example on a cable not', async () => {
    expect((await rows()).map(({ name, connected }) => [name, connected])).toEqual([
      ['Shed router', false],
      ['Simulated laser', true],
      ['Simulated router', true],
      ['Simulated torch', true],
    ]);
    expect(await (await operator('/machines')).text()).toContain('Simulated router');
  });
  it('are the owner’s to change, and a profile that cannot be is refused in words', async () => {
    const shed = (await rows()).find(({ id: one }) => one === 'shed-router')!;
    expect((await operator('/api/machines/shed-router', { method: 'PUT', json: shed.doc })).status).toBe(403);
    const limits = shed.doc.limits as Record<string, unknown>;
    const bad = await owner('/api/machines/shed-router', { method: 'PUT', json: { ...shed.doc, limits: { ...limits, park: [5000, 0] } } });
    expect([bad.status, (await bad.json()).why]).toEqual([422, expect.stringContaining('parks')]);
    expect((await owner('/api/machines/shed-router', { method: 'PUT', json: { ...shed.doc, notes: 'Looked at.' } })).status).toBe(200);
    expect((await rows()).find(({ id: one }) => one === 'shed-router')!.doc.notes).toBe('Looked at.');
    expect((await owner('/api/machines', { method: 'POST', json: { kind: 'router' } })).status).toBe(400);
    const made = await owner('/api/machines', { method: 'POST', json: { ...shed.doc, limits: { ...limits, name: 'Third' } } });
    const { id: third } = (await made.json()) as { id: string };
    expect((await owner(`/api/machines/${third}`, { method: 'DELETE' })).status).toBe(200);
    expect((await owner('/api/machines/simulated-router', { method: 'DELETE' })).status).toBe(409);
  });
  it('keep the history of their spoilboard: 18.0 skimmed to 17.8', async () => {
    const response = await operator('/api/machines/simulated-router', { method: 'POST', json: { height: 17.8, note: 'no marks left' } });
    expect(response.status).toBe(200);
    expect((await operator('/api/machines/simulated-router', { method: 'POST', json: { height: -1 } })).status).toBe(400);
    // Thicker than before is no skim, and too thin is said; both can be meant.
    const said = async (json: object) => (await operator('/api/machines/simulated-router', { method: 'POST', json })).json();
    expect((await said({ height: 19 })).why).toMatch(/was 17.8 mm thick.*new spoilboard/);
    expect((await said({ height: 7 })).why).toMatch(/Below 8 mm/);
    const { rows: skims } = await pool.query("select height, author from spoilboard_skim where machine_id = 'simulated-router' order by id");
    expect(skims).toEqual([
      { height: 18, author: 'owner' },
      { height: 17.8, author: 'operator' },
    ]);
    expect(((await rows()).find(({ id: one }) => one === 'simulated-router')!.doc.spoilboard as { height: number }).height).toBe(17.8);
  });
  it('show what was said on the wire', async () => {
    const talk = (await (await operator('/api/machines/simulated-router/talk')).json()) as { profile: { talk: string }; talk: { way: string; text: string }[] };
    expect(talk.profile.talk).toBe('kerbe');
    expect(talk.talk.length).toBeGreaterThan(0);
  });
});

describe('commands', () => {
  const send = (by: Person, command: Record<string, unknown>) =>
    by('/api/machines/simulated-router/command', {
      method: 'POST',
      json: command,
      headers: { 'idempotency-key': crypto.randomUUID(), 'x-kerbe-tab': by === owner ? 'o' : 'p' },
    });
  const why = async (by: Person, command: Record<string, unknown>) => ((await (await send(by, command)).json()) as { why: string | null }).why;
  it('are for those whose role it is: a watcher holds and stops, and moves nothing', async () => {
    const form = { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' } };
    await owner('/people?/make', { ...form, body: 'name=Sedge&email=sedge@saltgrass.example&role=watcher&password=a-long-password' });
    const watcher = await signIn(url, 'sedge@saltgrass.example', 'a-long-password');
    expect((await send(watcher, { do: 'home' })).status).toBe(403);
    expect(await why(watcher, { do: 'jog', x: 1, y: 0, z: 0, feed: 100 })).toMatch(/watch, hold and stop/);
    expect((await send(watcher, { do: 'stop' })).status).toBe(200);
    expect((await send(operator, { do: 'raw', text: '?' })).status).toBe(403);
    // What a machine is linked to is changed on its page, and by nobody’s command.
    expect((await send(owner, { do: 'connect', linked: null })).status).toBe(400);
  });
  it('go through for whoever holds the controls; the other is told who does', async () => {
    expect(await why(owner, { do: 'take' })).toBeNull();
    expect(await why(operator, { do: 'home' })).toMatch(/Owner is in control/);
    expect(await why(operator, { do: 'take' })).toBeNull();
    expect(await why(owner, { do: 'home' })).toMatch(/Operator is in control/);
    expect(await why(operator, { do: 'leave' })).toBeNull();
  });
  it('are written down, every one, refused or not', async () => {
    await new Promise((done) => setTimeout(done, 200));
    const { rows } = await pool.query("select command, author, refused from audit where command in ('take', 'home') order by id desc limit 4");
    expect(rows.reverse()).toMatchObject([
      { command: 'take', author: 'owner', refused: null },
      { command: 'home', author: 'operator', refused: expect.stringContaining('in control') },
      { command: 'take', author: 'operator', refused: null },
      { command: 'home', author: 'owner', refused: expect.stringContaining('in control') },
    ]);
  });
  it('keep how an exercise went for the one who did it, and no exercise that is none', async () => {
    const result = { exercise: 'why-not', passed: true, slips: [], seconds: 42 };
    expect((await operator('/api/exercises', { method: 'POST', json: result })).status).toBe(200);
    expect((await operator('/api/exercises', { method: 'POST', json: { ...result, exercise: 'juggling' } })).status).toBe(400);
    const { rows } = await pool.query('select learner, exercise, passed from exercise_result');
    expect(rows).toEqual([{ learner: 'operator', exercise: 'why-not', passed: true }]);
  });
  it('begin programs of the exercises on simulated machines, which say what is still wanting; of no other kind, and none that is none', async () => {
    const practise = async (machine: string, program: string) =>
      (
        (await (
          await owner(`/api/machines/${machine}/command`, {
            method: 'POST',
            json: { do: 'practice', program },
            headers: { 'idempotency-key': crypto.randomUUID() },
          })
        ).json()) as { why: string | null }
      ).why;
    expect(await practise('simulated-torch', 'part.nc')).toMatch(/does not know where it is|have not been set/);
    expect(await practise('simulated-torch', 'leaf.nc')).toMatch(/no such practice program/);
    expect(await practise('simulated-router', 'part.nc')).toMatch(/no such practice program/);
    const [real] = (await pool.query<{ id: string }>(`select id from machine where id not like 'simulated-%'`)).rows;
    for (const none of [real.id, 'nowhere']) expect(await practise(none, 'part.nc')).toMatch(/simulated machines only/);
  });
});

describe('the demo board, from release to carved wood', () => {
  it('is carved as it was drawn: nothing outside the letters, walls that meet the drawn line', async () => {
    const { rows } = await pool.query("select id, revision, doc from job where name = 'Heron Walk'");
    const [{ id: demo, revision: at, doc }] = rows as { id: string; revision: number; doc: Job }[];
    const made = await (await owner(`/api/jobs/${demo}/release`, { method: 'POST', json: { revision: at, accepted: [] } })).json();
    const send = (command: Record<string, unknown>) => must(operator, command);
    const watcher = new Watcher(operator);
    await watcher.until((now) => now.link);
    const board = { x: 150, y: 200, width: doc.board.width, height: doc.board.height, thickness: doc.board.thickness };
    const middle = [board.x + 300, board.y + 20];
    await send({ do: 'home' });
    await send({ do: 'bench', change: { board, cell: 0.25, bit: { shape: doc.tools.v60, stickOut: 40 } } });
    await send({ do: 'measure', bit: 'v60' });
    await send({ do: 'move-over', x: board.x, y: board.y });
    await send({ do: 'zero-xy', corner: doc.datum.corner, job: demo });
    await send({ do: 'move-over', x: middle[0], y: middle[1] });
    await send({ do: 'bench', change: { plate: { x: middle[0], y: middle[1], thickness: 10 }, probeClip: true } });
    await send({ do: 'zero-z', method: 'plate', thickness: 10, datum: doc.datum.z, job: demo });
    await send({ do: 'bench', change: { plate: null, probeClip: false } });
    // Not before every step is done: each refusal names the next.
    const start = { do: 'start', release: made.id, program: 'program-1-v60-12.7+end-6.35.nc' };
    const sha = (await operator(`/api/releases/${made.id}/${encodeURIComponent(start.program)}`)).headers.get('x-sha256')!;
    for (const step of ['held', 'collet', 'warm', 'place', 'frame', 'dust', 'person']) {
      const why = await tell(operator, start);
      expect(why).toMatch(/^Before the start: /);
      const snapshot: MachineSnapshot = watcher.now;
      const key = step === 'collet' ? `v60 ${snapshot.status!.world!.fitting}` : sha;
      if (step === 'place') {
        // The board lies elsewhere than it is drawn on the bed: it is said, and pulled there.
        expect(why).toMatch(/runs [\d.]+ mm off the board/);
        await send({ do: 'place-board', x: board.x, y: board.y });
      } else if (step === 'dust') await send({ do: 'bench', change: { dust: true } });
      else if (step === 'frame') await send({ do: 'frame', release: made.id, program: start.program, shape: 'outline', height: 15 });
      else await send({ do: 'confirm', id: step, key, skipped: step === 'warm' });
    }
    expect(await tell(operator, start)).toMatch(/unless somebody is at the machine/);
    await send({ ...start, here: true });
    await watcher.until((now) => now.run?.state === 'paused' && now.status?.state === 'idle' && now.status.spindle!.actual === 0);
    await send({ do: 'bench', change: { bit: { shape: doc.tools.end6, stickOut: 33 } } });
    expect(await tell(operator, { do: 'measure', bit: 'end6' })).toMatch(/hands are off/);
    await send({ do: 'measure', bit: 'end6', handsOff: true });
    await send({ do: 'resume', handsOff: true });
    await watcher.until((now) => now.run?.state === 'done');
    const map = (await (await operator('/api/machines/simulated-router/map')).json()) as { columns: number; data: string };
    await watcher.close();
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
    // The estimate is the motion planner's own: the machine needs about that long. The record has it a moment after the screen.
    const record = () => pool.query("select actual_seconds, estimate_seconds from run where release_id = $1 and state = 'done'", [made.id]);
    for (let i = 0; i < 100 && (await record()).rows.length === 0; i++) await new Promise((done) => setTimeout(done, 100));
    const [{ actual_seconds: actual, estimate_seconds: estimate }] = (await record()).rows;
    expect(actual / estimate).toBeGreaterThan(0.8);
    expect(actual / estimate).toBeLessThan(1.5);
    // Its hours are counted with the bits of the crib that cut it, shared out as they were planned.
    const { bits } = (await (await owner('/api/bits')).json()) as { bits: { bit: { id: string }; hours: number }[] };
    const hours = bits.filter(({ hours: h }) => h > 0);
    expect(hours.map(({ bit }) => bit.id).sort()).toEqual(['end6', 'v60']);
    expect(hours.reduce((sum, { hours: h }) => sum + h, 0) * 3600).toBeCloseTo(actual, 3);
  }, 120_000);

  it('stands in the record: who, zero, what was skipped, each bit’s seconds; a defect with its cause, a photo, CSV', async () => {
    const { rows } = await pool.query("select * from run where state = 'done'");
    expect(rows).toHaveLength(1);
    const [run] = rows;
    expect(run).toMatchObject({ author: 'operator', machine: 'Simulated router', from_line: null });
    expect(run.setup.zeroXY).toMatchObject({ corner: 'lower-left' });
    expect(run.setup.confirmed.find(({ id: step }: { id: string }) => step === 'warm')).toMatchObject({ skipped: true, by: 'operator' });
    expect(Object.keys(run.bit_seconds).sort()).toEqual(['end6', 'v60']);
    const sum = Object.values(run.bit_seconds as Record<string, number>).reduce((a, b) => a + b, 0);
    expect(sum).toBeCloseTo(run.actual_seconds, 3);
    const { events } = (await (await operator(`/api/runs/${run.id}`)).json()) as { events: { event: string; text: string | null }[] };
    expect(events.map(({ event }) => event)).toEqual(['start', 'paused', 'measured', 'running', 'done']);
    expect(events[0].text).toMatch(/skipped: warm \(operator\)/);

    const wrong = await operator(`/api/runs/${run.id}`, { method: 'PATCH', json: { defect: { kind: 'too-shallow', note: 'the K' } } });
    expect((await wrong.json()).defects).toMatchObject([{ kind: 'too-shallow', note: 'the K', by: 'operator', cause: expect.stringMatching(/Z0/) }]);
    expect((await operator(`/api/runs/${run.id}`, { method: 'PATCH', json: { defect: { kind: 'haunted' } } })).status).toBe(400);
    const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
    const photo = await operator(`/api/runs/${run.id}/photo?name=board.png`, { method: 'POST', body: png, headers: { 'content-type': 'image/png' } });
    expect([photo.status, (await photo.json()).why]).toEqual([200, null]);
    expect((await operator(`/api/runs/${run.id}/photo?name=x.png`, { method: 'POST', body: 'no picture' })).status).toBe(422);
    expect(((await (await operator(`/api/runs/${run.id}`)).json()) as { photos: unknown[] }).photos).toHaveLength(1);
    await operator(`/api/runs/${run.id}`, { method: 'PATCH', json: { notes: '=2+3 is no sum here' } });

    const csv = await (await operator('/api/logbook?find=heron%20cedar%20shallow')).text();
    const [head, line, ...rest] = csv.split('\n');
    expect(head.split(',')).toContain('took_seconds');
    expect(line).toMatch(/Heron Walk,cedar/);
    expect(line).toContain('too-shallow: the K');
    // No cell of it is a formula in a spreadsheet.
    expect(line).toContain("'=2+3");
    expect(rest.filter(Boolean)).toEqual([]);
    expect((await (await operator('/api/logbook?find=walnut')).text()).split('\n').filter(Boolean)).toHaveLength(0);
    expect(await (await operator('/logbook?find=heron')).text()).toContain('Heron Walk');
    expect(await (await operator('/logbook?find=heron&state=failed')).text()).toContain('Nothing in the log says that');
  });
});
