/** Every route that writes is in the table of who may, and keeps to it: tried by nobody, a watcher and an operator. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, inject, it } from 'vitest';
import { refusedWrite, WRITES } from './access';
import { comeIn, type Person } from './testing';

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

it('the table lists every writing route there is, and no other', () => {
  const names = (all: [string, string][]) => all.map((one) => one.join(' ')).sort();
  expect(names(listed)).toEqual(names(exported));
  expect(listed.length).toBeGreaterThan(15);
});
it('what is not in it takes nothing', () => {
  expect(refusedWrite('/api/nowhere', 'POST', 'owner')).toMatch(/Nothing can be written/);
  expect(refusedWrite('/api/jobs', 'DELETE', 'owner')).toMatch(/Nothing can be written/);
  expect(refusedWrite(null, 'POST', 'owner')).toMatch(/Nothing can be written/);
  expect(refusedWrite('/api/nowhere', 'GET', null)).toBeNull();
});

describe('each is refused to whom it is not for', () => {
  const people: { nobody?: Person; watcher?: Person; operator?: Person } = {};
  beforeAll(async () => {
    const owner = await comeIn(url, 'owner');
    people.operator = await comeIn(url, 'operator');
    await owner('/people', {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: 'name=Sallow&email=sallow@saltgrass.example&role=watcher&password=a-long-password',
    });
    const come = await fetch(`${url}/sign-in`, {
      method: 'POST',
      redirect: 'manual',
      headers: { origin: url, 'content-type': 'application/x-www-form-urlencoded' },
      body: 'email=sallow@saltgrass.example&password=a-long-password',
    });
    const cookie = come.headers.getSetCookie().map((text) => text.split(';')[0]).join('; '); // prettier-ignore
    expect(cookie).not.toBe('');
    const as =
      (held: string): Person =>
      (path, { json, ...init } = {}) =>
        fetch(url + path, {
          redirect: 'manual',
          ...init,
          headers: { cookie: held, origin: url, ...(init.headers as Record<string, string>) },
          body: json === undefined ? init.body : JSON.stringify(json),
        });
    people.watcher = as(cookie);
    people.nobody = as('');
  });
  it.each(listed)('%s %s', async (route, method) => {
    const path = route.replace('[id]', 'nothing-of-that-name');
    const least = WRITES[route][method as 'POST']!;
    const form = !route.startsWith('/api/');
    const body = form
      ? { body: '', headers: { 'content-type': 'application/x-www-form-urlencoded' } }
      : { body: '{}', headers: { 'content-type': 'application/json' } };
    const status = async (by: Person) => (await by(path, { method, ...body })).status;
    if (least === 'anybody') return;
    // A form's answer may be told to a script: then it is said in words that one must sign in first.
    const answer = await people.nobody!(path, { method, ...body });
    if (answer.status === 200) expect(await answer.json()).toMatchObject({ type: 'redirect', location: expect.stringMatching(/^\/sign-in/) });
    else expect([401, 303]).toContain(answer.status);
    if (least !== 'watcher') expect(await status(people.watcher!)).toBe(403);
    if (least === 'owner') expect(await status(people.operator!)).toBe(403);
    else expect(await status(people.operator!)).not.toBe(403);
  });
});
