/**
 * The door: the process browsers talk to. It hands everything on to the web server behind it - but Hold
 * and Stop it takes to the machine's agent itself, so that nothing the web server is busy with, nor its
 * death, keeps them waiting. Whom it may do that for it learns from the web server's own answers.
 *
 *   kerbe-door --host 127.0.0.1 --port 5180 --web 5181
 *
 * KERBE_KEEPER_URL and KERBE_KEEPER_TOKEN (where the agents are), KERBE_AGENT_TOKEN and KERBE_DOOR_TOKEN in its environment; KERBE_PROXIES names the
 * addresses of proxies whose X-Forwarded-For is believed; ORIGIN is the address people type.
 * Prints `listening PORT` when it is ready.
 */
import { Agent, createServer, request as ask, type IncomingHttpHeaders, type IncomingMessage, type ServerResponse } from 'node:http';
import { parseArgs } from 'node:util';
import { addressOf } from './address.ts';
import { Guests, sessionOf } from './guests.ts';

const { values } = parseArgs({ options: { host: { type: 'string', default: '127.0.0.1' }, port: { type: 'string', default: '0' }, web: { type: 'string' } } });
const { KERBE_KEEPER_URL, KERBE_KEEPER_TOKEN, KERBE_AGENT_TOKEN, KERBE_DOOR_TOKEN, KERBE_PROXIES = '', ORIGIN } = process.env;
if (!values.web || !KERBE_KEEPER_URL || !KERBE_KEEPER_TOKEN || !KERBE_AGENT_TOKEN || !KERBE_DOOR_TOKEN) {
  console.error('kerbe-door: needs --web PORT, KERBE_KEEPER_URL, KERBE_KEEPER_TOKEN, KERBE_AGENT_TOKEN and KERBE_DOOR_TOKEN');
  process.exit(1);
}
const proxies = new Set(KERBE_PROXIES.split(/[\s,]+/).filter(Boolean));
const guests = new Guests();
// A connection for each request: one that is kept may be closed from the other end in the very moment it is used again.
const toWeb = new Agent({ keepAlive: false });
const toAgent = new Agent({ keepAlive: false });

/** Headers that only stand between two neighbours (RFC 9110, 7.6.1; from memory). */
const HOP = ['connection', 'keep-alive', 'proxy-authenticate', 'proxy-authorization', 'te', 'trailer', 'transfer-encoding', 'upgrade', 'proxy-connection'];
/** More than the web server takes of anything. */
const MOST_BYTES = 65 * 1024 * 1024;
/** Longest wait for the agent's answer to a Hold or a Stop, milliseconds: it says itself when a machine has not confirmed. */
const PATIENCE = 10_000;

function headersOn(request: IncomingMessage): IncomingHttpHeaders {
  const headers = { ...request.headers };
  // What only we or a named proxy may say of a person, nobody brings along.
  for (const name of Object.keys(headers)) if (name.startsWith('x-kerbe-') && name !== 'x-kerbe-tab') delete headers[name];
  for (const name of HOP) if (name !== 'transfer-encoding') delete headers[name];
  headers['x-kerbe-address'] = addressOf(request.socket.remoteAddress ?? '', request.headers['x-forwarded-for'], proxies);
  delete headers['x-forwarded-for'];
  return headers;
}

const json = (response: ServerResponse, status: number, data: unknown) => {
  if (response.headersSent) return void response.end();
  response.writeHead(status, { 'content-type': 'application/json', 'cache-control': 'no-store' });
  response.end(JSON.stringify(data));
};

function handOn(request: IncomingMessage, response: ServerResponse): void {
  const session = sessionOf(request.headers.cookie);
  const on = ask(
    { port: Number(values.web), host: '127.0.0.1', method: request.method, path: request.url, headers: headersOn(request), agent: toWeb },
    (answer) => {
      const headers = { ...answer.headers };
      guests.hear(session, headers['x-kerbe-person'], headers['x-kerbe-ended']);
      for (const name of [...HOP, 'x-kerbe-person', 'x-kerbe-ended']) if (name !== 'transfer-encoding') delete headers[name];
      response.writeHead(answer.statusCode!, headers);
      answer.pipe(response);
      answer.on('error', () => response.destroy());
    },
  );
  on.on('error', (error) => {
    if (response.headersSent || response.destroyed) return void response.destroy();
    if (request.socket.destroyed) return;
    const why = 'Kerbe’s web server does not answer just now; it is started again by itself. What you changed is kept in this browser.';
    if (request.url?.startsWith('/api/')) return json(response, 503, { why });
    response.writeHead(503, { 'content-type': 'text/plain; charset=utf-8', 'retry-after': '2', refresh: '2' });
    response.end(why);
    console.error(`kerbe-door: ${error.message}`);
  });
  response.on('close', () => on.destroy());
  request.pipe(on);
}

