/** The append-only journal of a run: one JSON line an event, on disk before anyone is told. */
import {
  appendFileSync,
  chmodSync,
  closeSync,
  existsSync,
  fdatasyncSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { join } from 'node:path';
import type { RunFacts } from '@kerbe/core/link';

export interface JournalEntry {
  at: string;
  event: string;
  line?: number;
  text?: string;
  facts?: RunFacts;
}

/** Programs and names are nobody's but the shop's: the file is its owner's alone. */
const OWN = 0o600;

export class Journal {
  private readonly folder: string;

  constructor(folder: string) {
    this.folder = folder;
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    // One from before, or made by somebody else, may stand open.
    chmodSync(folder, 0o700);
    for (const name of readdirSync(folder)) if (/\.jsonl?$/.test(name)) chmodSync(join(folder, name), OWN);
  }

  /** Writes an entry; throws when the disk refuses, so that no run goes on unrecorded. What is more than progress survives a power loss. */
  write(run: string, entry: Omit<JournalEntry, 'at'>): JournalEntry {
    const full = { at: new Date().toISOString(), ...entry };
    const file = openSync(join(this.folder, `${run}.jsonl`), 'a', OWN);
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
    return /^[\w-]+$/.test(run) ? this.lines<JournalEntry>(run) : [];
  }

  /** The lines kept under a name; one cut short by a power loss is left out. */
  lines<T>(name: string): T[] {
    const file = join(this.folder, `${name}.jsonl`);
    if (!existsSync(file)) return [];
    return readFileSync(file, 'utf8')
      .split('\n')
      .flatMap((line) => {
        try {
          return line ? [JSON.parse(line) as T] : [];
        } catch {
          return [];
        }
      });
  }

  append(name: string, line: unknown): void {
    appendFileSync(join(this.folder, `${name}.jsonl`), JSON.stringify(line) + '\n', { mode: OWN });
  }

  /** Puts other lines in the place of those under a name, whole or not at all. */
  rewrite(name: string, lines: readonly unknown[]): void {
    this.put(`${name}.jsonl`, lines.map((line) => JSON.stringify(line) + '\n').join(''));
  }

  /** Keeps something under a name, whole or not at all; throws when the disk refuses. */
  save(name: string, state: unknown): void {
    this.put(`${name}.json`, JSON.stringify(state));
  }

  private put(name: string, text: string): void {
    const file = join(this.folder, name);
    writeFileSync(file + '.new', text, { mode: OWN });
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
