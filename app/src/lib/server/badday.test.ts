/** A bad day: processes that hang or die, a database that is away, texts that were altered, the same thing twice. Each on a stack of its own. */
import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Job } from '@kerbe/core/job';
import { bundles, root } from '../../../../scripts/bundle.mjs';
import { startDatabase } from '../../../../scripts/database.mjs';
import { freePort } from '../../../../scripts/processes.mjs';
import { startStack } from '../../../../scripts/stack.mjs';
import { demoJobs } from './demo-jobs';
import { comeIn, must, setUp, signIn, tell, Watcher, type Person } from './testing';

const homes: string[] = [];
function newHome(): string {
  const home = mkdtempSync(join(tmpdir(), 'kerbe-badday-'));
  chmodSync(home, 0o755);
  homes.push(home);
  return home;
}
afterAll(() => homes.forEach((home) => rmSync(home, { recursive: true, force: true })));
const wait = (ms: number) => new Promise((done) => setTimeout(done, ms));
/** Waits until there is something; `tell` says what there was instead. */
async function until<T>(what: () => Promise<T> | T, seconds = 120, tell: () => string = () => ''): Promise<Exclude<T, false | null | undefined>> {
  for (const end = performance.now() + seconds * 1000; performance.now() < end; await wait(50)) {
    const found = await what();
    if (found) return found as Exclude<T, false | null | undefined>;
  }
  throw new Error(`waited in vain for ${what.toString()} ${tell()}`);
}
/** Processes that a process has started, by a word of their command line. */
const childrenOf = (pid: number, word: string): number[] =>
  readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .filter((one) => {
      try {
        const stat = readFileSync(`/proc/${one}/stat`, 'utf8');
        return Number(stat.slice(stat.lastIndexOf(')') + 4).split(' ')[0]) === pid && readFileSync(`/proc/${one}/cmdline`, 'utf8').includes(word);
      } catch {
        return false;
      }
    });