/** Where the agents of the machines are, as the keeper said last. */
let agents = new Map<string, string>();
/** How often it is asked, milliseconds: an agent that is new is the web server's until then. */
const LOOK = 2000;
async function lookForAgents(): Promise<void> {
  try {
    const response = await fetch(`${KERBE_KEEPER_URL}/agents`, { headers: { authorization: `Bearer ${KERBE_KEEPER_TOKEN}` } });
    agents = new Map(((await response.json()) as { machine: string; url: string }[]).map(({ machine, url }) => [machine, url]));
  } catch (error) {
    // What it said last still holds: agents come back where they were.
    console.error(`kerbe-door: agents: ${(error as Error).message}`);
  }
}

/** Hold or Stop, straight to the agent. */
function toMachine(
  machine: string,
  url: string,
  word: 'hold' | 'stop',
  person: { id: string; name: string },
  request: IncomingMessage,
  response: ServerResponse,
): void {
  request.resume();
  const key = request.headers['idempotency-key'];
  const headers = {
    authorization: `Bearer ${KERBE_AGENT_TOKEN}`,
    'content-type': 'application/json',
    'x-kerbe-id': encodeURIComponent(person.id),
    'x-kerbe-by': encodeURIComponent(person.name),
    ...(typeof key === 'string' ? { 'idempotency-key': key } : {}),
  };
  const failed = () => json(response, 503, { why: 'The machine agent does not answer. Use the red button on the machine.' });
  const command = ask(new URL('/command', url), { method: 'POST', headers, agent: toAgent, timeout: PATIENCE }, (answer) => {
    response.writeHead(answer.statusCode!, { 'content-type': 'application/json', 'cache-control': 'no-store' });
    answer.pipe(response);
    tellWeb(machine, word, person);
  });
  command.on('timeout', () => command.destroy()).on('error', failed);
  command.end(JSON.stringify({ do: word }));
}

/** For the shop's books; a web server that is away misses it, the run's own journal has it all the same. */
function tellWeb(machine: string, word: string, person: { id: string; name: string }): void {
  const told = ask({ port: Number(values.web), host: '127.0.0.1', method: 'POST', path: `/api/machines/${machine}/told`, agent: toWeb, headers: { 'x-kerbe-door': KERBE_DOOR_TOKEN!, 'content-type': 'application/json' } }, (answer) => answer.resume()); // prettier-ignore
  told.on('error', () => {});
  told.end(JSON.stringify({ do: word, ...person }));
}

const ours = (request: IncomingMessage) => {
  const { origin, host } = request.headers;
  const site = request.headers['sec-fetch-site'];
  return (origin === undefined || origin === (ORIGIN ?? `http://${host}`)) && (site === undefined || site === 'same-origin' || site === 'none');
};

const server = createServer((request, response) => {
  const [, machine, word] = /^\/api\/machines\/([\w-]+)\/(hold|stop)$/.exec(request.url ?? '') ?? [];
  const url = agents.get(machine);
  if (url && request.method === 'POST') {
    if (!ours(request)) return json(response, 403, { why: 'Requests from other sites are refused.' });
    const person = guests.known(sessionOf(request.headers.cookie));
    // Whom it does not know the web server looks at.
    if (person) return toMachine(machine, url, word as 'hold' | 'stop', person, request, response);
  }
  if (Number(request.headers['content-length'] ?? 0) > MOST_BYTES) {
    json(response, 413, { why: 'That is larger than 64 MB. Leave out what is not needed.' });
    return void response.once('finish', () => request.destroy());
  }
  handOn(request, response);
});
await lookForAgents();
setInterval(() => void lookForAgents(), LOOK).unref();
server.headersTimeout = 20_000;
server.listen(Number(values.port), values.host, () => {
  const address = server.address();
  console.log(`listening ${typeof address === 'object' && address ? address.port : values.port}`);
});
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    server.closeAllConnections();
    process.exit(0);
  });
