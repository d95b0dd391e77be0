/**
 * The whole way on a controller that is only described: from a profile to a finished board, with
 * nothing seeded. The stand-in is a process of its own with words of its own; only a person's hands
 * on it (bit, plate, board) come by its second port.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { linkedOf, MachineProfile, profileFaults, type LinkProfile } from '@kerbe/core/machine';
import { bundles } from '../../scripts/bundle.mjs';
import { freePort, startNode } from '../../scripts/processes.mjs';
import { Agent } from './agent.ts';
import { Command } from '@kerbe/core/link/commands';
import { carryOut } from './commands.ts';
import { Journal } from './journal.ts';
import { Link } from './link.ts';
import { sealed } from './testing.ts';

/** How the stand-in is described, as a person would type it. */
const standinProfile = (port: number, over: Record<string, unknown> = {}): MachineProfile =>
  MachineProfile.parse({
    limits: { name: 'Stand-in' },
    link: {
      transport: { kind: 'tcp', host: '127.0.0.1', port },
      talk: 'plain',
      lines: 6,
      accepted: '^fine$',
      refused: '^nope (.*)$',
      ask: 'WHERE\\n',
      every: 25,
      status: '^at (?<state>\\w+) (?<x>\\S+) (?<y>\\S+) (?<z>\\S+) work (?<wx>\\S+) (?<wy>\\S+) (?<wz>\\S+)$',
      probe: '^touch (?<x>\\S+) (?<y>\\S+) (?<z>\\S+) (?<touched>yes|)(no)?$',
      states: { idle: '^resting$', run: '^busy$', hold: '^standing$', alarm: '^trouble$' },
      hold: 'STILL\\n',
      resume: 'ON\\n',
      stop: 'ENOUGH\\n',
      clear: 'CLEAR\\n',
      home: 'GO-HOME\\n',
    },
    ...over,
  });

const closers: (() => void | Promise<void>)[] = [];
afterEach(async () => {
  for (const close of closers.splice(0).reverse()) await close();
});

/** A person at the stand-in: an agent linked by a profile, and hands. */
async function atStandin(over: Record<string, unknown> = {}, linkOver: Partial<LinkProfile> = {}) {
  const handsPort = await freePort();
  const standin = await startNode(await bundles.plain(), ['--rate', '100', '--hands', String(handsPort)]);
  closers.push(() => standin.stop());
  const plain = standinProfile(standin.port, over);
  const profile = { ...plain, link: { ...plain.link, ...linkOver } };
  expect(profileFaults(profile)).toEqual([]);
  const folder = mkdtempSync(join(tmpdir(), 'kerbe-plain-'));
  closers.push(() => rmSync(folder, { recursive: true, force: true }));
  const link = new Link(linkedOf(profile));
  closers.push(() => link.close());
  const agent = new Agent(link, new Journal(folder));
  if (!link.up) await new Promise<void>((done) => link.once('up', done));
  const socket: Socket = connect({ host: '127.0.0.1', port: handsPort });
  closers.push(() => void socket.destroy());
  return {
    agent,
    tell: (command: Record<string, unknown>) => carryOut(agent, Command.parse(command), { id: 'a', by: 'operator', tab: 'one' }),
    // Hands wait until it stands: what was read of it last may be a moment old.
    hands: async (change: Record<string, unknown>) => {
      for (let tries = 0; ; tries++) {
        const answer = await new Promise<string>((done) => {
          socket.once('data', (data) => done(String(data).trim()));
          socket.write(JSON.stringify(change) + '\n');
        });
        if (tries > 500 || !/the machine is moving/.test(answer)) return answer;
        await new Promise((done) => setTimeout(done, 20));
      }
    },
  };
}
type At = Awaited<ReturnType<typeof atStandin>>;

const BOARD = { x: 300, y: 200, width: 100, height: 80, thickness: 12 };
const V = { shape: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 }, stickOut: 42 };
const END = { shape: { kind: 'end', id: 'e', diameter: 6 }, stickOut: 33 };
const order = (id: string, program: string[], bits: string[]) => ({
  do: 'start',
  order: sealed({
    id,
    name: 'reed.nc',
    sha256: 'x',
    program: program.join('\n'),
    bits,
    datum: { corner: 'lower-left', z: 'top' },
    extents: { min: [0, 0, -3], max: [50, 40, 5] },
  }),
});
const ONE = ['G21 G90', 'S12000 M3', 'G4 P1', 'G0 X10 Y10', 'G0 Z5', 'G1 Z-2 F500', 'G1 X40 F1500', 'G0 Z5', 'M5', 'G53 G0 Z0', 'M30'];
const TWO = [
  ...ONE.slice(0, -1),
  'M0 (Fit the straight bit)',
  'S12000 M3',
  'G4 P1',
  'G0 X10 Y30',
  'G0 Z5',
  'G1 Z-3 F500',
  'G1 X40 F1500',
  'G0 Z5',
  'M5',
  'G53 G0 Z0',
  'M30',
];

