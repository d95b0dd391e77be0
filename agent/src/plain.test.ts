/**
 * A controller described by a profile alone: plain lines, each answered, over TCP and over a real
 * pseudo-terminal pair (socat). A stand-in of this test's own, with words of its own.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SerialPort } from 'serialport';
import { afterEach, describe, expect, it } from 'vitest';
import { linkAlone, LinkProfile } from '@kerbe/core/machine';
import { Agent } from './agent.ts';
import { Journal } from './journal.ts';
import { Link } from './link.ts';
import { allSet, sealed, wait } from './testing.ts';

/** The stand-in: takes lines, says "fine" or "nope why", tells "at <state> x y z" when asked "where". */
class Standin {
  readonly lines: string[] = [];
  state = 'resting';
  /** Answers given late, so that lines pile up. */
  slow = false;
  most = 0;
  private rest = '';
  private open = 0;
  private readonly say: (text: string) => void;

  constructor(say: (text: string) => void) {
    this.say = say;
  }

  hear(chunk: string): void {
    const parts = (this.rest + chunk).split('\r');
    this.rest = parts.pop()!;
    for (const line of parts) this.line(line);
  }

  private line(line: string): void {
    if (line === 'where') return this.say(`at ${this.state} 1.5 2.5 -3.25\r`);
    if (line === 'STILL') return void (this.state = 'standing');
    if (line === 'ON') return void (this.state = 'resting');
    if (line === 'ENOUGH') return void (this.state = 'resting');
    this.lines.push(line);
    this.open++;
    this.most = Math.max(this.most, this.open);
    const answer = () => {
      this.open--;
      this.say(line.includes('X13 ') ? 'nope that is an unlucky place\r' : 'fine\r');
    };
    if (this.slow) setTimeout(answer, 3);
    else answer();
  }
}

const profile = (transport: LinkProfile['transport'], over: Partial<LinkProfile> = {}) =>
  LinkProfile.parse({
    transport,
    talk: 'plain',
    lineEnd: 'cr',
    lines: 5,
    accepted: '^fine$',
    refused: '^nope (.*)$',
    ask: 'where\\r',
    every: 30,
    status: '^at (?<state>\\w+) (?<x>\\S+) (?<y>\\S+) (?<z>\\S+)$',
    states: { idle: 'resting', hold: 'standing' },
    hold: 'STILL\\r',
    resume: 'ON\\r',
    stop: 'ENOUGH\\r',
    clear: '\\r',
    home: 'G28\\r',
    ...over,
  });

const closers: (() => void | Promise<void>)[] = [];
afterEach(async () => {
  for (const close of closers.splice(0).reverse()) await close();
});

