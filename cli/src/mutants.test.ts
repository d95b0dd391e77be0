/**
 * Mutants of eight kinds of file through the command line: every one is read, or refused in words; none ends in a
 * trace, hangs, or fills the memory. Short here; a thousand of each in the soak.
 */
import { fork, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { watch } from '@kerbe/files/bounds';
import { bundles } from '../../scripts/bundle.mjs';
import { KINDS, mutant, samples, type MutantKind } from './mutants.ts';

const SOAK = Number(process.env.KERBE_SOAK ?? 1);
const COUNT = Math.min(1000, 12 * SOAK);
const BOUNDS = { seconds: 25, megabytes: 1500 };
/** A process is taken for so many: what one leaves behind must not be counted to the next. */
const EACH = 100;

let folder: string;
let script: string;
let child: ChildProcess | null = null;
let done = 0;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'kerbe-mutants-'));
  script = await bundles.cli();
});
afterAll(() => {
  child?.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

async function ready(): Promise<ChildProcess> {
  if (child && child.connected && done++ < EACH) return child;
  child?.kill('SIGKILL');
  done = 0;
  const next = fork(join(import.meta.dirname, 'mutants.child.mjs'), [script], {
    execArgv: ['--max-old-space-size=3000'],
    env: { ...process.env, KERBE_DEBUG: '1' },
  });
  await new Promise((go) => next.once('message', go));
  return (child = next);
}

/** What became of a command line: its exit code and what it said, or why it was ended. */
async function run(args: string[]): Promise<{ code: number; said: string }> {
  const worker = await ready();
  return new Promise((answer) => {
    let why = '';
    const unwatch = watch(worker, BOUNDS, (beyond) => (why = beyond));
    const over = (result: { code: number; said: string }) => {
      unwatch();
      worker.off('message', over).off('exit', dead);
      answer(result);
    };
    const dead = (_: unknown, signal: string | null) => {
      child = null;
      over({ code: -1, said: why || `the process ended (${signal})` });
    };
    worker.once('message', over).once('exit', dead);
    worker.send(args);
  });
}

const commandFor = (kind: MutantKind, file: string): string[] =>
  kind === 'nc' ? ['read', file] : kind === 'json' ? ['plan', file, '--out', join(folder, 'out')] : ['import', file, '--out', join(folder, 'drawing.json')];

describe.each(KINDS)('%s', (kind) => {
  it(`${COUNT} mutants: read, or refused in words`, { timeout: 60_000 + COUNT * 4000 }, async () => {
    const sample = (await samples())[kind];
    const seen = { read: 0, refused: 0 };
    const wrong: string[] = [];
    // The first is whole.
    for (let seed = -1; seed < COUNT; seed++) {
      const file = join(folder, `mutant.${kind}`);
      writeFileSync(file, seed < 0 ? sample : mutant(kind, sample, seed));
      const { code, said } = await run(commandFor(kind, file));
      if (![0, 1, 2].includes(code) || (code !== 0 && said.trim() === '')) wrong.push(`${kind} ${seed}: ${code} ${said.slice(0, 600)}`);
      else seen[code === 0 ? 'read' : 'refused']++;
      if (seed < 0) expect([code, said]).toEqual([0, expect.any(String)]);
    }
    expect(wrong).toEqual([]);
    expect(seen.refused).toBeGreaterThan(0);
    expect(seen.read).toBeGreaterThan(0);
  });
});
