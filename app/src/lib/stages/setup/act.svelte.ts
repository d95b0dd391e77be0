/** Commands of a card: one at a time, what is under way, and why the last was refused. */
import type { ScreenCommand } from '@kerbe/core/link/commands';
import type { MachineLink } from '$lib/machine.svelte';

export class Act {
  /** The command of this card that is under way. */
  protected doing = $state<string | null>(null);
  why = $state<string | null>(null);
  readonly machine: MachineLink;

  constructor(machine: MachineLink) {
    this.machine = machine;
  }

  /** What keeps the next press waiting: a command of this card, or what the machine is doing for anybody. */
  get busy(): string | null {
    return this.doing ?? this.machine.now.busy;
  }

  /** Sends a command; true when it was carried out. */
  async send(command: ScreenCommand): Promise<boolean> {
    this.doing = command.do;
    this.why = await this.machine.send(command);
    this.doing = null;
    return this.why === null;
  }

  /** The hands of a person on the simulated machine. */
  bench(change: Record<string, unknown>): Promise<boolean> {
    return this.send({ do: 'bench', change });
  }
}
