/**
 * One key, one effect: a command that comes again - a lost answer, an impatient browser, after a
 * restart of the agent - is answered as the first time and carried out no second time. What is
 * begun is on disk before it is done.
 */
import { createHash } from 'node:crypto';
import type { Journal } from './journal.ts';

/** Keys remembered, at least. */
const MOST = 1000;
const ANOTHER = 'This key was used for another command. Nothing was done.';
const UNKNOWN = 'The agent was restarted while this was being done. Look at what became of it before you say it again.';

interface Entry {
  key: string;
  /** What was asked, and by whom. */
  hash: string;
  /** Missing until it is answered. */
  why?: string | null;
}

/** Said again they do no harm, and nothing may keep them waiting - not even the disk. */
const HARMLESS = new Set(['renew', 'jog-on', 'jog-end', 'hold', 'stop']);

export class Once {
  private readonly known = new Map<string, { hash: string; answer: Promise<string | null> }>();
  private readonly journal: Journal;
  private written = 0;

  constructor(journal: Journal) {
    this.journal = journal;
    for (const { key, hash, why } of journal.lines<Entry>('keys')) this.known.set(key, { hash, answer: Promise.resolve(why === undefined ? UNKNOWN : why) });
    this.forget();
    this.compact();
  }

  /** Carries a command out, or gives the answer it was given before. */
  async do(key: string | undefined, asked: { do: string }, by: string, carryOut: () => Promise<string | null>): Promise<string | null> {
    if (!key) return carryOut();
    const hash = createHash('sha256')
      .update(JSON.stringify([by, asked]))
      .digest('base64');
    const before = this.known.get(key);
    if (before) return before.hash === hash ? before.answer : ANOTHER;
    const kept = !HARMLESS.has(asked.do);
    if (kept) this.write({ key, hash });
    const answer = carryOut();
    this.known.set(key, { hash, answer });
    this.forget();
    const why = await answer;
    if (kept) this.write({ key, hash, why });
    return why;
  }

  private write(entry: Entry): void {
    try {
      this.journal.append('keys', entry);
      if (++this.written > 4 * MOST) this.compact();
    } catch (error) {
      // A full disk must not keep a machine from being moved or stopped; until a restart the key is still known.
      console.error(`kerbe-agent: key not written: ${(error as Error).message}`);
    }
  }

  private forget(): void {
    while (this.known.size > MOST) this.known.delete(this.known.keys().next().value!);
  }

  /** Leaves the newest of what was written. */
  private compact(): void {
    this.written = 0;
    const newest = new Map(this.journal.lines<Entry>('keys').map((entry) => [entry.key, entry]));
    try {
      this.journal.rewrite('keys', [...newest.values()].slice(-MOST));
    } catch (error) {
      console.error(`kerbe-agent: keys not written: ${(error as Error).message}`);
    }
  }
}
