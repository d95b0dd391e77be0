/** For tests: the agent and the simulated router as real processes, with a tap on the wire between them. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createHash } from 'node:crypto';
import { noSetup, type AgentSnapshot, type Setup } from '@kerbe/core/link';
import { bundles } from '../../scripts/bundle.mjs';
import { freePort, startNode } from '../../scripts/processes.mjs';

type Started = Awaited<ReturnType<typeof startNode>>;
const token = 'a-token-for-tests';
export const machineToken = 'a-machine-token-for-tests';

export const wait = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/** Numbers that look random and are the same at every run. */
export function dice(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    // Lehmer's generator with Park and Miller's constants (1988).
    state = (state * 48271) % 2147483647;
    return state / 2147483647;
  };
}

/** Sits on the wire between agent and machine, and makes trouble when asked. */
export class Tap {
  trouble: { chop?: boolean; noise?: () => string | null; delay?: number } = {};
  /** What the agent said to the machine since a test began to listen, by setting it to ''. */
  said: string | null = null;
  private readonly server: Server;
  private readonly pairs = new Set<[Socket, Socket]>();
  private deaf = 0;
  private machine: number;

  private constructor(machine: number) {
    this.machine = machine;
    this.server = createServer((agent) => this.join(agent));
  }

  static async start(machine: number): Promise<Tap> {
    const tap = new Tap(machine);
    await new Promise<void>((done) => tap.server.listen(0, '127.0.0.1', done));
    return tap;
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port;
  }

  /** Pulls the cable for a while. */
  cut(ms: number): void {
    this.deaf = Date.now() + ms;
    for (const [a, b] of this.pairs) {
      a.destroy();
      b.destroy();
    }
  }

  close(): void {
    this.cut(0);
    this.server.close();
  }

  private join(agent: Socket): void {
    if (Date.now() < this.deaf) return void agent.destroy();
    const machine = connect({ host: '127.0.0.1', port: this.machine, noDelay: true });
    const pair: [Socket, Socket] = [agent, machine];
    this.pairs.add(pair);
    const end = () => {
      this.pairs.delete(pair);
      agent.destroy();
      machine.destroy();
    };
    for (const socket of pair) socket.on('error', end).on('close', end).setEncoding('utf8');
    agent.on('data', (chunk) => {
      if (this.said !== null) this.said += chunk;
      machine.write(chunk);
    });
    machine.on('data', (chunk) => void this.pass(agent, String(chunk)));
  }

  private async pass(agent: Socket, text: string): Promise<void> {
    const { chop, noise, delay } = this.trouble;
    if (delay) await wait(delay);
    const said = noise?.() ?? null;
    const whole = said !== null && text.endsWith('\n') ? text + said + '\n' : text;
    if (!chop) return void agent.write(whole);
    for (const piece of whole.match(/[^]{1,37}/g) ?? []) agent.write(piece);
  }
}

export class Shop {
  folder = mkdtempSync(join(tmpdir(), 'kerbe-agent-'));
  router!: Started;
  agent!: Started;
  tap!: Tap;
  routerPort = 0;
  private key = 0;
  private readonly rate: number;
  private readonly kind: string;

  constructor(rate: number, kind = 'router') {
    this.rate = rate;
    this.kind = kind;
  }

  async open(): Promise<void> {
    this.routerPort = await freePort();
    await this.startRouter();
    this.tap = await Tap.start(this.routerPort);
    await this.startAgent();
    await this.until((s) => s.link);
  }

  async close(): Promise<void> {
    this.tap.close();
    await this.agent.stop();
    await this.router.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }

  async startRouter(): Promise<void> {
    const args = ['--kind', this.kind, '--port', String(this.routerPort), '--rate', String(this.rate), '--taken', join(this.folder, 'taken')];
    this.router = await startNode(await bundles.machine(), args, { KERBE_MACHINE_TOKEN: machineToken });
  }

  async startAgent(env: Record<string, string> = {}): Promise<void> {
    this.agent = await startNode(await bundles.agent(), ['--machine', `127.0.0.1:${this.tap.port}`, '--journal', this.folder], {
      KERBE_AGENT_TOKEN: token,
      KERBE_MACHINE_TOKEN: machineToken,
      ...env,
    });
  }

  /** The lines the machine took while it counted for a run, in order. */
  taken(run: string): string[] {
    return readFileSync(join(this.folder, 'taken'), 'utf8')
      .split('\n')
      .filter((line) => line.startsWith(`${run}:`))
      .map((line) => line.slice(line.indexOf('\t') + 1));
  }

