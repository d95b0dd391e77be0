/** For whoever runs the installation: whether it is well, figures of it, its log; a backup taken while it runs, and put into an empty place. */
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, chmodSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { backup, restore } from '../../../../scripts/backup.mjs';
import { startDatabase } from '../../../../scripts/database.mjs';
import { startStack } from '../../../../scripts/stack.mjs';
import { comeIn, signIn, type Person } from './testing';

const url = inject('url');
const home = inject('home');
let owner: Person;
let folder: string;
beforeAll(async () => {
  owner = await comeIn(url, 'owner');
  folder = mkdtempSync(join(tmpdir(), 'kerbe-watch-'));
  chmodSync(folder, 0o755);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('whether it is well', () => {
  it('is said to anybody, without a secret', async () => {
    const response = await fetch(`${url}/health`);
    expect(response.status).toBe(200);
    expect(await response.json()).toEqual({ live: true, ready: true, reasons: [], agents: { known: expect.any(Number), away: [] } });
    expect(await (await fetch(`${url}/health?live`)).json()).toEqual({ live: true });
  });
  it('figures want the token, and count requests by their route, never by what stands in it', async () => {
    expect((await fetch(`${url}/metrics`)).status).toBe(401);
    expect((await fetch(`${url}/metrics`, { headers: { authorization: 'Bearer x' } })).status).toBe(401);
    await owner('/api/jobs/there-is-none');
    const text = await (await fetch(`${url}/metrics`, { headers: { authorization: `Bearer ${inject('metrics')}` } })).text();
    expect(text).toMatch(/kerbe_http_request_seconds_count\{route="\/api\/jobs\/\[id\]",method="GET",status="404"\} [1-9]/);
    for (const name of ['kerbe_heavy_work', 'kerbe_agents', 'kerbe_runs', 'kerbe_database_connections', 'kerbe_nodejs_eventloop_lag_seconds'])
      expect(text).toContain(`# TYPE ${name} `);
    expect(text).not.toContain('there-is-none');
    // The text format of Prometheus: every line is a comment, or a name, labels and a number. (Published: Prometheus exposition format 0.0.4; from memory.)
    for (const line of text.split('\n').filter(Boolean)) expect(line).toMatch(/^(# (HELP|TYPE) |[a-z_][a-z0-9_]*(\{[^}]*\})? (-?[\d.e+-]+|nan)$)/i);
  });
  it('every answer has the id of its request: the one that was given, when it is a plain word', async () => {
    const id = async (given?: string) => (await fetch(`${url}/health`, { headers: given ? { 'x-request-id': given } : {} })).headers.get('x-request-id');
    expect(await id('from-a-proxy-7')).toBe('from-a-proxy-7');
    expect(await id('two words {"x":1}')).toMatch(/^[0-9a-f-]{36}$/);
    expect(await id()).not.toBe(await id());
  });
  it('what goes wrong in a browser is in the log, as one line of JSON, by its request', async () => {
    const response = await owner('/api/troubles', {
      method: 'POST',
      json: { message: 'x is undefined', stack: 'at y\nat z', page: '/job/1', doing: 'after “Fit”' },
      headers: { 'x-request-id': 'trouble-1' },
    });
    expect((await response.json()).id).toBe('trouble-1');
    const lines = () =>
      readFileSync(join(home, 'logs', 'web-server.log'), 'utf8')
        .split('\n')
        .filter((line) => line.includes('trouble-1'));
    await expect.poll(lines, { timeout: 10_000 }).toHaveLength(1);
    expect(JSON.parse(lines()[0])).toMatchObject({ level: 'error', part: 'browser', request: 'trouble-1', message: 'x is undefined', doing: 'after “Fit”' });
    expect((await owner('/api/troubles', { method: 'POST', json: { message: 7 } })).status).toBe(400);
    const log = readFileSync(join(home, 'logs', 'web-server.log'), 'utf8');
    for (const secret of Object.values(JSON.parse(readFileSync(join(home, 'secrets.json'), 'utf8')) as Record<string, string>))
      expect(log).not.toContain(secret);
    expect(statSync(join(home, 'logs', 'web-server.log')).mode & 0o077).toBe(0);
  });
});

/** Every table with what stands in it, whatever its order. */
async function contents(database: string): Promise<Record<string, string>> {
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  const { rows } = await client.query(`select table_name as name from information_schema.tables where table_schema = 'public' order by 1`);
  const all: Record<string, string> = {};
  for (const { name } of rows as { name: string }[])
    all[name] = (
      await client.query(`select count(*) || ' ' || coalesce(md5(string_agg(md5(t::text), '' order by md5(t::text))), '') as sum from "${name}" t`)
    ).rows[0].sum;
  await client.end();
  return all;
}

describe('a backup', () => {
  const file = () => join(folder, 'shop.tgz');
  it('is taken while it runs, is nobody’s to read but the owner’s, and put into an empty place it is the same to the last row', async () => {
    /** Whoever is signed in moves on meanwhile. */
    const still = async () => ({ ...(await contents(inject('database'))), session: '' });
    // The demo hangs pictures of its jobs by itself: one that was taken while nothing moved is compared.
    let was = await still();
    await expect
      .poll(
        async () => {
          const before = was;
          await backup(home, file());
          was = await still();
          return JSON.stringify(before) === JSON.stringify(was);
        },
        { timeout: 150_000, interval: 1000 },
      )
      .toBe(true);
    expect(statSync(file()).mode & 0o077).toBe(0);
    const place = join(folder, 'moved');
    await restore(place, file());
    const there = await startDatabase(place);
    try {
      const is = { ...(await contents(there.url)), session: '' };
      expect(Object.keys(is).length).toBeGreaterThan(15);
      expect(is).toEqual(was);
    } finally {
      there.stop();
    }
    const journals = (where: string) => readdirSync(join(where, 'machines'), { recursive: true }).map(String).sort();
    expect(journals(place)).toEqual(expect.arrayContaining(journals(home).filter((name) => name.includes('order-'))));
  });
  it('starts as a shop there: its jobs hang on the wall, and who had an account comes in', async () => {
    const stack = await startStack({ home: join(folder, 'moved'), rate: 10, demo: false });
    try {
      const there = await signIn(stack.url, 'owner@saltgrass.example', JSON.parse(readFileSync(join(home, 'secrets.json'), 'utf8')).demo);
      const names = async (by: Person) => [...(await (await by('/')).text()).matchAll(/href="\/job\/([\w-]+)"/g)].map(([, id]) => id).sort();
      expect((await names(there)).length).toBeGreaterThan(5);
      expect(await names(there)).toEqual(await names(owner));
    } finally {
      await stack.stop();
    }
  });
  it('is refused where something is, and of what is none; then nothing was touched', async () => {
    await expect(restore(join(folder, 'moved'), file())).rejects.toThrow(/something in .* already/);
    await expect(restore(join(folder, 'else'), join(folder, 'none.tgz'))).rejects.toThrow(/There is no file/);
    writeFileSync(join(folder, 'torn.tgz'), readFileSync(file()).subarray(0, 5000));
    await expect(restore(join(folder, 'else'), join(folder, 'torn.tgz'))).rejects.toThrow();
    expect(readdirSync(folder)).not.toContain('else');
    await expect(backup(join(folder, 'nowhere'), file())).rejects.toThrow(/There is no shop/);
  });
});
