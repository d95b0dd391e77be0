/**
 * The machine agent as a process: HTTP on loopback for the web server, a link to one machine.
 *
 *   kerbe-agent --port 0 --machine 127.0.0.1:4001 --journal DIR
 *   kerbe-agent --port 0 --linked FILE --journal DIR
 *
 * `--machine` is where a simulated machine answers; FILE holds what must be known of any other (`Linked`, as JSON).
 * Its own token in KERBE_AGENT_TOKEN, that of the simulated machine in KERBE_MACHINE_TOKEN.
 *
 * Prints `listening PORT` when it is ready. Every request carries the token; every command may
 * carry an idempotency key, and the same key is carried out once.
 */
import { timingSafeEqual } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createServer, type IncomingMessage } from 'node:http';
import { parseArgs } from 'node:util';
import { kerbeLink, linkAlone, Linked } from '@kerbe/core/machine';
import { cleanDeep, cleanText } from '@kerbe/core/text';
import { Agent } from './agent.ts';
import { Command } from '@kerbe/core/link/commands';
import { carryOut } from './commands.ts';
import type { Who } from './controls.ts';
import { Journal } from './journal.ts';
import { Link } from './link.ts';
import { Once } from './once.ts';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '0' }, machine: { type: 'string' }, linked: { type: 'string' }, journal: { type: 'string' } },
});
const token = process.env.KERBE_AGENT_TOKEN ?? '';
const [host, port] = (values.machine ?? '').split(':');
const simulated: Linked | null = Number(port) > 0 ? { ...linkAlone(kerbeLink(host, Number(port))), token: process.env.KERBE_MACHINE_TOKEN } : null;
if (!token || !values.journal || (!simulated && !values.linked)) {
  console.error('kerbe-agent: needs --machine HOST:PORT or --linked FILE, --journal DIR and KERBE_AGENT_TOKEN');
  process.exit(1);
}

const journal = new Journal(values.journal);
const first = simulated ?? Linked.parse(JSON.parse(readFileSync(values.linked!, 'utf8')));
const agent = new Agent(new Link(journal.load<Linked>('linked') ?? first), journal, simulated);

const once = new Once(journal);

/** A program of a million lines fits well; more than this no caller of ours sends. */
const MOST_BYTES = 256 * 1024 * 1024;

async function bodyOf(request: IncomingMessage): Promise<string> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of request) {
    size += (part as Buffer).length;
    if (size > MOST_BYTES) throw new SyntaxError('The command is longer than 256 MB.');
    parts.push(part as Buffer);
  }
  return Buffer.concat(parts).toString('utf8');
}

const allowed = (request: IncomingMessage) => {
  const given = Buffer.from(request.headers.authorization ?? '');
  const wanted = Buffer.from(`Bearer ${token}`);
  return given.length === wanted.length && timingSafeEqual(given, wanted);
};

const server = createServer(async (request, response) => {
  const json = (status: number, data: unknown) => {
    response.writeHead(status, { 'content-type': 'application/json' });
    response.end(JSON.stringify(data));
  };
  try {
    if (!allowed(request)) return json(401, { why: 'The token is missing or wrong.' });
    const url = new URL(request.url ?? '/', 'http://agent');
    if (request.method === 'GET' && url.pathname === '/state') return json(200, agent.snapshot);
    if (request.method === 'GET' && url.pathname === '/map') {
      response.writeHead(200, { 'content-type': 'application/json' });
      return void response.end(await agent.link.map());
    }
    if (request.method === 'GET' && url.pathname === '/talk') return json(200, { profile: agent.link.profile, talk: agent.link.talk });
    if (request.method === 'GET' && url.pathname.startsWith('/journal/')) return json(200, agent.entries(url.pathname.slice(9)));
    if (request.method === 'GET' && url.pathname === '/events') {
      response.writeHead(200, { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' });
      let last = '';
      // Ten a second by the clock: a timer alone would fall behind a little every time.
      let due = performance.now();
      const timer = setInterval(() => {
        const now = performance.now();
        if (now < due) return;
        due = Math.max(due + 100, now - 100);
        const text = JSON.stringify(agent.snapshot);
        if (text === last) return;
        last = text;
        response.write(text + '\n');
      }, 10);
      const beat = setInterval(() => response.write('\n'), 5000);
      request.on('close', () => {
        clearInterval(timer);
        clearInterval(beat);
      });
      return;
    }
    if (request.method === 'POST' && url.pathname === '/command') {
      const parsed = Command.safeParse(JSON.parse(await bodyOf(request)));
      if (!parsed.success) return json(400, { why: `The command is not one the agent knows: ${parsed.error.issues[0]?.message}` });
      const named = (header: string, or: string) => cleanText(decodeURIComponent(String(request.headers[header] ?? or))).slice(0, 80);
      const who: Who = { id: named('x-kerbe-id', 'nobody'), by: named('x-kerbe-by', 'somebody'), tab: named('x-kerbe-tab', '') };
      const command = cleanDeep(parsed.data);
      const why = await once.do(request.headers['idempotency-key'] as string | undefined, command, who.id, () => carryOut(agent, command, who));
      return json(why === null ? 200 : 409, { why });
    }
    json(404, { why: 'There is no such page.' });
  } catch (error) {
    // Not JSON: the caller's fault. Anything else is ours, and must be found afterwards.
    const theirs = error instanceof SyntaxError || error instanceof URIError;
    if (!theirs) console.error(`kerbe-agent: ${request.method} ${request.url}: ${(error as Error).stack}`);
    if (!response.headersSent)
      json(theirs ? 400 : 500, { why: theirs ? (error as Error).message : `Something went wrong in the machine agent: ${(error as Error).message}` });
    else response.end();
  }
});

server.listen(Number(values.port), '127.0.0.1', () => {
  const address = server.address();
  console.log(`listening ${typeof address === 'object' && address ? address.port : values.port}`);
});

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    // The machine, hearing nothing, holds by itself.
    agent.link.close();
    server.closeAllConnections();
    process.exit(0);
  });
