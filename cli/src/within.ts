/** A command in a process of its own with bounds on time and memory: a file from outside may be made to hang or to fill the memory. */
import { spawn } from 'node:child_process';
import { watch, type Bounds } from '@kerbe/files/bounds';

/** Reading is quick or something is wrong; planning may take its time. */
const READING: Bounds = { seconds: 20, megabytes: 1400 };
const PLANNING: Bounds = { seconds: 600, megabytes: 4096 };
const READS = new Set(['import', 'check', 'read', 'export']);

/** Runs a script with a command line; gives its exit code, or 1 when it was given up or died, with the reason in words. */
export function within(script: string, args: string[]): Promise<number> {
  const bounds = READS.has(args[0]) ? READING : PLANNING;
  return new Promise((done) => {
    // Beyond the bound, so that the bound is met first.
    const heap = `--max-old-space-size=${2 * bounds.megabytes}`;
    const child = spawn(process.execPath, [heap, script, ...args], { stdio: ['inherit', 'inherit', 'pipe'], env: { ...process.env, KERBE_WITHIN: '1' } });
    let why = '';
    const unwatch = watch(child, bounds, (beyond) => (why = beyond));
    let said = '';
    child.stderr.setEncoding('utf8').on('data', (text: string) => (said += text));
    child.on('close', (code, signal) => {
      unwatch();
      // What a dying engine prints helps nobody.
      if (signal === null) process.stderr.write(said);
      else
        process.stderr.write(`kerbe: given up: ${why || `the process ended (${signal}), most likely for want of memory`}. Make the file smaller or simpler.\n`);
      done(code ?? 1);
    });
  });
}
