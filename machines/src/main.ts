/**
 * A simulated machine as a process: a line protocol over TCP on loopback (docs/machine-link.md).
 *
 *   kerbe-machine --kind router --port 0 [--rate 1] [--taken FILE]
 *
 * It obeys whoever says `!hello TOKEN` first, with the token in KERBE_MACHINE_TOKEN, and one at a time.
 * Prints `listening PORT` when it is ready. With --taken it writes down every line it takes, with
 * what the lines were counted for: what really reached the machine, whatever happened on the way.
 */
import { timingSafeEqual } from 'node:crypto';
import { appendFileSync } from 'node:fs';
import { createServer, type Socket } from 'node:net';
import { parseArgs } from 'node:util';
import { deflateSync } from 'node:zlib';
import { Hands } from './controller/hands.ts';
import { KINDS } from './kinds.ts';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '0' },
    kind: { type: 'string', default: 'router' },
    rate: { type: 'string', default: '1' },
    taken: { type: 'string' },
  },
});

const token = process.env.KERBE_MACHINE_TOKEN ?? '';
if (!token) {
  console.error('kerbe-machine: needs KERBE_MACHINE_TOKEN');
  process.exit(1);
}

/** A continuous jog brakes when nobody has said for this long that it should go on, milliseconds. */
const JOG_SILENCE = 300;

const made = KINDS[values.kind as keyof typeof KINDS];
if (!made) {
  console.error(`kerbe-machine: there is no machine of the kind “${values.kind}”, only ${Object.keys(KINDS).join(', ')}`);
  process.exit(1);
}
const machine = made();
machine.rate = Number(values.rate) || 1;

/** Lines that wait for room in the queue: acknowledged only when they are taken. */
interface Client {
  socket: Socket;
  /** It has said who it is. */
  admitted: boolean;
  rest: string;
  waiting: { seq: number; text: string }[];
}
const clients = new Set<Client>();

function send(client: Client, line: string): void {
  if (client.socket.writable) client.socket.write(line + '\n');
}

/** While the cable is out nobody gets in. */
let deafUntil = 0;
const hands = new Hands(machine, {
  drop: (seconds) => {
    deafUntil = performance.now() + seconds * 1000;
    // After the answer has gone out.
    setImmediate(() => clients.forEach(({ socket }) => socket.destroy()));
  },
  forget: () => clients.forEach((client) => (client.waiting.length = 0)),
});

function takeWaiting(client: Client): void {
  while (client.waiting.length > 0 && !machine.full) {
    const { seq, text } = client.waiting.shift()!;
    const why = machine.accept(seq, text);
    if (why === null && values.taken) appendFileSync(values.taken, `${machine.tag}\t${text}\n`);
    send(client, why === null ? `ok ${seq}` : `error ${seq} ${why}`);
    if (why !== null) client.waiting.length = 0;
  }
}

/** Whoever says nothing, or not who they are, is sent away after so long, milliseconds. */
const PATIENCE = 3000;

/** The first line of a client: only its own agent moves this machine, and only one at a time. */
function admit(client: Client, line: string): void {
  const given = Buffer.from(line.startsWith('!hello ') ? line.slice(7) : '');
  const wanted = Buffer.from(token);
  const right = given.length === wanted.length && timingSafeEqual(given, wanted);
  const why = !right ? 'this machine obeys its own agent only' : [...clients].some(({ admitted }) => admitted) ? 'another agent has this machine' : null;
  if (why === null) {
    client.admitted = true;
    return send(client, 'done hello');
  }
  send(client, `refused hello ${why}`);
  client.socket.destroySoon();
}

let jogHeard = 0;

function mapLine(): string {
  const map = machine.head.map();
  if (!map) return 'map null';
  const { height, ...facts } = map;
  return `map ${JSON.stringify({ ...facts, data: deflateSync(new Uint8Array(height.buffer)).toString('base64') })}`;
}