  call(path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> {
    return fetch(`http://127.0.0.1:${this.agent.port}${path}`, {
      method: body ? 'POST' : 'GET',
      headers: { authorization: `Bearer ${token}`, 'idempotency-key': `k${this.key++}`, ...headers },
      body: body ? JSON.stringify(body) : undefined,
    });
  }

  async command(body: Record<string, unknown>, headers: Record<string, string> = {}): Promise<string | null> {
    return ((await (await this.call('/command', body, headers)).json()) as { why: string | null }).why;
  }

  /** Does it, and it must not be refused. On a busy computer the link may have to come back first, as after any pause. */
  async must(body: Record<string, unknown>): Promise<void> {
    let why = await this.command(body);
    if (why?.startsWith('The machine does not answer')) {
      await this.until(({ link }) => link);
      why = await this.command(body);
    }
    if (why !== null) throw new Error(`${JSON.stringify(body).slice(0, 200)}: ${why}`);
  }

  async state(): Promise<AgentSnapshot> {
    return (await (await this.call('/state')).json()) as AgentSnapshot;
  }

  async until(what: (s: AgentSnapshot) => unknown, seconds = 20): Promise<AgentSnapshot> {
    const end = Date.now() + seconds * 1000;
    for (;;) {
      const now = await this.state();
      if (what(now)) return now;
      if (Date.now() > end) throw new Error(`waited in vain: ${JSON.stringify(now.run)} ${JSON.stringify(now.status)}`);
      await wait(15);
    }
  }

  async rest(): Promise<void> {
    await this.until((s) => s.status?.state === 'idle' && s.status.queued === 0);
  }

  /** From power-on to a zero at 300, 200, as quickly as it goes: a bit, measured; Z by jogging. */
  async ready(bit = 'v'): Promise<void> {
    await this.until((s) => s.link);
    await this.must({ do: 'bench', change: { rate: 200 } });
    await this.must({ do: 'clear' });
    await this.must({ do: 'home' });
    await this.must({ do: 'bench', change: { board: { x: 300, y: 200, width: 300, height: 200, thickness: 12 } } });
    await this.must({ do: 'bench', change: { bit: { shape: { kind: 'v', id: bit, angle: 60, diameter: 12.7 }, stickOut: 42 } } });
    await this.must({ do: 'measure', bit, sure: true });
    await this.must({ do: 'move-over', x: 300, y: 200 });
    await this.must({ do: 'zero-xy', corner: 'lower-left' });
    // The tip is 150 - 42 = 108 above the spoilboard, 96 above the board.
    await this.must({ do: 'jog', x: 0, y: 0, z: -90, feed: 4000 });
    await this.rest();
    await this.must({ do: 'zero-z', method: 'paper', thickness: 6, datum: 'top' });
    await this.must({ do: 'bench', change: { rate: this.rate } });
  }
}

/** A program of many short moves above the board, each line unlike every other. */
export function zigzag(lines: number, step = 0.5): string {
  const moves = Array.from({ length: lines - 3 }, (_, k) => {
    const x = ((k * step) % 280).toFixed(3);
    const y = (((k * 7) % 180) * 0.01 + Math.floor((k * step) / 280)).toFixed(3);
    return `G1 X${x} Y${y} Z${(3 + (k % 100) / 1000).toFixed(3)} F9000`;
  });
  return ['G21 G90', 'G0 Z5', ...moves, 'M30'].join('\n');
}

/** An order as whoever made it hands it over: with the hash of its text. */
export const sealed = <T extends { program: string }>(order: T): T & { textSha256: string } => ({
  ...order,
  textSha256: createHash('sha256').update(order.program).digest('hex'),
});

export const orderOf = (id: string, program: string, over: Record<string, unknown> = {}) => ({
  do: 'start',
  order: sealed({
    id,
    name: 'zigzag.nc',
    sha256: 'x',
    program,
    bits: ['v'],
    datum: { corner: 'lower-left', z: 'top' },
    extents: { min: [0, 0, 0], max: [280, 190, 5] },
    ...over,
  }),
});

/** What is set up when a V is fitted and measured, and zero touched on the top at the front left corner. */
export const allSet = (): Setup => ({
  ...noSetup(),
  bitReading: -60,
  bitFitted: 'v',
  zeroXY: { corner: 'lower-left', by: 'test', angle: 0, job: null, at: new Date().toISOString() },
  zeroZ: { datum: 'top', method: 'plate', reading: -60, bit: 'v', job: null, at: new Date().toISOString() },
});
