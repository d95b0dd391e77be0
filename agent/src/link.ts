/**
 * The link to one machine: numbered lines out, acknowledgements and status back, as its profile
 * says (docs/machine-link.md). Knows nothing of runs.
 */
import { EventEmitter } from 'node:events';
import type { MachineStatus } from '@kerbe/core/link';
import { readStatus } from '@kerbe/core/link/status';
import { bytesOfWord, type Linked, type LinkProfile } from '@kerbe/core/machine';
import { PlainTalk } from './plain.ts';
import { openWire, type Wire } from './transport.ts';

const RECONNECT = 400;
const SILENT = 2000;
/** So many answers in a row that are none, and the link is left. */
const NONSENSE = 5;
/** Lines of talk kept for whoever wants to look at it. */
const TALK = 400;

interface LinkEvents {
  up: [];
  down: [string];
  status: [MachineStatus];
  ok: [number];
  refused: [number, string];
}

/** One line of what was said: to the machine, or by it. */
export interface TalkLine {
  at: number;
  way: 'out' | 'in';
  text: string;
}

export class Link extends EventEmitter<LinkEvents> {
  /** The machine it talks to, as its shop knows it. */
  linked: Linked;
  up = false;
  status: MachineStatus | null = null;
  /** What was said lately, status questions left out. */
  readonly talk: TalkLine[] = [];
  private wire: Wire | null = null;
  private plain: PlainTalk | null = null;
  private rest = '';
  private heard = 0;
  private odd = 0;
  /** Counts the wires there were: what an old one still says is not listened to. */
  private turn = 0;
  private readonly answers: { word: string; done: (why: string | null) => void }[] = [];
  /** Answered commands that wait for the status after them, so that nobody decides on an old one. */
  private readonly answered: (() => void)[] = [];
  private readonly maps: ((json: string) => void)[] = [];
  private poll: NodeJS.Timeout | null = null;
  private again: NodeJS.Timeout | null = null;
  private closed = false;

  constructor(linked: Linked) {
    super();
    this.linked = linked;
    this.connect();
  }

  get profile(): LinkProfile {
    return this.linked.link;
  }

  close(): void {
    this.closed = true;
    if (this.again) clearTimeout(this.again);
    if (this.poll) clearInterval(this.poll);
    this.wire?.destroy();
  }

  /** Goes over to another machine or another way of talking. */
  use(linked: Linked): void {
    this.linked = linked;
    this.lost('another link was chosen');
    this.wire?.destroy();
    this.connect();
  }

  line(seq: number, text: string): void {
    const line = this.plain ? this.plain.line(seq, text) : `${seq} ${text}`;
    this.say(line, this.end);
  }

  /** Sends a command such as `hold` or `jog 1 0 0 600`. Resolves to why it was refused, or null. */
  command(text: string): Promise<string | null> {
    if (!this.up || !this.wire) return Promise.resolve('the machine does not answer: check that it is on and its cable is in');
    if (this.plain) {
      const said = this.plain.command(text);
      if ('why' in said) return Promise.resolve(said.why);
      for (const bytes of said.bytes) this.say(bytes, '');
      return Promise.resolve(null);
    }
    const word = text.split(' ', 1)[0];
    return new Promise((done) => {
      this.answers.push({ word, done });
      this.say(`!${text}`, '\n');
      this.wire!.write('!status\n');
    });
  }

  /** Sends a line as it was typed: for trying out a link. */
  raw(text: string): void {
    this.say(text, this.end);
  }

  /** The carved surface, as a simulated machine's JSON. */
  map(): Promise<string> {
    if (this.plain || !this.wire || !this.up) return Promise.resolve('null');
    return new Promise((done) => {
      this.maps.push(done);
      this.wire!.write('!map\n');
    });
  }

  /** Does it keep no count of its lines, and say no more than its profile knows? */
  get isPlain(): boolean {
    return this.plain !== null;
  }

  private get end(): string {
    return { lf: '\n', cr: '\r', crlf: '\r\n' }[this.profile.lineEnd];
  }

  private say(text: string, end: string): void {
    this.note('out', text);
    this.wire?.write(text + end);
  }

  private note(way: TalkLine['way'], text: string): void {
    this.talk.push({ at: Date.now(), way, text: text.slice(0, 300) });
    if (this.talk.length > TALK) this.talk.splice(0, this.talk.length - TALK);
  }