async function until(what: () => unknown) {
  for (let i = 0; i < 1500 && !what(); i++) await new Promise((done) => setTimeout(done, 10));
  expect(what()).toBeTruthy();
}
/** Home, X and Y at the corner of the board. */
async function homeAndXY({ agent, tell, hands }: At) {
  expect(await hands({ board: BOARD })).toBe('fine');
  expect(await tell({ do: 'go-to-zero', clearance: 5 })).toMatch(/Home it first/);
  expect(await tell({ do: 'home' })).toBeNull();
  expect(agent.status!.homed).toBe(true);
  expect(await tell({ do: 'move-over', x: BOARD.x, y: BOARD.y })).toBeNull();
  expect(await tell({ do: 'zero-xy', corner: 'lower-left' })).toBeNull();
  expect(agent.status!.offset.slice(0, 2)).toEqual([300, 200]);
}
/** Lowered until the tip stands a paper's 2 mm above a height over the spoilboard. */
async function paperAt({ agent, tell }: At, stickOut: number, more: Record<string, unknown> = {}) {
  await tell({ do: 'move-over', x: BOARD.x + 50, y: BOARD.y + 60 });
  const down = 12 + 2 - (150 - stickOut);
  expect(await tell({ do: 'jog', x: 0, y: 0, z: down, feed: 3000 })).toBeNull();
  await until(() => agent.status!.state === 'idle' && Math.abs(agent.status!.machine[2] - down) < 0.01);
  expect(await tell({ do: 'zero-z', method: 'paper', thickness: 2, datum: 'top', ...more })).toBeNull();
}
/** Z0 is on top of the board for a bit that stands out so far. */
const onTop = (agent: Agent, stickOut: number) => expect(agent.status!.offset[2]).toBeCloseTo(12 - 150 + stickOut, 2);

