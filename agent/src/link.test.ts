/** The link against a machine that misbehaves: a stand-in that says what the test tells it to. */
import { readStatus } from '@kerbe/core/link/status';
import { BARE_WORLD } from '@kerbe/core/link/testing';
import { createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';
import { mkdtempSync, rmSync, appendFileSync, mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { restingStatus, type MachineStatus } from '@kerbe/core/link';
import { kerbeLink, linkAlone } from '@kerbe/core/machine';
import { Agent, type RunOrder } from './agent.ts';
import { Journal } from './journal.ts';
import { Link } from './link.ts';
import { allSet, sealed } from './testing.ts';

const REST = restingStatus();
const STATUS: MachineStatus = {
  ...REST,
  homed: true,
  offset: [100, 100, -50],
  sensor: { x: 0, y: 0, radius: 10, height: 50 },
  travel: [1300, 900, 130],
  world: { ...BARE_WORLD, bit: 'v', vacuum: false, dust: false },
};

let server: Server;
let socket: Socket | null;
let status: MachineStatus;
let received: string[];
let answerLines: (line: string) => string | null;
let link: Link;
let folder: string;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'kerbe-link-'));
  status = structuredClone(STATUS);
  received = [];
  answerLines = (line) => `ok ${line.split(' ')[0]}`;
  server = createServer((client) => {
    socket = client;
    client.on('error', () => {});
    let rest = '';
    client.on('data', (chunk) => {
      const lines = (rest + chunk.toString()).split('\n');
      rest = lines.pop()!;
      for (const line of lines) {
        if (line === '!status') client.write(`status ${JSON.stringify(status)}\n`);
        else if (line.startsWith('!')) {
          received.push(line);
          if (line.startsWith('!restart')) status.tag = line.slice(9);
          client.write(`done ${line.slice(1).split(' ')[0]}\n`);
        } else {
          received.push(line);
          const answer = answerLines(line);
          if (answer) client.write(answer + '\n');
        }
      }
    });
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  link = new Link(linkAlone(kerbeLink('127.0.0.1', (server.address() as AddressInfo).port)));
  await new Promise<void>((done) => link.once('up', done));
});
afterEach(() => {
  link.close();
  socket?.destroy();
  server.close();
  rmSync(folder, { recursive: true, force: true });
});

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
async function until(what: () => boolean) {
  for (let i = 0; i < 2000 && !what(); i++) await pause(10);
  expect(what()).toBe(true);
}
const order = (lines: number): RunOrder =>
  sealed({
    id: 'run',
    name: 'test.nc',
    sha256: 'x',
    program: ['G21 G90', ...Array.from({ length: lines - 2 }, (_, i) => `G1 X${i} F600`), 'M30'].join('\n'),
    process: 'router' as const,
    bits: ['v'],
    datum: { corner: 'lower-left', z: 'top' },
    extents: { min: [0, 0, 0], max: [10, 10, 0] },
  }) as RunOrder;
function readyAgent(): Agent {
  const agent = new Agent(link, new Journal(folder));
  agent.setup.state = allSet();
  return agent;
}
const programLines = () => received.filter((line) => /^\d/.test(line));

it('a status says what its machine can say: one without spindle and world is one, a wrong spindle is none', () => {
  expect(readStatus(REST)).toEqual(REST);
  expect(readStatus({ ...REST, spindle: { target: 1 } })).toMatchObject({ why: expect.stringMatching(/^spindle/) });
  expect(readStatus({ ...REST, world: {} })).toMatchObject({ why: expect.stringMatching(/^world/) });
});

describe('the link', () => {
  it('lives through garbage, split and joined lines', async () => {
    socket!.write('\u0000\u0001garbage\nstatus {"broken": \nok\nerror\nnonsense 12\n');
    const text = `status ${JSON.stringify({ ...status, message: 'still here' })}\nok 3\n`;
    const acknowledged: number[] = [];
    link.on('ok', (seq) => acknowledged.push(seq));
    for (const character of text.match(/.{1,7}/gs)!) {
      socket!.write(character);
      await pause(1);
    }
    await until(() => acknowledged.includes(3));
    expect(link.up).toBe(true);
  });
  it('tells a command that is waiting when the machine goes away', async () => {
    server.removeAllListeners('connection');
    const answer = link.command('home');
    socket!.destroy();
    expect(await answer).toMatch(/lost|null/);
    await until(() => !link.up);
    expect(await link.command('home')).toMatch(/does not answer/);
  });
});

