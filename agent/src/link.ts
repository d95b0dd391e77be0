/**
 * The link to one machine: numbered lines out, acknowledgements and status back, over TCP
 * (docs/machine-link.md). Knows nothing of runs.
 */
import { EventEmitter } from 'node:events';
import { connect, type Socket } from 'node:net';
import type { MachineStatus } from '@kerbe/core/link';

const POLL = 40;
const RECONNECT = 400;
const SILENT = 2000;

interface LinkEvents {
  up: [];
  down: [string];
  status: [MachineStatus];
  ok: [number];
  refused: [number, string];
}

export class Link extends EventEmitter<LinkEvents> {
  up = false;
  status: MachineStatus | null = null;
  private readonly host: string;
  private readonly port: number;
  private socket: Socket | null = null;
  private rest = '';
  private heard = 0;
  private readonly answers: { word: string; done: (why: string | null) => void }[] = [];
  /** Answered commands that wait for the status after them, so that nobody decides on an old one. */
  private readonly answered: (() => void)[] = [];
  private readonly maps: ((json: string) => void)[] = [];
  private poll: NodeJS.Timeout | null = null;
  private closed = false;

  constructor(host: string, port: number) {
    super();
    this.host = host;
    this.port = port;
    this.connect();
  }

  close(): void {
    this.closed = true;
    if (this.poll) clearInterval(this.poll);
    this.socket?.destroy();
  }

  line(seq: number, text: string): void {
    this.socket?.write(`${seq} ${text}\n`);
  }

  /** Sends a command such as `hold` or `jog 1 0 0 600`. Resolves to why it was refused, or null. */
  command(text: string): Promise<string | null> {
    if (!this.up || !this.socket) return Promise.resolve('the machine does not answer: check that it is on and its cable is in');
    const word = text.split(' ', 1)[0];
    return new Promise((done) => {
      this.answers.push({ word, done });
      this.socket!.write(`!${text}\n!status\n`);
    });
  }

  /** The carved surface, as the machine's JSON. */
  map(): Promise<string> {
    return new Promise((done) => {
      this.maps.push(done);
      this.socket?.write('!map\n');
    });
  }

  private connect(): void {
    if (this.closed) return;
    const socket = connect({ host: this.host, port: this.port, noDelay: true });
    socket.setEncoding('utf8');
    this.socket = socket;
    this.rest = '';
    let why = 'the machine closed the link';
    socket.on('connect', () => {
      this.heard = Date.now();
      socket.write('!status\n');
      this.poll = setInterval(() => {
        if (Date.now() - this.heard > SILENT) {
          why = 'the machine stopped answering';
          socket.destroy();
        } else socket.write('!status\n');
      }, POLL);
    });
    socket.on('data', (chunk: string) => {
      this.heard = Date.now();
      const lines = (this.rest + chunk).split('\n');
      this.rest = lines.pop()!;
      for (const line of lines) this.receive(line.trimEnd());
    });
    socket.on('error', (error) => (why = error.message));
    socket.on('close', () => {
      if (this.poll) clearInterval(this.poll);
      for (const done of this.answered.splice(0)) done();
      for (const { done } of this.answers.splice(0)) done('the link to the machine was lost');
      for (const done of this.maps.splice(0)) done('null');
      if (this.up) {
        this.up = false;
        this.emit('down', why);
      }
      if (!this.closed) setTimeout(() => this.connect(), RECONNECT);
    });
  }

  private receive(line: string): void {
    const space = line.indexOf(' ');
    const word = space < 0 ? line : line.slice(0, space);
    const rest = space < 0 ? '' : line.slice(space + 1);
    switch (word) {
      case 'status': {
        try {
          this.status = JSON.parse(rest) as MachineStatus;
        } catch {
          return; // noise on the line: the next status comes in a moment
        }
        if (!this.up) {
          this.up = true;
          this.emit('up');
        }
        this.emit('status', this.status);
        for (const done of this.answered.splice(0)) done();
        return;
      }
      case 'ok':
        this.emit('ok', Number(rest));
        return;
      case 'error': {
        const cut = rest.indexOf(' ');
        this.emit('refused', Number(rest.slice(0, cut)), rest.slice(cut + 1));
        return;
      }
      case 'done':
      case 'refused': {
        const cut = rest.indexOf(' ');
        const name = cut < 0 ? rest : rest.slice(0, cut);
        const at = this.answers.findIndex((answer) => answer.word === name);
        if (at < 0) return;
        const [{ done }] = this.answers.splice(at, 1);
        this.answered.push(() => done(word === 'done' ? null : rest.slice(cut + 1)));
        return;
      }
      case 'map':
        this.maps.shift()?.(rest);
    }
  }
}
