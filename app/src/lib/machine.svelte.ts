/** The machine as this tab sees it: one stream of states, and commands with a key of their own. */
import { NO_MACHINE, type MachineSnapshot } from './machine.ts';

export class MachineLink {
  now = $state.raw<MachineSnapshot>(NO_MACHINE);
  /** False when the stream from the server is broken. */
  connected = $state(false);
  private source: EventSource | null = null;

  open(): void {
    this.source = new EventSource('/api/machine/events');
    this.source.onopen = () => (this.connected = true);
    this.source.onmessage = ({ data }: MessageEvent<string>) => {
      this.connected = true;
      this.now = JSON.parse(data) as MachineSnapshot;
    };
    this.source.onerror = () => (this.connected = false);
  }

  close(): void {
    this.source?.close();
  }

  /** Sends a command; resolves to why it was refused, or null. */
  async send(command: Record<string, unknown>): Promise<string | null> {
    try {
      const response = await fetch('/api/machine', {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID() },
        body: JSON.stringify(command),
      });
      return ((await response.json()) as { why: string | null }).why;
    } catch {
      return 'No connection to Kerbe, so the machine was not told. To stop it now, use the stop on the machine itself.';
    }
  }
}
