/** The agent and the simulated router as real processes on loopback. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inflateSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openFont, faceById } from '@kerbe/core/artwork/text';
import { distanceToEdges, insideRegion } from '@kerbe/core/geometry';
import { JOB_VERSION, readJob, type Job, type JobInput } from '@kerbe/core/job';
import { planJob, writePrograms } from '@kerbe/core/plan';
import { readProgram, statsOf } from '@kerbe/core/program';
import { carvePlan, HeightMap } from '@kerbe/core/proof';
import { bundles } from '../../scripts/bundle.mjs';
import { freePort, startNode } from '../../scripts/processes.mjs';
import { sealed, machineToken } from './testing.ts';

type Started = Awaited<ReturnType<typeof startNode>>;
const token = 'a-token-for-tests';
const require = createRequire(import.meta.url);
const fonts = (id: string) => openFont(readFileSync(require.resolve(faceById(id)!.file)));

let folder: string;
let router: Started;
let agent: Started;
let routerPort: number;
let key = 0;

async function startRouter(rate: number): Promise<void> {
  router = await startNode(await bundles.machine(), ['--port', String(routerPort), '--rate', String(rate)], { KERBE_MACHINE_TOKEN: machineToken });
}
async function startAgent(): Promise<void> {
  agent = await startNode(await bundles.agent(), ['--machine', `127.0.0.1:${routerPort}`, '--journal', folder], {
    KERBE_AGENT_TOKEN: token,
    KERBE_MACHINE_TOKEN: machineToken,
  });
}
const call = (path: string, body?: unknown, headers: Record<string, string> = {}) =>
  fetch(`http://127.0.0.1:${agent.port}${path}`, {
    method: body ? 'POST' : 'GET',
    headers: { authorization: `Bearer ${token}`, 'idempotency-key': `k${key++}`, ...headers },
    body: body ? JSON.stringify(body) : undefined,
  });
// What the agent answers is looked at freely here; its types live on the other side of the wire.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
const json = async (path: string, body?: unknown): Promise<any> => (await call(path, body)).json();
const command = async (body: Record<string, unknown>): Promise<string | null> => (await json('/command', body)).why;
// A connection that was kept may end in the very moment it is used again; to look once more changes nothing.
const state = () => json('/state').catch(() => json('/state'));
const bench = (change: Record<string, unknown>) => command({ do: 'bench', change });

async function until(what: (s: Awaited<ReturnType<typeof state>>) => boolean, seconds = 15) {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const now = await state();
    if (what(now)) return now;
    if (Date.now() > end) throw new Error(`waited in vain: ${JSON.stringify(now.run)} ${JSON.stringify(now.status)}`);
    await new Promise((done) => setTimeout(done, 25));
  }
}

const job: Job = (() => {
  const input: JobInput = {
    kerbe: JOB_VERSION,
    name: 'Reed',
    board: { width: 120, height: 60, thickness: 12 },
    items: {
      words: { kind: 'text', id: 'words', x: 60, y: 30, text: 'Rey', face: 'playfair', capHeight: 22 },
      edge: { kind: 'rectangle', id: 'edge', x: 60, y: 30, width: 105, height: 46, radius: 6 },
    },
    itemOrder: ['words', 'edge'],
    outline: 'edge',
    tools: { v60: { kind: 'v', id: 'v60', angle: 60, diameter: 12.7 }, e6: { kind: 'end', id: 'e6', diameter: 6 } },
    cuts: {
      c1: { kind: 'vcarve', id: 'c1', on: 'art', tool: 'v60' },
      c2: { kind: 'profile', id: 'c2', on: 'outline', tool: 'e6' },
    },
    cutOrder: ['c1', 'c2'],
  };
  const reading = readJob(input);
  if (!reading.ok) throw new Error(reading.why.join());
  return reading.job;
})();
const BOARD = { x: 300.4, y: 200.7, width: 120, height: 60, thickness: 12 };
const fit = (id: string, stickOut: number) => bench({ bit: { shape: job.tools[id], stickOut } });

async function order(id: string) {
  const plan = await planJob(job, { fonts });
  const [file] = writePrograms(job, plan, '2026-01-01', 'pauses');
  const facts = statsOf(readProgram(file.text), job.machine);
  return { plan, order: sealed({ id, name: file.name, sha256: 'x', program: file.text, bits: file.bits, datum: job.datum, extents: facts.extents }) };
}

/** Everything from power-on to zero, as a person would. */
async function setUp(): Promise<void> {
  await until((s) => s.link);
  expect(await command({ do: 'home' })).toBeNull();
  expect(await bench({ board: BOARD, cell: 0.1 })).toBeNull();
  expect(await fit('v60', 42)).toBeNull();
  expect(await command({ do: 'measure', bit: 'v60' })).toBeNull();
  expect(await command({ do: 'move-over', x: BOARD.x, y: BOARD.y })).toBeNull();
  expect(await command({ do: 'zero-xy', corner: 'lower-left' })).toBeNull();
  expect(await command({ do: 'move-over', x: BOARD.x + 40, y: BOARD.y + 30 })).toBeNull();
  expect(await bench({ plate: { x: BOARD.x + 40, y: BOARD.y + 30, thickness: 15 }, probeClip: true })).toBeNull();
  expect(await command({ do: 'zero-z', method: 'plate', thickness: 15, datum: 'top' })).toBeNull();
  expect(await bench({ plate: null, probeClip: false })).toBeNull();
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'kerbe-agent-'));
  routerPort = await freePort();
  await startRouter(60);
  await startAgent();
});
afterAll(async () => {
  await agent?.stop();
  await router?.stop();
  rmSync(folder, { recursive: true, force: true });
});

