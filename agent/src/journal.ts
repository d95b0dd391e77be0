/** The append-only journal of a run: one JSON line an event, on disk before anyone is told. */
import { closeSync, existsSync, fdatasyncSync, mkdirSync, openSync, readFileSync, renameSync, rmSync, writeFileSync, writeSync } from 'node:fs';
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

  /** Writes an entry; throws when the disk refuses, so that no run goes on unrecorded. What is more than progress survives a power loss. */
  write(run: string, entry: Omit<JournalEntry, 'at'>): JournalEntry {
    const full = { at: new Date().toISOString(), ...entry };
    const file = openSync(join(this.folder, `${run}.jsonl`), 'a');
    try {
      writeSync(file, JSON.stringify(full) + '\n');
      if (entry.event !== 'progress') fdatasyncSync(file);
    } finally {
      closeSync(file);
    }
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

  /** Keeps something under a name, whole or not at all; throws when the disk refuses. */
  save(name: string, state: unknown): void {
    const file = join(this.folder, `${name}.json`);
    writeFileSync(file + '.new', JSON.stringify(state));
    renameSync(file + '.new', file);
  }

  load<T>(name: string): T | null {
    const file = join(this.folder, `${name}.json`);
    try {
      return existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as T) : null;
    } catch {
      return null;
    }
  }

  remove(name: string): void {
    rmSync(join(this.folder, `${name}.json`), { force: true });
  }
}
