/** The machine as this tab sees it: one stream of states, and commands with a key of their own. */
import { shownName, tabName } from './ui/tab.ts';
import { NO_MACHINE, type MachineSnapshot } from './machine.ts';

export class MachineLink {
  now = $state.raw<MachineSnapshot>(NO_MACHINE);
  /** False when the stream from the server is broken. */
  connected = $state(false);
  /** This tab, as the agent knows it: the controls are held by a person on one screen. */
  readonly tab = tabName();
  private source: EventSource | null = null;
  private renewing: ReturnType<typeof setInterval> | null = null;

  /** A page that goes away gives the controls back; a jog it had going ends with its heartbeat. */
  private readonly leave = () => {
    if (this.mine) void this.send({ do: 'leave' });
  };

  open(): void {
    addEventListener('pagehide', this.leave);
    this.renewing = setInterval(() => this.mine && void this.send({ do: 'renew' }), 15_000);
    this.source = new EventSource('/api/machine/events');
    this.source.onopen = () => (this.connected = true);
    this.source.onmessage = ({ data }: MessageEvent<string>) => {
      this.connected = true;
      this.now = JSON.parse(data) as MachineSnapshot;
    };
    this.source.onerror = () => (this.connected = false);
  }

  close(): void {
    // A page rendered on the server has opened nothing.
    if (!this.source) return;
    removeEventListener('pagehide', this.leave);
    this.source.close();
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
  async send(command: Record<string, unknown>): Promise<string | null> {
    try {
      // Hold and Stop have a way of their own, past everything the server may be busy with.
      const alone = command.do === 'hold' || command.do === 'stop';
      const response = await fetch(alone ? `/api/machine/${command.do}` : '/api/machine', {
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
