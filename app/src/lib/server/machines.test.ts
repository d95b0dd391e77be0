/** Several machines at once: two routers run two jobs without a word crossed, and a third is linked, used, let go, and there again after a restart. */
import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Job } from '@kerbe/core/job';
import { MachineProfile } from '@kerbe/core/machine';
import { linesOf } from '@kerbe/core/program';
import { bundles } from '../../../../scripts/bundle.mjs';
import { startStack } from '../../../../scripts/stack.mjs';
import { comeIn, must, setUp, tell, Watcher, type Person } from './testing';

const ROUTERS = ['simulated-router', 'second-router'];
const PROGRAM = 'program-1-v60-12.7+end-6.35.nc';

let home: string;
let stack: Awaited<ReturnType<typeof startStack>>;
let owner: Person;
let pool: pg.Pool;
let standin: ChildProcess;
const open = async () => {
  stack = await startStack({ home, rate: 12, taken: join(home, 'taken'), simulated: ROUTERS.map((id) => ({ id, kind: 'router' })) });
  owner = await comeIn(stack.url, 'owner');
  pool = new pg.Pool({ connectionString: stack.database.url, max: 2 });
  pool.on('error', () => {});
};
const close = async () => {
  await pool?.end();
  await stack?.stop();
};
beforeAll(async () => {
  home = mkdtempSync(join(tmpdir(), 'kerbe-machines-'));
  chmodSync(home, 0o755);
  await open();
});
afterAll(async () => {
  standin?.kill();
  await close();
  rmSync(home, { recursive: true, force: true });
});

interface Made {
  id: string;
  job: string;
  program: string;
  sha256: string;
  doc: Job;
}
/** A job of the demo's made anew for a machine, and released. */
async function releasedFor(machine: string, shift: number): Promise<Made> {
  const [{ doc }] = (await pool.query("select doc from job where name = 'Heron Walk'")).rows as { doc: Job }[];
  const own: Job = {
    ...doc,
    name: `Walk on ${machine}`,
    machine: { ...doc.machine, id: machine },
    items: Object.fromEntries(Object.entries(doc.items).map(([id, item]) => [id, 'x' in item ? { ...item, x: item.x + shift } : item])) as Job['items'],
  };
  const { id: job } = await (await owner('/api/jobs', { method: 'POST', json: own })).json();
  const made = await (await owner(`/api/jobs/${job}/release`, { method: 'POST', json: { revision: 1, accepted: [] } })).json();
  expect(made.why).toBeUndefined();
  const sha256 = (await owner(`/api/releases/${made.id}/${encodeURIComponent(PROGRAM)}`)).headers.get('x-sha256')!;
  return { id: made.id, job, program: PROGRAM, sha256, doc: own };
}
const taken = (machine: string) => readFileSync(join(home, 'taken', machine), 'utf8').split('\n');

it('two routers, two jobs, at the same time: each machine takes its own lines and no other, holds and ends by itself', async () => {
  const made = [await releasedFor(ROUTERS[0], 0), await releasedFor(ROUTERS[1], 3)];
  const watchers = ROUTERS.map((id) => new Watcher(owner, id));
  for (const [k, watcher] of watchers.entries()) await setUp(owner, watcher, made[k].doc, made[k]);
  // A job runs on its own machine, and is refused by the other.
  expect(await tell(owner, { do: 'start', release: made[0].id, program: PROGRAM, here: true }, ROUTERS[1])).toMatch(
    /This job is for Simulated router, not for/,
  );
  // What is set up at one is not set up at the other.
  expect(watchers.map(({ now }) => now.setup.zeroXY?.job)).toEqual(made.map(({ job }) => job));
  await Promise.all(made.map(({ id }, k) => must(owner, { do: 'start', release: id, program: PROGRAM, here: true }, ROUTERS[k])));
  await Promise.all(watchers.map((watcher) => watcher.until((now) => now.run?.state === 'running' && now.run.line > 15)));
  const runs = watchers.map(({ now }) => now.run!.id);
  expect(new Set(runs).size).toBe(2);
  const orders = runs.map((run, k) => JSON.parse(readFileSync(join(home, 'machines', ROUTERS[k], `order-${run}.json`), 'utf8')) as { program: string });
  expect(orders[0].program).not.toBe(orders[1].program);
  // Held here, it goes on there.
  expect((await owner(`/api/machines/${ROUTERS[0]}/hold`, { method: 'POST', headers: { 'idempotency-key': 'h' } })).status).toBe(200);
  await watchers[0].until((now) => now.run?.state === 'held');
  const before = watchers[1].now.run!.line;
  await watchers[1].until((now) => now.run!.line > before + 5);
  expect(watchers[0].now.run!.state).toBe('held');
  await must(owner, { do: 'resume' }, ROUTERS[0]);
  for (const [k, watcher] of watchers.entries()) {
    await watcher.until((now) => now.run?.state === 'paused', 120);
    await must(owner, { do: 'bench', change: { bit: { shape: made[k].doc.tools.end6, stickOut: 33 } } }, ROUTERS[k]);
    await must(owner, { do: 'measure', bit: 'end6', handsOff: true }, ROUTERS[k]);
    await must(owner, { do: 'resume', handsOff: true }, ROUTERS[k]);
  }
  await Promise.all(watchers.map((watcher) => watcher.until((now) => now.run?.state === 'done', 180)));
  for (const [k, machine] of ROUTERS.entries()) {
    const lines = taken(machine).filter((line) => line.startsWith(`${runs[k]}:`));
    const program = linesOf(orders[k].program);
    let next = 0;
    // Every line of its program, in order; between them nothing but the measuring of the second bit.
    const more = lines.map((line) => line.slice(line.indexOf('\t') + 1)).filter((line) => line !== program[next] || next++ < 0);
    expect(next).toBe(program.length);
    for (const line of more) expect(line).toMatch(/^(G21 G90|G90|G91|G53 G0 .*|G38\.2 Z.*|G10 L20 P0 Z.*|G0 Z[\d.]+)$/);
    expect(taken(machine).some((line) => line.startsWith(`${runs[1 - k]}:`))).toBe(false);
  }
  await expect
    .poll(async () => (await pool.query('select id, machine, machine_id, state, job_id from run order by machine')).rows, { timeout: 20_000 })
    .toEqual([
      { id: runs[0], machine: 'Simulated router', machine_id: ROUTERS[0], state: 'done', job_id: made[0].job },
      { id: runs[1], machine: 'Simulated router 2', machine_id: ROUTERS[1], state: 'done', job_id: made[1].job },
    ]);
  for (const watcher of watchers) await watcher.close();
}, 300_000);

