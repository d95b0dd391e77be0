/** For tests: people who come in over HTTP, and a demo job brought from release to the point where it may start. */
import type { Job } from '@kerbe/core/job';
import { NO_MACHINE, type MachineSnapshot } from '../machine.ts';

export type Person = (path: string, init?: RequestInit & { json?: unknown }) => Promise<Response>;

/** Whoever carries these cookies. */
const withCookies =
  (url: string, cookie: string): Person =>
  (path, { json, ...init } = {}) =>
    fetch(url + path, {
      redirect: 'manual',
      ...init,
      headers: { cookie, origin: url, ...(json !== undefined ? { 'content-type': 'application/json' } : {}), ...(init.headers as Record<string, string>) },
      body: json !== undefined ? JSON.stringify(json) : init.body,
    });

async function posted(url: string, body: string): Promise<Person> {
  const response = await fetch(`${url}/sign-in`, {
    method: 'POST',
    redirect: 'manual',
    headers: { origin: url, 'content-type': 'application/x-www-form-urlencoded' },
    body,
  });
  const cookie = response.headers
    .getSetCookie()
    .map((text) => text.split(';')[0])
    .join('; ');
  if (cookie === '') throw new Error(`Nobody came in: ${response.status} ${await response.text()}`);
  return withCookies(url, cookie);
}

/** By the buttons of the demo. */
export const comeIn = (url: string, role: 'owner' | 'operator'): Promise<Person> => posted(url, `demo=${role}`);
/** By an account. */
export const signIn = (url: string, email: string, password: string): Promise<Person> => posted(url, new URLSearchParams({ email, password }).toString());

/** The machine that comes with Kerbe. */
export const ROUTER = 'simulated-router';

/** Tells a machine something; gives why it was refused. */
export async function tell(by: Person, command: Record<string, unknown>, machine = ROUTER): Promise<string | null> {
  const response = await by(`/api/machines/${machine}/command`, { method: 'POST', json: command, headers: { 'idempotency-key': crypto.randomUUID() } });
  return ((await response.json()) as { why: string | null }).why;
}
export async function must(by: Person, command: Record<string, unknown>, machine = ROUTER): Promise<void> {
  const why = await tell(by, command, machine);
  if (why !== null) throw new Error(`${JSON.stringify(command).slice(0, 200)}: ${why}`);
}

/** Watches a machine through the server's stream of events for as long as it is open. */
export class Watcher {
  now: MachineSnapshot = NO_MACHINE;
  /** States seen, and when the first was. */
  seen = 0;
  readonly machine: string;
  private readonly control = new AbortController();
  private readonly reading: Promise<void>;

  constructor(by: Person, machine = ROUTER) {
    this.machine = machine;
    this.reading = this.read(by).catch(() => {});
  }

  private async read(by: Person): Promise<void> {
    const response = await by(`/api/machines/events?machine=${this.machine}`, { signal: this.control.signal });
    let rest = '';
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>) {
      const parts = (rest + new TextDecoder().decode(chunk)).split('\n\n');
      rest = parts.pop()!;
      for (const part of parts)
        if (part.startsWith('event: machine\ndata: ')) {
          const { machine, snapshot } = JSON.parse(part.slice(part.indexOf('{'))) as { machine: string; snapshot: MachineSnapshot };
          if (machine !== this.machine) throw new Error(`a word of ${machine} was heard at ${this.machine}`);
          this.now = snapshot;
          this.seen++;
        }
    }
  }

  async until(what: (now: MachineSnapshot) => unknown, seconds = 60): Promise<MachineSnapshot> {
    const end = Date.now() + seconds * 1000;
    while (!what(this.now)) {
      if (Date.now() > end) throw new Error(`waited in vain: ${JSON.stringify(this.now.run)} ${JSON.stringify(this.now.status)}`);
      await new Promise((done) => setTimeout(done, 20));
    }
    return this.now;
  }

  /** Until the server closes the stream. */
  async ended(seconds = 20): Promise<void> {
    const late = new Promise((_, fail) => setTimeout(() => fail(new Error('The stream goes on.')), seconds * 1000).unref());
    await Promise.race([this.reading, late]);
  }

  async close(): Promise<void> {
    this.control.abort();
    await this.reading;
  }
}

/** From a released program to the point where it may start: set up as a person would, every step done. */
export async function setUp(by: Person, watcher: Watcher, doc: Job, release: { id: string; job: string; program: string; sha256: string }): Promise<void> {
  await watcher.until((now) => now.link);
  const tellIt = (command: Record<string, unknown>) => must(by, command, watcher.machine);
  const board = { x: 150, y: 200, width: doc.board.width, height: doc.board.height, thickness: doc.board.thickness };
  const [mx, my] = [board.x + 300, board.y + 20];
  await tellIt({ do: 'clear' });
  await tellIt({ do: 'home' });
  await tellIt({ do: 'bench', change: { board, cell: 0.5, dust: true, bit: { shape: doc.tools.v60, stickOut: 40 } } });
  await tellIt({ do: 'place-board', x: board.x, y: board.y });
  await tellIt({ do: 'measure', bit: 'v60', sure: true });
  await tellIt({ do: 'move-over', x: board.x, y: board.y });
  await tellIt({ do: 'zero-xy', corner: doc.datum.corner, job: release.job });
  await tellIt({ do: 'move-over', x: mx, y: my });
  await tellIt({ do: 'bench', change: { plate: { x: mx, y: my, thickness: 10 }, probeClip: true } });
  await tellIt({ do: 'zero-z', method: 'plate', thickness: 10, datum: doc.datum.z, job: release.job });
  await tellIt({ do: 'bench', change: { plate: null, probeClip: false } });
  const { fitting } = (await watcher.until((now) => now.status && !now.status.world!.probeClip)).status!.world!;
  for (const id of ['held', 'warm', 'frame', 'person']) await tellIt({ do: 'confirm', id, key: release.sha256, skipped: id === 'warm' || id === 'frame' });
  await tellIt({ do: 'confirm', id: 'collet', key: `v60 ${fitting}` });
}