describe('agent and simulated router', () => {
  it('refuses strangers', async () => {
    expect((await call('/state', undefined, { authorization: 'Bearer guess' })).status).toBe(401);
  });

  it('says what holds a command', async () => {
    await until((s) => s.link);
    expect(await command({ do: 'go-to-zero', clearance: 5 })).toMatch(/Home it first/);
    await bench({ estop: true });
    await until((s) => s.status.estop);
    expect(await command({ do: 'home' })).toMatch(/emergency stop is pressed/i);
    await bench({ estop: false });
    await until((s) => !s.status.estop);
    expect(await command({ do: 'home' })).toMatch(/Clear the alarm/);
    expect(await command({ do: 'clear' })).toBeNull();
  });

  it('carves the board it was asked for: heights as drawn, nothing outside the letters', async () => {
    await setUp();
    const { plan, order: run } = await order('run-1');
    expect(await command({ do: 'start', order: run })).toBeNull();
    expect((await state()).run.message).toBe('');
    expect(await command({ do: 'start', order: run })).toMatch(/running already/);
    const pause = await until((s) => s.run?.state === 'paused' || s.run?.endedAt, 120);
    expect(pause.run, pause.run.message).toMatchObject({ state: 'paused', pause: { reason: 'tool-change', tool: 'e6' } });
    await until((s) => s.status.state === 'idle' && s.status.spindle!.actual === 0);
    // Interlocks of a bit change: the wrong bit, an unmeasured bit.
    expect(await command({ do: 'resume' })).toMatch(/not been measured/);
    expect(await fit('e6', 31)).toBeNull();
    expect(await command({ do: 'resume' })).toMatch(/not been measured/);
    expect(await command({ do: 'measure', bit: 'e6', handsOff: true })).toBeNull();
    expect(await command({ do: 'resume', handsOff: true })).toBeNull();
    const end = await until((s) => s.run?.endedAt, 120);
    expect(end.run).toMatchObject({ state: 'done', line: end.run.lines });
    expect(end.status.world!.crash).toBeNull();
    // Parked: Z at the top first, then X and Y.
    expect(end.status.machine).toEqual([...job.machine.park, 0]);

    const map = await json('/map');
    const carved = new Float32Array(new Uint8Array(inflateSync(Buffer.from(map.data, 'base64'))).buffer);
    const proof = carvePlan(new HeightMap(job.board.width, job.board.height, 0.1), plan.cuts);
    let worst = 0;
    for (let i = 0; i < carved.length; i++) worst = Math.max(worst, Math.abs(Math.max(carved[i], -12.3) - proof.height[i]));
    // The program's 0.001 mm words, times the steepness of the walls.
    expect(worst).toBeLessThan(0.02);

    // Against the drawing itself: letters carved to h = r / tan(A/2), untouched wood between.
    const letters = plan.items[0].regions;
    const t = Math.tan(Math.PI / 6);
    let outside = 0;
    for (let k = 0; k < 4000; k++) {
      const x = 25 + ((k * 0.618034 * 70) % 70);
      const y = 14 + ((k * 0.754878 * 32) % 32);
      const cx = (Math.floor(x / 0.1) + 0.5) * 0.1;
      const cy = (Math.floor(y / 0.1) + 0.5) * 0.1;
      const z = carved[Math.floor(y / 0.1) * map.columns + Math.floor(x / 0.1)];
      const edge = distanceToEdges(letters, cx, cy);
      if (letters.some((region) => insideRegion(region, cx, cy))) {
        // A point at distance e from its nearest wall is cut at least e/t deep, no deeper than the widest stroke.
        expect(z).toBeLessThan(-(edge - 0.03) / t + 0.01);
      } else if (z < -0.01) {
        outside = Math.max(outside, edge);
      }
    }
    expect(outside).toBeLessThanOrEqual(0.01);
    const journal = await json('/journal/run-1');
    expect(journal[0].event).toBe('start');
    expect(journal.at(-1).event).toBe('done');
    expect(journal.map((entry: { event: string }) => entry.event)).toContain('paused');
  });

  it('refuses a run whose datum is not the one that was set', async () => {
    const { order: run } = await order('run-2');
    expect(await fit('v60', 42)).toBeNull();
    expect(await command({ do: 'start', order: run })).toMatch(/not been measured/);
    expect(await command({ do: 'measure', bit: 'v60' })).toBeNull();
    expect(await command({ do: 'start', order: { ...run, datum: { corner: 'centre', z: 'top' } } })).toMatch(/counts from the centre/);
    expect(await command({ do: 'start', order: { ...run, datum: { corner: 'lower-left', z: 'spoilboard' } } })).toMatch(/Z0 on the spoilboard/);
  });

  it('sets Z with a paper: its thickness above zero', async () => {
    const before = (await state()).status;
    expect(await command({ do: 'move-over', x: BOARD.x + 40, y: BOARD.y + 30 })).toBeNull();
    // Down until the tip is 0.1 above the top of the board, by what the plate has found.
    const { work } = (await state()).status;
    expect(await command({ do: 'jog', x: 0, y: 0, z: 0.1 - work[2], feed: 2000 })).toBeNull();
    await until((s) => s.status.state === 'idle' && s.status.queued === 0);
    expect(await command({ do: 'zero-z', method: 'paper', thickness: 0.1, datum: 'top' })).toBeNull();
    const after = await state();
    expect(after.setup.zeroZ).toMatchObject({ datum: 'top', method: 'paper on the top of the board' });
    // The paper says the same as the plate did, and the bit stands 5 mm above it.
    expect(after.status.offset[2]).toBeCloseTo(before.offset[2], 3);
    expect(after.status.work[2]).toBeCloseTo(5.1, 3);
  });

  it('goes to zero in the safe order: Z up, then X and Y, then Z down to clearance', async () => {
    await bench({ rate: 4 });
    expect(await command({ do: 'jog', x: 60, y: 40, z: 0, feed: 6000 })).toBeNull();
    await until((s) => s.status.state === 'idle' && s.status.queued === 0);
    expect(await command({ do: 'jog', x: 0, y: 0, z: -20, feed: 2000 })).toBeNull();
    await until((s) => s.status.state === 'idle' && s.status.queued === 0);
    const seen: number[][] = [];
    let going = true;
    const gone = command({ do: 'go-to-zero', clearance: 6 }).finally(() => (going = false));
    while (going) {
      const { status } = await state();
      seen.push([...status.machine, ...status.work]);
      await new Promise((done) => setTimeout(done, 10));
    }
    expect(await gone).toBeNull();
    const [x0, y0] = seen[0];
    let moved = false;
    for (const [x, y, z, wx, wy, wz] of seen) {
      const away = Math.abs(x - x0) + Math.abs(y - y0) > 0.01;
      const there = Math.abs(wx) + Math.abs(wy) < 0.01;
      // X and Y change only with Z at the top; below the top they are at the old place or at zero.
      if (away && !there) {
        moved = true;
        expect(z).toBeCloseTo(0, 2);
      }
      if (there) expect(wz).toBeGreaterThan(6 - 0.01);
    }
    expect(moved).toBe(true);
    expect((await state()).status.work.map((v: number) => Math.round(v * 100) / 100)).toEqual([0, 0, 6]);
  });

  it('carries out a command with the same key once', async () => {
    const before = (await until((s) => s.status.state === 'idle')).status.machine[0];
    const jog = { do: 'jog', x: 5, y: 0, z: 0, feed: 3000 };
    await call('/command', jog, { 'idempotency-key': 'same' });
    await call('/command', jog, { 'idempotency-key': 'same' });
    await until((s) => s.status.queued === 0 && s.status.state === 'idle');
    expect((await state()).status.machine[0]).toBeCloseTo(before + 5, 6);
  });

  it('holds, goes on and stops', async () => {
    await bench({ rate: 2 });
    const { order: run } = await order('run-3');
    expect(await command({ do: 'start', order: run })).toBeNull();
    await until((s) => s.run.line > 20);
    expect(await command({ do: 'hold' })).toBeNull();
    const held = await until((s) => s.status.state === 'hold' && s.status.speed === 0);
    expect(held.run.state).toBe('held');
    expect(await command({ do: 'resume' })).toBeNull();
    await until((s) => s.run.line > held.run.line + 5);
    expect(await command({ do: 'stop' })).toBeNull();
    const end = await until((s) => s.run.endedAt && s.status.state === 'idle');
    expect(end.run.state).toBe('stopped');
    expect(end.run.message).toMatch(/line \d+ of \d+/);
    await until((s) => s.status.spindle!.actual === 0);
  });

  it('comes to rest when the agent dies in a run, and says where the run got to', async () => {
    const { order: run } = await order('run-4');
    expect(await command({ do: 'start', order: run })).toBeNull();
    await until((s) => s.run.line > 20);
    agent.child.kill('SIGKILL');
    await new Promise((done) => setTimeout(done, 300));
    await startAgent();
    const back = await until((s) => s.link);
    expect(back.status.state).toBe('hold');
    const journal = await json('/journal/run-4');
    expect(journal.at(-1).line).toBeGreaterThanOrEqual(0);
    // The set-up survived the restart of the agent.
    expect(back.setup.zeroXY).toMatchObject({ corner: 'lower-left' });
    expect(await command({ do: 'stop' })).toBeNull();
    await until((s) => s.status.state === 'idle' && s.status.queued === 0);
  });

  it('fails a run in words when the machine is switched off, and recovers', async () => {
    const { order: run } = await order('run-5');
    expect(await command({ do: 'start', order: run })).toBeNull();
    await until((s) => s.run.line > 10);
    router.child.kill('SIGKILL');
    const lost = await until((s) => s.run.state === 'link-lost');
    expect(lost.run.message).toMatch(/The link was lost/);
    expect(await command({ do: 'home' })).toMatch(/does not answer/);
    await startRouter(60);
    const end = await until((s) => s.run.endedAt);
    expect(end.run).toMatchObject({ state: 'failed' });
    expect(end.run.message).toMatch(/restarted during the run/);
    // Nothing is trusted any more: it must be homed and zeroed again.
    await until((s) => s.setup.zeroXY === null);
  });

  it('stops in a stated place at a broken line', async () => {
    await setUp();
    const { order: run } = await order('run-6');
    const lines = run.program.split('\n');
    lines.splice(60, 0, 'G1 Xnonsense');
    expect(await command({ do: 'start', order: sealed({ ...run, program: lines.join('\n') }) })).toBeNull();
    const end = await until((s) => s.run.endedAt);
    expect(end.run.state).toBe('failed');
    expect(end.run.message).toMatch(/refused line 61.*X has no number/s);
  });
});
