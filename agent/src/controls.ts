/** One person holds the controls, on one screen. Hold and stop are anybody's. */
import type { Controls as Held } from '@kerbe/core/link';

export interface Who {
  by: string;
  tab: string;
}

/** Controls that nobody has touched or renewed for this long are free, milliseconds. */
const FORGOTTEN = 60_000;

export class Controls {
  private held: Held | null = null;
  private heard = 0;
  private readonly now: () => number;

  constructor(now: () => number = () => performance.now()) {
    this.now = now;
  }

  get state(): Held | null {
    if (this.held && this.now() - this.heard > FORGOTTEN) this.held = null;
    return this.held;
  }

  /** Why this person may not give a command now, or null. Free controls go to whoever gives the first. */
  check(who: Who): string | null {
    const { state } = this;
    if (state && (state.by !== who.by || state.tab !== who.tab))
      return state.by === who.by
        ? 'You hold the controls on another screen. Take them over here first.'
        : `${sentenceName(state.by)} holds the controls. Ask, then take them over.`;
    if (!state) this.held = { ...who, since: new Date().toISOString(), from: null };
    this.heard = this.now();
    return null;
  }

  /** Takes the controls, from whoever has them; everybody is told. */
  take(who: Who): void {
    const before = this.state;
    this.held = { ...who, since: new Date().toISOString(), from: before && before.by !== who.by ? before.by : null };
    this.heard = this.now();
  }

  /** Gives them back. */
  leave(who: Who): void {
    if (this.held?.by === who.by && this.held.tab === who.tab) this.held = null;
  }

  /** A screen that holds them is still there. */
  renew(who: Who): void {
    if (this.held?.by === who.by && this.held.tab === who.tab) this.heard = this.now();
  }
}

const sentenceName = (name: string) => name.charAt(0).toUpperCase() + name.slice(1);
