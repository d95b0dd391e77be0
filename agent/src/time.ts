/** How much of a machine's time goes by from one status to the next. */
import type { MachineStatus } from '@kerbe/core/link';

/** Longer than this nobody knows what went on, seconds: a process that slept makes up for nothing. */
const MOST = 1;

export class MachineTime {
  private last = performance.now();
  private clock: number | undefined;
  private boot: number | undefined;

  /**
   * Seconds since the status before: by the machine's own clock where it has one, else by the wall's. That one may
   * jump; the one used here does not.
   */
  since({ clock, rate, boot }: Pick<MachineStatus, 'clock' | 'rate' | 'boot'>): number {
    const now = performance.now();
    const wall = Math.min(MOST, (now - this.last) / 1000) * rate;
    const own = clock !== undefined && this.clock !== undefined && boot === this.boot ? Math.min(MOST * rate, Math.max(0, clock - this.clock)) : wall;
    [this.last, this.clock, this.boot] = [now, clock, boot];
    return own;
  }
}
