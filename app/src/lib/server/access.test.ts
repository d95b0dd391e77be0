/** Every route that writes is in the table of who may, and keeps to it: tried by nobody, each role, from elsewhere, too large, too often, for another's job. */
import { readdirSync, readFileSync } from 'node:fs';
import { request } from 'node:http';
import { join } from 'node:path';
import { beforeAll, describe, expect, inject, it } from 'vitest';
import { refusal, WRITES, type Asked } from './access';
import { comeIn, signIn, type Person } from './testing';

const url = inject('url');
const routes = join(import.meta.dirname, '../../routes');
const METHODS = ['POST', 'PUT', 'PATCH', 'DELETE'] as const;

const files = readdirSync(routes, { recursive: true, encoding: 'utf8' });

/** What the files themselves export. */
const exported: [string, string][] = [
  ...files
    .filter((file) => /(^|\/)\+server\.ts$/.test(file))
    .flatMap((file) =>
      METHODS.filter((method) => new RegExp(`export const ${method}\\b`).test(readFileSync(join(routes, file), 'utf8'))).map((method): [string, string] => [
        `/${file.replace(/\/?\+server\.ts$/, '')}`,
        method,
      ]),
    ),
  ...files
    .filter((file) => file.endsWith('+page.server.ts') && /export const actions\b/.test(readFileSync(join(routes, file), 'utf8')))
    .map((file): [string, string] => [`/${file.replace(/\/?\+page\.server\.ts$/, '')}`, 'POST']),
];
const listed = Object.entries(WRITES).flatMap(([route, methods]) => Object.keys(methods).map((method): [string, string] => [route, method]));
const ruleOf = (route: string, method: string) => WRITES[route][method as 'POST']!;

const asked = (change: Partial<Asked>): Asked => ({
  route: '/api/jobs',
  method: 'POST',
  role: 'owner',
  origin: null,
  site: null,
  own: 'http://here',
  length: 0,
  who: Math.random().toString(),
  ...change,
});

it('the table lists every writing route there is, and no other', () => {
  const names = (all: [string, string][]) => all.map((one) => one.join(' ')).sort();
  expect(names(listed)).toEqual(names(exported));
  expect(listed.length).toBeGreaterThan(20);
});
it('what is not in it takes nothing', () => {
  expect(refusal(asked({ route: '/api/nowhere' }))?.why).toMatch(/Nothing can be written/);
  expect(refusal(asked({ method: 'DELETE' }))?.why).toMatch(/Nothing can be written/);
  expect(refusal(asked({ route: null }))?.why).toMatch(/Nothing can be written/);
  expect(refusal(asked({ route: '/api/nowhere', method: 'GET', role: null }))).toBeNull();
});
describe.each(listed)('the rule of %s %s', (route, method) => {
  const { least, bytes, rate } = ruleOf(route, method);
  const right = { route, method, role: least === 'anybody' ? null : least, length: bytes, origin: 'http://here', site: 'same-origin' };
  it('lets in whom it is for', () => expect(refusal(asked(right))).toBeNull());
  it('refuses other sites, by either thing a browser says', () => {
    expect(refusal(asked({ ...right, origin: 'http://elsewhere' }))?.status).toBe(403);
    expect(refusal(asked({ ...right, origin: 'null' }))?.status).toBe(403);
    expect(refusal(asked({ ...right, origin: null, site: 'cross-site' }))?.status).toBe(403);
    expect(refusal(asked({ ...right, origin: null, site: 'same-site' }))?.status).toBe(403);
  });
  it('refuses a byte too many, and a length that is not said', () => {
    expect(refusal(asked({ ...right, length: bytes + 1 }))?.status).toBe(413);
    expect(refusal(asked({ ...right, length: null }))?.status).toBe(411);
  });
  it('refuses what comes too often, for them alone', () => {
    if (rate === Infinity) return;
    const who = `busy ${route} ${method}`;
    for (let k = 0; k < rate; k++) expect(refusal(asked({ ...right, who }), 0)).toBeNull();
    expect(refusal(asked({ ...right, who }), 0)?.status).toBe(429);
    expect(refusal(asked({ ...right, who: `${who}, another` }), 0)).toBeNull();
    expect(refusal(asked({ ...right, who }), 60_000)).toBeNull();
  });
});