  private ask(): void {
    this.wire?.write(this.plain ? bytesOfWord(this.profile.ask) : '!status\n');
  }

  private connect(): void {
    if (this.closed) return;
    if (this.again) clearTimeout(this.again);
    this.again = null;
    const turn = ++this.turn;
    const { profile } = this;
    this.plain = profile.talk === 'plain' ? new PlainTalk(this.linked) : null;
    this.rest = '';
    let silent = false;
    const wire = openWire(profile.transport, {
      open: () => {
        if (turn !== this.turn) return;
        this.heard = performance.now();
        // Not noted: what is said is shown on the screen.
        if (this.linked.token && !this.plain) this.wire!.write(`!hello ${this.linked.token}\n`);
        this.ask();
        let looked = this.heard;
        this.poll = setInterval(
          () => {
            const now = performance.now();
            // Who was busy or asleep cannot say that the other was silent.
            if (now - looked > SILENT / 2) this.heard = now;
            looked = now;
            if (now - this.heard > SILENT) {
              silent = true;
              wire.destroy();
            } else this.ask();
          },
          profile.talk === 'kerbe' ? 40 : profile.every,
        );
      },
      data: (chunk) => {
        if (turn !== this.turn) return;
        this.heard = performance.now();
        const lines = (this.rest + chunk).split(/[\n\r]/);
        // A wire that never ends its lines must not fill the memory.
        this.rest = lines.pop()!.slice(-50_000_000);
        for (const line of lines) if (line.trim() !== '') this.receive(line.trimEnd());
      },
      closed: (why) => {
        if (turn !== this.turn) return;
        this.lost(silent ? 'the machine stopped answering' : why);
        if (!this.closed) this.again = setTimeout(() => this.connect(), RECONNECT);
      },
    });
    this.wire = wire;
  }

  private lost(why: string): void {
    if (this.poll) clearInterval(this.poll);
    this.poll = null;
    for (const done of this.answered.splice(0)) done();
    for (const { done } of this.answers.splice(0)) done('the link to the machine was lost');
    for (const done of this.maps.splice(0)) done('null');
    if (!this.up) return;
    this.up = false;
    this.note('in', `— ${why} —`);
    this.emit('down', why);
  }

  private heardStatus(status: MachineStatus | { why: string }): void {
    if ('why' in status) return this.nonsense(status.why);
    this.odd = 0;
    this.status = status;
    if (!this.up) {
      this.up = true;
      this.emit('up');
    }
    this.emit('status', status);
    for (const done of this.answered.splice(0)) done();
  }

  /** A status that is none is noise once; a link that says nothing else is left, and tried anew. */
  private nonsense(why: string): void {
    this.note('in', `— no status: ${why} —`);
    if (++this.odd < NONSENSE) return;
    this.odd = 0;
    this.turn++;
    this.wire?.destroy();
    this.lost(`the machine says what is no status (${why})`);
    if (!this.closed) this.again = setTimeout(() => this.connect(), RECONNECT);
  }

  private receive(line: string): void {
    if (this.plain) {
      const heard = this.plain.receive(line);
      if (heard.kind !== 'status') this.note('in', line);
      if (heard.kind === 'status') this.heardStatus(heard.status);
      else if (heard.kind === 'ok') this.emit('ok', heard.seq);
      else if (heard.kind === 'refused') this.emit('refused', heard.seq, heard.why);
      return;
    }
    const space = line.indexOf(' ');
    const word = space < 0 ? line : line.slice(0, space);
    const rest = space < 0 ? '' : line.slice(space + 1);
    if (word !== 'status' && word !== 'map') this.note('in', line);
    switch (word) {
      case 'status':
        try {
          this.heardStatus(readStatus(JSON.parse(rest)));
        } catch (error) {
          // Noise on the line: the next status comes in a moment. Anything else is a fault of ours.
          if (!(error instanceof SyntaxError)) throw error;
        }
        return;
      case 'ok':
        if (/^\d+$/.test(rest)) this.emit('ok', Number(rest));
        return;
      case 'error': {
        const cut = rest.indexOf(' ');
        const seq = Number(rest.slice(0, cut));
        if (cut > 0 && Number.isInteger(seq)) this.emit('refused', seq, rest.slice(cut + 1));
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
