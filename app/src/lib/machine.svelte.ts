/** A machine as this tab sees it: a stream of states, and commands with a key of their own. */
import type { ScreenCommand } from '@kerbe/core/link/commands';
import { shownName, tabName } from './ui/tab.ts';
import { NO_MACHINE, type MachineSnapshot } from './machine.ts';

/** Hears of several machines by one stream: a browser opens only so many. Gives what ends it. */
export function watchMachines(machines: readonly MachineLink[]): () => void {
  const source = new EventSource(`/api/machines/events?${machines.map(({ id }) => `machine=${encodeURIComponent(id)}`).join('&')}`);
  source.onopen = () => machines.forEach((machine) => (machine.connected = true));
  source.onerror = () => machines.forEach((machine) => (machine.connected = false));
  source.addEventListener('machine', ({ data }: MessageEvent<string>) => {
    const said = JSON.parse(data) as { machine: string; snapshot: MachineSnapshot };
    for (const machine of machines) if (machine.id === said.machine) machine.hear(said.snapshot);
  });
  return () => source.close();
}

export class MachineLink {
  now = $state.raw<MachineSnapshot>(NO_MACHINE);
  /** False when the stream from the server is broken. */
  connected = $state(false);
  /** Which machine of the shop it is. */
  id = $state('');
  /** This tab, as the agent knows it: the controls are held by a person on one screen. */
  readonly tab = tabName();
  private stop: (() => void) | null = null;
  private renewing: ReturnType<typeof setInterval> | null = null;

  constructor(id: string) {
    this.id = id;
  }

  /** A page that goes away gives the controls back; a jog it had going ends with its heartbeat. */
  private readonly leave = () => {
    if (this.mine) void this.send({ do: 'leave' });
  };

  open(): void {
    addEventListener('pagehide', this.leave);
    this.renewing = setInterval(() => this.mine && void this.send({ do: 'renew' }), 15_000);
    this.stop = watchMachines([this]);
  }

  /** Goes over to another machine: the controls of the one before are given back. */
  use(id: string): void {
    if (id === this.id) return;
    this.leave();
    const open = this.stop !== null;
    if (open) this.close();
    this.id = id;
    this.now = NO_MACHINE;
    this.connected = false;
    if (open) this.open();
  }

  hear(snapshot: MachineSnapshot): void {
    this.connected = true;
    this.now = snapshot;
  }

  close(): void {
    // A page rendered on the server has opened nothing.
    if (!this.stop) return;
    removeEventListener('pagehide', this.leave);
    this.stop();
    this.stop = null;
    if (this.renewing) clearInterval(this.renewing);
  }

  /** Are the controls held here? */
  get mine(): boolean {
    return this.now.controls?.tab === shownName(this.tab);
  }

  /** Is what is shown what the machine's agent says at this moment, or only what it said last? */
  get fresh(): boolean {
    return this.connected && this.now.agent;
  }

  /** Sends a command; resolves to why it was refused, or null. */
  async send(command: ScreenCommand): Promise<string | null> {
    try {
      // Hold and Stop have a way of their own, past everything the server may be busy with.
      const alone = command.do === 'hold' || command.do === 'stop';
      const response = await fetch(`/api/machines/${this.id}/${alone ? command.do : 'command'}`, {
        method: 'POST',
        keepalive: true,
        headers: { 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID(), 'x-kerbe-tab': this.tab },
        body: JSON.stringify(command),
      });
      return ((await response.json()) as { why: string | null }).why;
    } catch {
      return 'No connection to Kerbe, so the machine was not told. To stop it now, use the stop on the machine itself.';
    }
  }
}
