/**
 * A stand-in for a controller that knows no protocol of Kerbe's: plain lines over TCP, each answered
 * with a word of its own, everything else described by a link profile (docs/machine-link.md). The
 * machine behind it is the simulated router; what a person's hands do comes by a port of its own.
 *
 *   kerbe-plain --port 0 --hands 0 [--rate 1]
 *
 * Prints `listening PORT` and `hands PORT` when it is ready. On the wire:
 *
 *   any line of a program  ->  fine | nope WHY
 *   WHERE                  ->  at STATE x y z work x y z
 *   (a touch)              ->  touch x y z yes|no
 *   STILL, ON, ENOUGH, CLEAR, GO-HOME: hold, resume, stop, clear the alarm, home (answered when it is home)
 */
import { createServer, type Socket } from 'node:net';
import { parseArgs } from 'node:util';
import { Machine } from '@kerbe/core/job';
import { Hands } from '../router/bench.ts';
import { QUEUE_LIMIT, Router } from '../router/machine.ts';
import { BARE, World } from '../router/world.ts';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '0' }, hands: { type: 'string', default: '0' }, rate: { type: 'string', default: '1' } },
});

/** What it calls its states. */
const STATE = { idle: 'resting', run: 'busy', hold: 'standing', pause: 'standing', home: 'busy', alarm: 'trouble', estop: 'trouble' };

const router = new Router(new World(BARE), Machine.parse({ name: 'Stand-in' }));
router.rate = Number(values.rate) || 1;
const waiting: { socket: Socket; text: string }[] = [];
const hands = new Hands(router, { drop: () => {}, forget: () => void (waiting.length = 0) });
const sockets = new Set<Socket>();
let homing: Socket | null = null;
let touched = router.status().probe;

const say = (socket: Socket, text: string) => void (socket.writable && socket.write(text + '\n'));
const answer = (socket: Socket, why: string | null) => say(socket, why === null ? 'fine' : `nope ${why}`);

function take(): void {
  while (waiting.length > 0 && router.queued < QUEUE_LIMIT && router.state !== 'home') {
    const { socket, text } = waiting.shift()!;
    // It keeps no count of its own, and forgets nothing when it runs dry: words in force stay in force.
    answer(socket, router.accept(router.status().expected, text));
  }
}

function receive(socket: Socket, line: string): void {
  switch (line) {
    case 'WHERE': {
      const { state, machine, work } = router.status();
      return say(socket, `at ${STATE[state]} ${machine.map((v) => v.toFixed(4)).join(' ')} work ${work.map((v) => v.toFixed(4)).join(' ')}`);
    }
    case 'STILL':
      return void router.hold();
    case 'ON':
      return void router.resume();
    case 'ENOUGH':
      waiting.length = 0;
      return void router.stop();
    case 'CLEAR':
      waiting.length = 0;
      return void router.clear();
    case 'GO-HOME': {
      const why = router.home();
      if (why) return answer(socket, why);
      homing = socket;
      return;
    }
    default:
      waiting.push({ socket, text: line });
      take();
  }
}

/** Listens for lines; tells its port under a name. */
function listen(name: string, port: string, heard: (socket: Socket, line: string) => void): void {
  const server = createServer((socket) => {
    let rest = '';
    sockets.add(socket);
    socket.setNoDelay(true);
    socket.setEncoding('utf8');
    socket.on('error', () => {}).on('close', () => sockets.delete(socket));
    socket.on('data', (chunk: string) => {
      const lines = (rest + chunk).split('\n');
      rest = lines.pop()!;
      for (const line of lines) if (line.trim()) heard(socket, line.trim());
    });
  });
  server.listen(Number(port), '127.0.0.1', () => {
    const address = server.address();
    console.log(`${name} ${typeof address === 'object' && address ? address.port : port}`);
  });
}

listen('hands', values.hands, (socket, line) => answer(socket, hands.change(line)));
listen('listening', values.port, receive);

let then = performance.now();
const clock = setInterval(() => {
  const now = performance.now();
  const seconds = Math.min(0.1, (now - then) / 1000) * router.rate;
  then = now;
  for (let left = seconds; left > 0; left -= 0.1) {
    router.advance(Math.min(0.1, left));
    take();
  }
  const { probe, state } = router.status();
  if (probe && probe !== touched) {
    touched = probe;
    for (const socket of sockets) say(socket, `touch ${probe.position.map((v) => v.toFixed(4)).join(' ')} ${probe.touched ? 'yes' : 'no'}`);
  }
  if (homing && state !== 'home') {
    answer(homing, router.status().homed ? null : 'it did not get home');
    homing = null;
  }
}, 5);

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    clearInterval(clock);
    process.exit(0);
  });
