/** The append-only journal of a run: one JSON line an event, on disk before anyone is told. */
import { appendFileSync, existsSync, mkdirSync, readFileSync, writeFileSync, renameSync } from 'node:fs';
import { join } from 'node:path';

export interface JournalEntry {
  at: string;
  event: string;
  line?: number;
  text?: string;
}

export class Journal {
  private readonly folder: string;

  constructor(folder: string) {
    this.folder = folder;
    mkdirSync(folder, { recursive: true });
  }

  /** Writes an entry; throws when the disk refuses, so that no run goes on unrecorded. */
  write(run: string, entry: Omit<JournalEntry, 'at'>): JournalEntry {
    const full = { at: new Date().toISOString(), ...entry };
    appendFileSync(join(this.folder, `${run}.jsonl`), JSON.stringify(full) + '\n');
    return full;
  }

  /** All entries of a run; a last line cut short by a power loss is left out. */
  read(run: string): JournalEntry[] {
    const file = join(this.folder, `${run}.jsonl`);
    if (!/^[\w-]+$/.test(run) || !existsSync(file)) return [];
    return readFileSync(file, 'utf8')
      .split('\n')
      .flatMap((line) => {
        try {
          return line ? [JSON.parse(line) as JournalEntry] : [];
        } catch {
          return [];
        }
      });
  }

  /** What must survive a restart of the agent: the set-up of the machine. */
  saveState(state: unknown): void {
    const file = join(this.folder, 'setup.json');
    writeFileSync(file + '.new', JSON.stringify(state));
    renameSync(file + '.new', file);
  }

  loadState<T>(): T | null {
    const file = join(this.folder, 'setup.json');
    try {
      return existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as T) : null;
    } catch {
      return null;
    }
  }
}
