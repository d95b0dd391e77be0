/** Watches that a spindle comes to its speed and keeps it while a program runs. */

/** Seconds it may turn too slowly without getting faster. */
const PATIENCE = 12;
/** Less than this share of what was asked is too slow. */
const SHARE = 0.85;
/** It gets faster when it gains this share of what was asked on its best so far: the needle of a steady one trembles. */
const GAIN = 0.02;

export class SpindleWatch {
  private target = 0;
  private best = 0;
  private waited = 0;
  private accepted = false;

  /** A program begins: nothing is known of the spindle. */
  forget(): void {
    this.target = this.best = this.waited = 0;
    this.accepted = false;
  }

  /** A person has looked at it and goes on: this speed is not spoken of again. */
  accept(): void {
    this.accepted = true;
  }

  /**
   * Takes what the machine says of it, `passed` seconds after the last time, and says whether it is too slow; once for each speed that is asked for.
   * One that is getting faster is on its way, however long a busy computer took to hear of it.
   */
  slow({ target, actual }: { target: number; actual: number }, passed: number): boolean {
    if (target !== this.target) {
      this.forget();
      this.target = target;
      this.best = actual;
      return false;
    }
    if (actual > this.best + GAIN * target) {
      this.best = actual;
      this.waited = 0;
    } else this.waited += passed;
    if (target === 0 || this.accepted || this.waited < PATIENCE || actual >= SHARE * target) return false;
    return (this.accepted = true);
  }
}