describe('a shop in trouble', () => {
  let stack: Awaited<ReturnType<typeof startStack>>;
  let owner: Person;
  let pool: pg.Pool;
  let watcher: Watcher;
  const key = () => ({ 'idempotency-key': crypto.randomUUID() });
  const press = async (by: Person, word: string) => (await by(`/api/machines/simulated-router/${word}`, { method: 'POST', headers: key() })).status;
  const jobNamed = async (name: string) =>
    (await pool.query<{ id: string; revision: number; doc: Job }>('select id, revision, doc from job where name = $1', [name])).rows[0];
  beforeAll(async () => {
    stack = await startStack({ home: newHome(), rate: 12 });
    owner = await comeIn(stack.url, 'owner');
    pool = new pg.Pool({ connectionString: stack.database.url, max: 2 });
    pool.on('error', () => {});
    watcher = new Watcher(owner);
  });
  afterAll(async () => {
    await pool.end();
    await watcher.close();
    await stack?.stop();
  });

  it('Kerbe comes into its database as no superuser, and owns that one alone', async () => {
    const { rows } = await pool.query('select rolsuper, rolcreatedb, rolcreaterole from pg_roles where rolname = current_user');
    expect(rows).toEqual([{ rolsuper: false, rolcreatedb: false, rolcreaterole: false }]);
  });

  describe('a run', () => {
    const program = 'program-1-v60-12.7+end-6.35.nc';
    let made: { id: string };
    let job: { id: string; doc: Job };
    it('is started once by one key, however often it is asked; another start by that key is refused', async () => {
      const { id, revision, doc } = await jobNamed('Heron Walk');
      job = { id, doc };
      made = await (await owner(`/api/jobs/${id}/release`, { method: 'POST', json: { revision, accepted: [] } })).json();
      const sha256 = (await owner(`/api/releases/${made.id}/${encodeURIComponent(program)}`)).headers.get('x-sha256')!;
      await setUp(owner, watcher, doc, { id: made.id, job: id, program, sha256 });
      const start = (more: object = {}, headers = { 'idempotency-key': 'one-start' }) =>
        owner('/api/machines/simulated-router/command', {
          method: 'POST',
          json: { do: 'start', release: made.id, program, here: true, ...more },
          headers,
        }).then(async (response) => ((await response.json()) as { why: string | null }).why);
      const answers = await Promise.all([start(), start(), start()]);
      expect(answers.filter((why) => why === null).length).toBeGreaterThan(0);
      await watcher.until((now) => now.run?.state === 'running' && now.run.line > 5);
      expect(await start()).toBeNull();
      expect(await start({ from: 40 })).toMatch(/used for another command/);
      expect((await pool.query('select id from run')).rows).toHaveLength(1);
    });
    it('is held and stopped while the web server hangs, and that stands in the books', async () => {
      process.kill(stack.web.child.pid!, 'SIGSTOP');
      try {
        expect(await press(owner, 'hold')).toBe(200);
        expect(await press(owner, 'stop')).toBe(200);
      } finally {
        process.kill(stack.web.child.pid!, 'SIGCONT');
      }
      const { run } = await watcher.until((now) => now.run?.endedAt);
      expect(run).toMatchObject({ state: 'stopped', message: expect.stringMatching(/^Stopped by owner/) });
      const said = await until(async () => {
        const { rows } = await pool.query<{ command: string; author: string }>("select command, author from audit where command in ('hold', 'stop')");
        return rows.length >= 2 && rows;
      });
      expect(said.map(({ command, author }) => `${author} ${command}`).sort()).toEqual(['owner hold', 'owner stop']);
    });
    it('is never of a program that was altered where it is kept', async () => {
      const alter = (to: string, from: string) =>
        pool.query('update release set programs = replace(programs::text, $1, $2)::jsonb where id = $3', [from, to, made.id]);
      await alter('G20', 'G21');
      const answer = await owner(`/api/releases/${made.id}/${encodeURIComponent(program)}`);
      expect([answer.status, await answer.text()]).toEqual([409, expect.stringContaining('its hash is another')]);
      expect(await tell(owner, { do: 'start', release: made.id, program, here: true })).toMatch(/its hash is another/);
      expect(await tell(owner, { do: 'frame', release: made.id, program, shape: 'box', height: 15 })).toMatch(/its hash is another/);
      await alter('G21', 'G20');
      expect((await owner(`/api/releases/${made.id}/${encodeURIComponent(program)}`)).status).toBe(200);
      // Text and hash altered together: the release's own hash tells.
      await pool.query("update release set programs = jsonb_set(programs, '{0,sha256}', to_jsonb(repeat('0', 64))) where id = $1", [made.id]);
      expect((await owner(`/api/releases/${made.id}/${encodeURIComponent(program)}`)).status).toBe(409);
    });
    it('keeps its job: put away it may be, deleted not; one that was never cut may', async () => {
      const { id } = job;
      const gone = await owner(`/api/jobs/${id}`, { method: 'DELETE' });
      expect([gone.status, ((await gone.json()) as { why: string }).why]).toEqual([409, expect.stringContaining('was cut')]);
      expect((await owner(`/api/jobs/${id}`, { method: 'PATCH', json: { away: true } })).status).toBe(200);
      const wall = await (await owner('/')).text();
      expect(wall).not.toContain('Heron Walk');
      expect(await (await owner('/?away')).text()).toContain('Heron Walk');
      expect((await owner(`/api/jobs/${id}`, { method: 'PATCH', json: { away: false } })).status).toBe(200);
      const leaf = await jobNamed('Leaf inlay');
      expect((await owner(`/api/jobs/${leaf.id}`, { method: 'DELETE' })).status).toBe(200);
      expect((await owner(`/api/jobs/${leaf.id}`)).status).toBe(404);
    });
  });

  describe('heavy work', () => {
    const words = (doc: Job, text: string): Job => ({ ...doc, items: { ...doc.items, words: { ...doc.items.words, text } as Job['items'][string] } });
    const saved = async (doc: Job, id: string, revision: number) =>
      ((await (await owner(`/api/jobs/${id}`, { method: 'PUT', json: { from: revision, label: 'Test', doc } })).json()) as { revision: number }).revision;
    it('killed, it is only a message; the next time it is done', async () => {
      const { id, revision, doc } = await jobNamed('Reed Gate');
      const now = await saved(words(doc, 'Reed Gate\nclosed at dusk, opened at dawn by whoever comes first'), id, revision);
      const releasing = owner(`/api/jobs/${id}/release`, { method: 'POST', json: { revision: now, accepted: [] } });
      // One may be waiting from before: whichever works on it, none gets to its end.
      let answered = false;
      void releasing.finally(() => (answered = true));
      for (; !answered; await wait(100)) for (const child of childrenOf(stack.web.child.pid!, '=4096')) process.kill(child, 'SIGKILL');
      const answer = await releasing;
      expect([answer.status, ((await answer.json()) as { why: string }).why]).toEqual([
        422,
        expect.stringMatching(/given up: the process that worked on it ended/),
      ]);
      const codes = ['off-board', 'warning'];
      const again = await owner(`/api/jobs/${id}/release`, { method: 'POST', json: { revision: now, accepted: codes } });
      expect(((await again.json()) as { why?: string }).why ?? '').not.toMatch(/given up/);
    });
    it('that would never end is not begun', async () => {
      const { id, revision, doc } = await jobNamed('Bench plate');
      const [cut] = Object.values(doc.cuts).filter((one) => 'depthPerPass' in one);
      const now = await saved({ ...doc, cuts: { ...doc.cuts, [cut.id]: { ...cut, depthPerPass: 1e-9 } as never } }, id, revision);
      const answer = await owner(`/api/jobs/${id}/release`, { method: 'POST', json: { revision: now, accepted: [] } });
      expect([answer.status, ((await answer.json()) as { why: string }).why]).toEqual([422, expect.stringMatching(/passes, one below the other/)]);
    });
    it('a file that hangs does not keep a good one out, and waiting is no work', async () => {
      const { id } = await jobNamed('Raised map');
      const bring = (name: string, body: string) => owner(`/api/jobs/${id}/files?name=${name}`, { method: 'POST', body });
      const svg = (d: string) => `<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"><path d="${d}"/></svg>`;
      // One that is read for a while, stopped in the middle as if it hung.
      const slow = bring('slow.svg', svg('M0 0' + 'L1 1L2 3'.repeat(300_000) + 'Z'));
      const reads = () => childrenOf(stack.web.child.pid!, '=1536');
      const [child] = await until(() => reads().length > 0 && reads());
      process.kill(child, 'SIGSTOP');
      const good = await Promise.all(Array.from({ length: 6 }, (_, k) => bring(`good${k}.svg`, svg(`M0 0L${k + 1} 5L3 3Z`))));
      expect(good.map(({ status }) => status)).toEqual([200, 200, 200, 200, 200, 200]);
      const answer = await slow;
      expect([answer.status, ((await answer.json()) as { why: string }).why]).toEqual([422, expect.stringContaining('more than 25 seconds')]);
    });
  });

  describe('what no database takes', () => {
    it('in a job: it is saved, with a sign in its place', async () => {
      const { id, revision, doc } = await jobNamed('Species plates');
      const answer = await owner(`/api/jobs/${id}`, {
        method: 'PUT',
        json: { from: revision, label: 'a\0b', doc: { ...doc, name: 'Plates\0 \ud800', notes: '\udfff' } },
      });
      expect(answer.status).toBe(200);
      expect(((await (await owner(`/api/jobs/${id}`)).json()) as { doc: Job }).doc).toMatchObject({ name: 'Plates\ufffd \ufffd', notes: '\ufffd' });
    });
    it('in a query, a path, a form, a bit, a note, a place at the machine: never a fault of the server', async () => {
      const statuses = await Promise.all([
        owner('/logbook?find=%00').then(({ status }) => status),
        owner('/api/logbook?state=a%00b').then(({ status }) => status),
        owner('/api/jobs/a%00b').then(({ status }) => status),
        owner('/logbook?find=%ED%A0%80').then(({ status }) => status),
        owner('/api/bits', { method: 'POST', json: { bits: [{ kind: 'end', id: 'nul', name: 'a\0b\ud800', diameter: 6 }] } }).then(({ status }) => status),
        owner('/api/bits?id=%00', { method: 'DELETE' }).then(({ status }) => status),
        owner('/api/templates', { method: 'POST', json: { name: 'x\0' } }).then(({ status }) => status),
        owner('/sign-in', {
          method: 'POST',
          body: 'email=a%00%40b.example&password=%00',
          headers: { 'content-type': 'application/x-www-form-urlencoded' },
        }).then(({ status }) => status),
        owner('/api/runs/x', { method: 'PATCH', json: { notes: '\0' } }).then(({ status }) => status),
      ]);
      expect(statuses.filter((status) => status >= 500)).toEqual([]);
      expect(statuses.slice(0, 3)).toEqual([400, 400, 400]);
      await must(owner, { do: 'save-place', name: 'by the\0 window\ud800' });
      const { setup } = await watcher.until((now) => JSON.stringify(now.setup).includes('window'));
      expect(JSON.stringify(setup)).toContain('by the\ufffd window\ufffd');
    });
  });

  describe('the record', () => {
    const [RUNS, PAGE] = [2003, 100];
    beforeAll(async () => {
      const { id } = await jobNamed('Raised map');
      const [release] = (await pool.query<{ id: string }>('select id from release limit 1')).rows;
      // Years of work; ten of a second, as clocks that run fast write them.
      await pool.query(
        `insert into run (id, release_id, job_id, program, state, estimate_seconds, actual_seconds, author, lines, machine, bit_seconds, crib, started_at)
         select 'old-' || k, $1, $2, 'old.nc', 'done', 60, 60, 'owner', 10, 'Router', '{"a": 30, "b": 30}', '{"a": "v60"}', now() - (k / 10) * interval '1 second'
         from generate_series(1, $3) k`,
        [release.id, id, RUNS],
      );
    });
    it('is saved whole, and its pages hold every run once', async () => {
      const csv = await (await owner('/api/logbook')).text();
      const lines = csv.split('\n').filter((line) => line.includes('old.nc'));
      expect(lines).toHaveLength(RUNS);
      const seen: string[] = [];
      for (let page = 1; page <= Math.ceil(RUNS / PAGE); page++) {
        const data: string = await (await owner(`/logbook?find=old.nc&page=${page}`)).text();
        seen.push(...new Set(data.match(/old-\d+/g)));
        expect(data.includes('Next page')).toBe(page < Math.ceil(RUNS / PAGE));
      }
      expect(new Set(seen).size).toBe(RUNS);
      expect(seen.length).toBeLessThan(RUNS + RUNS / PAGE + 1);
    });
    it('sums the hours of every bit without loading a program', async () => {
      const { bits } = (await (await owner('/api/bits')).json()) as { bits: { bit: { id: string }; hours: number }[] };
      expect(bits.find(({ bit }) => bit.id === 'v60')!.hours).toBeGreaterThan((RUNS * 30) / 3600 - 1e-6);
      expect(bits.find(({ bit }) => bit.id === 'v60')!.hours).toBeLessThan((RUNS * 30) / 3600 + 0.2);
    });
    it('a photo of two runs stays with both, and goes with the last', async () => {
      const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNgAAAAAgABSK+kcQAAAABJRU5ErkJggg==', 'base64');
      const add = async (run: string) =>
        (await (await owner(`/api/runs/${run}/photo?name=board.png`, { method: 'POST', body: png, headers: { 'content-type': 'image/png' } })).json()) as {
          id: string;
          why: string | null;
        };
      const photos = async (run: string) => ((await (await owner(`/api/runs/${run}`)).json()) as { photos: { id: string }[] }).photos.map(({ id }) => id);
      const first = await add('old-1');
      expect(first.why).toBeNull();
      expect((await add('old-2')).id).toBe(first.id);
      expect([await photos('old-1'), await photos('old-2')]).toEqual([[first.id], [first.id]]);
      const drop = (run: string) => owner(`/api/runs/${run}/photo?photo=${first.id}`, { method: 'DELETE' });
      expect((await drop('old-1')).status).toBe(200);
      expect([await photos('old-1'), await photos('old-2')]).toEqual([[], [first.id]]);
      expect((await owner(`/api/assets/${first.id}`)).status).toBe(200);
      await drop('old-2');
      expect((await owner(`/api/assets/${first.id}`)).status).toBe(404);
    });
  });

  it('the database away: whoever is in holds and stops; who signs out is out at once, and stays out', async () => {
    const leaver = await comeIn(stack.url, 'operator');
    const heard = new Watcher(leaver);
    await heard.until(() => heard.seen > 0);
    stack.database.stop();
    try {
      expect(await press(leaver, 'stop')).toBe(200);
      expect((await leaver('/api/bits')).status).toBe(503);
      expect((await leaver('/api/sign-out', { method: 'POST' })).status).toBe(303);
      await heard.ended();
      expect([401, 503]).toContain(await press(leaver, 'stop'));
      expect([401, 503]).toContain((await leaver('/api/machines/simulated-router/talk')).status);
      expect(await press(owner, 'stop')).toBe(200);
    } finally {
      stack.database.start();
    }
    await until(async () => (await owner('/api/bits')).status === 200);
    expect((await leaver('/api/bits')).status).toBe(401);
    await until(
      async () =>
        (
          await pool
            .query('select count(*)::int as n from session where "userId" = (select id from "user" where name = \'operator\')')
            .catch(() => ({ rows: [{ n: 1 }] }))
        ).rows[0].n === 0,
    );
  });
  it('database and web server both gone: whom that let in before, the door still knows', async () => {
    stack.database.stop();
    try {
      expect((await owner('/api/bits')).status).toBe(503);
      await stack.kill('web server');
      expect(await press(owner, 'stop')).toBe(200);
      expect((await owner('/api/bits')).status).toBe(503);
    } finally {
      stack.database.start();
    }
    await stack.again('web server');
    await until(async () => (await owner('/api/bits')).status === 200);
  });
});

