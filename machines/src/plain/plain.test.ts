/** The stand-in for a plain controller, as a process: what a real one does not forget, it does not either. */
import { connect, type Socket } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { bundles } from '../../../scripts/bundle.mjs';
import { startNode } from '../../../scripts/processes.mjs';

let standin: Awaited<ReturnType<typeof startNode>>;
let socket: Socket;
const heard: string[] = [];
beforeAll(async () => {
  standin = await startNode(await bundles.plain(), []);
  socket = connect({ host: '127.0.0.1', port: standin.port }).setEncoding('utf8');
  socket.on('data', (text) => heard.push(...String(text).trim().split('\n')));
});
afterAll(async () => {
  socket.destroy();
  await standin.stop();
});

/** Says a line and waits for what it answers. */
async function say(line: string): Promise<string> {
  const before = heard.length;
  socket.write(line + '\n');
  while (heard.length === before) await new Promise((done) => setTimeout(done, 10));
  return heard[before];
}
const place = async () => (await say('WHERE')).split(' ');
async function rested(): Promise<void> {
  while ((await place())[1] !== 'resting') await new Promise((done) => setTimeout(done, 20));
}

it('keeps its motion word when its lines run dry: what comes next goes at the feed, not at rapid speed', async () => {
  expect(await say('GO-HOME')).toBe('fine');
  for (const line of ['G21 G90', 'G53 G0 X10', 'G1 X20 F6000']) {
    expect(await say(line)).toBe('fine');
    await rested();
  }
  const [, , from] = await place();
  expect(await say('F6')).toBe('fine');
  await rested();
  expect(await say('X30')).toBe('fine');
  await new Promise((done) => setTimeout(done, 800));
  // Six millimetres a minute: in less than a second it has hardly begun. At rapid speed it would be there.
  const [, state, at] = await place();
  expect(state).toBe('busy');
  expect(Number(at) - Number(from)).toBeLessThan(1);
});