describe('streaming', () => {
  it('never has more lines outstanding than its window, and sends each once, in order', async () => {
    const agent = readyAgent();
    const held: string[] = [];
    answerLines = (line) => {
      held.push(line);
      return null;
    };
    expect(await agent.start(order(200))).toBeNull();
    await until(() => programLines().length >= 24);
    await pause(100);
    expect(programLines()).toHaveLength(24);
    // Let them through a few at a time.
    while (programLines().length < 200 || held.length > 0) {
      const line = held.shift();
      if (line) socket!.write(`ok ${line.split(' ')[0]}\n`);
      await pause(1);
      expect(held.length).toBeLessThanOrEqual(24);
    }
    expect(programLines().map((line) => Number(line.split(' ')[0]))).toEqual(Array.from({ length: 200 }, (_, i) => i + 1));
    status.done = 200;
    await until(() => agent.runner.run?.state === 'done');
  });

  it('stops the machine and says the line when one is refused', async () => {
    const agent = readyAgent();
    answerLines = (line) => (line.startsWith('7 ') ? 'error 7 X would go to 2000' : `ok ${line.split(' ')[0]}`);
    expect(await agent.start(order(40))).toBeNull();
    await until(() => agent.runner.run?.state === 'failed');
    expect(agent.runner.run!.message).toBe('The machine refused line 7: X would go to 2000.');
    await until(() => received.includes('!stop'));
  });

  it('refuses every start that set-up does not carry, and says why', async () => {
    const agent = readyAgent();
    const good = agent.setup.state;
    const refused = async (change: object, why: RegExp, of: Partial<RunOrder> = {}) => {
      agent.setup.state = { ...good, ...change };
      expect(await agent.start({ ...order(3), ...of })).toMatch(why);
      expect(programLines()).toEqual([]);
    };
    await refused({ zeroXY: null }, /X and Y zero/);
    await refused({ zeroZ: null }, /Z zero/);
    await refused({ bitReading: null }, /not been measured/);
    await refused({ bitFitted: 'other' }, /not the one this program begins with/);
    await refused({}, /counts from the centre/, { datum: { corner: 'centre', z: 'top' } });
    await refused({}, /Z0 on the spoilboard/, { datum: { corner: 'lower-left', z: 'spoilboard' } });
    await refused({}, /beyond the end of X/, { extents: { min: [-150, 0, 0], max: [10, 10, 0] } });
    status.world!.probeClip = true;
    await until(() => link.status!.world!.probeClip === true);
    await refused({}, /clip/);
    status.world!.probeClip = false;
    status.world!.bit = 'other';
    await until(() => link.status!.world!.bit === 'other');
    await refused({}, /Another bit is fitted/);
  });

  it('stops the run, with the reason, when the journal cannot be written', async () => {
    const agent = readyAgent();
    answerLines = () => null;
    expect(await agent.start(order(60))).toBeNull();
    // A folder in place of the file: the disk refuses, whoever asks.
    rmSync(join(folder, 'run.jsonl'));
    mkdirSync(join(folder, 'run.jsonl'));
    await until(() => agent.runner.run?.state === 'failed');
    expect(agent.runner.run!.message).toMatch(/journal could not be written/);
    await until(() => received.includes('!stop'));
  });

  it('comes back from a lost link: says where it got to, and goes on from there without a gap', async () => {
    const agent = readyAgent();
    let taken = 0;
    answerLines = (line) => {
      taken = Number(line.split(' ')[0]);
      return taken <= 30 ? `ok ${taken}` : null;
    };
    expect(await agent.start(order(100))).toBeNull();
    await until(() => programLines().length >= 54);
    // The machine took lines up to 40 before the cable came out.
    status.expected = 41;
    status.done = 25;
    status.state = 'hold';
    socket!.destroy();
    await until(() => agent.runner.run?.state === 'link-lost');
    expect(agent.runner.run!.message).toMatch(/line \d+/);
    await until(() => link.up);
    answerLines = (line) => `ok ${line.split(' ')[0]}`;
    const before = programLines().length;
    status.state = 'run';
    expect(await agent.resume(false)).toBeNull();
    await until(() => programLines().length >= before + 60);
    expect(
      programLines()
        .slice(before)
        .map((line) => Number(line.split(' ')[0])),
    ).toEqual(Array.from({ length: 60 }, (_, i) => 41 + i));
  });
});

describe('the journal', () => {
  it('leaves out a last line cut short by a power loss', () => {
    const journal = new Journal(folder);
    journal.write('r1', { event: 'start' });
    journal.write('r1', { event: 'progress', line: 5 });
    appendFileSync(join(folder, 'r1.jsonl'), '{"at":"2026-01-01","eve');
    expect(journal.read('r1').map(({ event }) => event)).toEqual(['start', 'progress']);
  });
  it('reads nothing outside its folder', () => expect(new Journal(folder).read('../secrets')).toEqual([]));
});

describe('a machine that talks nonsense', () => {
  const SHAPES: [string, unknown][] = [
    ['nothing', null],
    ['a number', 7],
    ['words', 'idle'],
    ['a list', []],
    ['an empty object', {}],
    ['no override', { ...STATUS, override: undefined }],
    ['a world of null', { ...STATUS, world: null }],
    ['a spindle that says nothing', { ...STATUS, spindle: {} }],
    ['positions of words', { ...STATUS, machine: ['a', 'b', 'c'] }],
    ['positions that are short', { ...STATUS, offset: [1] }],
    ['a state of its own', { ...STATUS, state: 'thinking' }],
    ['a rate of zero', { ...STATUS, rate: 0 }],
    ['counts that are none', { ...STATUS, queued: 'many', expected: null }],
    ['clamps that are none', { ...STATUS, world: { ...STATUS.world, clamps: 'two' } }],
  ];
  it.each(SHAPES)('%s as a status: nothing falls over, the last good word stands, and it is said', async (_, shape) => {
    const agent = new Agent(link, new Journal(folder));
    socket!.write(`status ${JSON.stringify(shape)}\n`);
    await until(() => link.talk.some(({ text }) => text.includes('no status')));
    expect(link.up).toBe(true);
    expect(agent.snapshot.status).toMatchObject({ state: 'idle' });
    // And again after a start: nothing of it was written down.
    expect(new Agent(link, new Journal(folder)).setup.state).toMatchObject({ zeroXY: null });
  });
  it('nothing else but that: the link is left with the reason, and is there again when it makes sense', async () => {
    const good = status;
    let why = '';
    link.on('down', (said) => (why = said));
    status = { ...STATUS, machine: null } as never;
    await until(() => why !== '');
    expect(why).toMatch(/no status \(machine/);
    expect(link.up).toBe(false);
    status = good;
    await until(() => link.up);
  });
});
