/** Jogging from this screen: steps, or on and on for as long as a key or a button is held. */
import type { MachineLink } from '$lib/machine.svelte';

export type Way = readonly [number, number, number];
/** The machine is told this often that the button is still held, milliseconds. */
const BEAT = 100;

export const SPEEDS = [
  { name: 'slow', xy: 300, z: 150 },
  { name: 'medium', xy: 1500, z: 500 },
  { name: 'fast', xy: 5000, z: 1500 },
] as const;

export class Jog {
  /** Distance of a step, mm; null: on and on. */
  step = $state<number | null>(5);
  speed = $state(1);
  why = $state<string | null>(null);
  /** The way it is going on now. */
  going = $state.raw<Way | null>(null);
  private readonly machine: MachineLink;
  private beat: ReturnType<typeof setInterval> | null = null;

  constructor(machine: MachineLink) {
    this.machine = machine;
  }

  /** A key or a button goes down. */
  async press(way: Way): Promise<void> {
    const speed = SPEEDS[this.speed];
    const feed = way[2] !== 0 ? speed.z : speed.xy;
    if (this.step !== null) {
      const [x, y, z] = way.map((v) => v * this.step!);
      this.why = await this.machine.send({ do: 'jog', x, y, z, feed });
      return;
    }
    if (this.going) return;
    this.going = way;
    this.why = await this.machine.send({ do: 'jog-start', way: [...way], feed });
    if (this.why) this.going = null;
    // It may have been let go while the answer was on its way.
    else if (this.going !== way) void this.machine.send({ do: 'jog-end' });
    else this.beat = setInterval(() => void this.machine.send({ do: 'jog-on' }), BEAT);
  }

  /** It is let go, or the page is left, hidden or put to sleep: the machine stops. */
  release(): void {
    if (!this.going) return;
    this.going = null;
    if (this.beat) {
      clearInterval(this.beat);
      this.beat = null;
      void this.machine.send({ do: 'jog-end' });
    }
  }
}
