/** What somebody who means harm, or a bad moment, could try at agent and machine - each as real processes. */
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { orderOf, sealed, Shop, wait, zigzag } from './testing.ts';

const shop = new Shop(50);
beforeAll(() => shop.open(), 60_000);
afterAll(() => shop.close());

const as = (id: string, tab: string, by = id) => ({ 'x-kerbe-id': id, 'x-kerbe-by': by, 'x-kerbe-tab': tab });

/** What the machine says to somebody who says this to it, until it hangs up or a second has gone. */
async function sayToMachine(text: string): Promise<{ said: string; closed: boolean }> {
  const socket = connect({ host: '127.0.0.1', port: shop.routerPort }).setEncoding('utf8');
  let [said, closed] = ['', false];
  socket
    .on('data', (chunk: string) => (said += chunk))
    .on('close', () => (closed = true))
    .on('error', () => (closed = true));
  socket.write(text);
  for (let i = 0; i < 50 && !closed; i++) await wait(20);
  socket.destroy();
  return { said, closed };
}

describe('the simulated machine obeys its own agent only', () => {
  it.each([
    ['a command', '!home\n'],
    ['numbered lines', '1 G0 X10\n2 G0 X20\n'],
    ['a wrong token', '!hello wrong\n!home\n'],
    ['the body of a web request', 'POST / HTTP/1.1\r\nhost: x\r\n\r\n!home\n'],
  ])('%s moves nothing and is hung up on', async (_, text) => {
    const before = (await shop.state()).status!;
    const { said, closed } = await sayToMachine(text);
    expect(closed).toBe(true);
    expect(said).toContain('refused hello this machine obeys its own agent only');
    const { status } = await shop.state();
    expect(status).toMatchObject({ state: before.state, machine: before.machine, homed: before.homed });
  });
  it('a second agent is refused as long as the first is there', async () => {
    const { said, closed } = await sayToMachine('!hello a-machine-token-for-tests\n!home\n');
    expect({ said: said.includes('refused hello another agent has this machine'), closed }).toEqual({ said: true, closed: true });
    expect((await shop.state()).link).toBe(true);
  });
});

describe('who holds the controls', () => {
  it('is the account on its tab, not a name and not what every screen can see', async () => {
    expect(await shop.command({ do: 'take' }, as('1', 'screen.secret', 'owner'))).toBeNull();
    const { controls } = await shop.state();
    expect(controls).toMatchObject({ by: 'owner', tab: 'screen' });
    expect(JSON.stringify(await shop.state())).not.toContain('secret');
    // Somebody renamed to the same name, with all that can be read.
    expect(await shop.command({ do: 'home' }, as('2', controls!.tab, 'owner'))).toMatch(/Owner is in control/);
    expect(await shop.command({ do: 'home' }, as('2', 'screen.secret', 'owner'))).toMatch(/Owner is in control/);
    expect(await shop.command({ do: 'home' }, as('1', controls!.tab, 'owner'))).toMatch(/on another screen/);
    // Renamed, it is still the same person.
    expect(await shop.command({ do: 'clear' }, as('1', 'screen.secret', 'boss'))).toBeNull();
    expect(await shop.command({ do: 'leave' }, as('1', 'screen.secret'))).toBeNull();
  });
});

describe('one key, one effect', () => {
  it('the same again gives the same answer and does nothing; another command with it is refused', async () => {
    await shop.ready();
    const key = { 'idempotency-key': 'one-key' };
    const deeper = { do: 'nudge', deeper: 0.5 };
    const reading = async () => (await shop.state()).status!.offset[2];
    const before = await reading();
    expect(await shop.command(deeper, key)).toBeNull();
    const after = await reading();
    expect(after).not.toBe(before);
    expect(await shop.command(deeper, key)).toBeNull();
    expect(await reading()).toBe(after);
    expect(await shop.command({ do: 'home' }, key)).toMatch(/used for another command/);
    expect(await shop.command(deeper, { ...key, ...as('7', '') })).toMatch(/used for another command/);
  });
  it('also after the agent was killed and started again', async () => {
    const deeper = { do: 'nudge', deeper: 0.25 };
    const key = { 'idempotency-key': 'over-a-restart' };
    expect(await shop.command(deeper, key)).toBeNull();
    const after = (await shop.state()).status!.offset[2];
    shop.agent.child.kill('SIGKILL');
    await wait(100);
    await shop.startAgent();
    await shop.until((s) => s.link);
    expect(await shop.command(deeper, key)).toBeNull();
    expect((await shop.state()).status!.offset[2]).toBe(after);
    expect(await shop.command({ do: 'home' }, key)).toMatch(/used for another command/);
  });
  it('what was under way when it was killed is not done twice, and that is said', async () => {
    writeFileSync(join(shop.folder, 'keys.jsonl'), readFileSync(join(shop.folder, 'keys.jsonl'), 'utf8').replace(/,"why":null\}\n/g, '}\n'));
    await shop.agent.stop();
    await shop.startAgent();
    await shop.until((s) => s.link);
    expect(await shop.command({ do: 'nudge', deeper: 0.25 }, { 'idempotency-key': 'over-a-restart' })).toMatch(/restarted while this was being done/);
  });
});

describe('an altered program never runs', () => {
  it('handed over: another text than its hash says', async () => {
    await shop.ready();
    const { order } = orderOf('altered', zigzag(100));
    expect(await shop.command({ do: 'start', order: { ...order, program: order.program.replace('G0 Z5', 'G0 Z-5') } })).toMatch(/its hash is another/);
    expect((await shop.state()).run).toBeNull();
  });
  it('taken up again: its copy was altered while the agent was away', async () => {
    await shop.must(orderOf('kept', zigzag(4000)));
    await shop.until((s) => s.run?.line);
    shop.agent.child.kill('SIGKILL');
    const file = join(shop.folder, 'order-kept.json');
    const kept = JSON.parse(readFileSync(file, 'utf8')) as { program: string };
    writeFileSync(file, JSON.stringify({ ...kept, program: kept.program.replace('G21', 'G20') }));
    await shop.startAgent();
    const { run } = await shop.until((s) => s.run?.endedAt);
    expect(run).toMatchObject({ state: 'failed', message: expect.stringMatching(/has been altered/) });
    await shop.until((s) => s.link);
    await shop.must({ do: 'stop' });
    const taken = shop.taken('kept').length;
    await wait(300);
    expect(shop.taken('kept').length).toBe(taken);
  });
  it('one that is whole does', async () => {
    await shop.must({ do: 'clear' });
    await shop.ready();
    await shop.must({ do: 'start', order: sealed({ ...orderOf('whole', zigzag(20)).order }) });
    expect((await shop.until((s) => s.run?.endedAt)).run).toMatchObject({ id: 'whole', state: 'done' });
  });
});

it('journals and programs are for nobody else to read', () => {
  expect(statSync(shop.folder).mode & 0o777).toBe(0o700);
  const files = readdirSync(shop.folder).filter((name) => /\.jsonl?$/.test(name));
  expect(files.length).toBeGreaterThan(3);
  for (const name of files) expect([name, statSync(join(shop.folder, name)).mode & 0o777]).toEqual([name, 0o600]);
});
