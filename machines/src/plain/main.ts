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
import { Hands } from '../controller/hands.ts';
import { router } from '../kinds.ts';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '0' }, hands: { type: 'string', default: '0' }, rate: { type: 'string', default: '1' } },
});

/** What it calls its states. */
const STATE = { idle: 'resting', run: 'busy', hold: 'standing', pause: 'standing', home: 'busy', alarm: 'trouble', estop: 'trouble' };

const machine = router();
machine.rate = Number(values.rate) || 1;
const waiting: { socket: Socket; text: string }[] = [];
const hands = new Hands(machine, { drop: () => {}, forget: () => void (waiting.length = 0) });
const sockets = new Set<Socket>();
let homing: Socket | null = null;
let touched = machine.status().probe;

const say = (socket: Socket, text: string) => void (socket.writable && socket.write(text + '\n'));
const answer = (socket: Socket, why: string | null) => say(socket, why === null ? 'fine' : `nope ${why}`);

function take(): void {
  while (waiting.length > 0 && !machine.full && machine.state !== 'home') {
    const { socket, text } = waiting.shift()!;
    // It keeps no count of its own, and forgets nothing when it runs dry: words in force stay in force.
    answer(socket, machine.accept(machine.status().expected, text));
  }
}

function receive(socket: Socket, line: string): void {
  switch (line) {
    case 'WHERE': {
      const { state, machine: at, work } = machine.status();
      return say(socket, `at ${STATE[state]} ${at.map((v) => v.toFixed(4)).join(' ')} work ${work.map((v) => v.toFixed(4)).join(' ')}`);
    }
    case 'STILL':
      return void machine.hold();
    case 'ON':
      return void machine.resume();
    case 'ENOUGH':
      waiting.length = 0;
      return void machine.stop();
    case 'CLEAR':
      waiting.length = 0;
      return void machine.clear();
    case 'GO-HOME': {
      const why = machine.home();
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
  const seconds = Math.min(0.1, (now - then) / 1000) * machine.rate;
  then = now;
  for (let left = seconds; left > 0; left -= 0.1) {
    machine.advance(Math.min(0.1, left));
    take();
  }
  const { probe, state } = machine.status();
  if (probe && probe !== touched) {
    touched = probe;
    for (const socket of sockets) say(socket, `touch ${probe.position.map((v) => v.toFixed(4)).join(' ')} ${probe.touched ? 'yes' : 'no'}`);
  }
  if (homing && state !== 'home') {
    answer(homing, machine.status().homed ? null : 'it did not get home');
    homing = null;
  }
}, 5);

for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    clearInterval(clock);
    process.exit(0);
  });