function command(client: Client, line: string): void {
  const space = line.indexOf(' ');
  const word = space < 0 ? line : line.slice(0, space);
  const rest = space < 0 ? '' : line.slice(space + 1);
  const answer = (why: string | null) => send(client, why === null ? `done ${word.slice(1)}` : `refused ${word.slice(1)} ${why}`);
  switch (word) {
    case '!status':
      return send(client, `status ${JSON.stringify(machine.status())}`);
    case '!hold':
      return answer(machine.hold());
    case '!resume':
      return answer(machine.resume());
    case '!stop':
      client.waiting.length = 0;
      return answer(machine.stop());
    case '!clear':
      client.waiting.length = 0;
      return answer(machine.clear());
    case '!home':
      return answer(machine.home());
    case '!restart':
      return answer(machine.restartLines(rest));
    case '!jog': {
      const numbers = rest.split(' ').map(Number);
      return answer(machine.jog(numbers.slice(0, 3), numbers[3]));
    }
    case '!jog-start': {
      const numbers = rest.split(' ').map(Number);
      jogHeard = performance.now();
      return answer(machine.startJog(numbers.slice(0, 3), numbers[3]));
    }
    case '!jog-on':
      jogHeard = performance.now();
      return answer(machine.jogging ? null : 'it is not jogging');
    case '!jog-end':
      return answer(machine.endJog());
    case '!override': {
      const [feed, spindle] = rest.split(' ').map(Number);
      return answer(machine.setOverride(feed, spindle));
    }
    case '!bench':
      return answer(hands.change(rest));
    case '!map':
      return send(client, mapLine());
    default:
      send(client, `refused ${word.slice(1) || '?'} there is no such command`);
  }
}

function receive(client: Client, line: string): void {
  if (client.socket.destroyed || client.socket.writableEnded) return;
  if (!client.admitted) return admit(client, line);
  if (line.startsWith('!')) return command(client, line);
  const match = line.match(/^(\d{1,9}) (.*)$/);
  if (!match) {
    if (line.trim() !== '') send(client, `refused ? “${line.slice(0, 40)}” is neither a numbered line nor a command`);
    return;
  }
  client.waiting.push({ seq: Number(match[1]), text: match[2] });
  takeWaiting(client);
}

const server = createServer((socket) => {
  if (performance.now() < deafUntil) return void socket.destroy();
  const client: Client = { socket, admitted: false, rest: '', waiting: [] };
  clients.add(client);
  setTimeout(() => client.admitted || socket.destroy(), PATIENCE).unref();
  socket.setNoDelay(true);
  socket.setEncoding('utf8');
  send(client, 'hello kerbe-machine 1');
  socket.on('data', (chunk: string) => {
    const lines = (client.rest + chunk).split('\n');
    client.rest = lines.pop()!.slice(-10_000);
    for (const line of lines) receive(client, line.replace(/\r$/, ''));
  });
  const gone = () => {
    clients.delete(client);
    // Nobody is listening any more: come to rest on the path and wait there.
    if (client.admitted && machine.state === 'run') machine.hold();
  };
  socket.on('error', gone);
  socket.on('close', gone);
});

let then = performance.now();
const clock = setInterval(() => {
  const now = performance.now();
  // A process that was suspended does not make up for lost time.
  const seconds = Math.min(0.1, (now - then) / 1000) * machine.rate;
  then = now;
  if (machine.jogging && now - jogHeard > JOG_SILENCE) machine.endJog();
  // Slices short against any brake, so that a hold bites at once even far above real time.
  for (let left = seconds; left > 0; left -= 0.1) {
    machine.advance(Math.min(0.1, left));
    for (const client of clients) takeWaiting(client);
  }
}, 5);

server.listen(Number(values.port), '127.0.0.1', () => {
  const address = server.address();
  console.log(`listening ${typeof address === 'object' && address ? address.port : values.port}`);
});

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    clearInterval(clock);
    process.exit(0);
  });
