/** One person holds the controls, on one screen. Hold and stop are anybody's. */
import type { Controls as Held } from '@kerbe/core/link';

export interface Who {
  /** Of the account: a name may be given to somebody else. */
  id: string;
  /** The name, to be shown. */
  by: string;
  /** A secret of the browser tab, but for what stands before its dot. */
  tab: string;
}

/** Controls that nobody has touched or renewed for this long are free, milliseconds. */
const FORGOTTEN = 60_000;

export class Controls {
  private held: (Held & { who: Who }) | null = null;
  private heard = 0;
  private readonly now: () => number;

  constructor(now: () => number = () => performance.now()) {
    this.now = now;
  }

  get state(): Held | null {
    if (this.held && this.now() - this.heard > FORGOTTEN) this.held = null;
    if (!this.held) return null;
    const { by, tab, since, from } = this.held;
    return { by, tab, since, from };
  }

  /** Why this person may not give a command now, or null. Free controls go to whoever gives the first. */
  check(who: Who): string | null {
    const { state } = this;
    if (state && !this.isHeldBy(who))
      return this.held!.who.id === who.id
        ? 'You hold the controls on another screen. Take them over here first.'
        : `${sentenceName(state.by)} is in control. Ask, then take control.`;
    if (!state) this.give(who, null);
    this.heard = this.now();
    return null;
  }

  /** Takes the controls, from whoever has them; everybody is told. */
  take(who: Who): void {
    const before = this.state ? this.held!.who : null;
    this.give(who, before && before.id !== who.id ? before.by : null);
    this.heard = this.now();
  }

  /** Gives them back. */
  leave(who: Who): void {
    if (this.isHeldBy(who)) this.held = null;
  }

  /** A screen that holds them is still there. */
  renew(who: Who): void {
    if (this.isHeldBy(who)) this.heard = this.now();
  }

  private isHeldBy({ id, tab }: Who): boolean {
    return this.held !== null && this.held.who.id === id && this.held.who.tab === tab;
  }

  private give(who: Who, from: string | null): void {
    this.held = { who, by: who.by, tab: shownTab(who.tab), since: new Date().toISOString(), from };
  }
}

/** What every screen may see of a tab's name: enough to know its own. */
const shownTab = (tab: string) => tab.split('.', 1)[0];
const sentenceName = (name: string) => name.charAt(0).toUpperCase() + name.slice(1);
