// Keeps one agent for each machine of the shop that is linked. The web server asks for them over HTTP on loopback,
// and both it and the door learn here where they are. Which machines are kept is written down: a start has them all again.
//
//   GET    /agents        [{ machine, url, simulated: 'router' | null }]
//   PUT    /agents/<id>   the machine as the agent must know it: its agent runs from now on
//   DELETE /agents/<id>   its agent ends
//
// Every request carries the token.
import { createServer } from 'node:http';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const ID = /^[\w-]{1,60}$/;

/**
 * @param {{ home: string, token: string, begin: (machine: string, args: string[]) => Promise<{ port: number, stop: () => Promise<void> }> }} options
 */
export async function startKeeper({ home, token, begin }) {
  const folderOf = (machine) => join(home, 'machines', machine);
  mkdirSync(join(home, 'machines'), { recursive: true, mode: 0o700 });
  const list = join(home, 'machines', 'linked.json');
  /** Machines with a cable of their own, by id: what their agents must know. */
  const linked = existsSync(list) ? JSON.parse(readFileSync(list, 'utf8')) : {};
  const agents = new Map();
  const write = () => {
    writeFileSync(`${list}.new`, JSON.stringify(linked), { mode: 0o600 });
    renameSync(`${list}.new`, list);
  };
  /** One thing at a time for each machine: two that ask together get one agent. */
  const turns = new Map();
  const inTurn = (machine, work) => {
    const turn = (turns.get(machine) ?? Promise.resolve()).then(work, work);
    turns.set(machine, turn);
    return turn;
  };
  const start = async (machine, args, simulated) => {
    const { port, stop } = await begin(machine, [...args, '--journal', folderOf(machine)]);
    agents.set(machine, { url: `http://127.0.0.1:${port}`, stop, simulated });
  };
  const startLinked = async (machine) => {
    mkdirSync(folderOf(machine), { recursive: true, mode: 0o700 });
    const file = join(folderOf(machine), 'begins-with.json');
    writeFileSync(file, JSON.stringify(linked[machine]), { mode: 0o600 });
    await start(machine, ['--linked', file], null);
  };

  const answer = async (method, machine, body) => {
    if (method === 'GET') return [200, [...agents].map(([id, { url, simulated }]) => ({ machine: id, url, simulated }))];
    if (!ID.test(machine)) return [400, { why: 'A machine is named by letters, digits and hyphens.' }];
    if (agents.get(machine)?.simulated) return [409, { why: 'A simulated machine keeps its agent.' }];
    if (method === 'PUT') {
      linked[machine] = JSON.parse(body);
      write();
      if (!agents.has(machine)) await startLinked(machine);
      return [200, { url: agents.get(machine).url }];
    }
    if (method === 'DELETE') {
      delete linked[machine];
      write();
      const agent = agents.get(machine);
      agents.delete(machine);
      await agent?.stop();
      return [200, {}];
    }
    return [405, {}];
  };
  const server = createServer(async (request, response) => {
    let status = 401;
    let data = { why: 'The token is missing or wrong.' };
    try {
      if (request.headers.authorization === `Bearer ${token}`) {
        let body = '';
        for await (const part of request) body += part;
        const machine = /^\/agents\/([^/]+)$/.exec(request.url)?.[1] ?? '';
        [status, data] = await inTurn(machine, () => answer(request.method, machine, body));
      }
    } catch (error) {
      [status, data] = [500, { why: error.message }];
    }
    response.writeHead(status, { 'content-type': 'application/json' });
    response.end(JSON.stringify(data));
  });
  await new Promise((done) => server.listen(0, '127.0.0.1', done));
  return {
    url: `http://127.0.0.1:${server.address().port}`,
    /** The agent of a simulated machine, at its port. */
    startSimulated: (machine, kind, port) => inTurn(machine, () => start(machine, ['--machine', `127.0.0.1:${port}`], kind)),
    /** Those of all machines that were linked last time. A cable that is out is no reason not to start. */
    startAll: () => Promise.all(Object.keys(linked).map((machine) => inTurn(machine, () => startLinked(machine)))),
    agents,
    close: () => server.close(),
  };
}
