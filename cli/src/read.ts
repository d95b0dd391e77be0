import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { Machine } from '@kerbe/core/job';
import { forbids } from '@kerbe/core/preflight';
import { judgeProgram, readProgram, statsOf } from '@kerbe/core/program';
import { Refusal } from './refusal.ts';

/** `kerbe read`: what a program amounts to, as JSON. Exit 2 when a line cannot be read, or would break a bit. */
export async function readCommand(args: string[]): Promise<number> {
  const { positionals } = parseArgs({ args, allowPositionals: true, options: {} });
  if (!positionals[0]) throw new Refusal('Which program? Name a file.');
  const program = readProgram(new Uint8Array(readFileSync(positionals[0])));
  const findings = [...program.findings, ...judgeProgram(program)];
  const facts = statsOf(program, Machine.parse({}));
  const report = { ...facts, header: program.comments.slice(0, 30), findings };
  process.stdout.write(JSON.stringify(report, null, 2) + '\n');
  return forbids(findings) ? 2 : 0;
}