async function overTcp(over: Partial<LinkProfile> = {}) {
  let standin!: Standin;
  let client: Socket | null = null;
  const server: Server = createServer((socket) => {
    client = socket;
    standin = new Standin((text) => socket.write(text));
    socket.on('error', () => {}).on('data', (chunk) => standin.hear(String(chunk)));
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  closers.push(() => {
    client?.destroy();
    server.close();
  });
  const link = new Link(linkAlone(profile({ kind: 'tcp', host: '127.0.0.1', port: (server.address() as AddressInfo).port }, over)));
  closers.push(() => link.close());
  await new Promise<void>((done) => link.once('up', done));
  return { link, standin: () => standin };
}

/** Homed first: a status from before that would take the zeros away again. */
async function ready(link: Link): Promise<Agent> {
  const folder = mkdtempSync(join(tmpdir(), 'kerbe-plain-'));
  closers.push(() => rmSync(folder, { recursive: true, force: true }));
  const agent = new Agent(link, new Journal(folder));
  expect(await agent.home()).toBeNull();
  agent.setup.state = allSet();
  return agent;
}
const order = (lines: number, from = 100) =>
  sealed({
    id: `run${lines}`,
    name: 'test.nc',
    sha256: 'x',
    program: ['G21 G90', ...Array.from({ length: lines - 2 }, (_, i) => `G1 X${from + i} Y0 F600`), 'M30'].join('\n'),
    process: 'router' as const,
    bits: ['v'],
    datum: { corner: 'lower-left', z: 'top' as const },
    extents: { min: [0, 0, 0] as [number, number, number], max: [10, 10, 0] as [number, number, number] },
  });
async function until(what: () => boolean) {
  for (let i = 0; i < 400 && !what(); i++) await wait(10);
  expect(what()).toBe(true);
}

describe('a controller that takes plain lines', () => {
  it('tells where it is in its own words', async () => {
    const { link, standin } = await overTcp();
    expect(link.status).toMatchObject({ state: 'idle', machine: [1.5, 2.5, -3.25] });
    standin().state = 'standing';
    await until(() => link.status!.state === 'hold');
  });

  it('runs a program: every line once, in order, never more on the way than it takes', async () => {
    const { link, standin } = await overTcp();
    const agent = await ready(link);
    standin().lines.length = 0;
    standin().slow = true;
    const run = order(120);
    expect(await agent.start(run)).toBeNull();
    await until(() => agent.runner.run?.endedAt !== null);
    expect(agent.runner.run).toMatchObject({ state: 'done', line: 120 });
    expect(standin().lines).toEqual(run.program.split('\n'));
    expect(standin().most).toBeLessThanOrEqual(5);
  });

  it('counts bytes where the controller has a buffer of bytes', async () => {
    const { link, standin } = await overTcp({ lines: 100, bytes: 35 });
    const agent = await ready(link);
    standin().slow = true;
    standin().most = 0;
    expect(await agent.start(order(60))).toBeNull();
    await until(() => agent.runner.run?.endedAt !== null);
    // Lines of 16 bytes with their ends: two of them in 35, and beside two not even the first (8) or the last (4), which are shorter.
    expect(standin().most).toBeLessThanOrEqual(2);
  });

  it('stops at a line it refuses, with its reason', async () => {
    const { link } = await overTcp();
    const agent = await ready(link);
    expect(await agent.start(order(20, 0))).toBeNull();
    await until(() => agent.runner.run?.endedAt !== null);
    expect(agent.runner.run).toMatchObject({ state: 'failed', message: 'The machine refused line 15: that is an unlucky place.' });
  });

  it('is held, goes on and is stopped by the bytes of its profile; what it has no word for is refused', async () => {
    const { link, standin } = await overTcp();
    const agent = await ready(link);
    expect(await agent.runner.hold('operator')).toBeNull();
    await until(() => standin().state === 'standing');
    expect(await agent.resume(false)).toBeNull();
    await until(() => standin().state === 'resting');
    expect(await agent.override(0.5, 1)).toMatch(/there is no “override”/);
    expect(await agent.startJog([1, 0, 0], 600)).toMatch(/there is no “jog-start”/);
    standin().lines.length = 0;
    expect(await agent.jog(5, 0, 0, 600)).toBeNull();
    await until(() => standin().lines.length === 2);
    expect(standin().lines).toEqual(['G21 G91 G1 X5 Y0 Z0 F600', 'G90']);
  });

  it('shows what was said on the wire, questions for the status left out', async () => {
    const { link } = await overTcp();
    link.raw('G21');
    await until(() => link.talk.some(({ way, text }) => way === 'in' && text === 'fine'));
    expect(link.talk.map(({ way, text }) => `${way} ${text}`)).toEqual(['out G21', 'in fine']);
  });
});

describe('a serial port', () => {
  let pair: ChildProcess;
  /** Two ends of a pseudo-terminal pair: the machine's, and Kerbe's. */
  async function ports(): Promise<{ theirs: string; ours: string }> {
    const folder = mkdtempSync(join(tmpdir(), 'kerbe-serial-'));
    const [theirs, ours] = [join(folder, 'theirs'), join(folder, 'ours')];
    pair = spawn('socat', [`pty,raw,echo=0,link=${theirs}`, `pty,raw,echo=0,link=${ours}`], { stdio: 'ignore' });
    closers.push(async () => {
      pair.kill();
      await wait(50);
      rmSync(folder, { recursive: true, force: true });
    });
    for (let i = 0; i < 200 && !(existsSync(theirs) && existsSync(ours)); i++) await wait(20);
    return { theirs, ours };
  }

  it('carries the same talk, through noise on the line; pulled out and put back it is found again', async () => {
    const { theirs, ours } = await ports();
    const machine = new SerialPort({ path: theirs, baudRate: 115200 });
    const standin = new Standin((text) => void machine.write(text));
    machine.on('data', (chunk: Buffer) => standin.hear(chunk.toString('latin1')));
    closers.push(() => new Promise<void>((done) => (machine.isOpen ? machine.close(() => done()) : done())));
    const link = new Link(linkAlone(profile({ kind: 'serial', path: ours, baud: 115200 })));
    closers.push(() => link.close());
    await until(() => link.up);
    const agent = await ready(link);
    standin.lines.length = 0;
    machine.write(Buffer.from([0, 255, 254, 13, 128, 13]));
    const run = order(80);
    expect(await agent.start(run)).toBeNull();
    await until(() => agent.runner.run?.endedAt !== null);
    expect(agent.runner.run!.state).toBe('done');
    expect(standin.lines).toEqual(run.program.split('\n'));
    pair.kill('SIGKILL');
    await until(() => !link.up);
  });

  it('says when the port is not there, and goes on trying', async () => {
    const link = new Link(linkAlone(profile({ kind: 'serial', path: '/dev/no-such-port', baud: 9600 })));
    closers.push(() => link.close());
    await wait(200);
    expect(link.up).toBe(false);
    expect(await link.command('hold')).toMatch(/does not answer/);
  });
});