const STANDIN = {
  talk: 'plain',
  lines: 6,
  accepted: '^fine$',
  refused: '^nope (.*)$',
  ask: 'WHERE\\n',
  every: 50,
  status: '^at (?<state>\\w+) (?<x>\\S+) (?<y>\\S+) (?<z>\\S+) work (?<wx>\\S+) (?<wy>\\S+) (?<wz>\\S+)$',
  states: { idle: '^resting$', run: '^busy$', hold: '^standing$', alarm: '^trouble$' },
  hold: 'STILL\\n',
  resume: 'ON\\n',
  stop: 'ENOUGH\\n',
  clear: 'CLEAR\\n',
  home: 'GO-HOME\\n',
};
const link = async (id: string, linked: boolean) =>
  ((await (await owner(`/api/machines/${id}`, { method: 'PATCH', json: { linked } })).json()) as { why: string | null }).why;

it('a machine of the shop’s own is linked beside them, moved, let go, linked again, and there after a restart of everything', async () => {
  standin = spawn(process.execPath, [await bundles.plain(), '--rate', '20'], { stdio: ['ignore', 'pipe', 'inherit'] });
  const port = await new Promise<number>((done) => standin.stdout!.on('data', (data) => /listening (\d+)/.test(String(data)) && done(Number(/listening (\d+)/.exec(String(data))![1])))); // prettier-ignore
  const profile = MachineProfile.parse({
    limits: { name: 'Barn router' },
    sensor: null,
    link: { transport: { kind: 'tcp', host: '127.0.0.1', port }, ...STANDIN },
  });
  const { id } = (await (await owner('/api/machines', { method: 'POST', json: profile })).json()) as { id: string };
  expect(await tell(owner, { do: 'home' }, id)).toMatch(/not linked to this machine/);
  expect(await link(id, true)).toBeNull();
  let watcher = new Watcher(owner, id);
  await watcher.until((now) => now.link);
  await must(owner, { do: 'home' }, id);
  await must(owner, { do: 'place-board', x: 111, y: 222 }, id);
  await watcher.until((now) => now.status?.homed && now.setup.bed.x === 111);
  // The others hear nothing of it.
  const other = new Watcher(owner);
  await other.until((now) => now.link);
  expect(other.now.setup.bed.x).not.toBe(111);
  await other.close();
  expect((await owner(`/api/machines/${id}`, { method: 'DELETE' })).status).toBe(409);
  expect(await link('simulated-router', false)).toMatch(/stays linked/);
  expect(await link(id, false)).toBeNull();
  await watcher.until((now) => !now.agent);
  expect(await tell(owner, { do: 'home' }, id)).toMatch(/not linked to this machine/);
  await watcher.close();
  // Linked again it knows what it knew.
  expect(await link(id, true)).toBeNull();
  watcher = new Watcher(owner, id);
  await watcher.until((now) => now.link && now.setup.bed.x === 111);
  await watcher.close();
  await close();
  await open();
  watcher = new Watcher(owner, id);
  await watcher.until((now) => now.link && now.setup.bed.x === 111);
  await watcher.close();
  // Its cable out: said, and the others are as they were.
  standin.kill();
  watcher = new Watcher(owner, id);
  await watcher.until((now) => now.agent && !now.link);
  expect(await tell(owner, { do: 'home' }, id)).toMatch(/does not answer/);
  await watcher.close();
  // Whoever let it go may take it out of the shop; its runs, had there been any, would stay.
  expect(await link(id, false)).toBeNull();
  expect((await owner(`/api/machines/${id}`, { method: 'DELETE' })).status).toBe(200);
}, 180_000);

it('only the owner links machines', async () => {
  const operator = await comeIn(stack.url, 'operator');
  expect((await operator('/api/machines/shed-router', { method: 'PATCH', json: { linked: true } })).status).toBe(403);
  expect((await owner('/api/machines/none', { method: 'PATCH', json: { linked: true } })).status).toBe(409);
});