describe('over HTTP', () => {
  const people: { nobody: Person; watcher?: Person; operator?: Person; owner?: Person } = {
    nobody: (path, { json, ...init } = {}) => fetch(url + path, { redirect: 'manual', ...init, body: json === undefined ? init.body : JSON.stringify(json), headers: { origin: url, ...(init.headers as object) } }), // prettier-ignore
  };
  let job = '';
  beforeAll(async () => {
    people.owner = await comeIn(url, 'owner');
    people.operator = await comeIn(url, 'operator');
    await people.owner('/people?/make', {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: 'name=Sallow&email=sallow@saltgrass.example&role=watcher&password=a-long-password-of-sallow',
    });
    people.watcher = await signIn(url, 'sallow@saltgrass.example', 'a-long-password-of-sallow');
    const body = new URLSearchParams({ piece: 'sign', units: 'mm', width: '400', height: '150', thickness: '18', material: 'pine' });
    const made = await people.owner('/?/new', { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded' }, body });
    job = (made.headers.get('location') ?? JSON.stringify(await made.json())).match(/\/job\/([\w-]+)/)![1];
  });
  const pathOf = (route: string) => route.replace('[id]', 'nothing-of-that-name');
  const bodyOf = (route: string) =>
    route.startsWith('/api/')
      ? { body: '{}', headers: { 'content-type': 'application/json' } }
      : { body: '', headers: { 'content-type': 'application/x-www-form-urlencoded' } };

  it.each(listed)('%s %s: nobody, watcher, operator', async (route, method) => {
    const { least } = ruleOf(route, method);
    const status = async (by: Person) => (await by(pathOf(route), { method, ...bodyOf(route) })).status;
    if (least === 'anybody') return;
    // A form's answer may be told to a script: then it is said in words that one must sign in first.
    const answer = await people.nobody(pathOf(route), { method, ...bodyOf(route) });
    if (answer.status === 200) expect(await answer.json()).toMatchObject({ type: 'redirect', location: expect.stringMatching(/^\/sign-in/) });
    else expect([401, 303]).toContain(answer.status);
    if (least !== 'watcher') expect(await status(people.watcher!)).toBe(403);
    if (least === 'owner') expect(await status(people.operator!)).toBe(403);
    else expect(await status(people.operator!)).not.toBe(403);
  });
  it.each(listed)('%s %s: from another site, whoever asks', async (route, method) => {
    const { headers, body } = bodyOf(route);
    const answer = await people.owner!(pathOf(route), { method, body, headers: { ...headers, origin: 'https://elsewhere.example' } });
    expect(answer.status).toBe(403);
  });
  it.each(listed.filter(([route, method]) => ruleOf(route, method).bytes <= 1024 * 1024))('%s %s: a body that is too large', async (route, method) => {
    const { bytes, least } = ruleOf(route, method);
    // The door's own; and Hold and Stop, whose bodies it drops unread.
    if (least === 'anybody' && route.startsWith('/api/machines/simulated-router/command')) return;
    if (/\/(hold|stop)$/.test(route)) return;
    const answer = await people.owner!(pathOf(route), { method, headers: bodyOf(route).headers, body: 'x'.repeat(bytes + 1) });
    expect(answer.status).toBe(413);
  });
  it('a body that says no length', async () => {
    const status = await new Promise<number>((done, fail) => {
      const sent = request(`${url}/sign-in`, { method: 'POST', headers: { 'transfer-encoding': 'chunked', origin: url } }, (answer) => done(answer.statusCode!)).on('error', fail); // prettier-ignore
      sent.end('email=x');
    });
    expect(status).toBe(411);
  });
  it('what belongs to another job is not taken for this one', async () => {
    const owner = people.owner!;
    expect((await owner('/api/jobs/another/files?name=x.svg', { method: 'POST', body: '<svg/>' })).status).toBe(404);
    expect((await owner(`/api/jobs/${job}/release`, { method: 'POST', json: { revision: 999, accepted: [] } })).status).toBe(404);
    expect((await owner('/api/runs/another', { method: 'PATCH', json: { notes: 'x' } })).status).toBe(404);
    expect((await owner('/api/runs/another', { method: 'PATCH', json: { defect: { kind: 'other' } } })).status).not.toBe(200);
    expect((await owner('/api/runs/another/photo?photo=another', { method: 'DELETE' })).status).toBe(404);
    expect((await owner('/api/jobs/another', { method: 'DELETE' })).status).toBe(404);
    expect((await owner('/api/jobs/another', { method: 'PATCH', json: { away: true } })).status).toBe(404);
    expect((await owner(`/api/releases/${job}/x.nc`)).status).toBe(404);
  });
  it('the door’s own way is for nobody else', async () => {
    const told = (headers: Record<string, string>) =>
      people.owner!('/api/machines/simulated-router/told', { method: 'POST', json: { do: 'hold', id: 'x', name: 'x' }, headers });
    expect((await told({})).status).toBe(403);
    expect((await told({ 'x-kerbe-door': 'guessed' })).status).toBe(403);
  });
});
