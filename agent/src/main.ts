/**
 * The machine agent as a process: HTTP on loopback for the web server, a link to one machine.
 *
 *   kerbe-agent --port 0 --machine 127.0.0.1:4001 --journal DIR     (token in KERBE_AGENT_TOKEN)
 *
 * Prints `listening PORT` when it is ready. Every request carries the token; every command may
 * carry an idempotency key, and the same key is carried out once.
 */
import { timingSafeEqual } from 'node:crypto';
import { createServer, type IncomingMessage } from 'node:http';
import { parseArgs } from 'node:util';
import { z } from 'zod';
import { Agent } from './agent.ts';
import { Journal } from './journal.ts';
import { Link } from './link.ts';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '0' }, machine: { type: 'string' }, journal: { type: 'string' } },
});
const token = process.env.KERBE_AGENT_TOKEN ?? '';
const [host, port] = (values.machine ?? '').split(':');
if (!token || !host || !(Number(port) > 0) || !values.journal) {
  console.error('kerbe-agent: needs --machine HOST:PORT, --journal DIR and KERBE_AGENT_TOKEN');
  process.exit(1);
}

const agent = new Agent(new Link(host, Number(port)), new Journal(values.journal));
const number = z.number().min(-10_000).max(10_000);
const zDatum = z.enum(['top', 'spoilboard']);
const extents = z.object({ min: z.tuple([number, number, number]), max: z.tuple([number, number, number]) });

const Command = z.discriminatedUnion('do', [
  z.object({ do: z.literal('home') }),
  z.object({ do: z.literal('jog'), x: number, y: number, z: number, feed: z.number().gt(0).max(20_000) }),
  z.object({ do: z.literal('zero-xy'), corner: z.string().max(20), at: z.tuple([number, number]).optional() }),
  z.object({ do: z.literal('move-over'), x: number, y: number }),
  z.object({ do: z.literal('zero-z'), method: z.enum(['plate', 'paper']), thickness: z.number().min(0).max(60), datum: zDatum }),
  z.object({ do: z.literal('measure'), bit: z.string().max(60) }),
  z.object({ do: z.literal('go-to-zero'), clearance: z.number().min(1).max(100) }),
  z.object({ do: z.literal('frame'), extents, height: z.number().min(1).max(100) }),
  z.object({ do: z.literal('hold') }),
  z.object({ do: z.literal('resume') }),
  z.object({ do: z.literal('stop') }),
  z.object({ do: z.literal('clear') }),
  z.object({ do: z.literal('bench'), change: z.record(z.string(), z.unknown()) }),
  z.object({
    do: z.literal('start'),
    order: z.object({
      id: z.string().regex(/^[\w-]{1,60}$/),
      name: z.string(),
      sha256: z.string(),
      program: z.string().max(200_000_000),
      bits: z.array(z.string()).min(1),
      datum: z.object({ corner: z.string(), z: zDatum }),
      extents,
    }),
  }),
]);
export type AgentCommand = z.infer<typeof Command>;

function carryOut(command: AgentCommand): Promise<string | null> {
  switch (command.do) {
    case 'home':
      return agent.home();
    case 'jog':
      return agent.jog(command.x, command.y, command.z, command.feed);
    case 'zero-xy':
      return agent.zeroXY(command.corner, command.at);
    case 'move-over':
      return agent.moveOver(command.x, command.y);
    case 'zero-z':
      return command.method === 'plate' ? agent.zeroZByPlate(command.thickness, command.datum) : agent.zeroZByPaper(command.thickness, command.datum);
    case 'measure':
      return agent.measureBit(command.bit);
    case 'go-to-zero':
      return agent.goToZero(command.clearance);
    case 'frame':
      return agent.frame(command.extents, command.height);
    case 'hold':
      return agent.hold();
    case 'resume':
      return agent.resume();
    case 'stop':
      return agent.stop();
    case 'clear':
      return agent.clear();
    case 'bench':
      return agent.bench(command.change);
    case 'start':
      return agent.start(command.order);
  }
}

const done = new Map<string, Promise<string | null>>();
function once(key: string | undefined, command: AgentCommand): Promise<string | null> {
  if (!key) return carryOut(command);
  const before = done.get(key);
  if (before) return before;
  const answer = carryOut(command);
  done.set(key, answer);
  if (done.size > 1000) done.delete(done.keys().next().value!);
  return answer;
}

async function bodyOf(request: IncomingMessage): Promise<string> {
  const parts: Buffer[] = [];
  for await (const part of request) parts.push(part as Buffer);
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
    if (request.method === 'GET' && url.pathname.startsWith('/journal/')) return json(200, agent.entries(url.pathname.slice(9)));
    if (request.method === 'GET' && url.pathname === '/events') {
      response.writeHead(200, { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' });
      let last = '';
      const timer = setInterval(() => {
        const text = JSON.stringify(agent.snapshot);
        if (text === last) return;
        last = text;
        response.write(text + '\n');
      }, 100);
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
      const why = await once(request.headers['idempotency-key'] as string | undefined, parsed.data);
      return json(why === null ? 200 : 409, { why });
    }
    json(404, { why: 'There is no such page.' });
  } catch (error) {
    if (!response.headersSent) json(400, { why: (error as Error).message });
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
