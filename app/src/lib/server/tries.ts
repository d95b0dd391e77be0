/**
 * Wrong sign-ins, counted by account and by address: after a few the next one has to wait, longer each
 * time. An attempt counts before it is looked at, so that a hundred at once are not all let through.
 */

/** What is forgiven, and the first wait and the longest, milliseconds. */
const BOUNDS = {
  account: { free: 5, first: 15_000, most: 15 * 60_000 },
  // A whole shop may sit behind one address.
  address: { free: 20, first: 15_000, most: 15 * 60_000 },
};
/** After so long without another all is forgotten, milliseconds. */
const FORGOTTEN = 30 * 60_000;
const MOST = 10_000;

interface Count {
  wrong: number;
  at: number;
}

export class Tries {
  private readonly counts = new Map<string, Count>();
  private readonly now: () => number;

  constructor(now: () => number = () => performance.now()) {
    this.now = now;
  }

  /** Seconds until this account may be tried from this address again; zero when it may now - and that try counts. */
  begin(account: string, address: string): number {
    const keys = keysOf(account, address);
    const wait = Math.max(...keys.map(([kind, key]) => this.wait(kind, key)));
    if (wait > 0) return Math.ceil(wait / 1000);
    for (const [, key] of keys) {
      const before = this.counts.get(key);
      this.counts.delete(key);
      this.counts.set(key, { wrong: (before?.wrong ?? 0) + 1, at: this.now() });
    }
    while (this.counts.size > MOST) this.counts.delete(this.counts.keys().next().value!);
    return 0;
  }

  /** It was the right password: the account is forgiven, and this try was none of the wrong ones of the address. */
  right(account: string, address: string): void {
    const [[, ofAccount], [, ofAddress]] = keysOf(account, address);
    this.counts.delete(ofAccount);
    const count = this.counts.get(ofAddress);
    if (count && --count.wrong <= 0) this.counts.delete(ofAddress);
  }

  private wait(kind: keyof typeof BOUNDS, key: string): number {
    const count = this.counts.get(key);
    if (!count) return 0;
    const passed = this.now() - count.at;
    if (passed > FORGOTTEN) {
      this.counts.delete(key);
      return 0;
    }
    const { free, first, most } = BOUNDS[kind];
    return count.wrong < free ? 0 : Math.min(most, first * 2 ** Math.min(20, count.wrong - free)) - passed;
  }
}

const keysOf = (account: string, address: string): ['account' | 'address', string][] => [
  ['account', `account ${account.trim().toLowerCase()}`],
  ['address', `address ${address}`],
];
