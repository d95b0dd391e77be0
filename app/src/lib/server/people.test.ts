/** Accounts over HTTP: made, changed, removed; sessions and streams that end at once; guessing that is slow. */
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { comeIn, signIn, Watcher, type Person } from './testing';

const url = inject('url');
const pool = new pg.Pool({ connectionString: inject('database'), max: 1 });
afterAll(() => pool.end());
let owner: Person;
let me: string;
beforeAll(async () => {
  owner = await comeIn(url, 'owner');
  me = (await list()).find(({ name }) => name === 'owner')!.id;
});

const form = (by: Person, path: string, fields: Record<string, string>) =>
  by(path, {
    method: 'POST',
    headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'application/json' },
    body: new URLSearchParams(fields).toString(),
    // Who is no owner by now is refused before the form is read, in plain words.
  }).then((response) => response.text());
const PASSWORD = 'willow kettle nine';
let made = 0;
async function list(): Promise<{ id: string; name: string; role: string }[]> {
  const page = await (await owner('/people')).text();
  return [...page.matchAll(/\{id:"([^"]+)",name:"([^"]*)",email:"[^"]*",role:"(\w+)"\}/g)].map(([, id, name, role]) => ({ id, name, role }));
}
async function person(role = 'operator', name = `Person ${++made}`) {
  const email = `person${++made}@saltgrass.example`;
  expect(await form(owner, '/people?/make', { name, email, role, password: PASSWORD })).toContain('can sign in now');
  return { id: (await list()).find((one) => one.name === name)!.id, email, name, by: await signIn(url, email, PASSWORD) };
}
const status = async (by: Person) => (await by('/api/bits')).status;
const wrong = (email: string, more: Record<string, string> = {}) =>
  fetch(`${url}/sign-in`, {
    method: 'POST',
    headers: { origin: url, accept: 'application/json', 'content-type': 'application/x-www-form-urlencoded', ...more },
    body: new URLSearchParams({ email, password: 'not the password' }).toString(),
  }).then((response) => response.text());

describe('names', () => {
  it('are there once, however they are written, and never empty', async () => {
    await person('operator', 'Heron');
    expect(await form(owner, '/people?/make', { name: 'HERON', email: 'h2@saltgrass.example', role: 'operator', password: PASSWORD })).toContain(
      'called HERON already',
    );
    expect(await form(owner, '/people?/make', { name: ' \u200b\0 ', email: 'h3@saltgrass.example', role: 'operator', password: PASSWORD })).toMatch(
      /�|Type a name/,
    );
  });
  it('an operator cannot take the owner’s, whatever the letters', async () => {
    const { by } = await person();
    expect(await form(by, '/account?/name', { name: 'Owner' })).toContain('called Owner already');
    expect(await form(by, '/account?/name', { name: 'x'.repeat(61) })).toContain('too long');
    expect(await form(by, '/account?/name', { name: 'Night Heron' })).toContain('You are called Night Heron now');
  });
});

describe('what an owner does with an account holds at once', () => {
  it('the role', async () => {
    const { id, by, name } = await person('watcher');
    expect((await by('/api/bits', { method: 'POST', json: { usual: true } })).status).toBe(403);
    expect(await form(owner, '/people?/role', { id, name, role: 'operator' })).toContain('was changed');
    expect((await by('/api/bits', { method: 'POST', json: { usual: true } })).status).toBe(200);
  });
  it('signed out everywhere: requests and open streams', async () => {
    const { id, email, by, name } = await person();
    const watcher = new Watcher(by);
    await watcher.until(() => watcher.seen > 0);
    expect(await form(owner, '/people?/end', { id, name })).toContain('signed out');
    await watcher.ended();
    expect(await status(by)).toBe(401);
    expect((await by('/api/machines/simulated-router/hold', { method: 'POST', headers: { 'idempotency-key': 'x' } })).status).toBe(401);
    // Not only here: none of them would be good again after a restart.
    for (const more of [1, 2, 3]) expect(await status(await signIn(url, email, PASSWORD)), String(more)).toBe(200);
    await form(owner, '/people?/end', { id, name });
    expect((await pool.query('select 1 from session where "userId" = $1', [id])).rows).toEqual([]);
  });
  it('another password: the old one and all sessions are void, the new one is measured', async () => {
    const { id, email, by, name } = await person();
    expect(await form(owner, '/people?/password', { id, name, password: 'password12345' })).toContain('first that are tried');
    expect(await status(by)).toBe(200);
    expect(await form(owner, '/people?/password', { id, name, password: 'another kettle ten' })).toContain('another password');
    expect(await status(by)).toBe(401);
    await expect(signIn(url, email, PASSWORD)).rejects.toThrow();
    expect(await status(await signIn(url, email, 'another kettle ten'))).toBe(200);
  });
  it('removed: they cannot come in any more, and what they did stays', async () => {
    const { id, email, by, name } = await person();
    expect(await form(owner, '/people?/remove', { id, name })).toContain('no longer in the shop');
    expect(await status(by)).toBe(401);
    await expect(signIn(url, email, PASSWORD)).rejects.toThrow();
    expect(await form(owner, '/people?/remove', { id, name })).toContain('not in the shop any more');
  });
  it('the last owner stays one; of two who demote each other at once one stays', async () => {
    expect(await form(owner, '/people?/role', { id: me, name: 'owner', role: 'watcher' })).toContain('no other owner');
    expect(await form(owner, '/people?/remove', { id: me, name: 'owner' })).toContain('no other owner');
    const second = await person('owner');
    await Promise.all([
      form(owner, '/people?/role', { id: second.id, name: second.name, role: 'operator' }),
      form(second.by, '/people?/role', { id: me, name: 'owner', role: 'operator' }),
    ]);
    const owners = async (by: Person) => (await by('/people')).status === 200;
    const still = [await owners(owner), await owners(second.by)];
    expect(still.filter(Boolean)).toHaveLength(1);
    // As it was, for whatever comes after.
    const left = still[0] ? owner : second.by;
    await form(left, '/people?/role', { id: me, name: 'owner', role: 'owner' });
    await form(owner, '/people?/remove', { id: second.id, name: second.name });
    expect(await owners(owner)).toBe(true);
  });
});

describe('one’s own account', () => {
  it('lists where one is signed in, and ends it there', async () => {
    const { email, by } = await person();
    const other = await signIn(url, email, PASSWORD);
    const page = await (await by('/account')).text();
    const ids = [...page.matchAll(/\{id:"([^"]+)",here:(true|false)/g)];
    expect(ids.map(([, , here]) => here).sort()).toEqual(['false', 'true']);
    expect(page).not.toMatch(/token/i);
    expect(await form(by, '/account?/end', { session: ids.find(([, , here]) => here === 'false')![1] })).toContain('Signed out');
    expect([await status(by), await status(other)]).toEqual([200, 401]);
  });
  it('changes the password with the old one only; other screens are signed out', async () => {
    const { email, by } = await person();
    const other = await signIn(url, email, PASSWORD);
    expect(await form(by, '/account?/password', { old: 'wrong one', password: 'fresh kettle ten' })).toContain('not the password you have');
    expect(await form(by, '/account?/password', { old: PASSWORD, password: 'short' })).toContain('ten characters');
    expect(await form(by, '/account?/password', { old: PASSWORD, password: 'fresh kettle ten' })).toContain('was changed');
    expect([await status(by), await status(other)]).toEqual([200, 401]);
  });
  it('signing out ends it everywhere it is used, its stream too', async () => {
    const { by } = await person();
    const watcher = new Watcher(by);
    await watcher.until(() => watcher.seen > 0);
    expect((await by('/api/sign-out', { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded' } })).status).toBe(303);
    await watcher.ended();
    expect(await status(by)).toBe(401);
  });
});

describe('guessing', () => {
  it('an account: after a few it is refused, the right password too, and an address brought along changes nothing', async () => {
    const { email } = await person();
    const answers: string[] = [];
    for (let k = 0; k < 8; k++) answers.push(await wrong(email, { 'x-forwarded-for': `203.0.113.${k}`, 'x-kerbe-address': `203.0.113.${k}` }));
    expect(answers.slice(0, 5).every((text) => text.includes('do not belong together'))).toBe(true);
    expect(answers.slice(5).every((text) => text.includes('Too many wrong passwords'))).toBe(true);
    await expect(signIn(url, email, PASSWORD)).rejects.toThrow(/429|Too many/);
  });
  it('there is no other way in: the library’s own routes are not served', async () => {
    for (const path of ['sign-in/email', 'sign-up/email', 'admin/create-user', 'admin/list-users', 'change-password', 'get-session'])
      for (const method of ['GET', 'POST'])
        expect((await owner(`/api/auth/${path}`, { method, ...(method === 'POST' ? { json: {} } : {}) })).status).toBeGreaterThanOrEqual(403);
  });
});