describe('a controller described by a profile', () => {
  it('with probe and sensor: two bits, measured, one board', async () => {
    const at = await atStandin();
    const { agent, tell, hands } = at;
    await homeAndXY(at);
    expect(await hands({ bit: V })).toBe('fine');
    expect(await tell({ do: 'fitted', bit: 'v' })).toBeNull();
    expect(await tell(order('none', ONE, ['v']))).toMatch(/zero has not been set/);
    expect(await tell({ do: 'measure', bit: 'v' })).toBeNull();
    // It went to the sensor of the profile: 50 above the spoilboard, the bit 42 out of a nose at 150.
    expect(agent.setup.state).toMatchObject({ bitFitted: 'v', bitReading: expect.closeTo(50 - 150 + 42, 1) });
    expect(await tell({ do: 'move-over', x: 350, y: 240 })).toBeNull();
    expect(await hands({ plate: { x: 350, y: 240, thickness: 15 }, probeClip: true })).toBe('fine');
    expect(await tell({ do: 'zero-z', method: 'plate', thickness: 15, datum: 'top' })).toBeNull();
    expect(await hands({ plate: null, probeClip: false })).toBe('fine');
    onTop(agent, 42);
    expect(await tell(order('two', TWO, ['v', 'e']))).toBeNull();
    await until(() => agent.runner.run!.state === 'paused');
    expect(agent.runner.run).toMatchObject({ pause: { reason: 'tool-change', tool: 'e' }, message: 'Fit the straight bit' });
    await until(() => agent.status!.state === 'idle');
    expect(await tell({ do: 'resume', handsOff: true })).toMatch(/not been measured/);
    expect(await hands({ bit: END })).toBe('fine');
    expect(await tell({ do: 'fitted', bit: 'e' })).toBeNull();
    expect(await tell({ do: 'measure', bit: 'e', handsOff: true })).toBeNull();
    onTop(agent, 33);
    expect(await tell({ do: 'resume', handsOff: true })).toBeNull();
    await until(() => agent.runner.run!.endedAt);
    expect(agent.runner.run).toMatchObject({ state: 'done', line: TWO.length });
    // And once more, with the first bit again.
    await until(() => agent.status!.state === 'idle');
    expect(await hands({ bit: V })).toBe('fine');
    expect(await tell({ do: 'fitted', bit: 'v' })).toBeNull();
    expect(await tell(order('again', ONE, ['v']))).toMatch(/has not been measured/);
    expect(await tell({ do: 'measure', bit: 'v' })).toBeNull();
    expect(await tell(order('again', ONE, ['v']))).toBeNull();
    await until(() => agent.runner.run!.endedAt);
    expect(agent.runner.run).toMatchObject({ id: 'again', state: 'done' });
  }, 60_000);

  it('without a sensor: Z is touched with each bit, and nothing starts with a bit that has not touched', async () => {
    const at = await atStandin({ sensor: null });
    const { agent, tell, hands } = at;
    await homeAndXY(at);
    expect(await hands({ bit: V })).toBe('fine');
    expect(await tell({ do: 'fitted', bit: 'v' })).toBeNull();
    expect(await tell({ do: 'measure', bit: 'v' })).toMatch(/no tool sensor/);
    await paperAt(at, 42);
    onTop(agent, 42);
    expect(await tell(order('two', TWO, ['v', 'e']))).toBeNull();
    await until(() => agent.runner.run!.state === 'paused' && agent.status!.state === 'idle');
    expect(await hands({ bit: END })).toBe('fine');
    expect(await tell({ do: 'fitted', bit: 'e' })).toBeNull();
    expect(await tell({ do: 'resume', handsOff: true })).toMatch(/touched with the new bit/);
    await paperAt(at, 33, { handsOff: true });
    onTop(agent, 33);
    expect(await tell({ do: 'resume', handsOff: true })).toBeNull();
    await until(() => agent.runner.run!.endedAt);
    expect(agent.runner.run).toMatchObject({ state: 'done', line: TWO.length });
    // The bit is still in: it may be said, and Z0 holds. Fitted anew it does not.
    expect(await tell({ do: 'fitted', bit: 'e', still: true })).toBeNull();
    expect(await tell(order('again', ONE, ['e']))).toBeNull();
    await until(() => agent.runner.run!.endedAt);
    expect(await tell({ do: 'fitted', bit: 'e' })).toBeNull();
    expect(await tell(order('third', ONE, ['e']))).toMatch(/Z zero has not been set/);
  }, 60_000);

  it('without a probe: nothing is driven down to look for a touch that nobody could read', async () => {
    const at = await atStandin({ sensor: null }, { probe: undefined });
    const { agent, tell, hands } = at;
    await homeAndXY(at);
    await hands({ bit: V });
    await tell({ do: 'fitted', bit: 'v' });
    const before = agent.status!.machine;
    expect(await tell({ do: 'zero-z', method: 'plate', thickness: 15, datum: 'top' })).toMatch(/does not say how its answer to a touch reads/);
    expect(agent.status!.machine).toEqual(before);
    await paperAt(at, 42);
    expect(await tell(order('one', ONE, ['v']))).toBeNull();
    await until(() => agent.runner.run!.endedAt);
    expect(agent.runner.run).toMatchObject({ state: 'done' });
  }, 60_000);

  it('held and stopped in a run it is said when the controller shows it, and it can go on from a line', async () => {
    const at = await atStandin({ sensor: null });
    const { agent, tell, hands } = at;
    await homeAndXY(at);
    await hands({ bit: V });
    await tell({ do: 'fitted', bit: 'v' });
    await paperAt(at, 42);
    await hands({ rate: 1 });
    const long = ['G21 G90', 'G0 Z5', ...Array.from({ length: 60 }, (_, k) => `G1 X${(k % 2) * 40} Y${k / 2} F3000`), 'M30'];
    expect(await tell(order('long', long, ['v']))).toBeNull();
    await until(() => agent.status!.state === 'run' && agent.runner.run!.line > 5);
    expect(await tell({ do: 'hold' })).toBeNull();
    expect(agent.status!.state).toBe('hold');
    expect(agent.runner.run).toMatchObject({ state: 'held', message: 'Held by operator.' });
    expect(await tell({ do: 'resume' })).toBeNull();
    await until(() => agent.status!.state === 'run');
    expect(await tell({ do: 'stop' })).toBeNull();
    expect(agent.status!.state).toBe('idle');
    expect(agent.runner.run).toMatchObject({ state: 'stopped' });
    await hands({ rate: 100 });
    expect(await tell(order('rest', long.slice(0, 20), ['v']))).toBeNull();
    await until(() => agent.runner.run!.endedAt);
    expect(agent.runner.run).toMatchObject({ id: 'rest', state: 'done' });
  }, 60_000);
});