describe('a shop of one’s own', () => {
  it('begins with a link for its first owner, which works once; behind https its cookies are secure', async () => {
    process.env.KERBE_ORIGIN = 'https://signs.example';
    const stack = await startStack({ home: newHome(), demo: false }).finally(() => delete process.env.KERBE_ORIGIN);
    try {
      const at = `http://127.0.0.1:${stack.port}`;
      const page = (path: string) => fetch(at + path, { redirect: 'manual' });
      expect(await (await page('/sign-in')).text()).toContain('printed a link for the first owner');
      expect(await (await page('/sign-in')).text()).not.toContain('Open the demo');
      const link = stack.firstOwner.replace('https://signs.example', '');
      expect((await page('/first-owner?key=guessed')).status).toBe(404);
      expect((await page(link)).status).toBe(200);
      const make = (name: string, password = 'willow kettle nine') =>
        fetch(at + link, {
          method: 'POST',
          redirect: 'manual',
          headers: { origin: 'https://signs.example', 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' },
          body: new URLSearchParams({ name, email: `${name}@signs.example`, password }).toString(),
        });
      expect(await (await make('Tern', 'password12345')).text()).toContain('first that are tried');
      const both = await Promise.all([make('Tern'), make('Dunlin')]);
      expect(both.map(({ status }) => status).sort()).toEqual([303, 404]);
      const cookies = both.find(({ status }) => status === 303)!.headers.getSetCookie();
      expect(cookies.join()).toMatch(/__Secure-better-auth\.session_token/);
      for (const cookie of cookies) expect(cookie).toMatch(/; Secure/);
      for (const cookie of cookies) expect(cookie).toMatch(/; HttpOnly/);
      expect((await page(link)).status).toBe(404);
      const pool = new pg.Pool({ connectionString: stack.database.url, max: 1 });
      expect((await pool.query('select role from "user"')).rows).toEqual([{ role: 'owner' }]);
      expect((await pool.query('select 1 from job')).rows).toEqual([]);
      await pool.end();
    } finally {
      await stack.stop();
    }
  });
  it('is never the demo on another address than this computer', async () => {
    await expect(startStack({ home: newHome(), host: '0.0.0.0', demo: true })).rejects.toThrow(/only there on 127\.0\.0\.1/);
    await expect(startStack({ home: newHome(), host: '0.0.0.0', demo: false })).rejects.toThrow(/KERBE_ORIGIN/);
  });
  it('two web servers on an empty database make it once', async () => {
    const home = newHome();
    const database = await startDatabase(home);
    const heavy = await bundles.heavy();
    const running: ChildProcess[] = [];
    try {
      const urls = await Promise.all(
        [0, 1].map(async () => {
          const port = String(await freePort());
          const url = `http://127.0.0.1:${port}`;
          const child = spawn(process.execPath, [join(root, 'app/build/index.js')], {
            stdio: 'ignore',
            env: { ...process.env, HOST: '127.0.0.1', PORT: port, ORIGIN: url, NODE_ENV: 'production', DATABASE_URL: database.url, AUTH_SECRET: 'x'.repeat(32), KERBE_KEEPER_URL: 'http://127.0.0.1:9', KERBE_KEEPER_TOKEN: 'x', KERBE_AGENT_TOKEN: 'x', KERBE_DOOR_TOKEN: 'x', KERBE_HEAVY: heavy, KERBE_DEMO: '1', KERBE_DEMO_PASSWORD: 'willow kettle nine' }, // prettier-ignore
          });
          running.push(child);
          return url;
        }),
      );
      for (const url of urls) {
        await until(() =>
          fetch(url, { redirect: 'manual' })
            .then(({ status }) => status === 303)
            .catch(() => false),
        );
        expect((await (await signIn(url, 'owner@saltgrass.example', 'willow kettle nine'))('/api/bits')).status).toBe(200);
      }
      const pool = new pg.Pool({ connectionString: database.url, max: 1 });
      expect((await pool.query('select count(*)::int as n from "user"')).rows).toEqual([{ n: 2 }]);
      expect((await pool.query('select count(*)::int as n from job')).rows).toEqual([{ n: demoJobs().length }]);
      await pool.end();
    } finally {
      for (const child of running) child.kill('SIGKILL');
      database.stop();
    }
  });
});

describe('npm start', () => {
  const home = newHome();
  /** Starts it; gives what it says, and how to end it. */
  function start() {
    const child = spawn(process.execPath, [join(root, 'scripts/start.mjs'), '--demo'], { env: { ...process.env, KERBE_HOME: home, PORT: '5190' } });
    let said = '';
    child.stdout.on('data', (data) => (said += data));
    child.stderr.on('data', (data) => (said += data));
    const over = new Promise<number | null>((done) => child.on('exit', done));
    return {
      child,
      over,
      said: () => said,
      until: (words: string) =>
        until(
          () => said.includes(words),
          240,
          () => `“${words}” in what was said:\n${said}`,
        ),
    };
  }
  /** Whatever works for this home and nobody else - a child in the middle of a picture looks for its parent once a second: its own folders stand in their command lines or environments. */
  const left = () =>
    readdirSync('/proc')
      .filter((name) => /^\d+$/.test(name) && Number(name) !== process.pid)
      .filter((name) => {
        try {
          return readFileSync(`/proc/${name}/cmdline`, 'utf8').includes(home) || readFileSync(`/proc/${name}/environ`, 'utf8').includes(home);
        } catch {
          return false;
        }
      });
  it.each(['making the database', 'starting the simulated machines', 'stopping a database|starting the database'])(
    'interrupted while it says “%s”, it leaves nothing behind',
    async (words) => {
      const one = start();
      await until(() => words.split('|').some((word) => one.said().includes(word)), 150, one.said);
      one.child.kill('SIGINT');
      expect(await one.over).toBe(0);
      await until(() => left().length === 0);
    },
  );
  it('killed while it starts, the next start clears up, and is ready', async () => {
    const one = start();
    await one.until('starting the simulated machines');
    await wait(700);
    one.child.kill('SIGKILL');
    await one.over;
    const next = start();
    await next.until('Kerbe is ready');
    expect(next.said()).toContain('clearing up');
    next.child.kill('SIGINT');
    expect(await next.over).toBe(0);
    await until(() => left().length === 0);
  });
});
